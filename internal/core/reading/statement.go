package reading

// This file reads the lines of a supplier's statement: out of a table, or of the text of its paper. What is no line is told, so that
// nothing is lost.

import (
	"regexp"
	"strings"
	"unicode"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// StatementLine is a line of a supplier's statement as it was read. A payment or a credit is below zero.
type StatementLine struct {
	Number   string
	Day      day.Day
	Amount   money.Decimal
	Doubtful bool // day and month could be each other
}

// Statement is what was read of one. Rest are its rows that hold an amount and could not be read as a line.
type Statement struct {
	Lines []StatementLine
	Rest  []string
}

var (
	takesOff   = regexp.MustCompile(`(?i)\b(credit|payment|paid|gutschrift|zahlung|avoir|paiement|règlement)\b`)
	sumsUp     = regexp.MustCompile(`(?i)\b(total|balance|saldo|summe|solde|carried|brought|übertrag|report)\b`)
	numberHead = regexp.MustCompile(`(?i)invoice|document|number|reference|^no\.?$|rechnung|beleg|nummer|facture|pièce|numéro`)
	dayHead    = regexp.MustCompile(`(?i)date|datum|^day$`)
	amountHead = regexp.MustCompile(`(?i)amount|open|betrag|offen|montant|ouvert|^total$`)
	debitHead  = regexp.MustCompile(`(?i)^(debit|soll|débit|charges?)$`)
	creditHead = regexp.MustCompile(`(?i)^(credit|haben|crédit|payments?)$`)
)

// StatementOf reads a statement out of the text of its paper: a line has a day, a number and an amount, the first of several.
func StatementOf(paper Paper) (s Statement) {
	for _, l := range lines(paper.Words) {
		s.take(l)
	}
	return s
}

// StatementRows reads a statement out of a table: by the names of its columns where the first row says which is which, else cell by
// cell.
func StatementRows(rows [][]string) (s Statement) {
	if len(rows) == 0 {
		return s
	}
	columns := rows[0]
	at := map[*regexp.Regexp]int{}
	for _, head := range []*regexp.Regexp{numberHead, dayHead, debitHead, creditHead, amountHead} {
		at[head] = -1
		for i, c := range columns {
			if at[head] < 0 && head.MatchString(strings.TrimSpace(c)) {
				at[head] = i
			}
		}
	}
	cell := func(row []string, head *regexp.Regexp) string {
		if i := at[head]; i >= 0 && i < len(row) {
			return strings.TrimSpace(row[i])
		}
		return ""
	}
	named := at[numberHead] >= 0 && (at[amountHead] >= 0 || at[debitHead] >= 0)
	if named {
		rows = rows[1:]
	}
	for _, row := range rows {
		if !named {
			s.take(words(row))
			continue
		}
		text := strings.Join(row, " ")
		l := StatementLine{Number: cell(row, numberHead)}
		sum, known := figure(cell(row, amountHead))
		if debit, ok := figure(cell(row, debitHead)); ok && debit != 0 {
			sum, known = debit, true
		}
		if credit, ok := figure(cell(row, creditHead)); ok && credit != 0 {
			sum, known = -credit.Abs(), true
		}
		if d := words([]string{cell(row, dayHead)}); len(d) > 0 {
			l.Day, _, l.Doubtful = date(d, 0)
		}
		l.Amount = signed(sum, text)
		s.keep(l, text, known)
	}
	return s
}

// words are the words of cells, as if they stood on a line.
func words(cells []string) (l line) {
	for _, c := range cells {
		for w := range strings.FieldsSeq(c) {
			l = append(l, Word{Text: w})
		}
	}
	return l
}

// take reads a line word by word.
func (s *Statement) take(l line) {
	var (
		found StatementLine
		known bool
	)
	for at := 0; at < len(l); at++ {
		if d, n, doubtful := date(l, at); n > 0 && d != "" {
			if found.Day == "" {
				found.Day, found.Doubtful = d, doubtful
			}
			at += n - 1
			continue
		}
		word := strings.Trim(l[at].Text, ",;:")
		if sum, ok := amount(word); ok {
			if !known {
				found.Amount, known = sum, true
			}
			continue
		}
		if found.Number == "" && !known && isNumber(word) {
			found.Number = word
		}
	}
	text := l.text()
	found.Amount = signed(found.Amount, text)
	s.keep(found, text, known && found.Day != "")
}

// keep keeps a line that was read; what holds an amount and is none is told, sums aside.
func (s *Statement) keep(l StatementLine, text string, known bool) {
	switch {
	case known && l.Amount != 0 && (l.Number != "" || l.Day != "") && (l.Number != "" || !sumsUp.MatchString(text)):
		s.Lines = append(s.Lines, l)
	case known || strings.TrimSpace(text) == "":
	default:
		for w := range strings.FieldsSeq(text) {
			if _, ok := amount(w); ok && !sumsUp.MatchString(text) {
				s.Rest = append(s.Rest, text)
				return
			}
		}
	}
}

// signed takes what a line calls a credit or a payment below zero.
func signed(sum money.Decimal, text string) money.Decimal {
	if sum > 0 && takesOff.MatchString(text) {
		return -sum
	}
	return sum
}

// figure reads an amount of a column that is one: with two decimals or without.
func figure(text string) (money.Decimal, bool) {
	if d, ok := amount(text); ok {
		return d, true
	}
	d, err := money.ParseDecimal(text)
	return d, err == nil && text != ""
}

// isNumber tells whether a word may be the number of a document: it has a figure in it, and more than one character.
func isNumber(word string) bool {
	return len([]rune(word)) > 1 && strings.ContainsFunc(word, unicode.IsDigit)
}
