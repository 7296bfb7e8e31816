package store

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"slices"
	"strings"

	"github.com/mattn/go-sqlite3"

	"lagoon/internal/core/day"
	"lagoon/internal/core/ledger"
)

// Booked is an entry as it stands in the journal.
type Booked struct {
	ID, Number     int64
	PostedOn       day.Day
	What           string
	Document       string // delivery, invoice, order, payment
	DocumentNumber int64
	Order          int64 // number, or zero
	By             int64
	ByName         string
	At             string
	ledger.Entry
}

var (
	addEntry = statement(
		`INSERT INTO entry (number, posted_on, currency, what, document, document_number, purchase_order, by_person,
			at) VALUES (?, ?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?)`,
	)
	addEntryLine = statement(
		`INSERT INTO entry_line (entry, no, role, detail, bill, amount, base) VALUES (?, ?, ?, ?, nullif(?, 0), ?, ?)`,
	)
	entryLines = statement(
		`SELECT role, detail, coalesce(bill, 0), amount, base FROM entry_line WHERE entry = ? ORDER BY no`,
	)
	bookedOf = statement(
		`SELECT role, detail, bill, sum(amount), sum(base) FROM entry_line WHERE bill = ? GROUP BY role, detail`,
	)
	lastBookedOf = statement(
		`SELECT coalesce(max(e.posted_on), '') FROM entry_line l JOIN entry e ON e.id = l.entry WHERE l.bill = ?`,
	)
	entryByNo   = statement(entryColumns + `WHERE e.number = ?`)
	entriesOf   = statement(entryColumns + `WHERE e.document = ? AND e.document_number = ? ORDER BY e.id`)
	recentEntry = statement(entryColumns + `WHERE e.number < ? ORDER BY e.number DESC LIMIT ?`)
	balances    = proof(
		`SELECT role, detail, 0, sum(amount), sum(base) FROM entry_line
			GROUP BY role, detail HAVING sum(base) <> 0 OR sum(amount) <> 0 ORDER BY role, detail`,
	)
)

const entryColumns = `SELECT e.id, e.number, e.posted_on, e.currency, e.what, e.document, e.document_number,
	coalesce(e.purchase_order, 0), coalesce(p.name, 'Lagoon'), e.at
	FROM entry e LEFT JOIN person p ON p.id = e.by_person `

// AddEntry books an entry and gives its number. An entry that does not balance is an error.
func (t *Tx) AddEntry(b Booked) (int64, error) {
	if err := b.Check(); err != nil {
		return 0, err
	}
	number, err := t.NextNumber(EntrySeries)
	if err != nil {
		return 0, err
	}
	id, err := t.exec(
		addEntry,
		number,
		b.PostedOn,
		b.Currency,
		b.What,
		b.Document,
		b.DocumentNumber,
		b.Order,
		b.By,
		b.At,
	)
	for i, l := range b.Lines {
		if err == nil && (l.Amount != 0 || l.Base != 0) {
			err = t.do(addEntryLine, id, i+1, l.Role, l.Detail, l.Bill, l.Amount, l.Base)
		}
	}
	if err == nil {
		err = t.sumUp(b)
	}
	if moved := b.Of(ledger.Bank); err == nil && moved != 0 {
		err = t.PutBankBooking(number, moved)
	}
	return number, err
}

func scanEntry(r row) (b Booked, err error) {
	err = r.Scan(
		&b.ID,
		&b.Number,
		&b.PostedOn,
		&b.Currency,
		&b.What,
		&b.Document,
		&b.DocumentNumber,
		&b.Order,
		&b.ByName,
		&b.At,
	)
	return
}

func (t *Tx) withLines(entries []Booked, err error) ([]Booked, error) {
	for i := range entries {
		if err != nil {
			return nil, err
		}
		entries[i].Lines, err = list(t, entryLines, scanLine, entries[i].ID)
	}
	return entries, err
}

func scanLine(r row) (l ledger.Line, err error) {
	err = r.Scan(&l.Role, &l.Detail, &l.Bill, &l.Amount, &l.Base)
	return
}

// EntriesOf lists the entries of a document.
func (t *Tx) EntriesOf(document string, number int64) ([]Booked, error) {
	return t.withLines(list(t, entriesOf, scanEntry, document, number))
}

// Journal lists entries, newest first, from below a number (zero: from the newest).
func (t *Tx) Journal(before int64, limit int) ([]Booked, error) {
	if before == 0 {
		before = AllReserved
	}
	return t.withLines(list(t, recentEntry, scanEntry, before, limit))
}

