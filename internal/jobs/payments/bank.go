package payments

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/posting"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// SendRun hands an approved run's file to the bank, books its payments in transit and notes
// that it was sent. The bank takes a message once, so that sending it again after a failure is safe.
func SendRun(ctx context.Context, a *act.App, c act.Command, number, version int64) (RunMade, error) {
	if err := c.Actor.Allowed(act.SendRun); err != nil {
		return RunMade{}, err
	}
	if a.Bank == nil {
		return RunMade{}, fault.New(
			fault.Refused,
			"",
			"No bank is connected. Download the file and give it to the bank.",
		)
	}
	_, file, err := RunFile(ctx, a, number)
	if err != nil {
		return RunMade{}, err
	}
	if err := a.Bank.Submit(ctx, file); err != nil {
		return RunMade{}, fmt.Errorf("sending run %d: %w", number, err)
	}
	return act.Perform(ctx, a, act.SendRun, c, func(w *act.Work) (RunMade, error) {
		run, payments, err := run(w, number, version)
		if err != nil {
			return RunMade{}, err
		}
		if err := goOut(w, run, payments); err != nil {
			return RunMade{}, err
		}
		run.State = store.RunSent
		return RunMade{
				Number:   number,
				State:    run.State,
				Payments: paying(payments),
			}, errors.Join(
				w.SaveRun(run),
				w.Record("run", number, nil, struct{ State string }{run.State}),
			)
	})
}

// AnswerTaken answers TakeAnswer and FetchAnswers.
type AnswerTaken struct {
	Run      int64
	Settled  int
	Rejected int
	Reasons  []string // of rejections, in words, and of what Lagoon does not understand
	Trouble  string   // why an answer was set aside; nothing of it was taken
	// Of what the bank booked: our number of the (last) statement, its lines, and how many of them are open.
	Statement   int64
	Lines, Open int
}

// FetchAnswers asks the bank for its answers and takes those that are new.
func FetchAnswers(ctx context.Context, a *act.App, c act.Command) ([]AnswerTaken, error) {
	if err := c.Actor.Allowed(act.TakeAnswer); err != nil {
		return nil, err
	}
	if a.Bank == nil {
		return nil, fault.New(fault.Refused, "", "No bank is connected. Drop the bank's answer here as a file.")
	}
	files, err := a.Bank.Answers(ctx)
	if err != nil {
		return nil, err
	}
	var taken []AnswerTaken
	for _, file := range files {
		answer, err := TakeAnswer(
			ctx,
			a,
			act.Command{Actor: c.Actor},
			act.File{Name: "answer.xml", Content: file},
		)
		if fault.Is(err, fault.Duplicate) || fault.Is(err, fault.NotFound) {
			continue // taken before, or about a file of another set of books
		}
		var no *fault.Fault
		if errors.As(err, &no) { // the others go on
			answer, err = AnswerTaken{Trouble: c.Actor.Printer.Refusal(no)}, nil
		}
		if err != nil {
			return taken, err
		}
		taken = append(taken, answer)
	}
	return taken, nil
}

// TakeAnswer takes a file of the bank: an answer to a payment file (pain.002), or what it booked on our account (camt.053,
// camt.054; see takeStatements). Of an answer each settled payment leaves transit for the
// bank, each rejected one is reversed and its invoices are open again. ACTC, ACCP,
// ACSP and PDNG book nothing; a message is taken once.
func TakeAnswer(ctx context.Context, a *act.App, c act.Command, file act.File) (AnswerTaken, error) {
	if iso20022.IsAccountReport(file.Content) {
		return takeStatements(ctx, a, c, file)
	}
	answer, err := iso20022.ReadAnswer(file.Content)
	if err != nil {
		return AnswerTaken{}, err
	}
	return act.Perform(ctx, a, act.TakeAnswer, c, func(w *act.Work) (AnswerTaken, error) {
		if taken, err := w.AnswerTaken(answer.Message); err != nil || taken {
			return AnswerTaken{}, errors.Join(
				err,
				fault.New(fault.Duplicate, "file", "The bank's message %s was taken before.", answer.Message),
			)
		}
		run, err := w.RunByMessage(answer.Original)
		if err != nil {
			return AnswerTaken{}, act.Found(
				err,
				"The answer is about the file %s, which is none of ours.",
				answer.Original,
			)
		}
		payments, err := w.Payments(run.ID)
		if err != nil {
			return AnswerTaken{}, err
		}
		paper, err := w.KeepPaper(file.Name, "application/xml", file.Content, w.Instant())
		if err != nil {
			return AnswerTaken{}, err
		}
		if err := outByHand(w, &run, payments); err != nil {
			return AnswerTaken{}, err
		}
		taken, err := takeAnswer(w, run, payments, answer)
		if err != nil {
			return taken, err
		}
		return taken, errors.Join(
			w.KeepAnswerOf(answer.Message, run.ID, paper, w.Instant()),
			w.Record("run", run.Number, nil, answer),
		)
	})
}

