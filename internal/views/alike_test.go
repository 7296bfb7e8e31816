package views_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// Under one number, signs in it aside, and under numbers like it stand the invoices of all suppliers, in whatever state.
func TestInvoicesThatMayBeOne(t *testing.T) {
	b := housetest.SetUp(t)
	key := func(supplier, number string) int64 {
		t.Helper()
		return b.Key(b.Bill(supplier, b.Order(supplier, "10"), number, "10", "12")).Number
	}
	first, theirs := key("BRACK", "BF-1004"), key("TIDEW", "bf 1004")
	like, other, _ := key("TIDEW", "BF-1O04"), key("BRACK", "BF-1005"), key("BRACK", "XX-9")
	numbers := func(all []store.NamedInvoice) (some []int64) {
		for _, n := range all {
			some = append(some, n.Number)
		}
		return some
	}
	found, err := views.AlikeTo(b.Ctx, b.App, first)
	require.NoError(t, err)
	require.Equal(t, []any{first, "BF-1004"}, []any{found.Of.Number, found.Of.SupplierNumber})
	require.Equal(t, []int64{theirs}, numbers(found.Same))
	require.ElementsMatch(t, []int64{like, other}, numbers(found.Like))
	require.False(t, found.More)
	for _, n := range []string{"BF-1006", "BF-1007", "BF-1008"} { // which follow it, and are of other goods
		b.Key(b.Bill("BRACK", b.Order("BRACK", "9"), n, "9", "12"))
	}
	found, err = views.AlikeTo(b.Ctx, b.App, first)
	require.NoError(t, err)
	require.Equal(t, views.MostAlike, 1+len(found.Same)+len(found.Like))
	require.True(t, found.More, "they are never left out in silence")
	require.Equal(t, other, found.Like[0].Number, "what has its total in its currency stands first")
	_, err = views.AlikeTo(b.Ctx, b.App, 999)
	housetest.Refused(t, err, fault.NotFound, "999")
	require.True(t, trade.LikeNumber("BF-1004", "BF-1O04"))
}
