package invoices

// This file posts what becomes a cost month by month (rules §5).

import (
	"context"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Due is a part of a cost that comes due, and the day it is posted on.
type Due struct {
	store.DeferralDue
	On day.Day
}

// Deferrals are the parts that are due by a day, and the last runs.
type Deferrals struct {
	Due     []Due
	Runs    []store.DeferralRun
	More    int64          // due ones than are given
	Company money.Currency // of the amounts
}

const runsShown = 12

// ReadDeferrals tells what a run until a day would post, and which runs there were.
func ReadDeferrals(ctx context.Context, a *act.App, until day.Day) (Deferrals, error) {
	return act.Read(ctx, a, func(r act.Reading) (d Deferrals, err error) {
		d.Company = r.Ours.Currency
		if until == "" {
			until = r.Today()
		}
		if d.Due, err = due(r, until); err != nil {
			return d, err
		}
		d.More = r.LeftOut()
		d.Runs, err = r.DeferralRuns(store.AllReserved, runsShown)
		return d, err
	})
}

// due lists what is posted by a day: each part on the last day of its month or, where that month is closed, on the last
// day of the first open one; never ahead.
func due(r act.Reading, until day.Day) ([]Due, error) {
	held, err := r.DeferralsDue(until.Month())
	if err != nil {
		return nil, err
	}
	var all []Due
	for _, h := range held {
		on, err := r.FirstOpenDay(day.Day(h.Month + "-01").EndOfMonth())
		if err != nil {
			return nil, err
		}
		if on = on.EndOfMonth(); on <= until {
			all = append(all, Due{h, on})
		}
	}
	return all, nil
}

// PostDeferrals posts what is due by a day that is not ahead: an entry for each invoice and month. It answers with the
// number of parts, which may be none.
func PostDeferrals(ctx context.Context, a *act.App, c act.Command, until day.Day) (int, error) {
	return act.Perform(ctx, a, act.PostDeferrals, c, func(w *act.Work) (int, error) {
		if _, err := day.Parse(string(until)); err != nil {
			return 0, fault.New(fault.Invalid, "until", "Enter the day until which costs are posted.")
		}
		if until > w.Today() {
			return 0, fault.New(fault.Invalid, "until", "Nothing is posted ahead of its day.")
		}
		parts, err := due(w.Reading, until)
		if err != nil || len(parts) == 0 {
			return 0, err
		}
		run, err := w.AddDeferralRun(until, 0, w.Actor.ID, w.Instant())
		if err != nil {
			return 0, err
		}
		for _, p := range parts {
			if err := w.PostDeferral(p.DeferredPart, run); err != nil {
				return 0, err
			}
		}
		for _, e := range entriesOf(parts) {
			what := fmt.Sprintf("Cost of %s, invoice %s of %s", e.first.Month, e.first.SupplierNumber, e.first.Supplier)
			if _, err := w.Book(e.Entry, e.first.On, what, "invoice", e.first.Number, 0); err != nil {
				return 0, err
			}
		}
		return len(parts), w.RecordAs("deferral run", fmt.Sprint(run), nil, struct {
			Until day.Day
			Parts int
		}{until, len(parts)})
	})
}

type postedMonth struct {
	ledger.Entry
	first Due
}

// entriesOf makes one entry of the parts of each invoice and month.
func entriesOf(parts []Due) []*postedMonth {
	type place struct {
		invoice int64
		month   string
	}
	at := map[place]*postedMonth{}
	var all []*postedMonth
	for _, p := range parts {
		key := place{p.Invoice, p.Month}
		if at[key] == nil {
			at[key] = &postedMonth{ledger.Entry{Currency: p.Currency}, p}
			all = append(all, at[key])
		}
		posting.DeferralPosted(&at[key].Entry, p.Invoice, p.DeferredPart)
	}
	return all
}

// UndoDeferrals takes the last run back that still stands, by counter-entries of today. What has been made void since
// stands against it.
func UndoDeferrals(ctx context.Context, a *act.App, c act.Command, run int64) (int, error) {
	return act.Perform(ctx, a, act.UndoDeferrals, c, func(w *act.Work) (int, error) {
		if err := lastStanding(w, run); err != nil {
			return 0, err
		}
		posted, err := w.DeferralRunParts(run)
		if err != nil {
			return 0, err
		}
		undoing, err := w.AddDeferralRun(w.Today(), run, w.Actor.ID, w.Instant())
		if err != nil {
			return 0, err
		}
		parts := make([]Due, len(posted))
		for i, p := range posted {
			if !p.State.Booked() {
				return 0, fault.New(
					fault.Refused,
					"",
					"Invoice %d is %s since, and what was posted of it went back with it. The run stays.",
					p.Number,
					p.State,
				)
			}
			parts[i].DeferralDue = p // below zero, as it was posted
			if err := w.PostDeferral(p.DeferredPart, undoing); err != nil {
				return 0, err
			}
		}
		for _, e := range entriesOf(parts) {
			what := fmt.Sprintf("Cost of %s taken back, invoice %s", e.first.Month, e.first.SupplierNumber)
			last := day.Day(e.first.Month + "-01").EndOfMonth()
			if _, err := w.BookCounter(e.Entry, w.Today(), last, what, "invoice", e.first.Number, 0); err != nil {
				return 0, err
			}
		}
		return len(parts), w.RecordAs("deferral run", fmt.Sprint(run), nil, struct{ Undone int64 }{undoing})
	})
}

// lastStanding refuses a run that there is not, that is undone, or that a later one stands on.
func lastStanding(w *act.Work, run int64) error {
	runs, err := w.DeferralRuns(store.AllReserved, 1000)
	if err != nil {
		return err
	}
	for _, r := range runs {
		switch {
		case r.ID == run && r.Undone != 0:
			return fault.New(fault.Refused, "", "That run is taken back already.")
		case r.ID == run:
			return nil
		case r.Undone == 0:
			return fault.New(fault.Refused, "", "A later run stands, until %s. Take that one back first.", r.Until)
		}
	}
	return fault.New(fault.NotFound, "", "There is no such run.")
}

// checkDeferral tells why the cost of a line cannot be spread as it is typed, or nothing.
func checkDeferral(inv trade.Invoice, i int, orders []*trade.Order, field string) *fault.Fault {
	l := inv.Lines[i]
	if no := trade.CheckDeferral(*l.Defer, field); no != nil {
		return no
	}
	cost := func(a trade.Account) bool { return a == trade.ExpenseAccount }
	switch _, ordered := trade.LineOf(orders, l.OrderLineID); {
	case inv.Kind != trade.PlainInvoice:
		return fault.New(fault.Invalid, field, "Only the cost of an invoice is spread; a credit note takes from its months by itself.")
	case l.Quantity < 0:
		return fault.New(fault.Invalid, field, "What is credited is not spread.")
	case l.ChargeKind != "":
		return fault.New(fault.Invalid, field, "A charge is a cost at once; it is not spread.")
	case ordered != nil && !cost(ordered.Account):
		return fault.New(fault.Invalid, field, "It is charged to %s; only a cost is spread.", ordered.Account)
	}
	for _, c := range l.Coding {
		if !cost(c.Account) {
			return fault.New(fault.Invalid, field, "Budget %s is one of %s; only a cost is spread.", c.Budget, c.Account)
		}
	}
	return nil
}
