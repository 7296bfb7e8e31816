package web

// This file translates order lines that are open, closed and opened again.

import (
	"context"
	"errors"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetOpenLines lists order lines that something can still come on.
func (h *handlers) GetOpenLines(
	ctx context.Context,
	r contract.GetOpenLinesRequestObject,
) (contract.GetOpenLinesResponseObject, error) {
	q := r.Params
	lines, err := orders.OpenLines(ctx, h.app, store.LineFilter{
		Order:    value(q.Order),
		Closed:   value(q.Closed),
		Supplier: value(q.Supplier),
		Item:     value(q.Item),
		Budget:   value(q.Budget),
		By:       value(q.By),
		From:     day.Day(value(q.From)),
		Until:    day.Day(value(q.Until)),
	})
	return contract.GetOpenLines200JSONResponse{
		More: lines.More,
		Rows: each(lines.Rows, func(l store.OpenLine) contract.OpenLine {
			return contract.OpenLine{
				Order:          l.Order,
				Line:           l.Line,
				Supplier:       l.Supplier,
				Item:           l.Item,
				Description:    l.Description,
				UnitName:       say.Unit(l.Unit),
				Budget:         l.Budget,
				By:             l.By,
				IssuedOn:       string(l.IssuedOn),
				WantedOn:       string(l.WantedOn),
				Quantity:       l.Quantity.String(),
				Rest:           l.Rest.String(),
				Uninvoiced:     l.Uninvoiced.String(),
				ClosedGoods:    l.ClosedGoods,
				ClosedInvoices: l.ClosedInvoices,
				Reason:         l.Reason,
			}
		}),
	}, err
}

func closingEntry(b *contract.ClosingEntry) orders.ClosingEntry {
	return orders.ClosingEntry{
		Lines: each(
			b.Lines,
			func(l contract.LineRef) orders.LineRef { return orders.LineRef{Order: l.Order, Line: l.Line} },
		),
		Goods:    b.Goods,
		Invoices: b.Invoices,
		Reason:   b.Reason,
	}
}

func closingOf(p say.Printer, c orders.Closing, err error) contract.Closing {
	return contract.Closing{
		Orders:   append([]int64{}, c.Orders...),
		Problems: fieldProblems(p, err),
		Releases: each(c.Releases, func(x orders.Release) contract.Release {
			return contract.Release{
				Order:       x.Ref.Order,
				Line:        x.Ref.Line,
				Description: x.Description,
				UnitName:    say.Unit(x.Unit),
				Quantity:    x.Quantity.String(),
				Value:       x.Value.Text(x.Currency),
				Currency:    string(x.Currency),
			}
		}),
	}
}

// PreviewClosing tells what closing lines lets go. What stands against it is part of the
// answer.
func (h *handlers) PreviewClosing(
	ctx context.Context,
	r contract.PreviewClosingRequestObject,
) (contract.PreviewClosingResponseObject, error) {
	plan, err := orders.PlanClosing(ctx, h.app, closingEntry(r.Body))
	var no *fault.Fault
	if err != nil && !errors.As(err, &no) {
		return nil, err
	}
	return contract.PreviewClosing200JSONResponse(closingOf(actorOf(ctx).Printer, plan, err)), nil
}

// CloseLines closes order lines.
func (h *handlers) CloseLines(
	ctx context.Context,
	r contract.CloseLinesRequestObject,
) (contract.CloseLinesResponseObject, error) {
	answer, err := orders.CloseLines(ctx, h.app, command(ctx, r.Params.Key, r.Body), closingEntry(r.Body))
	return contract.CloseLines200JSONResponse(closingOf(actorOf(ctx).Printer, answer, nil)), err
}

// ReopenLines undoes the closing of order lines.
func (h *handlers) ReopenLines(
	ctx context.Context,
	r contract.ReopenLinesRequestObject,
) (contract.ReopenLinesResponseObject, error) {
	answer, err := orders.ReopenLines(ctx, h.app, command(ctx, r.Params.Key, r.Body), closingEntry(r.Body))
	return contract.ReopenLines200JSONResponse(closingOf(actorOf(ctx).Printer, answer, nil)), err
}
