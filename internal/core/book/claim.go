package book

// This file books what is claimed of an invoice, and how a claim ends (rules §6, §11).

import (
	"fmt"

	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
)

// change keeps a change of a claim's line, with what it does to the prices of its order line.
func (b *booker) change(orders []*trade.Order, line *trade.ClaimLine, c trade.ClaimChange) {
	line.Take(c)
	if _, ordered := trade.LineOf(orders, line.OrderLine); ordered != nil && (c.Dearer != 0 || c.Cheaper != 0) {
		ordered.Dearer += c.Dearer
		ordered.Cheaper += c.Cheaper
		b.touch(ordered)
	}
	b.Claims = append(b.Claims, Claim{line, c})
}

// claim makes what is claimed of an invoice that is booked now.
func (b *booker) claim(facts match.Facts) ([]posting.Claimed, error) {
	var all []posting.Claimed
	for _, c := range facts.Claims {
		base, err := c.Net.Convert(facts.Invoice.Rate, facts.Invoice.Currency, facts.Company)
		if err != nil {
			return nil, err
		}
		made := trade.Relief{Quantity: c.Quantity, Value: c.Net, Base: base}
		b.change(facts.Orders, c, trade.ClaimChange{Kind: trade.Claimed, Relief: made})
		all = append(all, posting.Claimed{Line: c.InvoiceLineNo - 1, Relief: made})
	}
	return all, nil
}

// settle takes what a credit note gives back off the claims, and works out what it settles of their invoice: its part
// of each rate's tax with it, at what the invoice put into trade payables for it.
func (c *crediting) settle(result match.Result) ([]posting.Claimed, posting.Settling, error) {
	var all []posting.Claimed
	var settles posting.Settling
	nets := make([]money.Amount, len(result.Totals.Groups)) // of claims so far, by rate
	for _, s := range result.Settled {
		part, err := s.Claim.Part(s.Quantity, s.Value)
		if err != nil {
			return nil, settles, err
		}
		line := c.facts.Invoice.Lines[s.Line]
		change := trade.ClaimChange{Kind: trade.ClaimCredited, Relief: part, CreditLine: line.ID}
		for i, g := range result.Totals.Groups {
			if g.Category != line.TaxCategory || g.Rate != line.TaxRate || g.Basis == 0 {
				continue
			}
			if change.Tax, err = g.Tax.PartBetween(int64(nets[i]), int64(nets[i]+s.Value), int64(g.Basis)); err != nil {
				return nil, settles, fmt.Errorf(
					"the tax of credit note %d is more than can be booked",
					c.facts.Invoice.Number,
				)
			}
			nets[i] += s.Value
		}
		settles.Amount += part.Value + change.Tax
		c.change(c.facts.Orders, s.Claim, change)
		all = append(all, posting.Claimed{Line: s.Line, Relief: part})
	}
	of := c.facts.Credited
	if of == nil || settles.Amount == 0 {
		return all, posting.Settling{}, nil
	}
	var err error
	settles.Base, err = of.Base.PartBetween(int64(of.Settled), int64(of.Settled+settles.Amount), int64(of.Total))
	return all, settles, err
}

// Billed is a verified invoice of which something is claimed, or a claim of it ends.
type Billed struct {
	trade.Invoice
	Supplier string // code
	Orders   []*trade.Order
}

// ClaimOf books claims on a verified invoice: goods that it billed and that are not here, oldest receipt first, then what it
// billed beyond receipts, then what was taken to variance; or a price.
func ClaimOf(inv Billed, lines []*trade.ClaimLine, company money.Currency) (Booking, error) {
	b := begin(inv.Currency, company)
	for _, l := range lines {
		base, err := l.Net.Convert(inv.Rate, inv.Currency, company)
		if err != nil {
			return b.Booking, err
		}
		order, ordered := trade.LineOf(inv.Orders, l.OrderLine)
		if ordered == nil {
			return b.Booking, fmt.Errorf(
				"a claim is about a line that the orders of invoice %d do not have",
				inv.Number,
			)
		}
		change := trade.ClaimChange{
			Kind:   trade.Claimed,
			Relief: trade.Relief{Quantity: l.Quantity, Value: l.Net, Base: base},
		}
		if err := price(&change, ordered, l.For, inv.Currency, -1); err != nil {
			return b.Booking, err
		}
		if err := b.unbill(inv, order, ordered, l, change.Relief, company); err != nil {
			return b.Booking, err
		}
		b.change(inv.Orders, l, change)
	}
	return b.Booking, b.Entry.Check()
}

