package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
)

// Whose due date counts is the company's decision, and a person's for one invoice; what a run holds stays.
func TestWhoseDueDateCounts(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "30")
	b.Deliver(order, "DN 1", "30")
	key := func(number string, due day.Day) int64 {
		e := b.Bill("BRACK", order, number, "5", "12")
		e.Due, e.Date = due, e.Date.Add(-len(number))
		captured := b.Key(e)
		require.Equal(t, trade.Verified, captured.State, captured.Summary)
		return captured.Number
	}
	decide := func(by trade.DueBy) {
		require.NoError(t, housetest.Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
			OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Due: by,
		})))
	}
	take := func(invoice int64, stated bool, note string) error {
		return housetest.Drop(invoices.TakeDue(b.Ctx, b.App, b.As("clerk"), invoices.DueEntry{Invoice: invoice, Stated: stated, Note: note}))
	}
	const early, late = day.Day("2026-11-25"), day.Day("2027-02-01")
	ours := key("A-1", late)
	terms := b.State(ours).Due
	require.Less(t, terms, late)
	decide(trade.DueTheirs)
	require.Equal(t, early, b.State(key("B-22", early)).Due)
	decide(trade.DueLater)
	require.Equal(t, b.State(key("C-333", "")).Due, b.State(key("C-333-1", early)).Due.Add(2), "ours is later; it is dated two days before")
	require.Equal(t, late, b.State(key("D-4444-22", late)).Due)
	require.True(t, fault.Is(housetest.Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
		OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Due: "never",
	})), fault.Invalid))

	require.True(t, fault.Is(take(ours, true, " "), fault.Invalid), "not without a word why")
	require.NoError(t, take(ours, true, "agreed by telephone"))
	require.Equal(t, late, b.State(ours).Due)
	require.NoError(t, take(ours, false, "no, by our terms"))
	require.Equal(t, terms, b.State(ours).Due)
	_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{ours})
	require.NoError(t, err)
	require.NoError(t, take(ours, true, "once more"))
	b.Proved()
	_, err = payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{DueBy: late, PayOn: b.Today(), Items: []payments.RunItem{{Invoice: ours}}})
	require.NoError(t, err)
	require.True(t, fault.Is(take(ours, false, "too late"), fault.Refused))
	b.Proved()
}
