package views

// This file says what is ordered, received and invoiced of the budgets.

import (
	"cmp"
	"context"
	"regexp"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TakenOfBudgets is what is taken of the budgets, by code, in company currency.
type TakenOfBudgets struct {
	Company money.Currency
	By      map[string]trade.BudgetSum
}

// BudgetsTaken sums what is taken of each budget, of all years. It reads every issued order line and every booked
// invoice.
func BudgetsTaken(ctx context.Context, a *act.App) (TakenOfBudgets, error) {
	return act.Read(ctx, a, func(r act.Reading) (TakenOfBudgets, error) {
		parts, err := budgetParts(r)
		return TakenOfBudgets{r.Ours.Currency, trade.BudgetSums(parts)}, err
	})
}

// budgetParts are what all issued order lines and booked invoices take of budgets. What is invoiced of an order line is of the
// year of its order.
func budgetParts(r act.Reading) ([]trade.BudgetPart, error) {
	lines, err := r.BudgetedLines()
	if err != nil {
		return nil, err
	}
	var parts []trade.BudgetPart
	budgets, years := make(map[int64]string, len(lines)), make(map[int64]string, len(lines))
	for _, l := range lines {
		net, err := l.Committed()
		if err != nil {
			return nil, err
		}
		here, err := l.Net.Part(int64(max(0, l.Received)), int64(l.Quantity))
		if err != nil {
			return nil, err
		}
		p := trade.BudgetPart{Budget: l.Budget, OrderLine: l.ID, Year: l.IssuedOn.Year()}
		if p.Ordered, err = net.Convert(l.Rate, l.Currency, r.Ours.Currency); err != nil {
			return nil, err
		}
		if p.Received, err = here.Convert(l.Rate, l.Currency, r.Ours.Currency); err != nil {
			return nil, err
		}
		budgets[l.ID], years[l.ID] = l.Budget, p.Year
		parts = append(parts, p)
	}
	booked, err := r.BookedRevisions()
	if err != nil {
		return nil, err
	}
	for _, revision := range booked {
		inv, err := r.Tx.Invoice(revision)
		if err != nil {
			return nil, err
		}
		totals, err := inv.Totals()
		if err != nil {
			return nil, err
		}
		of, err := inv.BudgetParts(totals, budgets, r.Ours.Currency)
		if err != nil {
			return nil, err
		}
		for i := range of {
			of[i].Year = cmp.Or(years[of[i].OrderLine], of[i].Year)
		}
		parts = append(parts, of...)
	}
	return parts, nil
}

// BudgetYear is a budget in a year. Plan is nil where nobody planned anything for it.
type BudgetYear struct {
	store.Budget
	Group string
	Plan  *store.BudgetPlan
	trade.BudgetSum
}

// BudgetYears are the budgets of a year, by group and code.
type BudgetYears struct {
	Year    string
	Company money.Currency
	Budgets []BudgetYear
}

var yearOnly = regexp.MustCompile(`^[12][0-9]{3}$`)

// Budgets says of each budget what it has in a year and what is ordered, received and invoiced of it. It reads as much as
// BudgetsTaken.
func Budgets(ctx context.Context, a *act.App, year string) (BudgetYears, error) {
	return act.Read(ctx, a, func(r act.Reading) (b BudgetYears, err error) {
		if b.Year, b.Company = cmp.Or(year, r.Today().Year()), r.Ours.Currency; !yearOnly.MatchString(b.Year) {
			return b, fault.New(fault.Invalid, "year", "A year is four figures, such as 2026.")
		}
		parts, err := budgetParts(r)
		if err != nil {
			return b, err
		}
		sums := trade.BudgetSums(slices.DeleteFunc(parts, func(p trade.BudgetPart) bool { return p.Year != b.Year }))
		all, err := r.Tx.Budgets()
		if err != nil {
			return b, err
		}
		plans, err := r.BudgetPlans(b.Year)
		if err != nil {
			return b, err
		}
		groups, err := r.BudgetGroups()
		for _, x := range all {
			y := BudgetYear{Budget: x, Group: groups[x.Code], BudgetSum: sums[x.Code]}
			if p, planned := plans[x.Code]; planned {
				y.Plan = &p
			}
			b.Budgets = append(b.Budgets, y)
		}
		slices.SortStableFunc(b.Budgets, func(x, y BudgetYear) int {
			return cmp.Or(cmp.Compare(strings.ToLower(x.Group), strings.ToLower(y.Group)), cmp.Compare(x.Code, y.Code))
		})
		return b, err
	})
}
