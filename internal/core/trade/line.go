package trade

// This file is about one line of an order: what was received and invoiced of it, and what may
// still be.

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
)

// OrderLine is one line of an order with its state.
type OrderLine struct {
	ID           int64
	No           int
	Revision     int // of its order
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
	TaxRate      money.Decimal // as documents state it
	Tax          TaxCode       // the company's, with its rates; no code: none
	Budget       string
	BudgetLine   int // of the budget, where the line was planned there; else 0
	Account      Account
	WantedOn     day.Day
	Note         string
	OwnLevel     Level // set for this line alone; else empty
	SelfBilled   bool  // we write its invoices ourselves
	Level        Level
	LevelFrom    limit.Level // where it comes from
	LevelFixed   bool        // with the account, by the first receipt or invoice (rules §11)

	Limits limit.Book

	Received money.Decimal // receipts less reversals and returns
	Returned money.Decimal // returned for credit: not expected again
	Billed   money.Decimal // by verified invoices: set against receipts, awaited, beyond and taken to variance
	// What is billed and no receipt holds, oldest first: goods that went back and are to be
	// replaced, what is billed beyond receipts, and what was taken to price variance.
	Awaited, Beyond, Variance Parts
	// Dearer and Cheaper are what verified invoices ask above and below the order's price, each
	// summed apart and without sign (rules §2).
	Dearer, Cheaper money.Amount
	// What invoices captured earlier and not yet verified bill and ask, in the line's unit.
	Reserved                        money.Decimal
	ReservedDearer, ReservedCheaper money.Amount
	// Credited and CreditedPrice are what credit notes captured earlier and not yet verified claim: goods in the line's
	// unit, and net amounts of its price.
	Credited       money.Decimal
	CreditedPrice  money.Amount
	ClosedGoods    bool
	ClosedInvoices bool
	Receipts       []*Receipt // oldest first
	// By receipt: what earlier open invoices bill, and of which delivery notes, in the order in which they were
	// captured; and the notes that verified lines of invoices name, by their row keys.
	Reservations []Reservation
	Named        map[int64]Notes
}

// UnitPrice is the exact price of one unit after the line's discount and charge.
func (l *OrderLine) UnitPrice(currency money.Currency) money.Price {
	return money.UnitPrice(l.Quantity, l.Price, l.Base, l.Discount, l.Charge, currency)
}

// Over is what is billed of receipts past what they still hold: goods that went back for
// credit after they were invoiced.
func (l *OrderLine) Over() money.Decimal {
	var over money.Decimal
	for _, r := range l.Receipts {
		over += max(0, -r.Open())
	}
	return over
}

// Held is what is here of the line by its receipts.
func (l *OrderLine) Held() money.Decimal {
	var held money.Decimal
	for _, r := range l.Receipts {
		held += r.Held()
	}
	return held
}

// Free is what was accepted as free of charge.
func (l *OrderLine) Free() money.Decimal {
	var free money.Decimal
	for _, r := range l.Receipts {
		free += r.Free
	}
	return free
}

// Debit tells whether more of the line is invoiced than is here, so that it stands in GRNI as
// a debit.
func (l *OrderLine) Debit() bool {
	return l.Level.Receives() && l.Over()+l.Awaited.Quantity()+l.Beyond.Quantity() > 0
}

// CountsAsOrdered is what a two-way line is invoiced against: what is ordered or, once no more
// goods are to come, what came (rules §6).
func (l *OrderLine) CountsAsOrdered() money.Decimal {
	if l.ClosedGoods {
		return l.Received
	}
	return l.Quantity
}

// Room is what may still be invoiced of the line after what earlier open invoices claim; below
// zero where more is claimed than there is (rules §6).
func (l *OrderLine) Room() money.Decimal {
	if l.Level == TwoWay {
		return l.CountsAsOrdered() - l.Billed - l.Reserved
	}
	return l.Open() - l.Reserved
}

// Excessive is what of the line is invoiced already past what it holds: with an invoice's own
// excess it is what the limit of invoiced quantity is asked of (rules §6).
func (l *OrderLine) Excessive() money.Decimal {
	if l.Level == TwoWay {
		return 0
	}
	return l.Awaited.Quantity() + l.Beyond.Quantity() + l.Variance.Quantity() + l.Over()
}

