package trade

// This file is about what is committed and spent of a budget (rules §3).

import "lagoon/internal/core/money"

// BudgetPart is what an order line, or invoices without an order, take of a budget, in company currency. Invoiced is what
// verified invoices ask net of tax, less what credit notes give back.
type BudgetPart struct {
	Budget            string // code
	OrderLine         int64  // row key; 0: without an order
	Year              string // of the order or, without one, of the invoice
	Ordered, Invoiced money.Amount
	Received          money.Amount // the part of what is ordered that is here
}

// BudgetSum is what is taken of a budget: what is ordered, what is invoiced, and line by line the larger of the two; what is
// invoiced without an order counts alone, and is told apart.
type BudgetSum struct{ Ordered, Received, Invoiced, Taken, WithoutOrder money.Amount }

// Left is what a budget of an amount has left; below zero where more is taken.
func (s BudgetSum) Left(budgeted money.Amount) money.Amount { return budgeted - s.Taken }

// BudgetSums adds up by budget what is taken of each. Parts of one order line belong together, whatever their order.
func BudgetSums(parts []BudgetPart) map[string]BudgetSum {
	type of struct {
		budget string
		line   int64
	}
	lines := map[of]BudgetPart{}
	for _, p := range parts {
		key := of{p.Budget, p.OrderLine}
		sum := lines[key]
		sum.Ordered, sum.Received, sum.Invoiced = sum.Ordered+p.Ordered, sum.Received+p.Received, sum.Invoiced+p.Invoiced
		lines[key] = sum
	}
	sums := map[string]BudgetSum{}
	for key, p := range lines {
		sum := sums[key.budget]
		sum.Ordered, sum.Received, sum.Invoiced = sum.Ordered+p.Ordered, sum.Received+p.Received, sum.Invoiced+p.Invoiced
		sum.Taken += max(p.Ordered, p.Invoiced)
		if key.line == 0 {
			sum.WithoutOrder += p.Invoiced
		}
		sums[key.budget] = sum
	}
	return sums
}

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

// BudgetParts are what a booked invoice takes of budgets: what its coded lines are charged to, and its lines about order lines,
// whose budgets are given by their row keys. Each line bears its share of what is allowed off the whole.
func (inv Invoice) BudgetParts(t Totals, budgets map[int64]string, company money.Currency) ([]BudgetPart, error) {
	var parts []BudgetPart
	sign := money.Amount(1)
	if inv.Kind == CreditNote {
		sign = -1
	}
	take := func(budget string, line int64, net money.Amount) error {
		base, err := net.Convert(inv.Rate, inv.Currency, company)
		parts = append(parts, BudgetPart{Budget: budget, OrderLine: line, Year: inv.Date.Year(), Invoiced: sign * base})
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
		} else if budget := budgets[l.OrderLineID]; l.OrderLineID != 0 && budget != "" && l.ChargeKind == "" {
			if err := take(budget, l.OrderLineID, net); err != nil {
				return nil, err
			}
		}
	}
	return parts, nil
}
