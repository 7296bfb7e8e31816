package holds_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func hold(b *housetest.Bench, who string, e holds.HoldEntry) (int64, error) {
	if e.Reason == "" {
		e.Reason = "goods"
	}
	run := holds.Hold
	if e.Order != 0 {
		run = holds.HoldOrder
	}
	held, err := run(b.Ctx, b.App, b.As(who), e)
	return held.Number, err
}

func lift(b *housetest.Bench, who string, number int64) error {
	return housetest.Drop(holds.Lift(b.Ctx, b.App, b.As(who), holds.LiftEntry{Hold: number, Note: "done"}))
}

// What a hold on an order or a line blocks is refused with who put it there and why, and nothing else is; it is taken off by
// whoever it names, by who put it there, and never by the buyer whose order it is.
func TestAHoldOnAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10", "6")
	change := func() error {
		line := housetest.Krill("10", "12")
		line.No = 1
		return housetest.Drop(orders.Change(b.Ctx, b.App, b.As("buyer"), orders.ChangeEntry{Number: order, Reason: "r",
			Entry: orders.Entry{WantedOn: "2026-11-30", Lines: []orders.EntryLine{line}}}))
	}
	deliver := func(note string, quantities ...string) error {
		return housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, note, quantities...)))
	}
	whole, err := hold(b, "receiver", holds.HoldEntry{Order: order, Note: "the vet looks first", Blocks: trade.Blocks{trade.BlocksOrdering}, Clears: "approver"})
	require.NoError(t, err)
	line, err := hold(b, "receiver", holds.HoldEntry{Order: order, Line: 2, Blocks: trade.Blocks{trade.BlocksReceiving, trade.BlocksVerifying}})
	require.NoError(t, err)
	housetest.Refused(t, change(), fault.Refused, "Order")
	housetest.Refused(t, change(), fault.Refused, "is on hold since")
	require.NoError(t, deliver("DN 1", "4"))
	housetest.Refused(t, deliver("DN 2", "1", "6"), fault.Refused, "Line 2, Krill")
	_, err = receiving.PlanDelivery(b.Ctx, b.App, b.Actors["receiver"], housetest.Count(order, "DN 2", "1", "6"), true)
	require.NoError(t, err, "at the door it is counted all the same")

	bill := b.Bill("BRACK", order, "A-1", "4", "12")
	captured := b.Key(bill)
	require.Equal(t, trade.Verified, captured.State, "the line that is held is not billed")
	second := b.Bill("BRACK", order, "B-22", "6", "12")
	second.Lines[0].OrderLine = 2
	held := b.Key(second)
	require.Equal(t, trade.Held, held.State)
	sheet, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, finding.OnHold, sheet.Findings[0].Kind)
	require.Empty(t, sheet.Findings[0].Ways(), "a hold is taken off, not accepted")
	require.Contains(t, b.Actors["clerk"].Printer.Finding(sheet.Findings[0]), "is on hold, by")
	require.Len(t, sheet.Holds, 2)

	_, err = hold(b, "clerk", holds.HoldEntry{Order: order, Line: 2, Blocks: trade.Blocks{trade.BlocksPaying}})
	housetest.Refused(t, err, fault.Duplicate, "for this reason already")
	housetest.Refused(t, lift(b, "buyer", line), fault.Forbidden, "is your own")
	housetest.Refused(t, lift(b, "clerk", whole), fault.Forbidden, "whoever is approver, or by")
	require.NoError(t, lift(b, "approver", whole))
	housetest.Refused(t, lift(b, "approver", whole), fault.Changed, "taken off already")
	require.NoError(t, change())
	require.NoError(t, lift(b, "clerk", line))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Waiting, b.StateIf(held.Number), "it moves on by itself")
	b.Proved()
}

// A hold on a line stands against the invoices that bill it, and against no other: on the pile for release as in releasing.
func TestAHoldOnALineHoldsNoOtherLine(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10", "6")
	b.Deliver(order, "DN 1", "10", "6")
	first := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	entry := b.Bill("BRACK", order, "B-22", "6", "12")
	entry.Lines[0].OrderLine = 2
	second := b.Key(entry)
	require.Equal(t, []trade.InvoiceState{trade.Verified, trade.Verified}, []trade.InvoiceState{first.State, second.State})
	_, err := hold(b, "receiver", holds.HoldEntry{Order: order, Line: 2, Blocks: trade.PaymentHold})
	require.NoError(t, err)
	rows, err := act.Read(b.Ctx, b.App, func(r act.Reading) ([]store.InvoiceRow, error) { return r.InvoicesToRelease() })
	require.NoError(t, err)
	on := map[int64]string{}
	for _, row := range rows {
		on[row.Number] = row.Hold
	}
	require.Equal(t, map[int64]string{first.Number: "", second.Number: "goods"}, on)
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{first.Number, second.Number})
	require.NoError(t, err)
	require.Equal(t, []int64{first.Number}, released.Released)
}

