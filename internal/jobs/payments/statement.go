package payments

// This file takes what the bank booked on our account (camt.053, camt.054): payments of runs settle and come back by their
// end-to-end ids, charges of the bank are booked, and what is left is set against something by a person (rules §10, §11).

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
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
	accounts, err := w.BankAccounts()
	known := slices.ContainsFunc(accounts, func(a store.BankAccount) bool { return a.IBAN == s.IBAN })
	switch {
	case err != nil:
		return err
	case s.IBAN != trade.PlainIBAN(w.Ours.IBAN) && !known:
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
		strings.TrimSpace(fmt.Sprintf("Charge of the bank, statement %d: %s", line.Number, firstOf(line.Text, line.EndToEnd, line.Reference))), "payment", 0, 0)
	if err != nil {
		return 0, err
	}
	return entry, w.PutBankBooking(entry, 0)
}

func firstOf(texts ...string) string {
	for _, t := range texts {
		if t != "" {
			return t
		}
	}
	return ""
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

// LineEntry sets a line of a statement, or what is open of it, against something.
type LineEntry struct {
	Statement  int64 // number
	Line       int
	What       string        // settlement, charge, aside
	Invoice    int64         // number, of a settlement that is made by it: an invoice that the bank paid, a credit note that came back
	Amount     money.Entered // in the invoice's currency; empty: what is open of the line or the invoice, whichever is less
	Settlement int64         // number, of one that was recorded before; in place of the invoice
	Note       string
}

// LineSet answers the jobs on lines of statements.
type LineSet struct {
	Statement int64
	Line      int
	Rest      money.Amount // what is open of the line
	Currency  money.Currency
}

// SetLine sets a line of a statement against an invoice that the bank paid without a run, against a payment that was recorded
// already, books it as a charge of the bank, or leaves it aside as none of ours, with a word why.
func SetLine(ctx context.Context, a *act.App, c act.Command, entry LineEntry) (LineSet, error) {
	return act.Perform(ctx, a, act.SetBankLine, c, func(w *act.Work) (LineSet, error) {
		line, err := w.BankLine(entry.Statement, entry.Line)
		if err != nil {
			return LineSet{}, act.Found(err, "There is no line %d on statement %d.", entry.Line, entry.Statement)
		}
		if line.Rest == 0 {
			return LineSet{}, fault.New(fault.Changed, "", "Nothing is open of this line any more.")
		}
		set := store.BankSet{What: entry.What, Amount: line.Rest, Note: strings.TrimSpace(entry.Note), By: w.Actor.ID, At: w.Instant()}
		switch {
		case entry.What == store.Aside && set.Note == "":
			return LineSet{}, fault.New(fault.Invalid, "note", "Say what it is, since it is none of ours.")
		case entry.What == store.Aside:
			w.Actor, err = w.Authorised(w.Actor, line.Rest.Abs(), "treasurer")
		case entry.What == store.BankCharge && line.Rest > 0:
			return LineSet{}, fault.New(fault.Refused, "", "The bank gave this money; a charge is what it takes.")
		case entry.What == store.BankCharge: // nobody invoices it, so that it takes the authority for its sum
			if w.Actor, err = w.Authorised(w.Actor, line.Rest.Abs(), "treasurer"); err == nil {
				set.Entry, err = charged(w, line, line.Rest)
			}
		case entry.What == store.BySettlement && entry.Settlement != 0:
			err = setRecorded(w, line, entry.Settlement, &set)
		case entry.What == store.BySettlement:
			err = setInvoice(w, line, entry, &set)
		default:
			return LineSet{}, fault.New(fault.Invalid, "what", "Say what the line is.")
		}
		if err != nil {
			return LineSet{}, err
		}
		line.Rest -= set.Amount
		return LineSet{entry.Statement, entry.Line, line.Rest, w.Ours.Currency}, errors.Join(w.AddBankSet(line.ID, set), w.PutBankLine(line),
			w.Record("statement", entry.Statement, nil, entry))
	})
}

// setRecorded sets a line against what was recorded as paid by the bank before the statement came.
func setRecorded(w *act.Work, line store.BankLine, number int64, set *store.BankSet) error {
	row, err := w.Settlement(number)
	if err != nil {
		return act.Found(err, "There is no payment %d outside a run.", number)
	}
	booked, err := w.Entry(row.Entry)
	if err != nil {
		return err
	}
	moved := booked.Of(ledger.Bank)
	if on, _, err := w.LineOfSettlement(row.ID); err != nil || on.ID != 0 {
		return errors.Join(err, fault.New(fault.Changed, "", "Statement %d shows this payment already.", on.Number))
	}
	if row.Way != "bank" || moved != line.Rest {
		return fault.New(fault.Refused, "", "What was recorded, %s, is not what is open of the line, %s.",
			w.Actor.Printer.Money(moved, w.Ours.Currency), w.Actor.Printer.Money(line.Rest, w.Ours.Currency))
	}
	set.Settlement = row.ID
	return w.PutBankBooking(row.Entry, 0)
}

// setInvoice records that the bank paid an invoice without a run, or that a credit note came back.
func setInvoice(w *act.Work, line store.BankLine, entry LineEntry, set *store.BankSet) error {
	inv, s, err := w.InvoiceNumbered(entry.Invoice)
	if err != nil {
		return act.Found(err, "There is no invoice %d.", entry.Invoice)
	}
	if (inv.Kind == trade.CreditNote) != (line.Rest > 0) {
		return fault.New(fault.Refused, "invoice", "%s %d %s; the bank %s.", say.Document(inv.Kind), inv.Number,
			map[bool]string{true: "gives money back", false: "is paid"}[inv.Kind == trade.CreditNote],
			map[bool]string{true: "gave this money", false: "took this money"}[line.Rest > 0])
	}
	made := OtherwiseEntry{Invoice: inv.Number, Version: s.Version, Way: "bank", Amount: entry.Amount, Day: line.Day,
		Reference: firstOf(strings.TrimSpace(entry.Note), line.Reference, fmt.Sprintf("statement %d, line %d", line.Number, line.No))}
	open := (inv.Sign() * s.Open)
	took := line.Rest
	if inv.Currency == w.Ours.Currency {
		amount := min(open, line.Rest.Abs())
		if strings.TrimSpace(string(entry.Amount)) != "" {
			if amount, err = entry.Amount.In(inv.Currency); err != nil || amount > line.Rest.Abs() {
				return fault.New(fault.Invalid, "amount", "Enter an amount of at most %s, what is open of the line.",
					w.Actor.Printer.Money(line.Rest.Abs(), w.Ours.Currency))
			}
		}
		made.Amount, took = amount.Entered(inv.Currency), -inv.Sign()*amount
	}
	if set.Amount, err = took, nil; made.Day > w.Today() {
		made.Day = w.Today()
	}
	_, row, err := settleOutside(w, made, took)
	if err != nil {
		return err
	}
	set.Settlement, set.Entry = row.ID, row.Entry
	return w.PutBankBooking(row.Entry, 0)
}

// LineEnd takes back what a person set a line against.
type LineEnd struct {
	Statement int64
	Line      int
	Reason    string
}

// FreeLine takes back what a line was set against by a person, or booked as a charge: it is open again. What the bank itself
// says of a payment stands.
func FreeLine(ctx context.Context, a *act.App, c act.Command, end LineEnd) (LineSet, error) {
	return act.Perform(ctx, a, act.FreeBankLine, c, func(w *act.Work) (LineSet, error) {
		line, err := w.BankLine(end.Statement, end.Line)
		if err != nil {
			return LineSet{}, act.Found(err, "There is no line %d on statement %d.", end.Line, end.Statement)
		}
		if end.Reason = strings.TrimSpace(end.Reason); end.Reason == "" {
			return LineSet{}, fault.New(fault.Invalid, "reason", "Say why it is taken back.")
		}
		freed := false
		for _, set := range line.Sets {
			if set.Payment != 0 {
				continue
			}
			freed = true
			if err := free(w, line, set, end.Reason); err != nil {
				return LineSet{}, err
			}
		}
		if !freed {
			return LineSet{}, fault.New(fault.Refused, "", "Nobody set this line against anything; what the bank says of a payment stands.")
		}
		if line, err = w.BankLine(end.Statement, end.Line); err != nil {
			return LineSet{}, err
		}
		return LineSet{end.Statement, end.Line, line.Rest, w.Ours.Currency}, w.Record("statement", end.Statement, nil, end)
	})
}

// free takes back one thing that a line was set against.
func free(w *act.Work, line store.BankLine, set store.BankSet, reason string) error {
	if set.Settlement != 0 && set.Entry != 0 { // the line made it
		_, s, err := w.InvoiceNumbered(set.Invoice)
		if err != nil {
			return err
		}
		_, err = takeBackSettled(w, SettledEnd{Number: set.SettlementNumber, Version: s.Version, Reason: reason})
		return err
	}
	if set.Settlement != 0 {
		row, err := w.Settlement(set.SettlementNumber)
		if err != nil {
			return err
		}
		if err := w.PutBankBooking(row.Entry, set.Amount); err != nil {
			return err
		}
	}
	if set.What == store.BankCharge && !line.Notification {
		booked, err := w.Entry(set.Entry)
		if err != nil {
			return err
		}
		counter, err := w.BookCounter(booked.Reversed(), w.Today(), booked.PostedOn, "No charge of the bank: "+reason, "payment", 0, 0)
		if err != nil {
			return err
		}
		if err := w.PutBankBooking(counter, 0); err != nil {
			return err
		}
	}
	return opened(w, line.Number, line.No, set, reason)
}

// opened ends what a line was set against: that much of it is open again.
func opened(w *act.Work, statement int64, no int, set store.BankSet, reason string) error {
	line, err := w.BankLine(statement, no)
	if err != nil {
		return err
	}
	line.Rest += set.Amount
	return errors.Join(w.EndBankSet(set.ID, reason, w.Actor.ID, w.Instant()), w.PutBankLine(line))
}

// freeSettled opens the line again that showed a payment outside a run, once that is taken back.
func freeSettled(w *act.Work, row store.Settlement, reason string) error {
	line, set, err := w.LineOfSettlement(row.ID)
	if err != nil || set.ID == 0 {
		return err
	}
	return opened(w, line.Number, line.No, set, reason)
}