// outByHand books that a run is with the bank where its file was given to it by hand: it was approved, and the bank knows it.
func outByHand(w *act.Work, run *store.Run, payments []store.Payment) error {
	if run.State != store.RunApproved {
		return nil
	}
	if err := goOut(w, *run, payments); err != nil {
		return err
	}
	run.State = store.RunSent
	run.Version++
	return w.SaveRun(*run)
}

func takeAnswer(w *act.Work, run store.Run, payments []store.Payment, answer iso20022.Answer) (AnswerTaken, error) {
	taken, open := AnswerTaken{Run: run.Number}, 0
	for _, p := range answer.Payments {
		if !slices.ContainsFunc(payments, func(q store.Payment) bool { return q.EndToEnd == p.EndToEnd }) {
			return taken, fault.New(
				fault.Refused,
				"file",
				"The answer names a payment %s that run %d does not have. Nothing of it was taken.",
				p.EndToEnd,
				run.Number,
			)
		}
	}
	for _, p := range payments {
		if p.Nothing() { // the bank knows nothing of it
			continue
		}
		status, reason := answer.Of(p.EndToEnd)
		if !status.Known() {
			taken.Reasons = append(
				taken.Reasons,
				fmt.Sprintf(
					"%s: the bank says “%.20s”, which Lagoon does not know; nothing of it was booked.",
					p.SupplierName,
					status,
				),
			)
		}
		var err error
		switch under := p.State == store.PaymentInTransit; {
		case status == iso20022.Rejected && (under || p.State == store.PaymentSettled):
			taken.Rejected++
			if reason == "" { // an empty one would say that nothing was rejected
				reason = "no reason given"
			}
			taken.Reasons = append(taken.Reasons, fmt.Sprintf("%s: %s", p.SupplierName, reason))
			err = reject(w, run, p, reason)
		case status == iso20022.Settled && under:
			taken.Settled++
			err = settle(w, run, p, w.Today())
		case status == iso20022.Settled && p.State == store.PaymentDiscarded:
			return taken, fault.New(
				fault.Refused,
				"file",
				"The bank says that it paid %s, but run %d was %s here. Nothing of the answer was taken: ask the bank before anything is paid again.",
				p.SupplierName,
				run.Number,
				say.State(run.State),
			)
		case under:
			open++
		}
		if err != nil {
			return taken, err
		}
	}
	if open > 0 || run.State != store.RunSent {
		return taken, nil
	}
	run.State = store.RunAnswered
	return taken, w.SaveRun(run)
}

// settle books that the bank took a payment, on a day, at the value at which it went into transit.
func settle(w *act.Work, run store.Run, p store.Payment, on day.Day) error {
	sent, err := w.SentUnder(p.EndToEnd)
	if err != nil {
		return fmt.Errorf("payments: payment %s has no entry: %w", p.EndToEnd, err)
	}
	if err := errors.Join(setState(w, p, store.PaymentSettled, ""), rest(w, p)); err != nil {
		return err
	}
	_, err = w.BookCounter(
		posting.PaymentConfirmed(sent.Entry, p.EndToEnd),
		on,
		run.PayOn,
		fmt.Sprintf("Bank debit for payment %s", p.EndToEnd),
		"payment",
		run.Number,
		0,
	)
	return err
}

// reject reverses all of a payment: invoices and discount are open again. One that the
// bank had debited already comes back to the bank.
func reject(w *act.Work, run store.Run, p store.Payment, reason string) error {
	back := ledger.Entry.Reversed
	if p.State == store.PaymentSettled {
		back = posting.PaymentReturned
	}
	return undoPayment(w, run, p, store.PaymentRejected, reason, back, "rejected by the bank")
}

// undoPayment undoes a payment: the entry that put it in transit, if it was sent, is reversed,
// and its invoices are released as they were before it.
func undoPayment(
	w *act.Work,
	run store.Run,
	p store.Payment,
	state, reason string,
	back func(ledger.Entry) ledger.Entry,
	what string,
) error {
	var sent ledger.Entry
	booked := p.State != store.PaymentApproved
	if booked {
		was, err := w.SentUnder(p.EndToEnd)
		if err != nil {
			return fmt.Errorf("payments: payment %s has no entry: %w", p.EndToEnd, err)
		}
		sent = was.Entry
	}
	if err := setState(w, p, state, reason); err != nil {
		return err
	}
	if err := openAgain(w, p, booked, state == store.PaymentRejected); err != nil || !booked {
		return err
	}
	_, err := w.BookCounter(
		back(sent),
		w.Today(),
		run.PayOn,
		fmt.Sprintf("Payment %s %s", p.EndToEnd, what),
		"payment",
		run.Number,
		0,
	)
	return err
}

