package store

// This file keeps papers that somebody put to a document or to what is ordered, and which of them went to a supplier.

import "errors"

// What papers are attached to.
const (
	OnInvoice  = "invoice"
	OnOrder    = "order"
	OnDelivery = "delivery"
	OnItem     = "item"
	OnSupplier = "supplier"
	OnBudget   = "budget"
)

// AttachedTo is what a paper is attached to.
type AttachedTo struct {
	Kind string
	ID   int64  // row key; of a budget none
	Key  string // number or code
	// Statement is the row key of the supplier's statement that a paper of it is; zero: of none.
	Statement int64
}

// Attachment is a paper that somebody attached.
type Attachment struct {
	ID, Number int64
	Paper      int64 // row key of its content
	Name       string
	MediaType  string
	Size       int64
	To         AttachedTo
	Note       string
	By         int64
	ByName, At string
	Ended      bool // it was taken away
}

const attachmentColumns = `SELECT a.id, a.number, a.paper, a.name, x.media_type, x.size,
	CASE WHEN a.invoice IS NOT NULL THEN 'invoice' WHEN a.purchase_order IS NOT NULL THEN 'order' WHEN a.delivery IS NOT NULL THEN 'delivery'
	WHEN a.item IS NOT NULL THEN 'item' WHEN a.supplier IS NOT NULL THEN 'supplier' ELSE 'budget' END,
	coalesce(a.invoice, a.purchase_order, a.delivery, a.item, a.supplier, 0), CAST(coalesce((SELECT v.number FROM invoice v WHERE v.id = a.invoice), (SELECT o.number FROM purchase_order o WHERE o.id = a.purchase_order),
	(SELECT d.number FROM delivery d WHERE d.id = a.delivery), (SELECT i.code FROM item i WHERE i.id = a.item),
	(SELECT s.code FROM supplier s WHERE s.id = a.supplier), a.budget) AS TEXT), a.note, a.by_person, p.name, a.at,
	e.attachment IS NOT NULL FROM attachment a JOIN paper x ON x.id = a.paper JOIN person p ON p.id = a.by_person
	LEFT JOIN attachment_end e ON e.attachment = a.id `

// attachmentsTo are those that stand.
func attachmentsTo(column string) *query {
	return statement(attachmentColumns + `WHERE a.` + column + ` = ? AND e.attachment IS NULL ORDER BY a.id`)
}

var (
	addAttachment = statement(
		`INSERT INTO attachment (number, paper, name, invoice, purchase_order, delivery, item, supplier, budget, note, by_person, at)
		VALUES (?, ?, ?, nullif(?, 0), nullif(?, 0), nullif(?, 0), nullif(?, 0), nullif(?, 0), nullif(?, ''), ?, ?, ?)`,
	)
	endAttachment      = statement(`INSERT INTO attachment_end (attachment, by_person, at) VALUES (?, ?, ?)`)
	attachmentByNumber = statement(attachmentColumns + `WHERE a.number = ?`)
	attachments        = map[string]*query{
		OnInvoice: attachmentsTo("invoice"), OnOrder: attachmentsTo("purchase_order"), OnDelivery: attachmentsTo("delivery"),
		OnItem: attachmentsTo("item"), OnSupplier: attachmentsTo("supplier"), OnBudget: attachmentsTo("budget"),
	}
	ofStatement          = statement(attachmentColumns + `JOIN attachment_statement k ON k.attachment = a.id WHERE k.statement = ? AND e.attachment IS NULL ORDER BY k.attachment`)
	addOfStatement       = statement(`INSERT INTO attachment_statement (attachment, statement) VALUES (?, ?)`)
	addSendingAttachment = statement(`INSERT INTO sending_attachment (sending, attachment) VALUES (?, ?)`)
	sentAlong            = statement(
		`SELECT a.number, a.name FROM sending_attachment s JOIN attachment a ON a.id = s.attachment WHERE s.sending = ? ORDER BY s.attachment`,
	)
	putChoice = statement(
		`INSERT INTO enclosing (supplier, kind, attachment, goes) VALUES (?, ?, ?, ?)
		ON CONFLICT (supplier, kind, attachment) DO UPDATE SET goes = excluded.goes`,
	)
	choiceOf = statement(`SELECT goes FROM enclosing WHERE supplier = ? AND kind = ? AND attachment = ?`)
)

