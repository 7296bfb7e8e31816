package people

// This file is the life of an account: added, changed, given a new password, substituted,
// ended.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/naming"
	"lagoon/internal/format/eml"
	"lagoon/internal/store"
)

// PersonEntry is a person to add.
type Entry struct {
	Login, Name, Password, About string
	Mail                         string        // address; empty: none is known
	Authority                    money.Entered // in company currency
	Comma                        bool
	Roles                        []string
	// Lasting says that the password is the person's own. One that somebody else gives is
	// for once: it is changed at the first sign-in.
	Lasting bool `json:"-"`
}

// PersonSaved answers the jobs on people. Asked says that roles and authority wait for a
// second administrator.
type Saved struct {
	Login string
	Asked bool
}

// Add adds somebody who can sign in, with a password for once. Roles and authority
// hold when a second administrator has confirmed them, where there is one.
func Add(ctx context.Context, a *act.App, c act.Command, entry Entry) (Saved, error) {
	if err := c.Actor.Allowed(act.AddPerson); err != nil {
		return Saved{}, err
	}
	hash, err := checkPerson(a, &entry)
	if err != nil {
		return Saved{}, err
	}
	return act.Perform(ctx, a, act.AddPerson, c, func(w *act.Work) (Saved, error) { return addPerson(w, entry, hash) })
}

func checkPerson(a *act.App, entry *Entry) (string, error) {
	entry.Login, entry.Name = act.PlainLogin(entry.Login), strings.TrimSpace(entry.Name)
	var faults fault.Faults
	if entry.Login == "" || strings.ContainsAny(entry.Login, " \t") {
		faults = append(faults, fault.New(fault.Invalid, "login", "Enter a sign-in name without spaces."))
	}
	if entry.Name == "" {
		faults = append(faults, fault.New(fault.Invalid, "name", "Enter the person's name."))
	}
	faults.Add(
		naming.Check(entry.Login, "login"),
		naming.Check(entry.Name, "name"),
		checkPassword(entry.Password, "password", entry.Login, entry.Name),
		checkRoles(entry.Roles),
	)
	if err := faults.OrNil(); err != nil {
		return "", err
	}
	return HashPassword(a, entry.Password)
}

func checkRoles(roles []string) *fault.Fault {
	if len(roles) == 0 || slices.ContainsFunc(roles, func(r string) bool { return !slices.Contains(act.AllRoles, r) }) {
		return fault.New(fault.Invalid, "roles", "Choose at least one role.")
	}
	return nil
}

// authorityIn is an entered authority in company currency.
func authorityIn(r act.Reading, entered money.Entered) (money.Amount, error) {
	amounts := act.Amounts{Currency: r.Ours.Currency}
	authority := amounts.Of(entered, "authority", "The authority")
	if authority < 0 {
		amounts.Faults = append(
			amounts.Faults,
			fault.New(fault.Invalid, "authority", "An authority cannot be below zero."),
		)
	}
	return authority, amounts.Faults.OrNil()
}

func addPerson(w *act.Work, entry Entry, hash string) (Saved, error) {
	people, err := w.People()
	if err != nil {
		return Saved{}, err
	}
	for _, p := range people {
		switch {
		case p.Login == entry.Login:
			return Saved{}, fault.New(fault.Duplicate, "login", "The sign-in name %s is taken.", entry.Login)
		case naming.Key(p.Name) == naming.Key(entry.Name):
			return Saved{}, fault.New(
				fault.Duplicate,
				"name",
				"%s is here already, as %s. Two people are never called alike: add what tells them apart.",
				p.Name,
				p.Login,
			)
		}
	}
	authority, err := authorityIn(w.Reading, entry.Authority)
	if err != nil {
		return Saved{}, err
	}
	p := store.Person{
		Login:    entry.Login,
		Name:     entry.Name,
		Password: hash,
		About:    entry.About,
		Comma:    entry.Comma,
		Active:   true,
		OneTime:  !entry.Lasting,
	}
	if err := give(w, &p, entry.Roles, authority); err != nil {
		return Saved{}, err
	}
	if entry.Mail, err = mailOf(entry.Mail); err != nil {
		return Saved{}, err
	}
	id, err := w.PutPerson(p)
	if err == nil && entry.Mail != "" {
		err = w.PutPersonMail(id, entry.Mail)
	}
	entry.Password = ""
	return Saved{p.Login, p.Asked.By != 0}, errors.Join(err, w.RecordAs("person", p.Login, nil, entry))
}

