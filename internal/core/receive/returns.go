package receive

import (
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Outcome is what a return asks for (rules §4).
type Outcome string

// The outcomes: the goods are expected again, or their price back.
const (
	Replacement Outcome = "replacement"
	Credit      Outcome = "credit"
)

// ReturnEntry sends goods of a booked delivery back.
type ReturnEntry struct {
	Delivery int64 // number
	Day      day.Day
	Outcome  Outcome
	Reason   string
	Lines    []ReturnLine
}

// ReturnLine is how much of an order line goes back. Where lots are named, they are the
// quantity, which may then be left at zero.
type ReturnLine struct {
	No       int
	Quantity money.Decimal
	Lots     []LotBack
}

// LotBack is how much of one lot goes back.
type LotBack struct {
	Lot      string
	Quantity money.Decimal
}

// Returnable is what is known of the delivery that goods go back of.
type Returnable struct {
	Arrived day.Day
	Lots    map[int][]Lot // by line number, what is still here of each
}

// Piece is what of one receipt is to go back.
type Piece struct {
	Line     *trade.OrderLine
	Receipt  *trade.Receipt
	Quantity money.Decimal
	Lots     []LotBack
}

// Invoiced is how much of the piece was billed: what is not invoiced goes back first.
func (p Piece) Invoiced() money.Decimal {
	return min(p.Receipt.Billed, max(0, p.Quantity-max(0, p.Receipt.Open())))
}

// MakeReturn plans a return: what of each receipt goes back. A line gives at most what the
// delivery still holds; of a line that came in lots each lot gives at most what is left of it.
// With what is refused comes what the rest would take, to be shown: nothing may be booked of
// it.
func MakeReturn(order *trade.Order, entry ReturnEntry, of Returnable, today day.Day) ([]Piece, error) {
	var faults fault.Faults
	say := func(kind fault.Kind, field, sentence string, operands ...any) {
		faults = append(faults, fault.New(kind, field, sentence, operands...))
	}
	if strings.TrimSpace(entry.Reason) == "" {
		say(fault.Invalid, "reason", "Say why the goods go back; it stands on the return note.")
	}
	if entry.Outcome != Replacement && entry.Outcome != Credit {
		say(fault.Invalid, "outcome", "Say whether they are to be replaced or credited.")
	}
	switch _, err := day.Parse(string(entry.Day)); {
	case err != nil:
		say(fault.Invalid, "day", "Enter the day on which the goods go back.")
	case entry.Day > today:
		say(fault.Invalid, "day", "The day of the return is in the future.")
	case entry.Day < of.Arrived:
		say(fault.Invalid, "day", "The goods had not arrived yet on that day.")
	}
	var pieces []Piece
	seen := map[int]bool{}
	for i, l := range entry.Lines {
		field := fmt.Sprintf("lines[%d].quantity", i)
		line := order.Line(l.No)
		lots, f := lotsBack(&l, i, of.Lots[l.No])
		if f != nil {
			faults = append(faults, f)
			continue
		}
		switch {
		case line == nil || seen[l.No]:
			say(fault.Invalid, field, "Delivery %d has no line %d, or it stands twice.", entry.Delivery, l.No)
			continue
		case l.Quantity < 0:
			say(fault.Invalid, field, "A quantity that goes back cannot be below zero.")
			continue
		case l.Quantity == 0:
			continue
		case line.Whole && (!l.Quantity.Whole() || slices.ContainsFunc(lots, func(lot LotBack) bool { return !lot.Quantity.Whole() })):
			say(fault.Invalid, field, "%s is counted in whole units.", line.Description)
			continue
		}
		seen[l.No] = true
		receipt := receiptOf(line, entry.Delivery)
		if receipt == nil || l.Quantity > receipt.Returnable() {
			held := money.Decimal(0)
			if receipt != nil {
				held = receipt.Returnable()
			}
			say(
				fault.Refused,
				field,
				"Line %d: delivery %d still holds %s, so %s cannot go back.",
				l.No,
				entry.Delivery,
				held,
				l.Quantity,
			)
			continue
		}
		pieces = append(pieces, Piece{line, receipt, l.Quantity, lots})
	}
	if len(pieces) == 0 && len(faults) == 0 {
		say(fault.Invalid, "lines", "Enter how much goes back on at least one line.")
	}
	return pieces, faults.OrNil()
}

// lotsBack gives the lots that a line of a return takes of those that are here, and sets
// the line's quantity to what they are. Where there is no choice, nobody has to make it:
// one lot is here, or all of them go back.
func lotsBack(l *ReturnLine, i int, here []Lot) ([]LotBack, *fault.Fault) {
	left, names, all := map[string]money.Decimal{}, []string{}, money.Decimal(0)
	for _, lot := range here {
		left[lot.Lot] = lot.Quantity
		all += lot.Quantity
		names = append(names, fmt.Sprintf("%s of lot %s", lot.Quantity, lot.Lot))
	}
	var back []LotBack
	var sum money.Decimal
	for n, lot := range l.Lots {
		field := Field(i, fmt.Sprintf("lots[%d]", n))
		switch {
		case lot.Quantity < 0:
			return nil, fault.New(fault.Invalid, field, "A quantity that goes back cannot be below zero.")
		case lot.Quantity > left[lot.Lot]:
			return nil, fault.New(
				fault.Refused,
				field,
				"Of lot %s are %s here, so %s cannot go back.",
				lot.Lot,
				left[lot.Lot],
				lot.Quantity,
			)
		case lot.Quantity > 0:
			left[lot.Lot] -= lot.Quantity
			sum += lot.Quantity
			back = append(back, lot)
		}
	}
	switch {
	case len(l.Lots) > 0 && l.Quantity != 0 && l.Quantity != sum:
		return nil, fault.New(
			fault.Invalid,
			Field(i, "quantity"),
			"The lots add up to %s, and %s go back.",
			sum,
			l.Quantity,
		)
	case len(l.Lots) > 0:
		l.Quantity = sum
		return back, nil
	case len(here) > 1 && l.Quantity > 0 && l.Quantity < all:
		return nil, fault.New(
			fault.Invalid,
			Field(i, "quantity"),
			"Say how much of each lot goes back; here are %s.",
			strings.Join(names, ", "),
		)
	}
	for _, lot := range here {
		if part := min(lot.Quantity, l.Quantity-sum); part > 0 {
			sum += part
			back = append(back, LotBack{lot.Lot, part})
		}
	}
	return back, nil
}

func receiptOf(line *trade.OrderLine, delivery int64) *trade.Receipt {
	for _, r := range line.Receipts {
		if r.Delivery == delivery {
			return r
		}
	}
	return nil
}
