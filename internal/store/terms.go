package store

// This file keeps terms of payment that one order, or one invoice, has in the place of its supplier's (rules §10).

import (
	"encoding/json"
	"errors"

	"lagoon/internal/core/trade"
)

const ownTermRows = `SELECT t.terms, t.note, p.name, t.at FROM own_terms t CROSS JOIN person p ON p.id = t.by_person WHERE `

var (
	addOwnTerms = statement(
		`INSERT INTO own_terms (purchase_order, invoice, terms, note, by_person, at) VALUES (nullif(?, 0), nullif(?, 0), ?, ?, ?, ?)`,
	)
	termsOfOrder   = statement(ownTermRows + `t.purchase_order = ? ORDER BY t.id DESC LIMIT 1`)
	termsOfInvoice = statement(ownTermRows + `t.invoice = ? ORDER BY t.id DESC LIMIT 1`)
	bookedOfOrder  = statement(
		`SELECT DISTINCT x.invoice FROM invoice_order x CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		WHERE x.purchase_order = ? AND s.state IN ('verified', 'released') ORDER BY x.invoice`,
	)
)

// OwnTerms are terms of one order or invoice, why, of whom and when. None: its supplier's hold again.
type OwnTerms struct {
	Terms    *trade.Terms
	Note     string
	By       int64
	Name, At string
}

// AddOwnTerms writes them, of an order or of an invoice, by row key; the other is zero.
func (t *Tx) AddOwnTerms(order, invoice int64, own OwnTerms) error {
	text := ""
	if own.Terms != nil {
		terms, err := json.Marshal(own.Terms)
		if err != nil {
			return err
		}
		text = string(terms)
	}
	return t.do(addOwnTerms, order, invoice, text, own.Note, own.By, own.At)
}

// TermsOfOrder are those of an order alone, or nil.
func (t *Tx) TermsOfOrder(order int64) (*OwnTerms, error) { return t.ownTerms(termsOfOrder, order) }

// TermsOfInvoice are those of an invoice alone, or nil.
func (t *Tx) TermsOfInvoice(invoice int64) (*OwnTerms, error) {
	return t.ownTerms(termsOfInvoice, invoice)
}

func (t *Tx) ownTerms(of *query, id int64) (*OwnTerms, error) {
	own, err := one(t, of, func(r row) (o OwnTerms, err error) {
		var text []byte
		if err = r.Scan(&text, &o.Note, &o.Name, &o.At); err == nil && len(text) > 0 {
			o.Terms = new(trade.Terms)
			err = json.Unmarshal(text, o.Terms)
		}
		return
	}, id)
	if errors.Is(err, ErrNone) || (err == nil && own.Terms == nil) {
		return nil, nil
	}
	return &own, err
}

// BookedOfOrder are the verified and released invoices of an order, as row keys.
func (t *Tx) BookedOfOrder(order int64) ([]int64, error) {
	return list(t, bookedOfOrder, scanOne[int64], order)
}
