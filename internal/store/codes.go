package store

// This file keeps what a supplier's codes stand for where its invoices use others than we know.

import "lagoon/internal/core/match"

var (
	putCode = statement(
		`INSERT INTO supplier_code (supplier, code, item) VALUES (?, ?, nullif(?, 0)) ON CONFLICT DO UPDATE SET item = excluded.item`,
	)
	codesOf = statement(
		`SELECT c.code, c.item, i.code, i.name FROM supplier_code c JOIN item i ON i.id = c.item
		WHERE c.supplier = ? ORDER BY c.code`,
	)
)

// SupplierCode is what a supplier's code stands for.
type SupplierCode struct {
	Code           string // the supplier's
	Item           int64
	ItemCode, Name string
}

// PutCode writes what a supplier's code stands for; item 0 forgets it.
func (t *Tx) PutCode(supplier int64, code string, item int64) error {
	return t.do(putCode, supplier, code, item)
}

// CodesOf are the codes of a supplier that stand for something.
func (t *Tx) CodesOf(supplier int64) ([]SupplierCode, error) {
	return list(t, codesOf, func(r row) (c SupplierCode, err error) {
		err = r.Scan(&c.Code, &c.Item, &c.ItemCode, &c.Name)
		return
	}, supplier)
}

// KnownCodes are the same, to find order lines by.
func (t *Tx) KnownCodes(supplier int64) (match.Codes, error) {
	all, err := t.CodesOf(supplier)
	known := match.Codes{}
	for _, c := range all {
		known.Set(c.Code, c.Item)
	}
	return known, err
}
