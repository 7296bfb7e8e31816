package masters

// This file forgets what corrections taught about the papers of a supplier.

import (
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/reading"
	"lagoon/internal/store"
)

// ForgetPaper forgets where the papers of a supplier say something; what was keyed by it stays.
func ForgetPaper(ctx context.Context, a *act.App, c act.Command, supplier, field string) (Saved, error) {
	return act.Perform(ctx, a, act.ForgetPaper, c, func(w *act.Work) (Saved, error) {
		of, err := w.SupplierByCode(supplier)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", supplier)
		}
		all, err := w.PaperRules(of.ID)
		if err != nil {
			return Saved{}, err
		}
		at := slices.IndexFunc(all, func(r store.PaperRule) bool { return r.Field == field })
		if at < 0 {
			return Saved{}, fault.New(fault.Changed, "", "Nothing is remembered of this any more.")
		}
		return Saved{Code: of.Code}, errors.Join(
			w.PutPaperRule(of.ID, reading.Rule{Field: field}, all[at].Invoice),
			w.RecordAs("supplier", of.Code, struct{ Paper reading.Rule }{all[at].Rule}, nil),
		)
	})
}
