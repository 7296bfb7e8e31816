package invoices_test

import (
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	reader "lagoon/internal/format/einvoice"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func selfBill(b *housetest.Bench) invoices.SelfBilled {
	b.T.Helper()
	all, err := invoices.SelfBill(b.Ctx, b.App, b.As("clerk"), invoices.SelfBillEntry{Supplier: "BRACK"})
	require.NoError(b.T, err)
	return all
}

// A receipt is billed once, at once verified, in its series; a trial changes nothing; the supplier's own invoice is held.
func TestWeWriteInvoices(t *testing.T) {
	b := housetest.SetUp(t)
	_, err := invoices.SelfBill(b.Ctx, b.App, b.As("clerk"), invoices.SelfBillEntry{Supplier: "BRACK"})
	housetest.Refused(t, err, fault.Refused, "Nothing is agreed")
	_, err = invoices.SelfBill(b.Ctx, b.App, b.As("clerk"), invoices.SelfBillEntry{Supplier: "NOBODY"})
	require.True(t, fault.Is(err, fault.NotFound))
	old := b.Order("BRACK", "10")
	b.Deliver(old, "DN 0", "10")
	b.Agrees("BRACK")
	require.Empty(t, selfBill(b).Made, "what was ordered before stays as it was")
	order := b.Order("BRACK", "10")
	require.True(t, b.Line(order).SelfBilled)
	b.Deliver(order, "DN 1", "4")
	second := b.Deliver(order, "DN 2", "6")
	for range 2 {
		trial, err := invoices.TrialSelfBill(b.Ctx, b.App, invoices.SelfBillEntry{})
		require.NoError(t, err)
		require.Len(t, trial.Made, 2)
		require.Zero(t, trial.Made[0].Number)
	}
	theirs := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	require.Equal(t, trade.Held, theirs.State)
	sheet, err := views.Invoice(b.Ctx, b.App, theirs.Number, b.Actors["approver"])
	require.NoError(t, err)
	require.Equal(t, finding.SelfBilled, sheet.Findings[0].Kind)
	require.False(t, sheet.Findings[0].May(finding.Accept))
	held := selfBill(b)
	require.Empty(t, held.Made)
	require.Equal(t, "an invoice or credit note of the supplier about it is open", held.Left[0].Sentence)
	_, err = invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: theirs.Number, Reason: "we write them"}})
	require.NoError(t, err)

	made := selfBill(b)
	require.Empty(t, made.Left)
	require.Equal(t, []string{"SB-0001", "SB-0002"}, []string{made.Made[0].SupplierNumber, made.Made[1].SupplierNumber})
	require.Equal(t, trade.Verified, b.StateIf(made.Made[0].Number))
	require.Equal(t, money.Amount(4*1_230*12/10), made.Made[0].Totals.Total)
	require.Empty(t, selfBill(b).Made, "never twice")
	b.Proved()
	_, err = invoices.Void(b.Ctx, b.App, b.As("clerk"), act.Ending{Invoice: made.Made[0].Number, Reason: "the wrong day"})
	require.NoError(t, err)
	require.Equal(t, "SB-0003", selfBill(b).Made[0].SupplierNumber, "a number is used once")
	b.Proved()

	b.Returned(housetest.Back(second.Number, receive.Credit, "2"))
	back := selfBill(b).Made
	require.Len(t, back, 1)
	require.Equal(t, trade.SelfBilledCredit, back[0].Invoice.Code)
	require.Equal(t, "SB-0002", back[0].Credited)
	require.Empty(t, selfBill(b).Made)
	b.Proved()
	sheet, err = views.Invoice(b.Ctx, b.App, made.Made[1].Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.True(t, sheet.Invoice.SelfBilled())
	_, content, err := views.InvoicePaper(b.Ctx, b.App, made.Made[1].Number)
	require.NoError(t, err)
	read, err := reader.Read(content)
	require.NoError(t, err)
	require.Equal(t, made.Made[1].Totals.Total, read.StatedTotal, "what goes out says the same")
}

