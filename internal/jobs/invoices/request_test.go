package invoices_test

import (
	"bytes"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// requesting is a Lagoon whose company pays money ahead on its own request, with a share agreed on an order.
func requesting(t *testing.T, supplier, share string) (b *housetest.Bench, order, agreement int64) {
	t.Helper()
	b = housetest.SetUp(t)
	b.LetsGo(masters.ReleaseEntry{Requests: true})
	order = b.Order(supplier, "10")
	agreed, err := orders.Agree(b.Ctx, b.App, b.As("buyer"), orders.AheadEntry{Order: order, Share: share})
	require.NoError(t, err)
	return b, order, agreed.Number
}

func request(b *housetest.Bench, order, agreement int64) (act.Captured, error) {
	return invoices.RequestAhead(b.Ctx, b.App, b.As("buyer"), invoices.RequestEntry{Order: order, Agreement: agreement})
}

// requested is a request for all that is agreed.
func requested(b *housetest.Bench, order, agreement int64) int64 {
	b.T.Helper()
	made, err := request(b, order, agreement)
	require.NoError(b.T, err)
	require.Equal(b.T, trade.Verified, made.State, made.Summary)
	return made.Number
}

// Money ahead is paid on our own request only where the company allows it, once, whole, and by others than who asked.
func TestRequestForMoneyAhead(t *testing.T) {
	b, order, agreement := requesting(t, "BRACK", "50%")
	b.LetsGo(masters.ReleaseEntry{})
	_, err := request(b, order, agreement)
	housetest.Refused(t, err, fault.Refused, "without the supplier's invoice")
	b.LetsGo(masters.ReleaseEntry{Requests: true})
	number := requested(b, order, agreement)
	require.Zero(t, b.Balance("prepayments")+b.Balance("payables"), "nothing is owed before it is paid")
	b.Proved()
	_, err = request(b, order, agreement)
	housetest.Refused(t, err, fault.Refused, "requested already")
	_, err = orders.RemoveAgreement(b.Ctx, b.App, b.As("buyer"), orders.AheadEnd{Order: order, Number: agreement, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "requested already")
	own, err := payments.ReleaseInvoices(b.Ctx, b.App, act.Command{Actor: housetest.With(b.Actors["buyer"], "approver")}, []int64{number})
	require.NoError(t, err)
	require.Len(t, own.Left, 1, "nobody releases what they asked for")

	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: number, Reason: "they send an invoice"})
	require.NoError(t, err)
	b.Proved()
	number = requested(b, order, agreement)
	_, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{number})
	require.NoError(t, err)
	part := payments.RunEntry{DueBy: b.Today(), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: number, Amount: new(housetest.Dec("10.00"))}}}
	_, err = payments.MakeRun(b.Ctx, b.App, b.As("clerk"), part)
	housetest.Refused(t, err, fault.Invalid, "paid whole")
	_, err = payments.SettleOtherwise(b.Ctx, b.App, b.As("treasurer"), payments.OtherwiseEntry{Invoice: number, Way: "bank", Amount: "10", Reference: "r"})
	housetest.Refused(t, err, fault.Invalid, "paid whole")
	settled := b.Settle(number)
	require.Equal(t, money.Amount(7380), b.Balance("prepayments"))
	b.Proved()
	_, err = payments.TakeBackSettled(b.Ctx, b.App, b.As("treasurer"), payments.SettledEnd{Number: settled, Reason: "another supplier"})
	require.NoError(t, err)
	require.Zero(t, b.Balance("prepayments"))
	b.Proved()
}

