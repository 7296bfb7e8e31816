// Package trial tries another limit on what was matched before (rules §2, §6): what would have passed without a person, what it
// would have cost, and what people decided then. It books nothing.
package trial

import (
	"cmp"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
)

// Place is where a limit is set; all zero is the company.
type Place struct {
	OrderLine, Item, Supplier int64 // row keys
	Charge                    string
}

// Limit is one limit in its place.
type Limit struct {
	Place
	limit.Rule
}

// Same tells whether two limits are one, whatever their values.
func (l Limit) Same(o Limit) bool { return l.Place == o.Place && l.Kind == o.Kind && l.Side == o.Side }

// Line is what limits of lines and items go by.
type Line struct{ OrderLine, Item int64 }

// Decision is what a person did about an invoice, or about one difference of it: an acceptance names its kind and side, a claim
// its line.
type Decision struct {
	What   Decided
	Kind   finding.Kind
	Line   int
	Side   limit.Side
	Order  int64
	Charge string
	By     string
	On     day.Day
}

// Decided is what people do about a difference.
type Decided string

// What people do: they let it stand, or they say no in one of three ways.
const (
	Accepted  Decided = "accepted"
	Claimed   Decided = "claimed"
	Refused   Decided = "refused"
	Corrected Decided = "corrected"
)

// No tells whether a person did not let it stand. A corrected entry says nothing of the difference itself.
func (d Decision) No() bool { return d.What == Claimed || d.What == Refused }

// Case is an invoice as it was matched last before a person did anything about it.
type Case struct {
	Invoice        int64 // number
	SupplierNumber string
	Supplier       int64 // row key; zero: not known
	SupplierCode   string
	SupplierName   string
	Currency       money.Currency
	Rate           money.Decimal
	Open           bool // nobody has settled it yet
	Findings       []finding.Finding
	Lines          map[int]Line // by number, of findings that a limit decided
	Decisions      []Decision
}

// decided is what was decided about a difference: what was decided of just that one comes before what was of the whole.
func (c *Case) decided(f finding.Finding) (d Decision) {
	for _, o := range c.Decisions {
		switch o.What {
		case Accepted:
			if o.Kind == f.Kind && o.Line == f.Line && o.Side == f.Side() && o.Order == f.About().Order && o.Charge == f.About().Charge {
				return o
			}
		case Claimed:
			if o.Line == f.Line {
				return o
			}
		default:
			if d.What != Refused {
				d = o
			}
		}
	}
	return d
}

// Limited tells whether a limit that can be tried decides a finding. A delivery beyond its limit is not booked, so that nothing
// is known of what another limit would have let in.
func Limited(f finding.Finding) bool {
	return f.Asked != nil && f.Bound != nil && f.Bound.Kind != "" && f.Bound.Kind != limit.Delivery
}

// Recalled is what a limit was asked of a finding. Of one that was kept before that was noted, it is made up from its operands: of
// a price to six places and without the other invoices of its line.
func Recalled(f finding.Finding) *limit.Asked {
	if f.Asked != nil || f.Bound == nil || f.Bound.Kind == "" {
		return f.Asked
	}
	asked := limit.Asked{Worth: int64(f.Difference)}
	if f.Verdict == finding.Waiting {
		asked.Ceiling = &limit.Ceiling{Coming: true}
	}
	switch f.Bound.Kind {
	case limit.UnitPrice:
		asked.Price, asked.Agreed = new(money.PriceOf(f.Price)), new(money.PriceOf(f.Reference))
	case limit.InvoicedQuantity:
		asked.Difference, asked.Whole, asked.Worth = int64(f.Used), int64(f.Received), int64(f.Excess)
		if f.Kind == finding.OverOrdered {
			asked.Whole = int64(f.Ordered)
		}
	case limit.Charge:
		all := f.Amount + f.Computed
		asked.Difference, asked.Worth = int64(all), int64(all)
		if f.Percent > 0 { // the order's net, as far as the percentage tells; what is too large to tell passes no percentage
			net, _ := all.Part(int64(money.Int(100)), int64(f.Percent))
			asked.Whole = int64(net)
		}
	default:
		asked.Difference, asked.Whole = int64(f.Difference), int64(f.Computed)
	}
	return &asked
}

