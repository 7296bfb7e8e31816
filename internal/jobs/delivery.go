package jobs

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
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
}

// Booked answers BookDelivery and ReverseDelivery: the document's and its entry's
// number (no entry: zero) and what the entry is worth, in the company's currency.
type Booked struct {
	Number, Entry int64
	Value         money.Amount
	Moves         []int64 // numbers of the invoices that this wakes
}

// PlanDelivery tells what a delivery would book, without booking it.
func (a *App) PlanDelivery(ctx context.Context, actor Actor, entry DeliveryEntry, counting bool) (DeliveryPlan, error) {
	return read(ctx, a, func(r reading) (DeliveryPlan, error) { return r.planDelivery(entry, actor.ID, counting) })
}

// planDelivery plans a booking by a person, or their counting at the door.
func (r reading) planDelivery(entry DeliveryEntry, booker int64, counting bool) (DeliveryPlan, error) {
	order, err := r.OrderByNumber(entry.Order, store.AllReserved)
	if err != nil {
		return DeliveryPlan{}, found(err, "There is no order %d.", entry.Order)
	}
	if err := r.FillUnits(order); err != nil {
		return DeliveryPlan{}, err
	}
	c := receive.Context{Policy: r.company.Policy, Today: r.today(), Company: r.company.Currency, TwoStep: r.company.TwoStep && !counting, Booker: booker}
	if entry.Arrival != 0 {
		counted, err := r.openArrival(entry.Arrival, entry.Order)
		if err != nil {
			return DeliveryPlan{}, err
		}
		c.Counter = counted.By
	}
	if c.Rate, err = r.rate(order.Currency, entry.Day); err != nil {
		return DeliveryPlan{}, err
	}
	if c.Earlier, err = r.DeliveryWithNote(entry.Note, order.SupplierID); err != nil {
		return DeliveryPlan{}, err
	}
	for i, counted := range entry.Lines {
		seen, said := entry.Before[counted.No]
		if line := order.Line(counted.No); said && line != nil && line.Received != seen {
			return DeliveryPlan{Order: order}, fault.New(fault.Changed, receive.Field(i, "quantity"),
				"Line %d: somebody booked meanwhile, %s are received now and not %s. What you typed is kept; count it against that.", line.No, line.Received, seen)
		}
	}
	plan, err := receive.Make(order, entry.Entry, c)
	return DeliveryPlan{plan, order}, err
}

// BookDelivery books a delivery: its receipts, the lines it closes, its ledger entry
// and the waking of waiting invoices.
func (a *App) BookDelivery(ctx context.Context, c Command, entry DeliveryEntry) (Booked, error) {
	return perform(ctx, a, BookDelivery, c, func(w *work) (Booked, error) {
		planned, err := w.planDelivery(entry, w.actor.ID, false)
		if err != nil {
			return Booked{}, err
		}
		if planned.Plan.Blocked() {
			return Booked{}, w.pastLimit(entry, planned.Plan)
		}
		return w.bookDelivery(entry, planned)
	})
}

// pastLimit refuses with the sentence of each line that is past its limit.
func (w *work) pastLimit(entry DeliveryEntry, plan receive.Plan) error {
	var faults fault.Faults
	for _, f := range plan.Findings {
		for i, counted := range entry.Lines {
			if f.Verdict == finding.Outside && counted.No == f.Line {
				faults = append(faults, &fault.Fault{Kind: fault.Refused, Field: receive.Field(i, "quantity"), Sentence: w.actor.Printer.Finding(f)})
			}
		}
	}
	return faults
}

