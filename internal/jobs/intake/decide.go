package intake

// This file is what a person decides about a mail that is not, or not only, an invoice.

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// Filing puts a mail away: as a paper of an order or a supplier, or of nothing with a word why.
type Filing struct {
	Mail     int64  // number
	Order    int64  // number; 0: none
	Supplier string // code; empty: none
	Note     string
}

// FileMail puts a mail away. It is taken back by OpenMail.
func FileMail(ctx context.Context, a *act.App, c act.Command, entry Filing) (int64, error) {
	return act.Perform(ctx, a, act.FileMail, c, func(w *act.Work) (int64, error) {
		mail, err := w.MailToDo(entry.Mail)
		if err != nil {
			return 0, err
		}
		d := store.MailDecision{What: store.MailWasFiled, Note: strings.TrimSpace(entry.Note), By: w.Actor.ID, At: w.Instant()}
		if entry.Order != 0 {
			order, err := w.OrderByNumber(entry.Order, store.AllReserved)
			if err != nil {
				return 0, act.FoundAt(err, "order", "There is no order %d.", entry.Order)
			}
			d.Order, d.Supplier = order.ID, order.SupplierID
		}
		if code := strings.TrimSpace(entry.Supplier); code != "" {
			supplier, err := w.SupplierByCode(strings.ToUpper(code))
			if err != nil {
				return 0, act.FoundAt(err, "supplier", "There is no supplier %s.", code)
			}
			if d.Supplier != 0 && d.Supplier != supplier.ID {
				return 0, fault.New(fault.Invalid, "supplier", "Order %d is another supplier’s.", entry.Order)
			}
			d.Supplier = supplier.ID
		}
		if d.Order == 0 && d.Supplier == 0 && d.Note == "" {
			return 0, fault.New(fault.Invalid, "note", "Say what it is, or name the order or the supplier that it belongs to.")
		}
		return mail.Number, errors.Join(
			w.AddMailDecision(mail.ID, d),
			w.SaveMailState(mail.ID, store.MailFiled),
			w.Record("mail", mail.Number, nil, d),
		)
	})
}

// Reply answers a mail.
type Reply struct {
	Mail int64 // number
	Text string
}

// AnswerMail sends an answer to who wrote a mail, under the person's and the company's name, and puts the mail away.
func AnswerMail(ctx context.Context, a *act.App, c act.Command, reply Reply) (int64, error) {
	number, err := act.Perform(ctx, a, act.AnswerMail, c, func(w *act.Work) (int64, error) {
		mail, err := w.MailToDo(reply.Mail)
		if err != nil {
			return 0, err
		}
		text := strings.TrimSpace(reply.Text)
		switch {
		case mail.Sender == "":
			return 0, fault.New(fault.Refused, "", "Nobody that can be answered wrote this.")
		case text == "":
			return 0, fault.New(fault.Invalid, "text", "Write the answer.")
		}
		subject := mail.Subject
		if !strings.HasPrefix(strings.ToLower(subject), "re:") {
			subject = "Re: " + subject
		}
		row := store.Sending{
			AnswerTo: mail.ID, Recipient: mail.Sender, Subject: subject, Text: text + "\n\n" + w.Actor.Name + "\n" + w.Ours.Name,
			By: w.Actor.ID, At: w.Instant(), State: store.SendingWaiting,
		}
		if row.Mail, err = w.MakeMail(fmt.Sprintf("answer-%d", mail.Number), row.Recipient, subject, row.Text, nil, mail.MessageID); err != nil {
			return 0, err
		}
		d := store.MailDecision{What: store.MailWasFiled, Note: "Answered.", By: w.Actor.ID, At: w.Instant()}
		return mail.Number, errors.Join(
			w.AddSending(row),
			w.AddMailDecision(mail.ID, d),
			w.SaveMailState(mail.ID, store.MailFiled),
			w.Record("mail", mail.Number, nil, reply),
		)
	})
	if err == nil {
		a.Posted.Ring()
	}
	return number, err
}

// OpenMail takes the filing of a mail back, or says of one that a machine wrote that it is somebody's turn all the same.
func OpenMail(ctx context.Context, a *act.App, c act.Command, number int64) (int64, error) {
	return act.Perform(ctx, a, act.OpenMail, c, func(w *act.Work) (int64, error) {
		mail, err := w.MailByNumber(number)
		if err != nil {
			return 0, act.Found(err, "There is no mail %d.", number)
		}
		if mail.State != store.MailFiled && mail.State != store.MailNoise {
			return 0, fault.New(fault.Refused, "", "Mail %d is not filed.", number)
		}
		d := store.MailDecision{What: store.MailWasOpened, By: w.Actor.ID, At: w.Instant()}
		return number, errors.Join(
			w.AddMailDecision(mail.ID, d),
			w.SaveMailState(mail.ID, store.MailOpen),
			w.Record("mail", number, nil, d),
		)
	})
}
