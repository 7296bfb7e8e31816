package store

// This file reads what is taken of the budgets.

import (
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	budgetedLines = proof(`SELECT l.id, l.budget, l.net, l.quantity, ls.received, ls.billed, ls.closed_goods,
		ls.closed_invoices, o.currency, o.rate FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id
		JOIN order_line l ON l.purchase_order = o.id JOIN order_line_state ls ON ls.order_line = l.id
		WHERE l.budget <> '' AND st.state IN ` + isIssued)
	bookedRevisions = proof(`SELECT revision FROM invoice_state WHERE state IN ` + isBooked)
)

// BudgetedLine is an issued order line that is charged to a budget, with what its net comes to in company currency.
type BudgetedLine struct {
	trade.OrderLine
	Currency money.Currency
	Rate     money.Decimal // company currency for one unit
}

// BudgetedLines are all issued order lines that are charged to a budget, in no order.
func (t *Tx) BudgetedLines() ([]BudgetedLine, error) {
	return list(t, budgetedLines, func(r row) (l BudgetedLine, err error) {
		err = r.Scan(&l.ID, &l.Budget, &l.Net, &l.Quantity, &l.Received, &l.Billed, &l.ClosedGoods, &l.ClosedInvoices, &l.Currency, &l.Rate)
		return
	})
}

// BookedRevisions are the revisions in force of all invoices that are in the books, in no order.
func (t *Tx) BookedRevisions() ([]int64, error) { return list(t, bookedRevisions, scanOne[int64]) }
