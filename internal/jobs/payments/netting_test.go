package payments_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// given is a released invoice over 10 at 12.00 with tax, 147.60, and the verified credit note over some of its price.
func given(b *housetest.Bench, n int, credit string) (invoice, note int64) {
	b.T.Helper()
	invoice = b.Verified(b.As("clerk"), n).Number
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{invoice})
	require.NoError(b.T, err)
	require.Empty(b.T, released.Left)
	if credit == "" {
		return invoice, 0
	}
	sheet, err := views.Invoice(b.Ctx, b.App, invoice, b.Actors["clerk"])
	require.NoError(b.T, err)
	e := b.Bill("BRACK", sheet.Orders[0].Number, fmt.Sprint("C-", n), "1", credit)
	e.Kind, e.Credited, e.Lines[0].Credits = trade.CreditNote, sheet.Invoice.SupplierNumber, trade.ForPrice
	e.Date = e.Date.Add(-n)
	captured := b.Key(e)
	require.Equal(b.T, trade.Verified, captured.State, captured.Summary)
	return invoice, captured.Number
}

func made(b *housetest.Bench, entry payments.RunEntry, numbers ...int64) payments.RunMade {
	b.T.Helper()
	entry.DueBy, entry.PayOn = b.Today().Add(60), b.Today()
	for _, n := range numbers {
		entry.Items = append(entry.Items, payments.RunItem{Invoice: n})
	}
	run, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), entry)
	require.NoError(b.T, err)
	return run
}

func runOf(b *housetest.Bench, number int64) views.RunSheet {
	b.T.Helper()
	sheet, err := views.Run(b.Ctx, b.App, number, b.Actors["reader"])
	require.NoError(b.T, err)
	return sheet
}

// A credit note is taken off the next payment of its supplier, without a release; what is proposed holds it, a discarded run
// frees it, a rejected payment opens it again.
func TestCreditNotesAreNetted(t *testing.T) {
	b := housetest.SetUp(t)
	bill, note := given(b, 1, "20") // 24.60 of 147.60
	run := made(b, payments.RunEntry{}, bill)
	sheet := runOf(b, run.Number)
	require.Equal(t, money.Amount(12054), sheet.Payments[0].Amount, "98 % of 123.00")
	require.Equal(t, money.Amount(2460), sheet.Payments[0].Nettings[0].Amount)
	_, err := invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: note, Reason: "r"})
	require.True(t, fault.Is(err, fault.Refused), "a run holds it")
	_, err = payments.SettleOtherwise(b.Ctx, b.App, b.As("treasurer"), payments.OtherwiseEntry{Invoice: note, Way: "bank", Reference: "r"})
	require.True(t, fault.Is(err, fault.Refused), "a run holds it")
	b.Proved()
	require.NoError(t, housetest.Drop(payments.DiscardRun(b.Ctx, b.App, b.As("clerk"), run.Number, 0)))
	without := made(b, payments.RunEntry{Without: []int64{note}}, bill)
	require.Empty(t, runOf(b, without.Number).Payments[0].Nettings, "a person leaves it")
	require.NoError(t, housetest.Drop(payments.DiscardRun(b.Ctx, b.App, b.As("clerk"), without.Number, 0)))
	b.Proved()

	run = made(b, payments.RunEntry{}, bill)
	require.Equal(t, store.RunApproved, b.Approve(run.Number).State)
	require.Equal(t, trade.InPayment, b.StateIf(note))
	b.Proved()
	require.NoError(t, housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run.Number, 0)))
	require.Zero(t, b.State(note).Open)
	require.Zero(t, b.Balance("payables"))
	b.Proved()
	require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(runOf(b, run.Number).Run, "RJCT"))))
	require.Equal(t, []any{trade.Released, trade.Verified}, []any{b.StateIf(bill), b.StateIf(note)})
	require.Equal(t, []money.Amount{14760, -2460}, []money.Amount{b.State(bill).Open, b.State(note).Open})
	b.Proved()
}

// What nets to nothing pays nobody: alone in a run it is settled by its approval, beside payments when that is sent.
func TestWhatNetsToNothingPaysNobody(t *testing.T) {
	b := housetest.SetUp(t)
	one, note := given(b, 1, "120")
	run := made(b, payments.RunEntry{}, one)
	require.Zero(t, run.Payments)
	require.True(t, runOf(b, run.Number).Payments[0].Nothing())
	b.Proved()
	approved := b.Approve(run.Number)
	require.Equal(t, store.RunAnswered, approved.State)
	require.Equal(t, []trade.InvoiceState{trade.Paid, trade.Paid}, []trade.InvoiceState{b.StateIf(one), b.StateIf(note)})
	back := payments.RunEnding{Number: run.Number, Reason: "of another supplier"}
	_, err := payments.TakeBackRun(b.Ctx, b.App, b.As("treasurer"), back)
	housetest.Refused(t, err, fault.Forbidden, "somebody else")
	require.NoError(t, housetest.Drop(payments.TakeBackRun(b.Ctx, b.App, b.As("both"), back)))
	require.Equal(t, []trade.InvoiceState{trade.Released, trade.Verified}, []trade.InvoiceState{b.StateIf(one), b.StateIf(note)})
	b.Proved()
	require.Error(t, housetest.Drop(payments.TakeBackRun(b.Ctx, b.App, b.As("both"), back)), "once")
	run = made(b, payments.RunEntry{}, one)
	require.Equal(t, store.RunAnswered, b.Approve(run.Number).State, "and again")
	b.Proved()
	paid := b.Sent(71)
	sheet := runOf(b, paid)
	require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "ACSC"))))
	_, err = payments.TakeBackRun(b.Ctx, b.App, b.As("both"), payments.RunEnding{Number: paid, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "the file")

	two, rest := given(b, 2, "115")
	three, _ := given(b, 3, "")
	run = made(b, payments.RunEntry{}, two, three) // 147.60 each less 141.45
	sheet = runOf(b, run.Number)
	require.Len(t, sheet.Payments, 1)
	require.Len(t, sheet.Payments[0].Items, 2)
	require.Equal(t, store.RunApproved, b.Approve(run.Number).State)
	require.NoError(t, housetest.Drop(payments.TakeBackRun(b.Ctx, b.App, b.As("both"), payments.RunEnding{Number: run.Number, Reason: "r"})))
	require.Equal(t, []trade.InvoiceState{trade.Released, trade.Verified}, []trade.InvoiceState{b.StateIf(two), b.StateIf(rest)})
	b.Proved()
}

