package views

// This file shows what is claimed of an invoice, and what ending a claim would book.

import (
	"cmp"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Claim is a claim on an invoice.
type Claim struct {
	trade.Claim
	Came      map[int]money.Decimal // by its lines: what of the goods has come after all
	GivenUp   *store.Booked         // what giving it up would book; nil where nothing is left
	Withdrawn *store.Booked         // what withdrawing it would book; nil where nothing has come
	Told      *store.Sending
	Whose     error // why giving it up is not in the actor's hands
	May       []act.Job
}

// claims reads what is claimed of an invoice.
func (s *InvoiceSheet) claims(r act.Reading, actor act.Actor) error {
	all, err := r.ClaimsOf(s.Invoice.ID)
	if err != nil || len(all) == 0 {
		return err
	}
	letters, err := r.Letters(s.Invoice.ID)
	if err != nil {
		return err
	}
	for i, c := range all {
		claim := Claim{Claim: c, Came: map[int]money.Decimal{}}
		if i < len(letters) && len(letters) == len(all) {
			claim.Told = &letters[i]
		}
		if c.Open() {
			if err := claim.ends(r, s, actor); err != nil {
				return err
			}
		}
		s.Claims = append(s.Claims, claim)
	}
	return nil
}

// claimable tells whether anything of an invoice can be claimed: goods that it bills and that are not here, or what it
// asks above the order's price.
func (s *InvoiceSheet) claimable() bool {
	if s.Invoice.Follows() || len(s.Orders) == 0 {
		return false
	}
	result := match.Result{Findings: s.Findings}
	return slices.ContainsFunc(s.Invoice.Lines, func(l trade.InvoiceLine) bool {
		if s.State.State.Unsettled() {
			quantity, dearer := result.Excess(l.No, true)
			return quantity > 0 || dearer > 0
		}
		_, ordered := trade.LineOf(s.Orders, l.OrderLineID)
		return ordered != nil && (ordered.ClaimableOf(l.ID, l.Quantity) > 0 || ordered.Dearer > ordered.CreditedPrice)
	})
}

// ends works out what the ends of a claim would book and who may give it up. Each is worked out on orders of its own, as a
// booking counts what it takes.
func (c *Claim) ends(r act.Reading, s *InvoiceSheet, actor act.Actor) error {
	day, err := r.FirstOpenDay(max(r.Today(), s.Invoice.PostingDay))
	if err != nil {
		return err
	}
	entry := func(end func(book.Billed, []*trade.ClaimLine, money.Currency) (book.Booking, error)) (*store.Booked, error) {
		orders, err := r.OrdersOf(s.Invoice, store.AllReserved)
		if err != nil {
			return nil, err
		}
		for _, l := range c.Lines {
			_, ordered := trade.LineOf(orders, l.OrderLine)
			c.Came[l.No] = book.HasCome(l, ordered)
		}
		b, err := end(
			book.Billed{Invoice: s.Invoice, Supplier: s.Supplier.Code, Orders: orders},
			trade.CopiedClaims(c.Lines),
			r.Ours.Currency,
		)
		if err != nil || len(b.Claims) == 0 {
			return nil, err
		}
		return &store.Booked{PostedOn: day, Entry: b.Entry}, nil
	}
	var err1, err2 error
	c.GivenUp, err1 = entry(book.GiveUp)
	c.Withdrawn, err2 = entry(book.Withdraw)
	if err := errors.Join(err1, err2); err != nil {
		return err
	}
	_, reaches := r.Approver(actor.Doing(act.GiveUpClaim), s.Invoice, c.Worth())
	if c.Whose = cmp.Or(actor.Allowed(act.GiveUpClaim), reaches); c.Whose != nil && !fault.Refuses(c.Whose) {
		return c.Whose
	}
	c.May = allowed(actor, act.InvoiceSteps[s.State.State], map[act.Job]bool{
		act.GiveUpClaim:   c.Whose != nil,
		act.WithdrawClaim: c.Withdrawn == nil,
	})
	return nil
}
