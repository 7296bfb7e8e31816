package store

// This file keeps lists as people want to see them again, and as they went out.

import (
	"errors"

	"lagoon/internal/core/day"
)

// KeptList is a list with what was asked of it, under a name.
type KeptList struct {
	Number     int64
	Name, List string
	Asked      string // what was asked, as JSON
	ForAll     bool
	By         int64
	ByName     string
	Ended      bool
	// WeeklyTo is whom it is mailed every Monday, from WeeklyFrom on, as pdf or xlsx; empty: nobody.
	WeeklyTo, WeeklyAs string
	WeeklyFrom         day.Day
	Daily              bool // on every working day, not on Mondays alone
}

// MailedList is a list as it goes out by mail.
type MailedList struct {
	List, Asked string
	Kept        int64   // number of the kept list that goes out every week; zero: it was mailed once
	Week        day.Day // its Monday or, of a list that goes out daily, its day
}

const keptListColumns = `SELECT k.number, k.name, k.list, k.asked, k.for_all, k.by_person, p.name, k.ended,
	k.weekly_to, k.weekly_as, k.weekly_from, coalesce((SELECT d.daily FROM kept_list_daily d WHERE d.kept = k.number), 0)
	FROM kept_list k JOIN person p ON p.id = k.by_person `

var (
	putKeptList = statement(
		`INSERT INTO kept_list (number, name, list, asked, for_all, by_person, ended, weekly_to, weekly_as, weekly_from)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (number) DO UPDATE SET name = excluded.name, list = excluded.list, asked = excluded.asked,
		for_all = excluded.for_all, by_person = excluded.by_person, ended = excluded.ended, weekly_to = excluded.weekly_to,
		weekly_as = excluded.weekly_as, weekly_from = excluded.weekly_from`,
	)
	putDaily = statement(
		`INSERT INTO kept_list_daily (kept, daily) VALUES (?, ?) ON CONFLICT (kept) DO UPDATE SET daily = excluded.daily`,
	)
	nothingOn   = statement(`INSERT INTO kept_list_empty (kept, day) VALUES (?, ?) ON CONFLICT (kept) DO UPDATE SET day = excluded.day`)
	keptList    = statement(keptListColumns + `WHERE k.number = ?`)
	weeklyLists = statement(
		keptListColumns + `WHERE k.ended = 0 AND k.weekly_to <> '' AND k.weekly_from <= ?1
		AND coalesce((SELECT d.daily FROM kept_list_daily d WHERE d.kept = k.number), 0) = ?2
		AND NOT EXISTS (SELECT 1 FROM kept_list_empty n WHERE n.kept = k.number AND n.day = ?1 AND ?2 = 1)
		AND NOT EXISTS (SELECT 1 FROM list_mail m WHERE m.kept = k.number AND m.week = ?1) ORDER BY k.number`,
	)
	addListMail = statement(
		`INSERT INTO list_mail (list, asked, kept, week, recipient, subject, text, mail, by_person, at) VALUES (?, ?, nullif(?, 0), ?, ?, ?, ?, ?, ?, ?)`,
	)
	putListMail = statement(
		`INSERT INTO list_mail_state (mail, state, tries, trouble) VALUES (?, ?, ?, ?)
		ON CONFLICT (mail) DO UPDATE SET state = excluded.state, tries = excluded.tries, trouble = excluded.trouble`,
	)
	waitingListMails = statement(
		`SELECT x.id, x.list, x.recipient, x.subject, x.text, x.mail, p.name, x.at, st.state, st.tries, st.trouble
		FROM list_mail_state st CROSS JOIN list_mail x ON x.id = st.mail CROSS JOIN person p ON p.id = x.by_person
		WHERE st.state = 'waiting' ORDER BY st.mail LIMIT 50`,
	)
	countListMails = statement(`SELECT count(*) FROM list_mail_state WHERE state = 'waiting'`)
	keptLists      = statement(keptListColumns + `WHERE k.ended = 0 AND (k.for_all = 1 OR k.by_person = ?) ORDER BY k.number`)
)

func scanKeptList(r row) (k KeptList, err error) {
	err = r.Scan(&k.Number, &k.Name, &k.List, &k.Asked, &k.ForAll, &k.By, &k.ByName, &k.Ended, &k.WeeklyTo, &k.WeeklyAs, &k.WeeklyFrom, &k.Daily)
	return
}

// PutKeptList keeps a list; one of the same number is changed.
func (t *Tx) PutKeptList(k KeptList) error {
	return errors.Join(
		t.do(putKeptList, k.Number, k.Name, k.List, k.Asked, k.ForAll, k.By, k.Ended, k.WeeklyTo, k.WeeklyAs, k.WeeklyFrom),
		t.do(putDaily, k.Number, k.Daily),
	)
}

// KeptList reads one, or gives ErrNone.
func (t *Tx) KeptList(number int64) (KeptList, error) { return one(t, keptList, scanKeptList, number) }

// KeptLists are those of a person and those for all.
func (t *Tx) KeptLists(person int64) ([]KeptList, error) {
	return list(t, keptLists, scanKeptList, person)
}

// ListsDue are those that go out on a day, on Mondays or daily, and did not yet.
func (t *Tx) ListsDue(on day.Day, daily bool) ([]KeptList, error) {
	return list(t, weeklyLists, scanKeptList, on, daily)
}

func scanListMail(r row) (s Sending, err error) {
	s.Way = ByMail
	err = r.Scan(&s.ID, &s.List, &s.Recipient, &s.Subject, &s.Text, &s.Mail, &s.ByName, &s.At, &s.State, &s.Tries, &s.Trouble)
	return
}

// AddListMail writes a list as it goes out; it waits to be handed over.
func (t *Tx) AddListMail(m MailedList, s Sending) error {
	id, err := t.exec(addListMail, m.List, m.Asked, m.Kept, m.Week, s.Recipient, s.Subject, s.Text, s.Mail, s.By, s.At)
	if err != nil {
		return err
	}
	s.ID, s.List = id, m.List
	return t.SaveSending(s)
}

// NothingOn notes that there was nothing on a list that goes out daily, so that it does not go out on the day.
func (t *Tx) NothingOn(kept int64, on day.Day) error { return t.do(nothingOn, kept, on) }
