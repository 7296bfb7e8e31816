package store

import (
	"errors"

	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	unbalanced = proof(
		`SELECT e.number, coalesce(sum(l.base), 0) FROM entry e LEFT JOIN entry_line l ON l.entry = e.id
			GROUP BY e.id HAVING coalesce(sum(l.base), 0) <> 0 OR coalesce(sum(l.amount), 0) <> 0`,
	)
	grniBooked  = proof(`SELECT detail, sum(base) FROM entry_line WHERE role = 'grni' GROUP BY detail`)
	replayLines = proof(
		`SELECT l.id, l.purchase_order, l.no, o.number || '/' || l.no, o.currency, s.match_level <> 'two_way'
		FROM order_line l JOIN order_line_state s ON s.order_line = l.id
		JOIN purchase_order o ON o.id = l.purchase_order WHERE s.match_level IS NOT NULL AND l.id > ?
		ORDER BY l.id LIMIT 500`,
	)
	// Receipts of a line in the order of their deliveries, and among them what each document and each invoice
	// allocated.
	replayReceipts = proof(
		`SELECT r.id, r.delivery, r.quantity, r.rate, r.order_revision FROM receipt_line r
			WHERE r.order_line = ? AND r.quantity > 0 ORDER BY r.id`,
	)
	replayRows = proof(
		`SELECT a.kind, coalesce(a.receipt_line, 0), coalesce(a.invoice_line, 0), coalesce(a.delivery, 0),
		a.quantity, coalesce(ir.rate, 0), a.order_revision, coalesce(c.invoice_line, 0),
		x.id IS NOT NULL, coalesce(x.net, 0), coalesce(x.base, 0)
		FROM allocation a LEFT JOIN allocation_credit c ON c.allocation = a.id
		LEFT JOIN allocation_claim k ON k.allocation = a.id LEFT JOIN claim_change x ON x.id = k.claim_change LEFT JOIN invoice_line il ON il.id = a.invoice_line
		LEFT JOIN invoice_revision ir ON ir.id = il.invoice_revision WHERE a.order_line = ? ORDER BY a.id`,
	)
	againstAll = proof(
		`SELECT d.id, d.against, o.kind = 'return' FROM delivery d JOIN delivery o ON o.id = d.against
			WHERE d.kind = 'reversal'`,
	)
	payablesBooked   = proof(`SELECT detail, sum(amount) FROM entry_line WHERE role = 'payables' GROUP BY detail`)
	payablesComputed = proof(
		`SELECT code, sum(amount) FROM (SELECT p.code, -s.open AS amount FROM invoice_state s
		JOIN supplier p ON p.id = s.supplier WHERE s.state IN ` + isBooked + `
		AND NOT EXISTS (SELECT 1 FROM invoice_request z WHERE z.invoice_revision = s.revision)
		UNION ALL SELECT p.code, -(x.net + x.tax) FROM claim_state x JOIN claim c ON c.id = x.claim
		JOIN invoice_state s ON s.invoice = c.invoice JOIN supplier p ON p.id = s.supplier) GROUP BY code`,
	)
	claimsBooked   = proof(`SELECT detail, sum(base) FROM entry_line WHERE role = 'claims' GROUP BY detail`)
	claimsComputed = proof(
		`SELECT p.code, sum(CASE x.kind WHEN 'claimed' THEN x.base ELSE -x.base END) FROM claim_change x
		JOIN claim_line l ON l.id = x.claim_line JOIN claim c ON c.id = l.claim
		JOIN invoice_state s ON s.invoice = c.invoice JOIN supplier p ON p.id = s.supplier GROUP BY p.code`,
	)
	claimDifferences = proof(
		`SELECT number, 0 FROM (SELECT c.number, s.state, s.net, s.credited,
		coalesce(sum(CASE x.kind WHEN 'claimed' THEN x.net ELSE -x.net END), 0) AS left,
		coalesce(sum(CASE x.kind WHEN 'credited' THEN x.net + x.tax ELSE 0 END), 0) AS given, count(x.id) AS changes,
		i.state AS invoice, i.revision = c.invoice_revision AS current
		FROM claim c LEFT JOIN claim_state s ON s.claim = c.id LEFT JOIN claim_line l ON l.claim = c.id
		LEFT JOIN claim_change x ON x.claim_line = l.id LEFT JOIN invoice_state i ON i.invoice = c.invoice GROUP BY c.id)
		WHERE state IS NULL OR net <> left OR credited <> given OR state <> CASE WHEN changes > 0 AND left <> 0 THEN 'open'
		WHEN changes > 0 THEN 'settled' WHEN current AND invoice IN ` + isUnsettled + ` THEN 'pending' ELSE 'dropped' END`,
	)
	claimsAsked = proof(
		`SELECT l.order_line, sum(x.dearer), sum(x.cheaper) FROM claim_change x JOIN claim_line l ON l.id = x.claim_line
		GROUP BY l.order_line`,
	)
	unapproved = proof(
		`SELECT i.number, 0 FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision
		WHERE s.state IN ` + isBooked + ` AND r.kind = 'invoice' AND EXISTS (SELECT 1 FROM invoice_line il
		JOIN invoice_line_coding c ON c.invoice_line = il.id WHERE il.invoice_revision = s.revision)
		AND NOT EXISTS (SELECT 1 FROM invoice_approval a WHERE a.revision = s.revision AND a.by_person NOT IN
		(SELECT made_by FROM invoice_revision m WHERE m.invoice = s.invoice AND m.made_by IS NOT NULL))`,
	)
	settledClaims = proof(
		`SELECT coalesce(sum(x.net + x.tax), 0) FROM invoice_line il JOIN claim_change x ON x.credit_line = il.id
		WHERE il.invoice_revision = ?`,
	)
	lineDifferences = proof(
		`SELECT o.number || '/' || l.no, s.received, s.billed, s.returned, s.closed_goods, s.closed_invoices,
		coalesce((SELECT sum(quantity) FROM receipt_line r
		WHERE r.order_line = l.id), 0) - coalesce((SELECT sum(quantity) FROM allocation a
		WHERE a.order_line = l.id AND a.kind IN ('reversed', 'returned', 'credited')), 0),
		coalesce((SELECT sum(quantity) FROM allocation a
		WHERE a.order_line = l.id AND a.kind IN ('billed', 'awaited', 'variance')), 0),
		coalesce((SELECT sum(quantity) FROM allocation a WHERE a.order_line = l.id AND a.kind = 'credited'), 0),
		coalesce((SELECT goods FROM line_close c WHERE c.order_line = l.id AND goods <> 0
		ORDER BY c.id DESC LIMIT 1), 0),
		coalesce((SELECT invoices FROM line_close c WHERE c.order_line = l.id AND invoices <> 0
		ORDER BY c.id DESC LIMIT 1), 0)
		FROM order_line l JOIN order_line_state s ON s.order_line = l.id
		JOIN purchase_order o ON o.id = l.purchase_order`,
	)
	overdrawn = proof(`SELECT r.id, 0 FROM receipt_line r JOIN allocation a ON a.receipt_line = r.id GROUP BY r.id
		HAVING sum(a.quantity) FILTER (WHERE a.kind IN ('reversed', 'returned',
		'credited')) > r.quantity OR sum(a.quantity) FILTER (WHERE a.kind IN ('billed', 'free')) > r.quantity`)
	transitBooked   = proof(`SELECT detail, sum(amount) FROM entry_line WHERE role = 'in_transit' GROUP BY detail`)
	transitComputed = proof(
		`SELECT p.end_to_end, -p.amount FROM payment p JOIN payment_state s ON s.payment = p.id
			WHERE s.state = 'in_transit'`,
	)
	lineLevels = proof(`SELECT o.number || '/' || l.no, s.dearer, s.cheaper,
		(s.match_level IS NOT NULL) = (EXISTS (SELECT 1 FROM receipt_line r WHERE r.order_line = l.id AND r.quantity > 0) OR EXISTS (SELECT 1 FROM allocation a WHERE a.order_line = l.id)), l.id
		FROM order_line l JOIN order_line_state s ON s.order_line = l.id
		JOIN purchase_order o ON o.id = l.purchase_order`)
	orderDifferences = proof(
		`SELECT o.number, 0 FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id
		WHERE st.wanted_on <> o.wanted_on
		OR (st.state IN ` + isIssued + ` AND (st.state = 'issued') <> EXISTS (SELECT 1 FROM order_line l
		JOIN order_line_state s ON s.order_line = l.id
		WHERE l.purchase_order = o.id AND s.closed_goods + s.closed_invoices < 2))
		OR st.open_goods <> (st.state = 'issued' AND
		EXISTS (SELECT 1 FROM order_line l JOIN order_line_state s ON s.order_line = l.id
		WHERE l.purchase_order = o.id AND s.closed_goods = 0 AND s.received + s.returned < l.quantity))
		OR (st.state = 'draft' AND NOT EXISTS (SELECT 1 FROM order_request_state q
		WHERE q.purchase_order = o.id AND q.request IS NOT NULL))
		OR (st.state = 'cancelled' AND EXISTS (SELECT 1 FROM order_request_state q
		WHERE q.purchase_order = o.id AND q.request IS NOT NULL))
		OR EXISTS (SELECT 1 FROM order_request_state q JOIN order_decision d ON d.request = q.request
		WHERE q.purchase_order = o.id AND d.decision <> 'passed')`,
	)
	holdDifferences = proof(
		`SELECT h.number, 0 FROM hold h JOIN hold_state s ON s.hold = h.id WHERE s.open = EXISTS (SELECT 1
			FROM hold_end e WHERE e.hold = h.id)`,
	)
	// A question stands where its last step put it, with whom that names, and holds its invoice back while it is open.
	questionDifferences = proof(
		`WITH last AS (SELECT q.id, q.number, q.kind, q.person AS first, q.role, q.hold,
			(SELECT z.what FROM question_step z WHERE z.question = q.id ORDER BY z.no DESC LIMIT 1) AS what,
			(SELECT z.person FROM question_step z WHERE z.question = q.id AND z.what = 'passed' ORDER BY z.no DESC LIMIT 1) AS passed
			FROM question q)
		SELECT l.number, 0 FROM last l LEFT JOIN question_state s ON s.question = l.id LEFT JOIN hold_state h ON h.hold = l.hold
		WHERE s.state IS NOT CASE WHEN l.what IS NULL THEN iif(l.first IS NULL AND l.role = '', 'closed', 'open')
				WHEN l.what = 'passed' THEN 'open' WHEN l.what = 'answered' THEN 'answered' ELSE 'closed' END
			OR s.person IS NOT coalesce(l.passed, l.first) OR s.role IS NOT iif(l.passed IS NULL, l.role, '')
			OR (l.hold IS NOT NULL AND h.open IS NOT (s.state = 'open'))`,
	)
	stateless = proof(
		`SELECT 'order line ' || o.number || '/' || l.no, 0 FROM order_line l
		JOIN purchase_order o ON o.id = l.purchase_order WHERE l.id NOT IN (SELECT order_line FROM order_line_state)
		UNION ALL SELECT 'order ' || number, 0 FROM purchase_order WHERE id NOT IN (SELECT purchase_order
		FROM order_state)
		UNION ALL SELECT 'invoice ' || number, 0 FROM invoice WHERE id NOT IN (SELECT invoice FROM invoice_state)
		UNION ALL SELECT 'hold ' || number, 0 FROM hold WHERE id NOT IN (SELECT hold FROM hold_state)
		UNION ALL SELECT 'run ' || number, 0 FROM payment_run WHERE id NOT IN (SELECT run FROM run_state)
		UNION ALL SELECT 'payment ' || end_to_end, 0 FROM payment WHERE id NOT IN (SELECT payment FROM payment_state)
		UNION ALL SELECT 'netting ' || id, 0 FROM netting WHERE id NOT IN (SELECT netting FROM netting_state)
		UNION ALL SELECT 'bank line ' || id, 0 FROM bank_line WHERE id NOT IN (SELECT line FROM bank_line_state)
		UNION ALL SELECT 'notice ' || number, 0 FROM notice WHERE id NOT IN (SELECT notice FROM notice_state)
		UNION ALL SELECT 'arrival ' || number, 0 FROM arrival WHERE id NOT IN (SELECT arrival FROM arrival_state)
		UNION ALL SELECT 'letter ' || id, 0 FROM invoice_letter WHERE id NOT IN (SELECT letter FROM letter_state)
		UNION ALL SELECT 'answer ' || id, 0 FROM mail_answer WHERE id NOT IN (SELECT answer FROM mail_answer_state)
		UNION ALL SELECT 'advice ' || id, 0 FROM payment_letter WHERE id NOT IN (SELECT letter FROM payment_letter_state)
		UNION ALL SELECT 'sending ' || id, 0 FROM order_sending WHERE id NOT IN (SELECT sending FROM sending_state)`,
	)
	danglings  = proof(`SELECT "table" || coalesce(':' || rowid, ''), 0 FROM pragma_foreign_key_check`)
	seriesGaps = proof(
		`WITH used (kind, last) AS (SELECT 'order', max(number) FROM purchase_order
		UNION ALL SELECT 'delivery', max(number) FROM delivery UNION ALL SELECT 'invoice', max(number) FROM invoice
		UNION ALL SELECT 'hold', max(number) FROM hold UNION ALL SELECT 'entry', max(number) FROM entry
		UNION ALL SELECT 'run', max(number) FROM payment_run
		UNION ALL SELECT 'draft', max(number) FROM order_draft UNION ALL SELECT 'notice', max(number)
		FROM notice UNION ALL SELECT 'arrival', max(number) FROM arrival
		UNION ALL SELECT 'claim', max(number) FROM claim UNION ALL SELECT 'mail', max(number) FROM mail
		UNION ALL SELECT 'question', max(number) FROM question UNION ALL SELECT 'attachment', max(number) FROM attachment
		UNION ALL SELECT 'batch', max(number) FROM batch
		UNION ALL SELECT 'agreement', max(number) FROM prepayment_agreement
		UNION ALL SELECT 'settlement', max(number) FROM settlement
		UNION ALL SELECT 'statement', max(number) FROM bank_statement
		UNION ALL SELECT 'list', max(number) FROM kept_list UNION ALL SELECT 'trial', max(number) FROM limit_trial
		UNION ALL SELECT 'supplier group', max(id) FROM supplier_group
		UNION ALL SELECT 'supplier statement', max(number) FROM supplier_statement
		UNION ALL SELECT 'accrual', max(number) FROM accrual UNION ALL SELECT 'ledger export', max(number) FROM ledger_export
		UNION ALL SELECT 'self-billing ' || supplier, max(number) FROM self_billed GROUP BY supplier
		UNION ALL SELECT 'payment', max(CAST(substr(end_to_end, instr(substr(end_to_end, 5),
		'-') + 5) AS INTEGER)) FROM payment)
		SELECT used.kind, coalesce(s.next, 0) FROM used LEFT JOIN series s ON s.kind = used.kind
		WHERE used.last IS NOT NULL AND s.next IS NOT used.last + 1
		UNION ALL SELECT kind, next FROM series WHERE next <> 1 AND kind NOT IN (SELECT kind FROM used WHERE last IS NOT NULL)`,
	)
	invoicesAfter = proof(`SELECT id FROM invoice WHERE id > ? ORDER BY id LIMIT 500`)
	latestOf      = proof(`SELECT max(id) FROM invoice_revision WHERE invoice = ?`)
	lastDecision  = proof(`SELECT decision FROM invoice_decision WHERE invoice = ? ORDER BY id DESC LIMIT 1`)
	paymentStates = proof(
		`SELECT x.state, i.amount + i.discount FROM payment_item i
			JOIN payment_state x ON x.payment = i.payment WHERE i.invoice = ?1
		UNION ALL SELECT z.state, CASE n.invoice WHEN ?1 THEN n.amount ELSE -n.amount END FROM netting n
		JOIN netting_state z ON z.netting = n.id WHERE n.invoice = ?1 OR n.credit_note = ?1
		UNION ALL SELECT 'settled', CASE r.kind WHEN 'credit_note' THEN -t.amount ELSE t.amount END FROM settlement t
		JOIN invoice_state s ON s.invoice = t.invoice JOIN invoice_revision r ON r.id = s.revision
		WHERE t.invoice = ?1 AND NOT EXISTS (SELECT 1 FROM settlement_end e WHERE e.settlement = t.id)`,
	)
	wokenNow   = proof(`SELECT count(*) FROM wake WHERE invoice = ?`)
	payablesOf = proof(
		`SELECT coalesce(sum(l.base), 0) FROM entry e CROSS JOIN entry_line l ON l.entry = e.id
			WHERE e.document = 'invoice' AND e.document_number = ? AND l.role = 'payables' AND l.bill IS NOT NULL`,
	)
	requestBooked = proof(`SELECT coalesce(sum(base), 0) FROM entry_line WHERE bill = ? AND role = 'prepayments'`)
	aheadBooked   = statement(`SELECT detail, sum(debit - credit) FROM account_month WHERE role = 'prepayments' GROUP BY detail`)
	shownOf       = proof(
		`SELECT p.end_to_end, l.end_to_end, t.what, l.amount, m.number FROM payment p JOIN bank_line_set t ON t.payment = p.id
		JOIN bank_line l ON l.id = t.line JOIN bank_statement m ON m.id = l.statement WHERE p.run = ? ORDER BY t.id`,
	)
	wrongStatements = proof(
		`SELECT m.number, 0 FROM bank_statement m WHERE m.notification = 0 AND m.opening
		+ coalesce((SELECT sum(l.amount) FROM bank_line l WHERE l.statement = m.id), 0) <> m.closing`,
	)
	wrongBankLines = proof(
		`SELECT m.number || '/' || l.no, 0 FROM bank_line l JOIN bank_statement m ON m.id = l.statement JOIN bank_line_state x ON x.line = l.id
		WHERE x.rest <> iif(m.notification = 1, 0,
		l.amount - coalesce((SELECT sum(t.amount) FROM bank_line_set t WHERE t.line = l.id AND ` + setStands + `), 0))`,
	)
	wrongBankBookings = proof(
		`WITH moved AS (SELECT e.number, sum(l.base) AS base FROM entry e JOIN entry_line l ON l.entry = e.id WHERE l.role = 'bank' GROUP BY e.id)
		SELECT m.number, 0 FROM moved m LEFT JOIN bank_booking b ON b.entry = m.number
		WHERE b.rest NOT IN (0, m.base)
		UNION ALL SELECT b.entry, 0 FROM bank_booking b WHERE b.entry NOT IN (SELECT number FROM moved) AND b.rest <> 0`,
	)
	// What the entries that statements show moved on the bank, and what lines of statements were set against.
	bankShown = proof(
		`SELECT 'bank', coalesce(sum(l.base), 0) - (SELECT coalesce(sum(rest), 0) FROM bank_booking)
		FROM entry_line l JOIN entry e ON e.id = l.entry JOIN bank_booking b ON b.entry = e.number WHERE l.role = 'bank'`,
	)
	bankLinesSet = proof(
		`SELECT 'bank', coalesce(sum(t.amount), 0) FROM bank_line_set t JOIN bank_line l ON l.id = t.line
		JOIN bank_statement m ON m.id = l.statement WHERE m.notification = 0 AND t.what <> 'aside' AND ` + setStands,
	)
	bankAnswers = proof(`SELECT paper FROM bank_answer WHERE run = ? ORDER BY id`)
)

