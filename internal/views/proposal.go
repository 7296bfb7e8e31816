package views

// This file proposes invoices by what somebody has in the hand: an order, a delivery note, an item or a supplier.

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// WantedOf says what a proposal is to bill. Share is typed: per cent of the order, or an amount.
type WantedOf struct {
	Rest        bool
	Note, Share string
}

// in reads the share in the order's currency.
func (w WantedOf) in(currency money.Currency) (trade.Wanted, error) {
	wanted := trade.Wanted{Rest: w.Rest, Note: w.Note}
	if strings.TrimSpace(w.Share) == "" {
		return wanted, nil
	}
	var err error
	wanted.Share, wanted.Net, err = trade.ParseShare(w.Share, currency)
	return wanted, err
}

// Proposed is what an order's invoice would say: what is received and not yet invoiced or what else is wanted, at
// the order's prices with its share of each line's discount and charge, and the planned charges that no invoice of the
// order has charged yet.
func Proposed(ctx context.Context, a *act.App, number int64, of WantedOf) (*trade.Order, trade.Invoice, error) {
	var order *trade.Order
	inv, err := act.Read(ctx, a, func(r act.Reading) (inv trade.Invoice, err error) {
		if order, err = r.OrderByNumber(number, store.AllReserved); err != nil {
			return inv, act.Found(err, "There is no order %d.", number)
		}
		wanted, err := of.in(order.Currency)
		if err != nil {
			return inv, err
		}
		return r.ProposedOf(order, wanted)
	})
	return order, inv, err
}

// Start is what somebody has in the hand of an invoice that is to be keyed: an order, perhaps a delivery note of it, a
// supplier, or an item of which goods wait for an invoice.
type Start struct {
	Order    int64  // number
	Of       string // of an order: its supplier's name
	Note     string
	Supplier string // code
	Item     string // code
}

// InvoiceStart finds it by what was typed: an order's number, a delivery note's, an item or a supplier by code or name.
func InvoiceStart(ctx context.Context, a *act.App, typed string) (Start, error) {
	typed = strings.TrimSpace(typed)
	return act.Read(ctx, a, func(r act.Reading) (Start, error) {
		if number, err := strconv.ParseInt(typed, 10, 64); err == nil {
			if order, err := r.OrderByNumber(number, 0); err == nil {
				return Start{Order: number, Of: order.Supplier}, nil
			} else if !errors.Is(err, store.ErrNone) {
				return Start{}, err
			}
		}
		if start, err := noteNamed(r, typed); err != nil || start.Order != 0 {
			return start, err
		}
		return masterNamed(r, typed)
	})
}

// masterNamed finds the one supplier or item that a text names by code, or by the beginnings of words of its name.
func masterNamed(r act.Reading, typed string) (Start, error) {
	code := strings.ToUpper(typed)
	if _, err := r.SupplierByCode(code); err == nil {
		return Start{Supplier: code}, nil
	} else if !errors.Is(err, store.ErrNone) {
		return Start{}, err
	}
	if _, err := r.ItemByCode(code); err == nil {
		return Start{Item: code}, nil
	} else if !errors.Is(err, store.ErrNone) {
		return Start{}, err
	}
	words := wordsOf(typed)
	for i, w := range words {
		words[i] = `"` + w + `"*`
	}
	var found []store.Found
	if len(words) > 0 {
		var err error
		if found, err = r.FindMasters(strings.Join(words, " "), mostFound); err != nil {
			return Start{}, err
		}
	}
	start := func(f store.Found) Start {
		if f.Kind == "supplier" {
			return Start{Supplier: f.Number}
		}
		return Start{Item: f.Number}
	}
	var names []string
	for _, f := range found {
		if strings.EqualFold(f.Number, typed) || strings.EqualFold(f.Label, typed) {
			return start(f), nil
		}
		names = append(names, f.Label)
	}
	switch len(found) {
	case 0:
		return Start{}, fault.New(fault.NotFound, "typed", "There is no order, delivery note, item or supplier “%s”.", typed)
	case 1:
		return start(found[0]), nil
	}
	return Start{}, fault.New(fault.Invalid, "typed", "“%s” may be %s; type more of it.", typed, strings.Join(names[:min(len(names), 4)], ", "))
}

