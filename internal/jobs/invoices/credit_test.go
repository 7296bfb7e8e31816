package invoices_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// credited is a credit note of an invoice, as a clerk keys it.
func credited(b *housetest.Bench, order int64, number, invoice, quantity, price string) invoices.Entry {
	e := b.Bill("BRACK", order, number, quantity, price)
	e.Kind, e.Credited = trade.CreditNote, invoice
	return e
}

func sendBack(b *housetest.Bench, delivery int64, quantity string) receiving.Booked {
	return b.Returned(receive.ReturnEntry{Delivery: delivery, Day: b.Today(), Outcome: receive.Credit, Reason: "torn",
		Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec(quantity)}}})
}

func credits(b *housetest.Bench, e invoices.Entry) trade.InvoiceState {
	b.T.Helper()
	captured, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
	require.NoError(b.T, err)
	return captured.State
}

// What is proposed of a return or an invoice verifies as it is keyed, once; a credit note is not released, its void gives
// back just what it took, and what was invoiced again stands against that.
func TestACreditNoteFromAReturn(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10").Number
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	_, _, err := views.ProposedReturnCredit(b.Ctx, b.App, delivery)
	housetest.Refused(t, err, fault.Refused, "Nothing of return")
	back := sendBack(b, delivery, "3").Number
	_, note, err := views.ProposedReturnCredit(b.Ctx, b.App, back)
	require.NoError(t, err)
	require.Equal(t, "A-1", note.Credited)
	require.Equal(t, housetest.Dec("3"), note.Lines[0].Quantity)
	require.Equal(t, trade.ForGoods, note.Lines[0].Credits)
	grni := b.Balance("grni")
	require.Equal(t, money.Amount(36_00), grni, "what went back and was invoiced")

	keyed, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), credited(b, order, "C-1", "A-1", "3", "12"))
	require.NoError(t, err)
	require.Equal(t, trade.Verified, keyed.State)
	require.Zero(t, b.Balance("grni"))
	require.Equal(t, money.Amount(-44_28), b.State(keyed.Number).Open, "36.00 with tax")
	_, _, err = views.ProposedReturnCredit(b.Ctx, b.App, back)
	housetest.Refused(t, err, fault.Refused, "Nothing of return")
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), credited(b, order, "C-1", "A-1", "3", "12"))
	housetest.Refused(t, err, fault.Duplicate, "Credit note C-1")
	require.Equal(t, trade.Waiting, credits(b, credited(b, order, "C-2", "A-1", "1", "12")), "for one more that goes back")
	b.Proved()

	answer, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{keyed.Number})
	require.NoError(t, err)
	require.Len(t, answer.Left, 1)
	require.Contains(t, answer.Left[0].Why, "is not paid")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: bill.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "Credit note C-1")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: keyed.Number, Reason: "keyed twice"})
	require.NoError(t, err)
	require.Equal(t, grni, b.Balance("grni"))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	b.Proved()
	require.Equal(t, housetest.Dec("9"), b.Line(order).Billed, "the one that waited has moved on by itself")
}

// Where what was credited has come back and was invoiced once more, the credit note stands.
func TestACreditNoteUnderAnotherInvoiceStands(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10").Number
	b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	back := sendBack(b, delivery, "3").Number
	note := b.Key(credited(b, order, "C-1", "A-1", "3", "12"))
	_, err := receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: back, Reason: "never left"})
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.Key(b.Bill("BRACK", order, "A-2", "3", "12")).State)
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: note.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "invoiced again")
	b.Proved()
}

// An e-invoice of kind 381 finds its order by the invoice that it names, in whatever order the two come; an invoice
// below zero is a credit note, too.
func TestCreditNotesAsFiles(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10").Number
	note := einvoice(b, "<cbc:InvoiceTypeCode>380<", "<cbc:InvoiceTypeCode>381<")
	text := string(note.Content)
	from, until := strings.Index(text, "<cac:OrderReference>"), strings.Index(text, "</cac:OrderReference>")
	require.Positive(t, from)
	text = text[:from] + "<cac:BillingReference><cac:InvoiceDocumentReference><cbc:ID>A-1</cbc:ID></cac:InvoiceDocumentReference></cac:BillingReference>" + text[until+len("</cac:OrderReference>"):]
	early, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), act.File{Name: "c.xml", Content: []byte(text)})
	require.NoError(t, err)
	require.Equal(t, finding.InvoiceAwaited, kinds(b, early.Number)[0])
	b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	sheet, err := views.Invoice(b.Ctx, b.App, early.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, trade.CreditNote, sheet.Invoice.Kind)
	require.Equal(t, order, sheet.Orders[0].Number, "of the invoice that it names")
	require.NotContains(t, kinds(b, early.Number), finding.InvoiceAwaited)
	require.Equal(t, housetest.Dec("10"), sheet.Credit[1].Invoiced)
	require.Equal(t, trade.Waiting, sheet.State.State, "for the goods to go back")
	sendBack(b, delivery, "10")
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(early.Number).State)
	require.Zero(t, b.Balance("grni"))

	below := einvoice(b, ">A-77<", ">B-9<", ">147.60<", ">-147.60<", ">10<", ">-10<", ">120.00<", ">-120.00<", "PO ORDER", fmt.Sprint(order))
	turned, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), below)
	require.NoError(t, err)
	sheet, err = views.Invoice(b.Ctx, b.App, turned.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, trade.CreditNote, sheet.Invoice.Kind)
	require.Equal(t, housetest.Dec("10"), sheet.Invoice.Lines[0].Quantity)
	require.Equal(t, money.Amount(147_60), sheet.Invoice.StatedTotal)
	require.Equal(t, []finding.Kind{finding.Creditable}, kinds(b, turned.Number), "its figures add up; all is credited already")
	b.Proved()
}

