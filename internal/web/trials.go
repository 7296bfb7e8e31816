package web

// This file translates trials of limits.

import (
	"context"

	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trial"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// mostShown is how many invoices of a trial are told one by one.
const mostShown = 200

// GetTrials tells what each limit held, and what was tried before.
func (h *handlers) GetTrials(ctx context.Context, _ contract.GetTrialsRequestObject) (contract.GetTrialsResponseObject, error) {
	t, err := masters.ReadTrials(ctx, h.app)
	if err != nil {
		return nil, err
	}
	return contract.GetTrials200JSONResponse{
		Since: string(t.Since), Until: string(t.Until), Invoices: t.Invoices, Currency: string(t.Company),
		Limits: each(t.Limits, func(l masters.HeldLimit) contract.HeldLimit {
			return contract.HeldLimit{At: placeNamed(l.Name), Limit: ruleOf(l.Rule, t.Company), Held: l.Held}
		}),
		Kept: each(t.Kept, func(k masters.KeptTrial) contract.KeptTrial {
			k.Was.Kind, k.Was.Side = k.Limit.Kind, k.Limit.Side
			return contract.KeptTrial{
				Number: k.Number, At: placeNamed(k.Name), Limit: ruleOf(k.Limit.Rule, t.Company), Was: ruleOf(k.Was, t.Company),
				Also: each(k.Also, placeNamed), Invoices: k.Invoices, VerifiedBefore: k.Before.Verified, Verified: k.After.Verified,
				PassedBefore: k.Before.Passed.Text(t.Company), Passed: k.After.Passed.Text(t.Company),
				Adopted: k.Adopted, Reason: k.Reason, By: k.ByName, On: k.At,
			}
		}),
	}, nil
}

// TryLimit tells what a limit would have done.
func (h *handlers) TryLimit(ctx context.Context, r contract.TryLimitRequestObject) (contract.TryLimitResponseObject, error) {
	entry, err := trialEntry(*r.Body)
	if err != nil {
		return nil, err
	}
	t, err := masters.TryLimit(ctx, h.app, entry)
	if err != nil {
		return nil, err
	}
	p := actorOf(ctx).Printer
	told := func(all []trial.Changed) []contract.TrialInvoice {
		return each(all[:min(len(all), mostShown)], func(c trial.Changed) contract.TrialInvoice {
			return contract.TrialInvoice{
				Invoice: c.Invoice, SupplierNumber: c.SupplierNumber, Supplier: c.SupplierName, Text: p.Difference(c.Finding),
				Worth: c.Worth.Text(t.Company), Decided: string(c.Decision.What), By: c.Decision.By, On: string(c.Decision.On), Open: c.Open,
			}
		})
	}
	answer := contract.TryLimit200JSONResponse{
		At: placeNamed(t.Name), Limit: ruleOf(t.Limit.Rule, t.Company), Now: ruleOf(t.Now, t.Company), Since: string(t.Since),
		Until: string(t.Until), Invoices: t.Invoices, Cut: t.Cut, Currency: string(t.Company),
		Today: figureOf(t.Today, t.Company), Tried: figureOf(t.Outcome.Tried, t.Company),
		Gained: told(t.Gained), GainedAll: len(t.Gained), Lost: told(t.Lost), LostAll: len(t.Lost), Open: t.Open,
		Suppliers: each(t.Suppliers, func(g trial.Gain) contract.TrialSupplier {
			return contract.TrialSupplier{
				Code: g.Code, Name: g.Name, HeldToday: g.HeldToday, HeldTried: g.HeldTried, Passed: g.Passed.Text(t.Company),
				Accepted: g.Accepted, SaidNo: g.SaidNo, NoWorth: g.NoWorth.Text(t.Company),
			}
		}),
		Curve: each(t.Curve, pointOf(t)),
		Nearer: each(t.Nearer, func(n masters.Nearer) contract.NearerLimit {
			return contract.NearerLimit{At: placeNamed(n.PlaceName), Limit: ruleOf(n.Rule, t.Company)}
		}),
	}
	if t.Beyond != nil {
		answer.Beyond = new(pointOf(t)(*t.Beyond))
	}
	return answer, nil
}

func placeNamed(n store.PlaceName) contract.LimitNamed {
	return contract.LimitNamed{Supplier: n.Supplier, SupplierName: n.SupplierName, Item: n.Item, ItemName: n.ItemName, Charge: n.Charge}
}

func figureOf(f trial.Figure, company money.Currency) contract.TrialFigure {
	return contract.TrialFigure{Verified: f.Verified, Held: f.Held, Passed: f.Passed.Text(company)}
}

// pointOf tells a point of a trial's curve by the value that its curve moves.
func pointOf(t masters.Tried) func(trial.Point) contract.TrialPoint {
	return func(p trial.Point) contract.TrialPoint {
		l := ruleOf(limit.Rule{Kind: t.Limit.Kind, Percent: p.Percent, Absolute: p.Absolute}, t.Company)
		at := l.Absolute
		if l.Percent != nil {
			at = l.Percent
		}
		return contract.TrialPoint{At: value(at), Figure: figureOf(p.Figure, t.Company)}
	}
}

func trialEntry(b contract.TrialEntry) (masters.TrialEntry, error) {
	var n numbers
	place := func(p contract.LimitPlace) masters.PlaceEntry {
		return masters.PlaceEntry{Supplier: p.Supplier, Item: p.Item, Charge: p.Charge}
	}
	return masters.TrialEntry{
		PlaceEntry: place(b.At), Limit: n.limits([]contract.Limit{b.Limit}, "limits")[0], Also: each(b.Also, place),
		Since: day.Day(value(b.Since)), Until: day.Day(value(b.Until)),
	}, n.faults.OrNil()
}

func adoptEntry(b contract.AdoptEntry) (masters.AdoptEntry, error) {
	entry, err := trialEntry(b.Trial)
	if err != nil {
		return masters.AdoptEntry{}, err
	}
	var n numbers
	return masters.AdoptEntry{TrialEntry: entry, Was: n.limits([]contract.Limit{b.Was}, "limits")[0], Reason: b.Reason}, n.faults.OrNil()
}

// KeepTrial keeps a trial as it comes out.
func (h *handlers) KeepTrial(ctx context.Context, r contract.KeepTrialRequestObject) (contract.KeepTrialResponseObject, error) {
	entry, err := adoptEntry(*r.Body)
	if err != nil {
		return nil, err
	}
	kept, err := masters.KeepTrial(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.KeepTrial200JSONResponse(kept), err
}

// AdoptLimit sets a limit that was tried.
func (h *handlers) AdoptLimit(ctx context.Context, r contract.AdoptLimitRequestObject) (contract.AdoptLimitResponseObject, error) {
	entry, err := adoptEntry(*r.Body)
	if err != nil {
		return nil, err
	}
	kept, err := masters.AdoptLimit(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.AdoptLimit200JSONResponse(kept), err
}