// Sum is an amount under a name.
type Sum struct {
	Name   string
	Amount money.Amount
}

func scanSum(r row) (s Sum, err error) {
	err = r.Scan(&s.Name, &s.Amount)
	return
}

// Unbalanced lists entries whose lines do not add up to zero.
func (t *Tx) Unbalanced() ([]Sum, error) { return list(t, unbalanced, scanSum) }

// BookedGRNI gives goods received, not invoiced by order line as booked, in the company's
// currency.
func (t *Tx) BookedGRNI() ([]Sum, error) { return list(t, grniBooked, scanSum) }

// ReplayLine is an order line of which something was received or billed.
type ReplayLine struct {
	ID, Order int64 // row keys
	No        int
	Name      string
	Currency  money.Currency
	Receives  bool
}

// ReplayLines lists them, some at a time.
func (t *Tx) ReplayLines(after int64) ([]ReplayLine, error) {
	return list(t, replayLines, func(r row) (l ReplayLine, err error) {
		err = r.Scan(&l.ID, &l.Order, &l.No, &l.Name, &l.Currency, &l.Receives)
		return
	}, after)
}

// ReplayRow is a receipt of an order line (no kind), or an allocation, with what it is valued
// by and without its value. Rate is the receipt's, or the invoice's.
type ReplayRow struct {
	Kind                           trade.AllocationKind
	Receipt, InvoiceLine, Document int64
	CreditLine                     int64 // of the credit note that takes it back
	Claim                          bool  // a claim made it, or its end
	ClaimNet, ClaimBase            money.Amount
	Quantity, Rate                 money.Decimal
	Revision                       int // of the order
}

