// Package receive decides what a delivery books on an order (rules §4).
package receive

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Entry is what the receiver counted.
type Entry struct {
	Note       string // the supplier's delivery note number
	NoNote     bool   // the goods came without one
	Day        day.Day
	Place      string
	Elsewhere  string // another place than one of the list, this once
	Condition  string
	SecondPart bool // the same note is confirmed as a second part
	// Stated is the quantity that the note says came in all, refused goods among it; nil where it
	// is not typed. Why is the word why the lines do not add up to it.
	Stated *money.Decimal
	Why    string
	Lines  []Line
}

// Line is the count of one order line. Refused is surplus that was not taken in
// at the door; it is recorded and books nothing. Close says that no more is to come.
// Unit, where it is not the order's, is what all quantities of the line are counted in.
type Line struct {
	No       int
	Quantity money.Decimal
	Refused  money.Decimal
	Reason   Reason // why goods are refused
	Remark   string // what is to be said about the goods of the line
	Close    bool
	Unit     string
	Lots     []Lot
}

// Reason is why goods are refused at the door.
type Reason string

// The reasons; surplus is what is past the limit or was not ordered any more.
const (
	Surplus Reason = "surplus"
	Damaged Reason = "damaged"
	Wrong   Reason = "wrong"
	TooWarm Reason = "too_warm"
	TooLate Reason = "too_late"
	Another Reason = "other"
)

// Reasons are all there are, in the order in which they are offered.
var Reasons = []Reason{Damaged, Wrong, TooWarm, TooLate, Surplus, Another}

// Lot is a part of what came under one lot number.
type Lot struct {
	Lot        string
	Quantity   money.Decimal
	BestBefore day.Day // may be empty
}

// Plan is what the delivery books: the receipts with their value, the lines that
// close, and what there is to say about each line.
type Plan struct {
	Receipts []Receipt
	Closes   []*trade.OrderLine
	Findings []finding.Finding
	Value    money.Amount // of all receipts, in the order's currency
	// PostedOn is the day on which the delivery is booked: the first open one on or after the
	// day of arrival.
	PostedOn day.Day
}

// Receipt is one line to book.
type Receipt struct {
	Line      *trade.OrderLine
	Quantity  money.Decimal
	Refused   money.Decimal
	Reason    Reason
	Remark    string
	Counted   money.Decimal // as it was counted, in Unit
	Unit      string
	Lots      []Lot
	Value     money.Amount
	ValueBase money.Amount
}

// Context is what the plan needs to know besides the order.
type Context struct {
	Policy   trade.Policy
	Today    day.Day
	Rate     money.Decimal // of the day of arrival
	Company  money.Currency
	PostedOn day.Day // first open day on or after the day of arrival
	// Earlier is the number of a booked delivery with the same note or, of goods without one, on
	// the same order and day with the same quantities; zero where there is none.
	Earlier int64
	// Counter is set where the company books in two steps: whoever counted at the door,
	// or zero where nobody did. Booker books now.
	TwoStep         bool
	Counter, Booker int64
}

// Field names an entry's field as the contract does.
func Field(index int, name string) string { return fmt.Sprintf("lines[%d].%s", index, name) }

