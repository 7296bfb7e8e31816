package ledger

import (
	"slices"

	"lagoon/internal/core/day"
)

// Periods are the closed months of the books, as YYYY-MM.
type Periods []string

// FirstOpen is the first day on or after a day whose month is open (rules §11).
func (p Periods) FirstOpen(d day.Day) day.Day {
	for slices.Contains(p, d.Month()) {
		d = d.EndOfMonth().Add(1)
	}
	return d
}

// Counter is the day that a counter-entry is posted on: the day it is made, never before what
// it undoes, and in an open month (rules §11).
func (p Periods) Counter(made, undone day.Day) day.Day { return p.FirstOpen(max(made, undone)) }
