package store

// This file keeps costs that are spread over months, and the runs that post them.

import (
	"errors"

	"lagoon/internal/core/book"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// DeferralPosted is the kind of change that a run makes.
const DeferralPosted = "posted"

var (
	addLineDeferral = statement(
		`INSERT INTO invoice_line_deferral (invoice_line, from_month, months) VALUES (?, ?, ?)`,
	)
	lineDeferrals = statement(
		`SELECT il.no, d.from_month, d.months FROM invoice_line il
		CROSS JOIN invoice_line_deferral d ON d.invoice_line = il.id WHERE il.invoice_revision = ? ORDER BY il.no`,
	)
	addDeferralChange = statement(
		`INSERT INTO deferral_change (invoice_line, month, detail, kind, amount, base, credit_note, run)
		VALUES (?, ?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0))`,
	)
	putDeferral = statement(
		`INSERT INTO deferral_state (invoice_line, month, detail, invoice, amount, base) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (invoice_line, month, detail) DO UPDATE SET amount = excluded.amount, base = excluded.base`,
	)
	deferralHeld = statement(
		`SELECT amount, base FROM deferral_state WHERE invoice_line = ? AND month = ? AND detail = ?`,
	)
	deferralsOf = statement(
		`SELECT s.invoice_line, s.invoice, coalesce(il.order_line, 0), s.month, s.detail, s.amount, s.base
		FROM deferral_state s CROSS JOIN invoice_line il ON il.id = s.invoice_line
		WHERE s.invoice = ? ORDER BY s.invoice_line, s.detail, s.month`,
	)
	deferralsTaken = statement(
		`SELECT c.invoice_line, s.invoice, coalesce(il.order_line, 0), c.month, c.detail, sum(c.amount), sum(c.base)
		FROM deferral_change c CROSS JOIN deferral_state s ON s.invoice_line = c.invoice_line AND s.month = c.month
		AND s.detail = c.detail CROSS JOIN invoice_line il ON il.id = c.invoice_line
		WHERE c.credit_note = ? GROUP BY c.invoice_line, c.month, c.detail`,
	)
	deferralHistory = statement(
		`SELECT c.month, c.detail, c.kind, c.amount, c.base FROM deferral_state s
		CROSS JOIN deferral_change c ON c.invoice_line = s.invoice_line AND c.month = s.month AND c.detail = s.detail
		WHERE s.invoice = ? ORDER BY c.id`,
	)
	deferralsDue = cutAt(
		2000,
		`SELECT s.invoice_line, s.invoice, coalesce(il.order_line, 0), s.month, s.detail, s.amount, s.base, i.number,
		r.supplier_number, r.supplier_stated, r.currency, il.description FROM deferral_state s
		CROSS JOIN invoice_line il ON il.id = s.invoice_line CROSS JOIN invoice i ON i.id = s.invoice
		CROSS JOIN invoice_revision r ON r.id = il.invoice_revision
		WHERE (s.amount <> 0 OR s.base <> 0) AND s.month <= ? ORDER BY s.month, s.invoice_line, s.detail`,
	)
	addDeferralRun = statement(
		`INSERT INTO deferral_run (until_day, undoes, by_person, at) VALUES (?, nullif(?, 0), ?, ?)`,
	)
	lastDeferralRuns = statement(
		`SELECT r.id, r.until_day, coalesce((SELECT u.id FROM deferral_run u WHERE u.undoes = r.id), 0), p.name, r.at,
		(SELECT coalesce(sum(-c.base), 0) FROM deferral_change c WHERE c.run = r.id),
		(SELECT count(*) FROM deferral_change c WHERE c.run = r.id)
		FROM deferral_run r JOIN person p ON p.id = r.by_person WHERE r.undoes IS NULL AND r.id <= ?
		ORDER BY r.id DESC LIMIT ?`,
	)
	deferralRunParts = statement(
		`SELECT c.invoice_line, s.invoice, coalesce(il.order_line, 0), c.month, c.detail, c.amount, c.base, i.number,
		st.state, r.supplier_number, r.currency FROM deferral_change c
		CROSS JOIN deferral_state s ON s.invoice_line = c.invoice_line AND s.month = c.month AND s.detail = c.detail
		CROSS JOIN invoice_line il ON il.id = c.invoice_line CROSS JOIN invoice i ON i.id = s.invoice
		CROSS JOIN invoice_state st ON st.invoice = i.id CROSS JOIN invoice_revision r ON r.id = il.invoice_revision
		WHERE c.run = ? ORDER BY c.id`,
	)
	deferredOfYear = statement(
		`SELECT d.detail, d.base FROM deferral_state d CROSS JOIN invoice_state s ON s.invoice = d.invoice
		WHERE d.base <> 0 AND s.invoice_date >= ?1 || '-01-01' AND s.invoice_date <= ?1 || '-12-31'`,
	)
	deferralDifferences = proof(
		`SELECT i.number || ', ' || s.month, s.base - coalesce((SELECT sum(c.base) FROM deferral_change c
		WHERE c.invoice_line = s.invoice_line AND c.month = s.month AND c.detail = s.detail), 0) FROM deferral_state s
		JOIN invoice i ON i.id = s.invoice WHERE (s.amount, s.base) <> (SELECT coalesce(sum(c.amount), 0),
		coalesce(sum(c.base), 0) FROM deferral_change c WHERE c.invoice_line = s.invoice_line AND c.month = s.month
		AND c.detail = s.detail) OR s.amount < 0
		OR (s.amount <> 0 AND (SELECT st.state FROM invoice_state st WHERE st.invoice = s.invoice) NOT IN ` + isBooked + `)`,
	)
	deferredBooked = proof(
		`SELECT detail, sum(base) FROM entry_line WHERE role = 'deferred' GROUP BY detail HAVING sum(base) <> 0`,
	)
	deferredHeld = proof(
		`SELECT detail, sum(base) FROM deferral_state GROUP BY detail HAVING sum(base) <> 0`,
	)
)

// addDeferrals writes over which months the lines of a revision are spread; the lines have their row keys.
func (t *Tx) addDeferrals(lines []trade.InvoiceLine) error {
	for _, l := range lines {
		if l.Defer != nil {
			if err := t.do(addLineDeferral, l.ID, l.Defer.From, l.Defer.Months); err != nil {
				return err
			}
		}
	}
	return nil
}

// deferrals reads them into the lines of a revision.
func (t *Tx) deferrals(revision int64, lines []trade.InvoiceLine) error {
	return t.intoLines(lineDeferrals, revision, lines, func(r row) (no int, put func(*trade.InvoiceLine), err error) {
		d := &trade.Deferral{}
		err = r.Scan(&no, &d.From, &d.Months)
		return no, func(l *trade.InvoiceLine) { l.Defer = d }, err
	})
}

// changeDeferral writes a change of what a month of a line holds.
func (t *Tx) changeDeferral(p trade.DeferredPart, kind string, creditNote, run int64) error {
	if err := t.do(addDeferralChange, p.InvoiceLine, p.Month, p.Detail, kind, p.Amount, p.Base, creditNote, run); err != nil {
		return err
	}
	held, err := one(t, deferralHeld, func(r row) (h trade.DeferredPart, err error) {
		err = r.Scan(&h.Amount, &h.Base)
		return
	}, p.InvoiceLine, p.Month, p.Detail)
	if err != nil && !errors.Is(err, ErrNone) {
		return err
	}
	return t.do(putDeferral, p.InvoiceLine, p.Month, p.Detail, p.Invoice, held.Amount+p.Amount, held.Base+p.Base)
}

// applyDeferrals writes those of a booking of a document.
func (t *Tx) applyDeferrals(all []book.Deferral, document int64) error {
	for _, d := range all {
		creditNote := document
		if d.Invoice == document {
			creditNote = 0
		}
		if err := t.changeDeferral(d.DeferredPart, d.Kind, creditNote, 0); err != nil {
			return err
		}
	}
	return nil
}

func scanDeferred(r row) (p trade.DeferredPart, err error) {
	err = r.Scan(&p.InvoiceLine, &p.Invoice, &p.OrderLine, &p.Month, &p.Detail, &p.Amount, &p.Base)
	return
}

// DeferredOf are the months of an invoice's lines with what each still holds.
func (t *Tx) DeferredOf(invoice int64) ([]trade.DeferredPart, error) {
	return list(t, deferralsOf, scanDeferred, invoice)
}

// DeferralsTakenBy is what a credit note took from the months of invoices, less what was put back.
func (t *Tx) DeferralsTakenBy(creditNote int64) ([]trade.DeferredPart, error) {
	return list(t, deferralsTaken, scanDeferred, creditNote)
}

// DeferralChange is a change of what a month of an invoice holds.
type DeferralChange struct {
	Month, Detail, Kind string
	Amount, Base        money.Amount
}

// DeferralHistory are those of an invoice, in order.
func (t *Tx) DeferralHistory(invoice int64) ([]DeferralChange, error) {
	return list(t, deferralHistory, func(r row) (c DeferralChange, err error) {
		err = r.Scan(&c.Month, &c.Detail, &c.Kind, &c.Amount, &c.Base)
		return
	}, invoice)
}

// DeferralDue is a part of a cost whose month has come.
type DeferralDue struct {
	trade.DeferredPart
	Number                   int64 // of the invoice, Lagoon's
	SupplierNumber, Supplier string
	Currency                 money.Currency
	Description              string
	State                    trade.InvoiceState
}

// DeferralsDue lists what months until one still hold, the earliest first.
func (t *Tx) DeferralsDue(month string) ([]DeferralDue, error) {
	return listCut(t, deferralsDue, func(r row) (d DeferralDue, err error) {
		err = r.Scan(&d.InvoiceLine, &d.Invoice, &d.OrderLine, &d.Month, &d.Detail, &d.Amount, &d.Base, &d.Number,
			&d.SupplierNumber, &d.Supplier, &d.Currency, &d.Description)
		return
	}, month)
}

// DeferralRun is a run that posted what had come due until a day. Undone is the row key of the run that undid it, or zero.
type DeferralRun struct {
	ID     int64
	Until  day.Day
	Undone int64
	ByName string
	At     string
	Base   money.Amount
	Parts  int
}

// AddDeferralRun writes a run, or one that undoes another, and gives its row key.
func (t *Tx) AddDeferralRun(until day.Day, undoes, by int64, at string) (int64, error) {
	return t.exec(addDeferralRun, until, undoes, by, at)
}

// PostDeferral writes that a part was posted by a run, or with a part below zero taken back.
func (t *Tx) PostDeferral(p trade.DeferredPart, run int64) error {
	p.Amount, p.Base = -p.Amount, -p.Base
	return t.changeDeferral(p, DeferralPosted, 0, run)
}

// DeferralRuns lists runs, the newest first, from one on.
func (t *Tx) DeferralRuns(from int64, most int) ([]DeferralRun, error) {
	return list(t, lastDeferralRuns, func(r row) (x DeferralRun, err error) {
		err = r.Scan(&x.ID, &x.Until, &x.Undone, &x.ByName, &x.At, &x.Base, &x.Parts)
		return
	}, from, most)
}

// DeferralRunParts is what a run posted, below zero.
func (t *Tx) DeferralRunParts(run int64) ([]DeferralDue, error) {
	return list(t, deferralRunParts, func(r row) (d DeferralDue, err error) {
		err = r.Scan(&d.InvoiceLine, &d.Invoice, &d.OrderLine, &d.Month, &d.Detail, &d.Amount, &d.Base, &d.Number, &d.State,
			&d.SupplierNumber, &d.Currency)
		return
	}, run)
}

// WrongDeferrals lists months that hold something else than what was spread, posted and credited, or belong to an invoice
// that is not in the books.
func (t *Tx) WrongDeferrals() ([]Sum, error) { return list(t, deferralDifferences, scanSum) }

// Deferred are the balances of deferred expense by what it is charged to, in the ledger and by the months.
func (t *Tx) Deferred() (booked, computed []Sum, err error) {
	if booked, err = list(t, deferredBooked, scanSum); err != nil {
		return nil, nil, err
	}
	computed, err = list(t, deferredHeld, scanSum)
	return booked, computed, err
}

// DeferredOfYear is what invoices of a calendar year hold in months that are not posted, by what it is charged to.
func (t *Tx) DeferredOfYear(year string) (map[string]money.Amount, error) {
	sums := map[string]money.Amount{}
	held, err := list(t, deferredOfYear, scanSum, year)
	for _, h := range held {
		sums[h.Name] += h.Amount
	}
	return sums, err
}
