package book

// This file books goods that come, go back, are given away, and the undoing of each.

import (
	"slices"

	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
)

// Delivery books what came: the receipts at their value, what they fill, and the lines that
// close. As says what the new receipts carry of their delivery.
func Delivery(order *trade.Order, plan receive.Plan, as trade.Receipt, company money.Currency) (Booking, error) {
	b := begin(order.Currency, company)
	for _, r := range plan.Receipts {
		receipt := as
		receipt.Quantity, receipt.Value, receipt.ValueBase = r.Quantity, r.Value, r.ValueBase
		b.Receipts = append(b.Receipts, Receipt{r, &receipt})
		if r.Quantity == 0 {
			continue
		}
		r.Line.Arrive(&receipt)
		r.Line.LevelFixed = true
		b.touch(r.Line)
		posting.Received(&b.Entry, order, r.Line, trade.Relief{Quantity: r.Quantity, Value: r.Value, Base: r.ValueBase})
		if err := b.fill(order, r.Line, []opened{{&receipt, r.Quantity}}); err != nil {
			return b.Booking, err
		}
	}
	for _, line := range plan.Closes {
		b.close(order, line, true, false)
	}
	return b.Booking, nil
}

// Reversal takes back what of a delivery is not invoiced, gone back or free, and opens the
// lines that the delivery closed and nothing has closed since. Nothing to take back or to open
// gives an empty booking.
func Reversal(order *trade.Order, delivery int64, closed []*trade.OrderLine, company money.Currency) (Booking, error) {
	b := begin(order.Currency, company)
	for _, line := range order.Lines {
		for _, receipt := range line.Receipts {
			if receipt.Delivery != delivery {
				continue
			}
			if err := b.takeOpen(order, line, receipt, trade.AllocatedReversed, posting.TakenBack); err != nil {
				return b.Booking, err
			}
		}
	}
	for _, line := range closed {
		if err := b.open(order, line, true, false); err != nil {
			return b.Booking, err
		}
	}
	return b.Booking, nil
}

// Empty tells whether the booking does nothing.
func (b Booking) Empty() bool {
	return len(b.Receipts)+len(b.Allocations)+len(b.Closes) == 0
}

// Back is what goes back of one receipt. Taken is all of it at receipt value; Invoiced is the
// part of it that was billed.
type Back struct {
	receive.Piece
	Taken    trade.Relief
	Invoiced trade.Relief
}

// Return books goods that go back. For a replacement what was billed of them is awaited from
// now on and filled first by what comes next, and a line that was closed to goods opens; for
// credit it stays against the receipt, as a debit in GRNI until the credit note (rules §4).
func Return(
	order *trade.Order,
	pieces []receive.Piece,
	outcome receive.Outcome,
	company money.Currency,
) (Booking, []Back, error) {
	b := begin(order.Currency, company)
	var all []Back
	for _, p := range pieces {
		back := Back{Piece: p}
		invoiced := p.Invoiced()
		kind := trade.AllocatedCredited
		if outcome == receive.Replacement {
			kind = trade.AllocatedReturned
			moved, err := b.await(p, invoiced)
			if err != nil {
				return b.Booking, all, err
			}
			back.Invoiced = moved
		}
		var err error
		if back.Taken, err = p.Receipt.Next(p.Quantity); err != nil {
			return b.Booking, all, err
		}
		if outcome == receive.Credit {
			if back.Invoiced, err = back.Taken.Share(invoiced); err != nil {
				return b.Booking, all, err
			}
		}
		b.take(p.Line, trade.Allocation{Kind: kind, Receipt: p.Receipt, Relief: back.Taken})
		posting.TakenBack(&b.Entry, order, p.Line, back.Taken)
		if outcome == receive.Replacement && p.Line.ClosedGoods {
			if err := b.open(order, p.Line, true, false); err != nil {
				return b.Booking, all, err
			}
		}
		all = append(all, back)
	}
	return b.Booking, all, nil
}

// await moves what is billed of a receipt to what is awaited, the latest bill first.
func (b *booker) await(p receive.Piece, quantity money.Decimal) (trade.Relief, error) {
	var moved trade.Relief
	for _, bill := range slices.Backward(slices.Clone(p.Receipt.Bills)) {
		part := min(quantity-moved.Quantity, bill.Quantity)
		if part <= 0 {
			break
		}
		share, err := bill.Share(part)
		if err != nil {
			return moved, err
		}
		b.bill(p.Line, trade.AllocatedBilled, p.Receipt, bill, share.Negative())
		b.bill(p.Line, trade.AllocatedAwaited, nil, bill, share)
		moved = moved.Plus(share)
	}
	return moved, nil
}

