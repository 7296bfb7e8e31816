// Package day holds civil dates: days of the company's calendar, without a time
// and without a zone.
package day

import (
	"errors"
	"time"
)

// Day is a civil date written YYYY-MM-DD, so that days compare as text; the empty
// Day means that none is known.
type Day string

// ErrNotDay says that a text is no date of the calendar.
var ErrNotDay = errors.New("not a day of the calendar")

// Parse reads YYYY-MM-DD.
func Parse(text string) (Day, error) {
	if _, err := time.Parse(time.DateOnly, text); err != nil {
		return "", ErrNotDay
	}
	return Day(text), nil
}

// Of is the day of an instant in a time zone.
func Of(t time.Time, zone *time.Location) Day { return Day(t.In(zone).Format(time.DateOnly)) }

// Time is midnight UTC of the day, for formatting and counting.
func (d Day) Time() time.Time {
	t, _ := time.Parse(time.DateOnly, string(d))
	return t
}

// Start is the instant at which the day begins in a time zone.
func (d Day) Start(zone *time.Location) time.Time {
	t := d.Time()
	return time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, zone)
}

// Add is the day n days later (earlier when negative); no day stays no day.
func (d Day) Add(n int) Day {
	if d == "" {
		return ""
	}
	return Of(d.Time().AddDate(0, 0, n), time.UTC)
}

// Until is the number of days from d to other, negative when other is earlier.
func (d Day) Until(other Day) int { return int(other.Time().Sub(d.Time()).Hours() / 24) }

// EndOfMonth is the last day of d's month.
func (d Day) EndOfMonth() Day {
	t := d.Time()
	return Of(time.Date(t.Year(), t.Month()+1, 0, 0, 0, 0, 0, time.UTC), time.UTC)
}

// InNextMonth is the given day of the month after d's, or that month's last day
// where the month is shorter.
func (d Day) InNextMonth(dayOfMonth int) Day {
	last := d.EndOfMonth().Add(1).EndOfMonth()
	return min(last, last.Add(dayOfMonth-last.Time().Day()))
}

// Year is the calendar year of d: YYYY.
func (d Day) Year() string {
	if len(d) < 4 {
		return ""
	}
	return string(d[:4])
}

// Month is the accounting period of d: YYYY-MM.
func (d Day) Month() string {
	if len(d) < 7 {
		return ""
	}
	return string(d[:7])
}
