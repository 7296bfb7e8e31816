package payments_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// proposed is a run over one released invoice of 147.60 with 2.95 off until 30 November.
func proposed(b *housetest.Bench, number string) (bill act.Captured, run int64) {
	b.T.Helper()
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN "+number, "10")
	bill = b.Key(b.Bill("BRACK", order, number, "10", "12"))
	return bill, b.Pay(bill.Number)
}

func paymentsOf(b *housetest.Bench, run int64) []views.RunPayment {
	b.T.Helper()
	sheet, err := views.Run(b.Ctx, b.App, run, b.Actors["reader"])
	require.NoError(b.T, err)
	return sheet.Payments
}

// Everything is asked again when a run is approved: what changed is said, and the run is proposed again as it would be
// made now, in its maker's name.
func TestARunIsProposedAgain(t *testing.T) {
	t.Run("discount", func(t *testing.T) {
		b := housetest.SetUp(t)
		_, run := proposed(b, "A-1")
		require.Equal(t, money.Amount(295), paymentsOf(b, run)[0].Items[0].Discount)
		b.Later(8)
		made := b.Approve(run)
		require.Contains(t, strings.Join(made.Changes, " "), "ran out on 30 Nov")
		require.Contains(t, strings.Join(made.Changes, " "), "is past")
		require.Equal(t, store.RunProposed, made.State)
		again := paymentsOf(b, made.Number)[0]
		require.Equal(t, []money.Amount{14_760, 0}, []money.Amount{again.Items[0].Amount, again.Items[0].Discount})
		_, err := payments.ApproveRun(b.Ctx, b.App, b.As("clerk"), made.Number, 0)
		housetest.Refused(t, err, fault.Forbidden, "role")
		require.Empty(t, b.Approve(made.Number).Changes)
		b.Proved()
	})
	t.Run("weekend", func(t *testing.T) {
		b := housetest.SetUp(t) // on Monday 23 November 2026
		bill, run := proposed(b, "A-1")
		require.NoError(t, housetest.Drop(payments.DiscardRun(b.Ctx, b.App, b.As("clerk"), run, 0)))
		saturday := b.Today().Add(5)
		made, err := payments.MakeRun(
			b.Ctx,
			b.App,
			b.As("clerk"),
			payments.RunEntry{DueBy: saturday, PayOn: saturday, Items: []payments.RunItem{{Invoice: bill.Number}}},
		)
		require.NoError(t, err)
		again := b.Approve(made.Number)
		require.Contains(t, again.Changes[0], "is no bank day")
		sheet, err := views.Run(b.Ctx, b.App, again.Number, b.Actors["reader"])
		require.NoError(t, err)
		require.Equal(t, saturday.Add(2), sheet.PayOn)
		b.Proved()
	})
	t.Run("account", func(t *testing.T) {
		b := housetest.SetUp(t)
		_, run := proposed(b, "A-1")
		e := b.Asking()
		e.IBAN, e.AccountReason = housetest.OtherIBAN, "letter"
		require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), e)))
		made := b.Approve(run)
		require.Contains(t, made.Changes[0], "nobody else has confirmed it")
		require.Equal(t, store.RunDiscarded, made.State, "nothing can be paid")
		require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)))
		p, err := payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
		require.NoError(t, err)
		made, err = payments.MakeRun(
			b.Ctx,
			b.App,
			b.As("clerk"),
			payments.RunEntry{
				DueBy: b.Today().Add(60),
				PayOn: b.Today(),
				Items: []payments.RunItem{{Invoice: p.Payments[0].Items[0].Invoice, Amount: new(housetest.Dec("40.00"))}},
			},
		)
		require.NoError(t, err)
		back := b.Asking()
		back.IBAN, back.AccountReason = housetest.TestIBAN, "letter"
		require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), back)))
		require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.TestIBAN)))
		again := b.Approve(made.Number)
		require.Contains(t, again.Changes[0], "another account now")
		require.Equal(t, housetest.TestIBAN, paymentsOf(b, again.Number)[0].IBAN)
		require.Equal(t, money.Amount(4_000), paymentsOf(b, again.Number)[0].Amount, "a typed part stays")
		b.Proved()
	})
	t.Run("payee", func(t *testing.T) {
		b := housetest.SetUp(t)
		e := b.Asking()
		e.PayToCode, e.AccountReason = "TIDEW", "factoring"
		require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), e)))
		require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.TestIBAN)))
		_, run := proposed(b, "A-1")
		require.Equal(t, "Tidewell Pumps", paymentsOf(b, run)[0].Payee)
		require.NoError(t, housetest.Drop(masters.HoldSupplier(b.Ctx, b.App, b.As("buyer"), masters.HoldEntry{Code: "TIDEW", Hold: trade.PaymentHeld, Reason: "disputed"})))
		made := b.Approve(run)
		require.Contains(t, made.Changes[0], "Tidewell Pumps is payment held")
		require.Equal(t, store.RunDiscarded, made.State)
		b.Proved()
	})
}

