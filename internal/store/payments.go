package store

import (
	"cmp"
	"errors"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
)

// Hold is a person's hold on an invoice, or on an order or one of its lines.
type Hold struct {
	ID, Number    int64
	Invoice       int64 // row key; 0: on an order
	InvoiceNumber int64
	Order         int64 // row key; 0: on an invoice
	OrderNumber   int64
	OrderLine     int64 // row key; 0: on all of the order
	Line          int
	Blocks        trade.Blocks
	Clears        string // the role that may clear it; empty: whoever may put one there
	Ends          trade.HoldEnds
	Reason, Note  string
	By            int64
	ByName        string
	At            string
	Ended         bool
	EndedBy       string
	EndedAt       string
	EndNote       string
}

const holdColumns = `SELECT h.id, h.number, coalesce(h.invoice, 0), coalesce(i.number, 0), coalesce(o.purchase_order, 0),
	coalesce(po.number, 0), coalesce(o.order_line, 0), coalesce(l.no, 0),
	coalesce(o.blocks, 'releasing paying'), coalesce(o.clears, ''), coalesce(o.until, ''), coalesce(o.until_day, ''),
	h.reason, h.note, coalesce(h.by_person, 0), coalesce(p.name, 'Lagoon'), h.at, e.hold IS NOT NULL,
	CASE WHEN e.hold IS NULL THEN '' ELSE coalesce(q.name, 'Lagoon') END, coalesce(e.at, ''), coalesce(e.note, '')
	FROM hold h LEFT JOIN invoice i ON i.id = h.invoice LEFT JOIN person p ON p.id = h.by_person
	LEFT JOIN hold_end e ON e.hold = h.id LEFT JOIN person q ON q.id = e.by_person
	LEFT JOIN hold_on o ON o.hold = h.id LEFT JOIN purchase_order po ON po.id = o.purchase_order
	LEFT JOIN order_line l ON l.id = o.order_line `

var (
	addHold = statement(
		`INSERT INTO hold (number, invoice, reason, note, by_person, at) VALUES (?, nullif(?, 0), ?, ?, nullif(?, 0), ?)`,
	)
	addHoldOn = statement(
		`INSERT INTO hold_on (hold, purchase_order, order_line, blocks, clears, until, until_day)
		VALUES (?, nullif(?, 0), nullif(?, 0), ?, ?, ?, ?)`,
	)
	holdsOnOrder = statement(
		holdColumns + `WHERE h.id IN (SELECT hold FROM hold_on WHERE purchase_order = ?) AND e.hold IS NULL ORDER BY h.id`,
	)
	// Open holds that keep invoices from being verified, and those that end by themselves.
	holdsVerifying = statement(
		holdColumns + `WHERE h.id IN (SELECT x.hold FROM hold_state x CROSS JOIN hold_on y ON y.hold = x.hold
		WHERE x.open = 1 AND instr(y.blocks, 'verifying') > 0)`,
	)
	holdsEnding = statement(
		holdColumns + `WHERE h.id IN (SELECT x.hold FROM hold_state x CROSS JOIN hold_on y ON y.hold = x.hold
		WHERE x.open = 1 AND y.until <> '')`,
	)
	ownReasons   = statement(`SELECT name, ended FROM hold_reason ORDER BY name`)
	putOwnReason = statement(
		`INSERT INTO hold_reason (name, ended) VALUES (?, ?) ON CONFLICT DO UPDATE SET ended = excluded.ended`,
	)
	addHoldEnd   = statement(`INSERT INTO hold_end (hold, note, by_person, at) VALUES (?, ?, nullif(?, 0), ?)`)
	holdByNo     = statement(holdColumns + `WHERE h.number = ?`)
	holdsOf      = statement(holdColumns + `WHERE h.invoice = ? ORDER BY h.id`)
	putHoldState = statement(
		`INSERT INTO hold_state (hold, open) VALUES (?, ?) ON CONFLICT (hold) DO UPDATE SET open = excluded.open`,
	)
	openHolds = cutAt(
		mostPiled,
		holdColumns+`WHERE h.id IN (SELECT hold FROM hold_state WHERE open = 1) ORDER BY h.id`,
	)
	countHoldsOf = statement(
		`SELECT count(*) FROM hold_state x JOIN hold h ON h.id = x.hold WHERE x.open = 1 AND h.by_person = ?
		AND h.reason <> '` + finding.QuestionHold + `'`,
	)
	blockedRows = cutAt(
		mostPiled,
		invoiceRows+`WHERE s.state = 'verified' AND s.blocked = 1 ORDER BY s.due_on, s.invoice`,
	)
)

