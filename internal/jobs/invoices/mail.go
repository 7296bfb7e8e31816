package invoices

// This file is about invoices that are keyed from a mail: one of its files is the paper.

import (
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// mailed is a mail with the file in it that an invoice is keyed from.
type mailed struct {
	mail store.Mail
	part store.MailPart // No 0: the mail itself says it
	left []store.MailPart
}

// mailedPaper finds what an entry is keyed from; nothing where it names no mail.
func mailedPaper(r act.Reading, entry Entry) (from mailed, err error) {
	if entry.Mail == 0 {
		return from, nil
	}
	if from.mail, err = r.MailToDo(entry.Mail); err != nil {
		return from, err
	}
	parts, err1 := r.MailParts(from.mail.ID)
	decisions, err2 := r.MailDecisions(from.mail.ID)
	if err := errors.Join(err1, err2); err != nil {
		return from, err
	}
	from.left = store.LeftOf(parts, decisions)
	if entry.MailPart == 0 {
		return from, nil
	}
	at := slices.IndexFunc(from.left, func(p store.MailPart) bool { return p.No == entry.MailPart })
	if at < 0 {
		return from, fault.New(fault.Refused, "", "File %d of mail %d is an invoice already.", entry.MailPart, entry.Mail)
	}
	from.part = from.left[at]
	return from, nil
}

// keyedFrom writes that an invoice was keyed from a mail; once nothing is left of it, it is done with.
func keyedFrom(w *act.Work, from mailed, captured act.Captured) error {
	id, err := w.InvoiceID(captured.Number)
	if err != nil {
		return err
	}
	d := store.MailDecision{What: store.MailWasKeyed, Invoice: id, Part: from.part.No, By: w.Actor.ID, At: w.Instant()}
	state := store.MailOpen
	if left := len(from.left); left == 0 || (left == 1 && from.part.No != 0) {
		state = store.MailDone
	}
	return errors.Join(
		w.AddMailDecision(from.mail.ID, d),
		w.SaveMailState(from.mail.ID, state),
		w.Record("mail", from.mail.Number, nil, struct{ Keyed int64 }{captured.Number}),
	)
}

// learned writes what the paper of an invoice teaches about those of its supplier.
func learned(w *act.Work, inv trade.Invoice, rules []reading.Rule, captured act.Captured) error {
	if len(rules) == 0 || inv.SupplierID == 0 {
		return nil
	}
	id, err1 := w.InvoiceID(captured.Number)
	of, err2 := w.Supplier(inv.SupplierID)
	if err := errors.Join(err1, err2); err != nil {
		return err
	}
	for _, rule := range rules {
		if err := w.PutPaperRule(of.ID, rule, id); err != nil {
			return err
		}
	}
	return w.RecordAs("supplier", of.Code, nil, struct{ Papers []reading.Rule }{rules})
}
