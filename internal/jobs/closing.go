package jobs

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

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
func (a *App) PlanClosing(ctx context.Context, entry ClosingEntry) (Closing, error) {
	var plan Closing
	_, err := read(ctx, a, func(r reading) (_ struct{}, err error) {
		plan, _, err = r.planClosing(entry)
		return
	})
	return plan, err
}

func (r reading) planClosing(entry ClosingEntry) (Closing, []*trade.Order, error) {
	var plan Closing
	var orders []*trade.Order
	var faults fault.Faults
	if len(entry.Lines) == 0 || len(entry.Lines) > mostClosed {
		return plan, nil, fault.New(fault.Invalid, "lines", "Choose the lines to close, at most %d at once.", mostClosed)
	}
	for i, ref := range entry.Lines {
		order, err := r.orderAmong(&orders, ref.Order)
		if err != nil {
			return plan, nil, err
		}
		line := order.Line(ref.Line)
		if line == nil {
			return plan, nil, fault.New(fault.NotFound, "lines", "Order %d has no line %d.", ref.Order, ref.Line)
		}
		if order.State != trade.Issued {
			faults = append(faults, fault.New(fault.Refused, fmt.Sprintf("lines[%d]", i), "Order %d is %s.", order.Number, order.State))
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
func (r reading) orderAmong(orders *[]*trade.Order, number int64) (*trade.Order, error) {
	for _, o := range *orders {
		if o.Number == number {
			return o, nil
		}
	}
	o, err := r.OrderByNumber(number, store.AllReserved)
	if err != nil {
		return nil, found(err, "There is no order %d.", number)
	}
	*orders = append(*orders, o)
	return o, nil
}

// CloseLines closes order lines by a buyer's decision, at any quantity (rules §3).
func (a *App) CloseLines(ctx context.Context, c Command, entry ClosingEntry) (Closing, error) {
	return perform(ctx, a, CloseLines, c, func(w *work) (Closing, error) {
		if strings.TrimSpace(entry.Reason) == "" {
			return Closing{}, fault.New(fault.Invalid, "reason", "Say why nothing more is wanted.")
		}
		plan, orders, err := w.planClosing(entry)
		if err != nil {
			return plan, err
		}
		for _, order := range orders {
			b := book.Closing(order, linesOf(order, entry), entry.Goods, entry.Invoices, w.company.Currency)
			changed, err := w.closeOrOpen(order, b, entry, "closed")
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
func (w *work) closeOrOpen(order *trade.Order, b book.Booking, entry ClosingEntry, what string) (changed []int64, err error) {
	if err := w.apply(b, w.applied(0, 0, entry.Reason), 0); err != nil {
		return nil, err
	}
	if order.CloseOrOpen() {
		changed = []int64{order.Number}
	}
	if _, err := w.book(b.Entry, w.today(), fmt.Sprintf("Lines of order %d %s", order.Number, what), "order", order.Number, order.Number); err != nil {
		return nil, err
	}
	return changed, w.touched(order, fmt.Sprintf("lines of order %d %s", order.Number, what), entry)
}

// touched writes an order's new state, wakes its invoices and records why.
func (w *work) touched(order *trade.Order, cause string, entry any) error {
	return errors.Join(w.TouchOrder(order), w.wake(order.ID, 0, cause), w.record("order", order.Number, nil, entry))
}

// ReopenLines undoes the closing of order lines while the period of each closing is
// open (rules §3).
func (a *App) ReopenLines(ctx context.Context, c Command, entry ClosingEntry) (Closing, error) {
	return perform(ctx, a, ReopenLines, c, func(w *work) (Closing, error) {
		if strings.TrimSpace(entry.Reason) == "" {
			return Closing{}, fault.New(fault.Invalid, "reason", "Say why something is wanted again.")
		}
		var answer Closing
		var orders []*trade.Order
		for _, ref := range entry.Lines {
			order, err := w.orderAmong(&orders, ref.Order)
			if err != nil {
				return answer, err
			}
			line := order.Line(ref.Line)
			if line == nil {
				return answer, fault.New(fault.NotFound, "lines", "Order %d has no line %d.", ref.Order, ref.Line)
			}
			if err := w.checkOpening(order, line, entry); err != nil {
				return answer, err
			}
		}
		for _, order := range orders {
			b, err := book.Opening(order, linesOf(order, entry), entry.Goods, entry.Invoices, w.company.Currency)
			if err != nil {
				return answer, err
			}
			changed, err := w.closeOrOpen(order, b, entry, "open again")
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
func (w *work) checkOpening(order *trade.Order, line *trade.OrderLine, entry ClosingEntry) error {
	goods, invoices := entry.Goods && line.ClosedGoods, entry.Invoices && line.ClosedInvoices
	if !goods && !invoices {
		return fault.New(fault.Refused, "lines", "Line %d of order %d is not closed that way.", line.No, order.Number)
	}
	closes, err := w.LineCloses(line.ID)
	if err != nil {
		return err
	}
	var at []string
	toGoods, toInvoices := inForce(closes)
	if goods {
		at = append(at, toGoods.At)
	}
	if invoices {
		at = append(at, toInvoices.At)
	}
	for _, stamp := range at {
		instant, err := parseStamp(stamp)
		if err != nil {
			return err
		}
		month := string(day.Of(instant, w.zone))[:len("2006-01")]
		if closed, err := w.PeriodClosed(month); err != nil {
			return err
		} else if closed {
			return fault.New(fault.Refused, "lines", "Line %d of order %d was closed in %s, and that period is closed. Order again instead.", line.No, order.Number, month)
		}
	}
	return nil
}

// inForce are the last closings to goods and to invoices: those that stand, on a line
// that is closed to both.
func inForce(closes []store.LineClose) (goods, invoices store.LineClose) {
	for _, c := range closes {
		if c.Goods > 0 {
			goods = c
		}
		if c.Invoices > 0 {
			invoices = c
		}
	}
	return goods, invoices
}

// CancelOrder cancels an issued order while nothing of it is received or invoiced.
func (a *App) CancelOrder(ctx context.Context, c Command, number, version int64, reason string) (Issued, error) {
	return perform(ctx, a, CancelOrder, c, func(w *work) (Issued, error) {
		order, err := w.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return Issued{}, found(err, "There is no order %d.", number)
		}
		if err := w.changed("order", number, version, order.Version); err != nil {
			return Issued{}, err
		}
		if strings.TrimSpace(reason) == "" {
			return Issued{}, fault.New(fault.Invalid, "reason", "Say why the order is cancelled.")
		}
		if order.State != trade.Issued {
			return Issued{}, fault.New(fault.Refused, "", "Order %d is %s already.", number, order.State)
		}
		if l := order.Touched(); l != nil {
			return Issued{}, fault.New(fault.Refused, "", "Line %d of order %d was received or invoiced, so the order can only be closed.", l.No, number)
		}
		order.State = trade.Cancelled
		return Issued{number}, w.touched(order, fmt.Sprintf("order %d cancelled", number), struct{ Cancelled string }{strings.TrimSpace(reason)})
	})
}

// OpenLines lists order lines that something can still come on, or closed ones.
func (a *App) OpenLines(ctx context.Context, filter store.LineFilter) (Listed[store.OpenLine], error) {
	return listed(ctx, a, func(r reading) ([]store.OpenLine, error) { return r.Tx.OpenLines(filter) })
}
