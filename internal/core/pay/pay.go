// Package pay proposes what to pay and when (rules §10).
package pay

import (
	"cmp"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Payable is a released invoice with what is still open of it.
type Payable struct {
	Invoice        int64 // number
	SupplierNumber string
	Supplier       *trade.Supplier
	Currency       money.Currency
	Open           money.Amount // above zero
	Total          money.Amount
	Due            day.Day
	DiscountUntil  day.Day // empty: none
	Discount       money.Amount
	Held           string // why it may not be paid, empty if nothing stands against it
	Warning        string // what the bank said of the last payment to this account, where it rejected it
}

// Discount is what the terms let one keep of a total, rounded once.
func Discount(total money.Amount, terms trade.Terms) (money.Amount, error) {
	return total.Percent(terms.DiscountPercent)
}

// Reason says why an invoice is left out of a proposal.
type Reason string

// The reasons of leaving out.
const (
	NotDue     Reason = "not_due"
	OnHold     Reason = "on_hold"
	Supplier   Reason = "supplier_blocked"
	NoAccount  Reason = "no_account"
	NewAccount Reason = "new_account" // changed, and no second person has confirmed it
	NothingDue Reason = "nothing_due"
)

// Item is one invoice of a proposal: Amount is to be paid, Discount kept.
type Item struct {
	Payable
	Amount   money.Amount
	Discount money.Amount
}

// Payment is one payment to one supplier in one currency.
type Payment struct {
	Supplier *trade.Supplier
	Currency money.Currency
	Items    []Item
}

// Total is the sum to pay, above zero.
func (p Payment) Total() money.Amount {
	var sum money.Amount
	for _, i := range p.Items {
		sum += i.Amount
	}
	return sum
}

// LeftOut is an invoice that a proposal leaves out, and why.
type LeftOut struct {
	Payable
	Reason Reason
}

// Proposal is what a run would pay.
type Proposal struct {
	Payments []Payment
	LeftOut  []LeftOut
}

// Propose takes the invoices that are due by a day, or whose discount would be lost
// if they were not paid on payOn, one payment per supplier and currency.
func Propose(payables []Payable, dueBy, payOn day.Day) Proposal {
	var proposal Proposal
	for _, p := range payables {
		item := Item{Payable: p, Amount: p.Open}
		worthTaking := p.Discount > 0 && p.DiscountUntil >= payOn && p.Open == p.Total
		if worthTaking {
			item.Discount = p.Discount
			item.Amount -= p.Discount
		}
		if reason := refusal(p); reason != "" {
			proposal.LeftOut = append(proposal.LeftOut, LeftOut{p, reason})
		} else if p.Due > dueBy && !(worthTaking && p.DiscountUntil <= dueBy) {
			proposal.LeftOut = append(proposal.LeftOut, LeftOut{p, NotDue})
		} else {
			proposal.add(item)
		}
	}
	slices.SortStableFunc(
		proposal.Payments,
		func(a, b Payment) int { return cmp.Compare(a.Supplier.Name, b.Supplier.Name) },
	)
	return proposal
}

// Select makes the payments of chosen items, in the same way.
func Select(items []Item) []Payment {
	var proposal Proposal
	for _, item := range items {
		proposal.add(item)
	}
	return proposal.Payments
}

func refusal(p Payable) Reason {
	switch {
	case p.Held != "":
		return OnHold
	case len(p.Supplier.Holds.OfPayment()) > 0:
		return Supplier
	case p.Supplier.AccountBy != 0:
		return NewAccount
	case !trade.ValidIBAN(p.Supplier.IBAN):
		return NoAccount
	case p.Open <= 0:
		return NothingDue
	default:
		return ""
	}
}

func (p *Proposal) add(item Item) {
	for i := range p.Payments {
		if q := &p.Payments[i]; q.Supplier.ID == item.Supplier.ID && q.Currency == item.Currency {
			q.Items = append(q.Items, item)
			return
		}
	}
	p.Payments = append(p.Payments, Payment{item.Supplier, item.Currency, []Item{item}})
}
