package main

import (
	"context"
	"fmt"
	"os"
	"time"

	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
)

// tryingLimits measures a limit that is tried on a kept history: on the newest months that hold so many invoices.
func (s settings) tryingLimits(ctx context.Context) error {
	if _, err := os.Stat(s.keep); err != nil {
		if err := history(ctx, s.keep, s.history); err != nil {
			return err
		}
	}
	w, err := openWorld(ctx, s.keep, store.Open)
	if err != nil {
		return err
	}
	defer w.store.Close() //nolint:errcheck // it was only read
	percent := money.MustDecimal("5")
	fmt.Printf("\n| invoices | matched again, median of 3 |\n|--:|--:|\n")
	for _, days := range []int{7, 30, 90, 365} {
		entry := masters.TrialEntry{
			Limit: limit.Entry{Kind: limit.UnitPrice, Side: limit.Over, Percent: &percent}, Until: today, Since: today.Add(-days),
		}
		var took []time.Duration
		var tried masters.Tried
		for range 3 {
			started := time.Now()
			if tried, err = masters.TryLimit(ctx, w.app, entry); err != nil {
				return err
			}
			took = append(took, time.Since(started))
		}
		fmt.Printf("| %d | %d ms |\n", tried.Invoices, median(took).Milliseconds())
	}
	return nil
}
