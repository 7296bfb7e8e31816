package receiving

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// ReturnPlan is what a return would book, or did. Credit is what the supplier owes for
// the part that was invoiced, at receipt value in the order's currency.
type ReturnPlan struct {
	Order   *trade.Order
	Value   money.Amount
	Credit  money.Amount
	Outs    []receive.Out // of a return by order: out of which deliveries
	backs   []book.Back
	booking book.Booking
}

// PlanReturn tells what a return would book, without booking it.
func PlanReturn(ctx context.Context, a *act.App, entry receive.ReturnEntry) (ReturnPlan, error) {
	var plan ReturnPlan
	_, err := act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		if entry.Delivery != 0 {
			plan, _, err = planReturn(r, entry)
			return
		}
		return none, planOut(r, entry, &plan)
	})
	return plan, err
}

// planOut tells what a return by order would book. Each delivery is planned by itself: what is taken of one changes nothing
// of another.
func planOut(r act.Reading, entry receive.ReturnEntry, plan *ReturnPlan) error {
	order, outs, refused := outOf(r, entry)
	if order == nil {
		return refused
	}
	plan.Order, plan.Outs = order, outs
	for _, one := range entry.ByDelivery(outs) {
		part, _, err := planReturn(r, one)
		if err != nil && !fault.Refuses(err) {
			return err
		}
		refused = cmp.Or(refused, err)
		plan.Value, plan.Credit = plan.Value+part.Value, plan.Credit+part.Credit
	}
	return refused
}

// outOf proposes out of which deliveries goods go back: of an order, or of an item of a supplier, whose last order is given.
func outOf(r act.Reading, entry receive.ReturnEntry) (*trade.Order, []receive.Out, error) {
	if entry.Order == 0 {
		return outOfItem(r, entry)
	}
	order, err := r.OrderByNumber(entry.Order, store.AllReserved)
	if err != nil {
		return nil, nil, act.Found(err, "There is no order %d.", entry.Order)
	}
	outs, err := receive.ProposeOut(order, entry.Lines)
	if err == nil && len(outs) == 0 {
		err = fault.New(fault.Invalid, "lines", "Enter how much goes back on at least one line.")
	}
	return order, outs, err
}

// outOfItem looks at as many orders as a person would: those of the last ones in which the item came.
func outOfItem(r act.Reading, entry receive.ReturnEntry) (*trade.Order, []receive.Out, error) {
	supplier, err := r.SupplierByCode(entry.Supplier)
	if err != nil {
		return nil, nil, act.Found(err, "There is no supplier %s.", entry.Supplier)
	}
	item, err := r.ItemByCode(entry.Item)
	if err != nil {
		return nil, nil, act.Found(err, "There is no item %s.", entry.Item)
	}
	orders, err := r.OrdersHolding(item.ID, supplier.ID)
	if err != nil {
		return nil, nil, err
	}
	if len(orders) == 0 {
		return nil, nil, fault.New(fault.Refused, "supplier", "Nothing of %s is here from %s.", item.Name, supplier.Name)
	}
	last := orders[0]
	orders = slices.DeleteFunc(orders, func(o *trade.Order) bool { return o.Currency != last.Currency })
	outs, err := receive.ProposeOutOfItem(orders, item.ID, entry.Quantity)
	if err == nil && len(outs) == 0 {
		err = fault.New(fault.Invalid, "quantity", "Enter how much goes back.")
	}
	return last, outs, err
}

func planReturn(r act.Reading, entry receive.ReturnEntry) (ReturnPlan, store.Delivery, error) {
	original, err := r.DeliveryByNumber(entry.Delivery)
	if err != nil {
		return ReturnPlan{}, original, act.Found(err, "There is no delivery %d.", entry.Delivery)
	}
	if original.Kind != store.Arrived {
		return ReturnPlan{}, original, fault.New(
			fault.Refused,
			"",
			"Number %d is a %s and no delivery.",
			original.Number,
			original.Kind,
		)
	}
	order, err := r.Order(original.Order, store.AllReserved)
	if err != nil {
		return ReturnPlan{}, original, err
	}
	lots, err := r.LotsLeftOf(order, original.Number)
	if err != nil {
		return ReturnPlan{}, original, err
	}
	plan := ReturnPlan{Order: order}
	pieces, refused := receive.MakeReturn(
		order,
		entry,
		receive.Returnable{Arrived: original.Day, Lots: lots},
		r.Today(),
	)
	if plan.booking, plan.backs, err = book.Return(order, pieces, entry.Outcome, r.Ours.Currency); err != nil {
		return ReturnPlan{}, original, err
	}
	for _, back := range plan.backs {
		plan.Value += back.Taken.Value
		if entry.Outcome == receive.Credit {
			plan.Credit += back.Invoiced.Value
		}
	}
	return plan, original, refused
}

