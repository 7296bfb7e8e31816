package lists

// This file holds the lists of the books: what they hold at any day is what was posted by then.

import (
	"lagoon/internal/core/ledger"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// notedLater tells apart what was posted by the day of the list and noted after it.
const notedLater = "CASE WHEN g.noted >= :until THEN 'posted later' ELSE '' END"

// heldBy is what was posted to each account by the day of the list: whole months as they are summed up, and its own month.
var heldBy = `(SELECT role, detail, sum(debit) AS debit, sum(credit) AS credit, sum(lines) AS lines, max(noted) AS noted FROM (
	SELECT role, detail, debit, credit, lines, noted FROM account_month WHERE month < substr(:at, 1, 7)
	UNION ALL SELECT e.role, iif(e.role IN ` + in(ledger.OfDocuments[:]) + `, '', e.detail), max(0, e.base), max(0, -e.base), 1, n.at
	FROM entry n CROSS JOIN entry_line e ON e.entry = n.id WHERE n.posted_on >= substr(:at, 1, 7) || '-01' AND n.posted_on <= :at) GROUP BY role, detail)`

var atADay = Word{Key: "at", Text: "at", Takes: ADayOrNone}

// accountWords are the words of the roles of accounts.
func accountChoices() (all []Choice) {
	for _, role := range ledger.Roles {
		all = append(all, Choice{string(role), say.Account(role)})
	}
	return all
}

func accountOf(role string) string { return say.Account(ledger.Role(role)) }

// accountNumber is the number of an account in the company's chart: its own, else that of its role.
func accountNumber(role, detail string) string {
	of := func(d string) string {
		return "(SELECT nullif(c.number, '') FROM ledger_account c WHERE c.role = " + role + " AND c.detail = " + d + ")"
	}
	return "coalesce(" + of(detail) + ", " + of("''") + ", '')"
}

// received is the day of the receipt that what is not invoiced of an order line reaches back to: the newest goods count first.
const receivedSince = `coalesce((SELECT t.posted_on FROM (SELECT d.posted_on, r.id, sum(r.value_base) OVER (ORDER BY d.posted_on DESC, r.id DESC) AS upto
	FROM receipt_line r JOIN delivery d ON d.id = r.delivery WHERE r.order_line = l.id AND r.quantity > 0 AND d.posted_on <= :at) t
	WHERE t.upto >= -g.base ORDER BY t.upto, t.id DESC LIMIT 1),
	(SELECT min(d.posted_on) FROM receipt_line r JOIN delivery d ON d.id = r.delivery WHERE r.order_line = l.id AND r.quantity > 0 AND d.posted_on <= :at), '')`

const notInvoicedAge = "CAST(julianday(:at) - julianday(nullif(" + receivedSince + ", '')) AS INTEGER)"

// aged puts days into four parts.
func aged(days string) string {
	return "CASE WHEN " + days + " <= 30 THEN '0 to 30 days' WHEN " + days + " <= 60 THEN '31 to 60 days' WHEN " + days +
		" <= 90 THEN '61 to 90 days' ELSE 'over 90 days' END"
}

// held is whether an invoice for an order line is here and not verified.
const billHere = `EXISTS (SELECT 1 FROM invoice_line il JOIN invoice_state z ON z.revision = il.invoice_revision WHERE il.order_line = l.id AND z.state `

var grni = List{
	Key: "grni", Title: "Received, not invoiced", Report: true,
	Says: "The account of goods received and not invoiced, line by line, in the company's currency, as it was posted by the day. Below zero: invoiced beyond what came.",
	From: `FROM (SELECT detail, base, (SELECT max(n.at) FROM entry_line e JOIN entry n ON n.id = e.entry WHERE e.role = 'grni' AND e.detail = b.detail
	AND n.posted_on <= :at) AS noted FROM ` + store.StillOpen(ledger.GRNI, ":at") + ` b) g
	CROSS JOIN purchase_order o ON o.number = CAST(substr(g.detail, 1, instr(g.detail, '/') - 1) AS INTEGER)
	JOIN order_line l ON l.purchase_order = o.id AND l.no = CAST(substr(g.detail, instr(g.detail, '/') + 1) AS INTEGER)
	JOIN order_line_state x ON x.order_line = l.id JOIN supplier s ON s.id = o.supplier LEFT JOIN item i ON i.id = l.item WHERE 1`,
	Order: "o.number DESC, l.no", ID: "l.id",
	Columns: []Column{
		{Key: "order", Title: "Order", Kind: Number, SQL: "o.number", Link: "order", Groups: true},
		{Key: "line", Title: "Line", Kind: Text, SQL: "l.no"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "s.name", Link: "supplier", By: "s.code", Groups: true},
		supplierGroup("o.supplier"),
		{Key: "description", Title: "Goods", Kind: Text, SQL: "l.description"},
		{Key: "value", Title: "Not invoiced", Kind: Base, SQL: "-g.base"},
		{Key: "since", Title: "Received", Kind: Day, SQL: receivedSince},
		{Key: "days", Title: "Days", Kind: Days, SQL: notInvoicedAge},
		{Key: "why", Title: "Probably", Kind: Text, SQL: "CASE WHEN g.base > 0 THEN 'invoiced beyond what came' WHEN " + billHere + "= 'held') THEN 'its invoice is held' WHEN " +
			billHere + "IN " + isUnsettled + ") THEN 'its invoice waits' WHEN x.closed_invoices = 1 THEN 'closed to invoices' WHEN " + notInvoicedAge +
			" > 14 THEN 'the supplier forgot it' ELSE 'the invoice is to come' END", Groups: true},
		{Key: "later", Title: "Noted", Kind: Flag, SQL: notedLater, AtADay: true},
		{Key: "age", Title: "Age", Kind: Text, SQL: aged(notInvoicedAge), Aside: true, Groups: true},
		{Key: "item", Title: "Item", Kind: Text, SQL: "coalesce(i.code, l.supplier_code)", Aside: true, Groups: true},
		itemGroup("l.item"),
		{Key: "budget", Title: "Budget", Kind: Text, SQL: "l.budget", Aside: true, Groups: true},
		{Key: "buyer", Title: "Asked for by", Kind: Text, SQL: "o.requested_by", Aside: true, Groups: true},
	},
	Words: words(
		atADay, supplierIs("o.supplier"), orderIs("o.number"),
		Word{Key: "item", Text: "item", Takes: AnItem, SQL: "l.item = :v", Scans: true},
		supplierGroupIs("o.supplier"), itemGroupIs("l.item"),
		Word{Key: "beyond", Text: "invoiced beyond", SQL: "g.base > 0", Scans: true},
		Word{Key: "older", Text: "older than 30 days", SQL: notInvoicedAge + " > 30", Scans: true},
		Word{Key: "old", Text: "older than 90 days", SQL: notInvoicedAge + " > 90", Scans: true},
		Word{Key: "over", Text: "over", Takes: AnAmount, SQL: baseOver, Scans: true},
	),
}

// baseOver compares what is not invoiced with what was typed, in the company's currency.
var baseOver = store.Exact("abs(g.base)", "(SELECT currency FROM company)") + " > :v"

// overdueBy is how many days a bill is overdue on the day of the list; what has no due day is not due yet.
const overdueBy = "CAST(julianday(:at) - julianday(coalesce(nullif(z.due_on, ''), :at)) AS INTEGER)"

// between is what is owed of a bill where it is so many days overdue.
func between(from, until string) string {
	return "CASE WHEN " + overdueBy + " BETWEEN " + from + " AND " + until + " THEN -g.amount ELSE 0 END"
}

// owedLines are the payables as they were posted by the day, document by document. A payment's entry debits one sum for all that
// it pays, so that it is told by its items; what is outside runs names its invoice. What belongs to no document, and is none of
// these, stands as a rest, so that all together is the ledger's account, whatever comes.
//
// Of a long history little is owed: read are the documents that are open now or moved after the day, and then the accounts of those
// suppliers that, by the sums that are kept of them, these do not come to.
var owedLines = `WITH likely AS MATERIALIZED (` + likelyOwed + `),
	moves AS MATERIALIZED (` + payablesOfLikely + `),
	differing AS MATERIALIZED (SELECT detail FROM (
	SELECT detail, debit - credit AS base FROM account_month WHERE role = 'payables'
	UNION ALL SELECT l.detail, -l.base FROM ` + postedAfter + ` CROSS JOIN entry_line l ON l.entry = n.id AND l.role = 'payables' WHERE n.posted_on > :at
	UNION ALL SELECT detail, -base FROM moves) GROUP BY detail HAVING sum(base) <> 0)
	SELECT detail, invoice, currency, sum(amount) AS amount, sum(base) AS base, max(at) AS noted FROM moves GROUP BY detail, invoice, currency
	HAVING sum(amount) <> 0 OR sum(base) <> 0
	UNION ALL SELECT detail, NULL, currency, sum(amount), sum(base), '' FROM (SELECT l.detail, n.currency, l.amount, l.base
	FROM differing d CROSS JOIN entry_line l ON l.role = 'payables' AND l.detail = d.detail CROSS JOIN entry n ON n.id = l.entry WHERE n.posted_on <= :at
	UNION ALL SELECT detail, currency, -amount, -base FROM moves WHERE detail IN (SELECT detail FROM differing))
	GROUP BY detail, currency HAVING sum(amount) <> 0 OR sum(base) <> 0`

// postedAfter are entries, to be narrowed by their day.
const postedAfter = "entry n INDEXED BY entry_posted"

// paidThrough joins what a payment (y) took off payables: the line (l) of its entry (n), when it was sent or came back.
const paidThrough = `CROSS JOIN entry_line s ON s.role IN ('in_transit', 'bank') AND s.detail = y.end_to_end
	CROSS JOIN entry n ON n.id = s.entry AND n.document = 'payment' CROSS JOIN entry_line l ON l.entry = n.id AND l.role = 'payables' AND l.bill IS NULL`

// likelyOwed are the documents that are open now or claimed on, and those that moved after the day.
var likelyOwed = `SELECT invoice FROM invoice_state WHERE state IN ` + isOwed + `
	UNION SELECT k.invoice FROM claim_state x CROSS JOIN claim k ON k.id = x.claim WHERE x.state = 'open'
	UNION SELECT l.bill FROM ` + postedAfter + ` CROSS JOIN entry_line l ON l.entry = n.id AND l.role = 'payables' WHERE n.posted_on > :at AND l.bill IS NOT NULL
	UNION SELECT i.id FROM ` + postedAfter + ` CROSS JOIN invoice i ON i.number = n.document_number WHERE n.posted_on > :at AND n.document = 'invoice'
	UNION SELECT t.invoice FROM ` + paymentsAfter + ` CROSS JOIN payment_item t ON t.payment = y.id WHERE ` + isAfter + `
	UNION SELECT t.invoice FROM ` + paymentsAfter + ` CROSS JOIN netting t ON t.run = y.run WHERE ` + isAfter + `
	UNION SELECT t.credit_note FROM ` + paymentsAfter + ` CROSS JOIN netting t ON t.run = y.run WHERE ` + isAfter + `
	UNION SELECT t.invoice FROM run_state u CROSS JOIN netting t ON t.run = u.run WHERE t.payment IS NULL AND u.approved_at >= :until
	UNION SELECT t.credit_note FROM run_state u CROSS JOIN netting t ON t.run = u.run WHERE t.payment IS NULL AND u.approved_at >= :until`

const (
	paymentsAfter = postedAfter + ` CROSS JOIN entry_line s ON s.entry = n.id AND s.role IN ('in_transit', 'bank') CROSS JOIN payment y ON y.end_to_end = s.detail`
	isAfter       = `n.posted_on > :at AND n.document = 'payment'`
)

// nettedBase is the part in the books of a document (z) that a run set another against: that of the whole document.
func nettedBase(amount string) string {
	return `CASE WHEN z.currency = (SELECT currency FROM company) THEN ` + amount + ` ELSE CAST(round(` + amount + ` * 1.0 * z.total_base / z.total) AS INTEGER) END`
}

// payablesOfLikely are the moves on payables of those documents by the day: what names them, what booked them, what payments took, and what
// runs set against one another beside a payment or alone (the invoice is settled, the credit note used up).
var payablesOfLikely = func() string {
	all := `SELECT l.detail, c.invoice, n.currency, l.amount, l.base, n.at FROM likely c CROSS JOIN entry_line l ON l.bill = c.invoice AND l.role = 'payables'
	CROSS JOIN entry n ON n.id = l.entry WHERE n.posted_on <= :at
	UNION ALL SELECT l.detail, c.invoice, n.currency, l.amount, l.base, n.at FROM likely c CROSS JOIN invoice i ON i.id = c.invoice
	CROSS JOIN entry n ON n.document = 'invoice' AND n.document_number = i.number
	CROSS JOIN entry_line l ON l.entry = n.id AND l.role = 'payables' AND l.bill IS NULL WHERE n.posted_on <= :at
	UNION ALL SELECT detail, invoice, currency, sign * taken, CASE WHEN amount = base THEN sign * taken
	ELSE CAST(round((base - sign * netted) * 1.0 * sign * taken / amount) AS INTEGER) END, at
	FROM (SELECT l.detail, c.invoice, n.currency, l.amount, l.base, n.at, t.amount + t.discount AS taken, iif(l.amount < 0, -1, 1) AS sign,
	coalesce((SELECT sum(` + nettedBase("x.amount") + `) FROM netting x CROSS JOIN invoice_state z ON z.invoice = x.invoice WHERE x.run = y.run AND x.payment = y.id), 0) +
	coalesce((SELECT sum(` + nettedBase("-x.amount") + `) FROM netting x CROSS JOIN invoice_state z ON z.invoice = x.credit_note WHERE x.run = y.run AND x.payment = y.id), 0) AS netted
	FROM likely c CROSS JOIN payment_item t ON t.invoice = c.invoice CROSS JOIN payment y ON y.id = t.payment ` + paidThrough + `
	WHERE n.posted_on <= :at AND NOT EXISTS (SELECT 1 FROM invoice_state z CROSS JOIN invoice_request k ON k.invoice_revision = z.revision WHERE z.invoice = c.invoice))`
	for _, side := range [][2]string{{"invoice", "x.amount"}, {"credit_note", "-x.amount"}} {
		of := ` c CROSS JOIN netting x ON x.` + side[0] + ` = c.invoice CROSS JOIN invoice_state z ON z.invoice = c.invoice CROSS JOIN supplier p ON p.id = z.supplier`
		all += `
	UNION ALL SELECT p.code, c.invoice, z.currency, iif(l.amount < 0, -1, 1) * ` + side[1] + `, iif(l.amount < 0, -1, 1) * ` + nettedBase(side[1]) + `, n.at
	FROM likely` + of + ` CROSS JOIN payment y ON y.id = x.payment ` + paidThrough + ` WHERE n.posted_on <= :at
	UNION ALL SELECT p.code, c.invoice, z.currency, ` + side[1] + `, ` + nettedBase(side[1]) + `, u.approved_at
	FROM likely` + of + ` CROSS JOIN run_state u ON u.run = x.run
	WHERE x.payment IS NULL AND u.state IN ('sent', 'answered') AND u.approved_at < :until`
	}
	return all
}()

var owed = List{
	Key: "owed", Title: "Owed, by age", Report: true,
	Says: "Trade payables, document by document, as they were posted by the day; credit notes stand below zero. Payments that are sent count as paid.",
	From: `FROM (` + owedLines + `) g
	LEFT JOIN supplier p ON p.code = g.detail LEFT JOIN invoice i ON i.id = g.invoice LEFT JOIN invoice_state z ON z.invoice = g.invoice
	LEFT JOIN invoice_revision r ON r.id = z.revision WHERE 1`,
	Order: "p.name COLLATE NOCASE, z.due_on, i.number", Currency: "g.currency",
	Columns: []Column{
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "coalesce(p.name, g.detail)", Link: "supplier", By: "coalesce(p.code, '')", Groups: true},
		supplierGroup("p.id"),
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "coalesce(i.number, '')", Link: "invoice"},
		{Key: "number", Title: "Their number", Kind: Number, SQL: "coalesce(r.supplier_number, 'rest')"},
		{Key: "due", Title: "Due", Kind: Day, SQL: "coalesce(z.due_on, '')"},
		{Key: "notdue", Title: "Not due", Kind: Money, SQL: between("-100000", "0")},
		{Key: "to30", Title: "1 to 30 days", Kind: Money, SQL: between("1", "30")},
		{Key: "to60", Title: "31 to 60", Kind: Money, SQL: between("31", "60")},
		{Key: "to90", Title: "61 to 90", Kind: Money, SQL: between("61", "90")},
		{Key: "older", Title: "Over 90", Kind: Money, SQL: between("91", "100000")},
		{Key: "open", Title: "Owed", Kind: Money, SQL: "-g.amount"},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "g.currency", Groups: true},
		{Key: "base", Title: "In the books", Kind: Base, SQL: "-g.base"},
		{Key: "later", Title: "Noted", Kind: Flag, SQL: notedLater, AtADay: true},
		{Key: "date", Title: "Date", Kind: Day, SQL: "coalesce(z.invoice_date, '')", Aside: true},
		{Key: "days", Title: "Days overdue", Kind: Days, SQL: "max(0, " + overdueBy + ")", Aside: true},
		{Key: "state", Title: "State now", Kind: Text, SQL: "coalesce(z.state, '')", Says: say.State, Aside: true, Groups: true},
	},
	Words: words(
		atADay, Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "p.id = :v", Scans: true},
		supplierGroupIs("p.id"),
		Word{Key: "overdue", Text: "overdue", SQL: overdueBy + " > 0", Scans: true},
		Word{Key: "credits", Text: "credit notes", SQL: "g.amount > 0", Scans: true},
		scanned(over("abs(g.amount)", "g.currency")),
	),
}

