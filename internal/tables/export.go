package tables

// This file gives suppliers, items and orders as tables.

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/tabular"
	"lagoon/internal/store"
)

// Export gives a table of what there is, as it can be imported again: orders are
// the lines of the newest.
func Export(ctx context.Context, a *act.App, kind Kind) (tabular.Table, error) {
	return act.Read(ctx, a, func(r act.Reading) (tabular.Table, error) {
		t := tabular.Table{Columns: tableColumns[kind]}
		var err error
		switch kind {
		case Suppliers:
			t.Rows, err = supplierRows(r)
		case Items:
			t.Rows, err = itemRows(r)
		case Orders:
			t.Rows, err = orderRows(r)
		default:
			err = fault.New(fault.NotFound, "kind", "There is no such table.")
		}
		return t, err
	})
}

// atOnce is how many rows of a table are read by one statement.
var atOnce = 1000

// toTheEnd reads a table whole, so many rows at once, each time on from the key of the
// last one; zero is before the first.
func toTheEnd[T any](next func(last int64, most int) ([]T, error), key func(T) int64) ([]T, error) {
	var rows []T
	for last := int64(0); ; last = key(rows[len(rows)-1]) {
		more, err := next(last, atOnce)
		if rows = append(rows, more...); err != nil || len(more) < atOnce {
			return rows, err
		}
	}
}

func supplierRows(r act.Reading) ([][]string, error) {
	all, err := toTheEnd(r.SuppliersAfter, func(s trade.Supplier) int64 { return s.ID })
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(
		all,
		func(a, b trade.Supplier) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) },
	)
	var rows [][]string
	for _, s := range all {
		addresses, err := r.Addresses(s.ID)
		if err != nil {
			return nil, err
		}
		var a store.Address
		for _, x := range addresses {
			if !x.Ended && a.No == 0 {
				a = x
			}
		}
		t := s.Terms
		rows = append(
			rows,
			[]string{
				s.Code,
				s.Name,
				s.Country,
				string(s.Currency),
				yes(!s.NotYet),
				yes(s.Once),
				s.TaxID,
				yes(s.Untaxed),
				s.Language,
				s.IBAN,
				s.BIC,
				strconv.Itoa(t.NetDays),
				yes(t.EndOfMonth),
				strconv.Itoa(t.DayOfMonth),
				yes(
					t.FromReceipt,
				),
				t.DiscountPercent.String(),
				strconv.Itoa(t.DiscountDays),
				string(s.Level),
				s.Budget,
				s.Tax,
				s.LeastOrder.Text(s.Currency),
				s.FreeFrom.Text(s.Currency),
				s.ClosedDays,
				a.Street,
				a.City,
				a.Region,
				a.Postcode,
			},
		)
	}
	return rows, nil
}

func itemRows(r act.Reading) ([][]string, error) {
	all, err := toTheEnd(r.ItemsAfter, func(i store.Item) int64 { return i.ID })
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(
		all,
		func(a, b store.Item) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) },
	)
	var rows [][]string
	for _, i := range all {
		sellers, err := r.Sellings(i.ID)
		if err != nil {
			return nil, err
		}
		if len(sellers) == 0 {
			sellers = []store.Selling{{}}
		}
		for _, s := range sellers {
			rows = append(
				rows,
				[]string{
					i.Code,
					i.Name,
					i.Unit,
					yes(i.Whole),
					i.Base.String(),
					yes(i.Lots),
					string(i.Level),
					string(i.Account),
					i.Budget,
					i.Tax,
					s.Supplier,
					s.Code,
				},
			)
		}
	}
	return rows, nil
}

func orderRows(r act.Reading) ([][]string, error) {
	newest, err := toTheEnd(r.RecentOrders, func(o store.OrderRow) int64 { return o.Number })
	if err != nil {
		return nil, err
	}
	var rows [][]string
	for _, o := range newest {
		order, err := r.OrderByNumber(o.Number, store.AllReserved)
		if err != nil {
			return nil, err
		}
		supplier, err := r.Supplier(order.SupplierID)
		if err != nil {
			return nil, err
		}
		rows = append(rows, rowsOfOrder(order, supplier.Code)...)
	}
	return rows, nil
}

// rowsOfOrder is a row for each line of an order, and for each charge that it plans.
func rowsOfOrder(order *trade.Order, supplier string) [][]string {
	var rows [][]string
	head := func(wanted day.Day) []string {
		return []string{
			fmt.Sprint(order.Number), supplier, string(wanted), order.About, order.RequestedBy, order.Place,
			order.Elsewhere, order.TheirReference, order.Contact, order.Instructions, order.Note,
		}
	}
	for _, l := range order.Lines {
		line := ""
		if l.BudgetLine != 0 {
			line = strconv.Itoa(l.BudgetLine)
		}
		rows = append(
			rows,
			append(
				head(l.WantedOn),
				l.ItemCode,
				l.Description,
				l.Quantity.String(),
				l.Unit,
				l.Price.String(),
				l.Base.String(),
				l.Discount.Text(order.Currency),
				l.Charge.Text(order.Currency),
				l.TaxCategory,
				l.TaxRate.String(),
				l.Tax.Code,
				l.Budget,
				line,
				l.Note,
				"",
				"",
			),
		)
	}
	for _, c := range order.Charges {
		if c.Amount != 0 { // else it was taken out
			rows = append(
				rows,
				append(
					head(order.WantedOn),
					"",
					c.Description,
					"",
					"",
					"",
					"",
					"",
					"",
					c.TaxCategory,
					c.TaxRate.String(),
					"",
					"",
					"",
					"",
					c.Kind,
					c.Amount.Text(order.Currency),
				),
			)
		}
	}
	return rows
}
