package store

// This file writes the core's sets of states as SQL, so that a set stands in one place. Indexes and single states are
// written out: SQLite compares an index with a question by its text.

import (
	"strings"

	"lagoon/internal/core/trade"
)

var (
	isUnsettled = in(trade.UnsettledStates[:])
	isBooked    = in(trade.BookedStates[:])
	isEnded     = in(trade.EndedStates[:])
	isIssued    = in(trade.IssuedStates[:])
)

// in is a set of states as the right side of IN.
func in[S ~string](states []S) string {
	quoted := make([]string, len(states))
	for i, state := range states {
		quoted[i] = "'" + string(state) + "'"
	}
	return "(" + strings.Join(quoted, ", ") + ")"
}
