// Package holds is what people put in the way of an invoice, an order or one of its lines, and take off again.
package holds

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// HoldEntry puts a hold on an invoice, or on an order or one of its lines.
type HoldEntry = act.HoldEntry

// Held answers HoldInvoice and LiftHold.
type Held struct{ Number, Invoice, Order int64 }

// Hold keeps an invoice from being verified, released or paid, at any time before payment.
func Hold(ctx context.Context, a *act.App, c act.Command, entry HoldEntry) (Held, error) {
	return act.Perform(ctx, a, act.HoldInvoice, c, func(w *act.Work) (Held, error) {
		inv, s, err := w.InvoiceNumbered(entry.Invoice)
		if err != nil {
			return Held{}, err
		}
		if !act.InvoiceSteps.Allow(s.State, act.HoldInvoice) {
			return Held{}, fault.New(
				fault.Refused,
				"",
				"Invoice %d is %s; a hold would stop nothing any more.",
				inv.Number,
				say.State(string(s.State)),
			)
		}
		number, err := w.PutHold(inv, entry)
		s.Version++
		return Held{Number: number, Invoice: inv.Number}, errors.Join(
			err,
			w.SaveInvoiceState(s),
			w.WakeEach(unsettled(inv, s), "on hold"),
			w.Record("invoice", inv.Number, nil, entry),
		)
	})
}

// unsettled is the invoice where it is still matched.
func unsettled(inv trade.Invoice, s store.InvoiceState) []int64 {
	if s.State.Unsettled() {
		return []int64{inv.ID}
	}
	return nil
}

// HoldOrder puts a hold on an order or one of its lines. Invoices that it keeps from being verified are matched again.
func HoldOrder(ctx context.Context, a *act.App, c act.Command, entry HoldEntry) (Held, error) {
	return act.Perform(ctx, a, act.HoldOrder, c, func(w *act.Work) (Held, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Held{}, act.Found(err, "There is no order %d.", entry.Order)
		}
		if order.State != trade.Issued && order.State != trade.Closed {
			return Held{}, fault.New(fault.Refused, "", "Order %d is %s; a hold would stop nothing.", order.Number, say.State(string(order.State)))
		}
		on := store.Hold{Order: order.ID}
		if entry.Line != 0 {
			line := order.Line(entry.Line)
			if line == nil {
				return Held{}, fault.New(fault.Invalid, "line", "Order %d has no line %d.", order.Number, entry.Line)
			}
			on.OrderLine = line.ID
		}
		if err := w.CheckHold(entry, trade.Blockings...); err != nil {
			return Held{}, err
		}
		if entry.Line != 0 && entry.Blocks.Has(trade.BlocksOrdering) {
			return Held{}, fault.New(fault.Invalid, "blocks", "Changing and sending are of the whole order.")
		}
		standing, err := w.HoldsOnOrder(order.ID)
		if err != nil {
			return Held{}, err
		}
		for _, h := range standing {
			if h.OrderLine == on.OrderLine && h.Reason == entry.Reason {
				return Held{}, fault.New(fault.Duplicate, "", "It is on hold for this reason already, since %s, by %s.", act.Clock(h.At, w.Reading), h.ByName)
			}
		}
		number, err := w.AddHoldAs(on, entry)
		return Held{Number: number, Order: order.Number}, errors.Join(
			err,
			w.TouchOrder(order),
			w.Wake(order.ID, 0, fmt.Sprintf("order %d on hold", order.Number)),
			w.Record("order", order.Number, nil, entry),
		)
	})
}

// LiftEntry takes a hold off.
type LiftEntry struct {
	Hold int64
	Note string
}

// Lift takes a hold off. Nobody clears a hold raised against their own
// entry, but one may lift one's own hold (rules §7, §12).
func Lift(ctx context.Context, a *act.App, c act.Command, entry LiftEntry) (Held, error) {
	return act.Perform(ctx, a, act.LiftHold, c, func(w *act.Work) (Held, error) { return lift(w, entry) })
}

func lift(w *act.Work, entry LiftEntry) (Held, error) {
	h, err := w.HoldByNumber(entry.Hold)
	if err != nil {
		return Held{}, act.Found(err, "There is no hold %d.", entry.Hold)
	}
	if h.Ended {
		return Held{}, fault.New(fault.Changed, "", "This hold was taken off already, by %s.", h.EndedBy)
	}
	if h.Reason == finding.QuestionHold {
		return Held{}, waitsForAnswer(w, h)
	}
	if w.Actor.ID > 0 {
		if err := w.MayLift(h, w.Actor); err != nil {
			return Held{}, err
		}
	}
	return Held{h.Number, h.InvoiceNumber, h.OrderNumber}, errors.Join(
		w.EndHold(h.ID, strings.TrimSpace(entry.Note), w.Actor.ID, w.Instant()), lifted(w, h, entry))
}

// waitsForAnswer refuses to take off by hand what goes with the answer to a question.
func waitsForAnswer(w *act.Work, h store.Hold) error {
	q, err := w.QuestionOfHold(h.ID)
	if err != nil {
		return err
	}
	return fault.New(fault.Refused, "", "%s asked a question about it; it goes on once that is answered or taken back.", q.ByName)
}

