package prove_test

import (
	"compress/gzip"
	"embed"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/books"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/papers"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/lists"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// keptFiles are small books as released versions of Lagoon left them, the oldest first.
//
//go:embed testdata/kept-*.db.gz
var keptFiles embed.FS

// Whatever version kept them, books are migrated as they are opened, prove themselves, and go on. Where a version has
// migrations of its own, its books are kept as well: LAGOON_KEEP=testdata/kept-N.db.gz writes them.
func TestBooksOfEveryVersionGoOn(t *testing.T) {
	if to := os.Getenv("LAGOON_KEEP"); to != "" {
		keep(t, to)
	}
	files, err := fs.Glob(keptFiles, "testdata/*")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		t.Run(path.Base(file), func(t *testing.T) {
			folder := t.TempDir()
			unpack(t, file, filepath.Join(folder, "lagoon.db"))
			b := housetest.OpenIn(t, folder)
			t.Cleanup(func() { require.NoError(t, b.Store.Close()) })
			for _, login := range []string{"admin", "clerk", "approver", "receiver", "buyer", "treasurer"} {
				b.Know(login)
			}
			b.Proved()
			different, err := b.Store.SchemaDifferences(b.Ctx)
			require.NoError(t, err)
			require.Empty(t, different, "as if it had been made today")
			sheet, err := views.Order(b.Ctx, b.App, 4001, b.Actors["clerk"])
			require.NoError(t, err)
			require.Equal(t, "Krill and 1 more", sheet.Order.About)
			order := b.Order("BRACK", "3")
			b.Deliver(order, "DN 9", "3")
			b.Pay(b.Key(b.Bill("BRACK", order, "K-9", "3", "12")).Number)
			b.Proved()
		})
	}
}

// papered leaves papers that were kept, went along and were taken away, how a supplier knows us, and invoices of a batch.
func papered(b *housetest.Bench) {
	order := b.Order("BRACK", "4")
	attach := func(kind, key, name string) int64 {
		kept, err := papers.Attach(b.Ctx, b.App, b.As("buyer"), papers.Entry{To: papers.Place{Kind: kind, Key: key}, File: act.File{Name: name, Content: []byte("%PDF-1.4 " + name)}})
		require.NoError(b.T, err)
		return kept.Number
	}
	drawing, wrong := attach(store.OnItem, "KRILL", "drawing.pdf"), attach(store.OnOrder, fmt.Sprint(order), "wrong.pdf")
	require.NoError(b.T, housetest.Drop(papers.TakeAway(b.Ctx, b.App, b.As("buyer"), wrong)))
	require.NoError(b.T, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), orders.SendEntry{
		Order: order, Kind: store.OrderSending, Way: store.Otherwise, To: "at the counter", Papers: []int64{drawing},
	})))
	require.NoError(b.T, housetest.Drop(masters.SaveKnown(b.Ctx, b.App, b.As("buyer"), "BRACK", masters.Known{
		CustomerNumber: "10023", OtherNames: []string{"Brackwater Trading"}, StandingText: "Gate 3.",
	})))
	b.Deliver(order, "DN 1004", "4")
	kept, err := invoices.KeepBatch(b.Ctx, b.App, b.As("clerk"), invoices.BatchEntry{Batch: trade.Batch{
		Rows:     []trade.BatchRow{{Order: order, Number: "K-15", Date: "2026-11-22", Total: "59.04"}, {Order: 1, Number: "K-16", Date: "2026-11-22", Total: "1"}},
		Controls: trade.Controls{Count: "2"},
	}})
	require.NoError(b.T, err)
	require.NoError(b.T, housetest.Drop(invoices.RunBatch(b.Ctx, b.App, b.As("clerk"), kept.Number, kept.Version)))
	require.NoError(b.T, invoices.Batches(b.Ctx, b.App))
	require.NoError(b.T, housetest.Drop(invoices.TakeInvoice(b.Ctx, b.App, b.As("approver"), b.Held(b.As("clerk"), 31).Number, "")))
}

