package store

// This file keeps money that moved outside payment runs: an invoice paid otherwise, a credit note refunded.

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Settlement is money that moved outside a run, about an invoice or, coming back, about a credit note.
type Settlement struct {
	ID, Number    int64
	Invoice       int64 // row key
	InvoiceNumber int64
	Way           string       // bank, cash, card
	Amount        money.Amount // above zero, in the invoice's currency
	Base          money.Amount // of the payables that it settled, in the company's; of a credit note below zero
	Day           day.Day
	Reference     string
	Entry         int64 // number
	By            int64
	ByName, At    string
}

const settlementRows = `SELECT t.id, t.number, t.invoice, i.number, t.way, t.amount, t.base, t.day, t.reference, t.entry, t.by_person, p.name, t.at
	FROM settlement t CROSS JOIN invoice i ON i.id = t.invoice CROSS JOIN person p ON p.id = t.by_person
	WHERE NOT EXISTS (SELECT 1 FROM settlement_end e WHERE e.settlement = t.id) AND `

var (
	addSettlement = statement(
		`INSERT INTO settlement (number, invoice, way, amount, base, day, reference, entry, by_person, at)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	endSettlement      = statement(`INSERT INTO settlement_end (settlement, reason, by_person, at) VALUES (?, ?, ?, ?)`)
	settlementsOf      = statement(settlementRows + `t.invoice = ? ORDER BY t.id`)
	settlementNumbered = statement(settlementRows + `t.number = ?`)
	settledOtherwise   = statement(otherwiseSum)
)

// otherwiseSum is what was paid of a document (?1) outside runs.
const otherwiseSum = `SELECT coalesce(sum(t.amount), 0) FROM settlement t WHERE t.invoice = ?1
	AND NOT EXISTS (SELECT 1 FROM settlement_end e WHERE e.settlement = t.id)`

func scanSettlement(r row) (s Settlement, err error) {
	err = r.Scan(&s.ID, &s.Number, &s.Invoice, &s.InvoiceNumber, &s.Way, &s.Amount, &s.Base, &s.Day, &s.Reference, &s.Entry, &s.By, &s.ByName, &s.At)
	return
}

// AddSettlement writes one.
func (t *Tx) AddSettlement(s Settlement) error {
	return t.do(addSettlement, s.Number, s.Invoice, s.Way, s.Amount, s.Base, s.Day, s.Reference, s.Entry, s.By, s.At)
}

// EndSettlement takes it back.
func (t *Tx) EndSettlement(id int64, reason string, by int64, at string) error {
	return t.do(endSettlement, id, reason, by, at)
}

// SettlementsOf are those of an invoice that stand.
func (t *Tx) SettlementsOf(invoice int64) ([]Settlement, error) {
	return list(t, settlementsOf, scanSettlement, invoice)
}

// Settlement is a standing one by its number, or ErrNone.
func (t *Tx) Settlement(number int64) (Settlement, error) {
	return one(t, settlementNumbered, scanSettlement, number)
}
