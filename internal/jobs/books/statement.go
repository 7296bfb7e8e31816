package books

// This file holds suppliers' statements against what is here, keeps them, and asks for what is missing.

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reconcile"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// StatementLine is a line of a supplier's statement as it is entered.
type StatementLine struct {
	Number string
	Day    string // empty: it is not said
	Amount money.Entered
}

// StatementEntry is a supplier's statement as it is entered.
type StatementEntry struct {
	Supplier string // code
	Day      day.Day
	Lines    []StatementLine
	Note     string
}

// mostStatementLines is how many lines a statement may have.
const mostStatementLines = 5_000

// Reconciled is a statement held against what is here now. Kept is what was kept of it; without a number it was not.
type Reconciled struct {
	reconcile.Statement
	Kept     store.SupplierStatement
	Supplier trade.Supplier
	Letter   act.Letter // that would ask for what is missing; without a text nothing is
}

// CompareStatement holds a statement against what is here. It keeps nothing.
func CompareStatement(ctx context.Context, a *act.App, actor act.Actor, e StatementEntry) (Reconciled, error) {
	if err := actor.Allowed(act.KeepStatement); err != nil {
		return Reconciled{}, err
	}
	return act.Read(ctx, a, func(r act.Reading) (Reconciled, error) {
		s, err := e.statement(r)
		if err != nil {
			return Reconciled{}, err
		}
		return reconciled(r, s)
	})
}

// statement reads an entry: amounts are in the supplier's currency.
func (e StatementEntry) statement(r act.Reading) (s store.SupplierStatement, err error) {
	supplier, err := r.SupplierByCode(e.Supplier)
	if err != nil {
		return s, act.Found(err, "There is no supplier %s.", e.Supplier)
	}
	s = store.SupplierStatement{
		Supplier: supplier.ID, SupplierName: supplier.Name, SupplierCode: supplier.Code, Day: e.Day, Currency: supplier.Currency,
		Note: strings.TrimSpace(e.Note),
	}
	amounts := act.Amounts{Currency: supplier.Currency}
	wrong := func(field, sentence string, operands ...any) {
		amounts.Faults = append(amounts.Faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	if _, err := day.Parse(string(e.Day)); err != nil {
		wrong("day", "Enter the day of the statement.")
	} else if e.Day > r.Today() {
		wrong("day", "The statement is of a day that has not come.")
	}
	if len(e.Lines) == 0 || len(e.Lines) > mostStatementLines {
		wrong("lines", "A statement has 1 to %d lines.", mostStatementLines)
		return s, amounts.Faults.OrNil()
	}
	for i, l := range e.Lines {
		at := fmt.Sprintf("lines[%d].", i)
		line := reconcile.Theirs{Number: strings.TrimSpace(l.Number), Day: day.Day(l.Day), Amount: amounts.Of(l.Amount, at+"amount", "The amount")}
		if line.Amount == 0 && strings.TrimSpace(string(l.Amount)) == "" {
			wrong(at+"amount", "Enter the amount of line %d.", i+1)
		}
		if _, err := day.Parse(l.Day); l.Day != "" && err != nil {
			wrong(at+"day", "“%s” is no day.", l.Day)
		}
		s.Lines = append(s.Lines, line)
	}
	return s, amounts.Faults.OrNil()
}

// before is how long before its day payments are looked for that a statement may name.
const before = 400

// reconciled holds a statement against what is here now.
func reconciled(r act.Reading, s store.SupplierStatement) (Reconciled, error) {
	ours, err := r.OpenBills(s.Supplier, s.Currency)
	if err != nil {
		return Reconciled{}, err
	}
	here := map[int64]bool{}
	for _, o := range ours {
		here[o.Number] = true
	}
	asked := map[string]bool{}
	for _, l := range s.Lines {
		key := trade.NormalNumber(l.Number)
		if key == "" || asked[key] {
			continue
		}
		asked[key] = true
		named, err := r.BillsOf(s.Supplier, s.Currency, key)
		if err != nil {
			return Reconciled{}, err
		}
		for _, o := range named {
			if !here[o.Number] {
				ours, here[o.Number] = append(ours, o), true
			}
		}
	}
	ours = slices.DeleteFunc(ours, func(o reconcile.Ours) bool { return o.Day > s.Day && !asked[trade.NormalNumber(o.Supplier)] })
	paid, err1 := r.PaidTo(s.Supplier, s.Currency, s.Day.Add(-before))
	supplier, err2 := r.Supplier(s.Supplier)
	if err := errors.Join(err1, err2); err != nil {
		return Reconciled{}, err
	}
	of := Reconciled{Statement: reconcile.Supplier(s.Lines, ours, paid, s.Day), Kept: s, Supplier: supplier}
	of.Letter, err = asking(r, of)
	return of, err
}

// asking is the mail that asks for the documents of a statement that are not here.
func asking(r act.Reading, of Reconciled) (l act.Letter, err error) {
	var missing []reconcile.Theirs
	for _, p := range of.Pairs {
		if p.Standing == reconcile.MissingHere {
			missing = append(missing, *p.Theirs)
		}
	}
	if len(missing) == 0 {
		return l, nil
	}
	contact, err := r.Recipient(of.Supplier.ID, "invoicing")
	words := r.LettersTo(of.Supplier)
	l.To, l.Contact, words.To = contact.Mail, contact.Name, contact.Name
	l.Subject, l.Text = words.StatementMail(string(of.Kept.Day), missing, of.Kept.Currency)
	return l, err
}

// KeptStatement answers what keeps a statement.
type KeptStatement struct{ Number int64 }

// KeepStatement keeps a statement with its day and how its lines stand now.
func KeepStatement(ctx context.Context, a *act.App, c act.Command, e StatementEntry) (KeptStatement, error) {
	return act.Perform(ctx, a, act.KeepStatement, c, func(w *act.Work) (KeptStatement, error) {
		s, err := e.statement(w.Reading)
		if err != nil {
			return KeptStatement{}, err
		}
		of, err := reconciled(w.Reading, s)
		if err != nil {
			return KeptStatement{}, err
		}
		s.Theirs, s.Ours, s.By, s.At = of.Theirs, of.Ours, w.Actor.ID, w.Instant()
		for _, p := range of.Pairs[:len(s.Lines)] {
			s.Standings = append(s.Standings, p.Standing)
		}
		if s.Number, err = w.NextNumber(store.StatementSeries); err != nil {
			return KeptStatement{}, err
		}
		return KeptStatement{s.Number}, errors.Join(w.AddTheirStatement(s), w.Record("supplier statement", s.Number, nil, s))
	})
}

// ReadStatement reads a statement that was kept, as it stands now.
func ReadStatement(ctx context.Context, a *act.App, number int64) (Reconciled, error) {
	return act.Read(ctx, a, func(r act.Reading) (Reconciled, error) {
		s, err := r.TheirStatement(number)
		if err != nil {
			return Reconciled{}, act.Found(err, "There is no statement %d.", number)
		}
		return reconciled(r, s)
	})
}

// Statements are those that were kept last.
func Statements(ctx context.Context, a *act.App) ([]store.SupplierStatement, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.SupplierStatement, error) { return r.TheirStatements() })
}

