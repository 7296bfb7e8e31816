package invoices_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// tooMuch is an invoice for 10 at 12.60 of which 8 have come, at 12.00, and no more are to come: 25.20 of goods and 4.80 of
// price are outside.
func tooMuch(b *housetest.Bench) (order, invoice int64) {
	b.T.Helper()
	order = b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "8")
	_, err := orders.CloseLines(b.Ctx, b.App, b.As("buyer"), orders.ClosingEntry{
		Lines: []orders.LineRef{{Order: order, Line: 1}}, Goods: true, Reason: "out of season",
	})
	require.NoError(b.T, err)
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12.60"))
	require.Equal(b.T, trade.Held, bill.State)
	return order, bill.Number
}

// mails gives the company an address to write from.
func mails(b *housetest.Bench) {
	b.T.Helper()
	_, err := masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
		OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "orders@test.example", Address: "Pier 1, Skerry",
	})
	require.NoError(b.T, err)
}

func claim(b *housetest.Bench, who string, e invoices.ClaimEntry) (act.Captured, error) {
	b.T.Helper()
	return invoices.ClaimInvoice(b.Ctx, b.App, b.As(who), e)
}

func claimsOn(b *housetest.Bench, invoice int64) []views.Claim {
	b.T.Helper()
	sheet, err := views.Invoice(b.Ctx, b.App, invoice, b.Actors["approver"])
	require.NoError(b.T, err)
	return sheet.Claims
}

// What agrees is paid and the rest kept back until its credit note, which the claim proposes whole.
func TestPayWhatAgrees(t *testing.T) {
	b := housetest.SetUp(t)
	mails(b)
	order, invoice := tooMuch(b)
	_, err := claim(b, "reader", invoices.ClaimEntry{Invoice: invoice})
	housetest.Refused(t, err, fault.Forbidden, "")
	_, err = claim(b, "clerk", invoices.ClaimEntry{Invoice: invoice, Version: 99})
	housetest.Refused(t, err, fault.Changed, "")

	plan, err := invoices.PlanClaim(b.Ctx, b.App, invoices.ClaimEntry{Invoice: invoice})
	require.NoError(t, err)
	require.Equal(t, []money.Amount{25_20, 4_80}, []money.Amount{plan.Lines[0].Net, plan.Lines[1].Net})
	require.Equal(t, money.Amount(154_98-36_90), plan.Owed, "30.00 with tax is not paid")
	require.Contains(t, plan.Text, "25.20")
	captured, err := claim(b, "clerk", invoices.ClaimEntry{Invoice: invoice, Note: "as agreed by telephone",
		Letter: &invoices.Letter{Way: store.ByMail, To: "desk@brackwater.example", Subject: plan.Subject, Text: plan.Text}})
	require.NoError(t, err)
	require.Equal(t, trade.Verified, captured.State)
	state := b.State(invoice)
	require.Equal(t, plan.Owed, state.Open)
	require.Equal(t, money.Amount(30_00), b.Balance("claims"))
	require.Equal(t, housetest.Dec("8"), b.Line(order).Billed)
	b.Proved()
	_, err = claim(b, "clerk", invoices.ClaimEntry{Invoice: invoice})
	housetest.Refused(t, err, fault.Invalid, "Nothing is claimed")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: invoice, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "Claim 1 stands against invoice")

	_, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{invoice})
	require.NoError(t, err)
	proposal, err := payments.Propose(b.Ctx, b.App, b.Today().Add(90), b.Today())
	require.NoError(t, err)
	require.Equal(t, plan.Owed, proposal.Payments[0].Total()+proposal.Payments[0].Items[0].Discount)

	_, note, err := views.ProposedCredit(b.Ctx, b.App, invoice)
	require.NoError(t, err)
	require.Len(t, note.Lines, 2)
	totals, err := note.Totals()
	require.NoError(t, err)
	require.Equal(t, money.Amount(36_90), totals.Total)
	e := b.Bill("BRACK", order, "C-1", "1", "1")
	e.Kind, e.Credited, e.Lines, e.StatedTotal = trade.CreditNote, "A-1", nil, "36.90"
	for _, l := range note.Lines {
		e.Lines = append(e.Lines, invoices.EntryLine{OrderLine: 1, Description: l.Description, Quantity: l.Quantity, Unit: l.Unit,
			Price: l.Price, TaxCategory: l.TaxCategory, TaxRate: l.TaxRate, Credits: l.Credits})
	}
	require.Equal(t, trade.Verified, credits(b, e))
	require.Zero(t, b.Balance("claims"))
	require.Equal(t, plan.Owed, b.State(invoice).Open, "the claim is settled, what agrees is still to be paid")
	require.False(t, claimsOn(b, invoice)[0].Open())
	b.Proved()
}

