package say

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
)

// What a limit was asked about, in a few words.
func TestADifferenceInAFewWords(t *testing.T) {
	dec := money.MustDecimal
	for want, f := range map[string]finding.Finding{
		"Krill: 12.40 for 12.00, +3.33 %":               {Kind: finding.UnitPrice, Price: dec("12.4"), Reference: dec("12"), Percent: dec("3.33")},
		"Krill: 11.40 for 12.00, −5 %":                  {Kind: finding.UnitPrice, Price: dec("11.4"), Reference: dec("12"), Percent: dec("-5")},
		"Krill: 2 kg more than received, +4 %":          {Kind: finding.OverReceived, Excess: dec("2"), Unit: "KGM", Percent: dec("4")},
		"Krill: 2 kg more than ordered, +4 %":           {Kind: finding.OverOrdered, Excess: dec("2"), Unit: "KGM", Percent: dec("4")},
		"Krill: 15.00 EUR beyond the order, 10 % of it": {Kind: finding.ChargeNotOrdered, Amount: 1500, Percent: dec("10")},
		"tax 23.01 EUR for 23.00 EUR":                   {Kind: finding.TaxAmount, Amount: 2301, Computed: 2300},
		"total 100.00 EUR for 99.95 EUR":                {Kind: finding.StatedTotal, Amount: 10000, Computed: 9995},
	} {
		f.Name, f.Currency = "Krill", "EUR"
		require.Equal(t, want, Printer{}.Difference(f))
	}
}
