package jobs

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/store"
)

// proposed is a run over one released invoice of 147.60 with 2.95 off until 30 November.
func (b *bench) proposed(number string) (bill Captured, run int64) {
	b.t.Helper()
	order := b.order("BRACK", "10")
	b.deliver(order, "DN "+number, "10")
	bill = b.key(b.bill("BRACK", order, number, "10", "12"))
	return bill, b.pay(bill.Number)
}

func (b *bench) approve(run int64) RunMade {
	b.t.Helper()
	made, err := b.app.ApproveRun(b.ctx, b.as("treasurer"), run, 0)
	require.NoError(b.t, err)
	return made
}

func (b *bench) payments(run int64) []store.Payment {
	b.t.Helper()
	sheet, err := b.app.RunSheet(b.ctx, run)
	require.NoError(b.t, err)
	return sheet.Payments
}

// Everything is asked again when a run is approved: what changed is said, and the run is proposed again as it would be
// made now, in its maker's name.
func TestARunIsProposedAgain(t *testing.T) {
	t.Run("discount", func(t *testing.T) {
		b := setUp(t)
		_, run := b.proposed("A-1")
		require.Equal(t, money.Amount(295), b.payments(run)[0].Items[0].Discount)
		b.later(8)
		made := b.approve(run)
		require.Contains(t, strings.Join(made.Changes, " "), "ran out on 30 Nov")
		require.Contains(t, strings.Join(made.Changes, " "), "is past")
		require.Equal(t, store.RunProposed, made.State)
		again := b.payments(made.Number)[0]
		require.Equal(t, []money.Amount{14_760, 0}, []money.Amount{again.Items[0].Amount, again.Items[0].Discount})
		_, err := b.app.ApproveRun(b.ctx, b.as("clerk"), made.Number, 0)
		refused(t, err, fault.Forbidden, "role")
		require.Empty(t, b.approve(made.Number).Changes)
		b.proved()
	})
	t.Run("weekend", func(t *testing.T) {
		b := setUp(t) // on Monday 23 November 2026
		bill, run := b.proposed("A-1")
		require.NoError(t, drop(b.app.DiscardRun(b.ctx, b.as("clerk"), run, 0)))
		saturday := b.today().Add(5)
		made, err := b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: saturday, PayOn: saturday, Items: []RunItem{{Invoice: bill.Number}}})
		require.NoError(t, err)
		again := b.approve(made.Number)
		require.Contains(t, again.Changes[0], "is no bank day")
		sheet, err := b.app.RunSheet(b.ctx, again.Number)
		require.NoError(t, err)
		require.Equal(t, saturday.Add(2), sheet.PayOn)
		b.proved()
	})
	t.Run("account", func(t *testing.T) {
		b := setUp(t)
		_, run := b.proposed("A-1")
		e := b.asking()
		e.IBAN, e.AccountReason = otherIBAN, "letter"
		require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), e)))
		made := b.approve(run)
		require.Contains(t, made.Changes[0], "nobody else has confirmed it")
		require.Equal(t, store.RunDiscarded, made.State, "nothing can be paid")
		require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", otherIBAN)))
		p, err := b.app.Propose(b.ctx, b.today().Add(60), b.today())
		require.NoError(t, err)
		made, err = b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: p.Payments[0].Items[0].Invoice, Amount: new(dec("40.00"))}}})
		require.NoError(t, err)
		back := b.asking()
		back.IBAN, back.AccountReason = testIBAN, "letter"
		require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), back)))
		require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", testIBAN)))
		again := b.approve(made.Number)
		require.Contains(t, again.Changes[0], "another account now")
		require.Equal(t, testIBAN, b.payments(again.Number)[0].IBAN)
		require.Equal(t, money.Amount(4_000), b.payments(again.Number)[0].Amount, "a typed part stays")
		b.proved()
	})
	t.Run("payee", func(t *testing.T) {
		b := setUp(t)
		e := b.asking()
		e.PayToCode, e.AccountReason = "TIDEW", "factoring"
		require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), e)))
		require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", testIBAN)))
		_, run := b.proposed("A-1")
		require.Equal(t, "Tidewell Pumps", b.payments(run)[0].Payee)
		require.NoError(t, drop(b.app.ChangeStatus(b.ctx, b.as("buyer"), "TIDEW", trade.PaymentHold, "disputed")))
		made := b.approve(run)
		require.Contains(t, made.Changes[0], "Tidewell Pumps is payment hold")
		require.Equal(t, store.RunDiscarded, made.State)
		b.proved()
	})
}

