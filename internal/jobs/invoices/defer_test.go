package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
)

// spread keys and approves 120.00 without an order, spread over months.
func spread(b *housetest.Bench, number string, d trade.Deferral) int64 {
	b.T.Helper()
	e := b.Bill("BRACK", 0, number, "1", "120")
	e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget, e.Lines[0].Defer = 0, 0, "SHOP", &d
	keyed := b.Key(e)
	_, err := invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: keyed.Number})
	require.NoError(b.T, err)
	return keyed.Number
}

func held(b *housetest.Bench, number int64) map[string]string {
	b.T.Helper()
	parts, err := act.Read(b.Ctx, b.App, func(r act.Reading) ([]trade.DeferredPart, error) {
		id, err := r.InvoiceID(number)
		if err != nil {
			return nil, err
		}
		return r.DeferredOf(id)
	})
	require.NoError(b.T, err)
	months := map[string]string{}
	for _, p := range parts {
		if p.Amount != 0 {
			months[p.Month] = p.Amount.Text("EUR")
		}
	}
	return months
}

// What is spread is posted once, on the last day of its month and never ahead; where that month is closed, on the last day
// of the first open one. A run is taken back while it is the last that stands (rules §5).
func TestASpreadCostIsPostedMonthByMonth(t *testing.T) {
	b := housetest.SetUp(t)
	number := spread(b, "S-1", trade.Deferral{From: "2026-11", Months: 3})
	require.Equal(t, map[string]string{"2026-11": "40.00", "2026-12": "40.00", "2027-01": "40.00"}, held(b, number))
	require.EqualValues(t, 12_000, b.Balance("deferred"))
	require.Zero(t, b.Balance("expense"))
	post := func(until day.Day) int {
		t.Helper()
		parts, err := invoices.PostDeferrals(b.Ctx, b.App, b.As("treasurer"), until)
		require.NoError(t, err)
		return parts
	}
	require.Zero(t, post(b.Today()), "November is not over")
	_, err := invoices.PostDeferrals(b.Ctx, b.App, b.As("treasurer"), "2026-12-31")
	housetest.Refused(t, err, fault.Invalid, "ahead of its day")
	_, err = invoices.PostDeferrals(b.Ctx, b.App, b.As("clerk"), b.Today())
	housetest.Refused(t, err, fault.Forbidden, "")
	b.Later(45) // into January
	plan, err := invoices.ReadDeferrals(b.Ctx, b.App, "2026-12-30")
	require.NoError(t, err)
	require.Len(t, plan.Due, 1)
	require.Equal(t, day.Day("2026-11-30"), plan.Due[0].On)
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-11"))
	require.Zero(t, post("2026-12-30"), "November is closed, so it goes with December")
	require.Equal(t, 2, post("2026-12-31"))
	require.Zero(t, post("2026-12-31"), "once")
	require.EqualValues(t, 8_000, b.Balance("expense"))
	require.EqualValues(t, 4_000, b.Balance("deferred"))
	require.Equal(t, map[string]string{"2027-01": "40.00"}, held(b, number))
	b.Proved()

	plan, err = invoices.ReadDeferrals(b.Ctx, b.App, "")
	require.NoError(t, err)
	require.Empty(t, plan.Due)
	run := plan.Runs[0].ID
	parts, err := invoices.UndoDeferrals(b.Ctx, b.App, b.As("treasurer"), run)
	require.NoError(t, err)
	require.Equal(t, 2, parts)
	require.EqualValues(t, 12_000, b.Balance("deferred"))
	require.Zero(t, b.Balance("expense"))
	_, err = invoices.UndoDeferrals(b.Ctx, b.App, b.As("treasurer"), run)
	housetest.Refused(t, err, fault.Refused, "taken back already")
	_, err = invoices.UndoDeferrals(b.Ctx, b.App, b.As("treasurer"), 99)
	housetest.Refused(t, err, fault.NotFound, "")
	b.Proved()
	require.Equal(t, 2, post(b.Today()))
	require.NoError(t, housetest.Drop(invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: number, Reason: "not ours"})))
	require.Zero(t, b.Balance("deferred"))
	require.Zero(t, b.Balance("expense"))
	plan, err = invoices.ReadDeferrals(b.Ctx, b.App, "")
	require.NoError(t, err)
	_, err = invoices.UndoDeferrals(b.Ctx, b.App, b.As("treasurer"), plan.Runs[0].ID)
	housetest.Refused(t, err, fault.Refused, "is void since")
	b.Proved()
}

// A credit note takes from the months that still hold something; made void, it puts back what it took.
func TestACreditTakesFromTheMonths(t *testing.T) {
	b := housetest.SetUp(t)
	number := spread(b, "S-2", trade.Deferral{From: "2026-11", Months: 3})
	e := b.Bill("BRACK", 0, "C-2", "1", "50")
	e.Kind, e.Credited = trade.CreditNote, "S-2"
	e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget = 0, 0, "SHOP"
	credit := b.Key(e)
	require.Equal(t, trade.Verified, credit.State)
	require.Equal(t, map[string]string{"2026-11": "23.33", "2026-12": "23.33", "2027-01": "23.34"}, held(b, number))
	require.EqualValues(t, 7_000, b.Balance("deferred"))
	require.Zero(t, b.Balance("expense"))
	b.Proved()
	require.NoError(t, housetest.Drop(invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: credit.Number, Reason: "twice"})))
	require.Equal(t, map[string]string{"2026-11": "40.00", "2026-12": "40.00", "2027-01": "40.00"}, held(b, number))
	require.EqualValues(t, 12_000, b.Balance("deferred"))
	b.Proved()
}

// Only a cost is spread, and what is typed is said at its line.
func TestOnlyACostIsSpread(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10") // stock
	e := b.Bill("BRACK", order, "S-3", "10", "12")
	for _, x := range []struct {
		d    trade.Deferral
		says string
	}{{trade.Deferral{From: "2026-11", Months: 12}, "only a cost is spread"}, {trade.Deferral{From: "11.2026", Months: 12}, "first month"}, {trade.Deferral{From: "2026-11"}, "1 to 120 months"}} {
		e.Lines[0].Defer = &x.d
		_, err := invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], e, 0)
		housetest.Refused(t, err, fault.Invalid, x.says)
	}
	e.Lines[0].Defer = &trade.Deferral{From: "2026-11", Months: 12}
	e.Lines[0].ChargeKind = "freight"
	_, err := invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], e, 0)
	housetest.Refused(t, err, fault.Invalid, "A charge is a cost at once")
}

// An open credit note of an invoice without an order is matched again when another one of the same invoice is made void.
func TestAnotherCreditNoteOfTheSameInvoiceMakesRoom(t *testing.T) {
	b := housetest.SetUp(t)
	spread(b, "S-9", trade.Deferral{From: "2026-11", Months: 2})
	credit := func(number, price string) act.Captured {
		e := b.Bill("BRACK", 0, number, "1", price)
		e.Kind, e.Credited = trade.CreditNote, "S-9"
		e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget = 0, 0, "SHOP"
		return b.Key(e)
	}
	first, second := credit("CA-71", "100"), credit("CB-2222", "50")
	require.Equal(t, trade.Verified, first.State)
	require.Equal(t, trade.Held, second.State, "20.00 are left")
	require.NoError(t, housetest.Drop(invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: first.Number, Reason: "theirs"})))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(second.Number).State)
	b.Proved()
}
