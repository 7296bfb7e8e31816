package store

// This file keeps what is a credit note's alone: the invoice that it names, what its lines are for, and what they took
// back of what invoices had billed.

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"lagoon/internal/core/book"
	"lagoon/internal/core/match"
	"lagoon/internal/core/trade"
)

// namingInvoice are the credit notes in force that name an invoice: by its normal number (?1) and its supplier (?2).
const namingInvoice = `FROM invoice_credit c CROSS JOIN invoice_revision r ON r.id = c.invoice_revision
	CROSS JOIN invoice i ON i.id = r.invoice CROSS JOIN invoice_state s ON s.invoice = i.id AND s.revision = r.id
	WHERE c.number_key = ?1 AND s.supplier = ?2 `

// adjusts tells whether a revision (r) is an adjustment: it stands among the invoices, and names one.
const adjusts = `EXISTS (SELECT 1 FROM invoice_credit a WHERE a.invoice_revision = r.id AND r.kind = 'invoice')`

// kindOf is the kind of a revision (r).
const kindOf = `CASE WHEN ` + adjusts + ` THEN 'adjustment' ELSE coalesce((SELECT iif(` + requests + `, 'request', 'prepayment')
	FROM invoice_prepayment x WHERE x.invoice_revision = r.id), r.kind) END`

// series is the kind under which a document is kept and numbered: adjustments and invoices for money ahead are among the
// invoices (rules §5).
func series(kind trade.InvoiceKind) trade.InvoiceKind {
	if kind == trade.CreditNote {
		return kind
	}
	return trade.PlainInvoice
}

var (
	addInvoiceCredit = statement(
		`INSERT INTO invoice_credit (invoice_revision, stated, number_key) VALUES (?, ?, ?)`,
	)
	addLineCredit       = statement(`INSERT INTO invoice_line_credit (invoice_line, what) VALUES (?, ?)`)
	addAllocationCredit = statement(`INSERT INTO allocation_credit (allocation, invoice_line) VALUES (?, ?)`)
	creditedInvoice     = statement(
		`SELECT s.invoice, i.number, s.state, r.rate, s.total, s.total_base FROM invoice_state s JOIN invoice i ON i.id = s.invoice
		JOIN invoice_revision r ON r.id = s.revision
		WHERE s.supplier = ? AND s.number_key = ? AND r.kind = 'invoice' AND NOT ` + adjusts + ` AND s.state NOT IN ` + isEnded + `
		ORDER BY s.invoice LIMIT 1`,
	)
	billedOf = statement(
		`SELECT il.id, il.order_line, il.quantity, il.unit, il.price, il.base, il.discount, il.charge,
		il.tax_category, il.tax_rate, s.invoice, r.rate, r.currency
		FROM invoice_line il CROSS JOIN invoice_revision r ON r.id = il.invoice_revision
		CROSS JOIN invoice_state s ON s.invoice = r.invoice AND s.revision = r.id
		WHERE il.order_line = ?1 AND r.kind = 'invoice' AND NOT ` + adjusts + ` AND s.state IN ` + isBooked + `
		ORDER BY s.invoice <> ?2, il.id`,
	)
	allocationsOfCredit = statement(
		`SELECT a.order_line, coalesce(a.receipt_line, 0), a.invoice_line, r.invoice, r.rate, a.kind,
		sum(a.quantity), sum(a.value), sum(a.value_base), c.invoice_line
		FROM invoice_line il JOIN allocation_credit c ON c.invoice_line = il.id JOIN allocation a ON a.id = c.allocation
		JOIN invoice_line bl ON bl.id = a.invoice_line JOIN invoice_revision r ON r.id = bl.invoice_revision
		WHERE il.invoice_revision = ? GROUP BY a.order_line, a.receipt_line, a.invoice_line, a.kind, c.invoice_line
		HAVING sum(a.quantity) <> 0`,
	)
	creditsNaming = statement(
		`SELECT s.invoice ` + namingInvoice + `AND s.state IN ` + isUnsettled + ` ORDER BY s.invoice`,
	)
	creditsAgainst = statement(
		`SELECT r.supplier_number || ' (' || i.number || ')' ` + namingInvoice + `AND s.state IN ` + isBooked + `
		UNION ALL SELECT r.supplier_number || ' (' || i.number || ')' FROM invoice_line bl
		CROSS JOIN allocation a ON a.invoice_line = bl.id CROSS JOIN allocation_credit x ON x.allocation = a.id
		CROSS JOIN invoice_line il ON il.id = x.invoice_line CROSS JOIN invoice_revision r ON r.id = il.invoice_revision
		CROSS JOIN invoice i ON i.id = r.invoice CROSS JOIN invoice_state s ON s.invoice = i.id AND s.revision = r.id
		WHERE bl.invoice_revision = ?3 AND s.state IN ` + isBooked,
	)
	creditsOf = statement(
		strings.Replace(
			invoiceRows,
			"FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision",
			"FROM invoice_credit c CROSS JOIN invoice_revision r ON r.id = c.invoice_revision CROSS JOIN invoice i ON i.id = r.invoice CROSS JOIN invoice_state s ON s.invoice = i.id AND s.revision = r.id",
			1,
		) + `WHERE c.number_key = ?1 AND s.supplier = ?2`,
	)
)

