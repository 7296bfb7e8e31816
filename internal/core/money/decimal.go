package money

import (
	"errors"
	"strconv"
	"strings"
)

// scale is the number of units in one: a Decimal counts millionths.
const scale = 1_000_000

// Largest bounds every amount (minor units) and every decimal (millionths), so
// that a sum of a thousand of them still fits 64 bits.
const Largest int64 = 9_000_000_000_000_000

// Errors of reading and computing numbers. They carry no sentence for a user:
// the caller knows the field.
var (
	ErrNotNumber  = errors.New("not a number")
	ErrTooLarge   = errors.New("number too large")
	ErrTooManyDec = errors.New("more decimal places than are kept")
)

// Decimal is an exact number of at most six decimal places, held as a count of
// millionths: a quantity, a unit price, a percentage or an exchange rate (rules §1).
type Decimal int64

// Int makes a Decimal of a whole number.
func Int(n int64) Decimal { return Decimal(n * scale) }

// ParseDecimal reads "1250.5" or "-0.000001": an optional sign, digits, a point.
// More than six decimal places are an error, never rounded away; trailing zeros
// beyond the sixth place change nothing and are accepted.
func ParseDecimal(text string) (Decimal, error) {
	n, err := parse(text, 6)
	return Decimal(n), err
}

// MustDecimal is ParseDecimal for constants in code and tests.
func MustDecimal(text string) Decimal {
	d, err := ParseDecimal(text)
	if err != nil {
		panic("money: " + text + ": " + err.Error())
	}
	return d
}

// String writes the shortest exact form with a decimal point: "12.5".
func (d Decimal) String() string {
	text := format(int64(d), 6)
	return strings.TrimSuffix(strings.TrimRight(text, "0"), ".")
}

// MarshalText writes the decimal as text: a record that is kept is read by people too.
func (d Decimal) MarshalText() ([]byte, error) { return []byte(d.String()), nil }

// UnmarshalText reads what MarshalText wrote.
func (d *Decimal) UnmarshalText(text []byte) (err error) {
	*d, err = ParseDecimal(string(text))
	return err
}

// Whole tells whether d has no decimal part.
func (d Decimal) Whole() bool { return d%scale == 0 }

// Floor is the largest whole number that is not above d.
func (d Decimal) Floor() Decimal {
	rest := d % scale
	if rest < 0 {
		rest += scale
	}
	return d - rest
}

// Ceil is the smallest whole number that is not below d.
func (d Decimal) Ceil() Decimal { return -(-d).Floor() }

// Abs is the distance of d from zero.
func (d Decimal) Abs() Decimal {
	if d < 0 {
		return -d
	}
	return d
}

// parse reads a decimal text into a whole number of 10^-places.
func parse(text string, places int) (int64, error) {
	body, negative := strings.CutPrefix(text, "-")
	whole, fraction, point := strings.Cut(body, ".")
	if whole == "" || (point && fraction == "") || !digits(whole) || !digits(fraction) {
		return 0, ErrNotNumber
	}
	fraction = strings.TrimRight(fraction, "0")
	if len(fraction) > places {
		return 0, ErrTooManyDec
	}
	whole = strings.TrimLeft(whole, "0")
	if len(whole) > 16 {
		return 0, ErrTooLarge
	}
	n, err := strconv.ParseInt("0"+whole+fraction+strings.Repeat("0", places-len(fraction)), 10, 64)
	if err != nil || n > Largest {
		return 0, ErrTooLarge
	}
	if negative {
		n = -n
	}
	return n, nil
}

func digits(text string) bool {
	for _, c := range text {
		if c < '0' || c > '9' {
			return false
		}
	}
	return true
}

// format writes n × 10^-places with exactly that many places.
func format(n int64, places int) string {
	sign := ""
	if n < 0 {
		sign = "-"
	}
	text := strconv.FormatUint(magnitude(n), 10)
	if len(text) <= places {
		text = strings.Repeat("0", places+1-len(text)) + text
	}
	if places == 0 {
		return sign + text
	}
	cut := len(text) - places
	return sign + text[:cut] + "." + text[cut:]
}
