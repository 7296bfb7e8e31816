package house_test

import (
	"context"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/house"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// What was woken before a crash is matched by the next process, once.
func TestWakingSurvivesARestart(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	waiting := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))
	require.NoError(t, err)
	require.Equal(t, trade.Waiting, b.State(waiting.Number).State, "no worker ran yet")
	next := act.New(b.Store, act.Options{Now: func() time.Time { return b.Now }})
	require.NoError(t, invoices.Drain(b.Ctx, next))
	require.Equal(t, trade.Verified, b.State(waiting.Number).State)
	require.NoError(t, invoices.Drain(b.Ctx, next))
	sheet, err := views.Invoice(b.Ctx, next, waiting.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Len(t, sheet.Entries, 1)
	b.Proved()
}

// A match that fails backs off, and after three tries becomes a hold that everybody sees.
func TestAFailingMatchBecomesAHold(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	waiting := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	_, err := b.ByHand().ExecContext(b.Ctx, `CREATE TRIGGER broken BEFORE INSERT ON allocation BEGIN SELECT RAISE(ABORT, 'bad page'); END`)
	require.NoError(t, err)
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))
	require.NoError(t, err)
	for range 3 {
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
		b.Now = b.Now.Add(time.Minute)
	}
	s := b.State(waiting.Number)
	require.Equal(t, trade.Held, s.State)
	require.Equal(t, "matching failed", s.Summary)
	_, err = b.ByHand().ExecContext(b.Ctx, `DROP TRIGGER broken`)
	require.NoError(t, err)
	require.NoError(t, invoices.WakeAll(b.Ctx, b.App, b.As("clerk")))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(waiting.Number).State, "a person can run it again")
	b.Proved()
}

// With a worker a command's answer comes when what it woke has moved.
func TestTheWorkerMovesAtOnce(t *testing.T) {
	b := housetest.SetUp(t)
	working, stop := context.WithCancel(b.Ctx)
	done := house.StartWorker(working, b.App, house.UsualSweep)
	defer func() { stop(); <-done }()
	order := b.Order("BRACK", "10")
	waiting := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.State(waiting.Number).State)
}

// All open invoices are matched again as often as is set, whatever woke.
func TestOpenInvoicesAreSweptAsOftenAsIsSet(t *testing.T) {
	b := housetest.SetUp(t)
	waiting := b.Key(b.Bill("BRACK", b.Order("BRACK", "10"), "A-1", "10", "12"))
	before := b.State(waiting.Number).CheckedAt
	b.Later(1)
	working, stop := context.WithCancel(b.Ctx)
	done := house.StartWorker(working, b.App, 20*time.Millisecond)
	defer func() { stop(); <-done }()
	require.Eventually(t, func() bool { return b.State(waiting.Number).CheckedAt > before }, 20*time.Second, 20*time.Millisecond)
}

// hanging is a mail server that takes a mail and never answers.
type hanging struct{ Asked chan struct{} }

func (h hanging) Send(ctx context.Context, _, _, _ string, _ []byte) error {
	close(h.Asked)
	<-ctx.Done()
	return ctx.Err()
}

// A mail server that does not answer holds no invoice up.
func TestNoInvoiceWaitsForTheMail(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveCompany(
				b.Ctx,
				b.App,
				b.As("admin"),
				masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "orders@house.example"},
			),
		),
	)
	h := hanging{make(chan struct{})}
	b.App.Outbox = h
	working, stop := context.WithCancel(b.Ctx)
	done := house.StartWorker(working, b.App, house.UsualSweep)
	defer func() { stop(); <-done }()
	order := b.Order("BRACK", "10")
	waiting := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	require.NoError(
		t,
		housetest.Drop(
			orders.Send(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.SendEntry{Order: order, Kind: store.OrderSending, Way: store.ByMail, To: "desk@brackwater.example", Subject: "Order", Text: "Please"},
			),
		),
	)
	<-h.Asked
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.State(waiting.Number).State)
}

