package masters

// This file tells how suppliers deliver (rules §3).

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/core/trial"
	"lagoon/internal/store"
)

// Judged is how a supplier delivered within a period, with the lines behind it.
type Judged struct {
	trade.Performance
	Lines       []trade.Delivered
	More        int64 // lines than were looked at, the newest
	From, Until day.Day
	Company     money.Currency // of what was dearer and cheaper
	Score       money.Decimal  // the weighted mean in per cent
	Known       bool           // there is one
}

// judge works out the facts that only the limits and the supplier tell.
func judge(l store.WantedLine, supplier trade.Supplier, limits trial.Limits, policy trade.Policy) trade.Delivered {
	bound := func(side limit.Side, allowed bool) limit.Bound {
		if !allowed {
			return limit.Off(limit.Delivery, side)
		}
		return limits.Bound(l.On, l.Supplier, limit.Delivery, side)
	}
	l.Least = bound(limit.Under, policy.UnderDelivery).Least(l.Ordered, l.Whole)
	l.Most = bound(limit.Over, policy.OverDelivery).Most(l.Ordered, l.Whole)
	l.Due = l.WantedOn
	for range 7 { // days without deliveries do not count against it
		if supplier.DeliversOn(l.Due) {
			break
		}
		l.Due = l.Due.Add(1)
	}
	return l.Delivered
}

// Performance works out how a supplier delivers: over the order lines wanted within a
// period, at most two thousand of them.
func Performance(ctx context.Context, a *act.App, code string, from, until day.Day) (Judged, error) {
	return act.Read(ctx, a, func(r act.Reading) (Judged, error) {
		s, err := r.SupplierByCode(code)
		if err != nil {
			return Judged{}, act.Found(err, "There is no supplier %s.", code)
		}
		until = min(until, r.Today())
		rows, err1 := r.LinesWanted(s.ID, from, until)
		more := r.LeftOut()
		all, err2 := r.AllLimits()
		weights, err3 := r.Weights()
		if err := errors.Join(err1, err2, err3); err != nil {
			return Judged{}, err
		}
		limits := trial.NewLimits(all)
		judged := Judged{From: from, Until: until, More: more, Company: r.Ours.Currency}
		for _, l := range rows {
			judged.Lines = append(judged.Lines, judge(l, s, limits, r.Ours.Policy))
		}
		judged.Performance = trade.Judge(judged.Lines)
		judged.Score, judged.Known = judged.Performance.Score(weights)
		return judged, nil
	})
}

// RankedSupplier is a supplier in its place.
type RankedSupplier struct {
	trade.Performance
	Code, Name string
	Lines      int
	Score      money.Decimal
	Known      bool
}

// rank is its score; that of which nothing is known comes after all others.
func (s RankedSupplier) rank() money.Decimal {
	if !s.Known {
		return -1
	}
	return s.Score
}

// Ranking is how all suppliers deliver, the best first.
type Ranking struct {
	From, Until day.Day
	Suppliers   []RankedSupplier
	Weights     trade.Weights
	Cut         bool // the period holds more lines than are looked at
}

// mostWanted is how many order lines a ranking looks at, the newest.
const mostWanted = 50_000

// Rank works out how suppliers deliver, over the order lines wanted within a period.
func Rank(ctx context.Context, a *act.App, from, until day.Day) (Ranking, error) {
	return act.Read(ctx, a, func(r act.Reading) (Ranking, error) {
		from, until, err := yearOrSo(from, until, r.Today(), "from")
		if err != nil {
			return Ranking{}, err
		}
		k := Ranking{From: from, Until: min(until, r.Today())}
		rows, err1 := r.AllWanted(k.From, k.Until, mostWanted)
		all, err2 := r.AllLimits()
		var err3 error
		k.Weights, err3 = r.Weights()
		if err := errors.Join(err1, err2, err3); err != nil {
			return k, err
		}
		k.Cut = len(rows) == mostWanted
		limits := trial.NewLimits(all)
		suppliers, lines := map[int64]trade.Supplier{}, map[int64][]trade.Delivered{}
		for _, l := range rows {
			s, known := suppliers[l.Supplier]
			if !known {
				var err error
				if s, err = r.Supplier(l.Supplier); err != nil {
					return k, err
				}
				suppliers[l.Supplier] = s
			}
			lines[l.Supplier] = append(lines[l.Supplier], judge(l, s, limits, r.Ours.Policy))
		}
		for id, of := range lines {
			one := RankedSupplier{Performance: trade.Judge(of), Code: suppliers[id].Code, Name: suppliers[id].Name, Lines: len(of)}
			one.Score, one.Known = one.Performance.Score(k.Weights)
			k.Suppliers = append(k.Suppliers, one)
		}
		slices.SortFunc(k.Suppliers, func(a, b RankedSupplier) int {
			return cmp.Or(cmp.Compare(b.rank(), a.rank()), cmp.Compare(a.Name, b.Name))
		})
		return k, nil
	})
}

// mostWeight is how much one figure may count.
const mostWeight = 100

// SaveWeights writes how much each figure counts that suppliers are judged by.
func SaveWeights(ctx context.Context, a *act.App, c act.Command, weights trade.Weights) (Saved, error) {
	return act.Perform(ctx, a, act.SaveWeights, c, func(w *act.Work) (Saved, error) {
		var sum int64
		for _, f := range trade.Figures {
			if n := weights[f]; n < 0 || n > mostWeight {
				return Saved{}, fault.New(fault.Invalid, string(f), "A weight is a whole number of 0 to %d.", mostWeight)
			}
			sum += weights[f]
		}
		if sum == 0 {
			return Saved{}, fault.New(fault.Invalid, string(trade.OnTime), "At least one figure has to count.")
		}
		before, err := w.Weights()
		return Saved{Code: w.Ours.Name}, cmp.Or(err, errors.Join(w.PutWeights(weights), w.RecordAs("company", w.Ours.Name, before, weights)))
	})
}