// Question is a limit that is tried: its values stand in place of what is set, there and in the other places of the same kind
// and side.
type Question struct {
	Limit
	Also []Place
}

// Figure is what a limit comes to over all cases.
type Figure struct {
	Verified int          // invoices that are verified without a person
	Held     int          // the others
	Passed   money.Amount // what differences of the kind and side came to that passed in verified ones, without sign, company currency
}

// Point is the figure of one value.
type Point struct {
	Percent  *money.Decimal
	Absolute *int64
	Figure
}

// Changed is an invoice that stands otherwise under the limit that is tried.
type Changed struct {
	*Case
	Finding  finding.Finding // the dearest of those that the limit decides
	Worth    money.Amount    // of them all, company currency
	Decision Decision
}

// Gain is what a supplier gains or loses.
type Gain struct {
	Supplier                int64
	Code, Name              string
	HeldToday, HeldTried    int
	Passed                  money.Amount // of invoices that pass and did not
	Accepted, SaidNo        int          // of them, what people decided then
	AcceptedAmount, NoWorth money.Amount
}

// Outcome is what a trial found.
type Outcome struct {
	Invoices     int
	Today, Tried Figure
	Now          limit.Rule // what is set today in the place; neither value: nothing
	Gained       []Changed  // what people said no to first, then the dearest
	Open         int        // of Gained, those that are still open
	Lost         []Changed
	Suppliers    []Gain // who gains most first; those that gain nothing are one without a name, at the end
	Curve        []Point
	Beyond       *Point // as much further again
}

// judged is a finding of the kind and side that is tried.
type judged struct {
	finding.Finding
	fixed finding.Verdict // where another limit decides than the one that is tried
	tried bool            // the limit that is tried decides it
	level limit.Level
	base  money.Amount
}

// entrant is a case with findings of the kind and side, the rest of which stops nothing.
type entrant struct {
	*Case
	of []judged
}

// Try tries a limit on cases, as the limits stand that are given.
func Try(cases []Case, limits Limits, q Question, company money.Currency) (Outcome, error) {
	t := tries{limits: limits, with: limits.with(q), q: q, company: company}
	o := Outcome{Invoices: len(cases), Now: limits.at(q.Limit)}
	settled := 0 // verified whatever is tried
	for i := range cases {
		e, clear, err := t.enter(&cases[i])
		if err != nil {
			return Outcome{}, err
		}
		switch {
		case clear && len(e.of) > 0:
			t.entrants = append(t.entrants, e)
		case clear:
			settled++
		default:
			t.stopped = append(t.stopped, e)
		}
	}
	figure := func(rule *limit.Rule) Figure {
		f := t.figure(rule)
		f.Verified += settled
		f.Held = len(cases) - f.Verified
		return f
	}
	o.Today, o.Tried = figure(nil), figure(&q.Rule)
	for _, value := range values(o.Now, q.Rule) {
		o.Curve = append(o.Curve, Point{value.Percent, value.Absolute, figure(&value)})
	}
	if further := beyond(o.Now, q.Rule); further != nil {
		o.Beyond = &Point{further.Percent, further.Absolute, figure(further)}
	}
	t.changed(&o)
	return o, nil
}

type tries struct {
	limits, with Limits
	q            Question
	company      money.Currency
	entrants     []entrant
	stopped      []entrant // by something else
}

