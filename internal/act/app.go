// Package act is how anything is done in Lagoon: who acts, what they may do, and the one
// transaction in which a job reads facts from the store, asks the core, and writes document,
// ledger entry, state and audit record together. What the jobs of several stages need to
// read or write stands here as well.
package act

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"time"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/store"
)

// Bank takes payment files and answers them. Submitting the same message twice does
// it once.
type Bank interface {
	Submit(ctx context.Context, file []byte) error
	Answers(ctx context.Context) ([][]byte, error)
}

// App runs jobs on one store.
type App struct {
	Store           *store.Store
	Bank            Bank
	Outbox          Outbox
	Kept            bool
	PublicPasswords bool
	Now             func() time.Time
	headOut         func(row int64, hash string) error
	words           Words
	Log             *slog.Logger
	Woken           Bell        // rung when an invoice is to be matched again
	Posted          Bell        // rung when a mail waits
	Worker          atomic.Bool // somebody hears the bells

	listeners listeners
}

// Options are what an App is wired with.
type Options struct {
	Bank   Bank
	Outbox Outbox
	Kept   bool // mails are only kept: the outbox hands them to nobody
	Now    func() time.Time
	Log    *slog.Logger
	// HeadOut keeps the head of the record outside the data; may be nil.
	HeadOut func(row int64, hash string) error
	Words   Words // of PDFs; nil: they are not read
	// PublicPasswords tells that everybody may know them, as in a demo: nothing is won by making them slow to try.
	PublicPasswords bool
}

// New makes an App.
func New(s *store.Store, o Options) *App {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	return &App{
		Store:           s,
		Bank:            o.Bank,
		Outbox:          o.Outbox,
		Kept:            o.Kept,
		Now:             o.Now,
		Log:             o.Log,
		headOut:         o.HeadOut,
		words:           o.Words,
		PublicPasswords: o.PublicPasswords,
		Woken:           make(Bell, 1),
		Posted:          make(Bell, 1),
	}
}

// Command carries what every job needs besides its own entry. Key makes it done
// once however often it is sent; Body is what it was sent with, to tell a repeated
// command from another under the same key.
type Command struct {
	Actor Actor
	Key   string
	Body  []byte
	// Address is where the command came from: of the network, or "command line".
	Address string
	Cause   string // why Lagoon acts, where no person does
}

// reading is one unchanging view of the data with what jobs and views both need.
type Reading struct {
	*store.Tx
	Ours store.Company
	Zone *time.Location
	At   time.Time
}

// Reading begins to read with a transaction that is open.
func (a *App) Reading(tx *store.Tx) (Reading, error) {
	r := Reading{Tx: tx, At: a.Now(), Zone: time.UTC}
	company, err := tx.Company()
	if errors.Is(err, store.ErrNone) {
		return r, nil // before the first administrator has set Lagoon up
	}
	if err != nil {
		return r, err
	}
	r.Ours = company
	r.Zone, err = time.LoadLocation(company.Zone)
	return r, err
}

// Today is the civil date in the company's zone.
func (r Reading) Today() day.Day { return day.Of(r.At, r.Zone) }

// Instant is now as it is stored.
func (r Reading) Instant() string { return Stamp(r.At) }

// Stamp is an instant as it is stored.
func Stamp(t time.Time) string { return t.UTC().Format("2006-01-02T15:04:05.000Z") }

// RateOn is the company currency for one unit of a currency on a day.
func (r Reading) RateOn(currency money.Currency, on day.Day) (money.Decimal, error) {
	if currency == r.Ours.Currency {
		return money.Int(1), nil
	}
	rate, err := r.Rate(currency, on)
	if errors.Is(err, store.ErrNone) {
		return 0, fault.New(fault.Refused, "currency", "No exchange rate of %s is known on or before %s.", currency, on)
	}
	return rate, err
}

// Ready tells whether the data can be read and the worker works, for whoever watches the
// process.
func (a *App) Ready(ctx context.Context) error {
	if !a.Worker.Load() {
		return errors.New("the worker does not work")
	}
	_, err := Read(ctx, a, func(r Reading) (int64, error) { return r.CountWakes(r.Instant()) })
	return err
}

// Waiting is how many invoices wait to be matched again and mails to be handed over.
func (a *App) Waiting(ctx context.Context) (invoices, mails int64, err error) {
	_, err = Read(ctx, a, func(r Reading) (none struct{}, err error) {
		if invoices, err = r.CountWakes(r.Instant()); err == nil {
			mails, err = r.CountSendings()
		}
		return none, err
	})
	return invoices, mails, err
}

// Read runs do on one unchanging state of the data.
func Read[T any](ctx context.Context, a *App, do func(Reading) (T, error)) (T, error) {
	var result T
	err := a.Store.Read(ctx, func(tx *store.Tx) error {
		r, err := a.Reading(tx)
		if err != nil {
			return err
		}
		result, err = do(r)
		return err
	})
	return result, err
}

// Today is the civil date in the company's zone, for whoever asks without a job.
func (a *App) Today(ctx context.Context) (day.Day, error) {
	return Read(ctx, a, func(r Reading) (day.Day, error) { return r.Today(), nil })
}

// Found turns "no such row" into a refusal in words.
func Found(err error, sentence string, operands ...any) error {
	return FoundAt(err, "", sentence, operands...)
}

// FoundAt turns "no such row" into a refusal of a field in words.
func FoundAt(err error, field, sentence string, operands ...any) error {
	if errors.Is(err, store.ErrNone) {
		return fault.New(fault.NotFound, field, sentence, operands...)
	}
	return err
}

// Note writes into the record what somebody did or tried that changed no document.
func (a *App) Note(ctx context.Context, c Command, what Job, subject, number string, said any) error {
	return a.Store.Write(ctx, func(tx *store.Tx) error {
		r, err := a.Reading(tx)
		if err != nil {
			return err
		}
		w := &Work{Reading: r, Job: what, Actor: c.Actor, address: c.Address, Cause: c.Cause}
		return w.RecordAs(subject, number, nil, said)
	})
}

// Outbox hands a mail over to whoever carries it. The same id is the same mail.
type Outbox interface {
	Send(ctx context.Context, id, from, to string, message []byte) error
}

// Setting is what everybody who signs in is told.
type Setting struct {
	Company    store.Company
	Today      day.Day
	Configured bool
}

// Setting reads the company and today's date.
func (a *App) Setting(ctx context.Context) (Setting, error) {
	return Read(ctx, a, func(r Reading) (Setting, error) {
		return Setting{r.Ours, r.Today(), r.Ours.Name != ""}, nil
	})
}
