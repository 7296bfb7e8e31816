package invoices

// This file gives one invoice, or one order, terms of payment of its own (rules §10).

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// TermsEntry sets terms in the place of the supplier's; none: the supplier's hold again.
type TermsEntry struct {
	Number, Version int64 // of the order or the invoice
	Terms           *trade.Terms
	Note            string
}

// own checks an entry.
func (e TermsEntry) own(w *act.Work) (store.OwnTerms, error) {
	own := store.OwnTerms{Terms: e.Terms, Note: strings.TrimSpace(e.Note), By: w.Actor.ID, At: w.Instant()}
	if own.Note == "" {
		return own, fault.New(fault.Invalid, "note", "Say in a note why.")
	}
	if e.Terms == nil {
		return own, nil
	}
	return own, e.Terms.Check()
}

// SetInvoiceTerms sets the terms of one invoice, or takes its supplier's again; why is kept. What a run holds stays as it is.
func SetInvoiceTerms(ctx context.Context, a *act.App, c act.Command, entry TermsEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.SetInvoiceTerms, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Number, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if inv.Kind == trade.CreditNote || inv.Requested() {
			return act.Captured{}, fault.New(fault.Refused, "", "%s %d has no terms.", say.Document(inv.Kind), inv.Number)
		}
		if err := notInRun(w, inv, s, act.SetInvoiceTerms, "its terms"); err != nil {
			return act.Captured{}, err
		}
		own, err := entry.own(w)
		if err != nil {
			return act.Captured{}, err
		}
		before, err := w.TermsOfInvoice(inv.ID)
		if err := errors.Join(err, w.AddOwnTerms(0, inv.ID, own), w.Record("invoice", inv.Number, before, entry)); err != nil {
			return act.Captured{}, err
		}
		if s.State.Unsettled() {
			return matched(w, inv, s, "terms set by "+w.Actor.Name, nil)
		}
		err = w.DueAgain(inv.ID)
		s, wrong := w.InvoiceState(inv.ID)
		return act.Captured{Number: inv.Number, State: s.State}, errors.Join(err, wrong)
	})
}

// SetOrderTerms sets the terms of one order, or takes its supplier's again: its invoices are due by them, but for those that
// have terms of their own, or that a run holds.
func SetOrderTerms(ctx context.Context, a *act.App, c act.Command, entry TermsEntry) (int64, error) {
	return act.Perform(ctx, a, act.SetOrderTerms, c, func(w *act.Work) (int64, error) {
		order, err := w.OrderByNumber(entry.Number, store.AllReserved)
		if err != nil {
			return 0, act.Found(err, "There is no order %d.", entry.Number)
		}
		if !act.OrderSteps.Allow(order.State, act.SetOrderTerms) {
			return 0, fault.New(fault.Refused, "", "Order %d is %s; its terms stand.", entry.Number, order.State)
		}
		if err := w.Changed("order", entry.Number, entry.Version, order.Version); err != nil {
			return 0, err
		}
		own, err := entry.own(w)
		if err != nil {
			return 0, err
		}
		before, err := w.TermsOfOrder(order.ID)
		cause := fmt.Sprintf("terms of order %d set", order.Number)
		if err := errors.Join(err, w.AddOwnTerms(order.ID, 0, own), w.TouchOrder(order), w.Wake(order.ID, 0, cause)); err != nil {
			return 0, err
		}
		booked, err := w.BookedOfOrder(order.ID)
		if err != nil {
			return 0, err
		}
		for _, invoice := range booked {
			held, err := w.InProposedRun(invoice)
			if err == nil && !held {
				err = w.DueAgain(invoice)
			}
			if err != nil {
				return 0, err
			}
		}
		return order.Number, w.Record("order", order.Number, before, entry)
	})
}