// An account that the invoice names is compared again when it is released, whatever its match said.
func TestTheAccountIsComparedAgain(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	entry := b.Bill("BRACK", order, "A-1", "10", "12")
	entry.IBAN = housetest.TestIBAN
	bill := b.Key(entry)
	require.Equal(t, trade.Verified, bill.State)
	e := b.Asking()
	e.IBAN, e.AccountReason = housetest.OtherIBAN, "letter"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), e)))
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)))
	answer, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Len(t, answer.Left, 1)
	require.Contains(t, answer.Left[0].Why, "asks to be paid to")
}

// A release is taken back until the invoice is in a run.
func TestAReleaseIsTakenBack(t *testing.T) {
	b := housetest.SetUp(t)
	bill, run := proposed(b, "A-1")
	back := act.Ending{Invoice: bill.Number, Reason: "the wrong one"}
	_, err := payments.TakeBackRelease(b.Ctx, b.App, b.As("approver"), back)
	housetest.Refused(t, err, fault.Refused, "in a proposed run")
	require.NoError(t, housetest.Drop(payments.DiscardRun(b.Ctx, b.App, b.As("clerk"), run, 0)))
	_, err = payments.TakeBackRelease(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: bill.Number})
	housetest.Refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, housetest.Drop(payments.TakeBackRelease(b.Ctx, b.App, b.As("approver"), back)))
	require.Equal(t, trade.Verified, b.State(bill.Number).State)
	_, err = payments.TakeBackRelease(b.Ctx, b.App, b.As("approver"), back)
	housetest.Refused(t, err, fault.Refused, "only a release")
	b.Proved()
	b.Pay(bill.Number)
	b.Proved()
}

// An approved run is taken back before it is sent, a sent one is declared lost where its file never came: by a second
// person, with everything as it was before. What the bank says of it later is not booked in silence.
func TestARunHasAWayBack(t *testing.T) {
	b := housetest.SetUp(t)
	bill, run := proposed(b, "A-1")
	require.NoError(t, housetest.Drop(payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), run, 0)))
	_, err := payments.TakeBackRun(b.Ctx, b.App, b.As("treasurer"), payments.RunEnding{Number: run, Reason: "r"})
	housetest.Refused(t, err, fault.Forbidden, "somebody else takes it back")
	_, err = payments.TakeBackRun(b.Ctx, b.App, b.As("approver"), payments.RunEnding{Number: run})
	housetest.Refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, housetest.Drop(payments.TakeBackRun(b.Ctx, b.App, b.As("approver"), payments.RunEnding{Number: run, Reason: "too early"})))
	require.Equal(t, trade.Released, b.State(bill.Number).State)
	require.Zero(t, b.Balance("in_transit")+b.Balance("discount_received"))
	b.Proved()
	_, err = payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	housetest.Refused(t, err, fault.Changed, "taken back")

	made, err := payments.MakeRun(
		b.Ctx,
		b.App,
		b.As("clerk"),
		payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill.Number}}},
	)
	require.NoError(t, err)
	b.Approve(made.Number)
	b.Later(0)
	require.NoError(t, housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0)))
	_, err = payments.TakeBackRun(b.Ctx, b.App, b.As("approver"), payments.RunEnding{Number: made.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Changed, "sent already")
	require.NoError(
		t,
		housetest.Drop(payments.DeclareLost(b.Ctx, b.App, b.As("approver"), payments.RunEnding{Number: made.Number, Reason: "the line was down"})),
	)
	require.Equal(t, trade.Released, b.State(bill.Number).State)
	b.Proved()
	answers, err := payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer"))
	require.NoError(t, err)
	require.Contains(t, answers[0].Trouble, "ask the bank before anything is paid again")
	require.Equal(t, trade.Released, b.State(bill.Number).State)
	b.Proved()
}