// credited leaves what a paper taught, and credit notes: for goods that went back, for a price, and one that waits.
func credited(b *housetest.Bench) {
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1003", "10").Number
	taught := b.Bill("BRACK", order, "K-3", "10", "12.1")
	taught.Learned = []reading.Rule{{Field: reading.TotalField, Words: "Debit with"}}
	b.Key(taught)
	b.Returned(receive.ReturnEntry{Delivery: delivery, Day: b.Today(), Outcome: receive.Credit, Reason: "torn",
		Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("2")}}})
	for i, line := range [][2]string{{"2", "12.1"}, {"8", "0.1"}, {"1", "12.1"}} {
		note := b.Bill("BRACK", order, fmt.Sprintf("R-%d", i), line[0], line[1])
		note.Kind, note.Credited = trade.CreditNote, "K-3"
		if i == 1 {
			note.Lines[0].Credits = trade.ForPrice
		}
		b.Key(note)
	}
}

// claimed leaves claims: one that is open, one that was given up, and one that waits with its invoice.
func claimed(b *housetest.Bench) {
	for i, closed := range []bool{true, true, false} {
		order := b.Order("BRACK", "10")
		e := housetest.Count(order, fmt.Sprintf("DN 1%d", 100+i), "9")
		e.Lines[0].Close = closed
		_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
		require.NoError(b.T, err)
		bill := b.Key(b.Bill("BRACK", order, fmt.Sprintf("K-%d", 1117*(i+1)), "10", "12.6"))
		_, err = invoices.ClaimInvoice(b.Ctx, b.App, b.As("clerk"), invoices.ClaimEntry{Invoice: bill.Number})
		require.NoError(b.T, err)
	}
	_, err := invoices.GiveUpClaim(b.Ctx, b.App, b.As("approver"), invoices.ClaimEnd{Claim: 2, Note: "not worth a letter"})
	require.NoError(b.T, err)
}

// coded leaves invoices without an order: one that is approved, and one that was passed on.
func coded(b *housetest.Bench) {
	for i, budget := range []string{"SHOP", "SHOP 60, FEED 40"} {
		e := b.Bill("BRACK", 0, fmt.Sprintf("W-%d", 1117*(i+1)), "1", "100.01")
		e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget = 0, 0, budget
		entry := invoices.ApprovalEntry{Invoice: b.Key(e).Number, To: "approver", Note: "yours"}
		_, err := invoices.PassApproval(b.Ctx, b.App, b.As("clerk"), entry)
		require.NoError(b.T, err)
		if i == 0 {
			_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), entry)
			require.NoError(b.T, err)
		}
	}
}

// asked leaves a cost under reverse charge that is spread over months, an order that waits for its approver, one that was
// approved, and a closed month that somebody asks for.
func asked(b *housetest.Bench) {
	require.NoError(b.T, housetest.Drop(masters.SaveTaxCode(b.Ctx, b.App, b.As("admin"), trade.TaxCode{
		Code: "RC", Name: "Services from other states", Category: "AE", Rates: []trade.TaxRate{{From: "2020-01-01", Rate: housetest.Dec("23")}},
	})))
	e := b.Bill("BRACK", 0, "W-91117", "1", "100.01")
	e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget, e.StatedTotal = 0, 0, "SHOP", "100.01"
	e.Lines[0].TaxCode, e.Lines[0].Defer = "RC", &trade.Deferral{From: "2026-11", Months: 12}
	_, err := invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: b.Key(e).Number})
	require.NoError(b.T, err)
	buyer := housetest.With(b.Actors["reader"], "buyer")
	buyer.Authority = 0
	for i := range 2 {
		issued, err := orders.Issue(b.Ctx, b.App, act.Command{Actor: buyer}, orders.Entry{
			Supplier: "BRACK", WantedOn: b.Today(), Lines: []orders.EntryLine{housetest.Krill("1", "5")},
		})
		require.NoError(b.T, err)
		if i == 0 {
			require.NoError(b.T, housetest.Drop(orders.Approve(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: issued.Number, Note: "once"})))
		}
	}
	require.NoError(b.T, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-09"))
	require.NoError(b.T, masters.AskPeriod(b.Ctx, b.App, b.As("admin"), masters.Opening{Month: "2026-09", Reason: "late"}))
}