// StatementMail asks a supplier for what is missing of a statement that was kept.
type StatementMail struct {
	Number            int64
	To, Subject, Text string
}

// AskStatement mails a supplier for the documents of its statement that are not here. It goes out as lists do.
func AskStatement(ctx context.Context, a *act.App, c act.Command, m StatementMail) (KeptStatement, error) {
	asked, err := act.Perform(ctx, a, act.AskStatement, c, func(w *act.Work) (KeptStatement, error) {
		s, err := w.TheirStatement(m.Number)
		if err != nil {
			return KeptStatement{}, act.Found(err, "There is no statement %d.", m.Number)
		}
		if strings.TrimSpace(m.Text) == "" {
			return KeptStatement{}, fault.New(fault.Invalid, "text", "Write what is asked.")
		}
		row := store.Sending{
			Recipient: strings.TrimSpace(m.To), Subject: strings.TrimSpace(m.Subject), Text: m.Text, By: w.Actor.ID, At: w.Instant(),
			State: store.SendingWaiting,
		}
		if row.Mail, err = w.MakeMail(fmt.Sprintf("statement-%d", s.Number), row.Recipient, row.Subject, row.Text, nil); err != nil {
			return KeptStatement{}, err
		}
		of, err := json.Marshal(KeptStatement{s.Number})
		if err != nil {
			return KeptStatement{}, err
		}
		return KeptStatement{s.Number}, errors.Join(
			w.AddListMail(store.MailedList{List: "supplier statement", Asked: string(of)}, row),
			w.AddStatementAsked(s.ID, row.Recipient, row.Text, w.Actor.ID, row.At),
			w.Record("supplier statement", s.Number, nil, struct{ Asked, To string }{row.Subject, row.Recipient}),
		)
	})
	if err == nil {
		a.Posted.Ring()
	}
	return asked, err
}
