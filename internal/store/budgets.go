package store

// This file keeps what budgets have: in a year, in its months, and what was carried over from one year to the next.

import (
	"fmt"

	"lagoon/internal/core/money"
)

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
	putPlanMonth = statement(
		`INSERT INTO budget_plan_month (budget, year, month, amount) VALUES (?, ?, ?, ?)
		ON CONFLICT (budget, year, month) DO UPDATE SET amount = excluded.amount`,
	)
	planMonths = statement(`SELECT month, amount FROM budget_plan_month WHERE budget = ? AND year = ? ORDER BY month`)
	addCarry   = statement(`INSERT INTO budget_carry (budget, year, amount, reason, by_person, at) VALUES (?, ?, ?, ?, ?, ?)`)
	carries    = statement(
		`SELECT c.budget, c.year, c.amount, c.reason, c.by_person, p.name, c.at FROM budget_carry c JOIN person p ON p.id = c.by_person
		WHERE c.year >= ?1 AND c.year <= ?2 ORDER BY c.year, c.id`,
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

// PutPlanMonths parts what a budget has in a year over its months, January first.
func (t *Tx) PutPlanMonths(budget, year string, amounts [12]money.Amount) error {
	for i, amount := range amounts {
		if err := t.do(putPlanMonth, budget, year, fmt.Sprintf("%02d", i+1), amount); err != nil {
			return err
		}
	}
	return nil
}

// PlanMonths is how a budget is parted over the months of a year, January first; nil where it is not.
func (t *Tx) PlanMonths(budget, year string) (*[12]money.Amount, error) {
	var months *[12]money.Amount
	rows, err := list(t, planMonths, func(r row) (m struct {
		month  int
		amount money.Amount
	}, err error) {
		err = r.Scan(&m.month, &m.amount)
		return
	}, budget, year)
	for _, m := range rows {
		if months == nil {
			months = &[12]money.Amount{}
		}
		months[m.month-1] = m.amount
	}
	if months != nil && *months == ([12]money.Amount{}) {
		return nil, err
	}
	return months, err
}

// Carry is what was left of a budget in a year and was given to it in the next.
type Carry struct {
	Budget, Year string // the year that it was left in
	Amount       money.Amount
	Reason       string
	By           int64
	ByName, At   string
}

// AddCarry writes it.
func (t *Tx) AddCarry(c Carry) error {
	return t.do(addCarry, c.Budget, c.Year, c.Amount, c.Reason, c.By, c.At)
}

// Carries are those of the years from one to another, in order.
func (t *Tx) Carries(from, until string) ([]Carry, error) {
	return list(t, carries, func(r row) (c Carry, err error) {
		err = r.Scan(&c.Budget, &c.Year, &c.Amount, &c.Reason, &c.By, &c.ByName, &c.At)
		return
	}, from, until)
}
