package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/views"
)

// An invoice starts from what somebody has in the hand; what is not to be told apart is asked.
func TestAnInvoiceStartsFromWhatIsInTheHand(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 5512", "4")
	b.Deliver(order, "DN 5513", "3")
	other := b.Order("TIDEW", "5")
	e := housetest.Count(other, "DN 5512", "5")
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
	require.NoError(t, err)
	start := func(typed string) (views.Start, error) { return views.InvoiceStart(b.Ctx, b.App, typed) }
	for typed, want := range map[string]views.Start{
		"1":      {},
		"dn5513": {Order: order, Of: b.Supplier("BRACK").Name, Note: "DN 5513"},
		"KRILL":  {Item: "KRILL"},
		"BRACK":  {Supplier: "BRACK"},
	} {
		got, err := start(typed)
		if typed == "1" {
			housetest.Refused(t, err, fault.NotFound, "no order, delivery note, item or supplier")
			continue
		}
		require.NoError(t, err, typed)
		require.Equal(t, want, got, typed)
	}
	_, err = start("DN 5512")
	housetest.Refused(t, err, fault.Invalid, "of several orders")
	_, inv, err := views.Proposed(b.Ctx, b.App, order, views.WantedOf{Note: "DN 5513"})
	require.NoError(t, err)
	require.Equal(t, housetest.Dec("3"), inv.Lines[0].Quantity)
	for _, share := range []string{"-5%", "x", "0"} {
		_, _, err = views.Proposed(b.Ctx, b.App, order, views.WantedOf{Share: share})
		housetest.Refused(t, err, fault.Invalid, "is no share of an order")
	}
	b.Key(b.Bill("BRACK", order, "A-1", "7", "12"))
	_, err = start("DN 5513")
	housetest.Refused(t, err, fault.Refused, "is invoiced")
	rows, more, err := views.OpenReceipts(b.Ctx, b.App, "", "KRILL")
	require.NoError(t, err)
	require.False(t, more)
	require.Len(t, rows, 1)
	require.Equal(t, "DN 5512", rows[0].Receipt.Note)
	require.Equal(t, other, rows[0].Order.Number)
}

// A net stands in place of a quantity; what no quantity comes to is refused at its field.
func TestANetIsKeyedInPlaceOfAQuantity(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	e := b.Bill("BRACK", order, "A-1", "5", "12")
	e.Lines[0].Quantity, e.Lines[0].Net = 0, "60"
	require.Equal(t, trade.Verified, b.Key(e).State)
	require.Equal(t, housetest.Dec("5"), b.Line(order).Billed)
	e = b.Bill("BRACK", order, "A-2", "5", "12")
	e.Lines[0].Price, e.Lines[0].Net = 0, "60"
	_, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
	housetest.Refused(t, err, fault.Invalid, "Without a price")
}

// The last invoice of an order closes what is left of it: what nothing came of to both, what is here and not invoiced to
// goods until somebody takes it as free; a void opens it all again. A line that somebody opened since stays open.
func TestALastInvoiceClosesItsOrder(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10", "6", "4")
	b.Deliver(order, "DN 1", "8", "5")
	bill := func(number string) act.Captured {
		e := b.Bill("BRACK", order, number, "8", "12")
		e.Final = true
		return b.Key(e)
	}
	states := func() (all []string) {
		sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
		require.NoError(t, err)
		for _, l := range sheet.Order.Lines {
			word := map[bool]string{true: "closed", false: "open"}
			all = append(all, word[l.ClosedGoods]+" "+word[l.ClosedInvoices])
		}
		return append(all, string(sheet.Order.State))
	}
	captured := bill("A-1")
	require.Equal(t, trade.Verified, captured.State, captured.Summary)
	require.Equal(t, []string{"closed closed", "closed open", "closed closed", "issued"}, states())
	b.Proved()
	_, err := invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: captured.Number, Reason: "not the last"})
	require.NoError(t, err)
	require.Equal(t, []string{"open open", "open open", "open open", "issued"}, states())
	b.Proved()

	captured = bill("A-2")
	_, err = orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 3}}, Goods: true, Reason: "it comes after all"})
	require.NoError(t, err)
	_, err = receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), receiving.FreeEntry{Order: order, Line: 2, Note: "theirs to forget"})
	require.NoError(t, err)
	require.Equal(t, []string{"closed closed", "closed closed", "open closed", "issued"}, states())
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: captured.Number, Reason: "keyed twice"})
	require.NoError(t, err)
	require.Equal(t, []string{"open open", "closed closed", "open closed", "issued"}, states(), "what others closed or opened since stands")
	b.Proved()
}

// By receipt an invoice is of the notes that it names; an e-invoice that names no order finds it by its delivery note.
func TestAnInvoiceByReceipt(t *testing.T) {
	b := housetest.SetUp(t)
	line := housetest.Krill("10", "12")
	line.Level = trade.ByReceipt
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{line}})
	require.NoError(t, err)
	order := issued.Number
	b.Deliver(order, "DN 1", "4")
	b.Deliver(order, "DN 2", "3")
	e := b.Bill("BRACK", order, "A-1", "4", "12")
	e.Lines[0].Notes = "dn 2"
	captured := b.Key(e)
	require.Equal(t, trade.Waiting, captured.State)
	sheet, err := views.Invoice(b.Ctx, b.App, captured.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, trade.Notes{"dn 2"}, sheet.Invoice.Lines[0].Notes)
	said := b.Actors["clerk"].Printer.Finding(sheet.Findings[0])
	require.Contains(t, said, "more invoiced than received of delivery note dn 2")
	e.Lines[0].Notes, e.Reason, e.Version = "DN 1", "the other note", sheet.State.Version
	captured, err = invoices.Correct(b.Ctx, b.App, b.As("clerk"), captured.Number, e)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, captured.State)
	require.Equal(t, housetest.Dec("4"), b.Line(order).Receipts[0].Billed)
	require.Zero(t, b.Line(order).Receipts[1].Billed)
	b.Proved()
}
