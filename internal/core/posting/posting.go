// Package posting makes the ledger entry of each booking: one function for each
// row of the ledger table in rules §11.
package posting

import (
	"fmt"

	"lagoon/internal/core/ledger"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
)

// GRNIDetail names the order line that a GRNI amount belongs to, so that the
// balance can be proved line by line.
func GRNIDetail(order *trade.Order, line *trade.OrderLine) string {
	return fmt.Sprintf("%d/%d", order.Number, line.No)
}

func account(line *trade.OrderLine) ledger.Role {
	if line.Account == trade.StockAccount {
		return ledger.Stock
	}
	return ledger.Expense
}

// Delivery: debit stock or expense, credit GRNI, at receipt value. Two-way lines
// book nothing. Where the receipt fills what was billed beyond receipts, GRNI
// changes from the order's price to the receipt's value, and the difference is
// price variance.
func Delivery(order *trade.Order, receipts []receive.Receipt, fills []receive.Fill, lines []*trade.OrderLine) ledger.Entry {
	e := ledger.Entry{Currency: order.Currency}
	for _, r := range receipts {
		if r.Line.Level != trade.ThreeWay {
			continue
		}
		e.Debit(account(r.Line), r.Line.Budget, r.Value, r.ValueBase)
		e.Credit(ledger.GRNI, GRNIDetail(order, r.Line), r.Value, r.ValueBase)
	}
	for i, f := range fills {
		value, base := f.Taken.Value-f.Beyond.Value, f.Taken.Base-f.Beyond.Base
		e.Debit(ledger.GRNI, GRNIDetail(order, lines[i]), value, base)
		e.Credit(ledger.PriceVariance, lines[i].Budget, value, base)
	}
	return e
}

// Reversal takes a part of a receipt back: the reverse of its delivery.
func Reversal(order *trade.Order, line *trade.OrderLine, taken trade.Relief, e *ledger.Entry) {
	if line.Level != trade.ThreeWay {
		return
	}
	e.Credit(account(line), line.Budget, taken.Value, taken.Base)
	e.Debit(ledger.GRNI, GRNIDetail(order, line), taken.Value, taken.Base)
}

// Allocated is a match allocation with the value it takes out of GRNI: the
// receipt's, or at the order's price beyond receipts, or none on a two-way line.
type Allocated struct {
	match.Allocation
	Relief trade.Relief
}

// Relieve values the allocations and takes them out of their receipts. Beyond
// receipts the value is at the order's price and the rate is the invoice's.
func Relieve(order *trade.Order, inv trade.Invoice, allocations []match.Allocation, company money.Currency) ([]Allocated, error) {
	list := make([]Allocated, len(allocations))
	for i, a := range allocations {
		list[i].Allocation = a
		var err error
		switch {
		case a.Receipt != nil:
			list[i].Relief, err = a.Receipt.Relieve(a.Quantity)
			a.Receipt.Billed += a.Quantity
		case a.OrderLine.Level == trade.ThreeWay:
			r := trade.Relief{Quantity: a.Quantity}
			if r.Value, err = a.OrderLine.UnitPrice(order.Currency).Times(a.Quantity, order.Currency); err == nil {
				r.Base, err = r.Value.Convert(inv.Rate, order.Currency, company)
			}
			list[i].Relief = r
		default:
			list[i].Relief = trade.Relief{Quantity: a.Quantity}
		}
		if err != nil {
			return nil, err
		}
	}
	return list, nil
}

