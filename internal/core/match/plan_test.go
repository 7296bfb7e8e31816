package match

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

// A planned amount covers charges once, over all invoices; a sum below zero is covered by nothing.
func TestChargesBeyondThePlan(t *testing.T) {
	for _, c := range []struct{ soFar, now, planned, beyond money.Amount }{
		{0, 400, 0, 400}, {0, 400, 1_000, 0}, {600, 400, 1_000, 0}, {600, 500, 1_000, 100}, {1_200, 300, 1_000, 300}, {0, -500, 1_000, -500}, {0, -500, 0, -500}, {0, 0, 1_000, 0},
	} {
		require.Equal(t, c.beyond, beyondPlan(c.soFar+c.now, c.planned)-beyondPlan(c.soFar, c.planned), "%+v", c)
	}
}
