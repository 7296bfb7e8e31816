package reconcile

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

const statementDay = day.Day("2026-10-31")

func standings(s Statement) (all []Standing) {
	for _, p := range s.Pairs {
		all = append(all, p.Standing)
	}
	return all
}

func TestASuppliersStatement(t *testing.T) {
	ours := []Ours{
		{Number: 1, Supplier: "BF-20401", Day: "2026-10-01", Total: 100_00, Open: 100_00, State: trade.Verified},
		{Number: 2, Supplier: "BF-20402", Day: "2026-10-02", Total: 200_00, Open: 150_00, State: trade.Released},
		{Number: 3, Supplier: "BF-20403", Day: "2026-10-03", Total: 300_00, State: trade.Paid, Paid: "2026-11-02"},
		{Number: 4, Supplier: "BF-20404", Day: "2026-10-04", Total: 400_00, State: trade.Paid, Paid: "2026-10-20"},
		{Number: 5, Supplier: "BF-20405", Day: "2026-10-05", Total: 500_00, Open: 500_00, State: trade.Refused},
		{Number: 6, Supplier: "OTHER-6", Day: "2026-10-06", Total: 600_00, Open: 600_00, State: trade.Held},
		{Number: 7, Supplier: "CN 7", Day: "2026-10-07", Total: -70_00, Open: -70_00, State: trade.Verified},
	}
	s := Supplier([]Theirs{
		{Number: "BF 20401", Day: "2026-10-01", Amount: 100_00},
		{Number: "BF20402", Day: "2026-10-02", Amount: 200_00},
		{Number: "BF20403", Day: "2026-10-03", Amount: 300_00},
		{Number: "BF20404", Day: "2026-10-04", Amount: 400_00},
		{Number: "BF20405", Day: "2026-10-05", Amount: 500_00},
		{Number: "BF20406", Day: "2026-10-06", Amount: 600_00}, // ours under another number
		{Number: "BF20407", Day: "2026-10-08", Amount: 800_00},
		{Number: "BF-20401", Day: "2026-10-01", Amount: 100_00},
	}, ours, nil, statementDay)
	require.Equal(t, []Standing{Agrees, Differs, PaidSince, PaidBefore, NotStanding, Differs, MissingHere, Twice, MissingHome}, standings(s))
	require.Equal(t, int64(6), s.Pairs[5].Ours.Number)
	require.Equal(t, []money.Amount{3000_00, 780_00}, []money.Amount{s.Theirs, s.Ours})
	require.Equal(t, money.Amount(70_00), s.Pairs[8].Difference)

	// With the payment on it as well it tells what went to and fro.
	s = Supplier([]Theirs{
		{Number: "BF20404", Day: "2026-10-04", Amount: 400_00}, {Day: "2026-10-21", Amount: -400_00}, {Day: "2026-10-21", Amount: -10_00},
	}, ours[3:4], []Paid{{Run: 1, Day: "2026-06-20", Amount: 400_00}, {Run: 9, Day: "2026-10-20", Amount: 400_00}}, statementDay)
	require.Equal(t, []Standing{Agrees, Agrees, MissingHere}, standings(s))
	require.Equal(t, int64(9), s.Pairs[1].Payment.Run, "the nearest")
}

// Whatever is on either side, the differences add up to that of the balances, and everything open stands in it once.
func TestAStatementAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		amount := func() money.Amount { return money.Amount(rapid.Int64Range(-3, 6).Draw(t, "amount")) * 100 }
		on := func() day.Day { return statementDay.Add(-rapid.IntRange(-3, 3).Draw(t, "day")) }
		number := func() string { return fmt.Sprint("N-", rapid.IntRange(0, 6).Draw(t, "number")) }
		var ours []Ours
		for i := range rapid.IntRange(0, 8).Draw(t, "ours") {
			o := Ours{Number: int64(i + 1), Supplier: number(), Day: on(), Total: amount()}
			o.State = rapid.SampledFrom([]trade.InvoiceState{trade.Held, trade.Verified, trade.Paid, trade.Void}).Draw(t, "state")
			if o.State != trade.Paid {
				o.Open = o.Total
			} else if rapid.Bool().Draw(t, "by a run") {
				o.Paid = on()
			}
			ours = append(ours, o)
		}
		var lines []Theirs
		for range rapid.IntRange(0, 8).Draw(t, "theirs") {
			lines = append(lines, Theirs{Number: number(), Day: on(), Amount: amount()})
		}
		s := Supplier(lines, ours, []Paid{{Run: 1, Day: statementDay, Amount: 100}, {Run: 2, Day: statementDay, Amount: 300}}, statementDay)
		var sum money.Amount
		seen := map[int64]int{}
		for _, p := range s.Pairs {
			sum += p.Difference
			if p.Ours != nil {
				seen[p.Ours.Number]++
			}
		}
		require.Equal(t, s.Theirs-s.Ours, sum)
		for _, o := range ours {
			require.LessOrEqual(t, seen[o.Number], 1)
			if o.Open != 0 && !o.State.Ended() {
				require.Equal(t, 1, seen[o.Number])
			}
		}
	})
}
