package act

// This file decides whose authority reaches for a decision (rules §12): the actor's own, or that
// of somebody in whose place they act.

import (
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// NotOwn refuses what an actor may not do to an invoice that they keyed or corrected.
func (r Reading) NotOwn(inv trade.Invoice, actor Actor) error {
	makers, err := r.Makers(inv.ID)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(makers, actor.Is) {
		return fault.New(
			fault.Forbidden,
			"",
			"The entry of invoice %d is your own; somebody else must decide on it.",
			inv.Number,
		)
	}
	return nil
}

// Acceptor is the actor as they may accept a finding, themselves or in another's place, or a
// refusal that says who may. That a bank account differs is no amount: it takes a second
// person, not an authority. Where one's own authority does not reach for all that one accepts
// on the invoice, that of whoever one stands in for may; what they accepted counts with it.
func (r Reading) Acceptor(actor Actor, inv trade.Invoice, s store.InvoiceState, f finding.Finding) (Actor, error) {
	if err := r.NotOwn(inv, actor); err != nil || !f.Sort().Authority {
		return actor, err
	}
	if !actor.Has("approver") {
		return actor, fault.New(fault.Forbidden, "", "Accepting a difference takes the role approver.")
	}
	difference, err := f.Difference.Convert(inv.Rate, inv.Currency, r.Ours.Currency)
	if err != nil {
		return actor, err
	}
	f.Difference = difference
	sum, err := r.acceptedWith(s, f, actor)
	if err != nil {
		return actor, err
	}
	if (actor.Holds("approver") || actor.Acting != nil) && sum <= actor.Authority {
		return actor, nil
	}
	for i := range actor.InPlaceOf {
		other := actor.InsteadOf(&actor.InPlaceOf[i])
		if !actor.InPlaceOf[i].Holds("approver") {
			continue
		}
		if sum, err = r.acceptedWith(s, f, other); err != nil {
			return actor, err
		}
		if sum <= other.Authority {
			return other, r.NotOwn(inv, other)
		}
	}
	p, currency := actor.Printer, r.Ours.Currency
	return actor, fault.New(
		fault.Forbidden,
		"",
		"The differences you accept on this invoice come to %s; your authority is %s. Somebody with more must accept it.",
		p.Money(sum, currency),
		p.Money(actor.Authority, currency),
	)
}

// acceptedWith is what an actor's acceptances on an invoice, and those of whom they act
// for, come to with one more; all in company currency.
func (r Reading) acceptedWith(s store.InvoiceState, f finding.Finding, actor Actor) (money.Amount, error) {
	before, err := r.AcceptedBy(s.Revision, actor.ID)
	if err == nil && actor.Acting != nil {
		var theirs []finding.Finding
		theirs, err = r.AcceptedBy(s.Revision, actor.Acting.ID)
		before = append(before, theirs...)
	}
	before = slices.DeleteFunc(before, func(b finding.Finding) bool {
		return !b.Sort().Authority || b.Same(f)
	})
	return match.Authority(append(before, f)), err
}

// Approver is the actor as they may agree to what an invoice is worth, in company currency: an approver whose own or whose
// principal's authority covers it, and whose own entry it is not.
func (r Reading) Approver(actor Actor, inv trade.Invoice, worth money.Amount) (Actor, error) {
	if err := r.NotOwn(inv, actor); err != nil {
		return actor, err
	}
	if !actor.Has("approver") {
		return actor, fault.New(fault.Forbidden, "", "%s is no approver.", actor.Name)
	}
	as, err := r.Authorised(actor, worth.Abs())
	if err != nil {
		return actor, err
	}
	return as, r.NotOwn(inv, as)
}

// Orders tells whether somebody may issue an order of a net in company currency without asking: their own authority, or
// that of a buyer in whose place they act, covers it (rules §3).
func (a Actor) Orders(worth money.Amount) bool {
	return worth <= a.Authority ||
		slices.ContainsFunc(a.InPlaceOf, func(o Actor) bool { return o.Holds("buyer") && worth <= o.Authority })
}

// OrderApprover is the actor as they may agree to an order: an approver whose own or whose principal's authority covers
// it, and who neither entered it nor asked for it.
func (r Reading) OrderApprover(actor Actor, q store.OrderRequest, number int64) (Actor, error) {
	makers, err := r.OrderMakers(q.Order)
	if err != nil {
		return actor, err
	}
	own := func(a Actor) error {
		if a.Is(q.By) || slices.ContainsFunc(makers, a.Is) {
			return fault.New(fault.Forbidden, "", "Order %d is your own; somebody else approves it.", number)
		}
		return nil
	}
	if err := own(actor); err != nil {
		return actor, err
	}
	if !actor.Has("approver") {
		return actor, fault.New(fault.Forbidden, "", "%s is no approver.", actor.Name)
	}
	as, err := r.Authorised(actor, q.Net)
	if err != nil {
		return actor, err
	}
	return as, own(as)
}

// MayAccept is the actor as they may accept what is done of an order's lines by value: who asked for it or, where nobody
// who works here did by that name, a receiver or a buyer (rules §6).
func (r Reading) MayAccept(actor Actor, order *trade.Order) (Actor, error) {
	people, err := r.People()
	if err != nil {
		return actor, err
	}
	asked := slices.DeleteFunc(people, func(p store.Person) bool { return !p.Active || p.Name != order.RequestedBy })
	if len(asked) == 0 {
		if actor.Has("receiver") || actor.Has("buyer") {
			return actor, nil
		}
		return actor, fault.New(fault.Forbidden, "", "Nobody here asked for order %d by name, so a receiver or a buyer accepts what is done.", order.Number)
	}
	is := func(a Actor) bool {
		return slices.ContainsFunc(asked, func(p store.Person) bool { return p.ID == a.ID })
	}
	if is(actor) {
		return actor, nil
	}
	if at := slices.IndexFunc(actor.InPlaceOf, is); at >= 0 {
		return actor.InsteadOf(&actor.InPlaceOf[at]), nil
	}
	return actor, fault.New(fault.Forbidden, "", "%s asked for order %d and says what of it is done.", order.RequestedBy, order.Number)
}

// Authorised is the actor as they may do what is worth an amount of company currency: the authority counts of who holds
// the role approver, or another one that is named.
func (r Reading) Authorised(actor Actor, worth money.Amount, also ...string) (Actor, error) {
	roles := append(also, "approver")
	reaches := func(a Actor) bool { return worth <= a.Authority }
	if (slices.ContainsFunc(roles, actor.Holds) || actor.Acting != nil) && reaches(actor) {
		return actor, nil
	}
	if at := slices.IndexFunc(actor.InPlaceOf, func(o Actor) bool { return slices.ContainsFunc(roles, o.Holds) && reaches(o) }); at >= 0 {
		return actor.InsteadOf(&actor.InPlaceOf[at]), nil
	}
	p, currency := actor.Printer, r.Ours.Currency
	return actor, fault.New(
		fault.Forbidden,
		"",
		"This is worth %s; your authority is %s. Somebody with more must do it.",
		p.Money(worth, currency),
		p.Money(actor.Authority, currency),
	)
}

// NotProposed refuses what would change a document under a run that is proposed and holds it.
func (r Reading) NotProposed(inv trade.Invoice) error {
	in, err := r.InProposedRun(inv.ID)
	if err != nil || !in {
		return err
	}
	return fault.New(fault.Refused, "", "%s %d is in a proposed run. Take it out of it first.", say.Document(inv.Kind), inv.Number)
}