// ReplayRows gives the receipts and allocations of a line in the order of booking. A receipt
// comes before the first allocation that is of its delivery, of a later one, or of itself.
func (t *Tx) ReplayRows(line int64) ([]ReplayRow, error) {
	receipts, err := list(t, replayReceipts, func(r row) (x ReplayRow, err error) {
		err = r.Scan(&x.Receipt, &x.Document, &x.Quantity, &x.Rate, &x.Revision)
		return
	}, line)
	if err != nil {
		return nil, err
	}
	rows, err := list(t, replayRows, func(r row) (x ReplayRow, err error) {
		err = r.Scan(&x.Kind, &x.Receipt, &x.InvoiceLine, &x.Document, &x.Quantity, &x.Rate, &x.Revision, &x.CreditLine, &x.Claim, &x.ClaimNet, &x.ClaimBase)
		return
	}, line)
	var all []ReplayRow
	for _, row := range rows {
		for len(receipts) > 0 && ((row.Document != 0 && receipts[0].Document <= row.Document) || receipts[0].Receipt <= row.Receipt) {
			all, receipts = append(all, receipts[0]), receipts[1:]
		}
		all = append(all, row)
	}
	return append(all, receipts...), err
}

// Against is what the reversal of a document about goods undoes.
type Against struct {
	Against  int64
	OfReturn bool
}

