package payments

// This file proposes what a run would pay, as a person asks for it and chooses (rules §10).

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
)

// Asked is what a person asks a proposal for.
type Asked struct {
	DueBy, PayOn day.Day
	AtHand       money.Entered // in the company's currency; empty: enough
	Without      []int64       // credit notes that nothing is taken off for, by number
	Out, In      []int64       // invoices taken out, and put in although not due, by number
	Only         bool          // nothing but what is put in
	Parts        []AskedPart
}

// AskedPart is what is to be paid of an invoice; what is no amount of it yet counts as nothing typed.
type AskedPart struct {
	Invoice int64
	Amount  money.Entered
}

// Propose tells what a run would pay: what is due by a day or loses its discount, less the credit notes of each supplier.
func Propose(ctx context.Context, a *act.App, dueBy, payOn day.Day) (pay.Proposal, error) {
	within, err := ProposeAsked(ctx, a, Asked{DueBy: dueBy, PayOn: payOn})
	return within.Proposal, err
}

func propose(r act.Reading, asked Asked) (pay.Proposal, error) {
	payables, err1 := payables(r)
	credits, err2 := credits(r, asked.Without)
	if err := errors.Join(err1, err2); err != nil {
		return pay.Proposal{}, err
	}
	choice := pay.Choice{Out: asked.Out, In: asked.In, Only: asked.Only, Parts: map[int64]money.Amount{}}
	for _, p := range payables {
		for _, part := range asked.Parts {
			if part.Invoice == p.Invoice {
				choice.Parts[p.Invoice], _ = part.Amount.In(p.Currency)
			}
		}
	}
	return choice.Propose(payables, credits, asked.DueBy, asked.PayOn)
}

// WithinMeans is a proposal that what is at hand reaches for, in the company's currency: what is left after it, and the
// discounts that are lost for want of money.
type WithinMeans struct {
	pay.Proposal
	Currency   money.Currency // empty: nothing is said to be at hand
	Left, Lost money.Amount
}

// ProposeAsked tells what a run would pay as a person asks for it, where they say so of what is at hand.
func ProposeAsked(ctx context.Context, a *act.App, asked Asked) (WithinMeans, error) {
	return act.Read(ctx, a, func(r act.Reading) (w WithinMeans, err error) {
		if w.Proposal, err = propose(r, asked); err != nil || asked.AtHand == "" {
			return w, err
		}
		w.Currency = r.Ours.Currency
		amount, err := asked.AtHand.In(w.Currency)
		if err != nil || amount < 0 {
			return w, fault.New(fault.Invalid, "atHand", "“%s” is no amount in %s.", asked.AtHand, w.Currency)
		}
		w.Left, w.Lost, err = w.Within(amount, w.Currency)
		return w, err
	})
}

// payables are the released invoices that no run holds, with what the bank said of the
// last payment to their account.
func payables(r act.Reading) ([]pay.Payable, error) {
	all, err := r.Payables()
	said := map[string]string{}
	for i := range all {
		s := all[i].Supplier
		key := fmt.Sprint(s.ID, " ", s.IBAN)
		if _, asked := said[key]; !asked && err == nil {
			said[key], err = r.RejectedTo(s.ID, s.IBAN)
		}
		all[i].Warning = said[key]
	}
	return all, err
}

// credits are the credit notes that can be taken off what is paid, but those that a person leaves.
func credits(r act.Reading, without []int64) ([]pay.Credit, error) {
	open, err := r.OpenNotes()
	return slices.DeleteFunc(open, func(c pay.Credit) bool { return slices.Contains(without, c.Note) }), err
}

// choose takes the chosen invoices out of what can be paid, as a proposal would pay them.
func choose(payables []pay.Payable, entry RunEntry) ([]pay.Item, error) {
	if len(entry.Items) == 0 {
		return nil, fault.New(fault.Invalid, "items", "Choose the invoices to pay.")
	}
	all, err := pay.Propose(payables, nil, "9999-12-31", entry.PayOn) // what is netted is worked out of what is chosen
	if err != nil {
		return nil, err
	}
	items := itemsOf(all)
	var chosen []pay.Item
	taken := map[int64]bool{}
	for i, want := range entry.Items {
		field := fmt.Sprintf("items[%d].amount", i)
		item, ok := items[want.Invoice]
		switch {
		case !ok:
			return nil, fault.New(
				fault.Refused,
				fmt.Sprintf("items[%d].invoice", i),
				"Invoice %d cannot be paid now: it is not released, is on hold or in a run already, or its supplier cannot be paid.",
				want.Invoice,
			)
		case taken[want.Invoice]:
			return nil, fault.New(
				fault.Invalid,
				fmt.Sprintf("items[%d].invoice", i),
				"Invoice %d is chosen twice.",
				want.Invoice,
			)
		}
		if want.Amount == nil && len(item.Plan) > 0 { // what is due of it by then, or all where it is put in
			if due, is, err := item.Payable.Item(entry.DueBy, entry.PayOn); err != nil {
				return nil, err
			} else if is {
				item = due
			}
		}
		if want.Amount != nil {
			part, err := money.ParseAmount(want.Amount.String(), item.Currency)
			switch {
			case err == nil && part != item.Open && item.Request:
				return nil, fault.New(fault.Invalid, field, "Payment request %d is paid whole: withdraw it and request less, where less is to be paid.", want.Invoice)
			case err != nil:
				return nil, fault.New(fault.Invalid, field, "%s is no amount in %s.", *want.Amount, item.Currency)
			case part <= 0 || part > item.Open:
				return nil, fault.New(
					fault.Invalid,
					field,
					"Invoice %d: a payment is above zero and at most %s, what is open of it.",
					want.Invoice,
					money.Money{Amount: item.Open, Currency: item.Currency},
				)
			case part != item.Amount:
				item.Amount, item.Discount, item.Part = part, 0, true
			}
		}
		chosen, taken[want.Invoice] = append(chosen, item), true
	}
	return chosen, nil
}

// itemsOf are the items of a proposal by their invoices.
func itemsOf(p pay.Proposal) map[int64]pay.Item {
	items := map[int64]pay.Item{}
	for _, payment := range p.Payments {
		for _, item := range payment.Items {
			items[item.Invoice] = item
		}
	}
	return items
}
