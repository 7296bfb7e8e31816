package house_test

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
)

// Whatever becomes of spread costs (posted, taken back, credited, made void, with months closed meanwhile), what is a cost
// and what is none yet come together to what was asked less what was given back, and neither is below zero.
func TestAnyHistoryOfSpreadCosts(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(rt *rapid.T) {
		b := housetest.SetUp(t)
		net := map[int64]money.Amount{} // of documents, below zero for credit notes
		bill := func(number, of, price string) invoices.Entry {
			e := b.Bill("BRACK", 0, number, "1", price)
			e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget, e.Date = 0, 0, "SHOP", b.Today()
			if of != "" {
				e.Kind, e.Credited = trade.CreditNote, of
			}
			return e
		}
		var bills []string
		var documents []int64
		for n := range rapid.IntRange(4, 16).Draw(rt, "steps") {
			price := rapid.SampledFrom([]string{"10", "100.01", "33.33", "250"}).Draw(rt, "price")
			amount, err := money.ParseAmount(price, "EUR")
			require.NoError(t, err)
			number := fmt.Sprintf("S%d", n*15485863)
			switch rapid.IntRange(0, 9).Draw(rt, "act") {
			case 0, 1, 2:
				e := bill(number, "", price)
				e.Lines[0].Defer = deferral.Draw(rt, "spread")
				keyed := b.Key(e)
				net[keyed.Number], bills, documents = amount, append(bills, number), append(documents, keyed.Number)
				_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: keyed.Number})
			case 3, 4:
				if len(bills) == 0 {
					continue
				}
				keyed, e := invoices.Key(b.Ctx, b.App, b.As("clerk"), bill(number, rapid.SampledFrom(bills).Draw(rt, "of"), price))
				if err = e; err == nil {
					net[keyed.Number], documents = -amount, append(documents, keyed.Number)
				}
			case 5, 6:
				_, err = invoices.PostDeferrals(b.Ctx, b.App, b.As("treasurer"), b.Today())
			case 7:
				runs, e := invoices.ReadDeferrals(b.Ctx, b.App, "")
				require.NoError(t, e)
				if len(runs.Runs) > 0 {
					_, err = invoices.UndoDeferrals(b.Ctx, b.App, b.As("treasurer"), rapid.SampledFrom(runs.Runs).Draw(rt, "run").ID)
				}
			case 8:
				b.Later(rapid.SampledFrom([]int{3, 20, 45}).Draw(rt, "days"))
				if rapid.IntRange(0, 3).Draw(rt, "close") == 0 {
					err = masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), b.Today().Add(-31).Month())
				}
			case 9:
				if len(documents) == 0 {
					continue
				}
				which := rapid.SampledFrom(documents).Draw(rt, "document")
				_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: which, Reason: "r"})
			}
			var no *fault.Fault
			require.True(t, err == nil || errors.As(err, &no), "%v", err)
			require.NoError(t, invoices.Drain(b.Ctx, b.App))
			var sum money.Amount
			for number, n := range net {
				if b.StateIf(number).Booked() {
					sum += n
				}
			}
			require.Equal(t, sum, b.Balance("expense")+b.Balance("deferred"))
			require.GreaterOrEqual(t, b.Balance("deferred"), money.Amount(0))
			b.Proved()
		}
	})
}
