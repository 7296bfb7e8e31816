package reconcile

// This file holds what a supplier says that it is owed against what the books say.

import (
	"cmp"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Theirs is a line of a supplier's statement: a document that it holds open, a credit below zero; or, below zero too, a payment
// of ours.
type Theirs struct {
	Number string
	Day    day.Day // empty: the statement does not say
	Amount money.Amount
}

// Ours is a document of a supplier's as it stands here; a credit note is below zero.
type Ours struct {
	Number      int64  // Lagoon's
	Supplier    string // the supplier's number
	Day         day.Day
	Total, Open money.Amount // Open is what is to be paid of it still, or would be once it is verified
	State       trade.InvoiceState
	Paid        day.Day // when it was paid last; empty: nothing was
}

// Paid is a payment of ours to the supplier.
type Paid struct {
	Run    int64
	Day    day.Day
	Amount money.Amount // above zero
}

// Standing is how a line of a statement and the books stand to each other.
type Standing string

// The ways they stand.
const (
	Agrees      Standing = "agrees"
	Differs     Standing = "differs"      // another amount, or another number for the same day and amount
	MissingHere Standing = "missing_here" // they have it and we do not
	MissingHome Standing = "missing_home" // we have it open and they do not name it
	PaidSince   Standing = "paid_since"   // we paid it after the day of the statement
	PaidBefore  Standing = "paid_before"  // we paid it by that day, and they still hold it open
	NotStanding Standing = "ended"        // it is refused or void here
	Twice       Standing = "twice"        // the statement names it a second time
)

// Pair is a line of a statement and what it is here; either may be missing.
type Pair struct {
	Theirs   *Theirs
	Ours     *Ours
	Payment  *Paid
	Standing Standing
	// Difference is what they say less what we say is open: what the pair adds to the difference of the balances.
	Difference money.Amount
}

// Statement is a supplier's statement reconciled: the pairs in the order of its lines, then what only we have, and the balances.
type Statement struct {
	Pairs        []Pair
	Theirs, Ours money.Amount // Theirs − Ours is the sum of the differences
}

// Supplier holds a supplier's statement of a day against what it has here: by number, then by day and amount. A line below zero
// that is no document is a payment of ours of just that amount, the nearest to its day.
func Supplier(lines []Theirs, ours []Ours, paid []Paid, on day.Day) (s Statement) {
	taken := map[int64]bool{}
	byNumber := map[string][]*Ours{}
	for i := range ours {
		key := trade.NormalNumber(ours[i].Supplier)
		byNumber[key] = append(byNumber[key], &ours[i])
	}
	found := make([]*Ours, len(lines))
	twice := make([]bool, len(lines))
	for i, l := range lines {
		all := byNumber[trade.NormalNumber(l.Number)]
		if trade.NormalNumber(l.Number) == "" {
			continue
		}
		found[i] = best(l, all, taken)
		twice[i] = found[i] == nil && len(all) > 0
		if found[i] != nil {
			taken[found[i].Number] = true
		}
	}
	for i, l := range lines { // of those whose number is not here, those that are alike in all else
		if found[i] != nil || twice[i] || l.Day == "" {
			continue
		}
		var alike []*Ours
		for n := range ours {
			o := &ours[n]
			if !taken[o.Number] && o.Day == l.Day && (o.Total == l.Amount || o.Open == l.Amount) {
				alike = append(alike, o)
			}
		}
		if len(alike) == 1 {
			found[i] = alike[0]
			taken[alike[0].Number] = true
		}
	}
	used := map[int]bool{}
	for i := range lines {
		l := &lines[i]
		p := Pair{Theirs: l, Ours: found[i], Standing: MissingHere, Difference: l.Amount}
		switch {
		case p.Ours != nil:
			p.Standing, p.Difference = stands(*l, *p.Ours, on), l.Amount-openOf(*p.Ours)
		case twice[i]:
			p.Standing = Twice
		case l.Amount < 0:
			if n := nearest(*l, paid, used); n >= 0 {
				used[n] = true
				p.Payment, p.Standing = &paid[n], Agrees
			}
		}
		s.Theirs += l.Amount
		s.Pairs = append(s.Pairs, p)
	}
	s.movements()
	for i := range ours {
		o := &ours[i]
		if open := openOf(*o); !taken[o.Number] && open != 0 {
			s.Pairs = append(s.Pairs, Pair{Ours: o, Standing: MissingHome, Difference: -open})
		}
		s.Ours += openOf(*o)
	}
	return s
}

// movements lets documents agree that were paid by payments which the statement names too: it tells what went to and fro, and not
// only what is open.
func (s *Statement) movements() {
	var paid, documents money.Amount
	for _, p := range s.Pairs {
		switch {
		case p.Payment != nil:
			paid -= p.Difference
		case p.Standing == PaidBefore:
			documents += p.Difference
		}
	}
	if paid == 0 || paid != documents {
		return
	}
	for i := range s.Pairs {
		if s.Pairs[i].Standing == PaidBefore {
			s.Pairs[i].Standing = Agrees
		}
	}
}

// openOf is what is open of a document; of one that ended nothing is.
func openOf(o Ours) money.Amount {
	if o.State.Ended() {
		return 0
	}
	return o.Open
}

// best is the document of a line's number that is not taken: of several the one of its day or amount.
func best(l Theirs, all []*Ours, taken map[int64]bool) *Ours {
	free := slices.DeleteFunc(slices.Clone(all), func(o *Ours) bool { return taken[o.Number] })
	if len(free) == 0 {
		return nil
	}
	return slices.MaxFunc(free, func(a, b *Ours) int { return cmp.Compare(likeness(l, *a), likeness(l, *b)) })
}

func likeness(l Theirs, o Ours) (n int) {
	if o.Open == l.Amount || o.Total == l.Amount {
		n += 2
	}
	if (o.Total < 0) == (l.Amount < 0) {
		n += 2
	}
	if o.Day == l.Day {
		n++
	}
	return n
}

func stands(l Theirs, o Ours, on day.Day) Standing {
	switch {
	case o.State.Ended():
		return NotStanding
	case o.Open == 0 && o.Paid > on:
		return PaidSince
	case o.Open == 0 && o.Paid != "":
		return PaidBefore
	case o.Open != l.Amount, trade.NormalNumber(l.Number) != trade.NormalNumber(o.Supplier):
		return Differs
	}
	return Agrees
}

// nearest is the payment of a line's amount that is nearest to its day, or −1.
func nearest(l Theirs, paid []Paid, used map[int]bool) int {
	at := -1
	distance := func(p Paid) int {
		if l.Day == "" {
			return 0
		}
		return max(p.Day.Until(l.Day), l.Day.Until(p.Day))
	}
	for i, p := range paid {
		if !used[i] && p.Amount == -l.Amount && (at < 0 || distance(p) < distance(paid[at])) {
			at = i
		}
	}
	return at
}
