package money

import "strings"

// Entered is an amount as somebody entered it, an exact decimal: "1234.50". It becomes an
// Amount once the currency of its document is known; blank is zero.
type Entered string

// In is the amount in minor units of the currency. More places than the currency has, or
// more than can be booked, is an error.
func (e Entered) In(currency Currency) (Amount, error) {
	text := strings.TrimSpace(string(e))
	if text == "" {
		return 0, nil
	}
	return ParseAmount(text, currency)
}

// Entered is the amount as it is entered again.
func (a Amount) Entered(currency Currency) Entered { return Entered(a.Text(currency)) }
