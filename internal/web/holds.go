package web

// This file translates holds.

import (
	"context"
	"fmt"

	"lagoon/internal/jobs/holds"
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
				Hold:           holdOf(actor)(r.Hold),
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
	held, err := holds.Hold(ctx, h.app, command(ctx, r.Params.Key, r.Body), holds.HoldEntry{
		Invoice: r.Number, Reason: r.Body.Reason, Note: r.Body.Note,
	})
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
