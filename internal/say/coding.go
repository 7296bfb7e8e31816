package say

import (
	"fmt"

	"lagoon/internal/core/trade"
)

// every are the rhythms of costs in words.
var every = map[trade.Rhythm]string{
	trade.Weekly: "every week", trade.Monthly: "every month", trade.Quarterly: "every quarter", trade.Yearly: "every year",
}

// Recurring says that a cost comes again, and what is different this time.
func (p Printer) Recurring(r trade.Recurring) string {
	text := fmt.Sprintf("Comes %s: %d before it, the last over %s on %s.",
		every[r.Rhythm], r.Times, p.Money(r.Last.Total.Amount, r.Last.Total.Currency), p.Day(r.Last.Date))
	switch {
	case r.Dearer > 0:
		text += fmt.Sprintf(" This time %s more.", p.Money(r.Dearer, r.Last.Total.Currency))
	case r.Dearer < 0:
		text += fmt.Sprintf(" This time %s less.", p.Money(-r.Dearer, r.Last.Total.Currency))
	}
	if r.OffBeat {
		text += " It comes out of turn."
	}
	if r.Dearer == 0 && !r.OffBeat {
		text += " As each time."
	}
	return text
}

// Passed says to whom an approval was passed on.
func (p Printer) Passed(to, by, note string) string {
	text := fmt.Sprintf("Passed on to %s by %s", to, by)
	if note != "" {
		text += ": " + note
	}
	return text
}
