package trade

// This file is about order lines by value: a service or a work that is counted in money (rules §6).

import (
	"fmt"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Units of UN/ECE Recommendation 20 by which a line by value is counted.
const (
	MonetaryValue = "M4" // an amount of its order's currency
	PerCent       = "P1" // of what is ordered on it
)

// ByValue tells whether the line is counted in money: its quantity is an amount of its order's currency, at a price of
// one. What is done of it is accepted in parts like goods that come, and an invoice bills of it what its own line nets,
// whatever quantity and price that is made of; so limits, GRNI and matching are those of every other line.
func (l *OrderLine) ByValue() bool { return l.Unit == MonetaryValue }

// checkValue finds what stands against a line by value: it is an amount, and nothing else makes it another.
func checkValue(index int, l *OrderLine, currency money.Currency) *fault.Fault {
	if !l.ByValue() {
		return nil
	}
	refuse := func(name, sentence string, operands ...any) *fault.Fault {
		return fault.New(fault.Invalid, fmt.Sprintf("lines[%d].%s", index, name), sentence, operands...)
	}
	switch {
	case !l.Counts(l.Quantity, currency):
		return refuse("quantity", "Line %d is by value: enter an amount of %s.", l.No, currency)
	case l.Price != money.Int(1) || l.Base != money.Int(1):
		return refuse("price", "Line %d is by value: its amount is its quantity, and its price is 1.", l.No)
	case l.Discount != 0 || l.Charge != 0:
		return refuse("discount", "Line %d is by value: enter the amount that is left after the discount.", l.No)
	}
	return nil
}

// Counts tells whether a quantity can be one of the line, as far as it is by value: a whole number of minor units.
func (l *OrderLine) Counts(quantity money.Decimal, currency money.Currency) bool {
	_, err := money.Entered(quantity.String()).In(currency)
	return err == nil || !l.ByValue()
}

// Accepted is how much of a line by value a count comes to, in its order's currency: an amount as it is or, in per cent,
// that share of what is ordered, rounded half away from zero to the minor unit. A share after which less than half a
// minor unit an acceptance would be left takes all that is left, so that shares of a hundred per cent are the whole.
func (l *OrderLine) Accepted(count money.Decimal, unit string, currency money.Currency) (money.Decimal, error) {
	if unit != PerCent {
		if !l.Counts(count, currency) {
			return 0, fault.New(fault.Invalid, "quantity", "Line %d is by value: enter an amount of %s, or per cent.", l.No, currency)
		}
		return count, nil
	}
	whole, err := money.Entered(l.Quantity.String()).In(currency)
	if err != nil {
		return 0, err
	}
	came, err := money.Entered(l.Came().String()).In(currency)
	if err != nil {
		return 0, err
	}
	share, err := whole.Percent(count)
	if err != nil {
		return 0, err
	}
	if left := whole - came - share; share != 0 && 2*left.Abs() <= money.Amount(len(l.Receipts)+1) {
		share += left
	}
	return money.ParseDecimal(share.Text(currency))
}

// asValue is what an invoiced line bills of a line by value: its net, at a price of one.
func (bill InvoiceLine) asValue(currency money.Currency) (money.Decimal, money.Price, bool) {
	one := money.UnitPrice(money.Int(1), money.Int(1), money.Int(1), 0, 0, currency)
	net, err := bill.Net(currency)
	if err != nil {
		return 0, one, false
	}
	value, err := money.ParseDecimal(net.Text(currency))
	return value, one, err == nil
}
