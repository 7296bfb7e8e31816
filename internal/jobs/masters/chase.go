package masters

// This file says after how many days what is awaited is chased.

import (
	"context"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// ChaseEntry is after how many days what is awaited is chased, of a supplier or by the company.
type ChaseEntry struct {
	Supplier string                   // code; empty: the company
	Days     map[trade.Awaited]string // a number, "never" or, as without a row, empty: as otherwise
}

// SaveChase writes after how many days what is awaited is chased. What holds for all is changed by an administrator.
func SaveChase(ctx context.Context, a *act.App, c act.Command, e ChaseEntry) (Saved, error) {
	return act.Perform(ctx, a, act.SaveChase, c, func(w *act.Work) (Saved, error) {
		subject, name, supplier := "company", w.Ours.Name, int64(0)
		if e.Supplier != "" {
			s, err := w.SupplierByCode(e.Supplier)
			if errors.Is(err, store.ErrNone) {
				return Saved{}, act.Unnamed("supplier", e.Supplier)
			} else if err != nil {
				return Saved{}, err
			}
			subject, name, supplier = "supplier", s.Code, s.ID
		} else if !w.Actor.Has("administrator") {
			return Saved{}, fault.New(fault.Forbidden, "", "What is chased of all suppliers is changed by an administrator.")
		}
		before, err := w.Chase(supplier)
		if err != nil {
			return Saved{}, err
		}
		after := trade.Chase{}
		var faults fault.Faults
		for _, what := range trade.AllAwaited {
			days, no := trade.ParseChase(e.Days[what], string(what))
			if no != nil {
				faults = append(faults, no)
				continue
			}
			if days != nil {
				after[what] = *days
			}
			if err := w.PutChase(supplier, what, days); err != nil {
				return Saved{}, err
			}
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		return Saved{Code: name}, w.RecordAs(subject, name, struct{ Chased trade.Chase }{before}, struct{ Chased trade.Chase }{after})
	})
}

// ReadChase is what is chased of a supplier, or by the company where no code is given, and by the company.
func ReadChase(ctx context.Context, a *act.App, code string) (own, company trade.Chase, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		if company, err = r.Chase(0); err != nil || code == "" {
			own = company
			return none, err
		}
		s, err := r.SupplierByCode(code)
		if err != nil {
			return none, act.Found(err, "There is no supplier %q.", code)
		}
		own, err = r.Chase(s.ID)
		return none, err
	})
	return own, company, err
}
