package trade

// This file is about what is committed and spent of a budget, and what is more than it has (rules §3).

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// BudgetPart is what an order line, or invoices, take of a budget, in company currency. Invoiced is what verified invoices
// ask net of tax, less what credit notes give back; Credited is that part of it, zero or below.
type BudgetPart struct {
	Budget             string // code; empty: that of the order line
	OrderLine          int64  // row key; 0: without an order
	Month              string // YYYY-MM of the order's issue or, without one, of the invoice
	Ordered, Received  money.Amount
	Invoiced, Credited money.Amount
}

// Plus adds what another part of the same order line takes.
func (p BudgetPart) Plus(other BudgetPart) BudgetPart {
	p.Ordered, p.Received = p.Ordered+other.Ordered, p.Received+other.Received
	p.Invoiced, p.Credited = p.Invoiced+other.Invoiced, p.Credited+other.Credited
	return p
}

// Times is the part a number of times: −1 takes it back.
func (p BudgetPart) Times(n money.Amount) BudgetPart {
	p.Ordered, p.Received, p.Invoiced, p.Credited = n*p.Ordered, n*p.Received, n*p.Invoiced, n*p.Credited
	return p
}

// Taken is what the whole of an order line takes, or an invoice without an order: of what is ordered and what is invoiced the
// larger.
func (p BudgetPart) Taken() BudgetSum {
	sum := BudgetSum{Ordered: p.Ordered, Received: p.Received, Invoiced: p.Invoiced, Credited: p.Credited}
	if p.OrderLine == 0 {
		sum.Taken, sum.WithoutOrder = p.Invoiced, p.Invoiced-p.Credited
	} else {
		sum.Taken = max(p.Ordered, p.Invoiced)
	}
	return sum
}

// BudgetSum is what is taken of a budget: what is ordered, what is invoiced, and line by line the larger of the two; what is
// invoiced without an order counts alone. Invoiced is what came by order, without one, and what credit notes gave back.
type BudgetSum struct{ Ordered, Received, Invoiced, Credited, WithoutOrder, Taken money.Amount }

// Plus adds n times another sum.
func (s BudgetSum) Plus(o BudgetSum, n money.Amount) BudgetSum {
	return BudgetSum{
		s.Ordered + n*o.Ordered, s.Received + n*o.Received, s.Invoiced + n*o.Invoiced, s.Credited + n*o.Credited,
		s.WithoutOrder + n*o.WithoutOrder, s.Taken + n*o.Taken,
	}
}

// ByOrder is what invoices about orders asked, before credit notes.
func (s BudgetSum) ByOrder() money.Amount { return s.Invoiced - s.WithoutOrder - s.Credited }

// Left is what a budget of an amount has left; below zero where more is taken.
func (s BudgetSum) Left(budgeted money.Amount) money.Amount { return budgeted - s.Taken }

// Committed is the net of an order line with the part that was ended early taken off: a line that is closed to goods
// commits what came, one that is closed to invoices what is billed.
func (l *OrderLine) Committed() (money.Amount, error) {
	quantity := l.Quantity
	if l.ClosedGoods {
		quantity = min(quantity, l.Received)
	}
	if l.ClosedInvoices {
		quantity = min(quantity, l.Billed)
	}
	return l.Net.Part(int64(max(0, quantity)), int64(l.Quantity))
}

// BudgetPart is what an issued order line takes of its budget, at the order's rate: company currency for one unit.
func (l *OrderLine) BudgetPart(issued day.Day, rate money.Decimal, currency, company money.Currency) (BudgetPart, error) {
	p := BudgetPart{Budget: l.Budget, OrderLine: l.ID, Month: issued.Month()}
	net, err := l.Committed()
	if err != nil {
		return p, err
	}
	here, err := l.Net.Part(int64(max(0, l.Received)), int64(l.Quantity))
	if err != nil {
		return p, err
	}
	if p.Ordered, err = net.Convert(rate, currency, company); err != nil {
		return p, err
	}
	p.Received, err = here.Convert(rate, currency, company)
	return p, err
}

// BudgetParts are what a booked invoice takes of budgets: what its coded lines are charged to, and its lines about order lines.
// Each line bears its share of what is allowed off the whole.
func (inv Invoice) BudgetParts(t Totals, company money.Currency) ([]BudgetPart, error) {
	var parts []BudgetPart
	take := func(budget string, line int64, net money.Amount) error {
		base, err := net.Convert(inv.Rate, inv.Currency, company)
		p := BudgetPart{Budget: budget, OrderLine: line, Month: inv.Date.Month(), Invoiced: base}
		if inv.Kind == CreditNote {
			p.Invoiced, p.Credited = -base, -base
		}
		parts = append(parts, p)
		return err
	}
	for i, l := range inv.Lines {
		net := t.LineNets[i] - t.LineShares[i]
		if l.Coded() {
			shares, err := l.CodedShares(net)
			if err != nil {
				return nil, err
			}
			for j, c := range l.Coding {
				if err := take(c.Budget, 0, shares[j]); err != nil {
					return nil, err
				}
			}
		} else if l.OrderLineID != 0 && l.ChargeKind == "" {
			if err := take("", l.OrderLineID, net); err != nil {
				return nil, err
			}
		}
	}
	return parts, nil
}

// OverRule says what is done where a document would take more than a budget has.
type OverRule string

// The rules.
const (
	OverTold    OverRule = "told"    // it is said, and goes on
	OverRefused OverRule = "refused" // nothing is ordered or approved before the budget is changed
)

// Known tells whether it is one of them.
func (r OverRule) Known() bool { return r == OverTold || r == OverRefused }

// OverBudget is a budget of which a document would take more than it has in a year, in company currency.
type OverBudget struct {
	Budget, Year   string
	Planned, Taken money.Amount // Taken: without the document
	More           money.Amount // what the document takes
}

// By is by how much the budget would be exceeded.
func (o OverBudget) By() money.Amount { return o.Taken + o.More - o.Planned }

// Exceeds tells whether the document takes more than the budget has. One that takes nothing more than before is never told of,
// whatever was taken already.
func (o OverBudget) Exceeds() bool { return o.More > 0 && o.By() > 0 }

// Refusal is why a document is refused for what it takes of a budget.
func (o OverBudget) Refusal(field string, company money.Currency) *fault.Fault {
	in := func(a money.Amount) money.Money { return money.Money{Amount: a, Currency: company} }
	return fault.New(
		fault.Refused, field, "Budget %s has %s in %s, %s of it are taken, and this takes %s: %s too much. Who keeps the budgets can change it.",
		o.Budget, in(o.Planned), o.Year, in(o.Taken), in(o.More), in(o.By()),
	)
}
