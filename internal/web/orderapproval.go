package web

// This file translates what orders wait for an approver with, and the decisions.

import (
	"context"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/say"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// askedOf is what an order waits for an approver with, or nil.
func askedOf(s views.OrderSheet, p say.Printer) *contract.OrderAsked {
	w := s.Waits
	if w == nil {
		return nil
	}
	asked := &contract.OrderAsked{
		Net:      w.Net.Text(s.Company),
		Currency: string(s.Company),
		By:       w.ByName,
		At:       w.At,
		Says:     append([]string{}, w.Says...),
		Over:     overOf(p, w.Over, s.Company),
		Approvers: each(w.Approvers, func(a act.Actor) contract.Approver {
			return contract.Approver{Login: a.Login, Name: a.Name}
		}),
	}
	if d := w.Passed; d != nil {
		asked.PassedTo, asked.PassedBy, asked.PassedNote = some(d.ToName), some(d.ByName), some(d.Note)
	}
	var no *fault.Fault
	if errors.As(w.Hands, &no) {
		asked.Hands = some(p.Refusal(no))
	}
	return asked
}

// GetOrdersWaiting lists the orders that wait for an approver.
func (h *handlers) GetOrdersWaiting(
	ctx context.Context,
	_ contract.GetOrdersWaitingRequestObject,
) (contract.GetOrdersWaitingResponseObject, error) {
	waiting, err := views.OrdersWaiting(ctx, h.app, actorOf(ctx))
	return contract.GetOrdersWaiting200JSONResponse{
		Rows: each(waiting.Rows, func(o views.OrderInPile) contract.WaitingOrder {
			return contract.WaitingOrder{Order: orderSlipOf(o.OrderRow), Yours: o.Yours}
		}),
		More: waiting.More,
	}, err
}

func decisionOf(number int64, b *contract.OrderDecisionEntry) orders.Decision {
	return orders.Decision{Order: number, Version: b.Version, Note: value(b.Note), To: value(b.To)}
}

// ApproveOrder approves an order, or a change of one.
func (h *handlers) ApproveOrder(
	ctx context.Context,
	r contract.ApproveOrderRequestObject,
) (contract.ApproveOrderResponseObject, error) {
	issued, err := orders.Approve(ctx, h.app, command(ctx, r.Params.Key, r.Body), decisionOf(r.Number, r.Body))
	return contract.ApproveOrder200JSONResponse(doneOf(issued)), err
}

// RefuseOrder refuses an order, or a change of one.
func (h *handlers) RefuseOrder(
	ctx context.Context,
	r contract.RefuseOrderRequestObject,
) (contract.RefuseOrderResponseObject, error) {
	issued, err := orders.Refuse(ctx, h.app, command(ctx, r.Params.Key, r.Body), decisionOf(r.Number, r.Body))
	return contract.RefuseOrder200JSONResponse(doneOf(issued)), err
}

// PassOrder passes an approval on to somebody.
func (h *handlers) PassOrder(
	ctx context.Context,
	r contract.PassOrderRequestObject,
) (contract.PassOrderResponseObject, error) {
	issued, err := orders.Pass(ctx, h.app, command(ctx, r.Params.Key, r.Body), decisionOf(r.Number, r.Body))
	return contract.PassOrder200JSONResponse(doneOf(issued)), err
}
