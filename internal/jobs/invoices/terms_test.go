package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/views"
)

// An order's own terms hold for its invoices, open, verified or released, and an invoice's own before them; taken back, the
// supplier's hold again. What a run holds stays as it is.
func TestTermsOfItsOwn(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "30")
	b.Deliver(order, "DN 1", "30")
	key := func(number, quantity string) int64 {
		captured := b.Key(b.Bill("BRACK", order, number, quantity, "12"))
		require.Equal(t, trade.Verified, captured.State, captured.Summary)
		return captured.Number
	}
	first, inRun := key("A-1", "10"), key("A-2", "5")
	held := b.Pay(inRun)
	base := b.State(first).Date
	due := func(number int64, days int) {
		t.Helper()
		require.Equal(t, base.Add(days), b.State(number).Due)
		b.Proved()
	}
	due(first, 30)
	set := func(terms *trade.Terms, note string) error {
		return housetest.Drop(invoices.SetOrderTerms(b.Ctx, b.App, b.As("buyer"), invoices.TermsEntry{Number: order, Terms: terms, Note: note}))
	}
	own := func(number int64, terms *trade.Terms, note string) error {
		return housetest.Drop(invoices.SetInvoiceTerms(b.Ctx, b.App, b.As("clerk"), invoices.TermsEntry{Number: number, Terms: terms, Note: note}))
	}
	require.True(t, fault.Is(set(&trade.Terms{NetDays: 60}, " "), fault.Invalid), "not without a word why")
	require.True(t, fault.Is(set(&trade.Terms{NetDays: -1}, "n"), fault.Invalid))
	require.True(t, fault.Is(set(&trade.Terms{Instalments: "30% 10"}, "n"), fault.Invalid), "which is not all of it")
	require.NoError(t, set(&trade.Terms{NetDays: 60, DiscountPercent: money.Int(3), DiscountDays: 20}, "agreed on the telephone"))
	due(first, 60)
	due(inRun, 30)
	require.Equal(t, []any{money.Amount(443), base.Add(20)}, []any{b.State(first).Discount, b.State(first).DiscountUntil}, "3 % of 147.60")
	second := key("A-3", "7.5")
	due(second, 60)
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["buyer"])
	require.NoError(t, err)
	require.Equal(t, []any{60, "agreed on the telephone"}, []any{sheet.Terms.NetDays, sheet.Terms.Own.Note})

	require.NoError(t, own(second, &trade.Terms{NetDays: 5}, "they need it"))
	due(second, 5)
	require.Empty(t, b.State(second).Discount)
	require.NoError(t, set(&trade.Terms{NetDays: 90}, "longer"))
	due(second, 5)
	due(first, 90)
	housetest.Refused(t, own(inRun, &trade.Terms{NetDays: 5}, "n"), fault.Refused, "in a run")
	require.NoError(t, housetest.Drop(payments.DiscardRun(b.Ctx, b.App, b.As("clerk"), held, 0)))
	require.NoError(t, own(second, nil, "not any more"))
	due(second, 90)
	require.NoError(t, set(nil, "as ever"))
	due(first, 30)
	due(second, 30)
	require.Equal(t, money.Amount(295), b.State(first).Discount)

	// A discount of its own is what a run takes, and what is netted or paid ahead keeps its share of it.
	require.NoError(t, own(first, &trade.Terms{NetDays: 60, DiscountPercent: money.Int(5), DiscountDays: 30}, "n"))
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{first})
	require.NoError(t, err)
	require.Empty(t, released.Left)
	proposal, err := payments.Propose(b.Ctx, b.App, "2027-12-31", b.Today())
	require.NoError(t, err)
	for _, i := range proposal.Payments[0].Items {
		if i.Invoice == first {
			require.Equal(t, money.Amount(738), i.Discount, "5 % of 147.60")
		}
	}
	require.NoError(t, own(first, &trade.Terms{Instalments: "50% 10, 50% 20"}, "n"))
	plan, err := views.Invoice(b.Ctx, b.App, first, b.Actors["clerk"])
	require.NoError(t, err)
	require.Len(t, plan.Plan.Instalments, 2)
	require.Equal(t, day.Day(base.Add(10)), b.State(first).Due)
	b.Proved()
}
