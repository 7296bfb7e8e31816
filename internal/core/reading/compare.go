package reading

// This file holds the page of a file against what the file itself says: what people read and what machines read are to be the
// same invoice.

import (
	"slices"

	"lagoon/internal/core/money"
)

// Stated is what a file says of an invoice.
type Stated struct {
	Number string
	Totals []money.Entered // any of which may stand on the page as its total: with tax, and what is left to pay
	IBAN   string          // plain; empty: none
}

// Otherwise is what a page says otherwise than its file; what is empty agrees, or does not plainly stand there.
type Otherwise struct {
	Number string
	Total  money.Entered
	IBAN   string
}

// Compare holds a page against what its file says. It is careful: what is doubtful, what a machine has only seen, and a number
// beside which the file's own stands as well, are no difference.
func Compare(paper Paper, stated Stated, known Known) (o Otherwise) {
	if paper.Seen || len(paper.Words) == 0 {
		return o
	}
	p, laid := Propose(paper, known), Lay(paper)
	if n := p.Number; n.Value != "" && !n.Doubtful && plain(n.Value) != plain(stated.Number) && !laid.Says(stated.Number) {
		o.Number = n.Value
	}
	if t := p.Total; t.Value != "" && !t.Doubtful && !slices.ContainsFunc(stated.Totals, func(s money.Entered) bool { return same(s, t.Value) }) {
		o.Total = t.Value
	}
	if p.IBAN.Value != "" && stated.IBAN != "" && !laid.Says(stated.IBAN) {
		o.IBAN = p.IBAN.Value
	}
	return o
}

// same tells whether two amounts are the same without their sign: a credit note's page gives either.
func same(a, b money.Entered) bool {
	x, err := money.ParseDecimal(string(a))
	y, no := money.ParseDecimal(string(b))
	return err == nil && no == nil && x.Abs() == y.Abs()
}

// Layout is a paper in lines, for whoever asks it for numbers.
type Layout struct{ lines []line }

// Lay puts a paper into lines.
func Lay(paper Paper) Layout { return Layout{lines(paper.Words)} }

// Says tells whether a number stands on the paper, compared plainly: as words of their own, from the beginning of one to the end
// of one.
func (l Layout) Says(number string) bool {
	text := plain(number)
	return text != "" && slices.ContainsFunc(l.lines, func(l line) bool {
		_, stands := l.found(text)
		return stands
	})
}
