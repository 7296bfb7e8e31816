package store

// This file finds invoices under one number, and under numbers like it, whatever supplier sent them.

import (
	"slices"
	"unicode/utf8"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	underNumber = statement(
		`SELECT i.number, r.supplier_number, s.total, s.currency FROM invoice_state s CROSS JOIN invoice i ON i.id = s.invoice CROSS JOIN invoice_revision r ON r.id = s.revision
		WHERE s.number_key = ?1 ORDER BY s.supplier, s.invoice LIMIT ?2`,
	)
	// One character more, less or other leaves a number as long as it was, or nearly: what looks like a zero may make others lead.
	numbersAsLong = statement(
		`SELECT s.number_key, r.supplier_number FROM invoice_state s INDEXED BY invoice_state_number CROSS JOIN invoice_revision r ON r.id = s.revision
		WHERE s.number_key <> ?1 AND length(s.number_key) BETWEEN ?2 - 3 AND ?2 + 3`,
	)
)

// NamedInvoice is an invoice by its number here and the one that its supplier gave it.
type NamedInvoice struct {
	Number         int64
	SupplierNumber string
	Total          money.Money
}

// UnderNumber lists the invoices under a normal number, whatever supplier and state, supplier by supplier.
func (t *Tx) UnderNumber(key string, most int) ([]NamedInvoice, error) {
	return list(t, underNumber, func(r row) (n NamedInvoice, err error) {
		err = r.Scan(&n.Number, &n.SupplierNumber, &n.Total.Amount, &n.Total.Currency)
		return
	}, key, most)
}

// LikeNumbers lists the normal numbers that are like one as its supplier gave it, in their order. It looks through all numbers that are
// as long.
func (t *Tx) LikeNumbers(number string) ([]string, error) {
	key := trade.NormalNumber(number)
	if key == "" {
		return nil, nil
	}
	keys, err := list(t, numbersAsLong, func(r row) (like string, err error) {
		var other string
		if err = r.Scan(&like, &other); !trade.LikeNumber(other, number) {
			like = ""
		}
		return
	}, key, utf8.RuneCountInString(key))
	slices.Sort(keys)
	return slices.DeleteFunc(slices.Compact(keys), func(like string) bool { return like == "" }), err
}
