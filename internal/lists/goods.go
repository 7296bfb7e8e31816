package lists

// This file holds the lists of orders, of their lines and of what came in.

import (
	"encoding/json"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
)

// Conditions on a line of an order l with its state x.
const (
	lineToCome      = "x.closed_goods = 0 AND x.received + x.returned < l.quantity"
	lineLate        = lineToCome + " AND l.wanted_on < :today"
	lineNotInvoiced = "x.closed_invoices = 0 AND x.received > x.billed"
	linesOf         = "SELECT 1 FROM order_line l JOIN order_line_state x ON x.order_line = l.id WHERE l.purchase_order = o.id AND "
	// lineOpen is trade.OrderLine.Awaits: goods are to come still, or invoices for goods that came.
	lineOpen = "((" + lineToCome + ") OR (" + lineNotInvoiced + "))"
	// Orders of which goods are to come, or invoices, as indexes tell: few of all.
	goodsToCome      = "SELECT u.purchase_order FROM order_state u WHERE u.open_goods = 1"
	invoicesToCome   = "SELECT u.purchase_order FROM order_line_state v CROSS JOIN order_line u ON u.id = v.order_line WHERE v.received > v.billed AND v.closed_invoices = 0"
	expectedOrders   = "o.id IN (" + goodsToCome + ")"
	uninvoicedOrders = "o.id IN (" + invoicesToCome + ")"
	openOrders       = "o.id IN (" + goodsToCome + " UNION ALL " + invoicesToCome + ")"
	orderNet         = "(SELECT coalesce(sum(net), 0) FROM order_line l WHERE l.purchase_order = o.id)"
)

// What finds orders, and deliveries, by an index.
const (
	ordersByLine      = "SELECT q.purchase_order FROM order_line q WHERE q."
	deliveriesBy      = "SELECT q.id FROM delivery q WHERE q."
	deliveriesByOrder = "SELECT d.id FROM purchase_order q CROSS JOIN delivery d ON d.purchase_order = q.id WHERE q."
	deliveriesByLine  = "SELECT z.delivery FROM order_line q CROSS JOIN receipt_line z ON z.order_line = q.id WHERE q."
	ordersOfItem      = ordersByLine + "item = :v"
	ordersBy          = "SELECT q.id FROM purchase_order q WHERE q."
)

var (
	ordersOfItems = ofItems("q.purchase_order", "order_line q ON q.item = im.item")
	oddOrders     = ordersBy + "currency <> '' AND q.currency IN " + oddCurrencies
)

var orderWords = words(
	Word{Key: "open", Text: "open", SQL: openOrders + " AND st.state = 'issued' AND EXISTS (" + linesOf + lineOpen + ")"},
	Word{Key: "closed", Text: "closed", SQL: "st.state = 'closed'", In: "o.id", Of: "SELECT q.purchase_order FROM order_state q WHERE q.state = 'closed'"},
	Word{Key: "mine", Text: "mine", SQL: "+o.made_by = :me", In: "o.id", Of: ordersBy + "made_by = :me"},
	supplierIs("o.supplier"),
	supplierGroupIs("o.supplier").found("o.id", ofGroup("q.id", "purchase_order q ON q.supplier = m.supplier")),
	Word{Key: "buyer", Text: "buyer", Takes: APerson, SQL: "+o.made_by = :v", In: "o.id", Of: ordersBy + "made_by = :v"},
	Word{Key: "asked", Text: "asked for by", Takes: SomeText, SQL: "+o.requested_by = :v COLLATE NOCASE", In: "o.id", Of: ordersBy + "requested_by = :v COLLATE NOCASE"},
	Word{Key: "place", Text: "place", Takes: SomeText, SQL: "+o.place = :v COLLATE NOCASE", In: "o.id", Of: ordersBy + "place = :v COLLATE NOCASE"},
	sinceAndUntil("+o.issued_on", by{"o.number", "q.number", "purchase_order q", "q.issued_on"}),
)

