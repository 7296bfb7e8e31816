package match

// This file checks a credit note, what it may take back of what was billed, and an adjustment of prices (rules §5).

import (
	"cmp"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Credit is what a line of a credit note takes back of an order line: a quantity of goods, or nothing of it where the
// line is for a price.
type Credit struct {
	Line      int // index into Invoice.Lines
	Order     *trade.Order
	OrderLine *trade.OrderLine
	For       trade.CreditFor
	Quantity  money.Decimal // in the order line's unit
}

// named says where the invoice that a credit note names is not here, or not verified yet: the note waits for it.
func (m *matching) named() {
	f := finding.Finding{Kind: finding.InvoiceAwaited, Verdict: finding.Waiting, Other: m.Invoice.Credited}
	switch c := m.Credited; {
	case m.Invoice.Credited == "" || (c != nil && c.State.Booked()):
		return
	case c != nil:
		f.Reference, f.Text = money.Int(c.Number), string(c.State)
	}
	m.awaits = true
	m.say(f)
}

// credit checks what a line of a credit note gives back. Goods are credited as far as more is billed than is here;
// more waits where goods can still go back, and is outside where not. A price is credited as far as it was billed.
func (m *matching) credit(b billed, about finding.Finding) error {
	if m.awaits || b.order.Currency != m.Invoice.Currency {
		return nil // what can be credited is known once its invoice is verified; two currencies have no common price
	}
	what := b.ordered.CreditOf(b.InvoiceLine, b.price, b.net+m.back[b.ordered.ID], m.BilledAt(b.ordered))
	var err error
	if b, what, err = m.creditClaims(b, what); err != nil || b.net == 0 {
		return err
	}
	credit := Credit{b.index, b.order, b.ordered, what, b.quantity}
	m.result.Credits = append(m.result.Credits, credit)
	switch what {
	case trade.ForGoods:
		if err := m.creditGoods(b, about); err != nil {
			return err
		}
		worth, err := b.ordered.PriceWorth(b.net, b.quantity, m.Invoice.Currency)
		if err != nil {
			return err
		}
		m.creditPrice(b, about, worth)
	case trade.ForPrice:
		net, err := b.ordered.BilledNet(m.Invoice.Currency)
		if err != nil {
			return err
		}
		if over := b.net + m.back[b.ordered.ID] + b.ordered.CreditedPrice - net; over > 0 {
			f := about
			f.Kind, f.Verdict, f.Amount, f.Computed, f.Difference = finding.Creditable, finding.Outside, b.net, net, over
			m.say(f)
		}
		m.creditPrice(b, about, b.net)
		m.back[b.ordered.ID] += b.net
	default:
		f := about
		f.Kind, f.Verdict, f.Difference, f.Price = finding.CreditUnclear, finding.Outside, b.net, b.price.Decimal()
		f.Amount, f.Computed = b.net, max(0, b.ordered.Dearer-b.ordered.CreditedPrice)
		m.say(f)
	}
	return nil
}

// BilledOf are the lines of verified invoices about an order line, as far as a credit note is matched with them.
func (f Facts) BilledOf(line *trade.OrderLine) []BilledLine {
	var its []BilledLine
	for _, l := range f.Billed {
		if l.OrderLineID == line.ID {
			its = append(its, l)
		}
	}
	return its
}

// BilledAt are the prices at which an order line was billed, in its own unit and the currency of the document.
func (f Facts) BilledAt(line *trade.OrderLine) []money.Price {
	var prices []money.Price
	for _, l := range f.BilledOf(line) {
		if _, price, ok := line.InUnit(l.InvoiceLine, l.Currency); ok && l.Currency == f.Invoice.Currency {
			prices = append(prices, price)
		}
	}
	return prices
}

// creditGoods compares a credited quantity with what is creditable.
func (m *matching) creditGoods(b billed, about finding.Finding) (err error) {
	earlier := m.taken[b.ordered.ID]
	m.taken[b.ordered.ID] += b.quantity
	room := b.ordered.Creditable() - earlier
	excess := min(max(0, b.quantity-room), b.quantity)
	if excess == 0 {
		return nil
	}
	f := about
	f.Kind, f.Verdict, f.Excess, f.Available = finding.Creditable, finding.Outside, excess, max(0, room)
	f.Reserved = b.ordered.Credited + earlier
	if b.ordered.Returnable() >= max(0, b.quantity-room) {
		f.Verdict = finding.Waiting // for the return
	}
	f.Difference, err = b.price.Times(excess, m.Invoice.Currency)
	m.say(f)
	return err
}

// creditPrice says what a line gives back of what was billed above the order's price, or below it where it gives back
// goods that were billed cheaper. What goes beyond that makes the rest of the line cheaper, or dearer.
func (m *matching) creditPrice(b billed, about finding.Finding, worth money.Amount) {
	say := func(kind finding.Kind, side limit.Side, amount money.Amount) {
		if amount <= 0 {
			return
		}
		f := about
		f.Kind, f.Verdict, f.Difference, f.Bound = kind, finding.Within, amount, &limit.Bound{Side: side}
		f.Price, f.Reference = b.price.Decimal(), b.ordered.UnitPrice(b.order.Currency).Decimal()
		m.say(f)
	}
	if worth < 0 {
		cheaper := min(-worth, max(0, b.ordered.Cheaper-m.cheaper[b.ordered.ID]))
		m.cheaper[b.ordered.ID] += cheaper
		say(finding.PriceCredited, limit.Under, cheaper)
		say(finding.UnitPrice, limit.Over, -worth-cheaper)
		return
	}
	dearer := min(worth, max(0, b.ordered.Dearer-m.dearer[b.ordered.ID]))
	m.dearer[b.ordered.ID] += dearer
	say(finding.PriceCredited, limit.Over, dearer)
	say(finding.UnitPrice, limit.Under, worth-dearer)
}

// adjust checks a line that asks more for what was billed already: quantities stay as they are, and the price that the
// line then comes to is held against the order's (rules §2). What was billed below the order's price is made up for first.
func (m *matching) adjust(b billed, about finding.Finding) error {
	if m.awaits || b.order.Currency != m.Invoice.Currency {
		return nil // as of a credit note
	}
	m.result.Credits = append(m.result.Credits, Credit{b.index, b.order, b.ordered, trade.ForPrice, b.quantity})
	net, err := b.ordered.BilledNet(m.Invoice.Currency)
	if err != nil {
		return err
	}
	if b.ordered.Billed <= 0 {
		f := about
		f.Kind, f.Verdict, f.Amount, f.Difference = finding.Creditable, finding.Outside, b.net, b.net
		m.say(f)
		return nil
	}
	m.back[b.ordered.ID] += b.net
	cheaper := min(b.net, max(0, b.ordered.Cheaper-m.cheaper[b.ordered.ID]))
	m.cheaper[b.ordered.ID] += cheaper
	if cheaper > 0 {
		f := about
		f.Kind, f.Verdict, f.Difference, f.Bound = finding.PriceCredited, finding.Within, cheaper, &limit.Bound{Side: limit.Under}
		m.say(f)
	}
	dearer := b.net - cheaper
	if dearer == 0 {
		return nil
	}
	worth := b.ordered.Dearer + b.ordered.ReservedDearer + m.dearer[b.ordered.ID] + dearer
	m.dearer[b.ordered.ID] += dearer
	agreed := b.ordered.UnitPrice(b.order.Currency)
	now := money.UnitPrice(b.ordered.Billed, 0, money.Int(1), 0, net+m.back[b.ordered.ID], m.Invoice.Currency)
	f := about
	bound := m.bound(b.ordered.Limit(limit.UnitPrice, limit.Over, m.Policy))
	f.Kind, f.Difference = finding.UnitPrice, dearer
	f.Price, f.Reference, f.Percent = now.Decimal(), agreed.Decimal(), now.Ratio(agreed)
	m.say(f.Limited(bound, limit.Asked{Price: &now, Agreed: &agreed, Worth: int64(worth)}))
	return nil
}

// chargeCredited checks that no more of a kind of charge is credited than was charged.
func (m *matching) chargeCredited(order *trade.Order, first trade.ChargeShare, share trade.OrderShare) {
	charged, credited := order.ChargedBooked[first.Kind], share.ByKind()[first.Kind]
	if credited <= charged {
		return
	}
	m.say(finding.Finding{
		Kind:       finding.Creditable,
		Verdict:    finding.Outside,
		Line:       first.Line,
		Order:      order.Number,
		Charge:     first.Kind,
		Amount:     credited,
		Computed:   charged,
		Difference: credited - charged,
		Name:       cmp.Or(first.Name, first.Kind),
	})
}