// lifted writes what follows once a hold is off: what it was on is another version, and invoices that it kept from being
// verified are matched again.
func lifted(w *act.Work, h store.Hold, entry LiftEntry) error {
	if h.Order != 0 {
		order, err := w.Order(h.Order, store.AllReserved)
		if err != nil {
			return err
		}
		return errors.Join(w.TouchOrder(order), w.Wake(order.ID, 0, fmt.Sprintf("hold of order %d taken off", order.Number)),
			w.Record("order", order.Number, h, entry))
	}
	inv, s, err := w.InvoiceNumbered(h.InvoiceNumber)
	if err != nil {
		return err
	}
	s.Version++
	return errors.Join(w.SaveInvoiceState(s), w.WakeEach(unsettled(inv, s), "hold taken off"), w.Record("invoice", inv.Number, h, entry))
}

// Lifted answers LiftAll: the holds that are off, and those that stay with the reason.
type Lifted struct {
	Lifted []int64
	Left   []Left
}

// Left is a hold that stays.
type Left struct {
	Hold int64
	Why  string
}

// LiftAll takes several holds off with one note; what may not be taken off stays, and says why.
func LiftAll(ctx context.Context, a *act.App, c act.Command, numbers []int64, note string) (Lifted, error) {
	return act.Perform(ctx, a, act.LiftHolds, c, func(w *act.Work) (answer Lifted, err error) {
		if strings.TrimSpace(note) == "" {
			return answer, fault.New(fault.Invalid, "note", "Say in a note why they are taken off.")
		}
		for _, number := range numbers {
			failed, err := w.Part(func() error {
				_, err := lift(w, LiftEntry{number, note})
				return err
			})
			var no *fault.Fault
			switch {
			case err != nil:
				return answer, err
			case errors.As(failed, &no):
				answer.Left = append(answer.Left, Left{number, w.Actor.Printer.Refusal(no)})
			case failed != nil:
				return answer, failed
			default:
				answer.Lifted = append(answer.Lifted, number)
			}
		}
		return answer, nil
	})
}

// ClearEnded takes off the holds whose cause has gone: their day has come, their goods are here, or the credit note is in
// the books.
func ClearEnded(ctx context.Context, a *act.App) error {
	ending, err := act.Read(ctx, a, func(r act.Reading) ([]store.Hold, error) {
		holds, err := r.HoldsEnding()
		return slices.DeleteFunc(holds, func(h store.Hold) bool {
			why, e := gone(r, h)
			err = cmp.Or(err, e)
			return why == ""
		}), err
	})
	for _, h := range ending {
		if err != nil {
			return err
		}
		_, err = act.Perform(ctx, a, act.LiftHold, act.Command{Actor: act.Lagoon, Cause: "its cause has gone"}, func(w *act.Work) (Held, error) {
			why, err := gone(w.Reading, h)
			if err != nil || why == "" {
				return Held{}, err
			}
			held, err := lift(w, LiftEntry{h.Number, why})
			if fault.Is(err, fault.Changed) { // somebody took it off meanwhile
				err = nil
			}
			return held, err
		})
	}
	return err
}

// gone says why a hold ends by itself now; nothing where it does not.
func gone(r act.Reading, h store.Hold) (string, error) {
	switch h.Ends.Until {
	case trade.UntilDay:
		if r.Today() >= h.Ends.Day {
			return "Its day has come.", nil
		}
	case trade.UntilGoods:
		orders := []int64{h.Order}
		if h.Order == 0 {
			inv, _, err := r.InvoiceNumbered(h.InvoiceNumber)
			if err != nil {
				return "", err
			}
			orders = inv.Concerns()
		}
		for _, id := range orders {
			order, err := r.Order(id, store.AllReserved)
			if err != nil || !order.GoodsHere(h.Line) {
				return "", err
			}
		}
		return "The goods are here.", nil
	case trade.UntilCredit:
		inv, s, err := r.InvoiceNumbered(h.InvoiceNumber)
		if err != nil {
			return "", err
		}
		credits, err1 := r.CreditsAgainst(inv, s.Revision)
		claims, err2 := r.ClaimsOf(inv.ID)
		if len(credits) > 0 && !slices.ContainsFunc(claims, trade.Claim.Open) {
			return "Its credit note is here.", errors.Join(err1, err2)
		}
		return "", errors.Join(err1, err2)
	}
	return "", nil
}

// SaveReason writes a reason of holds of the company's own.
func SaveReason(ctx context.Context, a *act.App, c act.Command, reason store.OwnReason) (store.OwnReason, error) {
	return act.Perform(ctx, a, act.SaveHoldReason, c, func(w *act.Work) (store.OwnReason, error) {
		reason.Name = strings.TrimSpace(reason.Name)
		switch no := naming.Check(reason.Name, "name"); {
		case reason.Name == "":
			return reason, fault.New(fault.Invalid, "name", "Enter the reason in a few words.")
		case no != nil:
			return reason, no
		case slices.ContainsFunc(say.HoldReasons(), func(s [2]string) bool {
			return strings.EqualFold(s[0], reason.Name) || strings.EqualFold(s[1], reason.Name)
		}):
			return reason, fault.New(fault.Duplicate, "name", "This reason is there already.")
		}
		return reason, errors.Join(w.PutOwnReason(reason), w.RecordAs("company", w.Ours.Name, nil, reason))
	})
}
