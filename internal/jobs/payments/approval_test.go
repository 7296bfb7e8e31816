package payments_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// From a sum on two persons approve a run, neither of whom made it; a run that is proposed again has none of it.
func TestTwoApprovals(t *testing.T) {
	b := housetest.SetUp(t)
	b.LetsGo(masters.ReleaseEntry{TwoFrom: "144.65"})
	run := b.Pay(b.Verified(b.As("clerk"), 1).Number)
	approve := func(login string) (payments.RunMade, error) {
		return payments.ApproveRun(b.Ctx, b.App, b.As(login), run, 0)
	}
	made, err := approve("approver")
	require.NoError(t, err)
	require.Equal(t, store.RunProposed, made.State)
	sheet, err := views.Run(b.Ctx, b.App, run, b.Actors["approver"])
	require.NoError(t, err)
	require.Equal(t, "approver", sheet.First.Name)
	require.NotContains(t, sheet.May, act.ApproveRun)
	b.Proved()
	_, err = approve("approver")
	housetest.Refused(t, err, fault.Forbidden, "a second person")
	_, err = payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	require.Error(t, err, "it has no file yet")
	made, err = approve("approver too")
	require.NoError(t, err)
	require.Equal(t, store.RunApproved, made.State)
	b.Proved()

	b.LetsGo(masters.ReleaseEntry{TwoFrom: "144.66"})
	run = b.Pay(b.Verified(b.As("clerk"), 2).Number)
	made, err = approve("approver")
	require.NoError(t, err)
	require.Equal(t, store.RunApproved, made.State, "below the sum one does")

	b.LetsGo(masters.ReleaseEntry{TwoFrom: "1"})
	run = b.Pay(b.Verified(b.As("clerk"), 3).Number)
	_, err = approve("approver")
	require.NoError(t, err)
	b.Later(8) // its discount runs out
	made, err = approve("approver too")
	require.NoError(t, err)
	require.NotEmpty(t, made.Changes)
	run = made.Number
	made, err = approve("approver too")
	require.NoError(t, err)
	require.Equal(t, store.RunProposed, made.State, "the first approval was of another run")
	b.Proved()
}

// Clean invoices up to a sum release themselves: never one that somebody keyed, corrected or accepted something of, none on
// hold, and none whose release was taken back.
func TestCleanInvoicesReleaseThemselves(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "60")
	b.Deliver(order, "DN 1", "60")
	file := func(number string, quantity int) int64 {
		captured, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), act.File{Name: number, Content: housetest.EInvoice(order, number, quantity)})
		require.NoError(t, err)
		require.Equal(t, trade.Verified, captured.State, captured.Summary)
		return captured.Number
	}
	sweep := func() { require.NoError(t, payments.ReleaseClean(b.Ctx, b.App)) }
	small, large := file("A-1", 10), file("A-2", 11) // 147.60 and 162.36
	keyed := b.Key(b.Bill("BRACK", order, "A-3", "5", "12")).Number
	sweep()
	require.Equal(t, trade.Verified, b.StateIf(small), "unless it is set nothing is released")
	held := file("A-4", 2)
	require.NoError(t, housetest.Drop(holds.Hold(b.Ctx, b.App, b.As("clerk"), holds.HoldEntry{Invoice: held, Reason: "goods", Note: "n"})))
	b.LetsGo(masters.ReleaseEntry{SelfUpTo: "147.60"})
	sweep()
	require.Equal(t, trade.Released, b.StateIf(small))
	for _, other := range []int64{large, keyed, held} {
		require.Equal(t, trade.Verified, b.StateIf(other))
	}
	b.Proved()
	_, err := payments.TakeBackRelease(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: small, Reason: "not yet"})
	require.NoError(t, err)
	sweep()
	require.Equal(t, trade.Verified, b.StateIf(small), "a person said otherwise")
	b.Proved()
}

// An urgent run says so to the bank, also where it is proposed again.
func TestAnUrgentRun(t *testing.T) {
	b := housetest.SetUp(t)
	bills := []int64{b.Verified(b.As("clerk"), 1).Number, b.Verified(b.As("clerk"), 2).Number}
	for n, urgent := range []bool{false, true} {
		bill := bills[n]
		_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill})
		require.NoError(t, err)
		made, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{
			DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill}}, Urgent: urgent,
		})
		require.NoError(t, err)
		b.Later(1)
		again := b.Approve(made.Number) // its day is past
		require.NotEmpty(t, again.Changes)
		require.Empty(t, b.Approve(again.Number).Changes)
		_, file, err := payments.RunFile(b.Ctx, b.App, again.Number)
		require.NoError(t, err)
		require.Equal(t, urgent, strings.Contains(string(file), "<Cd>URGP</Cd>"))
		b.Proved()
	}
}
