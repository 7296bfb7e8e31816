// Package people is who may sign in, with which roles and authority, and in whose place.
package people

// This file is about who signs in and who they are: people, in whose place they act, and
// the first of them.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// SignIn gives the person of a sign-in name and password. It says the same, and
// takes as long, whichever of the two is wrong.
func SignIn(ctx context.Context, a *act.App, login, password string) (act.Actor, error) {
	person, err := act.Read(ctx, a, func(r act.Reading) (store.Person, error) {
		return r.PersonByLogin(act.PlainLogin(login))
	})
	if err != nil && !errors.Is(err, store.ErrNone) {
		return act.Actor{}, err
	}
	kept := person.Password
	if err != nil {
		kept = nobody
	}
	if !passwordFits(password, kept) || err != nil || !person.Active {
		return act.Actor{}, fault.New(
			fault.SignIn,
			"password",
			"Name and password do not go together. Check both and try again.",
		)
	}
	return a.ActorByID(ctx, person.ID)
}

// Founding sets up a new, empty Lagoon: the company and its first administrator.
type Founding struct {
	Company store.Company
	First   Entry
}

// Found sets up an empty Lagoon. It is refused as soon as anybody is known.
func Found(ctx context.Context, a *act.App, f Founding) (Saved, error) {
	f.First.Roles, f.First.Lasting = []string{"administrator"}, true
	hash, err := checkPerson(a, &f.First)
	if err != nil {
		return Saved{}, err
	}
	var faults fault.Faults
	if f.Company.Name = strings.TrimSpace(f.Company.Name); f.Company.Name == "" {
		faults = append(faults, fault.New(fault.Invalid, "company", "Enter the company's name."))
	} else if no := naming.Check(f.Company.Name, "company"); no != nil {
		faults = append(faults, no)
	}
	if !f.Company.Currency.Known() {
		faults = append(faults, fault.New(fault.Invalid, "currency", "Enter a currency of ISO 4217, such as EUR."))
	}
	if f.Company.IBAN = trade.PlainIBAN(f.Company.IBAN); f.Company.IBAN != "" && !trade.ValidIBAN(f.Company.IBAN) {
		faults = append(
			faults,
			fault.New(fault.Invalid, "iban", "The account number (IBAN) is not valid: its check digits do not fit."),
		)
	}
	if err := faults.OrNil(); err != nil {
		return Saved{}, err
	}
	installer := act.Command{Actor: act.Actor{ID: -1, Name: "Installation", Roles: []string{"administrator"}}}
	return act.Perform(ctx, a, act.SetUp, installer, func(w *act.Work) (Saved, error) {
		if _, err := w.Company(); err == nil {
			return Saved{}, fault.New(fault.Forbidden, "", "Lagoon is set up already. Sign in.")
		} else if !errors.Is(err, store.ErrNone) {
			return Saved{}, err
		}
		for _, kind := range trade.FirstCharges {
			if err := w.PutChargeKind(kind); err != nil {
				return Saved{}, err
			}
		}
		if err := errors.Join(w.PutCompany(f.Company), w.RecordAs("company", f.Company.Name, nil, f.Company)); err != nil {
			return Saved{}, err
		}
		return addPerson(w, f.First, hash)
	})
}

// Founded tells whether somebody has set Lagoon up.
func Founded(ctx context.Context, a *act.App) (bool, error) {
	setting, err := a.Setting(ctx)
	return setting.Configured, err
}

// secondAdministrator tells whether there is an administrator who could confirm what an
// administrator asks for about a person: neither of the two.
func secondAdministrator(r act.Reading, asks, about int64) (bool, error) {
	people, err := r.People()
	return slices.ContainsFunc(people, func(p store.Person) bool {
		return p.Active && p.ID != asks && p.ID != about && slices.Contains(p.Roles, "administrator")
	}), err
}