func scanHold(r row) (h Hold, err error) {
	var blocks string
	err = r.Scan(
		&h.ID,
		&h.Number,
		&h.Invoice,
		&h.InvoiceNumber,
		&h.Order,
		&h.OrderNumber,
		&h.OrderLine,
		&h.Line,
		&blocks,
		&h.Clears,
		&h.Ends.Until,
		&h.Ends.Day,
		&h.Reason,
		&h.Note,
		&h.By,
		&h.ByName,
		&h.At,
		&h.Ended,
		&h.EndedBy,
		&h.EndedAt,
		&h.EndNote,
	)
	h.Blocks = trade.BlocksOf(blocks)
	return
}

// AddHold writes a hold and gives its number.
func (t *Tx) AddHold(h Hold) (int64, error) {
	number, err := t.NextNumber(HoldSeries)
	if err != nil {
		return 0, err
	}
	id, err := t.exec(addHold, number, h.Invoice, h.Reason, h.Note, h.By, h.At)
	if err != nil {
		return 0, err
	}
	if h.Order != 0 || h.Blocks.String() != trade.PaymentHold.String() || h.Clears != "" || h.Ends.Until != trade.UntilLifted {
		err = t.do(addHoldOn, id, h.Order, h.OrderLine, h.Blocks.String(), h.Clears, h.Ends.Until, h.Ends.Day)
	}
	return number, errors.Join(err, t.do(putHoldState, id, true))
}

// HoldsOnOrder lists the holds in force on an order and its lines.
func (t *Tx) HoldsOnOrder(order int64) ([]Hold, error) { return list(t, holdsOnOrder, scanHold, order) }

// HoldsEnding lists the holds in force that end by themselves.
func (t *Tx) HoldsEnding() ([]Hold, error) { return list(t, holdsEnding, scanHold) }

// OwnReason is a reason of holds of the company's own.
type OwnReason struct {
	Name  string
	Ended bool
}

// OwnReasons lists them, those that are offered no more too.
func (t *Tx) OwnReasons() ([]OwnReason, error) {
	return list(t, ownReasons, func(r row) (o OwnReason, err error) {
		err = r.Scan(&o.Name, &o.Ended)
		return
	})
}

// PutOwnReason writes one.
func (t *Tx) PutOwnReason(o OwnReason) error { return t.do(putOwnReason, o.Name, o.Ended) }

// heldFrom is, of a state's invoice, the reason of an open hold that blocks something: on itself, on its order, or on a line
// of it that the invoice bills.
func heldFrom(what trade.Blocking) string {
	open := ` JOIN hold_state x ON x.hold = h.id AND x.open = 1 `
	blocks := `instr(o.blocks, '` + string(what) + `') > 0`
	return `coalesce((SELECT h.reason FROM hold h` + open + `LEFT JOIN hold_on o ON o.hold = h.id
		WHERE h.invoice = s.invoice AND (o.hold IS NULL OR ` + blocks + `) LIMIT 1),
		(SELECT h.reason FROM hold_on o CROSS JOIN hold h ON h.id = o.hold` + open + `
		WHERE o.purchase_order = s.purchase_order AND ` + blocks + ` AND (o.order_line IS NULL OR EXISTS (SELECT 1 FROM invoice_line il
		WHERE il.order_line = o.order_line AND il.invoice_revision = s.revision)) LIMIT 1), '')`
}

// EndHold takes a hold off.
func (t *Tx) EndHold(hold int64, note string, by int64, at string) error {
	if err := t.do(addHoldEnd, hold, note, by, at); err != nil {
		return err
	}
	return t.do(putHoldState, hold, false)
}

// HoldByNumber finds a hold.
func (t *Tx) HoldByNumber(number int64) (Hold, error) { return one(t, holdByNo, scanHold, number) }

// HoldsOf lists an invoice's holds, ended ones too.
func (t *Tx) HoldsOf(invoice int64) ([]Hold, error) { return list(t, holdsOf, scanHold, invoice) }

// OpenHolds lists the holds in force, the oldest first.
func (t *Tx) OpenHolds() ([]Hold, error) { return listCut(t, openHolds, scanHold) }

// CountHoldsOf counts the holds in force that a person set.
func (t *Tx) CountHoldsOf(person int64) (int64, error) { return t.number(countHoldsOf, person) }

