// Package jobs is what people and events do: one job is one transaction that reads
// facts from the store, asks the core, and writes document, ledger entry, state and
// audit record together.
package jobs

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"time"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/say"
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
	store   *store.Store
	bank    Bank
	outbox  Outbox
	kept    bool
	now     func() time.Time
	headOut func(row int64, hash string) error
	log     *slog.Logger
	woken   chan struct{}
	posted  chan struct{}
	worker  atomic.Bool

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
}

// New makes an App.
func New(s *store.Store, o Options) *App {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	return &App{store: s, bank: o.Bank, outbox: o.Outbox, kept: o.Kept, now: o.Now, log: o.Log, headOut: o.HeadOut, woken: make(chan struct{}, 1), posted: make(chan struct{}, 1)}
}

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
	acting    *Actor  // in whose place the command at hand is given, if it is in another's
}

// Lagoon is the actor of what Lagoon does by itself.
var Lagoon = Actor{Name: "Lagoon"}

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
type reading struct {
	*store.Tx
	company store.Company
	zone    *time.Location
	at      time.Time
}

func (a *App) reading(tx *store.Tx) (reading, error) {
	r := reading{Tx: tx, at: a.now(), zone: time.UTC}
	company, err := tx.Company()
	if errors.Is(err, store.ErrNone) {
		return r, nil // before the first administrator has set Lagoon up
	}
	if err != nil {
		return r, err
	}
	r.company = company
	r.zone, err = time.LoadLocation(company.Zone)
	return r, err
}

// today is the civil date in the company's zone.
func (r reading) today() day.Day { return day.Of(r.at, r.zone) }

// instant is now as it is stored.
func (r reading) instant() string { return stamp(r.at) }

func stamp(t time.Time) string { return t.UTC().Format("2006-01-02T15:04:05.000Z") }

// rate is the company currency for one unit of a currency on a day.
func (r reading) rate(currency money.Currency, on day.Day) (money.Decimal, error) {
	if currency == r.company.Currency {
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
	if !a.worker.Load() {
		return errors.New("the worker does not work")
	}
	_, err := read(ctx, a, func(r reading) (int64, error) { return r.CountWakes(r.instant()) })
	return err
}

// Waiting is how many invoices wait to be matched again and mails to be handed over.
func (a *App) Waiting(ctx context.Context) (invoices, mails int64, err error) {
	_, err = read(ctx, a, func(r reading) (none struct{}, err error) {
		if invoices, err = r.CountWakes(r.instant()); err == nil {
			mails, err = r.CountSendings()
		}
		return none, err
	})
	return invoices, mails, err
}

// read runs do on one unchanging state of the data.
func read[T any](ctx context.Context, a *App, do func(reading) (T, error)) (T, error) {
	var result T
	err := a.store.Read(ctx, func(tx *store.Tx) error {
		r, err := a.reading(tx)
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
	return read(ctx, a, func(r reading) (day.Day, error) { return r.today(), nil })
}

// found turns "no such row" into a refusal in words.
func found(err error, sentence string, operands ...any) error {
	if errors.Is(err, store.ErrNone) {
		return fault.New(fault.NotFound, "", sentence, operands...)
	}
	return err
}