// stopped leaves a line of an order on hold, the last invoice of one, a standing charge, and who invoices in a supplier's place.
func stopped(b *housetest.Bench) {
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1200", "8")
	last := b.Bill("BRACK", order, "K-51117", "8", "12")
	last.Final = true
	require.Equal(b.T, trade.Verified, b.Key(last).State)
	require.NoError(b.T, housetest.Drop(holds.HoldOrder(b.Ctx, b.App, b.As("buyer"), holds.HoldEntry{
		Order: b.Order("BRACK", "4"), Line: 1, Reason: "goods", Note: "one is soft", Blocks: trade.Blocks{trade.BlocksReceiving}})))
	e := masters.InvoicerEntry{Supplier: "BRACK", Invoicer: "TIDEW"}
	require.NoError(b.T, housetest.Drop(masters.NameInvoicer(b.Ctx, b.App, b.As("clerk"), e)))
	require.NoError(b.T, housetest.Drop(masters.ConfirmInvoicer(b.Ctx, b.App, b.As("approver"), e)))
	require.NoError(b.T, housetest.Drop(masters.SaveStandingCharge(b.Ctx, b.App, b.As("buyer"), masters.StandingEntry{
		Supplier: "TIDEW", Kind: "freight", Percent: housetest.Dec("2.5")})))
}

// paid leaves money ahead that was used, some that is paid on our own request, a run that one of two has approved, one that is
// with the bank, a line of a statement, and an invoice that we wrote.
func paid(b *housetest.Bench) {
	b.LetsGo(masters.ReleaseEntry{Requests: true, TwoFrom: "1"})
	order := b.Order("BRACK", "20")
	deposit := b.PaidAhead(order, "50%", "K-71117")
	b.Deliver(order, "DN 1300", "20")
	bill := b.Key(b.Bill("BRACK", order, "K-72234", "5", "12")).Number
	require.NoError(b.T, housetest.Drop(invoices.UseAhead(b.Ctx, b.App, b.As("clerk"), invoices.AheadUseEntry{Invoice: bill, Prepayment: deposit})))
	agreed, err := orders.Agree(b.Ctx, b.App, b.As("buyer"), orders.AheadEntry{Order: order, Share: "10%"})
	require.NoError(b.T, err)
	request, err := invoices.RequestAhead(b.Ctx, b.App, b.As("buyer"), invoices.RequestEntry{Order: order, Agreement: agreed.Number})
	require.NoError(b.T, err)
	run := b.Pay(request.Number)
	b.Approve(run)
	b.LetsGo(masters.ReleaseEntry{Requests: true})
	require.NoError(b.T, housetest.Drop(invoices.SetOrderTerms(b.Ctx, b.App, b.As("buyer"), invoices.TermsEntry{
		Number: order, Terms: &trade.Terms{NetDays: 45, DiscountPercent: housetest.Dec("1"), DiscountDays: 20}, Note: "agreed"})))
	b.Sent(71)
	last := b.Verified(b.As("clerk"), 72).Number
	_, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{last})
	require.NoError(b.T, err)
	require.NoError(b.T, housetest.Drop(payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{
		DueBy: b.Today(), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: last}}, Urgent: true})))
	b.OnStatement(1, iso20022.StatementLine{Amount: -1_00, Text: "Charges"})
	b.Agrees("TIDEW")
	b.Deliver(b.Order("TIDEW", "3"), "DN 1301", "3")
	require.NoError(b.T, housetest.Drop(invoices.SelfBill(b.Ctx, b.App, b.As("clerk"), invoices.SelfBillEntry{})))
}

