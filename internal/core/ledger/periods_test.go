package ledger

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
)

// What falls into a closed month is posted on the first day of the next open one; what is undone (a void, a reversal, a
// return) on the day of that, never before what it undoes.
func TestDaysOfPosting(t *testing.T) {
	closed := Periods{"2026-10", "2026-11", "2027-01"}
	for on, posted := range map[day.Day]day.Day{
		"2026-09-30": "2026-09-30", "2026-10-01": "2026-12-01", "2026-11-30": "2026-12-01", "2026-12-01": "2026-12-01", "2026-12-31": "2026-12-31",
		"2027-01-31": "2027-02-01", "2027-02-01": "2027-02-01",
	} {
		require.Equal(t, posted, closed.FirstOpen(on), on)
		require.Equal(t, on, Periods(nil).FirstOpen(on), "nothing is closed")
	}
	for _, c := range []struct{ made, undone, posted day.Day }{
		{"2026-11-28", "2026-11-10", "2026-12-01"}, // made in a closed month
		{"2026-12-02", "2026-11-10", "2026-12-02"}, // what it undoes stands in a closed one: it stays there
		{"2026-12-02", "2026-12-20", "2026-12-20"}, // posted ahead
		{"2026-12-02", "2027-01-20", "2027-02-01"}, // and closed since
	} {
		require.Equal(t, c.posted, closed.Counter(c.made, c.undone))
	}
}
