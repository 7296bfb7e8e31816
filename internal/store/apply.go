package store

// This file writes what the core has decided to book.

import (
	"strings"

	"lagoon/internal/core/book"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Applied says by which document, of whom, when and why a booking is written. Delivery is the
// row key of a document about goods, or zero; Rate is what new receipts were valued at.
type Applied struct {
	Delivery int64
	Document int64 // row key of the invoice or credit note that is booked or made void; 0: none
	Rate     money.Decimal
	Reason   string
	By       int64
	At       string
}

// Apply writes a booking: its receipts, changes of claims, allocations and closings, and the state of every line
// that it touches. The entry, which takes a number of its own, is written beside it.
func (t *Tx) Apply(b book.Booking, as Applied) error {
	for _, r := range b.Receipts {
		id, err := t.AddReceiptLine(
			as.Delivery,
			ReceiptLine{
				OrderLine: r.Line.ID,
				Quantity:  r.Quantity,
				Refused:   r.Refused,
				Reason:    string(r.Reason),
				Remark:    r.Remark,
				Counted:   r.Counted,
				Unit:      r.Unit,
				Value:     r.Value,
				ValueBase: r.ValueBase,
				Rate:      as.Rate,
				Revision:  r.Line.Revision,
			},
		)
		if err != nil {
			return err
		}
		r.Booked.ID = id
		for i, l := range r.Lots {
			if err := t.AddLot(id, Lot{No: i + 1, Lot: strings.TrimSpace(l.Lot), Quantity: l.Quantity, BestBefore: l.BestBefore}); err != nil {
				return err
			}
		}
	}
	changes := map[*trade.ClaimLine]int64{}
	for _, c := range b.Claims {
		id, err := t.exec(addClaimChange, c.Line.ID, c.Kind, c.Quantity, c.Value, c.Base, c.Tax, c.Dearer, c.Cheaper,
			c.CreditLine, as.Reason, as.By, as.At)
		if err != nil {
			return err
		}
		changes[c.Line] = id
	}
	for _, a := range b.Allocations {
		receipt := int64(0)
		if a.Receipt != nil {
			receipt = a.Receipt.ID
		}
		id, err := t.exec(addAllocation, a.Line.ID, receipt, a.InvoiceLine, as.Delivery, a.Kind, a.Quantity, a.Value, a.Base, a.Line.Revision)
		if err == nil && a.CreditLine != 0 {
			err = t.do(addAllocationCredit, id, a.CreditLine)
		}
		if err == nil && a.Claim != nil {
			err = t.do(addAllocationClaim, id, changes[a.Claim])
		}
		if err != nil {
			return err
		}
	}
	if err := t.applyDeferrals(b.Deferrals, as.Document); err != nil {
		return err
	}
	if err := t.applyAhead(b.Ahead, as.Document, as.At); err != nil {
		return err
	}
	for _, c := range b.Closes {
		id, err := t.exec(addLineClose, c.Line.ID, as.Delivery, c.Goods, c.Invoices, as.Reason, as.By, as.At)
		if err == nil && as.Document != 0 && as.Delivery == 0 {
			err = t.do(addCloseInvoice, id, as.Document)
		}
		if err != nil {
			return err
		}
	}
	for _, l := range b.Lines {
		if err := t.SaveLine(l); err != nil {
			return err
		}
	}
	return nil
}
