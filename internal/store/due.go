package store

// This file keeps which due date counts for an invoice that states one, and terms in several steps.

import (
	"encoding/json"
	"errors"
	"slices"

	"lagoon/internal/core/trade"
)

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

// InvoicePlan are the discounts and instalments of an invoice whose terms have several of either.
type InvoicePlan struct {
	Discounts   []trade.DiscountStep
	Instalments []trade.Instalment
}

// Equal tells whether two plans are the same.
func (p InvoicePlan) Equal(q InvoicePlan) bool {
	return slices.Equal(p.Discounts, q.Discounts) && slices.Equal(p.Instalments, q.Instalments)
}

// read takes it as it is kept.
func (p *InvoicePlan) read(discounts, instalments []byte) error {
	return errors.Join(json.Unmarshal(discounts, &p.Discounts), json.Unmarshal(instalments, &p.Instalments))
}

var (
	putPlan = statement(
		`INSERT INTO invoice_plan (invoice, discounts, instalments) VALUES (?, ?, ?)
		ON CONFLICT (invoice) DO UPDATE SET discounts = excluded.discounts, instalments = excluded.instalments`,
	)
	getPlan = statement(`SELECT discounts, instalments FROM invoice_plan WHERE invoice = ?`)
)

// PutInvoicePlan writes it.
func (t *Tx) PutInvoicePlan(invoice int64, p InvoicePlan) error {
	discounts, err1 := json.Marshal(p.Discounts)
	instalments, err2 := json.Marshal(p.Instalments)
	if err := errors.Join(err1, err2); err != nil {
		return err
	}
	return t.do(putPlan, invoice, string(discounts), string(instalments))
}

// InvoicePlan reads it; empty where the terms have one step.
func (t *Tx) InvoicePlan(invoice int64) (InvoicePlan, error) {
	plan, err := one(t, getPlan, func(r row) (p InvoicePlan, err error) {
		var discounts, instalments []byte
		if err = r.Scan(&discounts, &instalments); err == nil {
			err = p.read(discounts, instalments)
		}
		return
	}, invoice)
	if errors.Is(err, ErrNone) {
		return InvoicePlan{}, nil
	}
	return plan, err
}

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
