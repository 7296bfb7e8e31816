package store

// This file keeps what corrections taught about the papers of suppliers.

import (
	"lagoon/internal/core/reading"
)

var (
	putPaperRule = statement(
		`INSERT INTO paper_rule (supplier, field, words, below, invoice) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (supplier, field) DO UPDATE SET words = excluded.words, below = excluded.below, invoice = excluded.invoice`,
	)
	paperRules = statement(
		`SELECT r.field, r.words, r.below, r.invoice, v.number, rv.supplier_number FROM paper_rule r JOIN invoice v ON v.id = r.invoice
		JOIN invoice_state z ON z.invoice = v.id JOIN invoice_revision rv ON rv.id = z.revision
		WHERE r.supplier = ? AND r.words <> '' ORDER BY r.field`,
	)
)

// PaperRule is what an invoice taught about the papers of its supplier.
type PaperRule struct {
	reading.Rule
	Invoice        int64 // row key
	Number         int64
	SupplierNumber string
}

// PutPaperRule writes where the papers of a supplier say something; one without words is forgotten.
func (t *Tx) PutPaperRule(supplier int64, r reading.Rule, invoice int64) error {
	return t.do(putPaperRule, supplier, r.Field, r.Words, r.Below, invoice)
}

// PaperRules are what is known of the papers of a supplier.
func (t *Tx) PaperRules(supplier int64) ([]PaperRule, error) {
	return list(t, paperRules, func(r row) (p PaperRule, err error) {
		err = r.Scan(&p.Field, &p.Words, &p.Below, &p.Invoice, &p.Number, &p.SupplierNumber)
		return
	}, supplier)
}