// price works out what a change does to what is billed above and below the order's price: a sign of −1 takes it off.
func price(
	c *trade.ClaimChange,
	line *trade.OrderLine,
	what trade.CreditFor,
	currency money.Currency,
	sign money.Amount,
) error {
	worth := c.Value
	if what == trade.ForGoods {
		var err error
		if worth, err = line.PriceWorth(c.Value, c.Quantity, currency); err != nil {
			return err
		}
	}
	c.Dearer, c.Cheaper = sign*max(0, worth), sign*max(0, -worth)
	return nil
}

// unbill takes what is claimed of goods out of what the invoice billed, and books it with its price.
func (b *booker) unbill(
	inv Billed,
	order *trade.Order,
	line *trade.OrderLine,
	claim *trade.ClaimLine,
	of trade.Relief,
	company money.Currency,
) error {
	left, rest := of.Quantity, of
	post := func(quantity money.Decimal, receipts trade.Relief) error {
		part := posting.ClaimPart{Order: order, OrderLine: line, Receipts: receipts}
		var err error
		if part.Relief, err = rest.Share(quantity); err != nil {
			return err
		}
		rest = rest.Less(part.Relief)
		return posting.Claim(&b.Entry, inv.ID, inv.Supplier, inv.Rate, part, company)
	}
	if claim.For == trade.ForPrice {
		return posting.Claim(
			&b.Entry,
			inv.ID,
			inv.Supplier,
			inv.Rate,
			posting.ClaimPart{Order: order, OrderLine: line, Relief: of},
			company,
		)
	}
	back := func(kind trade.AllocationKind, receipt *trade.Receipt, relief trade.Relief) error {
		left += relief.Quantity
		b.take(line, trade.Allocation{
			Kind: kind, Receipt: receipt, InvoiceLine: claim.InvoiceLine, Invoice: inv.ID, Rate: inv.Rate, Claim: claim, Relief: relief,
		})
		grni := trade.Relief{}
		if kind == trade.AllocatedBilled {
			grni = relief.Negative()
		}
		return post(-relief.Quantity, grni)
	}
	if line.Level == trade.TwoWay {
		return back(trade.AllocatedBilled, nil, trade.Relief{Quantity: -left})
	}
	for _, r := range line.Receipts {
		quantity := min(left, max(0, -r.Open()), r.Bills.Of(claim.InvoiceLine).Quantity)
		if quantity <= 0 {
			continue
		}
		relief, err := r.Next(-quantity)
		if err != nil {
			return err
		}
		if err := back(trade.AllocatedBilled, r, relief); err != nil {
			return err
		}
	}
	for _, from := range []struct {
		kind trade.AllocationKind
		part trade.Part
	}{{trade.AllocatedBilled, line.Beyond.Of(claim.InvoiceLine)}, {trade.AllocatedVariance, line.Variance.Of(claim.InvoiceLine)}} {
		kind, part := from.kind, from.part
		quantity := min(left, part.Quantity)
		if quantity <= 0 {
			continue
		}
		share, err := part.Share(quantity)
		if err != nil {
			return err
		}
		if err := back(kind, nil, share.Negative()); err != nil {
			return err
		}
	}
	if left > 0 {
		return fmt.Errorf(
			"a claim takes more of line %d of order %d than invoice %d billed",
			line.No,
			order.Number,
			inv.Number,
		)
	}
	return nil
}

