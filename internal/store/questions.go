package store

// This file keeps what colleagues ask and tell each other about a document, and what became of it.

import (
	"errors"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
)

// The kinds of what is said between colleagues: a question is answered, a note is seen.
const (
	AQuestion = "question"
	ANote     = "note"
)

// AskedSupplier stands as the role of a question that went to the supplier by mail.
const AskedSupplier = "supplier"

// Where a question stands: whom it is put to has to answer or see it, who asked has to see the answer, or nobody has to
// do anything.
const (
	QuestionOpen     = "open"
	QuestionAnswered = "answered"
	QuestionClosed   = "closed"
)

// The steps of a question.
const (
	QuestionWasPassed    = "passed"
	QuestionWasAnswered  = "answered"
	QuestionWasWithdrawn = "withdrawn"
	QuestionWasSettled   = "settled" // by what was done itself
	QuestionWasSeen      = "seen"
)

// Question is one with where it stands. Person and Role are whose turn it is: of them one is set, or none of a note that
// is for whoever reads it.
type Question struct {
	ID, Number       int64
	Kind             string
	Invoice, Order   int64 // row keys, of which one is set
	InvoiceNumber    int64
	OrderNumber      int64
	Supplier         string
	SupplierNumber   string
	Finding          finding.Kind // that it is about; empty: all of the document
	Line             int          // that it is about; 0: all of the document
	Person           int64
	PersonName, Role string
	Hold             int64 // that keeps its invoice back; 0: none
	RemindOn         day.Day
	Text             string
	By               int64
	ByName, At       string
	State            string
	LastBy, LastText string          // of the last step, empty where there is none
	Replies          int             // mails that answer it
	Steps            []QuestionStep  // where they are read
	Mails            []QuestionReply // likewise
}

// Whom is whose turn it is, in words, which are no role's name: it is in the pile as a question. Empty of a note that is for
// whoever reads it.
func (q Question) Whom() string {
	switch q.Role {
	case "":
		return q.PersonName
	case AskedSupplier:
		return "the supplier"
	case "approver", "administrator":
		return "an " + q.Role
	}
	return "a " + q.Role
}

// QuestionReply is a mail that answers what a supplier was asked.
type QuestionReply struct {
	Mail         int64 // number
	Sender, Text string
	Stranger     bool // it came from an address that is none of the supplier's
}

// QuestionStep is what became of a question. To is whom it was passed on to.
type QuestionStep struct {
	What         string
	To           int64
	ToName, Text string
	By           int64 // 0: Lagoon itself
	ByName, At   string
}

const questionColumns = `SELECT q.id, q.number, q.kind, coalesce(q.invoice, 0), coalesce(q.purchase_order, 0), coalesce(i.number, 0),
	coalesce(o.number, 0), coalesce(r.supplier_stated, s.name, ''), coalesce(r.supplier_number, ''), q.finding, q.line,
	coalesce(st.person, 0), coalesce(p.name, ''), st.role, coalesce(q.hold, 0), q.remind_on, q.text,
	q.by_person, b.name, q.at, st.state, coalesce((SELECT coalesce(w.name, 'Lagoon') FROM question_step z
	LEFT JOIN person w ON w.id = z.by_person WHERE z.question = q.id ORDER BY z.no DESC LIMIT 1), ''),
	coalesce((SELECT z.text FROM question_step z WHERE z.question = q.id ORDER BY z.no DESC LIMIT 1), ''),
	(SELECT count(*) FROM question_reply y WHERE y.question = q.id) FROM `

const questionJoins = ` JOIN person b ON b.id = q.by_person LEFT JOIN person p ON p.id = st.person
	LEFT JOIN invoice i ON i.id = q.invoice
	LEFT JOIN invoice_state x ON x.invoice = q.invoice LEFT JOIN invoice_revision r ON r.id = x.revision
	LEFT JOIN purchase_order o ON o.id = q.purchase_order LEFT JOIN supplier s ON s.id = o.supplier `

