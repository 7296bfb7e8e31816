// Package receiving is what is done with goods: announced, counted, booked, returned, taken free
// of charge, and each of it undone.
package receiving

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// DeliveryEntry is a delivery as it was counted.
type DeliveryEntry struct {
	Order int64
	receive.Entry
	// Before is what the receiver saw as received of each counted line, so that
	// somebody else's booking of the same line is noticed and of another is not.
	Before map[int]money.Decimal
	Photos []string // SHA-256 of the photographs that were kept for it
	Notice int64    // number of the notice that it starts from, or zero
	// Arrival is the number of the count at the door that is booked, or zero.
	Arrival int64
}

// DeliveryPlan is what a delivery would book, or did.
type DeliveryPlan struct {
	Plan  receive.Plan
	Order *trade.Order
	rate  money.Decimal // of the day of arrival
	place string        // where the goods arrived
}

// Booked answers BookDelivery and ReverseDelivery: the document's and its entry's
// number (no entry: zero) and what the entry is worth, in the company's currency.
type Booked struct {
	Number, Entry int64
	Value         money.Money // in company currency
	Moves         []int64     // numbers of the invoices that this wakes
	Others        []int64     // numbers of further returns that the same act booked
}

// PlanDelivery tells what a delivery would book, without booking it.
func PlanDelivery(
	ctx context.Context,
	a *act.App,
	actor act.Actor,
	entry DeliveryEntry,
	counting bool,
) (DeliveryPlan, error) {
	what := booksGoods
	if counting {
		what = countsGoods
	}
	return act.Read(
		ctx,
		a,
		func(r act.Reading) (DeliveryPlan, error) { return planDelivery(r, entry, actor.ID, what) },
	)
}

// planned is what a delivery is planned for.
type planned int

const (
	booksGoods  planned = iota
	countsGoods         // at the door, to be booked by somebody else
	acceptsWork         // of lines by value
)

// planDelivery plans a booking by a person, their counting at the door, or their acceptance of work.
func planDelivery(r act.Reading, entry DeliveryEntry, booker int64, what planned) (DeliveryPlan, error) {
	order, err := r.OrderByNumber(entry.Order, store.AllReserved)
	if err != nil {
		return DeliveryPlan{}, act.Found(err, "There is no order %d.", entry.Order)
	}
	if err := r.FillUnits(order); err != nil {
		return DeliveryPlan{}, err
	}
	var counted []int
	for _, l := range entry.Lines {
		if l.Quantity > 0 {
			counted = append(counted, l.No)
		}
	}
	if err := r.StoppedOrder(order, trade.BlocksReceiving, counted...); err != nil && what != countsGoods { // at the door it is counted
		return DeliveryPlan{Order: order}, err
	}
	if err := byValue(order, entry, what == acceptsWork); err != nil {
		return DeliveryPlan{Order: order}, err
	}
	c := receive.Context{
		Policy:  r.Ours.Policy,
		Today:   r.Today(),
		Company: r.Ours.Currency,
		TwoStep: r.Ours.TwoStep && what == booksGoods,
		Booker:  booker,
	}
	if entry.Arrival != 0 {
		counted, err := openArrival(r, entry.Arrival, entry.Order)
		if err != nil {
			return DeliveryPlan{}, err
		}
		c.Counter = counted.By
	}
	if c.Rate, err = r.RateOn(order.Currency, entry.Day); err != nil {
		return DeliveryPlan{}, err
	}
	if entry.NoNote {
		c.Earlier, err = alikeWithoutNote(r, order, entry)
	} else {
		c.Earlier, err = r.DeliveryWithNote(entry.Note, order.SupplierID)
	}
	if err != nil {
		return DeliveryPlan{}, err
	}
	for i, counted := range entry.Lines {
		seen, said := entry.Before[counted.No]
		if line := order.Line(counted.No); said && line != nil && line.Received != seen {
			return DeliveryPlan{Order: order}, fault.New(
				fault.Changed,
				receive.Field(i, "quantity"),
				"Line %d: somebody booked meanwhile, %s are received now and not %s. What you typed is kept; count it against that.",
				line.No,
				line.Received,
				seen,
			)
		}
	}
	if _, bad := day.Parse(string(entry.Day)); bad == nil {
		if c.PostedOn, err = r.FirstOpenDay(entry.Day); err != nil {
			return DeliveryPlan{}, err
		}
	}
	if entry.Place, err = placeOf(r, entry, order); err != nil {
		return DeliveryPlan{Order: order}, err
	}
	plan, err := receive.Make(order, entry.Entry, c)
	return DeliveryPlan{plan, order, c.Rate, entry.Place}, err
}

// placeOf is where goods arrive: elsewhere this once, or a place on the list. Where the order sends them is always one.
func placeOf(r act.Reading, entry DeliveryEntry, order *trade.Order) (string, error) {
	if elsewhere := strings.TrimSpace(entry.Elsewhere); elsewhere != "" {
		return elsewhere, nil
	}
	place, no, err := r.PlaceOn(entry.Place, "place", order.Place, order.Destination())
	if err == nil && no != nil {
		err = no
	}
	return place, err
}

