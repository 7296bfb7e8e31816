package trade

// This file is about what a supplier is asked to credit of one of its invoices (rules §6, §11).

import (
	"lagoon/internal/core/money"
)

// Claim is what a supplier is asked to credit of an invoice. It is not paid: a run pays the invoice's total less it,
// with its tax, until its credit note comes, it is given up, or the goods have come after all.
type Claim struct {
	ID, Number int64
	Invoice    int64 // row key
	Revision   int64 // row key of the invoice's revision
	// Pending: its invoice waits for goods, so that nothing of it is booked yet.
	Pending bool
	Note    string
	By, At  string
	Lines   []*ClaimLine
}

// ClaimLine is what is claimed of one invoice line about one order line: goods in the order line's unit at the
// invoice's price, or a part of the price. Net and Tax are what was claimed; Left is what is still expected.
type ClaimLine struct {
	ID            int64
	Claim         int64 // number
	No            int
	InvoiceLine   int64 // row key
	InvoiceLineNo int
	OrderLine     int64 // row key
	For           CreditFor
	Quantity      money.Decimal
	Net           money.Amount
	TaxCategory   string
	TaxRate       money.Decimal
	Tax           money.Amount
	Left          Relief       // quantity, net amount, and that in the company's currency
	Credited      money.Amount // by credit notes, with their tax
}

// ClaimKind says what happened to a line of a claim.
type ClaimKind string

// A claim is made when its invoice stands in the books; it is credited, given up or withdrawn, each in parts.
const (
	Claimed        ClaimKind = "claimed"
	ClaimCredited  ClaimKind = "credited"
	ClaimGivenUp   ClaimKind = "given_up"
	ClaimWithdrawn ClaimKind = "withdrawn" // the goods came
)

// ClaimChange is a part of a claim line that was claimed or that is expected no more; below zero where that is undone.
type ClaimChange struct {
	Kind       ClaimKind
	Relief                  // of the claim
	Tax        money.Amount // of the credit note that gives it back
	CreditLine int64        // row key of the credit note's line
	// Dearer and Cheaper are what it adds to what is billed above and below the order's price.
	Dearer, Cheaper money.Amount
}

// Negative is the change undone.
func (c ClaimChange) Negative() ClaimChange {
	c.Relief, c.Tax, c.Dearer, c.Cheaper = c.Relief.Negative(), -c.Tax, -c.Dearer, -c.Cheaper
	return c
}

// Take counts a change.
func (l *ClaimLine) Take(c ClaimChange) {
	if c.Kind == Claimed {
		l.Left = l.Left.Plus(c.Relief)
		return
	}
	l.Left = l.Left.Less(c.Relief)
	if c.Kind == ClaimCredited {
		l.Credited += c.Value + c.Tax
	}
}

// LeftTax is the tax of what is still expected: its share of the tax that was claimed.
func (l *ClaimLine) LeftTax() money.Amount {
	if l.Net == 0 {
		return 0
	}
	tax, err := l.Tax.Part(int64(l.Left.Value), int64(l.Net))
	if err != nil {
		return 0 // a part of an amount is never more than the amount
	}
	return tax
}

// Gross is what is still expected with its tax.
func (l *ClaimLine) Gross() money.Amount { return l.Left.Value + l.LeftTax() }

// Part is what of the left a quantity or, where that is zero, an amount makes up. What takes all of the amount takes
// the quantity, too.
func (l *ClaimLine) Part(quantity money.Decimal, net money.Amount) (Relief, error) {
	if net == l.Left.Value {
		return l.Left, nil
	}
	base, err := l.Left.Base.Part(int64(net), int64(l.Left.Value))
	return Relief{quantity, net, base}, err
}

// Open tells whether something of the claim is still expected.
func (c Claim) Open() bool { return c.Left() != 0 }

// Left is the net amount that is still expected.
func (c Claim) Left() money.Amount {
	var sum money.Amount
	for _, l := range c.Lines {
		sum += l.Left.Value
	}
	return sum
}

// Worth is what is still expected in the company's currency, without tax.
func (c Claim) Worth() money.Amount {
	var sum money.Amount
	for _, l := range c.Lines {
		sum += l.Left.Base
	}
	return sum
}

// Gross is what is still expected, with its tax.
func (c Claim) Gross() money.Amount {
	var sum money.Amount
	for _, l := range c.Lines {
		sum += l.Gross()
	}
	return sum
}

// Credited is what credit notes gave back of the claim, with their tax: it settles that much of its invoice.
func (c Claim) Credited() money.Amount {
	var sum money.Amount
	for _, l := range c.Lines {
		sum += l.Credited
	}
	return sum
}

// CopiedClaims are lines of claims that count by themselves what a booking takes of them.
func CopiedClaims(lines []*ClaimLine) []*ClaimLine {
	all := make([]*ClaimLine, len(lines))
	for i, l := range lines {
		line := *l
		all[i] = &line
	}
	return all
}

// NotPaid is what claims take off what an invoice is paid: what is still expected of them, and what was credited.
func NotPaid(claims []Claim) money.Amount {
	var sum money.Amount
	for _, c := range claims {
		sum += c.Gross() + c.Credited()
	}
	return sum
}

// TaxClaims gives the lines of a claim their tax, rate by rate: round(tax × claimed so far ÷ net) − so far, where
// earlier are the lines that are claimed of the invoice already (rules §6).
func TaxClaims(t Totals, earlier, lines []*ClaimLine) error {
	for _, g := range t.Groups {
		if g.Basis == 0 {
			continue
		}
		at := func(l *ClaimLine) bool { return l.TaxCategory == g.Category && l.TaxRate == g.Rate }
		var before money.Amount
		for _, l := range earlier {
			if at(l) {
				before += l.Net
			}
		}
		for _, l := range lines {
			if !at(l) {
				continue
			}
			var err error
			if l.Tax, err = g.Tax.PartBetween(int64(before), int64(before+l.Net), int64(g.Basis)); err != nil {
				return err
			}
			before += l.Net
		}
	}
	return nil
}

// ClaimableOf is what of the line an invoice has billed and is not here: what is billed of receipts past what they
// hold, beyond receipts and taken to variance. On a line of level two-way it is all that the invoice bills, given as
// billed.
func (l *OrderLine) ClaimableOf(invoiceLine int64, billed money.Decimal) money.Decimal {
	if l.Level == TwoWay {
		return max(0, min(billed, l.Creditable()))
	}
	own := l.Beyond.Of(invoiceLine).Quantity + l.Variance.Of(invoiceLine).Quantity
	for _, r := range l.Receipts {
		own += min(max(0, -r.Open()), r.Bills.Of(invoiceLine).Quantity)
	}
	return max(0, min(own, l.Creditable()))
}
