package web

// This file translates budgets by year.

import (
	"context"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/say"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetBudgetYear says what each budget has in a year, and what is taken of it.
func (h *handlers) GetBudgetYear(ctx context.Context, r contract.GetBudgetYearRequestObject) (contract.GetBudgetYearResponseObject, error) {
	years, err := views.Budgets(ctx, h.app, value(r.Params.Year))
	if err != nil {
		return nil, err
	}
	text := func(a money.Amount) string { return a.Text(years.Company) }
	return contract.GetBudgetYear200JSONResponse{
		Year: years.Year, Currency: string(years.Company),
		Budgets: each(years.Budgets, func(b views.BudgetYear) contract.BudgetYear {
			to := contract.BudgetYear{
				Code: b.Code, Name: b.Name, Group: b.Group, Ordered: text(b.Ordered), Received: text(b.Received), Invoiced: text(b.Invoiced),
				ByOrder: text(b.ByOrder()), WithoutOrder: text(b.WithoutOrder), Credited: text(b.Credited), Deferred: text(b.Deferred), Taken: text(b.Taken),
			}
			if b.CarriedIn != 0 {
				to.CarriedIn = some(text(b.CarriedIn))
			}
			if b.Onto != 0 {
				to.CarriedOn = some(text(b.Onto))
			}
			if b.Plan != nil {
				to.Planned, to.Left = some(text(b.Plan.Amount)), some(text(b.Left(b.Plan.Amount)))
				to.Reason, to.By, to.At = some(b.Plan.Reason), some(b.Plan.ByName), some(b.Plan.At)
				if b.Plan.Amount > 0 {
					to.Used = some(fmt.Sprint(int64(b.Taken) * 100 / int64(b.Plan.Amount)))
				}
			}
			return to
		}),
	}, nil
}

// GetBudgetMonths says what a budget has in the months of a year, and what is taken of it.
func (h *handlers) GetBudgetMonths(ctx context.Context, r contract.GetBudgetMonthsRequestObject) (contract.GetBudgetMonthsResponseObject, error) {
	b, err := views.MonthsOfBudget(ctx, h.app, r.Code, value(r.Params.Year))
	if err != nil {
		return nil, err
	}
	text := func(a money.Amount) string { return a.Text(b.Company) }
	answer := contract.GetBudgetMonths200JSONResponse{Code: b.Budget.Code, Name: b.Budget.Name, Year: b.Year, Currency: string(b.Company)}
	for i, sum := range b.Taken {
		m := contract.BudgetMonth{
			Month: fmt.Sprintf("%s-%02d", b.Year, i+1), Ordered: text(sum.Ordered), Received: text(sum.Received), Invoiced: text(sum.Invoiced),
			ByOrder: text(sum.ByOrder()), WithoutOrder: text(sum.WithoutOrder), Credited: text(sum.Credited), Taken: text(sum.Taken),
		}
		if b.Planned != nil {
			m.Planned, m.Left = some(text(b.Planned[i])), some(text(b.Left(i)))
		}
		answer.Months = append(answer.Months, m)
	}
	return answer, nil
}

// PlanBudget writes what a budget has in a year.
func (h *handlers) PlanBudget(ctx context.Context, r contract.PlanBudgetRequestObject) (contract.PlanBudgetResponseObject, error) {
	entry := masters.PlanEntry{
		Budget: r.Body.Budget, Year: r.Body.Year, Amount: money.Entered(r.Body.Amount), Group: r.Body.Group, Reason: value(r.Body.Reason),
	}
	if r.Body.Months != nil {
		entry.Months = each(*r.Body.Months, func(m string) money.Entered { return money.Entered(m) })
	}
	saved, err := masters.PlanBudget(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.PlanBudget200JSONResponse{Number: saved.Code}, err
}

// CarryBudgets gives what is left of budgets to them in the next year.
func (h *handlers) CarryBudgets(ctx context.Context, r contract.CarryBudgetsRequestObject) (contract.CarryBudgetsResponseObject, error) {
	carried, err := masters.CarryBudgets(ctx, h.app, command(ctx, r.Params.Key, r.Body), masters.CarryEntry{
		Year: r.Body.Year, Budgets: r.Body.Budgets, Reason: value(r.Body.Reason),
	})
	return contract.CarryBudgets200JSONResponse{Number: fmt.Sprint(carried)}, err
}

// overOf says of which budgets a document takes more than they have.
func overOf(p say.Printer, over []act.Exceeded, company money.Currency) []string {
	return each(over, func(o act.Exceeded) string { return p.OverBudget(o.OverBudget, company) })
}
