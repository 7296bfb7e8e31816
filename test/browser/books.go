package browser

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Verified are invoices of the demo that can be released.
func Verified(t *testing.T, h Place) []store.InvoiceRow {
	t.Helper()
	var all []store.InvoiceRow
	own := Ask(t, h, func(tx *store.Tx) ([]int64, error) {
		clerk, err := tx.PersonByLogin("nora")
		if err != nil {
			return nil, err
		}
		return tx.OwnEntries(trade.Verified, clerk.ID)
	})
	for _, r := range Ask(t, h, func(tx *store.Tx) ([]store.InvoiceRow, error) { return tx.RecentInvoices(0, 200) }) {
		if r.State == trade.Verified && !r.Blocked && r.Kind == trade.PlainInvoice && !slices.Contains(own, r.Number) {
			all = append(all, r)
		}
	}
	require.NotEmpty(t, all)
	return all
}

// Colleague is a demo person who acts elsewhere.
func Colleague(t *testing.T, h Place, login string) act.Command {
	t.Helper()
	actor, err := h.App.ActorByLogin(context.Background(), login)
	require.NoError(t, err)
	return act.Command{Actor: actor}
}

// DeliveryOf is the number of the delivery with a note.
func DeliveryOf(t testing.TB, h Place, note string) int64 {
	t.Helper()
	order := OrderOf(t, h, note)
	return Ask(t, h, func(tx *store.Tx) (int64, error) {
		o, err := tx.OrderByNumber(order, store.AllReserved)
		if err != nil {
			return 0, err
		}
		all, err := tx.Deliveries(o.ID)
		at := slices.IndexFunc(all, func(d store.Delivery) bool { return d.Note == note })
		require.GreaterOrEqual(t, at, 0)
		return all[at].Number, err
	})
}

// Ask reads from the house's data.
func Ask[T any](t testing.TB, h Place, do func(*store.Tx) (T, error)) T {
	t.Helper()
	var result T
	require.NoError(t, h.store.Read(context.Background(), func(tx *store.Tx) (err error) {
		result, err = do(tx)
		return err
	}))
	return result
}

// OrderOf is the number of the order that a delivery note was booked on.
func OrderOf(t testing.TB, h Place, note string) int64 {
	return Ask(t, h, func(tx *store.Tx) (int64, error) {
		rows, err := tx.RecentOrders(0, 60)
		for _, r := range rows {
			order, e := tx.OrderByNumber(r.Number, store.AllReserved)
			if e != nil {
				return 0, e
			}
			deliveries, e := tx.Deliveries(order.ID)
			if e != nil {
				return 0, e
			}
			for _, d := range deliveries {
				if d.Note == note {
					return r.Number, nil
				}
			}
		}
		return 0, err
	})
}

// InvoiceOf is the state and Lagoon's number of the invoice with a supplier's number.
func InvoiceOf(t testing.TB, h Place, number string) store.InvoiceRow {
	rows := Ask(t, h, func(tx *store.Tx) ([]store.InvoiceRow, error) { return tx.RecentInvoices(0, 200) })
	for _, r := range rows {
		if r.SupplierNumber == number {
			return r
		}
	}
	t.Fatalf("there is no invoice %s", number)
	return store.InvoiceRow{}
}
