package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/views"
)

// Limits and match level are nobody's by-the-way: they are changed with a reason by buyer
// and administrator, and not beside something else on a master.
func TestLimitsAreAJobOfTheirOwn(t *testing.T) {
	b := housetest.SetUp(t)
	much := housetest.Dec("5000")
	wide := limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}
	e := b.Asking()
	e.Limits = wide
	_, err := masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), e)
	housetest.Refused(t, err, fault.Forbidden, "changed by themselves")
	e = b.Asking()
	e.Supplier.Level = trade.TwoWay
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), e)
	housetest.Refused(t, err, fault.Forbidden, "changed by themselves")
	e = masters.SupplierEntry{OnTheFly: true, Supplier: trade.Supplier{Code: "NEW", Name: "New", Country: "IE", Currency: "EUR", Level: trade.TwoWay}}
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), e)
	housetest.Refused(t, err, fault.Forbidden, "changed by themselves")
	_, err = masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.TwoWay})
	housetest.Refused(t, err, fault.Forbidden, "changed by themselves")
	_, err = masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{UnderDelivery: true, Level: trade.ThreeWay})
	housetest.Refused(t, err, fault.Forbidden, "changed by themselves")
	set := masters.LimitsEntry{Supplier: "BRACK", Limits: wide}
	_, err = masters.SetLimits(b.Ctx, b.App, b.As("clerk"), set)
	housetest.Refused(t, err, fault.Forbidden, "takes the role buyer or administrator")
	_, err = masters.SetLimits(b.Ctx, b.App, b.As("buyer"), set)
	housetest.Refused(t, err, fault.Invalid, "Say why")
	_, err = masters.SetLimits(b.Ctx, b.App, b.As("admin"), masters.LimitsEntry{Reason: "r"})
	housetest.Refused(t, err, fault.Invalid, "Choose how invoices are matched")
	rows, _, err := views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{Subject: "supplier", Number: "BRACK"})
	require.NoError(t, err)
	require.Empty(t, rows, "what was refused changed nothing")
	set.Reason = "prices follow the catch"
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("buyer"), set)))
	rows, _, err = views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{Subject: "supplier", Number: "BRACK"})
	require.NoError(t, err)
	require.Contains(t, rows[0].After, "prices follow the catch")
	b.Proved()
}

// A limit that a person changed clears nothing that they key or that is on their own order,
// whenever it was changed, until somebody else has confirmed it; nor does one that they took
// away so that a wider one counts.
func TestALimitClearsNothingOfOnesOwn(t *testing.T) {
	b := housetest.SetUp(t)
	little, much := housetest.Dec("1"), housetest.Dec("5000")
	wide := masters.LimitsEntry{Supplier: "BRACK", Limits: limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}, Reason: "r"}
	order := b.Order("BRACK", "10") // the buyer's
	b.Deliver(order, "DN 1", "10")
	plan, err := masters.PlanLimits(b.Ctx, b.App, b.Actors["admin"], wide)
	require.NoError(t, err)
	require.Empty(t, plan.Passing)
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "600"))
	require.Equal(t, trade.Held, bill.State)
	plan, err = masters.PlanLimits(b.Ctx, b.App, b.Actors["admin"], wide)
	require.NoError(t, err)
	require.Len(t, plan.Passing, 1)
	require.Equal(t, bill.Number, plan.Passing[0].Invoice)
	require.Equal(t, trade.Held, b.State(bill.Number).State, "a plan changes nothing")
	plan, err = masters.PlanLimits(b.Ctx, b.App, b.Actors["buyer"], wide)
	require.NoError(t, err)
	require.Empty(t, plan.Passing, "the order is the buyer's own")

	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("buyer"), wide)))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	sheet, err := views.Invoice(b.Ctx, b.App, bill.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, trade.Held, sheet.State.State)
	require.True(t, sheet.Findings[0].OwnLimit)
	_, err = masters.ConfirmLimits(b.Ctx, b.App, b.As("buyer"), "BRACK", "", "")
	housetest.Refused(t, err, fault.Forbidden, "somebody else confirms")
	require.NoError(t, housetest.Drop(masters.ConfirmLimits(b.Ctx, b.App, b.As("approver"), "BRACK", "", "")))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(bill.Number).State)
	_, err = masters.ConfirmLimits(b.Ctx, b.App, b.As("approver"), "BRACK", "", "")
	housetest.Refused(t, err, fault.Changed, "confirmed already")

	// The near limit of 1 % is taken away by who keys: the company's wide one does not count for them.
	admin := b.As("admin")
	require.NoError(
		t,
		housetest.Drop(
			masters.SetLimits(
				b.Ctx,
				b.App,
				admin,
				masters.LimitsEntry{Level: trade.ThreeWay, Limits: limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}, Reason: "r"},
			),
		),
	)
	require.NoError(
		t,
		housetest.Drop(
			masters.SetLimits(
				b.Ctx,
				b.App,
				admin,
				masters.LimitsEntry{Supplier: "BRACK", Limits: limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &little}}, Reason: "r"},
			),
		),
	)
	for _, place := range []string{"", "BRACK"} {
		require.NoError(t, housetest.Drop(masters.ConfirmLimits(b.Ctx, b.App, b.As("approver"), place, "", "")))
	}
	both := act.Command{Actor: housetest.With(b.Actors["both"], "clerk", "buyer")}
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, both, masters.LimitsEntry{Supplier: "BRACK", Reason: "none of its own"})))
	second := b.Order("BRACK", "10")
	b.Deliver(second, "DN 2", "10")
	entry := b.Bill("BRACK", second, "A-2", "10", "600")
	preview, err := invoices.Plan(b.Ctx, b.App, both.Actor, entry, 0)
	require.NoError(t, err)
	require.Equal(t, finding.Outside, preview.Result.Verdict)
	own, err := invoices.Key(b.Ctx, b.App, both, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, own.State)
	third := b.Order("BRACK", "10")
	b.Deliver(third, "DN 3", "10")
	require.Equal(t, trade.Verified, b.Key(b.Bill("BRACK", third, "ZX-9077", "10", "600")).State, "for others it counts")
	b.Proved()
}