// entriesBy finds entries by one of their lines.
const entriesBy = "SELECT q.entry FROM entry_line q WHERE "

var journal = List{
	Key: "journal", Title: "Journal, line by line",
	Says:  "Debits and credits in the company's currency, by the day on which they are posted.",
	From:  `FROM entry n JOIN entry_line e ON e.entry = n.id LEFT JOIN invoice i ON i.id = e.bill LEFT JOIN person b ON b.id = n.by_person WHERE 1`,
	Order: "n.number DESC, e.no", Currency: "n.currency",
	Columns: []Column{
		{Key: "entry", Title: "Entry", Kind: Number, SQL: "n.number", Link: "entry", Groups: true},
		{Key: "posted", Title: "Posted", Kind: Day, SQL: "n.posted_on"},
		{Key: "what", Title: "What", Kind: Text, SQL: "n.what"},
		{Key: "account", Title: "Account", Kind: Text, SQL: "e.role", Says: accountOf, Groups: true},
		{Key: "no", Title: "Number", Kind: Number, SQL: accountNumber("e.role", "e.detail"), Groups: true},
		{Key: "detail", Title: "Of", Kind: Text, SQL: "e.detail", Groups: true},
		{Key: "debit", Title: "Debit", Kind: Base, SQL: "max(0, e.base)"},
		{Key: "credit", Title: "Credit", Kind: Base, SQL: "max(0, -e.base)"},
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "coalesce(i.number, '')", Link: "invoice"},
		{Key: "order", Title: "Order", Kind: Number, SQL: "coalesce(n.purchase_order, '')", Link: "order", Aside: true},
		{Key: "document", Title: "Document", Kind: Text, SQL: "n.document || ' ' || n.document_number", Aside: true},
		{Key: "amount", Title: "Amount", Kind: Money, SQL: "e.amount", Aside: true},
		{Key: "currency", Title: "Currency", Kind: Text, SQL: "n.currency", Aside: true, Groups: true},
		{Key: "by", Title: "By", Kind: Text, SQL: "coalesce(b.name, 'Lagoon')", Aside: true, Groups: true},
		{Key: "noted", Title: "Noted", Kind: Day, SQL: "substr(n.at, 1, 10)", Aside: true},
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(n.posted_on, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "account", Text: "account", Takes: AChoice, Choices: accountChoices(), SQL: "+e.role = :v", In: "n.id", Of: entriesBy + "q.role = :v"},
		Word{Key: "of", Text: "of", Takes: SomeText, SQL: "+e.detail = :v COLLATE NOCASE", In: "n.id", Of: entriesBy + "q.detail = :v COLLATE NOCASE"},
		sinceAndUntil("+n.posted_on", by{"n.number", "q.number", "entry q", "q.posted_on"}),
		Word{Key: "invoice", Text: "invoice", Takes: AnOrder, SQL: "+e.bill = (SELECT id FROM invoice WHERE number = :v)", In: "n.id",
			Of: entriesBy + "q.bill = (SELECT id FROM invoice WHERE number = :v)"},
		Word{Key: "order", Text: "order", Takes: AnOrder, SQL: "+n.purchase_order = :v", In: "n.id", Of: "SELECT q.id FROM entry q WHERE q.purchase_order = :v"},
		Word{Key: "mine", Text: "mine", SQL: "+n.by_person = :me", In: "n.id", Of: "SELECT q.id FROM entry q WHERE q.by_person = :me"},
		over("abs(e.base)", "(SELECT currency FROM company)").found("n.id", entriesBy+"abs(q.base) >= (SELECT :v / "+store.Millionths("c.currency")+" FROM company c)"),
	),
}

