package lists

// This file holds the lists that tell of suppliers, of their prices and of what limits let pass.

import (
	"fmt"

	"lagoon/internal/core/limit"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// sumsOfSuppliers joins to a supplier p what its open documents in its currency come to (z), found by their state, which few are in;
// what it was paid since the year began (y); what is claimed of it (k); and how many of its orders are to come (o).
var sumsOfSuppliers = `LEFT JOIN (SELECT z.supplier, z.currency,
	sum(CASE WHEN z.state IN ` + isOwed + ` THEN z.open ELSE 0 END) AS owed,
	sum(CASE WHEN z.state IN ` + isOwed + ` AND z.open > 0 AND z.due_on < :today THEN z.open ELSE 0 END) AS overdue,
	sum(CASE z.state WHEN 'held' THEN z.total ELSE 0 END) AS held, sum(CASE z.state WHEN 'waiting' THEN z.total ELSE 0 END) AS waiting
	FROM invoice_state z WHERE z.state IN ` + isOpen + ` GROUP BY z.supplier, z.currency) z ON z.supplier = p.id AND z.currency = p.currency
	LEFT JOIN supplier_paid y ON y.year = substr(:today, 1, 4) AND y.supplier = p.id AND y.currency = p.currency
	LEFT JOIN (SELECT z.supplier, z.currency, sum(k.net + k.tax) AS claimed FROM claim_state k CROSS JOIN claim c ON c.id = k.claim
	CROSS JOIN invoice_state z ON z.invoice = c.invoice WHERE k.state = 'open' GROUP BY z.supplier, z.currency) k
	ON k.supplier = p.id AND k.currency = p.currency
	LEFT JOIN (SELECT o.supplier, count(*) AS n FROM order_state st CROSS JOIN purchase_order o ON o.id = st.purchase_order WHERE st.open_goods = 1
	GROUP BY o.supplier) o ON o.supplier = p.id `

var suppliers = List{
	Key: "suppliers", Title: "Suppliers", Report: true,
	Says: "Amounts in the supplier's own currency, of documents in it; with tax, but for what is to come.",
	From: `FROM supplier p ` + sumsOfSuppliers + `WHERE 1`, Order: "p.name COLLATE NOCASE", Currency: "p.currency",
	Columns: []Column{
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "p.name", Link: "supplier", By: "p.code"},
		supplierGroup("p.id"),
		{Key: "orders", Title: "Orders to come", Kind: Count, SQL: "coalesce(o.n, 0)"},
		{Key: "owed", Title: "Owed", Kind: Money, SQL: "coalesce(z.owed, 0)"},
		{Key: "overdue", Title: "Overdue", Kind: Money, SQL: "coalesce(z.overdue, 0)"},
		{Key: "held", Title: "Held", Kind: Money, SQL: "coalesce(z.held, 0)"},
		{Key: "waiting", Title: "Waits for goods", Kind: Money, SQL: "coalesce(z.waiting, 0)"},
		{Key: "claims", Title: "Claimed", Kind: Money, SQL: "coalesce(k.claimed, 0)"},
		{Key: "paid", Title: "Paid this year", Kind: Money, SQL: "coalesce(y.paid, 0)"},
		{Key: "taken", Title: "Discounts", Kind: Money, SQL: "coalesce(y.discount, 0)"},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "p.currency", Groups: true},
		{Key: "country", Title: "Country", Kind: Text, SQL: "p.country", Aside: true, Groups: true},
		{Key: "code", Title: "Code", Kind: Number, SQL: "p.code", Aside: true},
	},
	Words: words(
		Word{Key: "owed", Text: "owed something", SQL: "p.id IN (SELECT z.supplier FROM invoice_state z WHERE z.open <> 0 AND z.state IN " + isOwed + ")"},
		Word{Key: "held", Text: "with held invoices", SQL: "p.id IN (SELECT z.supplier FROM invoice_state z WHERE z.state = 'held')"},
		Word{Key: "orders", Text: "with open orders", SQL: "o.n > 0"},
		Word{Key: "active", Text: "not ended", SQL: "p.holds NOT LIKE '%ended%'"},
		Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "p.id = :v"},
		supplierGroupIs("p.id"),
	),
}

