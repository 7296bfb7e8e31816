package store

// This file keeps what the bank says of our account, line by line, what each line was set against, and what of the ledger's
// movements of the bank account is on no statement yet.

import (
	"errors"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Statement is what the bank said of our account, in company currency; a notification has no balances.
type Statement struct {
	ID, Number       int64
	Ident            string // the bank's
	IBAN             string
	Notification     bool
	From, To         day.Day
	Opening, Closing money.Amount
	Paper            int64 // row key
	By               int64
	ByName, At       string
	Open             int64 // lines of which something is set against nothing
}

// BankLine is a line of a statement.
type BankLine struct {
	ID           int64
	Statement    int64 // row key
	Number       int64 // of the statement
	Notification bool
	No           int
	Day          day.Day
	Amount       money.Amount // below zero: the bank took it
	Charge       money.Amount // that it says is in it, zero or above
	EndToEnd     string
	Reference    string // the bank's
	Name, IBAN   string // of who is on the other side
	Text         string
	Code, Reason string
	Rest         money.Amount // what of it is set against nothing
	Trouble      string       // why Lagoon could not place it
	Sets         []BankSet
}

// What a line of a statement is set against.
const (
	Debited      = "debited"    // a payment of a run
	GivenBack    = "given_back" // a payment of a run that came back
	BankCharge   = "charge"
	BySettlement = "settlement" // an invoice paid by the bank without a run, a credit note refunded
	Aside        = "aside"      // none of ours
)

// BankSet is what a line, or a part of it, was set against.
type BankSet struct {
	ID               int64
	What             string
	Amount           money.Amount
	Payment          int64 // row key; of a payment of a run
	EndToEnd         string
	Run              int64 // number
	Supplier         string
	Settlement       int64 // row key
	SettlementNumber int64
	Invoice          int64 // number, of a settlement
	Entry            int64 // number of the entry that it made; 0: none
	Note             string
	By               int64
	ByName, At       string
}

const (
	bankLineRows = `SELECT l.id, l.statement, m.number, m.notification, l.no, l.day, l.amount, l.charge, l.end_to_end, l.reference,
		l.name, l.iban, l.text, l.code, l.reason, x.rest, x.trouble
		FROM bank_line l CROSS JOIN bank_statement m ON m.id = l.statement CROSS JOIN bank_line_state x ON x.line = l.id WHERE `
	statementRows = `SELECT m.id, m.number, m.ident, m.iban, m.notification, m.from_day, m.to_day, m.opening, m.closing, m.paper,
		coalesce(m.by_person, 0), coalesce(p.name, 'Lagoon'), m.at,
		(SELECT count(*) FROM bank_line l CROSS JOIN bank_line_state x ON x.line = l.id WHERE l.statement = m.id AND x.rest <> 0)
		FROM bank_statement m LEFT JOIN person p ON p.id = m.by_person WHERE `
	setStands = `NOT EXISTS (SELECT 1 FROM bank_line_set_end e WHERE e.bank_line_set = t.id)`
)

var (
	addStatement = statement(
		`INSERT INTO bank_statement (number, ident, iban, notification, from_day, to_day, opening, closing, paper, by_person, at)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), ?)`,
	)
	addBankLine = statement(
		`INSERT INTO bank_line (statement, no, day, amount, charge, end_to_end, reference, name, iban, text, code, reason)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	addBankSet = statement(
		`INSERT INTO bank_line_set (line, what, amount, payment, settlement, entry, note, by_person, at)
		VALUES (?, ?, ?, nullif(?, 0), nullif(?, 0), nullif(?, 0), ?, nullif(?, 0), ?)`,
	)
	endBankSet  = statement(`INSERT INTO bank_line_set_end (bank_line_set, reason, by_person, at) VALUES (?, ?, ?, ?)`)
	putBankLine = statement(
		`INSERT INTO bank_line_state (line, rest, trouble) VALUES (?, ?, ?)
		ON CONFLICT (line) DO UPDATE SET rest = excluded.rest, trouble = excluded.trouble`,
	)
	hasStatement     = statement(`SELECT count(*) FROM bank_statement WHERE iban = ? AND notification = ? AND ident = ?`)
	statementByNo    = statement(statementRows + `m.number = ?`)
	statements       = cutAt(60, statementRows+`m.id > 0 ORDER BY m.id DESC`)
	linesOf          = statement(bankLineRows + `l.statement = ? ORDER BY l.no`)
	lineOf           = statement(bankLineRows + `l.statement = (SELECT id FROM bank_statement WHERE number = ?) AND l.no = ?`)
	openBankLines    = cutAt(mostPiled, bankLineRows+`l.id IN (SELECT line FROM bank_line_state WHERE rest <> 0) ORDER BY l.id`)
	countBankLines   = statement(`SELECT count(*) FROM bank_line_state WHERE rest <> 0`)
	countBankLinesBy = statement(
		`SELECT count(*) FROM bank_line_state x CROSS JOIN bank_line l ON l.id = x.line WHERE x.rest <> 0 AND l.day <= ?`,
	)
	bankSets = statement(
		`SELECT t.id, t.what, t.amount, coalesce(t.payment, 0), coalesce(y.end_to_end, ''), coalesce(r.number, 0), coalesce(s.name, ''),
		coalesce(t.settlement, 0), coalesce(u.number, 0), coalesce(i.number, 0), coalesce(t.entry, 0), t.note, coalesce(t.by_person, 0), coalesce(p.name, 'Lagoon'), t.at
		FROM bank_line_set t LEFT JOIN payment y ON y.id = t.payment LEFT JOIN payment_run r ON r.id = y.run LEFT JOIN supplier s ON s.id = y.supplier
		LEFT JOIN settlement u ON u.id = t.settlement LEFT JOIN invoice i ON i.id = u.invoice LEFT JOIN person p ON p.id = t.by_person
		WHERE t.line = ? AND ` + setStands + ` ORDER BY t.id`,
	)
	settledOn = statement(
		`SELECT t.line FROM bank_line_set t WHERE t.settlement = ? AND ` + setStands,
	)
	lineByID = statement(bankLineRows + `l.id = ?`)
	placedOn = statement(
		`SELECT coalesce(max(m.number), 0) FROM bank_line_set t CROSS JOIN bank_line l ON l.id = t.line
		CROSS JOIN bank_statement m ON m.id = l.statement
		WHERE t.payment = ? AND t.what = ? AND m.notification = ? AND ` + setStands,
	)
	paymentNamed = statement(`SELECT r.number FROM payment p CROSS JOIN payment_run r ON r.id = p.run WHERE p.end_to_end = ?`)
	putBooking   = statement(`INSERT INTO bank_booking (entry, rest) VALUES (?, ?) ON CONFLICT (entry) DO UPDATE SET rest = excluded.rest`)
	// What was booked on the bank under a payment's end-to-end id and is on no statement yet; before statements were read, all.
	bookedUnder = statement(
		`SELECT e.number, coalesce(b.rest, l.base) FROM entry_line l CROSS JOIN entry e ON e.id = l.entry
		LEFT JOIN bank_booking b ON b.entry = e.number WHERE l.role = 'bank' AND l.detail = ? AND coalesce(b.rest, l.base) <> 0`,
	)
	openBookings = cutAt(
		mostPiled,
		`SELECT b.entry, e.posted_on, e.what, b.rest FROM bank_booking b CROSS JOIN entry e ON e.number = b.entry
		WHERE b.rest <> 0 ORDER BY b.entry`,
	)
	settlementMade = statement(settlementRows + `t.entry = ?`)
	bankMoved      = statement(`SELECT coalesce(sum(base), 0) FROM entry_line WHERE role = 'bank' AND detail = ?`)

	leaving = statement(
		`SELECT r.number, r.pay_on, p.currency, p.amount FROM run_state s CROSS JOIN payment_run r ON r.id = s.run
		CROSS JOIN payment p ON p.run = r.id CROSS JOIN payment_state x ON x.payment = p.id
		WHERE s.state IN ('proposed', 'approved', 'sent') AND r.iban = ? AND x.state IN ('proposed', 'approved', 'in_transit')`,
	)
	unseenOf = statement(
		`SELECT coalesce(sum(b.rest), 0) FROM bank_booking b CROSS JOIN entry e ON e.number = b.entry
		LEFT JOIN payment_run r ON e.document = 'payment' AND r.number = e.document_number
		WHERE b.rest <> 0 AND (r.iban = ?1 OR (r.iban IS NULL AND ?2))`,
	)
	bankAccounts = statement(
		`SELECT iban, sum(closing - opening) FROM bank_statement WHERE notification = 0 GROUP BY iban`,
	)
	firstOf   = statement(statementRows + `m.notification = 0 AND m.iban = ? ORDER BY m.to_day, m.id LIMIT 1`)
	lastOf    = statement(statementRows + `m.notification = 0 AND m.iban = ? ORDER BY m.to_day DESC, m.id DESC LIMIT 1`)
	openSum   = statement(`SELECT coalesce(sum(rest), 0) FROM bank_line_state WHERE rest <> 0`)
	asideSum  = statement(`SELECT coalesce(sum(t.amount), 0) FROM bank_line_set t WHERE t.what = 'aside' AND ` + setStands)
	unseenSum = statement(`SELECT coalesce(sum(rest), 0) FROM bank_booking WHERE rest <> 0`)
	bankSum   = statement(`SELECT coalesce(sum(debit - credit), 0) FROM account_month WHERE role = 'bank'`)
	// What moved the bank before statements were read.
	bankBefore = statement(
		`SELECT coalesce(sum(l.base), 0) FROM entry_line l CROSS JOIN entry e ON e.id = l.entry WHERE l.role = 'bank'
		AND NOT EXISTS (SELECT 1 FROM bank_booking b WHERE b.entry = e.number)`,
	)
)

func scanStatement(r row) (s Statement, err error) {
	err = r.Scan(&s.ID, &s.Number, &s.Ident, &s.IBAN, &s.Notification, &s.From, &s.To, &s.Opening, &s.Closing, &s.Paper, &s.By, &s.ByName, &s.At, &s.Open)
	return
}

func scanBankLine(r row) (l BankLine, err error) {
	err = r.Scan(&l.ID, &l.Statement, &l.Number, &l.Notification, &l.No, &l.Day, &l.Amount, &l.Charge, &l.EndToEnd, &l.Reference, &l.Name, &l.IBAN,
		&l.Text, &l.Code, &l.Reason, &l.Rest, &l.Trouble)
	return
}

func scanBankSet(r row) (s BankSet, err error) {
	err = r.Scan(&s.ID, &s.What, &s.Amount, &s.Payment, &s.EndToEnd, &s.Run, &s.Supplier, &s.Settlement, &s.SettlementNumber, &s.Invoice, &s.Entry, &s.Note,
		&s.By, &s.ByName, &s.At)
	return
}

// HasStatement tells whether one of this name of an account was taken before.
func (t *Tx) HasStatement(s Statement) (bool, error) {
	n, err := t.number(hasStatement, s.IBAN, s.Notification, s.Ident)
	return n > 0, err
}

// AddStatement writes one and gives its row key.
func (t *Tx) AddStatement(s Statement) (int64, error) {
	return t.exec(addStatement, s.Number, s.Ident, s.IBAN, s.Notification, s.From, s.To, s.Opening, s.Closing, s.Paper, s.By, s.At)
}

// AddBankLine writes a line of a statement and gives its row key; of a notification nothing is ever open.
func (t *Tx) AddBankLine(l BankLine) (int64, error) {
	id, err := t.exec(addBankLine, l.Statement, l.No, l.Day, l.Amount, l.Charge, l.EndToEnd, l.Reference, l.Name, l.IBAN, l.Text, l.Code, l.Reason)
	if err != nil {
		return 0, err
	}
	l.ID = id
	return id, t.PutBankLine(l)
}

// PutBankLine writes what of a line is open, and what is to be said of it.
func (t *Tx) PutBankLine(l BankLine) error { return t.do(putBankLine, l.ID, l.Rest, l.Trouble) }

// AddBankSet writes what a line was set against.
func (t *Tx) AddBankSet(line int64, s BankSet) error {
	return t.do(addBankSet, line, s.What, s.Amount, s.Payment, s.Settlement, s.Entry, s.Note, s.By, s.At)
}

// EndBankSet takes it back.
func (t *Tx) EndBankSet(id int64, reason string, by int64, at string) error {
	return t.do(endBankSet, id, reason, by, at)
}

// StatementByNumber finds a statement.
func (t *Tx) StatementByNumber(number int64) (Statement, error) {
	return one(t, statementByNo, scanStatement, number)
}

// Statements lists them, the newest first.
func (t *Tx) Statements() ([]Statement, error) { return listCut(t, statements, scanStatement) }

// BankLines are those of a statement.
func (t *Tx) BankLines(statement int64) ([]BankLine, error) {
	return t.withSets(list(t, linesOf, scanBankLine, statement))
}

// BankLine is one of them by its number, or ErrNone.
func (t *Tx) BankLine(statement int64, no int) (BankLine, error) {
	found, err := t.withSets(list(t, lineOf, scanBankLine, statement, no))
	if err == nil && len(found) == 0 {
		return BankLine{}, ErrNone
	}
	return append(found, BankLine{})[0], err
}

// OpenBankLines are the lines of statements of which something is set against nothing.
func (t *Tx) OpenBankLines() ([]BankLine, error) {
	return t.withSets(listCut(t, openBankLines, scanBankLine))
}

// CountBankLines counts them.
func (t *Tx) CountBankLines() (int64, error) { return t.number(countBankLines) }

// CountBankLinesBy counts those of a day and before.
func (t *Tx) CountBankLinesBy(d day.Day) (int64, error) { return t.number(countBankLinesBy, d) }

func (t *Tx) withSets(lines []BankLine, err error) ([]BankLine, error) {
	for i := range lines {
		if err != nil {
			return nil, err
		}
		lines[i].Sets, err = list(t, bankSets, scanBankSet, lines[i].ID)
	}
	return lines, err
}

// LineOfSettlement is the line that a settlement is set against, and that; without row keys where there is none.
func (t *Tx) LineOfSettlement(settlement int64) (BankLine, BankSet, error) {
	key, err := one(t, settledOn, scanOne[int64], settlement)
	if errors.Is(err, ErrNone) {
		return BankLine{}, BankSet{}, nil
	}
	if err != nil {
		return BankLine{}, BankSet{}, err
	}
	lines, err := t.withSets(list(t, lineByID, scanBankLine, key))
	for _, l := range lines {
		for _, s := range l.Sets {
			if s.Settlement == settlement {
				return l, s, err
			}
		}
	}
	return BankLine{}, BankSet{}, err
}

// PlacedOn is the number of the latest statement, or notification, that debits a payment or gives it back; 0: none does.
func (t *Tx) PlacedOn(payment int64, what string, notification bool) (int64, error) {
	return t.number(placedOn, payment, what, notification)
}

// RunOfPayment is the number of the run of a payment, by its end-to-end id, or ErrNone.
func (t *Tx) RunOfPayment(endToEnd string) (int64, error) {
	return one(t, paymentNamed, scanOne[int64], endToEnd)
}

// BankMoved is what the ledger booked on the bank under an end-to-end id, in company currency.
func (t *Tx) BankMoved(endToEnd string) (money.Amount, error) {
	return one(t, bankMoved, scanOne[money.Amount], endToEnd)
}

// BankBooking is what of an entry's movement of the bank is on no statement yet, in company currency.
type BankBooking struct {
	Entry  int64 // number
	Day    day.Day
	What   string
	Amount money.Amount
}

// PutBankBooking writes how much of it that is.
func (t *Tx) PutBankBooking(entry int64, rest money.Amount) error {
	return t.do(putBooking, entry, rest)
}

// BookedUnder are those of a payment, by its end-to-end id.
func (t *Tx) BookedUnder(endToEnd string) ([]BankBooking, error) {
	return list(t, bookedUnder, func(r row) (b BankBooking, err error) {
		err = r.Scan(&b.Entry, &b.Amount)
		return
	}, endToEnd)
}

// UnseenBookings are those that no statement shows yet.
func (t *Tx) UnseenBookings() ([]BankBooking, error) {
	return listCut(t, openBookings, func(r row) (b BankBooking, err error) {
		err = r.Scan(&b.Entry, &b.Day, &b.What, &b.Amount)
		return
	})
}

// SettlementMade is the standing settlement that an entry booked, or ErrNone.
func (t *Tx) SettlementMade(entry int64) (Settlement, error) {
	return one(t, settlementMade, scanSettlement, entry)
}

// BankAccount is an account of ours as its statements tell: what moved on them, and the first and the last.
type BankAccount struct {
	IBAN        string
	Moved       money.Amount
	First, Last Statement
}

// BankAccounts are those that statements were read of.
func (t *Tx) BankAccounts() ([]BankAccount, error) {
	found, err := list(t, bankAccounts, func(r row) (a BankAccount, err error) {
		err = r.Scan(&a.IBAN, &a.Moved)
		return
	})
	for i := range found {
		var err1, err2 error
		found[i].First, err1 = one(t, firstOf, scanStatement, found[i].IBAN)
		found[i].Last, err2 = one(t, lastOf, scanStatement, found[i].IBAN)
		err = errors.Join(err, err1, err2)
	}
	return found, err
}

// LastStatement is the latest statement of an account of ours, or ErrNone.
func (t *Tx) LastStatement(iban string) (Statement, error) {
	return one(t, lastOf, scanStatement, iban)
}

// UnseenOf is what the ledger knows of an account of ours and no statement shows yet, in company currency. What was moved
// outside runs is the company's own account's.
func (t *Tx) UnseenOf(iban string, own bool) (money.Amount, error) {
	return one(t, unseenOf, scanOne[money.Amount], iban, own)
}

// Leaving is a payment of a run under way: it leaves an account of ours, and the bank has not said yet that it did.
type Leaving struct {
	Run      int64 // number
	Day      day.Day
	Currency money.Currency
	Amount   money.Amount
}

// Leaving are the payments under way from an account of ours.
func (t *Tx) Leaving(iban string) ([]Leaving, error) {
	return list(t, leaving, func(r row) (l Leaving, err error) {
		err = r.Scan(&l.Run, &l.Day, &l.Currency, &l.Amount)
		return
	}, iban)
}

// BankSums are what a reconciliation adds up, in company currency.
type BankSums struct {
	Open   money.Amount // of lines that are set against nothing
	Aside  money.Amount // of lines that are none of ours
	Unseen money.Amount // in the ledger and on no statement yet
	Before money.Amount // in the ledger since before statements were read
	Ledger money.Amount // the ledger's bank account
}

// BankSums adds them up.
func (t *Tx) BankSums() (s BankSums, err error) {
	for into, from := range map[*money.Amount]*query{&s.Open: openSum, &s.Aside: asideSum, &s.Unseen: unseenSum, &s.Before: bankBefore, &s.Ledger: bankSum} {
		var wrong error
		*into, wrong = one(t, from, scanOne[money.Amount])
		err = errors.Join(err, wrong)
	}
	return s, err
}