var accounts = List{
	Key: "accounts", Title: "Accounts, balances", Report: true,
	Says:  "What was posted by the day: a trial balance. Debits and credits of all accounts come to the same. Order lines and payments stand on the account's card.",
	From:  "FROM " + heldBy + " g WHERE 1",
	Order: accountNumber("g.role", "g.detail") + ", g.role, g.detail",
	Columns: []Column{
		{Key: "no", Title: "Number", Kind: Number, SQL: accountNumber("g.role", "g.detail"), Groups: true},
		{Key: "account", Title: "Account", Kind: Text, SQL: "g.role", Says: accountOf, Groups: true},
		{Key: "detail", Title: "Of", Kind: Text, SQL: "g.detail", Groups: true},
		{Key: "debit", Title: "Debits", Kind: Base, SQL: "g.debit"},
		{Key: "credit", Title: "Credits", Kind: Base, SQL: "g.credit"},
		{Key: "balance", Title: "Balance", Kind: Base, SQL: "g.debit - g.credit"},
		{Key: "lines", Title: "Lines", Kind: Count, SQL: "g.lines", Aside: true},
		{Key: "later", Title: "Noted", Kind: Flag, SQL: notedLater, AtADay: true},
	},
	Words: words(
		atADay, Word{Key: "account", Text: "account", Takes: AChoice, Choices: accountChoices(), SQL: "g.role = :v", Scans: true},
		Word{Key: "of", Text: "of", Takes: SomeText, SQL: "g.detail = :v COLLATE NOCASE", Scans: true},
		Word{Key: "open", Text: "not zero", SQL: "g.debit <> g.credit", Scans: true},
	),
}