// AgainstAll gives it by the row key of the reversal.
func (t *Tx) AgainstAll() (map[int64]Against, error) {
	all := map[int64]Against{}
	_, err := list(t, againstAll, func(r row) (none struct{}, err error) {
		var id int64
		var a Against
		err = r.Scan(&id, &a.Against, &a.OfReturn)
		all[id] = a
		return
	})
	return all, err
}

// OpenPayables gives trade payables by supplier, in the documents' currencies: as
// booked, and as the open invoices say.
func (t *Tx) OpenPayables() (booked, computed []Sum, err error) {
	if booked, err = list(t, payablesBooked, scanSum); err == nil {
		computed, err = list(t, payablesComputed, scanSum)
	}
	return
}

// LineCheck is what an order line's state says and what its documents say.
type LineCheck struct {
	Name                                   string
	State, Facts                           [3]money.Decimal // received, billed, returned for credit
	ClosedGoods, ClosedInvoices            bool
	GoodsClosedByFacts, InvoicesClosedFact int64
}

// LineChecks gives every order line's state beside its documents.
func (t *Tx) LineChecks() ([]LineCheck, error) {
	return list(t, lineDifferences, func(r row) (c LineCheck, err error) {
		err = r.Scan(
			&c.Name,
			&c.State[0],
			&c.State[1],
			&c.State[2],
			&c.ClosedGoods,
			&c.ClosedInvoices,
			&c.Facts[0],
			&c.Facts[1],
			&c.Facts[2],
			&c.GoodsClosedByFacts,
			&c.InvoicesClosedFact,
		)
		return
	})
}