// The letter goes out as a mail with the claim as a paper.
func TestTheLetterOfAClaim(t *testing.T) {
	b := housetest.SetUp(t)
	mails(b)
	_, invoice := tooMuch(b)
	letter := &invoices.Letter{Way: store.ByMail, To: "nowhere", Subject: "s", Text: "t"}
	_, err := claim(b, "clerk", invoices.ClaimEntry{Invoice: invoice, Letter: letter})
	housetest.Refused(t, err, fault.Invalid, "no mail address")
	require.Empty(t, claimsOn(b, invoice), "nothing is half done")
	letter.To = "desk@brackwater.example"
	_, err = claim(b, "clerk", invoices.ClaimEntry{Invoice: invoice, Letter: letter})
	require.NoError(t, err)
	var content []byte
	require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) error {
		waiting, err := tx.WaitingSendings()
		if err != nil {
			return err
		}
		require.Len(t, waiting, 1)
		require.Equal(t, invoice, waiting[0].InvoiceNumber)
		_, content, err = tx.Paper(waiting[0].Mail)
		return err
	}))
	require.Contains(t, string(content), "claim-1.pdf")
	require.Contains(t, string(content), "desk@brackwater.example")
}

// A lowered claim leaves the rest accepted: it takes a note, the authority, and not one's own entry.
func TestALoweredClaim(t *testing.T) {
	b := housetest.SetUp(t)
	_, invoice := tooMuch(b)
	lines := []invoices.ClaimEntryLine{{Line: 1, For: trade.ForGoods, Quantity: housetest.Dec("2")}, {Line: 1, For: trade.ForPrice, Net: "1.80"}}
	_, err := claim(b, "clerk", invoices.ClaimEntry{Invoice: invoice, Lines: lines, Note: "half"})
	housetest.Refused(t, err, fault.Forbidden, "own")
	_, err = claim(b, "approver", invoices.ClaimEntry{Invoice: invoice, Lines: lines})
	housetest.Refused(t, err, fault.Invalid, "Say in a note why not all")
	lines[1].Net = "4.81"
	_, err = claim(b, "approver", invoices.ClaimEntry{Invoice: invoice, Lines: lines, Note: "n"})
	housetest.Refused(t, err, fault.Invalid, "At most 4.80")
	lines[1].Net = "1.80"
	captured, err := claim(b, "approver", invoices.ClaimEntry{Invoice: invoice, Lines: lines, Note: "they announced half of it"})
	require.NoError(t, err)
	require.Equal(t, trade.Verified, captured.State)
	require.Equal(t, money.Amount(27_00), b.Balance("claims"))
	require.Equal(t, money.Amount(3_00), b.Balance("price_variance"))
	b.Proved()
}

// Given up, it is owed after all, by somebody with the authority whose own entry it is not; then the invoice can be made
// void.
func TestAClaimGivenUp(t *testing.T) {
	b := housetest.SetUp(t)
	order, invoice := tooMuch(b)
	_, err := claim(b, "clerk", invoices.ClaimEntry{Invoice: invoice})
	require.NoError(t, err)
	_, err = invoices.GiveUpClaim(b.Ctx, b.App, b.As("clerk"), invoices.ClaimEnd{Claim: 1, Note: "n"})
	housetest.Refused(t, err, fault.Forbidden, "")
	_, err = invoices.GiveUpClaim(b.Ctx, b.App, b.As("approver"), invoices.ClaimEnd{Claim: 1})
	housetest.Refused(t, err, fault.Invalid, "Say in a note")
	_, err = invoices.WithdrawClaim(b.Ctx, b.App, b.As("clerk"), invoices.ClaimEnd{Claim: 1})
	housetest.Refused(t, err, fault.Refused, "Nothing of what claim 1 is about has come")
	_, err = invoices.GiveUpClaim(b.Ctx, b.App, b.As("approver"), invoices.ClaimEnd{Claim: 1, Note: "not worth a letter"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(154_98), b.State(invoice).Open)
	require.Equal(t, housetest.Dec("10"), b.Line(order).Billed)
	require.Equal(t, housetest.Dec("2"), b.Line(order).Creditable(), "taken to variance: still to be credited")
	b.Proved()
	_, err = invoices.GiveUpClaim(b.Ctx, b.App, b.As("approver"), invoices.ClaimEnd{Claim: 1, Note: "again"})
	housetest.Refused(t, err, fault.Refused, "Nothing is expected")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: invoice, Reason: "r"})
	require.NoError(t, err)
	for _, role := range []string{"claims", "price_variance", "payables"} {
		require.Zero(t, b.Balance(role), role)
	}
	b.Proved()
}