// A match that changes nothing keeps the last run and wakes nothing.
func TestAnEqualMatchKeepsTheLastRun(t *testing.T) {
	b := housetest.SetUp(t)
	waiting := b.Key(b.Bill("BRACK", b.Order("BRACK", "10"), "A-1", "10", "12"))
	before := b.State(waiting.Number)
	b.Now = b.Now.Add(time.Hour)
	require.NoError(t, invoices.WakeAll(b.Ctx, b.App, b.As("clerk")))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	after := b.State(waiting.Number)
	require.Equal(t, before.MatchRun, after.MatchRun)
	require.Equal(t, before.Version, after.Version)
	require.Greater(t, after.CheckedAt, before.CheckedAt)
}

// Of two people who book the same delivery, settle the same finding or approve the same run at once, one wins and the
// other is told. `make slow` runs many more.
func TestRaces(t *testing.T) {
	b := housetest.SetUp(t)
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
	for n := range housetest.Often(20, 1000) {
		order := b.Order("BRACK", "10")
		entry := housetest.Count(order, fmt.Sprintf("DN %d", n), "10")
		won, told := race(func(int) error {
			_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
			return err
		})
		require.Equal(t, 1, won)
		require.True(t, fault.Is(told[0], fault.Duplicate) || fault.Is(told[0], fault.Refused), "%v", told[0])
		bill := b.Key(b.Bill("BRACK", order, fmt.Sprintf("R-%d", n), "10", fmt.Sprintf("13.%03d", n)))
		require.Equal(t, trade.Held, b.State(bill.Number).State)
		won, told = race(func(who int) error {
			_, err := invoices.AcceptFinding(
				b.Ctx,
				b.App,
				b.As([]string{"approver", "approver too"}[who]),
				invoices.AcceptEntry{Invoice: bill.Number, Version: b.State(bill.Number).Version, Kind: finding.UnitPrice, Line: 1, Note: "agreed"},
			)
			return err
		})
		require.Equal(t, 1, won)
		require.True(t, fault.Is(told[0], fault.Changed), "%v", told[0])
		run := b.Pay(bill.Number)
		people := []string{"approver", "treasurer"}
		won, told = race(func(who int) error {
			_, err := payments.ApproveRun(b.Ctx, b.App, b.As(people[who]), run, 1)
			return err
		})
		require.Equal(t, 1, won)
		require.True(t, fault.Is(told[0], fault.Changed), "%v", told[0])
	}
	b.Proved()
	view, err := views.Payments(b.Ctx, b.App)
	require.NoError(t, err)
	for _, r := range view.Runs {
		require.Equal(t, store.RunApproved, r.State)
	}
}

// Of two invoices that may be copies only the later is held, however often they are matched; it moves on when the first
// is refused.
func TestOnlyTheLaterOfTwoCopiesIsHeld(t *testing.T) {
	b := housetest.SetUp(t)
	order, other := b.Order("BRACK", "10"), b.Order("BRACK", "10")
	first := b.Key(b.Bill("BRACK", order, "A-1007", "10", "12"))
	later := b.Key(b.Bill("BRACK", other, "A-1OO7", "10", "12"))
	stand := func(wanted, wantedLater trade.InvoiceState) {
		t.Helper()
		require.NoError(t, invoices.WakeAll(b.Ctx, b.App, b.As("clerk")))
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
		require.Equal(t, wanted, b.State(first.Number).State)
		require.Equal(t, wantedLater, b.State(later.Number).State)
		b.Proved()
	}
	stand(trade.Waiting, trade.Held)
	require.Equal(t, "second copy?", b.State(later.Number).Summary)
	require.NoError(t, housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: first.Number, Reason: "r"}})))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Waiting, b.State(later.Number).State, "woken without being asked")
	stand(trade.Refused, trade.Waiting)
}
