package invoices

// This file pays money ahead on our own request, where the supplier sends no invoice for it (rules §8).

import (
	"context"
	"fmt"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// RequestEntry asks for what is agreed ahead to be paid without an invoice.
type RequestEntry struct {
	Order, Version int64 // number
	Agreement      int64 // number
}

// RequestAhead asks for what is left of an agreement to be paid without an invoice, where the company allows that. The
// request is released and paid like an invoice, by others than who made it; nothing is booked before it is paid. An invoice
// that comes later takes its place.
func RequestAhead(ctx context.Context, a *act.App, c act.Command, entry RequestEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.RequestAhead, c, func(w *act.Work) (act.Captured, error) {
		if !w.Ours.Requests {
			return act.Captured{}, fault.New(fault.Refused, "", "The company pays nothing ahead without the supplier's invoice. That is set under Set up.")
		}
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return act.Captured{}, act.Found(err, "There is no order %d.", entry.Order)
		}
		if !act.OrderSteps.Allow(order.State, act.RequestAhead) {
			return act.Captured{}, fault.New(fault.Refused, "", "Order %d is %s; nothing is paid ahead on it.", entry.Order, order.State)
		}
		if err := w.Changed("order", entry.Order, entry.Version, order.Version); err != nil {
			return act.Captured{}, err
		}
		agreed, err := w.Agreement(entry.Agreement)
		if err != nil || agreed.Order != order.ID {
			return act.Captured{}, fault.New(fault.Changed, "", "Agreement %d does not stand on order %d any more.", entry.Agreement, entry.Order)
		}
		left, err := toRequest(order, agreed)
		if err != nil {
			return act.Captured{}, err
		}
		if left <= 0 {
			return act.Captured{}, fault.New(fault.Refused, "", "All of agreement %d is invoiced or requested already.", entry.Agreement)
		}
		inv, err := agreed.Request(order, left, w.Today())
		if err != nil {
			return act.Captured{}, err
		}
		supplier, err := w.Supplier(inv.SupplierID)
		if err != nil {
			return act.Captured{}, err
		}
		inv.SupplierStated = supplier.Name
		if inv.Rate, err = w.RateOn(inv.Currency, inv.Date); err != nil {
			return act.Captured{}, err
		}
		if inv.PostingDay, err = w.FirstOpenDay(inv.PostingDay); err != nil {
			return act.Captured{}, err
		}
		if err := w.TouchOrder(order); err != nil {
			return act.Captured{}, err
		}
		return capture(w, inv, 0, fmt.Sprintf("requested by %s", w.Actor.Name), nil)
	})
}

// toRequest is what of an agreement neither an invoice nor a request has asked for.
func toRequest(order *trade.Order, agreed store.Agreed) (money.Amount, error) {
	totals, err := order.Totals()
	if err != nil {
		return 0, err
	}
	gross, err := agreed.Gross(totals.Total)
	return gross - agreed.AskedFor(), err
}

// takeOver has an invoice for money ahead take the place of our own requests for the same: what was paid on them is used for
// it, once all of them are paid.
func takeOver(w *act.Work, inv trade.Invoice, revision int64) error {
	if !inv.Prepays() || inv.Requested() {
		return nil
	}
	ahead, err := w.MoneyAhead(inv, revision)
	if err != nil || slices.ContainsFunc(ahead, func(p trade.Prepayment) bool { return p.Settled < p.Booked.Value }) {
		return err
	}
	owes := inv.StatedTotal
	for _, p := range ahead {
		could := min(p.Usable(), owes)
		owes -= max(0, could)
		if could <= 0 || (p.Use != nil && p.Use.Amount == could) {
			continue
		}
		makers, err := w.Makers(p.Invoice)
		if err != nil {
			return err
		}
		if p.Use != nil {
			if err := w.EndUse(p.Use.ID, "another amount of it is left", makers[0], w.Instant()); err != nil {
				return err
			}
		}
		note := fmt.Sprintf("paid on request %d", p.Number)
		if _, err := w.AddUse(revision, p.Invoice, trade.AheadUse{Amount: could, Note: note}, makers[0], w.Instant()); err != nil {
			return err
		}
	}
	return nil
}