// A credit note of which a part was taken off an invoice stands, however much of it is left.
func TestWhatIsNettedStands(t *testing.T) {
	b := housetest.SetUp(t)
	bill, note := given(b, 1, "120")
	require.NoError(t, housetest.Drop(payments.SettleOtherwise(b.Ctx, b.App, b.As("treasurer"),
		payments.OtherwiseEntry{Invoice: bill, Way: "bank", Reference: "r", Amount: "100"})))
	run := made(b, payments.RunEntry{}, bill)
	require.Equal(t, store.RunAnswered, b.Approve(run.Number).State)
	require.Equal(t, []any{trade.Verified, money.Amount(-10000)}, []any{b.StateIf(note), b.State(note).Open}, "47.60 of it is taken off")
	void := func() error {
		return housetest.Drop(invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: note, Reason: "r"}))
	}
	housetest.Refused(t, void(), fault.Refused, "47.60 EUR of credit note")
	b.Proved()
	require.NoError(t, housetest.Drop(payments.TakeBackRun(b.Ctx, b.App, b.As("both"), payments.RunEnding{Number: run.Number, Reason: "r"})))
	require.NoError(t, void(), "nothing of it is taken off any more")
	b.Proved()
}

// A credit note that is made void after the run was proposed, or refunded, is asked again at the approval.
func TestWhatIsNettedIsAskedAgain(t *testing.T) {
	b := housetest.SetUp(t)
	bill, _ := given(b, 1, "20")
	run := made(b, payments.RunEntry{}, bill)
	_, late := given(b, 2, "30")
	require.Equal(t, store.RunApproved, b.Approve(run.Number).State, "what came since is for the next run")
	require.Equal(t, money.Amount(-3690), b.State(late).Open)
	b.Proved()
}

// Whatever is netted, approved, sent, rejected, returned and taken back, payables are what is owed less what is credited, and
// nothing is paid twice.
func TestHistoriesOfNetting(t *testing.T) {
	seed := rand.Uint64()
	t.Log("seed", seed)
	random := rand.New(rand.NewPCG(seed, 3))
	b := housetest.SetUp(t)
	var bills, runs []int64
	for n := range 5 {
		bill, _ := given(b, n+1, []string{"", "15", "70", "120", "33.33"}[random.IntN(5)])
		bills = append(bills, bill)
	}
	done := map[string]int{}
	try := func(what string, err error) bool {
		if err == nil {
			done[what]++
			return true
		}
		var no *fault.Fault
		require.ErrorAs(t, err, &no, what)
		return false
	}
	for n := range 60 {
		run := int64(0)
		if len(runs) > 0 {
			run = runs[random.IntN(len(runs))]
		}
		switch random.IntN(7) {
		case 0, 1:
			entry := payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today()}
			for _, bill := range bills {
				if random.IntN(2) == 0 {
					item := payments.RunItem{Invoice: bill}
					if random.IntN(3) == 0 {
						item.Amount = new(housetest.Dec(money.Amount(1 + random.Int64N(9000)).Text("EUR")))
					}
					entry.Items = append(entry.Items, item)
				}
			}
			made, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), entry)
			if try("make", err) {
				runs = append(runs, made.Number)
			}
		case 2:
			_, err := payments.ApproveRun(b.Ctx, b.App, b.As("approver too"), run, 0)
			try("approve", err)
		case 3:
			_, err := payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
			try("send", err)
		case 4:
			if run != 0 {
				answer := housetest.Answer(runOf(b, run).Run, []string{"ACSC", "RJCT"}[random.IntN(2)])
				answer.Content = fmt.Appendf(nil, "%s<!-- %d -->", answer.Content, n)
				_, err := payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), answer)
				try("answer", err)
			}
		case 5:
			_, err := payments.DiscardRun(b.Ctx, b.App, b.As("clerk"), run, 0)
			try("discard", err)
		case 6:
			_, err := payments.TakeBackRun(b.Ctx, b.App, b.As("treasurer"), payments.RunEnding{Number: run, Reason: "r"})
			try("take back", err)
		}
	}
	require.Positive(t, done["make"], "%v", done)
	b.Proved()
}
