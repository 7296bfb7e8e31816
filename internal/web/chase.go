package web

// This file translates after how many days what is awaited is chased.

import (
	"context"

	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/web/contract"
)

// chaseDays are days as they are typed; those of nobody are empty.
func chaseDays(after func(trade.Awaited) (days int, set bool)) contract.ChaseDays {
	typed := func(what trade.Awaited) string {
		days, set := after(what)
		if !set {
			return ""
		}
		return trade.SaidChase(&days)
	}
	return contract.ChaseDays{
		Acknowledgement: typed(trade.AwaitedWord), Goods: typed(trade.AwaitedGoods), Invoice: typed(trade.AwaitedInvoice),
		Notice: typed(trade.AwaitedNotice),
	}
}

// GetChase says after how many days what is awaited is chased.
func (h *handlers) GetChase(ctx context.Context, r contract.GetChaseRequestObject) (contract.GetChaseResponseObject, error) {
	supplier := value(r.Params.Supplier)
	own, company, err := masters.ReadChase(ctx, h.app, supplier)
	if supplier == "" {
		company = nil
	}
	return contract.GetChase200JSONResponse{
		Own: chaseDays(func(what trade.Awaited) (int, bool) {
			days, set := own[what]
			return days, set
		}),
		Otherwise: chaseDays(func(what trade.Awaited) (int, bool) { return trade.Chase(nil).After(what, company), true }),
	}, err
}

// SaveChase writes it.
func (h *handlers) SaveChase(ctx context.Context, r contract.SaveChaseRequestObject) (contract.SaveChaseResponseObject, error) {
	saved, err := masters.SaveChase(ctx, h.app, command(ctx, r.Params.Key, r.Body), masters.ChaseEntry{
		Supplier: value(r.Body.Supplier),
		Days: map[trade.Awaited]string{
			trade.AwaitedWord: r.Body.Days.Acknowledgement, trade.AwaitedGoods: r.Body.Days.Goods, trade.AwaitedInvoice: r.Body.Days.Invoice,
			trade.AwaitedNotice: r.Body.Days.Notice,
		},
	})
	return contract.SaveChase200JSONResponse{Number: saved.Code}, err
}
