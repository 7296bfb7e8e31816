package limit

import "lagoon/internal/core/money"

// Entry is a limit as somebody entered it: the absolute value is an exact decimal, a quantity
// or, once the currency is known, an amount. What is nil is not set.
type Entry struct {
	Kind     Kind
	Side     Side
	Percent  *money.Decimal
	Absolute *money.Entered
}

// Entries are all limits of one level as they were entered; nil says nothing of them.
type Entries []Entry

// In makes the entry a rule of a currency.
func (e Entry) In(currency money.Currency) (Rule, error) {
	r := Rule{Kind: e.Kind, Side: e.Side, Percent: e.Percent}
	if e.Absolute == nil {
		return r, nil
	}
	if e.Kind.OfQuantity() {
		quantity, err := money.ParseDecimal(string(*e.Absolute))
		n := int64(quantity)
		r.Absolute = &n
		return r, err
	}
	amount, err := e.Absolute.In(currency)
	n := int64(amount)
	r.Absolute = &n
	return r, err
}
