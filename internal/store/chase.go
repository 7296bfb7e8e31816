package store

// This file keeps after how many days what is awaited is chased, and counts what is.

import (
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/trade"
)

var (
	putChase = statement(
		`INSERT INTO chase_days (supplier, what, days) VALUES (?, ?, ?) ON CONFLICT (supplier, what) DO UPDATE SET days = excluded.days`,
	)
	chaseOf      = statement(`SELECT what, days FROM chase_days WHERE supplier = ? AND days IS NOT NULL`)
	noticeOf     = statement(`SELECT days FROM notice_days WHERE supplier = ? AND days IS NOT NULL`)
	putNoticeOf  = statement(`INSERT INTO notice_days (supplier, days) VALUES (?, ?) ON CONFLICT (supplier) DO UPDATE SET days = excluded.days`)
	orderNotice  = statement(`SELECT days FROM order_notice WHERE purchase_order = ? AND days IS NOT NULL`)
	putOrderDays = statement(
		`INSERT INTO order_notice (purchase_order, days) VALUES (?, ?) ON CONFLICT (purchase_order) DO UPDATE SET days = excluded.days`,
	)
	noticesHere = statement(
		`SELECT count(*) FROM notice n JOIN notice_state s ON s.notice = n.id WHERE n.purchase_order = ? AND s.state <> 'withdrawn'`,
	)
	countWaiting = statement(
		`SELECT count(*) FROM invoice_state z CROSS JOIN purchase_order o ON o.id = z.purchase_order
		CROSS JOIN order_state st ON st.purchase_order = o.id WHERE NOT (st.open_goods = 1 AND st.wanted_on < ?1) AND z.state = 'waiting' AND o.made_by = ?2 AND ` + DueToChase("?1"),
	)
)

// chaseAfter is, in SQL, after how many days something is chased of a supplier.
func chaseAfter(what trade.Awaited, supplier string) string {
	of := func(whose string) string {
		return fmt.Sprintf("(SELECT d.days FROM chase_days d WHERE d.supplier = %s AND d.what = '%s')", whose, what)
	}
	return fmt.Sprintf("coalesce(%s, %s, %d)", of(supplier), of("0"), trade.UsualChase)
}

// DueToChase is, in SQL, whether an invoice z waits so long for goods that it is chased on a day.
func DueToChase(today string) string {
	after := chaseAfter(trade.AwaitedInvoice, "z.supplier")
	return fmt.Sprintf("%s >= 0 AND substr(z.since, 1, 10) <= date(%s, '-' || %s || ' days')", after, today, after)
}

// PutChase writes after how many days something is chased of a supplier, or by the company (0); nil: as otherwise.
func (t *Tx) PutChase(supplier int64, what trade.Awaited, days *int) error {
	if what == trade.AwaitedNotice {
		return t.do(putNoticeOf, supplier, days)
	}
	return t.do(putChase, supplier, what, days)
}

// Chase is after how many days what is awaited of a supplier is chased, or by the company (0).
func (t *Tx) Chase(supplier int64) (trade.Chase, error) {
	c := trade.Chase{}
	rows, err := list(t, chaseOf, func(r row) (x struct {
		what trade.Awaited
		days int
	}, err error) {
		err = r.Scan(&x.what, &x.days)
		return
	}, supplier)
	for _, x := range rows {
		c[x.what] = x.days
	}
	if err != nil {
		return c, err
	}
	notice, err := list(t, noticeOf, scanOne[int], supplier)
	if len(notice) > 0 {
		c[trade.AwaitedNotice] = notice[0]
	}
	return c, err
}

// PutOrderNotice writes how many days before they are wanted the goods of one order are to be announced; nil: as of its supplier.
func (t *Tx) PutOrderNotice(order int64, days *int) error { return t.do(putOrderDays, order, days) }

// OrderNotice is how many days before they are wanted the goods of one order are to be announced; nil: as of its supplier.
func (t *Tx) OrderNotice(order int64) (*int, error) {
	days, err := list(t, orderNotice, scanOne[int], order)
	if err != nil || len(days) == 0 {
		return nil, err
	}
	return &days[0], nil
}

// Announced tells whether some notice of an order is here that was not taken back.
func (t *Tx) Announced(order int64) (bool, error) {
	n, err := t.number(noticesHere, order)
	return n > 0, err
}

// CountChased counts the invoices that wait so long for goods of a person's orders that they are chased, but for orders whose goods are
// late: those count as such.
func (t *Tx) CountChased(today day.Day, person int64) (int64, error) {
	return t.number(countWaiting, today, person)
}
