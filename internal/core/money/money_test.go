package money

import (
	"fmt"
	"testing"

	"github.com/cockroachdb/apd/v3"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestParseDecimal(t *testing.T) {
	for text, want := range map[string]Decimal{"0": 0, "12.5": 12_500_000, "-0.000001": -1, "1.1000000": 1_100_000, "007": 7_000_000} {
		got, err := ParseDecimal(text)
		require.NoError(t, err, text)
		require.Equal(t, want, got, text)
	}
	for text, want := range map[string]error{"": ErrNotNumber, "1.": ErrNotNumber, ".5": ErrNotNumber, "1,5": ErrNotNumber, "1e3": ErrNotNumber, "--1": ErrNotNumber, "+1": ErrNotNumber,
		"0.0000001": ErrTooManyDec, "9999999999.1": ErrTooLarge, "99999999999999999999": ErrTooLarge} {
		_, err := ParseDecimal(text)
		require.ErrorIs(t, err, want, text)
	}
}

func TestAmountsKeepTheirCurrencysPlaces(t *testing.T) {
	for _, c := range []struct {
		text     string
		currency Currency
		want     Amount
	}{{"12.34", "EUR", 1234}, {"1234", "JPY", 1234}, {"1.234", "KWD", 1234}, {"-0.05", "EUR", -5}} {
		got, err := ParseAmount(c.text, c.currency)
		require.NoError(t, err)
		require.Equal(t, c.want, got)
		require.Equal(t, c.text, got.Text(c.currency))
	}
	_, err := ParseAmount("1.5", "JPY")
	require.ErrorIs(t, err, ErrTooManyDec)
}

// Rounded once, half away from zero (EN 16931 BT-131).
func TestNet(t *testing.T) {
	for _, c := range []struct {
		quantity, price, base string
		discount, charge      Amount
		want                  Amount
	}{
		{"3", "0.335", "1", 0, 0, 101},       // 1.005
		{"-3", "0.335", "1", 0, 0, -101},     // and away from zero below it
		{"250", "4.10", "100", 0, 0, 1025},   // a price for a hundred
		{"1", "0.005", "1", 1, 0, -1},        // 0.005 − 0.01 = −0.005: rounded once, after the discount
		{"1", "0.005", "1", 0, 1, 2},         // 0.015
		{"0.5", "0.01", "1", 0, 0, 1},        // 0.005
		{"237.5", "4.10", "1", 0, 0, 97_375}, // the demo's capelin
		{"0.000001", "0.000001", "1", 0, 0, 0},
	} {
		got, err := Net(MustDecimal(c.quantity), MustDecimal(c.price), MustDecimal(c.base), c.discount, c.charge, "EUR")
		require.NoError(t, err)
		require.Equal(t, c.want, got, "%s × %s ÷ %s", c.quantity, c.price, c.base)
	}
	_, err := Net(Int(9_000_000_000), Int(9_000_000_000), Int(1), 0, 0, "EUR")
	require.ErrorIs(t, err, ErrTooLarge)
	_, err = Net(Int(1), Int(1), 0, 0, 0, "EUR")
	require.Error(t, err)
}

var precise = apd.Context{Precision: 80, MaxExponent: 200, MinExponent: -200, Rounding: apd.RoundHalfUp}

func exact(d Decimal) *apd.Decimal { return apd.New(int64(d), -6) }

func decimals(most int64) *rapid.Generator[Decimal] {
	return rapid.Map(rapid.Int64Range(-most*scale, most*scale), func(n int64) Decimal { return Decimal(n) })
}

// Against a second library: cockroachdb/apd, whose half-up is half away from zero.
func TestNetAgainstSecondLibrary(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q, p := decimals(100_000).Draw(t, "quantity"), decimals(10_000).Draw(t, "price")
		base := Decimal(rapid.Int64Range(1, 1000*scale).Draw(t, "base"))
		discount := Amount(rapid.Int64Range(0, 10_000).Draw(t, "discount"))
		currency := rapid.SampledFrom([]Currency{"EUR", "JPY", "KWD", "CLF"}).Draw(t, "currency")
		got, err := Net(q, p, base, discount, 0, currency)
		want := new(apd.Decimal)
		_, e := precise.Mul(want, exact(q), exact(p))
		require.NoError(t, e)
		_, e = precise.Quo(want, want, exact(base))
		require.NoError(t, e)
		_, e = precise.Sub(want, want, apd.New(int64(discount), int32(-currency.Places())))
		require.NoError(t, e)
		_, e = precise.Quantize(want, want, int32(-currency.Places()))
		require.NoError(t, e)
		if err != nil { // only what does not fit is refused
			limit := apd.New(Largest, int32(-currency.Places()))
			require.Positive(t, want.Abs(want).Cmp(limit))
			return
		}
		require.Zero(t, want.Cmp(apd.New(int64(got), int32(-currency.Places()))), "got %s, want %s", got.Text(currency), want)
	})
}