// Invoice: debit GRNI at receipt value (beyond receipts at order price), price
// variance, stock or expense on two-way lines, charges and input tax; credit trade
// payables with the stated total, the rest being rounding difference. Variance, tax
// and payables are at the invoice's rate, GRNI at the receipt's; what that leaves is
// exchange difference (rules §1).
func Invoice(inv trade.Invoice, supplier string, order *trade.Order, totals trade.Totals, allocated []Allocated, company money.Currency) (ledger.Entry, error) {
	b := builder{entry: ledger.Entry{Currency: inv.Currency}, rate: inv.Rate, company: company}
	relieved := make([]trade.Relief, len(inv.Lines))
	for _, a := range allocated {
		r := &relieved[a.Line]
		r.Value += a.Relief.Value
		r.Base += a.Relief.Base
		if a.OrderLine.Level == trade.ThreeWay {
			b.entry.Debit(ledger.GRNI, GRNIDetail(order, a.OrderLine), a.Relief.Value, a.Relief.Base)
		}
	}
	shared := money.Amount(0)
	for i, l := range inv.Lines {
		net := totals.LineNets[i] - totals.LineShares[i]
		shared += totals.LineShares[i]
		ordered := order.LineByID(l.OrderLineID)
		switch {
		case l.ChargeKind != "":
			b.debit(ledger.Charges, l.ChargeKind, net)
		case ordered == nil:
			return b.entry, fmt.Errorf("posting: invoice %d line %d has no order line", inv.Number, l.No)
		case ordered.Level == trade.ThreeWay:
			b.debit(ledger.PriceVariance, ordered.Budget, net-relieved[i].Value)
		default:
			b.debit(account(ordered), ordered.Budget, net)
		}
	}
	for _, c := range inv.Charges {
		if !c.Allowance {
			b.debit(ledger.Charges, c.Kind, c.Amount)
		}
	}
	b.debit(ledger.Charges, "discount", shared-totals.Allowances)
	for _, g := range totals.Groups {
		b.debit(ledger.InputTax, fmt.Sprintf("%s %s", g.Category, g.Rate), g.Tax)
	}
	b.debit(ledger.RoundingDifference, "", inv.Rounding(totals))
	b.debit(ledger.Payables, supplier, -inv.StatedTotal)
	return b.closed()
}

// FreeOfCharge: debit GRNI, credit goods free of charge, with what was received and
// will not be invoiced.
func FreeOfCharge(order *trade.Order, line *trade.OrderLine, taken []trade.Relief) ledger.Entry {
	e := ledger.Entry{Currency: order.Currency}
	for _, r := range taken {
		e.Debit(ledger.GRNI, GRNIDetail(order, line), r.Value, r.Base)
		e.Credit(ledger.FreeOfCharge, line.Budget, r.Value, r.Base)
	}
	return e
}

// PaidPart is what one payment takes off one invoice: Amount is paid, Discount is
// kept; Base is the part of the invoice's payables, in the company's currency, that
// the two together settle.
type PaidPart struct {
	Amount   money.Amount
	Discount money.Amount
	Base     money.Amount
}

// PaymentSent: debit trade payables; credit payments in transit with what is paid,
// at the payment's rate, and discount received; the rest is exchange difference.
func PaymentSent(supplier, account string, parts []PaidPart, currency money.Currency, rate money.Decimal, company money.Currency) (ledger.Entry, error) {
	b := builder{entry: ledger.Entry{Currency: currency}, rate: rate, company: company}
	for _, p := range parts {
		b.entry.Debit(ledger.Payables, supplier, p.Amount+p.Discount, p.Base)
		b.debit(ledger.InTransit, account, -p.Amount)
		b.debit(ledger.DiscountReceived, "", -p.Discount)
	}
	return b.closed()
}

// PaymentConfirmed: debit payments in transit, credit the bank, at the value at
// which the payment went into transit.
func PaymentConfirmed(sent ledger.Entry, account string) ledger.Entry {
	e := ledger.Entry{Currency: sent.Currency}
	for _, l := range sent.Lines {
		if l.Role == ledger.InTransit {
			e.Debit(ledger.InTransit, account, -l.Amount, -l.Base)
			e.Credit(ledger.Bank, account, -l.Amount, -l.Base)
		}
	}
	return e
}

// PaymentReturned: what a payment took off trade payables is owed again, and what the bank
// had debited is back there (rules §10: bank instead of transit).
func PaymentReturned(sent ledger.Entry) ledger.Entry {
	e := sent.Reversed()
	for i := range e.Lines {
		if e.Lines[i].Role == ledger.InTransit {
			e.Lines[i].Role = ledger.Bank
		}
	}
	return e
}

// builder converts document amounts at one rate and closes the entry with the
// exchange difference.
type builder struct {
	entry   ledger.Entry
	rate    money.Decimal
	company money.Currency
	err     error
}

func (b *builder) debit(role ledger.Role, detail string, amount money.Amount) {
	base, err := amount.Convert(b.rate, b.entry.Currency, b.company)
	if err != nil {
		b.err = err
	}
	b.entry.Debit(role, detail, amount, base)
}

func (b *builder) closed() (ledger.Entry, error) {
	if b.err != nil {
		return b.entry, b.err
	}
	b.entry.Debit(ledger.ExchangeDifference, "", 0, -b.entry.Balance())
	return b.entry, b.entry.Check()
}
