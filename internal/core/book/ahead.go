package book

// This file books what invoices use of money that was paid ahead (rules §8).

import (
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
)

// Owes is a verified invoice, or one that is just booked: what it put into trade payables, and what was taken off it so far.
type Owes struct {
	trade.Invoice
	Supplier string       // code
	Base     money.Amount // of the payables, in the company's currency
	Settled  money.Amount // paid, credited for claims, or used of money ahead
	Open     money.Amount // still owed
}

// use takes what an invoice asks of money ahead, and gives it as it is posted.
func (b *booker) use(owes *Owes, ahead []trade.Prepayment) ([]posting.Used, error) {
	var used []posting.Used
	for i := range ahead {
		p := &ahead[i]
		if p.Use == nil || p.Use.Booked || p.Use.Amount == 0 {
			continue
		}
		amount := p.Use.Amount
		if could := min(p.Usable(), owes.Open); amount > could {
			return nil, fault.New(fault.Refused, "amount", "At most %s of it can be used now.", money.Money{Amount: max(0, could), Currency: p.Currency})
		}
		part, err := p.Next(amount)
		if err != nil {
			return nil, err
		}
		payables, err := owes.Base.PartBetween(int64(owes.Settled), int64(owes.Settled+amount), int64(owes.StatedTotal))
		if err != nil {
			return nil, err
		}
		p.Take(part)
		owes.Settled, owes.Open = owes.Settled+amount, owes.Open-amount
		b.Ahead = append(b.Ahead, Ahead{p, p.Use.ID, payables, part})
		used = append(used, posting.Used{AheadPart: part, Kind: p.Kind, Payables: payables})
	}
	return used, nil
}

// UseAhead books what a verified invoice uses of money ahead.
func UseAhead(owes Owes, ahead []trade.Prepayment, company money.Currency) (Booking, error) {
	b := begin(owes.Currency, company)
	used, err := b.use(&owes, ahead)
	if err != nil {
		return b.Booking, err
	}
	b.Entry, err = posting.Ahead(owes.Invoice, owes.Supplier, used, company)
	return b.Booking, err
}

// PutBack undoes what an invoice used of money ahead: just what was taken goes back.
func PutBack(inv trade.Invoice, supplier string, taken []Ahead, company money.Currency) (Booking, error) {
	b := begin(inv.Currency, company)
	var used []posting.Used
	for _, t := range taken {
		t = t.back()
		b.Ahead = append(b.Ahead, t)
		used = append(used, posting.Used{AheadPart: t.AheadPart, Kind: t.Of.Kind, Payables: t.Payables})
	}
	var err error
	b.Entry, err = posting.Ahead(inv, supplier, used, company)
	return b.Booking, err
}
