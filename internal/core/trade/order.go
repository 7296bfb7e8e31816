package trade

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"slices"
)

// OrderState is where an order is in its life (rules §3).
type OrderState string

// The states that a person decides; part received and the like are computed.
const (
	Draft     OrderState = "draft"
	Issued    OrderState = "issued"
	Closed    OrderState = "closed"
	Cancelled OrderState = "cancelled"
)

// IssuedStates are those of an order that stands with its supplier.
var IssuedStates = [...]OrderState{Issued, Closed}

// Level is how an invoice line is matched (rules §6).
type Level string

// The match levels of a line with an order. By receipt, invoice lines name the delivery notes that they bill; without an
// order an invoice is approved instead.
const (
	TwoWay    Level = "two_way"
	ThreeWay  Level = "three_way"
	ByReceipt Level = "by_receipt"
)

// Known tells whether the level is one of these; empty, which is not set, is not.
func (l Level) Known() bool { return l == TwoWay || l.Receives() }

// Receives tells whether what is invoiced is set against what was received, so that receipts stand in GRNI.
func (l Level) Receives() bool { return l == ThreeWay || l == ByReceipt }

// Levels are the match levels that are set for an order line; empty is not set.
type Levels struct{ Line, ItemAtSupplier, Item, Supplier, Company Level }

// Find gives the level that applies and where it comes from: the first that is set,
// looked for like a limit (rules §2, §6).
func (s Levels) Find() (Level, limit.Level) {
	for from, level := range []Level{s.Line, s.ItemAtSupplier, s.Item, s.Supplier} {
		if level != "" {
			return level, limit.Level(from)
		}
	}
	return s.Company, limit.Company
}

// Account is what an order line is charged to: a stock or an expense account.
type Account string

// The two kinds of account behind a budget.
const (
	StockAccount   Account = "stock"
	ExpenseAccount Account = "expense"
	AssetsAccount  Account = "assets" // fixed assets
)

// Order is a purchase order with what happened to it so far.
type Order struct {
	ID          int64
	Number      int64
	SupplierID  int64
	Supplier    string // name
	State       OrderState
	Currency    money.Currency
	Rate        money.Decimal // company currency for one unit, on the day of issue
	IssuedOn    day.Day
	WantedOn    day.Day
	About       string // in a line of at most LongestAbout characters
	RequestedBy string
	Place       string
	Elsewhere   string // another place of delivery than one on the list, this once
	// PlaceAddress is of the place of delivery as the list has it; empty where it is not asked for.
	PlaceAddress string
	// TheirReference and Contact are the supplier's: its offer or order number, and who is to be asked.
	TheirReference string
	Contact        string
	Instructions   string // for whoever delivers
	Note           string
	Revision       int   // of what the supplier is told; 1 as issued
	Version        int64 // counts every change, bookings too
	Lines          []*OrderLine
	Charges        []PlannedCharge
	Limits         limit.Book // for what is about no line
	// ChargedSoFar is, by kind, what verified invoices and earlier open ones charge the order.
	ChargedSoFar map[string]money.Amount
	// ChargedBooked is, by kind, what verified invoices charge the order less what credit notes took back.
	ChargedBooked map[string]money.Amount
}

// PlannedCharge is a charge that the order allows, without tax (rules §3).
type PlannedCharge struct {
	No          int
	Kind        string // freight, handling, …
	Description string
	Amount      money.Amount
	TaxCategory string
	TaxRate     money.Decimal
}

// Planned is the sum of the charges that the order allows.
func (o *Order) Planned() money.Amount {
	var sum money.Amount
	for _, c := range o.Charges {
		sum += c.Amount
	}
	return sum
}

// Net is the sum of the line nets, in the order's currency.
func (o *Order) Net() money.Amount {
	var net money.Amount
	for _, l := range o.Lines {
		net += l.Net
	}
	return net
}