// WrongClaims lists claims that stand otherwise than what became of them says.
func (t *Tx) WrongClaims() ([]Sum, error) { return list(t, claimDifferences, scanSum) }

// Unapproved lists invoices in the books without an order that nobody but who entered them has approved.
func (t *Tx) Unapproved() ([]Sum, error) { return list(t, unapproved, scanSum) }

// ClaimSums gives claims on suppliers by supplier, in the company's currency: as booked, and as what became of them says.
func (t *Tx) ClaimSums() (booked, computed []Sum, err error) {
	if booked, err = list(t, claimsBooked, scanSum); err == nil {
		computed, err = list(t, claimsComputed, scanSum)
	}
	return
}

// ClaimsAsked is what claims and their ends changed of what is billed above and below orders' prices.
func (t *Tx) ClaimsAsked() ([]LineLevel, error) {
	return list(t, claimsAsked, func(r row) (l LineLevel, err error) {
		err = r.Scan(&l.Line, &l.Asked.Dearer, &l.Asked.Cheaper)
		return
	})
}

// Overdrawn lists receipt lines that more was taken from than came.
func (t *Tx) Overdrawn() ([]Sum, error) { return list(t, overdrawn, scanSum) }

// TransitSums gives payments in transit by end-to-end id: as booked, and as the
// payments say.
func (t *Tx) TransitSums() (booked, computed []Sum, err error) {
	if booked, err = list(t, transitBooked, scanSum); err == nil {
		computed, err = list(t, transitComputed, scanSum)
	}
	return
}

