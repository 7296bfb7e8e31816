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

// ReturnEntry sends goods back: of a booked delivery, or of an order out of whatever deliveries hold them.
type ReturnEntry struct {
	Delivery int64 // number
	Order    int64 // number, where no delivery is named
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

// Out is what of a line goes back out of one delivery.
type Out struct {
	Delivery int64
	Note     string
	Day      day.Day
	Line     *trade.OrderLine
	Quantity money.Decimal
	Invoiced money.Decimal // of it
}

// ProposeOut says out of which deliveries of an order goods go back (rules §4): what nobody invoiced first, then what is
// invoiced, each the oldest first. Goods that came in lots go back all of them, or from their delivery, where each lot is
// named. What is proposed stands beside what is refused.
func ProposeOut(order *trade.Order, lines []ReturnLine) ([]Out, error) {
	var faults fault.Faults
	var outs []Out
	seen := map[int]bool{}
	for i, l := range lines {
		say := func(kind fault.Kind, sentence string, operands ...any) {
			faults = append(faults, fault.New(kind, Field(i, "quantity"), sentence, operands...))
		}
		line := order.Line(l.No)
		if line == nil || seen[l.No] {
			say(fault.Invalid, "Order %d has no line %d, or it stands twice.", order.Number, l.No)
			continue
		}
		seen[l.No] = true
		held := line.GoBack()
		switch {
		case l.Quantity < 0:
			say(fault.Invalid, "A quantity that goes back cannot be below zero.")
		case line.Whole && !l.Quantity.Whole():
			say(fault.Invalid, "%s is counted in whole units.", line.Description)
		case l.Quantity > held:
			say(fault.Refused, "Line %d: %s of it is here, so %s cannot go back.", l.No, held, l.Quantity)
		case line.Lots && l.Quantity != 0 && l.Quantity != held:
			say(fault.Refused, "%s came in lots: send it back from its delivery, where each lot is named.", line.Description)
		case l.Quantity > 0:
			outs = append(outs, outOf(line, l.Quantity)...)
		}
	}
	return outs, faults.OrNil()
}

// outOf takes a quantity out of the receipts of a line.
func outOf(line *trade.OrderLine, quantity money.Decimal) []Out {
	takes := make([]money.Decimal, len(line.Receipts))
	for _, invoiced := range []bool{false, true} {
		for i, r := range line.Receipts {
			of := r.Returnable() - takes[i]
			if !invoiced {
				of = min(of, max(0, r.Open()))
			}
			take := min(quantity, of)
			takes[i] += take
			quantity -= take
		}
	}
	var outs []Out
	for i, r := range line.Receipts {
		if takes[i] > 0 {
			piece := Piece{Line: line, Receipt: r, Quantity: takes[i]}
			outs = append(outs, Out{r.Delivery, r.Note, r.Day, line, takes[i], piece.Invoiced()})
		}
	}
	return outs
}

// ByDelivery makes one return of each delivery of what goes back, in the order of their numbers.
func (e ReturnEntry) ByDelivery(outs []Out) []ReturnEntry {
	var all []ReturnEntry
	for _, o := range outs {
		at := slices.IndexFunc(all, func(one ReturnEntry) bool { return one.Delivery == o.Delivery })
		if at < 0 {
			one := e
			one.Delivery, one.Order, one.Lines = o.Delivery, 0, nil
			all, at = append(all, one), len(all)
		}
		all[at].Lines = append(all[at].Lines, ReturnLine{No: o.Line.No, Quantity: o.Quantity})
	}
	slices.SortFunc(all, func(a, b ReturnEntry) int { return int(a.Delivery - b.Delivery) })
	return all
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
