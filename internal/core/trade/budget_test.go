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

// Rules §3: left = budgeted − max(ordered, invoiced), line by line; without an order invoiced counts alone. What is invoiced is
// what came by order, without one, and what was credited.
func TestBudgetTaken(t *testing.T) {
	sums := map[string]BudgetSum{}
	for _, p := range []BudgetPart{
		BudgetPart{Budget: "FEED", OrderLine: 1, Ordered: 1_000, Received: 400}.Plus(BudgetPart{Invoiced: 700}),
		BudgetPart{Budget: "FEED", OrderLine: 2, Ordered: 500}.Plus(BudgetPart{Invoiced: 650}).Plus(BudgetPart{Invoiced: -50, Credited: -50}),
		{Budget: "FEED", Invoiced: 80},
		{Budget: "FEED", Invoiced: -30, Credited: -30},
		{Budget: "SHOP", Invoiced: 30},
	} {
		sums[p.Budget] = sums[p.Budget].Plus(p.Taken(), 1)
	}
	require.Equal(t, map[string]BudgetSum{
		"FEED": {Ordered: 1_500, Received: 400, Invoiced: 1_350, Credited: -80, WithoutOrder: 80, Taken: 1_650},
		"SHOP": {Invoiced: 30, Taken: 30, WithoutOrder: 30},
	}, sums)
	require.Equal(t, money.Amount(1_350), sums["FEED"].ByOrder())
	require.Equal(t, money.Amount(350), sums["FEED"].Left(2_000))
	require.Equal(t, money.Amount(-30), sums["SHOP"].Left(0))
	require.Equal(t, BudgetSum{}, sums["FEED"].Plus(sums["FEED"], -1))
	p := BudgetPart{Budget: "FEED", OrderLine: 2, Month: "2026-01", Ordered: 1, Received: 2, Invoiced: 3, Credited: 4}
	require.Equal(t, BudgetPart{Budget: "FEED", OrderLine: 2, Month: "2026-01", Ordered: -1, Received: -2, Invoiced: -3, Credited: -4}, p.Times(-1))
}

// An order line takes its net at the order's rate, in the month of its issue; what an invoice takes bears what is allowed off the
// whole, and a credit note takes it back.
func TestBudgetParts(t *testing.T) {
	line := OrderLine{ID: 7, Budget: "FEED", Quantity: dec("10"), Net: 1_000, Received: dec("4")}
	part, err := line.BudgetPart("2026-03-09", dec("0.5"), "USD", "EUR")
	require.NoError(t, err)
	require.Equal(t, BudgetPart{Budget: "FEED", OrderLine: 7, Month: "2026-03", Ordered: 500, Received: 200}, part)
	inv := Invoice{Currency: "EUR", Rate: dec("1"), Date: "2026-04-01", Lines: []InvoiceLine{
		{OrderLineID: 7}, {OrderLineID: 8, ChargeKind: "freight"}, {Coding: []Coding{{Budget: "SHOP", Percent: dec("60")}, {Budget: "FEED", Percent: dec("40")}}},
	}}
	totals := Totals{LineNets: []money.Amount{700, 30, 101}, LineShares: []money.Amount{70, 3, 1}}
	parts, err := inv.BudgetParts(totals, "EUR")
	require.NoError(t, err)
	want := []BudgetPart{
		{OrderLine: 7, Month: "2026-04", Invoiced: 630}, {Budget: "SHOP", Month: "2026-04", Invoiced: 60}, {Budget: "FEED", Month: "2026-04", Invoiced: 40},
	}
	require.Equal(t, want, parts)
	inv.Kind = CreditNote
	parts, err = inv.BudgetParts(totals, "EUR")
	require.NoError(t, err)
	for i, p := range parts {
		require.Equal(t, want[i].Times(-1).Invoiced, p.Invoiced)
		require.Equal(t, p.Invoiced, p.Credited)
	}
}

// A budget is exceeded by what takes more than is left, and never by what takes nothing more.
func TestOverBudget(t *testing.T) {
	for name, c := range map[string]struct {
		taken, more money.Amount
		by          money.Amount
		exceeds     bool
	}{
		"within":                  {400, 500, -100, false},
		"to the last":             {500, 500, 0, false},
		"by one":                  {500, 501, 1, true},
		"over already, and more":  {1_200, 1, 201, true},
		"over already, no more":   {1_200, 0, 200, false},
		"over already, less":      {1_200, -50, 150, false},
		"nothing planned of zero": {0, 1, -999, false},
	} {
		o := OverBudget{Budget: "FEED", Year: "2026", Planned: 1_000, Taken: c.taken, More: c.more}
		require.Equal(t, c.by, o.By(), name)
		require.Equal(t, c.exceeds, o.Exceeds(), name)
	}
}