// Totals of the order as its supplier reads them: lines that no more goods are wanted on
// are left out, planned charges count.
func (o *Order) Totals() (Totals, error) {
	bill := Invoice{Currency: o.Currency}
	for _, l := range o.Lines {
		if !l.ClosedGoods {
			bill.Lines = append(
				bill.Lines,
				InvoiceLine{
					No:          l.No,
					Quantity:    l.Quantity,
					Price:       l.Price,
					Base:        l.Base,
					Discount:    l.Discount,
					Charge:      l.Charge,
					TaxCategory: l.TaxCategory,
					TaxRate:     l.TaxRate,
				},
			)
		}
	}
	for _, c := range o.Charges {
		bill.Charges = append(
			bill.Charges,
			DocumentCharge{Kind: c.Kind, Amount: c.Amount, TaxCategory: c.TaxCategory, TaxRate: c.TaxRate},
		)
	}
	return bill.Totals()
}

// Line finds a line by its number.
func (o *Order) Line(no int) *OrderLine {
	for _, l := range o.Lines {
		if l.No == no {
			return l
		}
	}
	return nil
}

// LineByID finds a line by its row key.
func (o *Order) LineByID(id int64) *OrderLine {
	for _, l := range o.Lines {
		if l.ID == id {
			return l
		}
	}
	return nil
}

// LineOf finds a line by its row key among several orders; nil where none has it.
func LineOf(orders []*Order, id int64) (*Order, *OrderLine) {
	for _, o := range orders {
		if line := o.LineByID(id); line != nil {
			return o, line
		}
	}
	return nil, nil
}

// Over tells whether neither goods nor invoices are to come on the order any more.
func (o *Order) Over() bool {
	return o.State == Closed || o.State == Cancelled || (o.State == Issued && !slices.ContainsFunc(o.Lines, func(l *OrderLine) bool {
		goods, invoices := l.Awaits()
		return goods || invoices
	}))
}

// Touched gives the first line of which something is received or invoiced, net, or that an
// open invoice claims; nil where the order can still be cancelled. What was reversed or made
// void does not stand against it (rules §3).
func (o *Order) Touched() *OrderLine {
	for _, l := range o.Lines {
		if l.Received != 0 || l.Billed != 0 || l.Reserved > 0 || l.Free() != 0 {
			return l
		}
	}
	return nil
}

// Reach is how far the goods or the invoices of an order have come: computed, never typed
// (rules §3).
type Reach string

// How far they have come: closed is ended with less than was ordered.
const (
	ReachNone   Reach = "none"
	ReachSome   Reach = "some"
	ReachAll    Reach = "all"
	ReachClosed Reach = "closed"
)

// reach reads the lines together: some is any begun, all is every line whole, closed is every
// line done and one of them with less.
func reach(lines []*OrderLine, read func(*OrderLine) (begun, done, less bool)) Reach {
	begun, done, less := false, true, false
	for _, l := range lines {
		b, d, short := read(l)
		begun, done, less = begun || b, done && d, less || short
	}
	switch {
	case len(lines) > 0 && done && less:
		return ReachClosed
	case len(lines) > 0 && done:
		return ReachAll
	case begun:
		return ReachSome
	}
	return ReachNone
}

// Goods is how far the goods have come.
func (o *Order) Goods() Reach {
	return reach(o.Lines, func(l *OrderLine) (begun, done, less bool) {
		awaits, _ := l.Awaits()
		return l.Received > 0 || l.ClosedGoods, !awaits, l.ClosedGoods && l.Came() < l.Quantity
	})
}

// Invoices is how far the invoices have come: all where nothing that was received is unbilled
// and no more can come.
func (o *Order) Invoices() Reach {
	return reach(o.Lines, func(l *OrderLine) (begun, done, less bool) {
		goods, invoices := l.Awaits()
		billed := !goods && !invoices && l.Billed > 0
		return l.Billed > 0 || l.ClosedInvoices, l.ClosedInvoices || billed, l.ClosedInvoices && !billed
	})
}

// Policy is what the company decided for all: its switches (rules §2).
type Policy struct {
	OverDelivery  bool
	UnderDelivery bool
}
