package payments_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/payments"
)

func otherwise(b *housetest.Bench, who string, e payments.OtherwiseEntry) (payments.SettledAnswer, error) {
	return payments.SettleOtherwise(b.Ctx, b.App, b.As(who), e)
}

// An invoice is paid otherwise in parts once it is released, whole at once before that; each is taken back.
func TestPaidOtherwise(t *testing.T) {
	b := housetest.SetUp(t)
	bill := b.Verified(b.As("clerk"), 1).Number // 147.60
	cash := payments.OtherwiseEntry{Invoice: bill, Way: "cash", Reference: "receipt 12"}
	for _, bad := range []struct {
		change func(*payments.OtherwiseEntry)
		field  string
	}{
		{func(e *payments.OtherwiseEntry) { e.Way = "barter" }, "way"},
		{func(e *payments.OtherwiseEntry) { e.Reference = " " }, "reference"},
		{func(e *payments.OtherwiseEntry) { e.Day = b.Today().Add(1) }, "day"},
		{func(e *payments.OtherwiseEntry) { e.Amount = "147.61" }, "amount"},
		{func(e *payments.OtherwiseEntry) { e.Amount = "0" }, "amount"},
		{func(e *payments.OtherwiseEntry) { e.Amount = "100" }, "amount"}, // it is not released
	} {
		e := cash
		bad.change(&e)
		_, err := otherwise(b, "treasurer", e)
		var no *fault.Fault
		require.ErrorAs(t, err, &no)
		require.Equal(t, bad.field, no.Field)
	}
	whole, err := otherwise(b, "treasurer", cash)
	require.NoError(t, err)
	require.Equal(t, trade.Paid, b.StateIf(bill))
	require.Equal(t, money.Amount(-14760), b.Balance("cash"))
	_, err = otherwise(b, "treasurer", cash)
	require.True(t, fault.Is(err, fault.Refused), "it is paid")
	b.Proved()

	back := func(number int64, reason string) error {
		return housetest.Drop(payments.TakeBackSettled(b.Ctx, b.App, b.As("treasurer"), payments.SettledEnd{Number: number, Reason: reason}))
	}
	require.True(t, fault.Is(back(whole.Number, ""), fault.Invalid))
	require.NoError(t, back(whole.Number, "the till was short"))
	require.True(t, fault.Is(back(whole.Number, "again"), fault.NotFound))
	require.Equal(t, trade.Released, b.StateIf(bill))
	require.Zero(t, b.Balance("cash"))
	b.Proved()

	part := cash
	part.Amount = "47.60"
	require.NoError(t, housetest.Drop(otherwise(b, "treasurer", part)))
	require.Equal(t, money.Amount(10000), b.State(bill).Open)
	_, err = payments.TakeBackRelease(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: bill, Reason: "r"})
	require.True(t, fault.Is(err, fault.Refused), "it is paid in part")
	b.Proved()
	_, err = payments.MakeRun(b.Ctx, b.App, b.As("clerk"),
		payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill}}})
	require.NoError(t, err)
	_, err = otherwise(b, "treasurer", part)
	require.True(t, fault.Is(err, fault.Refused), "the rest is in a run")
	b.Proved()
}

// What comes of another rate is exchange difference, in parts as in one.
func TestPaidOtherwiseInAnotherCurrency(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("TIDEW", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("TIDEW", order, "T-1", "10", "12"))
	require.Equal(t, trade.Verified, bill.State, bill.Summary)
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Empty(t, released.Left)
	for _, amount := range []money.Entered{"33.33", "33.33", ""} {
		require.NoError(t, housetest.Drop(otherwise(b, "treasurer", payments.OtherwiseEntry{Invoice: bill.Number, Way: "bank", Amount: amount, Reference: "abroad"})))
		b.Proved()
	}
	require.Zero(t, b.Balance("payables"), "all of it is settled, whatever the parts round to")
	require.Equal(t, trade.Paid, b.StateIf(bill.Number))
}

// A hold, an own entry and an authority stand against it as against a release; a refund only books what came.
func TestWhoPaysOtherwise(t *testing.T) {
	b := housetest.SetUp(t)
	own := b.Verified(b.As("both"), 1).Number
	_, err := otherwise(b, "both", payments.OtherwiseEntry{Invoice: own, Way: "cash", Reference: "r"})
	require.True(t, fault.Is(err, fault.Forbidden), "their own entry")
	held := b.Verified(b.As("clerk"), 2).Number
	_, err = holds.Hold(b.Ctx, b.App, b.As("clerk"), holds.HoldEntry{Invoice: held, Reason: "goods"})
	require.NoError(t, err)
	_, err = otherwise(b, "treasurer", payments.OtherwiseEntry{Invoice: held, Way: "cash", Reference: "r"})
	require.ErrorContains(t, err, "on hold")

	order := b.Order("BRACK", "10")
	b.PaidAhead(order, "50%", "D-1")
	e := b.Bill("BRACK", 0, "C-1", "1", "60")
	e.Kind, e.Credited, e.Order, e.Lines[0].OrderLine = trade.CreditNote, "D-1", 0, 0
	credit := b.Key(e)
	require.Equal(t, trade.Verified, credit.State, credit.Summary)
	require.Zero(t, b.Balance("prepayments"))
	require.NoError(t, housetest.Drop(otherwise(b, "treasurer", payments.OtherwiseEntry{Invoice: credit.Number, Way: "bank", Amount: "70", Reference: "came back"})))
	require.Equal(t, trade.Verified, b.StateIf(credit.Number))
	b.Proved()
	rest := b.Settle(credit.Number)
	require.Equal(t, trade.Paid, b.StateIf(credit.Number))
	b.Proved()
	require.NoError(t, housetest.Drop(payments.TakeBackSettled(b.Ctx, b.App, b.As("treasurer"), payments.SettledEnd{Number: rest, Reason: "not ours"})))
	require.Equal(t, money.Amount(-380), b.State(credit.Number).Open)
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: credit.Number, Reason: "r"})
	require.True(t, fault.Is(err, fault.Refused), "a part of it was refunded")
	b.Proved()
}