// openAgain moves the documents of a payment to where they stand without it: what it took off them, where it was booked, is
// open again.
func openAgain(w *act.Work, p store.Payment, booked, rejected bool) error {
	for _, x := range partsOf(p) {
		inv, s, err := w.InvoiceNumbered(x.number)
		if err != nil {
			return err
		}
		if booked {
			s.Open += x.taken()
		}
		if rejected {
			s.Summary = "payment rejected"
		}
		into, err := resting(w, inv, s)
		if err != nil {
			return err
		}
		if err := errors.Join(moveInvoice(w, inv, s, into), wakeAhead(w, inv, "money ahead came back")); err != nil {
			return err
		}
	}
	return nil
}

// RunEnding takes back an approved run, or declares a sent one lost.
type RunEnding struct {
	Number, Version int64
	Reason          string
}

// TakeBackRun takes back an approved run that was not sent yet, or one that pays nobody, by another person than
// approved it: its payments are undone and its invoices released again.
func TakeBackRun(ctx context.Context, a *act.App, c act.Command, entry RunEnding) (RunMade, error) {
	return act.Perform(ctx, a, act.TakeBackRun, c, func(w *act.Work) (RunMade, error) {
		return undoRun(w, entry, store.RunApproved, store.RunTakenBack, "taken back before it was sent")
	})
}

// DeclareLost says that a sent run's file never reached the bank, by another person than
// made it: its payments are undone and its invoices released again.
func DeclareLost(ctx context.Context, a *act.App, c act.Command, entry RunEnding) (RunMade, error) {
	return act.Perform(ctx, a, act.DeclareLost, c, func(w *act.Work) (RunMade, error) {
		return undoRun(w, entry, store.RunSent, store.RunLost, "declared lost")
	})
}

// undoNettings takes back a run that paid nobody: what its credit notes took off is owed and open again.
func undoNettings(w *act.Work, run store.Run, payments []store.Payment, reason string) (RunMade, error) {
	if slices.ContainsFunc(payments, func(p store.Payment) bool { return !p.Nothing() }) {
		return RunMade{}, fault.New(fault.Refused, "", "The bank has answered for run %d already: it has the file.", run.Number)
	}
	for _, p := range payments {
		if err := errors.Join(setState(w, p, store.PaymentDiscarded, ""), openAgain(w, p, true, false)); err != nil {
			return RunMade{}, err
		}
	}
	booked, err := w.EntriesOf("payment", run.Number)
	for _, e := range booked { // what the rates made
		_, wrong := w.BookCounter(e.Reversed(), w.Today(), run.PayOn, fmt.Sprintf("Credit notes of run %d taken off no more", run.Number), "payment", run.Number, 0)
		err = errors.Join(err, wrong)
	}
	run.State = store.RunTakenBack
	return RunMade{Number: run.Number, State: run.State}, errors.Join(err, w.SaveRun(run),
		w.Record("run", run.Number, nil, struct{ State, Reason string }{run.State, strings.TrimSpace(reason)}))
}

func undoRun(w *act.Work, entry RunEnding, from, into, what string) (RunMade, error) {
	run, payments, err := run(w, entry.Number, entry.Version)
	if err != nil {
		return RunMade{}, err
	}
	if strings.TrimSpace(entry.Reason) == "" {
		return RunMade{}, fault.New(fault.Invalid, "reason", "Say why; the record keeps it.")
	}
	if from == store.RunApproved && w.Actor.Is(run.ApprovedBy) {
		return RunMade{}, fault.New(
			fault.Forbidden,
			"",
			"You approved run %d, so somebody else takes it back.",
			run.Number,
		)
	}
	if from == store.RunSent && w.Actor.Is(run.MadeBy) {
		return RunMade{}, fault.New(
			fault.Forbidden,
			"",
			"Run %d is your own, so somebody else declares it lost.",
			run.Number,
		)
	}
	if run.State == store.RunAnswered {
		return undoNettings(w, run, payments, entry.Reason)
	}
	if from == store.RunSent { // what netted to nothing has nothing to do with the file
		payments = slices.DeleteFunc(payments, store.Payment.Nothing)
	}
	for _, p := range payments {
		if p.State != store.PaymentInTransit && p.State != store.PaymentApproved {
			return RunMade{}, fault.New(
				fault.Refused,
				"",
				"The bank has answered for run %d already: it has the file.",
				run.Number,
			)
		}
	}
	for _, p := range payments {
		if err := undoPayment(w, run, p, store.PaymentDiscarded, "", ledger.Entry.Reversed, what); err != nil {
			return RunMade{}, err
		}
	}
	run.State = into
	return RunMade{Number: run.Number, State: run.State, Payments: paying(payments)}, errors.Join(w.SaveRun(run),
		w.Record("run", run.Number, nil, struct{ State, Reason string }{into, strings.TrimSpace(entry.Reason)}))
}
