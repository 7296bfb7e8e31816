package trade

// This file recognises costs that come again: rent, a subscription (rules §5).

import (
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Dated is an invoice's date and total.
type Dated struct {
	Date  day.Day
	Total money.Money
}

// Rhythm is how often a cost comes.
type Rhythm string

// The rhythms that are told apart.
const (
	Weekly    Rhythm = "week"
	Monthly   Rhythm = "month"
	Quarterly Rhythm = "quarter"
	Yearly    Rhythm = "year"
)

// rhythms are the days between two, from and to.
var rhythms = []struct {
	Rhythm
	from, until int
}{{Weekly, 5, 9}, {Monthly, 26, 36}, {Quarterly, 84, 99}, {Yearly, 350, 380}}

// Recurring is a cost that has come in a rhythm, and what is different this time.
type Recurring struct {
	Rhythm
	Last    Dated
	Times   int          // in a row, before this one
	Dearer  money.Amount // than the last one; below zero cheaper
	OffBeat bool         // this one comes sooner or later than the rhythm
}

// Recurs recognises an invoice as one of a cost that comes again: at least two before it, the newest first, in one rhythm
// and currency. Nil where it is none.
func Recurs(now Dated, before []Dated) *Recurring {
	var r Recurring
	for i := range before {
		if before[i].Total.Currency != now.Total.Currency {
			return nil
		}
		if i == 0 {
			continue
		}
		rhythm := between(before[i].Date, before[i-1].Date)
		if rhythm == "" || (r.Rhythm != "" && rhythm != r.Rhythm) {
			break
		}
		r.Rhythm = rhythm
		r.Times = i + 1
	}
	if r.Rhythm == "" {
		return nil
	}
	r.Last = before[0]
	r.Dearer = now.Total.Amount - r.Last.Total.Amount
	r.OffBeat = between(r.Last.Date, now.Date) != r.Rhythm
	return &r
}

// between is the rhythm of two days, empty where they are in none.
func between(earlier, later day.Day) Rhythm {
	days := int(later.Time().Sub(earlier.Time()).Hours() / 24)
	at := slices.IndexFunc(rhythms, func(r struct {
		Rhythm
		from, until int
	}) bool {
		return days >= r.from && days <= r.until
	})
	if at < 0 {
		return ""
	}
	return rhythms[at].Rhythm
}