// Entry reads one entry.
func (t *Tx) Entry(number int64) (Booked, error) {
	b, err := one(t, entryByNo, scanEntry, number)
	if err != nil {
		return b, err
	}
	entries, err := t.withLines([]Booked{b}, nil)
	return append(entries, b)[0], err
}

// BookedOf sums by role and detail everything that was booked of an invoice's billing, then
// and later, and gives the last day it was posted on.
func (t *Tx) BookedOf(invoice int64) ([]ledger.Line, day.Day, error) {
	lines, err := list(t, bookedOf, scanLine, invoice)
	if err != nil {
		return nil, "", err
	}
	last, err := one(t, lastBookedOf, scanOne[day.Day], invoice)
	return lines, last, err
}

// Balances sums the ledger by role and detail.
func (t *Tx) Balances() ([]ledger.Line, error) { return list(t, balances, scanLine) }

var (
	putKey    = statement(`INSERT INTO command_key (actor, key, body, answer, at) VALUES (?, ?, ?, ?, ?)`)
	getKey    = statement(`SELECT body, answer FROM command_key WHERE actor = ? AND key = ?`)
	documents = finderOf("finder")
	masters   = finderOf("finder_masters")
)

// Answered is the answer that a command with this key was given, with the hash of
// its body, or ErrNone.
func (t *Tx) Answered(actor int64, key string) (body string, answer []byte, err error) {
	answer, err = one(t, getKey, func(r row) (a []byte, err error) {
		err = r.Scan(&body, &a)
		return
	}, actor, key)
	return body, answer, err
}

// KeepAnswer keeps a command's answer under its key.
func (t *Tx) KeepAnswer(actor int64, key, body string, answer []byte, at string) error {
	return t.do(putKey, actor, key, body, answer, at)
}

// Found is a thing that a search found.
type Found struct{ Kind, Number, Label string }

// finder is a search index. Suppliers and items have one of their own: among documents, which
// name them too, they would be found only after all of those were looked through.
type finder struct{ put, end, ask *query }

func finderOf(table string) finder {
	text := func(query string) string { return strings.ReplaceAll(query, "TABLE", table) }
	return finder{
		statement(text(`INSERT INTO TABLE (text, kind, number, label) VALUES (?, ?, ?, ?)`)),
		statement(
			text(
				`DELETE FROM TABLE WHERE rowid IN (SELECT rowid FROM TABLE
					WHERE TABLE MATCH ?1 AND kind = ?2 AND number = ?3)`,
			),
		),
		statement(text(`SELECT kind, number, label FROM TABLE WHERE TABLE MATCH ? ORDER BY rowid DESC LIMIT ?`)),
	}
}

// finder is the index that a thing is found by.
func (f Found) finder() finder {
	if f.Kind == "supplier" || f.Kind == "item" {
		return masters
	}
	return documents
}

// MakeFindable lets a document be found by the words of text, and by any three or more
// consecutive digits of the numbers in it: the index finds beginnings of words, so that the ends
// of a number stand in it as well.
func (t *Tx) MakeFindable(text string, f Found) error {
	return t.do(f.finder().put, text+ends(text), f.Kind, f.Number, f.Label)
}

// ends are the ends of three digits and more of each number in a text.
func ends(text string) string {
	var all strings.Builder
	for _, word := range strings.FieldsFunc(text, func(c rune) bool { return c < '0' || c > '9' }) {
		for at := 1; at+3 <= len(word); at++ {
			all.WriteString(" " + word[at:])
		}
	}
	return all.String()
}

// MakeFindableAs lets something be found by the words of text only, whatever it was
// found by before. Its number is one of the words it was found by.
func (t *Tx) MakeFindableAs(text string, f Found) error {
	number := `"` + strings.ReplaceAll(f.Number, `"`, `""`) + `"`
	return errors.Join(t.do(f.finder().end, number, f.Kind, f.Number), t.MakeFindable(text, f))
}

// Find searches documents by an expression of the full-text index, the newest first: a rank
// would have to be worked out for everything that fits.
func (t *Tx) Find(expression string, limit int) ([]Found, error) {
	return list(t, documents.ask, scanFound, expression, limit)
}

// FindMasters searches suppliers and items likewise.
func (t *Tx) FindMasters(expression string, limit int) ([]Found, error) {
	return list(t, masters.ask, scanFound, expression, limit)
}

