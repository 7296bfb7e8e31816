package store

// This file keeps what is taken of budgets (rules §3) as sums, so that nobody who orders or approves waits for all documents
// to be read. What writes an order line, or where an order or invoice stands, notes it; before its transaction is committed
// what it touched is counted again. Verify counts everything from the documents.

import (
	"context"
	"errors"
	"maps"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	linesOfOrder = statement(`SELECT id FROM order_line WHERE purchase_order = ?`)
	lineToCount  = statement(takenColumns + `WHERE l.id = ?`)
	putLineTaken = statement(
		`INSERT INTO order_line_taken (order_line, budget, month, ordered, received, invoiced, credited) VALUES (?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (order_line) DO UPDATE SET budget = excluded.budget, month = excluded.month, ordered = excluded.ordered,
		received = excluded.received, invoiced = excluded.invoiced, credited = excluded.credited`,
	)
	lineTaken = statement(
		`SELECT order_line, budget, month, ordered, received, invoiced, credited FROM order_line_taken WHERE order_line = ?`,
	)
	addBudgetTaken = statement(
		`INSERT INTO budget_taken (budget, month, ordered, received, invoiced, credited, without_order, taken) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (budget, month) DO UPDATE SET ordered = ordered + excluded.ordered, received = received + excluded.received,
		invoiced = invoiced + excluded.invoiced, credited = credited + excluded.credited,
		without_order = without_order + excluded.without_order, taken = taken + excluded.taken`,
	)
	budgetsTaken = statement(
		`SELECT budget, month, ordered, received, invoiced, credited, without_order, taken FROM budget_taken
		WHERE month >= ?1 AND month <= ?2 ORDER BY budget, month`,
	)
	budgetTaken = statement(
		`SELECT budget, month, ordered, received, invoiced, credited, without_order, taken FROM budget_taken
		WHERE budget = ?1 AND month >= ?2 AND month <= ?3 ORDER BY month`,
	)
	standsAt     = statement(`SELECT state, revision FROM invoice_state WHERE invoice = ?`)
	sumCounted   = statement(`SELECT count(*) FROM kept_sum WHERE name = ?`)
	countSum     = statement(`INSERT INTO kept_sum (name) VALUES (?) ON CONFLICT DO NOTHING`)
	dropTaken    = statement(`DELETE FROM order_line_taken`)
	dropBudgets  = statement(`DELETE FROM budget_taken`)
	linesToCount = proof(`SELECT id FROM order_line WHERE id > ? ORDER BY id LIMIT 2000`)
	billsToCount = proof(
		`SELECT invoice, revision FROM invoice_state WHERE invoice > ? AND +state IN ` + isBooked + ` ORDER BY invoice LIMIT 2000`,
	)
	takenLines     = proof(takenColumns + `WHERE l.id > ? ORDER BY l.id LIMIT 2000`)
	takenOfNothing = proof(`SELECT order_line, 0 FROM order_line_taken WHERE order_line NOT IN (SELECT id FROM order_line)`)
)

// takenColumns are those of an order line as budgets are counted from it.
var takenColumns = `SELECT l.id, l.budget, l.net, l.quantity, ls.received, ls.billed, ls.closed_goods, ls.closed_invoices, o.currency, o.rate, o.issued_on,
	st.state IN ` + isIssued + `, o.number, l.no, coalesce(k.budget, ''), coalesce(k.month, ''), coalesce(k.ordered, 0), coalesce(k.received, 0),
	coalesce(k.invoiced, 0), coalesce(k.credited, 0)
	FROM order_line l JOIN order_line_state ls ON ls.order_line = l.id JOIN purchase_order o ON o.id = l.purchase_order
	JOIN order_state st ON st.purchase_order = o.id LEFT JOIN order_line_taken k ON k.order_line = l.id `

// The sums that are counted from all documents once.
const (
	sumOfBudgets  = "budgets"
	sumOfAccounts = "accounts"
	sumOfLookedUp = "looked up"
)

// takings are what a transaction wrote that budgets are counted from.
type takings struct {
	lines, orders map[int64]bool
	invoices      map[int64]counted // by row key, with the revision that was counted before
}

// counted is the revision of an invoice that takes of budgets; 0: none does.
type counted int64

func scanCounted(r row) (counted, error) {
	var state trade.InvoiceState
	var revision counted
	if err := r.Scan(&state, &revision); err != nil || !state.Booked() {
		return 0, err
	}
	return revision, nil
}

func (k *takings) line(id int64) {
	if k.lines == nil {
		k.lines = map[int64]bool{}
	}
	k.lines[id] = true
}

func (k *takings) order(id int64) {
	if k.orders == nil {
		k.orders = map[int64]bool{}
	}
	k.orders[id] = true
}

