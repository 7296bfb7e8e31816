package store

// This file reads what is taken of the budgets.

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	budgetedLines = proof(`SELECT l.id, l.budget, l.net, l.quantity, ls.received, ls.billed, ls.closed_goods,
		ls.closed_invoices, o.currency, o.rate, o.issued_on FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id
		JOIN order_line l ON l.purchase_order = o.id JOIN order_line_state ls ON ls.order_line = l.id
		WHERE l.budget <> '' AND st.state IN ` + isIssued)
	bookedRevisions = proof(`SELECT revision FROM invoice_state WHERE state IN ` + isBooked)
)

// BudgetedLine is an issued order line that is charged to a budget, with what its net comes to in company currency.
type BudgetedLine struct {
	trade.OrderLine
	Currency money.Currency
	Rate     money.Decimal // company currency for one unit
	IssuedOn day.Day
}

// BudgetedLines are all issued order lines that are charged to a budget, in no order.
func (t *Tx) BudgetedLines() ([]BudgetedLine, error) {
	return list(t, budgetedLines, func(r row) (l BudgetedLine, err error) {
		err = r.Scan(&l.ID, &l.Budget, &l.Net, &l.Quantity, &l.Received, &l.Billed, &l.ClosedGoods, &l.ClosedInvoices, &l.Currency, &l.Rate, &l.IssuedOn)
		return
	})
}

// BookedRevisions are the revisions in force of all invoices that are in the books, in no order.
func (t *Tx) BookedRevisions() ([]int64, error) { return list(t, bookedRevisions, scanOne[int64]) }

// BudgetPlan is what a budget has in a calendar year, net of tax in company currency, and who said so last and why.
type BudgetPlan struct {
	Budget, Year string
	Amount       money.Amount
	Reason       string
	By           int64
	ByName, At   string
}

var (
	putBudgetPlan = statement(
		`INSERT INTO budget_plan (budget, year, amount, reason, by_person, at) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (budget, year) DO UPDATE SET amount = excluded.amount, reason = excluded.reason, by_person = excluded.by_person, at = excluded.at`,
	)
	budgetPlans = statement(
		`SELECT b.budget, b.year, b.amount, b.reason, b.by_person, p.name, b.at FROM budget_plan b JOIN person p ON p.id = b.by_person
		WHERE b.year = ? ORDER BY b.budget`,
	)
	putBudgetGroup = statement(
		`INSERT INTO budget_group (budget, name) VALUES (?, ?) ON CONFLICT (budget) DO UPDATE SET name = excluded.name`,
	)
	budgetGroups = statement(`SELECT budget, name FROM budget_group ORDER BY budget`)
)

// PutBudgetPlan writes what a budget has in a year.
func (t *Tx) PutBudgetPlan(p BudgetPlan) error {
	return t.do(putBudgetPlan, p.Budget, p.Year, p.Amount, p.Reason, p.By, p.At)
}

// BudgetPlans are those of a year, by budget.
func (t *Tx) BudgetPlans(year string) (map[string]BudgetPlan, error) {
	plans := map[string]BudgetPlan{}
	all, err := list(t, budgetPlans, func(r row) (p BudgetPlan, err error) {
		err = r.Scan(&p.Budget, &p.Year, &p.Amount, &p.Reason, &p.By, &p.ByName, &p.At)
		return
	}, year)
	for _, p := range all {
		plans[p.Budget] = p
	}
	return plans, err
}

// PutBudgetGroup says in which group a budget is shown; empty: in none.
func (t *Tx) PutBudgetGroup(budget, group string) error { return t.do(putBudgetGroup, budget, group) }

// BudgetGroups are the groups that budgets are shown in, by budget.
func (t *Tx) BudgetGroups() (map[string]string, error) {
	groups := map[string]string{}
	all, err := list(t, budgetGroups, func(r row) (g [2]string, err error) {
		err = r.Scan(&g[0], &g[1])
		return
	})
	for _, g := range all {
		groups[g[0]] = g[1]
	}
	return groups, err
}