// GiveUp books that what is left of claims is owed after all: to price variance, where a quantity is billed again; on a line
// of level two-way to stock or expense.
func GiveUp(inv Billed, lines []*trade.ClaimLine, company money.Currency) (Booking, error) {
	b := begin(inv.Currency, company)
	for _, l := range lines {
		if l.Left.Value == 0 {
			continue
		}
		order, ordered := trade.LineOf(inv.Orders, l.OrderLine)
		if ordered == nil {
			return b.Booking, fmt.Errorf(
				"a claim is about a line that the orders of invoice %d do not have",
				inv.Number,
			)
		}
		change := trade.ClaimChange{Kind: trade.ClaimGivenUp, Relief: l.Left}
		if err := price(&change, ordered, l.For, inv.Currency, 1); err != nil {
			return b.Booking, err
		}
		if l.Left.Quantity > 0 {
			row := trade.Allocation{
				Kind: trade.AllocatedVariance, InvoiceLine: l.InvoiceLine, Invoice: inv.ID, Rate: inv.Rate, Claim: l, Relief: l.Left,
			}
			if ordered.Level == trade.TwoWay {
				row.Kind, row.Relief = trade.AllocatedBilled, trade.Relief{Quantity: l.Left.Quantity}
			}
			b.take(ordered, row)
		}
		part := posting.ClaimPart{Order: order, OrderLine: ordered, Relief: l.Left.Negative()}
		if err := posting.Claim(&b.Entry, inv.ID, inv.Supplier, inv.Rate, part, company); err != nil {
			return b.Booking, err
		}
		b.touch(ordered)
		b.change(inv.Orders, l, change)
	}
	return b.Booking, b.Entry.Check()
}

// HasCome is what of a claim's line has come after all: of what is left, what is here and claimed by nobody.
func HasCome(l *trade.ClaimLine, ordered *trade.OrderLine) money.Decimal {
	if l.For != trade.ForGoods || ordered == nil || l.Left.Value == 0 {
		return 0
	}
	return max(0, min(l.Left.Quantity, ordered.Room()))
}

// Withdraw books that claimed goods have come: what came is billed at its claimed price, oldest receipt first; the rest,
// and a claimed price, stay claimed.
func Withdraw(inv Billed, lines []*trade.ClaimLine, company money.Currency) (Booking, error) {
	b := begin(inv.Currency, company)
	for _, l := range lines {
		order, ordered := trade.LineOf(inv.Orders, l.OrderLine)
		left := HasCome(l, ordered)
		if left == 0 {
			continue
		}
		came, err := l.Left.Share(left)
		if err != nil {
			return b.Booking, err
		}
		change := trade.ClaimChange{Kind: trade.ClaimWithdrawn, Relief: came}
		if err := price(&change, ordered, l.For, inv.Currency, 1); err != nil {
			return b.Booking, err
		}
		row := trade.Allocation{
			Kind:        trade.AllocatedBilled,
			InvoiceLine: l.InvoiceLine,
			Invoice:     inv.ID,
			Rate:        inv.Rate,
		}
		if ordered.Level == trade.TwoWay {
			row.Quantity = left
			b.take(ordered, row)
			part := posting.ClaimPart{Order: order, OrderLine: ordered, Relief: came.Negative()}
			if err := posting.Claim(&b.Entry, inv.ID, inv.Supplier, inv.Rate, part, company); err != nil {
				return b.Booking, err
			}
		} else if err := b.billCome(inv, order, ordered, row, came, company); err != nil {
			return b.Booking, err
		}
		b.touch(ordered)
		b.change(inv.Orders, l, change)
	}
	return b.Booking, b.Entry.Check()
}

func (b *booker) billCome(
	inv Billed,
	order *trade.Order,
	line *trade.OrderLine,
	row trade.Allocation,
	came trade.Relief,
	company money.Currency,
) error {
	left := came
	for _, r := range line.Receipts {
		quantity := min(left.Quantity, r.Open())
		if quantity <= 0 {
			continue
		}
		part, err := left.Share(quantity)
		if err != nil {
			return err
		}
		left = left.Less(part)
		row.Receipt = r
		if row.Relief, err = r.Next(quantity); err != nil {
			return err
		}
		b.take(line, row)
		if err := posting.Claim(&b.Entry, inv.ID, inv.Supplier, inv.Rate, posting.ClaimPart{
			Order: order, OrderLine: line, Relief: part.Negative(), Receipts: row.Relief.Negative(),
		}, company); err != nil {
			return err
		}
	}
	return nil
}
