package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/views"
)

func saveTax(b *housetest.Bench, who, name, category string, rates ...trade.TaxRate) error {
	_, err := masters.SaveTaxCode(b.Ctx, b.App, b.As(who), trade.TaxCode{Code: name, Name: name, Category: category, Rates: rates})
	return err
}

func rate(from string, per string) trade.TaxRate {
	return trade.TaxRate{From: day.Day(from), Rate: money.MustDecimal(per)}
}

// Under reverse charge nothing is booked before a tax code says what we owe; once there is one the invoice moves on by
// itself. A later change of the code leaves what is booked, and a void takes back what its entry took.
func TestReverseChargeWaitsForItsCode(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	entry := b.Bill("BRACK", order, "RC-1", "10", "12")
	entry.Lines[0].TaxCategory, entry.Lines[0].TaxRate, entry.StatedTotal = "AE", 0, "120.00"
	captured := b.Key(entry)
	require.Equal(t, trade.Held, captured.State)
	sheet := func() views.InvoiceSheet {
		t.Helper()
		s, err := views.Invoice(b.Ctx, b.App, captured.Number, b.Actors["clerk"])
		require.NoError(t, err)
		return s
	}
	kinds := map[finding.Kind]bool{}
	for _, f := range sheet().Findings {
		kinds[f.Kind] = true
		if f.Kind == finding.TaxCodeMissing {
			require.False(t, f.May(finding.Accept), "tax that is owed is never passed over")
		}
	}
	require.True(t, kinds[finding.TaxCodeMissing])
	require.True(t, kinds[finding.TaxRateDiffers], "the order is at the standard rate")

	housetest.Refused(t, saveTax(b, "clerk", "RC", "AE", rate("2020-01-01", "23")), fault.Forbidden, "")
	housetest.Refused(t, saveTax(b, "admin", "RC", "AE"), fault.Invalid, "Enter a rate")
	require.NoError(t, saveTax(b, "admin", "rc", "AE", rate("2020-01-01", "23")))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	for _, f := range sheet().Findings {
		require.NotEqual(t, finding.TaxCodeMissing, f.Kind)
	}
	_, err := invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{
		Invoice: captured.Number, Kind: finding.TaxRateDiffers, Line: 1, Note: "a service from abroad",
	})
	require.NoError(t, err)
	require.Equal(t, trade.Verified, sheet().State.State)
	require.Equal(t, money.Amount(2_760), b.Balance("input_tax"))
	require.Equal(t, money.Amount(-2_760), b.Balance("output_tax"))
	require.Equal(t, money.Amount(-12_000), b.Balance("payables"))

	require.NoError(t, saveTax(b, "admin", "RC", "AE", rate("2020-01-01", "9")))
	b.Proved()
	require.Equal(t, money.Amount(2_760), b.Balance("input_tax"), "what is booked stays")
	housetest.Refused(t, saveTax(b, "admin", "RC", "S", rate("2020-01-01", "9")), fault.Refused, "so that stays")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: captured.Number, Reason: "not ours"})
	require.NoError(t, err)
	require.Zero(t, b.Balance("input_tax"))
	require.Zero(t, b.Balance("output_tax"))
	b.Proved()
}

// A code that is typed in place of a rate is resolved on the day of the tax point; one that there is not, or that has no
// rate yet, is said at its field.
func TestATaxCodeIsTyped(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	entry := b.Bill("BRACK", order, "T-1", "10", "12")
	require.NoError(t, saveTax(b, "admin", "STD", "S", rate("2026-01-01", "21"), rate(string(entry.Date), "23")))
	entry.Lines[0].TaxCode, entry.StatedTotal = "std", "147.60"
	plan, err := invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], entry, 0)
	require.NoError(t, err)
	require.Equal(t, money.Amount(2_760), plan.Totals.Tax)
	require.Equal(t, "STD", plan.Invoice.Lines[0].TaxCode)
	entry.TaxPoint = entry.Date.Add(-1)
	plan, err = invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], entry, 0)
	require.NoError(t, err)
	require.Equal(t, money.Amount(2_520), plan.Totals.Tax, "the rate of the day before")
	entry.Date, entry.TaxPoint = "", ""
	plan, err = invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], entry, 0)
	housetest.Refused(t, err, fault.Invalid, "date")
	var all fault.Faults
	require.ErrorAs(t, err, &all)
	require.Len(t, all, 1, "nothing is said of the code before there is a day: it is that of today")
	require.Equal(t, money.Amount(2_760), plan.Totals.Tax)
	entry.Date = "2026-11-20"
	for typed, says := range map[string]string{"NOPE": "There is no tax code “NOPE”", "STD": "has no rate on 2025-12-31"} {
		entry.TaxPoint = "2025-12-31"
		entry.Lines[0].TaxCode = typed
		_, err = invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], entry, 0)
		housetest.Refused(t, err, fault.Invalid, says)
	}
}