// CanCome is the most that can have come of a line: what is ordered with the over-limit of delivery, or what is received.
func (l *OrderLine) CanCome(policy Policy) money.Decimal { return max(l.Most(policy), l.Received) }

// Ceiling is the most that may be invoiced of a line that is matched with its receipts: the
// largest of what is ordered with the over-limit of delivery, with the limit of invoiced
// quantity, and of what is received (rules §6).
func (l *OrderLine) Ceiling(policy Policy) money.Decimal {
	return max(l.CanCome(policy), l.Limit(limit.InvoicedQuantity, limit.Over, policy).Most(l.Quantity, l.Whole))
}

// InUnit is an invoiced quantity and unit price in the line's own unit; of a line by value, the invoiced net at one. It is
// refused where the item has no conversion from the unit, or six places do not hold the quantity.
func (l *OrderLine) InUnit(bill InvoiceLine, currency money.Currency) (money.Decimal, money.Price, bool) {
	if l.ByValue() {
		return bill.asValue(currency)
	}
	price := bill.UnitPrice(currency)
	if bill.Unit == l.Unit {
		return bill.Quantity, price, true
	}
	conversion, ok := l.Conversion(bill.Unit)
	if !ok {
		return 0, price, false
	}
	quantity, err := conversion.Of(bill.Quantity)
	return quantity, price.Per(conversion.Units, conversion.Makes), err == nil
}

// PriceWorth is what an invoiced line asks beyond the order's price, below zero where it asks
// less: its net less the order's price for its quantity, each rounded (rules §1).
func (l *OrderLine) PriceWorth(
	net money.Amount,
	quantity money.Decimal,
	currency money.Currency,
) (money.Amount, error) {
	should, err := l.UnitPrice(currency).Times(quantity, currency)
	return net - should, err
}

// Claim counts what a line of an earlier open invoice bills of this one. What has no
// conversion claims nothing: its invoice is held for that.
func (l *OrderLine) Claim(bill InvoiceLine, currency money.Currency) error {
	quantity, _, ok := l.InUnit(bill, currency)
	if !ok {
		return nil
	}
	l.Reserved += max(0, quantity)
	if l.Level == ByReceipt && quantity > 0 {
		l.Reservations = append(l.Reservations, Reservation{bill.Notes, quantity})
	}
	net, err := bill.Net(currency)
	if err != nil {
		return err
	}
	worth, err := l.PriceWorth(net, quantity, currency)
	l.ReservedDearer += max(0, worth)
	l.ReservedCheaper += max(0, -worth)
	return err
}

// Done is how far one side of a line has come; it is computed, never typed (rules §3).
type Done string

// The readings of goods and of invoices: nothing, a part, all, or ended with less.
const (
	DoneNone   Done = "none"
	DoneSome   Done = "some"
	DoneAll    Done = "all"
	DoneClosed Done = "closed"
)

// Goods tells how far the goods of the line have come.
func (l *OrderLine) Goods() Done {
	switch {
	case l.Received >= l.Quantity:
		return DoneAll
	case l.ClosedGoods:
		return DoneClosed
	case l.Received > 0:
		return DoneSome
	}
	return DoneNone
}

// Invoices tells how far the line is invoiced.
func (l *OrderLine) Invoices() Done {
	all := l.Billed >= l.CountsAsOrdered()
	if l.Level.Receives() {
		all = l.Open() == 0 && l.Rest() == 0
	}
	switch {
	case all && l.Billed+l.Free() > 0:
		return DoneAll
	case l.ClosedInvoices:
		return DoneClosed
	case l.Billed > 0:
		return DoneSome
	}
	return DoneNone
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
	if !l.Level.Receives() {
		return 0
	}
	return max(0, l.Open()-l.Reserved)
}

// Limit gives the bound that applies to the line. The company's switches for
// over- and under-delivery overrule every level (rules §2).
func (l *OrderLine) Limit(kind limit.Kind, side limit.Side, policy Policy) limit.Bound {
	if kind == limit.Delivery &&
		((side == limit.Over && !policy.OverDelivery) || (side == limit.Under && !policy.UnderDelivery)) {
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