func scanAttachment(r row) (a Attachment, err error) {
	err = r.Scan(&a.ID, &a.Number, &a.Paper, &a.Name, &a.MediaType, &a.Size, &a.To.Kind, &a.To.ID, &a.To.Key, &a.Note, &a.By,
		&a.ByName, &a.At, &a.Ended)
	return
}

// key finds what a paper is attached to.
func (to AttachedTo) key() any {
	if to.Kind == OnBudget {
		return to.Key
	}
	return to.ID
}

// of is the row key where a paper is attached to that kind, else 0.
func (to AttachedTo) of(kind string) int64 {
	if to.Kind == kind {
		return to.ID
	}
	return 0
}

// budget is the code where a paper is attached to a budget.
func (to AttachedTo) budget() string {
	if to.Kind == OnBudget {
		return to.Key
	}
	return ""
}

// AddAttachment writes a paper that somebody attached, and gives its number.
func (t *Tx) AddAttachment(a Attachment) (int64, error) {
	number, err := t.NextNumber(AttachmentSeries)
	if err != nil {
		return 0, err
	}
	to := a.To
	id, err := t.exec(addAttachment, number, a.Paper, a.Name, to.of(OnInvoice), to.of(OnOrder), to.of(OnDelivery), to.of(OnItem),
		to.of(OnSupplier), to.budget(), a.Note, a.By, a.At)
	if err == nil && to.Statement != 0 {
		err = t.do(addOfStatement, id, to.Statement)
	}
	return number, err
}

// EndAttachment takes a paper away; it stays in the books.
func (t *Tx) EndAttachment(id, by int64, at string) error { return t.do(endAttachment, id, by, at) }

// AttachmentByNumber finds an attached paper, also one that was taken away, or ErrNone.
func (t *Tx) AttachmentByNumber(number int64) (Attachment, error) {
	return one(t, attachmentByNumber, scanAttachment, number)
}

// AttachmentsTo are the papers that are attached to something, the oldest first.
func (t *Tx) AttachmentsTo(to AttachedTo) ([]Attachment, error) {
	if to.Statement != 0 {
		return list(t, ofStatement, scanAttachment, to.Statement)
	}
	return list(t, attachments[to.Kind], scanAttachment, to.key())
}

// Enclosure is a paper that could go to a supplier with a sending.
type Enclosure struct {
	Attachment
	Goes bool // with this one; as it is proposed: went the last time
}

// enclose says of a paper whether it goes with a sending; the last time counts for what is proposed.
func (t *Tx) enclose(with Sending, p Enclosure) error {
	if err := t.do(putChoice, with.Supplier, with.Kind, p.ID, p.Goes); err != nil || !p.Goes {
		return err
	}
	return t.do(addSendingAttachment, with.ID, p.ID)
}

// Enclosed tells whether a paper went to a supplier the last time that it could.
func (t *Tx) Enclosed(supplier int64, kind string, a Attachment) (bool, error) {
	goes, err := one(t, choiceOf, scanOne[bool], supplier, kind, a.ID)
	if errors.Is(err, ErrNone) {
		err = nil
	}
	return goes, err
}

// SentAlong are the numbers and names of the papers that went with a sending.
func (t *Tx) SentAlong(sending int64) ([]Attachment, error) {
	return list(t, sentAlong, func(r row) (a Attachment, err error) {
		err = r.Scan(&a.Number, &a.Name)
		return
	}, sending)
}