// One per order, or per run; of a day.
func TestWhatOneInvoiceIsMadeOf(t *testing.T) {
	for per, want := range map[trade.BillingPer]int{trade.PerReceipt: 3, trade.PerOrder: 2, trade.PerPeriod: 1} {
		b := housetest.SetUp(t)
		_, err := masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), masters.SelfBillingEntry{Supplier: "BRACK", From: b.Today(), Prefix: "X", Per: per, Statement: "s"})
		require.NoError(t, err)
		order := b.Order("BRACK", "10")
		b.Deliver(order, "DN 1", "4")
		b.Deliver(order, "DN 2", "5")
		b.Deliver(b.Order("BRACK", "10"), "DN 3", "10")
		early, err := invoices.TrialSelfBill(b.Ctx, b.App, invoices.SelfBillEntry{Until: b.Today().Add(-1)})
		require.NoError(t, err)
		require.Empty(t, early.Made)
		require.Len(t, early.Left, 3)
		elsewhere, err := invoices.TrialSelfBill(b.Ctx, b.App, invoices.SelfBillEntry{Place: "the moon"})
		require.NoError(t, err)
		require.Empty(t, elsewhere.Made)
		_, err = invoices.TrialSelfBill(b.Ctx, b.App, invoices.SelfBillEntry{Until: "soon"})
		require.True(t, fault.Is(err, fault.Invalid))
		require.Len(t, selfBill(b).Made, want, per)
		require.Zero(t, b.Balance("grni"))
		b.Proved()
	}
}

// Two runs at once make one invoice.
func TestTwoRunsBillOnce(t *testing.T) {
	b := housetest.SetUp(t)
	b.Agrees("BRACK")
	b.Deliver(b.Order("BRACK", "10"), "DN 1", "10")
	var group sync.WaitGroup
	counts := make([]int, 4)
	for i := range counts {
		group.Go(func() {
			all, err := invoices.SelfBill(b.Ctx, b.App, b.As("clerk"), invoices.SelfBillEntry{})
			if err == nil {
				counts[i] = len(all.Made)
			}
		})
	}
	group.Wait()
	sum := 0
	for _, n := range counts {
		sum += n
	}
	require.Equal(t, 1, sum)
	b.Proved()
}

func TestAgreementsThatAreRefused(t *testing.T) {
	b := housetest.SetUp(t)
	good := masters.SelfBillingEntry{Supplier: "BRACK", From: b.Today(), Prefix: "X", Per: trade.PerOrder, Statement: "s"}
	for field, change := range map[string]func(*masters.SelfBillingEntry){
		"from": func(e *masters.SelfBillingEntry) { e.From = "" }, "until": func(e *masters.SelfBillingEntry) { e.Until = b.Today().Add(-1) },
		"prefix": func(e *masters.SelfBillingEntry) { e.Prefix = " " }, "per": func(e *masters.SelfBillingEntry) { e.Per = "moon" },
		"statement": func(e *masters.SelfBillingEntry) { e.Statement = "" }, "items": func(e *masters.SelfBillingEntry) { e.Items = []string{"NONE"} },
	} {
		e := good
		change(&e)
		_, err := masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), e)
		var all fault.Faults
		require.ErrorAs(t, err, &all, field)
		require.Equal(t, []string{field}, housetest.FieldsOf(all))
	}
	good.Items = []string{"krill"}
	good.Until = b.Today()
	_, err := masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), good)
	require.NoError(t, err)
	s := b.Supplier("BRACK")
	require.True(t, s.BilledNow)
	require.True(t, s.SelfBilling.Covers("KRILL", b.Today()))
	require.False(t, s.SelfBilling.Covers("KRILL", b.Today().Add(1)))
	require.False(t, s.SelfBilling.Covers("SALT", b.Today()))
}

