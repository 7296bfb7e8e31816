package money

import "math/big"

// Price is an exact unit price: line net after line discounts and charges,
// before rounding, for one unit (rules §6). It stays a fraction until compared.
type Price struct{ value *big.Rat }

// UnitPrice is (quantity × price ÷ base − discount + charge) ÷ quantity. A line
// without quantity is priced by price ÷ base alone.
func UnitPrice(quantity, price, base Decimal, discount, charge Amount, currency Currency) Price {
	value := new(big.Rat).SetFrac64(int64(price), int64(base))
	if extra := charge - discount; extra != 0 && quantity != 0 {
		share := new(big.Rat).SetFrac(big.NewInt(int64(extra)), power(currency.Places()))
		value.Add(value, share.Quo(share, new(big.Rat).SetFrac64(int64(quantity), scale)))
	}
	return Price{value}
}

// MarshalText writes the price as an exact fraction.
func (p Price) MarshalText() ([]byte, error) { return p.value.MarshalText() }

// UnmarshalText reads what MarshalText wrote.
func (p *Price) UnmarshalText(text []byte) error {
	p.value = new(big.Rat)
	return p.value.UnmarshalText(text)
}

// PriceOf is the price of one unit.
func PriceOf(price Decimal) Price { return Price{big.NewRat(int64(price), scale)} }

// Compare is −1, 0 or 1 as p is below, equal to or above other.
func (p Price) Compare(other Price) int { return p.value.Cmp(other.value) }

// WithinPercent tells whether p differs from reference by at most percent of reference.
func (p Price) WithinPercent(reference Price, percent Decimal) bool {
	difference := new(big.Rat).Sub(p.value, reference.value)
	limit := new(big.Rat).Mul(reference.value, big.NewRat(int64(percent), 100*scale))
	return difference.Abs(difference).Cmp(limit.Abs(limit)) <= 0
}

// Ratio is how far p is from reference in per cent of it, to two places, for display.
func (p Price) Ratio(reference Price) Decimal {
	if reference.value.Sign() == 0 {
		return 0
	}
	r := new(big.Rat).Sub(p.value, reference.value)
	r.Quo(r, reference.value).Mul(r, big.NewRat(100*100, 1))
	n, err := roundQuotient(new(big.Int).Set(r.Num()), r.Denom())
	if err != nil {
		return 0
	}
	return Decimal(n) * (scale / 100)
}

// Per is the price of another unit, of which units make makes of this one's quantity: the
// price of a carton of twelve, for one.
func (p Price) Per(units, makes Decimal) Price {
	return Price{new(big.Rat).Mul(p.value, big.NewRat(int64(units), int64(makes)))}
}

// Difference is (p − reference) × quantity, rounded half away from zero to the
// currency's minor unit: what the price difference is worth on the line.
func (p Price) Difference(reference Price, quantity Decimal, currency Currency) (Amount, error) {
	d := new(big.Rat).Sub(p.value, reference.value)
	d.Mul(d, big.NewRat(int64(quantity), scale))
	d.Mul(d, new(big.Rat).SetInt(power(currency.Places())))
	return roundQuotient(new(big.Int).Set(d.Num()), d.Denom())
}

// Times is p × quantity, rounded like Difference.
func (p Price) Times(quantity Decimal, currency Currency) (Amount, error) {
	return p.Difference(Price{new(big.Rat)}, quantity, currency)
}

// Buys is the quantity that an amount pays at the price, rounded half away from zero to six places. The price is not zero.
func (p Price) Buys(amount Amount, currency Currency) (Decimal, error) {
	q := new(big.Rat).SetFrac(new(big.Int).Mul(big.NewInt(int64(amount)), big.NewInt(scale)), power(currency.Places()))
	q.Quo(q, p.value)
	n, err := roundQuotient(new(big.Int).Set(q.Num()), q.Denom())
	return Decimal(n), err
}

// Decimal is the price rounded half away from zero to six places, for display.
func (p Price) Decimal() Decimal {
	r := new(big.Rat).Mul(p.value, big.NewRat(scale, 1))
	n, err := roundQuotient(new(big.Int).Set(r.Num()), r.Denom())
	if err != nil {
		return 0
	}
	return Decimal(n)
}
