package invoices

// This file says whom an invoice is with, of those whose turn it may be: one of them takes it over, or hands it to another.

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// Handing is what is handed over, and to whom.
type Handing struct {
	Invoices []int64
	To       string // sign-in name; empty: back to everybody whose turn it may be
	Note     string
}

// Handed answers TakeInvoice and HandInvoices.
type Handed struct {
	Invoices []int64
	To       string // name; empty: everybody
}

// mostHanded is how many invoices are handed over at a time.
const mostHanded = 200

// TakeInvoice takes over an invoice: it is the actor's turn and nobody else's. From is the name of whom it was with as the actor saw it,
// so that two who take it at once learn of each other.
func TakeInvoice(ctx context.Context, a *act.App, c act.Command, number int64, from string) (Handed, error) {
	return act.Perform(ctx, a, act.TakeInvoice, c, func(w *act.Work) (Handed, error) {
		inv, s, err := w.InvoiceNumbered(number)
		if err != nil {
			return Handed{}, act.Found(err, "There is no invoice %d.", number)
		}
		now, err := w.Keeper(inv.ID)
		switch {
		case err != nil:
			return Handed{}, err
		case !s.State.Unsettled() || s.Turn == "":
			return Handed{}, nobodysTurn(number)
		case !w.Actor.Has(s.Turn):
			return Handed{}, fault.New(fault.Forbidden, "", "Invoice %d is the turn of the role %s.", number, s.Turn)
		case now.Person == w.Actor.ID:
			return Handed{}, fault.New(fault.Refused, "", "Invoice %d is with you already.", number)
		case now.Name != from:
			return Handed{}, fault.New(fault.Changed, "", "Meanwhile invoice %d is with %s.", number, cmp.Or(now.Name, "everybody whose turn it may be"))
		}
		if err := mayDecide(w, inv.ID, number, s.Turn, w.Actor); err != nil {
			return Handed{}, err
		}
		return Handed{[]int64{number}, w.Actor.Name}, keep(w, inv.ID, number, now, w.Actor.ID, w.Actor.Name, "")
	})
}

// HandInvoices hands invoices to a colleague whose turn they may be, or back to all of those: by one of them, or by whoever leads the
// work. All of them, or none.
func HandInvoices(ctx context.Context, a *act.App, c act.Command, h Handing) (Handed, error) {
	return act.Perform(ctx, a, act.HandInvoices, c, func(w *act.Work) (Handed, error) {
		if len(h.Invoices) == 0 || len(h.Invoices) > mostHanded {
			return Handed{}, fault.New(fault.Invalid, "invoices", "Choose 1 to %d invoices.", mostHanded)
		}
		var to act.Actor // nobody: it goes back to all
		if strings.TrimSpace(h.To) != "" {
			var err error
			if to, err = w.Colleague(h.To); err != nil {
				return Handed{}, err
			}
		}
		numbers := slices.Compact(slices.Sorted(slices.Values(h.Invoices)))
		for _, number := range numbers {
			inv, s, err := w.InvoiceNumbered(number)
			if err != nil {
				return Handed{}, act.Found(err, "There is no invoice %d.", number)
			}
			switch {
			case !s.State.Unsettled() || s.Turn == "":
				return Handed{}, nobodysTurn(number)
			case !w.Actor.Has(s.Turn) && !slices.ContainsFunc(act.Leads, w.Actor.Has):
				return Handed{}, fault.New(fault.Forbidden, "", "Invoice %d is the turn of the role %s; one of them, or an approver, hands it over.", number, s.Turn)
			case to.ID != 0 && !to.Holds(s.Turn):
				return Handed{}, fault.New(fault.Invalid, "to", "%s has not the role %s, whose turn invoice %d is.", to.Name, s.Turn, number)
			}
			if err := mayDecide(w, inv.ID, number, s.Turn, to); err != nil {
				return Handed{}, err
			}
			now, err := w.Keeper(inv.ID)
			if err != nil {
				return Handed{}, err
			}
			if now.Person == to.ID {
				continue // it is with them
			}
			if err := keep(w, inv.ID, number, now, to.ID, to.Name, strings.TrimSpace(h.Note)); err != nil {
				return Handed{}, err
			}
		}
		return Handed{numbers, to.Name}, nil
	})
}

func nobodysTurn(number int64) error {
	return fault.New(fault.Refused, "", "Invoice %d is nobody’s turn any more.", number)
}

// mayDecide refuses a decision on one's own entry: in those hands it would lie for ever.
func mayDecide(w *act.Work, invoice, number int64, turn string, to act.Actor) error {
	if to.ID == 0 || !slices.Contains(act.Decides, turn) {
		return nil
	}
	own, err := w.IsOwnEntry(invoice, to.ID)
	if err == nil && own {
		err = fault.New(fault.Refused, "to", "%s keyed invoice %d and does not decide on it.", to.Name, number)
	}
	return err
}

func keep(w *act.Work, invoice, number int64, before store.Keeper, to int64, name, note string) error {
	return errors.Join(
		w.PutKeeper(invoice, to, note, w.Actor.ID, w.Instant()),
		w.Record("invoice", number, struct{ With string }{before.Name}, struct{ With, Note string }{name, note}),
	)
}
