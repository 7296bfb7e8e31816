package trade

import (
	"maps"
	"slices"
	"strings"

	"lagoon/internal/core/money"
)

// OtherCharge is the kind of a charge that no kind of the company's is known for.
const OtherCharge = "other"

// ChargeKind is a kind of charge of the company: what orders plan, what keyed and
// e-invoices carry and what is booked apart by it (rules §3, §5).
type ChargeKind struct {
	Name     string // as it stands on documents, "freight"
	Standard string // the code of UNCL 7161 by which e-invoices name it, or nothing
	Ended    bool   // no longer offered; what carries it keeps it
	Tax      string // the tax code that is proposed with it; empty: none
	InGoods  bool   // a part of what the goods cost: spread over them by value
}

// StandingDiscount is the kind of what a supplier always grants in place of charging it; no kind of charge is called so.
const StandingDiscount = "discount"

// StandingCharge is what a supplier always charges, or as StandingDiscount grants: per cent of the goods, or an amount in
// its currency. It is proposed on its orders, and so expected on its invoices: a discount makes the lines of the order
// cheaper, which the invoice's are compared with.
type StandingCharge struct {
	Kind    string
	Percent money.Decimal
	Amount  money.Amount
}

// InGoods tells whether a kind of charge is a part of what the goods cost.
func (k ChargeKinds) InGoods(name string) bool {
	return slices.ContainsFunc(k, func(one ChargeKind) bool { return one.Name == name && one.InGoods })
}

// FirstCharges are the kinds that a company starts with.
var FirstCharges = ChargeKinds{
	{Name: "freight", Standard: "FC"},
	{Name: "handling", Standard: "HD"},
	{Name: "packing", Standard: "PC"},
	{Name: "small order"},
	{Name: "insurance"},
	{Name: OtherCharge},
}

// ChargeKinds are those of a company.
type ChargeKinds []ChargeKind

// Offers tells whether the kind may be put on a new document.
func (k ChargeKinds) Offers(name string) bool {
	return slices.ContainsFunc(k, func(one ChargeKind) bool { return one.Name == name && !one.Ended })
}

// Of names the kind of a charge of an e-invoice: by its code of UNCL 7161, else where its
// reason names one; what neither tells is OtherCharge.
func (k ChargeKinds) Of(c DocumentCharge) string {
	for _, one := range k {
		if one.Standard != "" && one.Standard == c.Code {
			return one.Name
		}
	}
	reason := strings.ToLower(c.Reason)
	best := OtherCharge
	for _, one := range k { // the longest name that the reason holds
		if one.Name != OtherCharge && strings.Contains(reason, one.Name) &&
			(best == OtherCharge || len(one.Name) > len(best)) {
			best = one.Name
		}
	}
	return best
}

// PlannedOf is what the order plans of one kind of charge.
func (o *Order) PlannedOf(kind string) money.Amount {
	var sum money.Amount
	for _, c := range o.Charges {
		if c.Kind == kind {
			sum += c.Amount
		}
	}
	return sum
}

// PlannedRest is what the order plans and the given sums by kind have not charged yet.
func (o *Order) PlannedRest(charged map[string]money.Amount) []PlannedCharge {
	left := map[string]money.Amount{}
	maps.Copy(left, charged)
	var rest []PlannedCharge
	for _, c := range o.Charges {
		taken := min(c.Amount, max(0, left[c.Kind]))
		left[c.Kind] -= taken
		if c.Amount -= taken; c.Amount > 0 {
			rest = append(rest, c)
		}
	}
	return rest
}
