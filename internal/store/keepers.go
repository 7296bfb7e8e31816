package store

// This file keeps whom an invoice is with, of those whose turn it may be.

// withWhom is, in SQL, the person whom an invoice s is with: who took it over or was handed it, as long as they work here and have the
// role whose turn it is; else whom its approval was passed on to; else 0, which is everybody with the role.
const withWhom = `coalesce(
	(SELECT k.person FROM invoice_keeper k JOIN person kp ON kp.id = k.person AND kp.active = 1
		JOIN person_role kr ON kr.person = k.person AND kr.role = s.turn AND kr.ended = 0 WHERE k.invoice = s.invoice),
	CASE s.turn WHEN 'approver' THEN (SELECT x.to_person FROM
		(SELECT a.to_person FROM approval_pass a WHERE a.revision = s.revision ORDER BY a.id DESC LIMIT 1) x
		JOIN person xp ON xp.id = x.to_person AND xp.active = 1) END, 0)`

// WithName is, in SQL, the name of whom an invoice s is with; empty: everybody whose turn it may be.
const WithName = `coalesce((SELECT wp.name FROM person wp WHERE wp.id = ` + withWhom + `), '')`

// Keeper is whom an invoice is with.
type Keeper struct {
	Person   int64 // 0: everybody whose turn it may be
	Name     string
	Note, At string // as it was handed over; empty where its approval was passed on
	By       string
}

var (
	putKeeper = statement(
		`INSERT INTO invoice_keeper (invoice, person, note, by_person, at) VALUES (?, nullif(?, 0), ?, ?, ?)
		ON CONFLICT (invoice) DO UPDATE SET person = excluded.person, note = excluded.note, by_person = excluded.by_person, at = excluded.at`,
	)
	keeperOf = statement(
		`SELECT w.person, coalesce(p.name, ''), coalesce(k.note, ''), coalesce(k.at, ''), coalesce(b.name, '')
		FROM (SELECT s.invoice, ` + withWhom + ` AS person FROM invoice_state s WHERE s.invoice = ?1) w
		LEFT JOIN person p ON p.id = w.person LEFT JOIN invoice_keeper k ON k.invoice = w.invoice AND k.person = w.person
		LEFT JOIN person b ON b.id = k.by_person`,
	)
	keepersNow = statement(`SELECT k.invoice FROM invoice_keeper k WHERE k.invoice = ? AND k.person IS NOT NULL`)
	isOwnEntry = statement(`SELECT count(*) FROM invoice_state s WHERE s.invoice = ?1 AND ` + ownEntry + `?2)`)
)

// PutKeeper writes whom an invoice is with from now on; person 0 is everybody.
func (t *Tx) PutKeeper(invoice, person int64, note string, by int64, at string) error {
	return t.do(putKeeper, invoice, person, note, by, at)
}

// Keeper is whom an invoice is with.
func (t *Tx) Keeper(invoice int64) (Keeper, error) {
	return one(t, keeperOf, func(r row) (k Keeper, err error) {
		err = r.Scan(&k.Person, &k.Name, &k.Note, &k.At, &k.By)
		return
	}, invoice)
}

// HasKeeper tells whether somebody took an invoice over or was handed it, whether or not it is with them still.
func (t *Tx) HasKeeper(invoice int64) (bool, error) {
	kept, err := list(t, keepersNow, scanOne[int64], invoice)
	return len(kept) > 0, err
}

// IsOwnEntry tells whether a person keyed or corrected an invoice.
func (t *Tx) IsOwnEntry(invoice, person int64) (bool, error) {
	n, err := t.number(isOwnEntry, invoice, person)
	return n > 0, err
}