// priced are the prices of verified invoices, line by line, each beside the one before it of the same item, supplier and unit.
const priced = `FROM (SELECT il.id, il.item_code, il.description, il.order_line, il.unit, il.price, il.base, il.quantity, z.supplier, z.currency, z.invoice_date,
	z.invoice, l.item, lag(il.price) OVER of_item AS was FROM invoice_state z JOIN invoice_revision r ON r.id = z.revision
	JOIN invoice_line il ON il.invoice_revision = z.revision JOIN order_line l ON l.id = il.order_line
	WHERE r.kind = 'invoice' AND l.item IS NOT NULL AND il.charge_kind = '' AND z.state IN `

var prices = List{
	Key: "prices", Title: "Prices over time", Report: true, First: "changed",
	Says: "What verified invoices charged for an item, each beside the price before it of the same supplier and unit.",
	From: priced + isBooked + ` WINDOW of_item AS (PARTITION BY l.item, z.supplier, il.unit, il.base, z.currency ORDER BY z.invoice_date, il.id)) q
	JOIN item i ON i.id = q.item JOIN supplier p ON p.id = q.supplier JOIN invoice v ON v.id = q.invoice WHERE 1`,
	Order: "i.name COLLATE NOCASE, p.name COLLATE NOCASE, q.unit, q.invoice_date DESC, q.id DESC", Currency: "q.currency",
	Columns: []Column{
		{Key: "item", Title: "Item", Kind: Text, SQL: "i.name", Link: "item", By: "i.code", Groups: true},
		itemGroup("q.item"),
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "p.name", Link: "supplier", By: "p.code", Groups: true},
		supplierGroup("q.supplier"),
		{Key: "date", Title: "Invoiced", Kind: Day, SQL: "q.invoice_date"},
		{Key: "was", Title: "Before", Kind: Price, SQL: "q.was"},
		{Key: "price", Title: "Price", Kind: Price, SQL: "q.price"},
		{Key: "by", Title: "Changed by", Kind: Percent, SQL: "CASE WHEN q.was > 0 THEN CAST(round((q.price - q.was) * 10000.0 / q.was) AS INTEGER) * 10000 ELSE 0 END"},
		{Key: "base", Title: "For", Kind: Quantity, SQL: "q.base"},
		{Key: "unit", Title: "Unit", Kind: Text, SQL: "q.unit", Says: say.Unit},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "q.currency", Groups: true},
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "v.number", Link: "invoice"},
		{Key: "quantity", Title: "Quantity", Kind: Quantity, SQL: "q.quantity", Aside: true},
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(q.invoice_date, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "changed", Text: "changed", SQL: "q.was IS NOT NULL AND q.was <> q.price", Scans: true},
		Word{Key: "dearer", Text: "dearer", SQL: "q.price > q.was", Scans: true},
		Word{Key: "cheaper", Text: "cheaper", SQL: "q.price < q.was", Scans: true},
		Word{Key: "item", Text: "item", Takes: AnItem, SQL: "q.item = :v", Scans: true},
		Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "q.supplier = :v", Scans: true},
		supplierGroupIs("q.supplier"), itemGroupIs("q.item"),
		days("q.invoice_date"),
	),
}

// finding is a part of what the last match of a booked invoice found.
func found(part string) string { return "json_extract(f.value, '$." + part + "')" }

var limitLevels = map[string]string{
	fmt.Sprint(limit.Line): "the order line", fmt.Sprint(limit.ItemAtSupplier): "the item at the supplier", fmt.Sprint(limit.Item): "the item",
	fmt.Sprint(limit.Supplier): "the supplier", fmt.Sprint(limit.Company): "the company",
}

var limitKinds = map[string]string{
	"delivery": "delivered quantity", "invoiced_quantity": "invoiced quantity", "unit_price": "unit price", "charge": "charges",
	"tax_rounding": "rounding of tax", "stated_total": "stated total",
}

