package web

import (
	"context"
	"fmt"
	"strings"

	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetItems lists the items.
func (h *handlers) GetItems(
	ctx context.Context,
	_ contract.GetItemsRequestObject,
) (contract.GetItemsResponseObject, error) {
	all, err := masters.Items(ctx, h.app)
	return contract.GetItems200JSONResponse{More: all.More, Rows: each(all.Rows, func(i store.Item) contract.ItemName {
		return contract.ItemName{
			Code:       i.Code,
			Name:       i.Name,
			Unit:       i.Unit,
			UnitName:   say.Unit(i.Unit),
			Whole:      i.Whole,
			Lots:       i.Lots,
			Incomplete: i.Incomplete,
		}
	})}, err
}

// GetItem reads an item.
func (h *handlers) GetItem(
	ctx context.Context,
	r contract.GetItemRequestObject,
) (contract.GetItemResponseObject, error) {
	s, err := masters.ReadItem(ctx, h.app, r.Code)
	if err != nil {
		return nil, err
	}
	return contract.GetItem200JSONResponse{
		Code:       s.Code,
		Version:    s.Version,
		Name:       s.Name,
		Unit:       s.Unit,
		UnitName:   some(say.Unit(s.Unit)),
		Whole:      s.Whole,
		Level:      string(s.Level),
		Base:       s.Base.String(),
		Lots:       s.Lots,
		Account:    string(s.Account),
		Budget:     s.Budget,
		Group:      some(s.Group),
		TaxCode:    some(s.Tax),
		Incomplete: s.Incomplete,
		LimitsBy:   ownersOf(s.Owners),
		Limits:     each(s.Limits, limitOf(s.Company)),
		Sellers: each(s.Sellers, func(x masters.Seller) contract.Selling {
			limits := each(x.Limits, limitOf(s.Company))
			selling := contract.Selling{
				LimitsBy: ownersOf(x.Owners),
				Supplier: x.Supplier,
				Name:     &x.Name,
				Code:     x.Code,
				Level:    string(x.Level),
				Limits:   &limits,
			}
			if x.Base != nil {
				selling.Base = x.Base.String()
			}
			if x.Lots != nil {
				selling.Lots = map[bool]string{true: "yes", false: "no"}[*x.Lots]
			}
			return selling
		}),
		Units: each(s.Units, func(u masters.UnitEntry) contract.Conversion {
			return contract.Conversion{
				Unit:     u.Unit,
				UnitName: some(say.Unit(u.Unit)),
				Units:    u.Units.String(),
				Makes:    u.Makes.String(),
				Supplier: some(u.Supplier),
			}
		}),
	}, err
}

// SaveItem makes an item, or changes it.
func (h *handlers) SaveItem(
	ctx context.Context,
	r contract.SaveItemRequestObject,
) (contract.SaveItemResponseObject, error) {
	var n numbers
	b := r.Body
	entry := masters.ItemEntry{
		OnTheFly: value(b.OnTheFly),
		Group:    b.Group,
		Item: store.Item{
			Code:    b.Code,
			Version: b.Version,
			Name:    b.Name,
			Unit:    b.Unit,
			Whole:   b.Whole,
			Level:   trade.Level(b.Level),
			Base:    n.base(b.Base, "base"),
			Lots:    b.Lots,
			Account: trade.Account(b.Account),
			Budget:  b.Budget,
			Tax:     value(b.TaxCode),
		},
		Sellers: []masters.SellerEntry{},
		Units:   []masters.UnitEntry{},
		Limits:  n.limits(b.Limits, "limits"),
	}
	for i, x := range b.Sellers {
		selling := masters.SellerEntry{
			Selling: store.Selling{Supplier: x.Supplier, Code: x.Code, Level: trade.Level(x.Level)},
		}
		if x.Limits != nil {
			selling.Limits = n.limits(*x.Limits, fmt.Sprintf("sellers[%d].limits", i))
		}
		if x.Base != "" {
			base := n.base(x.Base, fmt.Sprintf("sellers[%d].base", i))
			selling.Base = &base
		}
		if x.Lots != "" {
			selling.Lots = some(x.Lots == "yes")
			if x.Lots == "no" {
				selling.Lots = new(bool)
			}
		}
		entry.Sellers = append(entry.Sellers, selling)
	}
	for i, u := range b.Units {
		field := fmt.Sprintf("units[%d].unit", i)
		entry.Units = append(entry.Units, masters.UnitEntry{
			Supplier: value(u.Supplier),
			Conversion: trade.Conversion{
				Unit:  strings.ToUpper(u.Unit),
				Units: n.decimal(u.Units, field, "The quantity"),
				Makes: n.decimal(u.Makes, field, "The quantity"),
			},
		})
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SaveItem(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.SaveItem200JSONResponse{Number: saved.Code}, err
}
