package views

// This file shows which orders wait for an approver, and who may decide.

import (
	"context"
	"encoding/json"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// WaitingOrder is what an order waits for an approver with. Hands says why it is not in this person's, or nothing.
type WaitingOrder struct {
	store.OrderRequest
	Says      []string             // of a change: what it would change
	Passed    *store.OrderDecision // to whom it was passed on last
	Approvers []act.Actor          // who may approve it
	Over      []act.Exceeded       // of an order that is not issued: budgets that it takes more of than they have
	Hands     error
}

// waits reads what an order waits for, and takes out of what may be done with it what only an approver of it may.
func (s *OrderSheet) waits(r act.Reading, actor act.Actor) (err error) {
	if s.Decisions, err = r.OrderDecisions(s.Order.ID); err != nil {
		return err
	}
	approving := []act.Job{act.ApproveOrder, act.RefuseOrder, act.PassOrder}
	without := func() {
		s.May = slices.DeleteFunc(s.May, func(j act.Job) bool { return slices.Contains(approving, j) })
	}
	request, err := r.OpenOrderRequest(s.Order.ID)
	if errors.Is(err, store.ErrNone) {
		without()
		return nil
	}
	if err != nil {
		return err
	}
	w := &WaitingOrder{OrderRequest: request}
	var asked struct{ Says []string }
	if err := json.Unmarshal(request.Entry, &asked); err != nil {
		return err
	}
	w.Says = asked.Says
	if s.Order.State == trade.Draft {
		order := *s.Order
		order.IssuedOn = r.Today()
		charges, err := r.OrderCharges(&order, order.Lines)
		if err != nil {
			return err
		}
		if w.Over, err = r.Exceeded(charges); err != nil {
			return err
		}
	}
	for i := range s.Decisions {
		if d := &s.Decisions[i]; d.Request == request.ID && d.Decision == store.OrderPassed {
			w.Passed = d
		}
	}
	if _, err := r.OrderApprover(actor, request, s.Order.Number); err != nil {
		if !fault.Refuses(err) {
			return err
		}
		w.Hands = err
		without()
	}
	if w.Approvers, err = whoMay(r, func(a act.Actor) error {
		_, err := r.OrderApprover(a, request, s.Order.Number)
		return err
	}); err != nil {
		return err
	}
	if w.Hands != nil && actor.Has("approver") && !s.own(r, actor, request) { // above their authority, but theirs to pass on
		s.May = append(s.May, act.PassOrder)
	}
	s.Waits = w
	return nil
}

// own tells whether somebody entered the order or asked for it.
func (s *OrderSheet) own(r act.Reading, actor act.Actor, q store.OrderRequest) bool {
	makers, err := r.OrderMakers(s.Order.ID)
	return err != nil || actor.Is(q.By) || slices.ContainsFunc(makers, actor.Is)
}

// OrderInPile is an order that waits for an approver; Yours says whether it is this person's turn.
type OrderInPile struct {
	store.OrderWaiting
	Yours bool
}

// OrdersWaiting lists the orders that wait for an approver.
func OrdersWaiting(ctx context.Context, a *act.App, actor act.Actor) (act.Listed[OrderInPile], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]OrderInPile, error) { return ordersWaiting(r, actor) })
}

// ordersWaiting says of each whether it is the actor's turn: they may approve it, and it was passed on to nobody else.
func ordersWaiting(r act.Reading, actor act.Actor) ([]OrderInPile, error) {
	rows, err := r.Tx.OrdersWaiting()
	if err != nil {
		return nil, err
	}
	all := make([]OrderInPile, len(rows))
	for i, row := range rows {
		all[i].OrderWaiting = row
		if !actor.Has("approver") || (row.To != 0 && row.To != actor.ID) {
			continue
		}
		order, err := r.OrderByNumber(row.Number, store.AllReserved)
		if err != nil {
			return nil, err
		}
		request, err := r.OpenOrderRequest(order.ID)
		if err != nil {
			return nil, err
		}
		_, no := r.OrderApprover(actor, request, row.Number)
		all[i].Yours = no == nil
	}
	return all, nil
}
