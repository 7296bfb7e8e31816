package masters

// This file is about budgets: what they are, what they have in a year, what is carried over to the next, and what is planned to
// be bought out of them.

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/naming"
	"lagoon/internal/store"
	"strconv"
	"strings"
)

// SaveBudget writes what orders can be charged to.
func SaveBudget(ctx context.Context, a *act.App, c act.Command, budget store.Budget) (Saved, error) {
	return act.Perform(ctx, a, act.SaveBudget, c, func(w *act.Work) (Saved, error) {
		budget.Code, budget.Name = strings.ToUpper(strings.TrimSpace(budget.Code)), strings.TrimSpace(budget.Name)
		var faults fault.Faults
		if budget.Code == "" || strings.ContainsAny(budget.Code, " \t/") {
			faults = append(faults, fault.New(fault.Invalid, "code", "Enter a code without spaces."))
		}
		faults.Add(naming.Check(budget.Code, "code"), naming.Check(budget.Name, "name"))
		if budget.Name == "" {
			faults = append(faults, fault.New(fault.Invalid, "name", "Enter what the budget is for."))
		}
		if roleOf[budget.Account] == "" {
			faults = append(faults, fault.New(fault.Invalid, "account", "Choose stock, cost or fixed assets."))
		}
		all, err := w.Budgets()
		for _, b := range all {
			if b.Code == budget.Code && b.Account != budget.Account {
				faults = append(
					faults,
					fault.New(
						fault.Refused,
						"account",
						"Budget %s is booked to %s already, so that stays.",
						b.Code,
						b.Account,
					),
				)
			}
		}
		if err := errors.Join(err, faults.OrNil()); err != nil {
			return Saved{}, err
		}
		return Saved{
				Code: budget.Code,
			}, errors.Join(
				w.PutBudget(budget.Code, budget.Name, budget.Account),
				w.RecordAs("budget", budget.Code, nil, budget),
			)
	})
}

// PlanEntry is what a budget has in a year, and the group that it is shown in from now on.
type PlanEntry struct {
	Budget, Year string
	Amount       money.Entered   // net of tax, in company currency; empty with Months: what they come to
	Months       []money.Entered // nil: it is not parted; else twelve, January first
	Group        string
	Reason       string // why it is changed; a first amount needs none
}

// planned are what a budget has in a year and in its months, and how it stood before.
type planned struct {
	Year, Group, Reason string
	Amount              money.Amount
	Months              *[12]money.Amount `json:",omitempty"`
}

// months reads how a year's amount is parted. What is typed of both must agree.
func (e PlanEntry) months(currency money.Currency) (amount money.Amount, months *[12]money.Amount, faults fault.Faults) {
	read := func(typed money.Entered, field string) money.Amount {
		amount, err := typed.In(currency)
		if err != nil || amount < 0 {
			faults = append(faults, fault.New(fault.Invalid, field, "Enter an amount of %s, net of tax.", currency))
		}
		return amount
	}
	if e.Months == nil {
		return read(e.Amount, "amount"), nil, faults
	}
	if len(e.Months) != 12 {
		return 0, nil, append(faults, fault.New(fault.Invalid, "months", "A year has twelve months."))
	}
	months = &[12]money.Amount{}
	var sum money.Amount
	for i, typed := range e.Months {
		if strings.TrimSpace(string(typed)) != "" {
			months[i] = read(typed, fmt.Sprintf("months[%d]", i))
		}
		sum += months[i]
	}
	if strings.TrimSpace(string(e.Amount)) == "" {
		return sum, months, faults
	}
	if amount = read(e.Amount, "amount"); len(faults) == 0 && amount != sum {
		faults = append(faults, fault.New(fault.Invalid, "amount", "The months come to %s.", money.Money{Amount: sum, Currency: currency}))
	}
	return amount, months, faults
}

