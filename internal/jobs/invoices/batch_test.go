package invoices_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
)

func batchRow(order int64, number, total string) trade.BatchRow {
	return trade.BatchRow{Order: order, Number: number, Date: "2026-11-22", Total: money.Entered(total)}
}

func keepBatch(b *housetest.Bench, e invoices.BatchEntry) invoices.BatchKept {
	b.T.Helper()
	kept, err := invoices.KeepBatch(b.Ctx, b.App, b.As("clerk"), e)
	require.NoError(b.T, err)
	return kept
}

func readBatch(b *housetest.Bench, number int64) invoices.BatchReport {
	b.T.Helper()
	report, err := invoices.ReadBatch(b.Ctx, b.App, b.Actors["clerk"], number)
	require.NoError(b.T, err)
	return report
}

func states(r invoices.BatchReport) (all []string) {
	for _, o := range r.Rows {
		all = append(all, fmt.Sprint(o.No, " ", o.State, o.Said))
	}
	return all
}

// A batch is kept as typed, tried without changing anything, held against what was added up, and captured in the name of who
// keyed it: nothing of it before its controls agree.
func TestABatchIsKeyedTriedAndCaptured(t *testing.T) {
	b := housetest.SetUp(t)
	full, part, early := b.Order("BRACK", "10"), b.Order("BRACK", "5", "3"), b.Order("BRACK", "2")
	b.Deliver(full, "DN 1", "10")
	b.Deliver(part, "DN 2", "5", "0")
	rows := []trade.BatchRow{
		batchRow(full, "K-1", "147.6"), batchRow(part, "K-2", "73.8"), batchRow(early, "K-3", "29.52"), batchRow(full, "K-4", "147.6"), {}, batchRow(part, "K-2", "44.28"), {},
	}
	entry := invoices.BatchEntry{Batch: trade.Batch{Rows: rows, Controls: trade.Controls{Count: "5", Total: "442.8"}}}
	kept := keepBatch(b, entry)
	require.Len(t, readBatch(b, kept.Number).Batch.Rows, 6, "what is blank at the end is none")

	tried, err := invoices.TryBatch(b.Ctx, b.App, b.As("clerk"), kept.Number)
	require.NoError(t, err)
	require.True(t, tried.Tried)
	require.Equal(t, []string{"1 verified", "2 verified", "3 waiting"}, states(tried)[:3])
	require.Contains(t, states(tried)[3], "Nothing of order 4001 is left to be invoiced")
	require.Contains(t, states(tried)[4], "6 ")
	require.Contains(t, tried.Rows[4].Said, "K-2")
	require.Empty(t, readBatch(b, kept.Number).Rows[0].Invoice, "nothing of it stands")
	_, err = invoices.TryBatch(b.Ctx, b.App, b.As("receiver"), kept.Number)
	housetest.Refused(t, err, fault.Forbidden, "clerk")
	b.Proved()

	run := func(login string, version int64) error {
		return housetest.Drop(invoices.RunBatch(b.Ctx, b.App, b.As(login), kept.Number, version))
	}
	housetest.Refused(t, run("both", kept.Version), fault.Forbidden, "only who keys a batch")
	housetest.Refused(t, run("clerk", kept.Version+1), fault.Changed, "")
	entry.Number, entry.Version, entry.Controls = kept.Number, kept.Version, trade.Controls{}
	kept = keepBatch(b, entry)
	housetest.Refused(t, run("clerk", kept.Version), fault.Invalid, "how many invoices")
	entry.Version, entry.Controls = kept.Version, trade.Controls{Count: "5", Quantity: "32", Total: "500"}
	kept = keepBatch(b, entry)
	housetest.Refused(t, run("clerk", kept.Version), fault.Refused, "It comes to 442.8 as the total, and 500 was added up")
	require.NoError(t, invoices.Batches(b.Ctx, b.App))
	require.Empty(t, readBatch(b, kept.Number).Rows[0].Invoice, "nothing is captured before they agree")

	entry.Version, entry.Controls = kept.Version, trade.Controls{Count: "5", Quantity: "32", Total: "442.8"}
	kept = keepBatch(b, entry)
	require.NoError(t, run("clerk", kept.Version), "twice 10 and 5 that are here, each row by itself, and 2 that are to come")
	housetest.Refused(t, run("clerk", kept.Version+1), fault.Refused, "being captured")
	require.NoError(t, invoices.Batches(b.Ctx, b.App))
	report := readBatch(b, kept.Number)
	require.Equal(t, store.BatchStopped, report.State)
	require.Equal(t, "2 invoices were refused; all others are captured.", report.Trouble)
	require.Equal(t, []string{"1 verified", "2 verified", "3 waiting"}, states(report)[:3])
	require.NotZero(t, report.Rows[0].Invoice)
	require.Contains(t, report.Rows[3].Said, "Nothing of order 4001")
	b.Proved()

	// What was refused is put right, and the run goes on where it stopped; what is captured stays.
	entry.Version, entry.Rows = report.Version, append([]trade.BatchRow{}, report.Batch.Rows...)
	entry.Rows[0].Number = "K-9"
	_, err = invoices.KeepBatch(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Refused, "Row 1 is captured")
	entry.Rows[0].Number = "K-1"
	entry.Rows = entry.Rows[:3]
	entry.Controls = trade.Controls{Count: "3"}
	kept = keepBatch(b, entry)
	require.NoError(t, run("clerk", kept.Version))
	require.NoError(t, invoices.Batches(b.Ctx, b.App))
	require.Equal(t, store.BatchDone, readBatch(b, kept.Number).State)
	require.NoError(t, invoices.Batches(b.Ctx, b.App), "and nothing is captured twice")
	housetest.Refused(t, run("clerk", kept.Version+2), fault.Refused, "captured")
	open, err := invoices.OpenBatches(b.Ctx, b.App)
	require.NoError(t, err)
	require.Empty(t, open)
	b.Proved()
}