// A payment that comes back after the bank had debited it opens all of it again, and the account is warned of until
// somebody changes or confirms it.
func TestAPaymentComesBack(t *testing.T) {
	b := housetest.SetUp(t)
	bill, run := proposed(b, "A-1")
	b.Approve(run)
	sheet, err := views.Run(b.Ctx, b.App, run, b.Actors["reader"])
	require.NoError(t, err)
	require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "ACSC"))))
	require.Equal(t, trade.Paid, b.State(bill.Number).State)
	taken, err := payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "RJCT"))
	require.NoError(t, err)
	require.Equal(t, 1, taken.Rejected)
	require.Equal(t, trade.Released, b.State(bill.Number).State)
	require.Zero(t, b.Balance("bank")+b.Balance("in_transit"))
	require.Equal(t, money.Amount(-14_760), b.Balance("payables"))
	b.Proved()
	taken, err = payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "WHAT"))
	require.NoError(t, err)
	require.Contains(t, taken.Reasons[0], "which Lagoon does not know")

	invoice, err := views.Invoice(b.Ctx, b.App, bill.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.NotNil(t, invoice)
	warning := func() string {
		p, err := payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
		require.NoError(t, err)
		return p.Payments[0].Items[0].Warning
	}
	_, run = bill, 0
	require.NoError(t, masters.Masters(b.Ctx, b.App, b.As("admin"), "reason", func(tx *store.Tx) error {
		payments, err := tx.Payments(sheet.ID)
		require.NoError(t, err)
		return tx.SetPaymentState(payments[0].ID, store.PaymentRejected, "AC04 Closed account number")
	}))
	require.Equal(t, "AC04 Closed account number", warning())
	b.Now = b.Now.Add(time.Minute)
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.TestIBAN)))
	require.Empty(t, warning())
}

// Of all that a group's rejection does not list apart, each is rejected.
func TestAGroupIsRejected(t *testing.T) {
	a := iso20022.Answer{
		Message:  "M",
		Original: "O",
		Created:  time.Unix(0, 0),
		Group:    "RJCT",
		Payments: []iso20022.PaymentAnswer{{EndToEnd: "1", Status: "ACSC"}},
	}
	content, err := iso20022.WriteAnswer(a)
	require.NoError(t, err)
	read, err := iso20022.ReadAnswer(content)
	require.NoError(t, err)
	status, _ := read.Of("2")
	require.Equal(t, iso20022.Rejected, status)
	inInfo := strings.Replace(
		strings.Replace(string(content), "<GrpSts>RJCT</GrpSts>", "", 1),
		"</OrgnlPmtInfId>",
		"</OrgnlPmtInfId><PmtInfSts>RJCT</PmtInfSts>",
		1,
	)
	read, err = iso20022.ReadAnswer([]byte(inInfo))
	require.NoError(t, err)
	status, _ = read.Of("2")
	require.Equal(t, iso20022.Rejected, status)
	status, _ = read.Of("1")
	require.Equal(t, iso20022.Settled, status)
}

// One answer that cannot be read does not keep the others back.
func TestAnUnreadableAnswerIsSetAside(t *testing.T) {
	b := housetest.SetUp(t)
	bill, run := proposed(b, "A-1")
	b.Approve(run)
	b.Later(0)
	require.NoError(t, housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)))
	b.App.Bank = broken{b.App.Bank}
	answers, err := payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer"))
	require.NoError(t, err)
	require.Contains(t, answers[0].Trouble, "no pain.002")
	require.Equal(t, 1, answers[1].Settled)
	require.Equal(t, trade.Paid, b.State(bill.Number).State)
	b.Proved()
}

// broken is a bank that answers something else first.
type broken struct{ act.Bank }

func (b broken) Answers(ctx context.Context) ([][]byte, error) {
	answers, err := b.Bank.Answers(ctx)
	return append([][]byte{[]byte("<html>gateway timeout</html>")}, answers...), err
}