func (w *work) bookDelivery(entry DeliveryEntry, planned DeliveryPlan) (Booked, error) {
	order, plan := planned.Order, planned.Plan
	number, err := w.NextNumber(store.DeliverySeries)
	if err != nil {
		return Booked{}, err
	}
	delivery, err := w.AddDelivery(store.Delivery{
		Number:     number,
		Kind:       store.Arrived,
		Order:      order.ID,
		Note:       strings.TrimSpace(entry.Note),
		Day:        entry.Day,
		Place:      entry.Place,
		Condition:  entry.Condition,
		SecondPart: entry.SecondPart,
		By:         w.actor.ID,
		At:         w.instant(),
	})
	if err != nil {
		return Booked{}, err
	}
	var fills []receive.Fill
	var filled []*trade.OrderLine
	for _, r := range plan.Receipts {
		id, err := w.AddReceiptLine(delivery, store.ReceiptLine{
			OrderLine: r.Line.ID, Quantity: r.Quantity, Refused: r.Refused, Counted: r.Counted, Unit: r.Unit, Value: r.Value, ValueBase: r.ValueBase,
		})
		if err != nil {
			return Booked{}, err
		}
		for i, l := range r.Lots {
			if err := w.AddLot(id, store.Lot{No: i + 1, Lot: strings.TrimSpace(l.Lot), Quantity: l.Quantity, BestBefore: l.BestBefore}); err != nil {
				return Booked{}, err
			}
		}
		if r.Quantity == 0 {
			continue
		}
		receipt := &trade.Receipt{ID: id, Delivery: number, Day: entry.Day, Quantity: r.Quantity, Value: r.Value, ValueBase: r.ValueBase}
		r.Line.Received += r.Quantity
		r.Line.LevelFixed = true
		r.Line.Receipts = append(r.Line.Receipts, receipt)
		if r.Line.Level == trade.ThreeWay && r.Line.Beyond > 0 {
			fill, err := receive.FillBeyond(r.Line, receipt)
			if err != nil {
				return Booked{}, err
			}
			if err := w.moveBeyond(delivery, r.Line, fill); err != nil {
				return Booked{}, err
			}
			fills, filled = append(fills, fill), append(filled, r.Line)
		}
		if err := w.SaveLine(r.Line); err != nil {
			return Booked{}, err
		}
	}
	for _, line := range plan.Closes {
		line.ClosedGoods = true
		if err := errors.Join(w.SaveLine(line), w.AddLineClose(store.LineClose{Line: line.ID, Delivery: delivery, Goods: 1, Reason: "no more to come", By: w.actor.ID, At: w.instant()})); err != nil {
			return Booked{}, err
		}
	}
	order.CloseOrOpen()
	if err := errors.Join(w.keepPhotos(delivery, entry.Photos), w.arrived(delivery, entry)); err != nil {
		return Booked{}, err
	}
	e := posting.Delivery(order, plan.Receipts, fills, filled)
	what := fmt.Sprintf("Delivery %s of %s", entry.Note, order.Supplier)
	booked := Booked{Number: number}
	for _, r := range plan.Receipts {
		booked.Value += r.ValueBase
	}
	if booked.Entry, err = w.book(e, entry.Day, what, "delivery", number, order.Number); err != nil {
		return booked, err
	}
	if booked.Moves, err = w.movedBy(order.ID); err != nil {
		return booked, err
	}
	found := store.Found{Kind: "delivery", Number: fmt.Sprint(number), Label: fmt.Sprintf("%s · delivery note %s", order.Supplier, entry.Note)}
	return booked, errors.Join(
		w.TouchOrder(order),
		w.wake(order.ID, 0, fmt.Sprintf("delivery %d booked", number)),
		w.MakeFindable(fmt.Sprintf("%d %s %s %s", number, entry.Note, trade.NormalNumber(entry.Note), order.Supplier), found),
		w.record("delivery", number, nil, entry),
		w.record("order", order.Number, nil, struct{ Delivery int64 }{number}))
}

// moveBeyond sets invoice lines that were billed beyond receipts against the new
// receipt, oldest first: one counter-row and one row each.
func (w *work) moveBeyond(delivery int64, line *trade.OrderLine, fill receive.Fill) error {
	beyond, err := w.BeyondOf(line.ID)
	if err != nil {
		return err
	}
	left, out, in := fill.Beyond.Quantity, fill.Beyond, fill.Taken
	for _, b := range beyond {
		quantity := min(left, b.Quantity)
		if quantity == 0 {
			break
		}
		part, err := shareOf(out, quantity)
		if err != nil {
			return err
		}
		taken, err := shareOf(in, quantity)
		if err != nil {
			return err
		}
		minus := trade.Relief{Quantity: -quantity, Value: -part.Value, Base: -part.Base}
		if err := errors.Join(
			w.AddAllocation(store.Allocation{OrderLine: line.ID, InvoiceLine: b.InvoiceLine, Delivery: delivery, Kind: store.BilledKind, Relief: minus}),
			w.AddAllocation(store.Allocation{OrderLine: line.ID, Receipt: fill.Receipt.ID, InvoiceLine: b.InvoiceLine, Delivery: delivery, Kind: store.BilledKind, Relief: taken})); err != nil {
			return err
		}
		left -= quantity
		out, in = less(out, part), less(in, taken)
	}
	return nil
}

func shareOf(r trade.Relief, quantity money.Decimal) (trade.Relief, error) {
	value, err := r.Value.Part(int64(quantity), int64(r.Quantity))
	if err != nil {
		return r, err
	}
	base, err := r.Base.Part(int64(quantity), int64(r.Quantity))
	return trade.Relief{Quantity: quantity, Value: value, Base: base}, err
}

func less(r, part trade.Relief) trade.Relief {
	return trade.Relief{Quantity: r.Quantity - part.Quantity, Value: r.Value - part.Value, Base: r.Base - part.Base}
}

// movedBy are the numbers of the invoices that are matched again on an order.
func (w *work) movedBy(order int64) ([]int64, error) {
	rows, err := w.InvoicesOfOrder(order)
	var numbers []int64
	for _, r := range rows {
		if r.State.Unsettled() {
			numbers = append(numbers, r.Number)
		}
	}
	return numbers, err
}

