package einvoice

import (
	"errors"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func sample(t *testing.T) string {
	content, err := os.ReadFile("testdata/invoice.xml")
	require.NoError(t, err)
	return string(content)
}

func TestReadsEveryTerm(t *testing.T) {
	inv, err := Read([]byte(sample(t)))
	require.NoError(t, err)
	require.Equal(t, trade.PlainInvoice, inv.Kind)
	require.Equal(t, "BF-20418", inv.SupplierNumber)
	require.Equal(t, "2026-11-16", string(inv.Date))
	require.Equal(t, "2026-12-16", string(inv.DueStated))
	require.Equal(t, "Brackwater Feeds Ltd", inv.SupplierStated)
	require.Equal(t, "IE9700011B", inv.TaxIDStated)
	require.Equal(t, "4107", inv.OrderStated)
	require.Equal(t, "GB82WEST12345698765432", inv.IBAN)
	require.Equal(t, money.Amount(131_300), inv.StatedTotal, "what is due and what was paid")
	require.Equal(t, money.Amount(10_000), inv.Prepaid)
	require.Equal(
		t,
		[]trade.DocumentCharge{
			{Code: "FC", Reason: "Chilled freight", Amount: 8_500, TaxCategory: "S", TaxRate: money.Int(23)},
			{Allowance: true, Kind: "discount", Reason: "Loyalty", Amount: 500, TaxCategory: "S", TaxRate: money.Int(23)},
		},
		inv.Charges,
	)
	require.Equal(t, []trade.StatedTax{{Category: "S", Rate: money.Int(23), Amount: 24_551}}, inv.Taxes, "the tax total in another currency is for information")
	require.Len(t, inv.Lines, 1)
	l := inv.Lines[0]
	require.Equal(t, "2", l.OrderLineRef)
	require.Equal(t, "BF-CAP", l.SupplierCode)
	require.Equal(t, "CAPELIN", l.ItemCode)
	require.Equal(t, "KGM", l.Unit)
	require.Equal(t, money.MustDecimal("250"), l.Quantity)
	require.Equal(t, money.MustDecimal("410"), l.Price)
	require.Equal(t, money.MustDecimal("100"), l.Base)
	require.Equal(t, money.Amount(4_000), l.Discount)
	require.Equal(t, money.Amount(240), l.Charge)
	net, err := l.Net("EUR")
	require.NoError(t, err)
	require.Equal(t, money.Amount(98_740), net)
}

func TestCreditNotes(t *testing.T) {
	for _, change := range [][2]string{{">380<", ">381<"}, {"<cbc:PayableAmount currencyID=\"EUR\">1213.00", "<cbc:PayableAmount currencyID=\"EUR\">-1213.00"}} {
		inv, err := Read([]byte(strings.Replace(sample(t), change[0], change[1], 1)))
		require.NoError(t, err)
		require.Equal(t, trade.CreditNote, inv.Kind)
	}
}

func TestRefusals(t *testing.T) {
	for name, c := range map[string]struct{ old, changed, field, words string }{
		"no number":      {"<cbc:ID>BF-20418</cbc:ID>", "", "number", "no number"},
		"no date":        {"2026-11-16", "16.11.2026", "date", "is no date"},
		"currency":       {"<cbc:DocumentCurrencyCode>EUR", "<cbc:DocumentCurrencyCode>EURO", "currency", "ISO 4217"},
		"seven decimals": {">250<", ">250.0000001<", "lines[0].quantity", "six decimal places"},
		"no quantity":    {">250<", "><", "lines[0].quantity", "has no quantity"},
		"letters":        {">410<", ">four<", "lines[0].price", "cannot be read as a number"},
		"base":           {">100</cbc:BaseQuantity>", ">0</cbc:BaseQuantity>", "lines[0].base", "above zero"},
		"cents":          {">1213.00<", ">1213.001<", "total", "2 decimal places"},
		"rate":           {"<cbc:Percent>23</cbc:Percent><cac:TaxScheme/></cac:ClassifiedTaxCategory>", "<cbc:Percent>-1</cbc:Percent></cac:ClassifiedTaxCategory>", "lines[0].tax", "tax rate"},
		"not UBL":        {"Invoice xmlns=\"urn:oasis:names:specification:ubl:schema:xsd:Invoice-2\"", "Invoice xmlns=\"urn:other\"", "file", "no e-invoice"},
		"broken":         {"<cac:InvoiceLine>", "<cac:InvoiceLine", "file", "not XML"},
	} {
		t.Run(name, func(t *testing.T) {
			text := sample(t)
			require.Contains(t, text, c.old)
			_, err := Read([]byte(strings.Replace(text, c.old, c.changed, 1)))
			var f *fault.Fault
			require.True(t, errors.As(err, &f), "%v", err)
			require.Equal(t, c.field, f.Field)
			require.Contains(t, f.Sentence, c.words)
		})
	}
	for _, bad := range []string{"", "hello", "\xff\xfe", "<?xml version=\"1.0\" encoding=\"latin-9\"?><a/>"} {
		_, err := Read([]byte(bad))
		require.True(t, fault.Is(err, fault.Invalid), "%q", bad)
	}
}

// However a file is broken, reading it is a refusal and never a panic.
func FuzzRead(f *testing.F) {
	content, err := os.ReadFile("testdata/invoice.xml")
	require.NoError(f, err)
	f.Add(content)
	f.Add([]byte("<!DOCTYPE a [<!ENTITY b \"c\">]><a>&b;</a>"))
	f.Fuzz(func(t *testing.T, data []byte) {
		inv, err := Read(data)
		if err == nil {
			_, err = inv.Totals()
		}
		var no *fault.Fault
		if err != nil && (!errors.As(err, &no) || no.Sentence == "") {
			t.Fatalf("no refusal in words: %v", err)
		}
		again, _ := Read(data)
		require.Equal(t, inv, again, "what a file says does not change")
	})
}
