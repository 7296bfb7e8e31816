package orders

// This file lets orders above their buyer's authority wait for an approver, and takes the decision (rules §3, §12).

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Asked is what is done once an order is approved: it goes out as the buyer wrote it or, of an issued order, the change
// is made. Says tells the change in words.
type Asked struct {
	Send   *FirstSending `json:",omitempty"`
	Change *ChangeEntry  `json:",omitempty"`
	Says   []string      `json:",omitempty"`
}

// Decision is what an approver says of an order that waits.
type Decision struct {
	Order, Version int64
	Note           string
	To             string // sign-in name of whom it is passed on to
}

// worth is what an order comes to without tax, in the company's currency.
func worth(r act.Reading, order *trade.Order) (money.Amount, error) {
	return order.Net().Convert(order.Rate, order.Currency, r.Ours.Currency)
}

// mayRaise tells whether somebody may let an issued order come to a net: their authority covers it, it came to no less
// before, or no less was approved.
func mayRaise(r act.Reading, actor act.Actor, before *trade.Order, net money.Amount) (bool, error) {
	was, err := worth(r, before)
	if err != nil || actor.Orders(net) || net <= was {
		return err == nil, err
	}
	decided, err := r.OrderDecisions(before.ID)
	for _, d := range decided {
		if d.Decision == store.OrderApproved && net <= d.Net {
			return true, err
		}
	}
	return false, err
}

// asks tells whether a planned order, or change of before, would wait for an approver.
func asks(r act.Reading, actor act.Actor, before *trade.Order, plan Planned) (bool, error) {
	if before == nil {
		net, err := worth(r, withLines(plan.Order, plan.Lines))
		return !actor.Orders(net), err
	}
	net, err := worth(r, afterChange(before, plan))
	if err != nil || before.State == trade.Draft {
		return !actor.Orders(net), err
	}
	may, err := mayRaise(r, actor, before, net)
	return !may, err
}

// ask lets an order wait for an approver. What it waited for before is replaced.
func ask(w *act.Work, order int64, net money.Amount, asked Asked) error {
	if err := replaced(w, order); err != nil {
		return err
	}
	entry, err := json.Marshal(asked)
	if err != nil {
		return err
	}
	return w.AskForOrder(store.OrderRequest{Order: order, Net: net, Entry: entry, By: w.Actor.ID, At: w.Instant()})
}

// replaced ends what an order waited for, if anything.
func replaced(w *act.Work, order int64) error {
	open, err := w.OpenOrderRequest(order)
	if errors.Is(err, store.ErrNone) {
		return nil
	}
	if err != nil {
		return err
	}
	return w.DecideOnOrder(open, store.OrderDecision{Decision: store.OrderReplaced, By: w.Actor.ID, At: w.Instant()})
}

// waiting reads an order that waits for an approver, and what for.
func waiting(w *act.Work, d Decision, job act.Job) (*trade.Order, store.OrderRequest, error) {
	order, err := w.OrderByNumber(d.Order, store.AllReserved)
	if err != nil {
		return nil, store.OrderRequest{}, act.Found(err, "There is no order %d.", d.Order)
	}
	if err := w.Changed("order", order.Number, d.Version, order.Version); err != nil {
		return nil, store.OrderRequest{}, err
	}
	request, err := w.OpenOrderRequest(order.ID)
	if errors.Is(err, store.ErrNone) || (err == nil && !act.OrderSteps.Allow(order.State, job)) {
		return nil, request, fault.New(fault.Refused, "", "Order %d waits for no approval.", order.Number)
	}
	return order, request, err
}

// Approve agrees with an order above its buyer's authority, which is issued then and goes out as the buyer wrote it; or
// with a change that raises one, which is made then. It takes the authority for its net, and nobody approves their own.
func Approve(ctx context.Context, a *act.App, c act.Command, d Decision) (Issued, error) {
	issued, err := act.Perform(ctx, a, act.ApproveOrder, c, func(w *act.Work) (Issued, error) {
		order, request, err := waiting(w, d, act.ApproveOrder)
		if err != nil {
			return Issued{}, err
		}
		if w.Actor, err = w.OrderApprover(w.Actor, request, order.Number); err != nil {
			return Issued{}, err
		}
		var asked Asked
		if err := json.Unmarshal(request.Entry, &asked); err != nil {
			return Issued{}, err
		}
		if err := w.DecideOnOrder(request, store.OrderDecision{
			Decision: store.OrderApproved, Note: strings.TrimSpace(d.Note), By: w.Actor.ID, At: w.Instant(),
		}); err != nil {
			return Issued{}, err
		}
		if asked.Change != nil {
			return change(w, order, *asked.Change, request.By)
		}
		return Issued{Number: order.Number}, errors.Join(issue(w, order, asked.Send, request.By), w.Record("order", order.Number, nil, d))
	})
	if err == nil {
		a.Posted.Ring()
	}
	return issued, err
}

