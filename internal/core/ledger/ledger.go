// Package ledger holds accounts by role and the balanced entries made of them
// (rules §11). It knows of documents only which bill a line is made of.
package ledger

import (
	"fmt"

	"lagoon/internal/core/money"
)

// Role names an account by what it is for; the company maps roles to its own
// account numbers.
type Role string

// The roles of rules §11 that bookings use.
const (
	Stock              Role = "stock"
	Expense            Role = "expense"
	FixedAssets        Role = "assets"
	DeferredExpense    Role = "deferred" // paid for and not a cost yet
	GRNI               Role = "grni"     // goods received, not invoiced
	PriceVariance      Role = "price_variance"
	InputTax           Role = "input_tax"
	OutputTax          Role = "output_tax" // that we owe ourselves, under reverse charge
	Payables           Role = "payables"
	Charges            Role = "charges" // by kind: freight, handling, …
	DiscountReceived   Role = "discount_received"
	Claims             Role = "claims"      // on suppliers, until their credit notes come
	Prepayments        Role = "prepayments" // paid ahead, by kind
	InTransit          Role = "in_transit"  // payments sent, not yet confirmed
	Bank               Role = "bank"
	Cash               Role = "cash"
	CardClearing       Role = "card" // paid by card, until the card's bill is paid
	ExchangeDifference Role = "exchange_difference"
	FreeOfCharge       Role = "free_of_charge"
	RoundingDifference Role = "rounding_difference"
	BankCharges        Role = "bank_charges"
	Accrued            Role = "accrued" // came and not invoiced at a month's end, of lines that goods book nothing on
)

// OfDocuments are the roles whose details name documents, an order line or a payment: each is one account all the same.
var OfDocuments = [...]Role{GRNI, InTransit, Bank}

// Roles are all of them, in the order of a chart.
var Roles = []Role{
	FixedAssets, Stock, GRNI, Claims, Prepayments, DeferredExpense, InputTax, Bank, Cash, CardClearing, InTransit, Payables, Accrued, OutputTax, Expense, Charges, PriceVariance, FreeOfCharge,
	DiscountReceived, ExchangeDifference, RoundingDifference, BankCharges,
}

// Line is one side of an entry. Amounts are debits above zero and credits below.
// Amount is in the document's currency, Base in the company's. Detail splits the
// role: a budget, a supplier, an order line, a kind of charge. Bill is the row key of the
// invoice whose billing the line books, then or later; zero where it books none. What is made
// void is undone by it.
type Line struct {
	Role   Role
	Detail string
	Bill   int64
	Amount money.Amount
	Base   money.Amount
}

// Entry is what one booking puts into the ledger. Currency is the document's.
type Entry struct {
	Currency money.Currency
	Lines    []Line
}

// Debit adds a line, joining it to one of the same role and detail. A line of
// nothing is left out.
func (e *Entry) Debit(role Role, detail string, amount, base money.Amount) {
	e.Add(Line{role, detail, 0, amount, base})
}

// Add adds a line, joining it to one of the same role, detail and bill.
func (e *Entry) Add(line Line) {
	for i := range e.Lines {
		if l := &e.Lines[i]; l.Role == line.Role && l.Detail == line.Detail && l.Bill == line.Bill {
			l.Amount += line.Amount
			l.Base += line.Base
			return
		}
	}
	if line.Amount != 0 || line.Base != 0 {
		e.Lines = append(e.Lines, line)
	}
}

// Credit is Debit with the sign turned.
func (e *Entry) Credit(role Role, detail string, amount, base money.Amount) {
	e.Debit(role, detail, -amount, -base)
}

// Reversed is the counter-entry: every line with its sign turned.
func (e Entry) Reversed() Entry {
	turned := Entry{Currency: e.Currency, Lines: make([]Line, len(e.Lines))}
	for i, l := range e.Lines {
		turned.Lines[i] = Line{l.Role, l.Detail, l.Bill, -l.Amount, -l.Base}
	}
	return turned
}

// Empty tells whether the entry books nothing, so that none is made.
func (e Entry) Empty() bool {
	for _, l := range e.Lines {
		if l.Amount != 0 || l.Base != 0 {
			return false
		}
	}
	return true
}

// Balance is the sum of all debits less all credits, in the company's currency;
// zero in every entry that may be booked.
func (e Entry) Balance() money.Amount {
	var sum money.Amount
	for _, l := range e.Lines {
		sum += l.Base
	}
	return sum
}

// Check refuses an entry that does not balance in the company's currency, or in
// the document's: an exchange difference has no amount there.
func (e Entry) Check() error {
	var foreign money.Amount
	for _, l := range e.Lines {
		foreign += l.Amount
	}
	if e.Balance() != 0 || foreign != 0 {
		return fmt.Errorf("ledger: entry out of balance by %d (company) and %d (%s)", e.Balance(), foreign, e.Currency)
	}
	return nil
}

// Of sums the entry's lines of one role, in the company's currency.
func (e Entry) Of(role Role) money.Amount {
	var sum money.Amount
	for _, l := range e.Lines {
		if l.Role == role {
			sum += l.Base
		}
	}
	return sum
}
