package store

import (
	"cmp"
	"errors"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Item is something that is bought again and again.
type Item struct {
	ID               int64
	Code, Name, Unit string
	Whole            bool
	Level            trade.Level
	Base             money.Decimal // price base quantity; zero is one
	Lots             bool          // receipts name their lots
	Account          trade.Account // empty: as the budget says
	Budget           string        // proposed on orders
	Tax              string        // code, proposed on orders
	Incomplete       bool          // made on the fly, to be finished
	Version          int64
}

const itemColumns = `i.id, i.code, i.name, i.unit, i.whole, coalesce(i.match_level, ''), i.base, i.lots, coalesce(i.account, ''), coalesce(i.budget, ''), coalesce((SELECT t.code FROM item_tax t WHERE t.item = i.id), ''), i.incomplete, i.version `

var (
	putItem = statement(
		`INSERT INTO item (code, name, unit, whole, match_level, base, lots, account, budget, incomplete,
		version) VALUES (?, ?, ?, ?, nullif(?, ''), ?, ?, nullif(?, ''), nullif(?, ''), ?, ?)
		ON CONFLICT (code) DO UPDATE SET name = excluded.name, unit = excluded.unit, whole = excluded.whole,
		match_level = excluded.match_level, base = excluded.base, lots = excluded.lots,
		account = excluded.account, budget = excluded.budget, incomplete = excluded.incomplete,
		version = excluded.version`,
	)
	itemByCode   = statement(`SELECT ` + itemColumns + `FROM item i WHERE code = ?`)
	allItems     = cutAt(5000, `SELECT `+itemColumns+`FROM item i ORDER BY name COLLATE NOCASE`)
	itemsAfter   = statement(`SELECT ` + itemColumns + `FROM item i WHERE i.id > ? ORDER BY i.id LIMIT ?`)
	itemBySeller = statement(
		`SELECT ` + itemColumns + `FROM item_supplier x JOIN item i ON i.id = x.item WHERE x.supplier = ? AND x.code = ? AND x.ended = 0 LIMIT 1`,
	)
	putItemSupplier = statement(
		`INSERT INTO item_supplier (item, supplier, code, match_level, base, lots, ended)
		VALUES (?, ?, ?, nullif(?, ''), ?, ?, ?)
		ON CONFLICT (item, supplier) DO UPDATE SET code = excluded.code, match_level = excluded.match_level,
		base = excluded.base, lots = excluded.lots, ended = excluded.ended`,
	)
	itemAtSupplier = statement(
		`SELECT code, coalesce(match_level, ''), base, lots FROM item_supplier
			WHERE item = ? AND supplier = ? AND ended = 0`,
	)
	sellersOf = statement(
		`SELECT s.code, s.name, x.code, coalesce(x.match_level, ''), x.base, x.lots FROM item_supplier x
			JOIN supplier s ON s.id = x.supplier WHERE x.item = ? AND x.ended = 0 ORDER BY x.item, x.supplier`,
	)
	itemChoices = cutAt(
		1000,
		`SELECT i.code, x.code, i.name, i.unit, i.whole, coalesce(x.lots, i.lots), coalesce(x.base, i.base),
		coalesce(i.budget, ''), coalesce(l.price, 0), coalesce(l.budget, ''), coalesce(l.tax_category, ''),
		coalesce(l.tax_rate, 0), l.id IS NOT NULL,
		coalesce((SELECT t.code FROM item_tax t WHERE t.item = i.id),
		(SELECT t.code FROM order_line_tax t WHERE t.order_line = l.id), '')
		FROM item_supplier x JOIN item i ON i.id = x.item LEFT JOIN order_line l ON l.id = (SELECT m.id
		FROM order_line m JOIN purchase_order o ON o.id = m.purchase_order
		WHERE m.item = x.item AND o.supplier = x.supplier ORDER BY m.id DESC LIMIT 1)
		WHERE x.supplier = ? AND x.ended = 0 ORDER BY x.code`,
	)
	putUnit = statement(
		`INSERT INTO item_unit (item, supplier, unit, units, makes) VALUES (?, ?, ?, ?, ?)
			ON CONFLICT (item, supplier, unit) DO UPDATE SET units = excluded.units, makes = excluded.makes`,
	)
	unitsOfOrder = statement(
		`SELECT l.id, u.supplier, u.unit, u.units, u.makes FROM order_line l
		JOIN purchase_order o ON o.id = l.purchase_order
		JOIN item_unit u ON u.item = l.item AND u.supplier IN (0, o.supplier)
		WHERE l.purchase_order = ? AND u.makes > 0 ORDER BY u.supplier DESC, u.unit`,
	)
	ownUnits = statement(
		`SELECT supplier, unit, units, makes FROM item_unit WHERE item = ? AND makes > 0 ORDER BY supplier, unit`,
	)
	putPrice = statement(
		`INSERT INTO agreed_price (supplier, item, from_day, least, until_day, price, base, ended)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (supplier, item, from_day, least) DO UPDATE
		SET until_day = excluded.until_day, price = excluded.price, base = excluded.base, ended = excluded.ended`,
	)
	pricesOf = statement(
		`SELECT from_day, until_day, least, price, base FROM agreed_price
			WHERE supplier = ? AND item = ? AND ended = 0 ORDER BY from_day, least`,
	)
	pricesOfAll = statement(
		`SELECT i.code, p.from_day, p.until_day, p.least, p.price, p.base FROM agreed_price p
			JOIN item i ON i.id = p.item WHERE p.supplier = ? AND p.ended = 0 ORDER BY p.item, p.from_day, p.least`,
	)
)

func scanItem(r row) (i Item, err error) {
	err = r.Scan(
		&i.ID,
		&i.Code,
		&i.Name,
		&i.Unit,
		&i.Whole,
		&i.Level,
		&i.Base,
		&i.Lots,
		&i.Account,
		&i.Budget,
		&i.Tax,
		&i.Incomplete,
		&i.Version,
	)
	return
}

// PutItem writes an item by its code, which stays, and gives its row key.
func (t *Tx) PutItem(i Item) (int64, error) {
	id, err := t.exec(
		putItem,
		i.Code,
		i.Name,
		i.Unit,
		i.Whole,
		i.Level,
		cmp.Or(i.Base, money.Int(1)),
		i.Lots,
		i.Account,
		i.Budget,
		i.Incomplete,
		i.Version+1,
	)
	if i.ID != 0 {
		id = i.ID
	}
	if err != nil || (i.Tax == "" && i.ID == 0) {
		return id, err
	}
	return id, t.do(putItemTax, id, i.Tax)
}

// ItemByCode finds an item by the company's own code.
func (t *Tx) ItemByCode(code string) (Item, error) { return one(t, itemByCode, scanItem, code) }

// Items lists the items by name.
func (t *Tx) Items() ([]Item, error) { return listCut(t, allItems, scanItem) }

// ItemsAfter lists items in the order of their row keys, from one on.
func (t *Tx) ItemsAfter(id int64, most int) ([]Item, error) {
	return list(t, itemsAfter, scanItem, id, most)
}

// ItemNamed finds an item by the company's own code or, failing that, the supplier's.
func (t *Tx) ItemNamed(code string, supplier int64) (Item, error) {
	item, err := t.ItemByCode(code)
	if !errors.Is(err, ErrNone) {
		return item, err
	}
	return one(t, itemBySeller, scanItem, supplier, code)
}

// ItemChoice is an item that a supplier sells, with what was agreed when it was last
// ordered there; Ordered says whether it ever was.
type ItemChoice struct {
	Code, SupplierCode, Name, Unit string
	Whole, Lots                    bool
	Base                           money.Decimal
	ItemBudget, Tax                string
	Price                          money.Decimal
	Budget, TaxCategory            string
	TaxRate                        money.Decimal
	Ordered                        bool
}

// ItemChoices lists what a supplier sells, by the supplier's code.
func (t *Tx) ItemChoices(supplier int64) ([]ItemChoice, error) {
	return listCut(t, itemChoices, func(r row) (i ItemChoice, err error) {
		err = r.Scan(
			&i.Code,
			&i.SupplierCode,
			&i.Name,
			&i.Unit,
			&i.Whole,
			&i.Lots,
			&i.Base,
			&i.ItemBudget,
			&i.Price,
			&i.Budget,
			&i.TaxCategory,
			&i.TaxRate,
			&i.Ordered,
			&i.Tax,
		)
		return
	}, supplier)
}

// Selling is how a supplier sells an item, where it differs from the item's own.
type Selling struct {
	Supplier, Name string // of the supplier
	Code           string // the supplier's of the item
	Level          trade.Level
	Base           *money.Decimal
	Lots           *bool
	Ended          bool
}

// PutSelling writes how a supplier sells an item.
func (t *Tx) PutSelling(item, supplier int64, s Selling) error {
	return t.do(putItemSupplier, item, supplier, s.Code, s.Level, s.Base, s.Lots, s.Ended)
}

// SellingAt is how a supplier sells an item; nothing where it does not.
func (t *Tx) SellingAt(item, supplier int64) (Selling, error) {
	s, err := one(t, itemAtSupplier, func(r row) (s Selling, err error) {
		err = r.Scan(&s.Code, &s.Level, &s.Base, &s.Lots)
		return
	}, item, supplier)
	if errors.Is(err, ErrNone) {
		return s, nil
	}
	return s, err
}

// Sellings lists who sells an item.
func (t *Tx) Sellings(item int64) ([]Selling, error) {
	return list(t, sellersOf, func(r row) (s Selling, err error) {
		err = r.Scan(&s.Supplier, &s.Name, &s.Code, &s.Level, &s.Base, &s.Lots)
		return
	}, item)
}

// ItemUnit is a conversion of an item, of one supplier or (zero) all.
type ItemUnit struct {
	Supplier int64
	trade.Conversion
}

// PutUnit writes a conversion; making nothing ends it.
func (t *Tx) PutUnit(item int64, u ItemUnit) error {
	return t.do(putUnit, item, u.Supplier, u.Unit, u.Units, u.Makes)
}

func scanUnit(r row) (u ItemUnit, err error) {
	err = r.Scan(&u.Supplier, &u.Unit, &u.Units, &u.Makes)
	return
}

// FillUnits gives the lines of an order the conversions of their items: the supplier's
// own before those of all.
func (t *Tx) FillUnits(o *trade.Order) error {
	_, err := list(t, unitsOfOrder, func(r row) (struct{}, error) {
		var line, supplier int64
		var c trade.Conversion
		if err := r.Scan(&line, &supplier, &c.Unit, &c.Units, &c.Makes); err != nil {
			return struct{}{}, err
		}
		if l := o.LineByID(line); l != nil {
			if _, known := l.Conversion(c.Unit); !known && c.Unit != l.Unit {
				l.Units = append(l.Units, c)
			}
		}
		return struct{}{}, nil
	}, o.ID)
	return err
}

// Units lists every conversion of an item.
func (t *Tx) Units(item int64) ([]ItemUnit, error) { return list(t, ownUnits, scanUnit, item) }

// PutPrice writes an agreed price; an ended one holds no more.
func (t *Tx) PutPrice(supplier, item int64, p trade.AgreedPrice, ended bool) error {
	return t.do(putPrice, supplier, item, p.From, p.Least, p.Until, p.Price, cmp.Or(p.Base, money.Int(1)), ended)
}

// Prices are what was agreed with a supplier for an item.
func (t *Tx) Prices(supplier, item int64) ([]trade.AgreedPrice, error) {
	return list(t, pricesOf, func(r row) (p trade.AgreedPrice, err error) {
		err = r.Scan(&p.From, &p.Until, &p.Least, &p.Price, &p.Base)
		return
	}, supplier, item)
}

// ItemPrice is an agreed price with its item's code.
type ItemPrice struct {
	Item string
	trade.AgreedPrice
}

// PricesOf are all that was agreed with a supplier.
func (t *Tx) PricesOf(supplier int64) ([]ItemPrice, error) {
	return list(t, pricesOfAll, func(r row) (p ItemPrice, err error) {
		err = r.Scan(&p.Item, &p.From, &p.Until, &p.Least, &p.Price, &p.Base)
		return
	}, supplier)
}

// BudgetLine is something that is planned to be bought out of a budget. Ordered is what
// orders took of it.
type BudgetLine struct {
	Budget, Supplier, Item, Description, Unit string // codes
	No                                        int
	Quantity, Price, Ordered                  money.Decimal
	WantedOn                                  day.Day
	Ended                                     bool
}

var (
	putBudgetLine = statement(
		`INSERT INTO budget_line (budget, no, supplier, item, description, unit, quantity, price, wanted_on,
		ended) VALUES (?, ?, ?, nullif(?, 0), ?, ?, ?, ?, ?, ?)
		ON CONFLICT (budget, no) DO UPDATE SET supplier = excluded.supplier, item = excluded.item,
		description = excluded.description, unit = excluded.unit, quantity = excluded.quantity,
		price = excluded.price, wanted_on = excluded.wanted_on, ended = excluded.ended`,
	)
	budgetLines = cutAt(
		1000,
		`SELECT l.budget, l.no, s.code, coalesce(i.code, ''), l.description, l.unit, l.quantity, l.price, l.wanted_on,
		coalesce((SELECT sum(x.quantity) FROM order_line x
		JOIN order_state st ON st.purchase_order = x.purchase_order
		WHERE x.budget = l.budget AND x.budget_line = l.no AND st.state <> 'cancelled'), 0)
		FROM budget_line l JOIN supplier s ON s.id = l.supplier LEFT JOIN item i ON i.id = l.item
		WHERE l.ended = 0 ORDER BY l.budget, l.no`,
	)
	lastBudgetLine = statement(`SELECT coalesce(max(no), 0) FROM budget_line WHERE budget = ?`)
)

// PutBudgetLine writes a line of a budget; supplier and item are row keys.
func (t *Tx) PutBudgetLine(l BudgetLine, supplier, item int64) error {
	return t.do(
		putBudgetLine,
		l.Budget,
		l.No,
		supplier,
		item,
		l.Description,
		l.Unit,
		l.Quantity,
		l.Price,
		l.WantedOn,
		l.Ended,
	)
}

// LastBudgetLine is the highest number of a budget's lines, ended ones too.
func (t *Tx) LastBudgetLine(budget string) (int, error) {
	return one(t, lastBudgetLine, scanOne[int], budget)
}

// BudgetLines lists what is planned and not ended, with what was ordered of it.
func (t *Tx) BudgetLines() ([]BudgetLine, error) {
	return listCut(t, budgetLines, func(r row) (l BudgetLine, err error) {
		err = r.Scan(
			&l.Budget,
			&l.No,
			&l.Supplier,
			&l.Item,
			&l.Description,
			&l.Unit,
			&l.Quantity,
			&l.Price,
			&l.WantedOn,
			&l.Ordered,
		)
		return
	})
}
