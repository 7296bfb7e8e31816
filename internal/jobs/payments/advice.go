package payments

// This file tells suppliers what a run pays them: the remittance advice (rules §10).

import (
	"context"
	"errors"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/format/pdf"
	"lagoon/internal/store"
)

// Told answers AdviseRun.
type Told struct {
	Run    int64
	Mailed int      // payments whose suppliers were mailed
	Silent []string // suppliers that have no mail address
}

// AdviseRun mails each supplier of a run that is with the bank what is paid to it, in its language. Nobody is told twice, nor
// of what was rejected.
func AdviseRun(ctx context.Context, a *act.App, c act.Command, number int64) (Told, error) {
	told, err := act.Perform(ctx, a, act.AdviseRun, c, func(w *act.Work) (Told, error) {
		run, payments, err := run(w, number, 0)
		if err != nil {
			return Told{}, err
		}
		told := Told{Run: number}
		for _, p := range payments {
			before, err := w.AdviceOf(p.ID)
			if err != nil {
				return told, err
			}
			if p.Nothing() || before.ID != 0 || (p.State != store.PaymentInTransit && p.State != store.PaymentSettled) {
				continue
			}
			mailed, err := advise(w, run, p)
			if err != nil {
				return told, err
			}
			if mailed {
				told.Mailed++
			} else {
				told.Silent = append(told.Silent, p.SupplierName)
			}
		}
		if told.Mailed == 0 && len(told.Silent) == 0 {
			return told, fault.New(fault.Refused, "", "Every supplier of run %d was told already.", number)
		}
		return told, w.Record("run", number, nil, struct{ Mailed int }{told.Mailed})
	})
	if err == nil {
		a.Posted.Ring()
	}
	return told, err
}

// advise mails one supplier, and tells whether there is anybody to be mailed.
func advise(w *act.Work, run store.Run, p store.Payment) (bool, error) {
	contact, err := w.Recipient(p.Supplier, "payment")
	if err != nil || contact.Mail == "" {
		return false, err
	}
	supplier, err := w.Supplier(p.Supplier)
	if err != nil {
		return false, err
	}
	advice, err := adviceOf(w.Reading, run, p)
	if err != nil {
		return false, err
	}
	paper, err := adviceFile(w.Reading, supplier, advice)
	if err != nil {
		return false, err
	}
	words := w.LettersTo(supplier)
	words.To = contact.Name
	row := store.Sending{Payment: p.ID, Recipient: contact.Mail, By: w.Actor.ID, At: w.Instant(), State: store.SendingWaiting}
	row.Subject, row.Text = words.AdviceMail(advice)
	name := "advice-" + p.EndToEnd
	row.Mail, err = w.MakeMail(name, contact.Mail, row.Subject, row.Text, []eml.File{{Name: name + ".pdf", MediaType: pdf.MediaType, Content: paper}})
	if err != nil {
		return false, err
	}
	return true, w.AddSending(row)
}

// adviceOf is what a payment's supplier is told.
func adviceOf(r act.Reading, run store.Run, p store.Payment) (pay.Advice, error) {
	advice := pay.Advice{EndToEnd: p.EndToEnd, PayOn: run.PayOn, Payee: p.Payee, IBAN: p.IBAN, BIC: p.BIC, Currency: p.Currency, Amount: p.Amount}
	for _, x := range partsOf(p) {
		inv, s, err := r.InvoiceNumbered(x.number)
		if err != nil {
			return advice, err
		}
		if inv.Kind == trade.CreditNote { // it stands beside the invoice that it is taken off
			continue
		}
		d := pay.AdvisedDocument{Number: inv.SupplierNumber, Date: inv.Date, Total: s.Total, SelfBilled: inv.SelfBilled(), Discount: x.discount, Paid: x.amount}
		var err1, err2 error
		d.Claimed, err1 = r.NotPaid(inv.ID)
		d.Ahead, err2 = r.UsedAhead(inv.ID)
		if err := errors.Join(err1, err2); err != nil {
			return advice, err
		}
		for _, n := range p.Nettings {
			if n.Invoice == inv.Number {
				d.Credits = append(d.Credits, pay.AdvisedCredit{Number: n.CreditNumber, Amount: n.Amount})
			}
		}
		advice.Documents = append(advice.Documents, d)
	}
	return advice, nil
}

// adviceFile is an advice as a paper in the supplier's language.
func adviceFile(r act.Reading, supplier trade.Supplier, advice pay.Advice) ([]byte, error) {
	to, err := r.Addressee(supplier, "payment")
	if err != nil {
		return nil, err
	}
	doc := r.LettersTo(supplier).Advice(advice, to)
	doc.On = r.At
	return pdf.Write(doc)
}

// AdvicePaper is the remittance advice of a payment of a run, counted from 1: as a PDF, or as a remt.001 message.
func AdvicePaper(ctx context.Context, a *act.App, number int64, index int, message bool) (name string, content []byte, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		run, err := r.RunByNumber(number)
		if err != nil {
			return none, act.Found(err, "There is no payment run %d.", number)
		}
		payments, err := r.Payments(run.ID)
		if err != nil {
			return none, err
		}
		if index < 1 || index > len(payments) || payments[index-1].Nothing() {
			return none, fault.New(fault.NotFound, "", "Run %d has no payment %d.", number, index)
		}
		p := payments[index-1]
		advice, err := adviceOf(r, run, p)
		if err != nil {
			return none, err
		}
		if message {
			name = fmt.Sprintf("advice-%s.remt.001.xml", p.EndToEnd)
			content, err = iso20022.WriteAdvice(advice, r.Ours.Name, r.At)
			return none, err
		}
		supplier, err := r.Supplier(p.Supplier)
		if err != nil {
			return none, err
		}
		name = fmt.Sprintf("advice-%s.pdf", p.EndToEnd)
		content, err = adviceFile(r, supplier, advice)
		return none, err
	})
	return name, content, err
}
