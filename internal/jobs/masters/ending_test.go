package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
)

// A supplier that is ended with open documents: nothing new is ordered, and what is open goes on to its end.
func TestASupplierIsEnded(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	end := masters.HoldEntry{Code: "BRACK", Hold: trade.SupplierEnded, Reason: "they give up"}
	_, err := masters.HoldSupplier(b.Ctx, b.App, b.As("buyer"), end)
	require.NoError(t, err)
	sheet := b.Supplier("BRACK")
	require.Equal(t, []int64{1, 0}, []int64{sheet.OpenOrders, sheet.OpenInvoices})
	_, err = orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{Supplier: "BRACK", WantedOn: b.Today(), Lines: []orders.EntryLine{housetest.Krill("1", "5")}})
	housetest.Refused(t, err, fault.Refused, "Brackwater Feeds is ended")

	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	require.Equal(t, trade.Verified, bill.State)
	require.Equal(t, int64(1), b.Supplier("BRACK").OpenInvoices)
	require.NotZero(t, b.Pay(bill.Number), "it is paid all the same")

	end.Lift = true
	_, err = masters.HoldSupplier(b.Ctx, b.App, b.As("buyer"), end)
	require.NoError(t, err)
	b.Order("BRACK", "1")
	b.Proved()
}
