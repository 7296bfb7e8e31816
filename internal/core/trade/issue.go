package trade

import (
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Advice is what the rules of issuing say that does not stop an order. Operands are
// money in the order's currency or a day.
type Advice struct {
	Kind      AdviceKind
	Name      string
	Amount    money.Amount // the threshold
	Shortfall money.Amount // what is missing to reach it
	Day       day.Day
}

// AdviceKind tells which.
type AdviceKind string

// The kinds of advice.
const (
	SupplierDisputed AdviceKind = "in_dispute"
	FreightCharged   AdviceKind = "freight_charged" // below the free-freight threshold
	NoDeliveryDay    AdviceKind = "no_delivery_day"
	SupplierUnready  AdviceKind = "incomplete"
)

// CheckIssue applies the supplier's rules of issuing (rules §3) to an order of a net:
// nothing ordered, or not ordered from yet: refused; below the minimum order value: refused with
// the shortfall; in dispute, below the free-freight threshold, wanted on a day without
// deliveries: told.
func CheckIssue(s Supplier, net money.Amount, wanted day.Day) ([]Advice, fault.Faults) {
	var faults fault.Faults
	var advice []Advice
	switch {
	case s.Holds.Has(SupplierEnded):
		faults = append(faults, fault.New(fault.Refused, "supplier", "%s is ended: nothing new is ordered from it. Who keeps suppliers can take that back.", s.Name))
	case s.Holds.Has(NothingOrdered):
		faults = append(
			faults,
			fault.New(fault.Refused, "supplier", "Nothing is ordered from %s for now: a hold says so. Who keeps suppliers can lift it.", s.Name),
		)
	case s.NotYet:
		faults = append(
			faults,
			fault.New(
				fault.Refused,
				"supplier",
				"%s is not ordered from yet: it may be asked. Who keeps suppliers can change that.",
				s.Name,
			),
		)
	case s.Holds.Has(InDispute):
		advice = append(advice, Advice{Kind: SupplierDisputed, Name: s.Name})
	}
	if s.LeastOrder > 0 && net < s.LeastOrder {
		faults = append(faults, fault.New(
			fault.Refused,
			"lines",
			"%s takes no order below %s: %s are missing.",
			s.Name,
			money.Money{
				Amount:   s.LeastOrder,
				Currency: s.Currency,
			},
			money.Money{Amount: s.LeastOrder - net, Currency: s.Currency},
		))
	}
	if s.FreeFrom > 0 && net < s.FreeFrom {
		advice = append(
			advice,
			Advice{Kind: FreightCharged, Name: s.Name, Amount: s.FreeFrom, Shortfall: s.FreeFrom - net},
		)
	}
	if wanted != "" && !s.DeliversOn(wanted) {
		advice = append(advice, Advice{Kind: NoDeliveryDay, Name: s.Name, Day: wanted})
	}
	if s.Incomplete {
		advice = append(advice, Advice{Kind: SupplierUnready, Name: s.Name})
	}
	return advice, faults
}

// CheckLine finds what stands against issuing a line. Fields are named as lines[index].
func CheckLine(index int, l *OrderLine, currency money.Currency) fault.Faults {
	var faults fault.Faults
	refuse := func(kind fault.Kind, name, sentence string, operands ...any) {
		faults = append(faults, fault.New(kind, fmt.Sprintf("lines[%d].%s", index, name), sentence, operands...))
	}
	if l.Budget == "" {
		refuse(fault.Refused, "budget", "Line %d has no budget, so the order cannot be issued.", l.No)
	}
	switch {
	case l.Quantity <= 0:
		refuse(fault.Invalid, "quantity", "Line %d needs a quantity above zero.", l.No)
	case l.Whole && !l.Quantity.Whole():
		refuse(fault.Invalid, "quantity", "%s is counted in whole units.", l.Description)
	case l.Price < 0:
		refuse(fault.Invalid, "price", "A price cannot be below zero.")
	}
	if no := checkValue(index, l, currency); no != nil {
		faults = append(faults, no)
	}
	if l.OwnLevel != "" && !l.OwnLevel.Known() {
		refuse(fault.Invalid, "level", "Choose how invoices of line %d are matched.", l.No)
	}
	if l.Discount < 0 || l.Charge < 0 {
		refuse(fault.Invalid, "discount", "A discount or a surcharge cannot be below zero.")
	} else if l.Net < 0 && l.Price >= 0 && l.Quantity > 0 {
		refuse(fault.Invalid, "discount", "Line %d: the discount is more than the goods cost.", l.No)
	}
	return faults
}

// CheckChange finds what stands against changing an issued line: its quantity may not
// go below what was received or invoiced, and what it is for stays (rules §3).
func CheckChange(index int, before, after *OrderLine) fault.Faults {
	field := func(name string) string { return fmt.Sprintf("lines[%d].%s", index, name) }
	var faults fault.Faults
	if used := max(before.Came(), before.Billed+before.Reserved); after.Quantity < before.Quantity &&
		after.Quantity < used {
		faults = append(
			faults,
			fault.New(
				fault.Refused,
				field("quantity"),
				"Line %d: %s are received or invoiced already, so it cannot go down to %s.",
				before.No,
				used,
				after.Quantity,
			),
		)
	}
	if before.ItemCode != after.ItemCode || before.Unit != after.Unit {
		faults = append(
			faults,
			fault.New(
				fault.Refused,
				field("item"),
				"Line %d was issued as %s. Close it and add a line for something else.",
				before.No,
				before.Description,
			),
		)
	}
	if before.OwnLevel != after.OwnLevel && before.LevelFixed {
		faults = append(
			faults,
			fault.New(
				fault.Refused,
				field("level"),
				"Line %d is received or invoiced in part, so it stays matched as it is.",
				before.No,
			),
		)
	}
	if before.Budget != after.Budget && before.LevelFixed {
		faults = append(
			faults,
			fault.New(fault.Refused, field("budget"), "Line %d is booked to %s already.", before.No, before.Budget),
		)
	}
	return faults
}

// Change is what differs between two versions of an order, for the supplier and for
// whoever reads it later.
type Change struct {
	Line     int // zero: the head
	What     string
	Was, Now string
}

// Changes lists what a supplier sees differently in a later version of an order.
func Changes(before, after *Order) []Change {
	var list []Change
	note := func(line int, what, was, now string) {
		if was != now {
			list = append(list, Change{line, what, was, now})
		}
	}
	note(0, "wanted by", string(before.WantedOn), string(after.WantedOn))
	note(0, "about", before.SaidAbout(), after.SaidAbout())
	note(0, "place of delivery", before.Destination(), after.Destination())
	note(0, "contact", before.Contact, after.Contact)
	note(0, "your reference", before.TheirReference, after.TheirReference)
	note(0, "instructions", before.Instructions, after.Instructions)
	note(0, "note", before.Note, after.Note)
	for _, l := range after.Lines {
		old := before.Line(l.No)
		if old == nil {
			list = append(list, Change{l.No, "added", "", l.Description})
			continue
		}
		note(l.No, "description", old.Description, l.Description)
		note(l.No, "quantity", old.Quantity.String(), l.Quantity.String())
		note(l.No, "unit price", old.Price.String(), l.Price.String())
		note(l.No, "discount", old.Discount.Text(before.Currency), l.Discount.Text(after.Currency))
		note(l.No, "surcharge", old.Charge.Text(before.Currency), l.Charge.Text(after.Currency))
		if l.WantedOn != after.WantedOn || old.WantedOn != before.WantedOn { // else the head says it
			note(l.No, "wanted by", string(old.WantedOn), string(l.WantedOn))
		}
		note(l.No, "note", old.Note, l.Note)
		if l.ClosedGoods && !old.ClosedGoods {
			list = append(list, Change{l.No, "no more goods", "", ""})
		} else if old.ClosedGoods && !l.ClosedGoods {
			list = append(list, Change{l.No, "goods wanted again", "", ""})
		}
	}
	note(0, "planned charges", before.Planned().Text(before.Currency), after.Planned().Text(after.Currency))
	return list
}

// Destination is where the goods are to go.
func (o *Order) Destination() string {
	if o.Elsewhere != "" {
		return o.Elsewhere
	}
	return o.Place
}

// DeliverTo is where the goods are to go, with its address where one is known.
func (o *Order) DeliverTo() string {
	if o.Elsewhere != "" || o.PlaceAddress == "" {
		return o.Destination()
	}
	return o.Place + ", " + strings.Join(strings.Fields(o.PlaceAddress), " ")
}

// CheckClose finds what stands against closing a line (rules §3, §11): to invoices it
// closes only once nothing of it is received and not invoiced, or invoiced and not
// received.
func CheckClose(l *OrderLine, goods, invoices bool) *fault.Fault {
	switch {
	case !goods && !invoices:
		return fault.New(fault.Invalid, "closes", "Say whether no more goods, no more invoices or neither are to come.")
	case (!goods || l.ClosedGoods) && (!invoices || l.ClosedInvoices):
		return fault.New(fault.Refused, "lines", "Line %d is closed already.", l.No)
	case invoices && l.Reserved > 0:
		return fault.New(
			fault.Refused,
			"lines",
			"Line %d: an invoice over %s is being settled. Settle or refuse it first.",
			l.No,
			l.Reserved,
		)
	case invoices && l.Level.Receives() && l.Open() > 0:
		return fault.New(
			fault.Refused,
			"lines",
			"Line %d: %s are received and not invoiced. Accept them as free of charge, or close the line to goods only.",
			l.No,
			l.Open(),
		)
	case invoices && (l.Over() > 0 || l.Awaited.Quantity() > 0 || (l.Debit() && !goods && !l.ClosedGoods)):
		return fault.New(
			fault.Refused,
			"lines",
			"Line %d: more is invoiced than is here. It closes to invoices once its credit note or its goods have come.",
			l.No,
		)
	}
	return nil
}

// CheckFree finds what stands against accepting what is here of a line and not invoiced as free
// of charge (rules §6).
func CheckFree(l *OrderLine) *fault.Fault {
	switch {
	case !l.Level.Receives() || l.Open() <= 0:
		return fault.New(
			fault.Refused,
			"line",
			"Nothing of line %d is received and not invoiced, so nothing can be free of charge.",
			l.No,
		)
	case l.Reserved > 0:
		return fault.New(
			fault.Refused,
			"line",
			"Line %d: an invoice over %s is being settled, and nothing that it bills can be free of charge. Settle or refuse it first.",
			l.No,
			l.Reserved,
		)
	case l.Debit():
		return fault.New(
			fault.Refused,
			"line",
			"Line %d: more is invoiced than is here. It can be closed once its credit note or its goods have come.",
			l.No,
		)
	}
	return nil
}

// CloseOrOpen closes an issued order whose lines are all closed to goods and invoices, and
// opens a closed one with a line that is not; it tells whether that changed the order.
func (o *Order) CloseOrOpen() bool {
	open := slices.ContainsFunc(o.Lines, func(l *OrderLine) bool { return !l.ClosedGoods || !l.ClosedInvoices })
	switch {
	case o.State == Issued && !open:
		o.State = Closed
	case o.State == Closed && open:
		o.State = Issued
	default:
		return false
	}
	return true
}
