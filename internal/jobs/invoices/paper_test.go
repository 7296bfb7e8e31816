package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/reading"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
)

// What a paper teaches is written with the invoice that was keyed from it, is used for the next of its supplier, and is
// forgotten when somebody says so.
func TestWhatAPaperTeaches(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "20")
	b.Deliver(order, "DN 1", "20")
	entry := b.Bill("BRACK", order, "Q-1", "10", "12")
	rule := reading.Rule{Field: reading.NumberField, Words: "Consignment", Below: true}
	entry.Learned = []reading.Rule{rule}
	_, err := invoices.Key(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Forbidden, "clerk")
	require.Empty(t, b.Supplier("BRACK").Papers, "what was refused teaches nothing")
	b.Key(entry)
	papers := b.Supplier("BRACK").Papers
	require.Len(t, papers, 1)
	require.Equal(t, rule, papers[0].Rule)
	require.Equal(t, "Q-1", papers[0].SupplierNumber)
	b.Proved()

	entry = b.Bill("BRACK", order, "Q-2", "5", "12")
	rule.Words, rule.Below = "Waybill", false
	entry.Learned = []reading.Rule{rule}
	b.Key(entry)
	require.Equal(t, rule, b.Supplier("BRACK").Papers[0].Rule, "the last correction counts")

	forget := func(c act.Command) error {
		return housetest.Drop(masters.ForgetPaper(b.Ctx, b.App, c, "BRACK", reading.NumberField))
	}
	housetest.Refused(t, forget(b.As("receiver")), fault.Forbidden, "clerk")
	require.NoError(t, forget(b.As("clerk")))
	require.Empty(t, b.Supplier("BRACK").Papers)
	housetest.Refused(t, forget(b.As("clerk")), fault.Changed, "Nothing is remembered")
	housetest.Refused(t, housetest.Drop(masters.ForgetPaper(b.Ctx, b.App, b.As("clerk"), "NONE", reading.NumberField)), fault.NotFound, "no supplier")
	b.Proved()
}
