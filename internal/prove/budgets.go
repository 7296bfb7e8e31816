package prove

// This file counts what is taken of budgets from all order lines and booked invoices, and compares it with what is kept.

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// invoicedOf is what invoices ask of an order line, and what of it credit notes gave back.
type invoicedOf struct{ invoiced, credited money.Amount }

// taken is what is taken of budgets, by budget and month.
type taken map[[2]string]trade.BudgetSum

func (t taken) add(p trade.BudgetPart) {
	if key := [2]string{p.Budget, p.Month}; p.Budget != "" {
		t[key] = t[key].Plus(p.Taken(), 1)
	}
}

// budgets replays the sums that are kept of budgets.
func (v *verification) budgets() error {
	want, byLine := taken{}, map[int64]invoicedOf{}
	if err := v.invoicedOfBudgets(want, byLine); err != nil {
		return err
	}
	for after := int64(0); ; {
		lines, err := v.TakenLines(after)
		if err != nil {
			return err
		}
		if len(lines) == 0 {
			break
		}
		for _, l := range lines {
			after = l.ID
			now, err := l.Takes(v.Ours.Currency)
			if err != nil {
				return err
			}
			now.Invoiced, now.Credited = byLine[l.ID].invoiced, byLine[l.ID].credited
			if now != l.Kept {
				v.say(fmt.Sprintf("order line %d/%d", l.Order, l.No), "takes something else of budget %s than is kept", l.Budget)
			}
			want.add(now)
		}
	}
	lost, err := v.TakenOfNothing()
	if err := v.each(lost, err, "order line with row key ", "is counted in budgets, and there is no such line"); err != nil {
		return err
	}
	kept, err := v.BudgetMonths("", "\U0010FFFF")
	if err != nil {
		return err
	}
	is := taken{}
	for _, k := range kept {
		is[[2]string{k.Budget, k.Month}] = k.BudgetSum
	}
	all := maps.Clone(is)
	maps.Copy(all, want)
	for _, key := range slices.SortedFunc(maps.Keys(all), func(a, b [2]string) int { return cmp.Or(cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1])) }) {
		if want[key] != is[key] {
			v.say("budget "+key[0], "of %s another sum is kept than its documents come to", key[1])
		}
	}
	return nil
}

// invoicedOfBudgets adds up what booked invoices ask, by budget where they have no order and else by order line.
func (v *verification) invoicedOfBudgets(want taken, byLine map[int64]invoicedOf) error {
	for after := int64(0); ; {
		booked, err := v.BookedAfter(after)
		if err != nil || len(booked) == 0 {
			return err
		}
		for _, b := range booked {
			after = b.Invoice
			inv, err := v.Invoice(b.Revision)
			if err != nil {
				return err
			}
			totals, err := inv.Totals()
			if err != nil {
				return err
			}
			parts, err := inv.BudgetParts(totals, v.Ours.Currency)
			if err != nil {
				return err
			}
			for _, p := range parts {
				line := byLine[p.OrderLine]
				byLine[p.OrderLine] = invoicedOf{line.invoiced + p.Invoiced, line.credited + p.Credited}
				want.add(p) // those of order lines name no budget
			}
		}
	}
}
