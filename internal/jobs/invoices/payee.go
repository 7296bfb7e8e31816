package invoices

// This file says who is paid for one invoice in the place of its supplier (rules §10).

import (
	"context"
	"errors"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// PayeeEntry sets who is paid for an invoice; no payee: its supplier is again.
type PayeeEntry struct {
	Invoice, Version int64  // number
	Payee            string // code of a supplier, whose account is paid
	Note             string
}

// SetPayee has another supplier paid for one invoice, or its own again; why is kept. Until another person confirms the other it is
// not paid. What a run holds stays as it is.
func SetPayee(ctx context.Context, a *act.App, c act.Command, e PayeeEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.SetPayee, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(e.Invoice, e.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if inv.Kind == trade.CreditNote {
			return act.Captured{}, fault.New(fault.Refused, "", "Credit note %d is not paid.", inv.Number)
		}
		if err := notInRun(w, inv, s, act.SetPayee, "who is paid"); err != nil {
			return act.Captured{}, err
		}
		before, err := w.PayeeOf(inv.ID)
		if err != nil {
			return act.Captured{}, err
		}
		own := store.InvoicePayee{Note: strings.TrimSpace(e.Note), By: w.Actor.ID, At: w.Instant()}
		if own.Note == "" {
			return act.Captured{}, fault.New(fault.Invalid, "note", "Say in a note why.")
		}
		if strings.TrimSpace(e.Payee) != "" {
			if err := another(w, inv, before, e.Payee, &own); err != nil {
				return act.Captured{}, err
			}
		} else if before == nil {
			return act.Captured{}, fault.New(fault.Refused, "payee", "The supplier of invoice %d is paid already.", inv.Number)
		}
		return payeeSet(w, inv, s, before, own)
	})
}

// another finds who is to be paid in the place of an invoice's supplier.
func another(w *act.Work, inv trade.Invoice, before *store.InvoicePayee, code string, own *store.InvoicePayee) error {
	payee, err := w.SupplierByCode(code)
	if errors.Is(err, store.ErrNone) {
		return act.Unnamed("payee", code)
	} else if err != nil {
		return err
	}
	supplier, err := w.Supplier(inv.SupplierID)
	if err != nil {
		return err
	}
	switch {
	case before != nil && before.Payee == payee.ID:
		return fault.New(fault.Refused, "payee", "%s is paid for invoice %d already.", payee.Name, inv.Number)
	case before == nil && (payee.ID == supplier.PayTo || (payee.ID == supplier.ID && supplier.PayTo == 0)):
		return fault.New(fault.Refused, "payee", "%s is paid for all invoices of %s.", payee.Name, supplier.Name)
	case payee.PayTo != 0 && payee.ID != supplier.ID:
		return fault.New(fault.Refused, "payee", "%s is itself paid through another. Name that one.", payee.Name)
	case !trade.ValidIBAN(payee.IBAN):
		return fault.New(fault.Refused, "payee", "No bank account of %s is known. Give it one first.", payee.Name)
	}
	own.Payee, own.Code, own.Name, own.IBAN = payee.ID, payee.Code, payee.Name, payee.IBAN
	return nil
}

// payeeSet writes who is paid, and has the invoice matched again where it still is.
func payeeSet(w *act.Work, inv trade.Invoice, s store.InvoiceState, before *store.InvoicePayee, own store.InvoicePayee) (act.Captured, error) {
	type payee struct{ Payee, IBAN, Note, Checked string }
	was := payee{}
	if before != nil {
		was = payee{before.Name, before.IBAN, before.Note, before.Checked}
	}
	is := payee{own.Name, own.IBAN, own.Note, own.Checked}
	if err := w.PutInvoicePayee(inv.ID, own); err != nil {
		return act.Captured{}, err
	}
	if s.State.Unsettled() {
		if err := w.Record("invoice", inv.Number, was, is); err != nil {
			return act.Captured{}, err
		}
		return matched(w, inv, s, "payee set by "+w.Actor.Name, nil)
	}
	s.Version++
	return act.Captured{Number: inv.Number, State: s.State}, errors.Join(w.SaveInvoiceState(s), w.Record("invoice", inv.Number, was, is))
}

// PayeeSeen is what was seen of the payee that is confirmed, and how its account was checked.
type PayeeSeen struct {
	Invoice, Version     int64  // number
	Payee, IBAN, Checked string // code
}

// ConfirmPayee confirms who is paid for one invoice, by another person than set it (rules §10).
func ConfirmPayee(ctx context.Context, a *act.App, c act.Command, seen PayeeSeen) (act.Captured, error) {
	return act.Perform(ctx, a, act.ConfirmPayee, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(seen.Invoice, seen.Version)
		if err != nil {
			return act.Captured{}, err
		}
		own, err := w.PayeeOf(inv.ID)
		if err != nil {
			return act.Captured{}, err
		}
		switch {
		case own == nil || own.ConfirmedBy != 0:
			return act.Captured{}, fault.New(fault.Refused, "", "Nobody’s word on who is paid for invoice %d is awaited.", inv.Number)
		case w.Actor.Is(own.By):
			return act.Captured{}, fault.New(fault.Forbidden, "", "You set who is paid, so somebody else confirms it.")
		case own.Code != seen.Payee || own.IBAN != trade.PlainIBAN(seen.IBAN):
			return act.Captured{}, fault.New(fault.Changed, "", "Who is paid, or where, was changed meanwhile. Look at it again.")
		case strings.TrimSpace(seen.Checked) == "":
			return act.Captured{}, fault.New(fault.Invalid, "checked", "Say how you checked it: by a call to a number that was known before, say.")
		}
		before := *own
		own.ConfirmedBy, own.Checked = w.Actor.ID, strings.TrimSpace(seen.Checked)
		return payeeSet(w, inv, s, &before, *own)
	})
}