// Make plans the delivery. Refusals come with the field they belong to; a line
// past its limit is a finding with verdict Outside that names the nearest quantity
// that would pass, and nothing may be booked while one stands.
func Make(order *trade.Order, entry Entry, context Context) (Plan, error) {
	faults := head(order, entry, context)
	plan := Plan{PostedOn: context.PostedOn}
	some, seen := false, map[int]bool{}
	for i, counted := range entry.Lines {
		line := order.Line(counted.No)
		if seen[counted.No] {
			faults = append(faults, fault.New(fault.Invalid, Field(i, "no"), "Line %d is counted twice.", counted.No))
			continue
		}
		seen[counted.No] = true
		if line == nil {
			faults = append(
				faults,
				fault.New(fault.Invalid, Field(i, "no"), "Order %d has no line %d.", order.Number, counted.No),
			)
			continue
		}
		if counted.Quantity == 0 && counted.Refused == 0 && !counted.Close {
			continue
		}
		some = true
		inOrder, conversion, f := converted(i, line, counted, order.Currency)
		if f == nil {
			f = countable(i, line, inOrder)
		}
		if f == nil {
			inOrder.Reason, f = refusedFor(i, line, inOrder, context.Policy)
		}
		if f != nil {
			faults = append(faults, f)
			continue
		}
		said := judge(order, line, inOrder, context.Policy)
		if conversion.Unit != "" {
			said.Counted, said.CountedUnit, said.Units, said.Makes = counted.Quantity, conversion.Unit, conversion.Units, conversion.Makes
		}
		plan.Findings = append(plan.Findings, said)
		if f := lotted(i, line, inOrder); f != nil {
			faults = append(faults, f)
			continue
		}
		if said.Verdict == finding.Outside {
			continue
		}
		receipt, err := value(order, line, inOrder, context)
		receipt.Counted, receipt.Unit = counted.Quantity, cmp.Or(counted.Unit, line.Unit)
		if err != nil {
			faults = append(
				faults,
				fault.New(
					fault.Invalid,
					Field(i, "quantity"),
					"Line %d: the value is more than can be booked.",
					line.No,
				),
			)
			continue
		}
		if counted.Quantity > 0 || counted.Refused > 0 {
			plan.Receipts = append(plan.Receipts, receipt)
			plan.Value += receipt.Value
		}
		if counted.Close {
			plan.Closes = append(plan.Closes, line)
		}
	}
	if f := control(entry); f != nil {
		faults = append(faults, f)
	}
	if !some && len(faults) == 0 {
		faults = append(
			faults,
			fault.New(fault.Invalid, "lines", "Nothing is counted yet: enter what came on at least one line."),
		)
	}
	return plan, faults.OrNil()
}

func head(order *trade.Order, entry Entry, context Context) fault.Faults {
	var faults fault.Faults
	switch order.State {
	case trade.Issued:
	case trade.Draft:
		faults = append(
			faults,
			fault.New(
				fault.Refused,
				"order",
				"Order %d is not issued yet, so nothing can be received on it.",
				order.Number,
			),
		)
	default:
		faults = append(
			faults,
			fault.New(
				fault.Refused,
				"order",
				"Order %d is %s, so nothing can be received on it.",
				order.Number,
				order.State,
			),
		)
	}
	if context.TwoStep && context.Counter == 0 {
		faults = append(
			faults,
			fault.New(
				fault.Refused,
				"order",
				"Deliveries are booked in two steps here: this one is not counted at the door yet.",
			),
		)
	} else if context.TwoStep && context.Counter == context.Booker {
		faults = append(faults, fault.New(fault.Forbidden, "order", "You counted this delivery at the door, so somebody else books it."))
	}
	if entry.NoNote {
		if entry.Note != "" {
			faults = append(
				faults,
				fault.New(fault.Invalid, "note", "There is a note, so it is booked under its number."),
			)
		} else if context.Earlier != 0 && !entry.SecondPart {
			faults = append(faults, fault.New(fault.Duplicate, "note",
				"As much came without a note on this order and day already: delivery %d. If these are other goods, say so.", context.Earlier))
		}
	} else if trade.NormalNumber(entry.Note) == "" {
		faults = append(faults, fault.New(fault.Invalid, "note", "Enter the number of the supplier's delivery note, or say that there is none."))
	} else if context.Earlier != 0 && !entry.SecondPart {
		faults = append(faults, fault.New(fault.Duplicate, "note",
			"Delivery note %s of this supplier was booked as delivery %d. If this is a second part of it, say so.", entry.Note, context.Earlier))
	}
	switch _, err := day.Parse(string(entry.Day)); {
	case err != nil:
		faults = append(faults, fault.New(fault.Invalid, "day", "Enter the day on which the goods arrived."))
	case entry.Day > context.Today:
		faults = append(
			faults,
			fault.New(
				fault.Invalid,
				"day",
				"The day of arrival is in the future; today or an earlier day can be booked.",
			),
		)
	case entry.Day < order.IssuedOn:
		faults = append(faults, fault.New(fault.Invalid, "day", "The day of arrival is before the order was issued."))
	}
	return faults
}

