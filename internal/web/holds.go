package web

// This file translates holds.

import (
	"context"
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetHolds reads everything that is held.
func (h *handlers) GetHolds(
	ctx context.Context,
	_ contract.GetHoldsRequestObject,
) (contract.GetHoldsResponseObject, error) {
	actor := actorOf(ctx)
	v, err := views.Holds(ctx, h.app, actor)
	return contract.GetHolds200JSONResponse{
		More:   v.More,
		Yours:  each(v.Yours, slipOf),
		Others: each(v.Others, slipOf),
		Holds: each(v.Holds, func(r views.HoldRow) contract.HoldRow {
			return contract.HoldRow{
				Hold:           holdOf(actor)(r.SaidHold),
				Supplier:       r.Supplier,
				SupplierNumber: r.SupplierNumber,
				Currency:       string(r.Currency),
				Total:          r.Total.Text(r.Currency),
				Due:            string(r.Due),
				State:          string(r.State),
			}
		}),
	}, err
}

// HoldInvoice puts a payment hold on an invoice.
func (h *handlers) HoldInvoice(
	ctx context.Context,
	r contract.HoldInvoiceRequestObject,
) (contract.HoldInvoiceResponseObject, error) {
	entry := holdIn(r.Body)
	entry.Invoice = r.Number
	held, err := holds.Hold(ctx, h.app, command(ctx, r.Params.Key, r.Body), *entry)
	return contract.HoldInvoice200JSONResponse{Number: fmt.Sprint(held.Number)}, err
}

// LiftHold takes a payment hold off.
func (h *handlers) LiftHold(
	ctx context.Context,
	r contract.LiftHoldRequestObject,
) (contract.LiftHoldResponseObject, error) {
	held, err := holds.Lift(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		holds.LiftEntry{Hold: r.Number, Note: r.Body.Note},
	)
	return contract.LiftHold200JSONResponse{Number: fmt.Sprint(held.Number)}, err
}

// holdIn reads a hold of the contract; nil where there is none.
func holdIn(b *contract.HoldEntry) *holds.HoldEntry {
	if b == nil {
		return nil
	}
	entry := holds.HoldEntry{
		Line:   value(b.Line),
		Reason: b.Reason,
		Note:   b.Note,
		Clears: value(b.Clears),
		Ends:   trade.HoldEnds{Until: trade.Until(value(b.Until)), Day: day.Day(value(b.UntilDay))},
	}
	for _, what := range value(b.Blocks) {
		entry.Blocks = append(entry.Blocks, trade.Blocking(what))
	}
	return &entry
}

// HoldOrder puts a hold on an order or one of its lines.
func (h *handlers) HoldOrder(
	ctx context.Context,
	r contract.HoldOrderRequestObject,
) (contract.HoldOrderResponseObject, error) {
	entry := holdIn(r.Body)
	entry.Order = r.Number
	held, err := holds.HoldOrder(ctx, h.app, command(ctx, r.Params.Key, r.Body), *entry)
	return contract.HoldOrder200JSONResponse{Number: fmt.Sprint(held.Number)}, err
}

// LiftHolds takes several holds off.
func (h *handlers) LiftHolds(
	ctx context.Context,
	r contract.LiftHoldsRequestObject,
) (contract.LiftHoldsResponseObject, error) {
	done, err := holds.LiftAll(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Holds, r.Body.Note)
	answer := contract.LiftHolds200JSONResponse{Lifted: append([]int64{}, done.Lifted...)}
	answer.Left = each(done.Left, func(l holds.Left) struct {
		Hold int64  `json:"hold"`
		Why  string `json:"why"`
	} {
		return struct {
			Hold int64  `json:"hold"`
			Why  string `json:"why"`
		}{l.Hold, l.Why}
	})
	return answer, err
}

// SaveHoldReason writes a reason of holds of the company's own.
func (h *handlers) SaveHoldReason(
	ctx context.Context,
	r contract.SaveHoldReasonRequestObject,
) (contract.SaveHoldReasonResponseObject, error) {
	saved, err := holds.SaveReason(ctx, h.app, command(ctx, r.Params.Key, r.Body), store.OwnReason{Name: r.Body.Name, Ended: r.Body.Ended})
	return contract.SaveHoldReason200JSONResponse{Number: saved.Name}, err
}

// GetSettling tells which differences may be accepted on several invoices.
func (h *handlers) GetSettling(
	ctx context.Context,
	_ contract.GetSettlingRequestObject,
) (contract.GetSettlingResponseObject, error) {
	p := actorOf(ctx).Printer
	all, currency, err := views.Settleable(ctx, h.app, actorOf(ctx))
	return contract.GetSettling200JSONResponse{Currency: string(currency), Kinds: each(all, func(s views.Settling) contract.SettlingKind {
		return contract.SettlingKind{Kind: string(s.Kind), Name: say.FindingKind(s.Kind), Invoices: each(s.Invoices, func(i views.SettlingOne) contract.SettlingInvoice {
			return contract.SettlingInvoice{
				Slip: slipOf(i.InvoiceRow), Version: i.Version, Worth: i.Worth.Text(currency), Sentences: each(i.Findings, p.Finding),
			}
		})}
	})}, err
}

// AcceptFindings accepts the differences of one kind on several invoices.
func (h *handlers) AcceptFindings(
	ctx context.Context,
	r contract.AcceptFindingsRequestObject,
) (contract.AcceptFindingsResponseObject, error) {
	var entries []invoices.AcceptEntry
	for _, i := range r.Body.Invoices {
		entries = append(entries, invoices.AcceptEntry{Invoice: i.Number, Version: i.Version})
	}
	done, err := invoices.AcceptFindings(ctx, h.app, command(ctx, r.Params.Key, r.Body), finding.Kind(r.Body.Kind), entries, r.Body.Note)
	return contract.AcceptFindings200JSONResponse{
		Captured: each(done.Captured, capturedOf), Worth: done.Worth.Text(done.Currency),
	}, err
}
