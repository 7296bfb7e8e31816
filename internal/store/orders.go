package store

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	putOrder = statement(
		`INSERT INTO purchase_order (number, supplier, currency, rate, issued_on, wanted_on, about, requested_by, place,
		elsewhere, their_reference, contact, instructions, note, revision, made_by)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0))
		ON CONFLICT (number) DO UPDATE SET rate = excluded.rate, issued_on = excluded.issued_on,
		wanted_on = excluded.wanted_on, about = excluded.about,
		requested_by = excluded.requested_by,
		place = excluded.place, elsewhere = excluded.elsewhere, their_reference = excluded.their_reference,
		contact = excluded.contact, instructions = excluded.instructions, note = excluded.note,
		revision = excluded.revision, made_by = excluded.made_by`,
	)
	putOrderLine = statement(
		`INSERT INTO order_line (purchase_order, no, item, supplier_code, description, quantity, unit, whole, lots,
		price, base, agreed, discount, charge, net,
		tax_category, tax_rate, budget, budget_line, wanted_on, note, match_level)
		VALUES (?, ?, nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), ?, ?, nullif(?, ''))
		ON CONFLICT (purchase_order, no) DO UPDATE
		SET description = excluded.description, quantity = excluded.quantity, price = excluded.price,
		base = excluded.base, agreed = excluded.agreed,
		discount = excluded.discount, charge = excluded.charge, net = excluded.net,
		tax_category = excluded.tax_category, tax_rate = excluded.tax_rate, budget = excluded.budget,
		budget_line = excluded.budget_line, wanted_on = excluded.wanted_on, note = excluded.note,
		match_level = excluded.match_level`,
	)
	putOrderCharge = statement(
		`INSERT INTO order_charge (purchase_order, no, kind, description, amount, tax_category, tax_rate)
		VALUES (?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (purchase_order, no) DO UPDATE
		SET kind = excluded.kind, description = excluded.description, amount = excluded.amount,
		tax_category = excluded.tax_category, tax_rate = excluded.tax_rate`,
	)
	orderCharges = statement(
		`SELECT no, kind, description, amount, tax_category, tax_rate FROM order_charge
			WHERE purchase_order = ? AND amount > 0 ORDER BY no`,
	)
	putOrderState = statement(
		`INSERT INTO order_state (purchase_order, state, version, open_goods, wanted_on) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (purchase_order) DO UPDATE SET state = excluded.state, version = excluded.version,
		open_goods = excluded.open_goods, wanted_on = excluded.wanted_on`,
	)
	putLineState = statement(
		`INSERT INTO order_line_state (order_line, received, billed, returned, closed_goods, closed_invoices,
		match_level, account, dearer, cheaper)
		VALUES (?, ?, ?, ?, ?, ?, nullif(?, ''), nullif(?, ''), ?, ?)
		ON CONFLICT (order_line) DO UPDATE SET received = excluded.received, billed = excluded.billed,
		returned = excluded.returned, closed_goods = excluded.closed_goods,
		closed_invoices = excluded.closed_invoices, match_level = excluded.match_level, account = excluded.account,
		dearer = excluded.dearer, cheaper = excluded.cheaper`,
	)
	addLineClose = statement(
		`INSERT INTO line_close (order_line, delivery, goods, invoices, reason, by_person, at)
			VALUES (?, nullif(?, 0), ?, ?, ?, nullif(?, 0), ?)`,
	)
	lastOrderedTo = statement(
		`SELECT o.place, coalesce((SELECT l.budget FROM order_line l WHERE l.purchase_order = o.id
		ORDER BY l.no LIMIT 1), '')
		FROM purchase_order o WHERE o.made_by = ? ORDER BY o.id DESC LIMIT 1`,
	)
	closesOfOrder = statement(
		`SELECT c.order_line, coalesce(c.delivery, 0), c.goods, c.invoices, c.reason, coalesce(c.by_person, 0), c.at
		FROM order_line l JOIN line_close c ON c.order_line = l.id WHERE l.purchase_order = ?`,
	)
	addCloseInvoice = statement(`INSERT INTO line_close_invoice (line_close, invoice) VALUES (?, ?)`)
	// The closings of an invoice that are the last ones of their lines, on either side.
	closesOfInvoice = statement(
		`SELECT c.order_line, 0, c.goods, c.invoices, c.reason, coalesce(c.by_person, 0), c.at
		FROM line_close_invoice i CROSS JOIN line_close c ON c.id = i.line_close
		WHERE i.invoice = ? AND c.goods >= 0 AND c.invoices >= 0
		AND NOT EXISTS (SELECT 1 FROM line_close l WHERE l.order_line = c.order_line AND l.id > c.id) ORDER BY c.id`,
	)
	closesOfLine = statement(
		`SELECT order_line, coalesce(delivery, 0), goods, invoices, reason, coalesce(by_person, 0), at
			FROM line_close WHERE order_line = ? ORDER BY order_line, id`,
	)
	addOrderVersion = statement(
		`INSERT INTO order_version (purchase_order, revision, body, reason, by_person, at)
			VALUES (?, ?, ?, ?, nullif(?, 0), ?)`,
	)
	orderVersion = statement(
		`SELECT v.revision, v.body, v.reason, coalesce(p.name, 'Lagoon'), v.at FROM order_version v
			LEFT JOIN person p ON p.id = v.by_person WHERE v.purchase_order = ? AND v.revision = ?`,
	)
	addImported   = statement(`INSERT INTO order_import (supplier, name, says, purchase_order) VALUES (?, ?, ?, ?)`)
	importedOrder = statement(`SELECT purchase_order, says FROM order_import WHERE supplier = ? AND name = ?`)
	orderMakers   = statement(
		`SELECT DISTINCT by_person FROM order_version WHERE purchase_order = ? AND by_person IS NOT NULL`,
	)
	orderVersions = statement(
		`SELECT v.revision, v.body, v.reason, coalesce(p.name, 'Lagoon'), v.at FROM order_version v
			LEFT JOIN person p ON p.id = v.by_person WHERE v.purchase_order = ? ORDER BY v.revision`,
	)
)

