package views

// This file is about our account at the bank: its statements, what is open on either side, and whether the bank and the
// ledger say the same (rules §10).

import (
	"context"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/store"
)

// BankView is our account: its statements, the lines that are open, what the ledger knows and no statement shows yet, and how
// the balances come together.
type BankView struct {
	Company    money.Currency
	Statements []store.Statement
	Lines      []BankLine
	Unseen     []store.BankBooking
	Reconciled Reconciled
	More       int64 // of statements, lines or bookings that are not given
}

// BankLine is an open line of a statement with what it may be, the likeliest first.
type BankLine struct {
	store.BankLine
	Invoices []store.InvoiceRow // as open as the line
	Recorded []store.Settlement // recorded as paid by the bank, of the same sum, and on no statement yet
}

// Reconciled is how the ledger's bank account comes out of the bank's balance: Closing is what the bank has, less Opening, what
// it had before the first statement, less Gaps, what statements that are missing between others moved, less what is Open and
// Aside, with what is Unseen and what was booked Before statements were read.
type Reconciled struct {
	store.BankSums
	Accounts               []store.BankAccount
	Closing, Opening, Gaps money.Amount
}

// Computed is what the ledger's bank account should be.
func (r Reconciled) Computed() money.Amount {
	return r.Closing - r.Opening - r.Gaps - r.Open - r.Aside + r.Unseen + r.Before
}

// Bank reads it.
func Bank(ctx context.Context, a *act.App) (BankView, error) {
	return act.Read(ctx, a, func(r act.Reading) (v BankView, err error) {
		v.Company = r.Ours.Currency
		var errs [6]error
		v.Statements, errs[0] = r.Statements()
		lines, err := r.OpenBankLines()
		errs[1] = err
		v.Unseen, errs[2] = r.UnseenBookings()
		v.Reconciled.BankSums, errs[3] = r.BankSums()
		v.Reconciled.Accounts, errs[4] = r.BankAccounts()
		for _, b := range v.Reconciled.Accounts {
			v.Reconciled.Closing += b.Last.Closing
			v.Reconciled.Opening += b.First.Opening
			v.Reconciled.Gaps += b.Last.Closing - b.First.Opening - b.Moved
		}
		for _, l := range lines {
			one, wrong := mayBe(r, l, v.Unseen)
			v.Lines = append(v.Lines, one)
			errs[5] = errors.Join(errs[5], wrong)
		}
		v.More = r.LeftOut()
		return v, errors.Join(errs[:]...)
	})
}

// mayBe says what an open line may be: an invoice or a credit note of just that sum, or what was recorded of it already.
func mayBe(r act.Reading, l store.BankLine, unseen []store.BankBooking) (BankLine, error) {
	one := BankLine{BankLine: l}
	var err error
	if one.Invoices, err = r.InvoicesOpenAt(-l.Rest, r.Ours.Currency); err != nil {
		return one, err
	}
	for _, b := range unseen {
		if b.Amount != l.Rest {
			continue
		}
		recorded, err := r.SettlementMade(b.Entry)
		if errors.Is(err, store.ErrNone) {
			continue
		}
		if err != nil {
			return one, err
		}
		one.Recorded = append(one.Recorded, recorded)
	}
	return one, nil
}

// StatementSheet is one statement with its lines.
type StatementSheet struct {
	store.Statement
	Company money.Currency
	Lines   []store.BankLine
}

// Statement reads it.
func Statement(ctx context.Context, a *act.App, number int64) (StatementSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s StatementSheet, err error) {
		s.Company = r.Ours.Currency
		if s.Statement, err = r.StatementByNumber(number); err != nil {
			return s, act.Found(err, "There is no statement %d.", number)
		}
		s.Lines, err = r.BankLines(s.ID)
		return s, err
	})
}