var limitsUsed = List{
	Key: "limits", Title: "Limits used", Report: true,
	Says: "Differences of verified invoices that passed within a limit, and what they cost: above zero what was paid more than ordered.",
	From: `FROM invoice_state z CROSS JOIN invoice v ON v.id = z.invoice CROSS JOIN match_run m ON m.id = z.match_run CROSS JOIN json_each(m.findings) f
	JOIN supplier p ON p.id = z.supplier JOIN invoice_revision r ON r.id = z.revision
	WHERE z.state IN ` + isBooked + ` AND m.verdict = 'within' AND ` + found("Verdict") + ` = 'within' AND ` + found("Bound.Kind") + ` <> ''`,
	Order: "z.invoice DESC, f.id", Currency: "z.currency",
	Columns: []Column{
		{Key: "limit", Title: "Limit", Kind: Text, SQL: found("Bound.Kind"), Says: func(k string) string { return limitKinds[k] }, Groups: true},
		{Key: "from", Title: "Set for", Kind: Text, SQL: found("Bound.Level"), Says: func(l string) string { return limitLevels[l] }, Groups: true},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "p.name", Link: "supplier", By: "p.code", Groups: true},
		supplierGroup("z.supplier"),
		{Key: "what", Title: "What", Kind: Text, SQL: found("Name")},
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "v.number", Link: "invoice"},
		{Key: "date", Title: "Date", Kind: Day, SQL: "z.invoice_date"},
		{Key: "percent", Title: "Differs by", Kind: Percent, SQL: "CAST(round(" + found("Percent") + " * 1000000) AS INTEGER)"},
		{Key: "cost", Title: "Cost", Kind: Money, SQL: "CASE WHEN " + found("Price") + " + 0 < " + found("Reference") + " + 0 OR r.kind = 'credit_note' THEN -" + found("Difference") + " ELSE " + found("Difference") + " END"},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "z.currency", Groups: true},
		{Key: "order", Title: "Order", Kind: Number, SQL: "coalesce(" + found("Order") + ", '')", Link: "order", Aside: true},
		{Key: "times", Title: "Times", Kind: Count, SQL: "1", Aside: true},
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(z.invoice_date, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "z.supplier = :v", Scans: true},
		supplierGroupIs("z.supplier"),
		Word{Key: "limit", Text: "limit of", Takes: AChoice, Choices: limitChoices(), SQL: found("Bound.Kind") + " = :v", Scans: true},
		days("z.invoice_date"),
		scanned(over(found("Difference"), "z.currency")),
	),
}

func limitChoices() (all []Choice) {
	for _, k := range []limit.Kind{limit.UnitPrice, limit.InvoicedQuantity, limit.Charge, limit.TaxRounding, limit.StatedTotal} {
		all = append(all, Choice{string(k), limitKinds[string(k)]})
	}
	return all
}

// waitingQuantity is what invoices that are not verified bill of an order line, in its own unit.
const waitingQuantity = `(SELECT coalesce(sum(il.quantity), 0) FROM invoice_line il JOIN invoice_state z ON z.revision = il.invoice_revision
	JOIN invoice_revision r ON r.id = z.revision WHERE il.order_line = l.id AND il.unit = l.unit AND r.kind = 'invoice' AND z.state IN `

var (
	waitingBills = waitingQuantity + isUnsettled + ")"
	beyondGoods  = "x.billed + " + waitingBills + " - x.received"
)

