package payments_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func TestPayment(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12")) // 147.60, 2.95 off until 30 Nov
	run := b.Pay(bill.Number)
	c := b.As("both")
	made, err := payments.MakeRun(
		b.Ctx,
		b.App,
		c,
		payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill.Number}}},
	)
	require.Zero(t, made)
	housetest.Refused(t, err, fault.Refused, "in a run already")
	_, err = payments.ApproveRun(b.Ctx, b.App, b.As("clerk"), run, 1)
	housetest.Refused(t, err, fault.Forbidden, "role")
	_, err = holds.Hold(b.Ctx, b.App, b.As("clerk"), holds.HoldEntry{Invoice: bill.Number, Reason: "goods"})
	require.NoError(t, err)
	made, err = payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), run, 1)
	require.NoError(t, err)
	require.Equal(t, store.RunDiscarded, made.State, "what is on hold is not paid as it was")
	require.Contains(t, made.Changes[0], "on hold")
	_, err = holds.Lift(b.Ctx, b.App, b.As("approver"), holds.LiftEntry{Hold: 1})
	require.NoError(t, err)
	made, err = payments.MakeRun(
		b.Ctx,
		b.App,
		b.As("clerk"),
		payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill.Number}}},
	)
	require.NoError(t, err)
	run = made.Number
	made, err = payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), run, 1)
	require.NoError(t, err)
	require.Empty(t, made.Changes)
	require.Equal(t, trade.InPayment, b.State(bill.Number).State)
	require.Zero(t, b.Balance("in_transit"), "the books follow when it is sent")
	b.Proved()
	_, err = payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	require.NoError(t, err)
	require.Equal(t, money.Amount(-14_465), b.Balance("in_transit"))
	require.Equal(t, money.Amount(-295), b.Balance("discount_received"))
	b.Proved()
	answers, err := payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer"))
	require.NoError(t, err)
	require.Equal(t, []payments.AnswerTaken{{Run: run, Settled: 1}, {Settled: 1, Statement: 1, Lines: 1}}, answers)
	answers, err = payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer"))
	require.NoError(t, err)
	require.Empty(t, answers, "an answer is taken once")
	require.Equal(t, trade.Paid, b.State(bill.Number).State)
	require.Equal(t, money.Amount(-14_465), b.Balance("bank"))
	require.Zero(t, b.Balance("payables")+b.Balance("in_transit"))
	b.Proved()
}

// ACCP books nothing; a rejection reverses all of the payment, discount included, and reopens its invoices.
func TestRejection(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	number := b.Pay(bill.Number)
	_, err := payments.ApproveRun(b.Ctx, b.App, b.As("approver"), number, 0)
	require.NoError(t, err)
	sheet, err := views.Run(b.Ctx, b.App, number, b.Actors["reader"])
	require.NoError(t, err)
	taken, err := payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "ACCP"))
	require.NoError(t, err)
	require.Zero(t, taken.Settled+taken.Rejected)
	require.Equal(t, trade.InPayment, b.State(bill.Number).State)
	taken, err = payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "RJCT"))
	require.NoError(t, err)
	require.Equal(t, 1, taken.Rejected)
	s := b.State(bill.Number)
	require.Equal(t, trade.Released, s.State)
	require.Equal(t, s.Total, s.Open)
	require.Zero(t, b.Balance("in_transit")+b.Balance("discount_received"))
	_, err = payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "RJCT"))
	housetest.Refused(t, err, fault.Duplicate, "taken before")
	_, err = payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(store.Run{Message: "OTHER"}, "ACSC"))
	housetest.Refused(t, err, fault.NotFound, "none of ours")
	b.Proved()
}

// A foreign invoice paid in two parts leaves nothing in payables.
func TestPaidInParts(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("TIDEW", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("TIDEW", order, "A-1", "10", "12"))
	require.NoError(
		t,
		masters.Masters(b.Ctx, b.App, b.As("admin"), "rate", func(tx *store.Tx) error { return tx.AddRate("USD", b.Today(), housetest.Dec("0.95")) }),
	)
	_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	for _, part := range []*money.Decimal{new(housetest.Dec("50.01")), nil} { // then all that is left
		made, err := payments.MakeRun(
			b.Ctx,
			b.App,
			b.As("clerk"),
			payments.RunEntry{DueBy: b.Today(), PayOn: b.Today(), Items: []payments.RunItem{{bill.Number, part}}},
		)
		require.NoError(t, err)
		_, err = payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0)
		require.NoError(t, err)
		b.Later(0)
		_, err = payments.SendRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0)
		require.NoError(t, err)
		_, err = payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer"))
		require.NoError(t, err)
		b.Proved()
	}
	require.Equal(t, trade.Paid, b.State(bill.Number).State)
	require.Zero(t, b.Balance("payables"))
	require.NotZero(t, b.Balance("exchange_difference"))
}

