package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func TestDueDates(t *testing.T) {
	for _, c := range []struct {
		terms Terms
		base  day.Day
		due   day.Day
	}{
		{Terms{NetDays: 30}, "2026-11-16", "2026-12-16"},
		{Terms{NetDays: 14, EndOfMonth: true}, "2026-11-18", "2026-12-31"},
		{Terms{EndOfMonth: true}, "2028-02-03", "2028-02-29"},
		{Terms{NetDays: 10, DayOfMonth: 15}, "2026-01-31", "2026-03-15"},
		{Terms{DayOfMonth: 31}, "2026-01-31", "2026-02-28"},
		{Terms{EndOfMonth: true, DayOfMonth: 10}, "2026-01-20", "2026-02-10"}, // first the end, then the next month
	} {
		require.Equal(t, c.due, c.terms.Due(c.base))
	}
	terms := Terms{NetDays: 30, DiscountPercent: money.Int(2), DiscountDays: 10}
	require.Equal(t, day.Day("2026-11-26"), terms.DiscountUntil("2026-11-16"))
	// Textbook finance (from memory): 2/10 net 30 is 2/98 × 365/20 = 37.24 % a year.
	require.Equal(t, "37.24", terms.YearlyRate("2026-11-16").String())
	require.Zero(t, Terms{NetDays: 30}.YearlyRate("2026-11-16"))
}

func TestNumbersThatAreTheSame(t *testing.T) {
	for _, n := range []string{"BF-20418", "bf 20418", "BF/20418", "0BF20418"} {
		require.Equal(t, "BF20418", NormalNumber(n), n)
	}
	for number, normal := range map[string]string{"INV-0012": "INV12", "inv 12": "INV12", "K2-11": "K2-11", "K21-1": "K21-1", "2026/0012": "2026-12", "20 418": "20418", "A-007-B": "A7B", "0000": "", " – ": ""} {
		require.Equal(t, normal, NormalNumber(number), number)
	}
	require.True(t, LikeNumber("PC1007", "PCI0O7"))
	require.True(t, LikeNumber("20418", "20419"))
	require.True(t, LikeNumber("20418", "2041"))
	require.False(t, LikeNumber("20418", "20418"))
	require.False(t, LikeNumber("20418", "20491"))
	require.False(t, LikeNumber("", "1"))
}

func TestIBAN(t *testing.T) {
	require.True(t, ValidIBAN("GB82WEST12345698765432")) // the example of the standard's own pages, from memory
	for _, bad := range []string{"", "GB82WEST12345698765433", "gb82WEST12345698765432", "GB8", "1182WEST12345698765432"} {
		require.False(t, ValidIBAN(bad), bad)
	}
	require.Equal(t, "GB82WEST1234", PlainIBAN(" gb82 west 1234 "))
}

// The parts of what leaves a receipt always add up to its value, in whatever order they leave.
func TestReliefLeavesZero(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		parts := rapid.SliceOfN(rapid.Int64Range(1, 50_000_000), 1, 12).Draw(t, "parts")
		r := Receipt{
			Value:     money.Amount(rapid.Int64Range(0, 1_000_000).Draw(t, "value")),
			ValueBase: money.Amount(rapid.Int64Range(0, 1_000_000).Draw(t, "base")),
		}
		for _, p := range parts {
			r.Quantity += money.Decimal(p)
		}
		var value, base money.Amount
		for _, p := range parts {
			taken, err := relieve(&r, money.Decimal(p))
			require.NoError(t, err)
			value, base = value+taken.Value, base+taken.Base
		}
		require.Equal(t, r.Value, value)
		require.Equal(t, r.ValueBase, base)
		require.Equal(t, r.Quantity, r.Relieved.Quantity)
	})
}

// The values of part deliveries add up to the line's net.
func TestSharesOfNetAddUp(t *testing.T) {
	line := OrderLine{Quantity: dec("3"), Net: 10_000}
	var sum money.Amount
	for n := range 3 {
		share, err := line.ShareOfNet(money.Int(int64(n)), money.Int(1))
		require.NoError(t, err)
		sum += share
	}
	require.Equal(t, money.Amount(10_000), sum)
}

func invoice(lines ...InvoiceLine) Invoice {
	for i := range lines {
		lines[i].No, lines[i].Base = i+1, money.Int(1)
	}
	return Invoice{Currency: "EUR", Lines: lines}
}

// Common practice: 1,000 + charge 10 at 10 % is 101 of tax; entered as 104 it totals 1,114.
func TestTaxAsEntered(t *testing.T) {
	inv := invoice(InvoiceLine{Quantity: dec("10"), Price: dec("100"), TaxCategory: "S", TaxRate: money.Int(10)})
	inv.Charges = []DocumentCharge{{Kind: "freight", Amount: 1_000, TaxCategory: "S", TaxRate: money.Int(10)}}
	totals, err := inv.Totals()
	require.NoError(t, err)
	require.Equal(t, money.Amount(10_100), totals.Tax)
	require.Equal(t, money.Amount(111_100), totals.Total)
	inv.Taxes = []StatedTax{{"S", money.Int(10), 10_400}}
	totals, err = inv.Totals()
	require.NoError(t, err)
	require.Equal(t, money.Amount(10_100), totals.Groups[0].Computed)
	require.Equal(t, money.Amount(111_400), totals.Total)
}

