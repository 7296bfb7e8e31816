package trade

// This file is about what a credit note may take back of an order line (rules §5).

import (
	"errors"
	"slices"

	"lagoon/internal/core/money"
)

// CreditFor says what a line of a credit note gives back.
type CreditFor string

// A credit is for goods, which takes quantity back, or for a price, which leaves quantities as they are.
// Where nobody said which, the line's figures do.
const (
	ForGoods CreditFor = "goods"
	ForPrice CreditFor = "price"
)

// Follows tells whether the document follows an invoice: it takes back what that billed, or changes its prices.
func (inv Invoice) Follows() bool { return inv.Kind == CreditNote || inv.Kind == Adjustment }

// Sign is 1, or −1 for a credit note: what an invoice adds to what is owed, a credit note takes off.
func (inv Invoice) Sign() money.Amount {
	if inv.Kind == CreditNote {
		return -1
	}
	return 1
}

// Owed is what the document adds to what is owed to its supplier, tax included: below zero for a credit note.
func (inv Invoice) Owed() money.Amount { return inv.Sign() * inv.StatedTotal }

// Turned is a document that comes to less than zero as the credit note that it is: its amounts and quantities with
// their signs turned (rules §5).
func (inv Invoice) Turned() Invoice {
	inv.Kind = CreditNote
	inv.StatedTotal, inv.Prepaid, inv.Rounded = -inv.StatedTotal, -inv.Prepaid, -inv.Rounded
	lines := make([]InvoiceLine, len(inv.Lines))
	for i, l := range inv.Lines {
		lines[i] = l.Back()
	}
	charges := make([]DocumentCharge, len(inv.Charges))
	for i, c := range inv.Charges {
		c.Allowance = !c.Allowance
		charges[i] = c
	}
	taxes := make([]StatedTax, len(inv.Taxes))
	for i, t := range inv.Taxes {
		t.Amount = -t.Amount
		taxes[i] = t
	}
	figures := make([]StatedFigure, len(inv.Figures))
	for i, f := range inv.Figures {
		switch f.Amount = -f.Amount; f.Term { // what was charged is allowed now, each without sign
		case "BT-107":
			f.Term, f.Amount = "BT-108", -f.Amount
		case "BT-108":
			f.Term, f.Amount = "BT-107", -f.Amount
		}
		figures[i] = f
	}
	inv.Lines, inv.Charges, inv.Taxes, inv.Figures = lines, charges, taxes, figures
	return inv
}

// Creditable is what of the line may be credited for goods: what is billed past what its receipts hold, beyond
// receipts and taken to variance, or on a line of level two-way all that is billed; less what earlier open credit
// notes claim. It is below zero where they claim more than there is.
func (l *OrderLine) Creditable() money.Decimal {
	if l.Level == TwoWay {
		return l.Billed - l.Credited
	}
	return l.Over() + l.Beyond.Quantity() + l.Variance.Quantity() - l.Credited
}

// Returnable is what of the line can still go back to its supplier; nothing on a line that is not matched with its
// receipts.
func (l *OrderLine) Returnable() money.Decimal {
	if l.Level == TwoWay {
		return 0
	}
	return l.GoBack()
}

// GoBack is what of the line is here and can go back, however it is matched.
func (l *OrderLine) GoBack() (sum money.Decimal) {
	for _, r := range l.Receipts {
		sum += r.Returnable()
	}
	return sum
}

// Overbilled tells whether more of the line is billed than can be: than was ordered, on a line of level two-way, or of
// a receipt than it came with.
func (l *OrderLine) Overbilled() bool {
	if l.Level == TwoWay {
		return l.Billed > l.CountsAsOrdered()
	}
	return slices.ContainsFunc(l.Receipts, func(r *Receipt) bool { return r.Billed+r.Free > r.Quantity-r.Reversed })
}

