package store

// This file keeps sums that lists are narrowed and summed by: what an order comes to, and what a supplier was paid in a year.
// Verify adds up the documents.

import (
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/core/money"
)

// Exact is, in SQL, an amount in minor units of a currency as millionths, so that amounts of several currencies compare with what
// was typed.
func Exact(amount, currency string) string {
	return "(" + amount + ") * " + Millionths(currency)
}

// Millionths is, in SQL, how many of them a minor unit of a currency is.
func Millionths(currency string) string {
	by := "CASE"
	for _, places := range []int{0, 3, 4} {
		by += fmt.Sprintf(" WHEN %s IN %s THEN %d", currency, in(money.WithPlaces(places)), millionths(places))
	}
	return fmt.Sprintf("%s ELSE %d END", by, millionths(2))
}

func millionths(places int) int64 {
	n := int64(1)
	for range 6 - places {
		n *= 10
	}
	return n
}

// paidStates are those of payments that count as paid.
var paidStates = []string{PaymentInTransit, PaymentSettled}

var (
	sumOfOrder = `SELECT o.id AS purchase_order, ` + Exact("(SELECT coalesce(sum(l.net), 0) FROM order_line l WHERE l.purchase_order = o.id)", "o.currency") +
		` AS net FROM purchase_order o`
	paidOf = `SELECT y.supplier, substr(u.pay_on, 1, 4) AS year, y.currency, sum(t.amount) AS paid, sum(t.discount) AS discount
		FROM payment y CROSS JOIN payment_run u ON u.id = y.run CROSS JOIN payment_state s ON s.payment = y.id CROSS JOIN payment_item t ON t.payment = y.id`
	paidToSuppliers = paidOf + ` WHERE s.state IN ` + in(paidStates) + ` GROUP BY 1, 2, 3`

	putOrderSum = statement(
		`INSERT INTO order_sum (purchase_order, net) ` + sumOfOrder + ` WHERE o.id = ? ON CONFLICT (purchase_order) DO UPDATE SET net = excluded.net`,
	)
	payStateOf = statement(`SELECT state FROM payment_state WHERE payment = ?`)
	addPaid    = statement(
		`INSERT INTO supplier_paid (supplier, year, currency, paid, discount) ` + paidOf + ` WHERE y.id = ?1 GROUP BY 1, 2, 3
		ON CONFLICT (year, supplier, currency) DO UPDATE SET paid = paid + excluded.paid, discount = discount + excluded.discount`,
	)
	takePaid = statement(
		`UPDATE supplier_paid SET paid = supplier_paid.paid - p.paid, discount = supplier_paid.discount - p.discount FROM (` + paidOf + ` WHERE y.id = ?1 GROUP BY 1, 2, 3) p
		WHERE supplier_paid.year = p.year AND supplier_paid.supplier = p.supplier AND supplier_paid.currency = p.currency`,
	)
	endPaid = statement(
		`DELETE FROM supplier_paid WHERE (year, supplier, currency) = (SELECT substr(u.pay_on, 1, 4), y.supplier, y.currency
		FROM payment y JOIN payment_run u ON u.id = y.run WHERE y.id = ?) AND paid = 0`,
	)
	dropOrderSums = statement(`DELETE FROM order_sum`)
	dropPaid      = statement(`DELETE FROM supplier_paid`)
	fillOrderSums = proof(`INSERT INTO order_sum (purchase_order, net) ` + sumOfOrder)
	fillPaid      = proof(`INSERT INTO supplier_paid (supplier, year, currency, paid, discount) ` + paidToSuppliers)
	wrongSums     = proof(`SELECT o.number, 0 FROM (SELECT DISTINCT purchase_order FROM (` + differing("order_sum", sumOfOrder) + `)) d
		LEFT JOIN purchase_order o ON o.id = d.purchase_order`)
	wrongPaid = proof(`SELECT s.code || ' in ' || d.year, 0 FROM (SELECT DISTINCT supplier, year FROM (` +
		differing("(SELECT supplier, year, currency, paid, discount FROM supplier_paid)", paidToSuppliers) + `)) d LEFT JOIN supplier s ON s.id = d.supplier`)
)

// countPaid keeps what was paid to a supplier as a payment changes its state.
func (t *Tx) countPaid(payment int64, state string) error {
	was, err := one(t, payStateOf, scanOne[string], payment)
	if err != nil && !errors.Is(err, ErrNone) {
		return err
	}
	counted, counts := slices.Contains(paidStates, was), slices.Contains(paidStates, state)
	switch {
	case counts && !counted:
		return t.do(addPaid, payment)
	case counted && !counts:
		return errors.Join(t.do(takePaid, payment), t.do(endPaid, payment))
	}
	return nil
}

// countLookedUp adds up all orders and payments.
func (t *Tx) countLookedUp() error {
	return errors.Join(t.do(dropOrderSums), t.do(dropPaid), t.do(fillOrderSums), t.do(fillPaid))
}

// WrongOrderSums are orders of which another sum is kept than their lines come to.
func (t *Tx) WrongOrderSums() ([]Sum, error) { return list(t, wrongSums, scanSum) }

// WrongPaid are suppliers, and years, of which another sum is kept than their payments come to.
func (t *Tx) WrongPaid() ([]Sum, error) { return list(t, wrongPaid, scanSum) }
