package jobs

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// pay brings a verified invoice through release, run, approval and the bank.
func (b *bench) pay(number int64) (run int64) {
	b.t.Helper()
	released, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{number})
	require.NoError(b.t, err)
	require.Equal(b.t, []int64{number}, released.Released)
	made, err := b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: number}}})
	require.NoError(b.t, err)
	return made.Number
}

func TestPayment(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("BRACK", order, "A-1", "10", "12")) // 147.60, 2.95 off until 30 Nov
	run := b.pay(bill.Number)
	c := b.as("both")
	made, err := b.app.MakeRun(b.ctx, c, RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: bill.Number}}})
	require.Zero(t, made)
	refused(t, err, fault.Refused, "in a run already")
	_, err = b.app.ApproveRun(b.ctx, b.as("clerk"), run, 1)
	refused(t, err, fault.Forbidden, "role")
	_, err = b.app.HoldInvoice(b.ctx, b.as("clerk"), HoldEntry{Invoice: bill.Number, Reason: "goods"})
	require.NoError(t, err)
	made, err = b.app.ApproveRun(b.ctx, b.as("treasurer"), run, 1)
	require.NoError(t, err)
	require.Equal(t, store.RunDiscarded, made.State, "what is on hold is not paid as it was")
	require.Contains(t, made.Changes[0], "on hold")
	_, err = b.app.LiftHold(b.ctx, b.as("approver"), LiftEntry{Hold: 1})
	require.NoError(t, err)
	made, err = b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: bill.Number}}})
	require.NoError(t, err)
	run = made.Number
	made, err = b.app.ApproveRun(b.ctx, b.as("treasurer"), run, 1)
	require.NoError(t, err)
	require.Empty(t, made.Changes)
	require.Equal(t, trade.InPayment, b.state(bill.Number).State)
	require.Zero(t, b.balance("in_transit"), "the books follow when it is sent")
	b.proved()
	_, err = b.app.SendRun(b.ctx, b.as("treasurer"), run, 0)
	require.NoError(t, err)
	require.Equal(t, money.Amount(-14_465), b.balance("in_transit"))
	require.Equal(t, money.Amount(-295), b.balance("discount_received"))
	b.proved()
	answers, err := b.app.FetchAnswers(b.ctx, b.as("treasurer"))
	require.NoError(t, err)
	require.Equal(t, []AnswerTaken{{Run: run, Settled: 1}}, answers)
	answers, err = b.app.FetchAnswers(b.ctx, b.as("treasurer"))
	require.NoError(t, err)
	require.Empty(t, answers, "an answer is taken once")
	require.Equal(t, trade.Paid, b.state(bill.Number).State)
	require.Equal(t, money.Amount(-14_465), b.balance("bank"))
	require.Zero(t, b.balance("payables")+b.balance("in_transit"))
	b.proved()
}

func answer(run store.Run, status string) File {
	return File{Name: "a.xml", Content: []byte(fmt.Sprintf(`<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.11"><CstmrPmtStsRpt><GrpHdr><MsgId>B-%s</MsgId></GrpHdr>
		<OrgnlGrpInfAndSts><OrgnlMsgId>%s</OrgnlMsgId><GrpSts>%s</GrpSts></OrgnlGrpInfAndSts></CstmrPmtStsRpt></Document>`, status, run.Message, status))}
}

// ACCP books nothing; a rejection reverses all of the payment, discount included, and reopens its invoices.
func TestRejection(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
	number := b.pay(bill.Number)
	_, err := b.app.ApproveRun(b.ctx, b.as("approver"), number, 0)
	require.NoError(t, err)
	sheet, err := b.app.RunSheet(b.ctx, number)
	require.NoError(t, err)
	taken, err := b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(sheet.Run, "ACCP"))
	require.NoError(t, err)
	require.Zero(t, taken.Settled+taken.Rejected)
	require.Equal(t, trade.InPayment, b.state(bill.Number).State)
	taken, err = b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(sheet.Run, "RJCT"))
	require.NoError(t, err)
	require.Equal(t, 1, taken.Rejected)
	s := b.state(bill.Number)
	require.Equal(t, trade.Released, s.State)
	require.Equal(t, s.Total, s.Open)
	require.Zero(t, b.balance("in_transit")+b.balance("discount_received"))
	_, err = b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(sheet.Run, "RJCT"))
	refused(t, err, fault.Duplicate, "taken before")
	_, err = b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(store.Run{Message: "OTHER"}, "ACSC"))
	refused(t, err, fault.NotFound, "none of ours")
	b.proved()
}

// A foreign invoice paid in two parts leaves nothing in payables.
func TestPaidInParts(t *testing.T) {
	b := setUp(t)
	order := b.order("TIDEW", "10")
	b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("TIDEW", order, "A-1", "10", "12"))
	require.NoError(t, b.app.Masters(b.ctx, b.as("admin"), "rate", func(tx *store.Tx) error { return tx.AddRate("USD", b.today(), dec("0.95")) }))
	_, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
	require.NoError(t, err)
	for _, part := range []*money.Decimal{new(dec("50.01")), nil} { // then all that is left
		made, err := b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today(), PayOn: b.today(), Items: []RunItem{{bill.Number, part}}})
		require.NoError(t, err)
		_, err = b.app.ApproveRun(b.ctx, b.as("treasurer"), made.Number, 0)
		require.NoError(t, err)
		b.later(0)
		_, err = b.app.SendRun(b.ctx, b.as("treasurer"), made.Number, 0)
		require.NoError(t, err)
		_, err = b.app.FetchAnswers(b.ctx, b.as("treasurer"))
		require.NoError(t, err)
		b.proved()
	}
	require.Equal(t, trade.Paid, b.state(bill.Number).State)
	require.Zero(t, b.balance("payables"))
	require.NotZero(t, b.balance("exchange_difference"))
}

