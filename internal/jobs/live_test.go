package jobs

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Whoever listens hears of each change once it is committed, of a refusal nothing, and is never waited for.
func TestListening(t *testing.T) {
	b := setUp(t)
	l := b.app.Listen()
	order := b.order("BRACK", "10")
	<-l.News()
	require.Equal(t, []Change{{"order", "4001"}}, l.Take())
	_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "", "10"))
	require.Error(t, err)
	require.Empty(t, l.Take())
	require.NoError(t, drop(b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))))
	require.Equal(t, []Change{{"delivery", "7001"}, {"order", "4001"}}, l.Take())
	for range mostChanges + 1 {
		b.order("BRACK", "1")
	}
	require.Contains(t, l.Take(), Change{}, "too many to name are anything")
	l.Close()
	b.order("BRACK", "1")
	require.Empty(t, l.Take())
}
