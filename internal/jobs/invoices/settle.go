package invoices

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
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
	All  bool // every open difference of the kind, on the invoice
}

// AcceptFinding records a person's decision that a difference may stand, and matches
// the invoice again. It takes the authority for the sum of all differences that the
// person accepts on the invoice, and nobody accepts on their own entry (rules §6, §12).
func AcceptFinding(ctx context.Context, a *act.App, c act.Command, entry AcceptEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.AcceptFinding, c, func(w *act.Work) (act.Captured, error) {
		captured, _, err := accept(w, entry)
		return captured, err
	})
}

// AcceptedAll answers AcceptFindings: what became of each invoice, and what the differences come to in company currency.
type AcceptedAll struct {
	Captured []act.Captured
	Worth    money.Amount
	Currency money.Currency
}

// AcceptFindings accepts all open differences of one kind on many invoices with one note, all of them or none. It takes the
// authority for what they come to together.
func AcceptFindings(ctx context.Context, a *act.App, c act.Command, kind finding.Kind, invoices []AcceptEntry, note string) (AcceptedAll, error) {
	return act.Perform(ctx, a, act.AcceptFindings, c, func(w *act.Work) (answer AcceptedAll, err error) {
		actor := w.Actor
		answer.Currency = w.Ours.Currency
		for _, one := range invoices {
			one.Kind, one.Note, one.All = kind, note, true
			captured, worth, err := accept(w, one)
			if err != nil {
				return answer, err
			}
			answer.Captured, answer.Worth = append(answer.Captured, captured), answer.Worth+worth
		}
		if len(invoices) == 0 {
			return answer, fault.New(fault.Invalid, "", "Choose the invoices.")
		}
		if (finding.Finding{Kind: kind}).Sort().Authority {
			_, err = w.Authorised(actor, answer.Worth)
		}
		return answer, err
	})
}

// accept takes what an entry names, and tells what that is worth in company currency.
func accept(w *act.Work, entry AcceptEntry) (captured act.Captured, worth money.Amount, err error) {
	inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
	if err != nil {
		return captured, 0, err
	}
	findings, err := w.FindingsOf(s)
	if err != nil {
		return captured, 0, err
	}
	if !act.InvoiceSteps.Allow(s.State, act.AcceptFinding) {
		return captured, 0, fault.New(
			fault.Refused,
			"",
			"Invoice %d is %s; there is nothing to accept any more.",
			inv.Number,
			say.State(string(s.State)),
		)
	}
	var taken []finding.Finding
	for _, f := range findings {
		if f.Kind == entry.Kind && f.Open() && (entry.All || (f.Line == entry.Line && f.About() == entry.About)) {
			taken = append(taken, f)
		}
	}
	switch {
	case len(taken) == 0:
		return captured, 0, fault.New(
			fault.Changed,
			"",
			"This difference is not open any more. Look at the invoice again.",
		)
	case !taken[0].May(finding.Accept):
		return captured, 0, fault.New(
			fault.Refused,
			"",
			"This difference can be corrected or refused, but not accepted.",
		)
	case strings.TrimSpace(entry.Note) == "":
		return captured, 0, fault.New(fault.Invalid, "note", "Say in a note why the difference is accepted.")
	}
	for _, f := range taken { // each counts with those before it against the authority
		difference, err := acceptOne(w, inv, s, f, strings.TrimSpace(entry.Note))
		if err != nil {
			return captured, 0, err
		}
		worth += difference
	}
	if !s.State.Unsettled() {
		return act.Captured{Number: inv.Number, State: s.State}, worth, errors.Join(
			redescribe(w, s), w.Record("invoice", inv.Number, taken, entry))
	}
	if err := w.Record("invoice", inv.Number, taken, entry); err != nil {
		return captured, 0, err
	}
	captured, err = matched(w, inv, s, "difference accepted by "+w.Actor.Name, nil)
	return captured, worth, err
}

// acceptOne accepts a finding, and tells what that is worth in company currency.
func acceptOne(w *act.Work, inv trade.Invoice, s store.InvoiceState, f finding.Finding, note string) (difference money.Amount, err error) {
	if w.Actor, err = w.Acceptor(w.Actor, inv, s, f); err != nil {
		return 0, err
	}
	if difference, err = f.Difference.Convert(inv.Rate, inv.Currency, w.Ours.Currency); err != nil {
		return 0, err
	}
	return difference, w.AddAcceptance(inv.ID, s.Revision, f.Accept(note), difference, w.Actor.ID, w.Instant())
}

