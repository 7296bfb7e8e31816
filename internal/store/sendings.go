package store

import (
	"errors"
	"slices"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// The ways in which a supplier is told, and what it is told.
const (
	ByMail    = "mail"
	Otherwise = "otherwise"

	OrderSending        = "order"
	ReminderSending     = "reminder"
	CancellationSending = "cancellation"
	ReturnSending       = "return"
)

// The states of a sending.
const (
	SendingWaiting = "waiting"
	SendingSent    = "sent"
	SendingKept    = "kept" // there is no mail server that would carry it
	SendingFailed  = "failed"
)

// Sending is something that a supplier was sent, or told otherwise, about an order or about an invoice.
type Sending struct {
	ID, Order     int64 // row keys
	Invoice       int64 // row key; zero where it is about an order
	OrderNumber   int64
	InvoiceNumber int64
	AnswerTo      int64 // row key of the mail that it answers; zero where it is about a document
	MailNumber    int64
	List          string // key of the list that goes out; empty where it is about something else
	Payment, Run  int64  // row key of the payment that it tells of, and its run's number; zero where it is about something else
	Revision      int
	Kind, Way     string
	Recipient     string
	Subject, Text string
	Prices        bool
	Mail          int64 // the mail as it was made, a paper
	By            int64
	ByName, At    string
	State         string
	Tries         int
	Trouble       string
	Supplier      int64       // of an order
	Papers        []Enclosure // that could go with it, of an order
}

// Answer is a supplier's acknowledgement of an order.
type Answer struct {
	Revision   int
	Reference  string
	PromisedOn day.Day
	By         int64
	ByName, At string
}

const sendingColumns = `SELECT x.id, x.purchase_order, o.number, x.revision, x.kind, x.way, x.recipient, x.subject,
	x.text, x.prices, coalesce(x.mail, 0), coalesce(p.name, 'Lagoon'), x.at, st.state, st.tries, st.trouble `

var countSendings = statement(`SELECT count(*) FROM sending_state WHERE state = 'waiting'`)

// CountSendings counts the mails that are to be handed over.
func (t *Tx) CountSendings() (int64, error) {
	orders, err1 := t.number(countSendings)
	invoices, err2 := t.number(countLetters)
	answers, err3 := t.number(countAnswers)
	advices, err4 := t.number(countAdvices)
	lists, err5 := t.number(countListMails)
	return orders + invoices + answers + advices + lists, errors.Join(err1, err2, err3, err4, err5)
}

var (
	addSending = statement(
		`INSERT INTO order_sending (purchase_order, revision, kind, way, recipient, subject, text, prices, mail,
			by_person, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?)`,
	)
	putSending = statement(
		`INSERT INTO sending_state (sending, state, tries, trouble) VALUES (?, ?, ?, ?)
			ON CONFLICT (sending) DO UPDATE SET state = excluded.state, tries = excluded.tries,
			trouble = excluded.trouble`,
	)
	sendingsOf = statement(
		sendingColumns + `FROM order_sending x JOIN sending_state st ON st.sending = x.id
		JOIN purchase_order o ON o.id = x.purchase_order LEFT JOIN person p ON p.id = x.by_person
		WHERE x.purchase_order = ? ORDER BY x.id`,
	)
	waitingSendings = statement(
		sendingColumns + `FROM sending_state st JOIN order_sending x ON x.id = st.sending
		JOIN purchase_order o ON o.id = x.purchase_order LEFT JOIN person p ON p.id = x.by_person
		WHERE st.state = 'waiting' ORDER BY st.sending LIMIT 50`,
	)
	addOrderAnswer = statement(
		`INSERT INTO order_answer (purchase_order, revision, reference, promised_on, by_person, at)
			VALUES (?, ?, ?, ?, nullif(?, 0), ?)`,
	)
	orderAnswersOf = statement(
		`SELECT a.revision, a.reference, a.promised_on, coalesce(p.name, 'Lagoon'), a.at
			FROM order_answer a LEFT JOIN person p ON p.id = a.by_person WHERE a.purchase_order = ? ORDER BY a.id`,
	)
)

// AddSending writes a sending with where it stands.
func (t *Tx) AddSending(s Sending) (err error) {
	if s.AnswerTo != 0 {
		if s.ID, err = t.exec(addMailAnswer, s.AnswerTo, s.Recipient, s.Subject, s.Text, s.Mail, s.By, s.At); err != nil {
			return err
		}
		return t.SaveSending(s)
	}
	if s.Payment != 0 {
		if s.ID, err = t.exec(addAdvice, s.Payment, s.Recipient, s.Subject, s.Text, s.Mail, s.By, s.At); err != nil {
			return err
		}
		return t.SaveSending(s)
	}
	if s.Invoice != 0 {
		if s.ID, err = t.addLetter(s); err != nil {
			return err
		}
		return t.SaveSending(s)
	}
	id, err := t.exec(
		addSending,
		s.Order,
		s.Revision,
		s.Kind,
		s.Way,
		s.Recipient,
		s.Subject,
		s.Text,
		s.Prices,
		s.Mail,
		s.By,
		s.At,
	)
	if err != nil {
		return err
	}
	s.ID = id
	for _, p := range s.Papers {
		if err := t.enclose(s, p); err != nil {
			return err
		}
	}
	return t.SaveSending(s)
}

// SaveSending writes where a sending stands.
func (t *Tx) SaveSending(s Sending) error {
	if s.AnswerTo != 0 {
		return t.do(putAnswer, s.ID, s.State, s.Tries, s.Trouble)
	}
	if s.List != "" {
		return t.do(putListMail, s.ID, s.State, s.Tries, s.Trouble)
	}
	if s.Payment != 0 {
		return t.do(putAdvice, s.ID, s.State, s.Tries, s.Trouble)
	}
	if s.Invoice != 0 {
		return t.do(putLetter, s.ID, s.State, s.Tries, s.Trouble)
	}
	return t.do(putSending, s.ID, s.State, s.Tries, s.Trouble)
}

func scanSending(r row) (s Sending, err error) {
	err = r.Scan(
		&s.ID,
		&s.Order,
		&s.OrderNumber,
		&s.Revision,
		&s.Kind,
		&s.Way,
		&s.Recipient,
		&s.Subject,
		&s.Text,
		&s.Prices,
		&s.Mail,
		&s.ByName,
		&s.At,
		&s.State,
		&s.Tries,
		&s.Trouble,
	)
	return
}

// Sendings lists what was sent about an order, in order.
func (t *Tx) Sendings(order int64) ([]Sending, error) { return list(t, sendingsOf, scanSending, order) }

// WaitingSendings lists mails that are not handed over yet.
func (t *Tx) WaitingSendings() ([]Sending, error) {
	orders, err1 := list(t, waitingSendings, scanSending)
	invoices, err2 := list(t, waitingLetters, scanLetter)
	answers, err3 := list(t, waitingAnswers, scanAnswer)
	advices, err4 := list(t, waitingAdvices, scanAdvice)
	lists, err5 := list(t, waitingListMails, scanListMail)
	return slices.Concat(orders, invoices, answers, advices, lists), errors.Join(err1, err2, err3, err4, err5)
}

// AddAnswer writes a supplier's acknowledgement.
func (t *Tx) AddAnswer(order int64, a Answer) error {
	return t.do(addOrderAnswer, order, a.Revision, a.Reference, a.PromisedOn, a.By, a.At)
}

// Answers lists them in order.
func (t *Tx) Answers(order int64) ([]Answer, error) {
	return list(t, orderAnswersOf, func(r row) (a Answer, err error) {
		err = r.Scan(&a.Revision, &a.Reference, &a.PromisedOn, &a.ByName, &a.At)
		return
	}, order)
}

// The states of a draft.
const (
	DraftOpen      = "open"
	DraftIssued    = "issued"
	DraftDiscarded = "discarded"
)

// Draft is an order that is being written. Entry is what was typed, as it is.
type Draft struct {
	Number     int64
	Version    int64  // counts how often it was kept
	Supplier   string // code, or what was typed
	Entry      string
	By         int64
	ByName, At string
	State      string
	Order      int64 // number of the order that it became
}

const draftColumns = `SELECT d.number, d.version, d.supplier, d.entry, coalesce(d.by_person, 0), coalesce(p.name,
	'Lagoon'), d.at, d.state, coalesce(d.purchase_order, 0) FROM order_draft d
	LEFT JOIN person p ON p.id = d.by_person `

var (
	putDraft = statement(
		`INSERT INTO order_draft (number, version, supplier, entry, by_person, at, state, purchase_order)
		VALUES (?, ?, ?, ?, nullif(?, 0), ?, ?, nullif(?, 0))
		ON CONFLICT (number) DO UPDATE SET version = excluded.version, supplier = excluded.supplier,
		entry = excluded.entry, by_person = excluded.by_person, at = excluded.at, state = excluded.state,
		purchase_order = excluded.purchase_order`,
	)
	draftByNumber = statement(draftColumns + `WHERE d.number = ?`)
	openDrafts    = cutAt(100, draftColumns+`WHERE d.state = 'open' ORDER BY d.number DESC`)
)

func scanDraft(r row) (d Draft, err error) {
	err = r.Scan(&d.Number, &d.Version, &d.Supplier, &d.Entry, &d.By, &d.ByName, &d.At, &d.State, &d.Order)
	return
}

// PutDraft writes a draft.
func (t *Tx) PutDraft(d Draft) error {
	return t.do(putDraft, d.Number, d.Version, d.Supplier, d.Entry, d.By, d.At, d.State, d.Order)
}

// DraftByNumber finds a draft.
func (t *Tx) DraftByNumber(number int64) (Draft, error) {
	return one(t, draftByNumber, scanDraft, number)
}

// Drafts lists the open drafts, newest first.
func (t *Tx) Drafts() ([]Draft, error) { return listCut(t, openDrafts, scanDraft) }

// Pressing is an order whose supplier may have to be reminded.
type Pressing struct {
	OrderRow
	Answered   bool // some revision was acknowledged
	Reminded   int  // reminders so far
	Last       string
	SupplierID int64
	OrderID    int64
	Contact    Contact // to be asked; set by whoever chooses it
}

// OpenLine is an order line that something can still come on, or that was closed.
type OpenLine struct {
	Order              int64
	Line               int
	Supplier, Item     string
	Description, Unit  string
	Budget, By         string
	IssuedOn, WantedOn day.Day
	Quantity, Rest     money.Decimal
	Uninvoiced         money.Decimal // received and not invoiced
	ClosedGoods        bool
	ClosedInvoices     bool
	Reason             string // of the last closing that stands, if any
}

// LineFilter narrows lists of order lines; empty fields do not. From and Until are days
// of issue.
type LineFilter struct {
	Order                      int64 // number
	Supplier, Item, Budget, By string
	From, Until                day.Day
	Closed                     bool // those that are closed to goods or invoices, not the open ones
}

const (
	lineColumns = `SELECT o.number, l.no, s.name, coalesce(i.code, ''), l.description, l.unit, l.budget,
	o.requested_by, o.issued_on, l.wanted_on, l.quantity,
	CASE WHEN x.closed_goods = 1 THEN 0 ELSE max(0, l.quantity - x.received - x.returned) END, max(0,
	x.received - x.billed), x.closed_goods, x.closed_invoices,
	CASE WHEN x.closed_goods + x.closed_invoices > 0 THEN coalesce((SELECT c.reason FROM line_close c
	WHERE c.order_line = l.id AND c.goods + c.invoices > 0 ORDER BY c.id DESC LIMIT 1), '') ELSE '' END
	FROM purchase_order o CROSS JOIN order_state st ON st.purchase_order = o.id
	JOIN supplier s ON s.id = o.supplier CROSS JOIN order_line l ON l.purchase_order = o.id
	JOIN order_line_state x ON x.order_line = l.id LEFT JOIN item i ON i.id = l.item WHERE `
	lineFilter = ` AND (?1 = '' OR s.code = ?1) AND (?2 = '' OR i.code = ?2) AND (?3 = '' OR l.budget = ?3)
	AND (?4 = '' OR instr(lower(o.requested_by), lower(?4)) > 0)
	AND (?5 = '' OR o.issued_on >= ?5) AND (?6 = '' OR o.issued_on <= ?6) AND (?7 = 0 OR o.number = ?7) ORDER BY o.id DESC`
)

var (
	pressing = cutAt(mostPiled, orderRowColumns+`,
	EXISTS (SELECT 1 FROM order_answer a WHERE a.purchase_order = o.id), (SELECT count(*) FROM order_sending x
	WHERE x.purchase_order = o.id AND x.kind = 'reminder'),
	coalesce((SELECT max(x.at) FROM order_sending x WHERE x.purchase_order = o.id), ''), o.supplier, o.id `+orderRowsFrom+`WHERE st.open_goods = 1 ORDER BY st.wanted_on, st.purchase_order`)
	openLines = cutAt(
		300,
		lineColumns+`st.state = 'issued' AND ((x.closed_goods = 0 AND x.received + x.returned < l.quantity) OR (x.closed_invoices = 0 AND x.received > x.billed))`+lineFilter,
	)
	closedLines = cutAt(
		300,
		lineColumns+`st.state IN `+isIssued+` AND x.closed_goods + x.closed_invoices > 0`+lineFilter,
	)
)

// PressingOrders lists the orders that goods are expected on, by wanted day, with what
// their suppliers were sent and answered.
func (t *Tx) PressingOrders() ([]Pressing, error) {
	return listCut(t, pressing, func(r row) (p Pressing, err error) {
		err = r.Scan(append(p.OrderRow.columns(), &p.Answered, &p.Reminded, &p.Last, &p.SupplierID, &p.OrderID)...)
		return
	})
}

// OpenLines lists lines that something can still come on, or those that are closed, of
// the newest orders first.
func (t *Tx) OpenLines(f LineFilter) ([]OpenLine, error) {
	query := openLines
	if f.Closed {
		query = closedLines
	}
	return listCut(t, query, func(r row) (l OpenLine, err error) {
		err = r.Scan(
			&l.Order,
			&l.Line,
			&l.Supplier,
			&l.Item,
			&l.Description,
			&l.Unit,
			&l.Budget,
			&l.By,
			&l.IssuedOn,
			&l.WantedOn,
			&l.Quantity,
			&l.Rest,
			&l.Uninvoiced,
			&l.ClosedGoods,
			&l.ClosedInvoices,
			&l.Reason,
		)
		return
	}, f.Supplier, f.Item, f.Budget, f.By, f.From, f.Until, f.Order)
}
