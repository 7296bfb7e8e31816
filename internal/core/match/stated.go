package match

// This file compares what an invoice states with what it computes, and with the limits.

import (
	"cmp"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// taxCodes says where under reverse charge nothing tells at which rate we owe the tax (rules §11).
func (m *matching) taxCodes() {
	missing := func(no int, name, category string) {
		m.say(finding.Finding{Kind: finding.TaxCodeMissing, Verdict: finding.Outside, Line: no, Name: name, Text: category})
	}
	owed := map[string]bool{} // categories of which the tax is known
	for _, l := range m.Invoice.Lines {
		switch {
		case !trade.ReverseCharged(l.TaxCategory):
		case l.OwnRate == nil:
			missing(l.No, l.Description, l.TaxCategory)
		default:
			owed[l.TaxCategory] = true
		}
	}
	for _, c := range m.Invoice.Charges {
		if trade.ReverseCharged(c.TaxCategory) && !owed[c.TaxCategory] {
			missing(0, cmp.Or(c.Reason, c.Kind), c.TaxCategory)
			return
		}
	}
}

// taxes compares the tax amounts that the supplier states with the computed ones.
func (m *matching) taxes() {
	for _, g := range m.result.Totals.Groups {
		if !g.Stated || g.Tax == g.Computed {
			continue
		}
		difference := (g.Tax - g.Computed).Abs()
		bound := m.bound(m.Limits.Find(limit.TaxRounding, side(g.Tax-g.Computed)))
		f := finding.Finding{Kind: finding.TaxAmount, Text: g.Category, Price: g.Rate,
			Amount: g.Tax, Computed: g.Computed, Difference: difference}
		m.say(f.Limited(bound, limit.Asked{Difference: int64(difference), Whole: int64(g.Computed), Worth: int64(difference)}))
	}
}

// total compares the total that the supplier states with the computed one. Outside
// its limit it can only be corrected, never accepted (rules §5).
func (m *matching) total() {
	rest := m.Invoice.Unexplained(m.result.Totals)
	f := finding.Finding{
		Kind:     finding.StatedTotal,
		Amount:   m.Invoice.StatedTotal,
		Computed: m.result.Totals.Total + m.Invoice.Rounded,
	}
	if parting := m.Invoice.Parts(m.result.Totals); parting != nil {
		f.Place = &finding.Place{
			Term:     parting.Term,
			Line:     parting.Line,
			Stated:   parting.Amount,
			Computed: parting.Computed,
		}
		if rest == 0 { // the total agrees, one of the figures that lead to it does not
			rest = parting.Amount - parting.Computed
			f.Amount, f.Computed, f.Place.Alone = parting.Amount, parting.Computed, true
		}
	}
	if rest == 0 {
		return
	}
	bound := m.bound(m.Limits.Find(limit.StatedTotal, side(rest)))
	f.Difference = rest.Abs()
	m.say(f.Limited(bound, limit.Asked{Difference: int64(f.Difference), Whole: int64(f.Computed), Worth: int64(f.Difference)}))
}

// bound gives a limit in the document's currency.
func (m *matching) bound(b limit.Bound) limit.Bound {
	return b.In(m.Invoice.Currency, m.Company, m.Invoice.Rate)
}

func side(difference money.Amount) limit.Side {
	if difference < 0 {
		return limit.Under
	}
	return limit.Over
}
