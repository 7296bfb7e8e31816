// Package trade holds the documents of the trade, their totals and their states.
package trade

import (
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// SupplierStatus says what may be done with a supplier.
type SupplierStatus string

// The states of a supplier; receiving and matching go on in all of them.
const (
	Open        SupplierStatus = "open"
	PaymentHold SupplierStatus = "payment_hold"
	Disputed    SupplierStatus = "disputed"
	OnHold      SupplierStatus = "on_hold"
)

// Supplier is who delivers and is paid.
type Supplier struct {
	ID       int64
	Code     string
	Name     string
	TaxID    string
	Address  string
	Country  string
	Currency money.Currency
	Status   SupplierStatus
	IBAN     string
	BIC      string
	Terms    Terms
}

// Terms are the payment terms agreed with a supplier (rules §10).
type Terms struct {
	FromReceipt     bool // the base date is the last receipt, else the invoice's date
	NetDays         int
	EndOfMonth      bool // moves the day to the end of its month
	DayOfMonth      int  // then to this day of the next month, if above zero
	DiscountPercent money.Decimal
	DiscountDays    int
}

// Due is the day on which an invoice is due, counted from its base date.
func (t Terms) Due(base day.Day) day.Day {
	due := base.Add(t.NetDays)
	if t.EndOfMonth {
		due = due.EndOfMonth()
	}
	if t.DayOfMonth > 0 {
		due = due.InNextMonth(t.DayOfMonth)
	}
	return due
}

// DiscountUntil is the last day on which the discount may be taken, or no day
// where none is agreed.
func (t Terms) DiscountUntil(base day.Day) day.Day {
	if t.DiscountPercent == 0 {
		return ""
	}
	return base.Add(t.DiscountDays)
}

// YearlyRate is what a discount is worth as a yearly rate in per cent:
// d ÷ (100 − d) × 365 ÷ (days between discount and due day), two places (textbook
// finance). Zero where no day lies between.
func (t Terms) YearlyRate(base day.Day) money.Decimal {
	days := t.DiscountUntil(base).Until(t.Due(base))
	if t.DiscountPercent == 0 || days <= 0 || t.DiscountPercent >= money.Int(100) {
		return 0
	}
	return money.Ratio(int64(t.DiscountPercent)*365, int64(money.Int(100)-t.DiscountPercent)*int64(days))
}

// NormalNumber is an invoice or delivery note number without case, spaces,
// punctuation and leading zeros: numbers that agree in it are the same (rules §5).
func NormalNumber(number string) string {
	var b strings.Builder
	for _, c := range strings.ToUpper(number) {
		if (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c > 127 {
			b.WriteRune(c)
		}
	}
	return strings.TrimLeft(b.String(), "0")
}

var lookAlikes = strings.NewReplacer("O", "0", "I", "1", "L", "1", "S", "5", "B", "8")

// LikeNumber tells whether two normal numbers differ by one character only, or by
// look-alikes (O/0, I/1, S/5, B/8).
func LikeNumber(a, b string) bool {
	if a == b || a == "" || b == "" {
		return false
	}
	return lookAlikes.Replace(a) == lookAlikes.Replace(b) || oneApart([]rune(a), []rune(b))
}

// oneApart: one character changed, added or left out.
func oneApart(a, b []rune) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(b)-len(a) > 1 {
		return false
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	restA, restB := a[i:], b[i:]
	if len(a) == len(b) {
		return string(restA[1:]) == string(restB[1:])
	}
	return string(restA) == string(restB[1:])
}

// ValidIBAN checks form and check digits (ISO 13616, modulo 97); spaces are not
// expected.
func ValidIBAN(iban string) bool {
	if len(iban) < 15 || len(iban) > 34 {
		return false
	}
	rest := 0
	for i, c := range iban[4:] + iban[:4] {
		letter, digit := c >= 'A' && c <= 'Z', c >= '0' && c <= '9'
		head := i - (len(iban) - 4) // 0 and 1 are the country, 2 and 3 the check digits
		switch {
		case digit && head != 0 && head != 1:
			rest = (rest*10 + int(c-'0')) % 97
		case letter && head < 2:
			rest = (rest*100 + int(c-'A') + 10) % 97
		default:
			return false
		}
	}
	return rest == 1
}

// PlainIBAN is an account number without spaces, in capitals.
func PlainIBAN(text string) string {
	return strings.ToUpper(strings.Join(strings.Fields(text), ""))
}
