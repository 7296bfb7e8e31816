package act

// This file is about who acts, and what they may do and see.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Actor is who acts: a person, or Lagoon itself with key zero.
type Actor struct {
	ID        int64
	Login     string
	Name      string
	Roles     []string
	Authority money.Amount // company currency
	Printer   say.Printer
	OneTime   bool    // signed in with a password that somebody else gave
	Epoch     int64   // of the sessions that are in force
	InPlaceOf []Actor // whose substitute this is today (rules §12)
	Acting    *Actor  // in whose place the command at hand is given, if it is in another's
}

// Lagoon is the actor of what Lagoon does by itself.
var Lagoon = Actor{Name: "Lagoon"}

// byItself are the commands that Lagoon gives by itself.
var byItself = []Job{ImportInvoices, TakeMail, MatchAgain, HandOver, LiftHold, ReleaseInvoices, SelfBill, MailList, StopBatch}

// May tells whether the actor may give the command, by a role of their own or in the
// place of somebody whose substitute they are.
func (a Actor) May(job Job) bool {
	if a.ID == Lagoon.ID {
		return slices.Contains(byItself, job)
	}
	return a.may(job) || (!own[job] && slices.ContainsFunc(a.InPlaceOf, func(o Actor) bool { return o.may(job) }))
}

func (a Actor) may(job Job) bool { return slices.ContainsFunc(Permissions[job], a.Holds) }

// Allowed refuses a command that the actor may not give.
func (a Actor) Allowed(job Job) error {
	if a.May(job) {
		return nil
	}
	return fault.New(
		fault.Forbidden,
		"",
		"%s may not do this. It takes the role %s.",
		a.Name,
		strings.Join(Permissions[job], " or "),
	)
}

// Jobs are the commands that the actor may give and what they may see, by name.
func (a Actor) Jobs() []Job {
	var all []Job
	for job := range Permissions {
		if a.May(job) {
			all = append(all, job)
		}
	}
	for right := range Rights {
		if a.MaySee(right) == nil {
			all = append(all, right)
		}
	}
	slices.Sort(all)
	return all
}

// Holds tells whether a role is the actor's own.
func (a Actor) Holds(role string) bool { return slices.Contains(a.Roles, role) }

// Has tells whether the actor has a role, or stands in for somebody who has it.
func (a Actor) Has(role string) bool {
	return a.Holds(role) || slices.ContainsFunc(a.InPlaceOf, func(o Actor) bool { return o.Holds(role) })
}

// Doing is the actor as they give a command: as themselves where a role of their own
// lets them, else in another's place, with that one's authority.
func (a Actor) Doing(job Job) Actor {
	if a.ID == Lagoon.ID || a.may(job) || own[job] {
		return a
	}
	for i := range a.InPlaceOf {
		if a.InPlaceOf[i].may(job) {
			return a.InsteadOf(&a.InPlaceOf[i])
		}
	}
	return a
}

// InsteadOf is the actor in another's place, with that one's authority.
func (a Actor) InsteadOf(other *Actor) Actor {
	a.Acting, a.Authority = other, other.Authority
	return a
}

// Is tells whether what a person did counts as the actor's own: it is theirs, or that of
// whom they act for just now. Nobody is their own second person through another.
func (a Actor) Is(person int64) bool {
	return person != 0 && (person == a.ID || (a.Acting != nil && person == a.Acting.ID))
}

// AllRoles are the roles of rules §12.
var AllRoles = []string{"buyer", "receiver", "clerk", "approver", "treasurer", "administrator", "reader"}

// Workers are the roles of those who do more than read.
var Workers = slices.DeleteFunc(slices.Clone(AllRoles), func(role string) bool { return role == "reader" })

// PlainLogin is a sign-in name as it is kept.
func PlainLogin(login string) string { return strings.ToLower(strings.TrimSpace(login)) }

func actor(p store.Person) Actor {
	a := Actor{
		ID:        p.ID,
		Login:     p.Login,
		Name:      p.Name,
		Roles:     p.Roles,
		Authority: p.Authority,
		OneTime:   p.OneTime,
		Epoch:     p.Epoch,
	}
	a.Printer = say.Printer{Comma: p.Comma, HideAccounts: !a.SeesAccounts()}
	return a
}

