package reading

// This file learns from what a person corrected where on a supplier's papers something stands: behind or below which words.

import (
	"strings"
	"unicode"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// What is learned: the fields of a paper that somebody may correct.
const (
	NumberField = "number"
	DateField   = "date"
	TotalField  = "total"
)

// Fields are those that are learned, in the order of the form.
var Fields = []string{NumberField, DateField, TotalField}

// Rule says where the papers of a supplier say something.
type Rule struct {
	Field string
	Words string // before it
	Below bool   // it stands under them, not behind them
}

// Keyed is what a person says that a paper says.
type Keyed struct {
	Number string
	Date   day.Day
	Total  money.Decimal
}

// mostWords are taken of a label.
const mostWords = 4

// leastLabel are the letters that a label has: fewer lead anywhere.
const leastLabel = 3

// Learn tells, of what was proposed otherwise or doubtfully than a person keyed it, by which words it can be found the next
// time. What stands nowhere on the paper, or where no words lead to it, teaches nothing.
func Learn(paper Paper, p Proposal, keyed Keyed) []Rule {
	r := reader{lines: lines(paper.Words)}
	wrong := map[string]bool{
		NumberField: keyed.Number != "" && (plain(p.Number.Value) != plain(keyed.Number) || p.Number.Doubtful && !paper.Seen),
		DateField:   keyed.Date != "" && (p.Date.Value != keyed.Date || p.Date.Doubtful),
		TotalField:  keyed.Total != 0 && (p.Total.Value == "" || p.Total.Value != twoPlaces(keyed.Total) || p.Total.Doubtful && !paper.Seen),
	}
	var rules []Rule
	for _, field := range Fields {
		if !wrong[field] {
			continue
		}
		if rule, ok := r.teaches(field, keyed); ok {
			rules = append(rules, rule)
		}
	}
	return rules
}

// teaches finds what was keyed on the paper, with the words that lead to it and to nothing else before: behind them rather
// than below them, and of a total, which a line may come to as well, the last.
func (r *reader) teaches(field string, keyed Keyed) (Rule, bool) {
	for _, below := range []bool{false, true} {
		for n := range r.lines {
			i := n
			if field == TotalField {
				i = len(r.lines) - 1 - n
			}
			l := r.lines[i]
			for at := range l {
				words := r.says(field, l, at, keyed)
				if words == 0 {
					continue
				}
				box := line(l[at : at+words]).box()
				rule := Rule{field, leading(l[:at]), below}
				if below {
					rule.Words = r.above(i, box)
				}
				if len(plain(rule.Words)) < leastLabel {
					continue
				}
				if found := r.follow(rule); found.box() == box {
					return rule, true
				}
			}
		}
	}
	return Rule{}, false
}

// says tells of how many words, from one of a line on, what was keyed is; 0: it does not stand there.
func (r *reader) says(field string, l line, at int, keyed Keyed) int {
	switch field {
	case DateField:
		if d, n, _ := date(l, at); d != "" && d == keyed.Date {
			return n
		}
	case TotalField:
		if sum, ok := amount(l[at].Text); ok && sum == keyed.Total {
			return 1
		}
	case NumberField:
		have := ""
		for to := at; to < len(l) && len(have) < len(plain(keyed.Number)); to++ {
			if have += plain(l[to].Text); have == plain(keyed.Number) {
				return to - at + 1
			}
		}
	}
	return 0
}

// leading are the last words of a line before something, back to one with a digit or that ends a sentence.
func leading(before line) string {
	from := len(before)
	for from > 0 && len(before)-from < mostWords && !strings.ContainsFunc(before[from-1].Text, unicode.IsDigit) {
		from--
	}
	return strings.Trim(before[from:].text(), " :.,#")
}

// above are the words of the line above that stand over a place.
func (r *reader) above(i int, box Box) string {
	if i == 0 || r.lines[i-1][0].Page != box.Page {
		return ""
	}
	return leading(r.lines[i-1].within(box.Left-10, box.Right+10))
}

// follow finds the words that a rule leads to: the first thing of its kind behind or below its own, wherever these stand first
// with one; none where they lead nowhere.
func (r *reader) follow(rule Rule) line {
	text := plain(rule.Words)
	for i, l := range r.lines {
		label, ok := l.found(text)
		if !ok {
			continue
		}
		var rest line
		if !rule.Below {
			for _, w := range l {
				if w.Left >= label.Right {
					rest = append(rest, w)
				}
			}
		} else if i+1 < len(r.lines) && r.lines[i+1][0].Page == label.Page {
			rest = r.lines[i+1].within(label.Left-10, label.Right+60)
		}
		for at := range rest {
			if n := r.kindAt(rule.Field, rest, at); n > 0 {
				return rest[at : at+n]
			}
		}
	}
	return nil
}

// kindAt tells of how many words something is that may be a field's; 0: none.
func (r *reader) kindAt(field string, l line, at int) int {
	d, n, _ := date(l, at)
	isDay := d != ""
	_, isAmount := amount(l[at].Text)
	switch {
	case field == DateField && isDay:
		return n
	case field == TotalField && isAmount:
		return 1
	case field == NumberField && !isDay && !isAmount && strings.ContainsFunc(l[at].Text, unicode.IsDigit):
		return 1
	case field == NumberField && at+1 < len(l) && isPrefix(l[at:at+1]) && r.kindAt(field, l, at+1) == 1: // BF 20440, in two words
		return 2
	}
	return 0
}

// learned puts what the rules of a supplier lead to in the place of what was found without them.
func (r *reader) learned(p *Proposal, rules []Rule) {
	for _, rule := range rules {
		said := r.follow(rule)
		if len(said) == 0 {
			continue
		}
		box := said.box()
		switch rule.Field {
		case NumberField:
			p.Number = Read[string]{bare(said.text()), box, false}
		case DateField:
			d, _, unsure := date(said, 0)
			p.Date = Read[day.Day]{d, box, unsure}
		case TotalField:
			sum, _ := amount(said[0].Text)
			p.Total = Read[money.Entered]{twoPlaces(sum), box, r.exceeds(sum)}
		}
	}
}

// exceeds tells whether a paper says more anywhere than what is taken for its total.
func (r *reader) exceeds(total money.Decimal) bool {
	for _, l := range r.lines {
		for _, w := range l {
			if sum, ok := amount(w.Text); ok && sum.Abs() > total.Abs() {
				return true
			}
		}
	}
	return false
}
