package day

import (
	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/ecb"
)

// target is the calendar of the days on which euro payments are settled (TARGET).
var target = func() *cal.BusinessCalendar {
	c := cal.NewBusinessCalendar()
	c.AddHoliday(ecb.Holidays...)
	return c
}()

// IsBankDay tells whether banks settle payments on the day: a weekday that is no holiday
// of TARGET.
func (d Day) IsBankDay() bool { return target.IsWorkday(d.Time()) }

// BankDay is the first day on or after d on which banks settle payments.
func (d Day) BankDay() Day {
	for !d.IsBankDay() {
		d = d.Add(1)
	}
	return d
}
