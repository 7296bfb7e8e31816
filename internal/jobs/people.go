package jobs

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/crypto/argon2"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// argon2id at the cost that RFC 9106 recommends second: 64 MiB, three passes.
const (
	hashPasses  = 3
	hashMemory  = 64 << 10
	hashThreads = 2
	hashSize    = 32
	saltSize    = 16
)

// hashing lets no more than two passwords be hashed at a time, so that sign-ins
// cannot take all the memory.
var hashing = make(chan struct{}, 2)

// HashPassword hashes a password for keeping, in the usual encoded form.
func HashPassword(password string) (string, error) {
	salt := make([]byte, saltSize)
	if _, err := rand.Read(salt); err != nil {
		return "", err
	}
	enc := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, hashMemory, hashPasses, hashThreads,
		enc.EncodeToString(salt), enc.EncodeToString(derive(password, salt, hashPasses, hashMemory, hashThreads))), nil
}

func derive(password string, salt []byte, passes, memory uint32, threads uint8) []byte {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, passes, memory, threads, hashSize)
}

func passwordFits(password, encoded string) bool {
	var version int
	var memory, passes uint32
	var threads uint8
	parts := strings.Split(encoded, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &threads); err != nil || version != argon2.Version {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	kept, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	return err1 == nil && err2 == nil && subtle.ConstantTimeCompare(derive(password, salt, passes, memory, threads), kept) == 1
}

var nobody, _ = HashPassword("nobody has this password")

// SignIn gives the person of a sign-in name and password. It says the same, and
// takes as long, whichever of the two is wrong.
func (a *App) SignIn(ctx context.Context, login, password string) (Actor, error) {
	person, err := read(ctx, a, func(r reading) (store.Person, error) {
		return r.PersonByLogin(strings.ToLower(strings.TrimSpace(login)))
	})
	if err != nil && !errors.Is(err, store.ErrNone) {
		return Actor{}, err
	}
	kept := person.Password
	if err != nil {
		kept = nobody
	}
	if !passwordFits(password, kept) || err != nil || !person.Active {
		return Actor{}, fault.New(fault.Invalid, "password", "Name and password do not go together. Check both and try again.")
	}
	return actor(person), nil
}

func actor(p store.Person) Actor {
	return Actor{ID: p.ID, Login: p.Login, Name: p.Name, Roles: p.Roles, Authority: p.Authority, Printer: say.Printer{Comma: p.Comma}}
}

// ActorByID is the person of a session, as they are now.
func (a *App) ActorByID(ctx context.Context, id int64) (Actor, error) {
	person, err := read(ctx, a, func(r reading) (store.Person, error) { return r.PersonByID(id) })
	if errors.Is(err, store.ErrNone) || (err == nil && !person.Active) {
		return Actor{}, fault.New(fault.SignIn, "", "Sign in to go on.")
	}
	return actor(person), err
}

// ActorByLogin finds a person by sign-in name, for wiring that acts in their name.
func (a *App) ActorByLogin(ctx context.Context, login string) (Actor, error) {
	person, err := read(ctx, a, func(r reading) (store.Person, error) { return r.PersonByLogin(login) })
	return actor(person), found(err, "There is nobody called %s.", login)
}

// PersonEntry is a person to add.
type PersonEntry struct {
	Login, Name, Password, About string
	Authority                    money.Amount
	Comma                        bool
	Roles                        []string
}

// AllRoles are the roles of rules §12.
var AllRoles = []string{"buyer", "receiver", "clerk", "approver", "treasurer", "administrator", "reader"}

// Added answers AddPerson.
type Added struct{ Login string }

// AddPerson adds somebody who can sign in.
func (a *App) AddPerson(ctx context.Context, c Command, entry PersonEntry) (Added, error) {
	if err := c.Actor.Allowed(AddPerson); err != nil {
		return Added{}, err
	}
	hash, err := checkPerson(&entry)
	if err != nil {
		return Added{}, err
	}
	return perform(ctx, a, AddPerson, c, func(w *work) (Added, error) { return w.addPerson(entry, hash) })
}

func checkPerson(entry *PersonEntry) (string, error) {
	entry.Login, entry.Name = strings.ToLower(strings.TrimSpace(entry.Login)), strings.TrimSpace(entry.Name)
	var faults fault.Faults
	if entry.Login == "" || strings.ContainsAny(entry.Login, " \t") {
		faults = append(faults, fault.New(fault.Invalid, "login", "Enter a sign-in name without spaces."))
	}
	if entry.Name == "" {
		faults = append(faults, fault.New(fault.Invalid, "name", "Enter the person's name."))
	}
	if len([]rune(entry.Password)) < 10 {
		faults = append(faults, fault.New(fault.Invalid, "password", "A password needs at least ten characters."))
	}
	if len(entry.Roles) == 0 || slices.ContainsFunc(entry.Roles, func(r string) bool { return !slices.Contains(AllRoles, r) }) {
		faults = append(faults, fault.New(fault.Invalid, "roles", "Choose at least one role."))
	}
	if entry.Authority < 0 {
		faults = append(faults, fault.New(fault.Invalid, "authority", "An authority cannot be below zero."))
	}
	if err := faults.OrNil(); err != nil {
		return "", err
	}
	return HashPassword(entry.Password)
}

func (w *work) addPerson(entry PersonEntry, hash string) (Added, error) {
	if _, err := w.PersonByLogin(entry.Login); err == nil {
		return Added{}, fault.New(fault.Duplicate, "login", "The sign-in name %s is taken.", entry.Login)
	} else if !errors.Is(err, store.ErrNone) {
		return Added{}, err
	}
	slices.Sort(entry.Roles)
	_, err := w.Tx.AddPerson(store.Person{
		Login:     entry.Login,
		Name:      entry.Name,
		Password:  hash,
		About:     entry.About,
		Authority: entry.Authority,
		Comma:     entry.Comma,
		Roles:     slices.Compact(entry.Roles),
	})
	entry.Password = ""
	return Added{entry.Login}, errors.Join(err, w.recordAs("person", entry.Login, nil, entry))
}

// Founding sets up a new, empty Lagoon: the company and its first administrator.
type Founding struct {
	Company store.Company
	First   PersonEntry
}

// Found sets up an empty Lagoon. It is refused as soon as anybody is known.
func (a *App) Found(ctx context.Context, f Founding) (Added, error) {
	f.First.Roles = []string{"administrator"}
	hash, err := checkPerson(&f.First)
	if err != nil {
		return Added{}, err
	}
	var faults fault.Faults
	if strings.TrimSpace(f.Company.Name) == "" {
		faults = append(faults, fault.New(fault.Invalid, "company", "Enter the company's name."))
	}
	if !f.Company.Currency.Known() {
		faults = append(faults, fault.New(fault.Invalid, "currency", "Enter a currency of ISO 4217, such as EUR."))
	}
	if f.Company.IBAN = trade.PlainIBAN(f.Company.IBAN); f.Company.IBAN != "" && !trade.ValidIBAN(f.Company.IBAN) {
		faults = append(faults, fault.New(fault.Invalid, "iban", "The account number (IBAN) is not valid: its check digits do not fit."))
	}
	if err := faults.OrNil(); err != nil {
		return Added{}, err
	}
	installer := Command{Actor: Actor{ID: -1, Name: "Installation", Roles: []string{"administrator"}}}
	return perform(ctx, a, SetUp, installer, func(w *work) (Added, error) {
		if _, err := w.Company(); err == nil {
			return Added{}, fault.New(fault.Forbidden, "", "Lagoon is set up already. Sign in.")
		} else if !errors.Is(err, store.ErrNone) {
			return Added{}, err
		}
		if err := errors.Join(w.PutCompany(f.Company), w.recordAs("company", f.Company.Name, nil, f.Company)); err != nil {
			return Added{}, err
		}
		return w.addPerson(f.First, hash)
	})
}

// ClosePeriod closes a month of the books: nothing is posted into it any more.
func (a *App) ClosePeriod(ctx context.Context, c Command, month string) error {
	_, err := perform(ctx, a, ClosePeriod, c, func(w *work) (string, error) {
		if _, err := day.Parse(month + "-01"); err != nil {
			return "", fault.New(fault.Invalid, "month", "A period is a month, such as 2026-10.")
		}
		if closed, err := w.PeriodClosed(month); err != nil || closed {
			return month, errors.Join(err, fault.New(fault.Duplicate, "month", "The period %s is closed already.", month))
		}
		return month, errors.Join(w.Tx.ClosePeriod(month, w.instant()), w.recordAs("period", month, nil, month))
	})
	return err
}

// Masters writes master data in one transaction, with what it was in the record.
func (a *App) Masters(ctx context.Context, c Command, what string, write func(*store.Tx) error) error {
	_, err := perform(ctx, a, SetUp, c, func(w *work) (string, error) {
		return what, errors.Join(write(w.Tx), w.recordAs("masters", what, nil, what))
	})
	return err
}