// 2.004 % is outside a limit of 2 %; exactly at the limit is inside, one smallest step past it is not.
func TestWithinPercent(t *testing.T) {
	require.False(t, WithinPercent(2_004, 100_000, Int(2)))
	require.True(t, WithinPercent(2_000, 100_000, Int(2)))
	rapid.Check(t, func(t *rapid.T) {
		whole := rapid.Int64Range(1, Largest/100).Draw(t, "whole")
		percent := Decimal(rapid.Int64Range(0, int64(Int(100))).Draw(t, "percent"))
		room, isExact, err := PercentOf(whole, percent)
		require.NoError(t, err)
		require.True(t, WithinPercent(room, whole, percent))
		require.False(t, WithinPercent(room+1, whole, percent))
		product := new(apd.Decimal)
		_, err = precise.Mul(product, apd.New(whole, 0), exact(percent))
		require.NoError(t, err)
		require.Equal(t, isExact, product.Cmp(new(apd.Decimal).Set(apd.New(room*100, 0))) == 0)
	})
}

func TestSplitAddsUp(t *testing.T) {
	parts, err := Split(100, []Amount{1, 1, 1})
	require.NoError(t, err)
	require.Equal(t, []Amount{34, 33, 33}, parts, "ties go to the earlier part")
	// common practice: tax of 101 on 1,000 and 10 is 100 and 1
	parts, err = Split(10_100, []Amount{100_000, 1_000})
	require.NoError(t, err)
	require.Equal(t, []Amount{10_000, 100}, parts)
	_, err = Split(5, []Amount{0, 0})
	require.ErrorIs(t, err, ErrNoWeights)
	_, err = Split(5, []Amount{1, -1})
	require.ErrorIs(t, err, ErrNoWeights)
	rapid.Check(t, func(t *rapid.T) {
		amount := Amount(rapid.Int64Range(-1_000_000, 1_000_000).Draw(t, "amount"))
		weights := rapid.SliceOfN(rapid.Map(rapid.Int64Range(0, 100_000), func(n int64) Amount { return Amount(n) }), 1, 20).Draw(t, "weights")
		total := Sum(weights...)
		parts, err := Split(amount, weights)
		if total == 0 {
			require.Error(t, err)
			return
		}
		require.NoError(t, err)
		require.Equal(t, amount, Sum(parts...))
		for i, p := range parts { // nobody is off by more than one unit
			exactShare := float64(amount) * float64(weights[i]) / float64(total)
			require.InDelta(t, exactShare, float64(p), 1.000001)
		}
	})
}

// Parts that follow one another add up to the amount, and none is a minor unit off its own share.
func TestPartsBetweenAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		amount := Amount(rapid.Int64Range(-1e9, 1e9).Draw(t, "amount"))
		steps := rapid.SliceOfN(rapid.Int64Range(1, 1e6), 1, 12).Draw(t, "steps")
		var whole int64
		for _, s := range steps {
			whole += s
		}
		var sum Amount
		var at int64
		for _, s := range steps {
			part, err := amount.PartBetween(at, at+s, whole)
			require.NoError(t, err)
			alone, err := amount.Part(s, whole)
			require.NoError(t, err)
			require.LessOrEqual(t, (part - alone).Abs(), Amount(1))
			sum, at = sum+part, at+s
		}
		require.Equal(t, amount, sum)
	})
}

func TestPercentRoundsOnce(t *testing.T) {
	for _, c := range []struct{ basis, want Amount }{{150, 35}, {-150, -35}, {133_500, 30_705}, {0, 0}} { // 23 %
		got, err := c.basis.Percent(Int(23))
		require.NoError(t, err)
		require.Equal(t, c.want, got)
	}
}