func TestReleaseNamesWhatStays(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	clean, held := b.key(b.bill("BRACK", order, "A-1", "4", "12")), b.key(b.bill("BRACK", order, "B-7", "5", "12"))
	_, err := b.app.HoldInvoice(b.ctx, b.as("clerk"), HoldEntry{Invoice: held.Number, Reason: "goods"})
	require.NoError(t, err)
	_, err = b.app.HoldInvoice(b.ctx, b.as("clerk"), HoldEntry{Invoice: held.Number, Reason: "goods"})
	refused(t, err, fault.Duplicate, "on hold already")
	answer, err := b.app.ReleaseInvoices(b.ctx, b.as("clerk"), []int64{clean.Number, held.Number})
	require.NoError(t, err)
	require.Empty(t, answer.Released, "nobody releases their own entry")
	answer, err = b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{clean.Number, held.Number})
	require.NoError(t, err)
	require.Equal(t, []int64{clean.Number}, answer.Released)
	require.Contains(t, answer.Left[0].Why, "goods are in question")
	_, err = b.app.LiftHold(b.ctx, b.as("clerk"), LiftEntry{Hold: 1})
	require.NoError(t, err, "one may lift one's own hold, also on one's own entry")
}

// Nobody approves their own run, nor a run that pays their own entry.
func TestNobodyApprovesTheirOwnRun(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("BRACK", order, "A-1", "4", "12"))
	_, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
	require.NoError(t, err)
	entry := RunEntry{DueBy: b.today(), PayOn: b.today(), Items: []RunItem{{Invoice: bill.Number}}}
	made, err := b.app.MakeRun(b.ctx, b.as("both"), entry)
	require.NoError(t, err)
	_, err = b.app.ApproveRun(b.ctx, b.as("both"), made.Number, 0)
	refused(t, err, fault.Forbidden, "your own; a second person")
	keyer := b.actors["clerk"]
	keyer.Roles = []string{"clerk", "treasurer"}
	_, err = b.app.ApproveRun(b.ctx, Command{Actor: keyer}, made.Number, 0)
	refused(t, err, fault.Forbidden, "your own; somebody else")
	_, err = b.app.DiscardRun(b.ctx, b.as("clerk"), made.Number, 0)
	require.NoError(t, err)
	_, err = b.app.ApproveRun(b.ctx, b.as("treasurer"), made.Number, 0)
	refused(t, err, fault.Changed, "discarded already")
	for _, wrong := range []RunEntry{
		{PayOn: b.today().Add(-1), Items: entry.Items}, {PayOn: b.today()}, {PayOn: b.today(), Items: append(entry.Items, entry.Items...)},
		{PayOn: b.today(), Items: []RunItem{{bill.Number, new(dec("-1"))}}}, {PayOn: b.today(), Items: []RunItem{{bill.Number, new(dec("0"))}}}, {PayOn: b.today(), Items: []RunItem{{bill.Number, new(dec("10000"))}}}, {PayOn: b.today(), Items: []RunItem{{Invoice: 7}}},
	} {
		_, err := b.app.MakeRun(b.ctx, b.as("clerk"), wrong)
		require.Error(t, err)
		var f *fault.Fault
		require.True(t, errors.As(err, &f) && f.Field != "", "%v", err)
	}
	b.proved()
}

// A payment that the bank is given ahead is posted on its day: what the bank says of it before is never posted earlier.
func TestWhatEndsAPaymentIsPostedNoEarlier(t *testing.T) {
	for _, status := range []string{"ACSC", "RJCT"} {
		b := setUp(t)
		order := b.order("BRACK", "10")
		b.deliver(order, "DN 1", "10")
		bill := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
		_, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
		require.NoError(t, err)
		ahead := b.today().Add(3).BankDay()
		made, err := b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today().Add(60), PayOn: ahead, Items: []RunItem{{Invoice: bill.Number}}})
		require.NoError(t, err)
		require.NoError(t, drop(b.app.ApproveRun(b.ctx, b.as("treasurer"), made.Number, 0)))
		require.NoError(t, drop(b.app.SendRun(b.ctx, b.as("treasurer"), made.Number, 0)))
		sheet, err := b.app.RunSheet(b.ctx, made.Number)
		require.NoError(t, err)
		require.NoError(t, drop(b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(sheet.Run, status))))
		journal, err := b.app.Journal(b.ctx, 0)
		require.NoError(t, err)
		require.Equal(t, ahead, journal.Entries[0].PostedOn, "%s: %s", status, journal.Entries[0].What)
		require.Equal(t, ahead, journal.Entries[1].PostedOn, journal.Entries[1].What)
		b.proved()
	}
}

// An invoice that comes to nothing (0.0005 at 9.00, a cent cheaper than ordered) is verified and released like any other, is
// proposed for no payment, and proves itself.
func TestAnInvoiceOfNothing(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "0.0005")
	bill := b.key(b.bill("BRACK", order, "A-1", "0.0005", "9"))
	require.Equal(t, trade.Verified, bill.State)
	require.Equal(t, money.Amount(1), b.line(order).Cheaper)
	b.proved()
	_, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
	require.NoError(t, err)
	b.proved()
	require.Equal(t, trade.Paid, b.state(bill.Number).State, "nothing is due")
	p, err := b.app.Propose(b.ctx, b.today().Add(60), b.today())
	require.NoError(t, err)
	require.Empty(t, p.Payments)
}
