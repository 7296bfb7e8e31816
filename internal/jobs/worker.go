package jobs

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

const (
	patience   = 1500 * time.Millisecond // how long a command waits for what it woke
	tries      = 3
	sweepEvery = time.Hour
)

func parseStamp(at string) (time.Time, error) { return time.Parse("2006-01-02T15:04:05.000Z", at) }

// nudge tells the worker that something woke, and gives it a moment, so that
// whoever looks next sees what has moved. Without a worker nothing is waited for.
func (a *App) nudge(ctx context.Context) {
	if !a.worker.Load() {
		return
	}
	ring(a.woken)
	deadline, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	for {
		left, err := read(deadline, a, func(r reading) (int64, error) { return r.CountWakes(r.instant()) })
		if err != nil || left == 0 {
			return
		}
		select {
		case <-time.After(4 * time.Millisecond):
		case <-deadline.Done():
			return
		}
	}
}

// ring tells a worker that there is something to do, and does not wait for it.
func ring(bell chan<- struct{}) {
	select {
	case bell <- struct{}{}:
	default:
	}
}

// Work matches woken invoices again until the context ends: at once after each
// command that wakes some, at start for what an earlier run left, and by a sweep over
// all open invoices every hour. Mails are handed over beside that.
func (a *App) Work(ctx context.Context) {
	var mail sync.WaitGroup
	mail.Go(func() { a.carryMail(ctx) })
	mail.Go(func() { a.carryHead(ctx) })
	defer mail.Wait()
	sweep := time.NewTicker(sweepEvery)
	defer sweep.Stop()
	retry := time.NewTicker(5 * time.Second)
	defer retry.Stop()
	for {
		if err := a.Drain(ctx); err != nil && ctx.Err() == nil {
			a.log.Error("matching again failed", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-a.woken:
		case <-retry.C:
		case <-sweep.C:
			if err := a.WakeAll(ctx, Command{Actor: Lagoon, Cause: "hourly sweep"}); err != nil && ctx.Err() == nil {
				a.log.Error("sweep failed", "error", err)
			}
		}
	}
}

// carryMail hands mails over until the context ends, in a loop of its own: however long a
// mail server takes, no invoice waits for it.
func (a *App) carryMail(ctx context.Context) {
	retry := time.NewTicker(5 * time.Second)
	defer retry.Stop()
	for {
		if err := a.HandOverMail(ctx); err != nil && ctx.Err() == nil {
			a.log.Error("handing mail over failed", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-a.posted:
		case <-retry.C:
		}
	}
}

// StartWorker runs Work in the background; the channel closes when it has ended with
// the context.
func (a *App) StartWorker(ctx context.Context) <-chan struct{} {
	a.worker.Store(true)
	done := make(chan struct{})
	go func() {
		defer close(done)
		a.Work(ctx)
	}()
	return done
}

// WakeAll notes every open invoice to be matched again.
func (a *App) WakeAll(ctx context.Context, c Command) error {
	_, err := perform(ctx, a, MatchAgain, c, func(w *work) (int, error) {
		all, err := w.Unsettled()
		if err != nil {
			return 0, err
		}
		return len(all), w.wakeEach(all, w.cause)
	})
	return err
}

// Drain matches every woken invoice once, each in its own transaction that also
// removes the note, until none is left.
func (a *App) Drain(ctx context.Context) error {
	for {
		due, err := read(ctx, a, func(r reading) ([]store.Wake, error) { return r.DueWakes(r.instant()) })
		if err != nil || len(due) == 0 {
			return err
		}
		for _, wake := range due {
			if err := a.matchWoken(ctx, wake); err != nil {
				if err := a.postpone(ctx, wake, err); err != nil {
					return err
				}
			}
		}
	}
}

func (a *App) matchWoken(ctx context.Context, wake store.Wake) error {
	_, err := perform(ctx, a, MatchAgain, Command{Actor: Lagoon, Cause: wake.Cause}, func(w *work) (string, error) {
		if err := w.DropWake(wake.Invoice); err != nil {
			return "", err
		}
		state, err := w.matchAgain(wake.Invoice, wake.Cause)
		w.wakes = 0 // the round that is running takes up what this one wakes
		return string(state), err
	})
	return err
}

// postpone backs off from a failing match; after three tries it becomes a visible hold.
func (a *App) postpone(ctx context.Context, wake store.Wake, trouble error) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	a.log.Error("matching again failed", "invoice", wake.Invoice, "try", wake.Tries+1, "error", trouble)
	_, err := perform(ctx, a, MatchAgain, Command{Actor: Lagoon, Cause: wake.Cause}, func(w *work) (int, error) {
		if wake.Tries+1 < tries {
			wait := time.Duration(wake.Tries+1) * 5 * time.Second
			return 0, w.DelayWake(wake.Invoice, stamp(w.at.Add(wait)), trouble.Error())
		}
		if err := w.DropWake(wake.Invoice); err != nil {
			return 0, err
		}
		return 0, w.stuck(wake.Invoice, trouble)
	})
	return err
}

// stuck makes an invoice that cannot be matched a visible hold.
func (w *work) stuck(invoice int64, trouble error) error {
	s, err := w.InvoiceState(invoice)
	if err != nil {
		return err
	}
	inv, err := w.Invoice(s.Revision)
	if err != nil {
		return err
	}
	f := finding.Finding{Kind: finding.MatchFailed, Verdict: finding.Outside, Currency: inv.Currency, Text: trouble.Error()}
	run, err := w.AddMatchRun(invoice, s.Revision, store.MatchRun{At: w.instant(), Cause: w.cause, Verdict: finding.Outside, Findings: []finding.Finding{f}})
	if err != nil {
		return err
	}
	s.State, s.MatchRun, s.Since, s.CheckedAt, s.Turn, s.Summary = trade.Held, run, w.instant(), w.instant(), "clerk", "matching failed"
	return errors.Join(w.SaveInvoiceState(s), w.record("invoice", inv.Number, nil, fmt.Sprintf("matching failed: %v", trouble)))
}
