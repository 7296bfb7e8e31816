package orders

// This file says whether the goods of one order are to be announced.

import (
	"context"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// NoticeEntry is how many days before they are wanted the goods of an order are to be announced, as it is typed; "never": they need not
// be; empty: as of its supplier.
type NoticeEntry struct {
	Order int64
	Days  string
}

// RequireNotice says whether a despatch notice of an order's goods is required, and by when.
func RequireNotice(ctx context.Context, a *act.App, c act.Command, e NoticeEntry) (Issued, error) {
	return act.Perform(ctx, a, act.RequireNotice, c, func(w *act.Work) (Issued, error) {
		order, err := w.OrderByNumber(e.Order, store.AllReserved)
		if err != nil {
			return Issued{}, act.Found(err, "There is no order %d.", e.Order)
		}
		if !act.OrderSteps.Allow(order.State, act.RequireNotice) {
			return Issued{}, fault.New(fault.Refused, "", "Order %d is %s: nothing is to be announced any more.", order.Number, order.State)
		}
		days, no := trade.ParseChase(e.Days, "days")
		if no != nil {
			return Issued{}, no
		}
		before, err := w.OrderNotice(order.ID)
		if err != nil {
			return Issued{}, err
		}
		type announced struct{ Announced string }
		return Issued{Number: order.Number}, errors.Join(
			w.PutOrderNotice(order.ID, days),
			w.Record("order", order.Number, announced{trade.SaidChase(before)}, announced{trade.SaidChase(days)}),
		)
	})
}
