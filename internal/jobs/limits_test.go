package jobs

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/trade"
)

// Limits and match level are nobody's by-the-way: they are changed with a reason by buyer
// and administrator, and not beside something else on a master.
func TestLimitsAreAJobOfTheirOwn(t *testing.T) {
	b := setUp(t)
	much := dec("5000")
	wide := limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}
	e := b.asking()
	e.Limits = wide
	_, err := b.app.SaveSupplier(b.ctx, b.as("clerk"), e)
	refused(t, err, fault.Forbidden, "changed by themselves")
	e = b.asking()
	e.Supplier.Level = trade.TwoWay
	_, err = b.app.SaveSupplier(b.ctx, b.as("clerk"), e)
	refused(t, err, fault.Forbidden, "changed by themselves")
	e = SupplierEntry{OnTheFly: true, Supplier: trade.Supplier{Code: "NEW", Name: "New", Country: "IE", Currency: "EUR", Level: trade.TwoWay}}
	_, err = b.app.SaveSupplier(b.ctx, b.as("clerk"), e)
	refused(t, err, fault.Forbidden, "changed by themselves")
	_, err = b.app.SaveCompany(b.ctx, b.as("admin"), CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.TwoWay})
	refused(t, err, fault.Forbidden, "changed by themselves")
	_, err = b.app.SaveCompany(b.ctx, b.as("admin"), CompanyEntry{UnderDelivery: true, Level: trade.ThreeWay})
	refused(t, err, fault.Forbidden, "changed by themselves")
	set := LimitsEntry{Supplier: "BRACK", Limits: wide}
	_, err = b.app.SetLimits(b.ctx, b.as("clerk"), set)
	refused(t, err, fault.Forbidden, "takes the role buyer or administrator")
	_, err = b.app.SetLimits(b.ctx, b.as("buyer"), set)
	refused(t, err, fault.Invalid, "Say why")
	_, err = b.app.SetLimits(b.ctx, b.as("admin"), LimitsEntry{Reason: "r"})
	refused(t, err, fault.Invalid, "Choose how invoices are matched")
	rows, _, err := b.app.Record(b.ctx, b.actors["admin"], RecordFilter{Subject: "supplier", Number: "BRACK"})
	require.NoError(t, err)
	require.Empty(t, rows, "what was refused changed nothing")
	set.Reason = "prices follow the catch"
	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("buyer"), set)))
	rows, _, err = b.app.Record(b.ctx, b.actors["admin"], RecordFilter{Subject: "supplier", Number: "BRACK"})
	require.NoError(t, err)
	require.Contains(t, rows[0].After, "prices follow the catch")
	b.proved()
}

// A limit that a person changed clears nothing that they key or that is on their own order,
// whenever it was changed, until somebody else has confirmed it; nor does one that they took
// away so that a wider one counts.
func TestALimitClearsNothingOfOnesOwn(t *testing.T) {
	b := setUp(t)
	little, much := dec("1"), dec("5000")
	wide := LimitsEntry{Supplier: "BRACK", Limits: limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}, Reason: "r"}
	order := b.order("BRACK", "10") // the buyer's
	b.deliver(order, "DN 1", "10")
	plan, err := b.app.PlanLimits(b.ctx, b.actors["admin"], wide)
	require.NoError(t, err)
	require.Empty(t, plan.Passing)
	bill := b.key(b.bill("BRACK", order, "A-1", "10", "600"))
	require.Equal(t, trade.Held, bill.State)
	plan, err = b.app.PlanLimits(b.ctx, b.actors["admin"], wide)
	require.NoError(t, err)
	require.Len(t, plan.Passing, 1)
	require.Equal(t, bill.Number, plan.Passing[0].Invoice)
	require.Equal(t, trade.Held, b.state(bill.Number).State, "a plan changes nothing")
	plan, err = b.app.PlanLimits(b.ctx, b.actors["buyer"], wide)
	require.NoError(t, err)
	require.Empty(t, plan.Passing, "the order is the buyer's own")

	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("buyer"), wide)))
	require.NoError(t, b.app.Drain(b.ctx))
	sheet, err := b.app.InvoiceSheet(b.ctx, bill.Number, b.actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, trade.Held, sheet.State.State)
	require.True(t, sheet.Findings[0].OwnLimit)
	_, err = b.app.ConfirmLimits(b.ctx, b.as("buyer"), "BRACK", "")
	refused(t, err, fault.Forbidden, "somebody else confirms")
	require.NoError(t, drop(b.app.ConfirmLimits(b.ctx, b.as("approver"), "BRACK", "")))
	require.NoError(t, b.app.Drain(b.ctx))
	require.Equal(t, trade.Verified, b.state(bill.Number).State)
	_, err = b.app.ConfirmLimits(b.ctx, b.as("approver"), "BRACK", "")
	refused(t, err, fault.Changed, "confirmed already")

	// The near limit of 1 % is taken away by who keys: the company's wide one does not count for them.
	admin := b.as("admin")
	require.NoError(t, drop(b.app.SetLimits(b.ctx, admin, LimitsEntry{Level: trade.ThreeWay, Limits: limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}, Reason: "r"})))
	require.NoError(t, drop(b.app.SetLimits(b.ctx, admin, LimitsEntry{Supplier: "BRACK", Limits: limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &little}}, Reason: "r"})))
	for _, place := range []string{"", "BRACK"} {
		require.NoError(t, drop(b.app.ConfirmLimits(b.ctx, b.as("approver"), place, "")))
	}
	both := Command{Actor: with(b.actors["both"], "clerk", "buyer")}
	require.NoError(t, drop(b.app.SetLimits(b.ctx, both, LimitsEntry{Supplier: "BRACK", Reason: "none of its own"})))
	second := b.order("BRACK", "10")
	b.deliver(second, "DN 2", "10")
	entry := b.bill("BRACK", second, "A-2", "10", "600")
	preview, err := b.app.PlanInvoice(b.ctx, both.Actor, entry, 0)
	require.NoError(t, err)
	require.Equal(t, finding.Outside, preview.Result.Verdict)
	own, err := b.app.KeyInvoice(b.ctx, both, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, own.State)
	third := b.order("BRACK", "10")
	b.deliver(third, "DN 3", "10")
	require.Equal(t, trade.Verified, b.key(b.bill("BRACK", third, "ZX-9077", "10", "600")).State, "for others it counts")
	b.proved()
}

