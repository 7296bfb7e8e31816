package web

import (
	"context"
	"maps"
	"strings"
	"sync"
	"time"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// attempts slows down guessing: after three failures on a name each further try
// waits longer, and after ten the name rests for a quarter of an hour. A try counts as
// failed until it has passed, so that many at once gain nothing.
type attempts struct {
	sync.Mutex
	failed map[string]failure
}

type failure struct {
	count int
	until time.Time
}

func newAttempts() *attempts { return &attempts{failed: map[string]failure{}} }

const (
	freeAttempts = 3
	mostAttempts = 10
	mostNames    = 10_000 // that are remembered at a time
	rest         = 15 * time.Minute
)

// begin counts a try on a name, or says how long the name must not be tried.
func (a *attempts) begin(login string, now time.Time) time.Duration {
	a.Lock()
	defer a.Unlock()
	if wait := a.failed[login].until.Sub(now); wait > 0 {
		return wait
	}
	if len(a.failed) >= mostNames { // a flood of names drives out only what is not at rest
		maps.DeleteFunc(a.failed, func(_ string, f failure) bool { return f.until.Before(now) })
	}
	if _, known := a.failed[login]; !known && len(a.failed) >= mostNames {
		return rest
	}
	f := a.failed[login]
	f.count++
	switch {
	case f.count >= mostAttempts:
		f = failure{until: now.Add(rest)}
	case f.count > freeAttempts:
		f.until = now.Add(time.Duration(1<<(f.count-freeAttempts)) * time.Second)
	}
	a.failed[login] = f
	return 0
}

// passed forgets the failures of a name that signed in.
func (a *attempts) passed(login string) {
	a.Lock()
	defer a.Unlock()
	delete(a.failed, login)
}

func (h *handlers) session(ctx context.Context, actor *jobs.Actor) (contract.Session, error) {
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return contract.Session{}, err
	}
	s := contract.Session{
		Configured: setting.Configured,
		Demo:       h.demo != "",
		Company:    setting.Company.Name,
		Currency:   string(setting.Company.Currency),
		Today:      string(setting.Today),
	}
	if actor != nil {
		s.Person = &contract.Person{
			Login:     actor.Login,
			Name:      actor.Name,
			Roles:     rolesOf(actor.Roles),
			Authority: actor.Authority.Text(setting.Company.Currency),
			Comma:     actor.Printer.Comma,
		}
	} else if h.demo != "" {
		people, err := h.people(ctx)
		if err != nil {
			return s, err
		}
		s.People, s.Password = &people, &h.demo
	}
	return s, nil
}

func rolesOf(roles []string) []contract.Role {
	return each(roles, func(r string) contract.Role { return contract.Role(r) })
}

func (h *handlers) people(ctx context.Context) ([]contract.Person, error) {
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return nil, err
	}
	people, err := h.app.People(ctx)
	return each(people, func(p store.Person) contract.Person {
		return contract.Person{
			Login:     p.Login,
			Name:      p.Name,
			About:     p.About,
			Roles:     rolesOf(p.Roles),
			Authority: p.Authority.Text(setting.Company.Currency),
			Comma:     p.Comma,
		}
	}), err
}

// GetSession tells who is signed in, and what everybody may know.
func (h *handlers) GetSession(ctx context.Context, _ contract.GetSessionRequestObject) (contract.GetSessionResponseObject, error) {
	var signed *jobs.Actor
	if actor := actorOf(ctx); actor.ID > 0 {
		signed = &actor
	}
	s, err := h.session(ctx, signed)
	return contract.GetSession200JSONResponse(s), err
}

// SignIn begins a session under a new token.
func (h *handlers) SignIn(ctx context.Context, r contract.SignInRequestObject) (contract.SignInResponseObject, error) {
	name := strings.ToLower(strings.TrimSpace(r.Body.Login))
	if wait := h.attempts.begin(name, time.Now()); wait > 0 {
		h.log.Warn("sign-in refused", "request", idOf(ctx), "login", name, "wait", wait)
		return nil, fault.New(fault.Refused, "password", "Too many attempts. Wait %s and try again.", wait.Round(time.Second))
	}
	actor, err := h.app.SignIn(ctx, r.Body.Login, r.Body.Password)
	if err != nil {
		h.log.Warn("sign-in failed", "request", idOf(ctx), "login", name)
		return nil, err
	}
	h.attempts.passed(name)
	if err := h.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	h.sessions.Put(ctx, "person", actor.ID)
	s, err := h.session(ctx, &actor)
	return contract.SignIn200JSONResponse(s), err
}

// SignOut ends the session.
func (h *handlers) SignOut(ctx context.Context, _ contract.SignOutRequestObject) (contract.SignOutResponseObject, error) {
	return contract.SignOut204Response{}, h.sessions.Destroy(ctx)
}

// FoundLagoon sets up a new Lagoon and signs its first administrator in.
func (h *handlers) FoundLagoon(ctx context.Context, r contract.FoundLagoonRequestObject) (contract.FoundLagoonResponseObject, error) {
	b := r.Body
	if _, err := time.LoadLocation(b.Zone); err != nil || b.Zone == "" {
		return nil, fault.New(fault.Invalid, "zone", "Enter a time zone such as Europe/Dublin.")
	}
	company := store.Company{
		Name:     b.Company,
		Currency: money.Currency(b.Currency),
		Country:  b.Country,
		Zone:     b.Zone,
		IBAN:     b.Iban,
		BIC:      b.Bic,
		Level:    trade.ThreeWay,
		Policy:   trade.Policy{OverDelivery: true, UnderDelivery: true},
	}
	if _, err := h.app.Found(ctx, jobs.Founding{Company: company, First: jobs.PersonEntry{Login: b.Login, Name: b.Name, Password: b.Password}}); err != nil {
		return nil, err
	}
	signed, err := h.SignIn(ctx, contract.SignInRequestObject{Body: &contract.SignInJSONRequestBody{Login: b.Login, Password: b.Password}})
	if err != nil {
		return nil, err
	}
	return contract.FoundLagoon200JSONResponse(signed.(contract.SignIn200JSONResponse)), nil
}

// GetPeople lists everybody who can sign in.
func (h *handlers) GetPeople(ctx context.Context, _ contract.GetPeopleRequestObject) (contract.GetPeopleResponseObject, error) {
	people, err := h.people(ctx)
	return contract.GetPeople200JSONResponse(people), err
}

// AddPerson adds somebody who can sign in.
func (h *handlers) AddPerson(ctx context.Context, r contract.AddPersonRequestObject) (contract.AddPersonResponseObject, error) {
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return nil, err
	}
	var n numbers
	entry := jobs.PersonEntry{
		Login:     r.Body.Login,
		Name:      r.Body.Name,
		Password:  r.Body.Password,
		Comma:     r.Body.Comma,
		Authority: n.amount(r.Body.Authority, "authority", "The authority", setting.Company.Currency),
		Roles:     each(r.Body.Roles, func(r contract.Role) string { return string(r) }),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	added, err := h.app.AddPerson(ctx, command(ctx, r.Params.Key, struct{ Login, Name string }{r.Body.Login, r.Body.Name}), entry)
	return contract.AddPerson200JSONResponse{Number: added.Login}, err
}
