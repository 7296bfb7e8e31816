// Package holds is what people put in the way of paying an invoice, and take off again.
package holds

import (
	"context"
	"errors"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// HoldEntry puts a payment hold on an invoice.
type HoldEntry struct {
	Invoice int64
	Reason  string
	Note    string
}

// Held answers HoldInvoice and LiftHold.
type Held struct{ Number, Invoice int64 }

// Hold stops an invoice from being released and paid, at any time before payment.
func Hold(ctx context.Context, a *act.App, c act.Command, entry HoldEntry) (Held, error) {
	return act.Perform(ctx, a, act.HoldInvoice, c, func(w *act.Work) (Held, error) {
		inv, s, err := w.InvoiceNumbered(entry.Invoice)
		if err != nil {
			return Held{}, err
		}
		if !act.InvoiceSteps.Allow(s.State, act.HoldInvoice) {
			return Held{}, fault.New(
				fault.Refused,
				"",
				"Invoice %d is %s; a hold would stop nothing any more.",
				inv.Number,
				say.State(string(s.State)),
			)
		}
		if say.HoldReason(entry.Reason) == "" {
			return Held{}, fault.New(fault.Invalid, "reason", "Choose the reason of the hold.")
		}
		holds, err := w.HoldsOf(inv.ID)
		if err != nil {
			return Held{}, err
		}
		for _, h := range holds {
			if !h.Ended {
				return Held{}, fault.New(
					fault.Duplicate,
					"",
					"Invoice %d is on hold already, since %s, by %s.",
					inv.Number,
					act.Clock(h.At, w.Reading),
					h.ByName,
				)
			}
		}
		number, err := w.AddHold(
			store.Hold{
				Invoice: inv.ID,
				Reason:  entry.Reason,
				Note:    strings.TrimSpace(entry.Note),
				By:      w.Actor.ID,
				At:      w.Instant(),
			},
		)
		s.Version++
		return Held{
				number,
				inv.Number,
			}, errors.Join(
				err,
				w.SaveInvoiceState(s),
				w.Record("invoice", inv.Number, nil, entry),
			)
	})
}

// LiftEntry takes a hold off.
type LiftEntry struct {
	Hold int64
	Note string
}

// Lift takes a payment hold off. Nobody clears a hold raised against their own
// entry, but one may lift one's own hold (rules §7, §12).
func Lift(ctx context.Context, a *act.App, c act.Command, entry LiftEntry) (Held, error) {
	return act.Perform(ctx, a, act.LiftHold, c, func(w *act.Work) (Held, error) {
		h, err := w.HoldByNumber(entry.Hold)
		if err != nil {
			return Held{}, act.Found(err, "There is no hold %d.", entry.Hold)
		}
		if h.Ended {
			return Held{}, fault.New(fault.Changed, "", "This hold was taken off already, by %s.", h.EndedBy)
		}
		inv, s, err := w.InvoiceNumbered(h.InvoiceNumber)
		if err != nil {
			return Held{}, err
		}
		if h.By != w.Actor.ID {
			if err := w.NotOwn(inv, w.Actor); err != nil {
				return Held{}, err
			}
		}
		s.Version++
		return Held{
				h.Number,
				inv.Number,
			}, errors.Join(
				w.EndHold(h.ID, strings.TrimSpace(entry.Note), w.Actor.ID, w.Instant()),
				w.SaveInvoiceState(s),
				w.Record("invoice", inv.Number, h, entry),
			)
	})
}
