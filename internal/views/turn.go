package views

// This file decides whose turn it is: for the piles, and for what the course counts.

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// mine tells of each invoice of a pile whether it is this person's turn: the role whose turn it
// is is theirs and, where it decides, the entry is not. What waits for goods is nobody's turn
// until they are late, and then the receivers'.
func mine(r act.Reading, actor act.Actor, states ...trade.InvoiceState) (func(store.InvoiceRow) bool, error) {
	var own []int64
	for _, state := range states {
		numbers, err := r.OwnEntries(state, actor.ID)
		if err != nil {
			return nil, err
		}
		own = append(own, numbers...)
	}
	return func(i store.InvoiceRow) bool {
		if i.State == trade.Waiting {
			return late(r, i) && actor.Has("receiver")
		}
		if i.With != 0 && i.With != actor.ID {
			return false // somebody else took it over, or it was passed on to them
		}
		return actor.Has(i.Turn) && !(slices.Contains(act.Decides, i.Turn) && slices.Contains(own, i.Number))
	}, nil
}

// late tells whether the goods that an invoice waits for should be here.
func late(r act.Reading, i store.InvoiceRow) bool {
	return i.Kind == trade.PlainInvoice && i.Wanted != "" && i.Wanted < r.Today()
}

// InvoicePile is the invoices that are this person's turn, those that wait for somebody else,
// and those that move by themselves: waiting for goods that are on their way, or verified just
// now.
type InvoicePile struct {
	Yours, Others, Moving []store.InvoiceRow
	ToWrite               int64 // orders of which we have invoices to write
	More                  int64 // than are given
}

// Pile reads the pile of invoices as it is for a person, the first due first.
func Pile(ctx context.Context, a *act.App, actor act.Actor) (InvoicePile, error) {
	return act.Read(ctx, a, func(r act.Reading) (p InvoicePile, err error) {
		held, err := r.InvoicesInState(trade.Held)
		if err != nil {
			return p, err
		}
		waiting, err := r.InvoicesInState(trade.Waiting)
		if err != nil {
			return p, err
		}
		mine, err := mine(r, actor, trade.Held)
		if err != nil {
			return p, err
		}
		open := append(held, waiting...)
		slices.SortStableFunc(open, func(a, b store.InvoiceRow) int { return cmp.Compare(a.Due, b.Due) })
		for _, i := range open {
			switch {
			case mine(i):
				p.Yours = append(p.Yours, i)
			case i.State == trade.Waiting && !late(r, i):
				p.Moving = append(p.Moving, i)
			default:
				if i.State == trade.Waiting {
					i.Turn = "receiver"
				}
				p.Others = append(p.Others, i)
			}
		}
		through, err := r.InvoicesVerifiedSince(act.Stamp(r.At.Add(-throughSince)))
		p.Moving = append(p.Moving, through...)
		if actor.Has("clerk") && err == nil {
			p.ToWrite, err = toWrite(r)
		}
		p.More = r.LeftOut()
		return p, err
	})
}

// Course is how much of each stage is a person's turn.
type Course struct{ Orders, Receiving, Invoices, Holds, Payments int64 }

// CourseOf counts what is a person's turn in each stage: for buyers orders whose goods are overdue and invoices that are chased as
// they wait for goods of theirs, for approvers orders that they may approve, for who asked for it work that should be done, for clerks mails that are no invoices and orders of which we write the invoices, for receivers deliveries expected by today and invoices that wait for late goods;
// invoices and differences before release that a role of theirs settles, and holds of their own;
// money ahead that nothing can use any more, invoices to release, runs to approve, send and settle, and lines of statements to place.
func CourseOf(ctx context.Context, a *act.App, actor act.Actor) (Course, error) {
	return act.Read(ctx, a, func(r act.Reading) (c Course, err error) {
		count := func(n int64, e error) int64 {
			if e != nil && err == nil {
				err = e
			}
			return n
		}
		if actor.Has("buyer") {
			c.Orders = count(r.CountExpected(r.Today().Add(-1)))
			c.Orders += count(r.CountChased(r.Today(), actor.ID))
		}
		c.Orders += count(r.CountWork(r.Today(), actor.Name))
		if actor.Has("approver") {
			waiting, e := ordersWaiting(r, actor)
			for _, o := range waiting {
				if o.Yours {
					c.Orders++
				}
			}
			count(0, e)
		}
		if actor.Has("receiver") {
			c.Receiving = count(r.CountGoods(r.Today()))
			c.Invoices = count(r.CountLate(r.Today()))
		}
		if actor.Has("clerk") {
			c.Invoices += count(r.CountMails())
			c.Invoices += count(toWrite(r))
		}
		for _, role := range act.AllRoles {
			if !actor.Has(role) {
				continue
			}
			not := int64(0)
			if slices.Contains(act.Decides, role) {
				not = actor.ID
			}
			held := count(r.CountTurn(trade.Held, role, not, actor.ID))
			c.Invoices += held
			c.Payments += count(r.CountUnused(role))
			c.Holds += held + count(r.CountTurn(trade.Verified, role, not, actor.ID))
		}
		c.Holds += count(r.CountHoldsOf(actor.ID))
		aboutInvoices, aboutOrders, e := questionTurns(r, actor)
		c.Invoices += count(aboutInvoices, e)
		c.Orders += aboutOrders
		if slices.ContainsFunc(act.Permissions[act.ReleaseInvoices], actor.Has) {
			c.Payments += count(r.CountReleasable(actor.ID))
		}
		for state, job := range map[string]act.Job{"proposed": act.ApproveRun, "approved": act.SendRun, "sent": act.TakeAnswer} {
			if slices.ContainsFunc(act.Permissions[job], actor.Has) {
				c.Payments += count(r.CountRuns(state))
			}
		}
		if slices.ContainsFunc(act.Permissions[act.SetBankLine], actor.Has) {
			c.Payments += count(r.CountBankLines())
		}
		return c, err
	})
}

// toWrite counts the orders of which we have invoices to write, but for those that are written by themselves; of these, what
// the last time left out.
func toWrite(r act.Reading) (n int64, err error) {
	codes, err := r.SelfBillers()
	for _, code := range codes {
		s, err1 := r.SupplierByCode(code)
		agreed, err2 := r.SelfBilling(s.ID)
		_, left, err3 := r.LastSelfBillingRun(s.ID)
		orders, err4 := r.ToSelfBill(s.ID)
		if err := errors.Join(err1, err2, err3, err4); err != nil {
			return n, err
		}
		if agreed.Every == "" {
			n += int64(len(orders))
		} else {
			n += min(left, int64(len(orders)))
		}
	}
	return n, err
}

// Turns are the held invoices that are somebody's turn, the first due first, and how many more there are than are given.
func Turns(ctx context.Context, a *act.App) (rows []store.InvoiceRow, more int64, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		rows, err = r.InvoicesInState(trade.Held)
		rows, more = slices.DeleteFunc(rows, func(i store.InvoiceRow) bool { return i.Turn == "" }), r.LeftOut()
		return none, err
	})
	return rows, more, err
}
