package payments

// This file takes what the bank booked on our account (camt.053, camt.054): payments of runs settle and come back by their
// end-to-end ids, charges of the bank are booked, and what is left is set against something by a person (rules §10, §11).

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/reconcile"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// takeStatements takes a file of statements or notifications; each is taken once, by its name at the bank. All of a file is
// taken, or nothing of it.
func takeStatements(ctx context.Context, a *act.App, c act.Command, file act.File) (AnswerTaken, error) {
	read, err := iso20022.ReadStatements(file.Content)
	if err != nil {
		return AnswerTaken{}, err
	}
	return act.Perform(ctx, a, act.TakeAnswer, c, func(w *act.Work) (AnswerTaken, error) {
		var taken AnswerTaken
		paper, err := w.KeepPaper(file.Name, "application/xml", file.Content, w.Instant())
		if err != nil {
			return taken, err
		}
		before := 0
		for _, s := range read {
			row := store.Statement{
				Ident: s.ID, IBAN: trade.PlainIBAN(s.IBAN), Notification: s.Notification, From: s.From, To: s.To, Opening: s.Opening, Closing: s.Closing,
				Paper: paper, By: w.Actor.ID, At: w.Instant(),
			}
			if had, err := w.HasStatement(row); err != nil {
				return taken, err
			} else if had {
				before++
				continue
			}
			if err := ofOurs(w, row, s.Currency); err != nil {
				return taken, err
			}
			if err := takeStatement(w, row, s, &taken); err != nil {
				return taken, err
			}
		}
		if before == len(read) {
			return taken, fault.New(fault.Duplicate, "file", "The bank's statement %s was taken before.", read[0].ID)
		}
		return taken, w.Record("statement", taken.Statement, nil, struct{ Lines, Waiting int }{taken.Lines, taken.Open})
	})
}

// ofOurs refuses what is not of our account, in our currency.
func ofOurs(w *act.Work, s store.Statement, currency money.Currency) error {
	accounts, err1 := w.BankAccounts()
	ours, err2 := w.DebitAccounts()
	known := slices.ContainsFunc(accounts, func(a store.BankAccount) bool { return a.IBAN == s.IBAN }) ||
		slices.ContainsFunc(ours, func(a store.DebitAccount) bool { return trade.PlainIBAN(a.IBAN) == s.IBAN })
	switch {
	case err1 != nil || err2 != nil:
		return errors.Join(err1, err2)
	case !known:
		return fault.New(fault.Refused, "file", "Statement %s is of the account %s, which is not ours. Nothing of it was taken.", s.Ident, say.IBAN(s.IBAN))
	case currency != "" && currency != w.Ours.Currency:
		return fault.New(fault.Refused, "file", "Statement %s is in %s; our account is kept in %s. Nothing of it was taken.", s.Ident, currency, w.Ours.Currency)
	}
	return nil
}

// named are the runs whose payments a statement names, read once.
type named map[int64]*namedRun

type namedRun struct {
	store.Run
	payments []store.Payment
}

// takeStatement writes one with its lines, and books what they are.
func takeStatement(w *act.Work, row store.Statement, s iso20022.Statement, taken *AnswerTaken) error {
	var err error
	if row.Number, err = w.NextNumber(store.BankSeries); err != nil {
		return err
	}
	if row.ID, err = w.AddStatement(row); err != nil {
		return err
	}
	taken.Statement = row.Number
	runs := named{}
	for i, l := range s.Lines {
		line := store.BankLine{
			Statement: row.ID, Number: row.Number, Notification: row.Notification, No: i + 1, Day: l.Day, Amount: l.Amount, Charge: l.Charge,
			EndToEnd: l.EndToEnd, Reference: l.Reference, Name: l.Name, IBAN: trade.PlainIBAN(l.IBAN), Text: l.Text, Code: l.Code, Reason: l.Reason,
		}
		if line.Day == "" {
			line.Day = row.To
		}
		if line.ID, err = w.AddBankLine(line); err != nil {
			return err
		}
		if err := takeLine(w, runs, line, l, taken); err != nil {
			return err
		}
	}
	for _, run := range runs {
		if err := answered(w, run); err != nil {
			return err
		}
	}
	return nil
}

// takeLine books what a line is, as far as the bank's own words say it, and leaves the rest open; of a notification only what
// it says of payments is taken, and nothing is left.
func takeLine(w *act.Work, runs named, line store.BankLine, l iso20022.StatementLine, taken *AnswerTaken) error {
	taken.Lines++
	run, at, facts, err := factsOf(w, runs, line)
	if err != nil {
		return err
	}
	parts, trouble := []reconcile.Part(nil), reconcile.None
	if line.Amount != 0 && (facts != nil || !line.Notification) {
		parts, trouble = reconcile.Place(
			reconcile.Line{Amount: line.Amount, Charge: line.Charge, IsCharge: l.IsCharge(), Named: line.EndToEnd != ""}, facts,
		)
	}
	line.Rest = line.Amount
	for _, part := range parts {
		if part.What == reconcile.Charge && line.Notification { // its statement says so too
			continue
		}
		set := store.BankSet{What: string(part.What), Amount: part.Amount, At: w.Instant()}
		switch part.What {
		case reconcile.Debited:
			taken.Settled++
			set.Payment = run.payments[at].ID
			err = debited(w, run, at, line, part.Amount)
		case reconcile.GivenBack:
			taken.Rejected++
			set.Payment = run.payments[at].ID
			taken.Reasons = append(taken.Reasons, fmt.Sprintf("%s: %s", run.payments[at].SupplierName, reasonOf(line)))
			err = givenBack(w, run, at, line, part.Amount)
		case reconcile.Charge:
			set.Entry, err = charged(w, line, part.Amount)
		}
		if err = errors.Join(err, w.AddBankSet(line.ID, set)); err != nil {
			return err
		}
		line.Rest -= part.Amount
	}
	line.Trouble = say.BankTrouble(trouble, facts, run.Number)
	if line.Notification {
		line.Rest = 0
	}
	if line.Rest != 0 {
		taken.Open++
	}
	return w.PutBankLine(line)
}