var card = List{
	Key: "card", Title: "Account card", Report: true, First: "account:grni",
	Says: "An account in the order of its days, with its balance after each line. The balance runs over what is shown, and begins with what was before.",
	From: `FROM (SELECT n.posted_on, n.number, n.what, n.document, n.purchase_order, e.no, e.role, e.detail, e.bill, e.base
	FROM entry_line e JOIN entry n ON n.id = e.entry) e LEFT JOIN invoice i ON i.id = e.bill WHERE 1`,
	Order: "e.posted_on, e.number, e.no",
	Columns: []Column{
		{Key: "posted", Title: "Posted", Kind: Day, SQL: "e.posted_on"},
		{Key: "entry", Title: "Entry", Kind: Number, SQL: "e.number", Link: "entry"},
		{Key: "what", Title: "What", Kind: Text, SQL: "e.what"},
		{Key: "account", Title: "Account", Kind: Text, SQL: "e.role", Says: accountOf, Groups: true},
		{Key: "detail", Title: "Of", Kind: Text, SQL: "e.detail", Groups: true},
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "coalesce(i.number, '')", Link: "invoice"},
		{Key: "debit", Title: "Debit", Kind: Base, SQL: "max(0, e.base)"},
		{Key: "credit", Title: "Credit", Kind: Base, SQL: "max(0, -e.base)"},
		{Key: "balance", Title: "Balance", Kind: Running, Sums: "e.base", SQL: "sum(e.base) OVER (ORDER BY e.posted_on, e.number, e.no)"},
		{Key: "order", Title: "Order", Kind: Number, SQL: "coalesce(e.purchase_order, '')", Link: "order", Aside: true},
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(e.posted_on, 1, 7)", Aside: true, Groups: true},
	},
	Words: words(
		Word{Key: "account", Text: "account", Takes: AChoice, Choices: accountChoices(), SQL: "e.role = :v"},
		Word{Key: "of", Text: "of", Takes: SomeText, SQL: "e.detail = :v COLLATE NOCASE", Scans: true},
		Word{Key: "since", Text: "since", Takes: ADay, SQL: "e.posted_on >= :v", Scans: true, Begins: true},
		Word{Key: "until", Text: "until", Takes: ADay, SQL: "e.posted_on <= :v", Scans: true},
	),
}

