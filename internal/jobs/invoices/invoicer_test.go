package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/views"
)

// Who is named by one person and confirmed by another invoices the orders of a supplier in its place: payables stand under
// them. Until then such an invoice is held, and moves on by itself; anybody else finds no order.
func TestWhoInvoicesInASuppliersPlace(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Bill("BRACK", order, "T-1", "6", "12")
	bill.Supplier, bill.Currency = "TIDEW", "EUR"
	bill.StatedTotal = b.Total(bill)
	_, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), bill)
	housetest.Refused(t, err, fault.Invalid, "has no order")

	name := func(who string, e masters.InvoicerEntry) error {
		e.Supplier = "BRACK"
		return housetest.Drop(masters.NameInvoicer(b.Ctx, b.App, b.As(who), e))
	}
	confirm := func(who string) error {
		return housetest.Drop(masters.ConfirmInvoicer(b.Ctx, b.App, b.As(who), masters.InvoicerEntry{Supplier: "BRACK", Invoicer: "TIDEW"}))
	}
	housetest.Refused(t, name("clerk", masters.InvoicerEntry{Invoicer: "BRACK"}), fault.Invalid, "anyway")
	housetest.Refused(t, name("clerk", masters.InvoicerEntry{Invoicer: "NOBODY"}), fault.Invalid, "There is no invoicer")
	require.NoError(t, name("both", masters.InvoicerEntry{Invoicer: "TIDEW"}))
	housetest.Refused(t, name("clerk", masters.InvoicerEntry{Invoicer: "TIDEW"}), fault.Duplicate, "named already")
	held, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), bill)
	require.NoError(t, err)
	require.Equal(t, trade.Held, held.State)
	sheet, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, finding.Invoicer, sheet.Findings[0].Kind)
	require.Contains(t, b.Actors["clerk"].Printer.Finding(sheet.Findings[0]), "may not invoice in its place yet")

	housetest.Refused(t, confirm("both"), fault.Forbidden, "You named it")
	require.NoError(t, confirm("approver"))
	housetest.Refused(t, confirm("approver"), fault.Changed, "nothing to confirm")
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.StateIf(held.Number))
	var tidew money.Amount
	balances, err := views.Journal(b.Ctx, b.App, 0)
	require.NoError(t, err)
	for _, e := range balances.Entries {
		for _, l := range e.Lines {
			if l.Role == "payables" && l.Detail == "TIDEW" {
				tidew += l.Amount
			}
		}
	}
	require.EqualValues(t, -88_56, tidew, "who invoices is owed")
	rows, _, err := views.OpenReceipts(b.Ctx, b.App, "TIDEW", "")
	require.NoError(t, err)
	require.Len(t, rows, 1, "its receipts are offered to be picked from")
	b.Proved()

	require.NoError(t, name("clerk", masters.InvoicerEntry{Invoicer: "TIDEW", Ended: true}))
	bill.Number, bill.Lines[0].Quantity = "T-22", housetest.Dec("4")
	bill.StatedTotal = b.Total(bill)
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), bill)
	housetest.Refused(t, err, fault.Invalid, "has no order")
	b.Proved()
}
