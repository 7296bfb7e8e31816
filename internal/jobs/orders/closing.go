package orders

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// LineRef names an order line.
type LineRef struct {
	Order int64
	Line  int
}

// ClosingEntry closes order lines to further goods, further invoices or both.
type ClosingEntry struct {
	Lines           []LineRef
	Goods, Invoices bool
	Reason          string
}

// Release is what closing a line lets go: what is not expected any more and what it
// would have cost, in the order's currency.
type Release struct {
	Ref         LineRef
	Description string
	Unit        string
	Quantity    money.Decimal
	Value       money.Amount
	Currency    money.Currency
}

// Closing answers the jobs that close and reopen lines.
type Closing struct {
	Releases []Release
	Orders   []int64 // numbers of the orders that are closed altogether, or open again
}

const mostClosed = 500

// PlanClosing tells what closing lines would let go. What stands against it comes as
// faults with fields lines[index].
func PlanClosing(ctx context.Context, a *act.App, entry ClosingEntry) (Closing, error) {
	var plan Closing
	_, err := act.Read(ctx, a, func(r act.Reading) (_ struct{}, err error) {
		plan, _, err = planClosing(r, entry)
		return
	})
	return plan, err
}

func planClosing(r act.Reading, entry ClosingEntry) (Closing, []*trade.Order, error) {
	var plan Closing
	var orders []*trade.Order
	var faults fault.Faults
	if len(entry.Lines) == 0 || len(entry.Lines) > mostClosed {
		return plan, nil, fault.New(
			fault.Invalid,
			"lines",
			"Choose the lines to close, at most %d at once.",
			mostClosed,
		)
	}
	for i, ref := range entry.Lines {
		order, err := orderAmong(r, &orders, ref.Order)
		if err != nil {
			return plan, nil, err
		}
		line := order.Line(ref.Line)
		if line == nil {
			return plan, nil, fault.New(fault.NotFound, "lines", "Order %d has no line %d.", ref.Order, ref.Line)
		}
		if !act.OrderSteps.Allow(order.State, act.CloseLines) {
			faults = append(
				faults,
				fault.New(fault.Refused, fmt.Sprintf("lines[%d]", i), "Order %d is %s.", order.Number, order.State),
			)
		} else if f := trade.CheckClose(line, entry.Goods, entry.Invoices); f != nil {
			f.Field = fmt.Sprintf("lines[%d]", i)
			faults = append(faults, f)
		}
		release := Release{Ref: ref, Description: line.Description, Unit: line.Unit, Currency: order.Currency}
		if entry.Goods {
			release.Quantity = line.Rest()
		}
		if release.Value, err = line.ShareOfNet(line.Came(), release.Quantity); err != nil {
			return plan, nil, err
		}
		plan.Releases = append(plan.Releases, release)
	}
	return plan, orders, faults.OrNil()
}

// orderAmong reads an order once for all of its lines.
func orderAmong(r act.Reading, orders *[]*trade.Order, number int64) (*trade.Order, error) {
	for _, o := range *orders {
		if o.Number == number {
			return o, nil
		}
	}
	o, err := r.OrderByNumber(number, store.AllReserved)
	if err != nil {
		return nil, act.Found(err, "There is no order %d.", number)
	}
	*orders = append(*orders, o)
	return o, nil
}

// CloseLines closes order lines by a buyer's decision, at any quantity (rules §3).
func CloseLines(ctx context.Context, a *act.App, c act.Command, entry ClosingEntry) (Closing, error) {
	return act.Perform(ctx, a, act.CloseLines, c, func(w *act.Work) (Closing, error) {
		if strings.TrimSpace(entry.Reason) == "" {
			return Closing{}, fault.New(fault.Invalid, "reason", "Say why nothing more is wanted.")
		}
		plan, orders, err := planClosing(w.Reading, entry)
		if err != nil {
			return plan, err
		}
		for _, order := range orders {
			b := book.Closing(order, linesOf(order, entry), entry.Goods, entry.Invoices, w.Ours.Currency)
			changed, err := closeOrOpen(w, order, b, entry, "closed")
			if err != nil {
				return plan, err
			}
			plan.Orders = append(plan.Orders, changed...)
		}
		return plan, nil
	})
}

// linesOf are the lines of one order that an entry names.
func linesOf(order *trade.Order, entry ClosingEntry) []*trade.OrderLine {
	var lines []*trade.OrderLine
	for _, ref := range entry.Lines {
		if line := order.Line(ref.Line); ref.Order == order.Number && !slices.Contains(lines, line) {
			lines = append(lines, line)
		}
	}
	return lines
}

