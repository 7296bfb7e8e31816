package receive

import (
	"cmp"
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

// ReturnEntry sends goods back: of a booked delivery; or of an order, or of an item of a supplier, out of whatever
// deliveries hold them.
type ReturnEntry struct {
	Delivery       int64         // number
	Order          int64         // number, where no delivery is named
	Item, Supplier string        // codes, where no order is named either
	Quantity       money.Decimal // of the item, in its unit
	Day            day.Day
	Outcome        Outcome
	Reason         string
	Lines          []ReturnLine
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
		case l.Quantity == 0:
			continue
		}
		if f := goesBack(i, order, line, l.Quantity, lots); f != nil {
			faults = append(faults, f)
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

// goesBack finds what stands against a quantity of a line that goes back, and the lots that make it up.
func goesBack(i int, order *trade.Order, line *trade.OrderLine, quantity money.Decimal, lots []LotBack) *fault.Fault {
	refuse := func(sentence string, operands ...any) *fault.Fault {
		return fault.New(fault.Invalid, Field(i, "quantity"), sentence, operands...)
	}
	switch {
	case quantity < 0:
		return refuse("A quantity that goes back cannot be below zero.")
	case line.Whole && (!quantity.Whole() || slices.ContainsFunc(lots, func(lot LotBack) bool { return !lot.Quantity.Whole() })):
		return refuse("%s is counted in whole units.", line.Description)
	case !line.Counts(quantity, order.Currency):
		return refuse("Line %d is by value: enter an amount of %s.", line.No, order.Currency)
	}
	return nil
}

// Out is what of a line goes back out of one delivery.
type Out struct {
	Delivery int64
	Note     string
	Day      day.Day
	Order    *trade.Order
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
		if f := goesBack(i, order, line, l.Quantity, nil); f != nil {
			faults = append(faults, f)
			continue
		}
		held := line.GoBack()
		switch {
		case l.Quantity > held:
			say(fault.Refused, "Line %d: %s of it is here, so %s cannot go back.", l.No, held, l.Quantity)
		case line.Lots && l.Quantity != 0 && l.Quantity != held:
			say(fault.Refused, "%s came in lots: send it back from its delivery, where each lot is named.", line.Description)
		case l.Quantity > 0:
			outs = append(outs, outOf(order, line, l.Quantity)...)
		}
	}
	return outs, faults.OrNil()
}

// ProposeOutOfItem says out of which deliveries, of several orders of one supplier, a quantity of an item goes back: what
// nobody invoiced first, the oldest first; then what is invoiced, the latest first, since what came long ago is used up.
func ProposeOutOfItem(orders []*trade.Order, item int64, quantity money.Decimal) ([]Out, error) {
	say := func(kind fault.Kind, sentence string, operands ...any) error {
		return fault.New(kind, "quantity", sentence, operands...)
	}
	var all []holding
	var held money.Decimal
	for _, o := range orders {
		for _, l := range o.Lines {
			if l.ItemID != item {
				continue
			}
			switch {
			case l.Whole && !quantity.Whole():
				return nil, say(fault.Invalid, "%s is counted in whole units.", l.Description)
			case l.Lots:
				return nil, say(fault.Refused, "%s came in lots: send it back from its delivery, where each lot is named.", l.Description)
			}
			all = append(all, holdings(o, l)...)
			held += l.GoBack()
		}
	}
	switch {
	case quantity < 0:
		return nil, say(fault.Invalid, "A quantity that goes back cannot be below zero.")
	case quantity > held:
		return nil, say(fault.Refused, "%s of it is here from this supplier, so %s cannot go back.", held, quantity)
	}
	slices.SortStableFunc(all, func(a, b holding) int { return cmp.Compare(a.receipt.ID, b.receipt.ID) })
	latest := slices.Clone(all)
	slices.Reverse(latest)
	return takeOut(all, latest, quantity), nil
}

// outOf takes a quantity out of the receipts of a line.
func outOf(order *trade.Order, line *trade.OrderLine, quantity money.Decimal) []Out {
	all := holdings(order, line)
	return takeOut(all, all, quantity)
}

// holding is a receipt that goods may go back of.
type holding struct {
	order   *trade.Order
	line    *trade.OrderLine
	receipt *trade.Receipt
}

func holdings(order *trade.Order, line *trade.OrderLine) []holding {
	all := make([]holding, len(line.Receipts))
	for i, r := range line.Receipts {
		all[i] = holding{order, line, r}
	}
	return all
}

// takeOut takes a quantity of what nobody invoiced, in one order, then of what is invoiced, in another.
func takeOut(open, invoiced []holding, quantity money.Decimal) []Out {
	takes := make(map[*trade.Receipt]money.Decimal, len(open))
	take := func(h holding, most money.Decimal) {
		taken := min(quantity, most, h.receipt.Returnable()-takes[h.receipt])
		takes[h.receipt] += taken
		quantity -= taken
	}
	for _, h := range open {
		take(h, max(0, h.receipt.Open()))
	}
	for _, h := range invoiced {
		take(h, h.receipt.Returnable())
	}
	var outs []Out
	for _, h := range open {
		if taken := takes[h.receipt]; taken > 0 {
			piece := Piece{Line: h.line, Receipt: h.receipt, Quantity: taken}
			outs = append(outs, Out{h.receipt.Delivery, h.receipt.Note, h.receipt.Day, h.order, h.line, taken, piece.Invoiced()})
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
			one.Item, one.Supplier, one.Quantity = "", "", 0
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
