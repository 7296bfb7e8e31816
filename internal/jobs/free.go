package jobs

// This file accepts goods as free of charge.

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

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
func (a *App) AcceptFree(ctx context.Context, c Command, entry FreeEntry) (Accepted, error) {
	return perform(ctx, a, AcceptFree, c, func(w *work) (Accepted, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Accepted{}, found(err, "There is no order %d.", entry.Order)
		}
		if err := w.changed("order", order.Number, entry.Version, order.Version); err != nil {
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
		return w.acceptFree(order, line, entry)
	})
}

func (w *work) acceptFree(order *trade.Order, line *trade.OrderLine, entry FreeEntry) (Accepted, error) {
	b, err := book.Free(order, line, w.company.Currency)
	if err != nil {
		return Accepted{}, err
	}
	var answer Accepted
	var value money.Amount
	for _, a := range b.Allocations {
		answer.Quantity += a.Quantity
		value += a.Base
	}
	if err := w.authority(value); err != nil {
		return Accepted{}, err
	}
	d := store.Delivery{Kind: store.Free, Order: order.ID, Day: w.today(), Reason: strings.TrimSpace(entry.Note), By: w.actor.ID, At: w.instant()}
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
	if err := w.apply(b, w.applied(id, 0, entry.Note), 0); err != nil {
		return answer, err
	}
	order.CloseOrOpen()
	if answer.Entry, err = w.book(b.Entry, d.PostedOn, fmt.Sprintf("Free of charge, order %d line %d", order.Number, line.No), "delivery", d.Number, order.Number); err != nil {
		return answer, err
	}
	label := store.Found{Kind: "delivery", Number: fmt.Sprint(d.Number), Label: fmt.Sprintf("%s · free of charge, order %d", order.Supplier, order.Number)}
	return answer, errors.Join(w.TouchOrder(order), w.wake(order.ID, 0, fmt.Sprintf("rest of order %d line %d accepted as free of charge", order.Number, line.No)),
		w.MakeFindable(fmt.Sprintf("%d %s", d.Number, order.Supplier), label),
		w.record("delivery", d.Number, nil, entry), w.record("order", order.Number, nil, struct{ Free int64 }{d.Number}))
}

// authority refuses what is worth more than the person's authority, in the company's currency.
// Where one's own does not reach, that of whoever one stands in for may.
func (w *work) authority(worth money.Amount) error {
	reaches := func(a Actor) bool { return worth <= a.Authority }
	if (w.actor.holds("approver") || w.actor.acting != nil) && reaches(w.actor) {
		return nil
	}
	if at := slices.IndexFunc(w.actor.InPlaceOf, func(o Actor) bool { return o.holds("approver") && reaches(o) }); at >= 0 {
		w.actor = w.actor.insteadOf(&w.actor.InPlaceOf[at])
		return nil
	}
	p, currency := w.actor.Printer, w.company.Currency
	return fault.New(fault.Forbidden, "", "This is worth %s; your authority is %s. Somebody with more must do it.", p.Money(worth, currency), p.Money(w.actor.Authority, currency))
}
