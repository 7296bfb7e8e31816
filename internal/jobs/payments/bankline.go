package payments

// This file is about lines of statements that a person places, and takes back (rules §10).

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"strings"
)

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
		Reference: cmp.Or(strings.TrimSpace(entry.Note), line.Reference, fmt.Sprintf("statement %d, line %d", line.Number, line.No))}
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
