// Package selfbill makes the invoices that we write ourselves of what came, and the credit notes of what went back (rules §9).
package selfbill

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Books is what is known of what was ordered and billed before.
type Books interface {
	// LineAt is an order's line as it was in a revision of the order.
	LineAt(order *trade.Order, revision, line int) (*trade.OrderLine, error)
	// Invoice is an invoice by its row key.
	Invoice(id int64) (trade.Invoice, error)
}

// Document is an invoice or a credit note to be made: all but its number and day.
type Document struct {
	trade.Invoice
	Receipts []int64 // numbers of the deliveries that it bills
}

// LeftOut is what is not billed, and why.
type LeftOut struct {
	Order    int64 // number
	Line     int
	Name     string
	Quantity money.Decimal
	Why      Reason
}

// Reason is why something is left out.
type Reason string

// The reasons.
const (
	Theirs       Reason = "theirs"   // an open invoice or credit note of the supplier is about the line
	NotByReceipt Reason = "two_way"  // the line is not matched with its receipts
	Later        Reason = "later"    // it came after the day
	NotOurs      Reason = "not_ours" // what went back was billed by the supplier, who credits it
)

// Bill makes the documents of the orders of one supplier: of receipts up to a day that are not invoiced, at the order's price
// and tax of the day of receipt; one per receipt, order, or currency as is agreed. Goods that went back after we billed them
// are credited at what was billed. Lines that are not marked are not looked at.
func Bill(orders []*trade.Order, per trade.BillingPer, until day.Day, books Books) ([]Document, []LeftOut, error) {
	b := billing{per: per, until: until, books: books, at: map[string]int{}}
	for _, o := range orders {
		for _, l := range o.Lines {
			if !l.SelfBilled {
				continue
			}
			if err := b.line(o, l); err != nil {
				return nil, nil, err
			}
		}
	}
	for i := range b.documents {
		d := &b.documents[i]
		for j := range d.Lines {
			d.Lines[j].No = j + 1
		}
		totals, err := d.Totals()
		if err != nil {
			return nil, nil, err
		}
		d.StatedTotal = totals.Total
	}
	return b.documents, b.left, nil
}

type billing struct {
	per       trade.BillingPer
	until     day.Day
	books     Books
	documents []Document
	at        map[string]int // of documents, by what they are made of
	left      []LeftOut
}

func (b *billing) leave(o *trade.Order, l *trade.OrderLine, quantity money.Decimal, why Reason) {
	b.left = append(b.left, LeftOut{o.Number, l.No, l.Description, quantity, why})
}

// line bills what is open of an order line, or credits what is billed and went back.
func (b *billing) line(o *trade.Order, l *trade.OrderLine) error {
	switch open, over := l.Open(), l.Over(); {
	case open == 0 && over == 0:
		return nil
	case !l.Level.Receives():
		b.leave(o, l, open, NotByReceipt)
		return nil
	case l.Reserved > 0 || l.Credited > 0:
		b.leave(o, l, open+over, Theirs)
		return nil
	}
	for _, r := range l.Receipts {
		switch open := r.Open(); {
		case open > 0 && r.Day > b.until:
			b.leave(o, l, open, Later)
		case open > 0:
			if err := b.receipt(o, l, r, open); err != nil {
				return err
			}
		case open < 0:
			if err := b.back(o, l, r, -open); err != nil {
				return err
			}
		}
	}
	return nil
}

// document is the one that something belongs to, a new one where there is none.
func (b *billing) document(key string, o *trade.Order, kind trade.InvoiceKind, code, credited string) *Document {
	i, known := b.at[key]
	if !known {
		i = len(b.documents)
		b.at[key] = i
		b.documents = append(b.documents, Document{Invoice: trade.Invoice{
			Kind: kind, Code: code, Source: trade.FromKeys, SupplierID: o.SupplierID, OrderID: o.ID, Currency: o.Currency, Credited: credited,
		}})
	}
	return &b.documents[i]
}

// receipt bills what is open of a receipt.
func (b *billing) receipt(o *trade.Order, l *trade.OrderLine, r *trade.Receipt, quantity money.Decimal) error {
	then, err := b.books.LineAt(o, r.Revision, l.No)
	if err != nil {
		return err
	}
	discount, err1 := then.Discount.Part(int64(quantity), int64(then.Quantity))
	charge, err2 := then.Charge.Part(int64(quantity), int64(then.Quantity))
	if err := errors.Join(err1, err2); err != nil {
		return err
	}
	key := string(o.Currency)
	switch b.per {
	case trade.PerReceipt:
		key = fmt.Sprint("delivery ", r.Delivery)
	case trade.PerOrder:
		key = fmt.Sprint("order ", o.Number)
	}
	line := trade.InvoiceLine{
		OrderID: o.ID, OrderLineID: l.ID, OrderLineRef: fmt.Sprint(l.No), Description: l.Description, SupplierCode: l.SupplierCode, ItemCode: l.ItemCode,
		Quantity: quantity, Unit: l.Unit, Price: then.Price, Base: then.Base, Discount: discount, Charge: charge, TaxCode: l.Tax.Code,
	}
	line.TaxCategory, line.TaxRate = l.TaxOn(r.Day)
	if l.Level == trade.ByReceipt {
		line.Notes = trade.Notes{r.Note}
	}
	d := b.document(key, o, trade.PlainInvoice, trade.SelfBilledInvoice, "")
	d.Lines = append(d.Lines, line)
	if d.TaxPoint = max(d.TaxPoint, r.Day); !slices.Contains(d.Receipts, r.Delivery) {
		d.Receipts = append(d.Receipts, r.Delivery)
	}
	return nil
}

// back credits goods of a receipt that went back after they were billed: of the bills of ours the last first.
func (b *billing) back(o *trade.Order, l *trade.OrderLine, r *trade.Receipt, quantity money.Decimal) error {
	for _, part := range slices.Backward(r.Bills) {
		taken := min(quantity, part.Quantity)
		if taken <= 0 {
			continue
		}
		billed, err := b.books.Invoice(part.Invoice)
		if err != nil {
			return err
		}
		at := slices.IndexFunc(billed.Lines, func(line trade.InvoiceLine) bool { return line.ID == part.InvoiceLine })
		if !billed.SelfBilled() || at < 0 {
			continue
		}
		line := billed.Lines[at]
		discount, err1 := line.Discount.Part(int64(taken), int64(line.Quantity))
		charge, err2 := line.Charge.Part(int64(taken), int64(line.Quantity))
		if err := errors.Join(err1, err2); err != nil {
			return err
		}
		line.ID, line.Quantity, line.Discount, line.Charge, line.Credits = 0, taken, discount, charge, trade.ForGoods
		d := b.document(fmt.Sprint("credit ", part.Invoice), o, trade.CreditNote, trade.SelfBilledCredit, billed.SupplierNumber)
		d.Lines, d.TaxPoint = append(d.Lines, line), cmp.Or(d.TaxPoint, billed.PointOfTax())
		quantity -= taken
	}
	if quantity > 0 {
		b.leave(o, l, quantity, NotOurs)
	}
	return nil
}
