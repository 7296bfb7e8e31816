package day

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// The holidays of TARGET are 1 January, Good Friday, Easter Monday, 1 May, 25 and 26 December
// (decision ECB/2012/27; Easter days from memory).
func TestBankDays(t *testing.T) {
	for from, to := range map[Day]Day{
		"2026-11-27": "2026-11-27", "2026-11-28": "2026-11-30", "2026-11-29": "2026-11-30", "2026-04-03": "2026-04-07", "2026-05-01": "2026-05-04",
		"2026-12-25": "2026-12-28", "2027-01-01": "2027-01-04", "2024-12-25": "2024-12-27", "2026-03-17": "2026-03-17",
	} {
		require.Equal(t, to, from.BankDay(), from)
		require.Equal(t, from == to, from.IsBankDay(), from)
	}
}
