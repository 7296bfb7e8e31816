package masters

// This file is about where goods are delivered to, and who receives there.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/naming"
	"lagoon/internal/store"
)

// DeliveryPlace is a place of delivery as it is typed; Receivers are sign-in names.
type DeliveryPlace struct {
	Name, Address string
	Receivers     []string
	Ended         bool
}

// SavePlace writes a place of delivery under its name, which stays: it stands on orders and deliveries. One that is ended is
// offered no more; what is ordered to it goes on.
func SavePlace(ctx context.Context, a *act.App, c act.Command, e DeliveryPlace) (Saved, error) {
	return act.Perform(ctx, a, act.SavePlace, c, func(w *act.Work) (Saved, error) {
		e.Name, e.Address = strings.TrimSpace(e.Name), strings.TrimSpace(e.Address)
		all, err := w.Places()
		if err != nil {
			return Saved{}, err
		}
		var before any
		if at := slices.IndexFunc(all, func(p store.Place) bool { return strings.EqualFold(p.Name, e.Name) }); at >= 0 {
			if e.Name = all[at].Name; e.Ended && all[at].Own {
				return Saved{}, fault.New(fault.Refused, "", "%s is the company’s own place of delivery. Name another in its frame first.", e.Name)
			}
			before = asTyped(all[at])
		}
		var faults fault.Faults
		if e.Name == "" {
			faults = append(faults, fault.New(fault.Invalid, "name", "Give the place a name."))
		}
		faults.Add(naming.Check(e.Name, "name"))
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		receivers, err := receiversNamed(w, e.Receivers)
		if err != nil {
			return Saved{}, err
		}
		return Saved{Code: e.Name}, errors.Join(
			w.PutPlace(store.Place{Name: e.Name, Address: e.Address, Ended: e.Ended}, receivers),
			w.RecordAs("place", e.Name, before, e),
		)
	})
}

// asTyped is a place as it would be typed.
func asTyped(p store.Place) DeliveryPlace {
	e := DeliveryPlace{Name: p.Name, Address: p.Address, Ended: p.Ended}
	for _, r := range p.Receivers {
		e.Receivers = append(e.Receivers, r.Login)
	}
	return e
}

// receiversNamed are those who receive, by sign-in name.
func receiversNamed(w *act.Work, logins []string) (all []int64, err error) {
	for _, login := range slices.Compact(slices.Sorted(slices.Values(logins))) {
		who, err := w.ActorNamed(login)
		if errors.Is(err, store.ErrNone) {
			return nil, fault.New(fault.Invalid, "receivers", "Nobody called %s works here.", login)
		} else if err != nil {
			return nil, err
		}
		if !who.Holds("receiver") {
			return nil, fault.New(fault.Invalid, "receivers", "%s is no receiver.", who.Name)
		}
		all = append(all, who.ID)
	}
	return all, nil
}
