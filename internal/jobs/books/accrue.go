// Package books are the jobs of a month's end: what came and is not invoiced is accrued, what is posted is handed to the general
// ledger, and one page tells what is left to be done (rules §11).
package books

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/store"
)

// LineKey names an order line.
type LineKey struct {
	Order int64
	Line  int
}

// AddedLine is what a person adds to an accrual: a cost that came without an order.
type AddedLine struct {
	Budget string
	Amount money.Entered // without tax, in the company's currency
	Text   string
}

// AccrualEntry accrues a month: what came by its last day and is not invoiced, but for the lines taken out, and what is added.
type AccrualEntry struct {
	Month string
	Out   []LineKey
	Added []AddedLine
	Note  string
}

// Accrual is what was accrued, or would be. Lines that cannot be worked out are left out, and why.
type Accrual struct {
	store.Accrual
	On, Back day.Day // posted on the one, taken back on the other
	Total    money.Amount
	Company  money.Currency
	Left     []string
}

// ofMonth reads a month as it is typed, with its last day.
func ofMonth(month string) (day.Day, error) {
	first, err := day.Parse(month + "-01")
	if err != nil {
		return "", fault.New(fault.Invalid, "month", "A period is a month, such as 2026-10.")
	}
	return first.EndOfMonth(), nil
}

// proposed is what would be accrued of a month.
func proposed(r act.Reading, month string) (Accrual, error) {
	last, err := ofMonth(month)
	if err != nil {
		return Accrual{}, err
	}
	p := Accrual{Accrual: store.Accrual{Month: month}, On: last, Back: last.Add(1), Company: r.Ours.Currency}
	all, err := r.UninvoicedAt(last)
	if err != nil {
		return p, err
	}
	for _, u := range all {
		rate, err := r.RateOn(u.Currency, last)
		var no *fault.Fault
		if errors.As(err, &no) {
			p.Left = append(p.Left, fmt.Sprintf("%d/%d of %s: %s", u.Order, u.No, u.Supplier, no.Sentence))
			continue
		}
		if err != nil {
			return p, err
		}
		line := u.AccruedLine
		line.Quantity = u.Received - u.Billed
		value, err := u.Net.PartBetween(int64(u.Billed), int64(u.Received), int64(u.Ordered))
		if err != nil {
			return p, err
		}
		if line.Base, err = value.Convert(rate, u.Currency, r.Ours.Currency); err != nil {
			return p, err
		}
		if line.Base != 0 {
			p.Lines = append(p.Lines, line)
			p.Total += line.Base
		}
	}
	return p, nil
}

// standing is the accrual of a month that nobody took back.
func standing(r act.Reading, month string) (*store.Accrual, error) {
	all, err := r.Accruals(month)
	for i := range all {
		if all[i].Ended == "" {
			return &all[i], err
		}
	}
	return nil, err
}

// bothOpen refuses to post an accrual of a month, or to take it back, where that month or the next one is closed.
func bothOpen(w *act.Work, last day.Day) error {
	for _, d := range []day.Day{last, last.Add(1)} {
		closed, err := w.PeriodClosed(d.Month())
		if err != nil {
			return err
		}
		if closed {
			return fault.New(fault.Refused, "month", "The period %s is closed: nothing is posted into it any more.", d.Month())
		}
	}
	return nil
}

// Accrue posts what came by a month's last day and is not invoiced on that day, and takes it back on the first of the next
// month: both entries are made at once, so that it cannot be forgotten. A month is accrued once, until that is taken back.
func Accrue(ctx context.Context, a *act.App, c act.Command, e AccrualEntry) (Accrual, error) {
	return act.Perform(ctx, a, act.Accrue, c, func(w *act.Work) (Accrual, error) {
		p, err := proposed(w.Reading, e.Month)
		if err != nil {
			return p, err
		}
		if p.On > w.Today() {
			return p, fault.New(fault.Refused, "month", "Nothing is posted ahead of its day: %s ends on %s.", e.Month, p.On)
		}
		if err := bothOpen(w, p.On); err != nil {
			return p, err
		}
		before, err := standing(w.Reading, e.Month)
		if err != nil {
			return p, err
		}
		if before != nil {
			return p, fault.New(fault.Duplicate, "month", "%s is accrued already, by %s. Take that back first.", e.Month, before.ByName)
		}
		if err := p.change(w, e); err != nil {
			return p, err
		}
		lines := make([]posting.Accrued, len(p.Lines))
		for i, l := range p.Lines {
			lines[i] = posting.Accrued{Account: l.Account, Budget: l.Budget, Base: l.Base}
		}
		entry, reversal := posting.Accrual(lines, w.Ours.Currency)
		if p.Number, err = w.NextNumber(store.AccrualSeries); err != nil {
			return p, err
		}
		if p.Entry, err = w.Book(entry, p.On, fmt.Sprintf("Came and not invoiced by the end of %s", e.Month), "accrual", p.Number, 0); err != nil {
			return p, err
		}
		if p.Reversal, err = w.Book(reversal, p.Back, fmt.Sprintf("Accrual of %s taken back on the first", e.Month), "accrual", p.Number, 0); err != nil {
			return p, err
		}
		p.Note, p.By, p.ByName, p.At = strings.TrimSpace(e.Note), w.Actor.ID, w.Actor.Name, w.Instant()
		if err := w.AddAccrual(p.Accrual); err != nil {
			return p, err
		}
		return p, w.Record("accrual", p.Number, nil, p.Accrual)
	})
}

