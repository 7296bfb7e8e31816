package web

// This file translates what the company decides for all: its frame, budgets, charges, rates and periods.

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// SaveDebitAccount writes a further account of ours.
func (h *handlers) SaveDebitAccount(ctx context.Context, r contract.SaveDebitAccountRequestObject) (contract.SaveDebitAccountResponseObject, error) {
	b := r.Body
	saved, err := masters.SaveDebitAccount(ctx, h.app, command(ctx, r.Params.Key, b), store.DebitAccount{
		IBAN: b.Iban, BIC: b.Bic, Name: b.Name, Ended: b.Ended,
	})
	return contract.SaveDebitAccount200JSONResponse{Number: saved.Code}, err
}

// SavePlace writes a place of delivery.
func (h *handlers) SavePlace(ctx context.Context, r contract.SavePlaceRequestObject) (contract.SavePlaceResponseObject, error) {
	b := r.Body
	saved, err := masters.SavePlace(ctx, h.app, command(ctx, r.Params.Key, b), masters.DeliveryPlace{
		Name: b.Name, Address: b.Address, Receivers: b.Receivers, Ended: b.Ended,
	})
	return contract.SavePlace200JSONResponse{Number: saved.Code}, err
}

// GetFrame reads what the company decides for all.
func (h *handlers) GetFrame(
	ctx context.Context,
	_ contract.GetFrameRequestObject,
) (contract.GetFrameResponseObject, error) {
	f, err := masters.ReadFrame(ctx, h.app)
	c := f.Company
	var asked *contract.PeriodAsked
	if a := f.Asked; a != nil {
		asked = &contract.PeriodAsked{Month: a.Month, Reason: a.Reason, By: a.ByName, At: a.At, Own: actorOf(ctx).Is(a.By)}
	}
	var offered []contract.UnitName
	own := each(f.Reasons, func(o store.OwnReason) contract.OwnReason {
		if !o.Ended {
			offered = append(offered, contract.UnitName{Code: o.Name, Name: o.Name})
		}
		return contract.OwnReason{Name: o.Name, Ended: o.Ended}
	})
	return contract.GetFrame200JSONResponse{
		Asked: asked,
		Changes: each(f.Changes, func(p store.PeriodChange) contract.PeriodChange {
			return contract.PeriodChange{
				Month: p.Month, What: contract.PeriodChangeWhat(p.What), Reason: p.Reason, By: p.ByName, At: p.At,
			}
		}),
		More:   f.More,
		Open:   f.Open,
		Closed: append([]string{}, f.Closed...),
		HoldReasons: append(each(
			say.HoldReasons(),
			func(r [2]string) contract.UnitName { return contract.UnitName{Code: r[0], Name: r[1]} },
		), offered...),
		OwnReasons: &own,
		DebitAccounts: each(f.Debits, func(a store.DebitAccount) contract.DebitAccount {
			return contract.DebitAccount{Iban: accountFor(ctx, a.IBAN), Bic: a.BIC, Name: a.Name, Ended: a.Ended, Own: a.Own}
		}),
		Places: each(f.Places, func(p store.Place) contract.DeliveryPlace {
			return contract.DeliveryPlace{
				Name: p.Name, Address: p.Address, Ended: p.Ended, Own: p.Own,
				Receivers: each(p.Receivers, func(r store.PlaceReceiver) contract.PlaceReceiver {
					return contract.PlaceReceiver{Login: r.Login, Name: r.Name}
				}),
			}
		}),
		Refusals: each(
			say.Refusals(),
			func(r [2]string) contract.UnitName { return contract.UnitName{Code: r[0], Name: r[1]} },
		),
		Units: each(
			say.Units(),
			func(u [2]string) contract.UnitName { return contract.UnitName{Code: u[0], Name: u[1]} },
		),
		Budgets: each(f.Budgets, budgetOf),
		Accounts: each(f.Chart, func(a store.ChartAccount) contract.ChartAccount {
			return contract.ChartAccount{Role: string(a.Role), Account: some(say.Account(a.Role)), Detail: a.Detail, Number: a.Number, Name: a.Name}
		}),
		Charges: each(f.Charges, func(k trade.ChargeKind) contract.ChargeKind {
			limits, by := each(f.ChargeLimits[k.Name], limitOf(c.Currency)), ownersOf(f.ChargeOwners[k.Name])
			return contract.ChargeKind{
				Name: k.Name, Standard: k.Standard, Ended: k.Ended, TaxCode: some(k.Tax), InGoods: some(k.InGoods), Limits: &limits, LimitsBy: by,
			}
		}),
		Taxes: each(f.Taxes, taxCodeOf),
		Rates: each(f.Rates, func(r store.ExchangeRate) contract.Rate {
			return contract.Rate{Currency: string(r.Currency), Day: string(r.Day), Rate: r.Rate.String()}
		}),
		LimitsBy: ownersOf(f.Owners),
		Company: contract.CompanyEntry{
			Address:       c.Address,
			Place:         c.Place,
			Mail:          c.Mail,
			TaxId:         some(c.TaxID),
			OverDelivery:  c.Policy.OverDelivery,
			UnderDelivery: c.Policy.UnderDelivery,
			TwoStep:       c.TwoStep,
			ReducesTax:    &c.ReducesTax,
			Requests:      &c.Requests,
			TwoFrom:       some(sumSet(c.TwoFrom, c.Currency)),
			SelfUpTo:      some(sumSet(c.SelfUpTo, c.Currency)),
			Due:           some(string(c.Due)),
			OverBudget:    some(string(c.OverBudget)),
			LateRate:      some(c.LateRate.String()),
			LateSource:    some(c.LateSource),
			Level:         string(c.Level),
			Limits:        each(f.Limits, limitOf(c.Currency)),
		},
	}, err
}

