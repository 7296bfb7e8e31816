package invoices

import (
	"context"

	"lagoon/internal/act"
	"lagoon/internal/store"
)

// What the tests see of the inside.
var OrderNumbers = orderNumbers

// Advance captures the next rows of a batch.
func Advance(ctx context.Context, a *act.App, number int64) error {
	b, err := act.Read(ctx, a, func(r act.Reading) (store.Batch, error) { return r.BatchByNumber(number) })
	if err != nil {
		return err
	}
	return advance(ctx, a, b)
}
