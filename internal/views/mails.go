package views

// This file shows mails: what came, what became of it, and what is left of it to do.

import (
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/format/filekind"
	"lagoon/internal/store"
)

// MailSheet is a mail with what it carried and what was decided about it.
type MailSheet struct {
	store.Mail
	Parts     []store.MailPart
	Decisions []store.MailDecision
	Answers   []store.Sending
	Left      []int // numbers of the parts that are to be dealt with still
	// Suppliers are the codes of those that have a contact with the sender's address, or one of its domain.
	Suppliers []string
	May       []act.Job
}

// Mail reads a mail.
func Mail(ctx context.Context, a *act.App, number int64, actor act.Actor) (MailSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s MailSheet, err error) {
		if s.Mail, err = r.MailByNumber(number); err != nil {
			return s, act.Found(err, "There is no mail %d.", number)
		}
		if s.Parts, err = r.MailParts(s.ID); err != nil {
			return s, err
		}
		if s.Decisions, err = r.MailDecisions(s.ID); err != nil {
			return s, err
		}
		if s.Answers, err = r.AnswersTo(s.ID); err != nil {
			return s, err
		}
		for _, p := range store.LeftOf(s.Parts, s.Decisions) {
			s.Left = append(s.Left, p.No)
		}
		if s.Suppliers, err = r.SuppliersMailing(s.Sender); err != nil {
			return s, err
		}
		open := s.State == store.MailOpen
		s.May = allowed(actor, []act.Job{act.KeyInvoice, act.FileMail, act.OpenMail, act.AnswerMail}, map[act.Job]bool{
			act.KeyInvoice: !open, act.FileMail: !open, act.AnswerMail: !open || s.Sender == "", act.OpenMail: s.State != store.MailFiled && s.State != store.MailNoise,
		})
		return s, nil
	})
}

// Mails lists those that are somebody's turn, the newest first.
func Mails(ctx context.Context, a *act.App) (act.Listed[store.Mail], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]store.Mail, error) { return r.Tx.OpenMails() })
}

// MailPaper is a file that a mail carried; part 0 is the mail itself.
func MailPaper(ctx context.Context, a *act.App, number int64, part int) (paper store.Paper, content []byte, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		mail, err := r.MailByNumber(number)
		if err != nil {
			return none, act.Found(err, "There is no mail %d.", number)
		}
		kept := mail.Paper
		if part != 0 {
			parts, err := r.MailParts(mail.ID)
			if err != nil {
				return none, err
			}
			at := slices.IndexFunc(parts, func(p store.MailPart) bool { return p.No == part && p.Paper != 0 })
			if at < 0 {
				return none, act.Found(store.ErrNone, "Mail %d has no file %d.", number, part)
			}
			kept = parts[at].Paper
		}
		paper, content, err = r.Paper(kept)
		return none, err
	})
	return paper, content, err
}

// MailedInvoice is how an invoice came by mail.
type MailedInvoice struct {
	Number          int64
	Sender, Subject string
	Stranger        bool             // the sender's address is none that is known of its supplier
	Beside          []store.MailPart // what came with it and belongs to it, for people to read
}

// mailed reads by which mail an invoice came, where it did.
func (s *InvoiceSheet) mailed(r act.Reading) error {
	mail, err := r.MailOfInvoice(s.Invoice.ID)
	if errors.Is(err, store.ErrNone) {
		return nil
	}
	if err != nil {
		return err
	}
	s.Mail = &MailedInvoice{Number: mail.Number, Sender: mail.Sender, Subject: mail.Subject}
	parts, err := r.MailParts(mail.ID)
	if err != nil {
		return err
	}
	for _, p := range parts {
		if p.Invoice == s.Invoice.ID && p.Paper != s.Capture.Paper && p.MediaType != filekind.XML {
			s.Mail.Beside = append(s.Mail.Beside, p)
		}
	}
	if s.Supplier == nil || mail.Sender == "" { // a paper that somebody gave comes from no address
		return nil
	}
	known, err := r.SuppliersMailing(mail.Sender)
	s.Mail.Stranger = !slices.Contains(known, s.Supplier.Code)
	return err
}
