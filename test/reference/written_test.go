//go:build reference

package reference

import (
	"fmt"
	"math/rand/v2"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/ubl"
)

// Invoices and credit notes that we write ourselves: the model of EN 16931 as npm @e-invoice-eu/core has it, with its code
// lists. It finds what is spoilt. Prices have two decimals here, since the library knows no more of them than the norm allows.
func TestWrittenInvoicesByTheModel(t *testing.T) {
	seed := rand.Uint64()
	t.Log("seed", seed)
	random := rand.New(rand.NewPCG(seed, 1))
	var files []string
	for n := range 40 {
		inv := trade.Invoice{
			Kind: trade.PlainInvoice, Code: trade.SelfBilledInvoice, SupplierNumber: fmt.Sprintf("SB-%04d", n), Date: "2026-11-24", TaxPoint: "2026-11-20",
			Currency: []money.Currency{"EUR", "USD", "JPY"}[n%3], OrderID: 7, DueStated: "2026-12-24",
		}
		if n%4 == 3 {
			inv.Kind, inv.Code, inv.Credited = trade.CreditNote, trade.SelfBilledCredit, "SB-0000"
		}
		for i := range 1 + random.IntN(4) {
			rate := [][2]string{{"S", "23"}, {"S", "9"}, {"Z", "0"}, {"AE", "0"}, {"E", "0"}}[random.IntN(5)]
			inv.Lines = append(inv.Lines, trade.InvoiceLine{
				No: i + 1, OrderID: 7, OrderLineRef: fmt.Sprint(i + 1), Description: "Herring & ice", ItemCode: "HERR", SupplierCode: []string{"", "H-1"}[n%2],
				Quantity: money.Int(1 + random.Int64N(500)), Unit: []string{"KGM", "C62", "LTR"}[random.IntN(3)], Price: money.MustDecimal(fmt.Sprintf("%d.%02d", random.IntN(90), random.IntN(100))),
				Base: money.Int(1), TaxCategory: rate[0], TaxRate: money.MustDecimal(rate[1]), Notes: [][]string{{"N 1"}, {fmt.Sprint("N ", i)}}[n%2],
			})
		}
		totals, err := inv.Totals()
		require.NoError(t, err)
		file, err := ubl.WriteInvoice(inv, totals, ubl.Billing{
			Seller: ubl.Party{Name: "Inshore Boats", Country: "IE", TaxID: "IE1"}, Buyer: ubl.Party{Name: "Skerry & Point", Street: "Pier Road 1", Country: "IE", TaxID: "IE2"},
			IBAN: "GB82WEST12345698765432", Statement: "Made out by the buyer", Orders: map[int64]string{7: "4107"},
		})
		require.NoError(t, err)
		files = append(files, string(file))
	}
	for i, wrong := range asked[[][]string](t, "model", files) {
		require.Empty(t, wrong, files[i])
	}
	spoilt := []string{
		strings.Replace(files[0], ">389<", ">999<", 1), strings.Replace(files[0], "<cbc:IssueDate>2026-11-24</cbc:IssueDate>", "", 1),
		strings.Replace(files[0], `unitCode="`, `unitCode="ZZ`, 1), strings.Replace(files[0], ">IE<", ">Ireland<", 1),
	}
	for i, wrong := range asked[[][]string](t, "model", spoilt) {
		require.NotEmpty(t, wrong, "%d", i)
	}
}

// Bank days: the days on which TARGET is closed, of thirteen years, as QuantLib has them.
func TestBankDays(t *testing.T) {
	listed, err := os.ReadFile("testdata/target-closed.txt")
	require.NoError(t, err)
	closed := map[day.Day]bool{}
	for line := range strings.Lines(string(listed)) {
		if !strings.HasPrefix(line, "#") {
			closed[day.Day(strings.TrimSpace(line))] = true
		}
	}
	require.Greater(t, len(closed), 60)
	for d := day.Day("2024-01-01"); d < "2037-01-01"; d = d.Add(1) {
		weekend := d.Time().Weekday() == 0 || d.Time().Weekday() == 6
		require.Equal(t, !weekend && !closed[d], d.IsBankDay(), d)
	}
}
