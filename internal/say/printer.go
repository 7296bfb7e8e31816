// Package say makes the sentences: findings, bookings and refusals in words with
// their arithmetic, in the reader's number format, in one place for screen, mail and
// command line alike.
package say

import (
	"cmp"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Printer writes numbers as one reader is used to: 1,250.5 or, with Comma, 1.250,5.
type Printer struct {
	Comma        bool // 1.250,5
	HideAccounts bool // the reader sees no bank account whole
}

// Quantity writes a quantity, price or percentage without needless zeros.
func (p Printer) Quantity(d money.Decimal) string { return p.grouped(d.String()) }

// Price writes a unit price with at least the currency's places.
func (p Printer) Price(d money.Decimal, currency money.Currency) string {
	whole, fraction, _ := strings.Cut(d.String(), ".")
	for len(fraction) < currency.Places() {
		fraction += "0"
	}
	if fraction != "" {
		whole += "." + fraction
	}
	return p.grouped(whole)
}

// Amount writes an amount with the currency's places and without its code.
func (p Printer) Amount(a money.Amount, currency money.Currency) string {
	return p.grouped(a.Text(currency))
}

// Money writes an amount with its currency.
func (p Printer) Money(a money.Amount, currency money.Currency) string {
	return p.Amount(a, currency) + " " + string(currency)
}

// Measure writes a quantity with its unit: "12.5 kg".
func (p Printer) Measure(d money.Decimal, unit string) string {
	name := Unit(unit)
	if d == money.Int(1) {
		name = singular(name)
	}
	return p.Quantity(d) + " " + name
}

// singular is the name of one unit, of several.
func singular(name string) string {
	if box, ok := strings.CutSuffix(name, "xes"); ok {
		return box + "x"
	}
	return strings.TrimSuffix(name, "s")
}

// Decimal writes a number that is written exactly, with the places that it has.
func (p Printer) Decimal(exact string) string { return p.grouped(exact) }

// Day writes a date: "16 Nov 2026".
func (p Printer) Day(d day.Day) string {
	if d == "" {
		return "no day"
	}
	return d.Time().Format("2 Jan 2006")
}

func (p Printer) grouped(number string) string {
	sign, body := "", number
	if strings.HasPrefix(body, "-") {
		sign, body = "−", body[1:]
	}
	whole, fraction, point := strings.Cut(body, ".")
	var b strings.Builder
	for i, c := range whole {
		if i > 0 && (len(whole)-i)%3 == 0 {
			b.WriteByte(',')
		}
		b.WriteRune(c)
	}
	text := b.String()
	if point {
		text += "." + fraction
	}
	if p.Comma {
		text = strings.NewReplacer(",", ".", ".", ",").Replace(text)
	}
	return sign + text
}

// UN/ECE Recommendation 20 codes and the words that people use for them.
var units = map[string]string{
	"C62": "pieces", "H87": "pieces", "EA": "each", "KGM": "kg", "GRM": "g", "TNE": "t", "LTR": "l", "MTR": "m", "MTK": "m²",
	"HUR": "hours", "DAY": "days", "XCT": "cartons", "XBX": "boxes", "XTB": "tubs", "XBG": "bags", "XPK": "packages", "XDR": "drums", "SET": "sets",
	trade.MonetaryValue: "in value",
}

// Units are the unit codes that have a word, with it, by word.
func Units() [][2]string {
	var all [][2]string
	for code, word := range units {
		all = append(all, [2]string{code, word})
	}
	slices.SortFunc(all, func(a, b [2]string) int { return cmp.Or(cmp.Compare(a[1], b[1]), cmp.Compare(a[0], b[0])) })
	return all
}

// Unit is the word for a unit code, or the code itself where there is none.
func Unit(code string) string {
	if code == trade.PerCent { // that lines by value are accepted in, not ordered
		return "%"
	}
	if word, ok := units[code]; ok {
		return word
	}
	return code
}