// enter judges the findings of a case as limits stand today; clear tells whether nothing but the kind and side that is tried
// could stop it.
func (t *tries) enter(c *Case) (e entrant, clear bool, err error) {
	e.Case = c
	var others []finding.Finding
	for _, f := range c.Findings {
		if !Limited(f) {
			if !c.past(f) {
				others = append(others, f)
			}
			continue
		}
		f.Verdict = t.judge(c, f, t.limits.bound(c, f))
		if f.Bound.Kind != t.q.Kind || f.Bound.Side != t.q.Side {
			others = append(others, f)
			continue
		}
		bound := t.with.bound(c, f)
		j := judged{Finding: f, fixed: f.Verdict, level: bound.Level}
		j.tried = bound.Percent == t.q.Percent && bound.Absolute == t.q.Absolute // the very same, not only alike
		if !j.tried {                                                            // another level decides, also where a nearer limit is no more
			j.fixed = t.judge(c, f, bound)
		}
		if j.base, err = f.Difference.Convert(cmp.Or(c.Rate, money.Int(1)), c.Currency, t.company); err != nil {
			return e, false, err
		}
		e.of = append(e.of, j)
	}
	return e, verifies(finding.Overall(others)), nil
}

func verifies(v finding.Verdict) bool { return v == finding.Agrees || v == finding.Within }

// passes tells whether an entrant is verified, and what its differences come to then; nil is as limits stand today.
func (t *tries) passes(e entrant, rule *limit.Rule) (bool, money.Amount) {
	var worth money.Amount
	for _, j := range e.of {
		verdict := j.Verdict // as limits stand
		if rule != nil {
			verdict = t.under(e.Case, j, *rule)
		}
		if verdict != finding.Within && j.Blocks() != finding.BlocksRelease {
			return false, 0
		}
		worth += j.base
	}
	return true, worth
}

func (t *tries) under(c *Case, j judged, rule limit.Rule) finding.Verdict {
	if !j.tried {
		return j.fixed
	}
	b := limit.Bound{Kind: t.q.Kind, Side: t.q.Side, Level: j.level, Percent: rule.Percent, Absolute: rule.Absolute}
	return t.judge(c, j.Finding, b)
}

// judge is what a bound of the company's currency makes of a finding; what is past all that can come is outside whatever the
// limit.
func (t *tries) judge(c *Case, f finding.Finding, b limit.Bound) finding.Verdict {
	if f.Asked.Ceiling.Passed(b) {
		return finding.Outside
	}
	return f.Judged(b.In(c.Currency, t.company, c.Rate))
}

// past tells whether a finding only says that a line is past all that can come, which the finding of its excess is judged by.
func (c *Case) past(f finding.Finding) bool {
	return f.Kind == finding.OverOrdered && f.Bound != nil && f.Bound.Kind == limit.Delivery &&
		slices.ContainsFunc(c.Findings, func(o finding.Finding) bool {
			return o.Line == f.Line && Limited(o) && o.Asked.Ceiling != nil && o.Asked.Ceiling.Total > 0
		})
}

func (t *tries) figure(rule *limit.Rule) (f Figure) {
	for _, e := range t.entrants {
		if passes, worth := t.passes(e, rule); passes {
			f.Verified++
			f.Passed += worth
		}
	}
	return f
}

// changed writes which invoices stand otherwise, and which suppliers gain.
func (t *tries) changed(o *Outcome) {
	gains := map[int64]*Gain{}
	of := func(c *Case) *Gain {
		g := gains[c.Supplier]
		if g == nil {
			g = &Gain{Supplier: c.Supplier, Code: c.SupplierCode, Name: c.SupplierName}
			gains[c.Supplier] = g
		}
		return g
	}
	for _, e := range t.stopped {
		g := of(e.Case)
		g.HeldToday++
		g.HeldTried++
	}
	for _, e := range t.entrants {
		today, _ := t.passes(e, nil)
		tried, _ := t.passes(e, &t.q.Rule)
		g := of(e.Case)
		if !today {
			g.HeldToday++
		}
		if !tried {
			g.HeldTried++
		}
		switch c := t.change(e); {
		case tried && !today:
			o.Gained = append(o.Gained, c)
			g.count(c)
			if c.Open {
				o.Open++
			}
		case today && !tried:
			o.Lost = append(o.Lost, c)
		}
	}
	dearest := func(a, b Changed) int {
		return cmp.Or(order(b.Decision.No(), a.Decision.No()), cmp.Compare(b.Worth, a.Worth), cmp.Compare(a.Invoice, b.Invoice))
	}
	slices.SortFunc(o.Gained, dearest)
	slices.SortFunc(o.Lost, dearest)
	o.Suppliers = ranked(gains)
}

