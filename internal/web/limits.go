package web

// This file translates limits and match levels.

import (
	"context"
	"fmt"
	"strings"

	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// limits reads limits as they were typed; blank is not set.
func (n *numbers) limits(typed []contract.Limit, field string) limit.Entries {
	all := limit.Entries{}
	for i, l := range typed {
		entry := limit.Entry{Kind: limit.Kind(l.Kind), Side: limit.Side(l.Side)}
		if text := strings.TrimSpace(value(l.Percent)); text != "" {
			entry.Percent = new(n.decimal(text, fmt.Sprintf("%s[%d]", field, i), "The percentage"))
		}
		if absolute := entered(l.Absolute); absolute != "" {
			entry.Absolute = &absolute
		}
		all = append(all, entry)
	}
	return all
}

func limitOf(currency money.Currency) func(store.LimitRule) contract.Limit {
	return func(r store.LimitRule) contract.Limit { return ruleOf(r.Rule, currency) }
}

func ruleOf(r limit.Rule, currency money.Currency) contract.Limit {
	l := contract.Limit{Kind: string(r.Kind), Side: string(r.Side)}
	if r.Percent != nil {
		l.Percent = some(r.Percent.String())
	}
	if r.Absolute != nil {
		text := money.Amount(*r.Absolute).Text(currency)
		if r.Kind.OfQuantity() {
			text = money.Decimal(*r.Absolute).String()
		}
		l.Absolute = &text
	}
	return l
}

func ownersOf(owners []masters.Owner) *[]string {
	return new(each(owners, func(o masters.Owner) string { return o.Name }))
}

// SetLimits changes limits and match level of one level.
func (h *handlers) SetLimits(
	ctx context.Context,
	r contract.SetLimitsRequestObject,
) (contract.SetLimitsResponseObject, error) {
	entry, err := limitsEntry(r.Body)
	if err != nil {
		return nil, err
	}
	saved, err := masters.SetLimits(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.SetLimits200JSONResponse{Number: saved.Code}, err
}

// PreviewLimits tells which open invoices a change of limits would let pass.
func (h *handlers) PreviewLimits(
	ctx context.Context,
	r contract.PreviewLimitsRequestObject,
) (contract.PreviewLimitsResponseObject, error) {
	entry, err := limitsEntry(r.Body)
	if err != nil {
		return nil, err
	}
	plan, err := masters.PlanLimits(ctx, h.app, actorOf(ctx), entry)
	return contract.PreviewLimits200JSONResponse{
		Tried: plan.Tried,
		Passing: each(plan.Passing, func(p masters.Passing) contract.Passing {
			return contract.Passing{
				Invoice:        p.Invoice,
				SupplierNumber: p.SupplierNumber,
				Supplier:       p.Supplier,
				Total:          p.Total.Text(p.Currency),
				Currency:       string(p.Currency),
			}
		}),
	}, err
}

// ConfirmLimits confirms limits that others changed.
func (h *handlers) ConfirmLimits(
	ctx context.Context,
	r contract.ConfirmLimitsRequestObject,
) (contract.ConfirmLimitsResponseObject, error) {
	saved, err := masters.ConfirmLimits(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Supplier, r.Body.Item, value(r.Body.Charge))
	return contract.ConfirmLimits200JSONResponse{Number: saved.Code}, err
}

func limitsEntry(b *contract.LimitsEntry) (masters.LimitsEntry, error) {
	var n numbers
	entry := masters.LimitsEntry{
		Supplier: b.Supplier,
		Item:     b.Item,
		Charge:   value(b.Charge),
		Level:    trade.Level(b.Level),
		Limits:   n.limits(b.Limits, "limits"),
		Reason:   b.Reason,
	}
	if b.OverDelivery != nil && b.UnderDelivery != nil {
		entry.Policy = &trade.Policy{OverDelivery: *b.OverDelivery, UnderDelivery: *b.UnderDelivery}
	}
	return entry, n.faults.OrNil()
}
