package einvoice

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func changed(t *testing.T, pairs ...string) string {
	t.Helper()
	text := sample(t)
	for i := 0; i < len(pairs); i += 2 {
		require.Contains(t, text, pairs[i])
		text = strings.Replace(text, pairs[i], pairs[i+1], 1)
	}
	return text
}

// What the document is, its rounding, what the supplier wants to read in the payment, and every net and sum that it states.
func TestReadsWhatTheInvoiceStates(t *testing.T) {
	text := changed(
		t,
		">380<",
		">326<",
		"<cac:PayeeFinancialAccount>",
		"<cbc:PaymentID>RF18539007547034</cbc:PaymentID><cac:PayeeFinancialAccount>",
		"<cbc:PayableAmount currencyID=\"EUR\">1213.00",
		"<cbc:PayableRoundingAmount currencyID=\"EUR\">-0.40</cbc:PayableRoundingAmount><cbc:PayableAmount currencyID=\"EUR\">1213.00",
	)
	inv, err := Read([]byte(text))
	require.NoError(t, err)
	require.Equal(t, "326", inv.Code)
	require.Equal(t, money.Amount(-40), inv.Rounded)
	require.Equal(t, "RF18539007547034", inv.PaymentReference)
	require.True(t, trade.ValidReference(inv.PaymentReference))
	terms := map[string]money.Amount{}
	for _, f := range inv.Figures {
		terms[f.Term] = f.Amount
	}
	require.Equal(t, money.Amount(121_300), terms["BT-115"])
	require.Contains(t, terms, "BT-131")
	require.Contains(t, terms, "BT-110")
	for _, code := range []string{"386", "389", "384", "325"} {
		inv, err := Read([]byte(changed(t, ">380<", ">"+code+"<")))
		require.NoError(t, err)
		require.Equal(t, code, inv.Code)
	}
	inv, err = Read([]byte(changed(t, ">380<", ">396<")))
	require.NoError(t, err)
	require.Equal(t, trade.CreditNote, inv.Kind)
}

// An amount in another currency than the document's is refused where it stands; the tax in the accounting currency is not.
func TestAmountsAreInTheDocumentsCurrency(t *testing.T) {
	text := sample(t)
	n := strings.Count(text, `currencyID="EUR"`)
	for i := range n {
		at := -1
		for range i + 1 {
			at += 1 + strings.Index(text[at+1:], `currencyID="EUR"`)
		}
		other := text[:at] + `currencyID="SEK"` + text[at+len(`currencyID="EUR"`):]
		_, err := Read([]byte(other))
		if strings.Contains(text[max(0, at-60):at], "TaxableAmount") || strings.HasSuffix(strings.TrimSpace(text[:at]), "<cac:TaxTotal><cbc:TaxAmount") {
			continue // the basis is not read; the whole total in another currency is for information (BT-111)
		}
		require.ErrorContains(t, err, "the invoice is in EUR", text[max(0, at-60):at])
	}
	require.Greater(t, n, 8)
}

func TestWhatIsMissingIsSaidToBeMissing(t *testing.T) {
	_, err := Read([]byte(changed(t, "<cbc:DocumentCurrencyCode>EUR</cbc:DocumentCurrencyCode>", "")))
	require.ErrorContains(t, err, "does not say its currency (BT-5)")
	text := sample(t)
	a, b := strings.Index(text, "<cbc:PayableAmount"), strings.Index(text, "</cbc:PayableAmount>")
	text = text[:a] + text[b+len("</cbc:PayableAmount>"):]
	if a = strings.Index(text, "<cbc:TaxInclusiveAmount"); a >= 0 {
		b = strings.Index(text, "</cbc:TaxInclusiveAmount>")
		text = text[:a] + text[b+len("</cbc:TaxInclusiveAmount>"):]
	}
	_, err = Read([]byte(text))
	require.ErrorContains(t, err, "does not say the amount due (BT-115)")
}

func TestFormsThatTheStandardAllows(t *testing.T) {
	inv, err := Read([]byte(changed(t, "2026-11-16", "2026-11-16+01:00", "2026-12-16", "2026-12-16Z")))
	require.NoError(t, err)
	require.Equal(t, []string{"2026-11-16", "2026-12-16"}, []string{string(inv.Date), string(inv.DueStated)})
	want, err := Read([]byte(sample(t)))
	require.NoError(t, err)
	one, err := Read([]byte(strings.ReplaceAll(sample(t), "<cbc:ChargeIndicator>true<", "<cbc:ChargeIndicator>1<")))
	require.NoError(t, err)
	require.Equal(t, want, one, "1 is true")
	_, err = Read([]byte(changed(t, ">410<", ">-410<")))
	require.ErrorContains(t, err, "below zero")
}

// UTF-16 with and without its mark, ISO 8859-1 and Windows-1252 are read; what else it is written in is said.
func TestEncodings(t *testing.T) {
	text := strings.Replace(sample(t), "Brackwater Feeds Ltd", "Bräckwåter & Føds", 1)
	text = strings.Replace(text, "Bräckwåter & Føds", "Bräckwåter &amp; Føds", 1)
	declared := func(name string) string {
		end := strings.Index(text, "?>")
		return `<?xml version="1.0" encoding="` + name + `"` + text[end:]
	}
	for _, order := range []unicode.Endianness{unicode.BigEndian, unicode.LittleEndian} {
		for _, mark := range []unicode.BOMPolicy{unicode.UseBOM, unicode.IgnoreBOM} {
			content, err := unicode.UTF16(order, mark).NewEncoder().Bytes([]byte(declared("UTF-16")))
			require.NoError(t, err)
			inv, err := Read(content)
			require.NoError(t, err)
			require.Equal(t, "Bräckwåter & Føds", inv.SupplierStated)
		}
	}
	for name, set := range map[string]*charmap.Charmap{"ISO-8859-1": charmap.ISO8859_1, "windows-1252": charmap.Windows1252, "ISO-8859-15": charmap.ISO8859_15} {
		content, err := set.NewEncoder().Bytes([]byte(declared(name)))
		require.NoError(t, err)
		inv, err := Read(content)
		require.NoError(t, err, name)
		require.Equal(t, "Bräckwåter & Føds", inv.SupplierStated, name)
	}
	_, err := Read([]byte(declared("EBCDIC-INT")))
	require.ErrorContains(t, err, "not one of UTF-8")
}

// A second document does not vanish behind the first.
func TestOneDocumentAFile(t *testing.T) {
	text := sample(t)
	body := text[strings.Index(text, "<Invoice"):]
	for _, more := range []string{body, "<more/>", "and then some"} {
		_, err := Read([]byte(text + "\n" + more))
		require.True(t, fault.Is(err, fault.Invalid), more)
	}
	_, err := Read([]byte(text + "\n<!-- the end -->\n"))
	require.NoError(t, err)
}
