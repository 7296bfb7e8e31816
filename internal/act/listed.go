package act

import (
	"context"
)

// Listed is a list that may stop before its end, and how many More there are: that many or
// more from store.MostCounted on.
type Listed[T any] struct {
	Rows []T
	More int64
}

// ListOf reads a list that may stop before its end.
func ListOf[T any](ctx context.Context, a *App, do func(Reading) ([]T, error)) (Listed[T], error) {
	return Read(ctx, a, func(r Reading) (l Listed[T], err error) {
		l.Rows, err = do(r)
		l.More = r.LeftOut()
		return l, err
	})
}
