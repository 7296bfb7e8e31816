package views

// This file says what is ordered, received and invoiced of the budgets, from the sums that are kept of them.

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strconv"
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

// BudgetsTaken sums what is taken of each budget, of all years.
func BudgetsTaken(ctx context.Context, a *act.App) (TakenOfBudgets, error) {
	return act.Read(ctx, a, func(r act.Reading) (TakenOfBudgets, error) {
		sums, err := takenBetween(r, "0000-01", "9999-12")
		return TakenOfBudgets{r.Ours.Currency, sums}, err
	})
}

func takenBetween(r act.Reading, from, until string) (map[string]trade.BudgetSum, error) {
	months, err := r.BudgetMonths(from, until)
	sums := map[string]trade.BudgetSum{}
	for _, m := range months {
		sums[m.Budget] = sums[m.Budget].Plus(m.BudgetSum, 1)
	}
	return sums, err
}

// BudgetYear is a budget in a year. Plan is nil where nobody planned anything for it.
type BudgetYear struct {
	store.Budget
	Group           string
	Plan            *store.BudgetPlan
	CarriedIn, Onto money.Amount // from the year before, and to the next; the plan has both in it
	Deferred        money.Amount // of what the year's invoices ask, what becomes a cost in months that are not posted
	trade.BudgetSum
}

// BudgetYears are the budgets of a year, by group and code.
type BudgetYears struct {
	Year    string
	Company money.Currency
	Budgets []BudgetYear
}

var yearOnly = regexp.MustCompile(`^[12][0-9]{3}$`)

func yearOf(r act.Reading, year string) (string, error) {
	if year = cmp.Or(year, r.Today().Year()); !yearOnly.MatchString(year) {
		return year, fault.New(fault.Invalid, "year", "A year is four figures, such as 2026.")
	}
	return year, nil
}

// Budgets says of each budget what it has in a year and what is ordered, received and invoiced of it.
func Budgets(ctx context.Context, a *act.App, year string) (BudgetYears, error) {
	return act.Read(ctx, a, func(r act.Reading) (b BudgetYears, err error) {
		b.Company = r.Ours.Currency
		if b.Year, err = yearOf(r, year); err != nil {
			return b, err
		}
		sums, err1 := takenBetween(r, b.Year+"-01", b.Year+"-12")
		all, err2 := r.Tx.Budgets()
		plans, err3 := r.BudgetPlans(b.Year)
		groups, err4 := r.BudgetGroups()
		carries, err5 := r.Carries(yearBefore(b.Year), b.Year)
		deferred, err6 := r.DeferredOfYear(b.Year)
		for _, x := range all {
			y := BudgetYear{Budget: x, Group: groups[x.Code], Deferred: deferred[x.Code], BudgetSum: sums[x.Code]}
			if p, planned := plans[x.Code]; planned {
				y.Plan = &p
			}
			for _, c := range carries {
				switch {
				case c.Budget == x.Code && c.Year == b.Year:
					y.Onto += c.Amount
				case c.Budget == x.Code:
					y.CarriedIn += c.Amount
				}
			}
			b.Budgets = append(b.Budgets, y)
		}
		slices.SortStableFunc(b.Budgets, func(x, y BudgetYear) int {
			return cmp.Or(cmp.Compare(strings.ToLower(x.Group), strings.ToLower(y.Group)), cmp.Compare(x.Code, y.Code))
		})
		return b, errors.Join(err1, err2, err3, err4, err5, err6)
	})
}

func yearBefore(year string) string {
	n, _ := strconv.Atoi(year) // it was read as a year
	return fmt.Sprintf("%04d", n-1)
}

// BudgetMonths is a budget month by month of a year, January first.
type BudgetMonths struct {
	Budget  store.Budget
	Year    string
	Company money.Currency
	Planned *[12]money.Amount // nil: it is not parted over months
	Taken   [12]trade.BudgetSum
}

// Left is what is left, at the end of a month, of all that is planned until then; January is 0.
func (b BudgetMonths) Left(month int) money.Amount {
	var sum trade.BudgetSum
	var planned money.Amount
	for i := range month + 1 {
		planned += b.Planned[i]
		sum = sum.Plus(b.Taken[i], 1)
	}
	return sum.Left(planned)
}

// MonthsOfBudget says what is taken of a budget month by month.
func MonthsOfBudget(ctx context.Context, a *act.App, code, year string) (BudgetMonths, error) {
	return act.Read(ctx, a, func(r act.Reading) (b BudgetMonths, err error) {
		b.Company = r.Ours.Currency
		if b.Year, err = yearOf(r, year); err != nil {
			return b, err
		}
		all, err := r.Tx.Budgets()
		if err != nil {
			return b, err
		}
		at := slices.IndexFunc(all, func(x store.Budget) bool { return x.Code == code })
		if at < 0 {
			return b, fault.New(fault.NotFound, "", "There is no budget %s.", code)
		}
		b.Budget = all[at]
		if b.Planned, err = r.PlanMonths(code, b.Year); err != nil {
			return b, err
		}
		months, err := r.Tx.MonthsOfBudget(code, b.Year+"-01", b.Year+"-12")
		for _, m := range months {
			n, err := strconv.Atoi(strings.TrimPrefix(m.Month, b.Year+"-"))
			if err != nil {
				return b, err
			}
			b.Taken[n-1] = m.BudgetSum
		}
		return b, err
	})
}
