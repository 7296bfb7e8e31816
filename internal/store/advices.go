package store

// This file keeps what suppliers are told of payments; the letters are handed over like what they are sent about orders.

import "errors"

const adviceColumns = `SELECT x.id, x.payment, r.number, x.recipient, x.subject, x.text, x.mail, p.name, x.at, st.state, st.tries, st.trouble
	FROM payment_letter x CROSS JOIN payment_letter_state st ON st.letter = x.id CROSS JOIN payment y ON y.id = x.payment
	CROSS JOIN payment_run r ON r.id = y.run CROSS JOIN person p ON p.id = x.by_person WHERE `

var (
	addAdvice = statement(
		`INSERT INTO payment_letter (payment, recipient, subject, text, mail, by_person, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
	)
	putAdvice = statement(
		`INSERT INTO payment_letter_state (letter, state, tries, trouble) VALUES (?, ?, ?, ?)
		ON CONFLICT (letter) DO UPDATE SET state = excluded.state, tries = excluded.tries, trouble = excluded.trouble`,
	)
	adviceOf       = statement(adviceColumns + `x.payment = ? ORDER BY x.id DESC LIMIT 1`)
	waitingAdvices = statement(
		adviceColumns + `x.id IN (SELECT letter FROM payment_letter_state WHERE state = 'waiting') ORDER BY x.id LIMIT 50`,
	)
	countAdvices = statement(`SELECT count(*) FROM payment_letter_state WHERE state = 'waiting'`)
)

func scanAdvice(r row) (s Sending, err error) {
	s.Way = ByMail
	err = r.Scan(&s.ID, &s.Payment, &s.Run, &s.Recipient, &s.Subject, &s.Text, &s.Mail, &s.ByName, &s.At, &s.State, &s.Tries, &s.Trouble)
	return
}

// AdviceOf is the latest letter that told of a payment, without a row key where there is none.
func (t *Tx) AdviceOf(payment int64) (Sending, error) {
	s, err := one(t, adviceOf, scanAdvice, payment)
	if errors.Is(err, ErrNone) {
		return Sending{}, nil
	}
	return s, err
}
