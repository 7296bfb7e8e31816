package store

// This file keeps who may invoice in a supplier's place.

import (
	"lagoon/internal/core/match"
	"lagoon/internal/core/trade"
)

var (
	putInvoicer = statement(
		`INSERT INTO supplier_invoicer (supplier, invoicer, named_by, confirmed_by, ended) VALUES (?, ?, ?, nullif(?, 0), ?)
		ON CONFLICT DO UPDATE SET named_by = excluded.named_by, confirmed_by = excluded.confirmed_by, ended = excluded.ended`,
	)
	invoicersOf = statement(
		`SELECT i.supplier, i.invoicer, s.code, s.name, i.named_by, p.name, coalesce(i.confirmed_by, 0)
		FROM supplier_invoicer i CROSS JOIN supplier s ON s.id = i.invoicer JOIN person p ON p.id = i.named_by
		WHERE i.supplier = ? AND i.ended = 0 ORDER BY i.invoicer`,
	)
	invoicesFor = statement(
		`SELECT i.supplier, i.invoicer, s.code, s.name, i.named_by, '', coalesce(i.confirmed_by, 0)
		FROM supplier_invoicer i CROSS JOIN supplier s ON s.id = i.supplier
		WHERE i.invoicer = ? AND i.ended = 0 ORDER BY i.supplier`,
	)
)

// Invoicer may invoice in a supplier's place once somebody else has confirmed it.
type Invoicer struct {
	Supplier, Invoicer int64
	Code, Name         string // of the invoicer; told by InvoicesFor, of the supplier
	By                 int64
	ByName             string
	Confirmed          int64 // by whom; 0: not yet
}

func scanInvoicer(r row) (i Invoicer, err error) {
	err = r.Scan(&i.Supplier, &i.Invoicer, &i.Code, &i.Name, &i.By, &i.ByName, &i.Confirmed)
	return
}

// PutInvoicer writes that somebody may invoice in a supplier's place, or may no more.
func (t *Tx) PutInvoicer(i Invoicer, ended bool) error {
	return t.do(putInvoicer, i.Supplier, i.Invoicer, i.By, i.Confirmed, ended)
}

// InvoicersOf are those who may invoice in a supplier's place.
func (t *Tx) InvoicersOf(supplier int64) ([]Invoicer, error) {
	return list(t, invoicersOf, scanInvoicer, supplier)
}

// InvoicesFor are the suppliers in whose place somebody may invoice.
func (t *Tx) InvoicesFor(invoicer int64) ([]Invoicer, error) {
	return list(t, invoicesFor, scanInvoicer, invoicer)
}

// Invoices tells whether somebody may invoice an order, for themselves or in its supplier's place, confirmed or not.
func (t *Tx) Invoices(invoicer int64, order *trade.Order) (bool, error) {
	if order.SupplierID == invoicer {
		return true, nil
	}
	all, err := t.InvoicersOf(order.SupplierID)
	for _, i := range all {
		if i.Invoicer == invoicer {
			return true, err
		}
	}
	return false, err
}

// strangers are the orders of an invoice that whoever sent it may not invoice: nobody has confirmed it.
func (t *Tx) strangers(inv trade.Invoice, facts *match.Facts) error {
	for _, o := range facts.Orders {
		if o.SupplierID == inv.SupplierID || inv.SupplierID == 0 {
			continue
		}
		all, err := t.InvoicersOf(o.SupplierID)
		if err != nil {
			return err
		}
		stranger := match.Stranger{Order: o.Number, Supplier: o.Supplier}
		may := false
		for _, i := range all {
			if i.Invoicer == inv.SupplierID {
				may, stranger.NamedBy = i.Confirmed != 0, i.ByName
			}
		}
		if !may {
			facts.Strangers = append(facts.Strangers, stranger)
		}
	}
	return nil
}