// mailOf is an address as it is kept; empty stays empty.
func mailOf(address string) (string, error) {
	if strings.TrimSpace(address) == "" {
		return "", nil
	}
	return eml.Address(address, "mail")
}

// SaveMail writes where somebody is written to by mail; empty: nowhere. What the company knows of suppliers goes there, so it is not
// left to the person.
func SaveMail(ctx context.Context, a *act.App, c act.Command, login, address string) (Saved, error) {
	return act.Perform(ctx, a, act.SavePersonMail, c, func(w *act.Work) (Saved, error) {
		p, err := active(w, login)
		if err != nil {
			return Saved{}, err
		}
		address, err := mailOf(address)
		if err != nil {
			return Saved{}, err
		}
		type mail struct{ Mail string }
		if err := w.PutPersonMail(p.ID, address); err != nil {
			return Saved{}, err
		}
		return Saved{Login: p.Login}, w.RecordAs("person", p.Login, mail{p.Mail}, mail{address})
	})
}

// give sets a person's roles and authority, or has them wait for a second administrator
// where there is one.
func give(w *act.Work, p *store.Person, roles []string, authority money.Amount) error {
	roles = slices.Compact(slices.Sorted(slices.Values(roles)))
	p.Asked = store.Asked{}
	if slices.Equal(roles, p.Roles) && authority == p.Authority {
		return nil
	}
	second, err := secondAdministrator(w.Reading, w.Actor.ID, p.ID)
	if err != nil {
		return err
	}
	if second && w.Actor.ID > 0 {
		p.Asked = store.Asked{Roles: roles, Authority: authority, By: w.Actor.ID}
		return nil
	}
	p.Roles, p.Authority = roles, authority
	return nil
}

// RightsEntry changes what a person may do.
type RightsEntry struct {
	Login     string
	Roles     []string
	Authority money.Entered // in company currency
	Reason    string
}

// rights is what the record keeps of them.
type rights struct {
	Roles     []string
	Authority money.Amount
	Reason    string `json:",omitempty"`
}

// Change changes roles and authority; a second administrator confirms it where
// there is one. Nobody changes their own.
func Change(ctx context.Context, a *act.App, c act.Command, entry RightsEntry) (Saved, error) {
	return act.Perform(ctx, a, act.ChangePerson, c, func(w *act.Work) (Saved, error) {
		p, err := active(w, entry.Login)
		if err != nil {
			return Saved{}, err
		}
		if no := checkRoles(entry.Roles); no != nil {
			return Saved{}, no
		}
		authority, err := authorityIn(w.Reading, entry.Authority)
		if err != nil {
			return Saved{}, err
		}
		if strings.TrimSpace(entry.Reason) == "" {
			return Saved{}, fault.New(fault.Invalid, "reason", "Say why; the record keeps it.")
		}
		second, err := secondAdministrator(w.Reading, w.Actor.ID, p.ID)
		if err != nil {
			return Saved{}, err
		}
		if p.ID == w.Actor.ID && second {
			return Saved{}, fault.New(
				fault.Forbidden,
				"",
				"What you may do yourself is changed by another administrator.",
			)
		}
		if slices.Contains(p.Roles, "administrator") && !slices.Contains(entry.Roles, "administrator") && !second {
			return Saved{}, fault.New(fault.Refused, "roles", "%s is the last administrator and stays one.", p.Name)
		}
		before := rights{p.Roles, p.Authority, ""}
		if err := give(w, &p, entry.Roles, authority); err != nil {
			return Saved{}, err
		}
		_, err = w.PutPerson(p)
		return Saved{
				p.Login,
				p.Asked.By != 0,
			}, errors.Join(
				err,
				w.RecordAs("person", p.Login, before, rights{entry.Roles, authority, strings.TrimSpace(entry.Reason)}),
			)
	})
}

