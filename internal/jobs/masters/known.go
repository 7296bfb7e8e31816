package masters

// This file says how a supplier knows us, and by which names it goes.

import (
	"context"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/naming"
)

// Known is how a supplier knows us, and by which names it is known.
type Known struct {
	CustomerNumber string   // ours, there
	OtherNames     []string // that it goes by: on its papers, in its e-invoices
	StandingText   string   // written on every order and return note
}

// The bounds of what is typed, in characters.
const (
	longestCustomer = 60
	longestStanding = 2000
	mostNames       = 20
)

// SaveKnown writes how a supplier knows us, and by which names it is known.
func SaveKnown(ctx context.Context, a *act.App, c act.Command, supplier string, entry Known) (Saved, error) {
	return act.Perform(ctx, a, act.SaveKnown, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(supplier)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", supplier)
		}
		had, err := w.OtherNames(s.ID)
		if err != nil {
			return Saved{}, err
		}
		before := Known{s.CustomerNumber, had, s.StandingText}
		after := Known{CustomerNumber: strings.TrimSpace(entry.CustomerNumber), StandingText: strings.TrimSpace(entry.StandingText)}
		var faults fault.Faults
		for _, name := range entry.OtherNames {
			name = strings.Join(strings.Fields(name), " ")
			if name == "" || strings.EqualFold(name, s.Name) || slices.ContainsFunc(after.OtherNames, func(n string) bool { return strings.EqualFold(n, name) }) {
				continue
			}
			if no := naming.Check(name, "otherNames"); no != nil {
				faults = append(faults, no)
			}
			after.OtherNames = append(after.OtherNames, name)
		}
		switch {
		case len([]rune(after.CustomerNumber)) > longestCustomer:
			faults = append(faults, fault.New(fault.Invalid, "customerNumber", "A customer number has at most %d characters.", longestCustomer))
		case len([]rune(after.StandingText)) > longestStanding:
			faults = append(faults, fault.New(fault.Invalid, "standingText", "The text has at most %d characters.", longestStanding))
		case len(after.OtherNames) > mostNames:
			faults = append(faults, fault.New(fault.Invalid, "otherNames", "At most %d other names are kept.", mostNames))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		if err := w.PutKnown(s.ID, after.CustomerNumber, after.StandingText); err != nil {
			return Saved{}, err
		}
		for _, name := range had {
			if !slices.Contains(after.OtherNames, name) {
				if err := w.PutOtherName(s.ID, name, true); err != nil {
					return Saved{}, err
				}
			}
		}
		for _, name := range after.OtherNames {
			if err := w.PutOtherName(s.ID, name, false); err != nil {
				return Saved{}, err
			}
		}
		return Saved{s.Code, s.Version}, w.RecordAs("supplier", s.Code, before, after)
	})
}
