package pay

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// 2026-11-30 is a Monday, 2026-12-05 a Saturday, 25 and 26 December are no bank days.
func TestWhenItWouldBePaid(t *testing.T) {
	supplier := &trade.Supplier{Terms: trade.Terms{DiscountPercent: money.Int(2)}}
	of := func(due, until day.Day, discount, open, total money.Amount) Payable {
		return Payable{Supplier: supplier, Currency: "EUR", Due: due, DiscountUntil: until, Discount: discount, Open: open, Total: total}
	}
	plan := []trade.Instalment{{Due: "2026-11-10", Amount: 3_000}, {Due: "2026-12-05", Amount: 3_000}, {Due: "2027-01-04", Amount: 4_000}}
	split := of("2026-12-05", "", 0, 6_000, 10_000)
	split.Plan = plan
	for name, c := range map[string]struct {
		payable Payable
		want    []Paid
	}{
		"when it is due":                 {of("2026-12-02", "", 0, 10_000, 10_000), []Paid{{10_000, "2026-12-02", "2026-12-02"}}},
		"on the bank day after":          {of("2026-12-05", "", 0, 10_000, 10_000), []Paid{{10_000, "2026-12-05", "2026-12-07"}}},
		"overdue, today":                 {of("2026-11-01", "", 0, 10_000, 10_000), []Paid{{10_000, "2026-11-01", "2026-11-30"}}},
		"the last bank day of discount":  {of("2027-01-20", "2026-12-26", 200, 10_000, 10_000), []Paid{{9_800, "2027-01-20", "2026-12-24"}}},
		"a discount that is lost":        {of("2026-12-02", "2026-11-29", 200, 10_000, 10_000), []Paid{{10_000, "2026-12-02", "2026-12-02"}}},
		"none after a part was paid":     {of("2026-12-02", "2026-12-01", 200, 5_000, 10_000), []Paid{{5_000, "2026-12-02", "2026-12-02"}}},
		"in what is left of instalments": {split, []Paid{{2_000, "2026-12-05", "2026-12-07"}, {4_000, "2027-01-04", "2027-01-04"}}},
	} {
		got, err := c.payable.Expected("2026-11-30")
		require.NoError(t, err, name)
		require.Equal(t, c.want, got, name)
	}
}

func TestToCome(t *testing.T) {
	o := &trade.Order{Currency: "EUR"}
	line := func(change func(*trade.OrderLine)) *trade.OrderLine {
		l := &trade.OrderLine{Quantity: money.Int(10), Price: money.Int(5), Base: money.Int(1), TaxCategory: "S", TaxRate: money.Int(20)}
		change(l)
		return l
	}
	for name, c := range map[string]struct {
		change            func(*trade.OrderLine)
		received, ordered money.Amount
	}{
		"nothing came":              {func(*trade.OrderLine) {}, 0, 6_000},
		"a part came":               {func(l *trade.OrderLine) { l.Received = money.Int(4) }, 2_400, 3_600},
		"and is billed":             {func(l *trade.OrderLine) { l.Received, l.Billed = money.Int(4), money.Int(4) }, 0, 3_600},
		"or an invoice of it waits": {func(l *trade.OrderLine) { l.Received, l.Reserved = money.Int(4), money.Int(6) }, 0, 2_400},
		"more came":                 {func(l *trade.OrderLine) { l.Received = money.Int(12) }, 7_200, 0},
		"no more comes":             {func(l *trade.OrderLine) { l.Received, l.ClosedGoods = money.Int(4), true }, 2_400, 0},
		"no more is invoiced":       {func(l *trade.OrderLine) { l.Received, l.ClosedInvoices = money.Int(4), true }, 0, 0},
		"under reverse charge":      {func(l *trade.OrderLine) { l.TaxCategory = "AE" }, 0, 5_000},
	} {
		received, ordered, err := ToCome(o, line(c.change))
		require.NoError(t, err, name)
		require.Equal(t, []money.Amount{c.received, c.ordered}, []money.Amount{received, ordered}, name)
	}
}