// What is planned is written by itself in the evening of its day, once; what Lagoon slept through is made up for with what had
// come by then; what would not be verified is a clerk's turn.
func TestInvoicesAreWrittenByThemselves(t *testing.T) {
	b := housetest.SetUp(t) // on Monday 23 November 2026, nine in the morning
	agree := func(every trade.BillingEvery) {
		require.NoError(t, housetest.Drop(masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), masters.SelfBillingEntry{
			Supplier: "BRACK", From: b.Today(), Prefix: "SB-", Per: trade.PerPeriod, Statement: "Made out by the buyer", Every: every,
		})))
	}
	_, err := masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), masters.SelfBillingEntry{Supplier: "BRACK", From: b.Today(), Prefix: "S", Per: trade.PerPeriod, Statement: "s", Every: "hour"})
	housetest.Refused(t, err, fault.Invalid, "every evening")
	written := func() (n int) {
		require.NoError(t, invoices.SelfBillPlanned(b.Ctx, b.App))
		b.Proved()
		rows, err := act.Read(b.Ctx, b.App, func(r act.Reading) (rows []store.InvoiceRow, err error) { return r.RecentInvoices(0, 100) })
		require.NoError(t, err)
		return len(rows)
	}
	turns := func() int64 {
		c, err := views.CourseOf(b.Ctx, b.App, b.Actors["clerk"])
		require.NoError(t, err)
		return c.Invoices
	}
	agree("")
	order := b.Order("BRACK", "100")
	b.Deliver(order, "DN 1", "4")
	require.Zero(t, written())
	require.EqualValues(t, 1, turns(), "a person writes it")
	agree(trade.EveryWeek)
	require.Zero(t, turns(), "it is written by itself")
	b.Now = b.Now.AddDate(0, 0, 4) // Friday
	require.Zero(t, written(), "not before the evening")
	b.Now = b.Now.Add(9 * time.Hour)
	require.Equal(t, 1, written())
	b.Deliver(order, "DN 2", "1")
	require.Equal(t, 1, written(), "once")
	b.Now = b.Now.AddDate(0, 0, 7)
	require.Equal(t, 2, written())

	agree(trade.EveryMonth)
	entry := housetest.Count(order, "DN 3", "2")
	entry.Day = b.Today()
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)))
	b.Now = b.Now.AddDate(0, 1, 0) // 4 January: it slept through the last of December
	entry = housetest.Count(order, "DN 4", "3")
	entry.Day = b.Today()
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)))
	require.Equal(t, 3, written())
	made, err := act.Read(b.Ctx, b.App, func(r act.Reading) (trade.Invoice, error) {
		rows, err := r.RecentInvoices(0, 100)
		if err != nil {
			return trade.Invoice{}, err
		}
		inv, _, err := r.InvoiceNumbered(rows[0].Number)
		return inv, err
	})
	require.NoError(t, err)
	require.Equal(t, housetest.Dec("2"), made.Lines[0].Quantity, "what came by then")
	require.EqualValues(t, "2027-01-04", made.Date, "dated the day of the run")

	b.Now = b.Now.AddDate(0, 0, 27)
	theirs := b.Bill("BRACK", order, "A-1", "3", "12")
	theirs.Date = b.Today()
	b.Key(theirs)
	held := turns()
	b.Now = b.Now.Add(10 * time.Hour)
	require.Equal(t, 4, written(), "its own invoice stands in the way")
	require.Equal(t, held+1, turns(), "which is somebody's turn")
}

// Two runs at once bill a receipt once.
func TestPlannedRunsAtOnce(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(t, housetest.Drop(masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), masters.SelfBillingEntry{
		Supplier: "BRACK", From: b.Today(), Prefix: "SB-", Per: trade.PerPeriod, Statement: "s", Every: trade.EveryDay,
	})))
	b.Deliver(b.Order("BRACK", "10"), "DN 1", "4")
	b.Now = b.Now.Add(10 * time.Hour)
	var all sync.WaitGroup
	for range 4 {
		all.Go(func() { _ = invoices.SelfBillPlanned(b.Ctx, b.App) })
	}
	all.Wait()
	require.NoError(t, invoices.SelfBillPlanned(b.Ctx, b.App))
	rows, err := act.Read(b.Ctx, b.App, func(r act.Reading) (rows []store.InvoiceRow, err error) { return r.RecentInvoices(0, 100) })
	require.NoError(t, err)
	require.Len(t, rows, 1)
	b.Proved()
}
