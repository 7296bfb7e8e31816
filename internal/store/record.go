package store

// This file keeps the record: who did what to which document, chained by hash.

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"strconv"
)

// AuditRow is one change: who did what to which document, and how it looked before
// and after.
type AuditRow struct {
	Seq                             int64
	Person                          int64 // row key; zero: Lagoon itself; below zero: nobody who is known
	Login, Address                  string
	At, Actor, Role, Command, Cause string
	Subject, Number                 string
	Before, After                   []byte
	Sealed, Seal                    string // the rows written with it, and the hash of those written once
	Previous, Hash                  string
	Key, MAC                        string // name of the key outside the data, and what it makes of the hash; empty without one
}

const auditColumns = `SELECT seq, at, person, login, actor, role, address, command, cause, subject, number, before,
	after, sealed, seal, previous, hash, key, mac FROM audit `

var (
	lastHash = statement(`SELECT hash FROM audit ORDER BY seq DESC LIMIT 1`)
	addAudit = statement(
		`INSERT INTO audit (at, person, login, actor, role, address, command, cause, subject, number, before, after,
			sealed, seal, previous, hash, key, mac) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	hasHash    = proof(`SELECT count(*) FROM audit WHERE hash = ?`)
	lastAudit  = statement(auditColumns + `ORDER BY seq DESC LIMIT 1`)
	auditOf    = statement(auditColumns + `WHERE subject = ? AND number = ? ORDER BY seq DESC LIMIT ?`)
	auditAfter = proof(auditColumns + `WHERE seq > ? ORDER BY seq LIMIT 500`)
	recordAll  = statement(auditColumns + `WHERE seq < ? AND seq >= ? ORDER BY seq DESC LIMIT ?`)
	recordBy   = statement(
		auditColumns + `WHERE login = ?4 AND seq < ?1 AND seq >= ?2 AND (?5 = '' OR (subject = ?5 AND number = ?6)) ORDER BY seq DESC LIMIT ?3`,
	)
	recordAbout = statement(
		auditColumns + `WHERE subject = ?4 AND number = ?5 AND seq < ?1 AND seq >= ?2 ORDER BY seq DESC LIMIT ?3`,
	)
	firstSince = statement(`SELECT seq FROM audit WHERE at >= ? ORDER BY at, seq LIMIT 1`)
)

func scanAudit(r row) (a AuditRow, err error) {
	err = r.Scan(
		&a.Seq,
		&a.At,
		&a.Person,
		&a.Login,
		&a.Actor,
		&a.Role,
		&a.Address,
		&a.Command,
		&a.Cause,
		&a.Subject,
		&a.Number,
		&a.Before,
		&a.After,
		&a.Sealed,
		&a.Seal,
		&a.Previous,
		&a.Hash,
		&a.Key,
		&a.MAC,
	)
	return
}

// Chain is the hash of an audit row: SHA-256 over the hash before it and all of its
// columns, each led by its length, so that no two rows read alike.
func (a AuditRow) Chain() string {
	var row []byte
	for _, part := range [...]string{a.Previous, a.At, strconv.FormatInt(a.Person, 10), a.Login, a.Address, a.Actor, a.Role, a.Command, a.Cause, a.Subject, a.Number, string(a.Before), string(a.After), a.Sealed, a.Seal} {
		row = append(append(strconv.AppendInt(row, int64(len(part)), 10), ':'), part...)
	}
	sum := sha256.Sum256(row)
	return hex.EncodeToString(sum[:])
}

// AddAudit appends a row to the record, chained to the one before. It seals what the
// transaction wrote since the last.
func (t *Tx) AddAudit(a AuditRow) error {
	if t.memo.head == "" {
		head, err := one(t, lastHash, scanOne[string])
		if err != nil && !errors.Is(err, ErrNone) {
			return err
		}
		t.memo.head = head
	}
	a.Previous = t.memo.head
	if a.Before == nil {
		a.Before = []byte{}
	}
	a.Sealed, a.Seal = t.seals.take()
	t.memo.head = a.Chain()
	return t.do(
		addAudit,
		a.At,
		a.Person,
		a.Login,
		a.Actor,
		a.Role,
		a.Address,
		a.Command,
		a.Cause,
		a.Subject,
		a.Number,
		a.Before,
		a.After,
		a.Sealed,
		a.Seal,
		a.Previous,
		t.memo.head,
		t.key.Name(),
		t.key.MAC(t.memo.head),
	)
}

// LastAudit is the newest row of the record, or ErrNone.
func (t *Tx) LastAudit() (AuditRow, error) { return one(t, lastAudit, scanAudit) }

// HasHead tells whether the record contains a row of that hash.
func (t *Tx) HasHead(hash string) (bool, error) {
	n, err := t.number(hasHash, hash)
	return n > 0, err
}

// SealKey is a secret kept outside the data: who has the file alone can write the record anew,
// but not so that the key fits. Empty is none.
type SealKey []byte

// Name tells keys apart without giving one away.
func (k SealKey) Name() string {
	if len(k) == 0 {
		return ""
	}
	sum := sha256.Sum256(append([]byte("name of a key\n"), k...))
	return hex.EncodeToString(sum[:4])
}

// MAC is what the key makes of a hash of the record (HMAC with SHA-256).
func (k SealKey) MAC(hash string) string {
	if len(k) == 0 {
		return ""
	}
	mac := hmac.New(sha256.New, k)
	_, _ = mac.Write([]byte(hash)) // a hash takes everything
	return hex.EncodeToString(mac.Sum(nil))
}

// SealWith seals what is recorded from now on with a key; set it before the store is used.
func (s *Store) SealWith(key SealKey) { s.key = key }

// SealKey is the key that the store seals with.
func (s *Store) SealKey() SealKey { return s.key }

// Audit lists what happened to a document, the latest first.
func (t *Tx) Audit(subject, number string, limit int) ([]AuditRow, error) {
	return list(t, auditOf, scanAudit, subject, number, limit)
}

// AuditAfter lists the record's rows after a number, in order, some at a time.
func (t *Tx) AuditAfter(seq int64) ([]AuditRow, error) { return list(t, auditAfter, scanAudit, seq) }

// RecordFilter narrows the record; what is empty does not.
type RecordFilter struct {
	Login           string
	Subject, Number string // of a document, both or neither
	From, Until     string // instants: from the first on, and before the second
	Before          int64  // rows below this number
	Most            int
}

// Record lists rows of the record, the latest first.
func (t *Tx) Record(f RecordFilter) ([]AuditRow, error) {
	below, from := f.Before, int64(0)
	if below == 0 {
		below = AllReserved
	}
	for _, bound := range []struct {
		at string
		to *int64
	}{{f.From, &from}, {f.Until, &below}} {
		if bound.at == "" {
			continue
		}
		seq, err := one(t, firstSince, scanOne[int64], bound.at)
		switch {
		case errors.Is(err, ErrNone):
			if bound.to == &from {
				return nil, nil // nothing happened since
			}
		case err != nil:
			return nil, err
		case bound.to == &from:
			from = seq
		default:
			below = min(below, seq)
		}
	}
	switch {
	case f.Login != "":
		return list(t, recordBy, scanAudit, below, from, f.Most, f.Login, f.Subject, f.Number)
	case f.Subject != "":
		return list(t, recordAbout, scanAudit, below, from, f.Most, f.Subject, f.Number)
	default:
		return list(t, recordAll, scanAudit, below, from, f.Most)
	}
}
