package store

// This file keeps the chart of accounts.

import "lagoon/internal/core/ledger"

// ChartAccount is what the company numbers and names an account: that of a role or, with a detail, of a budget or a kind of
// charge within it.
type ChartAccount struct {
	Role         ledger.Role
	Detail       string
	Number, Name string // no number: it has none yet
}

var (
	putChartAccount = statement(
		`INSERT INTO ledger_account (role, detail, number, name) VALUES (?, ?, ?, ?)
		ON CONFLICT (role, detail) DO UPDATE SET number = excluded.number, name = excluded.name`,
	)
	allAccounts = statement(`SELECT role, detail, number, name FROM ledger_account ORDER BY role, detail`)
)

// PutChartAccount writes one.
func (t *Tx) PutChartAccount(a ChartAccount) error {
	return t.do(putChartAccount, a.Role, a.Detail, a.Number, a.Name)
}

// ChartAccounts lists those that were written.
func (t *Tx) ChartAccounts() ([]ChartAccount, error) {
	return list(t, allAccounts, func(r row) (a ChartAccount, err error) {
		err = r.Scan(&a.Role, &a.Detail, &a.Number, &a.Name)
		return
	})
}
