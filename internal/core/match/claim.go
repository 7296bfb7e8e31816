package match

// This file takes what is claimed of an invoice out of its match, and sets credit notes against claims (rules §6).

import (
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Settled is what a line of a credit note gives back of a claim: of its goods, or an amount.
type Settled struct {
	Line         int // index into Invoice.Lines
	Claim        *trade.ClaimLine
	trade.Relief // without what it is worth in the company's currency
}

// unclaimed is a line without what is claimed of it: a claimed quantity is not billed, a claimed price not counted.
func (m *matching) unclaimed(b billed) billed {
	for _, c := range m.Claims {
		if c.InvoiceLineNo != b.No {
			continue
		}
		b.net -= c.Net
		if c.For == trade.ForGoods {
			b.quantity -= c.Quantity
		} else if b.quantity > 0 {
			b.price = money.UnitPrice(b.quantity, 0, money.Int(1), 0, b.net, m.Invoice.Currency)
		}
	}
	return b
}

// Excess is what a person may claim of the line of a finding: goods past what is here, or what is asked above the
// order's price. Waiting goods are claimed only where somebody says so.
func (r Result) Excess(line int, waiting bool) (quantity money.Decimal, dearer money.Amount) {
	for _, f := range r.Findings {
		if f.Line != line || !f.Open() || (f.Verdict == finding.Waiting && !waiting) {
			continue
		}
		switch f.Kind {
		case finding.OverReceived, finding.OverOrdered:
			quantity = max(quantity, f.Excess)
		case finding.UnitPrice:
			if f.Signed() > 0 {
				dearer = f.Difference
			}
		}
	}
	return quantity, dearer
}

// creditClaims sets a line of a credit note against what is claimed of its order line, and gives what is left of it: a
// credit of its own. Goods settle claimed goods; what is for a price, or does not tell, settles claimed prices first.
func (m *matching) creditClaims(b billed, what trade.CreditFor) (billed, trade.CreditFor, error) {
	var goods, prices []*trade.ClaimLine
	var claimed money.Amount
	if m.Invoice.Kind != trade.CreditNote { // what is claimed of an invoice itself
		return b, what, nil
	}
	for _, c := range m.Claims {
		if c.OrderLine != b.ordered.ID || m.left[c].Value == 0 {
			continue
		}
		claimed += m.left[c].Value
		if c.For == trade.ForGoods {
			goods = append(goods, c)
		} else {
			prices = append(prices, c)
		}
	}
	switch {
	case claimed == 0:
		return b, what, nil
	case what == trade.ForGoods:
		for _, c := range goods {
			quantity := min(b.quantity, m.left[c].Quantity)
			if quantity <= 0 {
				continue
			}
			net, err := b.net.Part(int64(quantity), int64(b.quantity))
			if err != nil {
				return b, what, err
			}
			b.net -= m.settle(b.index, c, quantity, net)
			b.quantity -= quantity
		}
		if b.quantity == 0 {
			what = trade.ForPrice // at more than was claimed
		}
		return b, what, nil
	case what == "" && b.net > claimed:
		return b, what, nil
	case b.Credits != trade.ForPrice:
		prices = append(prices, goods...)
	}
	for _, c := range prices {
		b.net -= m.settle(b.index, c, 0, b.net)
	}
	return b, what, nil
}

// creditFlat sets a line that names no order line against all that is claimed at its rate of tax, prices first. More
// than that is outside.
func (m *matching) creditFlat(index int) {
	line, net := m.Invoice.Lines[index], m.result.Totals.LineNets[index]
	var claimed money.Amount
	for _, what := range []trade.CreditFor{trade.ForPrice, trade.ForGoods} {
		for _, c := range m.Claims {
			if c.For == what && c.TaxCategory == line.TaxCategory && c.TaxRate == line.TaxRate {
				taken := m.settle(index, c, 0, net)
				net -= taken
				claimed += taken
			}
		}
	}
	if net > 0 {
		m.say(finding.Finding{Kind: finding.Creditable, Verdict: finding.Outside, Line: line.No, Name: line.Description,
			Amount: claimed + net, Computed: claimed, Difference: net, Other: "claim"})
	}
}

// settle takes at most an amount of a claim and gives what it took.
func (m *matching) settle(line int, c *trade.ClaimLine, quantity money.Decimal, net money.Amount) money.Amount {
	left := m.left[c]
	if net = min(net, left.Value); net <= 0 {
		return 0
	}
	if net == left.Value {
		quantity = left.Quantity
	}
	m.left[c] = left.Less(trade.Relief{Quantity: quantity, Value: net})
	m.result.Settled = append(m.result.Settled, Settled{line, c, trade.Relief{Quantity: quantity, Value: net}})
	return net
}