var beyond = List{
	Key: "beyond", Title: "Invoiced, not received", Report: true,
	Says: "Lines of which more is invoiced than is here, verified or not, in the unit of the order.",
	From: `FROM (SELECT order_line FROM order_line_state WHERE billed > received UNION SELECT il.order_line FROM invoice_state z
	CROSS JOIN invoice_line il ON il.invoice_revision = z.revision WHERE z.state IN ` + isUnsettled + ` AND il.order_line IS NOT NULL) c
	CROSS JOIN order_line l ON l.id = c.order_line JOIN order_line_state x ON x.order_line = l.id JOIN purchase_order o ON o.id = l.purchase_order
	JOIN order_state st ON st.purchase_order = o.id JOIN supplier s ON s.id = o.supplier WHERE st.state = 'issued' AND ` + beyondGoods + ` > 0`,
	Order: "l.wanted_on, o.number, l.no", Currency: "o.currency", ID: "l.id",
	Columns: []Column{
		{Key: "order", Title: "Order", Kind: Number, SQL: "o.number", Link: "order", Groups: true},
		{Key: "line", Title: "Line", Kind: Text, SQL: "l.no"},
		{Key: "description", Title: "Goods", Kind: Text, SQL: "l.description"},
		itemGroup("l.item"),
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "s.name", Link: "supplier", By: "s.code", Groups: true},
		supplierGroup("o.supplier"),
		{Key: "wanted", Title: "Wanted", Kind: Day, SQL: "l.wanted_on"},
		{Key: "received", Title: "Received", Kind: Quantity, SQL: "x.received"},
		{Key: "billed", Title: "Verified", Kind: Quantity, SQL: "x.billed"},
		{Key: "waiting", Title: "Not verified", Kind: Quantity, SQL: waitingBills},
		{Key: "beyond", Title: "Not received", Kind: Quantity, SQL: beyondGoods},
		{Key: "unit", Title: "Unit", Kind: Text, SQL: "l.unit", Says: say.Unit},
		{Key: "late", Title: "Late", Kind: Flag, SQL: "CASE WHEN " + lineLate + " THEN 'late' ELSE '' END"},
	},
	Words: words(
		supplierIs("o.supplier"), orderIs("o.number"),
		Word{Key: "item", Text: "item", Takes: AnItem, SQL: "l.item = :v"},
		supplierGroupIs("o.supplier"), itemGroupIs("l.item"),
		Word{Key: "late", Text: "late", SQL: lineLate, Scans: true},
		Word{Key: "verified", Text: "verified all the same", SQL: "x.billed > x.received", Scans: true},
	),
}

var sameNumbers = List{
	Key: "same", Title: "Same number twice", Report: true,
	Says: "Invoices whose number is that of another, whatever supplier and state, without regard to signs in it.",
	From: `FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision LEFT JOIN supplier p ON p.id = s.supplier
	WHERE s.number_key <> '' AND s.number_key IN (SELECT number_key FROM invoice_state GROUP BY number_key HAVING count(*) > 1)`,
	Order: "s.number_key, s.invoice", Currency: "s.currency",
	Columns: []Column{
		{Key: "key", Title: "Number", Kind: Number, SQL: "s.number_key", Groups: true},
		{Key: "number", Title: "As it stands", Kind: Number, SQL: "r.supplier_number", Link: "alike", By: "i.number"},
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "i.number", Link: "invoice"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "coalesce(p.name, r.supplier_stated)", Link: "supplier", By: "coalesce(p.code, '')", Groups: true},
		supplierGroup("s.supplier"),
		{Key: "date", Title: "Date", Kind: Day, SQL: "s.invoice_date"},
		{Key: "total", Title: "Total", Kind: Money, SQL: signed},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "s.currency", Groups: true},
		{Key: "state", Title: "State", Kind: Text, SQL: "s.state", Says: say.State, Groups: true},
	},
	Words: words(
		supplierIs("s.supplier"),
		supplierGroupIs("s.supplier"),
		Word{Key: "one", Text: "of one supplier", SQL: "EXISTS (SELECT 1 FROM invoice_state z WHERE z.number_key = s.number_key AND z.supplier = s.supplier AND z.invoice <> s.invoice)"},
		Word{Key: "amount", Text: "with one total", SQL: "EXISTS (SELECT 1 FROM invoice_state z WHERE z.number_key = s.number_key AND z.total = s.total AND z.invoice <> s.invoice)"},
		days("s.invoice_date"),
	),
}

// itemsBy finds what was paid of documents by the payments y that hold them.
const itemsBy = "SELECT q.id FROM payment y CROSS JOIN payment_item q ON q.payment = y.id WHERE y."