// BilledNet is what verified invoices ask for the line: the order's price for what is billed, with what they ask above
// and below it.
func (l *OrderLine) BilledNet(currency money.Currency) (money.Amount, error) {
	net, err := l.UnitPrice(currency).Times(l.Billed, currency)
	return net + l.Dearer - l.Cheaper, err
}

// CreditOf tells what a line of a credit note over a net gives back of this one: what somebody said, else goods where
// its unit price is one at which the line was billed, else a price where all of it was billed above the order's
// price. Empty where a person has to say.
func (l *OrderLine) CreditOf(bill InvoiceLine, price money.Price, net money.Amount, billed []money.Price) CreditFor {
	if bill.Credits != "" {
		return bill.Credits
	}
	for _, b := range billed {
		if b.Compare(price) == 0 {
			return ForGoods
		}
	}
	if net <= l.Dearer-l.CreditedPrice {
		return ForPrice
	}
	return ""
}

// ClaimCredit counts what a line of an earlier open credit note claims of this one. What its figures do not tell, and
// nobody said, counts as goods.
func (l *OrderLine) ClaimCredit(bill InvoiceLine, currency money.Currency) error {
	quantity, price, ok := l.InUnit(bill, currency)
	if !ok {
		return nil
	}
	net, err := bill.Net(currency)
	if err != nil {
		return err
	}
	if l.CreditOf(bill, price, net, []money.Price{l.UnitPrice(currency)}) == ForPrice {
		l.CreditedPrice += max(0, net)
	} else {
		l.Credited += max(0, quantity)
	}
	return nil
}

// Summed are the lines of a document with what it credits itself taken off: what a line below zero takes back of another
// about the same order line, at the same price, is not billed (10 and −2 is 8; rules §5). What is left below zero takes
// back what earlier invoices billed.
func Summed(lines []InvoiceLine, currency money.Currency) ([]InvoiceLine, error) {
	all := slices.Clone(lines)
	billing := map[int64][]int{} // by order line, the lines that bill it
	for i, l := range all {
		if l.OrderLineID != 0 && l.Quantity > 0 {
			billing[l.OrderLineID] = append(billing[l.OrderLineID], i)
		}
	}
	for i := range all {
		back := &all[i]
		if back.Quantity >= 0 {
			continue
		}
		for _, j := range billing[back.OrderLineID] {
			bill := &all[j]
			if back.Quantity == 0 || bill.Quantity == 0 || back.Unit != bill.Unit ||
				lines[i].UnitPrice(currency).Compare(lines[j].UnitPrice(currency)) != 0 {
				continue
			}
			taken := min(bill.Quantity, -back.Quantity)
			if err := errors.Join(bill.scale(bill.Quantity-taken), back.scale(back.Quantity+taken)); err != nil {
				return nil, err
			}
		}
	}
	return all, nil
}

// scale makes the line one of another quantity, with its share of discount and charge.
func (l *InvoiceLine) scale(quantity money.Decimal) error {
	share := func(a money.Amount) (money.Amount, error) {
		if l.Quantity < 0 {
			return a.Part(-int64(quantity), -int64(l.Quantity))
		}
		return a.Part(int64(quantity), int64(l.Quantity))
	}
	var err1, err2 error
	l.Discount, err1 = share(l.Discount)
	l.Charge, err2 = share(l.Charge)
	l.Quantity = quantity
	return errors.Join(err1, err2)
}

// Back is a line below zero as the credit that it is, above zero.
func (l InvoiceLine) Back() InvoiceLine {
	l.Quantity, l.Discount, l.Charge = -l.Quantity, -l.Discount, -l.Charge
	return l
}

// TakesBack tells whether the document takes back what earlier ones billed: it is a credit note, or has a line below zero.
func (inv Invoice) TakesBack() bool {
	return inv.Kind == CreditNote || slices.ContainsFunc(inv.Lines, func(l InvoiceLine) bool { return l.Quantity < 0 })
}
