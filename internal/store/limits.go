package store

import (
	"fmt"

	"lagoon/internal/core/limit"
)

// LimitRule is a limit with what it is set on; all zero is the company's.
type LimitRule struct {
	OrderLine, Item, Supplier int64
	ChargeKind                string
	limit.Rule
}

// scope says in one word what the limit is set on.
func (r LimitRule) scope() string {
	switch {
	case r.OrderLine != 0:
		return fmt.Sprintf("line %d", r.OrderLine)
	case r.Item != 0 && r.Supplier != 0:
		return fmt.Sprintf("item %d at supplier %d", r.Item, r.Supplier)
	case r.Item != 0:
		return fmt.Sprintf("item %d", r.Item)
	case r.Supplier != 0:
		return fmt.Sprintf("supplier %d", r.Supplier)
	case r.ChargeKind != "":
		return ofCharge + r.ChargeKind
	default:
		return "company"
	}
}

// ofCharge begins the scope of what is set on a kind of charge.
const ofCharge = "charge "

const isSet = ` AND (percent IS NOT NULL OR absolute IS NOT NULL)`

var (
	putLimit = statement(
		`INSERT INTO limit_rule (scope, kind, side, order_line, item, supplier, percent, absolute)
		VALUES (?, ?, ?, nullif(?, 0), nullif(?, 0), nullif(?, 0), ?, ?)
		ON CONFLICT (scope, kind, side) DO UPDATE SET percent = excluded.percent, absolute = excluded.absolute`,
	)
	limitsOf = statement(
		`SELECT 0, 0, 0, kind, side, percent, absolute, 0, '' FROM limit_rule WHERE scope = 'company'` + isSet + `
		UNION ALL SELECT 0, 0, 0, kind, side, percent, absolute, 0, substr(scope, 8) FROM limit_rule
		WHERE scope > 'charge ' AND scope < 'charge!'` + isSet + `
		UNION ALL SELECT 0, 0, supplier, kind, side, percent, absolute, 0, '' FROM limit_rule WHERE scope = 'supplier ' || ?1` + isSet + `
		UNION ALL SELECT 0, r.item, coalesce(r.supplier, 0), kind, side, percent, absolute, 0, '' FROM order_line l
		JOIN limit_rule r ON r.item = l.item
		WHERE l.purchase_order = ?2 AND r.order_line IS NULL AND (r.supplier IS NULL OR r.supplier = ?1)` + isSet + `
		UNION ALL SELECT r.order_line, 0, 0, kind, side, r.percent, r.absolute, 0, '' FROM order_line l JOIN limit_rule r ON r.order_line = l.id WHERE l.purchase_order = ?2` + isSet + `
		UNION ALL SELECT 0, 0, coalesce(supplier, 0), kind, side, NULL, NULL, by_person, '' FROM limit_owner
		WHERE scope IN ('company', 'supplier ' || ?1) AND open = 1
		UNION ALL SELECT 0, 0, 0, kind, side, NULL, NULL, by_person, substr(scope, 8) FROM limit_owner
		WHERE scope > 'charge ' AND scope < 'charge!' AND open = 1
		UNION ALL SELECT 0, o.item, coalesce(o.supplier, 0), kind, side, NULL, NULL, by_person, '' FROM order_line l
		JOIN limit_owner o ON o.item = l.item
		WHERE l.purchase_order = ?2 AND (o.supplier IS NULL OR o.supplier = ?1) AND o.open = 1`,
	)
	limitsAt = statement(
		`SELECT coalesce(order_line, 0), coalesce(item, 0), coalesce(supplier, 0), kind, side, percent, absolute,
			0, CASE WHEN scope LIKE 'charge %' THEN substr(scope, 8) ELSE '' END FROM limit_rule WHERE scope = ?` + isSet + ` ORDER BY kind, side`,
	)
	putOwner = statement(
		`INSERT INTO limit_owner (scope, kind, side, by_person, item, supplier, open)
		VALUES (?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?)
		ON CONFLICT (scope, kind, side, by_person) DO UPDATE SET open = excluded.open`,
	)
	ownersAt = statement(
		`SELECT kind, side, o.by_person, p.name FROM limit_owner o JOIN person p ON p.id = o.by_person
			WHERE scope = ? AND open = 1 ORDER BY kind, side, o.by_person`,
	)
)

// LimitOwner made a limit what it is, and nobody else has confirmed it yet.
type LimitOwner struct {
	Kind   limit.Kind
	Side   limit.Side
	By     int64
	ByName string
}

// OwnLimit notes that a person made a limit what it is, or (open false) that somebody
// else has confirmed it.
func (t *Tx) OwnLimit(at LimitRule, o LimitOwner, open bool) error {
	return t.do(putOwner, at.scope(), o.Kind, o.Side, o.By, at.Item, at.Supplier, open)
}

// LimitOwners lists who made the limits of just that level what they are, as far as
// nobody else has confirmed it.
func (t *Tx) LimitOwners(at LimitRule) ([]LimitOwner, error) {
	return list(t, ownersAt, func(r row) (o LimitOwner, err error) {
		err = r.Scan(&o.Kind, &o.Side, &o.By, &o.ByName)
		return
	}, at.scope())
}

// PutLimit writes a limit; with neither percentage nor absolute value it is not set
// any more.
func (t *Tx) PutLimit(r LimitRule) error {
	return t.do(putLimit, r.scope(), r.Kind, r.Side, r.OrderLine, r.Item, r.Supplier, r.Percent, r.Absolute)
}

func scanLimit(r row) (rule LimitRule, err error) {
	err = r.Scan(
		&rule.OrderLine,
		&rule.Item,
		&rule.Supplier,
		&rule.Kind,
		&rule.Side,
		&rule.Percent,
		&rule.Absolute,
		&rule.By,
		&rule.ChargeKind,
	)
	rule.Charge = rule.ChargeKind
	switch {
	case rule.OrderLine != 0:
		rule.Level = limit.Line
	case rule.Item != 0 && rule.Supplier != 0:
		rule.Level = limit.ItemAtSupplier
	case rule.Item != 0:
		rule.Level = limit.Item
	case rule.Supplier != 0:
		rule.Level = limit.Supplier
	default:
		rule.Level = limit.Company
	}
	return
}

// LimitsAt are the limits that are set at just that level.
func (t *Tx) LimitsAt(at LimitRule) ([]LimitRule, error) {
	return list(t, limitsAt, scanLimit, at.scope())
}

// limits reads every limit that could apply to an order of a supplier; order may be zero.
func (t *Tx) limits(supplier, order int64) ([]LimitRule, error) {
	return list(t, limitsOf, scanLimit, supplier, order)
}

// SupplierLimits are the limits for what is about no order line.
func (t *Tx) SupplierLimits(supplier int64) (limit.Book, error) {
	rules, err := t.limits(supplier, 0)
	var book limit.Book
	for _, r := range rules {
		if r.Item == 0 {
			book = append(book, r.Rule)
		}
	}
	return book, err
}
