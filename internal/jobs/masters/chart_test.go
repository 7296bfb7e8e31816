package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
)

// Every role has its place in the chart, budgets and kinds of charge within theirs; a number is kept once it is one, and
// taken away again.
func TestTheChartOfAccounts(t *testing.T) {
	b := housetest.SetUp(t)
	chart := func() map[string]string {
		f, err := masters.ReadFrame(b.Ctx, b.App)
		require.NoError(t, err)
		numbers := map[string]string{}
		for _, a := range f.Chart {
			numbers[string(a.Role)+"/"+a.Detail] = a.Number
		}
		return numbers
	}
	for _, role := range ledger.Roles {
		require.Contains(t, chart(), string(role)+"/")
	}
	require.Contains(t, chart(), "stock/FEED")
	require.Contains(t, chart(), "expense/SHOP")
	require.NotContains(t, chart(), "stock/SHOP")
	save := func(role ledger.Role, detail, number, name string) error {
		_, err := masters.SaveAccount(b.Ctx, b.App, b.As("admin"), store.ChartAccount{Role: role, Detail: detail, Number: number, Name: name})
		return err
	}
	require.NoError(t, save(ledger.Stock, "", "1400", "Stock"))
	require.NoError(t, save(ledger.Stock, "FEED", "1410", ""))
	require.Equal(t, "1410", chart()["stock/FEED"])
	housetest.Refused(t, save(ledger.Expense, "", "14 00", ""), fault.Invalid, "account number")
	housetest.Refused(t, save(ledger.Expense, "", "1400", "Costs"), fault.Invalid, "called Stock already")
	housetest.Refused(t, save(ledger.Expense, "NOPE", "4000", ""), fault.NotFound, "no such account")
	require.NoError(t, save(ledger.Stock, "FEED", "", ""))
	require.Empty(t, chart()["stock/FEED"])
	_, err := masters.SaveAccount(b.Ctx, b.App, b.As("clerk"), store.ChartAccount{Role: ledger.Stock, Number: "1"})
	housetest.Refused(t, err, fault.Forbidden, "")
	b.Proved()
}
