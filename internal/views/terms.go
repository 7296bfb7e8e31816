package views

import (
	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TermsSeen are the terms that an invoice, or those of an order, are paid on; Own says whose they are, where not the supplier's.
type TermsSeen struct {
	trade.Terms
	Own *store.OwnTerms
}

func termsSeen(r act.Reading, inv trade.Invoice, supplier int64) (seen TermsSeen, err error) {
	s, err := r.Supplier(supplier)
	if err != nil {
		return seen, err
	}
	seen.Terms, seen.Own, err = r.TermsOf(inv, s)
	return seen, err
}
