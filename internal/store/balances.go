package store

// This file keeps what accounts hold as sums, written with every entry, so that a trial balance and what is open of documents are
// read without the whole journal. Verify adds the journal up.

import (
	"errors"
	"slices"

	"lagoon/internal/core/ledger"
)

var (
	ofDocuments     = in(ledger.OfDocuments[:])
	addAccountMonth = statement(
		`INSERT INTO account_month (role, detail, month, debit, credit, lines, noted) VALUES (?, ?, ?, ?, ?, 1, ?)
		ON CONFLICT (role, detail, month) DO UPDATE SET debit = debit + excluded.debit, credit = credit + excluded.credit,
		lines = lines + 1, noted = max(noted, excluded.noted)`,
	)
	addAccountOpen = statement(
		`INSERT INTO account_open (role, detail, base) VALUES (?, ?, ?) ON CONFLICT (role, detail) DO UPDATE SET base = base + excluded.base`,
	)
	endAccountOpen = statement(`DELETE FROM account_open WHERE role = ? AND detail = ? AND base = 0`)
	dropMonths     = statement(`DELETE FROM account_month`)
	dropOpen       = statement(`DELETE FROM account_open`)
	fillMonths     = proof(`INSERT INTO account_month (role, detail, month, debit, credit, lines, noted) ` + monthsOfAccounts)
	fillOpen       = proof(`INSERT INTO account_open (role, detail, base) ` + openOfAccounts)
	wrongMonths    = proof(
		`SELECT role || ' ' || detail || ' in ' || month, 0 FROM (SELECT role, detail, month FROM (` + differing("account_month", monthsOfAccounts) + `) GROUP BY 1, 2, 3)`,
	)
	wrongOpen = proof(
		`SELECT role || ' of ' || detail, 0 FROM (SELECT role, detail FROM (` + differing("account_open", openOfAccounts) + `) GROUP BY 1, 2)`,
	)
)

var (
	monthsOfAccounts = `SELECT l.role AS role, iif(l.role IN ` + ofDocuments + `, '', l.detail) AS detail, substr(e.posted_on, 1, 7) AS month,
		sum(max(0, l.base)) AS debit, sum(max(0, -l.base)) AS credit, count(*) AS lines, max(e.at) AS noted
		FROM entry_line l JOIN entry e ON e.id = l.entry GROUP BY 1, 2, 3`
	openOfAccounts = `SELECT role, detail, sum(base) AS base FROM entry_line WHERE role IN ` + ofDocuments + ` GROUP BY 1, 2 HAVING sum(base) <> 0`
)

// StillOpen is, in SQL, what an account holds of documents on a day, each detail with its base: what it holds of all that was posted,
// less what was posted after the day.
func StillOpen(role ledger.Role, at string) string {
	return "(SELECT detail, sum(base) AS base FROM (SELECT detail, base FROM account_open WHERE role = '" + string(role) + `'
	UNION ALL SELECT e.detail, -e.base FROM entry n CROSS JOIN entry_line e ON e.entry = n.id WHERE n.posted_on > ` + at + ` AND e.role = '` + string(role) + `')
	GROUP BY detail HAVING sum(base) <> 0)`
}

// differing are the rows that only a table or only a question has.
func differing(table, question string) string {
	return `SELECT * FROM (SELECT * FROM ` + table + ` EXCEPT SELECT * FROM (` + question + `)) UNION ALL
		SELECT * FROM (SELECT * FROM (` + question + `) EXCEPT SELECT * FROM ` + table + `)`
}

// sumUp adds an entry to what its accounts hold.
func (t *Tx) sumUp(b Booked) error {
	for _, l := range b.Lines {
		if l.Amount == 0 && l.Base == 0 {
			continue
		}
		detail := l.Detail
		if slices.Contains(ledger.OfDocuments[:], l.Role) {
			if err := errors.Join(t.do(addAccountOpen, l.Role, detail, l.Base), t.do(endAccountOpen, l.Role, detail)); err != nil {
				return err
			}
			detail = ""
		}
		if err := t.do(addAccountMonth, l.Role, detail, b.PostedOn.Month(), max(0, l.Base), max(0, -l.Base), b.At); err != nil {
			return err
		}
	}
	return nil
}

// countAccounts adds up the whole journal.
func (t *Tx) countAccounts() error {
	return errors.Join(t.do(dropMonths), t.do(dropOpen), t.do(fillMonths), t.do(fillOpen))
}

// WrongBalances are accounts of which another sum is kept than the journal comes to.
func (t *Tx) WrongBalances() ([]Sum, error) {
	months, err1 := list(t, wrongMonths, scanSum)
	open, err2 := list(t, wrongOpen, scanSum)
	return append(months, open...), errors.Join(err1, err2)
}
