package web

// This file signs people in and out, and says who is signed in.

import (
	"context"
	"crypto/subtle"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

func (h *handlers) session(ctx context.Context, actor *act.Actor) (contract.Session, error) {
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return contract.Session{}, err
	}
	s := contract.Session{
		May:          []string{},
		FilesAtOnce:  invoices.ImportBatch,
		OrdersAtOnce: views.OrdersAtOnce,
		Configured:   setting.Configured,
		Demo:         h.demo != "",
		Company:      setting.Company.Name,
		Currency:     string(setting.Company.Currency),
		Today:        string(setting.Today),
		BankDay:      string(setting.Today.BankDay()),
	}
	if actor != nil {
		s.Person = &contract.Person{
			Login:     actor.Login,
			Name:      actor.Name,
			Roles:     rolesOf(actor.Roles),
			Authority: actor.Authority.Text(setting.Company.Currency),
			Comma:     actor.Printer.Comma,
			OneTime:   some(actor.OneTime),
		}
		for _, other := range actor.InPlaceOf { // what they may do is open to their substitute
			for _, role := range rolesOf(other.Roles) {
				if !slices.Contains(s.Person.Roles, role) {
					s.Person.Roles = append(s.Person.Roles, role)
				}
			}
		}
		s.May = jobsOf(actor.Jobs())
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
	all, err := views.People(ctx, h.app)
	sees := actorOf(ctx).May(act.SavePersonMail)
	return each(all.People, func(p store.Person) contract.Person {
		person := personOf(p, all.Company)
		if sees {
			person.Mail = some(p.Mail)
		}
		return person
	}), err
}

// GetSession tells who is signed in, and what everybody may know.
func (h *handlers) GetSession(
	ctx context.Context,
	_ contract.GetSessionRequestObject,
) (contract.GetSessionResponseObject, error) {
	var signed *act.Actor
	if actor := actorOf(ctx); actor.ID > 0 {
		signed = &actor
	}
	s, err := h.session(ctx, signed)
	return contract.GetSession200JSONResponse(s), err
}

// SignIn begins a session under a new token.
func (h *handlers) SignIn(ctx context.Context, r contract.SignInRequestObject) (contract.SignInResponseObject, error) {
	actor, err := h.knock(ctx, r.Body.Login, r.Body.Password)
	if err != nil {
		return nil, err
	}
	s, err := h.session(ctx, &actor)
	return contract.SignIn200JSONResponse(s), err
}

// knock tries a name and a password, and lets their person in. What became of it is
// recorded; a name that nobody has is not, since it may be a password typed too early.
func (h *handlers) knock(ctx context.Context, login, password string) (act.Actor, error) {
	t := try{login: strings.ToLower(strings.TrimSpace(login)), address: from(ctx)}
	c, _ := ctx.(*gin.Context)
	if c != nil {
		t.browser = h.browsers.known(c.Request, t.login)
	}
	leave, err := h.door.enter(t)
	if err != nil {
		h.log.Warn("sign-in refused", "request", idOf(ctx), "login", t.login, "address", t.address)
		return act.Actor{}, err
	}
	actor, err := people.SignIn(ctx, h.app, login, password)
	leave()
	if err != nil {
		h.log.Warn("sign-in failed", "request", idOf(ctx), "login", t.login, "address", t.address)
		if who, unknown := h.app.ActorByLogin(ctx, t.login); unknown == nil {
			h.note(ctx, act.Actor{ID: -1, Login: who.Login, Name: "Nobody"}, act.SignInRefused, who.Login)
		}
		return act.Actor{}, err
	}
	h.door.passed(t)
	if err := h.begin(ctx, actor); err != nil {
		return act.Actor{}, err
	}
	if c != nil {
		if err := h.browsers.remember(c, actor.Login); err != nil {
			h.log.Warn("browser cannot be remembered", "request", idOf(ctx), "error", err)
		}
	}
	h.note(ctx, actor, act.SignedIn, actor.Login)
	return actor, nil
}

// note records what somebody did at the door. Where that cannot be, the log tells it:
// who is to put a full disk right must be able to come in.
func (h *handlers) note(ctx context.Context, actor act.Actor, what act.Job, login string) {
	if err := h.app.Note(ctx, act.Command{Actor: actor, Address: from(ctx)}, what, "person", login, nil); err != nil {
		h.log.Error("not recorded", "request", idOf(ctx), "what", what, "login", login, "error", err)
	}
}

// SignOut ends the session.
func (h *handlers) SignOut(
	ctx context.Context,
	_ contract.SignOutRequestObject,
) (contract.SignOutResponseObject, error) {
	if actor := actorOf(ctx); actor.ID > 0 {
		h.note(ctx, actor, act.SignedOut, actor.Login)
	}
	return contract.SignOut204Response{}, h.end(ctx)
}

// FoundLagoon sets up a new Lagoon and signs its first administrator in. It takes the
// code that was printed where Lagoon was started, so that nobody is the first by chance.
func (h *handlers) FoundLagoon(
	ctx context.Context,
	r contract.FoundLagoonRequestObject,
) (contract.FoundLagoonResponseObject, error) {
	b := r.Body
	leave, err := h.door.enter(try{login: "first administrator", address: from(ctx)})
	if err != nil {
		return nil, err
	}
	leave()
	if h.foundingCode == "" ||
		subtle.ConstantTimeCompare([]byte(strings.ToLower(strings.TrimSpace(b.Code))), []byte(h.foundingCode)) != 1 {
		return nil, fault.New(
			fault.Invalid,
			"code",
			"This is not the code that Lagoon printed when it was started. It stands in the window or the log of its start.",
		)
	}
	h.door.passed(try{login: "first administrator", address: from(ctx)})
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
	if _, err := people.Found(ctx, h.app, people.Founding{Company: company, First: people.Entry{Login: b.Login, Name: b.Name, Password: b.Password}}); err != nil {
		return nil, err
	}
	actor, err := h.knock(ctx, b.Login, b.Password)
	if err != nil {
		return nil, err
	}
	s, err := h.session(ctx, &actor)
	return contract.FoundLagoon200JSONResponse(s), err
}

// GetPeople lists everybody who can sign in.
func (h *handlers) GetPeople(
	ctx context.Context,
	_ contract.GetPeopleRequestObject,
) (contract.GetPeopleResponseObject, error) {
	people, err := h.people(ctx)
	return contract.GetPeople200JSONResponse(people), err
}
