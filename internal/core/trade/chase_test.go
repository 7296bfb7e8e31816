package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A supplier's own days hold, else the company's, else two; none is never.
func TestChaseAfter(t *testing.T) {
	company := Chase{AwaitedGoods: 5, AwaitedInvoice: NeverChased}
	own := Chase{AwaitedInvoice: 0, AwaitedGoods: NeverChased}
	require.Equal(t, 2, Chase(nil).After(AwaitedWord, nil))
	require.Equal(t, 2, own.After(AwaitedWord, company))
	require.Equal(t, 5, Chase(nil).After(AwaitedGoods, company))
	require.Equal(t, NeverChased, own.After(AwaitedGoods, company))
	require.Equal(t, NeverChased, Chase(nil).After(AwaitedInvoice, company))
	require.Equal(t, 0, own.After(AwaitedInvoice, company))
}