// An account that the invoice names is compared again when it is released, whatever its match said.
func TestTheAccountIsComparedAgain(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	entry := b.bill("BRACK", order, "A-1", "10", "12")
	entry.Invoice.IBAN = testIBAN
	bill := b.key(entry)
	require.Equal(t, trade.Verified, bill.State)
	e := b.asking()
	e.IBAN, e.AccountReason = otherIBAN, "letter"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), e)))
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", otherIBAN)))
	answer, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Len(t, answer.Left, 1)
	require.Contains(t, answer.Left[0].Why, "asks to be paid to")
}

// A release is taken back until the invoice is in a run.
func TestAReleaseIsTakenBack(t *testing.T) {
	b := setUp(t)
	bill, run := b.proposed("A-1")
	back := Ending{Invoice: bill.Number, Reason: "the wrong one"}
	_, err := b.app.TakeBackRelease(b.ctx, b.as("approver"), back)
	refused(t, err, fault.Refused, "in a proposed run")
	require.NoError(t, drop(b.app.DiscardRun(b.ctx, b.as("clerk"), run, 0)))
	_, err = b.app.TakeBackRelease(b.ctx, b.as("approver"), Ending{Invoice: bill.Number})
	refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, drop(b.app.TakeBackRelease(b.ctx, b.as("approver"), back)))
	require.Equal(t, trade.Verified, b.state(bill.Number).State)
	_, err = b.app.TakeBackRelease(b.ctx, b.as("approver"), back)
	refused(t, err, fault.Refused, "only a release")
	b.proved()
	b.pay(bill.Number)
	b.proved()
}

// An approved run is taken back before it is sent, a sent one is declared lost where its file never came: by a second
// person, with everything as it was before. What the bank says of it later is not booked in silence.
func TestARunHasAWayBack(t *testing.T) {
	b := setUp(t)
	bill, run := b.proposed("A-1")
	require.NoError(t, drop(b.app.ApproveRun(b.ctx, b.as("treasurer"), run, 0)))
	_, err := b.app.TakeBackRun(b.ctx, b.as("treasurer"), RunEnding{Number: run, Reason: "r"})
	refused(t, err, fault.Forbidden, "somebody else takes it back")
	_, err = b.app.TakeBackRun(b.ctx, b.as("approver"), RunEnding{Number: run})
	refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, drop(b.app.TakeBackRun(b.ctx, b.as("approver"), RunEnding{Number: run, Reason: "too early"})))
	require.Equal(t, trade.Released, b.state(bill.Number).State)
	require.Zero(t, b.balance("in_transit")+b.balance("discount_received"))
	b.proved()
	_, err = b.app.SendRun(b.ctx, b.as("treasurer"), run, 0)
	refused(t, err, fault.Changed, "taken back")

	made, err := b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: bill.Number}}})
	require.NoError(t, err)
	b.approve(made.Number)
	b.later(0)
	require.NoError(t, drop(b.app.SendRun(b.ctx, b.as("treasurer"), made.Number, 0)))
	_, err = b.app.TakeBackRun(b.ctx, b.as("approver"), RunEnding{Number: made.Number, Reason: "r"})
	refused(t, err, fault.Changed, "sent already")
	require.NoError(t, drop(b.app.DeclareLost(b.ctx, b.as("approver"), RunEnding{Number: made.Number, Reason: "the line was down"})))
	require.Equal(t, trade.Released, b.state(bill.Number).State)
	b.proved()
	answers, err := b.app.FetchAnswers(b.ctx, b.as("treasurer"))
	require.NoError(t, err)
	require.Contains(t, answers[0].Trouble, "ask the bank before anything is paid again")
	require.Equal(t, trade.Released, b.state(bill.Number).State)
	b.proved()
}