var orders = List{
	Key: "orders", Title: "Orders, how they stand", First: "open",
	Says: "Net of tax. Invoiced is what is verified; an order is open while goods or invoices can still come.",
	From: `FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id JOIN supplier s ON s.id = o.supplier
	LEFT JOIN person b ON b.id = o.made_by WHERE 1`,
	Order: "o.number DESC", Currency: "o.currency", ID: "o.id",
	Raw: `json_array(json((SELECT json_group_array(json_array(l.net, l.quantity, x.received, x.returned, x.billed, x.closed_goods,
	x.closed_invoices, l.wanted_on < :today)) FROM order_line l JOIN order_line_state x ON x.order_line = l.id WHERE l.purchase_order = o.id)),
	json((SELECT json_group_array(json_array(CASE r.kind WHEN 'credit_note' THEN -v.amount ELSE v.amount END, z.state IN ` + isBooked + `,
	z.total, abs(z.open))) FROM invoice_order v JOIN invoice_state z ON z.invoice = v.invoice AND z.revision = v.invoice_revision
	JOIN invoice_revision r ON r.id = z.revision WHERE v.purchase_order = o.id AND v.kind = '' AND (z.state IN ` + isBooked + ` OR z.state IN ` + isUnsettled + `)
	AND NOT EXISTS (SELECT 1 FROM invoice_prepayment p WHERE p.invoice_revision = r.id))))`,
	Work: orderStands,
	Columns: []Column{
		{Key: "order", Title: "Order", Kind: Number, SQL: "o.number", Link: "order"},
		{Key: "about", Title: "About", Kind: Text, SQL: "o.about"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "s.name", Link: "supplier", By: "s.code", Groups: true},
		supplierGroup("o.supplier"),
		{Key: "wanted", Title: "Wanted", Kind: Day, SQL: "o.wanted_on"},
		{Key: "late", Title: "Late", Kind: Flag, SQL: "CASE WHEN EXISTS (" + linesOf + lineLate + ") AND st.open_goods = 1 THEN 'late' ELSE '' END"},
		{Key: "ordered", Title: "Ordered", Kind: Money},
		{Key: "received", Title: "Received", Kind: Money},
		{Key: "invoiced", Title: "Invoiced", Kind: Money},
		{Key: "here", Title: "Not verified", Kind: Money},
		{Key: "paid", Title: "Paid", Kind: Money},
		{Key: "come", Title: "To come", Kind: Money},
		{Key: "uninvoiced", Title: "Not invoiced", Kind: Money, Aside: true},
		{Key: "overdue", Title: "Late, value", Kind: Money, Aside: true},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "o.currency", Aside: true, Groups: true},
		{Key: "issued", Title: "Ordered on", Kind: Day, SQL: "o.issued_on", Aside: true},
		{Key: "state", Title: "State", Kind: Text, SQL: "st.state", Says: say.State, Aside: true, Groups: true},
		{Key: "buyer", Title: "Buyer", Kind: Text, SQL: "coalesce(b.name, 'Lagoon')", Aside: true, Groups: true},
		{Key: "asked", Title: "Asked for by", Kind: Text, SQL: "o.requested_by", Aside: true, Groups: true},
		{Key: "place", Title: "Place", Kind: Text, SQL: "o.place", Aside: true, Groups: true},
		{Key: "reference", Title: "Their reference", Kind: Text, SQL: "o.their_reference", Aside: true},
		{Key: "month", Title: "Month ordered", Kind: Text, SQL: "substr(o.issued_on, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		orderWords,
		Word{Key: "late", Text: "late", SQL: expectedOrders + " AND EXISTS (" + linesOf + lineLate + ")"},
		Word{Key: "come", Text: "to come", SQL: expectedOrders},
		Word{Key: "uninvoiced", Text: "not invoiced", SQL: uninvoicedOrders + " AND st.state = 'issued' AND EXISTS (" + linesOf + lineNotInvoiced + ")"},
		Word{Key: "items", Text: "item group", Takes: AnItemGroup, In: "o.id", Of: ordersOfItems,
			SQL: "EXISTS (SELECT 1 FROM order_line z CROSS JOIN item_member im ON im.item = z.item WHERE im.name = :v AND z.purchase_order = o.id)"},
		Word{Key: "item", Text: "item", Takes: AnItem, In: "o.id", Of: ordersOfItem,
			SQL: "EXISTS (SELECT 1 FROM order_line z WHERE z.purchase_order = o.id AND +z.item = :v)"},
		Word{Key: "budget", Text: "budget", Takes: ABudget, In: "o.id", Of: ordersByLine + "budget = :v COLLATE NOCASE",
			SQL: "EXISTS (" + linesOf + "+l.budget = :v COLLATE NOCASE)"},
		until("+o.wanted_on", by{"o.number", "q.number", "purchase_order q", "q.wanted_on"}).called("wanted", "wanted until"),
		over(orderNet, "o.currency").found("o.id", "SELECT z.purchase_order FROM order_sum z WHERE z.net > :v"),
		under(orderNet, "o.currency").found("o.id", "SELECT z.purchase_order FROM order_sum z WHERE z.net < :v"),
	),
}

