package act

// This file keeps money ahead in sight that nothing can use any more (rules §8).

import (
	"errors"

	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// TouchOrder writes the state of an order and counts it as changed. Money that was paid ahead on an order that is over is
// somebody's turn until it is settled.
func (w *Work) TouchOrder(order *trade.Order) error {
	if err := w.Tx.TouchOrder(order); err != nil {
		return err
	}
	ahead, err := w.AheadOf(order.ID)
	for _, id := range ahead {
		err = errors.Join(err, w.SeeUnused(id))
	}
	return err
}

// SeeUnused writes whether the money of a paid invoice for it is somebody's turn, after what may have changed that.
func (w *Work) SeeUnused(invoice int64) error {
	inv, s, err := w.Standing(invoice)
	if err != nil {
		return err
	}
	before := s
	if err := Unused(w.Reading, inv, &s); err != nil || s == before {
		return err
	}
	s.Version++
	return w.SaveInvoiceState(s)
}

// Unused says on the state of an invoice for money ahead whether its money is somebody's turn: paid, left, and neither goods nor invoices to come on its order.
func Unused(r Reading, inv trade.Invoice, s *store.InvoiceState) error {
	if s.Summary == say.NeverUsed {
		s.Summary, s.Turn = "", ""
	}
	if s.State != trade.Paid || !inv.Prepays() || inv.OrderID == 0 {
		return nil
	}
	order, err := r.Order(inv.OrderID, store.AllReserved)
	if err != nil || !order.Over() {
		return err
	}
	p, err := r.Prepayment(inv.ID, 0)
	if err == nil && p.Left() > 0 {
		s.Summary, s.Turn = say.NeverUsed, "clerk"
	}
	return err
}
