package store

// This file keeps suppliers' statements, and reads what they are held against.

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reconcile"
)

// SupplierStatement is what a supplier says that it is owed on a day, as it was kept.
type SupplierStatement struct {
	ID, Number   int64
	Supplier     int64 // row key
	SupplierName string
	SupplierCode string
	Day          day.Day
	Currency     money.Currency
	Theirs, Ours money.Amount // the balances as they were then
	Note         string
	By           int64
	ByName, At   string
	Lines        []reconcile.Theirs
	Standings    []reconcile.Standing // of the lines, as they were then
	Asked        []StatementAsked
}

// StatementAsked is a mail that asked a supplier for what is missing.
type StatementAsked struct{ Recipient, Text, ByName, At string }

const theirStatementColumns = `SELECT s.id, s.number, s.supplier, p.name, p.code, s.day, s.currency, s.theirs, s.ours, s.note,
	s.by_person, b.name, s.at FROM supplier_statement s JOIN supplier p ON p.id = s.supplier JOIN person b ON b.id = s.by_person `

var (
	addTheirStatement = statement(
		`INSERT INTO supplier_statement (number, supplier, day, currency, theirs, ours, note, by_person, at)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	addTheirLine = statement(
		`INSERT INTO supplier_statement_line (statement, no, number, day, amount, standing) VALUES (?, ?, ?, ?, ?, ?)`,
	)
	addTheirAsked = statement(
		`INSERT INTO supplier_statement_asked (statement, recipient, text, by_person, at) VALUES (?, ?, ?, ?, ?)`,
	)
	theirStatement      = statement(theirStatementColumns + `WHERE s.number = ?`)
	lastTheirStatements = statement(theirStatementColumns + `ORDER BY s.id DESC LIMIT 100`)
	theirLines          = statement(`SELECT number, day, amount, standing FROM supplier_statement_line WHERE statement = ? ORDER BY no`)
	theirAsked          = statement(
		`SELECT a.recipient, a.text, p.name, a.at FROM supplier_statement_asked a JOIN person p ON p.id = a.by_person
		WHERE a.statement = ? ORDER BY a.id`,
	)
	openBills = statement(billHere + `WHERE z.supplier = ? AND z.currency = ? AND (z.state IN ` + isUnsettled + ` OR z.open <> 0)`)
	billsOf   = statement(billHere + `WHERE z.supplier = ? AND z.currency = ? AND z.number_key = ?`)
	paidTo    = statement(
		`SELECT u.number, u.pay_on, y.amount FROM payment y JOIN payment_run u ON u.id = y.run JOIN payment_state s ON s.payment = y.id
		WHERE y.supplier = ? AND y.currency = ? AND u.pay_on >= ? AND s.state IN ('in_transit', 'settled')`,
	)
)

// billHere is a bill as it stands: a credit note is below zero, and what is not verified is open whole.
var billHere = `SELECT v.number, r.supplier_number, z.invoice_date,
	CASE r.kind WHEN 'credit_note' THEN -abs(z.total) ELSE z.total END,
	CASE WHEN z.state IN ` + isUnsettled + ` THEN CASE r.kind WHEN 'credit_note' THEN -abs(z.total) ELSE z.total END
		WHEN r.kind = 'credit_note' THEN -abs(z.open) ELSE z.open END,
	z.state, max(
		coalesce((SELECT max(u.pay_on) FROM payment_item t JOIN payment y ON y.id = t.payment JOIN payment_state s ON s.payment = y.id
			JOIN payment_run u ON u.id = y.run WHERE t.invoice = v.id AND s.state IN ('in_transit', 'settled')), ''),
		coalesce((SELECT max(o.day) FROM settlement o WHERE o.invoice = v.id
			AND NOT EXISTS (SELECT 1 FROM settlement_end e WHERE e.settlement = o.id)), ''))
	FROM invoice_state z JOIN invoice v ON v.id = z.invoice JOIN invoice_revision r ON r.id = z.revision `

// AddTheirStatement keeps a statement with its lines.
func (t *Tx) AddTheirStatement(s SupplierStatement) error {
	id, err := t.exec(addTheirStatement, s.Number, s.Supplier, s.Day, s.Currency, s.Theirs, s.Ours, s.Note, s.By, s.At)
	for i, l := range s.Lines {
		if err == nil {
			err = t.do(addTheirLine, id, i+1, l.Number, l.Day, l.Amount, s.Standings[i])
		}
	}
	return err
}

// AddStatementAsked notes that what a statement shows as missing was asked for.
func (t *Tx) AddStatementAsked(statement int64, recipient, text string, by int64, at string) error {
	return t.do(addTheirAsked, statement, recipient, text, by, at)
}

func scanTheirStatement(r row) (s SupplierStatement, err error) {
	err = r.Scan(&s.ID, &s.Number, &s.Supplier, &s.SupplierName, &s.SupplierCode, &s.Day, &s.Currency, &s.Theirs, &s.Ours, &s.Note,
		&s.By, &s.ByName, &s.At)
	return
}

// TheirStatements are those that were kept last, without their lines.
func (t *Tx) TheirStatements() ([]SupplierStatement, error) {
	return list(t, lastTheirStatements, scanTheirStatement)
}

// TheirStatement reads one by its number with its lines and what was asked, or gives ErrNone.
func (t *Tx) TheirStatement(number int64) (SupplierStatement, error) {
	s, err := one(t, theirStatement, scanTheirStatement, number)
	if err != nil {
		return s, err
	}
	_, err = list(t, theirLines, func(r row) (none struct{}, err error) {
		var l reconcile.Theirs
		var standing reconcile.Standing
		err = r.Scan(&l.Number, &l.Day, &l.Amount, &standing)
		s.Lines, s.Standings = append(s.Lines, l), append(s.Standings, standing)
		return none, err
	}, s.ID)
	if err != nil {
		return s, err
	}
	s.Asked, err = list(t, theirAsked, func(r row) (a StatementAsked, err error) {
		err = r.Scan(&a.Recipient, &a.Text, &a.ByName, &a.At)
		return
	}, s.ID)
	return s, err
}

func scanBillHere(r row) (o reconcile.Ours, err error) {
	err = r.Scan(&o.Number, &o.Supplier, &o.Day, &o.Total, &o.Open, &o.State, &o.Paid)
	return
}

// OpenBills are a supplier's documents in a currency of which something is open, or that are not verified.
func (t *Tx) OpenBills(supplier int64, currency money.Currency) ([]reconcile.Ours, error) {
	return list(t, openBills, scanBillHere, supplier, currency)
}

// BillsOf are a supplier's documents in a currency under a number in its normal form, however they stand.
func (t *Tx) BillsOf(supplier int64, currency money.Currency, key string) ([]reconcile.Ours, error) {
	return list(t, billsOf, scanBillHere, supplier, currency, key)
}

// PaidTo are the payments to a supplier in a currency from a day on.
func (t *Tx) PaidTo(supplier int64, currency money.Currency, since day.Day) ([]reconcile.Paid, error) {
	return list(t, paidTo, func(r row) (p reconcile.Paid, err error) {
		err = r.Scan(&p.Run, &p.Day, &p.Amount)
		return
	}, supplier, currency, since)
}
