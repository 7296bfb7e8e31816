package masters

// This file closes months of the books.

import (
	"context"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
)

// ClosePeriod closes a month of the books: nothing is posted into it any more.
func ClosePeriod(ctx context.Context, a *act.App, c act.Command, month string) error {
	_, err := act.Perform(ctx, a, act.ClosePeriod, c, func(w *act.Work) (string, error) {
		if _, err := day.Parse(month + "-01"); err != nil {
			return "", fault.New(fault.Invalid, "month", "A period is a month, such as 2026-10.")
		}
		if closed, err := w.PeriodClosed(month); err != nil || closed {
			return month, errors.Join(
				err,
				fault.New(fault.Duplicate, "month", "The period %s is closed already.", month),
			)
		}
		return month, errors.Join(w.Tx.ClosePeriod(month, w.Instant()), w.RecordAs("period", month, nil, month))
	})
	return err
}
