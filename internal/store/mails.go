package store

// This file keeps mails as they came in, what they carried, and what was decided about them.

import "slices"

// The ways by which a mail comes in.
const (
	MailByIMAP   = "imap"
	MailBySMTP   = "smtp"
	MailByFolder = "folder"
	MailDropped  = "dropped" // by a person
)

// Where a mail is: done with, somebody's turn, filed by a person, or written by a machine and carrying nothing.
const (
	MailDone  = "done"
	MailOpen  = "open"
	MailFiled = "filed"
	MailNoise = "noise"
)

// What a person decides about a mail.
const (
	MailWasFiled  = "filed"
	MailWasKeyed  = "keyed"
	MailWasOpened = "opened"
)

// Mail is a mail as it came.
type Mail struct {
	ID, Number        int64
	Way               string
	MessageID, Digest string
	Size              int64 // of the whole mail, in bytes
	Paper             int64
	Sender            string // plain address
	SenderName        string
	Subject           string
	SentAt            string // as it says; may be empty
	Text              string
	Noise, LeftOut    bool
	TakenAt           string
	State             string
}

// MailPart is a file that a mail carried. Invoice is the one that it became or belongs to, by its number; 0: none.
type MailPart struct {
	No            int
	Name          string
	Paper         int64 // 0: it could not be taken out
	MediaType     string
	Size          int64
	Invoice       int64 // row key
	InvoiceNumber int64
	Said          string // why it became none
}

// MailDecision is what a person decided about a mail.
type MailDecision struct {
	What                     string
	Order, Supplier, Invoice int64 // row keys; 0: none
	Part                     int   // that the invoice was keyed from; 0: from the mail itself
	OrderNumber              int64
	SupplierCode             string
	InvoiceNumber            int64
	Note                     string
	By                       int64
	ByName, At               string
}

const mailColumns = `SELECT m.id, m.number, m.way, m.message_id, m.digest, m.size, m.paper, m.sender, m.sender_name, m.subject,
	m.sent_at, m.text, m.noise, m.left_out, m.taken_at, st.state FROM `