// change takes lines out of what is proposed, and adds others.
func (p *Accrual) change(w *act.Work, e AccrualEntry) error {
	for _, out := range e.Out {
		at := slices.IndexFunc(p.Lines, func(l store.AccruedLine) bool { return l.Order == out.Order && l.No == out.Line })
		if at < 0 {
			return fault.New(fault.Changed, "out", "Line %d of order %d is not to be accrued any more. Look at the list again.", out.Line, out.Order)
		}
		p.Total -= p.Lines[at].Base
		p.Lines = slices.Delete(p.Lines, at, at+1)
	}
	budgets, err := w.Budgets()
	if err != nil {
		return err
	}
	var faults fault.Faults
	for i, x := range e.Added {
		field := func(name string) string { return fmt.Sprintf("added[%d].%s", i, name) }
		at := slices.IndexFunc(budgets, func(b store.Budget) bool { return strings.EqualFold(b.Code, strings.TrimSpace(x.Budget)) })
		amount, err := x.Amount.In(w.Ours.Currency)
		if at < 0 {
			faults = append(faults, fault.New(fault.Invalid, field("budget"), "“%s” is no budget.", x.Budget))
		}
		if err != nil || amount <= 0 {
			faults = append(faults, fault.New(fault.Invalid, field("amount"), "Enter an amount of %s above zero, without tax.", w.Ours.Currency))
		}
		text := strings.TrimSpace(x.Text)
		if text == "" {
			faults = append(faults, fault.New(fault.Invalid, field("text"), "Say what it is for."))
		}
		if at >= 0 && err == nil {
			p.Lines = append(p.Lines, store.AccruedLine{Account: budgets[at].Account, Budget: budgets[at].Code, Text: text, Base: amount})
			p.Total += amount
		}
	}
	if err := faults.OrNil(); err != nil {
		return err
	}
	if len(p.Lines) == 0 {
		return fault.New(fault.Refused, "", "Nothing is left to be accrued of %s.", p.Month)
	}
	return nil
}

// Undoing takes something of a month's end back, with a reason.
type Undoing struct {
	Number int64
	Reason string
}

// UndoAccrual takes an accrual back, on the days on which it was posted: while both months are open. After that it has taken
// itself back.
func UndoAccrual(ctx context.Context, a *act.App, c act.Command, u Undoing) (Accrual, error) {
	return act.Perform(ctx, a, act.UndoAccrual, c, func(w *act.Work) (Accrual, error) {
		before, err := w.AccrualByNumber(u.Number)
		if err != nil {
			return Accrual{}, act.Found(err, "There is no accrual %d.", u.Number)
		}
		reason := strings.TrimSpace(u.Reason)
		switch {
		case before.Ended != "":
			return Accrual{}, fault.New(fault.Duplicate, "", "The accrual of %s is taken back already.", before.Month)
		case reason == "":
			return Accrual{}, fault.New(fault.Invalid, "reason", "Say why it is taken back.")
		}
		last, err := ofMonth(before.Month)
		if err != nil {
			return Accrual{}, err
		}
		if err := bothOpen(w, last); err != nil {
			return Accrual{}, err
		}
		for _, number := range []int64{before.Entry, before.Reversal} {
			entry, err := w.Entry(number)
			if err != nil {
				return Accrual{}, err
			}
			if _, err := w.Book(entry.Reversed(), entry.PostedOn, fmt.Sprintf("Taken back: %s", entry.What), "accrual", before.Number, 0); err != nil {
				return Accrual{}, err
			}
		}
		if err := w.EndAccrual(before.ID, reason, w.Actor.ID, w.Instant()); err != nil {
			return Accrual{}, err
		}
		after := before
		after.Ended, after.EndedBy = reason, w.Actor.Name
		return Accrual{Accrual: after, On: last, Back: last.Add(1), Company: w.Ours.Currency}, w.Record("accrual", before.Number, before, after)
	})
}
