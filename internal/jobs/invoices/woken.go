package invoices

import (
	"context"
	"errors"
	"fmt"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// tries is how often a match that fails is tried before somebody has to look.
const tries = 3

// WakeAll notes every open invoice to be matched again.
func WakeAll(ctx context.Context, a *act.App, c act.Command) error {
	_, err := act.Perform(ctx, a, act.MatchAgain, c, func(w *act.Work) (int, error) {
		all, err := w.Unsettled()
		if err != nil {
			return 0, err
		}
		return len(all), w.WakeEach(all, w.Cause)
	})
	return err
}

// Drain matches every woken invoice once, each in its own transaction that also
// removes the note, until none is left.
func Drain(ctx context.Context, a *act.App) error {
	for {
		due, err := act.Read(ctx, a, func(r act.Reading) ([]store.Wake, error) { return r.DueWakes(r.Instant()) })
		if err != nil || len(due) == 0 {
			return err
		}
		for _, wake := range due {
			if err := matchWoken(ctx, a, wake); err != nil {
				if err := postpone(ctx, a, wake, err); err != nil {
					return err
				}
			}
		}
	}
}

func matchWoken(ctx context.Context, a *act.App, wake store.Wake) error {
	_, err := act.Perform(
		ctx,
		a,
		act.MatchAgain,
		act.Command{Actor: act.Lagoon, Cause: wake.Cause},
		func(w *act.Work) (string, error) {
			if err := w.DropWake(wake.Invoice); err != nil {
				return "", err
			}
			state, err := matchAgain(w, wake.Invoice, wake.Cause)
			w.Wakes = 0 // the round that is running takes up what this one wakes
			return string(state), err
		},
	)
	return err
}

// postpone backs off from a failing match; after three tries it becomes a visible hold.
func postpone(ctx context.Context, a *act.App, wake store.Wake, trouble error) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	a.Log.Error("matching again failed", "invoice", wake.Invoice, "try", wake.Tries+1, "error", trouble)
	_, err := act.Perform(
		ctx,
		a,
		act.MatchAgain,
		act.Command{Actor: act.Lagoon, Cause: wake.Cause},
		func(w *act.Work) (int, error) {
			if wake.Tries+1 < tries {
				wait := time.Duration(wake.Tries+1) * 5 * time.Second
				return 0, w.DelayWake(wake.Invoice, act.Stamp(w.At.Add(wait)), trouble.Error())
			}
			if err := w.DropWake(wake.Invoice); err != nil {
				return 0, err
			}
			return 0, stuck(w, wake.Invoice, trouble)
		},
	)
	return err
}

// stuck makes an invoice that cannot be matched a visible hold.
func stuck(w *act.Work, invoice int64, trouble error) error {
	inv, s, err := w.Standing(invoice)
	if err != nil {
		return err
	}
	f := finding.Finding{
		Kind:     finding.MatchFailed,
		Verdict:  finding.Outside,
		Currency: inv.Currency,
		Text:     trouble.Error(),
	}
	run, err := w.AddMatchRun(
		invoice,
		s.Revision,
		store.MatchRun{At: w.Instant(), Cause: w.Cause, Verdict: finding.Outside, Findings: []finding.Finding{f}},
	)
	if err != nil {
		return err
	}
	s.State, s.MatchRun, s.Since, s.CheckedAt, s.Turn, s.Summary = trade.Held, run, w.Instant(), w.Instant(), "clerk", "matching failed"
	return errors.Join(
		w.SaveInvoiceState(s),
		w.Record("invoice", inv.Number, nil, fmt.Sprintf("matching failed: %v", trouble)),
	)
}