// A credit note's own net and tax go at the rate of the invoice that it credits, so that both come to nothing in the books;
// its payables stand at its own rate, and the rest is exchange difference (rules §5).
func TestACreditNoteAtAnotherRate(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("TIDEW", "10")
	delivery := b.Deliver(order, "DN 1", "10").Number
	require.Equal(t, trade.Verified, b.Key(b.Bill("TIDEW", order, "T-1", "10", "12")).State)
	sendBack(b, delivery, "10")
	b.Later(1)
	_, err := masters.SetRate(b.Ctx, b.App, b.As("treasurer"), store.ExchangeRate{Currency: "USD", Day: b.Today(), Rate: housetest.Dec("0.5")})
	require.NoError(t, err)
	note := b.Bill("TIDEW", order, "TC-1", "10", "12")
	note.Kind, note.Credited, note.Date = trade.CreditNote, "T-1", b.Today()
	require.Equal(t, trade.Verified, credits(b, note))
	for _, role := range []string{"input_tax", "price_variance", "grni"} {
		require.Zero(t, b.Balance(role), role)
	}
	require.Equal(t, b.Balance("payables"), -b.Balance("exchange_difference"), "what the two rates make")
	require.NotZero(t, b.Balance("payables"))
	b.Proved()
}

// mixed is an invoice with lines of quantity and price about line 1 of an order, below zero among them.
func mixed(b *housetest.Bench, order int64, number string, lines ...[2]string) invoices.Entry {
	e := b.Bill("BRACK", order, number, lines[0][0], lines[0][1])
	for _, l := range lines[1:] {
		line := e.Lines[0]
		line.Quantity, line.Price = housetest.Dec(l[0]), housetest.Dec(l[1])
		e.Lines = append(e.Lines, line)
	}
	e.StatedTotal = b.Total(e)
	return e
}

// What an invoice credits itself at the same price is not billed (10 and −2 is 8); a line below zero that finds nothing
// there takes back what an earlier invoice billed, and waits where goods have to go back first.
func TestCreditLinesInsideAnInvoice(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "20")
	delivery := b.Deliver(order, "DN 1", "8").Number
	require.Equal(t, trade.Verified, b.Key(mixed(b, order, "A-1", [2]string{"10", "12"}, [2]string{"-2", "12"})).State)
	require.Equal(t, housetest.Dec("8"), b.Line(order).Billed)
	require.Zero(t, b.Balance("grni"))
	require.Equal(t, -b.State(1001).Open, b.Balance("payables"))
	b.Proved()

	sendBack(b, delivery, "3")
	b.Deliver(order, "DN 2", "5")
	more := b.Key(mixed(b, order, "A-2", [2]string{"5", "12.1"}, [2]string{"-3", "12"}))
	require.Equal(t, trade.Verified, more.State, "five more, three of the first back")
	require.Equal(t, housetest.Dec("10"), b.Line(order).Billed)
	require.Zero(t, b.Balance("grni"))
	b.Proved()
	waits := b.Key(mixed(b, order, "A-3", [2]string{"-1", "12"}, [2]string{"2", "12.1"}))
	require.NotEqual(t, trade.Verified, waits.State)
	require.Contains(t, kinds(b, waits.Number), finding.Creditable)
	b.Proved()
	_, err := invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: more.Number, Reason: "keyed twice"})
	require.NoError(t, err)
	require.Equal(t, housetest.Dec("8"), b.Line(order).Billed)
	require.Equal(t, money.Amount(-24_00), b.Balance("grni"), "five are here uninvoiced, three went back that are billed")
	b.Proved()
	e := mixed(b, order, "C-1", [2]string{"2", "12"}, [2]string{"-1", "12"})
	e.Kind = trade.CreditNote
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
	housetest.Refused(t, err, fault.Invalid, "below zero")
}

// A debit note that is corrected stays one: its entry still names the invoice whose prices it changes.
func TestADebitNoteIsCorrectedAsOne(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	e := credited(b, order, "D-1", "A-1", "10", "1")
	e.Kind, e.StatedTotal = trade.Adjustment, "1.00"
	note := b.Key(e)
	require.Equal(t, trade.Held, note.State)
	e.Kind, e.Credited, e.Reason, e.StatedTotal = "", "", "read again", b.Total(e)
	_, err := invoices.Correct(b.Ctx, b.App, b.As("clerk"), note.Number, e)
	housetest.Refused(t, err, fault.Invalid, "whose prices it adjusts")
	e.Credited = "A-1"
	_, err = invoices.Correct(b.Ctx, b.App, b.As("clerk"), note.Number, e)
	require.NoError(t, err)
	b.Proved()
}
