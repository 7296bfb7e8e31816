package trade

// This file spreads a cost over calendar months (rules §5).

import (
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Deferral spreads the cost of a line over calendar months, from one on (YYYY-MM).
type Deferral struct {
	From   string
	Months int
}

// LongestDeferral is over how many months a cost can be spread at most.
const LongestDeferral = 120

// CheckDeferral tells what stands against a deferral as it is typed.
func CheckDeferral(d Deferral, field string) *fault.Fault {
	if _, err := day.Parse(d.From + "-01"); err != nil {
		return fault.New(fault.Invalid, field, "Enter the first month, such as 2026-01.")
	}
	if d.Months < 1 || d.Months > LongestDeferral {
		return fault.New(fault.Invalid, field, "A cost is spread over 1 to %d months.", LongestDeferral)
	}
	return nil
}

// month is the n-th of the deferral, the first being 0.
func (d Deferral) month(n int) string {
	var year, month int
	_, _ = fmt.Sscanf(d.From, "%d-%d", &year, &month) // checked when it was typed
	n += year*12 + month - 1
	return fmt.Sprintf("%04d-%02d", n/12, n%12+1)
}

// DeferredPart is what of a line becomes a cost in a month; Detail is the budget that it is charged to. What was spread
// is above zero; what was posted, credited or made void is below.
type DeferredPart struct {
	InvoiceLine   int64 // row key
	Invoice       int64 // row key
	OrderLine     int64 // row key; 0: about no order
	Month, Detail string
	Amount, Base  money.Amount // in the document's and the company's currency
}

// Spread divides an amount, in both currencies, over the months, by largest remainder, ties to the earlier; the parts of
// months before that of the posting day go to its month, as one (rules §5).
func (d Deferral) Spread(amount, base money.Amount, posted day.Day) ([]DeferredPart, error) {
	weights := make([]money.Amount, d.Months)
	for i := range weights {
		weights[i] = 1
	}
	amounts, err := money.Split(amount, weights)
	if err != nil {
		return nil, err
	}
	bases, err := money.Split(base, weights)
	if err != nil {
		return nil, err
	}
	var parts []DeferredPart
	for i := range amounts {
		month := max(d.month(i), posted.Month())
		if n := len(parts); n > 0 && parts[n-1].Month == month {
			parts[n-1].Amount += amounts[i]
			parts[n-1].Base += bases[i]
			continue
		}
		parts = append(parts, DeferredPart{Month: month, Amount: amounts[i], Base: bases[i]})
	}
	return parts, nil
}

// Undefer takes an amount off what months still hold, by largest remainder over what each holds, and at most all of it;
// what is taken is below zero (rules §5).
func Undefer(held []DeferredPart, amount money.Amount) ([]DeferredPart, error) {
	var sum money.Amount
	weights := make([]money.Amount, len(held))
	for i, h := range held {
		weights[i], sum = h.Amount, sum+h.Amount
	}
	amount = min(amount, sum)
	if amount <= 0 {
		return nil, nil
	}
	shares, err := money.Split(amount, weights)
	if err != nil {
		return nil, err
	}
	var taken []DeferredPart
	for i, h := range held {
		if shares[i] == 0 {
			continue
		}
		base, err := h.Base.Part(int64(shares[i]), int64(h.Amount))
		if err != nil {
			return nil, err
		}
		h.Amount, h.Base = -shares[i], -base
		taken = append(taken, h)
	}
	return taken, nil
}

// SpreadOver is what the lines of an invoice that is not booked yet would hold month by month, by what they ask;
// InvoiceLine is the line's number. Of a line that is matched with its receipts their value is spread in the end.
func (inv Invoice) SpreadOver(totals Totals) ([]DeferredPart, error) {
	var all []DeferredPart
	for i, l := range inv.Lines {
		if l.Defer == nil || CheckDeferral(*l.Defer, "") != nil {
			continue
		}
		net := totals.LineNets[i] - totals.LineShares[i]
		parts, err := l.Defer.Spread(net, net, inv.PostingDay)
		if err != nil {
			return nil, err
		}
		for _, p := range parts {
			p.InvoiceLine = int64(l.No)
			all = append(all, p)
		}
	}
	return all, nil
}
