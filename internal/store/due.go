package store

// This file keeps which due date counts for an invoice that states one.

import "errors"

// DueTaken is a person's decision for the due date that an invoice states, or for the computed one again.
type DueTaken struct {
	Stated bool
	Note   string
	By, At string
}

var (
	addDue = statement(`INSERT INTO invoice_due (invoice, stated, note, by_person, at) VALUES (?, ?, ?, ?, ?)`)
	dueOf  = statement(
		`SELECT d.stated, d.note, p.name, d.at FROM invoice_due d CROSS JOIN person p ON p.id = d.by_person
		WHERE d.invoice = ? ORDER BY d.id DESC LIMIT 1`,
	)
)

// AddDue writes one.
func (t *Tx) AddDue(invoice int64, d DueTaken, by int64) error {
	return t.do(addDue, invoice, d.Stated, d.Note, by, d.At)
}

// DueTaken is the last one about an invoice; none where nobody decided.
func (t *Tx) DueTaken(invoice int64) (*DueTaken, error) {
	taken, err := one(t, dueOf, func(r row) (d DueTaken, err error) {
		err = r.Scan(&d.Stated, &d.Note, &d.By, &d.At)
		return
	}, invoice)
	if errors.Is(err, ErrNone) {
		return nil, nil
	}
	return &taken, err
}
