package store

// This file keeps the accounts of ours that money leaves.

// DebitAccount is an account of ours, in company currency.
type DebitAccount struct {
	IBAN, BIC string
	Name      string // as people call it
	Ended     bool   // no run leaves it any more; its statements are read
	Own       bool   // the company's own, that runs leave where nobody says otherwise
}

var (
	debitAccounts   = statement(`SELECT iban, bic, name, ended FROM debit_account ORDER BY iban`)
	putDebitAccount = statement(
		`INSERT INTO debit_account (iban, bic, name, ended) VALUES (?, ?, ?, ?)
		ON CONFLICT (iban) DO UPDATE SET bic = excluded.bic, name = excluded.name, ended = excluded.ended`,
	)
)

// DebitAccounts are the company's own account, first, and its further ones.
func (t *Tx) DebitAccounts() ([]DebitAccount, error) {
	company, err := t.Company()
	if err != nil {
		return nil, err
	}
	further, err := list(t, debitAccounts, func(r row) (a DebitAccount, err error) {
		err = r.Scan(&a.IBAN, &a.BIC, &a.Name, &a.Ended)
		return
	})
	all := []DebitAccount{{IBAN: company.IBAN, BIC: company.BIC, Own: true}}
	for _, a := range further {
		if a.IBAN != company.IBAN {
			all = append(all, a)
		}
	}
	return all, err
}

// PutDebitAccount writes a further account.
func (t *Tx) PutDebitAccount(a DebitAccount) error {
	return t.do(putDebitAccount, a.IBAN, a.BIC, a.Name, a.Ended)
}
