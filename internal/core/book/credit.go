package book

// This file books a credit note: what it takes back of what was billed.

import (
	"fmt"
	"slices"

	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
)

// credit books a credit note, or an adjustment, that may be booked as it is. Goods are taken back from what is billed
// past what is here, oldest receipt first, then from what is billed beyond receipts, then from what was taken to
// variance; a price leaves quantities as they are (rules §5).
func credit(facts match.Facts, result match.Result) (Booking, error) {
	inv := facts.Invoice
	b := begin(inv.Currency, facts.Company)
	c := crediting{booker: b, facts: facts}
	for _, one := range result.Credits {
		if err := c.take(one); err != nil {
			return b.Booking, err
		}
		b.touch(one.OrderLine)
	}
	if err := b.price(inv, facts.Orders, result.Findings, 1); err != nil {
		return b.Booking, err
	}
	bill := posting.Bill{Invoice: inv, Supplier: facts.Supplier.Code, Totals: result.Totals, Orders: facts.Orders, Allocated: c.allocated, Rate: c.rate(), Kinds: facts.Charges}
	var err error
	if bill.Claimed, bill.Settles, err = c.settle(result); err != nil {
		return b.Booking, err
	}
	if bill.Deferred, err = c.undefer(result); err != nil {
		return b.Booking, err
	}
	if facts.Credited != nil && facts.Credited.Ahead != nil {
		part, err := facts.Credited.Ahead.Next(inv.StatedTotal)
		if err != nil {
			return b.Booking, err
		}
		b.Ahead = append(b.Ahead, Ahead{Of: facts.Credited.Ahead, AheadPart: part})
		bill.Used = []posting.Used{{AheadPart: part, Kind: facts.Credited.Ahead.Kind}}
	}
	b.Entry, err = posting.Invoice(bill, facts.Company)
	return b.Booking, err
}

// crediting takes back what a credit note credits, line by line.
type crediting struct {
	*booker
	facts     match.Facts
	allocated []posting.Allocated
	first     money.Decimal // the rate of the first invoice that something was taken from
}

// rate is that of the invoice which is credited: the named one, else the first that something is taken from, else the
// note's own.
func (c *crediting) rate() money.Decimal {
	switch {
	case c.facts.Credited != nil:
		return c.facts.Credited.Rate
	case c.first != 0:
		return c.first
	}
	return c.facts.Invoice.Rate
}

func (c *crediting) take(credit match.Credit) error {
	line, left := credit.OrderLine, credit.Quantity
	if credit.For != trade.ForGoods {
		c.touch(line)
		return nil
	}
	back := func(kind trade.AllocationKind, receipt *trade.Receipt, part trade.Part, relief trade.Relief) {
		left += relief.Quantity
		if c.first == 0 {
			c.first = part.Rate
		}
		c.booker.take(line, trade.Allocation{
			Kind:        kind,
			Receipt:     receipt,
			InvoiceLine: part.InvoiceLine,
			Invoice:     part.Invoice,
			Rate:        part.Rate,
			CreditLine:  c.facts.Invoice.Lines[credit.Line].ID,
			Relief:      relief,
		})
		c.allocated = append(c.allocated, posting.Allocated{
			Allocation: match.Allocation{Line: credit.Line, Order: credit.Order, OrderLine: line, Receipt: receipt, Quantity: relief.Quantity},
			Kind:       kind,
			Relief:     relief,
		})
	}
	if line.Level == trade.TwoWay {
		back(trade.AllocatedBilled, nil, c.billedBy(line), trade.Relief{Quantity: -left})
		return nil
	}
	for _, receipt := range line.Receipts {
		over := max(0, -receipt.Open())
		for _, part := range c.ordered(receipt.Bills) {
			quantity := min(left, over, part.Quantity)
			if quantity <= 0 {
				continue
			}
			relief, err := receipt.Next(-quantity)
			if err != nil {
				return err
			}
			back(trade.AllocatedBilled, receipt, part, relief)
			over -= quantity
		}
	}
	for _, from := range []struct {
		kind  trade.AllocationKind
		parts trade.Parts
	}{{trade.AllocatedBilled, line.Beyond}, {trade.AllocatedVariance, line.Variance}} {
		for _, part := range c.ordered(from.parts) {
			quantity := min(left, part.Quantity)
			if quantity <= 0 {
				continue
			}
			share, err := part.Share(quantity)
			if err != nil {
				return err
			}
			back(from.kind, nil, part, share.Negative())
		}
	}
	if left > 0 {
		return fmt.Errorf("credit note %d takes back more of line %d than is billed", c.facts.Invoice.Number, line.No)
	}
	return nil
}

// ordered are the parts of invoices, those of the named one first, each oldest first.
func (c *crediting) ordered(parts trade.Parts) trade.Parts {
	if c.facts.Credited == nil {
		return slices.Clone(parts)
	}
	var its, others trade.Parts
	for _, p := range parts {
		if p.Invoice == c.facts.Credited.Invoice {
			its = append(its, p)
		} else {
			others = append(others, p)
		}
	}
	return append(its, others...)
}

// billedBy is the invoice line that billed a line of level two-way: of the named invoice, else the oldest.
func (c *crediting) billedBy(line *trade.OrderLine) trade.Part {
	for _, l := range c.facts.Billed {
		if l.OrderLineID == line.ID {
			return trade.Part{InvoiceLine: l.ID, Invoice: l.Invoice, Rate: l.Rate}
		}
	}
	return trade.Part{}
}
