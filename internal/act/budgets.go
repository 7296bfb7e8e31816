package act

// This file says of which budgets a document would take more than they have (rules §3).

import (
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Charge is what a document takes of a budget in a year, in company currency: of an order line what it takes more than before.
type Charge struct {
	Budget, Year string
	More         money.Amount
	Field        string // that it is told of
}

// Exceeded is a budget of which charges take more than it has, and the field that is told of.
type Exceeded struct {
	trade.OverBudget
	Field string
}

// Exceeded are the budgets of which charges would take more than they have; one that nobody planned in its year is not told of.
func (r Reading) Exceeded(charges []Charge) ([]Exceeded, error) {
	var all []Exceeded
	for _, c := range charges {
		at := slices.IndexFunc(all, func(o Exceeded) bool { return o.Budget == c.Budget && o.Year == c.Year })
		if at < 0 {
			at, all = len(all), append(all, Exceeded{trade.OverBudget{Budget: c.Budget, Year: c.Year}, c.Field})
		}
		all[at].More += c.More
	}
	var over []Exceeded
	for _, o := range all {
		plans, err := r.BudgetPlans(o.Year)
		if err != nil {
			return nil, err
		}
		plan, planned := plans[o.Budget]
		if !planned || o.More <= 0 {
			continue
		}
		taken, err := r.TakenOfBudget(o.Budget, o.Year)
		if err != nil {
			return nil, err
		}
		o.Planned, o.Taken = plan.Amount, taken.Taken
		if o.Exceeds() {
			over = append(over, o)
		}
	}
	return over, nil
}

// RefuseBudgets refuses charges of which budgets have not enough, where the company refuses that.
func (r Reading) RefuseBudgets(charges []Charge) (fault.Faults, error) {
	if r.Ours.OverBudget != trade.OverRefused {
		return nil, nil
	}
	over, err := r.Exceeded(charges)
	var faults fault.Faults
	for _, o := range over {
		faults = append(faults, o.Refusal(o.Field, r.Ours.Currency))
	}
	return faults, err
}

// OrderCharges are what lines of an order take of their budgets more than is counted of them: all of them where the order does
// not count yet.
func (r Reading) OrderCharges(order *trade.Order, lines []*trade.OrderLine) ([]Charge, error) {
	if order.Rate == 0 {
		return nil, nil // it is refused for that
	}
	charges := make([]Charge, 0, len(lines))
	for i, l := range lines {
		if l.Quantity <= 0 || l.Budget == "" {
			continue // it is refused for that
		}
		before, err := r.LineTaken(l.ID)
		if err != nil && !errors.Is(err, store.ErrNone) {
			return nil, err
		}
		now, err := l.BudgetPart(order.IssuedOn, order.Rate, order.Currency, r.Ours.Currency)
		if err != nil {
			return nil, err
		}
		now.Invoiced, now.OrderLine = before.Invoiced, -1 // by order, also before it has a row
		charge := Charge{Budget: l.Budget, Year: order.IssuedOn.Year(), More: now.Taken().Taken, Field: fmt.Sprintf("lines[%d].budget", i)}
		if before.Budget == l.Budget {
			charge.More -= before.Taken().Taken
		}
		charges = append(charges, charge)
	}
	return charges, nil
}

// CodedCharges are what an invoice takes of budgets without an order.
func (r Reading) CodedCharges(inv trade.Invoice) ([]Charge, error) {
	if !inv.HasCoded() || inv.Rate == 0 || inv.Kind == trade.CreditNote {
		return nil, nil
	}
	totals, err := inv.Totals()
	if err != nil {
		return nil, err
	}
	parts, err := inv.BudgetParts(totals, r.Ours.Currency)
	var charges []Charge
	for _, p := range parts {
		if p.OrderLine == 0 {
			charges = append(charges, Charge{Budget: p.Budget, Year: p.Month[:4], More: p.Invoiced})
		}
	}
	return charges, err
}
