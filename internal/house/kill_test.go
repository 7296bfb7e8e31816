package house_test

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/eml"
	"lagoon/internal/house"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/prove"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// A process that is killed at any instant, under a mixed load, loses no acknowledged booking and does none twice;
// a payment run goes on where it stood, and what waited still moves on, and the books prove themselves.
func TestKilledAtAnyInstant(t *testing.T) {
	if folder := os.Getenv("LAGOON_VICTIM"); folder != "" {
		victim(t, folder)
		return
	}
	const perFolder = 25
	var folder string
	for round := range housetest.Often(10, 500) {
		if round%perFolder == 0 {
			folder = t.TempDir()
			b := housetest.SetUpIn(t, folder)
			for range 12 {
				b.Order("BRACK", "1000", "1000")
			}
		}
		acknowledged := kill(t, folder, round)
		b := housetest.OpenIn(t, folder)
		for _, login := range []string{"clerk", "approver", "treasurer"} {
			b.Know(login)
		}
		proveSurvival(t, b, acknowledged)
		require.NoError(t, b.Store.Close())
	}
}

// kill starts a victim on the folder, kills it after a moment, and gives what it had
// acknowledged by then.
func kill(t *testing.T, folder string, round int) []string {
	t.Helper()
	cmd := exec.CommandContext(t.Context(), os.Args[0], "-test.run=^TestKilledAtAnyInstant$", "-test.count=1")
	cmd.Env = append(os.Environ(), "LAGOON_VICTIM="+folder, fmt.Sprintf("LAGOON_ROUND=%d", round))
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	lines := bufio.NewScanner(out)
	var acknowledged []string
	for lines.Scan() {
		switch line := lines.Text(); {
		case line == "ready":
			time.AfterFunc(time.Duration(rand.IntN(250))*time.Millisecond, func() { _ = cmd.Process.Kill() }) // it may have ended by itself
		case strings.HasPrefix(line, "done "):
			acknowledged = append(acknowledged, strings.TrimPrefix(line, "done "))
		}
	}
	require.EqualError(t, cmd.Wait(), "signal: killed")
	return acknowledged
}

// victim books deliveries and invoices, releases and pays, several at a time, and says each that is done.
func victim(t *testing.T, folder string) {
	b := housetest.OpenIn(t, folder)
	for _, login := range []string{"receiver", "clerk", "approver", "treasurer"} {
		b.Know(login)
	}
	house.StartWorker(b.Ctx, b.App, house.UsualSweep)
	var printing sync.Mutex
	say := func(line string) {
		printing.Lock()
		defer printing.Unlock()
		_, _ = io.WriteString(os.Stdout, line+"\n") // the one who listens counts what arrives
	}
	say("ready")
	round := os.Getenv("LAGOON_ROUND")
	each := func(do func(n int) (string, error)) {
		for n := 0; ; n++ {
			done, err := do(n)
			var no *fault.Fault
			if err == nil && done != "" {
				say("done " + done)
			} else if err != nil && !errors.As(err, &no) {
				panic(err)
			}
		}
	}
	order := func() int64 { return 4001 + rand.Int64N(12) }
	quantity := func() string { return fmt.Sprint(1 + rand.IntN(9)) }
	go each(func(n int) (string, error) {
		key := fmt.Sprintf("delivery DN-%s-%d", round, n)
		_, err := receiving.BookDelivery(
			b.Ctx,
			b.App,
			act.Command{Actor: b.Actors["receiver"], Key: key},
			housetest.Count(order(), key[9:], quantity(), quantity()),
		)
		return key, err
	})
	go each(func(n int) (string, error) {
		key := fmt.Sprintf("invoice %s-%08d", round, n*15485863%100_000_000)
		_, err := invoices.Key(b.Ctx, b.App, act.Command{Actor: b.Actors["clerk"], Key: key}, b.Bill("BRACK", order(), key[8:], quantity(), "12"))
		return key, err
	})
	go each(func(n int) (string, error) { // as a mailbox gives them, some twice
		n = max(0, n-rand.IntN(2))
		id := fmt.Sprintf("%s-%d@x", round, n)
		invoice := housetest.EInvoice(4001+int64(n%12), "M"+strings.TrimSuffix(id, "@x"), 1+n%9)
		raw, err := eml.Write(eml.Message{ID: strings.TrimSuffix(id, "@x"), From: "a@x", To: "b@x", Subject: id, Files: []eml.File{{Name: "i.xml", MediaType: "text/xml", Content: invoice}}})
		if err != nil {
			return "", err
		}
		_, err = intake.TakeMail(b.Ctx, b.App, act.Command{Actor: act.Lagoon}, store.MailByIMAP, raw, invoices.Arrive)
		return "mail " + id, err
	})
	each(func(int) (string, error) {
		time.Sleep(5 * time.Millisecond)
		if rand.IntN(2) == 0 {
			return "", payAnything(b, "ACSC")
		}
		return "", payByTheBank(b)
	})
}

