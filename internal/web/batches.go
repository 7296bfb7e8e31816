package web

// This file translates invoices that are keyed many at once.

import (
	"bytes"
	"context"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetBatches lists those that are not all captured.
func (h *handlers) GetBatches(ctx context.Context, _ contract.GetBatchesRequestObject) (contract.GetBatchesResponseObject, error) {
	all, err := invoices.OpenBatches(ctx, h.app)
	return contract.GetBatches200JSONResponse{Rows: each(all, func(b store.Batch) contract.BatchSlip {
		count := 0
		for _, r := range b.Rows {
			if !r.Blank() {
				count++
			}
		}
		return contract.BatchSlip{Number: b.Number, By: b.ByName, At: b.At, State: b.State, Said: say.Batch(b.State), Count: count}
	})}, err
}

func keptBatch(k invoices.BatchKept) contract.BatchKept {
	return contract.BatchKept{Number: k.Number, Version: k.Version}
}

// KeepBatch keeps a batch as it is typed.
func (h *handlers) KeepBatch(ctx context.Context, r contract.KeepBatchRequestObject) (contract.KeepBatchResponseObject, error) {
	b := r.Body
	kept, err := invoices.KeepBatch(ctx, h.app, command(ctx, r.Params.Key, b), invoices.BatchEntry{
		Number: value(b.Number), Version: value(b.Version),
		Batch: trade.Batch{
			Controls: trade.Controls{Count: b.Controls.Count, Quantity: b.Controls.Quantity, Total: b.Controls.Total},
			Rows: each(b.Rows, func(row contract.BatchRow) trade.BatchRow {
				return trade.BatchRow{
					Order: row.Order, Note: row.Note, Number: row.Number, Date: day.Day(row.Date), Total: money.Entered(row.Total), Quantity: row.Quantity,
				}
			}),
		},
	})
	return contract.KeepBatch200JSONResponse(keptBatch(kept)), err
}

// RunBatch begins capturing a batch, or goes on with it.
func (h *handlers) RunBatch(ctx context.Context, r contract.RunBatchRequestObject) (contract.RunBatchResponseObject, error) {
	kept, err := invoices.RunBatch(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.RunBatch200JSONResponse(keptBatch(kept)), err
}

// StopBatch stops it.
func (h *handlers) StopBatch(ctx context.Context, r contract.StopBatchRequestObject) (contract.StopBatchResponseObject, error) {
	kept, err := invoices.StopBatch(ctx, h.app, command(ctx, r.Params.Key, nil), r.Number)
	return contract.StopBatch200JSONResponse(keptBatch(kept)), err
}

// DropBatch gives it up.
func (h *handlers) DropBatch(ctx context.Context, r contract.DropBatchRequestObject) (contract.DropBatchResponseObject, error) {
	kept, err := invoices.DropBatch(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.DropBatch200JSONResponse(keptBatch(kept)), err
}

// GetBatch reads a batch with what came of its rows so far.
func (h *handlers) GetBatch(ctx context.Context, r contract.GetBatchRequestObject) (contract.GetBatchResponseObject, error) {
	report, err := invoices.ReadBatch(ctx, h.app, actorOf(ctx), r.Number)
	return contract.GetBatch200JSONResponse(batchOf(report, actorOf(ctx).Printer)), err
}

// TryBatch tells what would come of a batch.
func (h *handlers) TryBatch(ctx context.Context, r contract.TryBatchRequestObject) (contract.TryBatchResponseObject, error) {
	report, err := invoices.TryBatch(ctx, h.app, command(ctx, nil, nil), r.Number)
	return contract.TryBatch200JSONResponse(batchOf(report, actorOf(ctx).Printer)), err
}

// GetBatchPaper prints the report.
func (h *handlers) GetBatchPaper(ctx context.Context, r contract.GetBatchPaperRequestObject) (contract.GetBatchPaperResponseObject, error) {
	name, content, err := invoices.BatchPaper(ctx, h.app, actorOf(ctx), r.Number)
	if err != nil {
		return nil, err
	}
	download(ctx, name)
	return contract.GetBatchPaper200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, nil
}

func batchOf(b invoices.BatchReport, p say.Printer) contract.BatchReport {
	report := contract.BatchReport{
		Number: b.Number, Version: b.Version, By: b.ByName, Own: b.Own, At: b.At, State: b.State, Said: say.Batch(b.State), Trouble: b.Trouble, Tried: b.Tried,
		Controls: contract.BatchControls{Count: b.Controls.Count, Quantity: b.Controls.Quantity, Total: b.Controls.Total},
		Count:    b.Sums.Count, Quantity: b.Sums.Quantity.String(), Total: b.Sums.Total.String(),
		Rows: each(b.Batch.Rows, func(row trade.BatchRow) contract.BatchRow {
			return contract.BatchRow{
				Order: row.Order, Note: row.Note, Number: row.Number, Date: string(row.Date), Total: string(row.Total), Quantity: row.Quantity,
			}
		}),
		Parts: each(b.Parts, func(part trade.ControlParts) contract.BatchPart {
			return contract.BatchPart{Control: part.Control, Sentence: p.Control(part)}
		}),
	}
	report.Outcomes = each(b.Rows, func(o invoices.RowOutcome) contract.BatchOutcome {
		if o.Invoice != 0 {
			report.Done++
		}
		text := func(a money.Amount) string { return a.Text(o.Currency) }
		out := contract.BatchOutcome{
			No: o.No, Invoice: some(o.Invoice), Supplier: some(o.Supplier), Verdict: string(o.Verdict()), Said: o.Became(), ToDo: append([]string{}, o.ToDo(p)...),
			Lines: []contract.BatchLine{}, Charges: []contract.BatchLine{},
		}
		if o.State == "" {
			return out
		}
		for i, l := range o.Lines {
			out.Lines = append(out.Lines, contract.BatchLine{
				Description: l.Description, Quantity: l.Quantity.String(), UnitName: say.Unit(l.Unit), Price: l.Price.String(), Net: text(o.Totals.LineNets[i]),
			})
		}
		for _, c := range o.Charges {
			out.Charges = append(out.Charges, contract.BatchLine{Description: c.Reason, Quantity: "1", Price: text(c.Amount), Net: text(c.Amount)})
		}
		out.Net, out.Tax, out.Computed = some(text(o.Totals.Net())), some(text(o.Totals.Tax)), some(text(o.Totals.Total))
		out.Stated, out.Currency = some(text(o.Stated)), some(string(o.Currency))
		return out
	})
	return report
}
