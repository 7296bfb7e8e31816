package invoices_test

import (
	"bytes"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/views"
)

func useAhead(b *housetest.Bench, invoice, prepayment int64, amount string) error {
	return housetest.Drop(invoices.UseAhead(b.Ctx, b.App, b.As("clerk"),
		invoices.AheadUseEntry{Invoice: invoice, Prepayment: prepayment, Amount: money.Entered(amount)}))
}

func takeBackAhead(b *housetest.Bench, invoice, prepayment int64) error {
	return housetest.Drop(invoices.TakeBackAhead(b.Ctx, b.App, b.As("clerk"),
		invoices.AheadUseEnd{Invoice: invoice, Prepayment: prepayment, Reason: "not so"}))
}

// ahead reads what became of an invoice for money ahead.
func ahead(b *housetest.Bench, invoice int64) trade.Prepayment {
	b.T.Helper()
	p, err := act.Read(b.Ctx, b.App, func(r act.Reading) (trade.Prepayment, error) {
		id, err := r.InvoiceID(invoice)
		if err != nil {
			return trade.Prepayment{}, err
		}
		return r.Prepayment(id, 0)
	})
	require.NoError(b.T, err)
	return p
}

// Two open invoices cannot both use the same money: what one asks for is reserved for it, and freed when it ends.
func TestMoneyAheadIsUsedOnce(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	deposit := b.PaidAhead(order, "50%", "D-1") // 73.80 of 147.60
	b.Deliver(order, "DN 1", "4")
	one, two := b.Key(b.Bill("BRACK", order, "A-1", "5", "13")), b.Key(b.Bill("BRACK", order, "A-2", "3", "12")) // one is dearer, the other waits for goods
	require.NoError(t, useAhead(b, one.Number, deposit, "60.00"))
	require.True(t, fault.Is(useAhead(b, two.Number, deposit, "20.00"), fault.Invalid), "13.80 is left")
	require.NoError(t, useAhead(b, two.Number, deposit, ""))
	require.Equal(t, money.Amount(0), ahead(b, deposit).Usable())
	_, err := invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: one.Number, Reason: "too dear"}})
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, money.Amount(6000), ahead(b, deposit).Usable(), "it is free again")
	b.Proved()
}

// A correction asks anew; a verified invoice puts back just what it took; a void gives all of it back.
func TestMoneyAheadGoesBack(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	deposit := b.PaidAhead(order, "55%", "D-1")
	b.Deliver(order, "DN 1", "10")
	entry := b.Bill("BRACK", order, "A-1", "5", "12")
	bill := b.Key(entry)
	require.Equal(t, trade.Held, bill.State)
	require.NoError(t, useAhead(b, bill.Number, deposit, "24.60"))
	require.Equal(t, trade.Verified, b.StateIf(bill.Number))
	require.Equal(t, money.Amount(4920), b.State(bill.Number).Open)
	require.Error(t, housetest.Drop(invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: deposit, Reason: "r"})), "its money is used")
	require.NoError(t, takeBackAhead(b, bill.Number, deposit))
	require.Equal(t, money.Amount(7380), b.State(bill.Number).Open)
	b.Proved()

	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Contains(t, released.Left[0].Why, "was paid ahead", "nobody has said what becomes of it")
	leave := func(note string) error {
		return housetest.Drop(invoices.UseAhead(b.Ctx, b.App, b.As("clerk"),
			invoices.AheadUseEntry{Invoice: bill.Number, Prepayment: deposit, Leave: true, Note: note}))
	}
	require.True(t, fault.Is(leave(" "), fault.Invalid))
	require.NoError(t, leave("for the next one"))
	b.Proved()
	require.NoError(t, useAhead(b, bill.Number, deposit, ""), "said anew")
	require.Zero(t, b.State(bill.Number).Open)
	b.Proved()
	released, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Empty(t, released.Left)
	require.Equal(t, trade.Paid, b.StateIf(bill.Number), "nothing is owed")
	require.NoError(t, takeBackAhead(b, bill.Number, deposit), "it is in no run")
	require.Equal(t, trade.Released, b.StateIf(bill.Number))
	b.Proved()
	_, err = payments.TakeBackRelease(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: bill.Number, Reason: "r"})
	require.NoError(t, err)
	require.NoError(t, useAhead(b, bill.Number, deposit, "10.01"))
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: bill.Number, Reason: "sent twice"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(8118), ahead(b, deposit).Usable())
	b.Proved()

	entry.Number = "A-2"
	again := b.Key(entry)
	require.NoError(t, useAhead(b, again.Number, deposit, "1.00"))
	require.Equal(t, trade.Verified, b.StateIf(again.Number), b.State(again.Number).Summary)
	b.Proved()
}