// payByTheBank takes a run that is under way one step further: sent, and answered by the bank with a status and a statement;
// where none is, it makes one of what is verified.
func payByTheBank(b *housetest.Bench) error {
	view, err := views.Payments(b.Ctx, b.App)
	if err != nil {
		return err
	}
	for _, run := range view.Runs {
		switch run.State {
		case store.RunProposed:
			return housetest.Drop(payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), run.Number, 0))
		case store.RunApproved:
			return housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run.Number, 0))
		case store.RunSent:
			return housetest.Drop(payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer")))
		}
	}
	var numbers []int64
	for _, v := range view.Verified {
		numbers = append(numbers, v.Number)
	}
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), numbers)
	if err != nil {
		return err
	}
	entry := payments.RunEntry{DueBy: b.Today(), PayOn: b.Today()}
	for _, n := range released.Released {
		entry.Items = append(entry.Items, payments.RunItem{Invoice: n})
	}
	return housetest.Drop(payments.MakeRun(b.Ctx, b.App, b.As("clerk"), entry))
}

// resume takes every run that is under way to its end, and finds none that the bank was given twice.
func resume(t *testing.T, b *housetest.Bench) {
	t.Helper()
	under := func() (n int) {
		view, err := views.Payments(b.Ctx, b.App)
		require.NoError(t, err)
		for _, run := range view.Runs {
			if run.State == store.RunProposed || run.State == store.RunApproved || run.State == store.RunSent {
				n++
			}
		}
		return n
	}
	for steps := 0; under() > 0; steps++ {
		require.Less(t, steps, 200, "every run comes to its end")
		var no *fault.Fault
		if err := payByTheBank(b); err != nil {
			require.ErrorAs(t, err, &no)
			t.Log(steps, no)
		}
	}
	b.Proved()
}

func proveSurvival(t *testing.T, b *housetest.Bench, acknowledged []string) {
	t.Helper()
	b.Proved()
	times := map[string]int{}
	require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) error {
		for number := int64(1); ; number++ {
			mail, err := tx.MailByNumber(number)
			if errors.Is(err, store.ErrNone) {
				break
			}
			if err != nil {
				return err
			}
			parts, err := tx.MailParts(mail.ID)
			if err != nil {
				return err
			}
			require.NotZero(t, parts[0].Invoice, "a mail and its invoice, together or not at all: %s", parts[0].Said)
			times["mail "+mail.MessageID]++
		}
		for order := int64(1); order <= 12; order++ {
			deliveries, err := tx.Deliveries(order)
			if err != nil {
				return err
			}
			for _, d := range deliveries {
				times["delivery "+d.Note]++
			}
		}
		for before := int64(0); ; {
			invoices, err := tx.RecentInvoices(before, 500)
			if err != nil || len(invoices) == 0 {
				return err
			}
			for _, i := range invoices {
				times["invoice "+i.SupplierNumber]++
				before = i.Number
			}
		}
	}))
	for _, a := range acknowledged {
		require.Equal(t, 1, times[a], "acknowledged and kept once: %s", a)
	}
	for what, n := range times {
		require.Equal(t, 1, n, "done once: %s", what)
	}
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	resume(t, b)
	b.Proved() // also that no open invoice would be matched otherwise now
}

// A write-ahead log cut at any byte, as a failing disk or a crash may leave it, opens as some state between two
// commits, and the books prove themselves.
func TestALogCutAnywhereIsAPrefixOfTheCommits(t *testing.T) {
	folder := t.TempDir()
	b := housetest.SetUpIn(t, folder)
	_, err := b.ByHand().ExecContext(b.Ctx, `PRAGMA wal_checkpoint(TRUNCATE)`)
	require.NoError(t, err)
	// As long as it looks at the file as it was, the log is not taken into it. The test's own context ends before the
	// cleanups run, and would roll it back behind their backs.
	reader, err := b.ByHand().BeginTx(context.WithoutCancel(b.Ctx), nil)
	require.NoError(t, err)
	var rows int
	require.NoError(t, reader.QueryRowContext(b.Ctx, `SELECT count(*) FROM audit`).Scan(&rows))
	t.Cleanup(func() { require.NoError(t, reader.Rollback()) })
	heads := map[string]bool{}
	note := func() {
		v, err := prove.Books(b.Ctx, b.App)
		require.NoError(t, err)
		heads[v.Head] = true
	}
	note()
	for n := range 12 {
		order := b.Order("BRACK", "10", "5")
		note()
		b.Key(b.Bill("BRACK", order, fmt.Sprintf("W-%d", n*101), "10", "12"))
		note()
		_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, fmt.Sprintf("DN %d", n), "10", "5"))
		require.NoError(t, err)
		note()
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
		note()
	}
	data, err := os.ReadFile(filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	log, err := os.ReadFile(filepath.Join(folder, "lagoon.db-wal"))
	require.NoError(t, err)
	require.Greater(t, len(log), 200_000)
	seen := map[string]bool{}
	for range 200 {
		cut := t.TempDir()
		at := rand.IntN(len(log) + 1)
		require.NoError(t, os.WriteFile(filepath.Join(cut, "lagoon.db"), data, 0o600))
		require.NoError(t, os.WriteFile(filepath.Join(cut, "lagoon.db-wal"), log[:at], 0o600))
		s, err := store.OpenUnsynced(context.Background(), filepath.Join(cut, "lagoon.db"))
		require.NoError(t, err, "cut at %d", at)
		v, err := prove.Books(b.Ctx, act.New(s, act.Options{}))
		require.NoError(t, err, "cut at %d", at)
		require.Empty(t, v.Differences, "cut at %d", at)
		require.True(t, heads[v.Head], "cut at %d: a state that no commit left", at)
		seen[v.Head] = true
		require.NoError(t, s.Close())
	}
	require.Greater(t, len(seen), 30, "the cuts fall between many commits")
}
