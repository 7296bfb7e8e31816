package views

// This file shows what of spread costs belongs to which month.

import (
	"cmp"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/money"
	"lagoon/internal/store"
)

// DeferredMonth is what of an invoice belongs to a month, and what became of it. Line is its line where the invoice is not
// booked yet.
type DeferredMonth struct {
	Line                           int
	Month, Detail                  string
	Spread, Posted, Credited, Held money.Amount
}

// deferred reads the months of an invoice: as they stand in the books or, before, as they would.
func (s *InvoiceSheet) deferred(r act.Reading) error {
	if s.State.State.Unsettled() {
		parts, err := s.Invoice.SpreadOver(s.Totals)
		for _, p := range parts {
			s.Deferred = append(s.Deferred, DeferredMonth{Line: int(p.InvoiceLine), Month: p.Month, Spread: p.Amount, Held: p.Amount})
		}
		return err
	}
	history, err := r.DeferralHistory(s.Invoice.ID)
	if err != nil {
		return err
	}
	at := map[[2]string]*DeferredMonth{}
	for _, c := range history {
		key := [2]string{c.Month, c.Detail}
		if at[key] == nil {
			at[key] = &DeferredMonth{Month: c.Month, Detail: c.Detail}
		}
		m := at[key]
		m.Held += c.Amount
		switch c.Kind {
		case book.DeferralSpread:
			m.Spread += c.Amount
		case store.DeferralPosted:
			m.Posted -= c.Amount
		default:
			m.Credited -= c.Amount
		}
	}
	for _, m := range at {
		s.Deferred = append(s.Deferred, *m)
	}
	slices.SortFunc(s.Deferred, func(a, b DeferredMonth) int {
		return cmp.Or(cmp.Compare(a.Month, b.Month), cmp.Compare(a.Detail, b.Detail))
	})
	return nil
}
