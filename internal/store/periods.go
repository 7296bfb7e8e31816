package store

// This file keeps which months of the books are closed, who opened one again, and what hangs in one.

import (
	"errors"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// PeriodAsked is that somebody asks to open a closed month again.
type PeriodAsked struct {
	Month, Reason string
	By            int64
	ByName, At    string
}

// PeriodChange is what became of a month after it was first closed.
type PeriodChange struct {
	Month, What, Reason string // What: asked, opened, refused, closed
	By                  int64
	ByName, At          string
}

const stillClosed = `FROM period p WHERE NOT EXISTS (SELECT 1 FROM period_state s WHERE s.month = p.month AND s.open = 1)`

var (
	closePeriod    = statement(`INSERT INTO period (month, closed_at) VALUES (?, ?)`)
	wasClosed      = statement(`SELECT count(*) FROM period WHERE month = ?`)
	closedPeriods  = statement(`SELECT p.month ` + stillClosed + ` ORDER BY p.month`)
	putPeriodState = statement(
		`INSERT INTO period_state (month, open, asked_by, reason, asked_at) VALUES (?, ?, nullif(?, 0), ?, ?)
		ON CONFLICT (month) DO UPDATE SET open = excluded.open, asked_by = excluded.asked_by, reason = excluded.reason,
		asked_at = excluded.asked_at`,
	)
	addPeriodChange = statement(
		`INSERT INTO period_change (month, what, reason, by_person, at) VALUES (?, ?, ?, ?, ?)`,
	)
	periodAsked = statement(
		`SELECT s.month, s.reason, s.asked_by, p.name, s.asked_at FROM period_state s JOIN person p ON p.id = s.asked_by
		WHERE s.asked_by IS NOT NULL ORDER BY s.month DESC LIMIT 1`,
	)
	periodChanges = statement(
		`SELECT c.month, c.what, c.reason, c.by_person, p.name, c.at FROM period_change c JOIN person p ON p.id = c.by_person
		WHERE c.id > 0 ORDER BY c.id DESC LIMIT 24`,
	)
	unverifiedIn = statement(
		`SELECT i.number, r.supplier_number, r.supplier_stated, s.state, s.total, s.currency FROM invoice_state s
		JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision
		WHERE s.state IN ` + isUnsettled + ` AND r.posting_day <= ? LIMIT 51`,
	)
	grniAt = cutAt(
		50,
		`SELECT detail, base FROM `+StillOpen(ledger.GRNI, "?")+` ORDER BY detail`,
	)
	unansweredBy = statement(
		`SELECT r.number FROM run_state s JOIN payment_run r ON r.id = s.run
		WHERE s.state IN ('approved', 'sent') AND r.pay_on <= ? LIMIT 50`,
	)
)

// ClosedPeriods lists the closed months.
func (t *Tx) ClosedPeriods() ([]string, error) { return list(t, closedPeriods, scanOne[string]) }

// ClosePeriod closes a month of the books, for the first time or again.
func (t *Tx) ClosePeriod(month string, by int64, at string) error {
	t.memo.months = false
	if n, err := t.number(wasClosed, month); err != nil || n == 0 {
		return errors.Join(err, t.do(closePeriod, month, at))
	}
	return errors.Join(
		t.do(putPeriodState, month, false, 0, "", ""),
		t.do(addPeriodChange, month, "closed", "", by, at),
	)
}

// AskPeriod notes that somebody asks to open a closed month again.
func (t *Tx) AskPeriod(a PeriodAsked) error {
	return errors.Join(
		t.do(putPeriodState, a.Month, false, a.By, a.Reason, a.At),
		t.do(addPeriodChange, a.Month, "asked", a.Reason, a.By, a.At),
	)
}

// OpenPeriod opens it, or leaves it closed where that was refused.
func (t *Tx) OpenPeriod(month string, open bool, reason string, by int64, at string) error {
	t.memo.months = false
	what := "refused"
	if open {
		what = "opened"
	}
	return errors.Join(
		t.do(putPeriodState, month, open, 0, "", ""),
		t.do(addPeriodChange, month, what, reason, by, at),
	)
}

// AskedPeriod is the month that somebody asks to open again, or ErrNone.
func (t *Tx) AskedPeriod() (PeriodAsked, error) {
	return one(t, periodAsked, func(r row) (a PeriodAsked, err error) {
		err = r.Scan(&a.Month, &a.Reason, &a.By, &a.ByName, &a.At)
		return
	})
}

// PeriodChanges lists what became of months after they were first closed, the newest first.
func (t *Tx) PeriodChanges() ([]PeriodChange, error) {
	return list(t, periodChanges, func(r row) (c PeriodChange, err error) {
		err = r.Scan(&c.Month, &c.What, &c.Reason, &c.By, &c.ByName, &c.At)
		return
	})
}

// Periods are the closed months of the books.
func (t *Tx) Periods() (ledger.Periods, error) {
	if !t.memo.months {
		closed, err := list(t, closedPeriods, scanOne[string])
		if err != nil {
			return nil, err
		}
		t.memo.closed, t.memo.months = closed, true
	}
	return t.memo.closed, nil
}

// PeriodClosed tells whether a month of the books is closed.
func (t *Tx) PeriodClosed(month string) (bool, error) {
	closed, err := t.Periods()
	return slices.Contains(closed, month), err
}

// FirstOpenDay is the first day on or after d whose period is open.
func (t *Tx) FirstOpenDay(d day.Day) (day.Day, error) {
	closed, err := t.Periods()
	return closed.FirstOpen(d), err
}

// HangingInvoice is one that is not verified and would be posted by a day.
type HangingInvoice struct {
	Number                   int64
	SupplierNumber, Supplier string
	State                    trade.InvoiceState
	Total                    money.Amount
	Currency                 money.Currency
}

// UnverifiedBy lists invoices that are not verified and would be posted by a day, 51 at most.
func (t *Tx) UnverifiedBy(d day.Day) ([]HangingInvoice, error) {
	return list(t, unverifiedIn, func(r row) (h HangingInvoice, err error) {
		err = r.Scan(&h.Number, &h.SupplierNumber, &h.Supplier, &h.State, &h.Total, &h.Currency)
		return
	}, d)
}

// GRNIAt lists, by order line, what is received and not invoiced (below zero) at the end of a day, or invoiced and not
// received, in the company's currency.
func (t *Tx) GRNIAt(d day.Day) ([]Sum, error) { return listCut(t, grniAt, scanSum, d) }

// UnansweredBy lists runs to be paid by a day that the bank has not answered.
func (t *Tx) UnansweredBy(d day.Day) ([]int64, error) {
	return list(t, unansweredBy, scanOne[int64], d)
}
