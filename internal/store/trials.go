package store

// This file reads what invoices were found to be before a person did anything about them, and keeps the limits that were tried
// on it.

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trial"
)

// firstAct is the instant at which a person first did something about an invoice.
const firstAct = `min(
	coalesce((SELECT min(a.at) FROM invoice_revision y JOIN acceptance a ON a.revision = y.id WHERE y.invoice = v.id), '~'),
	coalesce((SELECT min(y.made_at) FROM invoice_revision y WHERE y.invoice = v.id AND y.revision > 1 AND y.made_by IS NOT NULL), '~'),
	coalesce((SELECT min(c.at) FROM claim c WHERE c.invoice = v.id), '~'),
	coalesce((SELECT min(d.at) FROM invoice_decision d WHERE d.invoice = v.id AND d.decision = 'refused'), '~'))`

// Suppliers' own invoices, not what we write for them.
const ofSuppliers = `r.kind = 'invoice' AND r.code NOT IN ('389', '261')`

var (
	// It reads a year of invoices from end to end, the newest first.
	trialCases = proof(
		`SELECT v.id, v.number, r.supplier_number, coalesce(r.supplier, 0), coalesce(p.code, ''), coalesce(p.name, r.supplier_stated),
			r.currency, r.rate, z.state IN ` + isUnsettled + `, m.revision, m.findings
		FROM invoice v CROSS JOIN match_run m ON m.id = coalesce(
			(SELECT max(x.id) FROM match_run x WHERE x.invoice = v.id AND x.at < ` + firstAct + `),
			(SELECT min(x.id) FROM match_run x WHERE x.invoice = v.id))
		CROSS JOIN invoice_revision r ON r.id = m.revision CROSS JOIN invoice_state z ON z.invoice = v.id LEFT JOIN supplier p ON p.id = r.supplier
		WHERE v.captured_on BETWEEN ? AND ? AND ` + ofSuppliers + ` ORDER BY v.captured_on DESC, v.id DESC LIMIT ?`,
	)
	trialLine = statement(
		`SELECT coalesce(il.order_line, 0), coalesce(l.item, 0) FROM invoice_line il LEFT JOIN order_line l ON l.id = il.order_line
		WHERE il.invoice_revision = ? AND il.no = ?`,
	)
	trialDecisions = statement(
		`SELECT 'accepted', a.kind, a.line, a.side, a.order_number, a.charge, p.name, a.at FROM invoice_revision y
			JOIN acceptance a ON a.revision = y.id JOIN person p ON p.id = a.by_person WHERE y.invoice = ?1
		UNION ALL SELECT 'claimed', '', il.no, '', 0, '', p.name, c.at FROM claim c JOIN claim_line cl ON cl.claim = c.id
			JOIN invoice_line il ON il.id = cl.invoice_line JOIN person p ON p.id = c.by_person WHERE c.invoice = ?1
		UNION ALL SELECT 'refused', '', 0, '', 0, '', coalesce(p.name, ''), d.at FROM invoice_decision d
			LEFT JOIN person p ON p.id = d.by_person WHERE d.invoice = ?1 AND d.decision = 'refused'
		UNION ALL SELECT 'corrected', '', 0, '', 0, '', p.name, y.made_at FROM invoice_revision y JOIN person p ON p.id = y.made_by
			WHERE y.invoice = ?1 AND y.revision > 1`,
	)
	allLimits = proof(
		`SELECT coalesce(order_line, 0), coalesce(item, 0), coalesce(supplier, 0), kind, side, percent, absolute,
			0, CASE WHEN scope LIKE 'charge %' THEN substr(scope, 8) ELSE '' END FROM limit_rule
		WHERE (percent IS NOT NULL OR absolute IS NOT NULL) ORDER BY scope, kind, side`,
	)
	supplierName = statement(`SELECT code, name FROM supplier WHERE id = ?`)
	itemName     = statement(`SELECT code, name FROM item WHERE id = ?`)
	addTrial     = statement(
		`INSERT INTO limit_trial (number, item, supplier, charge, kind, side, percent, absolute, was_percent, was_absolute, also,
			since, until, invoices, verified_before, verified, passed_before, passed, refused, refused_worth, adopted, reason, by_person, at)
		VALUES (?, nullif(?, 0), nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	lastTrials = statement(
		`SELECT t.number, coalesce(t.item, 0), coalesce(t.supplier, 0), t.charge, t.kind, t.side, t.percent, t.absolute, t.was_percent,
			t.was_absolute, t.also, t.since, t.until, t.invoices, t.verified_before, t.verified, t.passed_before, t.passed, t.refused,
			t.refused_worth, t.adopted, t.reason, p.name, t.at
		FROM limit_trial t JOIN person p ON p.id = t.by_person ORDER BY t.id DESC LIMIT 40`,
	)
)

// PlaceName is where a limit is set, in codes and names; all empty is the company.
type PlaceName struct{ Supplier, SupplierName, Item, ItemName, Charge string }

// PlaceName names a place.
func (t *Tx) PlaceName(p trial.Place) (n PlaceName, err error) {
	n.Charge = p.Charge
	named := func(q *query, id int64, code, name *string) {
		if id == 0 || err != nil {
			return
		}
		_, err = one(t, q, func(r row) (none struct{}, err error) { return none, r.Scan(code, name) }, id)
	}
	named(supplierName, p.Supplier, &n.Supplier, &n.SupplierName)
	named(itemName, p.Item, &n.Item, &n.ItemName)
	return n, err
}

// Trial is a limit that was tried, with what came out.
type Trial struct {
	Number        int64
	Limit         trial.Limit
	Was           limit.Rule
	Also          []trial.Place
	Since, Until  day.Day
	Invoices      int
	Before, After trial.Figure
	SaidNo        int
	SaidNoWorth   money.Amount
	Adopted       bool
	Reason        string
	By            int64
	ByName, At    string
}

// AddTrial keeps a limit that was tried.
func (t *Tx) AddTrial(x Trial) error {
	also, err := json.Marshal(x.Also)
	if err != nil {
		return err
	}
	return t.do(addTrial, x.Number, x.Limit.Item, x.Limit.Supplier, x.Limit.Place.Charge, x.Limit.Kind, x.Limit.Side, x.Limit.Percent,
		x.Limit.Absolute, x.Was.Percent, x.Was.Absolute, string(also), x.Since, x.Until, x.Invoices, x.Before.Verified, x.After.Verified,
		x.Before.Passed, x.After.Passed, x.SaidNo, x.SaidNoWorth, x.Adopted, x.Reason, x.By, x.At)
}

// LastTrials are the limits that were tried last, the newest first.
func (t *Tx) LastTrials() ([]Trial, error) {
	return list(t, lastTrials, func(r row) (x Trial, err error) {
		var also string
		err = r.Scan(&x.Number, &x.Limit.Item, &x.Limit.Supplier, &x.Limit.Place.Charge, &x.Limit.Kind, &x.Limit.Side, &x.Limit.Percent,
			&x.Limit.Absolute, &x.Was.Percent, &x.Was.Absolute, &also, &x.Since, &x.Until, &x.Invoices, &x.Before.Verified,
			&x.After.Verified, &x.Before.Passed, &x.After.Passed, &x.SaidNo, &x.SaidNoWorth, &x.Adopted, &x.Reason, &x.ByName, &x.At)
		if err == nil {
			err = json.Unmarshal([]byte(also), &x.Also)
		}
		x.Before.Held, x.After.Held = x.Invoices-x.Before.Verified, x.Invoices-x.After.Verified
		return
	})
}

// AllLimits are all limits that are set, wherever.
func (t *Tx) AllLimits() ([]trial.Limit, error) {
	return list(t, allLimits, func(r row) (trial.Limit, error) {
		rule, err := scanLimit(r)
		return trial.Limit{
			Place: trial.Place{OrderLine: rule.OrderLine, Item: rule.Item, Supplier: rule.Supplier, Charge: rule.ChargeKind}, Rule: rule.Rule,
		}, err
	})
}

// TrialCases reads the invoices that came between two days as they were matched last before a person did anything about them, the
// newest first and at most so many. It ends with ctx.
func (t *Tx) TrialCases(ctx context.Context, since, until day.Day, most int) ([]trial.Case, error) {
	stmt, err := t.stmts(trialCases)
	if err != nil {
		return nil, err
	}
	rows, err := stmt.QueryContext(ctx, since, until, most)
	if err != nil {
		return nil, fmt.Errorf("store: %w", err)
	}
	defer rows.Close() //nolint:errcheck // reported by rows.Err
	var (
		cases     []trial.Case
		revisions []int64
		ids       []int64
	)
	for rows.Next() {
		var (
			c            trial.Case
			id, revision int64
			findings     sql.RawBytes
		)
		if err := rows.Scan(&id, &c.Invoice, &c.SupplierNumber, &c.Supplier, &c.SupplierCode, &c.SupplierName, &c.Currency, &c.Rate,
			&c.Open, &revision, &findings); err != nil {
			return nil, fmt.Errorf("store: %w", err)
		}
		if len(findings) > len("null") {
			if err := json.Unmarshal(findings, &c.Findings); err != nil {
				return nil, err
			}
		}
		cases, revisions, ids = append(cases, c), append(revisions, revision), append(ids, id)
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	for i := range cases {
		if err := t.judgedBefore(&cases[i], ids[i], revisions[i]); err != nil {
			return nil, err
		}
	}
	return cases, nil
}

// judgedBefore adds to a case what its limits go by, and what people decided about the differences that were outside them.
func (t *Tx) judgedBefore(c *trial.Case, id, revision int64) error {
	outside := false
	for i := range c.Findings {
		f := &c.Findings[i]
		f.Asked = trial.Recalled(*f)
		if !trial.Limited(*f) {
			continue
		}
		outside = outside || f.Verdict != finding.Within
		if _, known := c.Lines[f.Line]; known || f.Line == 0 {
			continue
		}
		line, err := one(t, trialLine, func(r row) (l trial.Line, err error) {
			err = r.Scan(&l.OrderLine, &l.Item)
			return
		}, revision, f.Line)
		if err != nil && !errors.Is(err, ErrNone) {
			return err
		}
		if c.Lines == nil {
			c.Lines = map[int]trial.Line{}
		}
		c.Lines[f.Line] = line
	}
	if !outside {
		return nil
	}
	var err error
	c.Decisions, err = list(t, trialDecisions, func(r row) (d trial.Decision, err error) {
		var at string
		err = r.Scan(&d.What, &d.Kind, &d.Line, &d.Side, &d.Order, &d.Charge, &d.By, &at)
		d.On = day.Day(at[:min(len(at), 10)])
		return
	}, id)
	return err
}
