package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/trade"
	"lagoon/internal/core/trial"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
)

// priced is a limit of the unit price, above, in per cent.
func priced(percent string) limit.Entry {
	p := housetest.Dec(percent)
	return limit.Entry{Kind: limit.UnitPrice, Side: limit.Over, Percent: &p}
}

// A limit is tried on the invoices of a year as they stood before anybody did anything: who would have passed, what people said
// then. It books nothing; adopting it sets it, once somebody else has confirmed it for one's own as well.
func TestALimitIsTriedAndAdopted(t *testing.T) {
	b := housetest.SetUp(t)
	five := masters.LimitsEntry{Level: trade.ThreeWay, Limits: limit.Entries{priced("5")}, Reason: "r"}
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("admin"), five)))
	require.NoError(t, housetest.Drop(masters.ConfirmLimits(b.Ctx, b.App, b.As("approver"), "", "", "")))
	clerk := b.As("clerk")
	b.Verified(clerk, 1)
	accepted, refused, open := b.Held(clerk, 2), b.Held(clerk, 3), b.Held(clerk, 4) // 13.00 for 12.00
	require.NoError(t, housetest.Drop(invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{
		Invoice: accepted.Number, Kind: finding.UnitPrice, Line: 1, Note: "n", Version: b.State(accepted.Number).Version,
	})))
	require.NoError(t, housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("approver"), invoices.Refusal{Ending: act.Ending{
		Invoice: refused.Number, Reason: "too dear", Version: b.State(refused.Number).Version,
	}})))
	order := b.Order("BRACK", "10")
	within := b.Bill("BRACK", order, "IN-1", "10", "12.48")
	b.Deliver(order, "DN in", "10")
	require.Equal(t, trade.Verified, b.Key(within).State)

	ten := masters.TrialEntry{Limit: priced("10")}
	tried, err := masters.TryLimit(b.Ctx, b.App, ten)
	require.NoError(t, err)
	require.Equal(t, trial.Figure{Verified: 2, Held: 3, Passed: 480}, tried.Today)
	require.Equal(t, trial.Figure{Verified: 5, Passed: 3480}, tried.Outcome.Tried)
	require.Equal(t, 1, tried.Open)
	require.Equal(t, refused.Number, tried.Gained[0].Invoice, "what people said no to first")
	require.Equal(t, trial.Gain{
		Supplier: tried.Suppliers[0].Supplier, Code: "BRACK", Name: "Brackwater Feeds", HeldToday: 3, Passed: 3000, Accepted: 1,
		AcceptedAmount: 1000, SaidNo: 1, NoWorth: 1000,
	}, tried.Suppliers[0])
	trials, err := masters.ReadTrials(b.Ctx, b.App)
	require.NoError(t, err)
	require.Equal(t, 3, trials.Limits[0].Held)
	require.Empty(t, trials.Kept)

	entry := masters.AdoptEntry{TrialEntry: ten, Was: priced("5"), Reason: "prices follow the catch"}
	_, err = masters.AdoptLimit(b.Ctx, b.App, b.As("approver"), entry)
	housetest.Refused(t, err, fault.Forbidden, "takes the role buyer or administrator")
	_, err = masters.KeepTrial(b.Ctx, b.App, clerk, entry)
	housetest.Refused(t, err, fault.Forbidden, "takes the role")
	stale, silent, delivery := entry, entry, entry
	stale.Was, silent.Reason = priced("4"), " "
	delivery.Limit.Kind = limit.Delivery
	_, err = masters.AdoptLimit(b.Ctx, b.App, b.As("buyer"), stale)
	housetest.Refused(t, err, fault.Changed, "since it was tried")
	_, err = masters.AdoptLimit(b.Ctx, b.App, b.As("buyer"), silent)
	housetest.Refused(t, err, fault.Invalid, "Say why")
	_, err = masters.TryLimit(b.Ctx, b.App, delivery.TrialEntry)
	housetest.Refused(t, err, fault.Refused, "nothing on record")
	silent.Since = "2026-02-30"
	_, err = masters.TryLimit(b.Ctx, b.App, silent.TrialEntry)
	housetest.Refused(t, err, fault.Invalid, "is no day")

	require.NoError(t, housetest.Drop(masters.KeepTrial(b.Ctx, b.App, b.As("approver"), entry)))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Held, b.State(open.Number).State, "a trial changes nothing")
	require.NoError(t, housetest.Drop(masters.AdoptLimit(b.Ctx, b.App, b.As("buyer"), entry)))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Held, b.State(open.Number).State, "the order is the buyer's own")
	require.NoError(t, housetest.Drop(masters.ConfirmLimits(b.Ctx, b.App, b.As("approver"), "", "", "")))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(open.Number).State)

	trials, err = masters.ReadTrials(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, trials.Kept, 2)
	last := trials.Kept[0]
	require.True(t, last.Adopted)
	require.Equal(t, []any{5, tried.Today, tried.Outcome.Tried, 1, housetest.Dec("5"), housetest.Dec("10")},
		[]any{last.Invoices, last.Before, last.After, last.SaidNo, *last.Was.Percent, *last.Limit.Percent})
	again, err := masters.TryLimit(b.Ctx, b.App, ten)
	require.NoError(t, err)
	require.Equal(t, again.Today, again.Outcome.Tried, "it is what is set now; the invoices stand as they stood")
	require.Equal(t, tried.Outcome.Tried, again.Today)
	b.Proved()
}