// addCredit writes what is a credit note's alone of a revision, whose lines have their row keys.
func (t *Tx) addCredit(inv trade.Invoice, revision int64) error {
	if !inv.Follows() {
		return nil
	}
	if inv.Credited != "" {
		if err := t.do(addInvoiceCredit, revision, inv.Credited, trade.NormalNumber(inv.Credited)); err != nil {
			return err
		}
	}
	for _, l := range inv.Lines {
		if l.Credits == "" {
			continue
		}
		if err := t.do(addLineCredit, l.ID, l.Credits); err != nil {
			return err
		}
	}
	return nil
}

// CreditFacts reads what a credit note or an adjustment is matched with besides its orders; nothing of an invoice.
func (t *Tx) CreditFacts(inv trade.Invoice, facts *match.Facts) error {
	if !inv.Follows() && !inv.TakesBack() {
		return nil
	}
	named := int64(0)
	if inv.Credited != "" && inv.SupplierID != 0 {
		credited, err := t.Credited(inv.SupplierID, inv.Credited)
		if err != nil && !errors.Is(err, ErrNone) {
			return err
		}
		if err == nil {
			facts.Credited, named = &credited, credited.Invoice
			if err := t.creditedAhead(inv, facts.Credited); err != nil {
				return err
			}
		}
	}
	if inv.Kind == trade.CreditNote {
		if err := t.claimFacts(inv, facts); err != nil {
			return err
		}
	}
	if facts.Credited != nil && inv.HasCoded() {
		if err := t.codedLeft(inv, facts.Credited); err != nil {
			return err
		}
	}
	seen := map[int64]bool{}
	for _, l := range inv.Lines {
		if l.OrderLineID == 0 || seen[l.OrderLineID] {
			continue
		}
		seen[l.OrderLineID] = true
		billed, err := t.BilledOf(l.OrderLineID, named)
		if err != nil {
			return err
		}
		facts.Billed = append(facts.Billed, billed...)
	}
	if inv.Kind != trade.CreditNote {
		return nil
	}
	asked := map[int64]bool{}
	if named != 0 {
		asked[named] = true
	} else {
		for _, l := range facts.Billed {
			asked[l.Invoice] = true
		}
	}
	for _, invoice := range slices.Sorted(maps.Keys(asked)) {
		held, err := t.DeferredOf(invoice)
		if err != nil {
			return err
		}
		facts.Deferred = append(facts.Deferred, held...)
	}
	return nil
}

