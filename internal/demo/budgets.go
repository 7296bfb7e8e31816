package demo

import (
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
)

// plans: what the budgets have in the year of this morning, one of them changed since; the office planned nothing.
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
		{"EXHIB", "14000", "Visitors"}, {"BUILD", "6000", "Plant"},
	} {
		plan(-60, p.budget, p.amount, p.group, "")
	}
	b.on(-61, 9, func() error { // on time counts twice
		_, err := masters.SaveWeights(b.ctx, b.app, b.as("rhea"), trade.Weights{
			trade.OnTime: 2, trade.InFull: 1, trade.Quantity: 1, trade.OrderPrice: 1, trade.Returned: 1,
		})
		return err
	})
	plan(-33, "WATER", "64000", "Plant", "A second tanker of salt for the new pool")
}