// Nor does a match level: taking the receipts out of the match holds one's own entries.
func TestAMatchLevelClearsNothingOfOnesOwn(t *testing.T) {
	b := housetest.SetUp(t)
	both := act.Command{Actor: housetest.With(b.Actors["both"], "clerk", "buyer")}
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, both, masters.LimitsEntry{Supplier: "BRACK", Level: trade.TwoWay, Reason: "r"})))
	entry := b.Bill("BRACK", b.Order("BRACK", "10"), "A-1", "10", "12")
	own, err := invoices.Key(b.Ctx, b.App, both, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, own.State)
	sheet, err := views.Invoice(b.Ctx, b.App, own.Number, b.Actors["approver"])
	require.NoError(t, err)
	require.Equal(t, finding.OwnChange, sheet.Findings[0].Kind)
	require.NoError(t, housetest.Drop(masters.ConfirmLimits(b.Ctx, b.App, b.As("approver"), "BRACK", "", "")))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(own.Number).State)
	b.Proved()
}

// A plan matches as of today, as the change itself would: what is dated ahead passes neither.
func TestALimitsPlanKnowsTheDay(t *testing.T) {
	b := housetest.SetUp(t)
	much := housetest.Dec("5000")
	wide := masters.LimitsEntry{Supplier: "BRACK", Limits: limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &much}}, Reason: "r"}
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	b.Key(b.Bill("BRACK", order, "A-1", "10", "600"))
	plan, err := masters.PlanLimits(b.Ctx, b.App, b.Actors["admin"], wide)
	require.NoError(t, err)
	require.Len(t, plan.Passing, 1)
	b.Later(-5)
	plan, err = masters.PlanLimits(b.Ctx, b.App, b.Actors["admin"], wide)
	require.NoError(t, err)
	require.Empty(t, plan.Passing)
}

// A buyer's change of a line's own limits, or of how it is matched, frees no invoice that bills the line already (rules §6):
// the invoice is settled first, by somebody with the authority.
func TestALineIsNotLoosenedUnderAnInvoice(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "50"))
	require.Equal(t, trade.Held, bill.State)
	change := func(limits limit.Entries, level trade.Level) error {
		return housetest.Drop(
			orders.Change(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.ChangeEntry{Number: order, Reason: "r", Entry: orders.Entry{WantedOn: "2026-12-01", Lines: []orders.EntryLine{
					{
						No:          1,
						Item:        "KRILL",
						Quantity:    housetest.Dec("10"),
						Price:       housetest.Dec("12"),
						TaxCategory: "S",
						TaxRate:     housetest.Dec("23"),
						Budget:      "FEED",
						Limits:      limits,
						Level:       level,
					}}}},
			),
		)
	}
	wide := limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Percent: new(housetest.Dec("5000"))}}
	housetest.Refused(t, change(wide, ""), fault.Refused, "not settled bills line 1")
	housetest.Refused(t, change(nil, trade.TwoWay), fault.Refused, "How it is matched")
	require.NoError(t, change(nil, ""), "anything else may change")
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Held, b.State(bill.Number).State)
	require.NoError(t, housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("approver"), invoices.Refusal{Ending: act.Ending{Invoice: bill.Number, Reason: "Too dear."}})))
	require.NoError(t, change(wide, ""))
	require.NoError(t, change(wide, trade.TwoWay), "what stays as it is is no change")
	b.Proved()
}
