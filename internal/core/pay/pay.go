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
	Steps          []trade.DiscountStep // where there are several discounts: DiscountUntil and Discount are of the first
	Plan           []trade.Instalment   // none: it is due whole
	Ahead          bool                 // it asks for money ahead
	Request        bool                 // our own, for money ahead: it is paid whole, and nothing is taken off
	Held           string               // why it may not be paid, empty if nothing stands against it
	Warning        string               // what the bank said of the last payment to this account, where it rejected it
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
	NoMoney    Reason = "no_money" // what is at hand does not reach for it
)

// Item is one invoice of a proposal: Amount is to be paid, Discount kept, and Netted is taken off for credit notes.
type Item struct {
	Payable
	Amount   money.Amount
	Discount money.Amount
	Netted   money.Amount
	percent  money.Decimal // of its discount
	full     money.Amount  // Amount and
	off      money.Amount  // Discount where nothing is netted
	Part     bool          // its amount was typed, or is an instalment: nothing is netted
	Out      bool          // a person took it out: it is shown and not paid
	In       bool          // a person put it in, due or not
}

// Credit is a verified credit note with what is still open of it, above zero.
type Credit struct {
	Note           int64 // number
	SupplierNumber string
	Supplier       int64 // row key
	Currency       money.Currency
	Open           money.Amount
	Date           day.Day
	Names          int64 // number of the invoice that it names; 0: none that is here
}

// Netting takes a part of a credit note off an invoice.
type Netting struct {
	Credit
	Invoice int64 // number
	Amount  money.Amount
}

// Payment is one payment to one supplier, or to who is paid for some of its invoices alone, in one currency; where credit notes take off all of it, nothing is paid.
type Payment struct {
	Supplier *trade.Supplier
	Currency money.Currency
	Items    []Item
	Nettings []Netting
}