func TestReleaseNamesWhatStays(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	clean, held := b.Key(b.Bill("BRACK", order, "A-1", "4", "12")), b.Key(b.Bill("BRACK", order, "B-7", "5", "12"))
	_, err := holds.Hold(b.Ctx, b.App, b.As("clerk"), holds.HoldEntry{Invoice: held.Number, Reason: "goods"})
	require.NoError(t, err)
	_, err = holds.Hold(b.Ctx, b.App, b.As("clerk"), holds.HoldEntry{Invoice: held.Number, Reason: "goods"})
	housetest.Refused(t, err, fault.Duplicate, "on hold already")
	answer, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("clerk"), []int64{clean.Number, held.Number})
	require.NoError(t, err)
	require.Empty(t, answer.Released, "nobody releases their own entry")
	answer, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{clean.Number, held.Number})
	require.NoError(t, err)
	require.Equal(t, []int64{clean.Number}, answer.Released)
	require.Contains(t, answer.Left[0].Why, "goods are in question")
	_, err = holds.Lift(b.Ctx, b.App, b.As("clerk"), holds.LiftEntry{Hold: 1})
	require.NoError(t, err, "one may lift one's own hold, also on one's own entry")
}

// Nobody approves their own run, nor a run that pays their own entry.
func TestNobodyApprovesTheirOwnRun(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "4", "12"))
	_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	entry := payments.RunEntry{DueBy: b.Today(), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill.Number}}}
	made, err := payments.MakeRun(b.Ctx, b.App, b.As("both"), entry)
	require.NoError(t, err)
	_, err = payments.ApproveRun(b.Ctx, b.App, b.As("both"), made.Number, 0)
	housetest.Refused(t, err, fault.Forbidden, "your own; a second person")
	keyer := b.Actors["clerk"]
	keyer.Roles = []string{"clerk", "treasurer"}
	_, err = payments.ApproveRun(b.Ctx, b.App, act.Command{Actor: keyer}, made.Number, 0)
	housetest.Refused(t, err, fault.Forbidden, "your own; somebody else")
	_, err = payments.DiscardRun(b.Ctx, b.App, b.As("clerk"), made.Number, 0)
	require.NoError(t, err)
	_, err = payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0)
	housetest.Refused(t, err, fault.Changed, "discarded already")
	for _, wrong := range []payments.RunEntry{
		{PayOn: b.Today().Add(-1), Items: entry.Items}, {PayOn: b.Today()}, {PayOn: b.Today(), Items: append(entry.Items, entry.Items...)},
		{PayOn: b.Today(), Items: []payments.RunItem{{bill.Number, new(housetest.Dec("-1"))}}}, {PayOn: b.Today(), Items: []payments.RunItem{{bill.Number, new(housetest.Dec("0"))}}}, {PayOn: b.Today(), Items: []payments.RunItem{{bill.Number, new(housetest.Dec("10000"))}}}, {PayOn: b.Today(), Items: []payments.RunItem{{Invoice: 7}}},
	} {
		_, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), wrong)
		require.Error(t, err)
		var f *fault.Fault
		require.True(t, errors.As(err, &f) && f.Field != "", "%v", err)
	}
	b.Proved()
}

// A payment that the bank is given ahead is posted on its day: what the bank says of it before is never posted earlier.
func TestWhatEndsAPaymentIsPostedNoEarlier(t *testing.T) {
	for _, status := range []string{"ACSC", "RJCT"} {
		b := housetest.SetUp(t)
		order := b.Order("BRACK", "10")
		b.Deliver(order, "DN 1", "10")
		bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
		_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
		require.NoError(t, err)
		ahead := b.Today().Add(3).BankDay()
		made, err := payments.MakeRun(
			b.Ctx,
			b.App,
			b.As("clerk"),
			payments.RunEntry{DueBy: b.Today().Add(60), PayOn: ahead, Items: []payments.RunItem{{Invoice: bill.Number}}},
		)
		require.NoError(t, err)
		require.NoError(t, housetest.Drop(payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0)))
		require.NoError(t, housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0)))
		sheet, err := views.Run(b.Ctx, b.App, made.Number, b.Actors["reader"])
		require.NoError(t, err)
		require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, status))))
		journal, err := views.Journal(b.Ctx, b.App, 0)
		require.NoError(t, err)
		require.Equal(t, ahead, journal.Entries[0].PostedOn, "%s: %s", status, journal.Entries[0].What)
		require.Equal(t, ahead, journal.Entries[1].PostedOn, journal.Entries[1].What)
		b.Proved()
	}
}

// An invoice that comes to nothing (0.0005 at 9.00, a cent cheaper than ordered) is verified and released like any other, is
// proposed for no payment, and proves itself.
func TestAnInvoiceOfNothing(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "0.0005")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "0.0005", "9"))
	require.Equal(t, trade.Verified, bill.State)
	require.Equal(t, money.Amount(1), b.Line(order).Cheaper)
	b.Proved()
	_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	b.Proved()
	require.Equal(t, trade.Paid, b.State(bill.Number).State, "nothing is due")
	p, err := payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
	require.NoError(t, err)
	require.Empty(t, p.Payments)
}
