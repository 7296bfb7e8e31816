package reading

import (
	"cmp"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Known is what Lagoon knows that may stand on a paper.
type Known struct {
	Suppliers []Supplier
	// Order gives the supplier's code of an order by its number, and Note the order of a delivery note of a supplier.
	Order func(number string) (supplier string, ok bool)
	Note  func(supplier, note string) bool
	// Account tells whether a text is an account number (IBAN) that may be the supplier's: valid, and none of our own.
	Account func(text string) bool
	Today   day.Day
	// Rules gives what was learned of a supplier's papers; nil: nothing.
	Rules func(supplier string) []Rule
}

// Supplier is one with what identifies it.
type Supplier struct {
	Code, Name, TaxID string
	Others            []string // other names that it goes by
	CustomerNumber    string   // ours, there
	IBANs             []string
}

// Read is something that was read, where, and whether it is doubtful.
type Read[T any] struct {
	Value    T
	At       Box
	Doubtful bool
}

// Proposal is what a paper is proposed to say; a zero Box is of what was not found.
type Proposal struct {
	Supplier Read[string] // its code
	Number   Read[string]
	Date     Read[day.Day]
	Orders   []Read[string]
	Notes    []Read[string]
	Total    Read[money.Entered] // with tax, as it is stated
	Currency string              // that stands beside it; empty where none does
	IBAN     Read[string]        // that it asks to be paid to: the supplier's where it names that, else the first
	Credit   bool                // it calls itself a credit note
	Rows     []Row               // the table of goods, where all of it was recognised
}

// Propose reads a paper.
func Propose(paper Paper, known Known) Proposal {
	r := reader{lines: lines(paper.Words), known: known}
	r.dated = dated(r.lines)
	var p Proposal
	p.Supplier = r.supplier()
	p.Credit = r.credit()
	p.Orders = r.orders(&p)
	p.Notes = r.notes(p.Supplier.Value)
	p.IBAN = r.account(p.Supplier.Value)
	p.Date = r.day()
	p.Number = r.number(p)
	total, currency := r.total()
	p.Rows = r.rows(total.Value)
	p.Total, p.Currency = Read[money.Entered]{stated(total), total.At, total.Doubtful}, currency
	if known.Rules != nil && p.Supplier.Value != "" {
		r.learned(&p, known.Rules(p.Supplier.Value))
	}
	if paper.Seen { // a machine's eyes err where a file's own text does not
		p.Number.Doubtful, p.Total.Doubtful = true, p.Total.Doubtful || !r.addsUp
	}
	return p
}

// stated is a total as it is typed: with its two places.
func stated(total Read[money.Decimal]) money.Entered {
	if total.At.Page == 0 {
		return ""
	}
	return twoPlaces(total.Value)
}

func twoPlaces(d money.Decimal) money.Entered {
	whole, cents, _ := strings.Cut(d.String(), ".")
	return money.Entered(whole + "." + (cents + "00")[:2])
}

type reader struct {
	lines  []line
	known  Known
	dated  map[Box]bool    // the words that are part of a day
	addsUp bool            // net and tax, found by themselves, come to the total
	nets   []money.Decimal // that are stated
}

// What tells a supplier from others weighs: a tax number and an account, which nobody else has; the number that we have as its
// customer, which another supplier may give as well; and its name. Name and customer number together are as good as a tax number.
const (
	weighsNumber   = 10
	weighsCustomer = 7
	weighsName     = 3
)

// supplier finds who sent it: by tax number and account, else by the number that we have there and its name. It is doubtful
// where these point to different ones, or one of the weaker stands alone.
func (r *reader) supplier() Read[string] {
	type hit struct {
		at     Box
		weight int
	}
	hits := map[string]hit{}
	add := func(code string, at Box, weight int) {
		h := hits[code]
		if h.weight == 0 || weight > h.weight {
			h.at = at
		}
		h.weight += weight
		hits[code] = h
	}
	whole := make([]string, len(r.lines))
	for i, l := range r.lines {
		whole[i] = plain(l.text())
	}
	stands := func(id string) (Box, bool) {
		text := plain(id)
		if len(text) < 5 {
			return Box{}, false
		}
		first := slices.IndexFunc(whole, func(w string) bool { return strings.Contains(w, text) })
		if first < 0 {
			return Box{}, false
		}
		at, ok := r.lines[first].found(text)
		if !ok {
			at = r.lines[first].box()
		}
		return at, true
	}
	customers := r.customers()
	for _, s := range r.known.Suppliers {
		numbers := append([]string{s.TaxID}, s.IBANs...)
		slices.Sort(numbers) // an account may stand twice
		for _, id := range slices.Compact(numbers) {
			if at, ok := stands(id); ok {
				add(s.Code, at, weighsNumber)
			}
		}
		for _, name := range append([]string{s.Name}, s.Others...) {
			if at, ok := stands(name); ok {
				add(s.Code, at, weighsName)
				break
			}
		}
		if at, ok := customers[plain(s.CustomerNumber)]; ok && s.CustomerNumber != "" {
			add(s.Code, at, weighsCustomer)
		}
	}
	codes := make([]string, 0, len(hits))
	for code := range hits {
		codes = append(codes, code)
	}
	slices.SortFunc(codes, func(a, b string) int {
		return cmp.Or(cmp.Compare(hits[b].weight, hits[a].weight), cmp.Compare(a, b))
	})
	if len(codes) == 0 {
		return Read[string]{}
	}
	first := hits[codes[0]]
	rival := len(codes) > 1 && (hits[codes[1]].weight == first.weight || (hits[codes[1]].weight >= weighsNumber && first.weight < 2*weighsNumber))
	return Read[string]{codes[0], first.at, rival || first.weight < weighsNumber}
}

// customers are the numbers that the paper calls ours as a customer, plainly, and where they stand.
func (r *reader) customers() map[string]Box {
	all := map[string]Box{}
	for i, l := range r.lines {
		if !customerWords.MatchString(l.text()) {
			continue
		}
		for _, rest := range r.after(i, customerWords) {
			for from := range rest {
				for to := from; to < min(len(rest), from+3); to++ { // it may be written in groups
					part := line(rest[from : to+1])
					if key := plain(part.text()); len(key) > 2 {
						all[key] = part.box()
					}
				}
			}
		}
	}
	return all
}

var creditWords = regexp.MustCompile(`(?i)\bcredit note\b|\bgutschrift\b|\bnote de cr[ée]dit\b|\bavoir\b`)

func (r *reader) credit() bool {
	for _, l := range r.lines[:min(len(r.lines), 25)] {
		if creditWords.MatchString(l.text()) {
			return true
		}
	}
	return false
}

// The words before a figure, in the languages of the letters.
var (
	orderWords    = longest(`(?i)\b(your order|order|purchase order|p\.?o\.?|ihre bestellung|bestellung|bestell-?nr\.?|auftrag|votre commande|commande|bon de commande)\b`)
	noteWords     = longest(`(?i)\b(delivery note|delivery docket|despatch note|dn|lieferschein|lieferschein-?nr\.?|bon de livraison|bl)\b`)
	numberWords   = longest(`(?i)\b(?:(?:invoice (?:no|number|nr|num)|credit note (?:no|number)|rechnung(?:s-?)?\s?(?:nr|nummer)|gutschrift(?:s-?)?\s?(?:nr|nummer)|facture (?:no|num[ée]ro)|avoir (?:no|num[ée]ro)|document (?:no|number)|beleg-?(?:nr|nummer)|tax invoice|invoice|credit note|rechnung|gutschrift|facture|avoir)\b|invoice #|facture n[°º]|avoir n[°º])`)
	customerWords = longest(`(?i)\b(customer (?:no|number|nr|id|ref|account)|customer|account (?:no|number)|your account|kunden-?\s?(?:nr|nummer)|kundennr|(?:num[ée]ro|code) (?:de )?client|client)\b|n[°º] (?:de )?client`)
	dateWords     = longest(`(?i)\b(invoice date|date of invoice|date of issue|dated|issued|tax point|rechnungsdatum|belegdatum|datum|date de (?:la )?facture|date d['’][ée]mission|date)\b`)
	otherDays     = longest(`(?i)\b(due|payable|pay by|fällig|zahlbar|[ée]ch[ée]ance|delivery|delivered|lieferdatum|livraison|order date|bestelldatum|until|bis)\b`)
	ownDay        = regexp.MustCompile(`(?i)invoice date|rechnungsdatum|date de (la )?facture`)
	grossWords    = longest(`(?i)(amount due|balance due|total due|to pay|please pay|grand total|total (?:incl|with|inc\.?)|invoice total|total amount|gesamtbetrag|rechnungsbetrag|zu zahlen|zahlbetrag|endbetrag|brutto|total ttc|net [àa] payer|montant (?:total|d[ûu])|to your credit)`)
	totalWords    = longest(`(?i)\b(total|summe|gesamt|montant)\b`)
	netWords      = longest(`(?i)(sub-?\s?total|net\b|netto|zwischensumme|total (?:ht|net|excl|ex\.?|without|before)|montant ht|hors taxe)`)
	taxWords      = longest(`(?i)\b(vat|tax|mwst|ust|umsatzsteuer|mehrwertsteuer|tva)\b`)
)

// longest is words of which the longest that stands there counts.
func longest(pattern string) *regexp.Regexp {
	words := regexp.MustCompile(pattern)
	words.Longest()
	return words
}

// after are the words of a line behind what a label says, and those right below it where the line ends with it.
func (r *reader) after(at int, label *regexp.Regexp) []line {
	l := r.lines[at]
	var all []line
	for from := range l {
		for to := min(len(l), from+3) - 1; to >= from; to-- { // the longest word for it counts
			text := strings.TrimRight(line(l[from:to+1]).text(), ":. ")
			m := label.FindStringIndex(text)
			if m == nil || m[0] != 0 || m[1] < len(text) {
				continue
			}
			all = append(all, l[to+1:])
			if at+1 < len(r.lines) {
				box := line(l[from : to+1]).box()
				var below line
				for _, w := range r.lines[at+1].within(box.Left-10, box.Right+30) {
					if w.Page == box.Page && w.Top-box.Bottom < 40 {
						below = append(below, w)
					}
				}
				all = append(all, below)
			}
			break
		}
	}
	return all
}

// orders finds the orders that it names: numbers that are orders of ours, of the supplier where that is known. Where it is
// not, the order says who it is. A number that no word introduces is doubtful.
func (r *reader) orders(p *Proposal) (all []Read[string]) {
	has := map[string]int{}
	for i, l := range r.lines {
		introduced := orderWords.MatchString(l.text()) || (i > 0 && orderWords.MatchString(r.lines[i-1].text()))
		for _, w := range l {
			number := strings.TrimFunc(w.Text, func(c rune) bool { return c < '0' || c > '9' })
			supplier, ok := r.known.Order(number)
			if number == "" || !ok || (p.Supplier.Value != "" && !p.Supplier.Doubtful && supplier != p.Supplier.Value) {
				continue
			}
			if !introduced && strings.Trim(w.Text, "#:.,;()") != number {
				continue
			}
			at, known := has[number]
			switch {
			case !known:
				has[number] = len(all)
				all = append(all, Read[string]{number, w.Box, !introduced})
			case introduced && all[at].Doubtful:
				all[at] = Read[string]{number, w.Box, false}
			}
		}
	}
	// What is introduced counts before what only happens to look like an order.
	if slices.ContainsFunc(all, func(o Read[string]) bool { return !o.Doubtful }) {
		all = slices.DeleteFunc(all, func(o Read[string]) bool { return o.Doubtful })
	}
	if len(all) > 0 && p.Supplier.Value == "" {
		supplier, _ := r.known.Order(all[0].Value)
		p.Supplier = Read[string]{supplier, all[0].At, true}
	}
	return all
}

// notes finds the delivery notes of the supplier that it names.
func (r *reader) notes(supplier string) (all []Read[string]) {
	if supplier == "" || r.known.Note == nil {
		return nil
	}
	has := map[string]bool{}
	for i, l := range r.lines {
		if !noteWords.MatchString(l.text()) {
			continue
		}
		for _, rest := range append(r.after(i, noteWords), l) {
			for from := range rest {
				for to := from; to < min(len(rest), from+3); to++ {
					part := line(rest[from : to+1])
					note := strings.Trim(part.text(), ",;:.()#")
					if key := plain(note); len(key) > 2 && !has[key] && r.known.Note(supplier, note) {
						has[key] = true
						all = append(all, Read[string]{note, part.box(), false})
					}
				}
			}
		}
	}
	return all
}

// account finds the account that is to be paid to. One that is not known of the supplier counts as well, above all: whoever
// keys the invoice is told.
func (r *reader) account(supplier string) (first Read[string]) {
	if r.known.Account == nil {
		return first
	}
	for _, l := range r.lines {
		for from := range l {
			text := ""
			for to := from; to < len(l) && len(text) < longestIBAN; to++ {
				text += plain(l[to].Text)
				if len(text) < shortestIBAN || len(text) > longestIBAN || !ibanShape.MatchString(text) || !r.known.Account(text) {
					continue
				}
				found := Read[string]{text, line(l[from : to+1]).box(), false}
				if slices.ContainsFunc(r.known.Suppliers, func(s Supplier) bool { return s.Code == supplier && slices.Contains(s.IBANs, text) }) {
					return found
				}
				if first.Value == "" {
					first = found
				}
			}
		}
	}
	return first
}

const shortestIBAN, longestIBAN = 15, 34

var ibanShape = regexp.MustCompile(`^[A-Z]{2}\d{2}[A-Z0-9]+$`)

// day finds the invoice's day: behind a word for it, else the only day that is not said to be another's.
func (r *reader) day() Read[day.Day] {
	var first, other Read[day.Day]
	days := map[day.Day]bool{}
	try := func(l line, into *Read[day.Day], doubtful bool) bool {
		for at := range l {
			if d, n, unsure := date(l, at); n > 0 && d != "" && d <= r.known.Today && d > r.known.Today.Add(-2*366) {
				days[d] = true
				if into.Value == "" {
					*into = Read[day.Day]{d, line(l[at : at+n]).box(), doubtful || unsure}
				}
				return true
			}
		}
		return false
	}
	for i, l := range r.lines {
		if otherDays.MatchString(l.text()) && !ownDay.MatchString(l.text()) {
			continue
		}
		if dateWords.MatchString(l.text()) {
			for _, rest := range r.after(i, dateWords) {
				if try(rest, &first, false) {
					break
				}
			}
		}
		try(l, &other, true)
	}
	if first.Value != "" {
		return first
	}
	other.Doubtful = other.Doubtful && len(days) != 1
	return other
}

var notNumber = regexp.MustCompile(`(?i)^(no|nr|n°|number|date|datum|page|seite)\.?:?$`)

// number finds the invoice's number: what stands behind or below a word for it, has a digit, and is nothing else.
func (r *reader) number(p Proposal) Read[string] {
	for i, l := range r.lines {
		if !numberWords.MatchString(l.text()) {
			continue
		}
		for _, rest := range r.after(i, numberWords) {
			for at, w := range rest {
				text := strings.Trim(w.Text, ",;:.()#")
				switch {
				case text == "" || notNumber.MatchString(w.Text):
					continue
				case at > 0 && at < 3 && len(rest) > at && isPrefix(rest[:at]): // BF 20440, in two words
					text = line(rest[:at]).text() + " " + text
				}
				if r.isNumber(text, rest, at, p) {
					box := w.Box
					if strings.Contains(text, " ") {
						box = line(rest[:at+1]).box()
					}
					more := r.goesOn(rest[at:])
					for _, further := range more { // F 26 1108: that all of it is the number is likely, and not sure
						text, box = text+" "+further.Text, box.around(further.Box)
					}
					return Read[string]{text, box, len(more) > 0}
				}
				if at > 1 {
					break
				}
			}
		}
	}
	return Read[string]{}
}

// goesOn are the groups of digits that stand close behind the first word, a letter and a half apart at most, and are no day.
func (r *reader) goesOn(l line) (more line) {
	for at := 1; at < len(l) && len(more) < 3; at++ {
		text, before := l[at].Text, l[at-1]
		letter := (before.Right - before.Left) / max(1, utf8.RuneCountInString(before.Text))
		if strings.Trim(text, "0123456789") != "" || 2*(l[at].Left-before.Right) > 3*letter || r.dated[l[at].Box] {
			break
		}
		more = append(more, l[at])
	}
	return more
}

// dated are the words of lines that are part of a day.
func dated(lines []line) map[Box]bool {
	all := map[Box]bool{}
	for _, l := range lines {
		for at := 0; at < len(l); at++ {
			if d, n, _ := date(l, at); d != "" {
				for _, w := range l[at : at+n] {
					all[w.Box] = true
				}
				at += n - 1
			}
		}
	}
	return all
}

// isPrefix tells whether words are the letters before a number that is written in two.
func isPrefix(l line) bool {
	return len(l) == 1 && len(l[0].Text) <= 4 && l[0].Text == strings.ToUpper(l[0].Text) && !strings.ContainsAny(l[0].Text, "0123456789:.") &&
		!slices.Contains([]string{"NO", "NR", "OF", "DATE"}, l[0].Text)
}

func (r *reader) isNumber(text string, l line, at int, p Proposal) bool {
	if !strings.ContainsAny(text, "0123456789") || len(text) > 30 {
		return false
	}
	if r.dated[l[at].Box] {
		return false
	}
	if _, ok := amount(text); ok {
		return false
	}
	return !slices.ContainsFunc(p.Orders, func(o Read[string]) bool { return o.Value == text })
}

// total finds what is to be paid, and the currency beside it. It is sure where the net and the tax, which stand by
// themselves, come to it; else where only one amount is said to be it.
func (r *reader) total() (Read[money.Decimal], string) {
	type candidate struct {
		Read[money.Decimal]
		strong   bool
		currency string
	}
	var all []candidate
	var nets, taxes []money.Decimal
	for i, l := range r.lines {
		text := l.text()
		value, box, ok := lastAmount(l)
		if !ok && i+1 < len(r.lines) && grossWords.MatchString(text) { // the figure stands under its word
			value, box, ok = lastAmount(r.lines[i+1])
		}
		if !ok {
			continue
		}
		switch {
		case grossWords.MatchString(text):
			all = append(all, candidate{Read[money.Decimal]{Value: value, At: box}, true, currencyOf(text)})
		case netWords.MatchString(text):
			nets = append(nets, value)
		case taxWords.MatchString(text) && !strings.Contains(strings.ToLower(text), "tax number"):
			taxes = append(taxes, value)
		case totalWords.MatchString(text):
			all = append(all, candidate{Read[money.Decimal]{Value: value, At: box, Doubtful: true}, false, currencyOf(text)})
		}
	}
	r.nets = nets
	if len(all) == 0 {
		return Read[money.Decimal]{}, ""
	}
	sum := money.Decimal(0)
	for _, t := range taxes {
		sum += t
	}
	others := func(c candidate) bool {
		return slices.ContainsFunc(all, func(o candidate) bool { return o.strong && o.Value != c.Value })
	}
	for _, net := range nets {
		for _, c := range all {
			if net+sum == c.Value && (len(taxes) > 0 || !others(c)) {
				r.addsUp = true
				c.Doubtful = false
				return c.Read, c.currency
			}
		}
	}
	slices.SortStableFunc(all, func(a, b candidate) int {
		switch {
		case a.strong != b.strong && a.strong:
			return -1
		case a.strong != b.strong:
			return 1
		}
		return cmp.Compare(b.Value.Abs(), a.Value.Abs())
	})
	best := all[0]
	if len(nets) == 1 && len(taxes) == 1 {
		best.Doubtful = true // it has both, and they do not come to it: a balance, or something that was read wrong
	}
	for _, c := range all[1:] {
		if c.strong == best.strong && c.Value != best.Value {
			best.Doubtful = true
		}
	}
	return best.Read, best.currency
}

// lastAmount is the amount farthest to the right of a line. Thousands may be parted by a space.
func lastAmount(l line) (money.Decimal, Box, bool) {
	for at := len(l) - 1; at >= 0; at-- {
		value, ok := amount(l[at].Text)
		if !ok {
			continue
		}
		if at > 0 && len(strings.Split(l[at].Text, ",")[0]) == 3 && digits(l[at-1].Text) && l[at].Left-l[at-1].Right < 12 {
			if joined, ok := amount(l[at-1].Text + l[at].Text); ok {
				return joined, l[at-1].around(l[at].Box), true
			}
		}
		return value, l[at].Box, true
	}
	return 0, Box{}, false
}

func digits(text string) bool {
	return text != "" && len(text) <= 3 && strings.Trim(text, "0123456789") == ""
}

var currencies = regexp.MustCompile(`\b(EUR|USD|GBP|CHF|SEK|NOK|DKK|PLN|CZK|JPY)\b`)

func currencyOf(text string) string {
	switch {
	case currencies.MatchString(text):
		return currencies.FindString(text)
	case strings.Contains(text, "€"):
		return "EUR"
	case strings.Contains(text, "£"):
		return "GBP"
	case strings.Contains(text, "$"):
		return "USD"
	}
	return ""
}
