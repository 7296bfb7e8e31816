package trade

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Delivered is what happened to an order line that was wanted within a period: the
// facts that a supplier is judged by.
type Delivered struct {
	Order       int64
	Line        int
	Description string
	Unit        string
	WantedOn    day.Day
	Ordered     money.Decimal
	Least       money.Decimal // the smallest quantity that counts as all of it
	Received    money.Decimal // all that came, also what went back later
	OnTime      money.Decimal // of it, by the wanted day
	Returned    money.Decimal
	LastDay     day.Day // of what came; empty: nothing has
	Deliveries  []int64 // that brought it
	Invoiced    bool
	Dearer      money.Amount // what verified invoices charged more than the order's price; 0 or more
	Cheaper     money.Amount // and less; 0 or more. One never makes up for the other
}

// Share is a figure as a fraction: so many of so many lines.
type Share struct{ Good, Of int }

// Percent is the share for display, two places; of nothing it is zero.
func (s Share) Percent() money.Decimal { return money.Ratio(int64(s.Good), int64(s.Of)) }

// Figure is one of the figures that a supplier is judged by.
type Figure string

// The figures. Each counts order lines.
const (
	OnTime        Figure = "on_time"  // complete, within the under-limit, by the wanted day, of all that were due
	InFull        Figure = "in_full"  // complete at all, of all that were due
	ExactQuantity Figure = "quantity" // came in exactly the ordered quantity, of those on which something came
	OrderPrice    Figure = "price"    // invoiced at the order's price, of those that were invoiced
	Returned      Figure = "returns"  // of which something went back, of those on which something came
)

// Figures are the figures in the order in which they are shown.
var Figures = []Figure{OnTime, InFull, ExactQuantity, OrderPrice, Returned}

// Counts tells for each figure that the line counts in whether it counts as one of the
// so many.
func (l Delivered) Counts() map[Figure]bool {
	counts := map[Figure]bool{OnTime: l.OnTime >= l.Least, InFull: l.Received >= l.Least}
	if l.Received > 0 {
		counts[ExactQuantity] = l.Received == l.Ordered
		counts[Returned] = l.Returned > 0
	}
	if l.Invoiced {
		counts[OrderPrice] = l.Dearer == 0 && l.Cheaper == 0
	}
	return counts
}

// Performance is how a supplier delivers: a share for each figure.
type Performance map[Figure]Share

// Judge adds the figures up.
func Judge(lines []Delivered) Performance {
	p := Performance{}
	for _, l := range lines {
		for figure, good := range l.Counts() {
			s := p[figure]
			s.Of++
			if good {
				s.Good++
			}
			p[figure] = s
		}
	}
	return p
}
