package invoices

// This file is about the due date that an invoice states, beside the one that its supplier's terms make (rules §10).

import (
	"context"
	"errors"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// DueEntry takes the due date that an invoice states, or the computed one.
type DueEntry struct {
	Invoice, Version int64
	Stated           bool
	Note             string
}

// TakeDue takes, for this one invoice, the due date that it states, or the computed one again; why is kept. What a run holds
// stays as it is.
func TakeDue(ctx context.Context, a *act.App, c act.Command, entry DueEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.TakeDue, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if inv.DueStated == "" || inv.Kind == trade.CreditNote {
			return act.Captured{}, fault.New(fault.Refused, "", "%s %d states no due date.", say.Document(inv.Kind), inv.Number)
		}
		if err := notInRun(w, inv, s, act.TakeDue, "its due date"); err != nil {
			return act.Captured{}, err
		}
		note := strings.TrimSpace(entry.Note)
		if note == "" {
			return act.Captured{}, fault.New(fault.Invalid, "note", "Say in a note why.")
		}
		if err := w.AddDue(inv.ID, store.DueTaken{Stated: entry.Stated, Note: note, At: w.Instant()}, w.Actor.ID); err != nil {
			return act.Captured{}, err
		}
		if err := w.Record("invoice", inv.Number, struct{ Due string }{string(s.Due)}, entry); err != nil {
			return act.Captured{}, err
		}
		if s.State.Unsettled() {
			return matched(w, inv, s, "due date chosen by "+w.Actor.Name, nil)
		}
		err = w.DueAgain(inv.ID)
		s, wrong := w.InvoiceState(inv.ID)
		return act.Captured{Number: inv.Number, State: s.State}, errors.Join(err, wrong)
	})
}
