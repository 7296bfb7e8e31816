package jobs

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// AcceptEntry takes a finding as it is, with a note.
type AcceptEntry struct {
	Invoice int64
	Version int64
	Kind    finding.Kind
	Line    int
	finding.About
	Note string
}

// AcceptFinding records a person's decision that a difference may stand, and matches
// the invoice again. It takes the authority for the sum of all differences that the
// person accepts on the invoice, and nobody accepts on their own entry (rules §6, §12).
func (a *App) AcceptFinding(ctx context.Context, c Command, entry AcceptEntry) (Captured, error) {
	return perform(ctx, a, AcceptFinding, c, func(w *work) (Captured, error) {
		inv, s, err := w.openInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return Captured{}, err
		}
		findings, err := w.findings(s)
		if err != nil {
			return Captured{}, err
		}
		if !s.State.Unsettled() && s.State != trade.Verified {
			return Captured{}, fault.New(fault.Refused, "", "Invoice %d is %s; there is nothing to accept any more.", inv.Number, words(string(s.State)))
		}
		at := slices.IndexFunc(findings, func(f finding.Finding) bool {
			return f.Kind == entry.Kind && f.Line == entry.Line && f.About() == entry.About && f.Open()
		})
		if at < 0 {
			return Captured{}, fault.New(fault.Changed, "", "This difference is not open any more. Look at the invoice again.")
		}
		f := findings[at]
		switch {
		case !f.May(finding.Accept):
			return Captured{}, fault.New(fault.Refused, "", "This difference can be corrected or refused, but not accepted.")
		case strings.TrimSpace(entry.Note) == "":
			return Captured{}, fault.New(fault.Invalid, "note", "Say in a note why the difference is accepted.")
		}
		if err := w.notOwn(inv); err != nil {
			return Captured{}, err
		}
		difference, err := f.Difference.Convert(inv.Rate, inv.Currency, w.company.Currency)
		if err != nil {
			return Captured{}, err
		}
		if err := w.authorised(inv, s, f, difference); err != nil {
			return Captured{}, err
		}
		accepted := finding.Acceptance{Kind: f.Kind, Line: f.Line, Side: f.Side(), About: f.About(), Difference: f.Difference, Excess: f.Excess, Note: strings.TrimSpace(entry.Note)}
		if err := w.AddAcceptance(inv.ID, s.Revision, accepted, difference, w.actor.ID, w.instant()); err != nil {
			return Captured{}, err
		}
		if !s.State.Unsettled() {
			return Captured{Number: inv.Number, State: s.State}, errors.Join(w.redescribe(s), w.record("invoice", inv.Number, f, entry))
		}
		if err := w.record("invoice", inv.Number, f, entry); err != nil {
			return Captured{}, err
		}
		return w.matched(inv, s, "difference accepted by "+w.actor.Name, nil)
	})
}

// notOwn refuses what a person may not do to an invoice that they keyed or corrected.
func (w *work) notOwn(inv trade.Invoice) error {
	makers, err := w.Makers(inv.ID)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(makers, w.actor.Is) {
		return fault.New(fault.Forbidden, "", "The entry of invoice %d is your own; somebody else must decide on it.", inv.Number)
	}
	return nil
}

// authorised refuses an acceptance past the person's authority. That a bank account
// differs is no amount: it takes a second person, not an authority. Where one's own does
// not reach, that of whoever one stands in for may; what they accepted counts with it.
func (w *work) authorised(inv trade.Invoice, s store.InvoiceState, f finding.Finding, difference money.Amount) error {
	if !f.Sort().Authority {
		return nil
	}
	if !w.actor.Has("approver") {
		return fault.New(fault.Forbidden, "", "Accepting a difference takes the role approver.")
	}
	f.Difference = difference
	sum, err := w.acceptedWith(s, f, w.actor)
	if err != nil {
		return err
	}
	if w.actor.holds("approver") || w.actor.acting != nil {
		if sum <= w.actor.Authority {
			return nil
		}
	}
	for i := range w.actor.InPlaceOf {
		other := w.actor.insteadOf(&w.actor.InPlaceOf[i])
		if !w.actor.InPlaceOf[i].holds("approver") {
			continue
		}
		if sum, err = w.acceptedWith(s, f, other); err != nil {
			return err
		}
		if sum <= other.Authority {
			w.actor = other
			return w.notOwn(inv)
		}
	}
	p, currency := w.actor.Printer, w.company.Currency
	return fault.New(fault.Forbidden, "",
		"The differences you accept on this invoice come to %s; your authority is %s. Somebody with more must accept it.", p.Money(sum, currency),
		p.Money(w.actor.Authority, currency))
}