// issue lets an order that waited be issued today, at today's rate, and tells the supplier; it stays the order of who
// wrote it.
func issue(w *act.Work, order *trade.Order, send *FirstSending, by int64) error {
	supplier, err := w.Supplier(order.SupplierID)
	if err != nil {
		return err
	}
	if _, against := trade.CheckIssue(supplier, order.Net(), order.WantedOn); len(against) > 0 {
		return against.OrNil()
	}
	if order.Rate, err = w.RateOn(order.Currency, w.Today()); err != nil {
		return err
	}
	order.State, order.IssuedOn = trade.Issued, w.Today()
	charges, err := w.OrderCharges(order, order.Lines)
	if err != nil {
		return err
	}
	if against, err := w.RefuseBudgets(charges); err != nil || len(against) > 0 { // others may have ordered from it since
		return errors.Join(err, against.OrNil())
	}
	if _, err := w.PutOrder(*order, nil, by); err != nil {
		return err
	}
	early, err := w.UnsettledWithoutOrder(supplier.ID) // invoices that came before their order
	cause := fmt.Sprintf("order %d issued", order.Number)
	if err := errors.Join(err, w.TouchOrder(order), w.WakeEach(early, cause), w.Wake(order.ID, 0, cause)); err != nil || send == nil {
		return err
	}
	return send.tell(w, order.ID)
}

// Refuse ends what an order waits for, with a reason: an order that was never issued is cancelled, an issued one stays as
// it is.
func Refuse(ctx context.Context, a *act.App, c act.Command, d Decision) (Issued, error) {
	return act.Perform(ctx, a, act.RefuseOrder, c, func(w *act.Work) (Issued, error) {
		order, request, err := waiting(w, d, act.RefuseOrder)
		if err != nil {
			return Issued{}, err
		}
		if w.Actor, err = w.OrderApprover(w.Actor, request, order.Number); err != nil {
			return Issued{}, err
		}
		if strings.TrimSpace(d.Note) == "" {
			return Issued{}, fault.New(fault.Invalid, "note", "Say why it is not ordered.")
		}
		if order.State == trade.Draft {
			order.State = trade.Cancelled
		}
		return Issued{Number: order.Number}, errors.Join(
			w.DecideOnOrder(request, store.OrderDecision{
				Decision: store.OrderRefused, Note: strings.TrimSpace(d.Note), By: w.Actor.ID, At: w.Instant(),
			}),
			touched(w, order, fmt.Sprintf("order %d not approved", order.Number), d),
		)
	})
}

// Pass passes the approval of an order on to somebody who may give it.
func Pass(ctx context.Context, a *act.App, c act.Command, d Decision) (Issued, error) {
	return act.Perform(ctx, a, act.PassOrder, c, func(w *act.Work) (Issued, error) {
		order, request, err := waiting(w, d, act.PassOrder)
		if err != nil {
			return Issued{}, err
		}
		to, err := w.Colleague(d.To)
		switch {
		case err != nil:
			return Issued{}, err
		case to.ID == w.Actor.ID:
			return Issued{}, fault.New(fault.Invalid, "to", "It is passed on to somebody else.")
		}
		if _, err := w.OrderApprover(to, request, order.Number); err != nil {
			if fault.Refuses(err) {
				return Issued{}, fault.New(fault.Invalid, "to", "%s cannot approve it. %s", to.Name, err.Error())
			}
			return Issued{}, err
		}
		return Issued{Number: order.Number}, errors.Join(
			w.DecideOnOrder(request, store.OrderDecision{
				Decision: store.OrderPassed, To: to.ID, Note: strings.TrimSpace(d.Note), By: w.Actor.ID, At: w.Instant(),
			}),
			w.TouchOrder(order),
			w.Record("order", order.Number, nil, d),
		)
	})
}

// afterChange is an issued order as a planned change would leave it.
func afterChange(before *trade.Order, plan Planned) *trade.Order {
	after := plan.Order
	after.Lines = append([]*trade.OrderLine(nil), before.Lines...)
	for i := range plan.Lines {
		l := &plan.Lines[i].OrderLine
		if l.No <= len(after.Lines) {
			after.Lines[l.No-1] = l
		} else {
			after.Lines = append(after.Lines, l)
		}
	}
	return &after
}

// saidChange tells a change in words, for whoever approves it.
func saidChange(before, after *trade.Order) []string {
	return say.Changes(trade.Changes(before, after))
}