// closeOrOpen writes what closing or opening lines of an order books, and tells whether the
// order is closed altogether or open again by it.
func closeOrOpen(
	w *act.Work,
	order *trade.Order,
	b book.Booking,
	entry ClosingEntry,
	what string,
) (changed []int64, err error) {
	if err := w.ApplyBooking(b, w.Applied(0, 0, entry.Reason), 0); err != nil {
		return nil, err
	}
	if order.CloseOrOpen() {
		changed = []int64{order.Number}
	}
	if _, err := w.Book(b.Entry, w.Today(), fmt.Sprintf("Lines of order %d %s", order.Number, what), "order", order.Number, order.Number); err != nil {
		return nil, err
	}
	return changed, touched(w, order, fmt.Sprintf("lines of order %d %s", order.Number, what), entry)
}

// touched writes an order's new state, wakes its invoices and records why.
func touched(w *act.Work, order *trade.Order, cause string, entry any) error {
	return errors.Join(w.TouchOrder(order), w.Wake(order.ID, 0, cause), w.Record("order", order.Number, nil, entry))
}

// ReopenLines undoes the closing of order lines while the period of each closing is
// open (rules §3).
func ReopenLines(ctx context.Context, a *act.App, c act.Command, entry ClosingEntry) (Closing, error) {
	return act.Perform(ctx, a, act.ReopenLines, c, func(w *act.Work) (Closing, error) {
		if strings.TrimSpace(entry.Reason) == "" {
			return Closing{}, fault.New(fault.Invalid, "reason", "Say why something is wanted again.")
		}
		var answer Closing
		var orders []*trade.Order
		for _, ref := range entry.Lines {
			order, err := orderAmong(w.Reading, &orders, ref.Order)
			if err != nil {
				return answer, err
			}
			line := order.Line(ref.Line)
			if line == nil {
				return answer, fault.New(fault.NotFound, "lines", "Order %d has no line %d.", ref.Order, ref.Line)
			}
			if err := checkOpening(w, order, line, entry); err != nil {
				return answer, err
			}
		}
		for _, order := range orders {
			b, err := book.Opening(order, linesOf(order, entry), entry.Goods, entry.Invoices, w.Ours.Currency)
			if err != nil {
				return answer, err
			}
			changed, err := closeOrOpen(w, order, b, entry, "open again")
			if err != nil {
				return answer, err
			}
			answer.Orders = append(answer.Orders, changed...)
		}
		return answer, nil
	})
}

// checkOpening finds what stands against opening a line again: it is not closed that way, the
// period of its closing is closed (rules §3).
func checkOpening(w *act.Work, order *trade.Order, line *trade.OrderLine, entry ClosingEntry) error {
	goods, invoices := entry.Goods && line.ClosedGoods, entry.Invoices && line.ClosedInvoices
	if !goods && !invoices {
		return fault.New(fault.Refused, "lines", "Line %d of order %d is not closed that way.", line.No, order.Number)
	}
	closes, err := w.LineCloses(line.ID)
	if err != nil {
		return err
	}
	var at []string
	toGoods, toInvoices := act.InForce(closes)
	if goods {
		at = append(at, toGoods.At)
	}
	if invoices {
		at = append(at, toInvoices.At)
	}
	for _, stamp := range at {
		instant, err := act.ParseStamp(stamp)
		if err != nil {
			return err
		}
		month := string(day.Of(instant, w.Zone))[:len("2006-01")]
		if closed, err := w.PeriodClosed(month); err != nil {
			return err
		} else if closed {
			return fault.New(fault.Refused, "lines", "Line %d of order %d was closed in %s, and that period is closed. Order again instead.", line.No, order.Number, month)
		}
	}
	return nil
}

// Cancel cancels an issued order while nothing of it is received or invoiced.
func Cancel(ctx context.Context, a *act.App, c act.Command, number, version int64, reason string) (Issued, error) {
	return act.Perform(ctx, a, act.CancelOrder, c, func(w *act.Work) (Issued, error) {
		order, err := w.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return Issued{}, act.Found(err, "There is no order %d.", number)
		}
		if err := w.Changed("order", number, version, order.Version); err != nil {
			return Issued{}, err
		}
		if strings.TrimSpace(reason) == "" {
			return Issued{}, fault.New(fault.Invalid, "reason", "Say why the order is cancelled.")
		}
		if !act.OrderSteps.Allow(order.State, act.CancelOrder) {
			return Issued{}, fault.New(fault.Refused, "", "Order %d is %s already.", number, order.State)
		}
		if l := order.Touched(); l != nil {
			return Issued{}, fault.New(
				fault.Refused,
				"",
				"Line %d of order %d was received or invoiced, so the order can only be closed.",
				l.No,
				number,
			)
		}
		order.State = trade.Cancelled
		if err := replaced(w, order.ID); err != nil { // nobody need approve it any more
			return Issued{}, err
		}
		return Issued{
				Number: number,
			}, touched(
				w,
				order,
				fmt.Sprintf("order %d cancelled", number),
				struct{ Cancelled string }{strings.TrimSpace(reason)},
			)
	})
}

// OpenLines lists order lines that something can still come on, or closed ones.
func OpenLines(ctx context.Context, a *act.App, filter store.LineFilter) (act.Listed[store.OpenLine], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]store.OpenLine, error) { return r.Tx.OpenLines(filter) })
}