// sumSet is a sum that may not be set.
func sumSet(sum money.Amount, currency money.Currency) string {
	if sum == 0 {
		return ""
	}
	return sum.Text(currency)
}

func taxCodeOf(c trade.TaxCode) contract.TaxCode {
	return contract.TaxCode{
		Code:     c.Code,
		Name:     c.Name,
		Category: c.Category,
		Ended:    c.Ended,
		Rates: each(c.Rates, func(r trade.TaxRate) contract.TaxCodeRate {
			return contract.TaxCodeRate{From: string(r.From), Rate: r.Rate.String()}
		}),
	}
}

// SaveTaxCode writes a tax code with its rates.
func (h *handlers) SaveTaxCode(
	ctx context.Context,
	r contract.SaveTaxCodeRequestObject,
) (contract.SaveTaxCodeResponseObject, error) {
	var n numbers
	b := r.Body
	code := trade.TaxCode{Code: b.Code, Name: b.Name, Category: b.Category, Ended: b.Ended}
	for _, rate := range b.Rates {
		code.Rates = append(code.Rates, trade.TaxRate{
			From: day.Day(rate.From), Rate: n.decimal(rate.Rate, "rates", "The rate"),
		})
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SaveTaxCode(ctx, h.app, command(ctx, r.Params.Key, b), code)
	return contract.SaveTaxCode200JSONResponse{Number: saved.Code}, err
}

// SaveCompany changes what the company decides for all.
func (h *handlers) SaveCompany(
	ctx context.Context,
	r contract.SaveCompanyRequestObject,
) (contract.SaveCompanyResponseObject, error) {
	var n numbers
	b := r.Body
	entry := masters.CompanyEntry{
		Address:       b.Address,
		Place:         b.Place,
		Mail:          b.Mail,
		TaxID:         b.TaxId,
		OverDelivery:  b.OverDelivery,
		UnderDelivery: b.UnderDelivery,
		TwoStep:       b.TwoStep,
		ReducesTax:    b.ReducesTax,
		Due:           trade.DueBy(value(b.Due)),
		Level:         trade.Level(b.Level),
		Limits:        n.limits(b.Limits, "limits"),
		LateSource:    value(b.LateSource),
		OverBudget:    trade.OverRule(value(b.OverBudget)),
	}
	if b.Requests != nil {
		entry.Release = &masters.ReleaseEntry{Requests: *b.Requests, TwoFrom: money.Entered(value(b.TwoFrom)), SelfUpTo: money.Entered(value(b.SelfUpTo))}
	}
	if value(b.LateRate) != "" {
		entry.LateRate = new(n.decimal(*b.LateRate, "lateRate", "The rate"))
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	_, err := masters.SaveCompany(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.SaveCompany200JSONResponse{Number: "1"}, err
}

// SaveAccount numbers and names an account of the books.
func (h *handlers) SaveAccount(
	ctx context.Context,
	r contract.SaveAccountRequestObject,
) (contract.SaveAccountResponseObject, error) {
	b := r.Body
	saved, err := masters.SaveAccount(ctx, h.app, command(ctx, r.Params.Key, b), store.ChartAccount{
		Role: ledger.Role(b.Role), Detail: b.Detail, Number: b.Number, Name: b.Name,
	})
	return contract.SaveAccount200JSONResponse{Number: saved.Code}, err
}

// SaveBudget writes what orders can be charged to.
func (h *handlers) SaveBudget(
	ctx context.Context,
	r contract.SaveBudgetRequestObject,
) (contract.SaveBudgetResponseObject, error) {
	saved, err := masters.SaveBudget(ctx, h.app, command(ctx, r.Params.Key, r.Body), store.Budget{
		Code: r.Body.Code, Name: r.Body.Name, Account: trade.Account(r.Body.Account),
	})
	return contract.SaveBudget200JSONResponse{Number: saved.Code}, err
}

// GetBudgetsTaken says what is ordered and invoiced of each budget.
func (h *handlers) GetBudgetsTaken(
	ctx context.Context,
	_ contract.GetBudgetsTakenRequestObject,
) (contract.GetBudgetsTakenResponseObject, error) {
	sums, err := views.BudgetsTaken(ctx, h.app)
	if err != nil {
		return nil, err
	}
	text := func(a money.Amount) string { return a.Text(sums.Company) }
	all := contract.GetBudgetsTaken200JSONResponse{}
	for _, code := range slices.Sorted(maps.Keys(sums.By)) {
		sum := sums.By[code]
		all = append(all, contract.BudgetTaken{Code: code, Ordered: text(sum.Ordered), Invoiced: text(sum.Invoiced), Taken: text(sum.Taken)})
	}
	return all, nil
}

// SaveChargeKind writes a kind of charge.
func (h *handlers) SaveChargeKind(
	ctx context.Context,
	r contract.SaveChargeKindRequestObject,
) (contract.SaveChargeKindResponseObject, error) {
	saved, err := masters.SaveChargeKind(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		trade.ChargeKind{
			Name: r.Body.Name, Standard: r.Body.Standard, Ended: r.Body.Ended, Tax: value(r.Body.TaxCode), InGoods: value(r.Body.InGoods),
		},
	)
	return contract.SaveChargeKind200JSONResponse{Number: saved.Code}, err
}

// SetRate writes an exchange rate.
func (h *handlers) SetRate(
	ctx context.Context,
	r contract.SetRateRequestObject,
) (contract.SetRateResponseObject, error) {
	var n numbers
	rate := store.ExchangeRate{
		Currency: money.Currency(strings.ToUpper(r.Body.Currency)),
		Day:      day.Day(r.Body.Day),
		Rate:     n.decimal(r.Body.Rate, "rate", "The rate"),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SetRate(ctx, h.app, command(ctx, r.Params.Key, r.Body), rate)
	return contract.SetRate200JSONResponse{Number: saved.Code}, err
}

// ClosePeriod closes a month of the books.
func (h *handlers) ClosePeriod(
	ctx context.Context,
	r contract.ClosePeriodRequestObject,
) (contract.ClosePeriodResponseObject, error) {
	err := masters.ClosePeriod(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Month)
	return contract.ClosePeriod200JSONResponse{Number: r.Body.Month}, err
}

func openingOf(b *contract.PeriodOpening) masters.Opening {
	return masters.Opening{Month: b.Month, Reason: value(b.Reason)}
}

// AskPeriod asks to open a month again.
func (h *handlers) AskPeriod(
	ctx context.Context,
	r contract.AskPeriodRequestObject,
) (contract.AskPeriodResponseObject, error) {
	err := masters.AskPeriod(ctx, h.app, command(ctx, r.Params.Key, r.Body), openingOf(r.Body))
	return contract.AskPeriod200JSONResponse{Number: r.Body.Month}, err
}

// OpenPeriod opens a month that somebody else asked for.
func (h *handlers) OpenPeriod(
	ctx context.Context,
	r contract.OpenPeriodRequestObject,
) (contract.OpenPeriodResponseObject, error) {
	err := masters.OpenPeriod(ctx, h.app, command(ctx, r.Params.Key, r.Body), openingOf(r.Body))
	return contract.OpenPeriod200JSONResponse{Number: r.Body.Month}, err
}

// KeepPeriod leaves a month closed.
func (h *handlers) KeepPeriod(
	ctx context.Context,
	r contract.KeepPeriodRequestObject,
) (contract.KeepPeriodResponseObject, error) {
	err := masters.KeepPeriod(ctx, h.app, command(ctx, r.Params.Key, r.Body), openingOf(r.Body))
	return contract.KeepPeriod200JSONResponse{Number: r.Body.Month}, err
}

// GetHanging tells what hangs in the months until one.
func (h *handlers) GetHanging(
	ctx context.Context,
	r contract.GetHangingRequestObject,
) (contract.GetHangingResponseObject, error) {
	hanging, err := masters.ReadHanging(ctx, h.app, r.Month)
	answer := contract.GetHanging200JSONResponse{
		Currency:   string(hanging.Company.Currency),
		More:       hanging.More,
		Deferrals:  len(hanging.Deferrals),
		Unanswered: append([]int64{}, hanging.Unanswered...),
		Invoices: each(hanging.Invoices, func(i store.HangingInvoice) contract.HangingInvoice {
			return contract.HangingInvoice{
				Number:         i.Number,
				SupplierNumber: i.SupplierNumber,
				Supplier:       i.Supplier,
				State:          string(i.State),
				Total:          i.Total.Text(i.Currency),
				Currency:       string(i.Currency),
			}
		}),
		Receipts: each(hanging.Receipts, func(s store.Sum) contract.HangingReceipt {
			var receipt contract.HangingReceipt
			_, _ = fmt.Sscanf(s.Name, "%d/%d", &receipt.Order, &receipt.Line) // as posting.GRNIDetail writes it
			receipt.Amount = (-s.Amount).Text(hanging.Company.Currency)
			return receipt
		}),
	}
	return answer, err
}

func budgetOf(b store.Budget) contract.BudgetName {
	return contract.BudgetName{Code: b.Code, Name: b.Name, Account: string(b.Account)}
}
