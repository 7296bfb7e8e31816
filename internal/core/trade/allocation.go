package trade

// This file is about what leaves receipt lines, or is billed without one: the allocations of
// an order line, and what each does to it.

import (
	"cmp"
	"slices"

	"lagoon/internal/core/money"
)

// AllocationKind says what a quantity was allocated to.
type AllocationKind string

// The kinds of allocation. What is billed without a receipt stands beyond receipts or, on a
// line of level two-way, against the order alone.
const (
	AllocatedBilled   AllocationKind = "billed"
	AllocatedAwaited  AllocationKind = "awaited"  // billed goods that went back and are to be replaced
	AllocatedVariance AllocationKind = "variance" // billed, and taken to price variance
	AllocatedFree     AllocationKind = "free"     // accepted as free of charge
	AllocatedReversed AllocationKind = "reversed" // booked wrongly
	AllocatedReturned AllocationKind = "returned" // gone back, to be replaced
	AllocatedCredited AllocationKind = "credited" // gone back for credit, not expected again
)

// Allocation is a quantity of an order line with the value that it takes out of a receipt line
// or, without a receipt, stands at. A counter-row has the opposite signs.
type Allocation struct {
	Kind        AllocationKind
	Receipt     *Receipt
	InvoiceLine int64         // row key of the line that bills it; 0 where none does
	CreditLine  int64         // row key of the line of a credit note that takes it back; 0 where none does
	Claim       *ClaimLine    // that takes it back, or was given up; nil where none did
	Invoice     int64         // row key of its invoice
	Rate        money.Decimal // of the invoice
	Relief
}

// Take counts an allocation: everything that a line and its receipts say of what was billed,
// given away, sent back or reversed follows from it.
func (l *OrderLine) Take(a Allocation) {
	part := Part{InvoiceLine: a.InvoiceLine, Invoice: a.Invoice, Rate: a.Rate, Relief: a.Relief}
	switch a.Kind {
	case AllocatedBilled, AllocatedAwaited, AllocatedVariance:
		l.Billed += a.Quantity
	case AllocatedCredited:
		l.Returned += a.Quantity
		l.Received -= a.Quantity
	case AllocatedReversed, AllocatedReturned:
		l.Received -= a.Quantity
	}
	if r := a.Receipt; r != nil {
		r.Relieved = r.Relieved.Plus(a.Relief)
		switch a.Kind {
		case AllocatedBilled:
			r.Billed += a.Quantity
			r.Bills.add(part)
		case AllocatedFree:
			r.Free += a.Quantity
		case AllocatedReversed:
			r.Reversed += a.Quantity
		case AllocatedReturned, AllocatedCredited:
			r.Returned += a.Quantity
		}
		return
	}
	switch {
	case a.Kind == AllocatedAwaited:
		l.Awaited.add(part)
	case a.Kind == AllocatedVariance:
		l.Variance.add(part)
	case a.Kind == AllocatedBilled && l.Level.Receives():
		l.Beyond.add(part)
	}
}

// Arrive counts a receipt of the line.
func (l *OrderLine) Arrive(r *Receipt) {
	l.Received += r.Quantity
	l.Receipts = append(l.Receipts, r)
}

// Part is what one invoice line billed: of a receipt or, where no receipt holds it, at the
// value that it has in GRNI or, taken to variance, had there.
type Part struct {
	InvoiceLine int64
	Invoice     int64
	Rate        money.Decimal // of the invoice
	Relief
}

// Parts are several of them, by invoice line, oldest first.
type Parts []Part

// Quantity is their sum.
func (p Parts) Quantity() money.Decimal {
	var sum money.Decimal
	for _, one := range p {
		sum += one.Quantity
	}
	return sum
}

// Of is the part of an invoice line; nothing where it has none.
func (p Parts) Of(invoiceLine int64) Part {
	for _, one := range p {
		if one.InvoiceLine == invoiceLine {
			return one
		}
	}
	return Part{InvoiceLine: invoiceLine}
}

func (p *Parts) add(part Part) {
	at, found := slices.BinarySearchFunc(
		*p,
		part.InvoiceLine,
		func(a Part, line int64) int { return cmp.Compare(a.InvoiceLine, line) },
	)
	if !found {
		*p = slices.Insert(*p, at, part)
		return
	}
	one := &(*p)[at]
	if one.Relief = one.Plus(part.Relief); one.Relief == (Relief{}) {
		*p = slices.Delete(*p, at, at+1)
	}
}
