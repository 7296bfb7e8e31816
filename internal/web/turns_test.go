package web

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Whoever goes from one invoice to the next is on the next, in whatever order their page is heard; whose last page goes is on none.
func TestWhoIsPresent(t *testing.T) {
	now := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	p := present{streams: map[int64]int{}, open: map[int64]onInvoice{}}
	on := func() (invoices []int64) {
		for _, o := range p.but(2, now) {
			invoices = append(invoices, o.Invoice)
		}
		return invoices
	}
	p.listens(1, 1)
	p.comes(1, "Nora Ferrow", 7, now)
	require.Empty(t, p.but(1, now), "nobody is told of themselves")
	p.comes(1, "Nora Ferrow", 8, now)
	p.leaves(1, 7)
	require.Equal(t, []int64{8}, on())
	p.leaves(1, 8)
	require.Empty(t, on())
	p.comes(1, "Nora Ferrow", 9, now)
	require.True(t, p.listens(1, -1))
	require.Empty(t, on())
}
