package pay

// This file tells when money leaves, and how certain that is (rules §10).

import (
	"cmp"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Certainty is how certain it is that money leaves, the surest first.
type Certainty string

// They are.
const (
	InRun    Certainty = "in_run"
	Released Certainty = "released"
	Verified Certainty = "verified"
	Held     Certainty = "held"     // or waiting
	Received Certainty = "received" // and not invoiced
	Ordered  Certainty = "ordered"
	Agreed   Certainty = "agreed" // ahead, and not invoiced
)

// Certainties are all of them.
var Certainties = []Certainty{InRun, Released, Verified, Held, Received, Ordered, Agreed}

// Expected is money that leaves on a day.
type Expected struct {
	Certainty  Certainty
	Currency   money.Currency
	Amount     money.Amount // above zero
	Base       money.Amount // in the company's currency
	Due        day.Day      // of what is invoiced; else the day on which it should be due
	Day        day.Day      // on which it would be paid
	Overdue    bool
	Of         string // order, invoice, run
	Number     int64
	Label      string // the supplier's number, or the order's
	Supplier   string
	SupplierID int64  // row key, of what is invoiced and verified
	Turn       string // whose turn it is, of what is held
}

// Paid is a part of an invoice and the day on which it would be paid.
type Paid struct {
	Amount   money.Amount
	Due, Day day.Day
}

// Expected is when what is open of an invoice would be paid: by the last day of a discount that can still be had, less that;
// else when it is due, part by part where it is due in instalments; never before today. Days are bank days.
func (p Payable) Expected(today day.Day) ([]Paid, error) {
	item, _, err := p.Item("9999-12-31", today)
	if err != nil {
		return nil, err
	}
	if last := beforeOrOn(item.DiscountUntil); item.Discount > 0 && len(p.Plan) == 0 && last >= today {
		return []Paid{{item.Amount, p.Due, last}}, nil
	}
	if len(p.Plan) == 0 {
		return []Paid{{p.Open, p.Due, paidOn(p.Due, today)}}, nil
	}
	var parts []Paid
	settled := -p.Open
	for _, i := range p.Plan {
		settled += i.Amount
	}
	for _, i := range p.Plan {
		done := min(max(0, settled), i.Amount)
		settled -= done
		if left := i.Amount - done; left > 0 {
			parts = append(parts, Paid{left, i.Due, paidOn(i.Due, today)})
		}
	}
	return parts, nil
}

// LessCredits takes open credit notes off what is expected to be paid to their suppliers in their currency, what is due first
// before the rest; what is taken off whole is not expected any more. A payee of several suppliers is paid for each.
func LessCredits(expected []Expected, credits []Credit) []Expected {
	slices.SortStableFunc(expected, func(a, b Expected) int { return cmp.Or(cmp.Compare(a.Due, b.Due), cmp.Compare(a.Number, b.Number)) })
	for _, c := range credits {
		left := c.Open
		for i := range expected {
			if e := &expected[i]; e.SupplierID == c.Supplier && e.Currency == c.Currency {
				less := min(left, e.Amount)
				e.Amount, left = e.Amount-less, left-less
			}
		}
	}
	return slices.DeleteFunc(expected, func(e Expected) bool { return e.Amount <= 0 })
}

// paidOn is the bank day on which something that is due would be paid, from today on.
func paidOn(due, today day.Day) day.Day { return max(due, today).BankDay() }

// beforeOrOn is the last bank day by a day; none of none.
func beforeOrOn(d day.Day) day.Day {
	for d != "" && !d.IsBankDay() {
		d = d.Add(-1)
	}
	return d
}

// ToCome is what is still to be invoiced of an order line: of what came, and of what is to come, tax included, in the order's
// currency. What open invoices bill is theirs.
func ToCome(o *trade.Order, l *trade.OrderLine) (received, ordered money.Amount, err error) {
	whole := l.Quantity
	if l.ClosedGoods || l.Received > whole {
		whole = l.Received
	}
	if l.ClosedInvoices {
		return 0, 0, nil
	}
	left := max(0, whole-l.Billed-l.Reserved-l.Free())
	here := min(left, max(0, l.Received-l.Billed-l.Reserved-l.Free()))
	gross := func(quantity money.Decimal) (money.Amount, error) {
		net, err := l.UnitPrice(o.Currency).Times(quantity, o.Currency)
		if err != nil || trade.ReverseCharged(l.TaxCategory) {
			return net, err
		}
		tax, err := net.Percent(l.TaxRate)
		return net + tax, err
	}
	if received, err = gross(here); err != nil {
		return 0, 0, err
	}
	ordered, err = gross(left - here)
	return received, ordered, err
}

// Weeks are the days on which the columns of a forecast begin after what is overdue: the Mondays of this week and the five
// after it, and of all that is later.
func Weeks(today day.Day) []day.Day {
	monday := today
	for monday.Time().Weekday() != 1 {
		monday = monday.Add(-1)
	}
	weeks := make([]day.Day, 7)
	for i := range weeks {
		weeks[i] = monday.Add(7 * i)
	}
	return weeks
}

// Table is a forecast in one currency: a row for each certainty, with what is overdue, what leaves in each week, and the sum.
type Table struct {
	Currency money.Currency // empty: everything, in the company's
	Rows     map[Certainty][]money.Amount
	Sums     []money.Amount
}

// Column is where something stands in a table: 0 where it is overdue.
func (e Expected) Column(weeks []day.Day) int {
	if e.Overdue {
		return 0
	}
	at, found := slices.BinarySearch(weeks, e.Day)
	if found {
		return at + 1
	}
	return max(1, at)
}

// Forecast adds up what is expected: of one currency, or of all in the company's where none is named.
func Forecast(all []Expected, weeks []day.Day, currency money.Currency) Table {
	t := Table{Currency: currency, Rows: map[Certainty][]money.Amount{}, Sums: make([]money.Amount, len(weeks)+2)}
	for _, c := range Certainties {
		t.Rows[c] = make([]money.Amount, len(weeks)+2)
	}
	for _, e := range all {
		amount := e.Base
		if currency != "" {
			if amount = e.Amount; e.Currency != currency {
				continue
			}
		}
		for _, row := range [][]money.Amount{t.Rows[e.Certainty], t.Sums} {
			row[e.Column(weeks)] += amount
			row[len(row)-1] += amount
		}
	}
	return t
}

// Interest is what a sum costs at a yearly rate in per cent from the day after it was due until a day, by days of a year of 365.
func Interest(open money.Amount, percent money.Decimal, due, until day.Day) (money.Amount, error) {
	days := int64(due.Until(until))
	if days <= 0 {
		return 0, nil
	}
	year, err := (open * 1_000).Percent(percent) // in thousandths, so that it is rounded once
	if err != nil {
		return 0, err
	}
	return year.Part(days, 365_000)
}

// ByDay sorts what is expected by the day, then by what it is of.
func ByDay(all []Expected) {
	slices.SortStableFunc(all, func(a, b Expected) int {
		return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.Supplier, b.Supplier), cmp.Compare(a.Number, b.Number))
	})
}
