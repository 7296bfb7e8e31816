package views

// This file tells at a glance what a day brought, what is open and whose turn it is, for whoever leads the work.

import (
	"cmp"
	"context"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// DaysAtAGlance is how many days a glance reaches back, the day that is asked for with them.
const DaysAtAGlance = 14

// DayCame is how many invoices came in on a day, and how they stand now.
type DayCame struct {
	On      day.Day
	Alone   int // in the books, and nobody had to do anything about it
	Acted   int // in the books after somebody did
	Waiting int
	Held    int // or not matched yet
	Ended   int // refused, or made void
}

// Came is all that came in.
func (d DayCame) Came() int { return d.Alone + d.Acted + d.Waiting + d.Held + d.Ended }

// Load is what waits for somebody: a role, or who was asked a question.
type Load struct {
	Turn  string
	With  string // the name of whom it is with; empty: nobody took it over
	Count int
	Since string // the oldest
	Worth []money.Money
}

// Glance is a day at a glance.
type Glance struct {
	Today         day.Day
	Days          []DayCame // the last is the day that was asked for
	Waiting, Held Load      // now, whatever day they came in
	Release       Load      // verified and not released
	Loads         []Load    // of what is held or waits, by whose turn it is and whom it is with
	Stake         []money.Money
	StakeUntil    day.Day // the first discount that is lost
	StakeCount    int
}

// GlanceAt reads it for a day; empty: today.
func GlanceAt(ctx context.Context, a *act.App, on day.Day) (Glance, error) {
	return act.Read(ctx, a, func(r act.Reading) (Glance, error) {
		g := Glance{Today: r.Today()}
		on = cmp.Or(on, g.Today)
		if _, err := day.Parse(string(on)); err != nil {
			return g, err
		}
		from := on.Add(1 - DaysAtAGlance)
		came, err := r.CameIn(from, on)
		if err != nil {
			return g, err
		}
		for d := from; d <= on; d = d.Add(1) {
			g.Days = append(g.Days, DayCame{On: d})
		}
		for _, c := range came {
			g.Days[from.Until(c.On)].count(c)
		}
		open, err := r.OpenNow()
		if err != nil {
			return g, err
		}
		by := map[[2]string]*Load{}
		for _, o := range open {
			switch o.State {
			case trade.Verified:
				g.Release.add(o)
			case trade.Waiting:
				g.Waiting.add(o)
			default:
				g.Held.add(o)
			}
			if o.State != trade.Verified && o.Turn != "" {
				whose := [2]string{o.Turn, o.With}
				if by[whose] == nil {
					by[whose] = &Load{Turn: o.Turn, With: o.With}
				}
				by[whose].add(o)
			}
			if o.Discount > 0 && o.DiscountUntil >= g.Today {
				g.Stake, g.StakeCount = plus(g.Stake, money.Money{Amount: o.Discount, Currency: o.Total.Currency}), g.StakeCount+1
				if g.StakeUntil == "" || o.DiscountUntil < g.StakeUntil {
					g.StakeUntil = o.DiscountUntil
				}
			}
		}
		for _, l := range by {
			g.Loads = append(g.Loads, *l)
		}
		slices.SortFunc(g.Loads, func(a, b Load) int { return cmp.Or(cmp.Compare(a.Turn, b.Turn), cmp.Compare(a.With, b.With)) })
		return g, nil
	})
}

// count counts an invoice by how it stands.
func (d *DayCame) count(c store.CameIn) {
	switch {
	case c.State.Booked() && c.Untouched:
		d.Alone++
	case c.State.Booked():
		d.Acted++
	case c.State == trade.Waiting:
		d.Waiting++
	case c.State.Ended():
		d.Ended++
	default:
		d.Held++
	}
}

func (l *Load) add(o store.OpenNow) {
	l.Count++
	if l.Since == "" || o.Since < l.Since {
		l.Since = o.Since
	}
	l.Worth = plus(l.Worth, o.Total)
}

// plus adds an amount to the one of its currency; they stand by currency.
func plus(sums []money.Money, m money.Money) []money.Money {
	at, found := slices.BinarySearchFunc(sums, m.Currency, func(s money.Money, c money.Currency) int { return cmp.Compare(s.Currency, c) })
	if !found {
		return slices.Insert(sums, at, m)
	}
	sums[at].Amount += m.Amount
	return sums
}
