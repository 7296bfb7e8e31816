package store

// This file keeps what is agreed about invoices that we write ourselves, which order lines they are of, and their numbers.

import (
	"encoding/json"
	"errors"
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/trade"
)

const selfBillingRows = `SELECT a.id, a.supplier, a.from_day, a.until_day, a.prefix, a.per, a.statement, a.items,
	coalesce(p.every, ''), coalesce(p.since, '') FROM self_billing a LEFT JOIN self_billing_plan p ON p.self_billing = a.id WHERE `

var (
	addSelfBilling = statement(
		`INSERT INTO self_billing (supplier, from_day, until_day, prefix, per, statement, items, by_person, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	putSelfBillingKept = statement(
		`INSERT INTO self_billing_kept (name, supplier, place, by_person, ended) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (name) DO UPDATE SET supplier = excluded.supplier, place = excluded.place, by_person = excluded.by_person, ended = excluded.ended`,
	)
	selfBillingKept = statement(
		`SELECT k.name, k.supplier, k.place, p.name FROM self_billing_kept k JOIN person p ON p.id = k.by_person WHERE k.ended = 0 ORDER BY k.name`,
	)
	addSelfBillingPlan = statement(`INSERT INTO self_billing_plan (self_billing, every, since) VALUES (?, ?, ?)`)
	addSelfBillingRun  = statement(`INSERT INTO self_billing_run (supplier, day, made, left_out, at) VALUES (?, ?, ?, ?, ?)`)
	lastSelfBillingRun = statement(`SELECT day, left_out FROM self_billing_run WHERE supplier = ? ORDER BY day DESC, id DESC LIMIT 1`)
	selfBillingOf      = statement(selfBillingRows + `a.supplier = ? ORDER BY a.id DESC LIMIT 1`)
	selfBillers        = statement(
		`SELECT s.code FROM self_billing a CROSS JOIN supplier s ON s.id = a.supplier
		WHERE NOT EXISTS (SELECT 1 FROM self_billing n WHERE n.supplier = a.supplier AND n.id > a.id) ORDER BY a.id`,
	)
	markSelfBilled = statement(`INSERT INTO order_line_self_billed (order_line) VALUES (?)`)
	addSelfBilled  = statement(`INSERT INTO self_billed (invoice, supplier, number) VALUES (?, ?, ?)`)
	// Orders of a supplier with lines that we bill ourselves and of which more, or less, is here than billed.
	toSelfBill = statement(
		`SELECT DISTINCT o.number FROM purchase_order o CROSS JOIN order_line l ON l.purchase_order = o.id
		CROSS JOIN order_line_self_billed m ON m.order_line = l.id CROSS JOIN order_line_state s ON s.order_line = l.id
		WHERE o.supplier = ? AND s.received <> s.billed ORDER BY o.number`,
	)
)

// SelfBilling is what is agreed with a supplier now; without a row key where nothing is.
func (t *Tx) SelfBilling(supplier int64) (trade.SelfBilling, error) {
	s, err := one(t, selfBillingOf, func(r row) (s trade.SelfBilling, err error) {
		var items []byte
		if err = r.Scan(&s.ID, &s.SupplierID, &s.From, &s.Until, &s.Prefix, &s.Per, &s.Statement, &items, &s.Every, &s.Since); err == nil {
			err = json.Unmarshal(items, &s.Items)
		}
		return
	}, supplier)
	if errors.Is(err, ErrNone) {
		return trade.SelfBilling{}, nil
	}
	return s, err
}

// AddSelfBilling writes what is agreed from now on.
func (t *Tx) AddSelfBilling(s trade.SelfBilling, by int64, at string) error {
	if s.Items == nil {
		s.Items = []string{}
	}
	items, err := json.Marshal(s.Items)
	if err != nil {
		return err
	}
	id, err := t.exec(addSelfBilling, s.SupplierID, s.From, s.Until, s.Prefix, s.Per, s.Statement, string(items), by, at)
	if err != nil || s.Every == "" {
		return err
	}
	return t.do(addSelfBillingPlan, id, s.Every, s.Since)
}

// AddSelfBillingRun writes that what is to be billed to a supplier up to a day was written by itself.
func (t *Tx) AddSelfBillingRun(supplier int64, upTo day.Day, made, left int, at string) error {
	return t.do(addSelfBillingRun, supplier, upTo, made, left, at)
}

// LastSelfBillingRun is the day up to which that was done last, empty where never, and how many lines it left out.
func (t *Tx) LastSelfBillingRun(supplier int64) (upTo day.Day, left int64, err error) {
	type run struct {
		day  day.Day
		left int64
	}
	all, err := list(t, lastSelfBillingRun, func(r row) (x run, err error) {
		err = r.Scan(&x.day, &x.left)
		return
	}, supplier)
	if err != nil || len(all) == 0 {
		return "", 0, err
	}
	return all[0].day, all[0].left, nil
}

// SelfBillingKept is what a run selects, kept under a name.
type SelfBillingKept struct {
	Name            string
	Supplier, Place string // code and name; empty: all
	By              int64  `json:"-"`
	ByName          string `json:"-"` // who kept it last
	Ended           bool
}

// PutSelfBillingKept writes it under its name.
func (t *Tx) PutSelfBillingKept(k SelfBillingKept) error {
	return t.do(putSelfBillingKept, k.Name, k.Supplier, k.Place, k.By, k.Ended)
}

// SelfBillingKept are those that are kept, by name.
func (t *Tx) SelfBillingKept() ([]SelfBillingKept, error) {
	return list(t, selfBillingKept, func(r row) (k SelfBillingKept, err error) {
		err = r.Scan(&k.Name, &k.Supplier, &k.Place, &k.ByName)
		return
	})
}

// SelfBillers are the codes of the suppliers whose invoices we write, or wrote.
func (t *Tx) SelfBillers() ([]string, error) {
	return list(t, selfBillers, scanOne[string])
}

// ToSelfBill are the numbers of a supplier's orders of which we have something to bill, or to credit.
func (t *Tx) ToSelfBill(supplier int64) ([]int64, error) {
	return list(t, toSelfBill, scanOne[int64], supplier)
}

// SelfBilledSeries is the series of numbers of what we bill for a supplier.
func SelfBilledSeries(supplier int64) string { return fmt.Sprintf("self-billing %d", supplier) }

// AddSelfBilled writes the number in its series of an invoice that we wrote.
func (t *Tx) AddSelfBilled(invoice, supplier, number int64) error {
	return t.do(addSelfBilled, invoice, supplier, number)
}