// NewLine is an order line with limits of its own. A line that has a row key is written
// over; a limit with neither value is not set on it any more.
type NewLine struct {
	trade.OrderLine
	Overrides limit.Book
}

// PutOrder writes an order and its lines as they are now, and gives its row key. Lines
// that are not named stay.
func (t *Tx) PutOrder(o trade.Order, lines []NewLine, by int64) (int64, error) {
	id, err := t.exec(
		putOrder,
		o.Number,
		o.SupplierID,
		o.Currency,
		o.Rate,
		o.IssuedOn,
		o.WantedOn,
		o.About,
		o.RequestedBy,
		o.Place,
		o.Elsewhere,
		o.TheirReference,
		o.Contact,
		o.Instructions,
		o.Note,
		o.Revision,
		by,
	)
	if err != nil {
		return 0, err
	}
	if o.ID != 0 {
		id = o.ID
		t.takings.order(id)
	}
	for _, l := range lines {
		if err := t.putOrderLine(id, l); err != nil {
			return 0, err
		}
	}
	if err := t.do(putOrderSum, id); err != nil {
		return 0, err
	}
	for _, c := range o.Charges {
		if err := t.do(putOrderCharge, id, c.No, c.Kind, c.Description, c.Amount, c.TaxCategory, c.TaxRate); err != nil {
			return 0, err
		}
	}
	if o.ID != 0 {
		return id, nil // its state is written with what else changes
	}
	return id, t.do(putOrderState, id, o.State, 1, o.State == trade.Issued, o.WantedOn)
}

