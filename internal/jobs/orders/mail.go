package orders

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

const mailTries = 5

// HandOverMail hands every waiting mail over. One that is refused five times is shown
// as failed at its order or invoice; where there is no mail server, one is shown as kept.
func HandOverMail(ctx context.Context, a *act.App) error {
	if a.Outbox == nil {
		return nil
	}
	var from string
	waiting, err := act.Read(ctx, a, func(r act.Reading) ([]store.Sending, error) {
		from = r.Ours.Mail
		return r.WaitingSendings()
	})
	if err != nil {
		return err
	}
	for _, s := range waiting {
		var paper store.Paper
		content, err := act.Read(ctx, a, func(r act.Reading) (content []byte, err error) {
			paper, content, err = r.Paper(s.Mail)
			return
		})
		if err != nil {
			return err
		}
		trouble := a.Outbox.Send(ctx, strings.TrimSuffix(paper.Name, ".eml"), from, s.Recipient, content)
		s.Tries++
		switch s.Trouble = ""; {
		case trouble == nil && a.Kept:
			s.State = store.SendingKept
		case trouble == nil:
			s.State = store.SendingSent
		case s.Tries >= mailTries:
			s.State, s.Trouble = store.SendingFailed, trouble.Error()
		default:
			s.Trouble = trouble.Error()
		}
		about, number := aboutWhat(s)
		if _, err := act.Perform(ctx, a, act.HandOver, act.Command{Actor: act.Lagoon, Cause: fmt.Sprintf("mail of %s %s", about, number)}, func(w *act.Work) (Sent, error) {
			return Sent{}, errors.Join(w.SaveSending(s), w.RecordAs(about, number, nil, struct{ Mail, Trouble string }{s.State, s.Trouble}))
		}); err != nil {
			return err
		}
	}
	return nil
}

// aboutWhat is what a mail is about, and its number or name.
func aboutWhat(s store.Sending) (about, number string) {
	switch {
	case s.List != "":
		return "list", s.List
	case s.Invoice != 0:
		return "invoice", fmt.Sprint(s.InvoiceNumber)
	case s.AnswerTo != 0:
		return "mail", fmt.Sprint(s.MailNumber)
	case s.Payment != 0:
		return "run", fmt.Sprint(s.Run)
	}
	return "order", fmt.Sprint(s.OrderNumber)
}

// RetryMail hands a mail over again that failed or was only kept; index counts an order's sendings from 1.
func RetryMail(ctx context.Context, a *act.App, c act.Command, number int64, index int) (Sent, error) {
	sent, err := act.Perform(ctx, a, act.HandOver, c, func(w *act.Work) (Sent, error) {
		order, err := w.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return Sent{}, act.Found(err, "There is no order %d.", number)
		}
		sendings, err := w.Sendings(order.ID)
		if err != nil || index < 1 || index > len(sendings) ||
			(sendings[index-1].State != store.SendingFailed && sendings[index-1].State != store.SendingKept) {
			return Sent{}, errors.Join(
				err,
				fault.New(fault.Refused, "", "This mail of order %d was handed over, or waits to be.", number),
			)
		}
		s := sendings[index-1]
		s.State, s.Tries, s.Trouble = store.SendingWaiting, 0, ""
		return Sent{number}, errors.Join(w.SaveSending(s), w.Record("order", number, nil, struct{ Again int }{index}))
	})
	if err == nil {
		a.Posted.Ring()
	}
	return sent, err
}

// SentMail is a mail as it was sent.
func SentMail(ctx context.Context, a *act.App, number int64, index int) (store.Paper, []byte, error) {
	var content []byte
	paper, err := act.Read(ctx, a, func(r act.Reading) (p store.Paper, err error) {
		order, err := r.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return p, act.Found(err, "There is no order %d.", number)
		}
		sendings, err := r.Sendings(order.ID)
		if err != nil || index < 1 || index > len(sendings) || sendings[index-1].Mail == 0 {
			return p, errors.Join(err, fault.New(fault.NotFound, "", "There is no such mail of order %d.", number))
		}
		p, content, err = r.Paper(sendings[index-1].Mail)
		return p, err
	})
	return paper, content, err
}