func TestWhatAHoldIsEnteredWith(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12")).Number
	for words, e := range map[string]holds.HoldEntry{
		"Choose the reason":      {Invoice: bill, Reason: "because"},
		"cannot block receiving": {Invoice: bill, Blocks: trade.Blocks{trade.BlocksReceiving}},
		"Choose what the hold":   {Order: order},
		"Choose who may take it": {Order: order, Blocks: trade.Blocks{trade.BlocksPaying}, Clears: "reader"},
		"still to come":          {Order: order, Blocks: trade.Blocks{trade.BlocksPaying}, Ends: trade.HoldEnds{Until: trade.UntilDay, Day: b.Today()}},
		"on an invoice only":     {Order: order, Blocks: trade.Blocks{trade.BlocksPaying}, Ends: trade.HoldEnds{Until: trade.UntilCredit}},
		"Choose what ends":       {Order: order, Blocks: trade.Blocks{trade.BlocksPaying}, Ends: trade.HoldEnds{Until: "never"}},
		"has no line 7":          {Order: order, Line: 7, Blocks: trade.Blocks{trade.BlocksPaying}},
		"are of the whole order": {Order: order, Line: 1, Blocks: trade.Blocks{trade.BlocksOrdering}},
	} {
		_, err := hold(b, "clerk", e)
		housetest.Refused(t, err, fault.Invalid, words)
	}
	reason := func(name string, ended bool) error {
		return housetest.Drop(holds.SaveReason(b.Ctx, b.App, b.As("admin"), store.OwnReason{Name: name, Ended: ended}))
	}
	housetest.Refused(t, reason(" ", false), fault.Invalid, "Enter the reason")
	housetest.Refused(t, reason("paper is missing", false), fault.Duplicate, "there already")
	require.NoError(t, reason("water test pending", false))
	number, err := hold(b, "clerk", holds.HoldEntry{Invoice: bill, Reason: "water test pending"})
	require.NoError(t, err)
	require.NoError(t, lift(b, "clerk", number))
	require.NoError(t, reason("water test pending", true))
	_, err = hold(b, "clerk", holds.HoldEntry{Invoice: bill, Reason: "water test pending"})
	housetest.Refused(t, err, fault.Invalid, "Choose the reason")
	b.Proved()
}

// A hold ends by itself once its cause has gone: its day, the goods, the credit note; before that it stays.
func TestAHoldEndsOnceItsCauseHasGone(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "6").Number
	bill := b.Key(b.Bill("BRACK", order, "A-1", "6", "12")).Number
	open := func() int {
		require.NoError(t, holds.ClearEnded(b.Ctx, b.App))
		v, err := views.Holds(b.Ctx, b.App, b.Actors["clerk"])
		require.NoError(t, err)
		return len(v.Holds)
	}
	pay := trade.Blocks{trade.BlocksPaying}
	for _, e := range []holds.HoldEntry{
		{Order: order, Reason: "goods", Blocks: pay, Ends: trade.HoldEnds{Until: trade.UntilDay, Day: b.Today().Add(2)}},
		{Order: order, Reason: "paper", Blocks: pay, Ends: trade.HoldEnds{Until: trade.UntilGoods}},
		{Invoice: bill, Reason: "supplier", Ends: trade.HoldEnds{Until: trade.UntilCredit}},
	} {
		require.NoError(t, housetest.Drop(hold(b, "clerk", e)))
	}
	require.Equal(t, 3, open())
	b.Later(2)
	require.Equal(t, 2, open(), "its day has come")
	e := housetest.Count(order, "DN 2", "4")
	e.Day = b.Today()
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)))
	require.Equal(t, 1, open(), "the goods are here")
	back := housetest.Back(delivery, receive.Credit, "2")
	back.Day = b.Today()
	b.Returned(back)
	note := b.Bill("BRACK", order, "C-1", "2", "12")
	note.Kind, note.Credited = trade.CreditNote, "A-1"
	require.Equal(t, trade.Verified, b.Key(note).State)
	require.Zero(t, open(), "its credit note is here")
	sheet, err := views.Invoice(b.Ctx, b.App, bill, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, "Lagoon", sheet.Holds[0].EndedBy)
	require.Equal(t, "Its credit note is here.", sheet.Holds[0].EndNote)
	b.Proved()
}

