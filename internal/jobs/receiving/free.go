package receiving

// This file accepts goods as free of charge.

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// FreeEntry says that the rest of a line that was received and will not be invoiced
// is accepted as free of charge.
type FreeEntry struct {
	Order   int64
	Line    int
	Note    string
	Version int64
}

// Accepted answers AcceptFree: the number of the document, what it takes and its entry.
type Accepted struct {
	Number   int64
	Quantity money.Decimal
	Entry    int64
}

// AcceptFree takes what was received and is not invoiced out of GRNI and closes the line to
// goods and invoices. It is within a person's authority by its value; it never takes what an
// open invoice bills, nor closes a line on which more is invoiced than is here (rules §6, §11).
func AcceptFree(ctx context.Context, a *act.App, c act.Command, entry FreeEntry) (Accepted, error) {
	return act.Perform(ctx, a, act.AcceptFree, c, func(w *act.Work) (Accepted, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Accepted{}, act.Found(err, "There is no order %d.", entry.Order)
		}
		if err := w.Changed("order", order.Number, entry.Version, order.Version); err != nil {
			return Accepted{}, err
		}
		line := order.Line(entry.Line)
		if line == nil {
			return Accepted{}, fault.New(fault.NotFound, "line", "Order %d has no line %d.", order.Number, entry.Line)
		}
		if strings.TrimSpace(entry.Note) == "" {
			return Accepted{}, fault.New(fault.Invalid, "note", "Say in a note why these goods are free of charge.")
		}
		if no := trade.CheckFree(line); no != nil {
			return Accepted{}, no
		}
		return acceptFree(w, order, line, entry)
	})
}

func acceptFree(w *act.Work, order *trade.Order, line *trade.OrderLine, entry FreeEntry) (Accepted, error) {
	b, err := book.Free(order, line, w.Ours.Currency)
	if err != nil {
		return Accepted{}, err
	}
	var answer Accepted
	var value money.Amount
	for _, a := range b.Allocations {
		answer.Quantity += a.Quantity
		value += a.Base
	}
	if w.Actor, err = w.Authorised(w.Actor, value); err != nil {
		return Accepted{}, err
	}
	d := store.Delivery{
		Kind:   store.Free,
		Order:  order.ID,
		Day:    w.Today(),
		Reason: strings.TrimSpace(entry.Note),
		By:     w.Actor.ID,
		At:     w.Instant(),
	}
	if d.Number, err = w.NextNumber(store.DeliverySeries); err != nil {
		return answer, err
	}
	if d.PostedOn, err = w.FirstOpenDay(d.Day); err != nil {
		return answer, err
	}
	id, err := w.AddDelivery(d)
	if err != nil {
		return answer, err
	}
	answer.Number = d.Number
	if err := w.ApplyBooking(b, w.Applied(id, 0, entry.Note), 0); err != nil {
		return answer, err
	}
	order.CloseOrOpen()
	if answer.Entry, err = w.Book(b.Entry, d.PostedOn, fmt.Sprintf("Free of charge, order %d line %d", order.Number, line.No), "delivery", d.Number, order.Number); err != nil {
		return answer, err
	}
	label := store.Found{
		Kind:   "delivery",
		Number: fmt.Sprint(d.Number),
		Label:  fmt.Sprintf("%s · free of charge, order %d", order.Supplier, order.Number),
	}
	return answer, errors.Join(
		w.TouchOrder(order),
		w.Wake(order.ID, 0, fmt.Sprintf("rest of order %d line %d accepted as free of charge", order.Number, line.No)),
		w.MakeFindable(fmt.Sprintf("%d %s", d.Number, order.Supplier), label),
		w.Record(
			"delivery",
			d.Number,
			nil,
			entry,
		),
		w.Record("order", order.Number, nil, struct{ Free int64 }{d.Number}),
	)
}