// noteNamed finds a delivery note. Of several suppliers' it is the one of which goods wait for an invoice.
func noteNamed(r act.Reading, typed string) (Start, error) {
	if trade.NormalNumber(typed) == "" {
		return Start{}, nil
	}
	deliveries, err := r.DeliveriesNoted(typed)
	if err != nil {
		return Start{}, err
	}
	var open []Start
	last := int64(0) // the order of the latest
	for _, d := range deliveries {
		order, err := r.Order(d.Order, store.AllReserved)
		if err != nil {
			return Start{}, err
		}
		lines, err := order.Propose(trade.Wanted{Note: d.Note})
		if err != nil {
			return Start{}, err
		}
		if last = max(last, order.Number); len(lines) > 0 {
			open = append(open, Start{Order: order.Number, Of: order.Supplier, Note: d.Note})
		}
	}
	switch {
	case len(open) == 1:
		return open[0], nil
	case len(open) > 1:
		return Start{}, fault.New(fault.Invalid, "typed",
			"Delivery notes “%s” of several orders wait for an invoice: type the order’s number.", typed)
	case len(deliveries) > 0:
		return Start{}, fault.New(fault.Refused, "typed",
			"Everything that came under delivery note “%s” is invoiced. To key another invoice of its order, type %d.", typed, last)
	}
	return Start{}, nil
}

// OpenReceipt is what of a delivery of an order is here and waits for an invoice.
type OpenReceipt struct {
	trade.OpenReceipt
	Order    *trade.Order
	Supplier string // code
	Net      money.Amount
}

// mostOpenOrders is how many orders are looked through for receipts that wait for an invoice.
const mostOpenOrders = 40

// openOf are the open lines of a supplier, and of those in whose place it may invoice.
func openOf(r act.Reading, supplier, item string) ([]store.OpenLine, error) {
	lines, err := r.OpenLines(store.LineFilter{Supplier: supplier, Item: item})
	if err != nil || supplier == "" {
		return lines, err
	}
	of, err := r.SupplierByCode(supplier)
	if err != nil {
		return lines, act.Found(err, "There is no supplier %q.", supplier)
	}
	places, err := r.InvoicesFor(of.ID)
	for _, p := range places {
		more, wrong := r.OpenLines(store.LineFilter{Supplier: p.Code, Item: item})
		lines, err = append(lines, more...), errors.Join(err, wrong)
	}
	return lines, err
}

// OpenReceipts are those of a supplier or of an item, by order and delivery, and whether there are more.
func OpenReceipts(ctx context.Context, a *act.App, supplier, item string) (all []OpenReceipt, more bool, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		lines, err := openOf(r, supplier, item)
		if err != nil {
			return none, err
		}
		var orders []int64
		for _, l := range lines {
			if l.Uninvoiced > 0 && !slices.Contains(orders, l.Order) {
				orders = append(orders, l.Order)
			}
		}
		slices.Sort(orders)
		if more = len(orders) > mostOpenOrders; more {
			orders = orders[:mostOpenOrders]
		}
		for _, number := range orders {
			order, err := r.OrderByNumber(number, store.AllReserved)
			if err != nil {
				return none, err
			}
			of, err := r.Supplier(order.SupplierID)
			if err != nil {
				return none, err
			}
			for _, one := range order.OpenReceipts() {
				if item != "" && one.Line.ItemCode != item {
					continue
				}
				net, err := one.Line.UnitPrice(order.Currency).Times(one.Quantity, order.Currency)
				if err != nil {
					return none, err
				}
				all = append(all, OpenReceipt{one, order, of.Code, net})
			}
		}
		slices.SortStableFunc(all, func(a, b OpenReceipt) int {
			if by := int(a.Order.Number - b.Order.Number); by != 0 {
				return by
			}
			return int(a.Receipt.Delivery - b.Receipt.Delivery)
		})
		return none, nil
	})
	return all, more, err
}
