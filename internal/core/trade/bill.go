package trade

// This file is about what an invoice of an order is proposed to bill (rules §5, part invoices).

import (
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Wanted says what a proposed invoice bills of an order. Where it names nothing it is what is received and not invoiced.
type Wanted struct {
	Rest  bool          // all that is not invoiced yet, whether it has come or not
	Note  string        // goods that came under one delivery note
	Share money.Decimal // so many per cent of what each line ordered
	Net   money.Amount  // so much, spread over the lines by their nets
}

// Propose gives the lines that an invoice of the order bills, at the order's prices, with their shares of each line's
// discount and charge. What does not come to six places is rounded; lines of which nothing is billed are left out.
func (o *Order) Propose(w Wanted) ([]InvoiceLine, error) {
	nets, err := o.spread(w.Net)
	if err != nil {
		return nil, err
	}
	var lines []InvoiceLine
	for i, l := range o.Lines {
		if l.ClosedInvoices {
			continue
		}
		quantity, notes := l.billable(w)
		switch {
		case w.Share > 0:
			notes = nil
			quantity, err = l.Quantity.Share(int64(w.Share), int64(money.Int(100)))
		case w.Net > 0:
			notes = nil
			quantity, err = l.Quantity.Share(int64(nets[i]), int64(max(1, l.Net)))
		}
		if err != nil {
			return nil, err
		}
		if quantity <= 0 {
			continue
		}
		discount, err1 := l.Discount.Part(int64(quantity), int64(l.Quantity))
		charge, err2 := l.Charge.Part(int64(quantity), int64(l.Quantity))
		if err := errors.Join(err1, err2); err != nil {
			return nil, err
		}
		lines = append(lines, InvoiceLine{
			No:           l.No,
			OrderID:      o.ID,
			OrderLineID:  l.ID,
			OrderLineRef: fmt.Sprint(l.No),
			Description:  l.Description,
			Quantity:     quantity,
			Unit:         l.Unit,
			Price:        l.Price,
			Base:         l.Base,
			Discount:     discount,
			Charge:       charge,
			TaxCategory:  l.TaxCategory,
			TaxRate:      l.TaxRate,
			TaxCode:      l.Tax.Code,
			Notes:        notes,
		})
	}
	return lines, nil
}

// OfNet gives the line the quantity that comes to a net at its price: the only one of six places, or none. Where the quantity
// that the line has already comes to one minor unit more or less, the supplier rounded otherwise: it stays, and a charge or
// discount of that one takes up the difference.
func (l *InvoiceLine) OfNet(net money.Amount, currency money.Currency) error {
	if l.Quantity > 0 {
		if now, err := l.Net(currency); err == nil && (now-net).Abs() <= 1 {
			l.Charge, l.Discount = l.Charge+max(0, net-now), l.Discount+max(0, now-net)
			return nil
		}
	}
	if l.Price <= 0 {
		return fault.New(fault.Invalid, "net", "Without a price no quantity can be worked out of the net.")
	}
	quantity, err := money.UnitPrice(0, l.Price, l.Base, 0, 0, currency).Buys(net-l.Charge+l.Discount, currency)
	if err != nil {
		return fault.New(fault.Invalid, "net", "That is more than can be held.")
	}
	l.Quantity = quantity
	if now, err := l.Net(currency); err != nil || now != net {
		return fault.New(fault.Invalid, "net", "No quantity of at most six places comes to just this net at the price.")
	}
	return nil
}

// spread splits a net amount over the order's lines that take invoices; without one there is nothing to split.
func (o *Order) spread(net money.Amount) ([]money.Amount, error) {
	if net == 0 {
		return nil, nil
	}
	weights := make([]money.Amount, len(o.Lines))
	for i, l := range o.Lines {
		if !l.ClosedInvoices {
			weights[i] = l.Net
		}
	}
	parts, err := money.Split(net, weights)
	if errors.Is(err, money.ErrNoWeights) {
		return nil, fault.New(fault.Refused, "share", "Nothing of order %d can be invoiced, so that nothing can be spread over it.", o.Number)
	}
	return parts, err
}

// billable is what of the line is wanted, and of which delivery notes where it is matched by receipt.
func (l *OrderLine) billable(w Wanted) (money.Decimal, Notes) {
	if w.Rest {
		return max(0, l.CountsAsOrdered()-l.Billed-l.Reserved, l.Unclaimed()), nil
	}
	if l.Level == TwoWay {
		if w.Note != "" {
			return min(max(0, l.Room()), l.HeldOf(Notes{w.Note})), nil
		}
		return max(0, l.Room()), nil
	}
	var named Notes
	if w.Note != "" {
		named = Notes{w.Note}
	}
	left := l.Left()
	var quantity money.Decimal
	var notes Notes
	for _, taken := range left.Take(named, max(0, left.Room(named))) {
		quantity += taken.Quantity
		if l.Level == ByReceipt && !notes.Names(taken.Receipt.Note) {
			notes = append(notes, taken.Receipt.Note)
		}
	}
	return quantity, notes
}

// OpenReceipt is what of a receipt is here and claimed by no invoice.
type OpenReceipt struct {
	Line     *OrderLine
	Receipt  *Receipt
	Quantity money.Decimal
}

// OpenReceipts are those of the order's lines that take invoices, line by line, the oldest first.
func (o *Order) OpenReceipts() []OpenReceipt {
	var all []OpenReceipt
	for _, l := range o.Lines {
		if !l.Level.Receives() || l.ClosedInvoices {
			continue
		}
		left := l.Left()
		for _, taken := range left.Take(nil, max(0, left.Room(nil))) {
			all = append(all, OpenReceipt{l, taken.Receipt, taken.Quantity})
		}
	}
	return all
}

// ParseShare reads a part of an order as it is typed: per cent (10%), or an amount of its currency (850).
func ParseShare(typed string, currency money.Currency) (percent money.Decimal, amount money.Amount, err error) {
	typed = strings.TrimSpace(typed)
	if share, ok := strings.CutSuffix(typed, "%"); ok {
		percent, err = money.ParseDecimal(strings.TrimSpace(share))
	} else {
		amount, err = money.Entered(typed).In(currency)
	}
	if err != nil || percent < 0 || amount < 0 || (percent == 0 && amount == 0) {
		return 0, 0, fault.New(fault.Invalid, "share", "“%s” is no share of an order: type per cent (10%%) or an amount (850).", typed)
	}
	return percent, amount, nil
}