// creditedAhead reads the money ahead that a credit note gives back of, where it names an invoice for some.
func (t *Tx) creditedAhead(inv trade.Invoice, credited *match.Credited) error {
	if inv.Kind != trade.CreditNote || !credited.State.Booked() {
		return nil
	}
	s, err := t.InvoiceState(credited.Invoice)
	if err != nil {
		return err
	}
	if of, err := t.Invoice(s.Revision); err != nil || !of.Prepays() {
		return err
	}
	p, err := t.Prepayment(credited.Invoice, inv.ID)
	credited.Ahead = &p
	return err
}

// claimFacts reads what is still expected of claims on the invoice that a credit note names or, where it names none, on
// the one invoice that something of its order lines is claimed of.
func (t *Tx) claimFacts(inv trade.Invoice, facts *match.Facts) error {
	if inv.Credited == "" {
		claimed := map[int64]bool{}
		for _, l := range inv.Lines {
			on, err := t.ClaimedOn(l.OrderLineID)
			if err != nil {
				return err
			}
			for _, id := range on {
				claimed[id] = true
			}
		}
		for id := range claimed {
			if len(claimed) > 1 {
				break
			}
			s, err := t.InvoiceState(id)
			if err != nil {
				return err
			}
			of, err := t.Invoice(s.Revision)
			if err != nil {
				return err
			}
			facts.Credited = &match.Credited{
				Invoice: id, Number: of.Number, State: s.State, Rate: of.Rate, Total: s.Total, Base: s.TotalBase,
			}
		}
	}
	if facts.Credited == nil || !facts.Credited.State.Booked() {
		return nil
	}
	claims, err := t.ClaimsOf(facts.Credited.Invoice)
	if err != nil {
		return err
	}
	for _, c := range claims {
		facts.Claims = append(facts.Claims, c.Lines...)
	}
	facts.Credited.Settled, err = t.SettledBefore(facts.Credited.Invoice)
	return err
}

// Credited is the standing invoice of a supplier that a credit note names, or ErrNone.
func (t *Tx) Credited(supplier int64, number string) (match.Credited, error) {
	return one(t, creditedInvoice, func(r row) (c match.Credited, err error) {
		err = r.Scan(&c.Invoice, &c.Number, &c.State, &c.Rate, &c.Total, &c.Base)
		return
	}, supplier, trade.NormalNumber(number))
}

// BilledOf are the lines of verified invoices about an order line, those of one invoice first.
func (t *Tx) BilledOf(orderLine, first int64) ([]match.BilledLine, error) {
	return list(t, billedOf, func(r row) (l match.BilledLine, err error) {
		err = r.Scan(
			&l.ID,
			&l.OrderLineID,
			&l.Quantity,
			&l.Unit,
			&l.Price,
			&l.Base,
			&l.Discount,
			&l.Charge,
			&l.TaxCategory,
			&l.TaxRate,
			&l.Invoice,
			&l.Rate,
			&l.Currency,
		)
		return
	}, orderLine, first)
}

// AllocationsOfCredit is what the lines of a credit note's revision took back and still holds.
func (t *Tx) AllocationsOfCredit(revision int64, orders ...*trade.Order) ([]book.Allocation, error) {
	return t.allocations(allocationsOfCredit, revision, orders)
}

// CreditsNaming lists the open credit notes of a supplier that name an invoice by its number.
func (t *Tx) CreditsNaming(supplier int64, number string) ([]int64, error) {
	return list(t, creditsNaming, scanOne[int64], trade.NormalNumber(number), supplier)
}

// CreditsAgainst names, by the supplier's number and Lagoon's, the verified credit notes that stand against a revision
// of an invoice: they name it, or took back what it had billed.
func (t *Tx) CreditsAgainst(inv trade.Invoice, revision int64) ([]string, error) {
	return list(t, creditsAgainst, scanOne[string], trade.NormalNumber(inv.SupplierNumber), inv.SupplierID, revision)
}

// CreditsOf lists the credit notes that name an invoice, whatever their state.
func (t *Tx) CreditsOf(inv trade.Invoice) ([]InvoiceRow, error) {
	return list(t, creditsOf, scanInvoiceRow, trade.NormalNumber(inv.SupplierNumber), inv.SupplierID)
}
