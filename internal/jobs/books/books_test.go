package books_test

import (
	"encoding/csv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/books"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/prove"
	"lagoon/internal/store"
)

// differences are what does not agree in the books.
func differences(b *housetest.Bench) []prove.Difference {
	b.T.Helper()
	verified, err := prove.Books(b.Ctx, b.App)
	require.NoError(b.T, err)
	return verified.Differences
}

// twoWay makes the company match with the order alone, so that receipts book nothing.
func twoWay(b *housetest.Bench) {
	require.NoError(b.T, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("admin"), masters.LimitsEntry{Supplier: "BRACK", Level: trade.TwoWay, Reason: "r"})))
}

func role(e store.Booked, role string) (sum money.Amount) {
	for _, l := range e.Lines {
		if string(l.Role) == role {
			sum += l.Base
		}
	}
	return sum
}

func entry(b *housetest.Bench, number int64) (e store.Booked) {
	b.T.Helper()
	require.NoError(b.T, b.Store.Read(b.Ctx, func(tx *store.Tx) (err error) {
		e, err = tx.Entry(number)
		return err
	}))
	return e
}

// What came by the end of a month and is not invoiced is accrued on its last day and taken back on the first of the next:
// a part delivery, a part of it invoiced by then, an invoice of the next month that changes nothing of it, lines taken out and
// added, and all of it taken back while the months are open.
func TestAccrue(t *testing.T) {
	b := housetest.SetUp(t)
	twoWay(b)
	order := b.Order("BRACK", "10", "6", "4")
	b.Deliver(order, "DN 1", "7", "6", "0")
	bill := b.Key(b.Bill("BRACK", order, "A1", "3", "12")) // of the first line
	require.Equal(t, trade.Verified, b.State(bill.Number).State)
	three := b.Order("TIDEW", "5") // three-way: GRNI says it
	b.Deliver(three, "DN 2", "5")

	entryOf := books.AccrualEntry{Month: "2026-11"}
	_, err := books.Accrue(b.Ctx, b.App, b.As("treasurer"), entryOf)
	housetest.Refused(t, err, fault.Refused, "ahead of its day")
	b.Now = time.Date(2026, 12, 2, 9, 0, 0, 0, time.UTC)
	later := b.Bill("BRACK", order, "A2", "4", "12")
	later.Date = "2026-12-01"
	b.Key(later)

	m, err := books.ReadMonthEnd(b.Ctx, b.App, "")
	require.NoError(t, err)
	require.Equal(t, []any{"2026-11", true, false, "2026-11"}, []any{m.Month, m.Over, m.Closed, m.Next})
	step := func(m books.MonthEnd, key string) books.Step {
		for _, s := range m.Steps {
			if s.Key == key {
				return s
			}
		}
		t.Fatalf("no step %s", key)
		return books.Step{}
	}
	require.Equal(t, books.Step{Key: "accrual", Open: 2, Amount: 4*1200 + 6*1200}, step(m, "accrual"))
	require.Equal(t, money.Amount(5400), step(m, "receipts").Amount, "60.00 USD at 0.9")

	for _, wrong := range []struct {
		e     books.AccrualEntry
		words string
	}{
		{books.AccrualEntry{Month: "November"}, "A period is a month"},
		{books.AccrualEntry{Month: "2026-11", Out: []books.LineKey{{Order: order, Line: 3}}}, "not to be accrued"},
		{books.AccrualEntry{Month: "2026-11", Added: []books.AddedLine{{Budget: "NONE", Amount: "10", Text: "x"}}}, "no budget"},
		{books.AccrualEntry{Month: "2026-11", Added: []books.AddedLine{{Budget: "SHOP", Amount: "-1", Text: "x"}}}, "above zero"},
		{books.AccrualEntry{Month: "2026-11", Added: []books.AddedLine{{Budget: "SHOP", Amount: "1"}}}, "what it is for"},
		{books.AccrualEntry{Month: "2026-11", Out: []books.LineKey{{Order: order, Line: 1}, {Order: order, Line: 2}}}, "Nothing is left"},
		{books.AccrualEntry{Month: "2026-10"}, "Nothing is left"},
	} {
		_, err := books.Accrue(b.Ctx, b.App, b.As("treasurer"), wrong.e)
		require.ErrorContains(t, err, wrong.words)
	}

	made, err := books.Accrue(b.Ctx, b.App, b.As("treasurer"), books.AccrualEntry{
		Month: "2026-11", Out: []books.LineKey{{Order: order, Line: 2}}, Added: []books.AddedLine{{Budget: "shop", Amount: "99.90", Text: "Divers, 2 hours"}},
	})
	require.NoError(t, err)
	require.Equal(t, money.Amount(4800+9990), made.Total)
	first, back := entry(b, made.Entry), entry(b, made.Reversal)
	require.Equal(t, []day.Day{"2026-11-30", "2026-12-01"}, []day.Day{first.PostedOn, back.PostedOn})
	require.Equal(t, []money.Amount{4800, 9990, -14790}, []money.Amount{role(first, "stock"), role(first, "expense"), role(first, "accrued")})
	require.Equal(t, []money.Amount{-4800, -9990, 14790}, []money.Amount{role(back, "stock"), role(back, "expense"), role(back, "accrued")})
	b.Proved()
	_, err = books.Accrue(b.Ctx, b.App, b.As("admin"), entryOf)
	housetest.Refused(t, err, fault.Duplicate, "accrued already, by treasurer")
	m, err = books.ReadMonthEnd(b.Ctx, b.App, "2026-11")
	require.NoError(t, err)
	require.Zero(t, step(m, "accrual").Open)

	_, err = books.UndoAccrual(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: made.Number})
	housetest.Refused(t, err, fault.Invalid, "Say why")
	_, err = books.UndoAccrual(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: 99, Reason: "r"})
	housetest.Refused(t, err, fault.NotFound, "no accrual")
	_, err = books.UndoAccrual(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: made.Number, Reason: "twice"})
	require.NoError(t, err)
	require.Zero(t, b.Balance("accrued"))
	_, err = books.UndoAccrual(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: made.Number, Reason: "twice"})
	housetest.Refused(t, err, fault.Duplicate, "taken back already")
	b.Proved()
	again, err := books.Accrue(b.Ctx, b.App, b.As("treasurer"), entryOf)
	require.NoError(t, err)
	require.Equal(t, money.Amount(12000), again.Total)
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-11"))
	_, err = books.UndoAccrual(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: again.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "closed")
	b.Proved()

	_, err = b.ByHand().Exec(`DROP TRIGGER entry_line_kept; UPDATE entry_line SET base = base - 1, amount = amount - 1 WHERE entry = (SELECT id FROM entry WHERE number = ?) AND role = 'accrued'`, again.Entry)
	require.NoError(t, err)
	require.NotEmpty(t, differences(b), "verify sees it")
}

