package views_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/housetest"
	"lagoon/internal/views"
)

// What is ordered becomes what is received, held, verified, released and in a run, and leaves once; money ahead is not counted
// twice.
func TestCashAheadFollowsAnInvoice(t *testing.T) {
	b := housetest.SetUp(t)
	read := func() map[pay.Certainty]money.Amount {
		c, err := views.Cash(b.Ctx, b.App)
		require.NoError(t, err)
		sums := map[pay.Certainty]money.Amount{}
		for certainty, row := range c.Tables[0].Rows {
			if sum := row[len(row)-1]; sum != 0 {
				sums[certainty] = sum
			}
		}
		return sums
	}
	require.Empty(t, read())
	order := b.Order("BRACK", "10") // 147.60 with tax
	require.Equal(t, map[pay.Certainty]money.Amount{pay.Ordered: 14_760}, read())
	b.Deliver(order, "DN 1", "4")
	require.Equal(t, map[pay.Certainty]money.Amount{pay.Received: 5_904, pay.Ordered: 8_856}, read())
	held := b.Key(b.Bill("BRACK", order, "A-1", "4", "13"))
	require.Equal(t, map[pay.Certainty]money.Amount{pay.Held: 6_396, pay.Ordered: 8_856}, read(), "what an open invoice asks is counted with it")
	require.NotZero(t, held.Number)
	b.PaidAhead(order, "20", "P-1")
	require.Equal(t, map[pay.Certainty]money.Amount{pay.Held: 6_396, pay.Ordered: 8_856 - 2_000}, read())

	second := b.Verified(b.As("clerk"), 2).Number // 147.60, 2.95 off until the tenth day
	sums := read()
	require.Equal(t, money.Amount(14_465), sums[pay.Verified])
	c, err := views.Cash(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, c.Offers, 2)
	run := b.Pay(second)
	require.Equal(t, money.Amount(14_465), read()[pay.InRun])
	require.Zero(t, read()[pay.Released])
	b.Approve(run)
	require.Equal(t, money.Amount(14_465), read()[pay.InRun])
	b.Now = b.Now.AddDate(0, 3, 0)
	c, err = views.Cash(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, c.Late, 1)
	require.Equal(t, held.Number, c.Late[0].Invoice)
	require.Zero(t, c.Late[0].Interest, "nobody said what that costs")
	require.Empty(t, c.Offers)
}