// Confirming answers what an administrator asked for a person. Roles and Authority are
// those that were seen.
type Confirming struct {
	RightsEntry
	Refuse bool
}

// Confirm lets roles and authority hold that another administrator asked for, or
// drops them.
func Confirm(ctx context.Context, a *act.App, c act.Command, entry Confirming) (Saved, error) {
	return act.Perform(ctx, a, act.ConfirmPerson, c, func(w *act.Work) (Saved, error) {
		p, err := active(w, entry.Login)
		if err != nil {
			return Saved{}, err
		}
		authority, err := authorityIn(w.Reading, entry.Authority)
		if err != nil {
			return Saved{}, err
		}
		switch asked := p.Asked; {
		case asked.By == 0:
			return Saved{}, fault.New(fault.Changed, "", "Nothing waits for %s any more.", p.Name)
		case entry.Refuse:
		case asked.By == w.Actor.ID || p.ID == w.Actor.ID:
			return Saved{}, fault.New(
				fault.Forbidden,
				"",
				"Another administrator confirms this: not who asked for it, nor whom it is about.",
			)
		case asked.Authority != authority || !slices.Equal(asked.Roles, slices.Sorted(slices.Values(entry.Roles))):
			return Saved{}, fault.New(
				fault.Changed,
				"",
				"What %s is to be allowed was changed meanwhile. Look at it again.",
				p.Name,
			)
		}
		before, after := rights{p.Roles, p.Authority, ""}, rights{p.Asked.Roles, p.Asked.Authority, "confirmed"}
		if entry.Refuse {
			after = rights{p.Roles, p.Authority, "not confirmed"}
		}
		p.Roles, p.Authority, p.Asked = after.Roles, after.Authority, store.Asked{}
		_, err = w.PutPerson(p)
		return Saved{Login: p.Login}, errors.Join(err, w.RecordAs("person", p.Login, before, after))
	})
}

// ResetPassword gives a person a password for once, and ends their sessions. That of an
// administrator is given on the command line only, so that none becomes another.
func ResetPassword(ctx context.Context, a *act.App, c act.Command, login, password string) (Saved, error) {
	if err := c.Actor.Allowed(act.ResetPassword); err != nil {
		return Saved{}, err
	}
	if no := checkPassword(password, "password", login); no != nil {
		return Saved{}, no
	}
	hash, err := HashPassword(a, password)
	if err != nil {
		return Saved{}, err
	}
	return act.Perform(ctx, a, act.ResetPassword, c, func(w *act.Work) (Saved, error) {
		p, err := active(w, login)
		if err != nil {
			return Saved{}, err
		}
		if err := notAdministrator(w, p, "is given a new password", "password"); err != nil {
			return Saved{}, err
		}
		p.Password, p.OneTime = hash, true
		p.Epoch++
		_, err = w.PutPerson(p)
		return Saved{
				Login: p.Login,
			}, errors.Join(
				err,
				w.RecordAs("person", p.Login, nil, struct{ Password string }{"for once"}),
			)
	})
}

func notAdministrator(w *act.Work, p store.Person, what, command string) error {
	if w.Actor.ID > 0 && slices.Contains(p.Roles, "administrator") {
		return fault.New(
			fault.Forbidden,
			"",
			"%s is an administrator, who %s on the command line only: lagoon person %s %s.",
			p.Name,
			what,
			command,
			p.Login,
		)
	}
	return nil
}