// ended leaves a month that is accrued and handed to the general ledger, once taken back each, a budget that was changed, and a list
// that is kept and was mailed.
func ended(b *housetest.Bench) {
	b.SendsMail()
	for _, amount := range []money.Entered{"1000", "900"} {
		require.NoError(b.T, housetest.Drop(masters.PlanBudget(b.Ctx, b.App, b.As("admin"), masters.PlanEntry{Budget: "FEED", Year: "2026", Amount: amount, Group: "Animals", Reason: "r"})))
	}
	require.NoError(b.T, housetest.Drop(lists.Keep(b.Ctx, b.App, b.As("clerk"), lists.Entry{Name: "Mondays", List: "orders", WeeklyTo: "boss@test.example", WeeklyAs: lists.PDF})))
	require.NoError(b.T, housetest.Drop(lists.Mail(b.Ctx, b.App, b.As("clerk"), lists.Mailing{List: "owed", As: lists.XLSX, To: "boss@test.example"})))
	for i, month := range []string{"2026-10", "2025-03"} {
		made, err := books.Accrue(b.Ctx, b.App, b.As("treasurer"), books.AccrualEntry{Month: month, Added: []books.AddedLine{{Budget: "SHOP", Amount: "10", Text: "Dives"}}})
		require.NoError(b.T, err)
		handed, err := books.ExportLedger(b.Ctx, b.App, b.As("treasurer"), month)
		require.NoError(b.T, err)
		if i == 0 {
			require.NoError(b.T, housetest.Drop(books.UndoAccrual(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: made.Number, Reason: "r"})))
			require.NoError(b.T, housetest.Drop(books.UndoExport(b.Ctx, b.App, b.As("treasurer"), books.Undoing{Number: handed.Number, Reason: "r"})))
		}
	}
}

// planned leaves a budget that is parted over its months, one of which something was carried over, days to chase after, and a list that
// goes out daily.
func planned(b *housetest.Bench) {
	months := make([]money.Entered, 12)
	months[10] = "500"
	require.NoError(b.T, housetest.Drop(masters.PlanBudget(b.Ctx, b.App, b.As("admin"), masters.PlanEntry{Budget: "SHOP", Year: "2027", Months: months})))
	require.NoError(b.T, housetest.Drop(masters.CarryBudgets(b.Ctx, b.App, b.As("admin"), masters.CarryEntry{Year: "2027", Budgets: []string{"SHOP"}})))
	require.NoError(b.T, housetest.Drop(masters.SaveChase(b.Ctx, b.App, b.As("buyer"), masters.ChaseEntry{
		Supplier: "BRACK", Days: map[trade.Awaited]string{trade.AwaitedGoods: "never", trade.AwaitedInvoice: "5", trade.AwaitedNotice: "2"}})))
	require.NoError(b.T, housetest.Drop(orders.RequireNotice(b.Ctx, b.App, b.As("buyer"), orders.NoticeEntry{Order: b.Order("BRACK", "2"), Days: "never"})))
	require.NoError(b.T, housetest.Drop(masters.SavePlace(b.Ctx, b.App, b.As("admin"), masters.DeliveryPlace{
		Name: "Quay", Address: "Pier 2", Receivers: []string{"receiver"},
	})))
	require.NoError(b.T, housetest.Drop(masters.SaveDebitAccount(b.Ctx, b.App, b.As("admin"), store.DebitAccount{IBAN: housetest.OtherIBAN, Name: "Harbour Savings"})))
	require.NoError(b.T, housetest.Drop(people.SaveMail(b.Ctx, b.App, b.As("admin"), "buyer", "buyer@example.org")))
	require.NoError(b.T, housetest.Drop(invoices.KeepSelfBilling(b.Ctx, b.App, b.As("clerk"), store.SelfBillingKept{Name: "At the quay", Place: "Quay"})))
	apart := b.Verified(b.As("clerk"), 39).Number
	require.NoError(b.T, housetest.Drop(invoices.SetPayee(b.Ctx, b.App, b.As("clerk"), invoices.PayeeEntry{Invoice: apart, Payee: "TIDEW", Note: "assigned"})))
	require.NoError(b.T, housetest.Drop(invoices.ConfirmPayee(b.Ctx, b.App, b.As("treasurer"), invoices.PayeeSeen{
		Invoice: apart, Payee: "TIDEW", IBAN: housetest.TestIBAN, Checked: "called",
	})))
	require.NoError(b.T, housetest.Drop(masters.SaveWayIn(b.Ctx, b.App, b.As("admin"), masters.WayInEntry{
		WayIn: store.WayIn{Way: store.MailByIMAP, Address: "mail.example:993", Login: "invoices", Since: "2026-11-01", Token: true}}, nil)))
	require.NoError(b.T, housetest.Drop(lists.Keep(b.Ctx, b.App, b.As("buyer"), lists.Entry{
		Name: "Mornings", List: "waiting", WeeklyTo: "boss@test.example", WeeklyAs: lists.PDF, Daily: true})))
}

