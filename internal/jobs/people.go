package jobs

// This file is about who signs in and who they are: people, in whose place they act, and
// the first of them.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// AllRoles are the roles of rules §12.
var AllRoles = []string{"buyer", "receiver", "clerk", "approver", "treasurer", "administrator", "reader"}

// SignIn gives the person of a sign-in name and password. It says the same, and
// takes as long, whichever of the two is wrong.
func (a *App) SignIn(ctx context.Context, login, password string) (Actor, error) {
	person, err := read(ctx, a, func(r reading) (store.Person, error) {
		return r.PersonByLogin(plainLogin(login))
	})
	if err != nil && !errors.Is(err, store.ErrNone) {
		return Actor{}, err
	}
	kept := person.Password
	if err != nil {
		kept = nobody
	}
	if !passwordFits(password, kept) || err != nil || !person.Active {
		return Actor{}, fault.New(fault.SignIn, "password", "Name and password do not go together. Check both and try again.")
	}
	return a.ActorByID(ctx, person.ID)
}

func plainLogin(login string) string { return strings.ToLower(strings.TrimSpace(login)) }

func actor(p store.Person) Actor {
	a := Actor{ID: p.ID, Login: p.Login, Name: p.Name, Roles: p.Roles, Authority: p.Authority, OneTime: p.OneTime, Epoch: p.Epoch}
	a.Printer = say.Printer{Comma: p.Comma, HideAccounts: !a.SeesAccounts()}
	return a
}

// actorOf is a person with those in whose place they act today.
func (r reading) actorOf(p store.Person) (Actor, error) {
	a := actor(p)
	others, err := r.StandingFor(p.ID, r.today())
	if err != nil {
		return a, err
	}
	for _, id := range others {
		other, err := r.PersonByID(id)
		if err != nil {
			return a, err
		}
		if other.Active {
			a.InPlaceOf = append(a.InPlaceOf, actor(other))
		}
	}
	return a, nil
}

// ActorByID is the person of a session, as they are now.
func (a *App) ActorByID(ctx context.Context, id int64) (Actor, error) {
	return read(ctx, a, func(r reading) (Actor, error) {
		person, err := r.PersonByID(id)
		if errors.Is(err, store.ErrNone) || (err == nil && !person.Active) {
			return Actor{}, fault.New(fault.SignIn, "", "Sign in to go on.")
		}
		if err != nil {
			return Actor{}, err
		}
		return r.actorOf(person)
	})
}

// ActorByLogin finds a person by sign-in name, for wiring that acts in their name.
func (a *App) ActorByLogin(ctx context.Context, login string) (Actor, error) {
	return read(ctx, a, func(r reading) (Actor, error) {
		person, err := r.PersonByLogin(plainLogin(login))
		if err == nil && !person.Active {
			err = store.ErrNone
		}
		if err != nil {
			return Actor{}, found(err, "There is nobody called %s.", login)
		}
		return r.actorOf(person)
	})
}

// Founding sets up a new, empty Lagoon: the company and its first administrator.
type Founding struct {
	Company store.Company
	First   PersonEntry
}

// Found sets up an empty Lagoon. It is refused as soon as anybody is known.
func (a *App) Found(ctx context.Context, f Founding) (PersonSaved, error) {
	f.First.Roles, f.First.Lasting = []string{"administrator"}, true
	hash, err := checkPerson(&f.First)
	if err != nil {
		return PersonSaved{}, err
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
		faults = append(faults, fault.New(fault.Invalid, "iban", "The account number (IBAN) is not valid: its check digits do not fit."))
	}
	if err := faults.OrNil(); err != nil {
		return PersonSaved{}, err
	}
	installer := Command{Actor: Actor{ID: -1, Name: "Installation", Roles: []string{"administrator"}}}
	return perform(ctx, a, SetUp, installer, func(w *work) (PersonSaved, error) {
		if _, err := w.Company(); err == nil {
			return PersonSaved{}, fault.New(fault.Forbidden, "", "Lagoon is set up already. Sign in.")
		} else if !errors.Is(err, store.ErrNone) {
			return PersonSaved{}, err
		}
		for _, kind := range trade.FirstCharges {
			if err := w.PutChargeKind(kind); err != nil {
				return PersonSaved{}, err
			}
		}
		if err := errors.Join(w.PutCompany(f.Company), w.recordAs("company", f.Company.Name, nil, f.Company)); err != nil {
			return PersonSaved{}, err
		}
		return w.addPerson(f.First, hash)
	})
}

// Founded tells whether somebody has set Lagoon up.
func (a *App) Founded(ctx context.Context) (bool, error) {
	setting, err := a.Setting(ctx)
	return setting.Configured, err
}

// Masters writes master data in one transaction, with what it was in the record.
func (a *App) Masters(ctx context.Context, c Command, what string, write func(*store.Tx) error) error {
	_, err := perform(ctx, a, SetUp, c, func(w *work) (string, error) {
		return what, errors.Join(write(w.Tx), w.recordAs("masters", what, nil, what))
	})
	return err
}

// secondAdministrator tells whether there is an administrator who could confirm what an
// administrator asks for about a person: neither of the two.
func (r reading) secondAdministrator(asks, about int64) (bool, error) {
	people, err := r.People()
	return slices.ContainsFunc(people, func(p store.Person) bool {
		return p.Active && p.ID != asks && p.ID != about && slices.Contains(p.Roles, "administrator")
	}), err
}