// Total is the sum to pay, above zero.
func (p Payment) Total() money.Amount {
	var sum money.Amount
	for _, i := range p.Items {
		if !i.Out {
			sum += i.Amount
		}
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
	credits  []Credit // that are netted
}

// Choice is what a person changes of a proposal, by the numbers of invoices.
type Choice struct {
	Out, In []int64                // taken out, and put in although not due
	Only    bool                   // nothing but what is put in
	Parts   map[int64]money.Amount // paid in part, in the invoice's currency
}

// Propose takes the invoices that are due by a day, or whose discount would be lost
// if they were not paid on payOn, one payment per supplier and currency, less the credit notes of each.
func Propose(payables []Payable, credits []Credit, dueBy, payOn day.Day) (Proposal, error) {
	return Choice{}.Propose(payables, credits, dueBy, payOn)
}

// Propose proposes the same as a person chose: what is taken out is shown and neither paid nor netted.
func (c Choice) Propose(payables []Payable, credits []Credit, dueBy, payOn day.Day) (Proposal, error) {
	var proposal Proposal
	for _, p := range payables {
		item, due, err := p.Item(dueBy, payOn)
		if err != nil {
			return proposal, err
		}
		item.In = slices.Contains(c.In, p.Invoice)
		item.Out = slices.Contains(c.Out, p.Invoice) || (c.Only && !item.In)
		if part := c.Parts[p.Invoice]; part > 0 && part < item.Amount && !p.Request {
			item.Amount, item.Discount, item.Part = part, 0, true
		}
		if reason := refusal(p); reason != "" {
			proposal.LeftOut = append(proposal.LeftOut, LeftOut{p, reason})
		} else if !due && !item.In {
			proposal.LeftOut = append(proposal.LeftOut, LeftOut{p, NotDue})
		} else {
			proposal.add(item)
		}
	}
	slices.SortStableFunc(
		proposal.Payments,
		func(a, b Payment) int { return cmp.Compare(a.Supplier.Name, b.Supplier.Name) },
	)
	return proposal, proposal.net(credits)
}

// Item is what is paid of an invoice on a day: all that is open or, of one in instalments, what is due by a day; with the
// best discount that can still be had, of what was never paid in part before. It tells whether it is due, or loses that.
func (p Payable) Item(dueBy, payOn day.Day) (item Item, due bool, err error) {
	item = Item{Payable: p, Amount: p.Open}
	percent := p.Supplier.Terms.DiscountPercent
	if len(p.Steps) > 0 {
		step := trade.BestStep(p.Steps, payOn)
		percent, item.DiscountUntil = step.Percent, step.Until
		if item.Payable.Discount, err = p.Total.Percent(percent); err != nil {
			return item, false, err
		}
	}
	due = p.Due <= dueBy
	if len(p.Plan) > 0 {
		part := min(p.Open, trade.InstalmentsDue(p.Plan, dueBy, p.Total-p.Open))
		if due = part > 0; due && part < p.Open {
			item.Amount, item.Part = part, true
		}
	}
	reachable := item.Payable.Discount > 0 && item.DiscountUntil >= payOn
	switch {
	case reachable && item.Part: // of its own amount
		item.Discount, err = item.Amount.Percent(percent)
	case reachable && p.Open == p.Total:
		item.Discount = item.Payable.Discount
		due = due || item.DiscountUntil <= dueBy
	}
	item.percent = percent
	item.Amount -= item.Discount
	return item, due, err
}

// Select makes the payments of chosen items, in the same way.
func Select(items []Item, credits []Credit) ([]Payment, error) {
	var proposal Proposal
	for _, item := range items {
		proposal.add(item)
	}
	return proposal.Payments, proposal.net(credits)
}

// net takes credit notes off the payments of their suppliers: each first off the invoice that it names, then off the
// oldest due; of several the oldest first. What is left of a credit note stays open. There is no discount on what is netted
// (rules §10), and nothing is netted off what is paid to another for an invoice alone: who it is owed to has no part in the credit.
func (p *Proposal) net(credits []Credit) error {
	p.credits = credits
	credits = slices.Clone(credits)
	slices.SortStableFunc(credits, func(a, b Credit) int { return cmp.Or(cmp.Compare(a.Date, b.Date), cmp.Compare(a.Note, b.Note)) })
	for i := range p.Payments {
		pay := &p.Payments[i]
		pay.Nettings = nil
		for j := range pay.Items {
			item := &pay.Items[j]
			item.Amount, item.Discount, item.Netted = item.full, item.off, 0
		}
		for _, c := range credits {
			if c.Supplier == pay.Supplier.ID && c.Currency == pay.Currency && !pay.Supplier.PaidApart {
				pay.take(c)
			}
		}
		for j := range pay.Items {
			if err := pay.Items[j].less(); err != nil {
				return err
			}
		}
	}
	return nil
}

// take sets a credit note against the items of a payment.
func (p *Payment) take(c Credit) {
	order := make([]*Item, len(p.Items))
	for i := range p.Items {
		order[i] = &p.Items[i]
	}
	slices.SortStableFunc(order, func(a, b *Item) int {
		named := func(i *Item) int {
			if i.Invoice == c.Names {
				return 0
			}
			return 1
		}
		return cmp.Or(cmp.Compare(named(a), named(b)), cmp.Compare(a.Due, b.Due), cmp.Compare(a.Invoice, b.Invoice))
	})
	left := c.Open
	for _, item := range order {
		if amount := min(left, item.Open-item.Netted); amount > 0 && !item.Part && !item.Request && !item.Out {
			item.Netted += amount
			left -= amount
			p.Nettings = append(p.Nettings, Netting{c, item.Invoice, amount})
		}
	}
}

// less takes what is netted off what is paid of an item, and off what its discount is of.
func (i *Item) less() error {
	if i.Netted == 0 {
		return nil
	}
	if i.Discount > 0 {
		discount, err := (i.Open - i.Netted).Percent(i.percent)
		if err != nil {
			return err
		}
		i.Discount = min(i.Discount, discount)
	}
	i.Amount = i.Open - i.Netted - i.Discount
	return nil
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
	item.full, item.off = item.Amount, item.Discount
	for i := range p.Payments {
		if q := &p.Payments[i]; q.Supplier.ID == item.Supplier.ID && q.Supplier.PayTo == item.Supplier.PayTo &&
			q.Supplier.PaidApart == item.Supplier.PaidApart && q.Currency == item.Currency {
			q.Items = append(q.Items, item)
			return
		}
	}
	p.Payments = append(p.Payments, Payment{Supplier: item.Supplier, Currency: item.Currency, Items: []Item{item}})
}

// Within keeps of the payments in a currency what an amount at hand reaches for: first what loses most a year while it is not
// paid, by its discount, then what is due first; what a person put in before all of it. What it does not reach for is left out. It gives what is left at hand, and the
// discounts that are lost with what is left out. Credit notes that were netted off what is left out are netted off the rest.
func (p *Proposal) Within(atHand money.Amount, currency money.Currency) (left, lost money.Amount, err error) {
	var order []Item
	for _, payment := range p.Payments {
		for _, item := range payment.Items {
			if payment.Currency == currency && !item.Out {
				order = append(order, item)
			}
		}
	}
	yearly := func(i Item) money.Decimal {
		return trade.RatePerYear(int64(i.Discount), int64(i.Open), i.DiscountUntil, i.Due)
	}
	slices.SortStableFunc(order, func(a, b Item) int {
		return cmp.Or(chosen(a, b), cmp.Compare(yearly(b), yearly(a)), cmp.Compare(a.Due, b.Due), cmp.Compare(a.Invoice, b.Invoice))
	})
	left = atHand
	short := map[int64]bool{}
	for _, item := range order {
		if item.Amount > left && !item.In {
			short[item.Invoice] = true
			lost += item.Discount
			p.LeftOut = append(p.LeftOut, LeftOut{item.Payable, NoMoney})
			continue
		}
		left -= item.Amount
	}
	for i := range p.Payments {
		payment := &p.Payments[i]
		payment.Items = slices.DeleteFunc(payment.Items, func(item Item) bool { return short[item.Invoice] })
	}
	p.Payments = slices.DeleteFunc(p.Payments, func(payment Payment) bool { return len(payment.Items) == 0 })
	if err = p.net(p.credits); err != nil {
		return 0, 0, err
	}
	left = atHand
	for _, payment := range p.Payments {
		if payment.Currency == currency {
			left -= payment.Total()
		}
	}
	return left, lost, nil
}

// chosen puts what a person put in before the rest.
func chosen(a, b Item) int {
	switch {
	case a.In == b.In:
		return 0
	case a.In:
		return -1
	}
	return 1
}