// alikeWithoutNote is the number of a delivery without a note on the same order and day with
// the same quantities, or zero.
func alikeWithoutNote(r act.Reading, order *trade.Order, entry DeliveryEntry) (int64, error) {
	all, err := r.WithoutNote(order.ID, entry.Day)
	if err != nil {
		return 0, err
	}
	came := map[int64]money.Decimal{}
	for _, l := range entry.Lines {
		if line := order.Line(l.No); line != nil && l.Quantity != 0 {
			came[line.ID] = l.Quantity
		}
	}
	for _, d := range all {
		lines, err := r.DeliveryLines(d)
		if err != nil {
			return 0, err
		}
		before := map[int64]money.Decimal{}
		for _, l := range lines {
			if l.Quantity != 0 {
				before[l.OrderLine] = l.Counted
			}
		}
		if maps.Equal(came, before) {
			return d.Number, nil
		}
	}
	return 0, nil
}

// BookDelivery books a delivery: its receipts, the lines it closes, its ledger entry
// and the waking of waiting invoices.
func BookDelivery(ctx context.Context, a *act.App, c act.Command, entry DeliveryEntry) (Booked, error) {
	return act.Perform(ctx, a, act.BookDelivery, c, func(w *act.Work) (Booked, error) {
		planned, err := planDelivery(w.Reading, entry, w.Actor.ID, booksGoods)
		if err != nil {
			return Booked{}, err
		}
		if planned.Plan.Blocked() {
			return Booked{}, pastLimit(w, entry, planned.Plan)
		}
		return bookDelivery(w, entry, planned)
	})
}

// pastLimit refuses with the sentence of each line that is past its limit.
func pastLimit(w *act.Work, entry DeliveryEntry, plan receive.Plan) error {
	var faults fault.Faults
	for _, f := range plan.Findings {
		for i, counted := range entry.Lines {
			if f.Verdict == finding.Outside && counted.No == f.Line {
				faults = append(
					faults,
					&fault.Fault{
						Kind:     fault.Refused,
						Field:    receive.Field(i, "quantity"),
						Sentence: w.Actor.Printer.Finding(f),
					},
				)
			}
		}
	}
	return faults
}

func bookDelivery(w *act.Work, entry DeliveryEntry, planned DeliveryPlan) (Booked, error) {
	order, plan := planned.Order, planned.Plan
	number, err := w.NextNumber(store.DeliverySeries)
	if err != nil {
		return Booked{}, err
	}
	note := strings.TrimSpace(entry.Note)
	if entry.NoNote {
		note = fmt.Sprintf("ours %d", number)
	}
	delivery, err := w.AddDelivery(store.Delivery{
		Number:     number,
		Kind:       store.Arrived,
		Order:      order.ID,
		Note:       note,
		NoNote:     entry.NoNote,
		Stated:     entry.Stated,
		Why:        strings.TrimSpace(entry.Why),
		Day:        entry.Day,
		PostedOn:   plan.PostedOn,
		Place:      planned.place,
		Condition:  entry.Condition,
		SecondPart: entry.SecondPart,
		By:         w.Actor.ID,
		At:         w.Instant(),
	})
	if err != nil {
		return Booked{}, err
	}
	b, err := book.Delivery(
		order,
		plan,
		trade.Receipt{Delivery: number, Day: entry.Day, PostedOn: plan.PostedOn},
		w.Ours.Currency,
	)
	if err != nil {
		return Booked{}, err
	}
	if err := w.ApplyBooking(b, w.Applied(delivery, planned.rate, "no more to come"), 0); err != nil {
		return Booked{}, err
	}
	order.CloseOrOpen()
	if err := errors.Join(keepPhotos(w, delivery, entry.Photos), arrived(w, delivery, entry)); err != nil {
		return Booked{}, err
	}
	what := fmt.Sprintf("Delivery %s of %s", note, order.Supplier)
	booked := Booked{Number: number, Value: money.Money{Currency: w.Ours.Currency}}
	for _, r := range plan.Receipts {
		booked.Value.Amount += r.ValueBase
	}
	if booked.Entry, err = w.Book(b.Entry, plan.PostedOn, what, "delivery", number, order.Number); err != nil {
		return booked, err
	}
	if booked.Moves, err = movedBy(w, order.ID); err != nil {
		return booked, err
	}
	found := store.Found{
		Kind:   "delivery",
		Number: fmt.Sprint(number),
		Label:  fmt.Sprintf("%s · delivery note %s", order.Supplier, note),
	}
	return booked, errors.Join(
		w.TouchOrder(order),
		w.Wake(order.ID, 0, fmt.Sprintf("delivery %d booked", number)),
		w.MakeFindable(fmt.Sprintf("%d %s %s %s", number, note, trade.NormalNumber(note), order.Supplier), found),
		w.Record("delivery", number, nil, entry),
		w.Record("order", order.Number, nil, struct{ Delivery int64 }{number}))
}

// movedBy are the numbers of the invoices that are matched again on an order.
func movedBy(w *act.Work, order int64) ([]int64, error) {
	rows, err := w.InvoicesOfOrder(order)
	var numbers []int64
	for _, r := range rows {
		if r.State.Unsettled() {
			numbers = append(numbers, r.Number)
		}
	}
	return numbers, err
}