// TakeBackAcceptance opens a difference again that somebody had accepted, as long as the invoice does not stand on it: it is
// not in the books, or the difference only stops its release.
func TakeBackAcceptance(ctx context.Context, a *act.App, c act.Command, entry AcceptEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.TakeBackAccepted, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		findings, err := w.FindingsOf(s)
		if err != nil {
			return act.Captured{}, err
		}
		at := slices.IndexFunc(findings, func(f finding.Finding) bool {
			return f.Kind == entry.Kind && f.Line == entry.Line && f.About() == entry.About && f.Accepted != nil
		})
		switch {
		case at < 0:
			return act.Captured{}, fault.New(fault.Changed, "", "This difference is not accepted any more. Look at the invoice again.")
		case !s.State.Unsettled() && (s.State != trade.Verified || findings[at].Blocks() != finding.BlocksRelease):
			return act.Captured{}, fault.New(fault.Refused, "",
				"Invoice %d is %s; what was accepted of it stands.", inv.Number, say.State(string(s.State)))
		case strings.TrimSpace(entry.Note) == "":
			return act.Captured{}, fault.New(fault.Invalid, "note", "Say in a note why it is taken back.")
		}
		accepted, err := w.Acceptances(s.Revision)
		for _, one := range accepted {
			if one.Of(findings[at]) {
				err = errors.Join(err, w.LapseAcceptance(one.ID, w.Instant()))
			}
		}
		cause := "acceptance taken back by " + w.Actor.Name
		if s.State.Unsettled() {
			if err := errors.Join(err, w.Record("invoice", inv.Number, findings[at], entry)); err != nil {
				return act.Captured{}, err
			}
			return matched(w, inv, s, cause, nil)
		}
		findings[at].Accepted = nil // what is in the books is not matched again; what was found of it stands, but for this
		run := store.MatchRun{At: w.Instant(), Cause: cause, Verdict: finding.Within, Findings: findings}
		id, wrong := w.AddMatchRun(inv.ID, s.Revision, run)
		s.MatchRun = id
		return act.Captured{Number: inv.Number, State: s.State}, errors.Join(
			err, wrong, redescribe(w, s), w.Record("invoice", inv.Number, findings[at], entry))
	})
}

// redescribe brings up to date what lists show of a verified invoice.
func redescribe(w *act.Work, s store.InvoiceState) error {
	findings, err := w.FindingsOf(s)
	if err != nil {
		return err
	}
	describe(w, &s, findings)
	s.Version++
	return w.SaveInvoiceState(s)
}

// Void undoes a verified invoice before its release by a counter-entry, and
// restores what it used.
func Void(ctx context.Context, a *act.App, c act.Command, entry act.Ending) (act.Captured, error) {
	return act.Perform(ctx, a, act.VoidInvoice, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if !act.InvoiceSteps.Allow(s.State, act.VoidInvoice) {
			return act.Captured{}, fault.New(
				fault.Refused,
				"",
				"Invoice %d is %s; only a verified one that is not released can be made void.",
				inv.Number,
				say.State(string(s.State)),
			)
		}
		if strings.TrimSpace(entry.Reason) != "" {
			if err := unbook(w, inv, s); err != nil {
				return act.Captured{}, err
			}
		}
		return end(w, inv, s, trade.Void, entry)
	})
}

func end(
	w *act.Work,
	inv trade.Invoice,
	s store.InvoiceState,
	state trade.InvoiceState,
	entry act.Ending,
) (act.Captured, error) {
	reason := strings.TrimSpace(entry.Reason)
	if reason == "" {
		return act.Captured{}, fault.New(fault.Invalid, "reason", "Give the reason.")
	}
	before := s.State
	s.State, s.Since, s.Open, s.Blocked, s.Turn, s.Summary = state, w.Instant(), 0, false, "", string(state)
	s.Version++
	if err := errors.Join(dropClaims(w, inv.ID), w.CloseQuestions(inv.ID, fmt.Sprintf("The invoice is %s.", say.State(string(state)))), w.SaveInvoiceState(s), w.AddDecision(inv.ID, state, reason, w.Actor.ID, w.Instant()),
		w.Record("invoice", inv.Number, struct{ State trade.InvoiceState }{before}, entry)); err != nil {
		return act.Captured{}, err
	}
	answer, cause := act.Captured{Number: inv.Number, State: state}, fmt.Sprintf("invoice %d %s", inv.Number, state)
	return answer, errors.Join(w.WakeAlike(inv, s.Revision, cause), w.WakeConcerned(inv, cause), wakeCredits(w, inv, cause),
		wakeUsed(w, inv, s.Revision, cause))
}