func TestConvert(t *testing.T) {
	for _, c := range []struct {
		amount   Amount
		from, to Currency
		rate     string
		want     Amount
	}{{10_000, "USD", "EUR", "0.9", 9_000}, {100, "JPY", "EUR", "0.006123", 61}, {1_000, "KWD", "EUR", "3.05", 305}, {-5, "USD", "EUR", "0.5", -3}} {
		got, err := c.amount.Convert(MustDecimal(c.rate), c.from, c.to)
		require.NoError(t, err)
		require.Equal(t, c.want, got)
	}
}

// Foreign currency and per cents against the second library: rounded once, half away from zero.
func TestConvertAgainstSecondLibrary(t *testing.T) {
	currencies := rapid.SampledFrom([]Currency{"EUR", "JPY", "KWD", "CLF"})
	rapid.Check(t, func(t *rapid.T) {
		a := Amount(rapid.Int64Range(-1_000_000_000_000, 1_000_000_000_000).Draw(t, "amount"))
		rate := Decimal(rapid.Int64Range(1, 1000*scale).Draw(t, "rate"))
		from, to := currencies.Draw(t, "from"), currencies.Draw(t, "to")
		got, err := a.Convert(rate, from, to)
		want := new(apd.Decimal)
		_, e := precise.Mul(want, apd.New(int64(a), int32(-from.Places())), exact(rate))
		require.NoError(t, e)
		_, e = precise.Quantize(want, want, int32(-to.Places()))
		require.NoError(t, e)
		if largest := apd.New(Largest, int32(-to.Places())); new(apd.Decimal).Abs(want).Cmp(largest) > 0 {
			require.ErrorIs(t, err, ErrTooLarge, "more than can be held is refused")
		} else {
			require.NoError(t, err)
			require.Zero(t, want.Cmp(apd.New(int64(got), int32(-to.Places()))), "got %s, want %s", got.Text(to), want)
		}

		percent, err := a.Percent(rate)
		require.NoError(t, err)
		_, e = precise.Mul(want, apd.New(int64(a), -2), exact(rate))
		require.NoError(t, e)
		_, e = precise.Quantize(want, want, 0)
		require.NoError(t, e)
		require.Zero(t, want.Cmp(apd.New(int64(percent), 0)), "got %d, want %s", percent, want)
	})
}

func TestPricesCompareExactly(t *testing.T) {
	agreed := UnitPrice(Int(20), MustDecimal("61"), Int(1), 0, 0, "EUR")
	asked := UnitPrice(Int(20), MustDecimal("62.5"), Int(1), 0, 0, "EUR")
	require.Equal(t, 1, asked.Compare(agreed))
	require.Equal(t, "2.46", asked.Ratio(agreed).String())
	difference, err := asked.Difference(agreed, Int(20), "EUR")
	require.NoError(t, err)
	require.Equal(t, Amount(3_000), difference)
	require.False(t, asked.WithinPercent(agreed, Int(2)))
	require.True(t, asked.WithinPercent(agreed, MustDecimal("2.46")))
	// 6.00 for three with 1.00 off is as dear as 5.00 for three
	require.Zero(t, UnitPrice(Int(3), Int(2), Int(1), 100, 0, "EUR").Compare(UnitPrice(Int(3), Int(5), Int(3), 0, 0, "EUR")))
}

func TestWideNumbers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := func(name string) int64 { return rapid.Int64Range(-Largest, Largest).Draw(t, name) }
		a, b, c, d := n("a"), n("b"), n("c"), n("d")
		left, right := product(a, b), product(c, d)
		x, y := new(apd.Decimal), new(apd.Decimal)
		_, err := precise.Mul(x, apd.New(a, 0), apd.New(b, 0))
		require.NoError(t, err)
		_, err = precise.Mul(y, apd.New(c, 0), apd.New(d, 0))
		require.NoError(t, err)
		require.Equal(t, x.Cmp(y), left.compare(right))
		sum, zero := left.plus(right), wide{}
		_, err = precise.Add(x, x, y)
		require.NoError(t, err)
		require.Equal(t, x.Cmp(apd.New(0, 0)), sum.compare(zero), fmt.Sprint(a, b, c, d))
		require.Zero(t, sum.plus(right.negated()).compare(left))
	})
}

func TestFloorAndCeil(t *testing.T) {
	for _, c := range []struct{ d, floor, ceil string }{{"10.5", "10", "11"}, {"-10.5", "-11", "-10"}, {"3", "3", "3"}} {
		require.Equal(t, MustDecimal(c.floor), MustDecimal(c.d).Floor())
		require.Equal(t, MustDecimal(c.ceil), MustDecimal(c.d).Ceil())
	}
}