func scanFound(r row) (f Found, err error) {
	err = r.Scan(&f.Kind, &f.Number, &f.Label)
	return
}

// Paper is a file as it came.
type Paper struct {
	ID              int64
	SHA256          string
	Name, MediaType string
	Size            int64
}

const partSize = 256 << 10

var (
	paperByHash  = statement(`SELECT id, sha256, name, media_type, size FROM paper WHERE sha256 = ?`)
	paperByID    = statement(`SELECT id, sha256, name, media_type, size FROM paper WHERE id = ?`)
	addPaper     = statement(`INSERT INTO paper (sha256, name, media_type, size, kept_at) VALUES (?, ?, ?, ?, ?)`)
	addPaperPart = statement(`INSERT INTO paper_part (paper, part, bytes) VALUES (?, ?, ?)`)
	paperParts   = statement(`SELECT bytes FROM paper_part WHERE paper = ? ORDER BY part`)
)

func scanPaper(r row) (p Paper, err error) {
	err = r.Scan(&p.ID, &p.SHA256, &p.Name, &p.MediaType, &p.Size)
	return
}

// KeepPaper keeps a file by its content and gives its row key; the same content is
// kept once.
func (t *Tx) KeepPaper(name, mediaType string, content []byte, at string) (int64, error) {
	hash := hashOf(content)
	id, err := t.exec(addPaper, hash, name, mediaType, len(content), at)
	var there sqlite3.Error
	if errors.As(err, &there) && there.ExtendedCode == sqlite3.ErrConstraintUnique {
		p, err := one(t, paperByHash, scanPaper, hash)
		return p.ID, err
	}
	for part := 0; err == nil && part*partSize < len(content); part++ {
		err = t.do(addPaperPart, id, part, content[part*partSize:min(len(content), (part+1)*partSize)])
	}
	return id, err
}

// hashOf is what a paper is found by: the SHA-256 of its bytes.
func hashOf(content []byte) string {
	sum := sha256.Sum256(content)
	return hex.EncodeToString(sum[:])
}

// PaperNamed finds a paper by its SHA-256, or ErrNone.
func (t *Tx) PaperNamed(sha256 string) (Paper, error) {
	return one(t, paperByHash, scanPaper, sha256)
}

// Paper reads a file.
func (t *Tx) Paper(id int64) (Paper, []byte, error) {
	p, err := one(t, paperByID, scanPaper, id)
	if err != nil {
		return p, nil, err
	}
	parts, err := list(t, paperParts, scanOne[[]byte], id)
	return p, slices.Concat(parts...), err
}

// Wake is an invoice that is to be matched again.
type Wake struct {
	Invoice   int64
	Cause     string
	Tries     int
	NotBefore string
	Trouble   string
}

var (
	putWake = statement(
		`INSERT INTO wake (invoice, cause, not_before) VALUES (?, ?, ?)
			ON CONFLICT (invoice) DO UPDATE SET cause = excluded.cause, tries = 0, not_before = excluded.not_before`,
	)
	dueWakes = statement(
		`SELECT invoice, cause, tries, not_before, trouble FROM wake WHERE not_before <= ? ORDER BY invoice LIMIT 100`,
	)
	dropWake   = statement(`DELETE FROM wake WHERE invoice = ?`)
	delayWake  = statement(`UPDATE wake SET tries = tries + 1, not_before = ?2, trouble = ?3 WHERE invoice = ?1`)
	countWakes = statement(`SELECT count(*) FROM wake WHERE not_before <= ?`)
)

// WakeInvoice notes that an invoice is to be matched again.
func (t *Tx) WakeInvoice(invoice int64, cause, at string) error {
	return t.do(putWake, invoice, cause, at)
}

// DueWakes lists invoices to match again now, the earliest captured first.
func (t *Tx) DueWakes(now string) ([]Wake, error) {
	return list(t, dueWakes, func(r row) (w Wake, err error) {
		err = r.Scan(&w.Invoice, &w.Cause, &w.Tries, &w.NotBefore, &w.Trouble)
		return
	}, now)
}

// DropWake removes the note once its invoice was matched.
func (t *Tx) DropWake(invoice int64) error { return t.do(dropWake, invoice) }

// DelayWake puts a failed match off.
func (t *Tx) DelayWake(invoice int64, until, trouble string) error {
	return t.do(delayWake, invoice, until, trouble)
}

// CountWakes counts the invoices to match again now.
func (t *Tx) CountWakes(now string) (int64, error) { return t.number(countWakes, now) }
