package money

// Money is an amount with its currency, to be written.
type Money struct {
	Amount   Amount
	Currency Currency
}

// String writes it plainly: "1653.12 EUR".
func (m Money) String() string { return m.Amount.Text(m.Currency) + " " + string(m.Currency) }