// What is in a run keeps what it uses; a payment that comes back opens its money again only for the list.
func TestMoneyAheadInARun(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	deposit := b.PaidAhead(order, "50%", "D-1")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	require.NoError(t, useAhead(b, bill.Number, deposit, ""))
	run := b.Pay(bill.Number)
	require.ErrorContains(t, takeBackAhead(b, bill.Number, deposit), "in a run")
	require.NoError(t, housetest.Drop(payments.ApproveRun(b.Ctx, b.App, b.As("approver too"), run, 0)))
	require.ErrorContains(t, takeBackAhead(b, bill.Number, deposit), "stands")
	b.Proved()
}

// An agreement is changed and removed until an invoice asks for it, never beyond its order, and by whoever buys.
func TestAgreements(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	agree := func(e orders.AheadEntry) (orders.AgreedAhead, error) {
		e.Order = order
		return orders.Agree(b.Ctx, b.App, b.As("buyer"), e)
	}
	first, err := agree(orders.AheadEntry{Share: "60%", Kind: " Goods  at sea "})
	require.NoError(t, err)
	for _, share := range []string{"", "x", "-5", "0", "41%", "59.05", "1.001"} {
		_, err := agree(orders.AheadEntry{Share: share})
		require.True(t, fault.Is(err, fault.Invalid), share)
	}
	second, err := agree(orders.AheadEntry{Share: "59.04"})
	require.NoError(t, err, "all of it is paid ahead")
	_, err = agree(orders.AheadEntry{Share: "30%", Replaces: second.Number})
	require.NoError(t, err)
	_, err = agree(orders.AheadEntry{Share: "1", Replaces: second.Number})
	require.True(t, fault.Is(err, fault.Changed), "it was replaced")
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["buyer"])
	require.NoError(t, err)
	require.Equal(t, []string{"goods at sea", "deposit"}, []string{sheet.Ahead[0].Kind, sheet.Ahead[1].Kind})
	require.Equal(t, []money.Amount{8856, 4428}, []money.Amount{sheet.Ahead[0].Gross, sheet.Ahead[1].Gross})

	e := b.Bill("BRACK", order, "D-1", "1", "72") // 88.56 with tax
	e.Kind, e.Agreement, e.Lines[0].OrderLine = trade.PrepaymentInvoice, first.Number, 0
	asked := b.Key(e)
	require.Equal(t, trade.Verified, asked.State)
	remove := func(number int64) error {
		return housetest.Drop(orders.RemoveAgreement(b.Ctx, b.App, b.As("buyer"), orders.AheadEnd{Order: order, Number: number, Reason: "r"}))
	}
	require.True(t, fault.Is(remove(first.Number), fault.Refused), "it is invoiced")
	require.NoError(t, remove(sheet.Ahead[1].Agreed.Number))
	e.Number, e.Agreement, e.Date = "D-2", first.Number, e.Date.Add(-9)
	above := b.Key(e)
	require.Equal(t, trade.Held, above.State, "asked for twice")
	require.Contains(t, above.Summary, "more than agreed ahead")
	b.Proved()

	order = b.Order("BRACK", "10")
	e.Order, e.Number, e.Agreement, e.Date = order, "D-3", 0, e.Date.Add(-9)
	unknown := b.Key(e)
	require.Equal(t, trade.Held, unknown.State, "nothing is agreed on that order")
	_, err = agree(orders.AheadEntry{Share: "60%"})
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.StateIf(unknown.Number), "what is agreed since is found")
	b.Proved()
}

// Two colleagues who use the same money at once: one of them is told what is left.
func TestMoneyAheadIsRacedFor(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	deposit := b.PaidAhead(order, "50%", "D-1")
	b.Deliver(order, "DN 1", "10")
	bills := []act.Captured{b.Key(b.Bill("BRACK", order, "A-1", "5", "12")), b.Key(b.Bill("BRACK", order, "A-2", "5", "12"))}
	errs := make([]error, len(bills))
	var both sync.WaitGroup
	for i, bill := range bills {
		both.Go(func() { errs[i] = useAhead(b, bill.Number, deposit, "73.80") })
	}
	both.Wait()
	require.Equal(t, 1, len(slices.DeleteFunc(errs, func(err error) bool { return err != nil })), "%v", errs)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	b.Proved()
}