var (
	addQuestion = statement(
		`INSERT INTO question (number, kind, invoice, purchase_order, finding, line, person, role, hold, remind_on, text, by_person, at)
		VALUES (?, ?, nullif(?, 0), nullif(?, 0), ?, ?, nullif(?, 0), ?, nullif(?, 0), ?, ?, ?, ?)`,
	)
	addQuestionStep = statement(
		`INSERT INTO question_step (question, no, what, person, text, by_person, at)
		VALUES (?, ?, ?, nullif(?, 0), ?, nullif(?, 0), ?)`,
	)
	putQuestionState = statement(
		`INSERT INTO question_state (question, state, person, role) VALUES (?, ?, nullif(?, 0), ?)
		ON CONFLICT (question) DO UPDATE SET state = excluded.state, person = excluded.person, role = excluded.role`,
	)
	questionByNumber = statement(
		questionColumns + `question q JOIN question_state st ON st.question = q.id` + questionJoins + `WHERE q.number = ?`,
	)
	questionsOfInvoice = statement(
		questionColumns + `question q JOIN question_state st ON st.question = q.id` + questionJoins + `WHERE q.invoice = ? ORDER BY q.id`,
	)
	questionsOfOrder = statement(
		questionColumns + `question q JOIN question_state st ON st.question = q.id` + questionJoins + `WHERE q.purchase_order = ? ORDER BY q.id`,
	)
	questionOfHold = statement(
		questionColumns + `question q JOIN question_state st ON st.question = q.id` + questionJoins + `WHERE q.hold = ?`,
	)
	openQuestions = cutAt(mostPiled, questionColumns+`question_state st JOIN question q ON q.id = st.question`+questionJoins+
		`WHERE st.state <> 'closed' ORDER BY st.question`)
	addQuestionReply = statement(`INSERT INTO question_reply (question, mail, stranger) VALUES (?, ?, ?)`)
	repliesTo        = statement(
		`SELECT m.number, m.sender, m.text, y.stranger FROM question_reply y JOIN mail m ON m.id = y.mail WHERE y.question = ? ORDER BY y.mail`,
	)
	questionSteps = statement(
		`SELECT s.what, coalesce(s.person, 0), coalesce(t.name, ''), s.text, coalesce(s.by_person, 0), coalesce(b.name, 'Lagoon'), s.at
		FROM question_step s LEFT JOIN person t ON t.id = s.person LEFT JOIN person b ON b.id = s.by_person
		WHERE s.question = ? ORDER BY s.no`,
	)
)

func scanQuestion(r row) (q Question, err error) {
	err = r.Scan(&q.ID, &q.Number, &q.Kind, &q.Invoice, &q.Order, &q.InvoiceNumber, &q.OrderNumber, &q.Supplier, &q.SupplierNumber,
		&q.Finding, &q.Line, &q.Person, &q.PersonName, &q.Role, &q.Hold, &q.RemindOn, &q.Text, &q.By, &q.ByName, &q.At,
		&q.State, &q.LastBy, &q.LastText, &q.Replies)
	return
}

func scanQuestionStep(r row) (s QuestionStep, err error) {
	err = r.Scan(&s.What, &s.To, &s.ToName, &s.Text, &s.By, &s.ByName, &s.At)
	return
}

// AddQuestion writes a question or a note in its state, and gives its number.
func (t *Tx) AddQuestion(q Question) (int64, error) {
	number, err := t.NextNumber(QuestionSeries)
	if err != nil {
		return 0, err
	}
	id, err := t.exec(addQuestion, number, q.Kind, q.Invoice, q.Order, q.Finding, q.Line, q.Person, q.Role, q.Hold, q.RemindOn, q.Text, q.By, q.At)
	if err != nil {
		return 0, err
	}
	return number, t.do(putQuestionState, id, q.State, q.Person, q.Role)
}

// StepQuestion writes what became of a question, after the steps that were read with it, and whose turn it is from now on.
func (t *Tx) StepQuestion(q Question, step QuestionStep) error {
	return errors.Join(
		t.do(addQuestionStep, q.ID, len(q.Steps)+1, step.What, step.To, step.Text, step.By, step.At),
		t.do(putQuestionState, q.ID, q.State, q.Person, q.Role),
	)
}

// AddQuestionReply says that a mail answers what a supplier was asked.
func (t *Tx) AddQuestionReply(question, mail int64, stranger bool) error {
	return t.do(addQuestionReply, question, mail, stranger)
}

// QuestionByNumber reads a question or a note with its steps.
func (t *Tx) QuestionByNumber(number int64) (Question, error) {
	return t.stepped(one(t, questionByNumber, scanQuestion, number))
}

// QuestionOfHold is the question that a hold waits for.
func (t *Tx) QuestionOfHold(hold int64) (Question, error) {
	return one(t, questionOfHold, scanQuestion, hold)
}

// QuestionsOfInvoice are what was asked and told about an invoice, with their steps, the first first.
func (t *Tx) QuestionsOfInvoice(invoice int64) ([]Question, error) {
	return t.eachStepped(list(t, questionsOfInvoice, scanQuestion, invoice))
}

// QuestionsOfOrder are what was asked and told about an order.
func (t *Tx) QuestionsOfOrder(order int64) ([]Question, error) {
	return t.eachStepped(list(t, questionsOfOrder, scanQuestion, order))
}

// OpenQuestions are those that are anybody's turn.
func (t *Tx) OpenQuestions() ([]Question, error) {
	return listCut(t, openQuestions, scanQuestion)
}

func (t *Tx) stepped(q Question, err error) (Question, error) {
	if err != nil {
		return q, err
	}
	var err1, err2 error
	q.Steps, err1 = list(t, questionSteps, scanQuestionStep, q.ID)
	if q.Replies > 0 {
		q.Mails, err2 = list(t, repliesTo, func(r row) (m QuestionReply, err error) {
			err = r.Scan(&m.Mail, &m.Sender, &m.Text, &m.Stranger)
			return
		}, q.ID)
	}
	return q, errors.Join(err1, err2)
}

func (t *Tx) eachStepped(all []Question, err error) ([]Question, error) {
	for i := range all {
		if err == nil {
			all[i], err = t.stepped(all[i], nil)
		}
	}
	return all, err
}