var (
	addMail = statement(
		`INSERT INTO mail (number, way, message_id, digest, size, paper, sender, sender_name, subject, sent_at, text, noise,
		left_out, taken_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	addMailPart = statement(
		`INSERT INTO mail_part (mail, no, name, paper, invoice, said) VALUES (?, ?, ?, nullif(?, 0), nullif(?, 0), ?)`,
	)
	putMailState = statement(
		`INSERT INTO mail_state (mail, state) VALUES (?, ?) ON CONFLICT (mail) DO UPDATE SET state = excluded.state`,
	)
	addMailDecision = statement(
		`INSERT INTO mail_decision (mail, what, purchase_order, supplier, invoice, part, note, by_person, at)
		VALUES (?, ?, nullif(?, 0), nullif(?, 0), nullif(?, 0), nullif(?, 0), ?, ?, ?)`,
	)
	mailByNumber = statement(mailColumns + `mail m JOIN mail_state st ON st.mail = m.id WHERE m.number = ?`)
	mailKnown    = statement(mailColumns + `mail m JOIN mail_state st ON st.mail = m.id WHERE m.digest = ? AND m.message_id = ?`)
	mailSeen     = statement(`SELECT count(*) FROM mail WHERE message_id = ? AND size = ?`)
	openMails    = cutAt(
		mostPiled,
		mailColumns+`mail_state st JOIN mail m ON m.id = st.mail WHERE st.state = 'open' ORDER BY st.mail DESC`,
	)
	countMails  = statement(`SELECT count(*) FROM mail_state WHERE state = 'open'`)
	partsOfMail = statement(
		`SELECT p.no, p.name, coalesce(p.paper, 0), coalesce(x.media_type, ''), coalesce(x.size, 0), coalesce(p.invoice, 0),
		coalesce(i.number, 0), p.said FROM mail_part p LEFT JOIN paper x ON x.id = p.paper
		LEFT JOIN invoice i ON i.id = p.invoice WHERE p.mail = ? ORDER BY p.no`,
	)
	decisionsOfMail = statement(
		`SELECT d.what, coalesce(d.purchase_order, 0), coalesce(d.supplier, 0), coalesce(d.invoice, 0), coalesce(o.number, 0),
		coalesce(s.code, ''), coalesce(i.number, 0), coalesce(d.part, 0), d.note, d.by_person, p.name, d.at FROM mail_decision d
		JOIN person p ON p.id = d.by_person LEFT JOIN purchase_order o ON o.id = d.purchase_order
		LEFT JOIN supplier s ON s.id = d.supplier LEFT JOIN invoice i ON i.id = d.invoice WHERE d.mail = ? ORDER BY d.id`,
	)
	mailOfInvoice = statement(
		mailColumns + `mail m JOIN mail_state st ON st.mail = m.id
		WHERE m.id IN (SELECT p.mail FROM mail_part p WHERE p.invoice = ?1
		UNION SELECT d.mail FROM mail_decision d WHERE d.invoice = ?1) LIMIT 1`,
	)
	mailsOfOrder = statement(
		mailColumns + `mail m JOIN mail_state st ON st.mail = m.id
		WHERE m.id IN (SELECT d.mail FROM mail_decision d WHERE d.purchase_order = ?) AND st.state = 'filed'`,
	)
)

var mailsOfSupplier = statement(
	mailColumns + `mail_decision d CROSS JOIN mail m ON m.id = d.mail CROSS JOIN mail_state st ON st.mail = m.id
	WHERE d.supplier = ? AND st.state = 'filed' ORDER BY d.id DESC LIMIT 20`, // as many as are shown
)

func scanMail(r row) (m Mail, err error) {
	err = r.Scan(&m.ID, &m.Number, &m.Way, &m.MessageID, &m.Digest, &m.Size, &m.Paper, &m.Sender, &m.SenderName, &m.Subject,
		&m.SentAt, &m.Text, &m.Noise, &m.LeftOut, &m.TakenAt, &m.State)
	return
}

// AddMail writes a mail with what it carried, and where it is.
func (t *Tx) AddMail(m Mail, parts []MailPart) (int64, error) {
	id, err := t.exec(addMail, m.Number, m.Way, m.MessageID, m.Digest, m.Size, m.Paper, m.Sender, m.SenderName, m.Subject,
		m.SentAt, m.Text, m.Noise, m.LeftOut, m.TakenAt)
	if err != nil {
		return 0, err
	}
	for _, p := range parts {
		if err := t.do(addMailPart, id, p.No, p.Name, p.Paper, p.Invoice, p.Said); err != nil {
			return 0, err
		}
	}
	return id, t.SaveMailState(id, m.State)
}

// SaveMailState writes where a mail is.
func (t *Tx) SaveMailState(mail int64, state string) error { return t.do(putMailState, mail, state) }

// AddMailDecision writes what a person decided about a mail.
func (t *Tx) AddMailDecision(mail int64, d MailDecision) error {
	return t.do(addMailDecision, mail, d.What, d.Order, d.Supplier, d.Invoice, d.Part, d.Note, d.By, d.At)
}

// MailByNumber finds a mail, or ErrNone.
func (t *Tx) MailByNumber(number int64) (Mail, error) { return one(t, mailByNumber, scanMail, number) }

// MailKnown finds a mail by what it says and carries, or ErrNone.
func (t *Tx) MailKnown(digest, messageID string) (Mail, error) {
	return one(t, mailKnown, scanMail, digest, messageID)
}

// MailSeen tells whether a mail of that id and size is here, so that it need not be fetched again.
func (t *Tx) MailSeen(messageID string, size int64) (bool, error) {
	n, err := t.number(mailSeen, messageID, size)
	return n > 0, err
}

// OpenMails lists the mails that are somebody's turn, the newest first.
func (t *Tx) OpenMails() ([]Mail, error) { return listCut(t, openMails, scanMail) }

// CountMails counts the mails that are somebody's turn.
func (t *Tx) CountMails() (int64, error) { return t.number(countMails) }

// MailParts are the files that a mail carried.
func (t *Tx) MailParts(mail int64) ([]MailPart, error) {
	return list(t, partsOfMail, func(r row) (p MailPart, err error) {
		err = r.Scan(&p.No, &p.Name, &p.Paper, &p.MediaType, &p.Size, &p.Invoice, &p.InvoiceNumber, &p.Said)
		return
	}, mail)
}

// MailDecisions are what persons decided about a mail, in order.
func (t *Tx) MailDecisions(mail int64) ([]MailDecision, error) {
	return list(t, decisionsOfMail, func(r row) (d MailDecision, err error) {
		err = r.Scan(&d.What, &d.Order, &d.Supplier, &d.Invoice, &d.OrderNumber, &d.SupplierCode, &d.InvoiceNumber, &d.Part, &d.Note, &d.By, &d.ByName, &d.At)
		return
	}, mail)
}

// LeftOf are the parts of a mail that became no invoice, belong to none, and none was keyed from.
func LeftOf(parts []MailPart, decisions []MailDecision) []MailPart {
	return slices.DeleteFunc(slices.Clone(parts), func(p MailPart) bool {
		return p.Invoice != 0 || slices.ContainsFunc(decisions, func(d MailDecision) bool { return d.Invoice != 0 && d.Part == p.No })
	})
}

// MailOfInvoice is the mail that an invoice came by or was keyed from, or ErrNone.
func (t *Tx) MailOfInvoice(invoice int64) (Mail, error) {
	return one(t, mailOfInvoice, scanMail, invoice)
}

// MailsOfSupplier are the last that were filed under a supplier, or under an order of it.
func (t *Tx) MailsOfSupplier(supplier int64) ([]Mail, error) {
	mails, err := list(t, mailsOfSupplier, scanMail, supplier)
	seen := map[int64]bool{} // filed, opened and filed again
	return slices.DeleteFunc(mails, func(m Mail) bool {
		again := seen[m.ID]
		seen[m.ID] = true
		return again
	}), err
}

// MailsOfOrder are those that were filed under an order.
func (t *Tx) MailsOfOrder(order int64) ([]Mail, error) { return list(t, mailsOfOrder, scanMail, order) }