// A claim on an invoice that still waits for goods is booked once they come, and lapses where the entry is corrected.
func TestAClaimThatWaits(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10", "5")
	b.Deliver(order, "DN 1", "10")
	bill := b.Bill("BRACK", order, "A-1", "10", "12.60")
	second := b.Bill("BRACK", order, "A-1", "5", "12").Lines[0]
	second.OrderLine = 2
	bill.Lines = append(bill.Lines, second)
	bill.StatedTotal = "228.78" // 126.00 + 60.00, 23 % on both
	keyed := b.Key(bill)
	require.Equal(t, trade.Held, keyed.State)
	captured, err := claim(b, "clerk", invoices.ClaimEntry{Invoice: keyed.Number})
	require.NoError(t, err)
	require.Equal(t, trade.Waiting, captured.State, "the second line's goods are still to come")
	require.Zero(t, b.Balance("claims"))
	require.True(t, claimsOn(b, keyed.Number)[0].Pending)
	b.Proved()
	e := housetest.Count(order, "DN 2", "5")
	e.Lines[0].No = 2
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(keyed.Number).State)
	require.Equal(t, money.Amount(6_00), b.Balance("claims"))
	b.Proved()

	again := b.Order("BRACK", "10")
	other := b.Key(b.Bill("BRACK", again, "A-2", "10", "12.60"))
	_, err = claim(b, "clerk", invoices.ClaimEntry{Invoice: other.Number})
	require.NoError(t, err)
	entry := b.Bill("BRACK", again, "A-2", "10", "12.60")
	entry.Reason = "read again"
	_, err = invoices.Correct(b.Ctx, b.App, b.As("clerk"), other.Number, entry)
	require.NoError(t, err)
	require.Empty(t, claimsOn(b, other.Number))
	require.Equal(t, trade.Held, b.State(other.Number).State)
	b.Proved()
}

// What is no matter of a claim stands against it, and no more can be kept back than is to be paid.
func TestWhatCannotBeClaimed(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10").Number
	bill := b.Bill("BRACK", order, "A-1", "10", "12.60")
	bill.StatedTotal = "999.00"
	wrong := b.Key(bill)
	require.Contains(t, kinds(b, wrong.Number), finding.StatedTotal)
	_, err := claim(b, "clerk", invoices.ClaimEntry{Invoice: wrong.Number})
	housetest.Refused(t, err, fault.Refused, "That is no matter of a claim")
	_, err = invoices.Refuse(b.Ctx, b.App, b.As("approver"), invoices.Refusal{Ending: act.Ending{Invoice: wrong.Number, Reason: "r"}})
	require.NoError(t, err)

	paid := b.Key(b.Bill("BRACK", order, "A-2", "10", "12"))
	b.Pay(paid.Number)
	sendBack(b, delivery, "3")
	_, err = claim(b, "clerk", invoices.ClaimEntry{Invoice: paid.Number})
	housetest.Refused(t, err, fault.Refused, "")
	require.False(t, strings.Contains(err.Error(), "{"), "in words")
	b.Proved()
}

// Who is refused an invoice is told why, in the same act or not at all.
func TestARefusalIsTold(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	keyed := b.Key(b.Bill("BRACK", order, "A-1", "10", "13"))
	refuse := func() error {
		_, err := invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{
			Ending: act.Ending{Invoice: keyed.Number, Reason: "never delivered"}, Tell: true})
		return err
	}
	housetest.Refused(t, refuse(), fault.Invalid, "no mail address")
	require.True(t, b.State(keyed.Number).State.Unsettled(), "nothing is half done")
	mails(b)
	_, err := masters.SaveContact(b.Ctx, b.App, b.As("buyer"), "BRACK",
		store.Contact{Name: "Desk", Mail: "desk@brackwater.example", Purposes: []string{"invoicing"}})
	require.NoError(t, err)
	require.NoError(t, refuse())
	require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) error {
		waiting, err := tx.WaitingSendings()
		require.Len(t, waiting, 1)
		require.Contains(t, waiting[0].Text, "never delivered")
		require.Equal(t, keyed.Number, waiting[0].InvoiceNumber)
		return err
	}))
	b.Proved()
}
