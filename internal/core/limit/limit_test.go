package limit

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

func pct(text string) *money.Decimal { d := money.MustDecimal(text); return &d }
func abs(n int64) *int64             { return &n }
func dec(text string) money.Decimal  { return money.MustDecimal(text) }

// Common practice: the check values of rules §2.
func TestWorkedFigures(t *testing.T) {
	for _, c := range []struct{ ordered, percent, least, most string }{
		{"10", "10", "9", "11"}, {"1000", "10", "900", "1100"}, {"20", "10", "18", "22"}, {"250", "10", "225", "275"}, {"100", "5", "95", "105"},
	} {
		over, under := Bound{Percent: pct(c.percent)}, Bound{Percent: pct(c.percent)}
		require.Equal(t, dec(c.most), over.Most(dec(c.ordered), false))
		require.Equal(t, dec(c.least), under.Least(dec(c.ordered), false))
	}
}

func TestWholeUnitsRoundInwards(t *testing.T) {
	b := Bound{Percent: pct("5")}
	require.Equal(t, dec("31"), b.Most(dec("30"), true), "31.5 down")
	require.Equal(t, dec("29"), b.Least(dec("30"), true), "28.5 up")
	require.Equal(t, dec("31.5"), b.Most(dec("30"), false))
}

// A difference passes when it is inside every limit that is set on its side.
func TestInsideEveryLimit(t *testing.T) {
	both := Bound{Percent: pct("10"), Absolute: abs(int64(dec("3")))}
	require.True(t, both.Allows(int64(dec("3")), int64(dec("100")), int64(dec("3"))))
	require.False(t, both.Allows(int64(dec("3.000001")), int64(dec("100")), int64(dec("3.000001"))))
	require.False(t, both.Allows(int64(dec("3")), int64(dec("20")), int64(dec("3"))), "15 % is outside 10 %")
	require.Equal(t, dec("103"), both.Most(dec("100"), false))
	zero := Bound{Percent: pct("0")}
	require.False(t, zero.Allows(1, 100, 1), "zero is set")
	require.False(t, Bound{Unset: true}.Allows(1, 100, 1), "nothing set allows nothing")
	require.True(t, Bound{Unset: true}.Allows(0, 100, 0))
	require.False(t, Off(Delivery, Over).Allows(1, 100, 1))
	require.Equal(t, dec("100"), Off(Delivery, Over).Most(dec("100"), false))
}

// The first level that sets anything on the side decides, with all that it sets there; each side alone.
func TestNearestLevelDecides(t *testing.T) {
	book := Book{
		{Level: Company, Kind: Delivery, Side: Over, Percent: pct("5")}, {Level: Company, Kind: Delivery, Side: Under, Percent: pct("5")},
		{Level: Item, Kind: Delivery, Side: Over, Percent: pct("10")}, {Level: ItemAtSupplier, Kind: Delivery, Side: Over, Absolute: abs(7)},
		{Level: Line, Kind: UnitPrice, Side: Over, Percent: pct("1")}, {Level: Line, Kind: Delivery, Side: Over}, // blank is not set
	}
	over := book.Find(Delivery, Over)
	require.Equal(t, ItemAtSupplier, over.Level)
	require.Nil(t, over.Percent)
	require.Equal(t, int64(7), *over.Absolute)
	require.Equal(t, Company, book.Find(Delivery, Under).Level)
	require.True(t, book.Find(Charge, Over).Unset)
}

func TestPriceBounds(t *testing.T) {
	price := func(text string) money.Price {
		return money.UnitPrice(money.Int(1), dec(text), money.Int(1), 0, 0, "EUR")
	}
	b := Bound{Percent: pct("2"), Absolute: abs(2_500)}
	require.True(t, b.AllowsPrice(price("102"), price("100"), 2_500))
	require.False(t, b.AllowsPrice(price("102.000001"), price("100"), 100))
	require.False(t, b.AllowsPrice(price("101"), price("100"), 2_501), "the amount runs over the line")
}

// Books are the same where they set the same, in any order: nothing set and not set are one, zero is a limit.
func TestSameLimits(t *testing.T) {
	five, six, nothing := money.Int(5), money.Int(6), money.Int(0)
	price := Rule{Kind: UnitPrice, Side: Over, Percent: &five}
	delivery := Rule{Kind: Delivery, Side: Over, Percent: &five, Absolute: new(int64(7))}
	unset := Rule{Kind: Delivery, Side: Under}
	require.True(t, Book{price, delivery}.Same(Book{delivery, unset, price}))
	require.True(t, Book{}.Same(Book{unset}))
	for _, other := range []Book{{}, {price}, {price, {Kind: Delivery, Side: Over, Percent: &five}}, {{Kind: UnitPrice, Side: Over, Percent: &six}, delivery}, {price, delivery, {Kind: Delivery, Side: Under, Percent: &nothing}}} {
		require.False(t, Book{price, delivery}.Same(other))
		require.False(t, other.Same(Book{price, delivery}))
	}
}
