package house

// This file moves what waits, beside everything that people do.

import (
	"context"
	"sync"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
)

// sweepEvery is how often all open invoices are looked at again, whatever woke.
const sweepEvery = time.Hour

// Work matches woken invoices again until the context ends: at once after each
// command that wakes some, at start for what an earlier run left, and by a sweep over
// all open invoices every hour. Mails are handed over beside that.
func Work(ctx context.Context, a *act.App) {
	var mail sync.WaitGroup
	mail.Go(func() { carryMail(ctx, a) })
	mail.Go(func() { a.CarryHead(ctx) })
	defer mail.Wait()
	sweep := time.NewTicker(sweepEvery)
	defer sweep.Stop()
	retry := time.NewTicker(5 * time.Second)
	defer retry.Stop()
	if err := invoices.SeeUnused(ctx, a); err != nil && ctx.Err() == nil {
		a.Log.Error("looking at money ahead failed", "error", err)
	}
	for {
		if err := holds.ClearEnded(ctx, a); err != nil && ctx.Err() == nil {
			a.Log.Error("taking off holds whose cause has gone failed", "error", err)
		}
		if err := invoices.Drain(ctx, a); err != nil && ctx.Err() == nil {
			a.Log.Error("matching again failed", "error", err)
		}
		if err := invoices.SelfBillPlanned(ctx, a); err != nil && ctx.Err() == nil {
			a.Log.Error("writing invoices that are planned failed", "error", err)
		}
		if err := payments.ReleaseClean(ctx, a); err != nil && ctx.Err() == nil {
			a.Log.Error("releasing clean invoices failed", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-a.Woken:
		case <-retry.C:
		case <-sweep.C:
			if err := invoices.WakeAll(ctx, a, act.Command{Actor: act.Lagoon, Cause: "hourly sweep"}); err != nil &&
				ctx.Err() == nil {
				a.Log.Error("sweep failed", "error", err)
			}
		}
	}
}

// carryMail hands mails over until the context ends, in a loop of its own: however long a
// mail server takes, no invoice waits for it.
func carryMail(ctx context.Context, a *act.App) {
	retry := time.NewTicker(5 * time.Second)
	defer retry.Stop()
	for {
		if err := orders.HandOverMail(ctx, a); err != nil && ctx.Err() == nil {
			a.Log.Error("handing mail over failed", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-a.Posted:
		case <-retry.C:
		}
	}
}

// StartWorker runs Work in the background; the channel closes when it has ended with
// the context.
func StartWorker(ctx context.Context, a *act.App) <-chan struct{} {
	a.Worker.Store(true)
	done := make(chan struct{})
	go func() {
		defer close(done)
		Work(ctx, a)
	}()
	return done
}