// LineLevel is what an order line keeps of its matching: what was asked above and below
// its price, and whether its level is fixed just when something was received or billed.
type LineLevel struct {
	Name  string
	Asked match.Asked
	Fits  bool
	Line  int64
}

// LineLevels gives it for every order line.
func (t *Tx) LineLevels() ([]LineLevel, error) {
	return list(t, lineLevels, func(r row) (l LineLevel, err error) {
		err = r.Scan(&l.Name, &l.Asked.Dearer, &l.Asked.Cheaper, &l.Fits, &l.Line)
		return
	})
}

// WrongOrders lists orders that are expected to bring goods, or not, otherwise than
// their lines say, or that wait for an approver otherwise than was decided.
func (t *Tx) WrongOrders() ([]Sum, error) { return list(t, orderDifferences, scanSum) }

// WrongHolds lists holds that are open, or not, otherwise than their ends say.
func (t *Tx) WrongHolds() ([]Sum, error) { return list(t, holdDifferences, scanSum) }

// WrongQuestions lists questions that do not stand where their steps put them, or whose hold does not fit.
func (t *Tx) WrongQuestions() ([]Sum, error) { return list(t, questionDifferences, scanSum) }

// Stateless lists documents without a state.
func (t *Tx) Stateless() ([]Sum, error) { return list(t, stateless, scanSum) }

