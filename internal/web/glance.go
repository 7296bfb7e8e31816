package web

// This file translates a day at a glance.

import (
	"context"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetGlance tells a day at a glance.
func (h *handlers) GetGlance(ctx context.Context, r contract.GetGlanceRequestObject) (contract.GetGlanceResponseObject, error) {
	g, err := views.GlanceAt(ctx, h.app, day.Day(value(r.Params.On)))
	sums := func(all []money.Money) []contract.Worth {
		return each(all, func(m money.Money) contract.Worth {
			return contract.Worth{Amount: m.Amount.Text(m.Currency), Currency: string(m.Currency)}
		})
	}
	load := func(l views.Load) contract.Load {
		return contract.Load{Turn: l.Turn, With: some(l.With), Count: l.Count, Since: l.Since, Worth: sums(l.Worth)}
	}
	return contract.GetGlance200JSONResponse{
		Today: string(g.Today),
		Days: each(g.Days, func(d views.DayCame) contract.DayCame {
			return contract.DayCame{
				On: string(d.On), Came: d.Came(), Alone: d.Alone, Acted: d.Acted, Waiting: d.Waiting, Held: d.Held, Ended: d.Ended,
			}
		}),
		Waiting: load(g.Waiting), Held: load(g.Held), Release: load(g.Release), Loads: each(g.Loads, load),
		Stake: sums(g.Stake), StakeCount: g.StakeCount, StakeUntil: some(string(g.StakeUntil)),
	}, err
}
