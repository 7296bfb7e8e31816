package trade

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
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

// Level is how an invoice line is matched (rules §6).
type Level string

// The match levels of this page; "by receipt" names its receipts itself.
const (
	TwoWay   Level = "two_way"
	ThreeWay Level = "three_way"
)

// Known tells whether the level is one of these; empty, which is not set, is not.
func (l Level) Known() bool { return l == TwoWay || l == ThreeWay }

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
	RequestedBy string
	Place       string
	Elsewhere   string // another place of delivery than the company's own, this once
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
	// ChargesSoFar is what verified invoices charged.
	ChargesSoFar money.Amount
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
			bill.Lines = append(bill.Lines, InvoiceLine{No: l.No, Quantity: l.Quantity, Price: l.Price, Base: l.Base, Discount: l.Discount, Charge: l.Charge, TaxCategory: l.TaxCategory, TaxRate: l.TaxRate})
		}
	}
	for _, c := range o.Charges {
		bill.Charges = append(bill.Charges, DocumentCharge{Kind: c.Kind, Amount: c.Amount, TaxCategory: c.TaxCategory, TaxRate: c.TaxRate})
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

// OrderLine is one line of an order with its state.
type OrderLine struct {
	ID           int64
	No           int
	ItemID       int64
	ItemCode     string // empty for a free description
	SupplierCode string // the supplier's own code of the item
	Description  string
	Quantity     money.Decimal
	Unit         string // UN/ECE Recommendation 20 code
	Whole        bool   // counted in whole units
	Lots         bool   // every receipt names its lots
	Units        []Conversion
	Price        money.Decimal
	Base         money.Decimal  // price base quantity
	Agreed       *money.Decimal // the agreed price, where there is one
	Discount     money.Amount
	Charge       money.Amount
	Net          money.Amount
	TaxCategory  string
	TaxRate      money.Decimal
	Budget       string
	BudgetLine   int // of the budget, where the line was planned there; else 0
	Account      Account
	WantedOn     day.Day
	Note         string
	OwnLevel     Level // set for this line alone; else empty
	Level        Level
	LevelFrom    limit.Level // where it comes from
	LevelFixed   bool        // by the first receipt or invoice (rules §11)

	Limits limit.Book

	Received       money.Decimal // receipts less reversals and returns
	Returned       money.Decimal // returned for credit: not expected again
	Billed         money.Decimal // by verified invoices, receipts and beyond
	Beyond         money.Decimal // billed beyond receipts
	BeyondValue    money.Amount  // what that stands at in GRNI, the order's currency
	BeyondBase     money.Amount  // the same in the company's currency
	Reserved       money.Decimal // by invoices captured earlier and not yet verified
	PriceSoFar     money.Amount  // price differences that verified invoices made on this line
	ClosedGoods    bool
	ClosedInvoices bool
	Receipts       []*Receipt // oldest first
}

// UnitPrice is the exact price of one unit after the line's discount and charge.
func (l *OrderLine) UnitPrice(currency money.Currency) money.Price {
	return money.UnitPrice(l.Quantity, l.Price, l.Base, l.Discount, l.Charge, currency)
}

// Open is what was received and is neither billed nor free.
func (l *OrderLine) Open() money.Decimal {
	var open money.Decimal
	for _, r := range l.Receipts {
		open += max(0, r.Open())
	}
	return open
}

// Came is what counts toward the limits of delivery: what is here and what went back
// for credit. Goods returned for replacement are expected again (rules §4).
func (l *OrderLine) Came() money.Decimal { return l.Received + l.Returned }

// Rest is what is still expected: nothing once the line is closed to goods.
func (l *OrderLine) Rest() money.Decimal {
	if l.ClosedGoods {
		return 0
	}
	return max(0, l.Quantity-l.Came())
}

// Awaits tells whether goods are still to come on the line, and whether invoices are for
// goods that have come.
func (l *OrderLine) Awaits() (goods, invoices bool) {
	return l.Rest() > 0, !l.ClosedInvoices && l.Received > l.Billed
}

// Unclaimed is what is here, not invoiced, and claimed by no open invoice; never below
// zero, and zero on a line that is not matched with its receipts.
func (l *OrderLine) Unclaimed() money.Decimal {
	if l.Level != ThreeWay {
		return 0
	}
	return max(0, l.Open()-l.Reserved)
}

// Limit gives the bound that applies to the line. The company's switches for
// over- and under-delivery overrule every level (rules §2).
func (l *OrderLine) Limit(kind limit.Kind, side limit.Side, policy Policy) limit.Bound {
	if kind == limit.Delivery && ((side == limit.Over && !policy.OverDelivery) || (side == limit.Under && !policy.UnderDelivery)) {
		return limit.Off(kind, side)
	}
	return l.Limits.Find(kind, side)
}

// Most is the ordered quantity with the over-limit of delivery.
func (l *OrderLine) Most(policy Policy) money.Decimal {
	return l.Limit(limit.Delivery, limit.Over, policy).Most(l.Quantity, l.Whole)
}

// Least is the ordered quantity with the under-limit of delivery.
func (l *OrderLine) Least(policy Policy) money.Decimal {
	return l.Limit(limit.Delivery, limit.Under, policy).Least(l.Quantity, l.Whole)
}

// Touched gives the first line that was ever received or invoiced, or that an open
// invoice claims; nil where the order can still be cancelled (rules §3).
func (o *Order) Touched() *OrderLine {
	for _, l := range o.Lines {
		if l.LevelFixed || l.Reserved > 0 {
			return l
		}
	}
	return nil
}

// Progress tells in one word how far goods and invoices of an order have come.
// It is computed, never typed (rules §3).
func (o *Order) Progress() string {
	received, invoiced, everything := false, false, true
	goodsDone, billsDone := true, true
	for _, l := range o.Lines {
		received = received || l.Received > 0
		invoiced = invoiced || l.Billed > 0
		goods, invoices := l.Awaits()
		goodsDone = goodsDone && !goods
		billsDone = billsDone && (l.ClosedInvoices || (!goods && !invoices && l.Billed > 0))
	}
	everything = goodsDone && billsDone
	switch {
	case o.State != Issued:
		return string(o.State)
	case everything:
		return "invoiced"
	case invoiced:
		return "part_invoiced"
	case goodsDone && received:
		return "received"
	case received:
		return "part_received"
	default:
		return "issued"
	}
}

// Policy is what the company decided for all: its switches (rules §2).
type Policy struct {
	OverDelivery  bool
	UnderDelivery bool
}

// Receipt is one line of a booked delivery with what has been taken from it.
// Value is in the order's currency, ValueBase in the company's, at the rate of
// the day of arrival.
type Receipt struct {
	ID        int64
	Delivery  int64 // number
	Day       day.Day
	Quantity  money.Decimal
	Value     money.Amount
	ValueBase money.Amount

	Reversed money.Decimal
	Returned money.Decimal
	Billed   money.Decimal
	Free     money.Decimal
	Relieved Relief // everything taken from the receipt so far
}

// Held is what of the receipt is still here.
func (r *Receipt) Held() money.Decimal { return r.Quantity - r.Reversed - r.Returned }

// Open is what the receipt still holds that is neither billed nor free. It is below
// zero where invoiced goods went back for credit.
func (r *Receipt) Open() money.Decimal { return r.Held() - r.Billed - r.Free }

// Returnable is what can go back: what is here, but for what was free of charge.
func (r *Receipt) Returnable() money.Decimal { return max(0, r.Held()-r.Free) }

// Relief is a quantity with the value it carries.
type Relief struct {
	Quantity money.Decimal
	Value    money.Amount
	Base     money.Amount
}

// Relieve takes a quantity out of the receipt and gives the value that goes with
// it: round(value × quantity so far ÷ quantity) − relieved so far, so that the
// last part leaves exactly zero (rules §11). A negative quantity puts it back.
func (r *Receipt) Relieve(quantity money.Decimal) (Relief, error) {
	sofar := r.Relieved.Quantity + quantity
	value, err := r.Value.Part(int64(sofar), int64(r.Quantity))
	if err != nil {
		return Relief{}, err
	}
	base, err := r.ValueBase.Part(int64(sofar), int64(r.Quantity))
	if err != nil {
		return Relief{}, err
	}
	taken := Relief{quantity, value - r.Relieved.Value, base - r.Relieved.Base}
	r.Relieved = Relief{sofar, value, base}
	return taken, nil
}

// ShareOfNet is the value of the goods that raise what is held from before to
// before + quantity: their share of the line's net, so that all shares add up to
// the net (rules §11).
func (l *OrderLine) ShareOfNet(before, quantity money.Decimal) (money.Amount, error) {
	until, err := l.Net.Part(int64(before+quantity), int64(l.Quantity))
	if err != nil {
		return 0, err
	}
	from, err := l.Net.Part(int64(before), int64(l.Quantity))
	return until - from, err
}
