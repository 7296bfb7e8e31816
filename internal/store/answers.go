package store

// This file keeps the answers to mails that came in; they are handed over like what suppliers are sent.

const answerColumns = `SELECT x.id, x.mail, m.number, x.recipient, x.subject, x.text, x.paper, p.name, x.at, st.state, st.tries, st.trouble `

var (
	addMailAnswer = statement(
		`INSERT INTO mail_answer (mail, recipient, subject, text, paper, by_person, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
	)
	putAnswer = statement(
		`INSERT INTO mail_answer_state (answer, state, tries, trouble) VALUES (?, ?, ?, ?)
		ON CONFLICT (answer) DO UPDATE SET state = excluded.state, tries = excluded.tries, trouble = excluded.trouble`,
	)
	answersTo = statement(
		answerColumns + `FROM mail_answer x JOIN mail_answer_state st ON st.answer = x.id JOIN mail m ON m.id = x.mail
		JOIN person p ON p.id = x.by_person WHERE x.mail = ? ORDER BY x.id`,
	)
	waitingAnswers = statement(
		answerColumns + `FROM mail_answer_state st JOIN mail_answer x ON x.id = st.answer JOIN mail m ON m.id = x.mail
		JOIN person p ON p.id = x.by_person WHERE st.state = 'waiting' ORDER BY st.answer LIMIT 50`,
	)
	countAnswers = statement(`SELECT count(*) FROM mail_answer_state WHERE state = 'waiting'`)
)

func scanAnswer(r row) (s Sending, err error) {
	s.Way = ByMail
	err = r.Scan(&s.ID, &s.AnswerTo, &s.MailNumber, &s.Recipient, &s.Subject, &s.Text, &s.Mail, &s.ByName, &s.At, &s.State, &s.Tries, &s.Trouble)
	return
}

// AnswersTo are the answers to a mail, the first first.
func (t *Tx) AnswersTo(mail int64) ([]Sending, error) { return list(t, answersTo, scanAnswer, mail) }