// BookReturn sends goods back (rules §4): its counter-entry, the order's new state, and the waking of open invoices. By
// order it is one return of each delivery that goods go back of, all of them or none; each is taken back by itself.
func BookReturn(ctx context.Context, a *act.App, c act.Command, entry receive.ReturnEntry) (Booked, error) {
	return act.Perform(ctx, a, act.BookReturn, c, func(w *act.Work) (Booked, error) {
		if entry.Delivery != 0 {
			return returnOf(w, entry)
		}
		_, outs, err := outOf(w.Reading, entry)
		if err != nil {
			return Booked{}, err
		}
		var all Booked
		for i, one := range entry.ByDelivery(outs) {
			booked, err := returnOf(w, one)
			if err != nil {
				return Booked{}, err
			}
			if i == 0 {
				all = booked
				continue
			}
			all.Others, all.Value.Amount = append(all.Others, booked.Number), all.Value.Amount+booked.Value.Amount
			for _, n := range booked.Moves {
				if !slices.Contains(all.Moves, n) {
					all.Moves = append(all.Moves, n)
				}
			}
		}
		return all, nil
	})
}

func returnOf(w *act.Work, entry receive.ReturnEntry) (Booked, error) {
	plan, original, err := planReturn(w.Reading, entry)
	if err != nil {
		return Booked{}, err
	}
	return bookReturn(w, plan, original, entry)
}

func bookReturn(w *act.Work, plan ReturnPlan, original store.Delivery, entry receive.ReturnEntry) (Booked, error) {
	order := plan.Order
	against, err := addAgainst(
		w,
		original,
		store.Delivery{Kind: store.Returned, Outcome: string(entry.Outcome), Day: entry.Day, Reason: entry.Reason},
	)
	if err != nil {
		return Booked{}, err
	}
	number := against.Number
	booked := Booked{Number: number, Value: money.Money{Currency: w.Ours.Currency}}
	if err := w.ApplyBooking(plan.booking, w.Applied(against.ID, 0, entry.Reason), 0); err != nil {
		return booked, err
	}
	order.CloseOrOpen()
	for _, back := range plan.backs {
		booked.Value.Amount -= back.Taken.Base
		for i, lot := range back.Lots {
			if err := w.AddLotBack(against.ID, back.Receipt.ID, store.Lot{No: i + 1, Lot: lot.Lot, Quantity: lot.Quantity}); err != nil {
				return booked, err
			}
		}
	}
	if booked.Entry, err = w.Book(plan.booking.Entry, against.PostedOn, fmt.Sprintf("Return of delivery %d to %s", original.Number, order.Supplier), "delivery", number, order.Number); err != nil {
		return booked, err
	}
	if booked.Moves, err = movedBy(w, order.ID); err != nil {
		return booked, err
	}
	found := store.Found{
		Kind:   "delivery",
		Number: fmt.Sprint(number),
		Label:  fmt.Sprintf("%s · return of delivery %d", order.Supplier, original.Number),
	}
	return booked, errors.Join(w.TouchOrder(order), w.Wake(order.ID, 0, fmt.Sprintf("return %d booked", number)),
		w.MakeFindable(fmt.Sprintf("%d %s", number, order.Supplier), found),
		w.Record("delivery", number, nil, entry), w.Record("order", order.Number, nil, struct{ Return int64 }{number}))
}

// addAgainst writes the document that takes goods of a delivery back: it is posted on its day,
// never before what it undoes (rules §5).
func addAgainst(w *act.Work, original, d store.Delivery) (store.Delivery, error) {
	closed, err := w.Periods()
	if err != nil {
		return d, err
	}
	if d.Number, err = w.NextNumber(store.DeliverySeries); err != nil {
		return d, err
	}
	d.Order, d.Against, d.Note, d.Place = original.Order, original.ID, original.Note, original.Place
	d.PostedOn = closed.Counter(d.Day, original.PostedOn)
	d.Reason, d.By, d.At = strings.TrimSpace(d.Reason), w.Actor.ID, w.Instant()
	d.ID, err = w.AddDelivery(d)
	return d, err
}
