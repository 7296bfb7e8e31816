package orders

// This file agrees money that is paid ahead on an order (rules §8).

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// AheadEntry agrees money ahead on an order.
type AheadEntry struct {
	Order, Version int64  // number
	Kind           string // empty: a deposit
	Share          string // as it is typed: 30%, or 850 with tax
	Event          string // with which it is paid: on shipment; empty: on a day
	ExpectedOn     day.Day
	Note           string
	Replaces       int64 // number of the agreement that it takes the place of; 0: none
}

// AgreedAhead answers what changes money ahead on an order.
type AgreedAhead struct{ Order, Number int64 }

// Agree agrees money ahead, in the place of another agreement where it names one.
func Agree(ctx context.Context, a *act.App, c act.Command, entry AheadEntry) (AgreedAhead, error) {
	return act.Perform(ctx, a, act.AgreeAhead, c, func(w *act.Work) (AgreedAhead, error) {
		order, err := aheadOn(w, entry.Order, entry.Version, act.AgreeAhead)
		if err != nil {
			return AgreedAhead{}, err
		}
		if entry.Replaces != 0 {
			if err := endAgreement(w, order, entry.Replaces, "agreed anew"); err != nil {
				return AgreedAhead{}, err
			}
		}
		agreed, err := agreedSum(w.Reading, order)
		if err != nil {
			return AgreedAhead{}, err
		}
		agreement := trade.Agreement{
			Order: order.ID, Kind: strings.ToLower(cmp.Or(strings.Join(strings.Fields(entry.Kind), " "), trade.Deposit)),
			Event: strings.TrimSpace(entry.Event), ExpectedOn: cmp.Or(entry.ExpectedOn, w.Today()), Note: strings.TrimSpace(entry.Note),
		}
		if agreement.Percent, agreement.Amount, err = trade.ParseShare(entry.Share, order.Currency); err != nil {
			return AgreedAhead{}, err
		}
		if err := agreement.Check(order, agreed); err != nil {
			return AgreedAhead{}, err
		}
		if agreement.Number, err = w.NextNumber(store.AheadSeries); err != nil {
			return AgreedAhead{}, err
		}
		_, err = w.AddAgreement(agreement, w.Actor.ID, w.Instant())
		return AgreedAhead{order.Number, agreement.Number}, errors.Join(err, w.PutAheadKind(agreement.Kind), aheadChanged(w, order, nil, agreement))
	})
}

// AheadEnd removes an agreement of which nothing is invoiced.
type AheadEnd struct {
	Order, Version int64 // number
	Number         int64
	Reason         string
}

// RemoveAgreement removes money ahead that was agreed, as long as no invoice asks for it.
func RemoveAgreement(ctx context.Context, a *act.App, c act.Command, end AheadEnd) (AgreedAhead, error) {
	return act.Perform(ctx, a, act.RemoveAhead, c, func(w *act.Work) (AgreedAhead, error) {
		order, err := aheadOn(w, end.Order, end.Version, act.RemoveAhead)
		if err != nil {
			return AgreedAhead{}, err
		}
		reason := strings.TrimSpace(end.Reason)
		if reason == "" {
			return AgreedAhead{}, fault.New(fault.Invalid, "reason", "Say why it is not agreed any more.")
		}
		if err := endAgreement(w, order, end.Number, reason); err != nil {
			return AgreedAhead{}, err
		}
		return AgreedAhead{order.Number, end.Number}, aheadChanged(w, order, end, nil)
	})
}

// aheadOn reads an order whose money ahead is changed, as whoever changes it saw it.
func aheadOn(w *act.Work, number, version int64, job act.Job) (*trade.Order, error) {
	order, err := w.OrderByNumber(number, store.AllReserved)
	if err != nil {
		return nil, act.Found(err, "There is no order %d.", number)
	}
	if !act.OrderSteps.Allow(order.State, job) {
		return nil, fault.New(fault.Refused, "", "Order %d is %s; nothing is agreed ahead on it any more.", number, order.State)
	}
	return order, w.Changed("order", number, version, order.Version)
}

// endAgreement ends an agreement of an order that no invoice asks for.
func endAgreement(w *act.Work, order *trade.Order, number int64, reason string) error {
	agreed, err := w.Agreement(number)
	if errors.Is(err, store.ErrNone) || (err == nil && agreed.Order != order.ID) {
		return fault.New(fault.Changed, "", "Agreement %d does not stand on order %d any more.", number, order.Number)
	}
	if err != nil {
		return err
	}
	if agreed.AskedFor() != 0 {
		return fault.New(fault.Refused, "", "%s of agreement %d is invoiced or requested already, so that it stands.",
			w.Actor.Printer.Money(agreed.AskedFor(), order.Currency), number)
	}
	return w.EndAgreement(agreed.ID, reason, w.Actor.ID, w.Instant())
}

// agreedSum is what is agreed ahead on an order, tax included: at least what is invoiced of each agreement.
func agreedSum(r act.Reading, order *trade.Order) (sum money.Amount, err error) {
	agreements, err := r.Agreements(order.ID)
	if err != nil {
		return 0, err
	}
	totals, err := order.Totals()
	if err != nil {
		return 0, err
	}
	for _, a := range agreements {
		gross, err := a.Gross(totals.Total)
		if err != nil {
			return 0, err
		}
		sum += max(gross, a.AskedFor())
	}
	return sum, nil
}

// aheadChanged counts the order as changed, and has invoices that wait for an agreement matched again.
func aheadChanged(w *act.Work, order *trade.Order, before, after any) error {
	return errors.Join(
		w.TouchOrder(order),
		w.Wake(order.ID, 0, fmt.Sprintf("what is agreed ahead on order %d changed", order.Number)),
		w.Record("order", order.Number, before, after),
	)
}
