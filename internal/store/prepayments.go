package store

// This file keeps money ahead: what is agreed on orders, what invoices for it put into the books, and what later invoices do
// with it (rules §8).

import (
	"errors"
	"slices"

	"lagoon/internal/core/book"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// requests tells whether what makes a revision one for money ahead (x) is our own request.
const requests = `EXISTS (SELECT 1 FROM invoice_request z WHERE z.invoice_revision = x.invoice_revision)`

// askedBy sums what invoices (0), or our own requests (1), have asked of an agreement (a).
func askedBy(requested string) string {
	return `coalesce((SELECT sum(s.total) FROM invoice_prepayment x CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
	WHERE x.purchase_order = a.purchase_order AND x.agreement = a.id AND ` + requests + ` = ` + requested + ` AND s.state NOT IN ` + isEnded + `), 0)`
}

var agreementRows = `SELECT a.id, a.number, a.purchase_order, a.kind, a.percent, a.amount, a.event, a.expected_on, a.note, p.name, a.at,
	` + askedBy("0") + `, ` + askedBy("1") + `
	FROM prepayment_agreement a CROSS JOIN person p ON p.id = a.by_person
	WHERE NOT EXISTS (SELECT 1 FROM prepayment_agreement_end e WHERE e.agreement = a.id) AND `

// useStands tells whether what somebody said of money ahead (u) was not taken back.
const useStands = `NOT EXISTS (SELECT 1 FROM prepayment_use_end e WHERE e.prepayment_use = u.id)`

var (
	addAgreement = statement(
		`INSERT INTO prepayment_agreement (number, purchase_order, kind, percent, amount, event, expected_on, note, by_person, at)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	endAgreement = statement(`INSERT INTO prepayment_agreement_end (agreement, reason, by_person, at) VALUES (?, ?, ?, ?)`)
	agreementsOf = statement(agreementRows + `a.purchase_order = ? ORDER BY a.expected_on, a.id`)
	agreementOf  = statement(agreementRows + `a.number = ?`)
	agreementID  = statement(agreementRows + `a.id = ?`)
	putAheadKind = statement(`INSERT INTO prepayment_kind (name) VALUES (?) ON CONFLICT (name) DO NOTHING`)
	aheadKinds   = statement(`SELECT name FROM prepayment_kind ORDER BY name`)
	agreedAfter  = statement(agreementRows + `a.id > ? ORDER BY a.id LIMIT 500`)

	addAhead = statement(
		`INSERT INTO invoice_prepayment (invoice_revision, invoice, purchase_order, agreement, kind) VALUES (?, ?, nullif(?, 0), nullif(?, 0), ?)`,
	)
	addRequestAhead = statement(`INSERT INTO invoice_request (invoice_revision) VALUES (?)`)
	aheadOf         = statement(`SELECT coalesce(agreement, 0), kind FROM invoice_prepayment WHERE invoice_revision = ?`)
	askedOf         = statement(
		`SELECT coalesce(sum(s.total), 0) FROM invoice_prepayment x
		CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		WHERE x.purchase_order = ?1 AND x.agreement = ?2 AND s.invoice <> ?3 AND ` + requests + ` = ?4 AND (s.state IN ` + isBooked + `
		OR (s.state IN ` + isUnsettled + ` AND (?3 = 0 OR s.invoice < ?3)))`,
	)
	aheadOfOrder = statement(
		`SELECT x.invoice FROM invoice_prepayment x CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		WHERE x.purchase_order = ? AND s.state IN ` + isBooked + ` ORDER BY x.invoice`,
	)
	requestsAhead = statement(
		`SELECT x.invoice FROM invoice_prepayment x CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		WHERE x.purchase_order = ? AND x.agreement = ? AND ` + requests + ` AND s.state IN ` + isBooked + ` ORDER BY x.invoice`,
	)
	askedAhead = statement(
		`SELECT x.invoice FROM invoice_prepayment x CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		WHERE x.purchase_order = ? AND s.state NOT IN ` + isEnded + ` ORDER BY x.invoice`,
	)
	aheadAfter = statement(
		`SELECT DISTINCT x.invoice FROM invoice_prepayment x CROSS JOIN invoice_state s ON s.invoice = x.invoice AND s.revision = x.invoice_revision
		WHERE x.invoice > ? AND s.state IN ` + isBooked + ` ORDER BY x.invoice LIMIT 500`,
	)

	addUse = statement(`INSERT INTO prepayment_use (invoice_revision, prepayment, amount, note, by_person, at) VALUES (?, ?, ?, ?, ?, ?)`)
	endUse = statement(`INSERT INTO prepayment_use_end (prepayment_use, reason, by_person, at) VALUES (?, ?, ?, ?)`)
	usesOf = statement(
		`SELECT u.prepayment, u.id, u.amount, u.note, p.name, u.at,
		EXISTS (SELECT 1 FROM prepayment_taken k WHERE k.prepayment_use = u.id)
		FROM prepayment_use u CROSS JOIN person p ON p.id = u.by_person WHERE u.invoice_revision = ? AND ` + useStands + ` ORDER BY u.id`,
	)
	usesAsked = statement(
		`SELECT coalesce(sum(u.amount), 0) FROM prepayment_use u CROSS JOIN invoice_revision r ON r.id = u.invoice_revision
		CROSS JOIN invoice_state s ON s.invoice = r.invoice AND s.revision = r.id
		WHERE u.prepayment = ?1 AND s.invoice <> ?2 AND s.state IN ` + isUnsettled + ` AND ` + useStands,
	)
	usersOf = statement(
		`SELECT DISTINCT s.invoice FROM prepayment_use u CROSS JOIN invoice_revision r ON r.id = u.invoice_revision
		CROSS JOIN invoice_state s ON s.invoice = r.invoice AND s.revision = r.id
		WHERE u.prepayment = ? AND s.state NOT IN ` + isEnded + ` AND u.amount > 0 AND ` + useStands,
	)
	addTaken = statement(
		`INSERT INTO prepayment_taken (prepayment, prepayment_use, credit_note, amount, base, payables, at)
		VALUES (?, nullif(?, 0), nullif(?, 0), ?, ?, ?, ?)`,
	)
	addTakenTax = statement(`INSERT INTO prepayment_taken_tax (taken, name, own, amount, base) VALUES (?, ?, ?, ?, ?)`)
	takenOf     = statement(
		`SELECT id, coalesce(prepayment_use, 0), coalesce(credit_note, 0), amount, base, payables FROM prepayment_taken WHERE prepayment = ? ORDER BY id`,
	)
	takenTaxes    = statement(`SELECT name, own, amount, base FROM prepayment_taken_tax WHERE taken = ? ORDER BY name, own`)
	takenByCredit = statement(`SELECT DISTINCT prepayment FROM prepayment_taken WHERE credit_note = ?`)
	usedSum       = statement(
		`SELECT coalesce(sum(k.amount), 0) FROM invoice_revision r CROSS JOIN prepayment_use u ON u.invoice_revision = r.id
		CROSS JOIN prepayment_taken k ON k.prepayment_use = u.id WHERE r.invoice = ?`,
	)
	usedPayables = proof(
		`SELECT coalesce(sum(k.payables), 0) FROM invoice_revision r CROSS JOIN prepayment_use u ON u.invoice_revision = r.id
		CROSS JOIN prepayment_taken k ON k.prepayment_use = u.id WHERE r.invoice = ?`,
	)
	paidParts = statement(`SELECT ` + partsIn(`'settled'`) + ` + (` + otherwiseSum + `)`)
)

// Agreed is money agreed ahead on an order with what invoices, and our own requests, have asked of it so far, tax included.
type Agreed struct {
	trade.Agreement
	Invoiced, Requested money.Amount
	By, At              string
}

// AskedFor is what has been asked of it one way or the other: an invoice may ask for what our own request did before.
func (a Agreed) AskedFor() money.Amount { return max(a.Invoiced, a.Requested) }

func scanAgreed(r row) (a Agreed, err error) {
	err = r.Scan(&a.ID, &a.Number, &a.Order, &a.Kind, &a.Percent, &a.Amount, &a.Event, &a.ExpectedOn, &a.Note, &a.By, &a.At, &a.Invoiced, &a.Requested)
	return
}

// AddAgreement writes one.
func (t *Tx) AddAgreement(a trade.Agreement, by int64, at string) (int64, error) {
	return t.exec(addAgreement, a.Number, a.Order, a.Kind, a.Percent, a.Amount, a.Event, a.ExpectedOn, a.Note, by, at)
}

// EndAgreement removes one.
func (t *Tx) EndAgreement(id int64, reason string, by int64, at string) error {
	return t.do(endAgreement, id, reason, by, at)
}

// Agreements are those of an order that stand, by the day they are expected on.
func (t *Tx) Agreements(order int64) ([]Agreed, error) {
	return list(t, agreementsOf, scanAgreed, order)
}

// Agreement is a standing one by its number, or ErrNone.
func (t *Tx) Agreement(number int64) (Agreed, error) { return one(t, agreementOf, scanAgreed, number) }

// AgreementsAfter are all that stand, some at a time.
func (t *Tx) AgreementsAfter(id int64) ([]Agreed, error) { return list(t, agreedAfter, scanAgreed, id) }

// PutAheadKind keeps a kind of money ahead.
func (t *Tx) PutAheadKind(name string) error { return t.do(putAheadKind, name) }

// AheadKinds are those that were ever agreed, a deposit among them.
func (t *Tx) AheadKinds() ([]string, error) {
	kinds, err := list(t, aheadKinds, scanOne[string])
	if at, found := slices.BinarySearch(kinds, trade.Deposit); !found {
		kinds = slices.Insert(kinds, at, trade.Deposit)
	}
	return kinds, err
}

// addAhead writes what makes a revision one for money ahead.
func (t *Tx) addAhead(inv trade.Invoice, revision int64) error {
	if inv.Ahead == nil {
		return nil
	}
	if err := t.do(addAhead, revision, inv.ID, inv.OrderID, inv.Ahead.Agreement, inv.Ahead.Kind); err != nil || !inv.Requested() {
		return err
	}
	return t.do(addRequestAhead, revision)
}

// ahead reads it.
func (t *Tx) ahead(inv *trade.Invoice, revision int64) error {
	if !inv.Prepays() {
		return nil
	}
	ahead, err := one(t, aheadOf, func(r row) (a trade.Ahead, err error) {
		err = r.Scan(&a.Agreement, &a.Kind)
		return
	}, revision)
	inv.Ahead = &ahead
	return err
}

// Prepayment is an invoice for money ahead in the books, with what became of the money, as another invoice (0: none) sees it.
func (t *Tx) Prepayment(invoice, asking int64) (p trade.Prepayment, err error) {
	s, err := t.InvoiceState(invoice)
	if err != nil {
		return p, err
	}
	inv, err := t.Invoice(s.Revision)
	if err != nil {
		return p, err
	}
	company, err := t.Company()
	if err != nil {
		return p, err
	}
	p = trade.Prepayment{
		Invoice: invoice, Number: inv.Number, SupplierNumber: inv.SupplierNumber, SupplierID: inv.SupplierID, Order: inv.OrderID,
		Kind: inv.Ahead.Kind, Currency: inv.Currency, Request: inv.Requested(),
	}
	if p.Request { // the books know it by its payment
		p.Booked, p.Owed = trade.AheadPart{Value: inv.StatedTotal, Base: s.TotalBase}, s.Open
	} else if p.Booked, err = inv.BookedAhead(company.Currency); err != nil {
		return p, err
	}
	taken, err := t.TakenOf(invoice)
	for _, k := range taken {
		p.Take(k.AheadPart)
	}
	settled, err1 := t.number(paidParts, invoice)
	reserved, err2 := t.number(usesAsked, invoice, asking)
	used, err3 := t.UsedAhead(invoice) // of our own request
	p.Settled, p.Reserved = money.Amount(settled)+used, money.Amount(reserved)
	return p, errors.Join(err, err1, err2, err3)
}

// Taken is what went off money ahead at once.
type Taken struct {
	ID, Use, Credit int64 // row keys, of the last two one is set
	Payables        money.Amount
	trade.AheadPart
}

// TakenOf lists it, in the order in which it was booked.
func (t *Tx) TakenOf(prepayment int64) ([]Taken, error) {
	all, err := list(t, takenOf, func(r row) (k Taken, err error) {
		err = r.Scan(&k.ID, &k.Use, &k.Credit, &k.Value, &k.Base, &k.Payables)
		return
	}, prepayment)
	for i := range all {
		if err != nil {
			return nil, err
		}
		all[i].Taxes, err = list(t, takenTaxes, func(r row) (x trade.TaxPart, err error) {
			err = r.Scan(&x.Name, &x.Own, &x.Value, &x.Base)
			return
		}, all[i].ID)
	}
	return all, err
}

// AheadOf are the invoices for money ahead of an order that stand in the books, as row keys.
func (t *Tx) AheadOf(order int64) ([]int64, error) {
	return list(t, aheadOfOrder, scanOne[int64], order)
}

// InvoicesAhead are those of an order that stand, in the books or not.
func (t *Tx) InvoicesAhead(order int64) ([]int64, error) {
	return list(t, askedAhead, scanOne[int64], order)
}

// AheadAfter are all of them, some at a time.
func (t *Tx) AheadAfter(id int64) ([]int64, error) { return list(t, aheadAfter, scanOne[int64], id) }

// UsedAhead is what an invoice has used of money ahead, as booked.
func (t *Tx) UsedAhead(invoice int64) (money.Amount, error) {
	sum, err := t.number(usedSum, invoice)
	return money.Amount(sum), err
}

// use is what a revision does with one invoice for money ahead.
type use struct {
	prepayment int64
	trade.AheadUse
}

// uses are what a revision does with money ahead.
func (t *Tx) uses(revision int64) ([]use, error) {
	return list(t, usesOf, func(r row) (u use, err error) {
		err = r.Scan(&u.prepayment, &u.ID, &u.Amount, &u.Note, &u.By, &u.At, &u.Booked)
		return
	}, revision)
}

// MoneyAhead is what was paid ahead on the orders of an invoice, and elsewhere as far as it uses that, with what its revision
// (0: none yet) does with it.
func (t *Tx) MoneyAhead(inv trade.Invoice, revision int64) ([]trade.Prepayment, error) {
	ids, err := t.couldUse(inv)
	if err != nil {
		return nil, err
	}
	uses, err := t.uses(revision)
	if err != nil {
		return nil, err
	}
	said := map[int64]*trade.AheadUse{}
	for i, u := range uses {
		said[u.prepayment] = &uses[i].AheadUse
		ids = append(ids, u.prepayment)
	}
	var all []trade.Prepayment
	seen := map[int64]bool{}
	for _, id := range ids {
		if seen[id] {
			continue
		}
		seen[id] = true
		p, err := t.Prepayment(id, inv.ID)
		if err != nil {
			return nil, err
		}
		p.Use = said[id]
		all = append(all, p)
	}
	return all, nil
}

// couldUse are the invoices whose money another may use, as row keys: those of its orders or, for an invoice that asks for
// money ahead, our own requests for the same.
func (t *Tx) couldUse(inv trade.Invoice) (ids []int64, err error) {
	switch {
	case inv.Requested() || inv.Follows():
		return nil, nil
	case inv.Prepays():
		return list(t, requestsAhead, scanOne[int64], inv.OrderID, inv.Ahead.Agreement)
	}
	for _, order := range inv.Concerns() {
		its, err := t.AheadOf(order)
		if err != nil {
			return nil, err
		}
		ids = append(ids, its...)
	}
	return ids, nil
}

// AddUse writes what a revision does with money ahead.
func (t *Tx) AddUse(revision, prepayment int64, u trade.AheadUse, by int64, at string) (int64, error) {
	return t.exec(addUse, revision, prepayment, u.Amount, u.Note, by, at)
}

// EndUse takes it back.
func (t *Tx) EndUse(id int64, reason string, by int64, at string) error {
	return t.do(endUse, id, reason, by, at)
}

// UsersOf are the standing invoices that use money ahead, or ask to, as row keys.
func (t *Tx) UsersOf(prepayment int64) ([]int64, error) {
	return list(t, usersOf, scanOne[int64], prepayment)
}

// TakenBy is what a booked document took of money ahead that still stands: a revision of an invoice by its uses, a credit
// note by itself.
func (t *Tx) TakenBy(revision, credit int64) ([]book.Ahead, error) {
	ids, err := list(t, takenByCredit, scanOne[int64], credit)
	if err != nil {
		return nil, err
	}
	uses, err := t.uses(revision)
	if err != nil {
		return nil, err
	}
	its := map[int64]bool{}
	for _, u := range uses {
		its[u.ID] = true
		if u.Booked && !slices.Contains(ids, u.prepayment) {
			ids = append(ids, u.prepayment)
		}
	}
	var all []book.Ahead
	for _, id := range ids {
		p, err := t.Prepayment(id, 0)
		if err != nil {
			return nil, err
		}
		taken, err := t.TakenOf(id)
		if err != nil {
			return nil, err
		}
		for _, k := range taken {
			if its[k.Use] || (credit != 0 && k.Credit == credit) {
				all = append(all, book.Ahead{Of: &p, Use: k.Use, Payables: k.Payables, AheadPart: k.AheadPart})
			}
		}
	}
	return all, nil
}

// applyAhead writes what a booking takes of money ahead. Document is the credit note, where one takes it.
func (t *Tx) applyAhead(ahead []book.Ahead, document int64, at string) error {
	for _, a := range ahead {
		credit := int64(0)
		if a.Use == 0 {
			credit = document
		}
		id, err := t.exec(addTaken, a.Of.Invoice, a.Use, credit, a.Value, a.Base, a.Payables, at)
		if err != nil {
			return err
		}
		for _, x := range a.Taxes {
			if err := t.do(addTakenTax, id, x.Name, x.Own, x.Value, x.Base); err != nil {
				return err
			}
		}
	}
	return nil
}

// aheadFacts reads what an invoice for money ahead is held against, or what another is asked about such money.
func (t *Tx) aheadFacts(inv trade.Invoice, revision int64, facts *match.Facts) (err error) {
	if facts.Ahead, err = t.MoneyAhead(inv, revision); err != nil || !inv.Prepays() {
		return err
	}
	if inv.Ahead.Agreement == 0 || len(facts.Orders) == 0 {
		return nil
	}
	agreed, err := one(t, agreementID, scanAgreed, inv.Ahead.Agreement)
	if errors.Is(err, ErrNone) { // removed since
		return nil
	}
	if err != nil {
		return err
	}
	totals, err := facts.Orders[0].Totals()
	if err != nil {
		return err
	}
	facts.Agreed.Number = agreed.Number
	if facts.Agreed.Gross, err = agreed.Gross(totals.Total); err != nil {
		return err
	}
	asked, err := t.number(askedOf, agreed.Order, agreed.ID, inv.ID, false)
	if inv.Requested() && err == nil { // what an invoice asks for needs no request
		var requested int64
		requested, err = t.number(askedOf, agreed.Order, agreed.ID, inv.ID, true)
		asked = max(asked, requested)
	}
	facts.Agreed.Invoiced = money.Amount(asked)
	return err
}
