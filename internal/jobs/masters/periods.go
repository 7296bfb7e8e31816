package masters

// This file closes months of the books, and opens one again.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// ClosePeriod closes a month of the books: nothing is posted into it any more.
func ClosePeriod(ctx context.Context, a *act.App, c act.Command, month string) error {
	_, err := act.Perform(ctx, a, act.ClosePeriod, c, func(w *act.Work) (string, error) {
		if _, err := day.Parse(month + "-01"); err != nil {
			return "", fault.New(fault.Invalid, "month", "A period is a month, such as 2026-10.")
		}
		if closed, err := w.PeriodClosed(month); err != nil || closed {
			return month, errors.Join(
				err,
				fault.New(fault.Duplicate, "month", "The period %s is closed already.", month),
			)
		}
		return month, errors.Join(
			w.Tx.ClosePeriod(month, w.Actor.ID, w.Instant()),
			w.RecordAs("period", month, nil, month),
		)
	})
	return err
}

// Opening asks to open a closed month again, or answers who asked.
type Opening struct{ Month, Reason string }

// AskPeriod asks, with a reason, to open the last closed month again; it stays closed until somebody else agrees.
func AskPeriod(ctx context.Context, a *act.App, c act.Command, o Opening) error {
	_, err := act.Perform(ctx, a, act.AskPeriod, c, func(w *act.Work) (string, error) {
		o.Reason = strings.TrimSpace(o.Reason)
		closed, err := w.Periods()
		if err != nil {
			return "", err
		}
		switch {
		case !slices.Contains(closed, o.Month):
			return "", fault.New(fault.Refused, "month", "The period %s is not closed.", o.Month)
		case closed[len(closed)-1] != o.Month:
			return "", fault.New(fault.Refused, "month", "%s is closed after it. That one is opened first.", closed[len(closed)-1])
		case o.Reason == "":
			return "", fault.New(fault.Invalid, "reason", "Say why it is opened again.")
		}
		return o.Month, errors.Join(
			w.Tx.AskPeriod(store.PeriodAsked{Month: o.Month, Reason: o.Reason, By: w.Actor.ID, At: w.Instant()}),
			w.RecordAs("period", o.Month, nil, o),
		)
	})
	return err
}

// OpenPeriod opens a month that somebody else asked for.
func OpenPeriod(ctx context.Context, a *act.App, c act.Command, o Opening) error {
	return answerPeriod(ctx, a, c, act.OpenPeriod, o, true)
}

// KeepPeriod leaves a month closed that was asked for; whoever asked may do so as well.
func KeepPeriod(ctx context.Context, a *act.App, c act.Command, o Opening) error {
	return answerPeriod(ctx, a, c, act.KeepPeriod, o, false)
}

func answerPeriod(ctx context.Context, a *act.App, c act.Command, job act.Job, o Opening, open bool) error {
	_, err := act.Perform(ctx, a, job, c, func(w *act.Work) (string, error) {
		asked, err := w.AskedPeriod()
		if err != nil && !errors.Is(err, store.ErrNone) {
			return "", err
		}
		if err != nil || asked.Month != o.Month {
			return "", fault.New(fault.Refused, "month", "Nobody asks to open %s again.", o.Month)
		}
		if open && w.Actor.Is(asked.By) {
			return "", fault.New(fault.Forbidden, "", "You asked for it, so somebody else opens it.")
		}
		return o.Month, errors.Join(
			w.Tx.OpenPeriod(o.Month, open, strings.TrimSpace(o.Reason), w.Actor.ID, w.Instant()),
			w.RecordAs("period", o.Month, asked, o),
		)
	})
	return err
}

// Hanging is what hangs in the months until one.
type Hanging struct {
	Invoices   []store.HangingInvoice // that are not verified
	Receipts   []store.Sum            // by order line, in the company's currency: below zero what is here and not invoiced
	Deferrals  []store.DeferralDue    // parts of spread costs that are not posted
	Unanswered []int64                // runs
	More       int64                  // at least, than are given
	Company    store.Company
}

const hangingShown = 50

// ReadHanging tells what hangs in the months until one, before it is closed.
func ReadHanging(ctx context.Context, a *act.App, month string) (Hanging, error) {
	return act.Read(ctx, a, func(r act.Reading) (h Hanging, err error) {
		if _, err := day.Parse(month + "-01"); err != nil {
			return h, fault.New(fault.Invalid, "month", "A period is a month, such as 2026-10.")
		}
		h.Company = r.Ours
		last := day.Day(month + "-01").EndOfMonth()
		var err1, err2, err3, err4 error
		h.Invoices, err1 = r.UnverifiedBy(last)
		h.Receipts, err2 = r.GRNIAt(last)
		h.Deferrals, err3 = r.DeferralsDue(month)
		h.Unanswered, err4 = r.UnansweredBy(last)
		h.More = r.LeftOut()
		if len(h.Invoices) > hangingShown {
			h.Invoices = h.Invoices[:hangingShown]
			h.More++
		}
		return h, errors.Join(err1, err2, err3, err4)
	})
}
