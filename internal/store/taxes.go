package store

// This file keeps the tax codes and what carries them.

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	putTaxCode = statement(
		`INSERT INTO tax_code (code, name, category, ended) VALUES (?, ?, ?, ?)
		ON CONFLICT (code) DO UPDATE SET name = excluded.name, category = excluded.category, ended = excluded.ended`,
	)
	putTaxRate = statement(
		`INSERT INTO tax_code_rate (code, from_day, rate) VALUES (?, ?, ?)
		ON CONFLICT (code, from_day) DO UPDATE SET rate = excluded.rate`,
	)
	allTaxCodes = statement(
		`SELECT c.code, c.name, c.category, c.ended, r.from_day, r.rate FROM tax_code c
		JOIN tax_code_rate r ON r.code = c.code WHERE r.rate IS NOT NULL ORDER BY c.code, r.from_day`,
	)
	putSupplierTax = statement(
		`INSERT INTO supplier_tax (supplier, code) VALUES (?, nullif(?, ''))
		ON CONFLICT (supplier) DO UPDATE SET code = excluded.code`,
	)
	putItemTax = statement(
		`INSERT INTO item_tax (item, code) VALUES (?, nullif(?, ''))
		ON CONFLICT (item) DO UPDATE SET code = excluded.code`,
	)
	putOrderLineTax = statement(
		`INSERT INTO order_line_tax (order_line, code) VALUES (?, nullif(?, ''))
		ON CONFLICT (order_line) DO UPDATE SET code = excluded.code`,
	)
	addInvoiceLineTax = statement(`INSERT INTO invoice_line_tax (invoice_line, code, own_rate) VALUES (?, ?, ?)`)
	invoiceLineTaxes  = statement(
		`SELECT il.no, x.code, x.own_rate FROM invoice_line il CROSS JOIN invoice_line_tax x ON x.invoice_line = il.id
		WHERE il.invoice_revision = ? ORDER BY il.no`,
	)
	addTaxPoint = statement(`INSERT INTO invoice_tax_point (invoice_revision, day) VALUES (?, ?)`)
)

// TaxCodes are the company's by code, those that are ended too.
func (t *Tx) TaxCodes() (trade.TaxCodes, error) {
	if t.memo.taxed {
		return t.memo.taxes, nil
	}
	var all trade.TaxCodes
	_, err := list(t, allTaxCodes, func(r row) (none struct{}, err error) {
		var c trade.TaxCode
		var rate trade.TaxRate
		err = r.Scan(&c.Code, &c.Name, &c.Category, &c.Ended, &rate.From, &rate.Rate)
		if n := len(all); n == 0 || all[n-1].Code != c.Code {
			all = append(all, c)
		}
		last := &all[len(all)-1]
		last.Rates = append(last.Rates, rate)
		return
	})
	if err == nil {
		t.memo.taxes, t.memo.taxed = all, true
	}
	return all, err
}

// PutTaxCode writes a tax code; a rate of a day that it had before and has no more is taken out.
func (t *Tx) PutTaxCode(c trade.TaxCode, before []trade.TaxRate) error {
	t.memo.taxed = false
	if err := t.do(putTaxCode, c.Code, c.Name, c.Category, c.Ended); err != nil {
		return err
	}
	rates := map[day.Day]*money.Decimal{}
	for _, r := range before {
		rates[r.From] = nil
	}
	for _, r := range c.Rates {
		rates[r.From] = &r.Rate
	}
	for _, r := range append(before, c.Rates...) {
		if rate, left := rates[r.From]; left {
			delete(rates, r.From)
			if err := t.do(putTaxRate, c.Code, r.From, rate); err != nil {
				return err
			}
		}
	}
	return nil
}

// taxOf is a tax code with its rates; none for no code.
func (t *Tx) taxOf(code string) (trade.TaxCode, error) {
	if code == "" {
		return trade.TaxCode{}, nil
	}
	all, err := t.TaxCodes()
	named, _ := all.Named(code)
	return named, err
}

// addTaxes writes what tax codes the lines of a revision bear, and its tax point; the lines have their row keys.
func (t *Tx) addTaxes(inv trade.Invoice, revision int64) error {
	for _, l := range inv.Lines {
		if l.TaxCode != "" {
			if err := t.do(addInvoiceLineTax, l.ID, l.TaxCode, l.OwnRate); err != nil {
				return err
			}
		}
	}
	if inv.TaxPoint == "" {
		return nil
	}
	return t.do(addTaxPoint, revision, inv.TaxPoint)
}

// taxes reads the tax codes into the lines of a revision.
func (t *Tx) taxes(revision int64, lines []trade.InvoiceLine) error {
	return t.intoLines(invoiceLineTaxes, revision, lines, func(r row) (no int, put func(*trade.InvoiceLine), err error) {
		var code string
		var own *money.Decimal
		err = r.Scan(&no, &code, &own)
		return no, func(l *trade.InvoiceLine) { l.TaxCode, l.OwnRate = code, own }, err
	})
}
