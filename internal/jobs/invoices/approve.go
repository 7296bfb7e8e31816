package invoices

// This file approves what is charged without an order (rules §5, §12), and passes an approval on to somebody else.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// ApprovalEntry approves an invoice without an order, or passes it on to a person.
type ApprovalEntry struct {
	Invoice, Version int64
	Note             string
	To               string // sign-in name of whom it is passed on to
}

// unapproved reads an invoice that waits for its approval, and what it charges in the currency of the books.
func unapproved(
	w *act.Work,
	entry ApprovalEntry,
) (inv trade.Invoice, s store.InvoiceState, a store.Approval, err error) {
	if inv, s, err = w.OpenInvoice(entry.Invoice, entry.Version); err != nil {
		return
	}
	findings, err := w.FindingsOf(s)
	if err != nil {
		return
	}
	at := slices.IndexFunc(
		findings,
		func(f finding.Finding) bool { return f.Kind == finding.ApprovalMissing && f.Open() },
	)
	if at < 0 || !s.State.Unsettled() {
		err = fault.New(fault.Refused, "", "Invoice %d waits for no approval.", inv.Number)
		return
	}
	if inv.Rate == 0 {
		err = fault.New(
			fault.Refused,
			"",
			"What invoice %d is worth is not known before there is a rate of %s.",
			inv.Number,
			inv.Currency,
		)
		return
	}
	a = store.Approval{Note: strings.TrimSpace(entry.Note), At: w.Instant()}
	a.Net, err = findings[at].Amount.Convert(inv.Rate, inv.Currency, w.Ours.Currency)
	return
}

// ApproveInvoice agrees with an invoice without an order. It takes the authority for its net, and nobody approves their
// own entry. A correction of the entry ends the approval.
func ApproveInvoice(ctx context.Context, a *act.App, c act.Command, entry ApprovalEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.ApproveInvoice, c, func(w *act.Work) (act.Captured, error) {
		inv, s, approval, err := unapproved(w, entry)
		if err != nil {
			return act.Captured{}, err
		}
		if w.Actor, err = w.Approver(w.Actor, inv, approval.Net); err != nil {
			return act.Captured{}, err
		}
		charges, err := w.CodedCharges(inv)
		if err != nil {
			return act.Captured{}, err
		}
		if against, err := w.RefuseBudgets(charges); err != nil || len(against) > 0 {
			return act.Captured{}, errors.Join(err, against.OrNil())
		}
		approval.By = w.Actor.ID
		if err := errors.Join(w.AddApproval(inv.ID, s.Revision, approval), w.Record("invoice", inv.Number, nil, entry)); err != nil {
			return act.Captured{}, err
		}
		return matched(w, inv, s, "approved by "+w.Actor.Name, nil)
	})
}

// PassApproval passes the approval of an invoice on to somebody who may give it. It is their turn then.
func PassApproval(ctx context.Context, a *act.App, c act.Command, entry ApprovalEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.PassApproval, c, func(w *act.Work) (act.Captured, error) {
		inv, s, approval, err := unapproved(w, entry)
		if err != nil {
			return act.Captured{}, err
		}
		to, err := w.Colleague(entry.To)
		switch {
		case err != nil:
			return act.Captured{}, err
		case to.ID == w.Actor.ID:
			return act.Captured{}, fault.New(fault.Invalid, "to", "It is passed on to somebody else.")
		}
		if _, err := w.Approver(to, inv, approval.Net); err != nil {
			if fault.Refuses(err) {
				return act.Captured{}, fault.New(fault.Invalid, "to", "%s cannot approve it. %s", to.Name, err.Error())
			}
			return act.Captured{}, err
		}
		s.Version++
		pass := store.Pass{To: to.ID, Note: approval.Note, At: w.Instant()}
		if kept, err := w.HasKeeper(inv.ID); err != nil {
			return act.Captured{}, err
		} else if kept { // who took it over has passed it on
			if err := w.PutKeeper(inv.ID, 0, "", w.Actor.ID, w.Instant()); err != nil {
				return act.Captured{}, err
			}
		}
		return act.Captured{Number: inv.Number, State: s.State, Summary: s.Summary}, errors.Join(
			w.AddPass(
				inv.ID,
				s.Revision,
				pass,
				w.Actor.ID,
			),
			w.SaveInvoiceState(s),
			w.Record("invoice", inv.Number, nil, entry),
		)
	})
}