// An entry is captured with its hold: it verifies and is not released in between. A hold on its order keeps it from being
// paid once it is released; several are taken off with one note, and what may not be says why.
func TestHoldsOnTheWayToThePayment(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Bill("BRACK", order, "A-1", "10", "12")
	bill.Hold = &act.HoldEntry{Reason: "goods", Note: "two tubs look swollen"}
	captured := b.Key(bill)
	require.Equal(t, trade.Verified, captured.State)
	release := func() payments.ReleaseAnswer {
		answer, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{captured.Number})
		require.NoError(t, err)
		return answer
	}
	require.Contains(t, release().Left[0].Why, "is on hold: goods are in question")
	onOrder, err := hold(b, "clerk", holds.HoldEntry{Order: order, Blocks: trade.Blocks{trade.BlocksPaying}})
	require.NoError(t, err)
	v, err := views.Holds(b.Ctx, b.App, b.Actors["approver"])
	require.NoError(t, err)
	require.Len(t, v.Holds, 2)
	lifted, err := holds.LiftAll(b.Ctx, b.App, b.As("approver"), []int64{v.Holds[0].Number, 99}, "they are well")
	require.NoError(t, err)
	require.Equal(t, []int64{v.Holds[0].Number}, lifted.Lifted)
	require.Contains(t, lifted.Left[0].Why, "There is no hold 99")
	_, err = holds.LiftAll(b.Ctx, b.App, b.As("approver"), []int64{onOrder}, " ")
	housetest.Refused(t, err, fault.Invalid, "Say in a note")
	require.Equal(t, []int64{captured.Number}, release().Released)
	proposal, err := payments.Propose(b.Ctx, b.App, b.Today().Add(90), b.Today())
	require.NoError(t, err)
	require.Empty(t, proposal.Payments)
	require.NotEmpty(t, proposal.LeftOut)
	require.NoError(t, lift(b, "clerk", onOrder))
	proposal, err = payments.Propose(b.Ctx, b.App, b.Today().Add(90), b.Today())
	require.NoError(t, err)
	require.Len(t, proposal.Payments, 1)
	b.Proved()
}

// Differences of a kind on several invoices are accepted with one note where the authority covers all of them together, or
// none is.
func TestManyDifferencesAtOnce(t *testing.T) {
	b := housetest.SetUp(t)
	var entries []invoices.AcceptEntry
	for n := range 3 {
		entries = append(entries, invoices.AcceptEntry{Invoice: b.Held(b.As("clerk"), n+1).Number})
	}
	kinds, _, err := views.Settleable(b.Ctx, b.App, b.Actors["approver"])
	require.NoError(t, err)
	require.Len(t, kinds, 1)
	require.Len(t, kinds[0].Invoices, 3)
	none, _, err := views.Settleable(b.Ctx, b.App, b.Actors["clerk"])
	require.NoError(t, err)
	require.Empty(t, none)
	accept := func(who string, note string) (invoices.AcceptedAll, error) {
		return invoices.AcceptFindings(b.Ctx, b.App, b.As(who), finding.UnitPrice, entries, note)
	}
	_, err = accept("approver", "")
	housetest.Refused(t, err, fault.Invalid, "note")
	require.NoError(t, housetest.Drop(b.ByHand().Exec(`UPDATE person SET authority = 2000 WHERE login = 'approver too'`)))
	b.Know("approver too")
	_, err = accept("approver too", "agreed")
	housetest.Refused(t, err, fault.Forbidden, "your authority is")
	require.Equal(t, trade.Held, b.StateIf(entries[0].Invoice), "none of them is accepted")
	done, err := accept("approver", "agreed by telephone")
	require.NoError(t, err)
	require.EqualValues(t, 30_00, done.Worth)
	for _, e := range entries {
		require.Equal(t, trade.Verified, b.StateIf(e.Invoice))
	}
}
