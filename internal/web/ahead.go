package web

// This file translates money ahead, and money that moved outside payment runs.

import (
	"context"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetMoneyAhead lists money ahead that is open.
func (h *handlers) GetMoneyAhead(ctx context.Context, _ contract.GetMoneyAheadRequestObject) (contract.GetMoneyAheadResponseObject, error) {
	l, err := views.Ahead(ctx, h.app)
	return contract.GetMoneyAhead200JSONResponse{
		Rows: each(l.Rows, aheadOf(l.Company)),
		Kinds: each(l.Kinds, func(k views.AheadKind) contract.AheadKind {
			return contract.AheadKind{Kind: k.Kind, Left: k.Left.Text(l.Company), Booked: k.Booked.Text(l.Company)}
		}),
		Currency: string(l.Company),
		Today:    string(l.Today),
	}, err
}

func aheadOf(company money.Currency) func(views.MoneyAhead) contract.MoneyAhead {
	return func(m views.MoneyAhead) contract.MoneyAhead {
		text := func(a money.Amount) string { return a.Text(m.Currency) }
		answer := contract.MoneyAhead{
			Agreement: some(m.Agreed.Number), Order: m.Order, Supplier: m.Supplier, SupplierCode: m.Code, Kind: m.Kind,
			Currency: string(m.Currency), Agreed: text(m.Gross), Invoiced: text(m.Invoiced), Paid: text(m.Paid), Used: text(m.Used),
			Usable: text(max(0, m.Usable)), Left: m.Left.Text(company), Event: m.Agreed.Event, ExpectedOn: some(string(m.Agreed.ExpectedOn)),
			WantedOn: string(m.WantedOn), Since: some(string(m.Since)), Note: m.Agreed.Note, By: some(m.Agreed.By), At: some(m.Agreed.At),
			Stuck: m.Stuck(),
			Invoices: each(m.Invoices, func(i views.AheadInvoice) contract.AheadInvoice {
				return contract.AheadInvoice{Number: i.Number, SupplierNumber: i.SupplierNumber, Date: string(i.Date), State: say.State(string(i.State)), Total: text(i.Total),
					Payable: i.Payable, Released: some(i.State == trade.Released), Request: i.Request}
			}),
		}
		if m.ToRequest > 0 {
			answer.ToRequest = some(text(m.ToRequest))
		}
		if m.Agreed.Percent != 0 {
			answer.Share = some(m.Agreed.Percent.String() + " %")
		}
		return answer
	}
}

// AgreePrepayment agrees money ahead on an order.
func (h *handlers) AgreePrepayment(ctx context.Context, r contract.AgreePrepaymentRequestObject) (contract.AgreePrepaymentResponseObject, error) {
	b := r.Body
	agreed, err := orders.Agree(ctx, h.app, command(ctx, r.Params.Key, b), orders.AheadEntry{
		Order: r.Number, Version: value(b.Version), Kind: value(b.Kind), Share: b.Share, Event: value(b.Event), ExpectedOn: day.Day(value(b.ExpectedOn)),
		Note: value(b.Note), Replaces: value(b.Replaces),
	})
	return contract.AgreePrepayment200JSONResponse{Order: agreed.Order, Agreement: agreed.Number}, err
}

// RemovePrepayment removes money ahead that was agreed.
func (h *handlers) RemovePrepayment(ctx context.Context, r contract.RemovePrepaymentRequestObject) (contract.RemovePrepaymentResponseObject, error) {
	ended, err := orders.RemoveAgreement(ctx, h.app, command(ctx, r.Params.Key, r.Body), orders.AheadEnd{
		Order: r.Number, Version: value(r.Body.Version), Number: r.Agreement, Reason: r.Body.Reason,
	})
	return contract.RemovePrepayment200JSONResponse{Order: ended.Order, Agreement: ended.Number}, err
}

// RequestPrepayment asks for money ahead to be paid without an invoice.
func (h *handlers) RequestPrepayment(ctx context.Context, r contract.RequestPrepaymentRequestObject) (contract.RequestPrepaymentResponseObject, error) {
	captured, err := invoices.RequestAhead(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.RequestEntry{
		Order: r.Number, Version: value(r.Body.Version), Agreement: r.Agreement,
	})
	return contract.RequestPrepayment200JSONResponse(capturedOf(captured)), err
}

// UsePrepayment says what an invoice does with money ahead.
func (h *handlers) UsePrepayment(ctx context.Context, r contract.UsePrepaymentRequestObject) (contract.UsePrepaymentResponseObject, error) {
	b := r.Body
	captured, err := invoices.UseAhead(ctx, h.app, command(ctx, r.Params.Key, b), invoices.AheadUseEntry{
		Invoice: r.Number, Version: value(b.Version), Prepayment: b.Prepayment, Amount: entered(b.Amount), Leave: value(b.Leave), Note: value(b.Note),
	})
	return contract.UsePrepayment200JSONResponse(capturedOf(captured)), err
}

// TakeBackPrepaymentUse takes back what was said about money ahead.
func (h *handlers) TakeBackPrepaymentUse(
	ctx context.Context,
	r contract.TakeBackPrepaymentUseRequestObject,
) (contract.TakeBackPrepaymentUseResponseObject, error) {
	captured, err := invoices.TakeBackAhead(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.AheadUseEnd{
		Invoice: r.Number, Version: value(r.Body.Version), Prepayment: r.Prepayment, Reason: r.Body.Reason,
	})
	return contract.TakeBackPrepaymentUse200JSONResponse(capturedOf(captured)), err
}

// SettleOtherwise records money that moved outside a run.
func (h *handlers) SettleOtherwise(ctx context.Context, r contract.SettleOtherwiseRequestObject) (contract.SettleOtherwiseResponseObject, error) {
	b := r.Body
	settled, err := payments.SettleOtherwise(ctx, h.app, command(ctx, r.Params.Key, b), payments.OtherwiseEntry{
		Invoice: r.Number, Version: value(b.Version), Way: string(b.Way), Amount: entered(b.Amount), Day: day.Day(value(b.Day)), Reference: b.Reference,
	})
	return contract.SettleOtherwise200JSONResponse(settledOf(settled)), err
}

// TakeBackSettlement takes that back.
func (h *handlers) TakeBackSettlement(ctx context.Context, r contract.TakeBackSettlementRequestObject) (contract.TakeBackSettlementResponseObject, error) {
	settled, err := payments.TakeBackSettled(ctx, h.app, command(ctx, r.Params.Key, r.Body), payments.SettledEnd{
		Number: r.Number, Version: value(r.Body.Version), Reason: r.Body.Reason,
	})
	return contract.TakeBackSettlement200JSONResponse(settledOf(settled)), err
}

func settledOf(s payments.SettledAnswer) contract.SettledAnswer {
	return contract.SettledAnswer{Number: s.Number, Invoice: s.Invoice, State: string(s.State)}
}

// aheadOnSheet puts money ahead, and what moved outside runs, on the sheet of an invoice.
func aheadOnSheet(sheet *contract.InvoiceSheet, s views.InvoiceSheet) {
	c := s.Invoice.Currency
	ahead := each(s.Ahead, func(a views.AheadChoice) contract.AheadChoice {
		choice := contract.AheadChoice{
			Number: a.Number, SupplierNumber: a.SupplierNumber, Kind: a.Kind, Usable: max(0, a.Usable()).Text(c), Could: a.Could.Text(c), Share: a.Share.Text(c),
		}
		if u := a.Use; u != nil {
			choice.Use = &contract.AheadUse{Amount: u.Amount.Text(c), Note: u.Note, By: u.By, At: u.At, Booked: u.Booked}
		}
		return choice
	})
	sheet.Ahead = &ahead
	if s.Asks != nil {
		asks := aheadOf(s.Company)(*s.Asks)
		sheet.Asks = &asks
	}
	users := each(s.Users, func(u views.AheadUser) contract.AheadUser {
		return contract.AheadUser{Number: u.Number, SupplierNumber: u.SupplierNumber, Amount: u.Amount.Text(c), Booked: u.Booked}
	})
	sheet.Users = &users
	settled := each(s.Settlements, func(x store.Settlement) contract.Settlement {
		return contract.Settlement{Number: x.Number, Way: say.Settled(x.Way), Amount: x.Amount.Text(c), Day: string(x.Day), Reference: x.Reference, By: x.ByName}
	})
	sheet.Settled = &settled
	netted := each(s.Nettings, nettingOf)
	sheet.Netted = &netted
}