// Any sequence of agreeing, paying ahead, using, undoing, crediting, refunding and making void keeps the books: what stands
// on the asset account is what was invoiced and neither used nor credited, and in the end nothing is left.
func TestHistoriesOfMoneyAhead(t *testing.T) {
	seed := rand.Uint64()
	t.Log("seed", seed)
	random := rand.New(rand.NewPCG(seed, 1))
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "30")
	b.Deliver(order, "DN 1", "30")
	var deposits, bills []int64
	number := func(prefix string) string { return prefix + money.Int(random.Int64N(1e12)).String() }
	pick := func(from []int64) int64 { return from[random.IntN(len(from))] }
	done := map[string]int{}
	try := func(what string, err error) {
		if err == nil {
			done[what]++
			return
		}
		var no *fault.Fault
		require.ErrorAs(t, err, &no, "%s: it is refused in words", what)
	}
	deposits = append(deposits, b.PaidAhead(order, "20%", number("D")))
	tried := func() bool { return done["pay"] > 0 && done["bill"] > 0 && done["use"] > 0 }
	for step := 0; step < 90 || (step < 900 && !tried()); step++ { // further where chance left something out
		switch random.IntN(9) {
		case 0:
			if len(deposits) < 4 {
				_, asked := b.Ahead(order, "15%", number("D"))
				deposits = append(deposits, asked)
			}
		case 1:
			_, err := payments.SettleOtherwise(b.Ctx, b.App, b.As("treasurer"), payments.OtherwiseEntry{Invoice: pick(deposits), Way: "bank", Reference: "s"})
			try("pay", err)
		case 2:
			e := b.Bill("BRACK", order, number("A"), "3", "12")
			e.Date = e.Date.Add(-random.IntN(200))
			captured, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
			if err == nil {
				bills = append(bills, captured.Number)
			}
			try("bill", err)
		case 3, 4:
			if len(bills) > 0 {
				amount := ""
				if random.IntN(2) == 0 {
					amount = money.Amount(1 + random.Int64N(2500)).Text("EUR")
				}
				try("use", useAhead(b, pick(bills), pick(deposits), amount))
			}
		case 5:
			if len(bills) > 0 {
				try("take back", takeBackAhead(b, pick(bills), pick(deposits)))
			}
		case 6:
			if len(bills) > 0 && random.IntN(3) == 0 {
				_, err := invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: pick(bills), Reason: "r"})
				try("void", err)
			}
		case 7:
			if p := ahead(b, pick(deposits)); random.IntN(4) == 0 && p.Left() > 0 {
				try("credit", creditAhead(b, p, number("C")))
			}
		case 8:
			list, err := views.Payments(b.Ctx, b.App)
			require.NoError(t, err)
			for _, c := range list.Credits {
				_, err := payments.SettleOtherwise(b.Ctx, b.App, b.As("treasurer"), payments.OtherwiseEntry{Invoice: c.Number, Way: "bank", Reference: "back"})
				try("refund", err)
			}
		}
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
	}
	b.Proved()
	for _, what := range []string{"pay", "bill", "use"} {
		require.Positive(t, done[what], "%v", done)
	}
	list, err := views.Ahead(b.Ctx, b.App)
	require.NoError(t, err)
	for _, k := range list.Kinds {
		require.Equal(t, k.Booked, k.Left, "the list says what the ledger says")
	}
	for _, d := range deposits { // what is left is credited, whatever was used
		for range 20 {
			if p := ahead(b, d); p.Left()-p.Reserved > 0 {
				try("credit", creditAhead(b, p, number("C")))
			}
		}
		p := ahead(b, d)
		require.Equal(t, p.Reserved, p.Left())
	}
	b.Proved()
}

// creditAhead keys the credit note over what is left of money ahead.
func creditAhead(b *housetest.Bench, p trade.Prepayment, number string) error {
	left := p.Left() - p.Reserved
	net := left
	e := b.Bill("BRACK", 0, number, "1", net.Text("EUR"))
	for ; ; net-- { // at most what is left, to the cent
		e.Lines[0].Price = housetest.Dec(net.Text("EUR"))
		e.StatedTotal = b.Total(e)
		if total, err := e.StatedTotal.In("EUR"); err != nil || total <= left {
			break
		}
	}
	e.Kind, e.Credited, e.Order, e.Lines[0].OrderLine = trade.CreditNote, p.SupplierNumber, 0, 0
	captured, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
	if err == nil {
		require.Equal(b.T, trade.Verified, captured.State, captured.Summary)
	}
	return err
}

// A prepayment invoice that comes as a file finds its order and agreement, and is verified by itself.
func TestAPrepaymentInvoiceAsAFile(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	_, err := orders.Agree(b.Ctx, b.App, b.As("buyer"), orders.AheadEntry{Order: order, Share: "50%"})
	require.NoError(t, err)
	content := housetest.EInvoice(order, "D-77", 5) // 73.80
	captured, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), act.File{Name: "d.xml", Content: bytes.Replace(content, []byte("380"), []byte("386"), 1)})
	require.NoError(t, err)
	require.Equal(t, trade.PrepaymentInvoice, captured.Kind)
	require.Equal(t, trade.Verified, captured.State, captured.Summary)
	require.Equal(t, money.Amount(6000), b.Balance("prepayments"))
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["buyer"])
	require.NoError(t, err)
	require.Zero(t, sheet.Order.Lines[0].Billed, "it bills nothing of the order")
	b.Proved()
}

