package prove_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/housetest"
	"lagoon/internal/prove"
)

// The books are proved beside the work, once at a time; what is found stays till they are proved again.
func TestProvingBesideTheWork(t *testing.T) {
	b := housetest.SetUp(t)
	ending := make(chan struct{})
	p := prove.NewProver(b.App, ending)
	require.Zero(t, p.State())
	proved := func() prove.State {
		t.Helper()
		p.Begin()
		p.Begin() // it goes on
		require.Eventually(t, func() bool { return !p.State().Running }, time.Minute, time.Millisecond)
		return p.State()
	}
	order := b.Order("BRACK", "3")
	b.Deliver(order, "DN 1", "3")
	s := proved()
	require.Empty(t, s.Failed)
	require.Empty(t, s.Proof.Differences)
	require.Positive(t, s.Proof.AuditRows)
	require.False(t, s.Ended.IsZero())

	_, err := b.ByHand().Exec(`UPDATE order_line_state SET received = received + 1`)
	require.NoError(t, err)
	s = proved()
	require.NotEmpty(t, s.Proof.Differences)

	close(ending) // Lagoon is stopped: it comes to no end, and says so
	require.NotEmpty(t, proved().Failed)
}
