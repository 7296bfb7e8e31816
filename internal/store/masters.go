package store

import (
	"errors"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Company is the one company whose books these are.
type Company struct {
	Name, Zone, IBAN, BIC, Country string
	Currency                       money.Currency
	Level                          trade.Level
	Policy                         trade.Policy
}

var (
	getCompany = statement(`SELECT name, currency, zone, over_delivery, under_delivery, match_level, iban, bic, country FROM company`)
	putCompany = statement(`INSERT INTO company (id, name, currency, zone, over_delivery, under_delivery, match_level, iban, bic, country) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`)
)

// memo is what a transaction has read and may need again. Company, closed months and
// head outlast the transactions that read or write them, since nobody else writes.
type memo struct {
	company   *Company
	suppliers map[int64]trade.Supplier
	closed    []string // months
	months    bool     // closed is read
	head      string   // hash of the newest audit row
}

// Company reads the company, or ErrNone before it is set up.
func (t *Tx) Company() (Company, error) {
	if t.memo.company != nil {
		return *t.memo.company, nil
	}
	c, err := one(t, getCompany, func(r row) (c Company, err error) {
		err = r.Scan(&c.Name, &c.Currency, &c.Zone, &c.Policy.OverDelivery, &c.Policy.UnderDelivery, &c.Level, &c.IBAN, &c.BIC, &c.Country)
		return
	})
	if err == nil {
		t.memo.company = &c
	}
	return c, err
}

// AddCompany writes the company.
func (t *Tx) AddCompany(c Company) error {
	t.memo.company = nil
	return t.do(putCompany, 1, c.Name, c.Currency, c.Zone, c.Policy.OverDelivery, c.Policy.UnderDelivery, c.Level, c.IBAN, c.BIC, c.Country)
}

// Person is somebody who signs in.
type Person struct {
	ID          int64
	Login, Name string
	Password    string // as hashed
	About       string
	Authority   money.Amount // company currency
	Comma       bool         // writes 1.250,5
	Active      bool
	Roles       []string
}

const personColumns = `SELECT p.id, p.login, p.name, p.password, p.about, p.authority, p.comma, p.active,
	coalesce((SELECT group_concat(role, ' ') FROM person_role WHERE person = p.id), '') FROM person p `

var (
	personByLogin = statement(personColumns + `WHERE p.login = ?`)
	personByID    = statement(personColumns + `WHERE p.id = ?`)
	allPeople     = statement(personColumns + `ORDER BY p.id`)
	addPerson     = statement(`INSERT INTO person (login, name, password, about, authority, comma, active) VALUES (?, ?, ?, ?, ?, ?, ?)`)
	addRole       = statement(`INSERT INTO person_role (person, role) VALUES (?, ?)`)
)

func scanPerson(r row) (p Person, err error) {
	var roles string
	err = r.Scan(&p.ID, &p.Login, &p.Name, &p.Password, &p.About, &p.Authority, &p.Comma, &p.Active, &roles)
	p.Roles = strings.Fields(roles)
	return
}

// PersonByLogin finds a person by sign-in name.
func (t *Tx) PersonByLogin(login string) (Person, error) {
	return one(t, personByLogin, scanPerson, login)
}

// PersonByID finds a person by row key.
func (t *Tx) PersonByID(id int64) (Person, error) { return one(t, personByID, scanPerson, id) }

// People lists everybody.
func (t *Tx) People() ([]Person, error) { return list(t, allPeople, scanPerson) }

// AddPerson writes a person with roles.
func (t *Tx) AddPerson(p Person) (int64, error) {
	id, err := t.exec(addPerson, p.Login, p.Name, p.Password, p.About, p.Authority, p.Comma, true)
	for _, role := range p.Roles {
		if err == nil {
			err = t.do(addRole, id, role)
		}
	}
	return id, err
}

const supplierColumns = `SELECT id, code, name, tax_id, address, country, currency, status, iban, bic, from_receipt, net_days, end_of_month, day_of_month,
	discount_percent, discount_days FROM supplier `

var (
	supplierByID    = statement(supplierColumns + `WHERE id = ?`)
	supplierByCode  = statement(supplierColumns + `WHERE code = ?`)
	supplierByTaxID = statement(supplierColumns + `WHERE tax_id = ? AND tax_id <> '' LIMIT 2`)
	supplierByName  = statement(supplierColumns + `WHERE name = ? COLLATE NOCASE LIMIT 2`)
	allSuppliers    = statement(supplierColumns + `ORDER BY name COLLATE NOCASE LIMIT 500`)
	addSupplier     = statement(`INSERT INTO supplier (code, name, tax_id, address, country, currency, status, iban, bic, match_level, from_receipt, net_days, end_of_month,
		day_of_month, discount_percent, discount_days) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, ''), ?, ?, ?, ?, ?, ?)`)
)

func scanSupplier(r row) (s trade.Supplier, err error) {
	err = r.Scan(&s.ID, &s.Code, &s.Name, &s.TaxID, &s.Address, &s.Country, &s.Currency, &s.Status, &s.IBAN, &s.BIC, &s.Terms.FromReceipt,
		&s.Terms.NetDays, &s.Terms.EndOfMonth, &s.Terms.DayOfMonth, &s.Terms.DiscountPercent, &s.Terms.DiscountDays)
	return
}

// Supplier finds a supplier by row key.
func (t *Tx) Supplier(id int64) (trade.Supplier, error) {
	if s, ok := t.memo.suppliers[id]; ok {
		return s, nil
	}
	s, err := one(t, supplierByID, scanSupplier, id)
	if err == nil {
		t.remember(s)
	}
	return s, err
}

func (t *Tx) remember(s trade.Supplier) {
	if t.memo.suppliers == nil {
		t.memo.suppliers = map[int64]trade.Supplier{}
	}
	t.memo.suppliers[s.ID] = s
}

// SupplierByCode finds a supplier by code.
func (t *Tx) SupplierByCode(code string) (trade.Supplier, error) {
	return one(t, supplierByCode, scanSupplier, code)
}

// Suppliers lists the suppliers by name.
func (t *Tx) Suppliers() ([]trade.Supplier, error) { return list(t, allSuppliers, scanSupplier) }

// SupplierNamed finds the one supplier with a tax number or, failing that, exactly
// that name. Two that fit are as good as none.
func (t *Tx) SupplierNamed(taxID, name string) (trade.Supplier, error) {
	for _, try := range []struct {
		q   *query
		arg string
	}{{supplierByTaxID, taxID}, {supplierByName, name}} {
		found, err := list(t, try.q, scanSupplier, try.arg)
		if err == nil && len(found) == 1 {
			t.remember(found[0])
		}
		if err != nil || len(found) == 1 {
			return append(found, trade.Supplier{})[0], err
		}
	}
	return trade.Supplier{}, ErrNone
}

// AddSupplier writes a supplier; level may be empty.
func (t *Tx) AddSupplier(s trade.Supplier, level trade.Level) (int64, error) {
	id, err := t.exec(addSupplier, s.Code, s.Name, s.TaxID, s.Address, s.Country, s.Currency, s.Status, s.IBAN, s.BIC, level, s.Terms.FromReceipt,
		s.Terms.NetDays, s.Terms.EndOfMonth, s.Terms.DayOfMonth, s.Terms.DiscountPercent, s.Terms.DiscountDays)
	return id, err
}

// Item is something that is bought again and again.
type Item struct {
	ID               int64
	Code, Name, Unit string
	Whole            bool
	Level            trade.Level
}

var (
	addItem         = statement(`INSERT INTO item (code, name, unit, whole, match_level) VALUES (?, ?, ?, ?, nullif(?, ''))`)
	itemByCode      = statement(`SELECT id, code, name, unit, whole, coalesce(match_level, '') FROM item WHERE code = ?`)
	addItemSupplier = statement(`INSERT INTO item_supplier (item, supplier, code, match_level) VALUES (?, ?, ?, nullif(?, ''))`)
	itemBySeller    = statement(`SELECT i.id, i.code, i.name, i.unit, i.whole, coalesce(i.match_level, '') FROM item_supplier x JOIN item i ON i.id = x.item WHERE x.supplier = ? AND x.code = ? LIMIT 1`)
	itemChoices     = statement(`SELECT i.code, x.code, i.name, i.unit, i.whole, coalesce(l.price, 0), coalesce(l.budget, ''), coalesce(l.tax_category, ''), coalesce(l.tax_rate, 0), l.id IS NOT NULL
		FROM item_supplier x JOIN item i ON i.id = x.item LEFT JOIN order_line l ON l.id = (SELECT m.id FROM order_line m JOIN purchase_order o ON o.id = m.purchase_order
		WHERE m.item = x.item AND o.supplier = x.supplier ORDER BY m.id DESC LIMIT 1) WHERE x.supplier = ? ORDER BY x.code LIMIT 1000`)
	allBudgets     = statement(`SELECT code, name FROM budget ORDER BY code`)
	hasBudget      = statement(`SELECT count(*) FROM budget WHERE code = ?`)
	itemAtSupplier = statement(`SELECT code FROM item_supplier WHERE item = ? AND supplier = ?`)
	addBudget      = statement(`INSERT INTO budget (code, name, account) VALUES (?, ?, ?)`)
	addRate        = statement(`INSERT INTO exchange_rate (currency, day, rate) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET rate = excluded.rate`)
	rateOn         = statement(`SELECT rate FROM exchange_rate WHERE currency = ? AND day <= ? ORDER BY day DESC LIMIT 1`)
	closePeriod    = statement(`INSERT INTO period (month, closed_at) VALUES (?, ?)`)
	closedPeriods  = statement(`SELECT month FROM period ORDER BY month`)
	addLimit       = statement(`INSERT INTO limit_rule (order_line, item, supplier, kind, side, percent, absolute) VALUES (nullif(?, 0), nullif(?, 0), nullif(?, 0), ?, ?, ?, ?)`)
	limitsOf       = statement(`SELECT 0, 0, 0, kind, side, percent, absolute FROM limit_rule WHERE order_line IS NULL AND item IS NULL AND supplier IS NULL
		UNION ALL SELECT 0, 0, supplier, kind, side, percent, absolute FROM limit_rule WHERE order_line IS NULL AND item IS NULL AND supplier = ?1
		UNION ALL SELECT 0, r.item, coalesce(r.supplier, 0), kind, side, percent, absolute FROM order_line l JOIN limit_rule r ON r.item = l.item
		WHERE l.purchase_order = ?2 AND r.order_line IS NULL AND (r.supplier IS NULL OR r.supplier = ?1)
		UNION ALL SELECT r.order_line, 0, 0, kind, side, r.percent, r.absolute FROM order_line l JOIN limit_rule r ON r.order_line = l.id WHERE l.purchase_order = ?2`)
)

// AddItem writes an item.
func (t *Tx) AddItem(i Item) (int64, error) {
	return t.exec(addItem, i.Code, i.Name, i.Unit, i.Whole, i.Level)
}

// ItemByCode finds an item by the company's own code.
func (t *Tx) ItemByCode(code string) (Item, error) {
	return one(t, itemByCode, func(r row) (i Item, err error) {
		err = r.Scan(&i.ID, &i.Code, &i.Name, &i.Unit, &i.Whole, &i.Level)
		return
	}, code)
}

// ItemNamed finds an item by the company's own code or, failing that, the supplier's.
func (t *Tx) ItemNamed(code string, supplier int64) (Item, error) {
	item, err := t.ItemByCode(code)
	if !errors.Is(err, ErrNone) {
		return item, err
	}
	return one(t, itemBySeller, func(r row) (i Item, err error) {
		err = r.Scan(&i.ID, &i.Code, &i.Name, &i.Unit, &i.Whole, &i.Level)
		return
	}, supplier, code)
}

// ItemChoice is an item that a supplier sells, with what was agreed when it was last
// ordered there; Ordered says whether it ever was.
type ItemChoice struct {
	Code, SupplierCode, Name, Unit string
	Whole                          bool
	Price                          money.Decimal
	Budget, TaxCategory            string
	TaxRate                        money.Decimal
	Ordered                        bool
}

// ItemChoices lists what a supplier sells, by the supplier's code.
func (t *Tx) ItemChoices(supplier int64) ([]ItemChoice, error) {
	return list(t, itemChoices, func(r row) (i ItemChoice, err error) {
		err = r.Scan(&i.Code, &i.SupplierCode, &i.Name, &i.Unit, &i.Whole, &i.Price, &i.Budget, &i.TaxCategory, &i.TaxRate, &i.Ordered)
		return
	}, supplier)
}

// Budget is what an order line is charged to.
type Budget struct{ Code, Name string }

// Budgets lists the budgets by code.
func (t *Tx) Budgets() ([]Budget, error) {
	return list(t, allBudgets, func(r row) (b Budget, err error) {
		err = r.Scan(&b.Code, &b.Name)
		return
	})
}

// HasBudget tells whether there is a budget of that code.
func (t *Tx) HasBudget(code string) (bool, error) {
	n, err := t.number(hasBudget, code)
	return n > 0, err
}

// AddItemAtSupplier writes the code under which a supplier sells an item.
func (t *Tx) AddItemAtSupplier(item, supplier int64, code string) error {
	return t.do(addItemSupplier, item, supplier, code, "")
}

// CodeAtSupplier is the supplier's own code of an item, empty where none is known.
func (t *Tx) CodeAtSupplier(item, supplier int64) (string, error) {
	codes, err := list(t, itemAtSupplier, scanOne[string], item, supplier)
	return append(codes, "")[0], err
}

// AddBudget writes what orders are charged to.
func (t *Tx) AddBudget(code, name string, account trade.Account) error {
	return t.do(addBudget, code, name, account)
}

// AddRate writes the rate of a currency on a day: company currency for one unit.
func (t *Tx) AddRate(currency money.Currency, on day.Day, rate money.Decimal) error {
	return t.do(addRate, currency, on, rate)
}

// Rate is the rate of a day or of the last earlier day that has one (rules §1), or
// ErrNone.
func (t *Tx) Rate(currency money.Currency, on day.Day) (money.Decimal, error) {
	return one(t, rateOn, scanOne[money.Decimal], currency, on)
}

// ClosePeriod closes a month of the books.
func (t *Tx) ClosePeriod(month, at string) error {
	t.memo.months = false
	return t.do(closePeriod, month, at)
}

// PeriodClosed tells whether a month of the books is closed.
func (t *Tx) PeriodClosed(month string) (bool, error) {
	if !t.memo.months {
		closed, err := list(t, closedPeriods, scanOne[string])
		if err != nil {
			return false, err
		}
		t.memo.closed, t.memo.months = closed, true
	}
	return slices.Contains(t.memo.closed, month), nil
}

// FirstOpenDay is the first day on or after d whose period is open.
func (t *Tx) FirstOpenDay(d day.Day) (day.Day, error) {
	for {
		closed, err := t.PeriodClosed(d.Month())
		if err != nil || !closed {
			return d, err
		}
		d = d.EndOfMonth().Add(1)
	}
}

// LimitRule is a limit with what it is set on; all zero is the company's.
type LimitRule struct {
	OrderLine, Item, Supplier int64
	limit.Rule
}

// AddLimit writes a limit.
func (t *Tx) AddLimit(r LimitRule) error {
	return t.do(addLimit, r.OrderLine, r.Item, r.Supplier, r.Kind, r.Side, r.Percent, r.Absolute)
}

// limits reads every limit that could apply to an order of a supplier; order may be zero.
func (t *Tx) limits(supplier, order int64) ([]LimitRule, error) {
	return list(t, limitsOf, func(r row) (rule LimitRule, err error) {
		err = r.Scan(&rule.OrderLine, &rule.Item, &rule.Supplier, &rule.Kind, &rule.Side, &rule.Percent, &rule.Absolute)
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
	}, supplier, order)
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
