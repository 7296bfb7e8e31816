package views

// This file reads what is held, by a difference or by a person, and what of it can be settled several at once.

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// SaidHold is a hold as a person sees it: Lift is why they may not take it off, or nothing.
type SaidHold struct {
	store.Hold
	Lift error
}

// heldBy says of holds whether the actor may take them off.
func heldBy(r act.Reading, actor act.Actor, holds []store.Hold) ([]SaidHold, error) {
	all := make([]SaidHold, len(holds))
	for i, h := range holds {
		lift := actor.Allowed(act.LiftHold)
		switch {
		case h.Reason == finding.QuestionHold:
			lift = fault.New(fault.Refused, "", "It goes on once the question is answered or taken back.")
		case lift == nil:
			lift = r.MayLift(h, actor)
		}
		if lift != nil && !fault.Refuses(lift) {
			return nil, lift
		}
		all[i] = SaidHold{h, lift}
	}
	return all, nil
}

// HoldsView is everything that is held: by a finding, before release or before it is verified,
// of one's own turn and of others', or by a person.
type HoldsView struct {
	Yours, Others []store.InvoiceRow
	Holds         []HoldRow
	More          int64 // than are given
}

// HoldRow is a person's hold with the invoice or the order that it is on. An order is due when it is wanted.
type HoldRow struct {
	SaidHold
	Supplier, SupplierNumber string
	Total                    money.Amount // of an order, its net
	Currency                 money.Currency
	Due                      day.Day
	State                    string
}

// Holds reads what is held, why and since when.
func Holds(ctx context.Context, a *act.App, actor act.Actor) (HoldsView, error) {
	return act.Read(ctx, a, func(r act.Reading) (v HoldsView, err error) {
		different, err1 := withDifferences(r)
		mine, err2 := mine(r, actor, trade.Held, trade.Verified)
		if err := errors.Join(err1, err2); err != nil {
			return v, err
		}
		for _, i := range different {
			if mine(i) {
				v.Yours = append(v.Yours, i)
			} else {
				v.Others = append(v.Others, i)
			}
		}
		open, err := r.OpenHolds()
		if err != nil {
			return v, err
		}
		v.More = r.LeftOut()
		holds, err := heldBy(r, actor, open)
		for _, h := range holds {
			var row HoldRow
			if row, err = holdRow(r, h); err != nil {
				return v, err
			}
			v.Holds = append(v.Holds, row)
		}
		return v, err
	})
}

// withDifferences are the invoices that a finding holds, before they are verified or before release.
func withDifferences(r act.Reading) ([]store.InvoiceRow, error) {
	held, err1 := r.InvoicesInState(trade.Held)
	blocked, err2 := r.BlockedInvoices()
	return append(held, blocked...), errors.Join(err1, err2)
}

func holdRow(r act.Reading, h SaidHold) (HoldRow, error) {
	if h.Order != 0 {
		order, err := r.Order(h.Order, store.AllReserved)
		if err != nil {
			return HoldRow{}, err
		}
		return HoldRow{h, order.Supplier, "", order.Net(), order.Currency, order.WantedOn, string(order.State)}, nil
	}
	inv, s, err := r.InvoiceNumbered(h.InvoiceNumber)
	return HoldRow{h, inv.SupplierStated, inv.SupplierNumber, inv.StatedTotal, inv.Currency, s.Due, string(s.State)}, err
}

// Settling are the open differences of a kind that a person may accept on several invoices with one note.
type Settling struct {
	Kind     finding.Kind
	Invoices []SettlingOne
}

// SettlingOne is an invoice with its differences of the kind, and what they come to in company currency.
type SettlingOne struct {
	store.InvoiceRow
	Version  int64
	Findings []finding.Finding
	Worth    money.Amount
}

// Settleable lists them by kind, those that most invoices have first; of each kind what is lost first stands first.
func Settleable(ctx context.Context, a *act.App, actor act.Actor) (all []Settling, company money.Currency, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		company = r.Ours.Currency
		different, err := withDifferences(r)
		if err != nil {
			return none, err
		}
		byKind := map[finding.Kind]*Settling{}
		for _, row := range different {
			if err := settleable(r, actor, row, byKind); err != nil {
				return none, err
			}
		}
		for _, s := range byKind {
			slices.SortStableFunc(s.Invoices, func(a, b SettlingOne) int { return cmp.Compare(a.LostOn(r.Today()), b.LostOn(r.Today())) })
			all = append(all, *s)
		}
		slices.SortFunc(all, func(a, b Settling) int {
			return cmp.Or(cmp.Compare(len(b.Invoices), len(a.Invoices)), cmp.Compare(a.Kind, b.Kind))
		})
		return none, nil
	})
	return all, company, err
}

// settleable adds the differences of an invoice that the actor may accept.
func settleable(r act.Reading, actor act.Actor, row store.InvoiceRow, byKind map[finding.Kind]*Settling) error {
	inv, s, err := r.InvoiceNumbered(row.Number)
	if err != nil {
		return err
	}
	findings, err := r.FindingsOf(s)
	if err != nil {
		return err
	}
	for _, f := range findings {
		if !f.Open() || !f.May(finding.Accept) {
			continue
		}
		_, no := r.Acceptor(actor.Doing(act.AcceptFindings), inv, s, f)
		if no == nil {
			no = actor.Allowed(act.AcceptFindings)
		}
		if no != nil {
			if fault.Refuses(no) {
				continue
			}
			return no
		}
		worth, err := f.Difference.Convert(inv.Rate, inv.Currency, r.Ours.Currency)
		if err != nil {
			return err
		}
		kind := byKind[f.Kind]
		if kind == nil {
			kind = &Settling{Kind: f.Kind}
			byKind[f.Kind] = kind
		}
		if n := len(kind.Invoices); n == 0 || kind.Invoices[n-1].Number != row.Number {
			kind.Invoices = append(kind.Invoices, SettlingOne{InvoiceRow: row, Version: s.Version})
		}
		one := &kind.Invoices[len(kind.Invoices)-1]
		one.Findings, one.Worth = append(one.Findings, f), one.Worth+worth
	}
	return nil
}