// Money ahead on an order that has ended is somebody's turn until it is credited; what opens the order again, or takes the
// payment back, ends that.
func TestMoneyThatNothingCanUseIsSomebodysTurn(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	deposit := b.PaidAhead(order, "50%", "D-1")
	turns := func() int64 {
		c, err := views.CourseOf(b.Ctx, b.App, b.Actors["clerk"])
		require.NoError(t, err)
		b.Proved()
		return c.Payments
	}
	require.Zero(t, turns())
	require.NoError(t, housetest.Drop(orders.Cancel(b.Ctx, b.App, b.As("buyer"), order, 0, "they cannot deliver")))
	require.EqualValues(t, 1, turns())
	require.Equal(t, "money ahead never used", b.State(deposit).Summary)
	settled, err := views.Invoice(b.Ctx, b.App, deposit, b.Actors["treasurer"])
	require.NoError(t, err)
	require.NoError(t, housetest.Drop(payments.TakeBackSettled(b.Ctx, b.App, b.As("treasurer"), payments.SettledEnd{Number: settled.Settlements[0].Number, Reason: "not ours"})))
	require.Zero(t, turns(), "nothing is paid")
	b.Settle(deposit)
	require.EqualValues(t, 1, turns())
	require.NoError(t, creditAhead(b, ahead(b, deposit), "C-1"))
	require.Zero(t, turns(), "it is credited")

	other := b.Order("BRACK", "10")
	b.PaidAhead(other, "40%", "D-2")
	b.Deliver(other, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", other, "A-1", "10", "12"))
	require.NoError(t, housetest.Drop(invoices.UseAhead(b.Ctx, b.App, b.As("clerk"), invoices.AheadUseEntry{Invoice: bill.Number, Prepayment: bill.Number - 1, Leave: true, Note: "refunded"})))
	require.EqualValues(t, 1, turns(), "the last invoice closed its order and left the money")
	require.NoError(t, invoices.SeeUnused(b.Ctx, b.App))
	require.EqualValues(t, 1, turns())
	_, err = b.ByHand().Exec(`UPDATE invoice_state SET summary = '', turn = '' WHERE summary = 'money ahead never used'`)
	require.NoError(t, err)
	require.NoError(t, invoices.SeeUnused(b.Ctx, b.App), "what an earlier version left")
	require.EqualValues(t, 1, turns())
	require.NoError(t, useAhead(b, bill.Number, bill.Number-1, ""))
	require.Zero(t, turns(), "and it is used after all")
}

// The credit note of money ahead is matched again when what is left of that changes.
func TestTheCreditOfMoneyAheadIsMatchedAgain(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	deposit := b.PaidAhead(order, "50%", "D-1")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "5", "12"))
	require.NoError(t, useAhead(b, bill.Number, deposit, ""))
	e := b.Bill("BRACK", 0, "C-1", "1", "60")
	e.Kind, e.Credited, e.Order, e.Lines[0].OrderLine = trade.CreditNote, "D-1", 0, 0
	credit := b.Key(e)
	require.Equal(t, trade.Held, credit.State, credit.Summary)
	b.Proved()
	require.NoError(t, takeBackAhead(b, bill.Number, deposit))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.StateIf(credit.Number))
	b.Proved()
}

// The credit note of money ahead is proposed with what is left of it, and agrees as it is proposed.
func TestTheCreditNoteOfMoneyAheadIsProposed(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10") // 147.60 with tax
	deposit := b.PaidAhead(order, "50%", "D-1")
	b.Deliver(order, "DN 1", "4")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "4", "12")) // 59.04
	require.NoError(t, useAhead(b, bill.Number, deposit, "29.52"))
	of, note, err := views.ProposedCredit(b.Ctx, b.App, deposit)
	require.NoError(t, err)
	require.Equal(t, order, of.Number)
	totals, err := note.Totals()
	require.NoError(t, err)
	require.Equal(t, money.Amount(4428), totals.Total, "what is not used")
	e := b.Bill("BRACK", order, "C-1", "1", "1")
	e.Kind, e.Credited, e.StatedTotal, e.Lines = trade.CreditNote, note.Credited, "44.28", nil
	for _, l := range note.Lines {
		e.Lines = append(e.Lines, invoices.EntryLine{
			Description: l.Description, Unit: l.Unit, Quantity: l.Quantity, Price: l.Price, TaxCategory: l.TaxCategory, TaxRate: l.TaxRate,
		})
	}
	credit := b.Key(e)
	require.Equal(t, trade.Verified, credit.State, credit.Summary)
	_, _, err = views.ProposedCredit(b.Ctx, b.App, deposit)
	housetest.Refused(t, err, fault.Refused, "Nothing is left of the money ahead")
	b.Proved()
}
