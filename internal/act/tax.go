package act

// This file finds the tax codes of what is entered.

import (
	"cmp"
	"errors"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TaxTyped is the tax code that somebody typed, with the rate that a document of a day states under it, or what stands
// against it. Before the day is known it is today.
func (r Reading) TaxTyped(code string, on day.Day, field string) (trade.TaxCode, money.Decimal, *fault.Fault, error) {
	all, err := r.TaxCodes()
	if err != nil {
		return trade.TaxCode{}, 0, nil, err
	}
	named, known := all.Named(strings.TrimSpace(code))
	if !known {
		return named, 0, fault.New(
			fault.Invalid,
			field,
			"There is no tax code “%s”. Type a rate, or a code of those under Budgets and books.",
			strings.TrimSpace(code),
		), nil
	}
	on = cmp.Or(on, r.Today())
	rate, known := named.StatedOn(on)
	if !known {
		return named, 0, fault.New(
			fault.Invalid,
			field,
			"Tax code %s has no rate on %s; its first holds from %s.",
			named.Code,
			on,
			named.Rates[0].From,
		), nil
	}
	return named, rate, nil, nil
}

// TaxKnown tells whether there is a tax code of that name; none is always known.
func (r Reading) TaxKnown(code string) (bool, error) {
	all, err := r.TaxCodes()
	_, known := all.Named(code)
	return known || code == "", err
}

// RatesOn is the day that says which rates an invoice bears: its tax point; of a credit note or an adjustment that of the
// invoice that it names, where that is here.
func (r Reading) RatesOn(inv trade.Invoice) (day.Day, error) {
	if !inv.Follows() || inv.Credited == "" || inv.SupplierID == 0 {
		return inv.PointOfTax(), nil
	}
	credited, err := r.Credited(inv.SupplierID, inv.Credited)
	if errors.Is(err, store.ErrNone) {
		return inv.PointOfTax(), nil
	}
	if err != nil {
		return "", err
	}
	s, err := r.InvoiceState(credited.Invoice)
	if err != nil {
		return "", err
	}
	named, err := r.Invoice(s.Revision)
	return named.PointOfTax(), err
}

// NameTaxes gives the lines of an invoice their tax codes: what its order lines bear, else its supplier.
func (r Reading) NameTaxes(inv *trade.Invoice, supplier trade.Supplier, orders []*trade.Order) error {
	codes, err := r.TaxCodes()
	if err != nil || len(codes) == 0 {
		return err
	}
	point, err := r.RatesOn(*inv)
	if err != nil {
		return err
	}
	inv.NameTaxes(codes, point, func(l trade.InvoiceLine) string {
		if _, line := trade.LineOf(orders, l.OrderLineID); line != nil {
			return line.Tax.Code
		}
		return ""
	}, supplier.Tax)
	return nil
}
