package store

// This file keeps what is done at a month's end: accruals, and what was handed to the general ledger.

import (
	"errors"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// AccruedLine is a line of an accrual. OrderLine is zero where a person added it; else Order and No name it.
type AccruedLine struct {
	OrderLine int64 // row key
	Order     int64
	No        int
	Supplier  string
	Text      string
	Unit      string
	Account   trade.Account
	Budget    string
	Quantity  money.Decimal // that came and is not invoiced
	Base      money.Amount  // without tax, in the company's currency
}

// Accrual is what was accrued at a month's end. Entry and Reversal are numbers of ledger entries.
type Accrual struct {
	ID, Number      int64
	Month           string
	Entry, Reversal int64
	Note            string
	By              int64
	ByName, At      string
	Ended           string // why it was taken back
	EndedBy         string
	Lines           []AccruedLine
}

// Uninvoiced is an order line of level two-way of which more came than is invoiced by a day.
type Uninvoiced struct {
	AccruedLine
	Currency         money.Currency
	Net              money.Amount
	Ordered          money.Decimal
	Received, Billed money.Decimal
}

var (
	addAccrual = statement(
		`INSERT INTO accrual (number, month, entry, reversal, note, by_person, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
	)
	addAccrualLine = statement(
		`INSERT INTO accrual_line (accrual, no, order_line, account, budget, text, quantity, base) VALUES (?, ?, nullif(?, 0), ?, ?, ?, ?, ?)`,
	)
	addAccrualEnd = statement(`INSERT INTO accrual_end (accrual, reason, by_person, at) VALUES (?, ?, ?, ?)`)
	accrualsOf    = statement(accrualColumns + `WHERE a.month = ? ORDER BY a.id`)
	accrualByNo   = statement(accrualColumns + `WHERE a.number = ?`)
	accrualLines  = statement(
		`SELECT coalesce(x.order_line, 0), coalesce(o.number, 0), coalesce(l.no, 0), coalesce(s.name, ''), x.text, coalesce(l.unit, ''),
		x.account, x.budget, x.quantity, x.base FROM accrual_line x LEFT JOIN order_line l ON l.id = x.order_line
		LEFT JOIN purchase_order o ON o.id = l.purchase_order LEFT JOIN supplier s ON s.id = o.supplier WHERE x.accrual = ? ORDER BY x.no`,
	)
	// What came and what was invoiced by a day, of lines that receipts book nothing on and that are open to invoices.
	uninvoicedAt = proof(
		`SELECT * FROM (SELECT l.id, o.number, l.no, s.name, l.description, l.unit, coalesce(x.account, 'expense'), l.budget, o.currency, l.net, l.quantity,
		(SELECT coalesce(sum(r.quantity), 0) FROM receipt_line r JOIN delivery d ON d.id = r.delivery WHERE r.order_line = l.id AND d.posted_on <= ?1)
		- (SELECT coalesce(sum(a.quantity), 0) FROM allocation a JOIN delivery d ON d.id = a.delivery
		WHERE a.order_line = l.id AND a.kind IN ('reversed', 'returned') AND d.posted_on <= ?1) AS received,
		(SELECT coalesce(sum(a.quantity), 0) FROM allocation a JOIN invoice_line il ON il.id = a.invoice_line
		JOIN invoice_revision v ON v.id = il.invoice_revision JOIN invoice i ON i.id = v.invoice WHERE a.order_line = l.id
		AND a.kind IN ('billed', 'awaited', 'variance')
		AND (SELECT min(e.posted_on) FROM entry e WHERE e.document = 'invoice' AND e.document_number = i.number) <= ?1) AS billed
		FROM order_line_state x JOIN order_line l ON l.id = x.order_line JOIN purchase_order o ON o.id = l.purchase_order
		JOIN supplier s ON s.id = o.supplier WHERE x.match_level = 'two_way' AND x.closed_invoices = 0)
		WHERE received > billed ORDER BY number, no`,
	)
	wrongAccruals = proof(
		`SELECT a.month, sum(x.base) FROM accrual a JOIN accrual_line x ON x.accrual = a.id GROUP BY a.id
		HAVING sum(x.base) <> -(SELECT sum(l.base) FROM entry e JOIN entry_line l ON l.entry = e.id WHERE e.number = a.entry AND l.role = 'accrued')
		OR sum(x.base) <> (SELECT sum(l.base) FROM entry e JOIN entry_line l ON l.entry = e.id WHERE e.number = a.reversal AND l.role = 'accrued')
		UNION ALL SELECT 'all', sum(base) FROM entry_line WHERE role = 'accrued' HAVING sum(base) <> 0`,
	)
)

const accrualColumns = `SELECT a.id, a.number, a.month, a.entry, a.reversal, a.note, a.by_person, p.name, a.at, coalesce(e.reason, ''), coalesce(q.name, '')
	FROM accrual a JOIN person p ON p.id = a.by_person LEFT JOIN accrual_end e ON e.accrual = a.id LEFT JOIN person q ON q.id = e.by_person `

func scanAccrual(r row) (a Accrual, err error) {
	err = r.Scan(&a.ID, &a.Number, &a.Month, &a.Entry, &a.Reversal, &a.Note, &a.By, &a.ByName, &a.At, &a.Ended, &a.EndedBy)
	return
}

// AddAccrual keeps what was accrued.
func (t *Tx) AddAccrual(a Accrual) error {
	id, err := t.exec(addAccrual, a.Number, a.Month, a.Entry, a.Reversal, a.Note, a.By, a.At)
	for i, l := range a.Lines {
		if err == nil {
			err = t.do(addAccrualLine, id, i+1, l.OrderLine, l.Account, l.Budget, l.Text, l.Quantity, l.Base)
		}
	}
	return err
}

// EndAccrual notes that an accrual was taken back.
func (t *Tx) EndAccrual(accrual int64, reason string, by int64, at string) error {
	return t.do(addAccrualEnd, accrual, reason, by, at)
}

// Accruals are those of a month, the first one first.
func (t *Tx) Accruals(month string) ([]Accrual, error) {
	all, err := list(t, accrualsOf, scanAccrual, month)
	for i := range all {
		if err == nil {
			all[i].Lines, err = t.accruedLines(all[i].ID)
		}
	}
	return all, err
}

// AccrualByNumber reads one, or gives ErrNone.
func (t *Tx) AccrualByNumber(number int64) (Accrual, error) {
	a, err := one(t, accrualByNo, scanAccrual, number)
	if err != nil {
		return a, err
	}
	a.Lines, err = t.accruedLines(a.ID)
	return a, err
}

func (t *Tx) accruedLines(accrual int64) ([]AccruedLine, error) {
	return list(t, accrualLines, func(r row) (l AccruedLine, err error) {
		err = r.Scan(&l.OrderLine, &l.Order, &l.No, &l.Supplier, &l.Text, &l.Unit, &l.Account, &l.Budget, &l.Quantity, &l.Base)
		return
	}, accrual)
}

// UninvoicedAt lists order lines that receipts book nothing on, of which more came than is invoiced by a day. It reads all
// lines of that level.
func (t *Tx) UninvoicedAt(d day.Day) ([]Uninvoiced, error) {
	return list(t, uninvoicedAt, func(r row) (u Uninvoiced, err error) {
		err = r.Scan(&u.OrderLine, &u.Order, &u.No, &u.Supplier, &u.Text, &u.Unit, &u.Account, &u.Budget, &u.Currency, &u.Net, &u.Ordered, &u.Received, &u.Billed)
		return
	}, d)
}

// WrongAccruals are accruals whose entries say something else than their lines, by month.
func (t *Tx) WrongAccruals() ([]Sum, error) { return list(t, wrongAccruals, scanSum) }

// LedgerExport is a part of a month that was handed to the general ledger: its entries above one number and up to another.
type LedgerExport struct {
	ID, Number     int64
	Month          string
	Above, UpTo    int64
	Entries, Lines int64
	Debit          money.Amount // of all lines, in the company's currency; the credits are as much
	By             int64
	ByName, At     string
	Ended          string // why it was taken back
}

const exportColumns = `SELECT x.id, x.number, x.month, x.above, x.upto, x.entries, x.lines, x.debit, x.by_person, p.name, x.at, coalesce(e.reason, '')
	FROM ledger_export x JOIN person p ON p.id = x.by_person LEFT JOIN ledger_export_end e ON e.export = x.id `

var (
	addLedgerExport = statement(
		`INSERT INTO ledger_export (number, month, above, upto, entries, lines, debit, by_person, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	addLedgerExportEnd = statement(`INSERT INTO ledger_export_end (export, reason, by_person, at) VALUES (?, ?, ?, ?)`)
	ledgerExports      = statement(exportColumns + `WHERE x.month = ? ORDER BY x.number`)
	ledgerExportByNo   = statement(exportColumns + `WHERE x.number = ?`)
	// What of a month stands above a number.
	toExport = proof(
		`SELECT coalesce(max(e.number), 0), count(DISTINCT e.id), count(l.no), coalesce(sum(max(0, l.base)), 0) FROM entry e JOIN entry_line l ON l.entry = e.id
		WHERE e.posted_on BETWEEN ?1 || '-01' AND ?1 || '-31' AND e.number > ?2 AND e.number <= ?3`,
	)
	exportedRows = proof(
		entryColumns + `WHERE e.posted_on BETWEEN ?1 || '-01' AND ?1 || '-31' AND e.number > ?2 AND e.number <= ?3 ORDER BY e.number`,
	)
	standingExports = proof(exportColumns + `WHERE e.export IS NULL ORDER BY x.month, x.number`)
)

func scanExport(r row) (x LedgerExport, err error) {
	err = r.Scan(&x.ID, &x.Number, &x.Month, &x.Above, &x.UpTo, &x.Entries, &x.Lines, &x.Debit, &x.By, &x.ByName, &x.At, &x.Ended)
	return
}

// AddLedgerExport keeps what was handed over.
func (t *Tx) AddLedgerExport(x LedgerExport) error {
	return t.do(addLedgerExport, x.Number, x.Month, x.Above, x.UpTo, x.Entries, x.Lines, x.Debit, x.By, x.At)
}

// EndLedgerExport notes that an export was taken back.
func (t *Tx) EndLedgerExport(export int64, reason string, by int64, at string) error {
	return t.do(addLedgerExportEnd, export, reason, by, at)
}

// LedgerExports are those of a month, the first one first.
func (t *Tx) LedgerExports(month string) ([]LedgerExport, error) {
	return list(t, ledgerExports, scanExport, month)
}

// LedgerExportByNumber reads one, or gives ErrNone.
func (t *Tx) LedgerExportByNumber(number int64) (LedgerExport, error) {
	return one(t, ledgerExportByNo, scanExport, number)
}

// ToExport counts and sums the entries of a month above a number and up to another (zero: to the last).
func (t *Tx) ToExport(month string, above, upTo int64) (LedgerExport, error) {
	if upTo == 0 {
		upTo = AllReserved
	}
	return one(t, toExport, func(r row) (LedgerExport, error) {
		x := LedgerExport{Month: month, Above: above}
		err := r.Scan(&x.UpTo, &x.Entries, &x.Lines, &x.Debit)
		return x, err
	}, month, above, upTo)
}

// ExportedEntries are the entries of an export.
func (t *Tx) ExportedEntries(x LedgerExport) ([]Booked, error) {
	return t.withLines(list(t, exportedRows, scanEntry, x.Month, x.Above, x.UpTo))
}

// WrongExports are exports that stand and come to something else now than when they were handed over, or that hand over what
// another did.
func (t *Tx) WrongExports() (wrong []Sum, err error) {
	all, err := list(t, standingExports, scanExport)
	for i, x := range all {
		now, failed := t.ToExport(x.Month, x.Above, x.UpTo)
		err = errors.Join(err, failed)
		if now.Entries != x.Entries || now.Lines != x.Lines || now.Debit != x.Debit || (i > 0 && all[i-1].Month == x.Month && all[i-1].UpTo != x.Above) {
			wrong = append(wrong, Sum{Name: x.Month, Amount: now.Debit - x.Debit})
		}
	}
	return wrong, err
}
