package web

// This file translates the bank's statements.

import (
	"context"
	"fmt"

	"lagoon/internal/core/money"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetBank reads our account.
func (h *handlers) GetBank(ctx context.Context, _ contract.GetBankRequestObject) (contract.GetBankResponseObject, error) {
	v, err := views.Bank(ctx, h.app)
	text := func(a money.Amount) string { return a.Text(v.Company) }
	answer := contract.GetBank200JSONResponse{
		Currency: string(v.Company), More: v.More, Statements: each(v.Statements, statementOf(ctx, v.Company)),
		Lines: each(v.Lines, func(l views.BankLine) contract.OpenBankLine {
			return contract.OpenBankLine{
				Line: bankLineOf(ctx, v.Company)(l.BankLine), Invoices: each(l.Invoices, slipOf),
				Recorded: each(l.Recorded, func(s store.Settlement) contract.RecordedPayment {
					return contract.RecordedPayment{Number: s.Number, Invoice: s.InvoiceNumber, Day: string(s.Day), Reference: s.Reference}
				}),
			}
		}),
		Unseen: each(v.Unseen, func(b store.BankBooking) contract.BankBooking {
			return contract.BankBooking{Entry: b.Entry, Day: string(b.Day), What: b.What, Amount: text(b.Amount)}
		}),
	}
	r := v.Reconciled
	answer.Closing, answer.Opening, answer.Gaps = text(r.Closing), text(r.Opening), text(r.Gaps)
	answer.Open, answer.Aside, answer.NotSeen, answer.Before = text(r.Open), text(r.Aside), text(r.Unseen), text(r.Before)
	answer.Ledger, answer.Agrees = text(r.Ledger), r.Ledger == r.Computed()
	answer.Accounts = []contract.AccountAtBank{}
	for _, a := range r.Accounts {
		answer.To = max(answer.To, string(a.Last.To))
		answer.Accounts = append(answer.Accounts, contract.AccountAtBank{
			Iban: accountFor(ctx, a.IBAN), Closing: text(a.Last.Closing), To: string(a.Last.To),
		})
	}
	return answer, err
}

func statementOf(ctx context.Context, currency money.Currency) func(store.Statement) contract.StatementSlip {
	return func(s store.Statement) contract.StatementSlip {
		return contract.StatementSlip{
			Number: s.Number, Ident: s.Ident, Iban: accountFor(ctx, s.IBAN), Notification: s.Notification, From: string(s.From), To: string(s.To),
			Opening: s.Opening.Text(currency), Closing: s.Closing.Text(currency), By: s.ByName, At: s.At, Open: s.Open,
		}
	}
}

func bankLineOf(ctx context.Context, currency money.Currency) func(store.BankLine) contract.BankLine {
	return func(l store.BankLine) contract.BankLine {
		return contract.BankLine{
			Statement: l.Number, Line: l.No, Day: string(l.Day), Amount: l.Amount.Text(currency), Rest: l.Rest.Text(currency), Trouble: l.Trouble,
			Name: l.Name, Iban: accountFor(ctx, l.IBAN), Text: l.Text, Reference: l.Reference, Reason: l.Reason,
			Sets: each(l.Sets, func(s store.BankSet) contract.BankLineSet {
				return contract.BankLineSet{
					What: contract.BankLineSetWhat(s.What), Words: wordsOfSet(s), Amount: s.Amount.Text(currency), Run: some(s.Run), Invoice: some(s.Invoice),
					Note: s.Note, By: s.ByName, At: s.At, Freed: s.Payment == 0,
				}
			}),
		}
	}
}

// wordsOfSet says what a line was set against.
func wordsOfSet(s store.BankSet) string {
	switch s.What {
	case store.Debited:
		return fmt.Sprintf("payment to %s, run %d", s.Supplier, s.Run)
	case store.GivenBack:
		return fmt.Sprintf("payment to %s came back, run %d", s.Supplier, s.Run)
	case store.BankCharge:
		return "charge of the bank"
	case store.BySettlement:
		return fmt.Sprintf("invoice %d", s.Invoice)
	}
	return "none of ours"
}

// GetStatement reads one statement.
func (h *handlers) GetStatement(ctx context.Context, r contract.GetStatementRequestObject) (contract.GetStatementResponseObject, error) {
	v, err := views.Statement(ctx, h.app, r.Number)
	return contract.GetStatement200JSONResponse{
		Statement: statementOf(ctx, v.Company)(v.Statement), Currency: string(v.Company), Lines: each(v.Lines, bankLineOf(ctx, v.Company)),
	}, err
}

// SetBankLine sets a line of a statement against something.
func (h *handlers) SetBankLine(ctx context.Context, r contract.SetBankLineRequestObject) (contract.SetBankLineResponseObject, error) {
	b := r.Body
	set, err := payments.SetLine(ctx, h.app, command(ctx, r.Params.Key, b), payments.LineEntry{
		Statement: r.Number, Line: r.Line, What: string(b.What), Invoice: value(b.Invoice), Amount: money.Entered(value(b.Amount)),
		Settlement: value(b.Settlement), Note: value(b.Note),
	})
	return contract.SetBankLine200JSONResponse(lineSetOf(set)), err
}

// FreeBankLine takes that back.
func (h *handlers) FreeBankLine(ctx context.Context, r contract.FreeBankLineRequestObject) (contract.FreeBankLineResponseObject, error) {
	set, err := payments.FreeLine(ctx, h.app, command(ctx, r.Params.Key, r.Body), payments.LineEnd{Statement: r.Number, Line: r.Line, Reason: r.Body.Reason})
	return contract.FreeBankLine200JSONResponse(lineSetOf(set)), err
}

func lineSetOf(s payments.LineSet) contract.LineSet {
	return contract.LineSet{Statement: s.Statement, Line: s.Line, Rest: s.Rest.Text(s.Currency)}
}
