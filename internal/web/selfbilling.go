package web

// This file translates invoices that we write ourselves.

import (
	"context"

	"lagoon/internal/core/day"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

func selfBillingOf(s masters.SupplierSheet) *contract.SelfBilling {
	a := s.SelfBilling
	if a.ID == 0 {
		return nil
	}
	return &contract.SelfBilling{
		From: string(a.From), Until: string(a.Until), Prefix: a.Prefix, Per: string(a.Per), Statement: a.Statement, Items: append([]string{}, a.Items...),
		Now: s.BilledNow, Every: some(string(a.Every)), Wrote: some(string(s.BilledUpTo)),
	}
}

func selfBilledOf(all invoices.SelfBilled) contract.SelfBilled {
	return contract.SelfBilled{
		Made: each(all.Made, func(d invoices.SelfBilledDocument) contract.SelfBilledDocument {
			made := contract.SelfBilledDocument{
				Number: d.Number, SupplierNumber: d.SupplierNumber, Kind: string(d.Kind), Code: d.Invoice.Code, Supplier: d.Supplier, SupplierCode: d.Code,
				Credited: d.Credited, Currency: string(d.Currency), Net: d.Totals.Net().Text(d.Currency), Tax: d.Totals.Tax.Text(d.Currency),
				Total: d.Totals.Total.Text(d.Currency), Orders: append([]int64{}, d.Orders...), Receipts: append([]int64{}, d.Receipts...), Mailed: d.Mailed,
			}
			for i, l := range d.Lines {
				made.Lines = append(made.Lines, contract.SelfBilledLine{
					Description: l.Description, Quantity: l.Quantity.String(), Unit: say.Unit(l.Unit), Price: l.Price.String(),
					Net: d.Totals.LineNets[i].Text(d.Currency),
				})
			}
			return made
		}),
		Left: each(all.Left, func(l invoices.NotBilled) contract.NotBilled {
			return contract.NotBilled{Supplier: l.Supplier, Order: l.Order, Line: l.Line, Name: l.Name, Quantity: l.Quantity.String(), Why: l.Sentence}
		}),
	}
}

// TrialSelfBilling tells what would be written.
func (h *handlers) TrialSelfBilling(ctx context.Context, r contract.TrialSelfBillingRequestObject) (contract.TrialSelfBillingResponseObject, error) {
	all, err := invoices.TrialSelfBill(ctx, h.app, invoices.SelfBillEntry{
		Supplier: value(r.Params.Supplier), Place: value(r.Params.Place), Until: day.Day(value(r.Params.Until)),
	})
	return contract.TrialSelfBilling200JSONResponse(selfBilledOf(all)), err
}

// SelfBill writes the invoices.
func (h *handlers) SelfBill(ctx context.Context, r contract.SelfBillRequestObject) (contract.SelfBillResponseObject, error) {
	all, err := invoices.SelfBill(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.SelfBillEntry{
		Supplier: value(r.Body.Supplier), Place: value(r.Body.Place), Until: day.Day(value(r.Body.Until)),
	})
	return contract.SelfBill200JSONResponse(selfBilledOf(all)), err
}

// GetKeptSelfBilling tells what runs select, as it is kept.
func (h *handlers) GetKeptSelfBilling(ctx context.Context, _ contract.GetKeptSelfBillingRequestObject) (contract.GetKeptSelfBillingResponseObject, error) {
	all, err := invoices.KeptSelfBilling(ctx, h.app)
	return contract.GetKeptSelfBilling200JSONResponse(each(all, func(k store.SelfBillingKept) contract.KeptSelfBilling {
		return contract.KeptSelfBilling{Name: k.Name, Supplier: k.Supplier, Place: k.Place, By: k.ByName}
	})), err
}

// KeepSelfBilling keeps what a run selects.
func (h *handlers) KeepSelfBilling(ctx context.Context, r contract.KeepSelfBillingRequestObject) (contract.KeepSelfBillingResponseObject, error) {
	b := r.Body
	kept, err := invoices.KeepSelfBilling(ctx, h.app, command(ctx, r.Params.Key, b), store.SelfBillingKept{
		Name: b.Name, Supplier: b.Supplier, Place: b.Place, Ended: b.Ended,
	})
	return contract.KeepSelfBilling200JSONResponse{Number: kept.Name}, err
}

// AgreeSelfBilling agrees that we write a supplier's invoices.
func (h *handlers) AgreeSelfBilling(ctx context.Context, r contract.AgreeSelfBillingRequestObject) (contract.AgreeSelfBillingResponseObject, error) {
	b := r.Body
	saved, err := masters.AgreeSelfBilling(ctx, h.app, command(ctx, r.Params.Key, b), masters.SelfBillingEntry{
		Supplier: r.Code, From: day.Day(b.From), Until: day.Day(value(b.Until)), Prefix: b.Prefix, Per: trade.BillingPer(b.Per), Statement: b.Statement,
		Items: value(b.Items), Every: trade.BillingEvery(value(b.Every)),
	})
	return contract.AgreeSelfBilling200JSONResponse{Number: saved.Code}, err
}
