package jobs

import (
	"context"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// What was woken before a crash is matched by the next process, once.
func TestWakingSurvivesARestart(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	waiting := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
	_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))
	require.NoError(t, err)
	require.Equal(t, trade.Waiting, b.state(waiting.Number).State, "no worker ran yet")
	next := New(b.store, Options{Now: func() time.Time { return b.now }})
	require.NoError(t, next.Drain(b.ctx))
	require.Equal(t, trade.Verified, b.state(waiting.Number).State)
	require.NoError(t, next.Drain(b.ctx))
	sheet, err := next.InvoiceSheet(b.ctx, waiting.Number, b.actors["clerk"])
	require.NoError(t, err)
	require.Len(t, sheet.Entries, 1)
	b.proved()
}

// A match that fails backs off, and after three tries becomes a hold that everybody sees.
func TestAFailingMatchBecomesAHold(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	waiting := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
	_, err := b.store.Exec(b.ctx, `CREATE TRIGGER broken BEFORE INSERT ON allocation BEGIN SELECT RAISE(ABORT, 'bad page'); END`)
	require.NoError(t, err)
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))
	require.NoError(t, err)
	for range tries {
		require.NoError(t, b.app.Drain(b.ctx))
		b.now = b.now.Add(time.Minute)
	}
	s := b.state(waiting.Number)
	require.Equal(t, trade.Held, s.State)
	require.Equal(t, "matching failed", s.Summary)
	_, err = b.store.Exec(b.ctx, `DROP TRIGGER broken`)
	require.NoError(t, err)
	require.NoError(t, b.app.WakeAll(b.ctx, b.as("clerk")))
	require.NoError(t, b.app.Drain(b.ctx))
	require.Equal(t, trade.Verified, b.state(waiting.Number).State, "a person can run it again")
	b.proved()
}

// With a worker a command's answer comes when what it woke has moved.
func TestTheWorkerMovesAtOnce(t *testing.T) {
	b := setUp(t)
	working, stop := context.WithCancel(b.ctx)
	done := b.app.StartWorker(working)
	defer func() { stop(); <-done }()
	order := b.order("BRACK", "10")
	waiting := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
	_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.state(waiting.Number).State)
}

// hanging is a mail server that takes a mail and never answers.
type hanging struct{ asked chan struct{} }

func (h hanging) Send(ctx context.Context, _, _, _ string, _ []byte) error {
	close(h.asked)
	<-ctx.Done()
	return ctx.Err()
}

// A mail server that does not answer holds no invoice up.
func TestNoInvoiceWaitsForTheMail(t *testing.T) {
	b := setUp(t)
	require.NoError(t, drop(b.app.SaveCompany(b.ctx, b.as("admin"), CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "orders@house.example"})))
	h := hanging{make(chan struct{})}
	b.app.outbox = h
	working, stop := context.WithCancel(b.ctx)
	done := b.app.StartWorker(working)
	defer func() { stop(); <-done }()
	order := b.order("BRACK", "10")
	waiting := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
	require.NoError(t, drop(b.app.SendOrder(b.ctx, b.as("buyer"), SendEntry{Order: order, Kind: store.OrderSending, Way: store.ByMail, To: "desk@brackwater.example", Subject: "Order", Text: "Please"})))
	<-h.asked
	_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.state(waiting.Number).State)
}

// A match that changes nothing keeps the last run and wakes nothing.
func TestAnEqualMatchKeepsTheLastRun(t *testing.T) {
	b := setUp(t)
	waiting := b.key(b.bill("BRACK", b.order("BRACK", "10"), "A-1", "10", "12"))
	before := b.state(waiting.Number)
	b.now = b.now.Add(time.Hour)
	require.NoError(t, b.app.WakeAll(b.ctx, b.as("clerk")))
	require.NoError(t, b.app.Drain(b.ctx))
	after := b.state(waiting.Number)
	require.Equal(t, before.MatchRun, after.MatchRun)
	require.Equal(t, before.Version, after.Version)
	require.Greater(t, after.CheckedAt, before.CheckedAt)
}

// Of two people who book the same delivery, settle the same finding or approve the same run at once, one wins and the
// other is told. `make slow` runs many more.
func TestRaces(t *testing.T) {
	b := setUp(t)
	race := func(do func(who int) error) (won int, told []error) {
		var wait sync.WaitGroup
		errs := make([]error, 2)
		for i := range errs {
			wait.Add(1)
			go func() {
				defer wait.Done()
				errs[i] = do(i)
			}()
		}
		wait.Wait()
		for _, err := range errs {
			if err == nil {
				won++
			} else {
				told = append(told, err)
			}
		}
		return won, told
	}
	for n := range often(20, 1000) {
		order := b.order("BRACK", "10")
		entry := count(order, fmt.Sprintf("DN %d", n), "10")
		won, told := race(func(int) error {
			_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
			return err
		})
		require.Equal(t, 1, won)
		require.True(t, fault.Is(told[0], fault.Duplicate) || fault.Is(told[0], fault.Refused), "%v", told[0])
		bill := b.key(b.bill("BRACK", order, fmt.Sprintf("R-%d", n), "10", fmt.Sprintf("13.%03d", n)))
		require.Equal(t, trade.Held, b.state(bill.Number).State)
		won, told = race(func(who int) error {
			_, err := b.app.AcceptFinding(b.ctx, b.as([]string{"approver", "approver too"}[who]), AcceptEntry{Invoice: bill.Number, Version: b.state(bill.Number).Version, Kind: finding.UnitPrice, Line: 1, Note: "agreed"})
			return err
		})
		require.Equal(t, 1, won)
		require.True(t, fault.Is(told[0], fault.Changed), "%v", told[0])
		run := b.pay(bill.Number)
		people := []string{"approver", "treasurer"}
		won, told = race(func(who int) error {
			_, err := b.app.ApproveRun(b.ctx, b.as(people[who]), run, 1)
			return err
		})
		require.Equal(t, 1, won)
		require.True(t, fault.Is(told[0], fault.Changed), "%v", told[0])
	}
	b.proved()
	view, err := b.app.PaymentsView(b.ctx)
	require.NoError(t, err)
	for _, r := range view.Runs {
		require.Equal(t, store.RunApproved, r.State)
	}
}

// Of two invoices that may be copies only the later is held, however often they are matched; it moves on when the first
// is refused.
func TestOnlyTheLaterOfTwoCopiesIsHeld(t *testing.T) {
	b := setUp(t)
	order, other := b.order("BRACK", "10"), b.order("BRACK", "10")
	first := b.key(b.bill("BRACK", order, "A-1007", "10", "12"))
	later := b.key(b.bill("BRACK", other, "A-1OO7", "10", "12"))
	stand := func(wanted, wantedLater trade.InvoiceState) {
		t.Helper()
		require.NoError(t, b.app.WakeAll(b.ctx, b.as("clerk")))
		require.NoError(t, b.app.Drain(b.ctx))
		require.Equal(t, wanted, b.state(first.Number).State)
		require.Equal(t, wantedLater, b.state(later.Number).State)
		b.proved()
	}
	stand(trade.Waiting, trade.Held)
	require.Equal(t, "second copy?", b.state(later.Number).Summary)
	require.NoError(t, drop(b.app.RefuseInvoice(b.ctx, b.as("clerk"), Ending{Invoice: first.Number, Reason: "r"})))
	require.NoError(t, b.app.Drain(b.ctx))
	require.Equal(t, trade.Waiting, b.state(later.Number).State, "woken without being asked")
	stand(trade.Refused, trade.Waiting)
}
