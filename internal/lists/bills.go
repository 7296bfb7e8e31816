package lists

// This file holds the lists of invoices.

import (
	"strings"

	"lagoon/internal/core/finding"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// signed is the total of an invoice's state s by its revision r: below zero for a credit note.
const signed = "CASE r.kind WHEN 'credit_note' THEN -s.total ELSE s.total END"

// What finds invoices by an index.
const (
	invoicesBy = "SELECT q.invoice FROM invoice_state q WHERE q."
	takenInBy  = "SELECT q.id FROM invoice q WHERE q.captured_by = "
	// touched are those of which store.Untouched may not hold.
	touched = `SELECT q.id FROM invoice q WHERE q.source = 'keyed' UNION ALL SELECT q.invoice FROM invoice_revision q INDEXED BY invoice_revision_later WHERE q.revision > 1
	UNION ALL SELECT q.invoice FROM acceptance q UNION ALL SELECT v.invoice FROM invoice_approval q CROSS JOIN invoice_revision v ON v.id = q.revision
	UNION ALL SELECT q.invoice FROM claim q`
	// Totals compare in what their currency counts in; each currency is looked up once.
	totals = `WITH RECURSIVE used(currency) AS (SELECT min(currency) FROM invoice_state WHERE currency <> '' UNION ALL
	SELECT (SELECT min(q.currency) FROM invoice_state q WHERE q.currency <> '' AND q.currency > used.currency) FROM used WHERE used.currency IS NOT NULL)
	SELECT q.invoice FROM used CROSS JOIN invoice_state q ON q.currency = used.currency WHERE q.currency <> '' AND q.total `
)

// inItsUnits is what was typed in what the currency counts in, towards zero.
var inItsUnits = ":v / " + store.Millionths("used.currency")

var invoices = List{
	Key: "invoices", Title: "Invoices",
	Says: "With tax. Credit notes stand below zero; open is what is still to be paid, without what is claimed.",
	From: `FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision
	LEFT JOIN supplier p ON p.id = s.supplier LEFT JOIN purchase_order o ON o.id = s.purchase_order
	LEFT JOIN person b ON b.id = i.captured_by WHERE 1`,
	Order: "s.invoice DESC", Currency: "s.currency", ID: "s.invoice",
	Columns: []Column{
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "i.number", Link: "invoice"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "coalesce(p.name, r.supplier_stated)", Link: "supplier", By: "coalesce(p.code, '')", Groups: true},
		supplierGroup("s.supplier"),
		{Key: "number", Title: "Their number", Kind: Number, SQL: "r.supplier_number"},
		{Key: "order", Title: "Order", Kind: Number, SQL: "coalesce(o.number, '')", Link: "order"},
		{Key: "about", Title: "About", Kind: Text, SQL: "r.about", Aside: true},
		{Key: "date", Title: "Date", Kind: Day, SQL: "s.invoice_date"},
		{Key: "due", Title: "Due", Kind: Day, SQL: "s.due_on"},
		{Key: "total", Title: "Total", Kind: Money, SQL: signed},
		{Key: "open", Title: "Open", Kind: Money, SQL: "CASE WHEN s.state IN " + isBooked + " THEN s.open ELSE 0 END"},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "s.currency", Aside: true, Groups: true},
		{Key: "state", Title: "State", Kind: Text, SQL: "s.state", Says: say.State, Groups: true},
		{Key: "why", Title: "Why", Kind: Text, SQL: "s.summary"},
		{Key: "turn", Title: "Whose turn", Kind: Text, SQL: "s.turn", Aside: true, Groups: true},
		{Key: "with", Title: "With", Kind: Text, SQL: store.WithName, Aside: true, Groups: true},
		{Key: "kind", Title: "Kind", Kind: Text, SQL: "CASE WHEN EXISTS (SELECT 1 FROM invoice_prepayment m WHERE m.invoice_revision = r.id) THEN 'money ahead' WHEN r.kind = 'credit_note' THEN 'credit note' ELSE 'invoice' END", Aside: true, Groups: true},
		{Key: "here", Title: "Here since", Kind: Day, SQL: "i.captured_on", Aside: true},
		{Key: "by", Title: "Taken in by", Kind: Text, SQL: "coalesce(b.name, 'Lagoon')", Aside: true, Groups: true},
		{Key: "discount", Title: "Discount", Kind: Money, SQL: "s.discount", Aside: true},
		{Key: "until", Title: "Discount until", Kind: Day, SQL: "s.discount_until", Aside: true},
		{Key: "base", Title: "Total, company", Kind: Base, SQL: "CASE r.kind WHEN 'credit_note' THEN -s.total_base ELSE s.total_base END", Aside: true},
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(s.invoice_date, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "open", Text: "open", SQL: "s.state IN " + isBooked + " AND s.open <> 0", In: "s.invoice", Of: invoicesBy + "state IN " + isOwed},
		Word{Key: "overdue", Text: "overdue", SQL: "s.state IN " + isOwed + " AND s.open > 0 AND s.due_on < :today"},
		Word{Key: "held", Text: "held", SQL: "s.state = 'held'"},
		Word{Key: "waiting", Text: "waiting", SQL: "s.state = 'waiting'"},
		Word{Key: "unverified", Text: "not verified", SQL: "s.state IN " + isUnsettled},
		Word{Key: "verified", Text: "verified", SQL: "s.state = 'verified'"},
		Word{Key: "released", Text: "released", SQL: "s.state = 'released'"},
		Word{Key: "payment", Text: "in payment", SQL: "s.state = 'in_payment'"},
		Word{Key: "paid", Text: "paid", SQL: "+s.state = 'paid'", In: "s.invoice", Of: invoicesBy + "state = 'paid'"},
		Word{Key: "void", Text: "void", SQL: "s.state = 'void'"},
		Word{Key: "refused", Text: "refused", SQL: "s.state = 'refused'"},
		Word{Key: "credits", Text: "credit notes", SQL: "r.kind = 'credit_note'", In: "s.invoice", Of: "SELECT q.invoice FROM invoice_revision q WHERE q.kind = 'credit_note'"},
		Word{Key: "ahead", Text: "money ahead", SQL: "s.invoice IN (SELECT m.invoice FROM invoice_prepayment m) AND EXISTS (SELECT 1 FROM invoice_prepayment m WHERE m.invoice_revision = r.id)"},
		Word{Key: "alone", Text: "without an order", SQL: "s.purchase_order IS NULL", In: "s.invoice", Of: invoicesBy + "purchase_order IS NULL"},
		Word{Key: "booked", Text: "in the books", SQL: "+s.state IN " + isBooked, In: "s.invoice", Of: invoicesBy + "state IN " + isBooked},
		Word{Key: "untouched", Text: "with no act", SQL: "+s.state IN " + isBooked + " AND " + store.Untouched, Scans: true},
		Word{Key: "acted", Text: "after an act", SQL: "NOT " + store.Untouched, In: "s.invoice", Of: touched},
		Word{Key: "with", Text: "with", Takes: SomeText, SQL: "s.state IN " + isUnsettled + " AND coalesce(nullif(" + store.WithName + ", ''), 'nobody') = :v COLLATE NOCASE", In: "s.invoice", Of: invoicesBy + "state IN " + isUnsettled},
		Word{Key: "turn", Text: "turn of", Takes: SomeText, SQL: "s.state IN " + isUnsettled + " AND s.turn = :v COLLATE NOCASE"},
		Word{Key: "stake", Text: "discount at stake", SQL: "s.state IN ('captured', 'waiting', 'held', 'verified') AND s.discount > 0 AND s.discount_until >= :today"},
		Word{Key: "came", Text: "came in on", Takes: ADay, SQL: "+i.captured_on = :v", In: "s.invoice", Of: "SELECT q.id FROM invoice q WHERE q.captured_on = :v"},
		supplierIs("s.supplier"),
		supplierGroupIs("s.supplier").found("s.invoice", ofGroup("q.invoice", "invoice_state q ON q.supplier = m.supplier")),
		Word{Key: "order", Text: "order", Takes: AnOrder, SQL: "s.invoice IN (SELECT v.invoice FROM purchase_order q JOIN invoice_order v ON v.purchase_order = q.id WHERE q.number = :v)"},
		Word{Key: "number", Text: "number", Takes: SomeText, SQL: "s.number_key LIKE '%' || replace(upper(:v), '-', '') || '%'", Scans: true},
		Word{Key: "mine", Text: "mine", SQL: "+i.captured_by = :me", In: "s.invoice", Of: takenInBy + ":me"},
		Word{Key: "by", Text: "taken in by", Takes: APerson, SQL: "+i.captured_by = :v", In: "s.invoice", Of: takenInBy + ":v"},
		sinceAndUntil("+s.invoice_date", by{"s.invoice", "q.invoice", "invoice_state q", "q.invoice_date"}),
		Word{Key: "due", Text: "due by", Takes: ADay, SQL: "s.due_on <= :v AND s.due_on <> ''", In: "s.invoice",
			Of: invoicesBy + "state IN " + isAny + " AND q.due_on > '' AND q.due_on <= :v"},
		over("s.total", "s.currency").found("s.invoice", totals+">= "+inItsUnits), under("s.total", "s.currency").found("s.invoice", totals+"<= "+inItsUnits),
	),
}

