package web

// This file translates budgets by year.

import (
	"context"
	"fmt"

	"lagoon/internal/core/money"
	"lagoon/internal/jobs/masters"
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
				WithoutOrder: text(b.WithoutOrder), Taken: text(b.Taken),
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

// PlanBudget writes what a budget has in a year.
func (h *handlers) PlanBudget(ctx context.Context, r contract.PlanBudgetRequestObject) (contract.PlanBudgetResponseObject, error) {
	saved, err := masters.PlanBudget(ctx, h.app, command(ctx, r.Params.Key, r.Body), masters.PlanEntry{
		Budget: r.Body.Budget, Year: r.Body.Year, Amount: money.Entered(r.Body.Amount), Group: r.Body.Group, Reason: value(r.Body.Reason),
	})
	return contract.PlanBudget200JSONResponse{Number: saved.Code}, err
}