// End ends the account of somebody who leaves, and their sessions; what they did
// stays, and what was their turn goes to the role.
func End(ctx context.Context, a *act.App, c act.Command, login, reason string) (Saved, error) {
	return act.Perform(ctx, a, act.EndPerson, c, func(w *act.Work) (Saved, error) {
		p, err := active(w, login)
		if err != nil {
			return Saved{}, err
		}
		if err := notAdministrator(w, p, "is ended", "end"); err != nil {
			return Saved{}, err
		}
		if strings.TrimSpace(reason) == "" {
			return Saved{}, fault.New(fault.Invalid, "reason", "Say why; the record keeps it.")
		}
		if second, err := secondAdministrator(w.Reading, 0, p.ID); err != nil ||
			!second && slices.Contains(p.Roles, "administrator") {
			return Saved{}, errors.Join(
				err,
				fault.New(fault.Refused, "", "%s is the last administrator and stays.", p.Name),
			)
		}
		p.Active, p.Asked = false, store.Asked{}
		p.Epoch++
		_, err = w.PutPerson(p)
		return Saved{
				Login: p.Login,
			}, errors.Join(
				err,
				w.RecordAs("person", p.Login, struct{ Active bool }{true}, struct {
					Active bool
					Reason string
				}{false, strings.TrimSpace(reason)}),
			)
	})
}

func active(w *act.Work, login string) (store.Person, error) {
	p, err := w.PersonByLogin(act.PlainLogin(login))
	if err != nil {
		return p, act.Found(err, "There is nobody called %s.", login)
	}
	if !p.Active {
		return p, fault.New(fault.Refused, "", "%s has left.", p.Name)
	}
	return p, nil
}

// ChangePassword changes one's own password and ends one's other sessions. It gives the
// actor as they are then.
func ChangePassword(ctx context.Context, a *act.App, c act.Command, old, password string) (act.Actor, error) {
	if err := c.Actor.Allowed(act.ChangePassword); err != nil {
		return act.Actor{}, err
	}
	before, err := act.Read(ctx, a, func(r act.Reading) (store.Person, error) { return r.PersonByID(c.Actor.ID) })
	if err != nil {
		return act.Actor{}, err
	}
	if !passwordFits(old, before.Password) {
		return act.Actor{}, fault.New(fault.Invalid, "old", "This is not your password.")
	}
	if old == password {
		return act.Actor{}, fault.New(fault.Invalid, "password", "Choose another one than before.")
	}
	if no := checkPassword(password, "password", before.Login, before.Name); no != nil {
		return act.Actor{}, no
	}
	hash, err := HashPassword(a, password)
	if err != nil {
		return act.Actor{}, err
	}
	_, err = act.Perform(ctx, a, act.ChangePassword, c, func(w *act.Work) (Saved, error) {
		p, err := w.PersonByID(c.Actor.ID)
		if err != nil || p.Password != before.Password {
			return Saved{}, errors.Join(
				err,
				fault.New(fault.Changed, "", "Your password was changed meanwhile. Sign in again."),
			)
		}
		p.Password, p.OneTime = hash, false
		p.Epoch++
		_, err = w.PutPerson(p)
		return Saved{
				Login: p.Login,
			}, errors.Join(
				err,
				w.RecordAs("person", p.Login, nil, struct{ Password string }{"changed"}),
			)
	})
	if err != nil {
		return act.Actor{}, err
	}
	return a.ActorByID(ctx, c.Actor.ID)
}

// SignOutEverywhere ends all sessions of one's own.
func SignOutEverywhere(ctx context.Context, a *act.App, c act.Command) (Saved, error) {
	return act.Perform(ctx, a, act.SignOutAll, c, func(w *act.Work) (Saved, error) {
		p, err := w.PersonByID(w.Actor.ID)
		if err != nil {
			return Saved{}, err
		}
		p.Epoch++
		_, err = w.PutPerson(p)
		return Saved{
				Login: p.Login,
			}, errors.Join(
				err,
				w.RecordAs("person", p.Login, nil, struct{ Sessions string }{"ended"}),
			)
	})
}