// of is what a finding f of a match says.
func of(what string) string { return "json_extract(f.value, '$." + what + "')" }

const waitedDays = "CAST(julianday(:today) - julianday(substr(z.since, 1, 10)) AS INTEGER)"

var waiting = List{
	Key: "waiting", Title: "Invoices that wait for goods", First: "chase",
	Says: "What invoices ask and is not here, line by line; the value is what of the invoice waits for it, net. A line ends by itself once its goods are booked.",
	From: `FROM invoice_state z CROSS JOIN match_run m ON m.id = z.match_run CROSS JOIN json_each(m.findings) f JOIN invoice i ON i.id = z.invoice
	JOIN invoice_revision r ON r.id = z.revision LEFT JOIN purchase_order o ON o.number = ` + of("Order") + ` LEFT JOIN order_line l ON l.purchase_order = o.id AND l.no = ` + of("Line") + `
	LEFT JOIN supplier p ON p.id = z.supplier LEFT JOIN person b ON b.id = o.made_by
	WHERE z.state = 'waiting' AND ` + of("Verdict") + ` = 'waiting' AND ` + of("Kind") + ` = '` + string(finding.OverReceived) + `'`,
	Order: "z.since, z.invoice, f.key", Currency: "z.currency",
	Columns: []Column{
		{Key: "order", Title: "Order", Kind: Number, SQL: "coalesce(o.number, '')", Link: "order", Groups: true},
		{Key: "line", Title: "Line", Kind: Text, SQL: "coalesce(l.no, '')"},
		{Key: "goods", Title: "Goods", Kind: Text, SQL: of("Name")},
		{Key: "missing", Title: "Missing", Kind: Quantity, SQL: "CAST(round(" + of("Excess") + " * 1000000) AS INTEGER)"},
		{Key: "unit", Title: "Unit", Kind: Text, SQL: of("Unit"), Says: say.Unit},
		{Key: "value", Title: "Value", Kind: Money, SQL: of("Difference")},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "coalesce(p.name, r.supplier_stated)", Link: "supplier", By: "coalesce(p.code, '')", Groups: true},
		supplierGroup("z.supplier"),
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "i.number", Link: "invoice", Groups: true},
		{Key: "days", Title: "Days", Kind: Days, SQL: waitedDays},
		{Key: "wanted", Title: "Wanted", Kind: Day, SQL: "coalesce(l.wanted_on, '')"},
		{Key: "buyer", Title: "Buyer", Kind: Text, SQL: "coalesce(b.name, 'Lagoon')", Groups: true},
		{Key: "discount", Title: "Discount at stake", Kind: Money, SQL: "CASE WHEN z.discount_until >= :today AND f.key = (SELECT min(g.key) FROM json_each(m.findings) g WHERE " +
			strings.ReplaceAll(of("Verdict")+" = 'waiting' AND "+of("Kind"), "f.value", "g.value") + " = '" + string(finding.OverReceived) + "') THEN z.discount ELSE 0 END"},
		{Key: "until", Title: "Discount until", Kind: Day, SQL: "z.discount_until", Aside: true},
		{Key: "number", Title: "Their number", Kind: Number, SQL: "r.supplier_number", Aside: true},
		{Key: "since", Title: "Waits since", Kind: Day, SQL: "substr(z.since, 1, 10)", Aside: true},
		{Key: "asked", Title: "Asked for by", Kind: Text, SQL: "coalesce(o.requested_by, '')", Aside: true, Groups: true},
		{Key: "place", Title: "Place", Kind: Text, SQL: "coalesce(o.place, '')", Aside: true, Groups: true},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "z.currency", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "chase", Text: "to chase", SQL: store.DueToChase(":today")},
		Word{Key: "mine", Text: "mine", SQL: "+o.made_by = :me"},
		Word{Key: "buyer", Text: "buyer", Takes: APerson, SQL: "+o.made_by = :v"},
		Word{Key: "late", Text: "late", SQL: "l.wanted_on < :today"},
		Word{Key: "discount", Text: "discount at stake", SQL: "z.discount > 0 AND z.discount_until >= :today"},
		Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "+z.supplier = :v"},
		supplierGroupIs("z.supplier"), orderIs("+o.number"), itemGroupIs("l.item"),
		scanned(over(of("Difference"), "z.currency"), under(of("Difference"), "z.currency")),
	),
}