// paidOn finds them by the day of their run.
var paidOn = by{"t.id", "q.id", "payment_run z CROSS JOIN payment y ON y.run = z.id CROSS JOIN payment_item q ON q.payment = y.id", "z.pay_on"}

// lastPaid is the last one of the runs up to a day: payments are made run by run, and what each pays with it.
const lastPaid = `(SELECT max(q.id) FROM payment_item q WHERE q.payment = (SELECT max((SELECT max(y.id) FROM payment y WHERE y.run = z.id))
	FROM payment_run z WHERE z.pay_on <= :v))`

// paidIs is a word for where payments stand.
func paidIs(key, text, state string) Word {
	return Word{Key: key, Text: text, SQL: "+ys.state = '" + state + "'", In: "t.id",
		Of: "SELECT q.id FROM payment_state y CROSS JOIN payment_item q ON q.payment = y.payment WHERE y.state = '" + state + "'"}
}

var payments = List{
	Key: "payments", Title: "Payments",
	Says: "What runs paid, document by document. A payment that the bank rejected or that was given up is shown with what became of it.",
	From: `FROM payment_item t JOIN payment y ON y.id = t.payment JOIN payment_state ys ON ys.payment = y.id JOIN payment_run u ON u.id = y.run
	JOIN supplier p ON p.id = y.supplier JOIN invoice i ON i.id = t.invoice JOIN invoice_state z ON z.invoice = t.invoice
	JOIN invoice_revision r ON r.id = z.revision WHERE 1`,
	Order: "t.id DESC", Currency: "y.currency", ID: "t.id",
	Columns: []Column{
		{Key: "run", Title: "Run", Kind: Number, SQL: "u.number", Link: "run", Groups: true},
		{Key: "on", Title: "Pay on", Kind: Day, SQL: "u.pay_on"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "p.name", Link: "supplier", By: "p.code", Groups: true},
		supplierGroup("p.id"),
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "i.number", Link: "invoice"},
		{Key: "number", Title: "Their number", Kind: Number, SQL: "r.supplier_number"},
		{Key: "amount", Title: "Paid", Kind: Money, SQL: "t.amount"},
		{Key: "discount", Title: "Discount", Kind: Money, SQL: "t.discount"},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "y.currency", Groups: true},
		{Key: "state", Title: "State", Kind: Text, SQL: "ys.state", Says: say.State, Groups: true},
		{Key: "payment", Title: "Payment", Kind: Number, SQL: "y.end_to_end", Aside: true, Groups: true},
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(u.pay_on, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "settled", Text: "settled", SQL: "ys.state = 'settled'", Scans: true},
		paidIs("transit", "in transit", store.PaymentInTransit), paidIs("rejected", "rejected", store.PaymentRejected),
		Word{Key: "discounted", Text: "with a discount", SQL: "t.discount > 0", In: "t.id", Of: "SELECT q.id FROM payment_item q WHERE q.discount > 0"},
		Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "+y.supplier = :v", In: "t.id", Of: itemsBy + "supplier = :v"},
		supplierGroupIs("y.supplier").found("t.id", ofGroup("q.id", "payment y ON y.supplier = m.supplier CROSS JOIN payment_item q ON q.payment = y.id")),
		Word{Key: "run", Text: "run", Takes: AnOrder, SQL: "+u.number = :v", In: "t.id",
			Of: "SELECT q.id FROM payment_run z CROSS JOIN payment y ON y.run = z.id CROSS JOIN payment_item q ON q.payment = y.id WHERE z.number = :v"},
		since("u.pay_on", paidOn),
		Word{Key: "until", Text: "until", Takes: ADay, SQL: "u.pay_on <= :v AND t.id <= " + lastPaid, In: paidOn.In, Of: paidOn.of("<= :v")},
		overAndUnder("t.amount", "y.currency", by{"t.id", "q.id", "payment_item q", "q.amount"}, itemsBy+"currency <> '' AND y.currency IN "+oddCurrencies),
	),
}
