package views

// This file puts the invoices beside each other that may be one and the same.

import (
	"cmp"
	"context"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// MostAlike is how many invoices stand beside each other at most, the one that is asked of among them.
const MostAlike = 6

// mostLike is how many numbers like one are looked under.
const mostLike = 100

func apart(a, b money.Money) int {
	if a == b {
		return 0
	}
	return 1
}

// Alike are an invoice, those under its number, and those under numbers like it, whatever supplier and state.
type Alike struct {
	Of         store.NamedInvoice
	Same, Like []store.NamedInvoice
	More       bool // than are given
}

// AlikeTo reads them.
func AlikeTo(ctx context.Context, a *act.App, number int64) (Alike, error) {
	return act.Read(ctx, a, func(r act.Reading) (found Alike, err error) {
		inv, _, err := r.InvoiceNumbered(number)
		if err != nil {
			return found, act.Found(err, "There is no invoice %d.", number)
		}
		found.Of = store.NamedInvoice{Number: number, SupplierNumber: inv.SupplierNumber}
		under := func(key string) ([]store.NamedInvoice, error) {
			all, err := r.UnderNumber(key, MostAlike+1)
			return slices.DeleteFunc(all, func(n store.NamedInvoice) bool { return n.Number == number }), err
		}
		if found.Same, err = under(trade.NormalNumber(inv.SupplierNumber)); err != nil {
			return found, err
		}
		keys, err := r.LikeNumbers(inv.SupplierNumber)
		if err != nil {
			return found, err
		}
		for _, key := range keys[:min(len(keys), mostLike)] {
			more, err := under(key)
			if err != nil {
				return found, err
			}
			found.Like = append(found.Like, more...)
		}
		// Numbers follow each other, and those beside it are like it: what has its total as well stands first.
		total := money.Money{Amount: inv.StatedTotal, Currency: inv.Currency}
		slices.SortStableFunc(found.Like, func(a, b store.NamedInvoice) int {
			return cmp.Compare(apart(a.Total, total), apart(b.Total, total))
		})
		room := max(0, MostAlike-1-len(found.Same))
		found.More = len(keys) > mostLike || len(found.Like) > room || len(found.Same) > MostAlike-1
		found.Same, found.Like = found.Same[:min(len(found.Same), MostAlike-1)], found.Like[:min(len(found.Like), room)]
		return found, nil
	})
}
