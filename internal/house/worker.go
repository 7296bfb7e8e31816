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
	"lagoon/internal/lists"
)

// UsualSweep is how often all open invoices are looked at again, whatever woke, where nothing else is set.
const UsualSweep = time.Hour

// moves are what is looked at in every round, in this order.
var moves = []struct {
	name string
	do   func(context.Context, *act.App) error
}{
	{"taking off holds whose cause has gone", holds.ClearEnded},
	{"capturing batches", invoices.Batches},
	{"matching again", invoices.Drain},
	{"writing invoices that are planned", invoices.SelfBillPlanned},
	{"releasing clean invoices", payments.ReleaseClean},
	{"mailing lists", lists.MailKept},
}

// Work matches woken invoices again until the context ends: at once after each
// command that wakes some, at start for what an earlier run left, and by a sweep over
// all open invoices as often as is said. Mails are handed over beside that.
func Work(ctx context.Context, a *act.App, sweepEvery time.Duration) {
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
		for _, step := range moves {
			if err := step.do(ctx, a); err != nil && ctx.Err() == nil {
				a.Log.Error(step.name+" failed", "error", err)
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-a.Woken:
		case <-retry.C:
		case <-sweep.C:
			if err := invoices.WakeAll(ctx, a, act.Command{Actor: act.Lagoon, Cause: "sweep over all open invoices"}); err != nil &&
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
func StartWorker(ctx context.Context, a *act.App, sweepEvery time.Duration) <-chan struct{} {
	a.Worker.Store(true)
	done := make(chan struct{})
	go func() {
		defer close(done)
		Work(ctx, a, sweepEvery)
	}()
	return done
}
