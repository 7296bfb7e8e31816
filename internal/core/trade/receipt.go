package trade

// This file is about one line of a booked delivery and the values that leave it.

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Receipt is one line of a booked delivery with what has been taken from it.
// Value is in the order's currency, ValueBase in the company's, at the rate of
// the day of arrival.
type Receipt struct {
	ID        int64
	Delivery  int64  // number
	Note      string // the supplier's number of the delivery note
	Day       day.Day
	PostedOn  day.Day // of its entry: an invoice is not posted before it (rules §5)
	Revision  int     // of the order, when it was booked
	Quantity  money.Decimal
	Value     money.Amount
	ValueBase money.Amount

	Reversed money.Decimal
	Returned money.Decimal
	Billed   money.Decimal
	Bills    Parts // the same by invoice line
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

// Next is the value that leaves with the next quantity: round(value × quantity so far ÷
// quantity) − what left so far, so that the last part leaves exactly zero (rules §11).
func (r *Receipt) Next(quantity money.Decimal) (Relief, error) {
	sofar := r.Relieved.Quantity + quantity
	value, err := r.Value.Part(int64(sofar), int64(r.Quantity))
	if err != nil {
		return Relief{}, err
	}
	base, err := r.ValueBase.Part(int64(sofar), int64(r.Quantity))
	return Relief{sofar, value, base}.Less(r.Relieved), err
}

// Less is r without a part of it.
func (r Relief) Less(part Relief) Relief {
	return Relief{r.Quantity - part.Quantity, r.Value - part.Value, r.Base - part.Base}
}

// Plus is r with another.
func (r Relief) Plus(other Relief) Relief { return r.Less(other.Negative()) }

// Negative is r with its signs turned.
func (r Relief) Negative() Relief { return Relief{-r.Quantity, -r.Value, -r.Base} }

// Share is the value of a part of r by quantity; what is left after the last part is nothing.
func (r Relief) Share(quantity money.Decimal) (Relief, error) {
	value, err := r.Value.Part(int64(quantity), int64(r.Quantity))
	if err != nil {
		return Relief{}, err
	}
	base, err := r.Base.Part(int64(quantity), int64(r.Quantity))
	return Relief{quantity, value, base}, err
}

// ShareOfNet is the value of the goods that raise what is held from before to
// before + quantity: their share of the line's net, so that all shares add up to
// the net (rules §11).
func (l *OrderLine) ShareOfNet(before, quantity money.Decimal) (money.Amount, error) {
	return l.Net.PartBetween(int64(before), int64(before+quantity), int64(l.Quantity))
}