// Every sum of a table is that of its cells, and everything stands in one column.
func TestForecastAddsUp(t *testing.T) {
	weeks := Weeks("2026-12-02")
	require.Equal(t, day.Day("2026-11-30"), weeks[0])
	require.Equal(t, 1, Expected{Day: "2026-12-02"}.Column(weeks))
	require.Equal(t, 1, Expected{Day: "2026-12-06"}.Column(weeks))
	require.Equal(t, 2, Expected{Day: "2026-12-07"}.Column(weeks))
	require.Equal(t, 7, Expected{Day: "2030-01-01"}.Column(weeks))
	require.Equal(t, 0, Expected{Day: "2026-12-02", Overdue: true}.Column(weeks))
	rapid.Check(t, func(t *rapid.T) {
		var all []Expected
		var sum, dollars money.Amount
		for range rapid.IntRange(0, 30).Draw(t, "n") {
			e := Expected{
				Certainty: rapid.SampledFrom(Certainties).Draw(t, "certainty"), Currency: rapid.SampledFrom([]money.Currency{"EUR", "USD"}).Draw(t, "currency"),
				Amount: money.Amount(rapid.Int64Range(1, 1e9).Draw(t, "amount")), Base: money.Amount(rapid.Int64Range(1, 1e9).Draw(t, "base")),
				Day: day.Day("2026-12-02").Add(rapid.IntRange(0, 90).Draw(t, "days")), Overdue: rapid.Bool().Draw(t, "overdue"),
			}
			if sum += e.Base; e.Currency == "USD" {
				dollars += e.Amount
			}
			all = append(all, e)
		}
		for currency, want := range map[money.Currency]money.Amount{"": sum, "USD": dollars} {
			table := Forecast(all, weeks, currency)
			var rows, columns money.Amount
			for _, row := range table.Rows {
				var cells money.Amount
				for _, cell := range row[:len(row)-1] {
					cells += cell
				}
				if cells != row[len(row)-1] {
					t.Fatalf("a row comes to %d, its cells to %d", row[len(row)-1], cells)
				}
				rows += cells
			}
			for _, s := range table.Sums[:len(table.Sums)-1] {
				columns += s
			}
			if rows != want || columns != want || table.Sums[len(table.Sums)-1] != want {
				t.Fatalf("%d, %d and %d are not %d", rows, columns, table.Sums[len(table.Sums)-1], want)
			}
		}
	})
}

// 288.00 at 10 % for seven days: 28.80 × 7 ÷ 365 = 0.552.
func TestInterest(t *testing.T) {
	got, err := Interest(28_800, money.Int(10), "2026-11-16", "2026-11-23")
	require.NoError(t, err)
	require.Equal(t, money.Amount(55), got)
	none, err := Interest(28_800, money.Int(10), "2026-11-23", "2026-11-23")
	require.NoError(t, err)
	require.Zero(t, none)
}

// Open credit notes take off what is due first to their supplier in their currency; what is left of them stays open.
func TestLessCredits(t *testing.T) {
	of := func(number, supplier int64, currency money.Currency, amount money.Amount, due day.Day) Expected {
		return Expected{Number: number, SupplierID: supplier, Currency: currency, Amount: amount, Due: due}
	}
	left := LessCredits(
		[]Expected{of(1, 1, "EUR", 5_000, "2026-12-20"), of(2, 1, "EUR", 3_000, "2026-12-01"), of(3, 2, "EUR", 100, "2026-12-01"), of(4, 1, "USD", 100, "2026-12-01")},
		[]Credit{{Supplier: 1, Currency: "EUR", Open: 3_500}, {Supplier: 2, Currency: "EUR", Open: 900}},
	)
	require.Equal(t, []Expected{of(4, 1, "USD", 100, "2026-12-01"), of(1, 1, "EUR", 4_500, "2026-12-20")}, left)
}
