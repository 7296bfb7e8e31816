package trade

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

// paidAheadOn is an order of 700.00 at 23 % and 300.00 at 9 %: 1,188.00 with tax.
func paidAheadOn() *Order {
	o := &Order{Number: 4118, Currency: "EUR"}
	for i, rate := range []int64{23, 9} {
		o.Lines = append(o.Lines, &OrderLine{
			No: i + 1, Quantity: money.Int(1), Price: money.Int([]int64{700, 300}[i]), Base: money.Int(1), TaxCategory: "S", TaxRate: money.Int(rate),
		})
	}
	return o
}

// 25 % of it is 297.00: nets 175.00 and 75.00, tax 40.25 and 6.75 (rules §8).
func TestAskedAhead(t *testing.T) {
	for _, a := range []Agreement{{Kind: Deposit, Percent: money.Int(25)}, {Kind: Deposit, Amount: 29700}} {
		lines, err := a.Asked(paidAheadOn())
		require.NoError(t, err)
		require.Equal(t, []money.Decimal{money.Int(175), money.Int(75)}, []money.Decimal{lines[0].Price, lines[1].Price})
		totals, err := Invoice{Currency: "EUR", Lines: lines}.Totals()
		require.NoError(t, err)
		require.Equal(t, money.Amount(29700), totals.Total)
		require.Equal(t, "Deposit on order 4118", lines[0].Description)
	}
}

// However it is used, undone and used again, the parts of money ahead and of its tax end exactly at what was booked.
func TestPartsOfMoneyAheadEndAtZero(t *testing.T) {
	seed := rand.Uint64()
	t.Log("seed", seed)
	random := rand.New(rand.NewPCG(seed, 2))
	for range 300 {
		gross := money.Amount(1 + random.Int64N(1_000_000))
		p := Prepayment{Booked: AheadPart{Value: gross, Base: money.Amount(random.Int64N(2_000_000)), Taxes: []TaxPart{
			{Name: "S23", Value: gross * 18 / 100, Base: money.Amount(random.Int64N(90_000))}, {Name: "AE", Own: true, Value: gross / 3, Base: gross / 4},
		}}}
		var standing []AheadPart
		for range random.IntN(30) {
			if len(standing) > 0 && random.IntN(3) == 0 {
				at := random.IntN(len(standing))
				p.Take(standing[at].Negative())
				standing = append(standing[:at], standing[at+1:]...)
				continue
			}
			if left := p.Left(); left > 0 {
				part, err := p.Next(1 + money.Amount(random.Int64N(int64(left))))
				require.NoError(t, err)
				p.Take(part)
				standing = append(standing, part)
			}
		}
		rest, err := p.Next(p.Left())
		require.NoError(t, err)
		p.Take(rest)
		value, base := p.Booked.Net()
		takenValue, takenBase := p.Taken.Net()
		require.Equal(t, []money.Amount{gross, p.Booked.Base, value, base}, []money.Amount{p.Taken.Value, p.Taken.Base, takenValue, takenBase})
		for _, tax := range p.Booked.Taxes {
			value, base := p.Taken.tax(tax)
			require.Equal(t, []money.Amount{tax.Value, tax.Base}, []money.Amount{value, base}, tax.Name)
		}
		_, err = p.Next(1)
		require.Error(t, err, "nothing is left")
	}
}