func (t *Tx) putOrderLine(order int64, l NewLine) error {
	line, err := t.exec(
		putOrderLine,
		order,
		l.No,
		l.ItemID,
		l.SupplierCode,
		l.Description,
		l.Quantity,
		l.Unit,
		l.Whole,
		l.Lots,
		l.Price,
		l.Base,
		l.Agreed,
		l.Discount,
		l.Charge,
		l.Net,
		l.TaxCategory,
		l.TaxRate,
		l.Budget,
		l.BudgetLine,
		l.WantedOn,
		l.Note,
		l.OwnLevel,
	)
	if err != nil {
		return err
	}
	if l.ID != 0 {
		line = l.ID
	} else if err := t.SaveLine(&trade.OrderLine{ID: line}); err != nil {
		return err
	}
	if l.SelfBilled && l.ID == 0 {
		if err := t.do(markSelfBilled, line); err != nil {
			return err
		}
	}
	if l.Tax.Code != "" || l.ID != 0 {
		if err := t.do(putOrderLineTax, line, l.Tax.Code); err != nil {
			return err
		}
	}
	for _, r := range l.Overrides {
		if err := t.PutLimit(LimitRule{OrderLine: line, Rule: r}); err != nil {
			return err
		}
	}
	return nil
}

// OrderVersion is what an order said in one of its revisions, as JSON, and why it was
// changed.
type OrderVersion struct {
	Revision   int
	Body       []byte
	Reason     string
	ByName, At string
}

// AddOrderVersion keeps a version.
func (t *Tx) AddOrderVersion(order int64, v OrderVersion, by int64) error {
	return t.do(addOrderVersion, order, v.Revision, v.Body, v.Reason, by, v.At)
}

func scanVersion(r row) (v OrderVersion, err error) {
	err = r.Scan(&v.Revision, &v.Body, &v.Reason, &v.ByName, &v.At)
	return
}

// OrderVersion reads one revision of an order.
func (t *Tx) OrderVersion(order int64, revision int) (OrderVersion, error) {
	return one(t, orderVersion, scanVersion, order, revision)
}

// OrderVersions reads all of them.
func (t *Tx) OrderVersions(order int64) ([]OrderVersion, error) {
	return list(t, orderVersions, scanVersion, order)
}

// KeepImportedOrder keeps under which name a table told an order of a supplier, and a hash
// of what it said.
func (t *Tx) KeepImportedOrder(supplier, name, says string, number int64) error {
	return t.do(addImported, supplier, name, says, number)
}

// ImportedOrder finds the order that was made from a table by its name there, and what
// the table said.
func (t *Tx) ImportedOrder(supplier, name string) (number int64, says string, err error) {
	found, err := one(t, importedOrder, func(r row) (f struct {
		number int64
		says   string
	}, err error) {
		err = r.Scan(&f.number, &f.says)
		return
	}, supplier, name)
	return found.number, found.says, err
}

// OrderMakers are all who entered or changed the order.
func (t *Tx) OrderMakers(order int64) ([]int64, error) {
	return list(t, orderMakers, scanOne[int64], order)
}

const orderColumns = `SELECT o.id, o.number, o.supplier, s.name, st.state, o.currency, o.rate, o.issued_on,
	o.wanted_on, o.about, o.requested_by, o.place, o.elsewhere, o.their_reference, o.contact, o.instructions, o.note,
	o.revision, st.version
	FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id JOIN supplier s ON s.id = o.supplier `

