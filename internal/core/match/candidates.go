package match

import (
	"cmp"
	"slices"
	"strings"
	"unicode"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Reason is why a line of an order may be what an invoice is about.
type Reason string

// The reasons, what tells most first.
const (
	SameCode     Reason = "code"     // its item, by the supplier's code or ours
	SameNote     Reason = "note"     // a delivery note that the invoice names came on it
	SamePrice    Reason = "price"    // its exact price, in its unit
	SameQuantity Reason = "quantity" // just what awaits an invoice on it, earlier open ones left out
	Uninvoiced   Reason = "here"     // goods came on it that no invoice bills or claims; no reason by itself
	SameAccount  Reason = "account"  // a supplier's account, that it asks to be paid to
	SameTaxID    Reason = "tax"      // a supplier's tax number, but for how it is written
	SameWords    Reason = "words"    // words of its description
)

var weights = map[Reason]int{SameCode: 8, SameNote: 6, SamePrice: 3, SameQuantity: 2, Uninvoiced: 2, SameWords: 1, SameTaxID: 8, SameAccount: 6}

// Candidate is what an invoice, or a line of it, may be about, with the reasons. Of a whole order it has no line, and Found
// says how many lines of the invoice have a reason to be of it. Whose invoice it may be has a supplier alone.
type Candidate struct {
	Supplier *trade.Supplier
	Order    *trade.Order
	Line     *trade.OrderLine
	Reasons  []Reason
	Found    int
	weight   int
}

// Candidates are at most the given number of order lines that a line of an invoice may be about, best first; one without
// any reason is none.
func Candidates(inv trade.Invoice, line trade.InvoiceLine, orders []*trade.Order, most int) []Candidate {
	var all []Candidate
	for _, o := range orders {
		for _, l := range o.Lines {
			if c := likeness(inv, line, o, l); c.weight > 0 {
				all = append(all, c)
			}
		}
	}
	return best(all, most)
}

// OrderCandidates are at most the given number of orders that an invoice may be about, best first: those of which most of its
// lines could be.
func OrderCandidates(inv trade.Invoice, orders []*trade.Order, most int) []Candidate {
	var all []Candidate
	for _, o := range orders {
		of := Candidate{Order: o}
		for _, line := range inv.Lines {
			if line.ChargeKind != "" {
				continue
			}
			found := Candidates(inv, line, []*trade.Order{o}, 1)
			if len(found) == 0 {
				continue
			}
			of.Found++
			of.weight += found[0].weight
			for _, reason := range found[0].Reasons {
				if !slices.Contains(of.Reasons, reason) {
					of.Reasons = append(of.Reasons, reason)
				}
			}
		}
		slices.SortFunc(of.Reasons, func(a, b Reason) int { return weights[b] - weights[a] })
		if of.weight > 0 {
			all = append(all, of)
		}
	}
	return best(all, most)
}

// SupplierCandidates are at most the given number of suppliers whose invoice it may be, best first.
func SupplierCandidates(inv trade.Invoice, suppliers []trade.Supplier, most int) []Candidate {
	var all []Candidate
	for i := range suppliers {
		s := &suppliers[i]
		c := Candidate{Supplier: s}
		c.add(SameTaxID, s.TaxID != "" && trade.NormalNumber(s.TaxID) == trade.NormalNumber(inv.TaxIDStated))
		c.add(SameAccount, inv.IBAN != "" && trade.PlainIBAN(s.IBAN) == trade.PlainIBAN(inv.IBAN))
		c.add(SameWords, shared(inv.SupplierStated, s.Name))
		if c.weight > 0 {
			all = append(all, c)
		}
	}
	return best(all, most)
}

func (c *Candidate) add(reason Reason, so bool) {
	if so {
		c.Reasons = append(c.Reasons, reason)
		c.weight += weights[reason]
	}
}

func (c Candidate) number() int64 {
	if c.Order == nil {
		return c.Supplier.ID
	}
	return c.Order.Number
}

func best(all []Candidate, most int) []Candidate {
	slices.SortStableFunc(all, func(a, b Candidate) int {
		return cmp.Or(b.weight-a.weight, cmp.Compare(a.number(), b.number()))
	})
	return all[:min(most, len(all))]
}

func likeness(inv trade.Invoice, line trade.InvoiceLine, o *trade.Order, l *trade.OrderLine) Candidate {
	c := Candidate{Order: o, Line: l}
	c.add(SameCode, alike(line.SupplierCode, l.SupplierCode) || alike(line.ItemCode, l.ItemCode))
	c.add(SameNote, named(line.Notes, l))
	c.add(SamePrice, line.Unit == l.Unit && o.Currency == inv.Currency &&
		line.UnitPrice(inv.Currency).Compare(l.UnitPrice(o.Currency)) == 0)
	c.add(SameQuantity, line.Unit == l.Unit && awaits(l, line.Quantity))
	c.add(SameWords, shared(line.Description, l.Description))
	c.add(Uninvoiced, c.weight > 0 && l.Received-l.Billed > l.Reserved)
	return c
}

func named(notes trade.Notes, l *trade.OrderLine) bool {
	return slices.ContainsFunc(l.Receipts, func(r *trade.Receipt) bool { return r.Note != "" && notes.Names(r.Note) })
}

func awaits(l *trade.OrderLine, quantity money.Decimal) bool {
	claimed := l.Billed + l.Reserved
	return quantity > 0 && (quantity == l.Received-claimed || quantity == l.Quantity-claimed)
}

// shared tells whether two descriptions have a word of at least four letters in common.
func shared(a, b string) bool {
	words := func(s string) []string {
		return strings.FieldsFunc(strings.ToLower(s), func(c rune) bool { return !unicode.IsLetter(c) })
	}
	other := words(b)
	return slices.ContainsFunc(words(a), func(w string) bool { return len([]rune(w)) >= 4 && slices.Contains(other, w) })
}
