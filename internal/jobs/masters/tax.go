package masters

// This file keeps tax codes (rules §11).

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
)

// SaveTaxCode makes a tax code or changes it. Its category stays, since what carries the code was booked under it; what
// stands in the books keeps the rate that it was captured with. Every open invoice is matched again.
func SaveTaxCode(ctx context.Context, a *act.App, c act.Command, code trade.TaxCode) (Saved, error) {
	return act.Perform(ctx, a, act.SaveTaxCode, c, func(w *act.Work) (Saved, error) {
		code.Code, code.Name = strings.ToUpper(strings.TrimSpace(code.Code)), strings.TrimSpace(code.Name)
		slices.SortStableFunc(code.Rates, func(a, b trade.TaxRate) int { return cmp.Compare(a.From, b.From) })
		all, err := w.TaxCodes()
		if err != nil {
			return Saved{}, err
		}
		before, known := all.Named(code.Code)
		faults := trade.CheckTaxCode(code)
		faults.Add(naming.Check(code.Code, "code"), naming.Check(code.Name, "name"))
		for _, r := range code.Rates {
			if _, err := day.Parse(string(r.From)); err != nil {
				faults = append(faults, fault.New(fault.Invalid, "rates", "Enter the day from which each rate holds."))
				break
			}
		}
		if known && before.Category != code.Category {
			faults = append(
				faults,
				fault.New(
					fault.Refused,
					"category",
					"Tax code %s is of category %s, so that stays; make another code.",
					code.Code,
					before.Category,
				),
			)
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		open, err := w.Unsettled()
		return Saved{
				Code: code.Code,
			}, errors.Join(
				err,
				w.PutTaxCode(code, before.Rates),
				w.WakeEach(open, "tax code "+code.Code+" changed"),
				w.RecordAs("tax code", code.Code, before, code),
			)
	})
}