var (
	orderByNumber = statement(orderColumns + `WHERE o.number = ?`)
	orderByID     = statement(orderColumns + `WHERE o.id = ?`)
	orderIDOf     = statement(`SELECT id FROM purchase_order WHERE number = ? AND supplier = ?`)
	orderLines    = statement(
		`SELECT l.id, coalesce(l.item, 0), l.no, coalesce(i.code, ''), l.supplier_code, l.description, l.quantity,
		l.unit, l.whole, l.lots, l.price, l.base, l.agreed, l.discount, l.charge, l.net,
		l.tax_category, l.tax_rate, l.budget, coalesce(l.budget_line, 0), coalesce(ls.account, i.account, b.account),
		l.wanted_on, l.note, coalesce(ls.match_level, ''), coalesce(l.match_level, ''), coalesce(x.match_level, ''),
		coalesce(i.match_level, ''), coalesce(s.match_level, ''), c.match_level,
		ls.closed_goods, ls.closed_invoices, ls.dearer, ls.cheaper,
		coalesce((SELECT t.code FROM order_line_tax t WHERE t.order_line = l.id), ''),
		EXISTS (SELECT 1 FROM order_line_self_billed m WHERE m.order_line = l.id)
		FROM order_line l JOIN order_line_state ls ON ls.order_line = l.id
		JOIN purchase_order o ON o.id = l.purchase_order JOIN supplier s ON s.id = o.supplier
		JOIN budget b ON b.code = l.budget JOIN company c LEFT JOIN item i ON i.id = l.item
		LEFT JOIN item_supplier x ON x.item = l.item AND x.supplier = o.supplier AND x.ended = 0
		WHERE l.purchase_order = ? ORDER BY l.no`,
	)
	orderReceipts = statement(
		`SELECT r.order_line, r.id, d.number, d.note, d.arrived_on, d.posted_on, r.order_revision, r.quantity, r.value, r.value_base
		FROM order_line l JOIN receipt_line r ON r.order_line = l.id JOIN delivery d ON d.id = r.delivery
		WHERE l.purchase_order = ? AND r.quantity > 0`,
	)
	orderAllocations = statement(
		allocationColumns + `FROM order_line l CROSS JOIN allocation a ON a.order_line = l.id ` + allocationBills + `WHERE l.purchase_order = ?`,
	)
	claimsBefore = statement(
		`SELECT il.id, il.order_line, il.quantity, il.unit, il.price, il.base, il.discount, il.charge, r.currency, r.kind,
		coalesce((SELECT what FROM invoice_line_credit c WHERE c.invoice_line = il.id), ''), s.invoice
		FROM invoice_order x CROSS JOIN invoice_state s ON s.invoice = x.invoice
		AND s.revision = x.invoice_revision JOIN invoice_revision r ON r.id = s.revision
		JOIN invoice_line il ON il.invoice_revision = s.revision
		WHERE x.purchase_order = ?1 AND x.kind = '' AND x.invoice < ?2
		AND s.state IN ` + isUnsettled + ` AND NOT ` + adjusts + ` AND il.order_line IS NOT NULL
		AND il.charge_kind = ''`,
	)
	chargedBefore = statement(
		`SELECT x.kind, sum(CASE r.kind WHEN 'invoice' THEN x.amount ELSE -x.amount END),
		coalesce(sum(CASE r.kind WHEN 'invoice' THEN x.amount ELSE -x.amount END) FILTER (WHERE s.state IN ` + isBooked + `), 0)
		FROM invoice_order x CROSS
		JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		JOIN invoice_revision r ON r.id = s.revision
		WHERE x.purchase_order = ?1 AND x.kind > ''
		AND (s.state IN ` + isBooked + ` OR (s.state IN ` + isUnsettled + ` AND x.invoice < ?2 AND r.kind = 'invoice'))
		GROUP BY x.kind`,
	)
)

func scanOrder(r row) (*trade.Order, error) {
	o := &trade.Order{}
	err := r.Scan(
		&o.ID,
		&o.Number,
		&o.SupplierID,
		&o.Supplier,
		&o.State,
		&o.Currency,
		&o.Rate,
		&o.IssuedOn,
		&o.WantedOn,
		&o.About,
		&o.RequestedBy,
		&o.Place,
		&o.Elsewhere,
		&o.TheirReference,
		&o.Contact,
		&o.Instructions,
		&o.Note,
		&o.Revision,
		&o.Version,
	)
	return o, err
}

// AllReserved counts the claims of every open invoice.
const AllReserved = int64(1) << 62