// nothingCredited refuses where a verified credit note stands against an invoice: that is made void first (rules §5).
func nothingCredited(w *act.Work, inv trade.Invoice, s store.InvoiceState) error {
	against, err := w.CreditsAgainst(inv, s.Revision)
	if err != nil || len(against) == 0 {
		return err
	}
	return fault.New(fault.Refused, "",
		"Credit note %s stands against invoice %d. Make the credit note void first.", against[0], inv.Number)
}

// nothingSettled refuses where money moved for a document outside a run, or a run that is not sent holds it.
func nothingSettled(w *act.Work, inv trade.Invoice) error {
	if err := w.NotProposed(inv); err != nil {
		return err
	}
	netted, err := w.NettingsOf(inv.ID)
	if err != nil {
		return err
	}
	for _, n := range netted {
		if n.State == store.PaymentInTransit || n.State == store.PaymentSettled {
			return fault.New(fault.Refused, "", "%s of credit note %d is taken off invoice %d already, so that both stand.",
				w.Actor.Printer.Money(n.Amount, inv.Currency), n.Credit, n.Invoice)
		}
	}
	settled, err := w.SettlementsOf(inv.ID)
	if err != nil || len(settled) == 0 {
		return err
	}
	return fault.New(fault.Refused, "", "%s of it is paid or refunded already, %s. Take that back first.",
		w.Actor.Printer.Money(settled[0].Amount, inv.Currency), settled[0].Reference)
}

// unbook takes back what a verified invoice did and everything that was booked of it since. A
// counter-entry is posted on the day it is made, never before what it undoes (rules §5).
func unbook(w *act.Work, inv trade.Invoice, s store.InvoiceState) error {
	orders, err := w.OrdersOf(inv, store.AllReserved)
	if err != nil {
		return err
	}
	supplier, err := w.Supplier(inv.SupplierID)
	if err != nil {
		return err
	}
	if err := nothingSettled(w, inv); err != nil {
		return err
	}
	standing := book.Standing{Invoice: inv, Orders: orders}
	claimed, cause := int64(0), fmt.Sprintf("invoice %d void", inv.Number)
	if inv.Kind == trade.CreditNote {
		if claimed, err = w.ClaimedBy(s.Revision); err != nil {
			return err
		}
		claims, err := w.ClaimsOf(claimed)
		if err != nil {
			return err
		}
		if standing.Claims, err = w.CreditedClaims(s.Revision, claims); err != nil {
			return err
		}
	} else {
		if err := errors.Join(nothingCredited(w, inv, s), nothingClaimed(w, inv), nothingUsed(w, inv)); err != nil {
			return err
		}
		if standing.Allocations, err = w.AllocationsOf(s.Revision, orders...); err != nil {
			return err
		}
	}
	back, err := w.AllocationsOfCredit(s.Revision, orders...)
	if err != nil {
		return err
	}
	standing.Allocations = append(standing.Allocations, back...)
	if inv.Kind == trade.CreditNote {
		standing.Deferred, err = w.DeferralsTakenBy(inv.ID)
	} else {
		standing.Deferred, err = w.DeferredOf(inv.ID)
	}
	if err != nil {
		return err
	}
	credit := int64(0)
	if inv.Kind == trade.CreditNote {
		credit = inv.ID
	}
	if standing.Ahead, err = w.TakenBy(s.Revision, credit); err != nil {
		return err
	}
	if standing.Findings, err = w.FindingsOf(s); err != nil {
		return err
	}
	closes, err := w.ClosesOfInvoice(inv.ID)
	if err != nil {
		return err
	}
	for _, c := range closes {
		if _, line := trade.LineOf(orders, c.Line); line != nil {
			standing.Closed = append(standing.Closed, book.Close{Line: line, Goods: c.Goods, Invoices: c.Invoices})
		}
	}
	booked, last, err := w.BookedOf(inv.ID)
	if err != nil {
		return err
	}
	standing.Booked = booked
	b, err := book.Void(standing, w.Ours.Currency)
	if err != nil {
		return err
	}
	if err := errors.Join(w.ApplyBooking(b, w.Applied(0, 0, ""), inv.ID), claimsMoved(w, claimed, cause)); err != nil {
		return err
	}
	if _, err = w.BookCounter(b.Entry, w.Today(), last, fmt.Sprintf("%s %s of %s made void", say.Document(inv.Kind), inv.SupplierNumber, supplier.Name), "invoice", inv.Number, firstOf(orders)); err != nil {
		return err
	}
	return touchOrders(w, orders, inv, cause, struct{ Void int64 }{inv.Number})
}
