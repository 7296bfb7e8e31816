package receiving

// This file is about order lines by value: what is done of them is accepted, in amount or per cent, by who asked for it
// (rules §6).

import (
	"context"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// PlanWork tells what an acceptance of work would book, without booking it.
func PlanWork(ctx context.Context, a *act.App, actor act.Actor, entry DeliveryEntry) (DeliveryPlan, error) {
	return act.Read(ctx, a, func(r act.Reading) (DeliveryPlan, error) {
		plan, _, err := planWork(r, actor, entry)
		return plan, err
	})
}

// AcceptWork books what is done of lines by value as a receipt of its own: it opens room for invoices, stands in GRNI,
// and is undone like every delivery.
func AcceptWork(ctx context.Context, a *act.App, c act.Command, entry DeliveryEntry) (Booked, error) {
	return act.Perform(ctx, a, act.AcceptWork, c, func(w *act.Work) (Booked, error) {
		planned, as, err := planWork(w.Reading, w.Actor, entry)
		if err != nil {
			return Booked{}, err
		}
		w.Actor = as
		if planned.Plan.Blocked() {
			return Booked{}, pastLimit(w, entry, planned.Plan)
		}
		return bookDelivery(w, entry, planned)
	})
}

// TakeBackWork undoes an acceptance of work, as far as it is not invoiced: by who may accept it.
func TakeBackWork(ctx context.Context, a *act.App, c act.Command, entry ReversalEntry) (Booked, error) {
	return act.Perform(ctx, a, act.TakeBackWork, c, func(w *act.Work) (Booked, error) {
		original, order, err := toUndo(w, entry)
		if err != nil {
			return Booked{}, err
		}
		accepted, err := isWork(w.Reading, original, order)
		if err != nil {
			return Booked{}, err
		}
		if !accepted {
			return Booked{}, fault.New(fault.Refused, "", "Number %d is a %s and no acceptance of work.", original.Number, original.Kind)
		}
		if w.Actor, err = w.MayAccept(w.Actor, order); err != nil {
			return Booked{}, err
		}
		return reverse(w, order, original, entry)
	})
}

// isWork tells whether a booked document about goods accepts work.
func isWork(r act.Reading, d store.Delivery, order *trade.Order) (bool, error) {
	lines, err := r.DeliveryLines(d)
	return act.IsWork(order, d, lines), err
}

// planWork plans an acceptance, with the actor as they may book it.
func planWork(r act.Reading, actor act.Actor, entry DeliveryEntry) (DeliveryPlan, act.Actor, error) {
	order, err := r.OrderByNumber(entry.Order, store.AllReserved)
	if err != nil {
		return DeliveryPlan{}, actor, act.Found(err, "There is no order %d.", entry.Order)
	}
	if actor, err = r.MayAccept(actor, order); err != nil {
		return DeliveryPlan{Order: order}, actor, err
	}
	plan, err := planDelivery(r, entry, actor.ID, acceptsWork)
	return plan, actor, err
}

// byValue refuses to book work as a delivery, since who asked for it says what of it is done, and goods as work.
func byValue(order *trade.Order, entry DeliveryEntry, work bool) error {
	var faults fault.Faults
	for i, l := range entry.Lines {
		line := order.Line(l.No)
		if line == nil || line.ByValue() == work || (l.Quantity == 0 && l.Refused == 0 && !l.Close) {
			continue
		}
		sentence := "Line %d is by value: what is done of it is accepted on the order by %s."
		if work {
			sentence = "Line %d is not by value: what comes of it is booked as a delivery by %s."
		}
		faults = append(faults, fault.New(fault.Refused, receive.Field(i, "quantity"), sentence, l.No, whoBooks(order, line)))
	}
	return faults.OrNil()
}

func whoBooks(order *trade.Order, line *trade.OrderLine) string {
	switch {
	case !line.ByValue():
		return "a receiver"
	case order.RequestedBy == "":
		return "a receiver or a buyer"
	}
	return order.RequestedBy + ", who asked for it"
}