// converted turns a count in another unit into the order's, by the item's own
// conversions.
func converted(i int, line *trade.OrderLine, counted Line, currency money.Currency) (Line, trade.Conversion, *fault.Fault) {
	if line.ByValue() {
		return accepted(i, line, counted, currency)
	}
	if counted.Unit == "" || counted.Unit == line.Unit {
		return counted, trade.Conversion{}, nil
	}
	conversion, ok := line.Conversion(counted.Unit)
	if !ok {
		return counted, conversion, fault.New(
			fault.Invalid,
			Field(i, "unit"),
			"%s has no conversion from %s into the unit of the order.",
			line.Description,
			counted.Unit,
		)
	}
	turn := func(quantity *money.Decimal, field string) *fault.Fault {
		made, err := conversion.Of(*quantity)
		if err != nil {
			return fault.New(fault.Invalid, Field(i, field), "%s", err.Error())
		}
		*quantity = made
		return nil
	}
	lots := slices.Clone(counted.Lots)
	f := turn(&counted.Quantity, "quantity")
	if f == nil {
		f = turn(&counted.Refused, "refused")
	}
	for n := range lots {
		if f == nil {
			f = turn(&lots[n].Quantity, "lots")
		}
	}
	counted.Lots = lots
	return counted, conversion, f
}

// accepted is what was accepted of a line by value, an amount or per cent of the line, in the order's currency.
func accepted(i int, line *trade.OrderLine, counted Line, currency money.Currency) (Line, trade.Conversion, *fault.Fault) {
	unit := cmp.Or(counted.Unit, line.Unit)
	if unit != line.Unit && unit != trade.PerCent {
		return counted, trade.Conversion{}, fault.New(
			fault.Invalid, Field(i, "unit"), "Line %d is by value: enter an amount of %s, or per cent.", line.No, currency)
	}
	for _, quantity := range []struct {
		of    *money.Decimal
		field string
	}{{&counted.Quantity, "quantity"}, {&counted.Refused, "refused"}} {
		value, err := line.Accepted(*quantity.of, unit, currency)
		if err != nil {
			return counted, trade.Conversion{}, fault.New(fault.Invalid, Field(i, quantity.field), "%s", err.Error())
		}
		*quantity.of = value
	}
	if unit == trade.PerCent {
		return counted, trade.Conversion{Unit: unit, Units: money.Int(100), Makes: line.Quantity}, nil
	}
	return counted, trade.Conversion{}, nil
}

// lotted checks the lots of a count: they have numbers and quantities and add up to
// it; an item that asks for lots has them.
func lotted(i int, line *trade.OrderLine, counted Line) *fault.Fault {
	var sum money.Decimal
	for _, l := range counted.Lots {
		if strings.TrimSpace(l.Lot) == "" || l.Quantity <= 0 {
			return fault.New(fault.Invalid, Field(i, "lots"), "Each lot needs its number and a quantity above zero.")
		}
		if line.Whole && !l.Quantity.Whole() {
			return fault.New(
				fault.Invalid,
				Field(i, "lots"),
				"%s is counted in whole units, also by lot.",
				line.Description,
			)
		}
		if _, err := day.Parse(string(l.BestBefore)); l.BestBefore != "" && err != nil {
			return fault.New(fault.Invalid, Field(i, "lots"), "The best-before day of lot %s is no day.", l.Lot)
		}
		sum += l.Quantity
	}
	switch {
	case len(counted.Lots) == 0 && line.Lots && counted.Quantity > 0:
		return fault.New(
			fault.Invalid,
			Field(i, "lots"),
			"%s is kept by lot: enter the lot number on the goods.",
			line.Description,
		)
	case len(counted.Lots) > 0 && sum != counted.Quantity:
		return fault.New(fault.Invalid, Field(i, "lots"), "The lots add up to %s, and %s came.", sum, counted.Quantity)
	}
	return nil
}

func countable(i int, line *trade.OrderLine, counted Line) *fault.Fault {
	switch {
	case counted.Quantity < 0:
		return fault.New(
			fault.Invalid,
			Field(i, "quantity"),
			"A delivered quantity cannot be below zero. To undo a booking, reverse its delivery.",
		)
	case counted.Refused < 0:
		return fault.New(fault.Invalid, Field(i, "refused"), "A refused quantity cannot be below zero.")
	case line.Whole && !(counted.Quantity.Whole() && counted.Refused.Whole()):
		return fault.New(fault.Invalid, Field(i, "quantity"), "%s is counted in whole units.", line.Description)
	case line.ClosedGoods && counted.Quantity > 0:
		return fault.New(
			fault.Refused,
			Field(i, "quantity"),
			"Line %d is closed: no more goods are expected on it. Refuse them at the door, or have the buyer open the line again.",
			line.No,
		)
	case line.ClosedGoods && counted.Close:
		return fault.New(fault.Refused, Field(i, "close"), "Line %d is closed already.", line.No)
	}
	return nil
}