// ActorNamed is somebody who works here, by sign-in name, or ErrNone.
func (r Reading) ActorNamed(login string) (Actor, error) {
	p, err := r.PersonByLogin(PlainLogin(login))
	if err == nil && !p.Active {
		err = store.ErrNone
	}
	if err != nil {
		return Actor{}, err
	}
	return r.actorOf(p)
}

// Colleague is somebody who works here, by sign-in name as it is typed, to whom something is passed on or handed over; nobody is refused
// at the field “to”.
func (r Reading) Colleague(login string) (Actor, error) {
	to, err := r.ActorNamed(strings.TrimSpace(login))
	if errors.Is(err, store.ErrNone) {
		return to, fault.New(fault.Invalid, "to", "There is nobody called %q. Choose somebody.", login)
	}
	return to, err
}

// actorOf is a person with those in whose place they act today.
func (r Reading) actorOf(p store.Person) (Actor, error) {
	a := actor(p)
	others, err := r.StandingFor(p.ID, r.Today())
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
	return Read(ctx, a, func(r Reading) (Actor, error) {
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
	return Read(ctx, a, func(r Reading) (Actor, error) {
		person, err := r.PersonByLogin(PlainLogin(login))
		if err == nil && !person.Active {
			err = store.ErrNone
		}
		if err != nil {
			return Actor{}, Found(err, "There is nobody called %s.", login)
		}
		return r.actorOf(person)
	})
}

// CommandLine is who acts through the command line on the machine that Lagoon runs on.
var CommandLine = Actor{ID: -2, Name: "Command line", Roles: []string{"administrator"}}

// What is recorded although it changes no document.
const (
	SignedIn      Job = "signIn"
	SignInRefused Job = "signInRefused"
	SignedOut     Job = "signOut"
	ExportTable   Job = "exportTable"
	TakeFile      Job = "getRunFile"
	TakeList      Job = "takeList"
	LedgerFile    Job = "getLedgerFile"
	BackedUp      Job = "backup"
	Restored      Job = "restore"
	KeyChanged    Job = "sealKey"
)

// Decides are the roles that decide on an invoice: never on one's own entry (rules §12).
var Decides = []string{"approver", "treasurer"}

// Leads are the roles that hand over what is the turn of others.
var Leads = []string{"approver", "administrator"}

// Rights are what may be read only with one of the roles named. Everything else is
// read by everybody who is signed in.
var Rights = map[Job][]string{
	"getRecord":    {"administrator", "reader"},
	"exportRecord": {"administrator", "reader"},
	ExportTable:    {"buyer", "clerk", "approver", "treasurer", "administrator"},
	TakeFile:       {"approver", "treasurer"},
	"getAdvice":    {"clerk", "approver", "treasurer"},
	"exportCash":   {"buyer", "clerk", "approver", "treasurer", "administrator"},
	"getBank":      {"approver", "treasurer"},
	"getStatement": {"approver", "treasurer"},
	"tryBatch":     {"clerk"},
	"getProof":     {"treasurer", "administrator", "reader"},
	"proveBooks":   {"treasurer", "administrator", "reader"},
	"getStandIn":   {"treasurer"},
	"setStandIn":   {"treasurer"},
	"getWaysIn":    {"administrator"},
	"tryMailbox":   {"administrator"},
}

// SeesAccounts are the roles that see bank accounts whole; others see their last digits.
var SeesAccounts = []string{"buyer", "clerk", "approver", "treasurer", "administrator"}

// MaySee refuses what the actor may not read.
func (a Actor) MaySee(what Job) error {
	roles, held := Rights[what]
	if !held || slices.ContainsFunc(roles, a.Has) {
		return nil
	}
	return fault.New(
		fault.Forbidden,
		"",
		"%s may not see this. It takes the role %s.",
		a.Name,
		strings.Join(roles, " or "),
	)
}

// SeesAccounts tells whether the actor sees bank accounts whole.
func (a Actor) SeesAccounts() bool { return slices.ContainsFunc(SeesAccounts, a.Has) }

// HiddenAccount is an account number as those see it who may not see it whole.
func HiddenAccount(iban string) string {
	if len(iban) <= 4 {
		return iban
	}
	return "…" + iban[len(iban)-4:]
}

// NameOf is what a person is called; key zero is Lagoon itself.
func (r Reading) NameOf(person int64) (string, error) {
	if person == 0 {
		return Lagoon.Name, nil
	}
	p, err := r.PersonByID(person)
	return p.Name, err
}