// OrderByNumber reads an order with its lines, receipts and limits. Reservations are
// those of open invoices captured before the invoice with row key before.
func (t *Tx) OrderByNumber(number, before int64) (*trade.Order, error) {
	o, err := one(t, orderByNumber, scanOrder, number)
	if err != nil {
		return nil, err
	}
	return o, t.fillOrder(o, before)
}

// Order is OrderByNumber by row key.
func (t *Tx) Order(id, before int64) (*trade.Order, error) {
	o, err := one(t, orderByID, scanOrder, id)
	if err != nil {
		return nil, err
	}
	return o, t.fillOrder(o, before)
}

// OrderOf finds the row key of a supplier's order by number, or ErrNone.
func (t *Tx) OrderOf(number, supplier int64) (int64, error) {
	return one(t, orderIDOf, scanOne[int64], number, supplier)
}

// brokenLine is what only a change past the jobs can bring about.
func brokenLine(order, line int64) error {
	return fmt.Errorf("store: order %d: rows of the line with key %d are missing", order, line)
}

// takeAllocations counts what was allocated of the lines.
func (t *Tx) takeAllocations(
	o *trade.Order,
	lines map[int64]*trade.OrderLine,
	receipts map[int64]*trade.Receipt,
) error {
	rows, err := list(t, orderAllocations, scanAllocation, o.ID)
	for _, row := range rows {
		line, a, ok := row.on(lines, receipts)
		if !ok {
			return brokenLine(o.Number, row.OrderLine)
		}
		line.Take(a)
	}
	for _, line := range o.Lines {
		err = errors.Join(err, t.named(line))
	}
	return err
}

// claim counts what invoices captured before one, and not yet verified, bill of the lines, and
// what they and verified ones charge the order.
func (t *Tx) claim(o *trade.Order, lines map[int64]*trade.OrderLine, before int64) error {
	type claimed struct {
		bill     trade.InvoiceLine
		currency money.Currency
		kind     trade.InvoiceKind
		invoice  int64
	}
	claims, err := list(t, claimsBefore, func(r row) (c claimed, err error) {
		l := &c.bill
		err = r.Scan(&l.ID, &l.OrderLineID, &l.Quantity, &l.Unit, &l.Price, &l.Base, &l.Discount, &l.Charge, &c.currency, &c.kind, &l.Credits, &c.invoice)
		return
	}, o.ID, before)
	if err != nil {
		return err
	}
	for len(claims) > 0 { // invoice by invoice
		first, n := claims[0], 1
		bills := []trade.InvoiceLine{first.bill}
		for ; n < len(claims) && claims[n].invoice == first.invoice; n++ {
			bills = append(bills, claims[n].bill)
		}
		claims = claims[n:]
		if bills, err = trade.Summed(bills, first.currency); err != nil {
			return err
		}
		for _, bill := range bills {
			line := lines[bill.OrderLineID]
			if line == nil {
				continue // of another order of the same invoice
			}
			if bill.Unit != line.Unit && line.Units == nil {
				if err := t.FillUnits(o); err != nil {
					return err
				}
			}
			if line.Level == trade.ByReceipt {
				if bill.Notes, err = list(t, notesOfLine, scanOne[string], bill.ID); err != nil {
					return err
				}
			}
			claim := line.Claim
			switch {
			case first.kind == trade.CreditNote:
				claim = line.ClaimCredit
			case bill.Quantity < 0:
				claim, bill = line.ClaimCredit, bill.Back()
			}
			if err := claim(bill, first.currency); err != nil {
				return err
			}
		}
	}
	o.ChargedSoFar, o.ChargedBooked = map[string]money.Amount{}, map[string]money.Amount{}
	_, err = list(t, chargedBefore, func(r row) (none struct{}, err error) {
		var kind string
		var sum, booked money.Amount
		err = r.Scan(&kind, &sum, &booked)
		o.ChargedSoFar[kind], o.ChargedBooked[kind] = sum, booked
		return
	}, o.ID, before)
	return err
}

