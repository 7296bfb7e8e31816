package day

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

func TestDays(t *testing.T) {
	for _, bad := range []string{"", "2026-02-29", "2026-2-3", "23.11.2026", "2026-11-23T00:00"} {
		_, err := Parse(bad)
		require.ErrorIs(t, err, ErrNotDay, bad)
	}
	leap, err := Parse("2028-02-29")
	require.NoError(t, err)
	require.Equal(t, Day("2028-03-01"), leap.Add(1))
	require.Equal(t, Day("2027-12-31"), Day("2028-01-01").Add(-1))
	require.Equal(t, Day(""), Day("").Add(5))
	require.Equal(t, 366, Day("2028-01-01").Until("2029-01-01"))
	require.Equal(t, -3, Day("2026-11-23").Until("2026-11-20"))
	require.Equal(t, Day("2028-02-29"), Day("2028-02-01").EndOfMonth())
	require.Equal(t, Day("2026-02-28"), Day("2026-01-31").InNextMonth(30))
	require.Equal(t, Day("2027-01-05"), Day("2026-12-31").InNextMonth(5))
	require.Equal(t, "2026-11", Day("2026-11-23").Month())
	require.Empty(t, Day("").Month())
}

// A day is the company's, not the world's: just before midnight in Dublin it is the next day further east.
func TestDayOfAnInstant(t *testing.T) {
	instant := time.Date(2026, 7, 1, 23, 30, 0, 0, time.UTC)
	dublin, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	require.Equal(t, Day("2026-07-02"), Of(instant, dublin))
	require.Equal(t, Day("2026-07-01"), Of(instant, time.UTC))
}
