package invoices_test

import (
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
	"lagoon/internal/views"
)

// cost is an invoice of one line without an order, 23 % on it.
func cost(b *housetest.Bench, number, net, budget string) invoices.Entry {
	e := b.Bill("BRACK", 0, number, "1", net)
	e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget, e.Lines[0].Description = 0, 0, budget, "Water analysis"
	e.StatedTotal = b.Total(e)
	return e
}

// An invoice without an order waits for somebody whose authority covers it and whose own entry it is not; a correction ends
// the approval, and its void takes all of it back.
func TestAnInvoiceWithoutAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	for budget, sentence := range map[string]string{
		"NOPE": "There is no budget", "FEED 60": "come to 60 %, not to 100", "FEED 60, SHOP 60": "come to 120 %", "FEED, SHOP": "Say the per cent",
		"FEED 0, SHOP 100": "above zero",
	} {
		_, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), cost(b, "W-0", "100", budget))
		housetest.Refused(t, err, fault.Invalid, sentence)
	}
	keyed := b.Key(cost(b, "W-1", "100.01", "shop 60, feed"))
	require.Equal(t, trade.Held, keyed.State)
	require.Equal(t, []finding.Kind{finding.ApprovalMissing}, kinds(b, keyed.Number))
	approve := func(who string) (act.Captured, error) {
		return invoices.ApproveInvoice(b.Ctx, b.App, b.As(who), invoices.ApprovalEntry{Invoice: keyed.Number, Note: "as agreed"})
	}
	_, err := approve("clerk")
	housetest.Refused(t, err, fault.Forbidden, "")
	_, err = invoices.PassApproval(b.Ctx, b.App, b.As("clerk"), invoices.ApprovalEntry{Invoice: keyed.Number, To: "receiver"})
	housetest.Refused(t, err, fault.Invalid, "no approver")
	_, err = invoices.PassApproval(b.Ctx, b.App, b.As("clerk"), invoices.ApprovalEntry{Invoice: keyed.Number, To: "nobody"})
	housetest.Refused(t, err, fault.Invalid, "nobody called")
	_, err = invoices.PassApproval(b.Ctx, b.App, b.As("clerk"), invoices.ApprovalEntry{Invoice: keyed.Number, To: "approver", Note: "yours"})
	require.NoError(t, err)
	sheet, err := views.Invoice(b.Ctx, b.App, keyed.Number, b.Actors["approver"])
	require.NoError(t, err)
	require.Equal(t, "yours", sheet.Coded.Passed.Note)
	require.NotEmpty(t, sheet.Coded.Approvers)

	captured, err := approve("approver")
	require.NoError(t, err)
	require.Equal(t, trade.Verified, captured.State)
	require.Equal(t, money.Amount(60_01), b.Balance("expense"), "60.006, the cent to the larger rest")
	require.Equal(t, money.Amount(40_00), b.Balance("stock"))
	b.Proved()
	_, err = approve("approver")
	housetest.Refused(t, err, fault.Refused, "waits for no approval")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: keyed.Number, Reason: "not ours"})
	require.NoError(t, err)
	require.Zero(t, b.Balance("expense"))
	b.Proved()

	again := b.Key(func() invoices.Entry { e := cost(b, "W-2", "100", "SHOP"); e.StatedTotal = "1"; return e }())
	_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: again.Number})
	require.NoError(t, err)
	require.Equal(t, []finding.Kind{finding.StatedTotal}, kinds(b, again.Number), "approved, and still wrong")
	entry := cost(b, "W-2", "100", "SHOP")
	entry.Reason = "the total was read wrongly"
	corrected, err := invoices.Correct(b.Ctx, b.App, b.As("clerk"), again.Number, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, corrected.State, "a correction ends the approval")
	b.Proved()
}

// Nobody approves above their authority, and not through another what is their own.
func TestAnApprovalTakesTheAuthority(t *testing.T) {
	b := housetest.SetUp(t)
	limit := b.Actors["approver"].Authority
	dear := b.Key(cost(b, "W-1", (limit + 1).Text("EUR"), "SHOP"))
	_, err := invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: dear.Number})
	housetest.Refused(t, err, fault.Forbidden, "your authority is")
	exact := b.Key(cost(b, "W-2", limit.Text("EUR"), "SHOP"))
	_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: exact.Number})
	require.NoError(t, err)
	entry := cost(b, "W-3", "10", "SHOP")
	own, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), entry)
	require.NoError(t, err)
	entry.Reason = "r"
	_, err = invoices.Correct(b.Ctx, b.App, b.As("approver"), own.Number, entry)
	require.NoError(t, err)
	_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: own.Number})
	housetest.Refused(t, err, fault.Forbidden, "your own")
}

// A credit note gives back at most what its invoice charged and is charged alike; one that names none is free, and is
// approved.
func TestCreditsWithoutAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	bill := b.Key(cost(b, "W-1", "300", "SHOP"))
	_, err := invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: bill.Number})
	require.NoError(t, err)
	note := func(number, net, of string) act.Captured {
		e := cost(b, number, net, "SHOP")
		e.Kind, e.Credited = trade.CreditNote, of
		return b.Key(e)
	}
	require.Equal(t, trade.Verified, note("C-1", "120", "W-1").State)
	more := note("C-2", "200", "W-1")
	require.Equal(t, []finding.Kind{finding.Creditable}, kinds(b, more.Number))
	require.Equal(t, trade.Held, note("C-3", "1", "W-1").State, "the other one claims it all")
	free := note("C-4", "5", "")
	require.Equal(t, []finding.Kind{finding.ApprovalMissing}, kinds(b, free.Number))
	_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: free.Number})
	require.NoError(t, err)
	require.Equal(t, money.Amount(175_00), b.Balance("expense"))
	b.Proved()
}

// A month that is closed while an approval is open does not keep the invoice: it is posted on the first open day.
func TestAMonthIsClosedWhileAnApprovalIsOpen(t *testing.T) {
	b := housetest.SetUp(t)
	e := b.Bill("BRACK", 0, "W-1", "1", "1")
	e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget = 0, 0, "SHOP"
	keyed := b.Key(e)
	require.Equal(t, trade.Held, keyed.State)
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), b.Today().Month()))
	require.NoError(t, housetest.Drop(invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: keyed.Number})))
	sheet, err := views.Invoice(b.Ctx, b.App, keyed.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, trade.Verified, sheet.State.State)
	require.Equal(t, b.Today().EndOfMonth().Add(1), sheet.Entries[0].PostedOn)
	b.Proved()
}

// An invoice about an order that waits for its approver is held and says so; once the order is approved it moves on by
// itself.
func TestAnInvoiceOfAnOrderThatWaits(t *testing.T) {
	b := housetest.SetUp(t)
	buyer := housetest.With(b.Actors["reader"], "buyer")
	buyer.Authority = 0
	order, err := orders.Issue(b.Ctx, b.App, act.Command{Actor: buyer}, orders.Entry{
		Supplier: "BRACK", WantedOn: b.Today(), Lines: []orders.EntryLine{housetest.Krill("10", "12")},
	})
	require.NoError(t, err)
	keyed := b.Key(b.Bill("BRACK", order.Number, "E-1", "10", "12"))
	require.Equal(t, trade.Held, keyed.State)
	sheet, err := views.Invoice(b.Ctx, b.App, keyed.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Contains(t, b.Actors["clerk"].Printer.Finding(sheet.Findings[0]), "is waiting for an approver; an invoice is matched against an issued order only.")
	require.NoError(t, housetest.Drop(orders.Approve(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: order.Number})))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Waiting, b.State(keyed.Number).State, "for its goods")
	b.Proved()
}