var tax = List{
	Key: "tax", Title: "Tax, by code and document",
	Says: "Input tax and the tax that we owe under reverse charge, in the company's currency, by the day on which it is posted. Corrections of an earlier month stand in the month in which they are posted.",
	From: `FROM entry n CROSS JOIN entry_line e ON e.entry = n.id AND e.role IN ('input_tax', 'output_tax') LEFT JOIN invoice i ON i.id = e.bill
	LEFT JOIN invoice_state z ON z.invoice = e.bill LEFT JOIN invoice_revision r ON r.id = z.revision LEFT JOIN supplier p ON p.id = z.supplier WHERE 1`,
	Order: "n.number DESC, e.no",
	Columns: []Column{
		{Key: "month", Title: "Month", Kind: Text, SQL: "substr(n.posted_on, 1, 7)", Groups: true},
		{Key: "code", Title: "Code", Kind: Text, SQL: "e.detail", Groups: true},
		{Key: "account", Title: "Account", Kind: Text, SQL: "e.role", Says: accountOf, Groups: true},
		{Key: "invoice", Title: "Invoice", Kind: Number, SQL: "coalesce(i.number, '')", Link: "invoice"},
		{Key: "number", Title: "Their number", Kind: Number, SQL: "coalesce(r.supplier_number, '')"},
		{Key: "supplier", Title: "Supplier", Kind: Text, SQL: "coalesce(p.name, '')", Link: "supplier", By: "coalesce(p.code, '')", Groups: true},
		supplierGroup("z.supplier"),
		{Key: "date", Title: "Date", Kind: Day, SQL: "coalesce(z.invoice_date, '')"},
		{Key: "posted", Title: "Posted", Kind: Day, SQL: "n.posted_on"},
		{Key: "tax", Title: "Input tax", Kind: Base, SQL: "CASE e.role WHEN 'input_tax' THEN e.base ELSE 0 END"},
		{Key: "owed", Title: "Owed", Kind: Base, SQL: "CASE e.role WHEN 'output_tax' THEN -e.base ELSE 0 END"},
		{Key: "entry", Title: "Entry", Kind: Number, SQL: "n.number", Link: "entry"},
		{Key: "correction", Title: "Corrects", Kind: Flag, SQL: "CASE WHEN substr(z.invoice_date, 1, 7) < substr(n.posted_on, 1, 7) THEN substr(z.invoice_date, 1, 7) ELSE '' END"},
	},
	Words: words(
		sinceAndUntil("+n.posted_on", by{"n.number", "q.number", "entry q", "q.posted_on"}),
		Word{Key: "code", Text: "code", Takes: SomeText, SQL: "+e.detail = :v COLLATE NOCASE", In: "n.id",
			Of: entriesBy + "q.detail = :v COLLATE NOCASE"},
		Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: "+z.supplier = :v", In: "n.id",
			Of: "SELECT q.entry FROM invoice_state y CROSS JOIN entry_line q ON q.bill = y.invoice WHERE y.supplier = :v"},
		supplierGroupIs("z.supplier").found("n.id", ofGroup("q.entry", "invoice_state y ON y.supplier = m.supplier CROSS JOIN entry_line q ON q.bill = y.invoice")),
		Word{Key: "earlier", Text: "of an earlier month", SQL: "substr(z.invoice_date, 1, 7) < substr(n.posted_on, 1, 7)", Scans: true},
		Word{Key: "reverse", Text: "reverse charge", SQL: "e.role = 'output_tax'", In: "n.id", Of: entriesBy + "q.role = 'output_tax'"},
	),
}