func order(a, b bool) int {
	if a == b {
		return 0
	}
	if a {
		return 1
	}
	return -1
}

// change is an entrant with what of it changes, and what was decided about that then: a no counts before a yes.
func (t *tries) change(e entrant) (c Changed) {
	c.Case = e.Case
	var dearest money.Amount = -1
	for _, j := range e.of {
		if j.Verdict == t.under(e.Case, j, t.q.Rule) {
			continue
		}
		c.Worth += j.base
		if d := e.decided(j.Finding); d.What != "" && (c.Decision.What == "" || d.No()) {
			c.Decision = d
		}
		if j.base > dearest {
			c.Finding, dearest = j.Finding, j.base
		}
	}
	return c
}

func (g *Gain) count(c Changed) {
	g.Passed += c.Worth
	switch {
	case c.Decision.What == Accepted:
		g.Accepted++
		g.AcceptedAmount += c.Worth
	case c.Decision.No():
		g.SaidNo++
		g.NoWorth += c.Worth
	}
}

// ranked are those who gain, the most first, and one for all the others.
func ranked(gains map[int64]*Gain) (all []Gain) {
	var rest Gain
	for _, g := range gains {
		if g.HeldToday > g.HeldTried {
			all = append(all, *g)
			continue
		}
		rest.HeldToday += g.HeldToday
		rest.HeldTried += g.HeldTried
	}
	slices.SortFunc(all, func(a, b Gain) int {
		return cmp.Or(cmp.Compare(b.HeldToday-b.HeldTried, a.HeldToday-a.HeldTried), cmp.Compare(a.Name, b.Name))
	})
	if rest.HeldToday+rest.HeldTried > 0 {
		all = append(all, rest)
	}
	return all
}

// steps is how many values a curve shows beside those of today and of the trial.
const steps = 16

// values are those of a curve, from nothing to well beyond today's and the one that is tried. A limit with a percentage moves
// that, and keeps its absolute value.
func values(now, tried limit.Rule) (all []limit.Rule) {
	if tried.Percent == nil && tried.Absolute == nil {
		return nil
	}
	axis := func(r limit.Rule) *int64 {
		if tried.Percent == nil {
			return r.Absolute
		}
		if r.Percent == nil {
			return nil
		}
		return new(int64(*r.Percent))
	}
	most := 2 * *axis(tried)
	var marks []int64
	for _, r := range []limit.Rule{now, tried} {
		if at := axis(r); at != nil {
			marks = append(marks, *at)
		}
	}
	if at := axis(now); at != nil {
		most = max(most, 4**at)
	}
	step := niceStep(most)
	for i := range int64(steps + 1) {
		marks = append(marks, i*step)
	}
	slices.Sort(marks)
	for _, at := range slices.Compact(marks) {
		r := tried
		if tried.Percent != nil {
			r.Percent = new(money.Decimal(at))
		} else {
			r.Absolute = new(at)
		}
		all = append(all, r)
	}
	return all
}

// niceStep is the first of 1, 2.5, 5 times a power of ten of which a curve's steps reach most.
func niceStep(most int64) int64 {
	for power := int64(1); ; power *= 10 {
		for _, n := range []int64{10, 25, 50} {
			if step := n * power; step*steps >= most {
				return step
			}
		}
	}
}

// beyond is the limit as much further again as the one that is tried is from today's; nil where it goes nowhere.
func beyond(now, tried limit.Rule) *limit.Rule {
	further := tried
	switch {
	case tried.Percent != nil && now.Percent != nil && *tried.Percent > *now.Percent:
		further.Percent = new(2**tried.Percent - *now.Percent)
	case tried.Percent == nil && tried.Absolute != nil && now.Absolute != nil && *tried.Absolute > *now.Absolute:
		further.Absolute = new(2**tried.Absolute - *now.Absolute)
	default:
		return nil
	}
	return &further
}
