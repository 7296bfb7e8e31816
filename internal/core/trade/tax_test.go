package trade_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func code(name, category string, rates ...string) trade.TaxCode {
	c := trade.TaxCode{Code: name, Name: name, Category: category}
	for i := 0; i < len(rates); i += 2 {
		c.Rates = append(c.Rates, trade.TaxRate{From: day.Day(rates[i]), Rate: money.MustDecimal(rates[i+1])})
	}
	return c
}

// A rate holds from its day to the day before the next one; before the first there is none. Under reverse charge a document
// states none at all (rules §11, EN 16931 BR-AE-5).
func TestTheRateOfADay(t *testing.T) {
	for _, x := range []struct {
		category, on, owed, stated string
	}{
		{"S", "2026-06-30", "21", "21"}, {"S", "2026-07-01", "23", "23"}, {"S", "2019-12-31", "", ""},
		{"K", "2026-06-30", "21", "0"}, {"AE", "2027-01-01", "23", "0"}, {"AE", "2019-12-31", "", ""},
	} {
		c := code("X", x.category, "2020-01-01", "21", "2026-07-01", "23")
		owed, known := c.RateOn(day.Day(x.on))
		require.Equal(t, x.owed != "", known, x.on)
		stated, said := c.StatedOn(day.Day(x.on))
		require.Equal(t, known, said)
		if known {
			require.Equal(t, money.MustDecimal(x.owed), owed, x.on)
			require.Equal(t, money.MustDecimal(x.stated), stated, x.on)
		}
	}
}

// A line takes its order line's code, else the supplier's, else the only one that fits; what does not agree with what the
// line states is passed over, and what it says itself stays.
func TestWhichCodeALineBears(t *testing.T) {
	codes := trade.TaxCodes{
		code("AE21", "AE", "2020-01-01", "21"), code("AE23", "AE", "2020-01-01", "23"),
		code("S23", "S", "2020-01-01", "23"), code("S9", "S", "2020-01-01", "9"), code("SPARE", "S", "2020-01-01", "9"),
	}
	codes[4].Ended = true
	for _, x := range []struct{ says, category, rate, ordered, supplier, code, own string }{
		{"", "S", "23", "", "", "S23", ""},
		{"", "S", "9", "", "", "S9", ""},    // the other is offered no more
		{"", "S", "9", "S23", "", "S9", ""}, // the order's has another rate
		{"", "S", "9", "", "spare", "SPARE", ""},
		{"", "AE", "0", "", "", "", ""}, // two would do
		{"", "AE", "0", "AE21", "AE23", "AE21", "21"},
		{"", "AE", "0", "S23", "AE23", "AE23", "23"},
		{"AE23", "AE", "0", "AE21", "", "AE23", "23"},
		{"", "Z", "0", "", "", "", ""},
	} {
		inv := trade.Invoice{Date: "2026-03-01", Lines: []trade.InvoiceLine{{TaxCode: x.says, TaxCategory: x.category, TaxRate: money.MustDecimal(x.rate)}}}
		inv.NameTaxes(codes, inv.PointOfTax(), func(trade.InvoiceLine) string { return x.ordered }, x.supplier)
		l := inv.Lines[0]
		require.Equal(t, x.code, l.TaxCode, x)
		require.Equal(t, x.own == "", l.OwnRate == nil, x)
		if l.OwnRate != nil {
			require.Equal(t, money.MustDecimal(x.own), *l.OwnRate, x)
		}
		require.Equal(t, x.category == "AE" && x.code == "", inv.OwesUnknown(), x)
	}
}