// A month is handed over once: what is posted into it later makes a batch of its own; only the last batch is taken back; a
// batch is the same rows whenever it is made, and adds up to its control totals.
func TestLedgerExport(t *testing.T) {
	b := housetest.SetUp(t)
	_, err := books.ExportLedger(b.Ctx, b.App, b.As("treasurer"), "2026-11")
	housetest.Refused(t, err, fault.Refused, "Nothing is posted")
	order := b.Order("TIDEW", "10", "10")
	b.Deliver(order, "DN 1", "10", "0")
	first, err := books.ExportLedger(b.Ctx, b.App, b.As("treasurer"), "2026-11")
	require.NoError(t, err)
	require.Equal(t, []int64{1, 2}, []int64{first.Entries, first.Lines})
	require.Equal(t, money.Amount(10800), first.Debit, "120.00 USD at 0.9")
	_, err = books.ExportLedger(b.Ctx, b.App, b.As("treasurer"), "2026-11")
	housetest.Refused(t, err, fault.Refused, "handed over already")

	name, _, before, err := books.LedgerFile(b.Ctx, b.App, first.Number, "csv")
	require.NoError(t, err)
	require.Equal(t, "ledger-2026-11-batch-1.csv", name)
	b.Deliver(order, "DN 2", "0", "4")
	b.Key(b.Bill("TIDEW", order, "A1", "10", "12"))
	second, err := books.ExportLedger(b.Ctx, b.App, b.As("admin"), "2026-11")
	require.NoError(t, err)
	require.Equal(t, first.UpTo, second.Above)
	_, _, after, err := books.LedgerFile(b.Ctx, b.App, first.Number, "csv")
	require.NoError(t, err)
	require.Equal(t, string(before), string(after), "the same batch")

	_, _, content, err := books.LedgerFile(b.Ctx, b.App, second.Number, "csv")
	require.NoError(t, err)
	rows, err := csv.NewReader(strings.NewReader(string(content))).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, int(second.Lines)+1)
	sum := func(column string) (total money.Amount) {
		for i, name := range rows[0] {
			if name != column {
				continue
			}
			for _, row := range rows[1:] {
				n, err := money.ParseAmount(row[i], "EUR")
				require.NoError(t, err)
				total += n
			}
		}
		return total
	}
	require.Equal(t, []money.Amount{second.Debit, second.Debit}, []money.Amount{sum("debit"), sum("credit")})
	_, _, _, err = books.LedgerFile(b.Ctx, b.App, 99, "csv")
	housetest.Refused(t, err, fault.NotFound, "no batch")
	b.Proved()

	_, err = books.UndoExport(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: first.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "A later batch")
	_, err = books.UndoExport(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: second.Number})
	housetest.Refused(t, err, fault.Invalid, "Say why")
	_, err = books.UndoExport(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: second.Number, Reason: "wrong chart"})
	require.NoError(t, err)
	_, err = books.UndoExport(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: second.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Duplicate, "taken back already")
	third, err := books.ExportLedger(b.Ctx, b.App, b.As("treasurer"), "2026-11")
	require.NoError(t, err)
	require.Equal(t, []int64{second.Above, second.UpTo, second.Entries, second.Lines}, []int64{third.Above, third.UpTo, third.Entries, third.Lines})
	b.Proved()
	_, err = b.ByHand().Exec(`DROP TRIGGER ledger_export_kept; UPDATE ledger_export SET debit = debit + 1 WHERE number = ?`, third.Number)
	require.NoError(t, err)
	require.NotEmpty(t, differences(b), "verify sees it")
}
