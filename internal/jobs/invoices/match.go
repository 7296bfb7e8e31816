package invoices

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// matchAgain matches an invoice that is still open; a settled one stays as it is.
func matchAgain(w *act.Work, invoice int64, cause string) (trade.InvoiceState, error) {
	s, err := w.InvoiceState(invoice)
	if err != nil || !s.State.Unsettled() {
		return s.State, err
	}
	inv, err := w.Invoice(s.Revision)
	if err != nil {
		return s.State, err
	}
	if inv, err = resolvedAgain(w, inv, &s); err != nil {
		return s.State, err
	}
	if err := takeOver(w, inv, s.Revision); err != nil {
		return s.State, err
	}
	facts, err := w.FactsOf(inv, s.Revision, nil)
	if err != nil {
		return s.State, err
	}
	_, err = decide(w, &s, facts, cause)
	return s.State, err
}

// decide matches an open invoice and writes what comes of it: the run with its
// findings where they changed, the new state and, where it verifies, the booking, whose
// entry it gives. What is not there yet of a fresh state is written for the first time.
func decide(w *act.Work, s *store.InvoiceState, facts match.Facts, cause string) (entry int64, err error) {
	result, err := match.Run(facts)
	if err != nil {
		return 0, err
	}
	for _, a := range result.Lapsed {
		if err := w.LapseAcceptance(a.ID, w.Instant()); err != nil {
			return 0, err
		}
	}
	before, inv := *s, facts.Invoice
	news, err := keepRun(w, s, cause, result)
	if err != nil {
		return 0, err
	}
	switch {
	case result.Verifies():
		s.State = trade.Verified
	case result.Verdict == finding.Waiting:
		s.State = trade.Waiting
	default:
		s.State = trade.Held
	}
	if s.State != before.State {
		s.Since = w.Instant()
	}
	if news || s.State != before.State {
		s.Version++
	}
	if before.MatchRun != 0 { // before there was a finding, nobody asked about one
		if err := w.SettleQuestions(s.Invoice, result.Findings); err != nil {
			return 0, err
		}
	}
	describe(w, s, result.Findings)
	if err := w.Terms(s, inv, facts, result, claimedOf(facts)+trade.AheadUsed(facts.Ahead)); err != nil {
		return 0, err
	}
	if result.Verifies() {
		if entry, err = bookInvoice(w, s, facts, result); err != nil {
			return 0, err
		}
	}
	if *s == before {
		return 0, w.CheckedAt(s.Invoice, w.Instant())
	}
	s.CheckedAt = w.Instant()
	if err := w.SaveInvoiceState(*s); err != nil {
		return 0, err
	}
	return entry, w.Record("invoice", inv.Number, struct{ State trade.InvoiceState }{before.State},
		struct {
			State    trade.InvoiceState
			Cause    string
			Findings []finding.Finding
		}{s.State, cause, result.Findings})
}

// keepRun keeps the match; one that is equal to the last only moves when it was checked.
func keepRun(w *act.Work, s *store.InvoiceState, cause string, result match.Result) (bool, error) {
	if s.MatchRun != 0 {
		last, err := w.MatchRun(s.MatchRun)
		if err != nil {
			return false, err
		}
		if same, err := act.Alike(last, result); err != nil || same {
			return false, err
		}
	}
	var err error
	s.MatchRun, err = w.AddMatchRun(
		s.Invoice,
		s.Revision,
		store.MatchRun{At: w.Instant(), Cause: cause, Verdict: result.Verdict, Findings: result.Findings},
	)
	return true, err
}

// describe writes what lists show of the findings.
func describe(w *act.Work, s *store.InvoiceState, findings []finding.Finding) {
	s.Summary, s.Turn, s.Blocked = say.Summary(findings), say.Turn(findings), act.Blocks(findings)
}

// bookInvoice books an invoice that may be booked as it is: what it takes of its orders, its
// ledger entry, whose number it gives, and the waking of the orders' other invoices. It is
// posted on its posting day, or later where its goods were (rules §5).
func bookInvoice(w *act.Work, s *store.InvoiceState, facts match.Facts, result match.Result) (entry int64, err error) {
	inv := facts.Invoice
	b, err := book.Invoice(facts, result)
	if err != nil {
		return 0, err
	}
	reason := ""
	if inv.Final {
		reason = fmt.Sprintf("last invoice, %d", inv.Number)
	}
	if err := w.ApplyBooking(b, w.Applied(0, 0, reason), inv.ID); err != nil {
		return 0, err
	}
	used, base := aheadBooked(b)
	s.Open, s.TotalBase = inv.Owed()-claimedOf(facts)-used, base
	if err := claimsBooked(w, facts, b, s); err != nil {
		return 0, err
	}
	what := fmt.Sprintf("%s %s of %s", say.Document(inv.Kind), inv.SupplierNumber, facts.Supplier.Name)
	if entry, err = w.Book(b.Entry, result.PostingDay(inv.PostingDay), what, "invoice", inv.Number, firstOf(facts.Orders)); err != nil {
		return 0, err
	}
	cause := fmt.Sprintf("%s %d verified", strings.ToLower(say.Document(inv.Kind)), inv.Number)
	return entry, errors.Join(
		touchOrders(w, facts.Orders, inv, cause, struct{ Invoice int64 }{inv.Number}),
		wakeCredits(w, inv, cause),
	)
}

// wakeCredits notes that the open credit notes which name an invoice, or the same invoice as a credit note does, are to be
// matched again: what can be credited of it is another now.
func wakeCredits(w *act.Work, inv trade.Invoice, cause string) error {
	number := inv.SupplierNumber
	if inv.Follows() {
		number = inv.Credited
	}
	if inv.SupplierID == 0 || number == "" {
		return nil
	}
	naming, err := w.CreditsNaming(inv.SupplierID, number)
	if err != nil {
		return err
	}
	return w.WakeEach(slices.DeleteFunc(naming, func(id int64) bool { return id == inv.ID }), cause)
}

// touchOrders writes the new state of the orders that an invoice is about, wakes their other
// invoices and records why.
func touchOrders(w *act.Work, orders []*trade.Order, inv trade.Invoice, cause string, entry any) error {
	for _, order := range orders {
		order.CloseOrOpen() // by a last invoice, or one that is made void
		if err := errors.Join(w.TouchOrder(order), w.Wake(order.ID, inv.ID, cause), w.Record("order", order.Number, nil, entry)); err != nil {
			return err
		}
	}
	return nil
}
