package receiving

// This file undoes bookings about goods by counter-documents: a delivery, a return, an
// acceptance as free of charge.

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// ReversalEntry undoes a document about goods that was booked wrongly.
type ReversalEntry struct {
	Delivery int64
	Reason   string
}

// ReverseDelivery undoes a delivery or a return by a counter-document. A delivery is undone as
// far as it is not invoiced, and again for the rest when that changes. What it closed is open
// again, and so is the notice or the count at the door that it started from, where nothing of
// it is left (rules §4).
func ReverseDelivery(ctx context.Context, a *act.App, c act.Command, entry ReversalEntry) (Booked, error) {
	return act.Perform(ctx, a, act.ReverseDelivery, c, func(w *act.Work) (Booked, error) {
		original, order, err := toUndo(w, entry)
		if err != nil {
			return Booked{}, err
		}
		if work, err := isWork(w.Reading, original, order); err != nil {
			return Booked{}, err
		} else if work {
			return Booked{}, fault.New(fault.Refused, "", "Number %d accepts work: who may accept it takes it back.", original.Number)
		}
		switch original.Kind {
		case store.Arrived:
			return reverse(w, order, original, entry)
		case store.Returned:
			return undoReturn(w, order, original, entry)
		}
		return Booked{}, fault.New(
			fault.Refused,
			"",
			"Number %d is a %s and no delivery or return.",
			original.Number,
			original.Kind,
		)
	})
}

// UndoFree undoes an acceptance as free of charge by a counter-document, which opens the line
// as it was (rules §6).
func UndoFree(ctx context.Context, a *act.App, c act.Command, entry ReversalEntry) (Booked, error) {
	return act.Perform(ctx, a, act.UndoFree, c, func(w *act.Work) (Booked, error) {
		original, order, err := toUndo(w, entry)
		if err != nil {
			return Booked{}, err
		}
		if original.Kind != store.Free {
			return Booked{}, fault.New(
				fault.Refused,
				"",
				"Number %d is a %s and no acceptance as free of charge.",
				original.Number,
				original.Kind,
			)
		}
		return undoFree(w, order, original, entry)
	})
}

// toUndo reads a document that is to be undone, with its order.
func toUndo(w *act.Work, entry ReversalEntry) (store.Delivery, *trade.Order, error) {
	original, err := w.DeliveryByNumber(entry.Delivery)
	if err != nil {
		return original, nil, act.Found(err, "There is no delivery %d.", entry.Delivery)
	}
	if strings.TrimSpace(entry.Reason) == "" {
		return original, nil, fault.New(fault.Invalid, "reason", "Say why the booking was wrong.")
	}
	if original.Kind != store.Arrived { // those are undone once, as a whole
		against, err := w.Against(original.ID)
		if err != nil {
			return original, nil, err
		}
		if len(against) > 0 {
			return original, nil, fault.New(
				fault.Refused,
				"",
				"Number %d was undone by %d already.",
				original.Number,
				against[0].Number,
			)
		}
	}
	order, err := w.Order(original.Order, store.AllReserved)
	return original, order, err
}

// counter writes the counter-document of a booking with what it does, and what comes of it for
// the order. It is posted on the day it is made, never before what it undoes (rules §5).
func counter(
	w *act.Work,
	order *trade.Order,
	original store.Delivery,
	entry ReversalEntry,
	b book.Booking,
	what string,
) (Booked, error) {
	against, err := addAgainst(w, original, store.Delivery{Kind: store.Reversal, Day: w.Today(), Reason: entry.Reason})
	if err != nil {
		return Booked{}, err
	}
	number := against.Number
	booked := Booked{Number: number, Value: money.Money{Amount: b.Goods(), Currency: w.Ours.Currency}}
	if err := w.ApplyBooking(b, w.Applied(against.ID, 0, entry.Reason), 0); err != nil {
		return booked, err
	}
	order.CloseOrOpen()
	if booked.Entry, err = w.Book(b.Entry, against.PostedOn, what, "delivery", number, order.Number); err != nil {
		return booked, err
	}
	if booked.Moves, err = movedBy(w, order.ID); err != nil {
		return booked, err
	}
	return booked, errors.Join(
		w.TouchOrder(order),
		w.Wake(order.ID, 0, fmt.Sprintf("%s %d reversed", original.Kind, original.Number)),
		w.Record(
			"delivery",
			number,
			nil,
			entry,
		),
		w.Record("order", order.Number, nil, struct{ Reversal int64 }{number}),
	)
}

