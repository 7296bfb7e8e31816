package store

// This file keeps what suppliers are told about their invoices.

// The letters about an invoice.
const (
	ClaimLetter   = "claim"
	RefusalLetter = "refusal"
	// QuestionLetter asks the supplier something about its invoice.
	QuestionLetter = "question"
	// SelfBilledLetter brings an invoice that we wrote.
	SelfBilledLetter = "self_billed"
)

const letterColumns = `SELECT x.id, x.invoice, i.number, x.kind, x.way, x.recipient, x.subject, x.text,
	coalesce(x.mail, 0), coalesce(p.name, 'Lagoon'), x.at, st.state, st.tries, st.trouble `

var (
	addLetter = statement(
		`INSERT INTO invoice_letter (invoice, kind, way, recipient, subject, text, mail, by_person, at)
		VALUES (?, ?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?)`,
	)
	putLetter = statement(
		`INSERT INTO letter_state (letter, state, tries, trouble) VALUES (?, ?, ?, ?)
		ON CONFLICT (letter) DO UPDATE SET state = excluded.state, tries = excluded.tries, trouble = excluded.trouble`,
	)
	lettersOf = statement(
		letterColumns + `FROM invoice_letter x JOIN letter_state st ON st.letter = x.id JOIN invoice i ON i.id = x.invoice
		LEFT JOIN person p ON p.id = x.by_person WHERE x.invoice = ? ORDER BY x.id`,
	)
	waitingLetters = statement(
		letterColumns + `FROM letter_state st JOIN invoice_letter x ON x.id = st.letter JOIN invoice i ON i.id = x.invoice
		LEFT JOIN person p ON p.id = x.by_person WHERE st.state = 'waiting' ORDER BY st.letter LIMIT 50`,
	)
	countLetters = statement(`SELECT count(*) FROM letter_state WHERE state = 'waiting'`)
)

func scanLetter(r row) (s Sending, err error) {
	err = r.Scan(&s.ID, &s.Invoice, &s.InvoiceNumber, &s.Kind, &s.Way, &s.Recipient, &s.Subject, &s.Text, &s.Mail,
		&s.ByName, &s.At, &s.State, &s.Tries, &s.Trouble)
	return
}

func (t *Tx) addLetter(s Sending) (int64, error) {
	return t.exec(addLetter, s.Invoice, s.Kind, s.Way, s.Recipient, s.Subject, s.Text, s.Mail, s.By, s.At)
}

// Letters lists what a supplier was told about an invoice.
func (t *Tx) Letters(invoice int64) ([]Sending, error) {
	return list(t, lettersOf, scanLetter, invoice)
}
