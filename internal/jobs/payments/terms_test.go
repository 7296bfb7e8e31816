package payments_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/views"
)

// An invoice in instalments is paid by what is due of it; a rejected one is due again, on its own day.
func TestAnInvoiceIsPaidInInstalments(t *testing.T) {
	b := housetest.SetUp(t)
	e := b.Asking()
	e.Terms = trade.Terms{NetDays: 30, Instalments: "30% 10, 70% 40"}
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("admin"), e)))
	require.Equal(t, e.Terms, b.Supplier("BRACK").Terms)
	bill, _ := given(b, 1, "") // 147.60
	first := b.State(bill).Due
	_, ahead := b.Ahead(b.Order("BRACK", "5"), "50%", "D-1")
	require.Equal(t, day.Day("2026-12-20"), b.State(ahead).Due, "what is asked ahead is due whole, by days net")
	pay := func(dueBy int, amount money.Amount) int64 {
		t.Helper()
		run, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{
			DueBy: first.Add(dueBy), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill}},
		})
		require.NoError(t, err)
		require.Equal(t, amount, runOf(b, run.Number).Payments[0].Amount)
		b.Approve(run.Number)
		b.Proved()
		return run.Number
	}
	answer := func(run int64, status string) {
		t.Helper()
		require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"),
			housetest.Answer(runOf(b, run).Run, status))))
		b.Proved()
	}
	run := pay(1, 4428) // 30 % of it
	answer(run, "RJCT")
	require.Equal(t, first, b.State(bill).Due, "the first is due again")
	answer(pay(1, 4428), "ACSC")
	s := b.State(bill)
	require.Equal(t, []any{trade.Released, money.Amount(10332), first.Add(30)}, []any{s.State, s.Open, s.Due})
	pay(30, 10332)
	require.Equal(t, trade.InPayment, b.State(bill).State)
}

// What is used of money ahead after an invoice was verified, and what is claimed of it, parts the rest as before; undone, as it
// was. What is paid of it says what is due next, whatever is decided of its terms.
func TestInstalmentsOfWhatIsOwed(t *testing.T) {
	b := housetest.SetUp(t)
	e := b.Asking()
	e.Terms = trade.Terms{NetDays: 30, Instalments: "30% 10, 70% 40"}
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("admin"), e)))
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12")).Number // 147.60
	plan := func() []money.Amount {
		t.Helper()
		sheet, err := views.Invoice(b.Ctx, b.App, bill, b.Actors["clerk"])
		require.NoError(t, err)
		b.Proved()
		return []money.Amount{sheet.Plan.Instalments[0].Amount, sheet.Plan.Instalments[1].Amount}
	}
	require.Equal(t, []money.Amount{4428, 10332}, plan())
	deposit := b.PaidAhead(order, "50%", "D-1")
	require.NoError(t, housetest.Drop(invoices.UseAhead(b.Ctx, b.App, b.As("clerk"), invoices.AheadUseEntry{Invoice: bill, Prepayment: deposit, Amount: "47.60"})))
	require.Equal(t, []money.Amount{3000, 7000}, plan())
	first := b.State(bill).Due
	_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill})
	require.NoError(t, err)
	run, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{DueBy: first, PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill}}})
	require.NoError(t, err)
	require.Equal(t, money.Amount(3000), runOf(b, run.Number).Payments[0].Amount, "30 % of what is owed")
	b.Approve(run.Number)
	require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(runOf(b, run.Number).Run, "ACSC"))))
	require.Equal(t, first.Add(30), b.State(bill).Due)
	require.NoError(t, housetest.Drop(invoices.SetInvoiceTerms(b.Ctx, b.App, b.As("clerk"), invoices.TermsEntry{
		Number: bill, Terms: &trade.Terms{Instalments: "30% 15, 70% 50"}, Note: "later"})))
	require.Equal(t, first.Add(40), b.State(bill).Due, "the first of them is paid")
	require.NoError(t, housetest.Drop(invoices.TakeBackAhead(b.Ctx, b.App, b.As("clerk"), invoices.AheadUseEnd{Invoice: bill, Prepayment: deposit, Reason: "r"})))
	require.Equal(t, []money.Amount{4428, 10332}, plan())
	require.Equal(t, first.Add(5), b.State(bill).Due, "of the first 14.28 are open again")
}

// The first payment to an account, and one that others have as well, are marked on the run; an account that the bank rejected
// is in doubt till somebody says how they checked it.
func TestAnAccountIsLookedAtTwice(t *testing.T) {
	b := housetest.SetUp(t)
	alone := func(bill int64) bool {
		t.Helper()
		sheet, err := views.Invoice(b.Ctx, b.App, bill, b.Actors["clerk"])
		require.NoError(t, err)
		return slices.Contains(sheet.May, act.MakeRun)
	}
	one, _ := given(b, 1, "")
	two, _ := given(b, 2, "")
	three, _ := given(b, 3, "")
	pay := func(bill int64, status string) views.RunPayment {
		t.Helper()
		run := made(b, payments.RunEntry{}, bill)
		b.Approve(run.Number)
		require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"),
			housetest.Answer(runOf(b, run.Number).Run, status))))
		return runOf(b, run.Number).Payments[0]
	}
	require.True(t, pay(one, "RJCT").First)
	require.NotEmpty(t, b.Supplier("BRACK").Rejected)
	b.Later(1)
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", b.Supplier("BRACK").IBAN)))
	sheet := b.Supplier("BRACK")
	require.Empty(t, sheet.Rejected)
	require.Equal(t, "called", sheet.Decisions[0].Reason)
	require.True(t, pay(two, "ACSC").First, "nothing was paid to it yet")
	require.True(t, alone(three), "a run can be made of it alone")
	last := runOf(b, made(b, payments.RunEntry{}, three).Number).Payments[0]
	require.False(t, alone(three), "a run holds it")
	require.False(t, alone(two), "it is paid")
	require.False(t, last.First)
	require.Equal(t, []string{"Tidewell Pumps"}, last.Also, "whose account it is as well")
	b.Proved()
}

// What is lost first is released first: a discount before an earlier due day.
func TestWhatIsLostFirstStandsFirst(t *testing.T) {
	b := housetest.SetUp(t)
	agree := func(terms trade.Terms) {
		t.Helper()
		e := b.Asking()
		e.Terms = terms
		require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("admin"), e)))
	}
	agree(trade.Terms{NetDays: 20})
	soon := b.Verified(b.As("clerk"), 1).Number
	agree(trade.Terms{NetDays: 30, DiscountPercent: housetest.Dec("2"), DiscountDays: 12})
	discount := b.Verified(b.As("clerk"), 2).Number
	first := func() int64 {
		t.Helper()
		view, err := views.Payments(b.Ctx, b.App)
		require.NoError(t, err)
		require.Len(t, view.Verified, 2)
		return view.Verified[0].Number
	}
	require.Equal(t, discount, first())
	b.Later(12)
	require.Equal(t, soon, first(), "its discount is gone")
}