func reverse(w *act.Work, order *trade.Order, original store.Delivery, entry ReversalEntry) (Booked, error) {
	closed, err := closedBy(w, order, original)
	if err != nil {
		return Booked{}, err
	}
	b, err := book.Reversal(order, original.Number, closed, w.Ours.Currency)
	if err != nil {
		return Booked{}, err
	}
	if b.Empty() {
		return Booked{}, fault.New(
			fault.Refused,
			"",
			"Nothing of delivery %d can be taken back: it is invoiced, went back, was free of charge or is reversed already.",
			original.Number,
		)
	}
	if !slices.ContainsFunc(order.Lines, func(l *trade.OrderLine) bool {
		return slices.ContainsFunc(
			l.Receipts,
			func(r *trade.Receipt) bool { return r.Delivery == original.Number && r.Held() > 0 },
		)
	}) {
		if err := startAgain(w, original); err != nil {
			return Booked{}, err
		}
	}
	return counter(w, order, original, entry, b, fmt.Sprintf("Reversal of delivery %d", original.Number))
}

// closedBy are the lines that a document closed to goods, where no later closing stands.
func closedBy(w *act.Work, order *trade.Order, original store.Delivery) ([]*trade.OrderLine, error) {
	rows, err := w.ClosedAt(original.ID)
	var lines []*trade.OrderLine
	for _, row := range rows {
		line := order.LineByID(row.Line)
		if err != nil || row.Goods != 1 || !line.ClosedGoods {
			continue
		}
		var closes []store.LineClose
		if closes, err = w.LineCloses(row.Line); err == nil {
			if last, _ := act.InForce(closes); last.Delivery == original.ID {
				lines = append(lines, line)
			}
		}
	}
	return lines, err
}

func undoReturn(w *act.Work, order *trade.Order, original store.Delivery, entry ReversalEntry) (Booked, error) {
	rows, err := w.AllocationsBy(original.ID, order)
	if err != nil {
		return Booked{}, err
	}
	closes, err := w.ClosedAt(original.ID)
	if err != nil {
		return Booked{}, err
	}
	var opened []*trade.OrderLine
	for _, c := range closes {
		if line := order.LineByID(c.Line); c.Goods == -1 && !line.ClosedGoods {
			opened = append(opened, line)
		}
	}
	b, err := book.UndoReturn(order, rows, opened, w.Ours.Currency)
	if err != nil {
		return Booked{}, err
	}
	return counter(w, order, original, entry, b, fmt.Sprintf("Return %d undone", original.Number))
}

func undoFree(w *act.Work, order *trade.Order, original store.Delivery, entry ReversalEntry) (Booked, error) {
	rows, err := w.AllocationsBy(original.ID, order)
	if err != nil || len(rows) == 0 {
		return Booked{}, err
	}
	line := rows[0].Line
	closes, err := w.LineCloses(line.ID)
	if err != nil {
		return Booked{}, err
	}
	at := slices.IndexFunc(closes, func(c store.LineClose) bool { return c.Delivery == original.ID })
	if at < 0 {
		return Booked{}, fmt.Errorf("jobs: acceptance %d closed no line", original.Number)
	}
	goods, invoices := act.StandsClosed(closes[:at])
	b, err := book.UndoFree(
		order,
		line,
		rows,
		line.ClosedGoods && !goods,
		line.ClosedInvoices && !invoices,
		w.Ours.Currency,
	)
	if err != nil {
		return Booked{}, err
	}
	return counter(w, order, original, entry, b, fmt.Sprintf("Free of charge %d undone", original.Number))
}
