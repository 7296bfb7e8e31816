package posting

// This file accrues, at a month's end, what came and is not invoiced, of lines that goods book nothing on (rules §11).

import (
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Accrued is a line of an accrual: what its invoice will debit, without tax, in the company's currency.
type Accrued struct {
	Account trade.Account
	Budget  string
	Base    money.Amount
}

// Accrual debits what the invoices will debit and credits accrued liabilities, in the company's currency. Its reversal, of the
// first of the next month, is the opposite.
func Accrual(lines []Accrued, company money.Currency) (accrual, reversal ledger.Entry) {
	accrual.Currency = company
	for _, l := range lines {
		accrual.Debit(role(l.Account), l.Budget, l.Base, l.Base)
		accrual.Credit(ledger.Accrued, "", l.Base, l.Base)
	}
	return accrual, accrual.Reversed()
}
