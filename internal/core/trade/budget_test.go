package trade

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

// Rules §3: what was ended early is not committed any more.
func TestCommitted(t *testing.T) {
	for name, c := range map[string]struct {
		line OrderLine
		want money.Amount
	}{
		"open":               {OrderLine{Received: dec("4")}, 1_000},
		"over-received":      {OrderLine{Received: dec("12"), Billed: dec("12")}, 1_000},
		"no more goods":      {OrderLine{Received: dec("4"), ClosedGoods: true}, 400},
		"no more invoices":   {OrderLine{Received: dec("10"), Billed: dec("3"), ClosedInvoices: true}, 300},
		"nothing ever came":  {OrderLine{ClosedGoods: true}, 0},
		"came in full, both": {OrderLine{Received: dec("10"), Billed: dec("10"), ClosedGoods: true, ClosedInvoices: true}, 1_000},
	} {
		c.line.Quantity, c.line.Net = dec("10"), 1_000
		got, err := c.line.Committed()
		require.NoError(t, err)
		require.Equal(t, c.want, got, name)
	}
}

// Rules §3: left = budgeted − max(ordered, invoiced), line by line; without an order invoiced counts alone.
func TestBudgetSums(t *testing.T) {
	sums := BudgetSums([]BudgetPart{
		{Budget: "FEED", OrderLine: 1, Ordered: 1_000, Received: 400},
		{Budget: "FEED", OrderLine: 2, Ordered: 500},
		{Budget: "FEED", OrderLine: 1, Invoiced: 700},
		{Budget: "FEED", OrderLine: 2, Invoiced: 650},
		{Budget: "FEED", OrderLine: 2, Invoiced: -50},
		{Budget: "FEED", Invoiced: 80},
		{Budget: "SHOP", Invoiced: 30},
	})
	require.Equal(t, map[string]BudgetSum{
		"FEED": {Ordered: 1_500, Received: 400, Invoiced: 1_380, Taken: 1_680, WithoutOrder: 80}, "SHOP": {Invoiced: 30, Taken: 30, WithoutOrder: 30},
	}, sums)
	require.Equal(t, money.Amount(320), sums["FEED"].Left(2_000))
	require.Equal(t, money.Amount(-30), sums["SHOP"].Left(0))
}
