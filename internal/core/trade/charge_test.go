package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/money"
)

// The code says it; where there is none, the longest kind that the reason names.
func TestTheKindOfACharge(t *testing.T) {
	kinds := append(ChargeKinds{{Name: "order", Ended: true}, {Name: "air freight"}}, FirstCharges...)
	for _, c := range []struct{ code, reason, want string }{
		{"FC", "Handling", "freight"}, {"HD", "", "handling"}, {"", "Small order fee", "small order"}, {"", "AIR FREIGHT to Cork", "air freight"},
		{"", "Insurance of the freight", "insurance"}, {"ZZZ", "", "other"}, {"", "", "other"}, {"", "Another thing", "other"},
	} {
		require.Equal(t, c.want, kinds.Of(DocumentCharge{Code: c.code, Reason: c.reason}), "%q %q", c.code, c.reason)
	}
	require.True(t, kinds.Offers("freight"))
	require.False(t, kinds.Offers("order"), "it is ended")
	require.False(t, kinds.Offers(""))
}

// What is left of the plan and what of the charges it covers make up the plan, kind by kind, and nothing is left twice.
func TestTheRestOfThePlan(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var order Order
		planned, charged, rest := map[string]money.Amount{}, map[string]money.Amount{}, map[string]money.Amount{}
		for range rapid.IntRange(0, 4).Draw(t, "charges") {
			c := PlannedCharge{
				Kind:   rapid.SampledFrom([]string{"freight", "packing"}).Draw(t, "kind"),
				Amount: money.Amount(rapid.Int64Range(0, 500).Draw(t, "amount")),
			}
			order.Charges = append(order.Charges, c)
			planned[c.Kind] += c.Amount
		}
		for _, kind := range []string{"freight", "packing", "other"} {
			charged[kind] = money.Amount(rapid.Int64Range(-50, 900).Draw(t, kind))
		}
		for _, c := range order.PlannedRest(charged) {
			require.Positive(t, int64(c.Amount))
			rest[c.Kind] += c.Amount
		}
		for kind, sum := range planned {
			require.Equal(t, max(0, sum-max(0, charged[kind])), rest[kind])
		}
	})
}
