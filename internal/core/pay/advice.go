package pay

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Advice tells a supplier what one payment pays of its invoices and what is deducted, and why. Amounts are in the payment's
// currency.
type Advice struct {
	EndToEnd  string
	PayOn     day.Day
	Payee     string
	IBAN, BIC string
	Currency  money.Currency
	Amount    money.Amount
	Documents []AdvisedDocument
}

// AdvisedDocument is an invoice of a payment: of its Total, Discount, Claimed, Ahead and Credits are taken off, Paid is paid
// now, and what is left is paid apart.
type AdvisedDocument struct {
	Number     string // the supplier's
	Date       day.Day
	SelfBilled bool
	Total      money.Amount
	Discount   money.Amount
	Claimed    money.Amount // kept back until a credit note comes
	Ahead      money.Amount // paid before the goods, and used for it
	Credits    []AdvisedCredit
	Paid       money.Amount
}

// AdvisedCredit is what is taken off for a credit note, by the supplier's number of that.
type AdvisedCredit struct {
	Number string
	Amount money.Amount
}

// Credited is what is taken off for credit notes.
func (d AdvisedDocument) Credited() (sum money.Amount) {
	for _, c := range d.Credits {
		sum += c.Amount
	}
	return sum
}

// Apart is what is neither paid now nor deducted: paid before, or still to be paid.
func (d AdvisedDocument) Apart() money.Amount {
	return d.Total - d.Discount - d.Claimed - d.Ahead - d.Credited() - d.Paid
}
