package masters

// This file tries limits on what was matched before, keeps what came out, and adopts a limit that was tried.

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trial"
	"lagoon/internal/store"
)

// mostCases is how many invoices a trial reads, the newest of its period.
const mostCases = 60_000

// PlaceEntry is where a limit is set, by codes; all empty is the company.
type PlaceEntry struct{ Supplier, Item, Charge string }

// TrialEntry is a limit that somebody tries on the invoices that came between two days; without days on those of the last year.
type TrialEntry struct {
	PlaceEntry
	Limit        limit.Entry  // neither value: as if it were not set
	Also         []PlaceEntry // nearer places that get the same
	Since, Until day.Day
}

// KeptAs answers what keeps a trial.
type KeptAs struct{ Number int64 }

// AdoptEntry keeps a trial. Was is the limit that was set when it was tried.
type AdoptEntry struct {
	TrialEntry
	Was    limit.Entry
	Reason string
}

// Nearer is a place that sets a limit of the same kind and side for itself.
type Nearer struct {
	trial.Limit
	store.PlaceName
}

// Tried is a trial with what it was asked.
type Tried struct {
	trial.Outcome
	Limit        trial.Limit
	Name         store.PlaceName
	Nearer       []Nearer
	Since, Until day.Day
	Cut          bool // the period holds more invoices than a trial reads
	Company      money.Currency
}

// question makes the entry a question about limits as they stand.
func (e TrialEntry) question(r act.Reading) (q trial.Question, at limitsAt, err error) {
	if at, err = limitsPlace(r, e.Supplier, e.Item, e.Charge); err != nil {
		return q, at, err
	}
	amounts := act.Amounts{Currency: r.Ours.Currency}
	book := amounts.Limits(limit.Entries{e.Limit}, "limits")
	if f := act.CheckLimits(book, "limits"); f != nil {
		amounts.Faults = append(amounts.Faults, f)
	}
	if err := amounts.Faults.OrNil(); err != nil {
		return q, at, err
	}
	switch q.Rule = book[0]; {
	case q.Kind == limit.Delivery:
		return q, at, fault.New(fault.Refused, "", "A delivery past its limit is not booked, so there is nothing on record to try another limit on.")
	case q.Kind == limit.Charge && e.Item != "", at.ChargeKind != "" && q.Kind != limit.Charge:
		return q, at, fault.New(fault.Invalid, "", "There is no such limit there.")
	}
	q.Place = at.place()
	for _, also := range e.Also {
		near, err := limitsPlace(r, also.Supplier, also.Item, also.Charge)
		if err != nil {
			return q, at, err
		}
		q.Also = append(q.Also, near.place())
	}
	return q, at, nil
}

func (at limitsAt) place() trial.Place {
	return trial.Place{Item: at.Item, Supplier: at.LimitRule.Supplier, Charge: at.ChargeKind}
}

// yearOrSo are the days from one to another, in place of which the year up to today is taken where none are named. What is no day
// is a fault of the field.
func yearOrSo(from, until, today day.Day, field string) (day.Day, day.Day, error) {
	until = cmp.Or(until, today)
	from = cmp.Or(from, until.Add(-365))
	for _, d := range []day.Day{from, until} {
		if _, err := day.Parse(string(d)); err != nil {
			return from, until, fault.New(fault.Invalid, field, "“%s” is no day.", d)
		}
	}
	return from, until, nil
}

// period are the days of a trial.
func (e TrialEntry) period(today day.Day) (since, until day.Day, err error) {
	since, until, err = yearOrSo(e.Since, e.Until, today, "since")
	if err == nil && since > until {
		err = fault.New(fault.Invalid, "since", "The period ends before it begins.")
	}
	return since, until, err
}

// TryLimit tells what a limit would have done to the invoices of a period. It books nothing.
func TryLimit(ctx context.Context, a *act.App, e TrialEntry) (Tried, error) {
	return act.Read(ctx, a, func(r act.Reading) (t Tried, err error) {
		q, at, err := e.question(r)
		if err != nil {
			return t, err
		}
		if t.Since, t.Until, err = e.period(r.Today()); err != nil {
			return t, err
		}
		all, err := r.AllLimits()
		if err != nil {
			return t, err
		}
		cases, err := r.TrialCases(ctx, t.Since, t.Until, mostCases)
		if err != nil {
			return t, err
		}
		limits := trial.NewLimits(all)
		t.Limit, t.Name, t.Company, t.Cut = q.Limit, at.named(), r.Ours.Currency, len(cases) == mostCases
		for _, l := range limits.Nearer(q.Limit) {
			name, err := r.PlaceName(l.Place)
			if err != nil {
				return t, err
			}
			t.Nearer = append(t.Nearer, Nearer{l, name})
		}
		t.Outcome, err = trial.Try(cases, limits, q, t.Company)
		return t, err
	})
}

func (at limitsAt) named() store.PlaceName {
	return store.PlaceName{
		Supplier: at.supplier.Code, SupplierName: at.supplier.Name, Item: at.item.Code, ItemName: at.item.Name, Charge: at.ChargeKind,
	}
}

// HeldLimit is a limit with how many invoices of the last year it held.
type HeldLimit struct {
	trial.Holding
	Name store.PlaceName
}

// KeptTrial is a trial that was kept.
type KeptTrial struct {
	store.Trial
	Name store.PlaceName
	Also []store.PlaceName
}

// Trials are the limits, what held most first, and what was tried before.
type Trials struct {
	Since, Until day.Day
	Invoices     int
	Limits       []HeldLimit
	Kept         []KeptTrial
	Company      money.Currency
}

