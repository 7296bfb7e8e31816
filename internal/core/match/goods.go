package match

// This file checks a line of goods against its order line: unit, quantity, price, tax.

import (
	"fmt"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// billed is a line of an invoice in the unit of its order line.
type billed struct {
	trade.InvoiceLine
	index    int
	order    *trade.Order
	ordered  *trade.OrderLine
	quantity money.Decimal
	price    money.Price
	net      money.Amount
}

// line checks one line of goods against its order line.
func (m *matching) line(index int) error {
	line := m.lines[index]
	if line.Coded() {
		m.coded(index)
		return nil
	}
	if line.ChargeKind != "" || (len(m.Orders) == 0 && len(m.Claims) == 0) {
		return nil
	}
	if m.Invoice.Kind == trade.CreditNote && line.OrderLineID == 0 && len(m.Claims) > 0 {
		m.creditFlat(index)
		return nil
	}
	about := finding.Finding{Line: line.No, Name: line.Description, Unit: line.Unit, Quantity: line.Quantity}
	order := m.Order(line.OrderID)
	if order == nil {
		about.Kind, about.Verdict, about.Text = finding.OrderUnknown, finding.Outside, line.OrderStated
		m.say(about)
		return nil
	}
	ordered := m.ordered[place{order.ID, line.OrderLineID}]
	switch {
	case ordered == nil:
		about.Kind, about.Verdict, about.Text = finding.LineUnknown, finding.Outside, line.OrderLineRef
		m.say(about)
		return nil
	case m.Invoice.Lines[index].Quantity == 0, line.Quantity < 0 && m.Invoice.Kind != trade.PlainInvoice:
		about.Kind, about.Verdict = finding.QuantityMissing, finding.Outside
		m.say(about)
		return nil
	}
	about.Order, about.ClosedGoods = order.Number, ordered.ClosedGoods
	about.Name, about.Ordered, about.Received, about.Billed = ordered.Description, ordered.Quantity, ordered.Received, ordered.Billed
	back := line.Quantity < 0
	if back {
		line = line.Back()
		about.Quantity = line.Quantity
	}
	b := billed{InvoiceLine: line, index: index, order: order, ordered: ordered}
	var err error
	if b.net, err = line.Net(m.Invoice.Currency); err != nil {
		return err
	}
	check := m.goods
	switch {
	case m.Invoice.Kind == trade.CreditNote, back:
		check = m.credit
	case m.Invoice.Kind == trade.Adjustment:
		check = m.adjust
	case line.Quantity == 0: // the document credits all of it itself
		return m.taxRate(b, about)
	default:
		m.closedOrOwn(b, about)
	}
	var known bool
	if b.quantity, b.price, known = ordered.InUnit(line, m.Invoice.Currency); !known {
		f := about
		f.Kind, f.Verdict, f.Text, f.Other = finding.UnitDiffers, finding.Outside, line.Unit, ordered.Unit
		m.say(f)
		return nil
	}
	if line.Unit != ordered.Unit {
		conversion, _ := ordered.Conversion(line.Unit)
		about.Counted, about.CountedUnit, about.Units, about.Makes = line.Quantity, line.Unit, conversion.Units, conversion.Makes
		about.Unit, about.Quantity = ordered.Unit, b.quantity
	}
	if ordered.Whole && !b.quantity.Whole() {
		f := about
		f.Kind, f.Verdict, f.Difference = finding.WholeUnits, finding.Outside, b.net.Abs()
		m.say(f)
	}
	if err := check(b, about); err != nil {
		return err
	}
	return m.taxRate(b, about)
}

// goods checks the quantity and the price of an invoiced line, as far as nothing is claimed of it.
func (m *matching) goods(b billed, about finding.Finding) error {
	if b = m.unclaimed(b); b.quantity == 0 {
		return nil
	}
	about.Quantity = b.quantity
	if err := m.quantity(b, about); err != nil {
		return err
	}
	return m.price(b, about)
}

// closedOrOwn checks what stands against the order line whatever is billed of it.
func (m *matching) closedOrOwn(b billed, about finding.Finding) {
	setters := limit.Bound{By: b.ordered.Limits.Setters(limit.MatchLevel, "", b.ordered.LevelFrom)}
	if !b.ordered.Level.Receives() && setters.OwnTo(m.Own) { // who took the receipts out of the match
		f := about
		f.Kind, f.Verdict, f.Difference = finding.OwnChange, finding.Outside, b.net.Abs()
		m.say(f)
	}
	if b.ordered.SelfBilled && !m.Invoice.SelfBilled() { // it would be billed twice (rules §9)
		f := about
		f.Kind, f.Verdict, f.Difference = finding.SelfBilled, finding.Outside, b.net.Abs()
		m.say(f)
	}
	if b.ordered.ClosedInvoices {
		f := about
		f.Kind, f.Verdict = finding.LineClosed, finding.Outside
		m.say(f)
	}
}

// quantity checks the invoiced quantity and allocates it (rules §6). The excess is this
// invoice's own part; what the limit is asked of counts with it what is invoiced and claimed
// too much already, so that a limit is used once per line.
func (m *matching) quantity(b billed, about finding.Finding) error {
	ordered := b.ordered
	earlier := m.claimed[ordered.ID]
	m.claimed[ordered.ID] += b.quantity
	about.Reserved = ordered.Reserved + earlier
	room, base, spent := ordered.Room()-earlier, ordered.CountsAsOrdered(), ordered.Excessive()
	receives := ordered.Level.Receives()
	if receives {
		base = ordered.Held()
	}
	over := max(0, -room) + spent // what of the whole line is invoiced too much already
	if ordered.Level == trade.ByReceipt {
		left := m.leftOf(ordered)
		over = left.Short() + spent
		room, base, spent = left.Room(b.Notes), ordered.HeldOf(b.Notes), ordered.ExcessiveOf(b.Notes)
		about.Notes = b.Notes
	}
	available := max(0, room)
	about.Available = available
	total := ordered.Billed + about.Reserved + b.quantity
	ceiling := ordered.Ceiling(m.Policy)
	if excess := min(max(0, b.quantity-room), b.quantity); excess > 0 {
		f := about
		f.Kind, f.Excess = finding.OverOrdered, excess
		f.Used = excess + max(0, -room) + spent
		if receives {
			f.Kind = finding.OverReceived
		}
		bound := ordered.Limit(limit.InvoicedQuantity, limit.Over, m.Policy)
		f.Percent = money.Ratio(int64(f.Used), int64(base))
		asked := limit.Asked{Difference: int64(f.Used), Whole: int64(base), Worth: int64(excess + over)}
		if receives {
			asked.Ceiling = &limit.Ceiling{
				Total: total, Most: ordered.CanCome(m.Policy), Ordered: ordered.Quantity, Whole: ordered.Whole,
				Coming: b.order.State == trade.Issued && ordered.Rest() > 0,
			}
		}
		f = f.Limited(bound, asked)
		if err := m.sayExcess(f, b); err != nil {
			return err
		}
	}
	if receives && total > ceiling {
		f := about
		bound := ordered.Limit(limit.Delivery, limit.Over, m.Policy)
		f.Kind, f.Verdict, f.Bound, f.Nearest, f.Excess = finding.OverOrdered, finding.Outside, &bound, ceiling, min(
			total-ceiling,
			b.quantity,
		)
		if err := m.sayExcess(f, b); err != nil {
			return err
		}
	}
	m.allocate(b, min(available, b.quantity))
	return nil
}

// sayExcess says that too much is invoiced, which is worth the excess at the invoice's price.
func (m *matching) sayExcess(f finding.Finding, b billed) (err error) {
	f.Difference, err = b.price.Times(f.Excess, m.Invoice.Currency)
	m.say(f)
	return err
}

// leftOf is what earlier invoices and earlier lines leave of the receipts of a line by receipt.
func (m *matching) leftOf(ordered *trade.OrderLine) *trade.Left {
	left := m.leaves[ordered.ID]
	if left == nil {
		left = ordered.Left()
		m.leaves[ordered.ID] = left
	}
	return left
}

// allocate sets what is here against the open receipts, oldest first or as they are named, and
// the rest beyond receipts.
func (m *matching) allocate(b billed, here money.Decimal) {
	left := b.quantity
	switch b.ordered.Level {
	case trade.ByReceipt:
		for _, taken := range m.leftOf(b.ordered).Take(b.Notes, b.quantity) {
			m.result.Allocations = append(m.result.Allocations, Allocation{b.index, b.order, b.ordered, taken.Receipt, taken.Quantity})
			left -= taken.Quantity
		}
	case trade.ThreeWay:
		earlier := m.allocated[b.ordered.ID] // the oldest are taken by earlier lines
		m.allocated[b.ordered.ID] += here
		for _, receipt := range b.ordered.Receipts {
			if here == 0 {
				break
			}
			open := max(0, receipt.Open())
			passed := min(earlier, open)
			earlier -= passed
			taken := min(here, open-passed)
			if taken == 0 {
				continue
			}
			m.result.Allocations = append(m.result.Allocations, Allocation{b.index, b.order, b.ordered, receipt, taken})
			here -= taken
			left -= taken
		}
	}
	if left > 0 {
		m.result.Allocations = append(m.result.Allocations, Allocation{b.index, b.order, b.ordered, nil, left})
	}
}

// price compares unit prices after line discounts, before rounding. A percentage is asked of
// the line alone; an amount runs over all invoices of the order line, dearer and cheaper each
// apart (rules §2).
func (m *matching) price(b billed, about finding.Finding) error {
	if b.order.Currency != m.Invoice.Currency || m.Invoice.SelfBilled() {
		return nil // two currencies have no common price; that they differ is its own finding. Ours is that of the day of receipt
	}
	difference, err := b.ordered.PriceWorth(b.net, b.quantity, m.Invoice.Currency)
	if err != nil || difference == 0 {
		return err // what is worth nothing on its line passes (rules §1)
	}
	if difference > 0 {
		granted, err := m.granted(b)
		if err != nil {
			return err
		}
		if difference -= min(difference, granted); difference == 0 {
			return nil
		}
	}
	side, before, earlier := limit.Over, b.ordered.Dearer+b.ordered.ReservedDearer, m.dearer
	if difference < 0 {
		side, before, earlier = limit.Under, b.ordered.Cheaper+b.ordered.ReservedCheaper, m.cheaper
	}
	worth := difference.Abs() + before + earlier[b.ordered.ID]
	earlier[b.ordered.ID] += difference.Abs()
	agreed := b.ordered.UnitPrice(b.order.Currency)
	f := about
	f.Kind, f.Price, f.Reference, f.Difference = finding.UnitPrice, b.price.Decimal(), agreed.Decimal(), difference.Abs()
	f.Percent = b.price.Ratio(agreed)
	bound := m.bound(b.ordered.Limit(limit.UnitPrice, side, m.Policy))
	m.say(f.Limited(bound, limit.Asked{Price: &b.price, Agreed: &agreed, Worth: int64(worth)}))
	return nil
}

// granted is what of a discount that the order has on a line is granted on the whole invoice in place of the line: its share
// of the allowances, at most the order's discount for the quantity.
func (m *matching) granted(b billed) (money.Amount, error) {
	share := m.result.Totals.LineShares[b.index]
	if share <= 0 || b.ordered.Discount <= 0 {
		return 0, nil
	}
	of, err := b.ordered.Discount.Part(int64(b.quantity), int64(b.ordered.Quantity))
	return min(share, of), err
}

// taxRate compares category and rate with the order's; those of a credit note or an adjustment with what was billed.
func (m *matching) taxRate(b billed, about finding.Finding) error {
	if m.Invoice.SelfBilled() { // it has the tax of the day of receipt
		return nil
	}
	category, rate := b.ordered.TaxOn(m.Invoice.PointOfTax())
	for _, l := range m.BilledOf(b.ordered) {
		if category, rate = l.TaxCategory, l.TaxRate; b.TaxRate == rate && b.TaxCategory == category {
			break
		}
	}
	if b.TaxCategory == category && (b.TaxRate == rate || trade.ReverseCharged(category)) {
		return nil
	}
	about.Kind = finding.TaxRateDiffers
	return m.sayTax(about, b.net, b.TaxCategory, b.TaxRate, category, rate)
}

// sayTax says that another tax is asked than was ordered, which is worth the difference.
func (m *matching) sayTax(
	f finding.Finding,
	net money.Amount,
	category string,
	rate money.Decimal,
	orderedCategory string,
	orderedRate money.Decimal,
) error {
	as, err := net.Percent(rate)
	if err != nil {
		return err
	}
	should, err := net.Percent(orderedRate)
	f.Verdict, f.Text, f.Other, f.Price, f.Reference, f.Difference = finding.Outside, category, orderedCategory, rate, orderedRate, (as - should).Abs()
	m.say(f)
	return err
}

// Asked is what an invoice asks of one order line above and below its price, without sign.
type Asked struct{ Dearer, Cheaper money.Amount }

// PriceDifferences sums what the findings of an invoice say of prices by the order line
// that it belongs to, dearer and cheaper apart; what a credit note gives back is below zero. An order line keeps the sums of its
// verified invoices, as a limit runs over all of them (rules §2). Findings that do not
// belong to the invoice are an error.
func PriceDifferences(inv trade.Invoice, findings []finding.Finding) (map[int64]Asked, error) {
	sums := map[int64]Asked{}
	for _, f := range findings {
		sign := money.Amount(1)
		switch f.Kind {
		case finding.UnitPrice:
		case finding.PriceCredited:
			sign = -1
		default:
			continue
		}
		if f.Line < 1 || f.Line > len(inv.Lines) {
			return nil, fmt.Errorf(
				"a price finding is about line %d of an invoice with %d lines",
				f.Line,
				len(inv.Lines),
			)
		}
		line := inv.Lines[f.Line-1].OrderLineID
		sum := sums[line]
		if f.Side() == limit.Under {
			sum.Cheaper += sign * f.Difference
		} else {
			sum.Dearer += sign * f.Difference
		}
		sums[line] = sum
	}
	return sums, nil
}
