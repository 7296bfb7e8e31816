package masters

import (
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// ForgetCode forgets what a code on a supplier's invoices stood for; what was matched by it stays.
func ForgetCode(ctx context.Context, a *act.App, c act.Command, supplier, code string) (Saved, error) {
	return act.Perform(ctx, a, act.ForgetCode, c, func(w *act.Work) (Saved, error) {
		of, err := w.SupplierByCode(supplier)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", supplier)
		}
		all, err := w.CodesOf(of.ID)
		at := slices.IndexFunc(all, func(s store.SupplierCode) bool { return s.Code == code })
		if err == nil && at < 0 {
			err = fault.New(fault.Changed, "", "Nothing is remembered of %s any more.", code)
		}
		if err != nil {
			return Saved{}, err
		}
		return Saved{Code: of.Code}, errors.Join(w.PutCode(of.ID, code, 0), w.RecordAs("supplier", of.Code, all[at], nil))
	})
}
