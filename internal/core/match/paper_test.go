package match

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// The rows of a paper are tied to the lines of its order one to one, or not at all.
func TestRowsOfAPaperAreTied(t *testing.T) {
	order := &trade.Order{Currency: "EUR", Lines: []*trade.OrderLine{
		{No: 1, ItemCode: "KRILL", SupplierCode: "BF-12", Description: "Krill, frozen", Price: money.MustDecimal("38.4"), Base: money.Int(1)},
		{No: 2, Description: "Squid rings, frozen", Price: money.MustDecimal("6.35"), Base: money.Int(1)},
		{No: 3, Description: "Squid rings, smoked", Price: money.MustDecimal("9.9"), Base: money.Int(1)},
		{No: 4, Description: "Salt", Price: money.MustDecimal("112"), Base: money.Int(1000)},
	}}
	row := func(price string, words ...string) Billed { return Billed{words, money.MustDecimal(price)} }
	for name, one := range map[string]struct {
		rows []Billed
		want []int
	}{
		"by code":                  {[]Billed{row("40", "bf-12", "whatever")}, []int{1}},
		"by words and price":       {[]Billed{row("9.9", "Squid", "rings"), row("6.35", "Squid", "rings")}, []int{3, 2}},
		"by words":                 {[]Billed{row("39", "Krill")}, []int{1}},
		"by price, whatever base":  {[]Billed{row("0.112", "NaCl")}, []int{4}},
		"words of two":             {[]Billed{row("7", "Squid", "rings")}, nil},
		"two rows of one line":     {[]Billed{row("38.4", "Krill"), row("38.4", "Krill")}, nil},
		"one of them is not there": {[]Billed{row("38.4", "Krill"), row("5", "Anchovy")}, nil},
		"nothing":                  {nil, []int{}},
	} {
		require.Equal(t, one.want, TieRows(one.rows, order), name)
	}
}