// noteInvoice keeps what of an invoice was counted before its state is written.
func (t *Tx) noteInvoice(invoice int64) error {
	if _, noted := t.takings.invoices[invoice]; noted {
		return nil
	}
	before, err := one(t, standsAt, scanCounted, invoice)
	if err != nil && !errors.Is(err, ErrNone) {
		return err
	}
	if t.takings.invoices == nil {
		t.takings.invoices = map[int64]counted{}
	}
	t.takings.invoices[invoice] = before
	return nil
}

// budgetMonth is what sums are kept by.
type budgetMonth struct{ budget, month string }

// countTaken counts again what the transaction touched.
func (t *Tx) countTaken() error {
	touched := t.takings
	if t.takings = (takings{}); touched.lines == nil && touched.orders == nil && touched.invoices == nil {
		return nil
	}
	company, err := t.Company()
	if errors.Is(err, ErrNone) {
		return nil
	} else if err != nil {
		return err
	}
	sums, invoiced := map[budgetMonth]trade.BudgetSum{}, map[int64]trade.BudgetPart{}
	for _, invoice := range slices.Sorted(maps.Keys(touched.invoices)) {
		before := touched.invoices[invoice]
		now, err := one(t, standsAt, scanCounted, invoice)
		if err != nil {
			return err
		}
		if before == now {
			continue
		}
		for revision, n := range map[counted]money.Amount{before: -1, now: 1} {
			parts, err := t.invoiceParts(int64(revision), company.Currency)
			if err != nil {
				return err
			}
			for _, p := range parts {
				if p = p.Times(n); p.OrderLine != 0 {
					invoiced[p.OrderLine] = p.Plus(invoiced[p.OrderLine])
					touched.line(p.OrderLine)
				} else {
					key := budgetMonth{p.Budget, p.Month}
					sums[key] = sums[key].Plus(p.Taken(), 1)
				}
			}
		}
	}
	for _, order := range slices.Sorted(maps.Keys(touched.orders)) {
		lines, err := list(t, linesOfOrder, scanOne[int64], order)
		if err != nil {
			return err
		}
		for _, line := range lines {
			touched.line(line)
		}
	}
	for _, line := range slices.Sorted(maps.Keys(touched.lines)) {
		if err := t.countLine(line, invoiced[line], company.Currency, sums); err != nil {
			return err
		}
	}
	for key, s := range sums {
		if s == (trade.BudgetSum{}) {
			continue
		}
		if err := t.do(addBudgetTaken, key.budget, key.month, s.Ordered, s.Received, s.Invoiced, s.Credited, s.WithoutOrder, s.Taken); err != nil {
			return err
		}
	}
	return nil
}

// invoiceParts are what a revision takes of budgets; of none: nothing.
func (t *Tx) invoiceParts(revision int64, company money.Currency) ([]trade.BudgetPart, error) {
	if revision == 0 {
		return nil, nil
	}
	inv, err := t.Invoice(revision)
	if err != nil {
		return nil, err
	}
	totals, err := inv.Totals()
	if err != nil {
		return nil, err
	}
	return inv.BudgetParts(totals, company)
}

// countLine counts what an order line takes, invoices having changed it by some, and what that changes of the sums.
func (t *Tx) countLine(id int64, invoiced trade.BudgetPart, company money.Currency, sums map[budgetMonth]trade.BudgetSum) error {
	l, err := one(t, lineToCount, scanTakenLine, id)
	if err != nil {
		return err
	}
	before := l.Kept
	now, err := l.Takes(company)
	if err != nil {
		return err
	}
	now.Invoiced, now.Credited = before.Invoiced+invoiced.Invoiced, before.Credited+invoiced.Credited
	if now == before || (now == trade.BudgetPart{OrderLine: id} && before.Month == "") {
		return nil
	}
	for n, p := range map[money.Amount]trade.BudgetPart{-1: before, 1: now} {
		if key := (budgetMonth{p.Budget, p.Month}); p.Budget != "" {
			sums[key] = sums[key].Plus(p.Taken(), n)
		}
	}
	return t.do(putLineTaken, id, now.Budget, now.Month, now.Ordered, now.Received, now.Invoiced, now.Credited)
}

// TakenLine is an order line as budgets are counted from it, with what is kept of it.
type TakenLine struct {
	trade.OrderLine
	Currency money.Currency
	Rate     money.Decimal // company currency for one unit
	IssuedOn day.Day
	Counts   bool // its order is issued
	Order    int64
	Kept     trade.BudgetPart
}

