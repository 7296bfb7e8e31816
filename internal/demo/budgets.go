package demo

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
)

// plans: what the budgets have in the year of this morning, one of them changed since, one parted over its months, one with what
// was left of the year before; the office planned nothing.
func (b *builder) plans() {
	plan := func(n int, budget string, amount money.Entered, group, reason string) {
		b.on(n, 8, func() error {
			_, err := masters.PlanBudget(b.ctx, b.app, b.as("rhea"), masters.PlanEntry{
				Budget: budget, Year: b.today.Year(), Amount: amount, Group: group, Reason: reason,
			})
			return err
		})
	}
	for _, p := range []struct {
		budget string
		amount money.Entered
		group  string
	}{
		{"FEED", "320000", "Animals"}, {"HOSP", "15000", "Animals"}, {"WATER", "60000", "Plant"}, {"TECH", "24000", "Plant"},
		{"EXHIB", "12500", "Visitors"}, {"BUILD", "6000", "Plant"},
	} {
		plan(-60, p.budget, p.amount, p.group, "")
	}
	b.on(-61, 9, func() error { // on time counts twice
		_, err := masters.SaveWeights(b.ctx, b.app, b.as("rhea"), trade.Weights{
			trade.OnTime: 2, trade.InFull: 1, trade.Quantity: 1, trade.OrderPrice: 1, trade.Returned: 1,
		})
		return err
	})
	b.on(-58, 9, func() error { // the tanks were cheaper than thought
		before := yearBefore(b.today)
		_, err := masters.PlanBudget(b.ctx, b.app, b.as("rhea"), masters.PlanEntry{Budget: "EXHIB", Year: before, Amount: "1500", Group: "Visitors"})
		if err != nil {
			return err
		}
		_, err = masters.CarryBudgets(b.ctx, b.app, b.as("rhea"), masters.CarryEntry{Year: before, Budgets: []string{"EXHIB"}, Reason: "The tanks of last year were cheaper"})
		return err
	})
	b.on(-57, 9, func() error {
		months := []money.Entered{"1000", "1000", "1500", "2000", "2000", "2500", "3000", "3000", "2500", "2000", "2000", "1500"}
		_, err := masters.PlanBudget(b.ctx, b.app, b.as("rhea"), masters.PlanEntry{Budget: "TECH", Year: b.today.Year(), Months: months, Group: "Plant"})
		return err
	})
	plan(-33, "WATER", "64000", "Plant", "A second tanker of salt for the new pool")
}

func yearBefore(of day.Day) string { return day.Day(of.Year() + "-01-01").Add(-1).Year() }
