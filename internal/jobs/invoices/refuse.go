package invoices

// This file refuses an invoice to its supplier, who is told in their language.

import (
	"context"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Refusal refuses an invoice; Tell mails the reason to its supplier.
type Refusal struct {
	act.Ending
	Tell bool
}

// Refuse ends an invoice that is not verified: it goes back to the supplier and frees what it reserved.
func Refuse(ctx context.Context, a *act.App, c act.Command, entry Refusal) (act.Captured, error) {
	captured, err := act.Perform(ctx, a, act.RefuseInvoice, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if !act.InvoiceSteps.Allow(s.State, act.RefuseInvoice) {
			return act.Captured{}, fault.New(
				fault.Refused,
				"",
				"Invoice %d is %s and cannot be refused any more.",
				inv.Number,
				say.State(string(s.State)),
			)
		}
		if entry.Tell {
			if err := tellRefusal(w, inv, strings.TrimSpace(entry.Reason)); err != nil {
				return act.Captured{}, err
			}
		}
		return end(w, inv, s, trade.Refused, entry.Ending)
	})
	if err == nil && entry.Tell {
		a.Posted.Ring()
	}
	return captured, err
}

func tellRefusal(w *act.Work, inv trade.Invoice, reason string) error {
	if inv.SupplierID == 0 {
		return fault.New(fault.Refused, "", "Its supplier is not known, so nobody can be told by mail.")
	}
	letter, err := w.RefusalOf(inv, reason)
	if err != nil {
		return err
	}
	row := store.Sending{
		Invoice: inv.ID, Kind: store.RefusalLetter, Way: store.ByMail, Recipient: letter.To, Subject: letter.Subject,
		Text: letter.Text, By: w.Actor.ID, At: w.Instant(), State: store.SendingWaiting,
	}
	row.Mail, err = w.MakeMail(fmt.Sprintf("refusal-%d", inv.Number), letter.To, letter.Subject, letter.Text, nil)
	if err != nil {
		return err
	}
	return w.AddSending(row)
}
