package book

// This file spreads costs over months when an invoice is booked, and takes from the months what a credit note gives back
// (rules §5).

import (
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
)

// Deferral is a change of what a month of a line holds.
type Deferral struct {
	trade.DeferredPart
	Kind string // spread, credited, void
}

// The kinds of change; what is posted month by month is the job's.
const (
	DeferralSpread   = "spread"
	DeferralCredited = "credited"
	DeferralVoid     = "void"
)

// spread divides what the lines that say so debit over their months: without receipts the net, else the value that is
// relieved of receipts; never variance, and nothing of what is claimed.
func (b *booker) spread(facts match.Facts, result match.Result, allocated []posting.Allocated, claimed []posting.Claimed) ([]posting.Deferred, error) {
	inv := facts.Invoice
	posted := result.PostingDay(inv.PostingDay)
	var all []posting.Deferred
	for i, l := range inv.Lines {
		if l.Defer == nil {
			continue
		}
		debits, err := deferrable(facts, result.Totals, i, allocated, claimed)
		if err != nil {
			return nil, err
		}
		for _, d := range debits {
			parts, err := l.Defer.Spread(d.Value, d.Base, posted)
			if err != nil {
				return nil, err
			}
			for _, p := range parts {
				p.InvoiceLine, p.Invoice, p.OrderLine, p.Detail = l.ID, inv.ID, l.OrderLineID, d.Detail
				b.Deferrals = append(b.Deferrals, Deferral{p, DeferralSpread})
			}
		}
		all = append(all, debits...)
	}
	return all, nil
}

// deferrable is what a line debits that can be spread, by what it is charged to.
func deferrable(
	facts match.Facts,
	totals trade.Totals,
	i int,
	allocated []posting.Allocated,
	claimed []posting.Claimed,
) ([]posting.Deferred, error) {
	inv := facts.Invoice
	l, net := inv.Lines[i], totals.LineNets[i]-totals.LineShares[i]
	for _, c := range claimed {
		if c.Line == i {
			net -= c.Value
		}
	}
	at := func(detail string, value money.Amount) (posting.Deferred, error) {
		base, err := value.Convert(inv.Rate, inv.Currency, facts.Company)
		return posting.Deferred{Line: i, Detail: detail, Relief: trade.Relief{Value: value, Base: base}}, err
	}
	if l.Coded() {
		shares, err := l.CodedShares(net)
		if err != nil {
			return nil, err
		}
		var all []posting.Deferred
		for n, c := range l.Coding {
			d, err := at(c.Budget, shares[n])
			if err != nil {
				return nil, err
			}
			all = append(all, d)
		}
		return all, nil
	}
	_, ordered := trade.LineOf(facts.Orders, l.OrderLineID)
	if ordered == nil {
		return nil, nil
	}
	if ordered.Level == trade.TwoWay {
		d, err := at(ordered.Budget, net)
		return []posting.Deferred{d}, err
	}
	var relieved trade.Relief
	for _, a := range allocated {
		if a.Line == i && a.Receipt != nil {
			relieved = relieved.Plus(a.Relief)
		}
	}
	return []posting.Deferred{{Line: i, Detail: ordered.Budget, Relief: relieved}}, nil
}

// undefer takes what a credit note gives back from the months that still hold it, as far as they do: the rest reduces the
// cost itself.
func (c *crediting) undefer(result match.Result) ([]posting.Deferred, error) {
	if len(c.facts.Deferred) == 0 {
		return nil, nil
	}
	held := append([]trade.DeferredPart(nil), c.facts.Deferred...)
	var all []posting.Deferred
	for i, l := range c.facts.Invoice.Lines {
		debits, err := deferrable(c.facts, result.Totals, i, nil, nil)
		if err != nil {
			return nil, err
		}
		if _, ordered := trade.LineOf(c.facts.Orders, l.OrderLineID); ordered != nil && ordered.Level != trade.TwoWay {
			debits = debits[:0]
			back := trade.Relief{}
			for _, a := range c.allocated {
				if a.Line == i && a.Receipt != nil {
					back = back.Plus(a.Relief.Negative())
				}
			}
			debits = append(debits, posting.Deferred{Line: i, Detail: ordered.Budget, Relief: back})
		}
		for _, d := range debits {
			var its []trade.DeferredPart
			var where []int
			for n, h := range held {
				if h.Amount > 0 && h.OrderLine == l.OrderLineID && h.Detail == d.Detail {
					its, where = append(its, h), append(where, n)
				}
			}
			taken, err := trade.Undefer(its, d.Value)
			if err != nil {
				return nil, err
			}
			off := posting.Deferred{Line: i, Detail: d.Detail}
			for _, p := range taken {
				for n, h := range its {
					if h.InvoiceLine == p.InvoiceLine && h.Month == p.Month {
						held[where[n]].Amount += p.Amount
						held[where[n]].Base += p.Base
					}
				}
				off.Value, off.Base = off.Value+p.Amount, off.Base+p.Base
				c.Deferrals = append(c.Deferrals, Deferral{p, DeferralCredited})
			}
			if off.Value != 0 {
				all = append(all, off)
			}
		}
	}
	return all, nil
}
