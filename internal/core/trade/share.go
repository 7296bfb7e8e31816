package trade

// This file tells which part of an invoice is about which order.

import (
	"slices"

	"lagoon/internal/core/money"
)

// OrderShare is the part of an invoice that is about one order: the net of its goods, and what it
// is charged by kind.
type OrderShare struct {
	OrderID int64
	Goods   money.Amount
	Charges []ChargeShare
}

// ChargeShare is what of a charge falls on one order. Line is the invoice line that carries it,
// counted from 1, or 0 where it stands on the whole invoice.
type ChargeShare struct {
	Kind        string
	Line        int
	Name        string
	Amount      money.Amount
	TaxCategory string
	TaxRate     money.Decimal
}

// Shares splits an invoice over the orders that its lines are about, in the order in which
// they appear. A charge line is its own order's; charges of the whole document are split by the
// net of the goods, by largest remainder (rules §5). What is about no order is in none.
func (inv Invoice) Shares(t Totals) []OrderShare {
	var shares []OrderShare
	of := func(order int64) *OrderShare {
		at := slices.IndexFunc(shares, func(s OrderShare) bool { return s.OrderID == order })
		if at < 0 {
			shares, at = append(shares, OrderShare{OrderID: order}), len(shares)
		}
		return &shares[at]
	}
	if inv.OrderID != 0 {
		of(inv.OrderID)
	}
	for i, l := range inv.Lines {
		switch {
		case l.OrderID == 0:
		case l.ChargeKind == "":
			of(l.OrderID).Goods += t.LineNets[i]
		default:
			s := of(l.OrderID)
			s.Charges = append(
				s.Charges,
				ChargeShare{l.ChargeKind, l.No, l.Description, t.LineNets[i], l.TaxCategory, l.TaxRate},
			)
		}
	}
	if len(shares) == 0 {
		return nil
	}
	weights := make([]money.Amount, len(shares))
	for i, s := range shares {
		weights[i] = max(0, s.Goods)
	}
	for _, c := range inv.Charges {
		if c.Allowance {
			continue
		}
		parts, err := money.Split(c.Amount, weights)
		if err != nil { // nothing to split over: the first order bears it
			parts = make([]money.Amount, len(shares))
			parts[0] = c.Amount
		}
		for i, part := range parts {
			if part != 0 {
				shares[i].Charges = append(
					shares[i].Charges,
					ChargeShare{c.Kind, 0, c.Reason, part, c.TaxCategory, c.TaxRate},
				)
			}
		}
	}
	return shares
}

// ByKind sums the charges of a share.
func (s OrderShare) ByKind() map[string]money.Amount {
	sums := map[string]money.Amount{}
	for _, c := range s.Charges {
		sums[c.Kind] += c.Amount
	}
	return sums
}

// Concerns are the orders that the invoice is about, the document's own first.
func (inv Invoice) Concerns() []int64 {
	var orders []int64
	for _, id := range append([]int64{inv.OrderID}, inv.lineOrders()...) {
		if id != 0 && !slices.Contains(orders, id) {
			orders = append(orders, id)
		}
	}
	return orders
}

// AboutOrder says what order the invoice is about, with all its lines that name no other one and are charged to nothing.
func (inv *Invoice) AboutOrder(order int64) {
	for i := range inv.Lines {
		l := &inv.Lines[i]
		if l.OrderID == 0 && len(l.Coding) == 0 && (l.OrderStated == "" || l.OrderStated == inv.OrderStated) {
			l.OrderID = order
		}
	}
	if inv.OrderID == 0 {
		inv.OrderID = order
	}
}

func (inv Invoice) lineOrders() []int64 {
	orders := make([]int64, len(inv.Lines))
	for i, l := range inv.Lines {
		orders[i] = l.OrderID
	}
	return orders
}