// Dangling lists rows that refer to a row that is not there.
func (t *Tx) Dangling() ([]Sum, error) { return list(t, danglings, scanSum) }

// WrongSeries lists number series whose next number does not follow the last in use.
func (t *Tx) WrongSeries() ([]Sum, error) { return list(t, seriesGaps, scanSum) }

// InvoicesAfter lists row keys of invoices, some at a time.
func (t *Tx) InvoicesAfter(id int64) ([]int64, error) {
	return list(t, invoicesAfter, scanOne[int64], id)
}

// InvoiceFacts is what decides where an invoice stands.
type InvoiceFacts struct {
	Latest   int64              // row key of the latest revision
	Decision trade.InvoiceState // the last one, or empty
	Payments []PaymentPart      // that hold the invoice
	Booked   money.Amount       // trade payables of its entries in company currency, a credit is negative
	Woken    bool               // it is about to be matched again
	Settles  money.Amount       // of a credit note: what it gave back of claims, tax included
	Claims   []trade.Claim      // of an invoice
	// Used is what it used of money ahead, and UsedBase what that settled of its trade payables, in company currency.
	Used, UsedBase money.Amount
}

// PaymentPart is what one payment takes off an invoice.
type PaymentPart struct {
	State string
	Taken money.Amount
}

// InvoiceFacts reads what decides where an invoice stands.
func (t *Tx) InvoiceFacts(invoice, number int64) (f InvoiceFacts, err error) {
	if f.Latest, err = t.number(latestOf, invoice); err != nil {
		return
	}
	decisions, err := list(t, lastDecision, scanOne[trade.InvoiceState], invoice)
	if err != nil {
		return
	}
	f.Decision = append(decisions, "")[0]
	if f.Payments, err = list(t, paymentStates, func(r row) (p PaymentPart, err error) {
		err = r.Scan(&p.State, &p.Taken)
		return
	}, invoice); err != nil {
		return
	}
	booked, err := t.number(payablesOf, number)
	if err != nil {
		return
	}
	f.Booked = money.Amount(booked)
	settles, err := t.number(settledClaims, f.Latest)
	if err != nil {
		return
	}
	f.Settles = money.Amount(settles)
	if f.Used, err = t.UsedAhead(invoice); err != nil {
		return
	}
	used, err := t.number(usedPayables, invoice)
	if err != nil {
		return
	}
	f.UsedBase = money.Amount(used)
	woken, err := t.number(wokenNow, invoice)
	f.Woken = woken > 0
	return
}