// SubstituteEntry names who acts in one's own place, on the days from–to.
type SubstituteEntry struct {
	Login       string
	From, Until day.Day
}

// NameSubstitute names who acts in one's own place (rules §12).
func NameSubstitute(ctx context.Context, a *act.App, c act.Command, entry SubstituteEntry) (Saved, error) {
	return act.Perform(ctx, a, act.NameSubstitute, c, func(w *act.Work) (Saved, error) {
		p, err := w.PersonByLogin(act.PlainLogin(entry.Login))
		var faults fault.Faults
		switch {
		case errors.Is(err, store.ErrNone) || (err == nil && !p.Active):
			faults = append(faults, fault.New(fault.Invalid, "login", "Choose who acts in your place."))
		case err != nil:
			return Saved{}, err
		case p.ID == w.Actor.ID:
			faults = append(faults, fault.New(fault.Invalid, "login", "Somebody else acts in your place."))
		}
		if _, err := day.Parse(string(entry.From)); err != nil {
			faults = append(faults, fault.New(fault.Invalid, "from", "Enter the first day."))
		}
		if _, err := day.Parse(string(entry.Until)); err != nil || entry.Until < entry.From || entry.Until < w.Today() {
			faults = append(
				faults,
				fault.New(fault.Invalid, "until", "Enter the last day: today or later, and not before the first."),
			)
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		all, err := w.SubstitutesOf(w.Actor.ID)
		if err != nil {
			return Saved{}, err
		}
		s := store.Substitute{
			Person:     w.Actor.ID,
			No:         len(all) + 1,
			Substitute: p.ID,
			From:       entry.From,
			Until:      entry.Until,
		}
		return Saved{Login: p.Login}, errors.Join(w.PutSubstitute(s), w.RecordAs("person", w.Actor.Login, nil, entry))
	})
}

// EndSubstitute takes a substitute of one's own back; no counts them from 1.
func EndSubstitute(ctx context.Context, a *act.App, c act.Command, no int) (Saved, error) {
	return act.Perform(ctx, a, act.EndSubstitute, c, func(w *act.Work) (Saved, error) {
		all, err := w.SubstitutesOf(w.Actor.ID)
		if err != nil {
			return Saved{}, err
		}
		if no < 1 || no > len(all) || all[no-1].Ended {
			return Saved{}, fault.New(fault.Changed, "", "This substitute was taken back already.")
		}
		s := all[no-1]
		s.Ended = true
		return Saved{
				Login: w.Actor.Login,
			}, errors.Join(
				w.PutSubstitute(s),
				w.RecordAs("person", w.Actor.Login, all[no-1], s),
			)
	})
}

// StandIn is a substitute in words.
type StandIn struct {
	No          int
	Login, Name string
	From, Until day.Day
}

// OwnAccount is what a person sees of their own account.
type OwnAccount struct {
	Substitutes []StandIn // theirs, that have not passed
	InPlaceOf   []string  // whose they are today, by name
}

// AccountOf reads it.
func AccountOf(ctx context.Context, a *act.App, actor act.Actor) (OwnAccount, error) {
	return act.Read(ctx, a, func(r act.Reading) (o OwnAccount, err error) {
		all, err := r.SubstitutesOf(actor.ID)
		if err != nil {
			return o, err
		}
		for _, s := range all {
			if s.Ended || s.Until < r.Today() {
				continue
			}
			p, err := r.PersonByID(s.Substitute)
			if err != nil {
				return o, err
			}
			o.Substitutes = append(o.Substitutes, StandIn{s.No, p.Login, p.Name, s.From, s.Until})
		}
		for _, p := range actor.InPlaceOf {
			o.InPlaceOf = append(o.InPlaceOf, p.Name)
		}
		return o, nil
	})
}