// judged leaves limits that were tried, one of them adopted, groups, a supplier's statement with its paper whose gaps were asked for, and weights.
func judged(b *housetest.Bench) {
	b.Group("Feed", "BRACK", "Animal feed", "KRILL")
	was := limit.Entry{Kind: limit.TaxRounding, Side: limit.Over}
	tried := was
	tried.Percent = new(housetest.Dec("1"))
	entry := masters.AdoptEntry{TrialEntry: masters.TrialEntry{PlaceEntry: masters.PlaceEntry{Supplier: "BRACK"}, Limit: tried}, Was: was, Reason: "r"}
	require.NoError(b.T, housetest.Drop(masters.KeepTrial(b.Ctx, b.App, b.As("approver"), entry)))
	require.NoError(b.T, housetest.Drop(masters.AdoptLimit(b.Ctx, b.App, b.As("buyer"), entry)))
	kept, err := books.KeepStatement(b.Ctx, b.App, b.As("clerk"), books.StatementEntry{
		Supplier: "BRACK", Day: b.Today(), Lines: []books.StatementLine{{Number: "K-1", Amount: "48"}, {Number: "GONE-1", Amount: "7"}},
	})
	require.NoError(b.T, err)
	require.NoError(b.T, housetest.Drop(papers.Attach(b.Ctx, b.App, b.As("clerk"), papers.Entry{
		To: papers.Place{Kind: papers.OnStatement, Key: fmt.Sprint(kept.Number)}, File: act.File{Name: "statement.pdf", Content: []byte("%PDF-1.4 statement")},
	})))
	mail := books.StatementMail{Number: kept.Number, To: "them@test.example", Subject: "s", Text: "t"}
	require.NoError(b.T, housetest.Drop(books.AskStatement(b.Ctx, b.App, b.As("clerk"), mail)))
	require.NoError(b.T, housetest.Drop(masters.SaveWeights(b.Ctx, b.App, b.As("admin"), trade.Weights{trade.OnTime: 2})))
}

// keep leaves books with an order, a delivery, a return, invoices in every state, credit notes, claims, invoices without an order, what waits
// for approval, payments, money ahead, what the bank said, a month that has ended, and what is planned.
func keep(t *testing.T, to string) {
	t.Helper()
	folder := t.TempDir()
	b := housetest.SetUpIn(t, folder)
	order := b.Order("BRACK", "10", "5")
	b.Deliver(order, "DN 1001", "10", "5")
	b.Pay(b.Verified(b.As("clerk"), 1).Number)
	b.Held(b.As("clerk"), 2)
	b.Key(b.Bill("BRACK", order, "K-1", "4", "12"))
	b.Key(b.Bill("TIDEW", b.Order("TIDEW", "7"), "K-2", "7", "12"))
	_, err := receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: b.Deliver(b.Order("BRACK", "2"), "DN 1002", "2").Number, Reason: "wrong order"})
	require.NoError(t, err)
	credited(b)
	papered(b)
	claimed(b)
	coded(b)
	asked(b)
	stopped(b)
	paid(b)
	ended(b)
	judged(b)
	planned(b)
	b.Proved()
	copied := filepath.Join(folder, "kept.db")
	_, err = b.ByHand().ExecContext(b.Ctx, `VACUUM INTO ?`, copied)
	require.NoError(t, err)
	content, err := os.ReadFile(copied)
	require.NoError(t, err)
	file, err := os.Create(to)
	require.NoError(t, err)
	packed, err := gzip.NewWriterLevel(file, gzip.BestCompression)
	require.NoError(t, err)
	_, err = packed.Write(content)
	require.NoError(t, err)
	require.NoError(t, packed.Close())
	require.NoError(t, file.Close())
}

func unpack(t *testing.T, from, to string) {
	t.Helper()
	file, err := keptFiles.Open(from)
	require.NoError(t, err)
	defer file.Close() //nolint:errcheck // only read
	packed, err := gzip.NewReader(file)
	require.NoError(t, err)
	out, err := os.Create(to)
	require.NoError(t, err)
	_, err = io.Copy(out, packed)
	require.NoError(t, err)
	require.NoError(t, out.Close())
}
