// Package trade holds the documents of the trade, their totals and their states.
package trade

import (
	"cmp"
	"regexp"
	"strconv"
	"strings"
	"unicode"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Supplier is who delivers and is paid.
type Supplier struct {
	ID       int64
	Code     string
	Name     string
	NotYet   bool // may be asked, and is not ordered from yet
	Once     bool // for this once
	TaxID    string
	Untaxed  bool // not registered for tax: nothing ordered there bears any
	Country  string
	Language string // ISO 639-1, of what is sent
	Currency money.Currency
	Holds    Holds
	IBAN     string
	BIC      string
	// AccountBy changed who is paid or where (payee, IBAN, BIC) and nobody else has confirmed
	// it yet; zero once somebody has. Nothing is paid meanwhile.
	AccountBy int64
	// Payee is who is paid in its place, by name, where the account is that one's; empty: itself.
	Payee string
	// PaidApart says that Payee is paid for one invoice alone.
	PaidApart bool
	// Accounts are further ones that its invoices may name; payments go to IBAN. They are read only where they are
	// asked for.
	Accounts       []BankAccount
	PayTo          int64 // another supplier that is paid instead; zero: this one
	Level          Level // empty: the company's
	Terms          Terms
	Budget         string       // proposed on orders
	Tax            string       // tax code, proposed on orders and taken for its invoices
	LeastOrder     money.Amount // net, in the supplier's currency; zero: none
	FreeFrom       money.Amount // an order from this net on is delivered free of freight; zero: none
	CustomerNumber string       // ours, at this supplier; printed on what it is sent
	StandingText   string       // written on every order and return note
	ClosedDays     string       // days of the week without deliveries, ISO 8601: 1 is Monday
	Incomplete     bool         // made on the fly, to be finished
	Version        int64
}

// BankAccount is a further account of a supplier. By entered it and nobody else has
// confirmed it yet; zero once somebody has.
type BankAccount struct {
	No        int
	IBAN, BIC string
	By        int64
	Ended     bool
}

// PaidName is the name of who is paid.
func (s Supplier) PaidName() string { return cmp.Or(s.Payee, s.Name) }

// Knows tells whether an account is the one that is paid or a further one that was
// confirmed.
func (s Supplier) Knows(iban string) bool {
	for _, a := range s.Accounts {
		if a.IBAN == iban && a.By == 0 && !a.Ended {
			return true
		}
	}
	return iban == s.IBAN
}

// DeliversOn tells whether the supplier delivers on the day of the week of d.
func (s Supplier) DeliversOn(d day.Day) bool {
	weekday := (int(d.Time().Weekday())+6)%7 + 1
	return !strings.Contains(s.ClosedDays, strconv.Itoa(weekday))
}

// TaxCategory is the UNCL 5305 code of a rate where nobody said another: S standard,
// Z zero rated, O where the supplier is not registered for tax.
func (s Supplier) TaxCategory(rate money.Decimal) string {
	switch {
	case s.Untaxed:
		return "O"
	case rate == 0:
		return "Z"
	default:
		return "S"
	}
}

// Terms are the payment terms agreed with a supplier (rules §10).
type Terms struct {
	FromReceipt     bool // the base date is the last receipt, else the invoice's date
	NetDays         int
	EndOfMonth      bool // moves the day to the end of its month
	DayOfMonth      int  // then to this day of the next month, if above zero
	DiscountPercent money.Decimal
	DiscountDays    int
	Later           Steps // further discounts, each smaller
	Instalments     Steps // none: it is due whole
}

// Due is the day on which an invoice is due, counted from its base date.
func (t Terms) Due(base day.Day) day.Day {
	if parts := t.Instalments.All(); len(parts) > 0 { // the first of them
		return t.after(parts[0].Days, base)
	}
	return t.after(t.NetDays, base)
}

// after is some days after a base date, moved as the terms say: to the end of the month, then to a day of the next.
func (t Terms) after(days int, base day.Day) day.Day {
	due := base.Add(days)
	if t.EndOfMonth {
		due = due.EndOfMonth()
	}
	if t.DayOfMonth > 0 {
		due = due.InNextMonth(t.DayOfMonth)
	}
	return due
}

// DueBy says whose due date counts where an invoice states one (rules §10).
type DueBy string

// Ours, which the terms make, counts unless the company says otherwise.
const (
	DueOurs   DueBy = "ours"
	DueTheirs DueBy = "theirs"
	DueLater  DueBy = "later"
)

// Known tells whether it is one of these.
func (d DueBy) Known() bool { return d == DueOurs || d == DueTheirs || d == DueLater }

// Of is the due date that counts, of the computed one and of the one that the invoice states; empty where it states none.
func (d DueBy) Of(ours, stated day.Day) day.Day {
	switch {
	case stated == "":
		return ours
	case d == DueTheirs:
		return stated
	case d == DueLater:
		return max(ours, stated)
	}
	return ours
}

// DiscountUntil is the last day on which the discount may be taken, or no day
// where none is agreed.
func (t Terms) DiscountUntil(base day.Day) day.Day {
	if t.DiscountPercent == 0 {
		return ""
	}
	return base.Add(t.DiscountDays)
}

// YearlyRate is what the discount of the terms is worth as a yearly rate in per cent.
func (t Terms) YearlyRate(base day.Day) money.Decimal {
	return RatePerYear(int64(t.DiscountPercent), int64(money.Int(whole)), t.DiscountUntil(base), t.Due(base))
}

// RatePerYear is what a discount of a whole is worth as a yearly rate in per cent: discount ÷ (whole − discount) × 365 ÷ the days
// that lie between its last day and the due day, two places (rules §10, textbook finance). Zero where it is worth nothing.
func RatePerYear(discount, whole int64, until, due day.Day) money.Decimal {
	if discount <= 0 || discount >= whole || until == "" || until >= due {
		return 0
	}
	return money.Ratio(discount*365, (whole-discount)*int64(until.Until(due)))
}

// NormalNumber is an invoice or delivery note number without case, spaces, punctuation and
// the leading zeros of each run of digits; punctuation between two runs of digits keeps them
// apart. Numbers that agree in it are the same (rules §5): INV-0012 and inv 12, but not K2-11
// and K21-1.
func NormalNumber(number string) string {
	var b strings.Builder
	digits, apart := "", false // the run of digits at hand; something stood after it
	flush := func() {
		if digits != "" {
			b.WriteString(strings.TrimLeft(digits, "0"))
		}
		digits = ""
	}
	for _, c := range strings.ToUpper(number) {
		switch {
		case c >= '0' && c <= '9':
			if digits != "" && apart {
				flush()
				b.WriteByte('-')
			}
			digits, apart = digits+string(c), false
		case (c >= 'A' && c <= 'Z') || c > 127 && !unicode.IsSpace(c) && !unicode.IsPunct(c):
			flush()
			b.WriteRune(c)
		case !unicode.IsSpace(c):
			apart = true
		}
	}
	flush()
	return strings.Trim(b.String(), "-")
}

var lookAlikes = strings.NewReplacer("O", "0", "I", "1", "L", "1", "S", "5", "B", "8")

// LikeNumber tells whether two numbers that are not the same differ by one character only,
// or by look-alikes (O/0, I/1, S/5, B/8). What is a zero may lead a run of digits, so
// look-alikes are read before the numbers are made normal.
func LikeNumber(a, b string) bool {
	plainA, plainB := NormalNumber(a), NormalNumber(b)
	if plainA == plainB || plainA == "" || plainB == "" {
		return false
	}
	return seen(a) == seen(b) || oneApart([]rune(plainA), []rune(plainB))
}

func seen(number string) string { return NormalNumber(lookAlikes.Replace(strings.ToUpper(number))) }

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

var structured = regexp.MustCompile(`^RF[0-9]{2}[A-Z0-9]{4,21}$`)

// MistypedReference tells whether a text is written as a creditor's reference (ISO 11649) and its check digits say that it
// is none. Other texts are what a supplier may ask for as well.
func MistypedReference(text string) bool {
	return structured.MatchString(PlainIBAN(text)) && !ValidReference(text)
}

// ValidReference checks a creditor's reference (ISO 11649): RF, two check digits and at most
// 21 letters and digits, modulo 97 as an account number.
func ValidReference(text string) bool {
	text = PlainIBAN(text)
	if len(text) < 5 || len(text) > 25 || !strings.HasPrefix(text, "RF") {
		return false
	}
	rest := 0
	for _, c := range text[4:] + text[:4] {
		switch {
		case c >= '0' && c <= '9':
			rest = (rest*10 + int(c-'0')) % 97
		case c >= 'A' && c <= 'Z':
			rest = (rest*100 + int(c-'A') + 10) % 97
		default:
			return false
		}
	}
	return rest == 1
}

// ValidBIC checks the form of a bank's code (ISO 9362): four letters or digits, a country
// of two letters, two letters or digits for the place, and three more for a branch.
func ValidBIC(bic string) bool {
	if len(bic) != 8 && len(bic) != 11 {
		return false
	}
	for i, c := range bic {
		letter, digit := c >= 'A' && c <= 'Z', c >= '0' && c <= '9'
		if country := i == 4 || i == 5; !letter && (country || !digit) {
			return false
		}
	}
	return true
}

// PlainIBAN is an account number without spaces, in capitals.
func PlainIBAN(text string) string {
	return strings.ToUpper(strings.Join(strings.Fields(text), ""))
}