// An invoice that comes before the money is paid waits, so that it is not paid twice; then it takes the request's place and
// brings the tax. Made void, it gives the money back to the request.
func TestAnInvoiceTakesThePlaceOfARequest(t *testing.T) {
	b, order, agreement := requesting(t, "BRACK", "50%")
	number := requested(b, order, agreement)
	e := b.Bill("BRACK", order, "D-1", "1", "60")
	e.Kind, e.Agreement, e.Lines[0].OrderLine = trade.PrepaymentInvoice, agreement, 0
	e.StatedTotal = b.Total(e)
	early := b.Key(e)
	require.Equal(t, trade.Waiting, early.State)
	require.Equal(t, "waits for our payment", early.Summary)
	b.Proved()
	b.Settle(number)
	require.Equal(t, trade.Verified, b.StateIf(early.Number))
	require.Zero(t, b.State(early.Number).Open, "it is paid already")
	require.Equal(t, money.Amount(1380), b.Balance("input_tax"))
	require.Equal(t, money.Amount(6000), b.Balance("prepayments"))
	require.Zero(t, b.Balance("payables"))
	require.Equal(t, money.Amount(7380), ahead(b, early.Number).Usable())
	require.Zero(t, ahead(b, number).Usable())
	b.Proved()
	list, err := views.Ahead(b.Ctx, b.App)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{7380, 7380, 7380, 0}, []money.Amount{list.Rows[0].Invoiced, list.Rows[0].Requested, list.Rows[0].Paid, list.Rows[0].Used})

	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: early.Number, Reason: "of another order"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(7380), b.Balance("prepayments"))
	b.Proved()
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	require.NoError(t, useAhead(b, bill.Number, number, ""), "and without one it is used as it is")
	require.Equal(t, money.Amount(7380), b.State(bill.Number).Open)
	require.Equal(t, money.Amount(2760), b.Balance("input_tax"), "the last invoice claims all of the tax")
	require.Zero(t, b.Balance("prepayments"))
	b.Proved()
}

// Abroad a request is worth what its payment was; what came back is paid again at another rate, and what was used of it then
// at what it was worth.
func TestARequestAbroad(t *testing.T) {
	b, order, agreement := requesting(t, "TIDEW", "100%")
	number := requested(b, order, agreement)
	currency := b.State(number).Currency
	rate := func(text string) {
		b.Later(1)
		require.NoError(t, housetest.Drop(masters.SetRate(b.Ctx, b.App, b.As("admin"), store.ExchangeRate{Currency: currency, Day: b.Today(), Rate: housetest.Dec(text)})))
	}
	send := func() (run int64) {
		made, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{DueBy: b.Today(), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: number}}})
		require.NoError(t, err)
		again := b.Approve(made.Number)
		require.Empty(t, again.Changes)
		require.NoError(t, housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0)))
		return made.Number
	}
	answers := 0
	answer := func(run int64, code string) {
		answers++
		sheet, err := views.Run(b.Ctx, b.App, run, b.Actors["reader"])
		require.NoError(t, err)
		said := housetest.Answer(sheet.Run, code)
		said.Content = bytes.Replace(said.Content, []byte("B-"+code), fmt.Appendf(nil, "B-%d", answers), 1)
		require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), said)))
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
		b.Proved()
	}
	_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{number})
	require.NoError(t, err)
	rate("1.10")
	answer(send(), "RJCT")
	require.Zero(t, b.Balance("prepayments"))
	rate("1.20")
	run := send()
	require.Zero(t, ahead(b, number).Usable(), "it is on its way")
	answer(run, "ACSC")
	paid := b.Balance("prepayments")
	total := b.State(number).Total
	worth, err := total.Convert(housetest.Dec("1.20"), currency, "EUR")
	require.NoError(t, err)
	require.Equal(t, worth, paid)
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("TIDEW", order, "T-1", "10", "12"))
	require.NoError(t, useAhead(b, bill.Number, number, ""))
	require.Zero(t, b.Balance("prepayments")+b.Balance("payables"))
	b.Proved()

	answer(run, "RJCT") // it comes back after it was used
	require.Equal(t, -paid, b.Balance("prepayments"))
	require.NotZero(t, b.State(number).Open)
	rate("1.30")
	answer(send(), "ACSC")
	require.Zero(t, b.Balance("prepayments"), "what was used keeps its worth; the rest is exchange difference")
	b.Proved()
}

// What is never used comes back: a credit note for the request, and its refund.
func TestARequestIsRefunded(t *testing.T) {
	b, order, agreement := requesting(t, "BRACK", "50%")
	number := requested(b, order, agreement)
	b.Settle(number)
	e := b.Bill("BRACK", 0, "C-1", "1", "73.80")
	e.Kind, e.Credited, e.Order = trade.CreditNote, fmt.Sprintf("Order %d, deposit %d", order, agreement), 0
	e.Lines[0].OrderLine, e.Lines[0].TaxCategory, e.Lines[0].TaxRate = 0, "O", 0
	e.StatedTotal = "73.80"
	credit := b.Key(e)
	require.Equal(t, trade.Verified, credit.State, credit.Summary)
	require.Zero(t, b.Balance("prepayments"))
	b.Proved()
	b.Settle(credit.Number)
	require.Zero(t, b.Balance("payables")+b.Balance("bank"))
	b.Proved()
}
