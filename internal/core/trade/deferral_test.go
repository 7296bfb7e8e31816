package trade_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// 1,200.00 for January to December, posted on 15 March: 300.00 in March, then 100.00 a month (rules §5).
func TestACostIsSpread(t *testing.T) {
	parts, err := trade.Deferral{From: "2026-01", Months: 12}.Spread(120_000, 60_000, "2026-03-15")
	require.NoError(t, err)
	require.Len(t, parts, 10)
	require.Equal(t, trade.DeferredPart{Month: "2026-03", Amount: 30_000, Base: 15_000}, parts[0])
	require.Equal(t, trade.DeferredPart{Month: "2026-12", Amount: 10_000, Base: 5_000}, parts[9])
	over, err := trade.Deferral{From: "2026-11", Months: 3}.Spread(100, 100, "2026-11-01")
	require.NoError(t, err)
	require.Equal(t, []trade.DeferredPart{
		{Month: "2026-11", Amount: 34, Base: 34}, {Month: "2026-12", Amount: 33, Base: 33}, {Month: "2027-01", Amount: 33, Base: 33},
	}, over)
}

// Whatever is spread adds up in both currencies, in months that follow each other, none before the posting day's; and
// whatever is taken off never takes a month below zero, and takes all or as much as is asked.
func TestSpreadAndTakenOffAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := trade.Deferral{From: rapid.SampledFrom([]string{"2025-11", "2026-01", "2026-06"}).Draw(t, "from"), Months: rapid.IntRange(1, 30).Draw(t, "months")}
		amount, base := money.Amount(rapid.Int64Range(0, 1_000_000).Draw(t, "amount")), money.Amount(rapid.Int64Range(0, 1_000_000).Draw(t, "base"))
		posted := day.Day("2026-03-15")
		parts, err := d.Spread(amount, base, posted)
		require.NoError(t, err)
		var sum, bases money.Amount
		for i, p := range parts {
			sum, bases = sum+p.Amount, bases+p.Base
			require.GreaterOrEqual(t, p.Month, posted.Month())
			require.True(t, i == 0 || parts[i-1].Month < p.Month)
		}
		require.Equal(t, amount, sum)
		require.Equal(t, base, bases)
		off := money.Amount(rapid.Int64Range(0, 1_200_000).Draw(t, "off"))
		taken, err := trade.Undefer(parts, off)
		require.NoError(t, err)
		held := map[string]money.Amount{}
		for _, p := range parts {
			held[p.Month] = p.Amount
		}
		left := min(off, amount)
		for _, p := range taken {
			require.Negative(t, p.Amount)
			require.GreaterOrEqual(t, held[p.Month]+p.Amount, money.Amount(0))
			left += p.Amount
		}
		require.Zero(t, left)
	})
}

// What stands against a deferral is said at its field.
func TestADeferralIsChecked(t *testing.T) {
	for _, bad := range []trade.Deferral{{"", 3}, {"2026-13", 3}, {"2026-01", 0}, {"2026-01", 121}} {
		require.NotNil(t, trade.CheckDeferral(bad, "f"), bad)
	}
	require.Nil(t, trade.CheckDeferral(trade.Deferral{From: "2026-12", Months: 1}, "f"))
}