// BlockedInvoices lists verified invoices that may not be released.
func (t *Tx) BlockedInvoices() ([]InvoiceRow, error) {
	return listCut(t, blockedRows, scanInvoiceRow)
}

var (
	payables = statement(payableRows + `WHERE s.state IN ('released', 'in_payment') AND s.open > 0 AND NOT EXISTS (SELECT 1 FROM payment_item x
		JOIN payment_state y ON y.payment = x.payment
		WHERE x.invoice = s.invoice AND y.state IN ('proposed', 'approved')) AND NOT ` + netted("s.invoice"))
	verifiedPayables = statement(payableRows + `WHERE s.state = 'verified' AND s.open > 0`)
	undecided        = statement(
		`SELECT i.number FROM invoice_state s CROSS JOIN invoice i ON i.id = s.invoice
		WHERE s.state = 'verified' AND s.open >= 0 AND s.total_base <= ? AND i.source = 'ubl'
		AND NOT EXISTS (SELECT 1 FROM invoice_decision d WHERE d.invoice = s.invoice)
		AND NOT EXISTS (SELECT 1 FROM invoice_revision r WHERE r.invoice = s.invoice AND (r.made_by IS NOT NULL OR r.kind = 'credit_note'))`,
	)
	openNotes = statement(
		`SELECT i.number, r.supplier_number, s.supplier, s.currency, -s.open, s.invoice_date, coalesce(c.stated, '')
		FROM invoice_state s CROSS JOIN invoice i ON i.id = s.invoice CROSS JOIN invoice_revision r ON r.id = s.revision
		LEFT JOIN invoice_credit c ON c.invoice_revision = r.id
		WHERE s.state IN ('verified', 'in_payment') AND s.open < 0 AND r.kind = 'credit_note' AND NOT ` + netted("s.invoice"),
	)
	addNetting = statement(`INSERT INTO netting (run, payment, invoice, credit_note, amount) VALUES (?, nullif(?, 0), ?, ?, ?)`)
	putNetting = statement(
		`INSERT INTO netting_state (netting, state) VALUES (?, ?) ON CONFLICT (netting) DO UPDATE SET state = excluded.state`,
	)
	nettingsOfRun     = statement(nettingRows + `WHERE n.run = ? ORDER BY n.id`)
	nettingsOfInvoice = statement(nettingRows + `WHERE n.invoice = ? ORDER BY n.id`)
	nettingsOfCredit  = statement(nettingRows + `WHERE n.credit_note = ? ORDER BY n.id`)
	addRun            = statement(
		`INSERT INTO payment_run (number, due_by, pay_on, iban, bic, made_by, made_at)
			VALUES (?, ?, ?, ?, ?, nullif(?, 0), ?)`,
	)
	addUrgent   = statement(`INSERT INTO run_urgent (run) VALUES (?)`)
	putRunState = statement(
		`INSERT INTO run_state (run, state, version, approved_by, approved_at, message, paper)
		VALUES (?, ?, ?, nullif(?, 0), ?, ?, nullif(?, 0))
		ON CONFLICT (run) DO UPDATE SET state = excluded.state, version = excluded.version,
		approved_by = excluded.approved_by, approved_at = excluded.approved_at, message = excluded.message,
		paper = excluded.paper`,
	)
	addRunApproval = statement(`INSERT INTO run_approval (run, by_person, at) VALUES (?, ?, ?)`)
	firstApproval  = statement(
		`SELECT a.by_person, p.name, a.at FROM run_approval a CROSS JOIN person p ON p.id = a.by_person WHERE a.run = ?`,
	)
	addPayment = statement(
		`INSERT INTO payment (run, end_to_end, supplier, currency, amount, payee, iban, bic)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	putPayState = statement(
		`INSERT INTO payment_state (payment, state, reason) VALUES (?, ?, ?)
			ON CONFLICT (payment) DO UPDATE SET state = excluded.state, reason = excluded.reason`,
	)
	addPaymentItem = statement(`INSERT INTO payment_item (payment, invoice, amount, discount) VALUES (?, ?, ?, ?)`)
	runByNumber    = statement(runColumns + `WHERE r.number = ?`)
	runByMessage   = statement(runColumns + `WHERE x.message = ? AND x.message <> ''`)
	rejectedIn     = statement(`SELECT count(*) FROM payment p CROSS JOIN payment_state x ON x.payment = p.id WHERE p.run = ? AND x.state = 'rejected'`)
	recentRuns     = cutAt(20, runColumns+`ORDER BY r.id DESC`)
	openRuns       = statement(runColumns + `WHERE x.state IN ('proposed', 'approved', 'sent')`)
	allRuns        = proof(runColumns + `ORDER BY r.id`)
	countRuns      = statement(`SELECT count(*) FROM run_state WHERE state = ?`)
	paymentsOf     = statement(
		`SELECT p.id, p.end_to_end, p.supplier, s.name, s.code, p.currency, p.amount, p.payee, p.iban, p.bic,
		x.state, x.reason FROM payment p JOIN supplier s ON s.id = p.supplier JOIN payment_state x ON x.payment = p.id
		WHERE p.run = ? ORDER BY p.id`,
	)
	paymentItems = statement(
		`SELECT i.invoice, n.number, r.supplier_number, i.amount, i.discount, s.currency, ` + asksAhead + ` FROM payment_item i
		JOIN invoice n ON n.id = i.invoice JOIN invoice_state s ON s.invoice = i.invoice
		JOIN invoice_revision r ON r.id = s.revision
		WHERE i.payment = ? ORDER BY i.id`,
	)
	settledParts = statement(`SELECT ` + partsIn(`'in_transit', 'settled'`))
	inTransit    = statement(
		`SELECT (SELECT count(*) FROM payment_item i JOIN payment_state x ON x.payment = i.payment
			WHERE i.invoice = ?1 AND x.state IN ('approved', 'in_transit')) + ` + nettedIn(`'approved', 'in_transit'`),
	)
	rejectedTo = statement(
		`SELECT x.reason FROM payment_state x CROSS JOIN payment p ON p.id = x.payment
		WHERE x.state = 'rejected' AND p.supplier = ?1 AND p.iban = ?2
		AND NOT EXISTS (SELECT 1 FROM supplier_decision d
		WHERE d.supplier = ?1 AND d.what IN ('account', 'confirmed', 'payee')
			AND d.at > (SELECT max(b.at) FROM bank_answer b WHERE b.run = p.run)) ORDER BY x.payment DESC LIMIT 1`,
	)
	paidBefore = statement(
		`SELECT EXISTS (SELECT 1 FROM payment p JOIN payment_state x ON x.payment = p.id
		WHERE p.supplier = ? AND p.iban = ? AND p.run < ? AND x.state = 'settled')`,
	)
	inProposed = statement(
		`SELECT (SELECT count(*) FROM payment_item i JOIN payment_state x ON x.payment = i.payment
			WHERE i.invoice = ?1 AND x.state = 'proposed') + ` + nettedIn(`'proposed'`),
	)
	lastRejection = statement(
		`SELECT x.reason FROM payment_item i JOIN payment_state x ON x.payment = i.payment
			WHERE i.invoice = ? AND x.state = 'rejected' ORDER BY i.id DESC LIMIT 1`,
	)
	// The entry that put a payment in transit.
	sentUnder = statement(
		`SELECT e.number FROM entry_line l CROSS JOIN entry e ON e.id = l.entry
		WHERE l.role = 'in_transit' AND l.detail = ? AND l.base < 0 ORDER BY l.entry LIMIT 1`,
	)
	addAnswer = statement(`INSERT INTO bank_answer (message, run, paper, at) VALUES (?, ?, ?, ?)`)
	hasAnswer = statement(`SELECT count(*) FROM bank_answer WHERE message = ?`)
)

// asksAhead tells whether an invoice asks for money ahead, by its state (s).
const asksAhead = `EXISTS (SELECT 1 FROM invoice_prepayment z WHERE z.invoice_revision = s.revision)`

// payableRows are invoices of which something can be paid.
var payableRows = `SELECT i.number, r.supplier_number, s.supplier, s.currency, s.open,
		s.total - coalesce((SELECT sum(x.net + x.tax + x.credited) FROM claim c JOIN claim_state x ON x.claim = c.id
		WHERE c.invoice = s.invoice), 0) - coalesce((SELECT sum(k.amount) FROM prepayment_use u
		CROSS JOIN prepayment_taken k ON k.prepayment_use = u.id WHERE u.invoice_revision = s.revision), 0),
		s.due_on, s.discount_until, s.discount, coalesce(n.discounts, 'null'), coalesce(n.instalments, 'null'),
		` + asksAhead + `, EXISTS (SELECT 1 FROM invoice_request z WHERE z.invoice_revision = s.revision), ` + heldFrom(trade.BlocksPaying) + `,
		coalesce((SELECT y.invoice FROM invoice_payee y WHERE y.invoice = s.invoice AND y.payee IS NOT NULL), 0)
		FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision
		LEFT JOIN invoice_plan n ON n.invoice = s.invoice
		`

// netted tells whether a run that is not sent yet takes something off a document for credit notes, or of it.
func netted(document string) string {
	return `EXISTS (SELECT 1 FROM netting n CROSS JOIN netting_state z ON z.netting = n.id
		WHERE (n.invoice = ` + document + ` OR n.credit_note = ` + document + `) AND z.state IN ('proposed', 'approved'))`
}

// partsIn sums what payments of some states take off a document (?1), with their discounts and what is netted beside them.
func partsIn(states string) string {
	return `coalesce((SELECT sum(i.amount + i.discount) FROM payment_item i JOIN payment_state x ON x.payment = i.payment
		WHERE i.invoice = ?1 AND x.state IN (` + states + `)), 0) + ` + nettedIn(states)
}

// nettedIn sums what is netted of a document (?1) in nettings of some states.
func nettedIn(states string) string {
	return `coalesce((SELECT sum(n.amount) FROM netting n CROSS JOIN netting_state z ON z.netting = n.id
		WHERE n.invoice = ?1 AND z.state IN (` + states + `)), 0) + coalesce((SELECT sum(n.amount) FROM netting n
		CROSS JOIN netting_state z ON z.netting = n.id WHERE n.credit_note = ?1 AND z.state IN (` + states + `)), 0)`
}

const nettingRows = `SELECT n.id, coalesce(n.payment, 0), n.run, i.number, ri.supplier_number, c.number, rc.supplier_number, n.amount, z.state,
	sc.invoice_date, si.supplier, p.name, p.code, si.currency
	FROM netting n CROSS JOIN netting_state z ON z.netting = n.id CROSS JOIN invoice i ON i.id = n.invoice
	CROSS JOIN invoice_state si ON si.invoice = n.invoice CROSS JOIN invoice_revision ri ON ri.id = si.revision
	CROSS JOIN invoice c ON c.id = n.credit_note CROSS JOIN invoice_state sc ON sc.invoice = n.credit_note
	CROSS JOIN invoice_revision rc ON rc.id = sc.revision CROSS JOIN supplier p ON p.id = si.supplier `

const runColumns = `SELECT r.id, r.number, r.due_by, r.pay_on, r.iban, r.bic, coalesce(r.made_by, 0),
	coalesce(p.name, 'Lagoon'), r.made_at, x.state, x.version,
	coalesce(x.approved_by, 0), coalesce(q.name, ''), x.approved_at, x.message, coalesce(x.paper, 0),
	EXISTS (SELECT 1 FROM run_urgent z WHERE z.run = r.id)
	FROM payment_run r JOIN run_state x ON x.run = r.id LEFT JOIN person p ON p.id = r.made_by
	LEFT JOIN person q ON q.id = x.approved_by `

// Payables lists released invoices with something open that no run holds which is not sent
// yet; of one that is paid in part the rest is open while the part is on its way.
func (t *Tx) Payables() ([]pay.Payable, error) { return t.payables(payables) }

// Undecided are verified invoices up to a sum that nobody keyed or corrected, and of which nobody has decided anything, by
// number.
func (t *Tx) Undecided(upTo money.Amount) ([]int64, error) {
	return list(t, undecided, scanOne[int64], upTo)
}

// VerifiedPayables lists verified invoices that are not released, in the same way.
func (t *Tx) VerifiedPayables() ([]pay.Payable, error) { return t.payables(verifiedPayables) }

func (t *Tx) payables(which *query) ([]pay.Payable, error) {
	suppliers := map[int64]*trade.Supplier{}
	var keys []int64
	var apart []int64 // row keys of those for which another is paid
	found, err := list(t, which, func(r row) (p pay.Payable, err error) {
		var supplier int64
		var own int64
		var plan InvoicePlan
		var discounts, instalments []byte
		err = r.Scan(
			&p.Invoice,
			&p.SupplierNumber,
			&supplier,
			&p.Currency,
			&p.Open,
			&p.Total,
			&p.Due,
			&p.DiscountUntil,
			&p.Discount,
			&discounts,
			&instalments,
			&p.Ahead,
			&p.Request,
			&p.Held,
			&own,
		)
		if err == nil {
			err = plan.read(discounts, instalments)
		}
		p.Steps, p.Plan = plan.Discounts, plan.Instalments
		keys, apart = append(keys, supplier), append(apart, own)
		return
	})
	for i := range found {
		if err != nil {
			return nil, err
		}
		key := keys[i]
		if suppliers[key] == nil {
			var s trade.Supplier
			if s, err = t.Supplier(key); err == nil {
				s, err = t.PaidAs(s)
			}
			suppliers[key] = &s
		}
		found[i].Supplier = suppliers[key]
		if err == nil && apart[i] != 0 {
			var s trade.Supplier
			if s, err = t.Supplier(key); err == nil {
				s, err = t.PaidFor(s, apart[i])
			}
			found[i].Supplier = &s
		}
	}
	slices.SortStableFunc(found, func(a, b pay.Payable) int {
		return cmp.Or(cmp.Compare(a.Due, b.Due), cmp.Compare(a.Invoice, b.Invoice))
	})
	return found, err
}

// Run is a payment run with where it stands.
type Run struct {
	ID, Number    int64
	DueBy, PayOn  day.Day
	IBAN, BIC     string
	MadeBy        int64
	MadeByName    string
	MadeAt        string
	State         string // proposed, approved, sent, answered, discarded
	Version       int64
	ApprovedBy    int64
	ApprovedName  string
	ApprovedAt    string
	Message, Note string
	Paper         int64
	Urgent        bool  // the bank is to carry it out at once
	Rejected      int64 // how many of its payments the bank rejected; told by Runs
}

// The states of a run.
const (
	RunProposed  = "proposed"
	RunApproved  = "approved"
	RunSent      = "sent"
	RunAnswered  = "answered"
	RunDiscarded = "discarded"
	RunTakenBack = "taken_back" // after its approval, before it was sent
	RunLost      = "lost"       // sent, and never reached the bank
)

// The states of a payment.
const (
	PaymentProposed  = "proposed"
	PaymentApproved  = "approved" // its file is not with the bank yet, and nothing is booked
	PaymentInTransit = "in_transit"
	PaymentSettled   = "settled"
	PaymentRejected  = "rejected"
	PaymentDiscarded = "discarded"
)

func scanRun(r row) (u Run, err error) {
	err = r.Scan(
		&u.ID,
		&u.Number,
		&u.DueBy,
		&u.PayOn,
		&u.IBAN,
		&u.BIC,
		&u.MadeBy,
		&u.MadeByName,
		&u.MadeAt,
		&u.State,
		&u.Version,
		&u.ApprovedBy,
		&u.ApprovedName,
		&u.ApprovedAt,
		&u.Message,
		&u.Paper,
		&u.Urgent,
	)
	return
}

// AddRun writes a proposed run and gives its row key.
func (t *Tx) AddRun(u Run) (int64, error) {
	id, err := t.exec(addRun, u.Number, u.DueBy, u.PayOn, u.IBAN, u.BIC, u.MadeBy, u.MadeAt)
	if err != nil {
		return 0, err
	}
	if u.Urgent {
		if err := t.do(addUrgent, id); err != nil {
			return 0, err
		}
	}
	u.ID, u.State = id, RunProposed
	return id, t.SaveRun(u)
}

// SaveRun writes where a run stands, as its next version.
func (t *Tx) SaveRun(u Run) error {
	return t.do(putRunState, u.ID, u.State, u.Version+1, u.ApprovedBy, u.ApprovedAt, u.Message, u.Paper)
}

// RunByNumber finds a run.
func (t *Tx) RunByNumber(number int64) (Run, error) { return one(t, runByNumber, scanRun, number) }

// RunByMessage finds the run of a payment file by its message id.
func (t *Tx) RunByMessage(message string) (Run, error) {
	return one(t, runByMessage, scanRun, message)
}

// Runs lists runs, the newest first.
func (t *Tx) Runs() ([]Run, error) {
	runs, err := listCut(t, recentRuns, scanRun)
	for i := range runs {
		if err == nil {
			runs[i].Rejected, err = t.number(rejectedIn, runs[i].ID)
		}
	}
	return runs, err
}

// OpenRuns lists the runs that are proposed, approved, or with the bank.
func (t *Tx) OpenRuns() ([]Run, error) { return list(t, openRuns, scanRun) }

// AllRuns lists every run there is.
func (t *Tx) AllRuns() ([]Run, error) { return list(t, allRuns, scanRun) }

// CountRuns counts the runs of a state.
func (t *Tx) CountRuns(state string) (int64, error) { return t.number(countRuns, state) }

// Payment is one payment of a run.
type Payment struct {
	ID           int64
	EndToEnd     string
	Supplier     int64
	SupplierName string
	SupplierCode string
	Currency     money.Currency
	Amount       money.Amount
	Payee        string // who is paid, by name
	IBAN, BIC    string
	State        string
	Reason       string
	Items        []PaymentItem
	Nettings     []Netting
}

// Nothing tells whether nothing is paid: credit notes take off all of it.
func (p Payment) Nothing() bool { return p.ID == 0 }

// Netting takes a part of a credit note off an invoice.
type Netting struct {
	ID, Payment, Run int64 // row keys; no payment: nothing is paid beside it
	Invoice          int64 // number
	SupplierNumber   string
	Credit           int64   // number
	CreditNumber     string  // the supplier's
	Date             day.Day // of the credit note
	Amount           money.Amount
	State            string
	Supplier         int64  // row key
	Name, Code       string // the supplier's
	Currency         money.Currency
}

func scanNetting(r row) (n Netting, err error) {
	err = r.Scan(&n.ID, &n.Payment, &n.Run, &n.Invoice, &n.SupplierNumber, &n.Credit, &n.CreditNumber, &n.Amount, &n.State, &n.Date, &n.Supplier, &n.Name, &n.Code, &n.Currency)
	return
}

// NettingsOf are those of an invoice or a credit note, in all runs.
func (t *Tx) NettingsOf(document int64) ([]Netting, error) {
	of, err1 := list(t, nettingsOfInvoice, scanNetting, document)
	by, err2 := list(t, nettingsOfCredit, scanNetting, document)
	return append(of, by...), errors.Join(err1, err2)
}

// SetNettingState writes where a netting stands.
func (t *Tx) SetNettingState(netting int64, state string) error {
	return t.do(putNetting, netting, state)
}

// AddNetting writes one of a run, by the row keys of its payment (0: nothing is paid), invoice and credit note.
func (t *Tx) AddNetting(run, payment, invoice, credit int64, amount money.Amount) error {
	id, err := t.exec(addNetting, run, payment, invoice, credit, amount)
	if err != nil {
		return err
	}
	return t.SetNettingState(id, PaymentProposed)
}

// OpenNotes are the verified credit notes of which something is open and that no run holds which is not sent yet.
func (t *Tx) OpenNotes() ([]pay.Credit, error) {
	var stated []string
	notes, err := list(t, openNotes, func(r row) (c pay.Credit, err error) {
		var named string
		err = r.Scan(&c.Note, &c.SupplierNumber, &c.Supplier, &c.Currency, &c.Open, &c.Date, &named)
		stated = append(stated, named)
		return
	})
	for i := range notes {
		if err != nil || stated[i] == "" {
			continue
		}
		named, no := t.Credited(notes[i].Supplier, stated[i])
		if notes[i].Names = named.Number; no != nil && !errors.Is(no, ErrNone) {
			err = no
		}
	}
	return notes, err
}

// PaymentItem is what a payment takes off one invoice.
type PaymentItem struct {
	Invoice          int64 // row key
	Number           int64
	SupplierNumber   string
	Amount, Discount money.Amount
	Currency         money.Currency
	Ahead            bool // it asks for money ahead
}

// AddPayment writes a payment of a run with its items, and gives its row key.
func (t *Tx) AddPayment(run int64, p Payment) (int64, error) {
	id, err := t.exec(addPayment, run, p.EndToEnd, p.Supplier, p.Currency, p.Amount, p.Payee, p.IBAN, p.BIC)
	if err != nil {
		return 0, err
	}
	for _, i := range p.Items {
		if err := t.do(addPaymentItem, id, i.Invoice, i.Amount, i.Discount); err != nil {
			return 0, err
		}
	}
	return id, t.SetPaymentState(id, PaymentProposed, "")
}

// SetPaymentState writes where a payment stands.
func (t *Tx) SetPaymentState(payment int64, state, reason string) error {
	if err := t.countPaid(payment, state); err != nil {
		return err
	}
	return t.do(putPayState, payment, state, reason)
}

// Payments lists the payments of a run, and last, without a row key, what credit notes take off whole, by supplier and
// currency.
func (t *Tx) Payments(run int64) ([]Payment, error) {
	found, err := list(t, paymentsOf, func(r row) (p Payment, err error) {
		err = r.Scan(
			&p.ID,
			&p.EndToEnd,
			&p.Supplier,
			&p.SupplierName,
			&p.SupplierCode,
			&p.Currency,
			&p.Amount,
			&p.Payee,
			&p.IBAN,
			&p.BIC,
			&p.State,
			&p.Reason,
		)
		return
	}, run)
	for i := range found {
		if err != nil {
			return nil, err
		}
		found[i].Items, err = list(t, paymentItems, func(r row) (x PaymentItem, err error) {
			err = r.Scan(&x.Invoice, &x.Number, &x.SupplierNumber, &x.Amount, &x.Discount, &x.Currency, &x.Ahead)
			return
		}, found[i].ID)
	}
	if err != nil {
		return nil, err
	}
	nettings, err := list(t, nettingsOfRun, scanNetting, run)
	for _, n := range nettings {
		at := slices.IndexFunc(found, func(p Payment) bool {
			return p.ID == n.Payment && (p.ID != 0 || (p.Supplier == n.Supplier && p.Currency == n.Currency))
		})
		if at < 0 {
			at = len(found)
			found = append(found, Payment{Supplier: n.Supplier, SupplierName: n.Name, SupplierCode: n.Code, Currency: n.Currency, State: n.State})
		}
		found[at].Nettings = append(found[at].Nettings, n)
	}
	return found, err
}

// SettledBefore is what payments under way or confirmed, with their discounts, the credit notes of claims, money ahead and
// payments outside runs take off an invoice.
func (t *Tx) SettledBefore(invoice int64) (money.Amount, error) {
	paid, err1 := t.number(settledParts, invoice)
	credited, err2 := t.number(creditedByClaims, invoice)
	ahead, err3 := t.number(usedSum, invoice)
	otherwise, err4 := t.number(settledOtherwise, invoice)
	return money.Amount(paid + credited + ahead + otherwise), errors.Join(err1, err2, err3, err4)
}

// InTransit counts the payments of an invoice that the bank has not answered.
func (t *Tx) InTransit(invoice int64) (int64, error) { return t.number(inTransit, invoice) }

// RejectedTo tells why the bank last rejected a payment to an account, unless somebody has
// changed or confirmed the account since; empty where nothing was.
func (t *Tx) RejectedTo(supplier int64, iban string) (string, error) {
	reason, err := one(t, rejectedTo, scanOne[string], supplier, iban)
	if errors.Is(err, ErrNone) {
		return "", nil
	}
	return reason, err
}

// PaidBefore tells whether the bank paid anything of its supplier to the account of a payment in a run before this one.
func (t *Tx) PaidBefore(p Payment, run Run) (bool, error) {
	return one(t, paidBefore, scanOne[bool], p.Supplier, p.IBAN, run.ID)
}

// LastRejection tells why the bank rejected the latest payment of an invoice; empty where
// it did not.
func (t *Tx) LastRejection(invoice int64) (string, error) {
	reason, err := one(t, lastRejection, scanOne[string], invoice)
	if errors.Is(err, ErrNone) {
		return "", nil
	}
	return reason, err
}

// InProposedRun tells whether a proposed run holds an invoice.
func (t *Tx) InProposedRun(invoice int64) (bool, error) {
	n, err := t.number(inProposed, invoice)
	return n > 0, err
}

// SentUnder is the entry that put a payment in transit, by its end-to-end id.
func (t *Tx) SentUnder(endToEnd string) (Booked, error) {
	number, err := one(t, sentUnder, scanOne[int64], endToEnd)
	if err != nil {
		return Booked{}, err
	}
	return t.Entry(number)
}

// KeepAnswerOf notes that a bank's message was taken; it is taken once.
func (t *Tx) KeepAnswerOf(message string, run, paper int64, at string) error {
	return t.do(addAnswer, message, run, paper, at)
}

// AnswerTaken tells whether a bank's message was taken before.
func (t *Tx) AnswerTaken(message string) (bool, error) {
	n, err := t.number(hasAnswer, message)
	return n > 0, err
}

// RunApproval is the first of two approvals of a run.
type RunApproval struct {
	By       int64
	Name, At string
}

// AddRunApproval writes it.
func (t *Tx) AddRunApproval(run, by int64, at string) error { return t.do(addRunApproval, run, by, at) }

// FirstApproval is the first of two approvals of a run, or nil.
func (t *Tx) FirstApproval(run int64) (*RunApproval, error) {
	all, err := list(t, firstApproval, func(r row) (a RunApproval, err error) {
		err = r.Scan(&a.By, &a.Name, &a.At)
		return
	}, run)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	return &all[0], nil
}