// refusedFor is why goods are refused: as it was said or, where it goes without saying because
// the line is closed or past its limit with them, surplus.
func refusedFor(i int, line *trade.OrderLine, counted Line, policy trade.Policy) (Reason, *fault.Fault) {
	switch {
	case counted.Refused == 0:
		return "", nil
	case slices.Contains(Reasons, counted.Reason):
		return counted.Reason, nil
	case counted.Reason != "":
		return "", fault.New(fault.Invalid, Field(i, "refused"), "There is no such reason to refuse goods.")
	case line.ClosedGoods, line.Came()+counted.Quantity+counted.Refused > line.Most(policy):
		return Surplus, nil
	}
	return "", fault.New(fault.Invalid, Field(i, "refused"), "Say why %s is refused.", line.Description)
}

// control holds what is counted against the note's own count (rules §4).
func control(entry Entry) *fault.Fault {
	if entry.Stated == nil || strings.TrimSpace(entry.Why) != "" {
		return nil
	}
	var sum money.Decimal
	for _, l := range entry.Lines {
		sum += l.Quantity + l.Refused
	}
	if sum == *entry.Stated {
		return nil
	}
	return fault.New(
		fault.Invalid,
		"stated",
		"The note says %s in all, and %s are counted. Count again, or say why.",
		*entry.Stated,
		sum,
	)
}

// judge gives the verdict of one counted line.
func judge(order *trade.Order, line *trade.OrderLine, counted Line, policy trade.Policy) finding.Finding {
	after := line.Came() + counted.Quantity
	said := finding.Finding{
		Line: line.No, Name: line.Description, Unit: line.Unit, Currency: order.Currency,
		Quantity: counted.Quantity, Ordered: line.Quantity, Received: line.Came(),
	}
	switch {
	case after > line.Quantity:
		bound := line.Limit(limit.Delivery, limit.Over, policy)
		most := line.Most(policy)
		said.Kind, said.Verdict, said.Bound = finding.OverDelivery, finding.Within, &bound
		said.Excess, said.Nearest = after-line.Quantity, max(0, most-line.Came())
		said.Percent = money.Ratio(int64(said.Excess), int64(line.Quantity))
		if after > most && counted.Quantity > 0 {
			said.Verdict = finding.Outside
		}
	case after < line.Quantity && counted.Close:
		bound := line.Limit(limit.Delivery, limit.Under, policy)
		least := line.Least(policy)
		said.Kind, said.Verdict, said.Bound = finding.UnderDelivery, finding.Within, &bound
		said.Excess, said.Nearest = line.Quantity-after, max(0, least-line.Came())
		said.Percent = money.Ratio(int64(said.Excess), int64(line.Quantity))
		if after < least {
			said.Verdict = finding.Outside
		}
	case after < line.Quantity:
		said.Kind, said.Verdict, said.Excess = finding.PartDelivery, finding.Waiting, line.Quantity-after
	default:
		said.Kind, said.Verdict = finding.FullDelivery, finding.Agrees
	}
	return said
}

func value(order *trade.Order, line *trade.OrderLine, counted Line, context Context) (Receipt, error) {
	receipt := Receipt{
		Line:     line,
		Quantity: counted.Quantity,
		Refused:  counted.Refused,
		Reason:   counted.Reason,
		Remark:   strings.TrimSpace(counted.Remark),
		Lots:     counted.Lots,
	}
	var err error
	if receipt.Value, err = line.ShareOfNet(line.Came(), counted.Quantity); err != nil {
		return receipt, err
	}
	receipt.ValueBase, err = receipt.Value.Convert(context.Rate, order.Currency, context.Company)
	return receipt, err
}

// Blocked tells whether a line is past its limit, so that nothing may be booked.
func (p Plan) Blocked() bool {
	for _, f := range p.Findings {
		if f.Verdict == finding.Outside {
			return true
		}
	}
	return false
}
