package store

// This file reads what a day brought and what is open, for whoever leads the work.

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Untouched is, in SQL, whether nobody had to do anything about an invoice i with its state s: no person keyed, corrected, accepted,
// approved or claimed anything of it.
const Untouched = `(i.source <> 'keyed' AND NOT EXISTS (SELECT 1 FROM invoice_revision u WHERE u.id = s.revision AND u.revision > 1)
	AND NOT EXISTS (SELECT 1 FROM acceptance a WHERE a.revision = s.revision) AND NOT EXISTS (SELECT 1 FROM invoice_approval v WHERE v.revision = s.revision)
	AND NOT EXISTS (SELECT 1 FROM claim c WHERE c.invoice = s.invoice))`

var (
	cameIn = statement(
		`SELECT i.captured_on, s.state, ` + Untouched + ` FROM invoice i CROSS JOIN invoice_state s ON s.invoice = i.id
		WHERE i.captured_on >= ?1 AND i.captured_on <= ?2`,
	)
	openNow = statement(
		`SELECT s.state, s.turn, s.since, s.total, s.currency, s.discount, s.discount_until, ` + WithName + ` FROM invoice_state s
		WHERE s.state IN ('captured', 'waiting', 'held', 'verified') ORDER BY s.state`,
	)
)

// CameIn is an invoice that came in on a day, as it stands now. Untouched: nobody had to do anything about it.
type CameIn struct {
	On        day.Day
	State     trade.InvoiceState
	Untouched bool
}

// CameIn are the invoices that came in from one day to another, in no order.
func (t *Tx) CameIn(from, until day.Day) ([]CameIn, error) {
	return list(t, cameIn, func(r row) (c CameIn, err error) {
		err = r.Scan(&c.On, &c.State, &c.Untouched)
		return
	}, from, until)
}

// OpenNow is an invoice that is not released yet.
type OpenNow struct {
	State         trade.InvoiceState
	Turn, Since   string // whose turn it is, and since when it stands so
	Total         money.Money
	Discount      money.Amount
	DiscountUntil day.Day
	With          string // the name of whom it is with; empty: all whose turn it may be
}

// OpenNow are all of them, in no order.
func (t *Tx) OpenNow() ([]OpenNow, error) {
	return list(t, openNow, func(r row) (o OpenNow, err error) {
		err = r.Scan(&o.State, &o.Turn, &o.Since, &o.Total.Amount, &o.Total.Currency, &o.Discount, &o.DiscountUntil, &o.With)
		return
	})
}