func (t *Tx) fillOrder(o *trade.Order, before int64) error {
	lines, err := list(t, orderLines, func(r row) (*trade.OrderLine, error) {
		l := &trade.OrderLine{}
		var fixed trade.Level
		var set trade.Levels
		err := r.Scan(
			&l.ID,
			&l.ItemID,
			&l.No,
			&l.ItemCode,
			&l.SupplierCode,
			&l.Description,
			&l.Quantity,
			&l.Unit,
			&l.Whole,
			&l.Lots,
			&l.Price,
			&l.Base,
			&l.Agreed,
			&l.Discount,
			&l.Charge,
			&l.Net,
			&l.TaxCategory,
			&l.TaxRate,
			&l.Budget,
			&l.BudgetLine,
			&l.Account,
			&l.WantedOn,
			&l.Note,
			&fixed,
			&set.Line,
			&set.ItemAtSupplier,
			&set.Item,
			&set.Supplier,
			&set.Company,
			&l.ClosedGoods,
			&l.ClosedInvoices,
			&l.Dearer,
			&l.Cheaper,
			&l.Tax.Code, // its rates below: one question at a time
			&l.SelfBilled,
		)
		l.OwnLevel = set.Line
		l.Level, l.LevelFrom = set.Find()
		if fixed != "" {
			l.Level, l.LevelFixed = fixed, true
		}
		return l, err
	}, o.ID)
	if err != nil {
		return err
	}
	o.Lines = lines
	for _, l := range lines {
		if l.Tax, err = t.taxOf(l.Tax.Code); err != nil {
			return err
		}
	}
	if o.Charges, err = list(t, orderCharges, func(r row) (c trade.PlannedCharge, err error) {
		err = r.Scan(&c.No, &c.Kind, &c.Description, &c.Amount, &c.TaxCategory, &c.TaxRate)
		return
	}, o.ID); err != nil {
		return err
	}
	byID := make(map[int64]*trade.OrderLine, len(lines))
	for _, l := range lines {
		byID[l.ID], l.Revision = l, o.Revision
	}
	receipts := map[int64]*trade.Receipt{}
	if _, err := list(t, orderReceipts, func(r row) (struct{}, error) {
		var line int64
		c := &trade.Receipt{}
		err := r.Scan(&line, &c.ID, &c.Delivery, &c.Note, &c.Day, &c.PostedOn, &c.Revision, &c.Quantity, &c.Value, &c.ValueBase)
		if err != nil {
			return struct{}{}, err
		}
		if byID[line] == nil {
			return struct{}{}, brokenLine(o.Number, line)
		}
		byID[line].Arrive(c)
		receipts[c.ID] = c
		return struct{}{}, nil
	}, o.ID); err != nil {
		return err
	}
	for _, l := range lines {
		slices.SortFunc(
			l.Receipts,
			func(a, b *trade.Receipt) int { return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.ID, b.ID)) },
		)
	}
	if err := t.takeAllocations(o, byID, receipts); err != nil {
		return err
	}
	if err := t.claim(o, byID, before); err != nil {
		return err
	}
	rules, err := t.limits(o.SupplierID, o.ID)
	if err != nil {
		return err
	}
	for _, l := range lines {
		for _, r := range rules {
			if (r.OrderLine == 0 || r.OrderLine == l.ID) && (r.Item == 0 || r.Item == l.ItemID) {
				l.Limits = append(l.Limits, r.Rule)
			}
		}
	}
	for _, r := range rules {
		if r.OrderLine == 0 && r.Item == 0 {
			o.Limits = append(o.Limits, r.Rule)
		}
	}
	return nil
}

// SaveLine writes the state of an order line.
func (t *Tx) SaveLine(l *trade.OrderLine) error {
	t.takings.line(l.ID)
	level, account := trade.Level(""), trade.Account("")
	if l.LevelFixed {
		level, account = l.Level, l.Account
	}
	return t.do(
		putLineState,
		l.ID,
		l.Received,
		l.Billed,
		l.Returned,
		l.ClosedGoods,
		l.ClosedInvoices,
		level,
		account,
		l.Dearer,
		l.Cheaper,
	)
}

