package match

// This file checks what is charged beside the goods against what the orders plan.

import (
	"cmp"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// charges checks, order by order and kind by kind, what is charged beyond what the order plans,
// and the tax of planned charges. The limit runs over all invoices of the order (rules §2, §6).
func (m *matching) charges() error {
	check := m.charged
	if m.Invoice.Kind == trade.CreditNote {
		check = m.chargeCredited
	}
	for _, share := range m.Invoice.Shares(m.result.Totals) {
		order := m.Order(share.OrderID)
		if order == nil {
			continue
		}
		seen := map[string]bool{}
		for _, c := range share.Charges {
			if err := m.chargeTax(order, c); err != nil {
				return err
			}
			if !seen[c.Kind] {
				seen[c.Kind] = true
				check(order, c, share)
			}
		}
	}
	return nil
}

// charged checks one kind of charge. It names the line that carries it where one alone does.
func (m *matching) charged(order *trade.Order, first trade.ChargeShare, share trade.OrderShare) {
	planned, sofar := order.PlannedOf(first.Kind), order.ChargedSoFar[first.Kind]
	before := beyondPlan(sofar, planned)
	charged := beyondPlan(sofar+share.ByKind()[first.Kind], planned) - before
	if charged == 0 {
		return
	}
	line := first.Line
	for _, c := range share.Charges {
		if c.Kind == first.Kind && c.Line == 0 {
			line = 0
		}
	}
	bound := m.bound(m.Limits.FindFor(first.Kind, limit.Charge, limit.Over))
	f := finding.Finding{
		Kind:       finding.ChargeNotOrdered,
		Line:       line,
		Order:      order.Number,
		Charge:     first.Kind,
		Amount:     charged,
		Computed:   before,
		Difference: charged.Abs(),
		Percent:    money.Ratio(int64(charged+before), int64(order.Net())),
		Name:       cmp.Or(first.Name, first.Kind),
	}
	all := int64(charged + before)
	m.say(f.Limited(bound, limit.Asked{Difference: all, Whole: int64(order.Net()), Worth: all}))
}

// chargeTax checks a planned charge for a tax that no plan of its kind has.
func (m *matching) chargeTax(order *trade.Order, c trade.ChargeShare) error {
	var plan *trade.PlannedCharge
	for i := range order.Charges {
		switch p := &order.Charges[i]; {
		case p.Kind != c.Kind:
		case p.TaxCategory == c.TaxCategory && p.TaxRate == c.TaxRate:
			return nil
		case plan == nil:
			plan = p
		}
	}
	if plan == nil {
		return nil
	}
	return m.sayTax(
		finding.Finding{
			Kind:   finding.ChargeTaxRate,
			Line:   c.Line,
			Order:  order.Number,
			Charge: c.Kind,
			Name:   cmp.Or(c.Name, c.Kind),
		},
		c.Amount,
		c.TaxCategory,
		c.TaxRate,
		plan.TaxCategory,
		plan.TaxRate,
	)
}

// beyondPlan is what of the charges no planned amount covers; below zero nothing is.
func beyondPlan(charged, planned money.Amount) money.Amount {
	return charged - min(planned, max(0, charged))
}
