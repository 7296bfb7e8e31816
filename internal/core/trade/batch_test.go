package trade

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

func TestABatchIsHeldAgainstItsControls(t *testing.T) {
	sums := Sums{Count: 3, Quantity: money.MustDecimal("41.5"), Total: money.MustDecimal("1204")}
	for name, one := range map[string]struct {
		controls Controls
		part     []string
	}{
		"all agree":          {Controls{"3", "41.50", "1204.00"}, nil},
		"one is enough":      {Controls{Total: " 1204 "}, nil},
		"none":               {Controls{}, nil},
		"a document missing": {Controls{"4", "41.5", "1204"}, []string{"count"}},
		"a cent":             {Controls{"3", "", "1204.01"}, []string{"total"}},
		"no number":          {Controls{"three", "41", ""}, []string{"count", "quantity"}},
	} {
		var part []string
		for _, p := range one.controls.Against(sums) {
			part = append(part, p.Control)
		}
		require.Equal(t, one.part, part, name)
	}
	require.False(t, Controls{Count: " "}.Given())
	require.True(t, Controls{Quantity: "1"}.Given())
	require.Equal(t, []ControlParts{{Control: "count", Wanted: "x", Got: "3", NoNumber: true}}, Controls{Count: "x"}.Against(sums))
	require.True(t, BatchRow{Note: "DN 1", Date: "2026-11-23"}.Blank(), "a day alone is carried on from the row above")
	require.False(t, BatchRow{Total: "1"}.Blank())
}
