package views

// This file shows who approves an invoice without an order, whether it is a cost that comes again, and proposes what the
// lines of a supplier's next one are charged to.

import (
	"context"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Coded is what an invoice without an order has beside others.
type Coded struct {
	Approval  *store.Approval
	Passed    *store.Pass
	Approvers []act.Actor    // who may approve it, where it waits for that
	Over      []act.Exceeded // budgets that it takes more of than they have, where it waits for that
	Company   money.Currency // of the budgets
	Recurring *trade.Recurring
}

// coded reads it; nil of an invoice that is about orders alone.
func (s *InvoiceSheet) coded(r act.Reading) error {
	if !s.Invoice.HasCoded() {
		return nil
	}
	c := &Coded{Company: r.Ours.Currency}
	approval, err := r.ApprovalOf(s.State.Revision)
	if err == nil {
		c.Approval = &approval
	} else if !errors.Is(err, store.ErrNone) {
		return err
	}
	pass, err := r.PassOf(s.State.Revision)
	if err == nil {
		c.Passed = &pass
	} else if !errors.Is(err, store.ErrNone) {
		return err
	}
	if c.Recurring, err = recurring(r, s.Invoice); err != nil {
		return err
	}
	for _, f := range s.Findings {
		if f.Kind == finding.ApprovalMissing && f.Open() && s.Invoice.Rate != 0 {
			worth, err := f.Amount.Convert(s.Invoice.Rate, s.Invoice.Currency, r.Ours.Currency)
			if err != nil {
				return err
			}
			if c.Approvers, err = whoMay(r, func(a act.Actor) error {
				_, err := r.Approver(a, s.Invoice, worth)
				return err
			}); err != nil {
				return err
			}
			charges, err := r.CodedCharges(s.Invoice)
			if err != nil {
				return err
			}
			if c.Over, err = r.Exceeded(charges); err != nil {
				return err
			}
		}
	}
	s.Coded = c
	return nil
}

// whoMay are all active people who may do something; may gives the refusal of who may not.
func whoMay(r act.Reading, may func(act.Actor) error) ([]act.Actor, error) {
	people, err := r.People()
	if err != nil {
		return nil, err
	}
	var all []act.Actor
	for _, p := range people {
		if !p.Active {
			continue
		}
		actor, err := r.ActorNamed(p.Login)
		if err != nil {
			return nil, err
		}
		if may(actor) == nil {
			all = append(all, actor)
		}
	}
	return all, nil
}

// recurring recognises an invoice as one of a cost that comes again; nil where it is none.
func recurring(r act.Reading, inv trade.Invoice) (*trade.Recurring, error) {
	if inv.SupplierID == 0 || inv.Follows() {
		return nil, nil
	}
	before, err := r.CodedBefore(inv.SupplierID, inv.ID)
	dated := make([]trade.Dated, len(before))
	for i, b := range before {
		dated[i] = b.Dated
	}
	return trade.Recurs(
		trade.Dated{Date: inv.Date, Total: money.Money{Amount: inv.StatedTotal, Currency: inv.Currency}},
		dated,
	), err
}

// ProposedCoding is what the next invoice of a supplier without an order would say: the lines of its last one, with what
// they were charged to; else one line charged to the supplier's own budget.
func ProposedCoding(ctx context.Context, a *act.App, code string) (trade.Invoice, error) {
	return act.Read(ctx, a, func(r act.Reading) (trade.Invoice, error) {
		supplier, err := r.SupplierByCode(code)
		if err != nil {
			return trade.Invoice{}, act.Found(err, "There is no supplier %q.", code)
		}
		next := trade.Invoice{
			SupplierID:     supplier.ID,
			SupplierStated: supplier.Name,
			Currency:       supplier.Currency,
			Date:           r.Today(),
		}
		before, err := r.CodedBefore(supplier.ID, 0)
		if err != nil {
			return next, err
		}
		if len(before) > 0 {
			last, err := r.Invoice(before[0].Revision)
			if err != nil {
				return next, err
			}
			next.SupplierNumber, next.Lines, next.Charges = last.SupplierNumber, last.Lines, last.Charges
			return next, nil
		}
		line := trade.InvoiceLine{No: 1, Quantity: money.Int(1), Unit: "C62", Base: money.Int(1), TaxCategory: "S"}
		if codes, err := r.TaxCodes(); err != nil {
			return next, err
		} else if code, known := codes.Named(supplier.Tax); known {
			if rate, known := code.StatedOn(next.Date); known {
				line.TaxCode, line.TaxCategory, line.TaxRate = code.Code, code.Category, rate
			}
		}
		if supplier.Budget != "" {
			line.Coding = []trade.Coding{{Budget: supplier.Budget, Percent: money.Int(100)}}
		}
		next.Lines = []trade.InvoiceLine{line}
		return next, nil
	})
}