// ReadTrials tells what each limit held in the last year, and what was tried before.
func ReadTrials(ctx context.Context, a *act.App) (Trials, error) {
	return act.Read(ctx, a, func(r act.Reading) (t Trials, err error) {
		t.Since, t.Until, _ = TrialEntry{}.period(r.Today())
		t.Company = r.Ours.Currency
		cases, err1 := r.TrialCases(ctx, t.Since, t.Until, mostCases)
		all, err2 := r.AllLimits()
		kept, err3 := r.LastTrials()
		if err := errors.Join(err1, err2, err3); err != nil {
			return t, err
		}
		t.Invoices = len(cases)
		for _, h := range trial.Held(cases, all, t.Company) {
			name, err := r.PlaceName(h.Place)
			if err != nil {
				return t, err
			}
			t.Limits = append(t.Limits, HeldLimit{h, name})
		}
		for _, k := range kept {
			one := KeptTrial{Trial: k}
			if one.Name, err = r.PlaceName(k.Limit.Place); err != nil {
				return t, err
			}
			for _, p := range k.Also {
				name, err := r.PlaceName(p)
				if err != nil {
					return t, err
				}
				one.Also = append(one.Also, name)
			}
			t.Kept = append(t.Kept, one)
		}
		return t, nil
	})
}

// KeepTrial keeps a trial as it comes out, and changes nothing else.
func KeepTrial(ctx context.Context, a *act.App, c act.Command, e AdoptEntry) (KeptAs, error) {
	return keepTrial(ctx, a, act.KeepTrial, c, e, false)
}

// AdoptLimit sets a limit that was tried, in its place and in the nearer ones that go with it, and keeps the trial. Whoever adopts
// it made the limits what they are: they clear nothing of their own until somebody else has confirmed them.
func AdoptLimit(ctx context.Context, a *act.App, c act.Command, e AdoptEntry) (KeptAs, error) {
	return keepTrial(ctx, a, act.AdoptLimit, c, e, true)
}

// keepTrial tries the limit once more, as what came out is kept. That is read before the books are written to: it takes long.
func keepTrial(ctx context.Context, a *act.App, job act.Job, c act.Command, e AdoptEntry, adopt bool) (KeptAs, error) {
	e.Reason = strings.TrimSpace(e.Reason)
	tried, err := TryLimit(ctx, a, e.TrialEntry)
	if err != nil {
		return KeptAs{}, err
	}
	return act.Perform(ctx, a, job, c, func(w *act.Work) (KeptAs, error) {
		if e.Reason == "" {
			return KeptAs{}, fault.New(fault.Invalid, "reason", "Say why; the record keeps it.")
		}
		q, at, err := e.question(w.Reading)
		if err != nil {
			return KeptAs{}, err
		}
		was, err := ruleAt(w, at, q.Rule)
		if err != nil {
			return KeptAs{}, err
		}
		if adopt {
			if err := e.unchanged(w, was); err != nil {
				return KeptAs{}, err
			}
			places := append([]PlaceEntry{e.PlaceEntry}, e.Also...)
			for _, p := range places {
				if err := adoptAt(w, p, q.Rule, e.Reason); err != nil {
					return KeptAs{}, err
				}
			}
		}
		kept := store.Trial{
			Limit: q.Limit, Was: was, Also: q.Also, Since: tried.Since, Until: tried.Until, Invoices: tried.Invoices,
			Before: tried.Today, After: tried.Tried, Adopted: adopt, Reason: e.Reason, By: w.Actor.ID, At: w.Instant(),
		}
		for _, g := range tried.Suppliers {
			kept.SaidNo += g.SaidNo
			kept.SaidNoWorth += g.NoWorth
		}
		if kept.Number, err = w.NextNumber(store.TrialSeries); err != nil {
			return KeptAs{}, err
		}
		return KeptAs{kept.Number}, errors.Join(w.AddTrial(kept), w.Record("trial", kept.Number, nil, kept))
	})
}

// ruleAt is what is set in just a place, of the kind and side of a rule.
func ruleAt(w *act.Work, at limitsAt, of limit.Rule) (limit.Rule, error) {
	book, err := w.BookAt(at.LimitRule)
	for _, r := range book {
		if r.Kind == of.Kind && r.Side == of.Side {
			return r, err
		}
	}
	return limit.Rule{Kind: of.Kind, Side: of.Side}, err
}

// unchanged refuses to adopt what was tried against another limit than is set now.
func (e AdoptEntry) unchanged(w *act.Work, now limit.Rule) error {
	was, err := e.Was.In(w.Ours.Currency)
	if err != nil {
		return err
	}
	if !equal(was.Percent, now.Percent) || !equal(was.Absolute, now.Absolute) {
		return fault.New(fault.Changed, "", "Somebody has changed this limit since it was tried. Try it again.")
	}
	return nil
}

// adoptAt sets a limit in a place, beside what else is set there.
func adoptAt(w *act.Work, p PlaceEntry, rule limit.Rule, reason string) error {
	at, err := limitsPlace(w.Reading, p.Supplier, p.Item, p.Charge)
	if err != nil {
		return err
	}
	book, err := w.BookAt(at.LimitRule)
	if err != nil {
		return err
	}
	book = slices.DeleteFunc(book, func(r limit.Rule) bool { return r.Kind == rule.Kind && r.Side == rule.Side })
	if rule.Percent != nil || rule.Absolute != nil {
		book = append(book, rule)
	}
	_, err = at.change(w, book, at.level, nil, reason)
	return err
}
