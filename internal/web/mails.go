package web

// This file translates mails.

import (
	"bytes"
	"context"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/format/filekind"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetIncomingMails lists the mails that are somebody's turn.
func (h *handlers) GetIncomingMails(ctx context.Context, _ contract.GetIncomingMailsRequestObject) (contract.GetIncomingMailsResponseObject, error) {
	list, err := views.Mails(ctx, h.app)
	return contract.GetIncomingMails200JSONResponse{More: list.More, Rows: *mailSlips(list.Rows)}, err
}

func mailSlips(mails []store.Mail) *[]contract.MailSlip {
	slips := each(mails, func(m store.Mail) contract.MailSlip {
		return contract.MailSlip{Number: m.Number, Sender: m.Sender, SenderName: m.SenderName, Subject: m.Subject, TakenAt: m.TakenAt}
	})
	return &slips
}

// GetIncomingMail reads a mail.
func (h *handlers) GetIncomingMail(ctx context.Context, r contract.GetIncomingMailRequestObject) (contract.GetIncomingMailResponseObject, error) {
	s, err := views.Mail(ctx, h.app, r.Number, actorOf(ctx))
	if err != nil {
		return nil, err
	}
	return contract.GetIncomingMail200JSONResponse{
		Number: s.Number, Way: s.Way, State: s.State, Sender: s.Sender, SenderName: s.SenderName, Subject: s.Subject,
		SentAt: s.SentAt, TakenAt: s.TakenAt, Text: s.Text, LeftOut: s.LeftOut, Noise: s.Noise,
		Left: append([]int{}, s.Left...), Suppliers: append([]string{}, s.Suppliers...), May: jobsOf(s.May),
		Files: each(s.Parts, func(p store.MailPart) contract.MailFile {
			return contract.MailFile{
				No: p.No, Name: p.Name, Kind: filekind.Called(p.MediaType), Size: p.Size, Invoice: some(p.InvoiceNumber), Said: p.Said,
			}
		}),
		Answers: each(s.Answers, func(a store.Sending) contract.MailAnswer {
			return contract.MailAnswer{To: a.Recipient, Subject: a.Subject, Text: a.Text, By: a.ByName, At: a.At, State: a.State, Trouble: a.Trouble}
		}),
		Decisions: each(s.Decisions, func(d store.MailDecision) contract.MailDecision {
			return contract.MailDecision{
				What: d.What, Order: some(d.OrderNumber), Supplier: some(d.SupplierCode), Invoice: some(d.InvoiceNumber),
				Note: d.Note, By: d.ByName, At: d.At,
			}
		}),
	}, nil
}

// GetMailFile gives a file that a mail carried.
func (h *handlers) GetMailFile(ctx context.Context, r contract.GetMailFileRequestObject) (contract.GetMailFileResponseObject, error) {
	paper, content, err := views.MailPaper(ctx, h.app, r.Number, r.Part)
	if err != nil {
		return nil, err
	}
	download(ctx, paper.Name)
	return contract.GetMailFile200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: paper.Size}, nil
}

// FileMail puts a mail away.
func (h *handlers) FileMail(ctx context.Context, r contract.FileMailRequestObject) (contract.FileMailResponseObject, error) {
	number, err := intake.FileMail(ctx, h.app, command(ctx, r.Params.Key, r.Body), intake.Filing{
		Mail: r.Number, Order: value(r.Body.Order), Supplier: value(r.Body.Supplier), Note: r.Body.Note,
	})
	return contract.FileMail200JSONResponse{Number: fmt.Sprint(number)}, err
}

// AnswerMail answers a mail.
func (h *handlers) AnswerMail(ctx context.Context, r contract.AnswerMailRequestObject) (contract.AnswerMailResponseObject, error) {
	number, err := intake.AnswerMail(ctx, h.app, command(ctx, r.Params.Key, r.Body), intake.Reply{Mail: r.Number, Text: r.Body.Text})
	return contract.AnswerMail200JSONResponse{Number: fmt.Sprint(number)}, err
}

// OpenMail takes the filing of a mail back.
func (h *handlers) OpenMail(ctx context.Context, r contract.OpenMailRequestObject) (contract.OpenMailResponseObject, error) {
	number, err := intake.OpenMail(ctx, h.app, command(ctx, r.Params.Key, nil), r.Number)
	return contract.OpenMail200JSONResponse{Number: fmt.Sprint(number)}, err
}

// isMail tells whether a file that somebody gives is a mail as mail programs keep it.
// takeMail takes in a mail or a paper that somebody gives, and says what became of it.
func (h *handlers) takeMail(ctx context.Context, f act.File) contract.ImportResult {
	taken, err := intake.TakeAlone(ctx, h.app, act.Command{Actor: actorOf(ctx)}, store.MailDropped, f, invoices.Arrive)
	if err != nil {
		return importResult(actorOf(ctx).Printer, invoices.Imported{Name: f.Name, Err: err})
	}
	outcome, sentence := intake.Outcome(taken)
	result := contract.ImportResult{File: f.Name, Outcome: outcome, Sentence: sentence, Mail: some(taken.Number), Problems: []contract.FieldProblem{}}
	if len(taken.Invoices) == 1 {
		result.Invoice = &taken.Invoices[0]
	}
	return result
}

// ReadMailFile proposes what a file that a mail carried says.
func (h *handlers) ReadMailFile(ctx context.Context, r contract.ReadMailFileRequestObject) (contract.ReadMailFileResponseObject, error) {
	kept, content, err := views.MailPaper(ctx, h.app, r.Number, r.Part)
	if err != nil {
		return nil, err
	}
	read, err := h.paperRead(ctx, kept, content)
	return contract.ReadMailFile200JSONResponse(read), err
}
