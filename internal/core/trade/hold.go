package trade

import (
	"slices"
	"strings"

	"lagoon/internal/core/day"
)

// SupplierHold is one thing that is not done with a supplier for now; several stand at once (rules §3, §7). Receiving
// and matching go on under all of them.
type SupplierHold string

// The holds on a supplier, in the order in which they are told.
const (
	PaymentHeld    SupplierHold = "payment_held"    // its invoices are verified, and neither released nor paid
	InDispute      SupplierHold = "in_dispute"      // as payment held; who orders is warned
	NothingOrdered SupplierHold = "nothing_ordered" // no order is issued
	SupplierEnded  SupplierHold = "ended"           // nor offered any more; what is open goes on to its end, payment included
)

// SupplierHolds are all of them.
var SupplierHolds = [...]SupplierHold{PaymentHeld, InDispute, NothingOrdered, SupplierEnded}

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
func (h Holds) OfPayment() Holds { return h.Without(NothingOrdered).Without(SupplierEnded) }

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

// Blocking is something that a hold keeps from being done (rules §7).
type Blocking string

// What a hold on an invoice, an order or one of its lines may block.
const (
	BlocksOrdering  Blocking = "ordering" // changing an order, and telling its supplier of it
	BlocksReceiving Blocking = "receiving"
	BlocksVerifying Blocking = "verifying"
	BlocksReleasing Blocking = "releasing"
	BlocksPaying    Blocking = "paying"
)

// Blockings are all of them, in the order of the work; an invoice's hold blocks some of the last three.
var Blockings = Blocks{BlocksOrdering, BlocksReceiving, BlocksVerifying, BlocksReleasing, BlocksPaying}

// Blocks are what one hold keeps from being done.
type Blocks []Blocking

// PaymentHold is what a hold on an invoice blocks where nobody says otherwise.
var PaymentHold = Blocks{BlocksReleasing, BlocksPaying}

// Has tells whether something is blocked.
func (b Blocks) Has(what Blocking) bool { return slices.Contains(b, what) }

// String names them with a space between two, in their order.
func (b Blocks) String() string {
	var words []string
	for _, one := range Blockings {
		if b.Has(one) {
			words = append(words, string(one))
		}
	}
	return strings.Join(words, " ")
}

// BlocksOf reads what String wrote; other words are nothing.
func BlocksOf(words string) Blocks {
	said := strings.Fields(words)
	return slices.DeleteFunc(slices.Clone(Blockings), func(b Blocking) bool { return !slices.Contains(said, string(b)) })
}

// Until is what ends a hold by itself.
type Until string

// A hold ends by a person alone, on a day, once the goods of its order or invoice are here, or once a credit note to its
// invoice is in the books and nothing of it is claimed any more.
const (
	UntilLifted Until = ""
	UntilDay    Until = "day"
	UntilGoods  Until = "goods"
	UntilCredit Until = "credit"
)

// GoodsHere tells whether nothing more is to come of the order's lines, or of one of them (0: of all).
func (o *Order) GoodsHere(line int) bool {
	return !slices.ContainsFunc(o.Lines, func(l *OrderLine) bool { return (line == 0 || l.No == line) && l.Rest() > 0 })
}

// HoldEnds says what ends a hold by itself and, by day, when.
type HoldEnds struct {
	Until Until
	Day   day.Day
}
