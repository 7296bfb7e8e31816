package say

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// A refusal has its days and numbers as the reader writes them, also where it wraps another.
func TestARefusalIsWrittenForItsReader(t *testing.T) {
	sum := money.Money{Amount: 1_653_12, Currency: "EUR"}
	no := fault.New(fault.Refused, "f", "Until %s: %s, %s, %s, %d.", day.Day("2026-11-23"), sum, money.MustDecimal("1250.5"), "2026-11-23", 1250)
	require.Equal(t, "Until 2026-11-23: 1653.12 EUR, 1250.5, 2026-11-23, 1250.", no.Error())
	require.Equal(t, "Until 23 Nov 2026: 1,653.12 EUR, 1,250.5, 2026-11-23, 1250.", Printer{}.Refusal(no))
	require.Equal(t, "Until 23 Nov 2026: 1.653,12 EUR, 1.250,5, 2026-11-23, 1250.", Printer{Comma: true}.Refusal(no))
	require.Equal(
		t,
		"Line 2: Until 23 Nov 2026: 1,653.12 EUR, 1,250.5, 2026-11-23, 1250.",
		Printer{}.Refusal(fault.New(fault.Invalid, "", "Line %d: %s", 2, no)),
	)
	require.Equal(t, "By hand.", Printer{}.Refusal(&fault.Fault{Sentence: "By hand."}))
}