// Takes is what the line takes of its budget, but for invoices; nothing while its order does not count.
func (l *TakenLine) Takes(company money.Currency) (trade.BudgetPart, error) {
	if !l.Counts {
		return trade.BudgetPart{OrderLine: l.ID}, nil
	}
	return l.BudgetPart(l.IssuedOn, l.Rate, l.Currency, company)
}

// TakenLines are the order lines after a row key, some at a time, with what is kept of them.
func (t *Tx) TakenLines(after int64) ([]TakenLine, error) {
	return list(t, takenLines, scanTakenLine, after)
}

func scanTakenLine(r row) (l TakenLine, err error) {
	k := &l.Kept
	err = r.Scan(&l.ID, &l.Budget, &l.Net, &l.Quantity, &l.Received, &l.Billed, &l.ClosedGoods, &l.ClosedInvoices, &l.Currency, &l.Rate,
		&l.IssuedOn, &l.Counts, &l.Order, &l.No, &k.Budget, &k.Month, &k.Ordered, &k.Received, &k.Invoiced, &k.Credited)
	k.OrderLine = l.ID
	return
}

// BookedRevision is an invoice in the books with its revision in force.
type BookedRevision struct{ Invoice, Revision int64 } // row keys

// BookedAfter are the invoices in the books after a row key, some at a time.
func (t *Tx) BookedAfter(after int64) ([]BookedRevision, error) {
	return list(t, billsToCount, func(r row) (b BookedRevision, err error) {
		err = r.Scan(&b.Invoice, &b.Revision)
		return
	}, after)
}

// TakenOfNothing are kept parts of order lines that there are not.
func (t *Tx) TakenOfNothing() ([]Sum, error) { return list(t, takenOfNothing, scanSum) }

// LineTaken is what is kept of an order line; ErrNone where it never counted.
func (t *Tx) LineTaken(line int64) (trade.BudgetPart, error) {
	return one(t, lineTaken, func(r row) (p trade.BudgetPart, err error) {
		err = r.Scan(&p.OrderLine, &p.Budget, &p.Month, &p.Ordered, &p.Received, &p.Invoiced, &p.Credited)
		return
	}, line)
}

// BudgetMonth is what is taken of a budget by the orders, and the invoices without one, of a month.
type BudgetMonth struct {
	Budget, Month string
	trade.BudgetSum
}

func scanBudgetMonth(r row) (m BudgetMonth, err error) {
	err = r.Scan(&m.Budget, &m.Month, &m.Ordered, &m.Received, &m.Invoiced, &m.Credited, &m.WithoutOrder, &m.Taken)
	return
}

// TakenOfBudget is what is taken of a budget in a year.
func (t *Tx) TakenOfBudget(budget, year string) (sum trade.BudgetSum, err error) {
	months, err := t.MonthsOfBudget(budget, year+"-01", year+"-12")
	for _, m := range months {
		sum = sum.Plus(m.BudgetSum, 1)
	}
	return sum, err
}

// BudgetMonths are the months of all budgets from one to another (YYYY-MM).
func (t *Tx) BudgetMonths(from, until string) ([]BudgetMonth, error) {
	return list(t, budgetsTaken, scanBudgetMonth, from, until)
}

// MonthsOfBudget are those of one budget.
func (t *Tx) MonthsOfBudget(budget, from, until string) ([]BudgetMonth, error) {
	return list(t, budgetTaken, scanBudgetMonth, budget, from, until)
}

// countSums counts kept sums from all documents where that was never done: once, on books that an earlier version made.
func (s *Store) countSums(ctx context.Context) error {
	return s.Write(ctx, func(t *Tx) error {
		for name, count := range map[string]func() error{sumOfBudgets: t.countBudgets, sumOfAccounts: t.countAccounts, sumOfLookedUp: t.countLookedUp} {
			done, err := t.number(sumCounted, name)
			if err == nil && done == 0 {
				err = errors.Join(count(), t.do(countSum, name))
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// countBudgets counts what is taken of budgets from all order lines and booked invoices.
func (t *Tx) countBudgets() error {
	if err := errors.Join(t.do(dropTaken), t.do(dropBudgets)); err != nil {
		return err
	}
	for after := int64(0); ; {
		lines, err := list(t, linesToCount, scanOne[int64], after)
		if err != nil {
			return err
		}
		if len(lines) == 0 {
			break
		}
		for _, after = range lines {
			t.takings.line(after)
		}
		if err := t.countTaken(); err != nil {
			return err
		}
	}
	for after := int64(0); ; {
		bills, err := t.BookedAfter(after)
		if err != nil || len(bills) == 0 {
			return err
		}
		t.takings.invoices = map[int64]counted{}
		for _, b := range bills {
			after = b.Invoice
			t.takings.invoices[after] = 0
		}
		if err := t.countTaken(); err != nil {
			return err
		}
	}
}