// RequestBooked is what stands in the books for our own request for money ahead, before anything is used of it.
func (t *Tx) RequestBooked(invoice int64) (money.Amount, error) {
	base, err := t.number(requestBooked, invoice)
	return money.Amount(base), err
}

// Shown is what a line of a statement or a notification says of a payment.
type Shown struct {
	EndToEnd, Named string // the payment's, the line's
	What            string
	Amount          money.Amount // of the line
	Statement       int64        // number
}

// ShownOf is what they say of the payments of a run.
func (t *Tx) ShownOf(run int64) ([]Shown, error) {
	return list(t, shownOf, func(r row) (s Shown, err error) {
		err = r.Scan(&s.EndToEnd, &s.Named, &s.What, &s.Amount, &s.Statement)
		return
	}, run)
}

// WrongStatements lists statements that do not add up.
func (t *Tx) WrongStatements() ([]Sum, error) { return list(t, wrongStatements, scanSum) }

// WrongBankLines lists lines of which something else is open than what they were set against leaves.
func (t *Tx) WrongBankLines() ([]Sum, error) { return list(t, wrongBankLines, scanSum) }

// WrongBankBookings lists entries of which something else waits for a statement than they moved.
func (t *Tx) WrongBankBookings() ([]Sum, error) { return list(t, wrongBankBookings, scanSum) }

// BankProof is what the ledger says of what is on statements, and what the lines of those say.
func (t *Tx) BankProof() (booked, computed []Sum, err error) {
	booked, err1 := list(t, bankShown, scanSum)
	computed, err2 := list(t, bankLinesSet, scanSum)
	return booked, computed, errors.Join(err1, err2)
}

// BookedAhead gives money ahead by kind as booked, in the company's currency.
func (t *Tx) BookedAhead() ([]Sum, error) { return list(t, aheadBooked, scanSum) }

// BankAnswers are the papers of the bank's answers to a run, in the order they were taken.
func (t *Tx) BankAnswers(run int64) ([]int64, error) {
	return list(t, bankAnswers, scanOne[int64], run)
}