// A run that is stopped between its steps leaves the rest for later; a crash does as well, as each step stands by itself.
func TestABatchIsStoppedAndGoneOnWith(t *testing.T) {
	b := housetest.SetUp(t)
	entry := invoices.BatchEntry{Batch: trade.Batch{Controls: trade.Controls{Count: "20"}}}
	for i := range 20 {
		order := b.Order("BRACK", "1")
		b.Deliver(order, fmt.Sprint("DN ", i), "1")
		entry.Rows = append(entry.Rows, batchRow(order, fmt.Sprintf("%d-77", i), "14.76"))
	}
	kept := keepBatch(b, entry)
	run := func() {
		require.NoError(t, housetest.Drop(invoices.RunBatch(b.Ctx, b.App, b.As("clerk"), kept.Number, readBatch(b, kept.Number).Version)))
	}
	captured := func() (n int) {
		for _, o := range readBatch(b, kept.Number).Rows {
			if o.Invoice != 0 {
				n++
			}
		}
		return n
	}
	run()
	require.NoError(t, invoices.Advance(b.Ctx, b.App, kept.Number))
	require.Equal(t, 8, captured())
	require.NoError(t, housetest.Drop(invoices.StopBatch(b.Ctx, b.App, b.As("clerk"), kept.Number)))
	require.NoError(t, invoices.Batches(b.Ctx, b.App))
	require.Equal(t, 8, captured(), "it is stopped")
	housetest.Refused(t, housetest.Drop(invoices.StopBatch(b.Ctx, b.App, b.As("clerk"), kept.Number)), fault.Refused, "stopped")
	housetest.Refused(t, housetest.Drop(invoices.DropBatch(b.Ctx, b.App, b.As("clerk"), kept.Number, readBatch(b, kept.Number).Version)), fault.Refused, "8 of its invoices are captured")
	run()
	require.NoError(t, invoices.Advance(b.Ctx, b.App, kept.Number))
	require.Equal(t, 16, captured())

	// Who keyed it may key no more: it stops and says so, and nothing is captured in their name.
	require.NoError(t, housetest.Drop(people.Change(b.Ctx, b.App, b.As("admin"), people.RightsEntry{Login: "clerk", Roles: []string{"reader"}, Reason: "left"})))
	require.NoError(t, invoices.Batches(b.Ctx, b.App))
	report := readBatch(b, kept.Number)
	require.Equal(t, store.BatchStopped, report.State)
	require.Contains(t, report.Trouble, "may not do this")
	require.Equal(t, 16, captured())
	b.Proved()
}

// A quantity may be typed where the order has one line to invoice; a batch of which nothing is captured is given up.
func TestTheRowsOfABatch(t *testing.T) {
	b := housetest.SetUp(t)
	one, two := b.Order("BRACK", "10"), b.Order("BRACK", "5", "3")
	b.Deliver(one, "DN 1", "6")
	b.Deliver(one, "DN 2", "4")
	b.Deliver(two, "DN 3", "5", "3")
	row := func(order int64, note, quantity, total string) trade.BatchRow {
		r := batchRow(order, "N"+note+quantity, total)
		r.Note, r.Quantity = note, quantity
		return r
	}
	kept := keepBatch(b, invoices.BatchEntry{Batch: trade.Batch{Rows: []trade.BatchRow{
		row(one, "DN 2", "", "59.04"), row(one, "", "7", "103.32"), row(two, "", "4", "59.04"), row(two, "", "x", "1"), row(9999, "", "", "1"), {Number: "N", Total: "1"},
	}}})
	tried, err := invoices.TryBatch(b.Ctx, b.App, b.As("clerk"), kept.Number)
	require.NoError(t, err)
	require.Equal(t, "4", tried.Rows[0].Lines[0].Quantity.String(), "what came under the note")
	require.Equal(t, trade.Verified, tried.Rows[0].State)
	require.Equal(t, "7", tried.Rows[1].Lines[0].Quantity.String())
	require.NotEqual(t, trade.Verified, tried.Rows[1].State, "one more than is here: rows are tried each after the ones before")
	for i, says := range []string{"has 2 lines to invoice", "is no quantity", "no order 9999", "Enter the order"} {
		require.Contains(t, tried.Rows[i+2].Said, says)
	}
	housetest.Refused(t, housetest.Drop(invoices.DropBatch(b.Ctx, b.App, b.As("both"), kept.Number, kept.Version)), fault.Forbidden, "only who keys")
	require.NoError(t, housetest.Drop(invoices.DropBatch(b.Ctx, b.App, b.As("clerk"), kept.Number, kept.Version)))
	housetest.Refused(t, housetest.Drop(invoices.RunBatch(b.Ctx, b.App, b.As("clerk"), kept.Number, kept.Version+1)), fault.Refused, "given up")
	housetest.Refused(t, housetest.Drop(invoices.KeepBatch(b.Ctx, b.App, b.As("receiver"), invoices.BatchEntry{})), fault.Forbidden, "")
	many := make([]trade.BatchRow, 201)
	many[200].Order = 1
	housetest.Refused(t, housetest.Drop(invoices.KeepBatch(b.Ctx, b.App, b.As("clerk"), invoices.BatchEntry{Batch: trade.Batch{Rows: many}})), fault.Invalid, "at most 200")
	b.Proved()
}
