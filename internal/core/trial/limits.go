package trial

// This file finds which limit decides a difference, and how much each holds.

import (
	"cmp"
	"slices"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
)

// side is what a limit is looked up by.
type side struct {
	limit.Kind
	limit.Side
}

// Limits are all that are set, by kind and side; those of order lines apart, as there may be many.
type Limits struct {
	by    map[side][]Limit
	lines map[int64][]Limit
}

// NewLimits sorts limits to be looked up. A limit without values is not set.
func NewLimits(all []Limit) Limits {
	l := Limits{map[side][]Limit{}, map[int64][]Limit{}}
	for _, one := range all {
		switch {
		case one.Percent == nil && one.Absolute == nil:
		case one.OrderLine != 0:
			l.lines[one.OrderLine] = append(l.lines[one.OrderLine], one)
		default:
			at := side{one.Kind, one.Side}
			l.by[at] = append(l.by[at], one)
		}
	}
	return l
}

// with are the limits with those of a question in their places.
func (l Limits) with(q Question) Limits {
	at := side{q.Kind, q.Side}
	changed := Limits{map[side][]Limit{}, l.lines}
	for s, all := range l.by {
		changed.by[s] = all
	}
	places := append([]Place{q.Place}, q.Also...)
	kept := slices.DeleteFunc(slices.Clone(l.by[at]), func(o Limit) bool { return slices.Contains(places, o.Place) })
	if q.Percent != nil || q.Absolute != nil {
		for _, p := range places {
			one := q.Limit
			one.Place, one.Level = p, levelOf(p)
			kept = append(kept, one)
		}
	}
	changed.by[at] = kept
	return changed
}

func levelOf(p Place) limit.Level {
	switch {
	case p.OrderLine != 0:
		return limit.Line
	case p.Item != 0 && p.Supplier != 0:
		return limit.ItemAtSupplier
	case p.Item != 0:
		return limit.Item
	case p.Supplier != 0:
		return limit.Supplier
	}
	return limit.Company
}

// at is what is set in just the place of a limit.
func (l Limits) at(of Limit) limit.Rule {
	for _, o := range l.by[side{of.Kind, of.Side}] {
		if o.Same(of) {
			return o.Rule
		}
	}
	return limit.Rule{Kind: of.Kind, Side: of.Side, Level: levelOf(of.Place)}
}

// Nearer are the places nearer than a limit's, of suppliers and items, that set one of the same kind and side for themselves.
func (l Limits) Nearer(of Limit) (all []Limit) {
	for _, o := range l.by[side{of.Kind, of.Side}] {
		inside := (of.Supplier == 0 || o.Supplier == of.Supplier) && (of.Item == 0 || o.Item == of.Item)
		if inside && o.Place.Charge == of.Place.Charge && o.Place != of.Place {
			all = append(all, o)
		}
	}
	return all
}

// of are the limits that could decide a finding of a case. What is about an order's charges is about no line of it.
func (l Limits) of(c *Case, f finding.Finding) (all []Limit) {
	line := c.Lines[f.Line]
	if f.Bound.Kind == limit.Charge {
		line = Line{}
	}
	return l.on(line, c.Supplier, f.Bound.Kind, f.Bound.Side)
}

// on are the limits of a kind and side that could decide about a line of an order with a supplier.
func (l Limits) on(line Line, supplier int64, kind limit.Kind, on limit.Side) (all []Limit) {
	if line.OrderLine != 0 {
		for _, o := range l.lines[line.OrderLine] {
			if o.Kind == kind && o.Side == on {
				all = append(all, o)
			}
		}
	}
	for _, o := range l.by[side{kind, on}] {
		if (o.Supplier == 0 || o.Supplier == supplier) && (o.Item == 0 || o.Item == line.Item) {
			all = append(all, o)
		}
	}
	return all
}

func book(all []Limit) (book limit.Book) {
	for _, o := range all {
		book = append(book, o.Rule)
	}
	return book
}

// Bound is what decides about a line of an order with a supplier.
func (l Limits) Bound(line Line, supplier int64, kind limit.Kind, on limit.Side) limit.Bound {
	return book(l.on(line, supplier, kind, on)).Find(kind, on)
}

// bound is what decides a finding of a case.
func (l Limits) bound(c *Case, f finding.Finding) limit.Bound {
	return book(l.of(c, f)).FindFor(f.Charge, f.Bound.Kind, f.Bound.Side)
}

// decides is the limit that decides a finding of a case, in its place; the company's without a value where nothing is set.
func (l Limits) decides(c *Case, f finding.Finding) (Limit, limit.Bound) {
	b := l.bound(c, f)
	for _, o := range l.of(c, f) {
		if !b.Unset && o.Level == b.Level && o.Rule.Charge == b.Charge {
			return o, b
		}
	}
	return Limit{Rule: limit.Rule{Level: limit.Company, Kind: f.Bound.Kind, Side: f.Bound.Side}}, b
}

// Holding is a limit with how many invoices of a period it held.
type Holding struct {
	Limit
	Held int
}

// Held counts, limit by limit, the invoices which it held as limits stand, the most first; limits that held none follow. What is
// limited nowhere is the company's without a value.
func Held(cases []Case, all []Limit, company money.Currency) []Holding {
	limits := NewLimits(all)
	t := tries{company: company}
	var held []Holding
	for _, l := range all {
		if (l.Percent != nil || l.Absolute != nil) && l.OrderLine == 0 && l.Kind != limit.Delivery {
			held = append(held, Holding{Limit: l})
		}
	}
	count := func(of Limit) {
		i := slices.IndexFunc(held, func(h Holding) bool { return h.Same(of) })
		if i < 0 {
			held = append(held, Holding{Limit: of})
			i = len(held) - 1
		}
		held[i].Held++
	}
	for i := range cases {
		c := &cases[i]
		var once []Limit
		for _, f := range c.Findings {
			if !Limited(f) {
				continue
			}
			of, b := limits.decides(c, f)
			if t.judge(c, f, b) != finding.Within && of.OrderLine == 0 && !slices.ContainsFunc(once, of.Same) {
				once = append(once, of)
				count(of)
			}
		}
	}
	slices.SortStableFunc(held, func(a, b Holding) int {
		return cmp.Or(cmp.Compare(b.Held, a.Held), cmp.Compare(a.Kind, b.Kind), cmp.Compare(b.Level, a.Level))
	})
	return held
}