var budgets = List{
	Key: "budgets", Title: "Budgets, of a year", Report: true,
	Says: "What each budget has in the year of the day, and what is taken of it: of each line the larger of ordered and invoiced. Net, in the company's currency; an order counts in the year of its issue.",
	From: `FROM budget b LEFT JOIN budget_plan n ON n.budget = b.code AND n.year = substr(:at, 1, 4) LEFT JOIN budget_group g ON g.budget = b.code
	LEFT JOIN (SELECT budget, sum(ordered) AS ordered, sum(received) AS received, sum(invoiced) AS invoiced, sum(credited) AS credited,
	sum(without_order) AS without_order, sum(taken) AS taken FROM budget_taken WHERE substr(month, 1, 4) = substr(:at, 1, 4) GROUP BY budget) t
	ON t.budget = b.code WHERE 1`,
	Order: "coalesce(g.name, '') COLLATE NOCASE, b.code",
	Columns: []Column{
		{Key: "budget", Title: "Budget", Kind: Number, SQL: "b.code"},
		{Key: "name", Title: "Name", Kind: Text, SQL: "b.name"},
		{Key: "group", Title: "Group", Kind: Text, SQL: "coalesce(g.name, '')", Groups: true},
		{Key: "planned", Title: "Planned", Kind: Base, SQL: "coalesce(n.amount, 0)"},
		{Key: "ordered", Title: "Ordered", Kind: Base, SQL: "coalesce(t.ordered, 0)"},
		{Key: "received", Title: "Received", Kind: Base, SQL: "coalesce(t.received, 0)"},
		{Key: "invoiced", Title: "Invoiced", Kind: Base, SQL: "coalesce(t.invoiced, 0)"},
		{Key: "taken", Title: "Taken", Kind: Base, SQL: "coalesce(t.taken, 0)"},
		{Key: "left", Title: "Left", Kind: Base, SQL: "coalesce(n.amount, 0) - coalesce(t.taken, 0)"},
		{Key: "how", Title: "Stands", Kind: Flag, SQL: "CASE WHEN n.amount IS NULL AND coalesce(t.taken, 0) <> 0 THEN 'unplanned' WHEN t.taken > n.amount THEN 'exceeded' ELSE '' END", Groups: true},
		{Key: "byorder", Title: "By order", Kind: Base, SQL: "coalesce(t.invoiced - t.without_order - t.credited, 0)", Aside: true},
		{Key: "without", Title: "Without an order", Kind: Base, SQL: "coalesce(t.without_order, 0)", Aside: true},
		{Key: "credited", Title: "Credited", Kind: Base, SQL: "coalesce(t.credited, 0)", Aside: true},
		{Key: "account", Title: "Account", Kind: Text, SQL: "b.account", Says: accountOf, Aside: true, Groups: true},
	},
	Words: words(
		atADay,
		Word{Key: "budget", Text: "budget", Takes: ABudget, SQL: "b.code = :v COLLATE NOCASE"},
		Word{Key: "group", Text: "group", Takes: SomeText, SQL: "g.name = :v COLLATE NOCASE"},
		Word{Key: "exceeded", Text: "exceeded", SQL: "t.taken > n.amount"},
		Word{Key: "unplanned", Text: "unplanned", SQL: "n.amount IS NULL AND coalesce(t.taken, 0) <> 0"},
	),
}
