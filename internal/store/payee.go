package store

// This file keeps who is paid for one invoice in the place of its supplier.

import (
	"cmp"
	"errors"

	"lagoon/internal/core/trade"
)

// InvoicePayee is who is paid for one invoice: a supplier by row key (zero: its own supplier again), why, by whom it was set, and who
// else confirmed it, after which check (zero: nobody).
type InvoicePayee struct {
	Payee         int64
	Code, Name    string // of the payee
	IBAN          string // of the payee, as it is now
	Note          string
	By            int64
	ByName, At    string
	ConfirmedBy   int64
	ConfirmedName string
	Checked       string
}

var (
	putInvoicePayee = statement(
		`INSERT INTO invoice_payee (invoice, payee, note, by_person, at, confirmed_by, checked) VALUES (?, nullif(?, 0), ?, ?, ?, nullif(?, 0), ?)
		ON CONFLICT (invoice) DO UPDATE SET payee = excluded.payee, note = excluded.note, by_person = excluded.by_person, at = excluded.at,
		confirmed_by = excluded.confirmed_by, checked = excluded.checked`,
	)
	invoicePayee = statement(
		`SELECT y.payee, s.code, s.name, s.iban, y.note, y.by_person, p.name, y.at, coalesce(y.confirmed_by, 0), coalesce(c.name, ''), y.checked
		FROM invoice_payee y CROSS JOIN supplier s ON s.id = y.payee CROSS JOIN person p ON p.id = y.by_person
		LEFT JOIN person c ON c.id = y.confirmed_by WHERE y.invoice = ?`,
	)
)

// PutInvoicePayee writes who is paid for an invoice.
func (t *Tx) PutInvoicePayee(invoice int64, p InvoicePayee) error {
	return t.do(putInvoicePayee, invoice, p.Payee, p.Note, p.By, p.At, p.ConfirmedBy, p.Checked)
}

// PayeeOf is who is paid for an invoice in the place of its supplier, or nil.
func (t *Tx) PayeeOf(invoice int64) (*InvoicePayee, error) {
	own, err := one(t, invoicePayee, func(r row) (p InvoicePayee, err error) {
		err = r.Scan(&p.Payee, &p.Code, &p.Name, &p.IBAN, &p.Note, &p.By, &p.ByName, &p.At, &p.ConfirmedBy, &p.ConfirmedName, &p.Checked)
		return
	}, invoice)
	if errors.Is(err, ErrNone) {
		return nil, nil
	}
	return &own, err
}

// AccountsNamed are the further accounts that an invoice may name of a supplier as it is paid: of whom is paid and, where that is
// another for one invoice alone, of its own as well, which is no sign of a changed paper.
func (t *Tx) AccountsNamed(paid trade.Supplier) ([]trade.BankAccount, error) {
	all, err := t.Accounts(cmp.Or(paid.PayTo, paid.ID))
	if err != nil || !paid.PaidApart {
		return all, err
	}
	usual, err := t.Supplier(paid.ID)
	if err == nil {
		usual, err = t.PaidAs(usual)
	}
	if err != nil {
		return all, err
	}
	own, err := t.Accounts(cmp.Or(usual.PayTo, usual.ID))
	return append(append(all, trade.BankAccount{IBAN: usual.IBAN, BIC: usual.BIC, By: usual.AccountBy}), own...), err
}

// PaidFor is a supplier with the bank account that is paid for one invoice, by row key: as PaidAs, or that of who is paid for it
// alone. Until another person has confirmed that one, its account counts as changed by who set it.
func (t *Tx) PaidFor(s trade.Supplier, invoice int64) (trade.Supplier, error) {
	if invoice == 0 { // it is not here yet, so that nobody said anything of it
		return t.PaidAs(s)
	}
	own, err := t.PayeeOf(invoice)
	if err != nil {
		return s, err
	}
	if own == nil {
		return t.PaidAs(s)
	}
	s.PayTo, s.PaidApart, s.AccountBy = own.Payee, true, 0
	if s, err = t.PaidAs(s); err != nil {
		return s, err
	}
	if own.ConfirmedBy == 0 {
		s.AccountBy = own.By
	}
	return s, nil
}
