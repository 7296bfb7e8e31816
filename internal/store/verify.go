package store

import (
	"lagoon/internal/core/money"
)

var (
	unbalanced   = statement(`SELECT e.number, coalesce(sum(l.base), 0) FROM entry e LEFT JOIN entry_line l ON l.entry = e.id GROUP BY e.id HAVING coalesce(sum(l.base), 0) <> 0 OR coalesce(sum(l.amount), 0) <> 0`)
	grniBooked   = statement(`SELECT detail, sum(base) FROM entry_line WHERE role = 'grni' GROUP BY detail`)
	grniComputed = statement(`SELECT o.number || '/' || l.no,
		-coalesce((SELECT sum(r.value_base - coalesce((SELECT sum(a.value_base) FROM allocation a WHERE a.receipt_line = r.id), 0)) FROM receipt_line r WHERE r.order_line = l.id), 0)
		+ coalesce((SELECT sum(a.value_base) FROM allocation a WHERE a.order_line = l.id AND a.receipt_line IS NULL AND a.kind = 'billed'), 0)
		FROM order_line l JOIN order_line_state s ON s.order_line = l.id JOIN purchase_order o ON o.id = l.purchase_order WHERE s.match_level = 'three_way'`)
	payablesBooked   = statement(`SELECT detail, sum(amount) FROM entry_line WHERE role = 'payables' GROUP BY detail`)
	payablesComputed = statement(`SELECT p.code, -sum(s.open) FROM invoice_state s JOIN supplier p ON p.id = s.supplier WHERE s.state IN ('verified', 'released', 'in_payment', 'paid') GROUP BY p.code`)
	lineDifferences  = statement(`SELECT o.number || '/' || l.no, s.received, s.billed, s.beyond, s.closed_goods, s.closed_invoices, s.match_level IS 'three_way',
		coalesce((SELECT sum(quantity) FROM receipt_line r WHERE r.order_line = l.id), 0) - coalesce((SELECT sum(quantity) FROM allocation a WHERE a.order_line = l.id AND a.kind = 'reversed'), 0),
		coalesce((SELECT sum(quantity) FROM allocation a WHERE a.order_line = l.id AND a.kind = 'billed'), 0),
		coalesce((SELECT sum(quantity) FROM allocation a WHERE a.order_line = l.id AND a.kind = 'billed' AND a.receipt_line IS NULL), 0),
		coalesce((SELECT sum(goods) FROM line_close c WHERE c.order_line = l.id), 0), coalesce((SELECT sum(invoices) FROM line_close c WHERE c.order_line = l.id), 0)
		FROM order_line l JOIN order_line_state s ON s.order_line = l.id JOIN purchase_order o ON o.id = l.purchase_order`)
	overdrawn    = statement(`SELECT r.id, r.quantity - sum(a.quantity) FROM receipt_line r JOIN allocation a ON a.receipt_line = r.id GROUP BY r.id HAVING sum(a.quantity) > r.quantity OR min(r.quantity) < 0`)
	openInvoices = statement(`SELECT i.number, s.state, s.open, CASE WHEN s.state IN ('verified', 'released', 'in_payment', 'paid') THEN r.stated_total ELSE 0 END
		- coalesce((SELECT sum(x.amount + x.discount) FROM payment_item x JOIN payment_state y ON y.payment = x.payment WHERE x.invoice = s.invoice AND y.state IN ('in_transit', 'settled')), 0)
		FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision`)
	auditAfter = statement(`SELECT seq, at, actor, role, command, cause, subject, number, before, after, previous, hash FROM audit WHERE seq > ? ORDER BY seq LIMIT 500`)
)

// Sum is an amount under a name.
type Sum struct {
	Name   string
	Amount money.Amount
}

func scanSum(r row) (s Sum, err error) {
	err = r.Scan(&s.Name, &s.Amount)
	return
}

// Unbalanced lists entries whose lines do not add up to zero.
func (t *Tx) Unbalanced() ([]Sum, error) { return list(t, unbalanced, scanSum) }

// GRNI gives goods received, not invoiced by order line: as booked, and as the
// receipts and allocations say.
func (t *Tx) GRNI() (booked, computed []Sum, err error) {
	if booked, err = list(t, grniBooked, scanSum); err == nil {
		computed, err = list(t, grniComputed, scanSum)
	}
	return
}

// OpenPayables gives trade payables by supplier, in the documents' currencies: as
// booked, and as the open invoices say.
func (t *Tx) OpenPayables() (booked, computed []Sum, err error) {
	if booked, err = list(t, payablesBooked, scanSum); err == nil {
		computed, err = list(t, payablesComputed, scanSum)
	}
	return
}

// LineCheck is what an order line's state says and what its documents say.
type LineCheck struct {
	Name                                   string
	State, Facts                           [3]money.Decimal // received, billed, beyond
	ClosedGoods, ClosedInvoices            bool
	ThreeWay                               bool
	GoodsClosedByFacts, InvoicesClosedFact int64
}

// LineChecks gives every order line's state beside its documents.
func (t *Tx) LineChecks() ([]LineCheck, error) {
	return list(t, lineDifferences, func(r row) (c LineCheck, err error) {
		err = r.Scan(&c.Name, &c.State[0], &c.State[1], &c.State[2], &c.ClosedGoods, &c.ClosedInvoices, &c.ThreeWay, &c.Facts[0], &c.Facts[1], &c.Facts[2], &c.GoodsClosedByFacts, &c.InvoicesClosedFact)
		if !c.ThreeWay {
			c.Facts[2] = 0 // on a two-way line nothing stands beyond receipts
		}
		return
	})
}

// Overdrawn lists receipt lines that more was taken from than came.
func (t *Tx) Overdrawn() ([]Sum, error) { return list(t, overdrawn, scanSum) }

// OpenCheck is what an invoice's state says is open, and what its payments say.
type OpenCheck struct {
	Number       int64
	State        string
	Open, ByFact money.Amount
}

// OpenChecks gives every invoice's open amount beside its payments.
func (t *Tx) OpenChecks() ([]OpenCheck, error) {
	return list(t, openInvoices, func(r row) (c OpenCheck, err error) {
		err = r.Scan(&c.Number, &c.State, &c.Open, &c.ByFact)
		return
	})
}

// AuditAfter lists the record's rows after a number, in order, some at a time.
func (t *Tx) AuditAfter(seq int64) ([]AuditRow, error) {
	return list(t, auditAfter, func(r row) (a AuditRow, err error) {
		err = r.Scan(&a.Seq, &a.At, &a.Actor, &a.Role, &a.Command, &a.Cause, &a.Subject, &a.Number, &a.Before, &a.After, &a.Previous, &a.Hash)
		return
	}, seq)
}
