package ubl

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/einvoice"
)

// What is written is read back as it is, by the reader of suppliers' invoices.
func TestInvoicesAreReadAsTheyAreWritten(t *testing.T) {
	dec := money.MustDecimal
	for _, kind := range []trade.InvoiceKind{trade.PlainInvoice, trade.CreditNote} {
		inv := trade.Invoice{
			Kind: kind, Code: trade.SelfBilledInvoice, SupplierNumber: "SB-0001", Date: "2026-11-24", TaxPoint: "2026-11-20", Currency: "EUR", OrderID: 7,
			Lines: []trade.InvoiceLine{
				{No: 1, OrderID: 7, OrderLineRef: "2", Description: "Herring", ItemCode: "HERR", SupplierCode: "H-1", Quantity: dec("40"), Unit: "KGM", Price: dec("4.0125"), Base: dec("1"), Discount: 50, TaxCategory: "S", TaxRate: dec("9"), Notes: trade.Notes{"N1"}},
				{No: 2, OrderID: 7, OrderLineRef: "3", Description: "Ice", Quantity: dec("2.5"), Unit: "KGM", Price: dec("100"), Base: dec("50"), Charge: 10, TaxCategory: "Z", Notes: trade.Notes{"N1"}},
			},
		}
		if kind == trade.CreditNote {
			inv.Code, inv.Credited = trade.SelfBilledCredit, "SB-0000"
		}
		totals, err := inv.Totals()
		require.NoError(t, err)
		file, err := WriteInvoice(inv, totals, Billing{
			Seller: Party{Name: "Halvard Feed", Country: "NO", TaxID: "NO1"}, Buyer: Party{Name: "Skerry & Point", Country: "IE", TaxID: "IE1"},
			IBAN: "GB82WEST12345698765432", Statement: "Invoice by the buyer", Orders: map[int64]string{7: "4107"},
		})
		require.NoError(t, err)
		got, err := einvoice.Read(file)
		require.NoError(t, err, string(file))
		require.Equal(t, kind, got.Kind)
		require.Equal(t, inv.Code, got.Code)
		require.Equal(t, []any{inv.SupplierNumber, inv.Date, inv.TaxPoint, inv.Currency, totals.Total, "4107", inv.Credited},
			[]any{got.SupplierNumber, got.Date, got.TaxPoint, got.Currency, got.StatedTotal, got.OrderStated, got.Credited})
		require.Equal(t, "Halvard Feed", got.SupplierStated)
		require.Len(t, got.Lines, 2)
		for i, l := range got.Lines {
			want := inv.Lines[i]
			require.Equal(t, []any{want.Quantity, want.Unit, want.Price, want.Base, want.Discount, want.Charge, want.TaxRate, want.OrderLineRef, want.ItemCode, want.SupplierCode},
				[]any{l.Quantity, l.Unit, l.Price, l.Base, l.Discount, l.Charge, l.TaxRate, l.OrderLineRef, l.ItemCode, l.SupplierCode})
		}
		require.Equal(t, trade.Notes{"N1"}, got.Lines[0].Notes, "the one that all lines name")
		require.NotContains(t, string(file), "<cbc:Note>Delivery note")
		inv.Lines[1].Notes = trade.Notes{"N2", "N3"}
		file, err = WriteInvoice(inv, totals, Billing{})
		require.NoError(t, err)
		require.Contains(t, string(file), "<cbc:Note>Delivery note N2, N3</cbc:Note>", "each line says its own")
	}
}
