package web

// This file translates terms of payment that one order or one invoice has of its own.

import (
	"context"

	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

func termsOf(t views.TermsSeen) *contract.TermsSeen {
	seen := &contract.TermsSeen{Terms: termsIn(t.Terms)}
	if t.Own != nil {
		seen.Note, seen.By, seen.At = some(t.Own.Note), some(t.Own.Name), some(t.Own.At)
	}
	return seen
}

func termsIn(t trade.Terms) contract.Terms {
	return contract.Terms{
		FromReceipt: t.FromReceipt, NetDays: t.NetDays, EndOfMonth: t.EndOfMonth, DayOfMonth: t.DayOfMonth, DiscountPercent: t.DiscountPercent.String(),
		DiscountDays: t.DiscountDays, LaterDiscounts: some(string(t.Later)), Instalments: some(string(t.Instalments)),
	}
}

// terms reads terms as they are sent.
func (n *numbers) terms(t contract.Terms) trade.Terms {
	return trade.Terms{
		FromReceipt: t.FromReceipt, NetDays: t.NetDays, EndOfMonth: t.EndOfMonth, DayOfMonth: t.DayOfMonth, DiscountDays: t.DiscountDays,
		DiscountPercent: n.decimal(t.DiscountPercent, "discountPercent", "The discount"), Later: n.steps(t.LaterDiscounts, "laterDiscounts"),
		Instalments: n.steps(t.Instalments, "instalments"),
	}
}

// termsEntry reads terms as they are sent; none are the supplier's again.
func termsEntry(number int64, b *contract.TermsEntry) (invoices.TermsEntry, error) {
	entry := invoices.TermsEntry{Number: number, Version: value(b.Version), Note: b.Note}
	if b.Terms == nil {
		return entry, nil
	}
	var n numbers
	entry.Terms = new(n.terms(*b.Terms))
	return entry, n.faults.OrNil()
}

// SetOrderTerms sets the terms of one order.
func (h *handlers) SetOrderTerms(ctx context.Context, r contract.SetOrderTermsRequestObject) (contract.SetOrderTermsResponseObject, error) {
	entry, err := termsEntry(r.Number, r.Body)
	if err != nil {
		return nil, err
	}
	number, err := invoices.SetOrderTerms(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.SetOrderTerms200JSONResponse{Number: number}, err
}

// SetInvoicePayee has another supplier paid for one invoice.
func (h *handlers) SetInvoicePayee(ctx context.Context, r contract.SetInvoicePayeeRequestObject) (contract.SetInvoicePayeeResponseObject, error) {
	captured, err := invoices.SetPayee(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.PayeeEntry{
		Invoice: r.Number, Version: value(r.Body.Version), Payee: r.Body.Payee, Note: r.Body.Note,
	})
	return contract.SetInvoicePayee200JSONResponse(capturedOf(captured)), err
}

// ConfirmInvoicePayee confirms who is paid for one invoice.
func (h *handlers) ConfirmInvoicePayee(
	ctx context.Context, r contract.ConfirmInvoicePayeeRequestObject,
) (contract.ConfirmInvoicePayeeResponseObject, error) {
	b := r.Body
	captured, err := invoices.ConfirmPayee(ctx, h.app, command(ctx, r.Params.Key, b), invoices.PayeeSeen{
		Invoice: r.Number, Version: value(b.Version), Payee: b.Payee, IBAN: b.Iban, Checked: b.Checked,
	})
	return contract.ConfirmInvoicePayee200JSONResponse(capturedOf(captured)), err
}

// SetInvoiceTerms sets the terms of one invoice.
func (h *handlers) SetInvoiceTerms(ctx context.Context, r contract.SetInvoiceTermsRequestObject) (contract.SetInvoiceTermsResponseObject, error) {
	entry, err := termsEntry(r.Number, r.Body)
	if err != nil {
		return nil, err
	}
	captured, err := invoices.SetInvoiceTerms(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.SetInvoiceTerms200JSONResponse(capturedOf(captured)), err
}