// EN 16931 BR-CO-10, -13, -15 and -17 over random invoices.
func TestTotalsOfRandomInvoices(t *testing.T) {
	rates := []money.Decimal{0, dec("5.5"), dec("13.5"), dec("23")}
	rapid.Check(t, func(t *rapid.T) {
		var lines []InvoiceLine
		for range rapid.IntRange(1, 8).Draw(t, "lines") {
			lines = append(
				lines,
				InvoiceLine{
					Quantity:    money.Decimal(rapid.Int64Range(1, 1_000_000_000).Draw(t, "q")),
					Price:       money.Decimal(rapid.Int64Range(0, 100_000_000).Draw(t, "p")),
					TaxCategory: "S",
					TaxRate:     rapid.SampledFrom(rates).Draw(t, "rate"),
				},
			)
		}
		inv := invoice(lines...)
		for range rapid.IntRange(0, 3).Draw(t, "charges") {
			inv.Charges = append(
				inv.Charges,
				DocumentCharge{
					Allowance:   rapid.Bool().Draw(t, "allowance"),
					Amount:      money.Amount(rapid.Int64Range(0, 10_000).Draw(t, "amount")),
					TaxCategory: "S",
					TaxRate:     rapid.SampledFrom(rates).Draw(t, "rate"),
				},
			)
		}
		totals, err := inv.Totals()
		require.NoError(t, err)
		require.Equal(t, money.Sum(totals.LineNets...), totals.Lines, "BR-CO-10")
		require.Equal(t, totals.Lines+totals.Charges-totals.Allowances, totals.Net(), "BR-CO-13")
		require.Equal(t, totals.Net()+totals.Tax, totals.Total, "BR-CO-15")
		var basis money.Amount
		for _, g := range totals.Groups {
			tax, err := g.Basis.Percent(g.Rate)
			require.NoError(t, err)
			require.Equal(t, tax, g.Computed, "BR-CO-17")
			basis += g.Basis
		}
		require.Equal(t, totals.Net(), basis)
		if totals.Lines > 0 {
			require.Equal(t, totals.Allowances, money.Sum(totals.LineShares...))
		}
	})
}

// The form of a bank's code (ISO 9362), the examples from memory.
func TestBICs(t *testing.T) {
	for _, good := range []string{"DEUTDEFF", "DEUTDEFF500", "E097AEXX", "NEDSZAJJXXX"} {
		require.True(t, ValidBIC(good), good)
	}
	for _, bad := range []string{"", "DEUTDEF", "DEUTDEFF5", "DEUTDEFF5000", "DEUT1EFF", "DEUTD1FF", "deutdeff", "DEUT DEF"} {
		require.False(t, ValidBIC(bad), bad)
	}
}

// relieve takes a part out of a receipt.
func relieve(r *Receipt, quantity money.Decimal) (Relief, error) {
	taken, err := r.Next(quantity)
	r.Relieved = r.Relieved.Plus(taken)
	return taken, err
}

// A creditor's reference whose digits were turned round is told; what is written otherwise may be a reference of the supplier's own.
func TestMistypedReference(t *testing.T) {
	for text, mistyped := range map[string]bool{
		"RF18 5390 0754 7034": false, "rf18539007547034": false, "RF18 5390 0754 7043": true, "RF81 5390 0754 7034": true, "INV 4471": false, "": false, "RFQ 12": false,
	} {
		require.Equal(t, mistyped, MistypedReference(text), text)
	}
}

// What is planned falls on the last of its days that has come since it is planned.
func TestPlannedOn(t *testing.T) {
	for _, c := range []struct {
		every              BillingEvery
		since, upTo, wants day.Day
	}{
		{"", "2026-01-01", "2026-11-30", ""},
		{EveryDay, "2026-11-01", "2026-11-30", "2026-11-30"},
		{EveryDay, "2026-12-01", "2026-11-30", ""},
		{EveryWeek, "2026-11-01", "2026-11-30", "2026-11-27"},
		{EveryWeek, "2026-11-28", "2026-11-30", ""},
		{EveryWeek, "2026-11-27", "2026-11-27", "2026-11-27"},
		{EveryMonth, "2026-01-01", "2026-11-30", "2026-11-30"},
		{EveryMonth, "2026-01-01", "2026-11-29", "2026-10-31"},
		{EveryMonth, "2024-01-01", "2024-02-29", "2024-02-29"},
	} {
		require.Equal(t, c.wants, SelfBilling{Every: c.every, Since: c.since}.PlannedOn(c.upTo), "%+v", c)
	}
}
