package act

// This file reads what several stages need of goods: lots, and which closings of a line are in force.

import (
	"errors"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
	"slices"
)

// InForce are the last closings to goods and to invoices: those that stand, on a line
// that is closed to both.
func InForce(closes []store.LineClose) (goods, invoices store.LineClose) {
	for _, c := range closes {
		if c.Goods > 0 {
			goods = c
		}
		if c.Invoices > 0 {
			invoices = c
		}
	}
	return goods, invoices
}

// LotsLeftOf are the lots of a delivery that are still here, by line number.
func (r Reading) LotsLeftOf(order *trade.Order, delivery int64) (map[int][]receive.Lot, error) {
	lots := map[int][]receive.Lot{}
	for _, line := range order.Lines {
		for _, receipt := range line.Receipts {
			if receipt.Delivery != delivery {
				continue
			}
			left, err := r.LotsLeft(receipt.ID)
			if err != nil {
				return nil, err
			}
			for _, l := range left {
				lots[line.No] = append(
					lots[line.No],
					receive.Lot{Lot: l.Lot, Quantity: l.Quantity, BestBefore: l.BestBefore},
				)
			}
		}
	}
	return lots, nil
}

// LotsIn are the lots that lines of a delivery or return name, by receipt line.
func (r Reading) LotsIn(d store.Delivery, lines []store.ReceiptLine) (_ map[int64][]store.Lot, err error) {
	lots := map[int64][]store.Lot{}
	for _, l := range lines {
		switch d.Kind {
		case store.Arrived:
			lots[l.ID], err = r.LotsOf(l.ID)
		case store.Returned:
			lots[l.ID], err = r.LotsBack(d.ID, l.ID)
		}
		if err != nil {
			return nil, err
		}
	}
	return lots, nil
}

// StandsClosed tells what a line was closed to after some closings and openings.
func StandsClosed(closes []store.LineClose) (goods, invoices bool) {
	for _, c := range closes {
		goods = (goods || c.Goods > 0) && c.Goods >= 0
		invoices = (invoices || c.Invoices > 0) && c.Invoices >= 0
	}
	return goods, invoices
}

// IsWork tells whether a booked document about goods accepts work, of lines by value.
func IsWork(order *trade.Order, d store.Delivery, lines []store.ReceiptLine) bool {
	return d.Kind == store.Arrived && slices.ContainsFunc(lines, func(l store.ReceiptLine) bool {
		line := order.LineByID(l.OrderLine)
		return line != nil && line.ByValue()
	})
}

// NoticeDays is how many days before they are wanted the goods of an order are to be announced, and how the order itself says so.
func (r Reading) NoticeDays(order, supplier int64) (days int, own *int, err error) {
	company, err1 := r.Chase(0)
	theirs, err2 := r.Chase(supplier)
	own, err3 := r.OrderNotice(order)
	return trade.NoticeDays(own, theirs, company), own, errors.Join(err1, err2, err3)
}