// acceptedWith is what an actor's acceptances on an invoice, and those of whom they act
// for, come to with one more.
func (w *work) acceptedWith(s store.InvoiceState, f finding.Finding, actor Actor) (money.Amount, error) {
	before, err := w.AcceptedBy(s.Revision, actor.ID)
	if err == nil && actor.acting != nil {
		var theirs []finding.Finding
		theirs, err = w.AcceptedBy(s.Revision, actor.acting.ID)
		before = append(before, theirs...)
	}
	before = slices.DeleteFunc(before, func(b finding.Finding) bool {
		return !b.Sort().Authority || b.Same(f)
	})
	return match.Authority(append(before, f)), err
}

// findings are those of the last match with the acceptances since.
func (r reading) findings(s store.InvoiceState) ([]finding.Finding, error) {
	if s.MatchRun == 0 {
		return nil, nil
	}
	run, err := r.MatchRun(s.MatchRun)
	if err != nil {
		return nil, err
	}
	accepted, err := r.Acceptances(s.Revision)
	for i := range run.Findings {
		f := &run.Findings[i]
		for _, a := range accepted {
			if f.Accepted == nil && f.May(finding.Accept) && a.Covers(*f) { // those that lapsed are not read
				f.Accepted = &a
			}
		}
	}
	return run.Findings, err
}

// redescribe brings up to date what lists show of a verified invoice.
func (w *work) redescribe(s store.InvoiceState) error {
	findings, err := w.findings(s)
	if err != nil {
		return err
	}
	w.describe(&s, findings)
	s.Version++
	return w.SaveInvoiceState(s)
}

// Ending refuses an invoice to the supplier, or makes a verified one void.
type Ending struct {
	Invoice int64
	Version int64
	Reason  string
}

// RefuseInvoice ends an invoice that is not verified: it goes back to the supplier
// and frees what it reserved.
func (a *App) RefuseInvoice(ctx context.Context, c Command, entry Ending) (Captured, error) {
	return perform(ctx, a, RefuseInvoice, c, func(w *work) (Captured, error) {
		inv, s, err := w.openInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return Captured{}, err
		}
		if !s.State.Unsettled() {
			return Captured{}, fault.New(fault.Refused, "", "Invoice %d is %s and cannot be refused any more.", inv.Number, words(string(s.State)))
		}
		return w.end(inv, s, trade.Refused, entry)
	})
}

// VoidInvoice undoes a verified invoice before its release by a counter-entry, and
// restores what it used.
func (a *App) VoidInvoice(ctx context.Context, c Command, entry Ending) (Captured, error) {
	return perform(ctx, a, VoidInvoice, c, func(w *work) (Captured, error) {
		inv, s, err := w.openInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return Captured{}, err
		}
		if s.State != trade.Verified {
			return Captured{}, fault.New(fault.Refused, "", "Invoice %d is %s; only a verified one that is not released can be made void.",
				inv.Number, words(string(s.State)))
		}
		if strings.TrimSpace(entry.Reason) != "" {
			if err := w.unbook(inv, s); err != nil {
				return Captured{}, err
			}
		}
		return w.end(inv, s, trade.Void, entry)
	})
}

func (w *work) end(inv trade.Invoice, s store.InvoiceState, state trade.InvoiceState, entry Ending) (Captured, error) {
	reason := strings.TrimSpace(entry.Reason)
	if reason == "" {
		return Captured{}, fault.New(fault.Invalid, "reason", "Give the reason.")
	}
	before := s.State
	s.State, s.Since, s.Open, s.Blocked, s.Turn, s.Summary = state, w.instant(), 0, false, "", string(state)
	s.Version++
	if err := errors.Join(w.SaveInvoiceState(s), w.AddDecision(inv.ID, state, reason, w.actor.ID, w.instant()),
		w.record("invoice", inv.Number, struct{ State trade.InvoiceState }{before}, entry)); err != nil {
		return Captured{}, err
	}
	answer, cause := Captured{Number: inv.Number, State: state}, fmt.Sprintf("invoice %d %s", inv.Number, state)
	return answer, errors.Join(w.wakeAlike(inv, s.Revision, cause), w.wakeConcerned(inv, cause))
}

