package store

// This file keeps claims on suppliers, and what became of them.

import (
	"lagoon/internal/core/book"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// The states of a claim: its invoice waits for goods; something of it is expected; nothing is; its invoice was
// corrected or refused before anything of it was booked.
const (
	ClaimPending = "pending"
	ClaimOpen    = "open"
	ClaimSettled = "settled"
	ClaimDropped = "dropped"
)

const claimLineColumns = `SELECT l.id, c.number, l.no, l.invoice_line, il.no, l.order_line, l.what, l.quantity, l.net,
	l.tax_category, l.tax_rate, l.tax FROM claim_line l CROSS JOIN claim c ON c.id = l.claim
	CROSS JOIN invoice_line il ON il.id = l.invoice_line `

var (
	addClaim = statement(
		`INSERT INTO claim (number, invoice, invoice_revision, note, by_person, at) VALUES (?, ?, ?, ?, ?, ?)`,
	)
	addClaimLine = statement(
		`INSERT INTO claim_line (claim, no, invoice_line, order_line, what, quantity, net, tax_category, tax_rate, tax)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	addClaimChange = statement(
		`INSERT INTO claim_change (claim_line, kind, quantity, net, base, tax, dearer, cheaper, credit_line, note, by_person, at)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), ?, nullif(?, 0), ?)`,
	)
	putClaimState = statement(
		`INSERT INTO claim_state (claim, state, net, tax, credited) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (claim) DO UPDATE SET state = excluded.state, net = excluded.net, tax = excluded.tax,
		credited = excluded.credited`,
	)
	addAllocationClaim = statement(`INSERT INTO allocation_claim (allocation, claim_change) VALUES (?, ?)`)
	claimsOf           = statement(
		`SELECT c.id, c.number, c.invoice, c.invoice_revision, s.state = 'pending', c.note, p.name, c.at FROM claim c
		CROSS JOIN claim_state s ON s.claim = c.id CROSS JOIN person p ON p.id = c.by_person
		WHERE c.invoice = ? AND s.state <> 'dropped' ORDER BY c.id`,
	)
	claimLines   = statement(claimLineColumns + `WHERE l.claim = ? ORDER BY l.no`)
	claimChanges = statement(
		`SELECT kind, quantity, net, base, tax, dearer, cheaper, coalesce(credit_line, 0) FROM claim_change
		WHERE claim_line = ? ORDER BY id`,
	)
	claimNumbered = statement(`SELECT invoice FROM claim WHERE number = ?`)
	claimedOn     = statement(
		`SELECT DISTINCT c.invoice FROM claim_line l CROSS JOIN claim c ON c.id = l.claim
		CROSS JOIN claim_state s ON s.claim = c.id WHERE l.order_line = ? AND s.state = 'open'`,
	)
	changesOfCredit = statement(
		`SELECT l.id, x.kind, x.quantity, x.net, x.base, x.tax, x.dearer, x.cheaper, x.credit_line FROM invoice_line il
		CROSS JOIN claim_change x ON x.credit_line = il.id CROSS JOIN claim_line l ON l.id = x.claim_line
		WHERE il.invoice_revision = ? ORDER BY x.id`,
	)
	invoiceOfCredit = statement(
		`SELECT DISTINCT c.invoice FROM invoice_line il CROSS JOIN claim_change x ON x.credit_line = il.id
		CROSS JOIN claim_line l ON l.id = x.claim_line CROSS JOIN claim c ON c.id = l.claim WHERE il.invoice_revision = ?`,
	)
	openClaims = cutAt(
		mostPiled,
		`SELECT c.number, i.number, r.supplier_number, p.name, st.currency, s.net, s.tax, c.note, c.at FROM claim_state s CROSS JOIN claim c ON c.id = s.claim
		CROSS JOIN invoice i ON i.id = c.invoice CROSS JOIN invoice_state st ON st.invoice = i.id
		CROSS JOIN invoice_revision r ON r.id = st.revision CROSS JOIN supplier p ON p.id = st.supplier
		WHERE s.state = 'open' ORDER BY s.claim`,
	)
	notPaid = statement(
		`SELECT coalesce(sum(s.net + s.tax + s.credited), 0) FROM claim c CROSS JOIN claim_state s ON s.claim = c.id
		WHERE c.invoice = ?`,
	)
	creditedByClaims = statement(
		`SELECT coalesce(sum(s.credited), 0) FROM claim c CROSS JOIN claim_state s ON s.claim = c.id WHERE c.invoice = ?`,
	)
)

// AddClaim writes a claim with its lines, which get their row keys.
func (t *Tx) AddClaim(c *trade.Claim, by int64, at string) (err error) {
	if c.ID, err = t.exec(addClaim, c.Number, c.Invoice, c.Revision, c.Note, by, at); err != nil {
		return err
	}
	for i, l := range c.Lines {
		l.No, l.Claim = i+1, c.Number
		if l.ID, err = t.exec(addClaimLine, c.ID, l.No, l.InvoiceLine, l.OrderLine, l.For, l.Quantity, l.Net,
			l.TaxCategory, l.TaxRate, l.Tax); err != nil {
			return err
		}
	}
	return t.SaveClaim(*c)
}

// SaveClaim writes where a claim stands.
func (t *Tx) SaveClaim(c trade.Claim) error {
	state := ClaimSettled
	switch {
	case c.Pending:
		state = ClaimPending
	case c.Open():
		state = ClaimOpen
	}
	return t.do(putClaimState, c.ID, state, c.Left(), c.Gross()-c.Left(), c.Credited())
}

// DropClaim ends a claim of which nothing was booked.
func (t *Tx) DropClaim(id int64) error { return t.do(putClaimState, id, ClaimDropped, 0, 0, 0) }

func scanClaimChange(r row) (c trade.ClaimChange, err error) {
	err = r.Scan(&c.Kind, &c.Quantity, &c.Value, &c.Base, &c.Tax, &c.Dearer, &c.Cheaper, &c.CreditLine)
	return
}

// ClaimsOf reads the claims on an invoice with what is left of them.
func (t *Tx) ClaimsOf(invoice int64) ([]trade.Claim, error) {
	claims, err := list(t, claimsOf, func(r row) (c trade.Claim, err error) {
		err = r.Scan(&c.ID, &c.Number, &c.Invoice, &c.Revision, &c.Pending, &c.Note, &c.By, &c.At)
		return
	}, invoice)
	for i := range claims {
		if err != nil {
			return nil, err
		}
		if claims[i].Lines, err = list(t, claimLines, func(r row) (*trade.ClaimLine, error) {
			l := &trade.ClaimLine{}
			return l, r.Scan(&l.ID, &l.Claim, &l.No, &l.InvoiceLine, &l.InvoiceLineNo, &l.OrderLine, &l.For, &l.Quantity,
				&l.Net, &l.TaxCategory, &l.TaxRate, &l.Tax)
		}, claims[i].ID); err != nil {
			return nil, err
		}
		for _, l := range claims[i].Lines {
			changes, err := list(t, claimChanges, scanClaimChange, l.ID)
			if err != nil {
				return nil, err
			}
			for _, c := range changes {
				l.Take(c)
			}
		}
	}
	return claims, err
}

// ClaimedInvoice is the row key of the invoice that a claim is about, by its number, or ErrNone.
func (t *Tx) ClaimedInvoice(number int64) (int64, error) {
	return one(t, claimNumbered, scanOne[int64], number)
}

// ClaimedOn lists the invoices with open claims about an order line.
func (t *Tx) ClaimedOn(orderLine int64) ([]int64, error) {
	return list(t, claimedOn, scanOne[int64], orderLine)
}

// NotPaid is what claims take off what an invoice is paid, tax included: what is expected of them, and was credited.
func (t *Tx) NotPaid(invoice int64) (money.Amount, error) {
	n, err := t.number(notPaid, invoice)
	return money.Amount(n), err
}

// CreditedClaims lists what a credit note's revision gave back of claims on an invoice, by the claims' lines.
func (t *Tx) CreditedClaims(revision int64, claims []trade.Claim) ([]book.Claim, error) {
	lines := map[int64]*trade.ClaimLine{}
	for _, c := range claims {
		for _, l := range c.Lines {
			lines[l.ID] = l
		}
	}
	return list(t, changesOfCredit, func(r row) (c book.Claim, err error) {
		var line int64
		err = r.Scan(&line, &c.Kind, &c.Quantity, &c.Value, &c.Base, &c.Tax, &c.Dearer, &c.Cheaper, &c.CreditLine)
		c.Line = lines[line]
		return
	}, revision)
}

// ClaimedBy is the invoice whose claims a credit note's revision gave something back of; zero where none.
func (t *Tx) ClaimedBy(revision int64) (int64, error) {
	invoices, err := list(t, invoiceOfCredit, scanOne[int64], revision)
	return append(invoices, 0)[0], err
}

// OpenClaim is a claim that a credit note is expected for.
type OpenClaim struct {
	Number, Invoice int64 // numbers
	SupplierNumber  string
	Supplier        string
	Claim           money.Money  // what is expected, net
	Tax             money.Amount // with it
	Note, At        string
}

// OpenClaims lists them, the oldest first.
func (t *Tx) OpenClaims() ([]OpenClaim, error) {
	return listCut(t, openClaims, func(r row) (c OpenClaim, err error) {
		err = r.Scan(&c.Number, &c.Invoice, &c.SupplierNumber, &c.Supplier, &c.Claim.Currency, &c.Claim.Amount, &c.Tax,
			&c.Note, &c.At)
		return
	})
}
