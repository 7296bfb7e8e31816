package jobs

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/store"
)

// SendRun hands an approved run's file to the bank and notes that it was sent. The
// bank takes a message once, so that sending it again after a failure is safe.
func (a *App) SendRun(ctx context.Context, c Command, number, version int64) (RunMade, error) {
	if err := c.Actor.Allowed(SendRun); err != nil {
		return RunMade{}, err
	}
	if a.bank == nil {
		return RunMade{}, fault.New(fault.Refused, "", "No bank is connected. Download the file and give it to the bank.")
	}
	_, file, err := a.RunFile(ctx, number)
	if err != nil {
		return RunMade{}, err
	}
	if err := a.bank.Submit(ctx, file); err != nil {
		return RunMade{}, fmt.Errorf("sending run %d: %w", number, err)
	}
	return perform(ctx, a, SendRun, c, func(w *work) (RunMade, error) {
		run, payments, err := w.run(number, version, store.RunApproved)
		if err != nil {
			return RunMade{}, err
		}
		run.State = store.RunSent
		return RunMade{number, run.State, len(payments)}, errors.Join(w.SaveRun(run), w.record("run", number, nil, struct{ State string }{run.State}))
	})
}

// AnswerTaken answers TakeAnswer and FetchAnswers.
type AnswerTaken struct {
	Run      int64
	Settled  int
	Rejected int
	Reasons  []string // of rejections, in words
}

// FetchAnswers asks the bank for its answers and takes those that are new.
func (a *App) FetchAnswers(ctx context.Context, c Command) ([]AnswerTaken, error) {
	if err := c.Actor.Allowed(TakeAnswer); err != nil {
		return nil, err
	}
	if a.bank == nil {
		return nil, fault.New(fault.Refused, "", "No bank is connected. Drop the bank's answer here as a file.")
	}
	files, err := a.bank.Answers(ctx)
	if err != nil {
		return nil, err
	}
	var taken []AnswerTaken
	for _, file := range files {
		answer, err := a.TakeAnswer(ctx, Command{Actor: c.Actor}, File{Name: "answer.pain.002.xml", Content: file})
		if fault.Is(err, fault.Duplicate) || fault.Is(err, fault.NotFound) {
			continue // taken before, or about a file of another set of books
		}
		if err != nil {
			return taken, err
		}
		taken = append(taken, answer)
	}
	return taken, nil
}

// TakeAnswer takes a bank's pain.002: each settled payment leaves transit for the
// bank, each rejected one is reversed and its invoices are open again. ACTC, ACCP,
// ACSP and PDNG book nothing; a message is taken once.
func (a *App) TakeAnswer(ctx context.Context, c Command, file File) (AnswerTaken, error) {
	answer, err := iso20022.ReadAnswer(file.Content)
	if err != nil {
		return AnswerTaken{}, err
	}
	return perform(ctx, a, TakeAnswer, c, func(w *work) (AnswerTaken, error) {
		if taken, err := w.AnswerTaken(answer.Message); err != nil || taken {
			return AnswerTaken{}, errors.Join(err, fault.New(fault.Duplicate, "file", "The bank's message %s was taken before.", answer.Message))
		}
		run, err := w.RunByMessage(answer.Original)
		if err != nil {
			return AnswerTaken{}, found(err, "The answer is about the file %s, which is none of ours.", answer.Original)
		}
		payments, err := w.Payments(run.ID)
		if err != nil {
			return AnswerTaken{}, err
		}
		paper, err := w.KeepPaper(file.Name, "application/xml", file.Content, w.instant())
		if err != nil {
			return AnswerTaken{}, err
		}
		taken, err := w.takeAnswer(run, payments, answer)
		if err != nil {
			return taken, err
		}
		return taken, errors.Join(w.KeepAnswerOf(answer.Message, run.ID, paper, w.instant()), w.record("run", run.Number, nil, answer))
	})
}

func (w *work) takeAnswer(run store.Run, payments []store.Payment, answer iso20022.Answer) (AnswerTaken, error) {
	taken, open := AnswerTaken{Run: run.Number}, 0
	for _, p := range answer.Payments {
		if !slices.ContainsFunc(payments, func(q store.Payment) bool { return q.EndToEnd == p.EndToEnd }) {
			return taken, fault.New(fault.Refused, "file", "The answer names a payment %s that run %d does not have. Nothing of it was taken.", p.EndToEnd, run.Number)
		}
	}
	for _, p := range payments {
		if p.State != store.PaymentInTransit {
			continue
		}
		status, reason := answer.Of(p.EndToEnd)
		var err error
		switch status {
		case iso20022.Settled:
			taken.Settled++
			err = w.settle(run, p)
		case iso20022.Rejected:
			taken.Rejected++
			taken.Reasons = append(taken.Reasons, fmt.Sprintf("%s: %s", p.SupplierName, reason))
			err = w.reject(run, p, reason)
		default:
			open++
		}
		if err != nil {
			return taken, err
		}
	}
	if open > 0 {
		return taken, nil
	}
	run.State = store.RunAnswered
	return taken, w.SaveRun(run)
}

// sent is the entry that put a payment in transit.
func (w *work) sent(run store.Run, p store.Payment) (ledger.Entry, error) {
	entries, err := w.EntriesOf("payment", run.Number)
	if err != nil {
		return ledger.Entry{}, err
	}
	for _, e := range entries {
		for _, l := range e.Lines {
			if l.Role == ledger.InTransit && l.Detail == p.EndToEnd && l.Base < 0 {
				return e.Entry, nil
			}
		}
	}
	return ledger.Entry{}, fmt.Errorf("jobs: payment %s has no entry", p.EndToEnd)
}

func (w *work) settle(run store.Run, p store.Payment) error {
	sent, err := w.sent(run, p)
	if err != nil {
		return err
	}
	if err := w.SetPaymentState(p.ID, store.PaymentSettled, ""); err != nil {
		return err
	}
	for _, item := range p.Items {
		inv, s, err := w.invoice(item.Number)
		if err != nil {
			return err
		}
		state := trade.InvoiceState(trade.Paid)
		if under, err := w.InTransit(inv.ID); err != nil {
			return err
		} else if under > 0 {
			continue
		} else if s.Open != 0 {
			state = trade.Released
		}
		if err := w.moveInvoice(inv, s, state); err != nil {
			return err
		}
	}
	_, err = w.book(posting.PaymentConfirmed(sent, p.EndToEnd), w.today(), fmt.Sprintf("Bank debit for payment %s", p.EndToEnd), "payment", run.Number, 0)
	return err
}

// reject reverses all of a payment: invoices and discount are open again.
func (w *work) reject(run store.Run, p store.Payment, reason string) error {
	sent, err := w.sent(run, p)
	if err != nil {
		return err
	}
	if err := w.SetPaymentState(p.ID, store.PaymentRejected, reason); err != nil {
		return err
	}
	for _, item := range p.Items {
		inv, s, err := w.invoice(item.Number)
		if err != nil {
			return err
		}
		s.Open += item.Amount + item.Discount
		s.Summary = "payment rejected"
		if err := w.moveInvoice(inv, s, trade.Released); err != nil {
			return err
		}
	}
	_, err = w.book(sent.Reversed(), w.today(), fmt.Sprintf("Payment %s rejected by the bank", p.EndToEnd), "payment", run.Number, 0)
	return err
}
