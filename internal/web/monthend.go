package web

// This file translates the jobs of a month's end.

import (
	"bytes"
	"cmp"
	"context"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/jobs/books"
	"lagoon/internal/lists"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetMonthEnd tells what a month's end leaves to be done.
func (h *handlers) GetMonthEnd(ctx context.Context, r contract.GetMonthEndRequestObject) (contract.GetMonthEndResponseObject, error) {
	m, err := books.ReadMonthEnd(ctx, h.app, value(r.Params.Month))
	if err != nil {
		return nil, err
	}
	return contract.GetMonthEnd200JSONResponse{
		Month: m.Month, Last: string(m.Last), Over: m.Over, Closed: m.Closed, Next: m.Next, Currency: string(m.Company),
		Steps: each(m.Steps, func(s books.Step) contract.MonthEndStep {
			step := contract.MonthEndStep{Key: s.Key, Open: s.Open}
			if s.Amount != 0 {
				step.Amount = some(s.Amount.Text(m.Company))
			}
			return step
		}),
		Proposed: accrualOf(m.Proposed),
		Accruals: each(m.Accruals, func(a store.Accrual) contract.Accrual {
			return accrualOf(books.Accrual{Accrual: a, On: m.Last, Back: m.Last.Add(1), Company: m.Company})
		}),
		Exports: each(m.Exports, exportOf(m.Company)),
		Left:    exportOf(m.Company)(m.Left),
	}, nil
}

func accrualOf(a books.Accrual) contract.Accrual {
	to := contract.Accrual{
		Number: a.Number, Month: a.Month, PostedOn: string(a.On), TakenBackOn: string(a.Back), Entry: some(a.Entry), Reversal: some(a.Reversal),
		Note: a.Note, By: a.ByName, At: a.At, Ended: a.Ended, EndedBy: a.EndedBy, Left: append([]string{}, a.Left...),
	}
	var total money.Amount
	to.Lines = each(a.Lines, func(l store.AccruedLine) contract.AccrualLine {
		total += l.Base
		return contract.AccrualLine{
			Order: some(l.Order), Line: some(l.No), Supplier: l.Supplier, Text: l.Text, Budget: l.Budget, Quantity: l.Quantity.String(),
			Unit: say.Unit(l.Unit), Amount: l.Base.Text(a.Company),
		}
	})
	to.Total = total.Text(a.Company)
	return to
}

func exportOf(company money.Currency) func(store.LedgerExport) contract.LedgerExport {
	return func(x store.LedgerExport) contract.LedgerExport {
		return contract.LedgerExport{
			Number: x.Number, Month: x.Month, Entries: x.Entries, Lines: x.Lines, Debit: x.Debit.Text(company), By: x.ByName, At: x.At, Ended: x.Ended,
		}
	}
}

// Accrue accrues what came by a month's end and is not invoiced.
func (h *handlers) Accrue(ctx context.Context, r contract.AccrueRequestObject) (contract.AccrueResponseObject, error) {
	entry := books.AccrualEntry{Month: r.Body.Month, Note: value(r.Body.Note)}
	for _, o := range value(r.Body.Out) {
		entry.Out = append(entry.Out, books.LineKey{Order: o.Order, Line: o.Line})
	}
	for _, x := range value(r.Body.Added) {
		entry.Added = append(entry.Added, books.AddedLine{Budget: x.Budget, Amount: money.Entered(x.Amount), Text: x.Text})
	}
	a, err := books.Accrue(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.Accrue200JSONResponse(accrualOf(a)), err
}

// UndoAccrual takes an accrual back.
func (h *handlers) UndoAccrual(ctx context.Context, r contract.UndoAccrualRequestObject) (contract.UndoAccrualResponseObject, error) {
	a, err := books.UndoAccrual(ctx, h.app, command(ctx, r.Params.Key, r.Body), books.Undoing{Number: r.Number, Reason: r.Body.Reason})
	return contract.UndoAccrual200JSONResponse(accrualOf(a)), err
}

// ExportLedger hands a month to the general ledger.
func (h *handlers) ExportLedger(ctx context.Context, r contract.ExportLedgerRequestObject) (contract.ExportLedgerResponseObject, error) {
	x, err := books.ExportLedger(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Month)
	if err != nil {
		return nil, err
	}
	company, err := h.app.Setting(ctx)
	return contract.ExportLedger200JSONResponse(exportOf(company.Company.Currency)(x)), err
}

// UndoLedgerExport takes a batch back.
func (h *handlers) UndoLedgerExport(ctx context.Context, r contract.UndoLedgerExportRequestObject) (contract.UndoLedgerExportResponseObject, error) {
	x, err := books.UndoExport(ctx, h.app, command(ctx, r.Params.Key, r.Body), books.Undoing{Number: r.Number, Reason: r.Body.Reason})
	if err != nil {
		return nil, err
	}
	company, err := h.app.Setting(ctx)
	return contract.UndoLedgerExport200JSONResponse(exportOf(company.Company.Currency)(x)), err
}

// GetLedgerFile gives a batch as a table.
func (h *handlers) GetLedgerFile(ctx context.Context, r contract.GetLedgerFileRequestObject) (contract.GetLedgerFileResponseObject, error) {
	form := cmp.Or(value(r.Params.As), "csv")
	if form != "xlsx" {
		form = "csv"
	}
	name, _, content, err := books.LedgerFile(ctx, h.app, r.Number, form)
	if err != nil {
		return nil, err
	}
	if err := h.app.Note(ctx, command(ctx, nil, nil), act.LedgerFile, "ledger export", name, nil); err != nil {
		return nil, err
	}
	download(ctx, name)
	return contract.GetLedgerFile200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, nil
}

// TakeMonthPack gives the lists of a month in one file.
func (h *handlers) TakeMonthPack(ctx context.Context, r contract.TakeMonthPackRequestObject) (contract.TakeMonthPackResponseObject, error) {
	file, err := lists.Pack(ctx, h.app, actorOf(ctx), r.Month, cmp.Or(value(r.Params.As), lists.PDF))
	if err != nil {
		return nil, err
	}
	if err := h.app.Note(ctx, command(ctx, nil, nil), act.TakeList, "table", file.Name, nil); err != nil {
		return nil, err
	}
	download(ctx, file.Name)
	return contract.TakeMonthPack200ApplicationoctetStreamResponse{Body: bytes.NewReader(file.Content), ContentLength: int64(len(file.Content))}, nil
}