// Nor does a match level: taking the receipts out of the match holds one's own entries.
func TestAMatchLevelClearsNothingOfOnesOwn(t *testing.T) {
	b := setUp(t)
	both := Command{Actor: with(b.actors["both"], "clerk", "buyer")}
	require.NoError(t, drop(b.app.SetLimits(b.ctx, both, LimitsEntry{Supplier: "BRACK", Level: trade.TwoWay, Reason: "r"})))
	entry := b.bill("BRACK", b.order("BRACK", "10"), "A-1", "10", "12")
	own, err := b.app.KeyInvoice(b.ctx, both, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, own.State)
	sheet, err := b.app.InvoiceSheet(b.ctx, own.Number, b.actors["approver"])
	require.NoError(t, err)
	require.Equal(t, finding.OwnChange, sheet.Findings[0].Kind)
	require.NoError(t, drop(b.app.ConfirmLimits(b.ctx, b.as("approver"), "BRACK", "")))
	require.NoError(t, b.app.Drain(b.ctx))
	require.Equal(t, trade.Verified, b.state(own.Number).State)
	b.proved()
}

// A plan matches as of today, as the change itself would: what is dated ahead passes neither.
func TestALimitsPlanKnowsTheDay(t *testing.T) {
	b := setUp(t)
	much := dec("5000")
	wide := LimitsEntry{Supplier: "BRACK", Limits: limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}, Reason: "r"}
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	b.key(b.bill("BRACK", order, "A-1", "10", "600"))
	plan, err := b.app.PlanLimits(b.ctx, b.actors["admin"], wide)
	require.NoError(t, err)
	require.Len(t, plan.Passing, 1)
	b.later(-5)
	plan, err = b.app.PlanLimits(b.ctx, b.actors["admin"], wide)
	require.NoError(t, err)
	require.Empty(t, plan.Passing)
}

// A buyer's change of a line's own limits, or of how it is matched, frees no invoice that bills the line already (rules §6):
// the invoice is settled first, by somebody with the authority.
func TestALineIsNotLoosenedUnderAnInvoice(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	bill := b.key(b.bill("BRACK", order, "A-1", "10", "50"))
	require.Equal(t, trade.Held, bill.State)
	change := func(limits limit.Book, level trade.Level) error {
		return drop(b.app.ChangeOrder(b.ctx, b.as("buyer"), ChangeEntry{Number: order, Reason: "r", OrderEntry: OrderEntry{WantedOn: "2026-12-01", Lines: []OrderEntryLine{
			{No: 1, Item: "KRILL", Quantity: dec("10"), Price: dec("12"), TaxCategory: "S", TaxRate: dec("23"), Budget: "FEED", Limits: limits, Level: level}}}}))
	}
	wide := limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Percent: new(dec("5000"))}}
	refused(t, change(wide, ""), fault.Refused, "not settled bills line 1")
	refused(t, change(nil, trade.TwoWay), fault.Refused, "How it is matched")
	require.NoError(t, change(nil, ""), "anything else may change")
	require.NoError(t, b.app.Drain(b.ctx))
	require.Equal(t, trade.Held, b.state(bill.Number).State)
	require.NoError(t, drop(b.app.RefuseInvoice(b.ctx, b.as("approver"), Ending{Invoice: bill.Number, Reason: "Too dear."})))
	require.NoError(t, change(wide, ""))
	require.NoError(t, change(wide, trade.TwoWay), "what stays as it is is no change")
	b.proved()
}