// orderStands works out where an order stands, net of tax, from its lines and its invoices. Parts of a line are shares of its
// net, so that what came and what is to come add up to it.
func orderStands(raw string, _ money.Currency) (map[string]int64, error) {
	var all [2][][]int64
	if err := json.Unmarshal([]byte(raw), &all); err != nil {
		return nil, err
	}
	sums := map[string]int64{}
	for _, l := range all[0] {
		net, quantity, received, returned, billed, closed, over, late := l[0], l[1], l[2], l[3], l[4], l[5], l[6], l[7]
		part := func(key string, from, until int64) error {
			amount, err := money.Amount(net).PartBetween(from, max(from, until), quantity)
			sums[key] += int64(amount)
			return err
		}
		sums["ordered"] += net
		if err := part("received", 0, received); err != nil {
			return nil, err
		}
		if over == 0 {
			if err := part("uninvoiced", billed, received); err != nil {
				return nil, err
			}
		}
		if closed != 0 {
			continue
		}
		before := sums["come"]
		if err := part("come", received+returned, quantity); err != nil {
			return nil, err
		}
		if late != 0 {
			sums["overdue"] += sums["come"] - before
		}
	}
	for _, bill := range all[1] {
		net, booked, total, open := bill[0], bill[1], bill[2], bill[3]
		if booked == 0 {
			sums["here"] += net
			continue
		}
		sums["invoiced"] += net
		if total != 0 {
			paid, err := money.Amount(net).Part(total-open, total)
			if err != nil {
				return nil, err
			}
			sums["paid"] += int64(paid)
		}
	}
	return sums, nil
}

var orderLines = List{
	Key: "lines", Title: "Order lines, what is left", First: "open",
	Says: "Net of tax. To come is what is still expected of a line, not invoiced what is here without an invoice.",
	// From the newest order to its lines, whatever is asked: a page is found without sorting all lines.
	From: `FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id JOIN supplier s ON s.id = o.supplier
	CROSS JOIN order_line l ON l.purchase_order = o.id JOIN order_line_state x ON x.order_line = l.id
	LEFT JOIN item i ON i.id = l.item LEFT JOIN person b ON b.id = o.made_by WHERE 1`,
	Order: "o.number DESC, l.no", Currency: "o.currency",
	Raw: "json_array(l.net, l.quantity, x.received, x.returned, x.closed_goods)",
	Work: func(raw string, _ money.Currency) (map[string]int64, error) {
		var l [5]int64
		if err := json.Unmarshal([]byte(raw), &l); err != nil || l[4] != 0 {
			return nil, err
		}
		came := l[2] + l[3]
		value, err := money.Amount(l[0]).PartBetween(came, max(came, l[1]), l[1])
		return map[string]int64{"come_value": int64(value)}, err
	},
	Columns: []Column{
		{Key: "order", Title: "Order", Kind: Number, SQL: "o.number", Link: "order", Groups: true},
		{Key: "line", Title: "Line", Kind: Text, SQL: "l.no"},
		{Key: "item", Title: "Item", Kind: Text, SQL: "coalesce(i.code, l.supplier_code)", Groups: true},
		itemGroup("l.item"),
		{Key: "description", Title: "Description", Kind: Text, SQL: "l.description"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "s.name", Link: "supplier", By: "s.code", Groups: true},
		supplierGroup("o.supplier"),
		{Key: "wanted", Title: "Wanted", Kind: Day, SQL: "l.wanted_on"},
		{Key: "late", Title: "Late", Kind: Flag, SQL: "CASE WHEN st.state = 'issued' AND " + lineLate + " THEN 'late' ELSE '' END"},
		{Key: "quantity", Title: "Ordered", Kind: Quantity, SQL: "l.quantity"},
		{Key: "received", Title: "Received", Kind: Quantity, SQL: "x.received"},
		{Key: "billed", Title: "Invoiced", Kind: Quantity, SQL: "x.billed"},
		{Key: "come", Title: "To come", Kind: Quantity, SQL: "CASE WHEN " + lineToCome + " THEN l.quantity - x.received - x.returned ELSE 0 END"},
		{Key: "unit", Title: "Unit", Kind: Text, SQL: "l.unit", Says: say.Unit},
		{Key: "come_value", Title: "To come, value", Kind: Money},
		{Key: "uninvoiced", Title: "Not invoiced", Kind: Quantity, SQL: "CASE WHEN " + lineNotInvoiced + " THEN x.received - x.billed ELSE 0 END", Aside: true},
		{Key: "net", Title: "Net", Kind: Money, SQL: "l.net", Aside: true},
		{Key: "price", Title: "Price", Kind: Price, SQL: "l.price", Aside: true},
		{Key: "budget", Title: "Budget", Kind: Text, SQL: "l.budget", Aside: true, Groups: true},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "o.currency", Aside: true, Groups: true},
		{Key: "buyer", Title: "Buyer", Kind: Text, SQL: "coalesce(b.name, 'Lagoon')", Aside: true, Groups: true},
		{Key: "place", Title: "Place", Kind: Text, SQL: "o.place", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "open", Text: "open", SQL: openOrders + " AND st.state = 'issued' AND " + lineOpen},
		orderWords[1:],
		Word{Key: "come", Text: "to come", SQL: expectedOrders + " AND " + lineToCome},
		Word{Key: "late", Text: "late", SQL: expectedOrders + " AND " + lineLate},
		Word{Key: "uninvoiced", Text: "not invoiced", SQL: uninvoicedOrders + " AND st.state = 'issued' AND " + lineNotInvoiced},
		Word{Key: "item", Text: "item", Takes: AnItem, SQL: "+l.item = :v", In: "o.id", Of: ordersOfItem},
		itemGroupIs("l.item").found("o.id", ordersOfItems),
		Word{Key: "budget", Text: "budget", Takes: ABudget, SQL: "+l.budget = :v COLLATE NOCASE", In: "o.id", Of: ordersByLine + "budget = :v COLLATE NOCASE"},
		orderIs("o.number"),
		Word{Key: "wanted", Text: "wanted until", Takes: ADay, SQL: "+l.wanted_on <= :v", In: "o.id", Of: ordersByLine + "wanted_on <= :v"},
		overAndUnder("l.net", "o.currency", by{"o.id", "q.purchase_order", "order_line q", "q.net"}, oddOrders),
	),
}