func reasonOf(l store.BankLine) string {
	if reason := strings.TrimSpace(l.Reason); reason != "" {
		return reason
	}
	return "no reason given"
}

// factsOf is what is known of the payment that a line names: its run, where it stands in it, and its facts; none where it
// names no payment of ours.
func factsOf(w *act.Work, runs named, line store.BankLine) (*namedRun, int, *reconcile.Payment, error) {
	none := &namedRun{}
	if line.EndToEnd == "" {
		return none, 0, nil, nil
	}
	number, err := w.RunOfPayment(line.EndToEnd)
	if errors.Is(err, store.ErrNone) {
		return none, 0, nil, nil
	}
	if err != nil {
		return none, 0, nil, err
	}
	run := runs[number]
	if run == nil {
		run = &namedRun{}
		if run.Run, err = w.RunByNumber(number); err != nil {
			return none, 0, nil, err
		}
		if run.payments, err = w.Payments(run.ID); err != nil {
			return none, 0, nil, err
		}
		if err := outByHand(w, &run.Run, run.payments); err != nil {
			return none, 0, nil, err
		}
		runs[number] = run
	}
	at := slices.IndexFunc(run.payments, func(p store.Payment) bool { return p.EndToEnd == line.EndToEnd })
	p := run.payments[at]
	facts := reconcile.Payment{Amount: p.Amount, Foreign: p.Currency != w.Ours.Currency, State: reconcile.Ended}
	var err1, err2 error
	facts.Shown, err1 = w.PlacedOn(p.ID, store.Debited, line.Notification)
	facts.Back, err2 = w.PlacedOn(p.ID, store.GivenBack, line.Notification)
	switch p.State {
	case store.PaymentInTransit:
		facts.State = reconcile.UnderWay
	case store.PaymentSettled:
		facts.State = reconcile.Taken
	case store.PaymentRejected:
		booked, err := w.BookedUnder(p.EndToEnd)
		if err != nil {
			return none, 0, nil, err
		}
		if len(booked) > 0 || facts.Shown != 0 { // the bank had taken it
			facts.State = reconcile.Returned
		}
	}
	return run, at, &facts, errors.Join(err1, err2)
}

// debited books that the bank took a payment, where that is not booked yet, and what it took more or less than that.
func debited(w *act.Work, run *namedRun, at int, line store.BankLine, amount money.Amount) error {
	p := &run.payments[at]
	if p.State == store.PaymentInTransit {
		if err := settle(w, run.Run, *p, line.Day); err != nil {
			return err
		}
		p.State = store.PaymentSettled
	}
	return shown(w, run, p.EndToEnd, p.Currency, line, amount)
}

// givenBack books that a payment came back, where that is not booked yet: its invoices are open again.
func givenBack(w *act.Work, run *namedRun, at int, line store.BankLine, amount money.Amount) error {
	p := &run.payments[at]
	if p.State == store.PaymentSettled {
		if err := reject(w, run.Run, *p, reasonOf(line)); err != nil {
			return err
		}
		p.State = store.PaymentRejected
	}
	return shown(w, run, p.EndToEnd, p.Currency, line, amount)
}

// shown notes that a statement shows what was booked of a payment in its direction, and books what the bank's rate makes. A
// notification shows nothing: the statement does.
func shown(w *act.Work, run *namedRun, endToEnd string, currency money.Currency, line store.BankLine, amount money.Amount) error {
	if line.Notification {
		return nil
	}
	booked, err := w.BookedUnder(endToEnd)
	if err != nil {
		return err
	}
	more := amount
	for _, b := range booked {
		if (b.Amount < 0) != (amount < 0) {
			continue
		}
		more -= b.Amount
		if err := w.PutBankBooking(b.Entry, 0); err != nil {
			return err
		}
	}
	differs, err := w.BookCounter(posting.BankDiffers(endToEnd, currency, more), line.Day, run.PayOn,
		fmt.Sprintf("The bank’s own rate for payment %s", endToEnd), "payment", run.Number, 0)
	if err != nil || differs == 0 {
		return err
	}
	return w.PutBankBooking(differs, 0)
}

// charged books a charge of the bank and gives the entry's number.
func charged(w *act.Work, line store.BankLine, amount money.Amount) (int64, error) {
	entry, err := w.Book(posting.ChargedByBank(amount, w.Ours.Currency), line.Day,
		strings.TrimSpace(fmt.Sprintf("Charge of the bank, statement %d: %s", line.Number, cmp.Or(line.Text, line.EndToEnd, line.Reference))), "payment", 0, 0)
	if err != nil {
		return 0, err
	}
	return entry, w.PutBankBooking(entry, 0)
}

// answered ends a run of which the bank has said everything.
func answered(w *act.Work, run *namedRun) error {
	under := slices.ContainsFunc(run.payments, func(p store.Payment) bool { return !p.Nothing() && p.State == store.PaymentInTransit })
	if under || run.State != store.RunSent {
		return nil
	}
	run.State = store.RunAnswered
	return w.SaveRun(run.Run)
}
