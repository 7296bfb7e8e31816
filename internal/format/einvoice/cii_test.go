package einvoice

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
)

func crossIndustrySample(t *testing.T, pairs ...string) string {
	content, err := os.ReadFile("testdata/invoice-cii.xml")
	require.NoError(t, err)
	text := string(content)
	for i := 0; i < len(pairs); i += 2 {
		require.Contains(t, text, pairs[i])
		text = strings.Replace(text, pairs[i], pairs[i+1], 1)
	}
	return text
}

// One invoice written in both forms is read alike, field by field.
func TestBothFormsAreReadAlike(t *testing.T) {
	ubl, err := Read([]byte(sample(t)))
	require.NoError(t, err)
	cii, err := Read([]byte(crossIndustrySample(t)))
	require.NoError(t, err)
	require.Equal(t, ubl, cii)
}

func TestCrossIndustryInvoices(t *testing.T) {
	head := `</ram:CalculatedAmount><ram:TypeCode>VAT</ram:TypeCode>`
	inv, err := Read([]byte(crossIndustrySample(t,
		"<ram:TypeCode>380", "<ram:TypeCode>381",
		"</ram:SpecifiedTradeSettlementHeaderMonetarySummation>", "</ram:SpecifiedTradeSettlementHeaderMonetarySummation><ram:InvoiceReferencedDocument><ram:IssuerAssignedID>BF-1</ram:IssuerAssignedID></ram:InvoiceReferencedDocument>",
		"<ram:ApplicableHeaderTradeDelivery/>", "<ram:ApplicableHeaderTradeDelivery><ram:DespatchAdviceReferencedDocument><ram:IssuerAssignedID>DN 5512</ram:IssuerAssignedID></ram:DespatchAdviceReferencedDocument></ram:ApplicableHeaderTradeDelivery>",
		"<ram:InvoiceCurrencyCode>", "<ram:PaymentReference>RF18</ram:PaymentReference><ram:InvoiceCurrencyCode>",
		head, head+`<ram:TaxPointDate><udt:DateString format="102">20261115</udt:DateString></ram:TaxPointDate>`,
		"</ram:BuyerOrderReferencedDocument>\n        <ram:Gross", "<ram:IssuerAssignedID>4109</ram:IssuerAssignedID></ram:BuyerOrderReferencedDocument>\n        <ram:Gross",
	)))
	require.NoError(t, err)
	require.Equal(t, trade.CreditNote, inv.Kind)
	require.Equal(t, []string{"BF-1", "RF18", "2026-11-15", "4109"},
		[]string{inv.Credited, inv.PaymentReference, string(inv.TaxPoint), inv.Lines[0].OrderStated})
	require.Equal(t, trade.Notes{"DN 5512"}, inv.Lines[0].Notes)
}

func TestCrossIndustryRefusals(t *testing.T) {
	for sentence, pairs := range map[string][]string{
		"“202611” is not written as YYYYMMDD":        {`"102">20261116`, `"102">202611`},
		"“16.11.2026” is not written as YYYYMMDD":    {`"102">20261116`, `"203">16.11.2026`},
		"“2026-13-40” is no date":                    {`"102">20261116`, `"102">20261340`},
		"no e-invoice: it starts with “Order”":       {"<rsm:CrossIndustryInvoice ", "<rsm:Order ", "</rsm:CrossIndustryInvoice>", "</rsm:Order>"},
		"does not say its currency (BT-5)":           {"<ram:InvoiceCurrencyCode>EUR", "<ram:InvoiceCurrencyCode>"},
		"Line 1 has no quantity (BT-129)":            {`<ram:BilledQuantity unitCode="KGM">250</ram:BilledQuantity>`, ""},
		"does not say the amount due (BT-115)":       {"<ram:GrandTotalAmount>1313.00</ram:GrandTotalAmount>", "", "<ram:DuePayableAmount>1213.00</ram:DuePayableAmount>", ""},
		"The invoice has no number (BT-1)":           {"<ram:ID>BF-20418</ram:ID>", ""},
		"the price (BT-146) “a lot” cannot be read":  {"<ram:ChargeAmount>410<", "<ram:ChargeAmount>a lot<"},
		"tax amount (BT-117) “245.511” is no amount": {"<ram:CalculatedAmount>245.51<", "<ram:CalculatedAmount>245.511<"},
	} {
		_, err := Read([]byte(crossIndustrySample(t, pairs...)))
		require.ErrorContains(t, err, sentence)
	}
}