const backKinds = "'reversed', 'returned', 'credited'"

// takenOf is what some kinds of allocation took of a receipt line r.
func takenOf(kinds string) string {
	return "(SELECT coalesce(sum(a.quantity), 0) FROM allocation a WHERE a.receipt_line = r.id AND a.kind IN (" + kinds + "))"
}

var (
	oddDeliveries = deliveriesByOrder + "currency <> '' AND q.currency IN " + oddCurrencies

	goneBack    = takenOf(backKinds)
	billedOf    = takenOf("'billed', 'free'")
	notInvoiced = "r.quantity - " + goneBack + " - " + billedOf
)

var deliveries = List{
	Key: "deliveries", Title: "Deliveries and lots",
	Says: "What came in, line by line, and what became of it. Value is what the goods were taken in at, net of tax.",
	From: `FROM delivery d JOIN receipt_line r ON r.delivery = d.id JOIN order_line l ON l.id = r.order_line
	JOIN order_line_state x ON x.order_line = l.id JOIN purchase_order o ON o.id = d.purchase_order JOIN supplier s ON s.id = o.supplier
	LEFT JOIN item i ON i.id = l.item LEFT JOIN person b ON b.id = d.booked_by WHERE d.kind = 'delivery'`,
	Order: "d.id DESC, r.id", Currency: "o.currency", ID: "r.id",
	Columns: []Column{
		{Key: "delivery", Title: "Delivery", Kind: Number, SQL: "d.number", Link: "delivery", Groups: true},
		{Key: "note", Title: "Delivery note", Kind: Number, SQL: "d.note"},
		{Key: "arrived", Title: "Arrived", Kind: Day, SQL: "d.arrived_on"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "s.name", Link: "supplier", By: "s.code", Groups: true},
		supplierGroup("o.supplier"),
		{Key: "order", Title: "Order", Kind: Number, SQL: "o.number", Link: "order", Groups: true},
		{Key: "description", Title: "Goods", Kind: Text, SQL: "l.description"},
		{Key: "quantity", Title: "Came", Kind: Quantity, SQL: "r.quantity"},
		{Key: "refused", Title: "Refused", Kind: Quantity, SQL: "r.refused"},
		{Key: "back", Title: "Gone back", Kind: Quantity, SQL: goneBack},
		{Key: "uninvoiced", Title: "Not invoiced", Kind: Quantity, SQL: "CASE WHEN x.match_level = 'two_way' THEN 0 ELSE " + notInvoiced + " END"},
		{Key: "unit", Title: "Unit", Kind: Text, SQL: "l.unit", Says: say.Unit},
		{Key: "value", Title: "Value", Kind: Money, SQL: "r.value"},
		{Key: "lots", Title: "Lots", Kind: Number, SQL: "coalesce((SELECT group_concat(t.lot, ', ') FROM receipt_lot t WHERE t.receipt_line = r.id), '')"},
		{Key: "item", Title: "Item", Kind: Text, SQL: "coalesce(i.code, l.supplier_code)", Aside: true, Groups: true},
		itemGroup("l.item"),
		{Key: "posted", Title: "Posted", Kind: Day, SQL: "d.posted_on", Aside: true},
		{Key: "place", Title: "Place", Kind: Text, SQL: "d.place", Aside: true, Groups: true},
		{Key: "by", Title: "Booked by", Kind: Text, SQL: "coalesce(b.name, 'Lagoon')", Aside: true, Groups: true},
		{Key: "why", Title: "Refused because", Kind: Text, SQL: "r.refused_reason", Says: say.Refusal, Aside: true, Groups: true},
		{Key: "remark", Title: "Remark", Kind: Text, SQL: "r.remark", Aside: true},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "o.currency", Aside: true, Groups: true},
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(d.arrived_on, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "+o.supplier = :v", In: "d.id",
			Of: deliveriesByOrder + "supplier = :v"},
		Word{Key: "order", Text: "order", Takes: AnOrder, SQL: "+o.number = :v", In: "d.id",
			Of: deliveriesByOrder + "number = :v"},
		Word{Key: "item", Text: "item", Takes: AnItem, SQL: "+l.item = :v", In: "d.id", // from the newest delivery on
			Of: deliveriesByLine + "item = :v"},
		supplierGroupIs("o.supplier").found("d.id", ofGroup("d.id", "purchase_order q ON q.supplier = m.supplier CROSS JOIN delivery d ON d.purchase_order = q.id")),
		itemGroupIs("l.item").found("d.id", ofItems("z.delivery", "order_line q ON q.item = im.item CROSS JOIN receipt_line z ON z.order_line = q.id")),
		Word{Key: "note", Text: "delivery note", Takes: SomeText, SQL: "+d.note = :v COLLATE NOCASE", In: "d.id", Of: deliveriesBy + "note = :v COLLATE NOCASE"},
		Word{Key: "lot", Text: "lot", Takes: SomeText, SQL: "EXISTS (SELECT 1 FROM receipt_lot t WHERE t.receipt_line = r.id AND t.lot = :v)", In: "r.id",
			Of: "SELECT receipt_line FROM receipt_lot WHERE lot = :v"},
		Word{Key: "by", Text: "booked by", Takes: APerson, SQL: "+d.booked_by = :v", In: "d.id", Of: deliveriesBy + "booked_by = :v"},
		Word{Key: "place", Text: "place", Takes: SomeText, SQL: "+d.place = :v COLLATE NOCASE", In: "d.id", Of: deliveriesBy + "place = :v COLLATE NOCASE"},
		Word{Key: "refused", Text: "refused", SQL: "r.refused > 0", In: "r.id", Of: "SELECT id FROM receipt_line WHERE refused > 0"},
		Word{Key: "back", Text: "gone back", SQL: goneBack + " > 0", In: "r.id", Of: "SELECT a.receipt_line FROM allocation a WHERE a.kind IN (" + backKinds + ")"},
		Word{Key: "uninvoiced", Text: "not invoiced", SQL: "x.match_level <> 'two_way' AND " + notInvoiced + " > 0", Scans: true},
		Word{Key: "work", Text: "work accepted", SQL: "l.unit = '" + trade.MonetaryValue + "'", In: "d.id",
			Of: deliveriesByLine + "unit = '" + trade.MonetaryValue + "'"},
		sinceAndUntil("+d.arrived_on", by{"d.id", "z.id", "delivery z", "z.arrived_on"}),
		overAndUnder("r.value", "o.currency", by{"d.id", "z.delivery", "receipt_line z", "z.value"}, oddDeliveries),
	),
}
