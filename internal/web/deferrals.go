package web

// This file translates costs that are spread over months.

import (
	"context"
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

func deferralIn(d *contract.Deferral) *trade.Deferral {
	if d == nil {
		return nil
	}
	return &trade.Deferral{From: d.From, Months: d.Months}
}

func deferralOf(d *trade.Deferral) *contract.Deferral {
	if d == nil {
		return nil
	}
	return &contract.Deferral{From: d.From, Months: d.Months}
}

func monthOf(c money.Currency) func(views.DeferredMonth) contract.DeferredMonth {
	return func(m views.DeferredMonth) contract.DeferredMonth {
		month := contract.DeferredMonth{
			Month:    m.Month,
			Detail:   m.Detail,
			Spread:   m.Spread.Text(c),
			Posted:   m.Posted.Text(c),
			Credited: m.Credited.Text(c),
			Held:     m.Held.Text(c),
		}
		if m.Line != 0 {
			month.Line = &m.Line
		}
		return month
	}
}

// GetDeferrals tells what is due by a day, and which runs there were.
func (h *handlers) GetDeferrals(
	ctx context.Context,
	r contract.GetDeferralsRequestObject,
) (contract.GetDeferralsResponseObject, error) {
	d, err := invoices.ReadDeferrals(ctx, h.app, day.Day(value(r.Params.Until)))
	return contract.GetDeferrals200JSONResponse{
		More: d.More,
		Due: each(d.Due, func(p invoices.Due) contract.DeferralDue {
			return contract.DeferralDue{
				Invoice:        p.Number,
				SupplierNumber: p.SupplierNumber,
				Supplier:       p.Supplier,
				Description:    p.Description,
				Month:          p.Month,
				Detail:         p.Detail,
				Amount:         p.Base.Text(d.Company),
				PostedOn:       string(p.On),
			}
		}),
		Runs: each(d.Runs, func(x store.DeferralRun) contract.DeferralRun {
			return contract.DeferralRun{
				Run:    x.ID,
				Until:  string(x.Until),
				Undone: x.Undone != 0,
				By:     x.ByName,
				At:     x.At,
				Total:  x.Base.Text(d.Company),
				Parts:  x.Parts,
			}
		}),
	}, err
}

// PostDeferrals posts what is due by a day.
func (h *handlers) PostDeferrals(
	ctx context.Context,
	r contract.PostDeferralsRequestObject,
) (contract.PostDeferralsResponseObject, error) {
	parts, err := invoices.PostDeferrals(ctx, h.app, command(ctx, r.Params.Key, r.Body), day.Day(r.Body.Until))
	return contract.PostDeferrals200JSONResponse{Number: fmt.Sprint(parts)}, err
}

// UndoDeferrals takes the last run back.
func (h *handlers) UndoDeferrals(
	ctx context.Context,
	r contract.UndoDeferralsRequestObject,
) (contract.UndoDeferralsResponseObject, error) {
	parts, err := invoices.UndoDeferrals(ctx, h.app, command(ctx, r.Params.Key, r.Number), r.Number)
	return contract.UndoDeferrals200JSONResponse{Number: fmt.Sprint(parts)}, err
}
