// Package money holds the exact numbers of the trade and every rounding of them
// (rules §1). An amount is a whole number of minor units, a quantity or price a
// count of millionths; nothing here is ever a float.
package money

import "math/big"

// Amount is a sum of money in minor units of a currency that the document
// names: 1234 is 12.34 EUR, 1,234 JPY or 1.234 KWD. Its sign is the document's.
type Amount int64

// ParseAmount reads "1234.50" into minor units of the currency. More places than
// the currency has are an error.
func ParseAmount(text string, currency Currency) (Amount, error) {
	n, err := parse(text, currency.Places())
	return Amount(n), err
}

// Text writes the amount with a decimal point and all the currency's places.
func (a Amount) Text(currency Currency) string { return format(int64(a), currency.Places()) }

// Abs is the amount without its sign.
func (a Amount) Abs() Amount {
	if a < 0 {
		return -a
	}
	return a
}

// Sum adds amounts of one currency.
func Sum(amounts ...Amount) Amount {
	var total Amount
	for _, a := range amounts {
		total += a
	}
	return total
}

// Net is a line's net amount: quantity × price ÷ base − discount + charge,
// rounded once, half away from zero, to the currency's minor unit (EN 16931
// BT-131 with the price base quantity BT-149). The base quantity is above zero
// and at most a million.
func Net(quantity, price, base Decimal, discount, charge Amount, currency Currency) (Amount, error) {
	if base <= 0 || base > Int(1_000_000) {
		return 0, ErrTooLarge
	}
	denominator := int64(base)
	for range 6 - currency.Places() {
		denominator *= 10
	}
	gross := product(int64(quantity), int64(price))
	extra := product(int64(charge-discount), denominator)
	n, err := gross.plus(extra).halfAway(uint64(denominator))
	return Amount(n), err
}

// Of is d × numerator ÷ denominator (denominator above zero), cut to six places; exact
// tells whether nothing was cut off.
func (d Decimal) Of(numerator, denominator Decimal) (value Decimal, exact bool, err error) {
	if denominator <= 0 {
		return 0, false, ErrTooLarge
	}
	n, exact, err := product(int64(d), int64(numerator)).towardZero(uint64(denominator))
	return Decimal(n), exact, err
}

// Share is d × numerator ÷ denominator (denominator above zero), rounded half away from zero to six places.
func (d Decimal) Share(numerator, denominator int64) (Decimal, error) {
	part, err := Amount(d).Part(numerator, denominator)
	return Decimal(part), err
}

// Percent is rate per cent of the amount, rounded half away from zero: the tax
// of one category and rate over its whole basis (EN 16931 BR-CO-17).
func (a Amount) Percent(rate Decimal) (Amount, error) {
	n, err := product(int64(a), int64(rate)).halfAway(100 * scale)
	return Amount(n), err
}

// Part is amount × numerator ÷ denominator (denominator above zero), rounded
// half away from zero.
func (a Amount) Part(numerator, denominator int64) (Amount, error) {
	if denominator <= 0 {
		return 0, ErrTooLarge
	}
	n, err := product(int64(a), numerator).halfAway(uint64(denominator))
	return Amount(n), err
}

// PartBetween is the part that lies between two points of a whole (above zero): parts that follow one another add up to
// the amount, whatever they are rounded to.
func (a Amount) PartBetween(from, until, whole int64) (Amount, error) {
	upper, err := a.Part(until, whole)
	if err != nil {
		return 0, err
	}
	lower, err := a.Part(from, whole)
	return upper - lower, err
}

// Convert gives the amount of one currency in another at a rate (units of the
// other for one of this), rounded half away from zero to the other's minor unit.
func (a Amount) Convert(rate Decimal, from, to Currency) (Amount, error) {
	value := big.NewInt(int64(a))
	value.Mul(value, big.NewInt(int64(rate)))
	value.Mul(value, power(to.Places()))
	return roundQuotient(value, new(big.Int).Mul(big.NewInt(scale), power(from.Places())))
}

// AtMost is the largest amount of a currency whose worth, at its rate in another, is no more
// than a limit in that other: what stands against the limit is compared exactly. The limit
// is not below zero, the rate above it.
func (a Amount) AtMost(rate Decimal, limitIn, of Currency) (Amount, error) {
	value := big.NewInt(int64(a))
	value.Mul(value, big.NewInt(scale)).Mul(value, power(of.Places()))
	quotient := value.Quo(value, new(big.Int).Mul(big.NewInt(int64(rate)), power(limitIn.Places())))
	if !quotient.IsInt64() || Amount(quotient.Int64()) > Amount(Largest) {
		return Amount(Largest), nil // wider than anything that can be booked
	}
	return Amount(quotient.Int64()), nil
}

func power(places int) *big.Int {
	return new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(places)), nil)
}

func roundQuotient(numerator, denominator *big.Int) (Amount, error) {
	quotient, remainder := new(big.Int).QuoRem(numerator, denominator, new(big.Int))
	if remainder.Abs(remainder).Lsh(remainder, 1).Cmp(denominator) >= 0 {
		quotient.Add(quotient, big.NewInt(int64(numerator.Sign())))
	}
	if !quotient.IsInt64() || Amount(quotient.Int64()).Abs() > Amount(Largest) {
		return 0, ErrTooLarge
	}
	return Amount(quotient.Int64()), nil
}

// WithinPercent tells whether difference is at most percent of whole, by exact
// cross-multiplication: 2.004 % is outside a limit of 2 % (rules §1). Difference
// and whole count the same unit; only their sizes matter, not their signs.
func WithinPercent(difference, whole int64, percent Decimal) bool {
	left := product(int64(Decimal(difference).Abs()), 100*scale)
	return left.compare(product(int64(Decimal(whole).Abs()), int64(percent))) <= 0
}

// PercentOf is the share of whole that percent makes, rounded towards zero to
// the unit that is counted; exact tells whether nothing was dropped.
func PercentOf(whole int64, percent Decimal) (value int64, exact bool, err error) {
	return product(whole, int64(percent)).towardZero(100 * scale)
}

// Ratio is difference ÷ whole as a percentage, rounded half away from zero to
// two places for display only.
func Ratio(difference, whole int64) Decimal {
	if whole == 0 {
		return 0
	}
	r := big.NewRat(difference, whole)
	r.Mul(r, big.NewRat(100*100, 1))
	n, err := roundQuotient(new(big.Int).Set(r.Num()), r.Denom())
	if err != nil {
		return 0
	}
	return Decimal(n) * (scale / 100)
}
