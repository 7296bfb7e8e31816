package ledger

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/money"
)

var roles = []Role{
	Stock,
	Expense,
	GRNI,
	PriceVariance,
	InputTax,
	Payables,
	Charges,
	DiscountReceived,
	InTransit,
	Bank,
	ExchangeDifference,
	FreeOfCharge,
	RoundingDifference,
}

func anEntry(t *rapid.T) Entry {
	e := Entry{Currency: "USD"}
	for range rapid.IntRange(0, 12).Draw(t, "lines") {
		amount, base := money.Amount(rapid.Int64Range(-500, 500).Draw(t, "amount")), money.Amount(rapid.Int64Range(-500, 500).Draw(t, "base"))
		role, detail := rapid.SampledFrom(roles).Draw(t, "role"), rapid.SampledFrom([]string{"", "FEED", "BRACK"}).Draw(t, "detail")
		if rapid.Bool().Draw(t, "credit") {
			e.Credit(role, detail, amount, base)
		} else {
			e.Debit(role, detail, amount, base)
		}
	}
	return e
}

// Lines of the same role and detail are one line; what a role comes to and whether the entry balances do not depend on the
// order in which they were added, and with its counter-entry every entry comes to nothing.
func TestEntriesAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := anEntry(t)
		seen := map[[2]string]bool{}
		var foreign, base money.Amount
		for _, l := range e.Lines {
			key := [2]string{string(l.Role), l.Detail}
			require.False(t, seen[key], "%v stands twice", key)
			seen[key] = true
			foreign += l.Amount
			base += l.Base
		}
		require.Equal(t, base, e.Balance())
		require.Equal(t, base == 0 && foreign == 0, e.Check() == nil)
		var all money.Amount
		for _, r := range roles {
			all += e.Of(r)
		}
		require.Equal(t, base, all)
		both := e
		both.Lines = append([]Line{}, e.Lines...)
		for _, l := range e.Reversed().Lines {
			both.Debit(l.Role, l.Detail, l.Amount, l.Base)
		}
		require.True(t, both.Empty())
		require.NoError(t, both.Check())
		require.ElementsMatch(t, e.Lines, e.Reversed().Reversed().Lines)
	})
}

// An exchange difference has no amount in the document's currency, and an entry may not balance in one currency alone.
func TestBothCurrenciesBalance(t *testing.T) {
	e := Entry{Currency: "USD"}
	e.Debit(GRNI, "4107/1", 10_000, 9_000)
	e.Debit(ExchangeDifference, "", 0, 200)
	e.Credit(Payables, "TIDEW", 10_000, 9_200)
	require.NoError(t, e.Check())
	e.Debit(RoundingDifference, "", 1, 0)
	require.ErrorContains(t, e.Check(), "out of balance by 0 (company) and 1 (USD)")
	e = Entry{}
	e.Debit(Stock, "FEED", 0, 0)
	require.Empty(t, e.Lines, "nothing is no line")
	require.True(t, e.Empty())
}
