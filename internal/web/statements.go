package web

// This file translates suppliers' statements.

import (
	"context"
	"path/filepath"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/reconcile"
	"lagoon/internal/format/tabular"
	"lagoon/internal/jobs/books"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetSupplierStatements lists the statements that were kept last.
func (h *handlers) GetSupplierStatements(
	ctx context.Context,
	_ contract.GetSupplierStatementsRequestObject,
) (contract.GetSupplierStatementsResponseObject, error) {
	all, err := books.Statements(ctx, h.app)
	return contract.GetSupplierStatements200JSONResponse(each(all, func(s store.SupplierStatement) contract.SupplierStatementKept {
		return contract.SupplierStatementKept{
			Number: s.Number, Supplier: s.SupplierCode, SupplierName: s.SupplierName, Day: string(s.Day), Currency: string(s.Currency),
			Theirs: s.Theirs.Text(s.Currency), Ours: s.Ours.Text(s.Currency), By: s.ByName, At: s.At,
		}
	})), err
}

// ReadSupplierStatement reads the lines of a statement out of a table, or of the text of a paper.
func (h *handlers) ReadSupplierStatement(
	ctx context.Context,
	r contract.ReadSupplierStatementRequestObject,
) (contract.ReadSupplierStatementResponseObject, error) {
	if err := actorOf(ctx).Allowed(act.KeepStatement); err != nil {
		return nil, err
	}
	var read reading.Statement
	err := uploads(r.Body, func(f act.File) error {
		one, err := h.statementIn(ctx, f)
		read.Lines, read.Rest = append(read.Lines, one.Lines...), append(read.Rest, one.Rest...)
		return err
	})
	if err != nil {
		return nil, err
	}
	if len(read.Lines) == 0 {
		return nil, fault.New(fault.Invalid, "file", "No line with a number, a day and an amount was found. Type the lines, or paste them.")
	}
	answer := contract.ReadSupplierStatement200JSONResponse{Rest: append([]string{}, read.Rest...)}
	answer.Lines = each(read.Lines, func(l reading.StatementLine) contract.StatementLineEntry {
		if l.Doubtful {
			answer.Doubtful++
		}
		return contract.StatementLineEntry{Number: l.Number, Day: string(l.Day), Amount: l.Amount.String()}
	})
	return answer, nil
}

// statementIn reads one file of a statement.
func (h *handlers) statementIn(ctx context.Context, f act.File) (reading.Statement, error) {
	switch strings.ToLower(filepath.Ext(f.Name)) {
	case ".csv", ".tsv", ".txt", ".xlsx":
		rows, err := tabular.Rows(f.Name, f.Content)
		return reading.StatementRows(rows), err
	}
	if h.papers == nil {
		return reading.Statement{}, fault.New(fault.Refused, "file", "Papers are not read here; CSV and XLSX are.")
	}
	paper, err := h.papers.Read(ctx, f.Content)
	return reading.StatementOf(paper), err
}

func statementEntry(b *contract.StatementEntry) books.StatementEntry {
	return books.StatementEntry{
		Supplier: b.Supplier, Day: day.Day(b.Day), Note: value(b.Note),
		Lines: each(b.Lines, func(l contract.StatementLineEntry) books.StatementLine {
			return books.StatementLine{Number: l.Number, Day: l.Day, Amount: money.Entered(l.Amount)}
		}),
	}
}

// CompareSupplierStatement holds a statement against what is here.
func (h *handlers) CompareSupplierStatement(
	ctx context.Context,
	r contract.CompareSupplierStatementRequestObject,
) (contract.CompareSupplierStatementResponseObject, error) {
	of, err := books.CompareStatement(ctx, h.app, actorOf(ctx), statementEntry(r.Body))
	return contract.CompareSupplierStatement200JSONResponse(supplierStatementOf(of)), err
}

// GetSupplierStatement reads a statement that was kept.
func (h *handlers) GetSupplierStatement(
	ctx context.Context,
	r contract.GetSupplierStatementRequestObject,
) (contract.GetSupplierStatementResponseObject, error) {
	of, err := books.ReadStatement(ctx, h.app, r.Number)
	return contract.GetSupplierStatement200JSONResponse(supplierStatementOf(of)), err
}

// KeepStatement keeps a statement.
func (h *handlers) KeepStatement(ctx context.Context, r contract.KeepStatementRequestObject) (contract.KeepStatementResponseObject, error) {
	kept, err := books.KeepStatement(ctx, h.app, command(ctx, r.Params.Key, r.Body), statementEntry(r.Body))
	return contract.KeepStatement200JSONResponse(kept), err
}

// AskStatement asks for what is missing.
func (h *handlers) AskStatement(ctx context.Context, r contract.AskStatementRequestObject) (contract.AskStatementResponseObject, error) {
	asked, err := books.AskStatement(ctx, h.app, command(ctx, r.Params.Key, r.Body), books.StatementMail{
		Number: r.Number, To: r.Body.To, Subject: r.Body.Subject, Text: r.Body.Text,
	})
	return contract.AskStatement200JSONResponse(asked), err
}

func supplierStatementOf(of books.Reconciled) contract.SupplierStatement {
	s, currency := of.Kept, of.Kept.Currency
	to := contract.SupplierStatement{
		Number: some(s.Number), Supplier: s.SupplierCode, SupplierName: s.SupplierName, Day: string(s.Day), Currency: string(currency), Note: s.Note,
		Theirs: of.Theirs.Text(currency), Ours: of.Ours.Text(currency), Difference: (of.Theirs - of.Ours).Text(currency),
		By: some(s.ByName), At: some(s.At),
		Asked: each(s.Asked, func(a store.StatementAsked) contract.StatementAsked {
			return contract.StatementAsked{To: a.Recipient, Text: a.Text, By: a.ByName, At: a.At}
		}),
	}
	if of.Letter.Text != "" {
		to.Mail = &contract.StatementMail{To: of.Letter.To, Subject: of.Letter.Subject, Text: of.Letter.Text}
	}
	to.Pairs = []contract.StatementPair{}
	for i, p := range of.Pairs {
		pair := contract.StatementPair{Standing: string(p.Standing), Difference: p.Difference.Text(currency)}
		if i < len(s.Standings) {
			pair.Then = string(s.Standings[i])
		}
		to.Pairs = append(to.Pairs, filled(pair, p, currency))
	}
	return to
}

// filled adds to a pair what each side says.
func filled(pair contract.StatementPair, p reconcile.Pair, currency money.Currency) contract.StatementPair {
	if l := p.Theirs; l != nil {
		pair.Number, pair.Day, pair.Amount = l.Number, string(l.Day), new(l.Amount.Text(currency))
	}
	if o := p.Ours; o != nil {
		pair.Invoice, pair.OurNumber, pair.OurDay = &o.Number, &o.Supplier, new(string(o.Day))
		pair.Total, pair.Open, pair.State = new(o.Total.Text(currency)), new(o.Open.Text(currency)), new(say.State(string(o.State)))
		pair.Paid = some(string(o.Paid))
	}
	if p.Payment != nil {
		pair.Run, pair.Paid = &p.Payment.Run, some(string(p.Payment.Day))
	}
	return pair
}
