package act

// This file reads what several stages need of invoices: where one stands, what its last match found, and
// what it is matched with.

import (
	"encoding/json"
	"errors"
	"slices"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Captured answers the jobs that take in or change an invoice.
type Captured struct {
	Number  int64 // Lagoon's
	Kind    trade.InvoiceKind
	State   trade.InvoiceState
	Entry   int64 // number of the ledger entry, where one was made
	Summary string
}

// OpenInvoice reads an invoice by Lagoon's number with its state and checks the
// version that the person saw.
func (w *Work) OpenInvoice(number, version int64) (trade.Invoice, store.InvoiceState, error) {
	inv, s, err := w.InvoiceNumbered(number)
	if err != nil {
		return inv, s, err
	}
	return inv, s, w.Changed("invoice", number, version, s.Version)
}

// InvoiceNumbered is an invoice by the number that Lagoon gave it, with where it stands.
func (r Reading) InvoiceNumbered(number int64) (trade.Invoice, store.InvoiceState, error) {
	id, err := r.InvoiceID(number)
	if err != nil {
		return trade.Invoice{}, store.InvoiceState{}, Found(err, "There is no invoice %d.", number)
	}
	return r.Standing(id)
}

// Standing reads an invoice by its row key, as its revision in force says it, and where it stands.
func (r Reading) Standing(id int64) (trade.Invoice, store.InvoiceState, error) {
	s, err := r.InvoiceState(id)
	if err != nil {
		return trade.Invoice{}, s, err
	}
	inv, err := r.Invoice(s.Revision)
	return inv, s, err
}

// FactsOf reads what an invoice is matched with as things stand today.
func (r Reading) FactsOf(inv trade.Invoice, revision int64, known *store.Known) (match.Facts, error) {
	facts, err := r.MatchFacts(inv, revision, known)
	facts.Today = r.Today()
	return facts, err
}

// Alike tells whether a match says the same as a kept one. What a limit was asked was not kept at first.
func Alike(last store.MatchRun, now match.Result) (bool, error) {
	findings := slices.Clone(now.Findings)
	for i := range min(len(findings), len(last.Findings)) {
		if last.Findings[i].Asked == nil {
			findings[i].Asked = nil
		}
	}
	old, err1 := json.Marshal(last.Findings)
	new, err2 := json.Marshal(findings)
	return last.Verdict == now.Verdict && string(old) == string(new), errors.Join(err1, err2)
}

// Blocks tells whether something stands against releasing the invoice.
func Blocks(findings []finding.Finding) bool {
	for _, f := range findings {
		if f.Blocks() == finding.BlocksRelease && f.Open() {
			return true
		}
	}
	return false
}

// FindingsOf are those of the last match with the acceptances since.
func (r Reading) FindingsOf(s store.InvoiceState) ([]finding.Finding, error) {
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

// Ending refuses an invoice to the supplier, or makes a verified one void.
type Ending struct {
	Invoice int64
	Version int64
	Reason  string
}