// A payment that comes back after the bank had debited it opens all of it again, and the account is warned of until
// somebody changes or confirms it.
func TestAPaymentComesBack(t *testing.T) {
	b := setUp(t)
	bill, run := b.proposed("A-1")
	b.approve(run)
	sheet, err := b.app.RunSheet(b.ctx, run)
	require.NoError(t, err)
	require.NoError(t, drop(b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(sheet.Run, "ACSC"))))
	require.Equal(t, trade.Paid, b.state(bill.Number).State)
	taken, err := b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(sheet.Run, "RJCT"))
	require.NoError(t, err)
	require.Equal(t, 1, taken.Rejected)
	require.Equal(t, trade.Released, b.state(bill.Number).State)
	require.Zero(t, b.balance("bank")+b.balance("in_transit"))
	require.Equal(t, money.Amount(-14_760), b.balance("payables"))
	b.proved()
	taken, err = b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(sheet.Run, "WHAT"))
	require.NoError(t, err)
	require.Contains(t, taken.Reasons[0], "which Lagoon does not know")

	invoice, err := b.app.InvoiceSheet(b.ctx, bill.Number, b.actors["clerk"])
	require.NoError(t, err)
	require.NotNil(t, invoice)
	warning := func() string {
		p, err := b.app.Propose(b.ctx, b.today().Add(60), b.today())
		require.NoError(t, err)
		return p.Payments[0].Items[0].Warning
	}
	_, run = bill, 0
	require.NoError(t, b.app.Masters(b.ctx, b.as("admin"), "reason", func(tx *store.Tx) error {
		payments, err := tx.Payments(sheet.ID)
		require.NoError(t, err)
		return tx.SetPaymentState(payments[0].ID, store.PaymentRejected, "AC04 Closed account number")
	}))
	require.Equal(t, "AC04 Closed account number", warning())
	b.now = b.now.Add(time.Minute)
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", testIBAN)))
	require.Empty(t, warning())
}

// Of all that a group's rejection does not list apart, each is rejected.
func TestAGroupIsRejected(t *testing.T) {
	a := iso20022.Answer{Message: "M", Original: "O", Created: time.Unix(0, 0), Group: "RJCT", Payments: []iso20022.PaymentAnswer{{EndToEnd: "1", Status: "ACSC"}}}
	content, err := iso20022.WriteAnswer(a)
	require.NoError(t, err)
	read, err := iso20022.ReadAnswer(content)
	require.NoError(t, err)
	status, _ := read.Of("2")
	require.Equal(t, iso20022.Rejected, status)
	inInfo := strings.Replace(strings.Replace(string(content), "<GrpSts>RJCT</GrpSts>", "", 1), "</OrgnlPmtInfId>", "</OrgnlPmtInfId><PmtInfSts>RJCT</PmtInfSts>", 1)
	read, err = iso20022.ReadAnswer([]byte(inInfo))
	require.NoError(t, err)
	status, _ = read.Of("2")
	require.Equal(t, iso20022.Rejected, status)
	status, _ = read.Of("1")
	require.Equal(t, iso20022.Settled, status)
}

// One answer that cannot be read does not keep the others back.
func TestAnUnreadableAnswerIsSetAside(t *testing.T) {
	b := setUp(t)
	bill, run := b.proposed("A-1")
	b.approve(run)
	b.later(0)
	require.NoError(t, drop(b.app.SendRun(b.ctx, b.as("treasurer"), run, 0)))
	b.app.bank = broken{b.app.bank}
	answers, err := b.app.FetchAnswers(b.ctx, b.as("treasurer"))
	require.NoError(t, err)
	require.Contains(t, answers[0].Trouble, "no pain.002")
	require.Equal(t, 1, answers[1].Settled)
	require.Equal(t, trade.Paid, b.state(bill.Number).State)
	b.proved()
}

// broken is a bank that answers something else first.
type broken struct{ Bank }

func (b broken) Answers(ctx context.Context) ([][]byte, error) {
	answers, err := b.Bank.Answers(ctx)
	return append([][]byte{[]byte("<html>gateway timeout</html>")}, answers...), err
}
