package views

// This file says what is ordered and invoiced of the budgets.

import (
	"context"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// TakenOfBudgets is what is taken of the budgets, by code, in company currency.
type TakenOfBudgets struct {
	Company money.Currency
	By      map[string]trade.BudgetSum
}

// BudgetsTaken sums what is taken of each budget. It reads every issued order line and every booked
// invoice.
func BudgetsTaken(ctx context.Context, a *act.App) (TakenOfBudgets, error) {
	return act.Read(ctx, a, func(r act.Reading) (taken TakenOfBudgets, err error) {
		lines, err := r.BudgetedLines()
		if err != nil {
			return taken, err
		}
		var parts []trade.BudgetPart
		budgets := make(map[int64]string, len(lines))
		for _, l := range lines {
			net, err := l.Committed()
			if err != nil {
				return taken, err
			}
			base, err := net.Convert(l.Rate, l.Currency, r.Ours.Currency)
			if err != nil {
				return taken, err
			}
			budgets[l.ID] = l.Budget
			parts = append(parts, trade.BudgetPart{Budget: l.Budget, OrderLine: l.ID, Ordered: base})
		}
		booked, err := r.BookedRevisions()
		if err != nil {
			return taken, err
		}
		for _, revision := range booked {
			inv, err := r.Tx.Invoice(revision)
			if err != nil {
				return taken, err
			}
			totals, err := inv.Totals()
			if err != nil {
				return taken, err
			}
			of, err := inv.BudgetParts(totals, budgets, r.Ours.Currency)
			if err != nil {
				return taken, err
			}
			parts = append(parts, of...)
		}
		return TakenOfBudgets{r.Ours.Currency, trade.BudgetSums(parts)}, nil
	})
}