// ReversalEntry undoes a delivery that was booked wrongly.
type ReversalEntry struct {
	Delivery int64
	Reason   string
}

// ReverseDelivery undoes a delivery by a counter-document, as far as it is not
// invoiced: a delivery that was invoiced in part is reversed for the rest. What the
// delivery closed is open again, and so is the notice or the count at the door that it
// started from, where nothing of it is left (rules §4).
func (a *App) ReverseDelivery(ctx context.Context, c Command, entry ReversalEntry) (Booked, error) {
	return perform(ctx, a, ReverseDelivery, c, func(w *work) (Booked, error) {
		original, err := w.DeliveryByNumber(entry.Delivery)
		if err != nil {
			return Booked{}, found(err, "There is no delivery %d.", entry.Delivery)
		}
		if strings.TrimSpace(entry.Reason) == "" {
			return Booked{}, fault.New(fault.Invalid, "reason", "Say why the booking was wrong.")
		}
		if err := w.standing(original); err != nil {
			return Booked{}, err
		}
		order, err := w.Order(original.Order, store.AllReserved)
		if err != nil {
			return Booked{}, err
		}
		return w.reverse(order, original, entry)
	})
}

// openAgain opens the lines that a delivery closed, where no later closing stands, and
// tells whether there were any.
func (w *work) openAgain(order *trade.Order, original store.Delivery, reversal int64, reason string) (some bool, err error) {
	closed, err := w.ClosedAt(original.ID)
	if err != nil {
		return false, err
	}
	for _, key := range closed {
		line := order.LineByID(key)
		closes, err := w.LineCloses(key)
		if err != nil {
			return false, err
		}
		if last, _ := inForce(closes); !line.ClosedGoods || last.Delivery != original.ID {
			continue
		}
		some, line.ClosedGoods = true, false
		if err := errors.Join(w.SaveLine(line), w.AddLineClose(store.LineClose{Line: key, Delivery: reversal, Goods: -1, Reason: reason, By: w.actor.ID, At: w.instant()})); err != nil {
			return false, err
		}
	}
	order.CloseOrOpen()
	return some, nil
}

// standing refuses what is no delivery, or was reversed already.
func (r reading) standing(d store.Delivery) error {
	if d.Kind != store.Arrived {
		return fault.New(fault.Refused, "", "Number %d is a %s and no delivery.", d.Number, d.Kind)
	}
	against, err := r.Against(d.ID)
	for _, x := range against {
		if x.Kind == store.Reversal {
			return fault.New(fault.Refused, "", "Delivery %d was reversed by %d already.", d.Number, x.Number)
		}
	}
	return err
}

func (w *work) reverse(order *trade.Order, original store.Delivery, entry ReversalEntry) (Booked, error) {
	id, number, err := w.addAgainst(original, store.Delivery{Kind: store.Reversal, Day: original.Day, Reason: entry.Reason})
	if err != nil {
		return Booked{}, err
	}
	some, err := w.openAgain(order, original, id, entry.Reason)
	if err != nil {
		return Booked{}, err
	}
	e, booked := newEntry(order), Booked{Number: number}
	for _, line := range order.Lines {
		for _, receipt := range line.Receipts {
			if receipt.Delivery != original.Number || receipt.Open() <= 0 {
				continue
			}
			some = true
			taken, err := receipt.Relieve(receipt.Open())
			if err != nil {
				return booked, err
			}
			receipt.Reversed += taken.Quantity
			line.Received -= taken.Quantity
			booked.Value -= taken.Base
			posting.Reversal(order, line, taken, &e)
			if err := errors.Join(w.AddAllocation(store.Allocation{OrderLine: line.ID, Receipt: receipt.ID, Delivery: id, Kind: store.ReversedKind, Relief: taken}), w.SaveLine(line)); err != nil {
				return booked, err
			}
		}
	}
	if !some {
		return booked, fault.New(fault.Refused, "", "Nothing of delivery %d can be taken back: it is invoiced, went back or was free of charge.", original.Number)
	}
	if booked.Entry, err = w.book(e, original.Day, fmt.Sprintf("Reversal of delivery %d", original.Number), "delivery", number, order.Number); err != nil {
		return booked, err
	}
	if !slices.ContainsFunc(order.Lines, func(l *trade.OrderLine) bool {
		return slices.ContainsFunc(l.Receipts, func(r *trade.Receipt) bool { return r.Delivery == original.Number && r.Held() > 0 })
	}) {
		if err := w.startAgain(original); err != nil {
			return booked, err
		}
	}
	return booked, errors.Join(w.TouchOrder(order), w.wake(order.ID, 0, fmt.Sprintf("delivery %d reversed", original.Number)),
		w.record("delivery", number, nil, entry), w.record("order", order.Number, nil, struct{ Reversal int64 }{number}))
}
