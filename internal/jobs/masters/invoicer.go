package masters

// This file is about who may invoice in a supplier's place (rules §6): named by one person, confirmed by another.

import (
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// InvoicerEntry names who may invoice in a supplier's place, or ends that.
type InvoicerEntry struct {
	Supplier, Invoicer string // codes
	Ended              bool
}

// invoicer finds both, and what stands of them; nil where nothing does.
func invoicer(r act.Reading, entry InvoicerEntry) (store.Invoicer, *store.Invoicer, error) {
	s, err := r.SupplierByCode(entry.Supplier)
	if err != nil {
		return store.Invoicer{}, nil, act.Found(err, "There is no supplier %s.", entry.Supplier)
	}
	other, err := r.SupplierByCode(entry.Invoicer)
	if errors.Is(err, store.ErrNone) {
		return store.Invoicer{}, nil, act.Unnamed("invoicer", entry.Invoicer)
	}
	if err != nil {
		return store.Invoicer{}, nil, err
	}
	all, err := r.InvoicersOf(s.ID)
	at := slices.IndexFunc(all, func(i store.Invoicer) bool { return i.Invoicer == other.ID })
	named := store.Invoicer{Supplier: s.ID, Invoicer: other.ID}
	if at < 0 {
		return named, nil, err
	}
	return named, &all[at], err
}

// NameInvoicer names who may invoice in a supplier's place: it counts once somebody else has confirmed it. Ended, it may
// no more from now on; what it has invoiced stands.
func NameInvoicer(ctx context.Context, a *act.App, c act.Command, entry InvoicerEntry) (Saved, error) {
	return act.Perform(ctx, a, act.NameInvoicer, c, func(w *act.Work) (Saved, error) {
		named, stands, err := invoicer(w.Reading, entry)
		switch {
		case err != nil:
			return Saved{}, err
		case named.Supplier == named.Invoicer:
			return Saved{}, fault.New(fault.Invalid, "invoicer", "A supplier invoices its own orders anyway.")
		case stands == nil && entry.Ended:
			return Saved{}, fault.New(fault.Changed, "", "It may not invoice in this supplier's place any more.")
		case stands != nil && !entry.Ended:
			return Saved{}, fault.New(fault.Duplicate, "invoicer", "%s is named already.", stands.Name)
		case stands != nil:
			named.By, named.Confirmed = stands.By, stands.Confirmed
		default:
			named.By = w.Actor.ID
		}
		return putInvoicer(w, named, entry)
	})
}

// putInvoicer writes it, and has the open invoices of who is named matched again.
func putInvoicer(w *act.Work, named store.Invoicer, entry InvoicerEntry) (Saved, error) {
	open, err := w.UnsettledOf(named.Invoicer)
	return Saved{Code: entry.Supplier}, errors.Join(err, w.PutInvoicer(named, entry.Ended),
		w.WakeEach(open, "who invoices in a supplier's place"), w.RecordAs("supplier", entry.Supplier, nil, entry))
}

// ConfirmInvoicer confirms it, by another person than named it.
func ConfirmInvoicer(ctx context.Context, a *act.App, c act.Command, entry InvoicerEntry) (Saved, error) {
	return act.Perform(ctx, a, act.ConfirmInvoicer, c, func(w *act.Work) (Saved, error) {
		named, stands, err := invoicer(w.Reading, entry)
		switch {
		case err != nil:
			return Saved{}, err
		case stands == nil || stands.Confirmed != 0:
			return Saved{}, fault.New(fault.Changed, "", "There is nothing to confirm any more.")
		case w.Actor.Is(stands.By):
			return Saved{}, fault.New(fault.Forbidden, "", "You named it, so somebody else confirms it.")
		}
		named.By, named.Confirmed, entry.Ended = stands.By, w.Actor.ID, false
		return putInvoicer(w, named, entry)
	})
}