// UndoReturn books that goods which were said to have gone back are here: it takes back the
// rows of the return. What is still awaited of them is billed of its receipt again; what a
// replacement has filled meanwhile leaves the goods open, to fill what else is awaited. A line
// that the return opened closes again.
func UndoReturn(
	order *trade.Order,
	rows []Allocation,
	openedLines []*trade.OrderLine,
	company money.Currency,
) (Booking, error) {
	b := begin(order.Currency, company)
	here := map[*trade.OrderLine][]opened{}
	for _, row := range rows {
		if row.Kind != trade.AllocatedReturned && row.Kind != trade.AllocatedCredited {
			continue
		}
		back := row.Allocation
		back.Relief = row.Negative()
		b.take(row.Line, back)
		posting.Received(&b.Entry, order, row.Line, row.Relief)
		here[row.Line] = append(here[row.Line], opened{row.Receipt, row.Quantity})
	}
	for _, row := range rows { // what went from billed to awaited
		if row.Kind != trade.AllocatedBilled || row.Receipt == nil || row.Quantity >= 0 {
			continue
		}
		part := row.Line.Awaited.Of(row.InvoiceLine)
		quantity := min(part.Quantity, -row.Quantity)
		if quantity <= 0 {
			continue
		}
		share, err := row.Negative().Share(quantity)
		if err != nil {
			return b.Booking, err
		}
		b.bill(row.Line, trade.AllocatedAwaited, nil, part, share.Negative())
		b.bill(row.Line, trade.AllocatedBilled, row.Receipt, part, share)
	}
	for _, line := range b.Lines {
		if err := b.fill(order, line, here[line]); err != nil {
			return b.Booking, err
		}
		if err := b.settle(order, line); err != nil {
			return b.Booking, err
		}
	}
	for _, line := range openedLines {
		b.close(order, line, true, false)
	}
	return b.Booking, nil
}

// Free takes what is here of a line and billed by nobody as free of charge, and closes it to
// goods and invoices (rules §6). Whoever calls has asked whether it may be.
func Free(order *trade.Order, line *trade.OrderLine, company money.Currency) (Booking, error) {
	b := begin(order.Currency, company)
	for _, receipt := range line.Receipts {
		if err := b.takeOpen(order, line, receipt, trade.AllocatedFree, posting.Free); err != nil {
			return b.Booking, err
		}
	}
	b.close(order, line, true, true)
	return b.Booking, nil
}

// takeOpen takes what of a receipt is here and billed by nobody, if anything, and posts it.
func (b *booker) takeOpen(order *trade.Order, line *trade.OrderLine, receipt *trade.Receipt, kind trade.AllocationKind,
	post func(*ledger.Entry, *trade.Order, *trade.OrderLine, trade.Relief),
) error {
	quantity := receipt.Open()
	if quantity <= 0 {
		return nil
	}
	taken, err := receipt.Next(quantity)
	if err != nil {
		return err
	}
	b.take(line, trade.Allocation{Kind: kind, Receipt: receipt, Relief: taken})
	post(&b.Entry, order, line, taken)
	return nil
}

// UndoFree puts back what was accepted as free of charge and opens the line as it was.
func UndoFree(
	order *trade.Order,
	line *trade.OrderLine,
	rows []Allocation,
	goods, invoices bool,
	company money.Currency,
) (Booking, error) {
	b := begin(order.Currency, company)
	var here []opened
	for _, row := range rows {
		if row.Kind != trade.AllocatedFree {
			continue
		}
		back := row.Allocation
		back.Relief = row.Negative()
		b.take(line, back)
		posting.Free(&b.Entry, order, line, back.Relief)
		here = append(here, opened{row.Receipt, row.Quantity})
	}
	if goods || invoices {
		if err := b.open(order, line, goods, invoices); err != nil {
			return b.Booking, err
		}
	}
	return b.Booking, b.fill(order, line, here)
}

// Closing closes lines of one order to goods, invoices or both, as far as they are not.
func Closing(order *trade.Order, lines []*trade.OrderLine, goods, invoices bool, company money.Currency) Booking {
	b := begin(order.Currency, company)
	for _, line := range lines {
		b.close(order, line, goods && !line.ClosedGoods, invoices && !line.ClosedInvoices)
	}
	return b.Booking
}

// Opening opens lines of one order again to goods, invoices or both, as far as they are closed.
func Opening(
	order *trade.Order,
	lines []*trade.OrderLine,
	goods, invoices bool,
	company money.Currency,
) (Booking, error) {
	b := begin(order.Currency, company)
	for _, line := range lines {
		if err := b.open(order, line, goods && line.ClosedGoods, invoices && line.ClosedInvoices); err != nil {
			return b.Booking, err
		}
	}
	return b.Booking, nil
}

// Goods is the value of the goods that the booking brings in, below zero where it takes them
// out, in the company's currency.
func (b Booking) Goods() money.Amount {
	var value money.Amount
	for _, a := range b.Allocations {
		switch a.Kind {
		case trade.AllocatedReversed, trade.AllocatedReturned, trade.AllocatedCredited, trade.AllocatedFree:
			value -= a.Base
		}
	}
	return value
}

// Worth is what the booking moves on an account, in the company's currency, debits above zero.
func (b Booking) Worth(role ledger.Role) money.Amount { return b.Entry.Of(role) }
