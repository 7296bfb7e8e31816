package trade

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Arrival is what one delivery brought of an order line.
type Arrival struct {
	Delivery int64 // number
	Day      day.Day
	Quantity money.Decimal
}

// Delivered is what happened to an order line that was wanted within a period: the
// facts that a supplier is judged by.
type Delivered struct {
	Order       int64
	Line        int
	Description string
	Unit        string
	WantedOn    day.Day
	Due         day.Day // the first day from then on that the supplier delivers on
	Ordered     money.Decimal
	Net         money.Amount // of the ordered quantity
	Least, Most money.Decimal
	Arrivals    []Arrival // that were not reversed, in the order in which they came
	Returned    money.Decimal
	Invoiced    bool
	Outside     bool         // at a price outside its limit, that somebody took or claimed
	Dearer      money.Amount // what verified invoices charged more than the order's price; 0 or more
	Cheaper     money.Amount // and less; 0 or more. One never makes up for the other
}

// Received is all that came, also what went back later.
func (l Delivered) Received() (all money.Decimal) { return l.by(day.Day("9999-12-31")) }

func (l Delivered) by(last day.Day) (all money.Decimal) {
	for _, a := range l.Arrivals {
		if a.Day <= last {
			all += a.Quantity
		}
	}
	return all
}

// LastDay is when something came last; empty: nothing has.
func (l Delivered) LastDay() (last day.Day) {
	for _, a := range l.Arrivals {
		last = max(last, a.Day)
	}
	return last
}

// first is what the first delivery brought.
func (l Delivered) first() (first money.Decimal) {
	for i, a := range l.Arrivals {
		if i > 0 && a.Delivery != l.Arrivals[0].Delivery {
			break
		}
		first += a.Quantity
	}
	return first
}

// Share is a figure as a fraction of what it counts, of so many lines.
type Share struct {
	Good, Of int64
	Lines    int
}

// Percent is the share for display, two places; of nothing it is zero.
func (s Share) Percent() money.Decimal { return money.Ratio(s.Good, s.Of) }

// Figure is one of the figures that a supplier is judged by (rules §3).
type Figure string

// The figures.
const (
	OnTime     Figure = "on_time"  // lines that were complete by the day they were due, of all
	InFull     Figure = "in_full"  // lines whose first delivery was within the limits of what was ordered, of all
	Quantity   Figure = "quantity" // 1 − |received − ordered| ÷ ordered, at least 0, as the mean of the lines on which something came
	OrderPrice Figure = "price"    // lines invoiced within the limits of the price, of those invoiced
	Returned   Figure = "returns"  // the value that went back, of what came
)

// Figures are the figures in the order in which they are shown.
var Figures = []Figure{OnTime, InFull, Quantity, OrderPrice, Returned}

// Shares are what the line adds to each figure that it counts in. Good is what it adds to the better, but of returns.
func (l Delivered) Shares() map[Figure]Share {
	yes := func(good bool) Share {
		if good {
			return Share{1, 1, 1}
		}
		return Share{0, 1, 1}
	}
	first := l.first()
	all := map[Figure]Share{OnTime: yes(l.by(l.Due) >= l.Least), InFull: yes(first > 0 && first >= l.Least && first <= l.Most)}
	if received := l.Received(); received > 0 {
		whole := int64(money.Int(1))
		all[Quantity] = Share{whole - off((received-l.Ordered).Abs(), l.Ordered), whole, 1}
		came, err1 := l.Net.Part(int64(received), int64(l.Ordered))
		back, err2 := l.Net.Part(int64(min(received, l.Returned)), int64(l.Ordered))
		if err1 == nil && err2 == nil && came > 0 { // of what is worth nothing nothing is lost
			all[Returned] = Share{int64(back), int64(came), 1}
		}
	}
	if l.Invoiced {
		all[OrderPrice] = yes(!l.Outside)
	}
	return all
}

// off is part ÷ whole in millionths, at most all of it.
func off(part, whole money.Decimal) int64 {
	all := money.Int(1)
	share, err := money.Amount(all).Part(int64(part), int64(whole))
	if err != nil {
		return int64(all)
	}
	return min(int64(share), int64(all))
}

// Performance is how a supplier delivers: a share for each figure.
type Performance map[Figure]Share

// Judge adds the figures up.
func Judge(lines []Delivered) Performance {
	p := Performance{}
	for _, l := range lines {
		for figure, share := range l.Shares() {
			s := p[figure]
			p[figure] = Share{s.Good + share.Good, s.Of + share.Of, s.Lines + share.Lines}
		}
	}
	return p
}

// Weights are how much each figure counts.
type Weights map[Figure]int64

// Score is the mean of the figures in per cent, two places, by the weights; returns count as what did not go back. Figures that
// no line counts in are left out; it is not known where that leaves none.
func (p Performance) Score(weights Weights) (score money.Decimal, known bool) {
	var sum, of int64
	for _, figure := range Figures {
		s, weight := p[figure], weights[figure]
		if s.Of == 0 || weight == 0 {
			continue
		}
		percent := int64(s.Percent())
		if figure == Returned {
			percent = int64(money.Int(100)) - percent
		}
		sum += weight * percent
		of += weight
	}
	if of == 0 {
		return 0, false
	}
	mean, err := money.Amount(sum).Part(1, of*int64(money.Int(1))/100)
	return money.Decimal(mean) * (money.Int(1) / 100), err == nil
}
