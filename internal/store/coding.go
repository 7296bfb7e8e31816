package store

// This file keeps what is charged without an order, who approved it, and to whom it was passed on.

import (
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	addCoding = statement(`INSERT INTO invoice_line_coding (invoice_line, no, budget, percent) VALUES (?, ?, ?, ?)`)
	codingOf  = statement(
		`SELECT il.no, c.budget, c.percent, b.account FROM invoice_line il
		CROSS JOIN invoice_line_coding c ON c.invoice_line = il.id CROSS JOIN budget b ON b.code = c.budget
		WHERE il.invoice_revision = ? ORDER BY il.no, c.no`,
	)
	addApproval = statement(
		`INSERT INTO invoice_approval (invoice, revision, net, note, by_person, at) VALUES (?, ?, ?, ?, ?, ?)`,
	)
	approvalOf = statement(
		`SELECT a.net, a.note, a.by_person, p.name, a.at FROM invoice_approval a JOIN person p ON p.id = a.by_person
		WHERE a.revision = ? ORDER BY a.id DESC LIMIT 1`,
	)
	addPass = statement(
		`INSERT INTO approval_pass (invoice, revision, to_person, note, by_person, at) VALUES (?, ?, ?, ?, ?, ?)`,
	)
	passOf = statement(
		`SELECT a.to_person, p.name, a.note, b.name, a.at FROM approval_pass a JOIN person p ON p.id = a.to_person
		JOIN person b ON b.id = a.by_person WHERE a.revision = ? ORDER BY a.id DESC LIMIT 1`,
	)
	creditsBefore = statement(
		`SELECT s.revision ` + namingInvoice + `AND r.kind = 'credit_note' AND s.invoice <> ?3
		AND (s.state IN ` + isBooked + ` OR (s.state IN ` + isUnsettled + ` AND s.invoice < ?3))`,
	)
	// The latest invoices of a supplier that were charged without an order.
	codedBefore = statement(
		`SELECT s.revision, s.invoice_date, s.total, s.currency, i.number FROM invoice_state s
		CROSS JOIN invoice i ON i.id = s.invoice
		WHERE s.supplier = ?1 AND s.purchase_order IS NULL AND s.invoice < ?2 AND s.state IN ` + isBooked + `
		AND EXISTS (SELECT 1 FROM invoice_line il CROSS JOIN invoice_line_coding c ON c.invoice_line = il.id
		WHERE il.invoice_revision = s.revision) ORDER BY s.invoice DESC LIMIT 12`,
	)
)

// addCodings writes what the lines of a revision are charged to; the lines have their row keys.
func (t *Tx) addCodings(lines []trade.InvoiceLine) error {
	for _, l := range lines {
		for i, c := range l.Coding {
			if err := t.do(addCoding, l.ID, i+1, c.Budget, c.Percent); err != nil {
				return err
			}
		}
	}
	return nil
}

// codings reads them into the lines of a revision.
func (t *Tx) codings(revision int64, lines []trade.InvoiceLine) error {
	return t.intoLines(codingOf, revision, lines, func(r row) (no int, put func(*trade.InvoiceLine), err error) {
		var c trade.Coding
		err = r.Scan(&no, &c.Budget, &c.Percent, &c.Account)
		return no, func(l *trade.InvoiceLine) { l.Coding = append(l.Coding, c) }, err
	})
}

// Approval is a person's agreement with an invoice without an order.
type Approval struct {
	Net        money.Amount // in the company's currency
	Note       string
	By         int64
	ByName, At string
}

// AddApproval writes it.
func (t *Tx) AddApproval(invoice, revision int64, a Approval) error {
	return t.do(addApproval, invoice, revision, a.Net, a.Note, a.By, a.At)
}

// ApprovalOf is that of a revision, or ErrNone.
func (t *Tx) ApprovalOf(revision int64) (Approval, error) {
	return one(t, approvalOf, func(r row) (a Approval, err error) {
		err = r.Scan(&a.Net, &a.Note, &a.By, &a.ByName, &a.At)
		return
	}, revision)
}

// Pass is that an approval was passed on to somebody.
type Pass struct {
	To         int64
	ToName     string
	Note       string
	ByName, At string
}

// AddPass writes it.
func (t *Tx) AddPass(invoice, revision int64, p Pass, by int64) error {
	return t.do(addPass, invoice, revision, p.To, p.Note, by, p.At)
}

// PassOf is the last one of a revision, or ErrNone.
func (t *Tx) PassOf(revision int64) (Pass, error) {
	return one(t, passOf, func(r row) (p Pass, err error) {
		err = r.Scan(&p.To, &p.ToName, &p.Note, &p.ByName, &p.At)
		return
	}, revision)
}

// codedLeft works out what an invoice charged without an order that no credit note has given back yet, of those that are
// booked or were captured before one.
func (t *Tx) codedLeft(inv trade.Invoice, credited *match.Credited) error {
	s, err := t.InvoiceState(credited.Invoice)
	if err != nil {
		return err
	}
	named, err := t.Invoice(s.Revision)
	if err != nil {
		return err
	}
	totals, err := named.Totals()
	if err != nil {
		return err
	}
	if credited.Coded, credited.HasCoded = named.CodedNet(totals), named.HasCoded(); !credited.HasCoded {
		return nil
	}
	before := inv.ID
	if before == 0 {
		before = AllReserved
	}
	revisions, err := list(
		t,
		creditsBefore,
		scanOne[int64],
		trade.NormalNumber(named.SupplierNumber),
		named.SupplierID,
		before,
	)
	for _, revision := range revisions {
		note, err := t.Invoice(revision)
		if err != nil {
			return err
		}
		totals, err := note.Totals()
		if err != nil {
			return err
		}
		credited.Coded -= note.CodedNet(totals)
	}
	return err
}

// Coded is an invoice of a supplier that was charged without an order.
type Coded struct {
	trade.Dated
	Revision, Number int64
}

// CodedBefore lists the latest of a supplier that stand in the books, the newest first, from below the row key of one.
func (t *Tx) CodedBefore(supplier, invoice int64) ([]Coded, error) {
	if invoice == 0 {
		invoice = AllReserved
	}
	return list(t, codedBefore, func(r row) (c Coded, err error) {
		err = r.Scan(&c.Revision, &c.Date, &c.Total.Amount, &c.Total.Currency, &c.Number)
		return
	}, supplier, invoice)
}
