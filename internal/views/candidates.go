package views

// This file is about what helps a person to settle a finding (rules §6): what an invoice may be about where that could not be
// found, and what the supplier did last time.

import (
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// mostCandidates is how many a person is offered; with more it is quicker to correct the entry.
const mostCandidates = 5

// candidates are, by finding, what a person may choose from: lines of the invoice's own orders and of the open ones of its
// supplier, or these orders themselves.
func (s *InvoiceSheet) candidates(r act.Reading) error {
	s.Candidates = make([][]match.Candidate, len(s.Findings))
	unknown := func(f finding.Finding) bool {
		return f.Open() && (f.Kind == finding.OrderUnknown || f.Kind == finding.LineUnknown)
	}
	for i, f := range s.Findings {
		if f.Open() && f.Kind == finding.SupplierUnknown && s.State.State.Unsettled() {
			suppliers, err := r.Suppliers()
			if err != nil {
				return err
			}
			s.Candidates[i] = match.SupplierCandidates(s.Invoice, suppliers, mostCandidates)
		}
	}
	if s.Supplier == nil || !s.State.State.Unsettled() || !slices.ContainsFunc(s.Findings, unknown) {
		return nil
	}
	open, err := openOf(r, s.Supplier.Code, "")
	if err != nil {
		return err
	}
	orders := slices.Clone(s.Orders)
	for _, l := range open {
		if len(orders) >= mostOpenOrders || slices.ContainsFunc(orders, func(o *trade.Order) bool { return o.Number == l.Order }) {
			continue
		}
		order, err := r.OrderByNumber(l.Order, store.AllReserved)
		if err != nil {
			return err
		}
		orders = append(orders, order)
	}
	for i, f := range s.Findings {
		if !unknown(f) {
			continue
		}
		if f.Kind == finding.OrderUnknown {
			s.Candidates[i] = match.OrderCandidates(s.Invoice, orders, mostCandidates)
			continue
		}
		for _, l := range s.Invoice.Lines {
			if l.No == f.Line {
				s.Candidates[i] = match.Candidates(s.Invoice, l, orders, mostCandidates)
			}
		}
	}
	return nil
}

// before tells of each open difference how the latest of its kind was accepted on another invoice of the supplier.
func (s *InvoiceSheet) before(r act.Reading) error {
	s.Before = make([]*store.Precedent, len(s.Findings))
	if s.Supplier == nil {
		return nil
	}
	for i, f := range s.Findings {
		if !f.Open() || !f.May(finding.Accept) {
			continue
		}
		last, err := r.LastAccepted(f, s.Supplier.ID, s.Invoice.ID)
		if errors.Is(err, store.ErrNone) {
			continue
		}
		if err != nil {
			return err
		}
		s.Before[i] = &last
	}
	return nil
}
