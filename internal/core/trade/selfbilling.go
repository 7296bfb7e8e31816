package trade

// This file is about invoices that we write ourselves, as it is agreed with a supplier (rules §9).

import (
	"slices"
	"time"

	"lagoon/internal/core/day"
)

// Codes of UNCL 1001 of what we write ourselves.
const (
	SelfBilledInvoice = "389"
	SelfBilledCredit  = "261"
)

// SelfBilling is what is agreed with a supplier.
type SelfBilling struct {
	ID          int64
	SupplierID  int64
	From, Until day.Day // empty: without an end
	Prefix      string  // of the numbers
	Per         BillingPer
	Statement   string   // on every document, about the tax
	Items       []string // codes; none: all
	Every       BillingEvery
	Since       day.Day // since when it is planned so
}

// BillingEvery is how often we write what is to be billed by itself; empty: a person does.
type BillingEvery string

// They are: every evening, on Fridays, on the last day of the month.
const (
	EveryDay   BillingEvery = "day"
	EveryWeek  BillingEvery = "week"
	EveryMonth BillingEvery = "month"
)

// Known tells whether it is one of these, or none.
func (e BillingEvery) Known() bool {
	return slices.Contains([]BillingEvery{"", EveryDay, EveryWeek, EveryMonth}, e)
}

// on tells whether it falls on a day.
func (e BillingEvery) on(d day.Day) bool {
	switch e {
	case EveryDay:
		return true
	case EveryWeek:
		return d.Time().Weekday() == time.Friday
	case EveryMonth:
		return d.Add(1)[:7] != d[:7]
	}
	return false
}

// PlannedOn is the last day up to a day on which it is planned to be written; empty: there was none since it is planned.
func (s SelfBilling) PlannedOn(upTo day.Day) day.Day {
	for d := upTo; s.Every != "" && d >= s.Since; d = d.Add(-1) {
		if s.Every.on(d) {
			return d
		}
	}
	return ""
}

// BillingPer is what one document is made of.
type BillingPer string

// They are.
const (
	PerReceipt BillingPer = "receipt"
	PerOrder   BillingPer = "order"
	PerPeriod  BillingPer = "period"
)

// Known tells whether it is one of these.
func (p BillingPer) Known() bool {
	return slices.Contains([]BillingPer{PerReceipt, PerOrder, PerPeriod}, p)
}

// On tells whether the agreement is in force on a day.
func (s SelfBilling) On(d day.Day) bool {
	return s.ID != 0 && s.From <= d && (s.Until == "" || d <= s.Until)
}

// Covers tells whether a line ordered on a day is billed by us, by its item's code; empty of a free description.
func (s SelfBilling) Covers(item string, ordered day.Day) bool {
	return s.On(ordered) && (len(s.Items) == 0 || slices.Contains(s.Items, item))
}

// SelfBilled tells whether we wrote the document ourselves.
func (inv Invoice) SelfBilled() bool {
	return inv.Source == FromKeys && (inv.Code == SelfBilledInvoice || inv.Code == SelfBilledCredit)
}