// unbook takes back what a verified invoice did and everything that was booked of it since. A
// counter-entry is posted on the day it is made, never before what it undoes (rules §5).
func (w *work) unbook(inv trade.Invoice, s store.InvoiceState) error {
	orders, err := w.OrdersOf(inv, store.AllReserved)
	if err != nil {
		return err
	}
	supplier, err := w.Supplier(inv.SupplierID)
	if err != nil {
		return err
	}
	standing := book.Standing{Invoice: inv, Orders: orders}
	if standing.Allocations, err = w.AllocationsOf(s.Revision, orders...); err != nil {
		return err
	}
	if standing.Findings, err = w.findings(s); err != nil {
		return err
	}
	booked, last, err := w.BookedOf(inv.ID)
	if err != nil {
		return err
	}
	standing.Booked = booked
	b, err := book.Void(standing, w.company.Currency)
	if err != nil {
		return err
	}
	if err := w.apply(b, w.applied(0, 0, ""), inv.ID); err != nil {
		return err
	}
	if _, err = w.bookCounter(b.Entry, w.today(), last, fmt.Sprintf("Invoice %s of %s made void", inv.SupplierNumber, supplier.Name), "invoice", inv.Number, orders[0].Number); err != nil {
		return err
	}
	return w.touchOrders(orders, inv, fmt.Sprintf("invoice %d void", inv.Number), struct{ Void int64 }{inv.Number})
}

// HoldEntry puts a payment hold on an invoice.
type HoldEntry struct {
	Invoice int64
	Reason  string
	Note    string
}

// Held answers HoldInvoice and LiftHold.
type Held struct{ Number, Invoice int64 }

// HoldInvoice stops an invoice from being released and paid, at any time before payment.
func (a *App) HoldInvoice(ctx context.Context, c Command, entry HoldEntry) (Held, error) {
	return perform(ctx, a, HoldInvoice, c, func(w *work) (Held, error) {
		inv, s, err := w.invoice(entry.Invoice)
		if err != nil {
			return Held{}, err
		}
		switch s.State {
		case trade.InPayment, trade.Paid, trade.Void, trade.Refused:
			return Held{}, fault.New(fault.Refused, "", "Invoice %d is %s; a hold would stop nothing any more.", inv.Number, words(string(s.State)))
		}
		if say.HoldReason(entry.Reason) == "" {
			return Held{}, fault.New(fault.Invalid, "reason", "Choose the reason of the hold.")
		}
		holds, err := w.HoldsOf(inv.ID)
		if err != nil {
			return Held{}, err
		}
		for _, h := range holds {
			if !h.Ended {
				return Held{}, fault.New(fault.Duplicate, "", "Invoice %d is on hold already, since %s, by %s.", inv.Number, clock(h.At, w.reading), h.ByName)
			}
		}
		number, err := w.AddHold(store.Hold{Invoice: inv.ID, Reason: entry.Reason, Note: strings.TrimSpace(entry.Note), By: w.actor.ID, At: w.instant()})
		s.Version++
		return Held{number, inv.Number}, errors.Join(err, w.SaveInvoiceState(s), w.record("invoice", inv.Number, nil, entry))
	})
}

// LiftEntry takes a hold off.
type LiftEntry struct {
	Hold int64
	Note string
}

// LiftHold takes a payment hold off. Nobody clears a hold raised against their own
// entry, but one may lift one's own hold (rules §7, §12).
func (a *App) LiftHold(ctx context.Context, c Command, entry LiftEntry) (Held, error) {
	return perform(ctx, a, LiftHold, c, func(w *work) (Held, error) {
		h, err := w.HoldByNumber(entry.Hold)
		if err != nil {
			return Held{}, found(err, "There is no hold %d.", entry.Hold)
		}
		if h.Ended {
			return Held{}, fault.New(fault.Changed, "", "This hold was taken off already, by %s.", h.EndedBy)
		}
		inv, s, err := w.invoice(h.InvoiceNumber)
		if err != nil {
			return Held{}, err
		}
		if h.By != w.actor.ID {
			if err := w.notOwn(inv); err != nil {
				return Held{}, err
			}
		}
		s.Version++
		return Held{h.Number, inv.Number}, errors.Join(w.EndHold(h.ID, strings.TrimSpace(entry.Note), w.actor.ID, w.instant()), w.SaveInvoiceState(s),
			w.record("invoice", inv.Number, h, entry))
	})
}