// TouchOrder counts the order's version up and notes whether goods are still expected.
func (t *Tx) TouchOrder(o *trade.Order) error {
	expected := false
	for _, l := range o.Lines {
		expected = expected || l.Rest() > 0
	}
	o.Version++
	if !slices.Contains(trade.IssuedStates[:], o.State) {
		t.takings.order(o.ID)
	}
	return t.do(putOrderState, o.ID, o.State, o.Version, expected && o.State == trade.Issued, o.WantedOn)
}

// LineClose closes (1) or reopens (−1) an order line to goods or invoices.
type LineClose struct {
	Line, Delivery  int64
	Goods, Invoices int
	Reason          string
	By              int64
	At              string
}

// LineCloses are the closings of an order line and what undid them, in order.
func (t *Tx) LineCloses(line int64) ([]LineClose, error) {
	return list(t, closesOfLine, scanLineClose, line)
}

// ClosesOfInvoice are the closings that came of an invoice, as far as nothing closed or opened their lines since.
func (t *Tx) ClosesOfInvoice(invoice int64) ([]LineClose, error) {
	return list(t, closesOfInvoice, scanLineClose, invoice)
}

// ClosesOf are the closings of an order's lines and what undid them, in no order.
func (t *Tx) ClosesOf(order int64) ([]LineClose, error) {
	return list(t, closesOfOrder, scanLineClose, order)
}

func scanLineClose(r row) (c LineClose, err error) {
	err = r.Scan(&c.Line, &c.Delivery, &c.Goods, &c.Invoices, &c.Reason, &c.By, &c.At)
	return
}

// OrderRow is an order in a list.
type OrderRow struct {
	Number                   int64
	Supplier, RequestedBy    string
	State                    trade.OrderState
	IssuedOn, WantedOn       day.Day
	Currency                 money.Currency
	Net                      money.Amount
	Lines                    int
	About                    string
	Received, Billed, Closed int // lines with something received or billed, and done
	Work                     int // lines by value of which something is to be accepted still
}

const orderRows = orderRowColumns + orderRowsFrom

const orderRowColumns = `SELECT o.number, s.name, o.requested_by, st.state, o.issued_on, o.wanted_on, o.currency,
	(SELECT sum(net) FROM order_line l WHERE l.purchase_order = o.id), (SELECT count(*) FROM order_line l WHERE l.purchase_order = o.id),
	o.about,
	(SELECT count(*) FROM order_line l JOIN order_line_state x ON x.order_line = l.id WHERE l.purchase_order = o.id AND x.received > 0),
	(SELECT count(*) FROM order_line l JOIN order_line_state x ON x.order_line = l.id WHERE l.purchase_order = o.id AND x.billed > 0),
	(SELECT count(*) FROM order_line l JOIN order_line_state x ON x.order_line = l.id
	WHERE l.purchase_order = o.id AND (x.closed_goods = 1 OR x.received + x.returned >= l.quantity)),
	(SELECT count(*) ` + stillToCome + `l.unit = '` + trade.MonetaryValue + `')`

// stillToCome are those of an order that something is to come of still; goods or work, as a condition goes on to say.
const stillToCome = `FROM order_line l JOIN order_line_state x ON x.order_line = l.id
	WHERE l.purchase_order = o.id AND x.closed_goods = 0 AND x.received + x.returned < l.quantity AND `

const orderRowsFrom = ` FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id JOIN supplier s ON s.id = o.supplier `

