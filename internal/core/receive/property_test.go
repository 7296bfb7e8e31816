package receive

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// The nearest quantity that is named for a refused count is the last that passes: it is booked, and the smallest step
// beyond it is refused. It holds for weights and for whole units, over and under.
func TestTheNearestQuantityIsTheLastThatPasses(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		whole := rapid.Bool().Draw(t, "whole units")
		step := money.Decimal(1)
		if whole {
			step = money.Int(1)
		}
		many := func(most int64, name string) money.Decimal {
			return money.Decimal(rapid.Int64Range(0, most).Draw(t, name)) * step
		}
		ordered := many(5_000, "ordered") + step
		o := order(
			ordered.String(),
			min(many(5_000, "received"), ordered).String(),
			money.Decimal(rapid.Int64Range(0, 60_000_000).Draw(t, "percent")).String(),
			whole,
		)
		line := o.Lines[0]
		verdict := func(now money.Decimal, closes bool) (finding.Finding, bool) {
			plan, err := Make(o, entry(now.String(), closes), context)
			if err != nil {
				t.Fatalf("%v", err)
			}
			return plan.Findings[0], plan.Blocked()
		}
		counted := many(12_000, "counted") + step
		closes := rapid.Bool().Draw(t, "closes")
		said, blocked := verdict(counted, closes)
		after := line.Received + counted
		require.Equal(t, after > line.Most(context.Policy) || (closes && after < line.Least(context.Policy)), blocked)
		if !blocked {
			return
		}
		beyond := said.Nearest + step
		if said.Kind == finding.UnderDelivery {
			beyond = said.Nearest - step
		}
		if said.Nearest > 0 {
			_, blocked = verdict(said.Nearest, closes)
			require.False(t, blocked, "%s passes", said.Nearest)
		}
		if beyond > 0 {
			_, blocked = verdict(beyond, closes)
			require.True(t, blocked, "%s does not", beyond)
		}
	})
}

// However a line comes in parts, and whatever goes back of them before the rest comes, the parts of its value add up to its
// net, and a receipt that is taken apart leaves exactly nothing (rules §11).
func TestPartsOfTheValueAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		parts := rapid.SliceOfN(rapid.Int64Range(1, 9_000_000), 1, 8).Draw(t, "parts")
		var ordered money.Decimal
		for _, p := range parts {
			ordered += money.Decimal(p)
		}
		o := order(ordered.String(), "0", "0", false)
		line := o.Lines[0]
		line.Net = money.Amount(rapid.Int64Range(0, 50_000_000).Draw(t, "net"))
		at := context
		at.Rate = money.Decimal(rapid.Int64Range(1, 3_000_000).Draw(t, "rate"))
		var value money.Amount
		for _, p := range parts {
			plan, err := Make(o, entry(money.Decimal(p).String(), false), at)
			require.NoError(t, err)
			r := plan.Receipts[0]
			value += r.Value
			line.Received += r.Quantity
			receipt := trade.Receipt{Quantity: r.Quantity, Value: r.Value, ValueBase: r.ValueBase}
			for receipt.Held() > 0 {
				piece := min(receipt.Held(), money.Decimal(rapid.Int64Range(1, 3_000_000).Draw(t, "piece")))
				taken, err := receipt.Next(piece)
				require.NoError(t, err)
				line.Take(trade.Allocation{Kind: trade.AllocatedCredited, Receipt: &receipt, Relief: taken})
			}
			require.Equal(t, []money.Amount{r.Value, r.ValueBase}, []money.Amount{receipt.Relieved.Value, receipt.Relieved.Base})
		}
		require.Equal(t, line.Net, value)
	})
}