// PlanBudget writes what a budget has in a calendar year. What was planned before is changed only with a reason.
func PlanBudget(ctx context.Context, a *act.App, c act.Command, e PlanEntry) (Saved, error) {
	return act.Perform(ctx, a, act.PlanBudget, c, func(w *act.Work) (Saved, error) {
		if known, err := w.HasBudget(e.Budget); err != nil {
			return Saved{}, err
		} else if !known {
			return Saved{}, fault.New(fault.NotFound, "budget", "There is no budget %s.", e.Budget)
		}
		if _, err := day.Parse(e.Year + "-01-01"); err != nil || len(e.Year) != 4 {
			return Saved{}, fault.New(fault.Invalid, "year", "A year is four figures, such as 2026.")
		}
		amount, months, faults := e.months(w.Ours.Currency)
		e.Group, e.Reason = strings.TrimSpace(e.Group), strings.TrimSpace(e.Reason)
		if e.Group != "" {
			faults.Add(naming.Check(e.Group, "group"))
		}
		was, standing, err := planOf(w, e.Budget, e.Year)
		if err != nil {
			return Saved{}, err
		}
		if standing && was.Amount != amount && e.Reason == "" {
			faults = append(faults, fault.New(fault.Invalid, "reason", "Say why the budget is changed."))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		if was.Group != e.Group {
			if err := w.PutBudgetGroup(e.Budget, e.Group); err != nil {
				return Saved{}, err
			}
		}
		return Saved{Code: e.Budget}, putPlan(w, e.Budget, was, planned{e.Year, e.Group, e.Reason, amount, months})
	})
}

// planOf reads what a budget has in a year, and whether anybody planned it.
func planOf(w *act.Work, budget, year string) (planned, bool, error) {
	plans, err1 := w.BudgetPlans(year)
	groups, err2 := w.BudgetGroups()
	months, err3 := w.PlanMonths(budget, year)
	plan, standing := plans[budget]
	return planned{year, groups[budget], plan.Reason, plan.Amount, months}, standing, errors.Join(err1, err2, err3)
}

// putPlan writes it, with how it stood in the record.
func putPlan(w *act.Work, budget string, was, now planned) error {
	if now.Months != nil || was.Months != nil {
		months := now.Months
		if months == nil {
			months = &[12]money.Amount{}
		}
		if err := w.PutPlanMonths(budget, now.Year, *months); err != nil {
			return err
		}
	}
	plan := store.BudgetPlan{Budget: budget, Year: now.Year, Amount: now.Amount, Reason: now.Reason, By: w.Actor.ID, ByName: w.Actor.Name, At: w.Instant()}
	return errors.Join(w.PutBudgetPlan(plan), w.RecordAs("budget", budget, was, now))
}

// CarryEntry gives what is left of budgets in a year to them in the next.
type CarryEntry struct {
	Year    string
	Budgets []string // codes
	Reason  string   // empty: that it is carried over
}

// CarryBudgets takes what is left of budgets off what they have in a year, and adds it to what they have in the next, so that
// both years together have as much as before. It is taken back by changing both amounts, with a reason. A budget of which
// nothing is left is refused, also the second time. Months keep what they have: what is carried stands in none.
func CarryBudgets(ctx context.Context, a *act.App, c act.Command, e CarryEntry) (int, error) {
	return act.Perform(ctx, a, act.CarryBudgets, c, func(w *act.Work) (int, error) {
		year, err := strconv.Atoi(e.Year)
		if err != nil || len(e.Year) != 4 {
			return 0, fault.New(fault.Invalid, "year", "A year is four figures, such as 2026.")
		}
		if len(e.Budgets) == 0 {
			return 0, fault.New(fault.Invalid, "budgets", "Choose the budgets that are carried over.")
		}
		next := fmt.Sprintf("%04d", year+1)
		reason := cmp.Or(strings.TrimSpace(e.Reason), fmt.Sprintf("carried over from %s to %s", e.Year, next))
		for i, budget := range e.Budgets {
			field := fmt.Sprintf("budgets[%d]", i)
			was, standing, err := planOf(w, budget, e.Year)
			if err != nil {
				return 0, err
			}
			if !standing {
				return 0, fault.New(fault.Refused, field, "Nobody planned budget %s in %s, so nothing of it is left.", budget, e.Year)
			}
			taken, err := w.TakenOfBudget(budget, e.Year)
			if err != nil {
				return 0, err
			}
			left := taken.Left(was.Amount)
			if left <= 0 {
				return 0, fault.New(fault.Refused, field, "Nothing of budget %s is left in %s.", budget, e.Year)
			}
			then, _, err := planOf(w, budget, next)
			if err != nil {
				return 0, err
			}
			now, later := was, then
			now.Amount, now.Reason = was.Amount-left, reason
			later.Amount, later.Reason = then.Amount+left, reason
			carry := store.Carry{Budget: budget, Year: e.Year, Amount: left, Reason: reason, By: w.Actor.ID, At: w.Instant()}
			if err := errors.Join(w.AddCarry(carry), putPlan(w, budget, was, now), putPlan(w, budget, then, later)); err != nil {
				return 0, err
			}
		}
		return len(e.Budgets), nil
	})
}

// SaveBudgetLine plans something to be bought out of a budget; number zero makes a new
// line.
func SaveBudgetLine(ctx context.Context, a *act.App, c act.Command, line store.BudgetLine) (Saved, error) {
	return act.Perform(ctx, a, act.SaveBudgetLine, c, func(w *act.Work) (Saved, error) {
		var faults fault.Faults
		supplier, err := w.SupplierByCode(line.Supplier)
		if errors.Is(err, store.ErrNone) {
			faults = append(faults, act.Unnamed("supplier", line.Supplier))
		} else if err != nil {
			return Saved{}, err
		}
		var item store.Item
		line.Description = strings.TrimSpace(line.Description)
		if line.Item != "" {
			if item, err = w.ItemNamed(line.Item, supplier.ID); errors.Is(err, store.ErrNone) {
				faults = append(faults, fault.New(fault.Invalid, "item", "There is no item %s.", line.Item))
			} else if err != nil {
				return Saved{}, err
			}
			line.Unit = item.Unit
			if line.Description == "" {
				line.Description = item.Name
			}
		} else if line.Description == "" {
			faults = append(faults, fault.New(fault.Invalid, "item", "Name an item, or describe the goods."))
		} else if line.Unit == "" {
			faults = append(faults, fault.New(fault.Invalid, "unit", "Say what they are counted in."))
		}
		if line.Quantity <= 0 {
			faults = append(faults, fault.New(fault.Invalid, "quantity", "Enter a quantity above zero."))
		}
		if line.Price <= 0 {
			faults = append(faults, fault.New(fault.Invalid, "price", "Enter the price that is expected."))
		}
		if _, err := day.Parse(string(line.WantedOn)); err != nil {
			faults = append(
				faults,
				fault.New(fault.Invalid, "wantedOn", "Enter the day on which the goods are wanted."),
			)
		}
		if known, err := w.HasBudget(line.Budget); err != nil {
			return Saved{}, err
		} else if !known {
			faults = append(faults, act.Unnamed("budget", line.Budget))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		if line.No == 0 {
			last, err := w.LastBudgetLine(line.Budget)
			if err != nil {
				return Saved{}, err
			}
			line.No = last + 1
		}
		return Saved{
				Code: fmt.Sprint(line.No),
			}, errors.Join(
				w.PutBudgetLine(line, supplier.ID, item.ID),
				w.RecordAs("budget", line.Budget, nil, line),
			)
	})
}

// BudgetLines lists what is planned, with what was ordered of it.
func BudgetLines(ctx context.Context, a *act.App) (act.Listed[store.BudgetLine], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]store.BudgetLine, error) { return r.Tx.BudgetLines() })
}
