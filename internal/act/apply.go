package act

// This file writes what the core has decided to book, and what follows from it for the due
// days of invoices that were booked before.

import (
	"errors"
	"slices"
	"strings"

	"lagoon/internal/core/book"
	"lagoon/internal/core/day"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Applied says by which document about goods, at which rate and why a booking is written, of
// whom and when.
func (w *Work) Applied(delivery int64, rate money.Decimal, reason string) store.Applied {
	return store.Applied{
		Delivery: delivery,
		Rate:     rate,
		Reason:   strings.TrimSpace(reason),
		By:       w.Actor.ID,
		At:       w.Instant(),
	}
}

// ApplyBooking writes a booking. Other invoices than of may be set against other receipts by it, so
// that those whose terms count from receipt are due on another day.
func (w *Work) ApplyBooking(b book.Booking, as store.Applied, of int64) error {
	as.Document = of
	if err := w.Apply(b, as); err != nil {
		return err
	}
	for _, a := range b.Ahead {
		if err := w.SeeUnused(a.Of.Invoice); err != nil {
			return err
		}
	}
	var touched []int64
	for _, a := range b.Allocations {
		if a.Receipt != nil && a.Invoice != 0 && a.Invoice != of && !slices.Contains(touched, a.Invoice) {
			touched = append(touched, a.Invoice)
		}
	}
	for _, invoice := range touched {
		if err := w.dueAgain(invoice); err != nil {
			return err
		}
	}
	return nil
}

// dueAgain works out once more when a booked invoice is due whose terms count from receipt.
func (w *Work) dueAgain(invoice int64) error {
	inv, s, err := w.Standing(invoice)
	if err != nil {
		return err
	}
	supplier, err := w.Supplier(s.Supplier)
	if err != nil {
		return err
	}
	if terms, _, err := w.TermsOf(inv, supplier); err != nil || !terms.FromReceipt {
		return err
	}
	return w.DueAgain(invoice)
}

// TermsOf are the terms that an invoice is paid on: its own, else those of its order, else its supplier's; and whose they are,
// where they are not the supplier's.
func (r Reading) TermsOf(inv trade.Invoice, supplier trade.Supplier) (trade.Terms, *store.OwnTerms, error) {
	own, err := r.TermsOfInvoice(inv.ID)
	for _, order := range inv.Concerns() {
		if err != nil || own != nil {
			break
		}
		own, err = r.TermsOfOrder(order)
	}
	if err != nil || own == nil {
		return supplier.Terms, nil, err
	}
	return *own.Terms, own, nil
}

// DueAgain works out once more when a booked invoice is due, from the receipts that it is set against now and from what was
// decided of its stated due date (rules §10).
func (w *Work) DueAgain(invoice int64) error {
	s, err := w.InvoiceState(invoice)
	if err != nil || (s.State != trade.Verified && s.State != trade.Released) {
		return err
	}
	supplier, err := w.Supplier(s.Supplier)
	if err != nil {
		return err
	}
	inv, err := w.Invoice(s.Revision)
	if err != nil {
		return err
	}
	orders, err := w.OrdersOf(inv, store.AllReserved)
	if err != nil {
		return err
	}
	rows, err := w.AllocationsOf(s.Revision, orders...)
	if err != nil {
		return err
	}
	result := match.Result{}
	for _, row := range rows {
		result.Allocations = append(
			result.Allocations,
			match.Allocation{OrderLine: row.Line, Receipt: row.Receipt, Quantity: row.Quantity},
		)
	}
	before := s
	claimed, err1 := w.NotPaid(invoice)
	used, err2 := w.UsedAhead(invoice)
	if err := errors.Join(err1, err2); err != nil {
		return err
	}
	if err := w.Terms(&s, inv, match.Facts{Supplier: &supplier}, result, claimed+used); err != nil {
		return err
	}
	if plan, err := w.InvoicePlan(invoice); err != nil {
		return err
	} else if len(plan.Instalments) > 0 { // some of them may be paid
		s.Due = trade.NextDue(plan.Instalments, s.Open)
	}
	if s == before {
		return nil
	}
	s.Version++
	return errors.Join(
		w.SaveInvoiceState(s),
		w.Record("invoice", inv.Number, struct{ Due day.Day }{before.Due}, struct{ Due day.Day }{s.Due}),
	)
}

// Terms works out due date and discount from the supplier's terms, or takes the due date that the invoice states where that
// counts. There is no discount on what is less paid than it states: claimed, or paid ahead (rules §10).
func (w *Work) Terms(s *store.InvoiceState, inv trade.Invoice, facts match.Facts, result match.Result, less money.Amount) error {
	if facts.Supplier == nil || inv.Kind == trade.CreditNote || inv.Requested() {
		s.Due = inv.Date
		if inv.DueStated != "" {
			s.Due = inv.DueStated
		}
		return w.keepPlan(inv.ID, store.InvoicePlan{})
	}
	t, own, err := w.TermsOf(inv, *facts.Supplier)
	if err != nil {
		return err
	}
	if inv.Kind == trade.PrepaymentInvoice { // what is asked ahead is due whole
		t.Instalments = ""
	}
	base := result.BaseDate(t, inv.Date)
	by := w.Ours.Due
	if inv.DueStated != "" {
		switch taken, err := w.DueTaken(inv.ID); {
		case err != nil:
			return err
		case taken != nil && taken.Stated:
			by = trade.DueTheirs
		case taken != nil:
			by = trade.DueOurs
		}
	}
	s.Due, s.DiscountUntil = by.Of(t.Due(base), inv.DueStated), t.DiscountUntil(base)
	var plan store.InvoicePlan
	if s.Due == t.Due(base) {
		if plan.Instalments, err = t.Plan(base, inv.StatedTotal-less); err != nil {
			return err
		}
	}
	if steps := t.DiscountSteps(base); len(steps) > 1 || (own != nil && len(steps) > 0) { // else they are the supplier's
		plan.Discounts = steps
	}
	if err := w.keepPlan(inv.ID, plan); err != nil {
		return err
	}
	s.Discount, err = pay.Discount(inv.StatedTotal-less, t)
	return err
}

// keepPlan writes the discounts and instalments of an invoice where they are others than before.
func (w *Work) keepPlan(invoice int64, plan store.InvoicePlan) error {
	if before, err := w.InvoicePlan(invoice); err != nil || before.Equal(plan) {
		return err
	}
	return w.PutInvoicePlan(invoice, plan)
}
