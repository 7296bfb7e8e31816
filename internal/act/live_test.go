package act_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/receiving"
)

// Whoever listens hears of each change once it is committed, of a refusal nothing, and is never waited for.
func TestListening(t *testing.T) {
	b := housetest.SetUp(t)
	l := b.App.Listen()
	order := b.Order("BRACK", "10")
	<-l.News()
	require.Equal(t, []act.Change{{"order", "4001"}}, l.Take())
	_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "", "10"))
	require.Error(t, err)
	require.Empty(t, l.Take())
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))))
	require.Equal(t, []act.Change{{"delivery", "7001"}, {"order", "4001"}}, l.Take())
	for range act.MostChanges + 1 {
		b.Order("BRACK", "1")
	}
	require.Contains(t, l.Take(), act.Change{}, "too many to name are anything")
	l.Close()
	b.Order("BRACK", "1")
	require.Empty(t, l.Take())
}