var (
	recentOrders   = statement(orderRows + `WHERE o.id < ?1 ORDER BY o.id DESC LIMIT ?2`)
	expectedOrders = cutAt(mostPiled, orderRows+`WHERE st.open_goods = 1 ORDER BY st.wanted_on, st.purchase_order`)
	countExpected  = statement(`SELECT count(*) FROM order_state WHERE open_goods = 1 AND wanted_on <= ?`)
	countGoods     = statement(`SELECT count(*) FROM order_state st JOIN purchase_order o ON o.id = st.purchase_order
		WHERE st.open_goods = 1 AND st.wanted_on <= ? AND EXISTS (SELECT 1 ` + stillToCome + `l.unit <> '` + trade.MonetaryValue + `')`)
	countWork = statement(`SELECT count(*) FROM order_state st JOIN purchase_order o ON o.id = st.purchase_order
		WHERE st.open_goods = 1 AND st.wanted_on <= ? AND o.requested_by = ?
		AND EXISTS (SELECT 1 ` + stillToCome + `l.unit = '` + trade.MonetaryValue + `')`)
	orderBefore = statement(
		`SELECT coalesce((SELECT id FROM purchase_order WHERE number = ?), ` + "4611686018427387904" + `)`,
	)
)

// columns are what orderRowColumns reads, in its order.
func (o *OrderRow) columns() []any {
	return []any{
		&o.Number, &o.Supplier, &o.RequestedBy, &o.State, &o.IssuedOn, &o.WantedOn, &o.Currency,
		&o.Net, &o.Lines, &o.About, &o.Received, &o.Billed, &o.Closed, &o.Work,
	}
}

func scanOrderRow(r row) (o OrderRow, err error) {
	err = r.Scan(o.columns()...)
	return
}

// RecentOrders lists orders, newest first, from below the order numbered before
// (zero: from the newest).
func (t *Tx) RecentOrders(before int64, limit int) ([]OrderRow, error) {
	id, err := t.number(orderBefore, before)
	if err != nil {
		return nil, err
	}
	return list(t, recentOrders, scanOrderRow, id, limit)
}

// ExpectedOrders lists the orders that goods are still expected on, by wanted day.
func (t *Tx) ExpectedOrders() ([]OrderRow, error) {
	return listCut(t, expectedOrders, scanOrderRow)
}

// CountExpected counts the orders with goods expected by a day.
func (t *Tx) CountExpected(by day.Day) (int64, error) { return t.number(countExpected, by) }

// CountGoods counts the orders with goods expected by a day; work that is accepted is none.
func (t *Tx) CountGoods(by day.Day) (int64, error) { return t.number(countGoods, by) }

// CountWork counts the orders with work that somebody asked for and that should be done by a day.
func (t *Tx) CountWork(by day.Day, asked string) (int64, error) {
	return t.number(countWork, by, asked)
}

// mostHolding is how many order lines are looked at for goods of an item.
const mostHolding = 30

var ordersHolding = statement(`SELECT o.id FROM order_line l JOIN purchase_order o ON o.id = l.purchase_order
	JOIN order_line_state x ON x.order_line = l.id
	WHERE l.item = ?1 AND o.supplier = ?2 AND x.received > 0 ORDER BY l.id DESC LIMIT ` + fmt.Sprint(mostHolding))

// OrdersHolding are the orders at a supplier under which goods of an item are here, the last ones first.
func (t *Tx) OrdersHolding(item, supplier int64) ([]*trade.Order, error) {
	ids, err := list(t, ordersHolding, scanOne[int64], item, supplier)
	if err != nil {
		return nil, err
	}
	var orders []*trade.Order
	for i, id := range ids {
		if slices.Contains(ids[:i], id) {
			continue
		}
		order, err := t.Order(id, AllReserved)
		if err != nil {
			return nil, err
		}
		orders = append(orders, order)
	}
	return orders, nil
}

// LastOrderedTo are the place and the first budget of the order that a person made last; empty
// where they made none.
func (t *Tx) LastOrderedTo(person int64) (place, budget string, err error) {
	last, err := one(t, lastOrderedTo, func(r row) (last [2]string, err error) {
		err = r.Scan(&last[0], &last[1])
		return
	}, person)
	if errors.Is(err, ErrNone) {
		err = nil
	}
	return last[0], last[1], err
}