// What we owe ourselves is computed once for each rate, over lines, charges and allowances of its category, and is no part
// of the total (rules §11): 1,234.55 at 23 % is 283.95.
func TestTaxUnderReverseCharge(t *testing.T) {
	own := func(rate string) *money.Decimal { return new(money.MustDecimal(rate)) }
	line := func(net string, category string, rate *money.Decimal) trade.InvoiceLine {
		return trade.InvoiceLine{Quantity: money.Int(1), Price: money.MustDecimal(net), Base: money.Int(1), TaxCategory: category, OwnRate: rate, TaxCode: "RC"}
	}
	inv := trade.Invoice{Currency: "EUR", Lines: []trade.InvoiceLine{line("1234.55", "AE", own("23"))}}
	totals, err := inv.Totals()
	require.NoError(t, err)
	require.Equal(t, []trade.OwnTax{{Code: "RC", Category: "AE", Rate: money.Int(23), Basis: 123_455, Tax: 28_395}}, totals.Own)
	require.Equal(t, money.Amount(123_455), totals.Total)

	inv.Lines = []trade.InvoiceLine{line("10.10", "AE", own("23")), line("10.10", "AE", own("23")), line("5.00", "K", own("9")), line("7", "S", nil)}
	inv.Charges = []trade.DocumentCharge{{Amount: 10, TaxCategory: "AE"}, {Allowance: true, Amount: 100, TaxCategory: "K"}, {Amount: 5, TaxCategory: "S"}}
	totals, err = inv.Totals()
	require.NoError(t, err)
	require.Equal(t, []trade.OwnTax{
		{Code: "RC", Category: "AE", Rate: money.Int(23), Basis: 2_030, Tax: 467}, {Code: "RC", Category: "K", Rate: money.Int(9), Basis: 400, Tax: 36},
	}, totals.Own)
}

// Whatever is on an invoice under reverse charge, bases add up to the net of its category, and no tax stands apart from
// its rate by half a cent or more.
func TestOwnTaxAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		inv := trade.Invoice{Currency: "EUR"}
		for range rapid.IntRange(1, 8).Draw(t, "lines") {
			rate := money.Decimal(rapid.Int64Range(0, 30_000_000).Draw(t, "rate"))
			inv.Lines = append(inv.Lines, trade.InvoiceLine{
				Quantity: money.Int(1), Base: money.Int(1), TaxCategory: rapid.SampledFrom([]string{"AE", "K", "S"}).Draw(t, "category"),
				Price: money.Decimal(rapid.Int64Range(0, 1_000_000).Draw(t, "price") * 10_000), OwnRate: &rate,
			})
		}
		totals, err := inv.Totals()
		require.NoError(t, err)
		var bases, nets money.Amount
		for _, o := range totals.Own {
			bases += o.Basis
			exact := int64(o.Basis) * int64(o.Rate) // in 1/100,000,000 of a cent
			require.LessOrEqual(t, max(exact-int64(o.Tax)*100_000_000, int64(o.Tax)*100_000_000-exact), int64(50_000_000))
		}
		for _, n := range totals.LineNets {
			nets += n
		}
		require.Equal(t, nets, bases)
	})
}

// What stands against a tax code, by its field.
func TestATaxCodeIsChecked(t *testing.T) {
	good := code("S23", "S", "2020-01-01", "23")
	require.Empty(t, trade.CheckTaxCode(good))
	for field, change := range map[string]func(*trade.TaxCode){
		"code":     func(c *trade.TaxCode) { c.Code = "23" },
		"name":     func(c *trade.TaxCode) { c.Name = "" },
		"category": func(c *trade.TaxCode) { c.Category = "VAT" },
		"rates":    func(c *trade.TaxCode) { c.Rates = nil },
	} {
		bad := good
		change(&bad)
		faults := trade.CheckTaxCode(bad)
		require.Len(t, faults, 1, field)
		require.Equal(t, field, faults[0].Field)
	}
	for _, bad := range []trade.TaxCode{
		code("Z", "Z", "2020-01-01", "1"), code("S", "S", "2020-01-01", "0"), code("A", "AE", "2020-01-01", "101"),
		code("B", "S", "2020-01-01", "9", "2020-01-01", "10"),
	} {
		require.Len(t, trade.CheckTaxCode(bad), 1, bad.Code)
	}
}
