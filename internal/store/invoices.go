package store

import (
	"cmp"
	"encoding/json"
	"errors"
	"maps"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// InvoiceState is where an invoice stands, with what lists show of it.
type InvoiceState struct {
	Invoice       int64 // row key
	State         trade.InvoiceState
	Since         string
	Version       int64
	Revision      int64 // row key of the revision in force
	MatchRun      int64
	Supplier      int64
	NumberKey     string
	Order         int64
	Currency      money.Currency
	Total         money.Amount
	TotalBase     money.Amount // payables in company currency, once verified
	Date          day.Day
	Due           day.Day
	DiscountUntil day.Day
	Discount      money.Amount
	Open          money.Amount // what is still to be paid, once verified
	Blocked       bool         // may not be released
	Turn          string       // whose turn it is
	Summary       string
	CheckedAt     string
}

var (
	addInvoice = statement(
		`INSERT INTO invoice (number, source, paper, captured_on, captured_at, captured_by)
			VALUES (?, ?, nullif(?, 0), ?, ?, nullif(?, 0))`,
	)
	addRevision = statement(
		`INSERT INTO invoice_revision (invoice, revision, kind, supplier, supplier_stated, tax_id_stated,
		supplier_number, invoice_date, posting_day, currency, rate,
		order_stated, purchase_order, stated_total, prepaid, iban, due_stated, code, rounded, payment_reference,
		figures, about, note, made_by, made_at, reason)
		VALUES (?, ?, ?, nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0),
		?, ?)`,
	)
	addAddressee   = statement(`INSERT INTO invoice_addressee (invoice_revision, name, tax_id) VALUES (?, ?, ?)`)
	addPage        = statement(`INSERT INTO invoice_page (invoice_revision, number, total, iban) VALUES (?, ?, ?, ?)`)
	addFinal       = statement(`INSERT INTO invoice_final (invoice_revision) VALUES (?)`)
	addInvoiceLine = statement(
		`INSERT INTO invoice_line (invoice_revision, no, purchase_order, order_stated, order_line, order_line_ref,
		supplier_code, item_code, description, quantity, unit, price, base, discount, charge,
		tax_category, tax_rate, charge_kind) VALUES (?, ?, nullif(?, 0), ?, nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, ?,
		?, ?, ?, ?)`,
	)
	addInvoiceOrder = statement(
		`INSERT INTO invoice_order (purchase_order, kind, invoice, invoice_revision, amount) VALUES (?, ?, ?, ?, ?)`,
	)
	addInvoiceCharge = statement(
		`INSERT INTO invoice_charge (invoice_revision, no, allowance, kind, reason, amount, tax_category,
			tax_rate) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	addInvoiceTax = statement(
		`INSERT INTO invoice_tax (invoice_revision, no, category, rate, amount) VALUES (?, ?, ?, ?, ?)`,
	)
	addInvoiceState = statement(
		`INSERT INTO invoice_state (invoice, state, since, version, revision, match_run, supplier, number_key,
		purchase_order, currency, total, total_base, invoice_date, due_on,
		discount_until, discount, open, blocked, turn, summary, checked_at)
		VALUES (?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?, nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (invoice) DO UPDATE SET state = excluded.state, since = excluded.since,
		version = excluded.version, revision = excluded.revision, match_run = excluded.match_run,
		supplier = excluded.supplier, number_key = excluded.number_key, purchase_order = excluded.purchase_order,
		currency = excluded.currency, total = excluded.total, total_base = excluded.total_base,
		invoice_date = excluded.invoice_date, due_on = excluded.due_on, discount_until = excluded.discount_until,
		discount = excluded.discount, open = excluded.open,
		blocked = excluded.blocked, turn = excluded.turn, summary = excluded.summary, checked_at = excluded.checked_at`,
	)
	checkedAt       = statement(`UPDATE invoice_state SET checked_at = ?2 WHERE invoice = ?1`)
	getInvoiceState = statement(
		`SELECT invoice, state, since, version, revision, coalesce(match_run, 0), coalesce(supplier, 0), number_key,
		coalesce(purchase_order, 0), currency, total, total_base, invoice_date, due_on,
		discount_until, discount, open, blocked, turn, summary, checked_at FROM invoice_state WHERE invoice = ?`,
	)
	invoiceIDOf = statement(`SELECT id FROM invoice WHERE number = ?`)
	getInvoice  = statement(
		`SELECT i.id, i.number, i.source, i.captured_on, r.revision, ` + kindOf + `, coalesce(r.supplier, 0),
		r.supplier_stated, r.tax_id_stated, r.supplier_number, r.invoice_date, r.posting_day, r.currency, r.rate,
		r.order_stated, coalesce(r.purchase_order, 0), r.stated_total, r.prepaid, r.iban, r.due_stated, r.code,
		r.rounded, r.payment_reference, r.figures, r.about, r.note,
		coalesce((SELECT c.stated FROM invoice_credit c WHERE c.invoice_revision = r.id), ''), coalesce(a.name, ''),
		coalesce(a.tax_id, ''), coalesce((SELECT p.day FROM invoice_tax_point p WHERE p.invoice_revision = r.id), ''),
		EXISTS (SELECT 1 FROM invoice_final f WHERE f.invoice_revision = r.id),
		coalesce(g.number, ''), coalesce(g.total, 0), coalesce(g.iban, '')
		FROM invoice i JOIN invoice_revision r ON r.invoice = i.id LEFT JOIN invoice_page g ON g.invoice_revision = r.id
		LEFT JOIN invoice_addressee a ON a.invoice_revision = r.id WHERE r.id = ?`,
	)
	invoiceLines = statement(
		`SELECT id, no, coalesce(purchase_order, 0), order_stated, coalesce(order_line, 0), order_line_ref,
		supplier_code, item_code, description, quantity, unit, price, base, discount, charge, tax_category, tax_rate,
		charge_kind, coalesce((SELECT c.what FROM invoice_line_credit c WHERE c.invoice_line = invoice_line.id), ''),
		EXISTS (SELECT 1 FROM invoice_line_coding x WHERE x.invoice_line = invoice_line.id)
		OR EXISTS (SELECT 1 FROM invoice_line_tax x WHERE x.invoice_line = invoice_line.id)
		OR EXISTS (SELECT 1 FROM invoice_line_deferral x WHERE x.invoice_line = invoice_line.id)
		OR EXISTS (SELECT 1 FROM invoice_line_note x WHERE x.invoice_line = invoice_line.id)
		FROM invoice_line WHERE invoice_revision = ? ORDER BY no`,
	)
	invoiceCharges = statement(
		`SELECT allowance, kind, reason, amount, tax_category, tax_rate FROM invoice_charge
			WHERE invoice_revision = ? ORDER BY no`,
	)
	invoiceTaxes = statement(`SELECT category, rate, amount FROM invoice_tax WHERE invoice_revision = ? ORDER BY no`)
	captureFacts = statement(
		`SELECT i.captured_at, coalesce(i.captured_by, 0), coalesce(i.paper, 0), coalesce(r.made_by, 0), coalesce(p.media_type, '')
			FROM invoice i JOIN invoice_state s ON s.invoice = i.id
			JOIN invoice_revision r ON r.id = s.revision LEFT JOIN paper p ON p.id = i.paper WHERE i.id = ?`,
	)
	revisionMakers = statement(
		`SELECT DISTINCT made_by FROM invoice_revision WHERE invoice = ? AND made_by IS NOT NULL`,
	)
	sameNumber = statement(
		`SELECT s.invoice, s.revision, i.number, r.supplier_number, s.invoice_date, s.total, i.captured_on
		FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision
		WHERE s.supplier = ? AND s.number_key = ? AND s.invoice <> ? AND r.kind = ?
		AND s.state NOT IN ` + isEnded + ` ORDER BY s.invoice`,
	)
	// Two questions, as each stops at its limit in the order of the index.
	numberOfOne    = statement(numbered + `s.supplier = ?2 LIMIT 20`)
	numberOfOthers = statement(numbered + `s.supplier <> ?2 LIMIT 20`)
	// Open invoices that took this one for the first of two copies.
	alikeAfter = statement(
		`SELECT invoice FROM invoice_state WHERE supplier = ?1 AND number_key = ?2 AND revision > ?5
		AND invoice <> ?6 AND state IN ` + isUnsettled + `
		UNION SELECT invoice FROM invoice_state
		WHERE supplier = ?1 AND total = ?3 AND invoice_date = ?4 AND currency = ?7 AND revision > ?5
		AND invoice <> ?6 AND state IN ` + isUnsettled,
	)
	sameAmount = statement(
		`SELECT i.number, r.supplier_number FROM invoice_state s JOIN invoice i ON i.id = s.invoice
		JOIN invoice_revision r ON r.id = s.revision
		WHERE s.supplier = ? AND s.total = ? AND s.invoice_date = ? AND s.revision < ? AND s.invoice <> ?
		AND s.currency = ? AND r.kind = ? AND s.state NOT IN ` + isEnded + ` ORDER BY s.invoice`,
	)
	getAcceptances = statement(
		`SELECT a.id, a.kind, a.line, a.side, a.other, a.order_number, a.charge, a.difference, a.excess, a.note,
		p.name, a.at FROM acceptance a JOIN person p ON p.id = a.by_person WHERE a.revision = ?
		AND NOT EXISTS (SELECT 1 FROM acceptance_lapse l WHERE l.acceptance = a.id) ORDER BY a.id`,
	)
	addLapse  = statement(`INSERT INTO acceptance_lapse (acceptance, at) VALUES (?, ?)`)
	samePaper = statement(
		`SELECT i.number FROM paper p JOIN invoice i ON i.paper = p.id JOIN invoice_state s ON s.invoice = i.id
			WHERE p.sha256 = ? AND s.state NOT IN ` + isEnded + ` LIMIT 1`,
	)
	addAcceptance = statement(
		`INSERT INTO acceptance (invoice, revision, kind, line, side, other, order_number, charge, difference,
			difference_base, excess, note, by_person, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	acceptedBy = statement(
		`SELECT kind, line, side, other, order_number, charge, max(difference_base) FROM acceptance a
		WHERE revision = ? AND by_person = ?
		AND NOT EXISTS (SELECT 1 FROM acceptance_lapse l WHERE l.acceptance = a.id)
		GROUP BY kind, line, side, other, order_number, charge`,
	)
	lastAccepted = statement(
		`SELECT i.number, s.invoice_date, s.currency, a.difference, p.name, a.at, a.note FROM acceptance a
		CROSS JOIN invoice_state s ON s.invoice = a.invoice AND s.revision = a.revision
		JOIN invoice i ON i.id = s.invoice JOIN person p ON p.id = a.by_person
		WHERE a.kind = ?1 AND a.side = ?2 AND s.supplier = ?3 AND a.invoice <> ?4
		AND NOT EXISTS (SELECT 1 FROM acceptance_lapse l WHERE l.acceptance = a.id) ORDER BY a.id DESC LIMIT 1`,
	)
	addMatchRun = statement(
		`INSERT INTO match_run (invoice, revision, at, cause, verdict, findings) VALUES (?, ?, ?, ?, ?, ?)`,
	)
	getMatchRun = statement(`SELECT id, at, cause, verdict, findings FROM match_run WHERE id = ?`)
	decisionsOf = statement(
		`SELECT d.decision, d.reason, coalesce(p.name, 'Lagoon'), d.at FROM invoice_decision d
			LEFT JOIN person p ON p.id = d.by_person WHERE d.invoice = ? ORDER BY d.id`,
	)
	addDecision = statement(
		`INSERT INTO invoice_decision (invoice, decision, reason, by_person, at) VALUES (?, ?, ?, nullif(?, 0), ?)`,
	)
	touchedBy = statement(
		`SELECT x.invoice FROM invoice_order x CROSS
		JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		WHERE x.purchase_order = ? AND x.kind = '' AND s.state IN ` + isUnsettled + ` ORDER BY x.invoice`,
	)
	unsettledOpen = statement(
		`SELECT invoice FROM invoice_state WHERE supplier IS NULL AND state IN ` + isUnsettled,
	)
	unsettledFree = statement(
		`SELECT invoice FROM invoice_state WHERE supplier = ? AND purchase_order IS NULL
			AND state IN ` + isUnsettled,
	)
	unsettledOf = statement(
		`SELECT invoice FROM invoice_state WHERE state = 'captured' AND +supplier = ?1 UNION ALL SELECT invoice
		FROM invoice_state WHERE state = 'waiting' AND +supplier = ?1
		UNION ALL SELECT invoice FROM invoice_state WHERE state = 'held' AND +supplier = ?1`,
	)
	unsettled = statement(
		`SELECT invoice FROM invoice_state WHERE state = 'captured' UNION ALL SELECT invoice FROM invoice_state
			WHERE state = 'waiting' UNION ALL SELECT invoice FROM invoice_state WHERE state = 'held'`,
	)
)

// AddInvoice writes an invoice's head and gives its row key.
func (t *Tx) AddInvoice(inv trade.Invoice, paper int64, at string, by int64) (int64, error) {
	return t.exec(addInvoice, inv.Number, inv.Source, paper, inv.CapturedOn, at, by)
}

// AddRevision writes what an invoice says and gives the revision's row key; the
// lines get theirs.
func (t *Tx) AddRevision(inv trade.Invoice, by int64, at, reason string) (int64, error) {
	figures, err := json.Marshal(inv.Figures)
	if err != nil {
		return 0, err
	}
	id, err := t.exec(
		addRevision,
		inv.ID,
		inv.Revision,
		series(inv.Kind),
		inv.SupplierID,
		inv.SupplierStated,
		inv.TaxIDStated,
		inv.SupplierNumber,
		inv.Date,
		inv.PostingDay,
		inv.Currency,
		inv.Rate,
		inv.OrderStated,
		inv.OrderID,
		inv.StatedTotal,
		inv.Prepaid,
		inv.IBAN,
		inv.DueStated,
		inv.Code,
		inv.Rounded,
		inv.PaymentReference,
		string(figures),
		inv.About,
		inv.Note,
		by,
		at,
		reason,
	)
	if err != nil {
		return 0, err
	}
	for i := range inv.Lines {
		l := &inv.Lines[i]
		if l.ID, err = t.exec(addInvoiceLine, id, l.No, l.OrderID, l.OrderStated, l.OrderLineID, l.OrderLineRef, l.SupplierCode, l.ItemCode, l.Description, l.Quantity, l.Unit, l.Price, l.Base, l.Discount, l.Charge,
			l.TaxCategory, l.TaxRate, l.ChargeKind); err != nil {
			return 0, err
		}
	}
	if inv.AddressedTo != "" || inv.AddresseeTaxID != "" {
		if err := t.do(addAddressee, id, inv.AddressedTo, inv.AddresseeTaxID); err != nil {
			return 0, err
		}
	}
	if inv.Page != (trade.PageSays{}) {
		if err := t.do(addPage, id, inv.Page.Number, inv.Page.Total, inv.Page.IBAN); err != nil {
			return 0, err
		}
	}
	if inv.Final {
		if err := t.do(addFinal, id); err != nil {
			return 0, err
		}
	}
	if err := errors.Join(t.addCodings(inv.Lines), t.addTaxes(inv, id), t.addDeferrals(inv.Lines), t.addNotes(inv.Lines), t.addCredit(inv, id), t.addAhead(inv, id)); err != nil {
		return 0, err
	}
	if err := t.addInvoiceOrders(inv, id); err != nil {
		return 0, err
	}
	for i, c := range inv.Charges {
		if err := t.do(addInvoiceCharge, id, i+1, c.Allowance, c.Kind, c.Reason, c.Amount, c.TaxCategory, c.TaxRate); err != nil {
			return 0, err
		}
	}
	for i, x := range inv.Taxes {
		if err := t.do(addInvoiceTax, id, i+1, x.Category, x.Rate, x.Amount); err != nil {
			return 0, err
		}
	}
	return id, nil
}

// addInvoiceOrders writes which orders a revision is about, with what.
func (t *Tx) addInvoiceOrders(inv trade.Invoice, revision int64) error {
	totals, err := inv.Totals()
	if err != nil {
		return err
	}
	for _, share := range inv.Shares(totals) {
		if err := t.do(addInvoiceOrder, share.OrderID, "", inv.ID, revision, share.Goods); err != nil {
			return err
		}
		charges := share.ByKind()
		for _, kind := range slices.Sorted(maps.Keys(charges)) {
			if err := t.do(addInvoiceOrder, share.OrderID, kind, inv.ID, revision, charges[kind]); err != nil {
				return err
			}
		}
	}
	return nil
}

// SaveInvoiceState writes where an invoice stands.
func (t *Tx) SaveInvoiceState(s InvoiceState) error {
	if err := t.noteInvoice(s.Invoice); err != nil {
		return err
	}
	return t.do(
		addInvoiceState,
		s.Invoice,
		s.State,
		s.Since,
		s.Version,
		s.Revision,
		s.MatchRun,
		s.Supplier,
		s.NumberKey,
		s.Order,
		s.Currency,
		s.Total,
		s.TotalBase,
		s.Date,
		s.Due,
		s.DiscountUntil,
		s.Discount,
		s.Open,
		s.Blocked,
		s.Turn,
		s.Summary,
		s.CheckedAt,
	)
}

// CheckedAt notes that an invoice was matched and nothing came of it.
func (t *Tx) CheckedAt(invoice int64, at string) error { return t.do(checkedAt, invoice, at) }

// InvoiceState reads where an invoice stands.
func (t *Tx) InvoiceState(invoice int64) (InvoiceState, error) {
	return one(t, getInvoiceState, func(r row) (s InvoiceState, err error) {
		err = r.Scan(
			&s.Invoice,
			&s.State,
			&s.Since,
			&s.Version,
			&s.Revision,
			&s.MatchRun,
			&s.Supplier,
			&s.NumberKey,
			&s.Order,
			&s.Currency,
			&s.Total,
			&s.TotalBase,
			&s.Date,
			&s.Due,
			&s.DiscountUntil,
			&s.Discount,
			&s.Open,
			&s.Blocked,
			&s.Turn,
			&s.Summary,
			&s.CheckedAt,
		)
		return
	}, invoice)
}

// InvoiceID is the row key of an invoice by Lagoon's number, or ErrNone.
func (t *Tx) InvoiceID(number int64) (int64, error) {
	if id, known := t.memo.numbers[number]; known {
		return id, nil
	}
	id, err := one(t, invoiceIDOf, scanOne[int64], number)
	if err == nil {
		if t.memo.numbers == nil || len(t.memo.numbers) >= mostRemembered {
			t.memo.numbers = map[int64]int64{}
		}
		t.memo.numbers[number] = id
	}
	return id, err
}

// mostRemembered is how many invoices a transaction keeps at most that it has read.
const mostRemembered = 10_000

// Invoice reads an invoice as a revision says it. A revision never changes, so that a transaction reads it once.
func (t *Tx) Invoice(revision int64) (trade.Invoice, error) {
	inv, read := t.memo.invoices[revision]
	if !read {
		var err error
		if inv, err = t.readInvoice(revision); err != nil {
			return inv, err
		}
		if t.memo.invoices == nil || len(t.memo.invoices) >= mostRemembered {
			t.memo.invoices = map[int64]trade.Invoice{}
		}
		t.memo.invoices[revision] = inv
	}
	inv.Lines, inv.Charges, inv.Taxes = slices.Clone(inv.Lines), slices.Clone(inv.Charges), slices.Clone(inv.Taxes)
	return inv, nil
}

func (t *Tx) readInvoice(revision int64) (trade.Invoice, error) {
	inv, err := one(t, getInvoice, func(r row) (i trade.Invoice, err error) {
		var figures []byte
		err = r.Scan(
			&i.ID,
			&i.Number,
			&i.Source,
			&i.CapturedOn,
			&i.Revision,
			&i.Kind,
			&i.SupplierID,
			&i.SupplierStated,
			&i.TaxIDStated,
			&i.SupplierNumber,
			&i.Date,
			&i.PostingDay,
			&i.Currency,
			&i.Rate,
			&i.OrderStated,
			&i.OrderID,
			&i.StatedTotal,
			&i.Prepaid,
			&i.IBAN,
			&i.DueStated,
			&i.Code,
			&i.Rounded,
			&i.PaymentReference,
			&figures,
			&i.About,
			&i.Note,
			&i.Credited,
			&i.AddressedTo,
			&i.AddresseeTaxID,
			&i.TaxPoint,
			&i.Final,
			&i.Page.Number,
			&i.Page.Total,
			&i.Page.IBAN,
		)
		if err == nil {
			err = json.Unmarshal(figures, &i.Figures)
		}
		return
	}, revision)
	if err != nil {
		return inv, err
	}
	var more bool // stands about a line
	if inv.Lines, err = list(t, invoiceLines, func(r row) (l trade.InvoiceLine, err error) {
		var about bool
		err = r.Scan(&l.ID, &l.No, &l.OrderID, &l.OrderStated, &l.OrderLineID, &l.OrderLineRef, &l.SupplierCode, &l.ItemCode, &l.Description, &l.Quantity, &l.Unit, &l.Price, &l.Base, &l.Discount, &l.Charge, &l.TaxCategory, &l.TaxRate, &l.ChargeKind, &l.Credits, &about)
		more = more || about
		return
	}, revision); err != nil {
		return inv, err
	}
	if more {
		if err := errors.Join(t.codings(revision, inv.Lines), t.taxes(revision, inv.Lines), t.deferrals(revision, inv.Lines), t.notes(revision, inv.Lines)); err != nil {
			return inv, err
		}
	}
	if err := t.ahead(&inv, revision); err != nil {
		return inv, err
	}
	if inv.Charges, err = list(t, invoiceCharges, func(r row) (c trade.DocumentCharge, err error) {
		err = r.Scan(&c.Allowance, &c.Kind, &c.Reason, &c.Amount, &c.TaxCategory, &c.TaxRate)
		return
	}, revision); err != nil {
		return inv, err
	}
	inv.Taxes, err = list(t, invoiceTaxes, func(r row) (x trade.StatedTax, err error) {
		err = r.Scan(&x.Category, &x.Rate, &x.Amount)
		return
	}, revision)
	return inv, err
}

// intoLines reads what stands about the lines of a revision, in their order, each into its line.
func (t *Tx) intoLines(
	query *query, revision int64, lines []trade.InvoiceLine, read func(row) (no int, put func(*trade.InvoiceLine), err error),
) error {
	at := 0
	_, err := list(t, query, func(r row) (none struct{}, err error) {
		no, put, err := read(r)
		for at < len(lines) && lines[at].No < no {
			at++
		}
		if err == nil && at < len(lines) && lines[at].No == no {
			put(&lines[at])
		}
		return none, err
	}, revision)
	return err
}

// Capture is how an invoice came in.
type Capture struct {
	At        string
	By, Paper int64
	MediaType string // of the paper
	MadeBy    int64  // who made the revision in force
}

// Capture reads how an invoice came in.
func (t *Tx) Capture(invoice int64) (Capture, error) {
	return one(t, captureFacts, func(r row) (c Capture, err error) {
		err = r.Scan(&c.At, &c.By, &c.Paper, &c.MadeBy, &c.MediaType)
		return
	}, invoice)
}

// ReleaseTakenBack is the decision that a release stands no more.
const ReleaseTakenBack trade.InvoiceState = "taken_back"

// Makers are all who keyed or corrected the invoice.
func (t *Tx) Makers(invoice int64) ([]int64, error) {
	return list(t, revisionMakers, scanOne[int64], invoice)
}

// SameNumber is an invoice of a supplier under the same normal number.
type SameNumber struct {
	Invoice        int64 // row key
	Revision       int64 // row key of the one in force
	Number         int64
	SupplierNumber string
	Date           day.Day
	Total          money.Amount
	CapturedOn     day.Day
}

// SameNumbers lists standing invoices of the supplier with the same normal number.
func (t *Tx) SameNumbers(supplier int64, key string, kind trade.InvoiceKind, except int64) ([]SameNumber, error) {
	return list(t, sameNumber, func(r row) (s SameNumber, err error) {
		err = r.Scan(&s.Invoice, &s.Revision, &s.Number, &s.SupplierNumber, &s.Date, &s.Total, &s.CapturedOn)
		return
	}, supplier, key, except, series(kind))
}

var numbered = `SELECT i.number, r.supplier_number, p.name, s.invoice_date, s.total, s.currency, i.captured_on
	FROM invoice_state s JOIN invoice i ON i.id = s.invoice
	JOIN invoice_revision r ON r.id = s.revision JOIN supplier p ON p.id = s.supplier
	WHERE s.number_key = ?1 AND s.state NOT IN ` + isEnded + ` AND `

// Numbered is an invoice that stands under a number, whoever sent it.
type Numbered struct {
	SameNumber
	SupplierName string
	Currency     money.Currency
}

// NumberGiven lists standing invoices under a normal number: the supplier's, and those of
// others.
func (t *Tx) NumberGiven(supplier int64, key string) (its, others []Numbered, err error) {
	scan := func(r row) (n Numbered, err error) {
		err = r.Scan(&n.Number, &n.SupplierNumber, &n.SupplierName, &n.Date, &n.Total, &n.Currency, &n.CapturedOn)
		return
	}
	its, err1 := list(t, numberOfOne, scan, key, supplier)
	others, err2 := list(t, numberOfOthers, scan, key, supplier)
	return its, others, errors.Join(err1, err2)
}

// Known is what was read already of an invoice that is just being captured or
// corrected: nobody has accepted anything of it yet.
type Known struct {
	Orders []*trade.Order // nil where they were not read; with the claims of all earlier invoices
	Same   []SameNumber
}

// ownTo are the people whose own an invoice is. It is asked only where a limit that could
// apply waits for somebody to confirm it, which is seldom.
func (t *Tx) ownTo(inv trade.Invoice, facts match.Facts) ([]int64, error) {
	waits := func(book limit.Book) bool {
		return slices.ContainsFunc(book, func(r limit.Rule) bool { return r.By != 0 })
	}
	if !waits(facts.Limits) && !slices.ContainsFunc(facts.Orders, func(o *trade.Order) bool {
		return slices.ContainsFunc(o.Lines, func(l *trade.OrderLine) bool { return waits(l.Limits) })
	}) {
		return nil, nil
	}
	own, err := t.Makers(inv.ID)
	for _, o := range facts.Orders {
		buyers, err2 := t.OrderMakers(o.ID)
		own, err = append(own, buyers...), errors.Join(err, err2)
	}
	return own, err
}

// MatchFacts reads everything that the verdict on an invoice depends on. Known is nil
// where nothing was read before.
func (t *Tx) MatchFacts(inv trade.Invoice, revision int64, known *Known) (match.Facts, error) {
	facts := match.Facts{Invoice: inv}
	if known != nil {
		facts.Orders = known.Orders
	}
	company, err := t.Company()
	if err != nil {
		return facts, err
	}
	facts.Policy, facts.Company = company.Policy, company.Currency
	facts.Name, facts.TaxID = company.Name, company.TaxID
	if inv.Charged() {
		if facts.Charges, err = t.ChargeKinds(); err != nil {
			return facts, err
		}
	}
	if inv.SupplierID != 0 {
		supplier, err := t.Supplier(inv.SupplierID)
		if err != nil {
			return facts, err
		}
		if supplier, err = t.PaidFor(supplier, inv.ID); err != nil {
			return facts, err
		}
		if inv.IBAN != "" && inv.IBAN != supplier.IBAN { // most ask to be paid where they are paid
			if supplier.Accounts, err = t.AccountsNamed(supplier); err != nil {
				return facts, err
			}
		}
		facts.Supplier = &supplier
	}
	if facts.Orders == nil {
		if facts.Orders, err = t.OrdersOf(inv, cmp.Or(inv.ID, AllReserved)); err != nil {
			return facts, err
		}
	}
	if err := t.unitsFor(inv, facts.Orders); err != nil {
		return facts, err
	}
	if len(facts.Orders) > 0 {
		facts.Limits = facts.Orders[0].Limits
	} else if facts.Limits, err = t.SupplierLimits(inv.SupplierID); err != nil {
		return facts, err
	}
	if err := t.strangers(inv, &facts); err != nil {
		return facts, err
	}
	if facts.OnHold, err = t.onHold(inv); err != nil {
		return facts, err
	}
	if facts.Own, err = t.ownTo(inv, facts); err != nil {
		return facts, err
	}
	if facts.Supplier != nil {
		if facts.Lookalikes, err = t.lookalikes(inv, revision, known); err != nil {
			return facts, err
		}
	}
	if err := t.CreditFacts(inv, &facts); err != nil {
		return facts, err
	}
	if err := t.aheadFacts(inv, revision, &facts); err != nil {
		return facts, err
	}
	if revision == 0 || known != nil {
		return facts, nil
	}
	if _, err := t.ApprovalOf(revision); err == nil {
		facts.Approved = true
	} else if !errors.Is(err, ErrNone) {
		return facts, err
	}
	if facts.Acceptances, err = t.Acceptances(revision); err != nil || inv.Kind == trade.CreditNote {
		return facts, err
	}
	claims, err := t.ClaimsOf(inv.ID)
	for _, c := range claims {
		if c.Pending && c.Revision == revision {
			facts.Claims = append(facts.Claims, c.Lines...)
		}
	}
	return facts, err
}

// onHold are the holds that keep an invoice from being verified: on itself, on its orders, or on lines that it bills.
func (t *Tx) onHold(inv trade.Invoice) ([]match.OnHold, error) {
	holds, err := list(t, holdsVerifying, scanHold)
	var all []match.OnHold
	for _, h := range holds {
		on := match.OnHold{Order: h.OrderNumber, Reason: h.Reason, Note: h.Note, By: h.ByName, Clears: h.Clears}
		at := slices.IndexFunc(inv.Lines, func(l trade.InvoiceLine) bool { return h.OrderLine != 0 && l.OrderLineID == h.OrderLine })
		switch {
		case at >= 0:
			on.Line = inv.Lines[at].No
		case h.OrderLine != 0, h.Order != 0 && !slices.Contains(inv.Concerns(), h.Order), h.Order == 0 && h.Invoice != inv.ID:
			continue
		}
		if h.Reason == finding.QuestionHold {
			q, no := t.QuestionOfHold(h.ID)
			if no != nil {
				return nil, no
			}
			on.Clears = q.Whom()
		}
		all = append(all, on)
	}
	return all, err
}

// OrdersOf reads the orders that an invoice is about, its own first, with the claims of
// invoices captured before one.
func (t *Tx) OrdersOf(inv trade.Invoice, before int64) ([]*trade.Order, error) {
	var orders []*trade.Order
	for _, id := range inv.Concerns() {
		o, err := t.Order(id, before)
		if err != nil {
			return nil, err
		}
		orders = append(orders, o)
	}
	return orders, nil
}

// unitsFor gives the orders the conversions of their items where the invoice counts in another
// unit, which is seldom.
func (t *Tx) unitsFor(inv trade.Invoice, orders []*trade.Order) error {
	for _, o := range orders {
		if slices.ContainsFunc(inv.Lines, func(l trade.InvoiceLine) bool {
			ordered := o.LineByID(l.OrderLineID)
			return ordered != nil && ordered.Unit != l.Unit && ordered.Units == nil
		}) {
			if err := t.FillUnits(o); err != nil {
				return err
			}
		}
	}
	return nil
}

// AlikeAfter lists open invoices, entered or corrected after a revision of this one, that
// may be second copies of it.
func (t *Tx) AlikeAfter(inv trade.Invoice, revision int64) ([]int64, error) {
	return list(
		t,
		alikeAfter,
		scanOne[int64],
		inv.SupplierID,
		trade.NormalNumber(inv.SupplierNumber),
		inv.StatedTotal,
		inv.Date,
		revision,
		inv.ID,
		inv.Currency,
	)
}

// lookalikes are invoices entered or corrected before this revision that it may be a
// second copy of: the same normal number, or the same amount, currency and day under a like
// one.
func (t *Tx) lookalikes(inv trade.Invoice, revision int64, known *Known) ([]match.Other, error) {
	key := trade.NormalNumber(inv.SupplierNumber)
	if known == nil {
		same, err := t.SameNumbers(inv.SupplierID, key, inv.Kind, inv.ID)
		if err != nil {
			return nil, err
		}
		known = &Known{Same: same}
	}
	before := revision
	if before == 0 {
		before = AllReserved
	}
	var others []match.Other
	for _, s := range known.Same {
		if s.Revision < before {
			others = append(others, match.Other{Number: s.Number, SupplierNumber: s.SupplierNumber})
		}
	}
	alike, err := list(t, sameAmount, func(r row) (o match.Other, err error) {
		err = r.Scan(&o.Number, &o.SupplierNumber)
		return
	}, inv.SupplierID, inv.StatedTotal, inv.Date, before, inv.ID, inv.Currency, series(inv.Kind))
	for _, o := range alike {
		if trade.LikeNumber(o.SupplierNumber, inv.SupplierNumber) {
			others = append(others, o)
		}
	}
	return others, err
}

// HasPaper names the standing invoice that came as just these bytes, or ErrNone.
func (t *Tx) HasPaper(content []byte) (int64, error) {
	return one(t, samePaper, scanOne[int64], hashOf(content))
}

// Acceptances are the decisions on a revision.
func (t *Tx) Acceptances(revision int64) ([]finding.Acceptance, error) {
	return list(t, getAcceptances, func(r row) (a finding.Acceptance, err error) {
		err = r.Scan(
			&a.ID,
			&a.Kind,
			&a.Line,
			&a.Side,
			&a.Other,
			&a.Order,
			&a.Charge,
			&a.Difference,
			&a.Excess,
			&a.Note,
			&a.By,
			&a.On,
		)
		return
	}, revision)
}

// Precedent is how a difference of a kind was accepted on an earlier invoice of the same supplier.
type Precedent struct {
	Invoice    int64 // number
	Date       day.Day
	Currency   money.Currency
	Difference money.Amount // in the invoice's currency
	By, At     string
	Note       string
}

// LastAccepted is the latest acceptance of a finding's kind and side on another invoice of a supplier; ErrNone where there
// is none.
func (t *Tx) LastAccepted(f finding.Finding, supplier, invoice int64) (Precedent, error) {
	return one(t, lastAccepted, func(r row) (p Precedent, err error) {
		err = r.Scan(&p.Invoice, &p.Date, &p.Currency, &p.Difference, &p.By, &p.At, &p.Note)
		return
	}, f.Kind, f.Side(), supplier, invoice)
}

// LapseAcceptance notes that an acceptance answers nothing any more.
func (t *Tx) LapseAcceptance(id int64, at string) error { return t.do(addLapse, id, at) }

// AddAcceptance writes a person's decision that a finding may stand.
func (t *Tx) AddAcceptance(
	invoice, revision int64,
	a finding.Acceptance,
	base money.Amount,
	by int64,
	at string,
) error {
	return t.do(
		addAcceptance,
		invoice,
		revision,
		a.Kind,
		a.Line,
		a.Side,
		a.Other,
		a.Order,
		a.Charge,
		a.Difference,
		base,
		a.Excess,
		a.Note,
		by,
		at,
	)
}

// AcceptedBy are the findings that a person has accepted on a revision, with their
// differences in company currency.
func (t *Tx) AcceptedBy(revision, person int64) ([]finding.Finding, error) {
	return list(t, acceptedBy, func(r row) (f finding.Finding, err error) {
		var side limit.Side
		var other int64
		err = r.Scan(&f.Kind, &f.Line, &side, &other, &f.Order, &f.Charge, &f.Difference)
		f.Bound, f.Reference = &limit.Bound{Side: side}, money.Int(other)
		return
	}, revision, person)
}

// MatchRun is one match with its outcome.
type MatchRun struct {
	ID        int64
	At, Cause string
	Verdict   finding.Verdict
	Findings  []finding.Finding
}

// AddMatchRun writes a match of an invoice.
func (t *Tx) AddMatchRun(invoice, revision int64, run MatchRun) (int64, error) {
	data, err := json.Marshal(run.Findings)
	if err != nil {
		return 0, err
	}
	return t.exec(addMatchRun, invoice, revision, run.At, run.Cause, run.Verdict, string(data))
}

// MatchRun reads a match.
func (t *Tx) MatchRun(id int64) (MatchRun, error) {
	return one(t, getMatchRun, func(r row) (m MatchRun, err error) {
		var data string
		if err = r.Scan(&m.ID, &m.At, &m.Cause, &m.Verdict, &data); err == nil {
			err = json.Unmarshal([]byte(data), &m.Findings)
		}
		return
	}, id)
}

// AddDecision writes that an invoice was released, refused or made void.
func (t *Tx) AddDecision(invoice int64, decision trade.InvoiceState, reason string, by int64, at string) error {
	return t.do(addDecision, invoice, decision, reason, by, at)
}

// TouchedBy lists the invoices of an order that are still matched.
func (t *Tx) TouchedBy(order int64) ([]int64, error) {
	return list(t, touchedBy, scanOne[int64], order)
}

// UnsettledOf lists a supplier's invoices that are still matched.
func (t *Tx) UnsettledOf(supplier int64) ([]int64, error) {
	return list(t, unsettledOf, scanOne[int64], supplier)
}

// UnsettledUnknown lists open invoices whose supplier is not known.
func (t *Tx) UnsettledUnknown() ([]int64, error) { return list(t, unsettledOpen, scanOne[int64]) }

// UnsettledWithoutOrder lists a supplier's open invoices whose order is not known.
func (t *Tx) UnsettledWithoutOrder(supplier int64) ([]int64, error) {
	return list(t, unsettledFree, scanOne[int64], supplier)
}

// Unsettled lists every invoice that is still matched.
func (t *Tx) Unsettled() ([]int64, error) { return list(t, unsettled, scanOne[int64]) }

// InvoiceRow is an invoice in a list.
type InvoiceRow struct {
	Number         int64
	Kind           trade.InvoiceKind
	Supplier       string
	SupplierNumber string
	State          trade.InvoiceState
	Captured       string // when it came in
	Since          string // when its state began
	Currency       money.Currency
	Total, Open    money.Amount // of a credit note below zero
	Date, Due      day.Day
	DiscountUntil  day.Day
	Discount       money.Amount
	Order          int64
	Blocked        bool
	Turn, Summary  string
	About          string  // what it is about, in a line
	Wanted         day.Day // of the order
	Hold           string  // reason of an open person's hold
	With           int64   // the person whom it is with; zero: all whose turn it may be
	WithName       string
}

// Yearly is what its discount is worth as a yearly rate in per cent.
func (i InvoiceRow) Yearly() money.Decimal {
	return trade.RatePerYear(int64(i.Discount), int64(i.Open), i.DiscountUntil, i.Due)
}

// LostOn is the first day on which something is lost while the invoice is not paid: the last day of a discount that can
// still be taken, else the day on which it is due.
func (i InvoiceRow) LostOn(today day.Day) day.Day {
	if i.Discount > 0 && i.DiscountUntil >= today {
		return i.DiscountUntil
	}
	return i.Due
}

// ownEntry tells whether a person keyed or corrected the invoice of a state; their key follows.
const ownEntry = `EXISTS (SELECT 1 FROM invoice_revision r WHERE r.invoice = s.invoice AND r.made_by = `

var invoiceRows = `SELECT i.number, ` + kindOf + `, coalesce(p.name, r.supplier_stated), r.supplier_number, r.about, s.state, i.captured_at,
	s.since, s.currency, CASE r.kind WHEN 'invoice' THEN s.total ELSE -s.total END, s.open, s.invoice_date, s.due_on, s.discount_until,
	s.discount, coalesce(o.number, 0), s.blocked, s.turn, s.summary, coalesce(o.wanted_on, ''),
	` + heldFrom(trade.BlocksReleasing) + `, ` + withWhom + `, ` + WithName + `
	FROM invoice_state s JOIN invoice i ON i.id = s.invoice JOIN invoice_revision r ON r.id = s.revision
	LEFT JOIN supplier p ON p.id = s.supplier LEFT JOIN purchase_order o ON o.id = s.purchase_order `

var (
	invoicesInState = cutAt(mostPiled, invoiceRows+`WHERE s.state = ?1 ORDER BY s.due_on, s.invoice`)
	toRelease       = cutAt(
		mostPiled,
		invoiceRows+`WHERE s.state = 'verified' AND r.kind = 'invoice' ORDER BY s.due_on, s.invoice`,
	)
	openCredits = cutAt(
		mostPiled,
		invoiceRows+`WHERE s.state = 'verified' AND s.open < 0 ORDER BY s.due_on, s.invoice`,
	)
	invoicesSince = cutAt(
		20,
		invoiceRows+`WHERE +s.state IN `+isBooked+` AND s.since >= ?1 ORDER BY s.since DESC`,
	)
	invoicesOfOrder = statement(
		strings.Replace(
			invoiceRows,
			"FROM invoice_state s",
			"FROM invoice_order x CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision",
			1,
		) +
			`WHERE x.purchase_order = ?1 AND x.kind = '' ORDER BY x.invoice LIMIT ?2`,
	)
	// Of a sum: what is owed, or below zero a credit note.
	invoicesOpenAt = statement(
		invoiceRows + `WHERE s.state IN ('verified', 'released') AND s.open = ?1 AND s.currency = ?2 LIMIT 5`,
	)
	recentInvoices = statement(invoiceRows + `WHERE s.invoice < ?1 ORDER BY s.invoice DESC LIMIT ?2`)
	invoiceBefore  = statement(`SELECT coalesce((SELECT id FROM invoice WHERE number = ?), 4611686018427387904)`)
	countUnused    = statement(`SELECT count(*) FROM invoice_state WHERE summary = 'money ahead never used' AND turn = ?`)
	countTurn      = statement(
		`SELECT count(*) FROM invoice_state s WHERE s.state = ?1 AND s.turn = ?2 AND NOT ` + ownEntry + `?3)
		AND ` + withWhom + ` IN (0, ?4)`,
	)
	countToRelease = statement(
		`SELECT count(*) FROM invoice_state s WHERE s.state = 'verified' AND s.blocked = 0
		AND (SELECT r.kind FROM invoice_revision r WHERE r.id = s.revision) = 'invoice' AND NOT ` + ownEntry + `?1)
		AND ` + heldFrom(trade.BlocksReleasing) + ` = ''`,
	)
	ownEntries = statement(
		`SELECT i.number FROM invoice_state s JOIN invoice i ON i.id = s.invoice WHERE s.state = ?1 AND ` + ownEntry + `?2)`,
	)
	countLate = statement(
		`SELECT count(*) FROM invoice_state s JOIN purchase_order o ON o.id = s.purchase_order
			JOIN invoice_revision r ON r.id = s.revision
			WHERE s.state = 'waiting' AND r.kind = 'invoice' AND o.wanted_on < ?`,
	)
)

// InvoicesOpenAt are some verified or released invoices of which just a sum is open; below zero credit notes.
func (t *Tx) InvoicesOpenAt(open money.Amount, currency money.Currency) ([]InvoiceRow, error) {
	return list(t, invoicesOpenAt, scanInvoiceRow, open, currency)
}

func scanInvoiceRow(r row) (i InvoiceRow, err error) {
	err = r.Scan(
		&i.Number,
		&i.Kind,
		&i.Supplier,
		&i.SupplierNumber,
		&i.About,
		&i.State,
		&i.Captured,
		&i.Since,
		&i.Currency,
		&i.Total,
		&i.Open,
		&i.Date,
		&i.Due,
		&i.DiscountUntil,
		&i.Discount,
		&i.Order,
		&i.Blocked,
		&i.Turn,
		&i.Summary,
		&i.Wanted,
		&i.Hold,
		&i.With,
		&i.WithName,
	)
	return
}

// InvoicesInState lists the invoices of a state, the first due first.
func (t *Tx) InvoicesInState(state trade.InvoiceState) ([]InvoiceRow, error) {
	return listCut(t, invoicesInState, scanInvoiceRow, state)
}

// InvoicesToRelease lists the verified invoices that are not released, the first due first.
func (t *Tx) InvoicesToRelease() ([]InvoiceRow, error) { return listCut(t, toRelease, scanInvoiceRow) }

// OpenCredits lists the verified credit notes that nothing was taken off for yet.
func (t *Tx) OpenCredits() ([]InvoiceRow, error) { return listCut(t, openCredits, scanInvoiceRow) }

// InvoicesVerifiedSince lists what came through since an instant, the latest first.
func (t *Tx) InvoicesVerifiedSince(at string) ([]InvoiceRow, error) {
	return listCut(t, invoicesSince, scanInvoiceRow, at)
}

// InvoicesOfOrder lists the invoices of an order.
func (t *Tx) InvoicesOfOrder(order int64) ([]InvoiceRow, error) {
	return list(t, invoicesOfOrder, scanInvoiceRow, order, 500)
}

// RecentInvoices lists invoices, newest first, from below the one numbered before.
func (t *Tx) RecentInvoices(before int64, limit int) ([]InvoiceRow, error) {
	id, err := t.number(invoiceBefore, before)
	if err != nil {
		return nil, err
	}
	return list(t, recentInvoices, scanInvoiceRow, id, limit)
}

// CountUnused counts money that was paid ahead and that nothing can use any more, by whose turn it is.
func (t *Tx) CountUnused(role string) (int64, error) { return t.number(countUnused, role) }

// CountTurn counts the invoices of a state that are a role's turn, but for the entries of one
// person (0: of nobody), and but for those that are with somebody else than a person.
func (t *Tx) CountTurn(state trade.InvoiceState, role string, not, person int64) (int64, error) {
	return t.number(countTurn, state, role, not, person)
}

// CountReleasable counts the invoices that a person may release: verified, on no hold, nothing
// against it, and not their own entry.
func (t *Tx) CountReleasable(person int64) (int64, error) { return t.number(countToRelease, person) }

// OwnEntries are the numbers of the invoices of a state that a person keyed or corrected.
func (t *Tx) OwnEntries(state trade.InvoiceState, person int64) ([]int64, error) {
	return list(t, ownEntries, scanOne[int64], state, person)
}

// CountLate counts the waiting invoices whose goods were wanted before a day.
func (t *Tx) CountLate(before day.Day) (int64, error) { return t.number(countLate, before) }

// Decision is what somebody decided on an invoice: released, taken back, refused or void.
type Decision struct {
	What               trade.InvoiceState
	Reason, ByName, At string
}

// Decisions are those on an invoice, in the order in which they were made.
func (t *Tx) Decisions(invoice int64) ([]Decision, error) {
	return list(t, decisionsOf, func(r row) (d Decision, err error) {
		err = r.Scan(&d.What, &d.Reason, &d.ByName, &d.At)
		return
	}, invoice)
}
