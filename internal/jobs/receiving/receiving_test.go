package receiving_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/views"
)

func TestReversal(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	wrong := b.Deliver(order, "DN 1", "6")
	b.Key(b.Bill("BRACK", order, "A-1", "2", "12"))
	reversed, err := receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: wrong.Number, Reason: "wrong pallet"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-4_800), reversed.Value.Amount, "only as far as it is not invoiced")
	require.Zero(t, b.Balance("grni"))
	_, err = receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: wrong.Number, Reason: "again"})
	housetest.Refused(t, err, fault.Refused, "already")
	b.Deliver(order, "DN 1", "8") // a reversed note is free again
	b.Proved()
}

func TestDeliveryRefusals(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "20", "5")
	entry := housetest.Count(order, "DN 1", "15")
	entry.Lines[0].Close = true
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Refused, "5 kg short is 25 %; 10 % is allowed by the company. At least 18 kg must come now")
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("clerk"), housetest.Count(order, "DN 1", "15"))
	housetest.Refused(t, err, fault.Forbidden, "receiver")
	b.Deliver(order, "DN 1", "10")
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "dn-1", "10"))
	housetest.Refused(t, err, fault.Duplicate, "second part")
	stale := housetest.Count(order, "DN 2", "0", "5")
	stale.Before = map[int]money.Decimal{1: 0, 2: 0}
	deliverEntry(b, stale) // another line's change refuses nothing
	late := housetest.Count(order, "DN 3", "5")
	late.Before = map[int]money.Decimal{1: 0}
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), late)
	housetest.Refused(t, err, fault.Changed, "10 are received now")
	b.Proved()
}

func TestFreeOfCharge(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "100")
	b.Deliver(order, "DN 1", "110")
	b.Key(b.Bill("BRACK", order, "A-1", "100", "12"))
	free := receiving.FreeEntry{Order: order, Line: 1, Note: "a present"}
	answer, err := receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), free)
	require.NoError(t, err)
	require.Equal(t, housetest.Dec("10"), answer.Quantity)
	require.Zero(t, b.Balance("grni"))
	_, err = receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), free)
	housetest.Refused(t, err, fault.Refused, "nothing")
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 2", "1"))
	housetest.Refused(t, err, fault.Refused, "closed")
	b.Proved()
}

func deliverEntry(b *housetest.Bench, e receiving.DeliveryEntry) {
	b.T.Helper()
	e.Lines = e.Lines[1:]
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
	require.NoError(b.T, err)
}

// Goods that came without a note are booked under a number of ours; as much once more on the same order and day asks.
func TestGoodsWithoutANote(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "20")
	bare := housetest.Count(order, "", "5")
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), bare)
	housetest.Refused(t, err, fault.Invalid, "or say that there is none")
	bare.NoNote = true
	bare.Lines[0].Refused, bare.Lines[0].Reason, bare.Lines[0].Remark = housetest.Dec("1"), receive.Damaged, "one torn"
	bare.Stated, bare.Why = new(housetest.Dec("7")), "they say seven"
	first, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), bare)
	require.NoError(t, err)
	sheet, err := views.Delivery(b.Ctx, b.App, first.Number, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, fmt.Sprintf("ours %d", first.Number), sheet.Note)
	require.Equal(t, []any{true, "they say seven", housetest.Dec("7")}, []any{sheet.NoNote, sheet.Why, *sheet.Stated})
	require.Equal(t, []any{"damaged", "one torn", housetest.Dec("1")}, []any{sheet.Lines[0].Reason, sheet.Lines[0].Remark, sheet.Lines[0].Refused})
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), bare)
	housetest.Refused(t, err, fault.Duplicate, fmt.Sprintf("delivery %d", first.Number))
	less := bare
	less.Lines = []receive.Line{{No: 1, Quantity: housetest.Dec("4")}}
	less.Stated = nil
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), less)), "another quantity is another delivery")
	require.NoError(
		t,
		housetest.Drop(receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: first.Number, Reason: "other goods"})),
	)
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), bare)), "what was reversed does not ask")
	bare.SecondPart = true
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), bare)))
	b.Proved()
}
