package web

// This file translates groups of suppliers and items.

import (
	"context"

	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetGroups lists groups of suppliers with what they propose, and those that items are in.
func (h *handlers) GetGroups(ctx context.Context, _ contract.GetGroupsRequestObject) (contract.GetGroupsResponseObject, error) {
	groups, err := masters.ReadGroups(ctx, h.app)
	return contract.GetGroups200JSONResponse{
		Items: append([]string{}, groups.Items...),
		Suppliers: each(groups.Suppliers, func(g store.SupplierGroup) contract.SupplierGroup {
			to := contract.SupplierGroup{
				Number: &g.ID, Name: g.Name, Level: string(g.Level), Budget: g.Budget, Payables: g.Payables, PayablesName: g.PayablesName, Ended: g.Ended,
				Members: &g.Members,
			}
			if g.Terms != nil {
				to.Terms = new(termsIn(*g.Terms))
			}
			return to
		}),
	}, err
}

// SaveGroup makes a group of suppliers, or changes it.
func (h *handlers) SaveGroup(ctx context.Context, r contract.SaveGroupRequestObject) (contract.SaveGroupResponseObject, error) {
	b := r.Body
	group := store.SupplierGroup{
		ID: value(b.Number), Name: b.Name, Level: trade.Level(b.Level), Budget: b.Budget, Payables: b.Payables, PayablesName: b.PayablesName, Ended: b.Ended,
	}
	if b.Terms != nil {
		var n numbers
		group.Terms = new(n.terms(*b.Terms))
		if err := n.faults.OrNil(); err != nil {
			return nil, err
		}
	}
	saved, err := masters.SaveGroup(ctx, h.app, command(ctx, r.Params.Key, b), group)
	return contract.SaveGroup200JSONResponse{Number: saved.Code}, err
}
