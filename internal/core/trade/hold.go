package trade

import (
	"slices"
	"strings"
)

// SupplierHold is one thing that is not done with a supplier for now; several stand at once (rules §3, §7). Receiving
// and matching go on under all of them.
type SupplierHold string

// The holds on a supplier, in the order in which they are told.
const (
	PaymentHeld    SupplierHold = "payment_held"    // its invoices are verified, and neither released nor paid
	InDispute      SupplierHold = "in_dispute"      // as payment held; who orders is warned
	NothingOrdered SupplierHold = "nothing_ordered" // no order is issued
)

// SupplierHolds are all of them.
var SupplierHolds = [...]SupplierHold{PaymentHeld, InDispute, NothingOrdered}

// Holds are the holds that stand on a supplier, each once, in their order.
type Holds []SupplierHold

// Has tells whether a hold stands.
func (h Holds) Has(hold SupplierHold) bool { return slices.Contains(h, hold) }

// With is h and a hold.
func (h Holds) With(hold SupplierHold) Holds {
	return only(func(each SupplierHold) bool { return each == hold || h.Has(each) })
}

// Without is h without a hold.
func (h Holds) Without(hold SupplierHold) Holds {
	return only(func(each SupplierHold) bool { return each != hold && h.Has(each) })
}

// OfPayment are those under which nothing is released or paid.
func (h Holds) OfPayment() Holds { return h.Without(NothingOrdered) }

// String names them with a space between two; empty where none stands.
func (h Holds) String() string {
	names := make([]string, len(h))
	for i, hold := range h {
		names[i] = string(hold)
	}
	return strings.Join(names, " ")
}

// HoldsOf reads what String wrote.
func HoldsOf(names string) Holds {
	said := strings.Fields(names)
	return only(func(each SupplierHold) bool { return slices.Contains(said, string(each)) })
}

func only(stands func(SupplierHold) bool) Holds {
	var holds Holds
	for _, each := range SupplierHolds {
		if stands(each) {
			holds = append(holds, each)
		}
	}
	return holds
}
