package trade

// This file is about invoice lines without an order: what they are charged to (rules §5).

import (
	"slices"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Coding is a share of a line that is charged to a budget.
type Coding struct {
	Budget  string // code
	Percent money.Decimal
	Account Account // the budget's
}

// CodingPart is a share as it is typed: a budget's code or name, with its per cent.
type CodingPart struct {
	Name    string
	Percent money.Decimal
}

const whole = 100

// ParseCoding reads what a line is charged to: a budget, or several with their per cents ("TANKS 60, CLINIC 40"); one of
// them may be without and takes the rest. The shares add up to 100.
func ParseCoding(text, field string) ([]CodingPart, error) {
	var parts []CodingPart
	left, rest := money.Int(whole), -1
	for piece := range strings.FieldsFuncSeq(text, func(c rune) bool { return c == ',' || c == ';' || c == '+' }) {
		words := strings.Fields(strings.TrimSuffix(strings.TrimSpace(piece), "%"))
		if len(words) == 0 {
			continue
		}
		part := CodingPart{Name: strings.Join(words, " ")}
		if percent, err := money.ParseDecimal(words[len(words)-1]); err == nil && len(words) > 1 {
			part = CodingPart{strings.Join(words[:len(words)-1], " "), percent}
			if percent <= 0 {
				return nil, fault.New(fault.Invalid, field, "A share is above zero per cent.")
			}
			left -= percent
		} else if rest < 0 {
			rest = len(parts)
		} else {
			return nil, fault.New(fault.Invalid, field, "Say the per cent of each budget: %s and %s have none.", parts[rest].Name, part.Name)
		}
		parts = append(parts, part)
	}
	switch {
	case len(parts) == 0:
		return nil, fault.New(fault.Invalid, field, "Enter the budget that the line is charged to.")
	case rest >= 0 && left > 0:
		parts[rest].Percent = left
	case rest >= 0 || left != 0:
		return nil, fault.New(fault.Invalid, field, "The shares come to %s %%, not to 100.", money.Int(whole)-left)
	}
	return parts, nil
}

// SaidCoding is a coding as it is typed.
func SaidCoding(coding []Coding) string {
	if len(coding) == 1 {
		return coding[0].Budget
	}
	parts := make([]string, len(coding))
	for i, c := range coding {
		parts[i] = c.Budget + " " + c.Percent.String()
	}
	return strings.Join(parts, ", ")
}

// Coded tells whether the line is charged without an order.
func (l InvoiceLine) Coded() bool { return len(l.Coding) > 0 && l.OrderLineID == 0 }

// CodedShares splits an amount over what the line is charged to: by per cent and largest remainder, ties to the earlier.
func (l InvoiceLine) CodedShares(net money.Amount) ([]money.Amount, error) {
	weights := make([]money.Amount, len(l.Coding))
	for i, c := range l.Coding {
		weights[i] = money.Amount(c.Percent)
	}
	if net < 0 {
		shares, err := money.Split(-net, weights)
		for i := range shares {
			shares[i] = -shares[i]
		}
		return shares, err
	}
	return money.Split(net, weights)
}

// HasCoded tells whether a line of the invoice is charged without an order.
func (inv Invoice) HasCoded() bool { return slices.ContainsFunc(inv.Lines, InvoiceLine.Coded) }

// WithoutOrder tells whether the invoice is about no order at all: each of its lines is charged to a budget or is a charge.
func (inv Invoice) WithoutOrder() bool {
	return inv.HasCoded() &&
		!slices.ContainsFunc(inv.Lines, func(l InvoiceLine) bool { return !l.Coded() && l.ChargeKind == "" })
}

// CodedNet is the net of what the invoice charges without an order: all of it where it is about no order, else its coded
// lines after their share of what is allowed off the whole.
func (inv Invoice) CodedNet(t Totals) money.Amount {
	if inv.WithoutOrder() {
		return t.Net()
	}
	var sum money.Amount
	for i, l := range inv.Lines {
		if l.Coded() {
			sum += t.LineNets[i] - t.LineShares[i]
		}
	}
	return sum
}

// CodeAs charges the lines as those of another invoice: by the same words, else as its first coded line.
func (inv *Invoice) CodeAs(other Invoice) {
	first := slices.IndexFunc(other.Lines, InvoiceLine.Coded)
	if first < 0 {
		return
	}
	for i := range inv.Lines {
		l := &inv.Lines[i]
		if l.OrderLineID != 0 || l.ChargeKind != "" {
			continue
		}
		like := first
		if at := slices.IndexFunc(other.Lines, func(o InvoiceLine) bool { return o.Coded() && strings.EqualFold(o.Description, l.Description) }); at >= 0 {
			like = at
		}
		l.Coding = slices.Clone(other.Lines[like].Coding)
	}
}
