package lists

import (
	"context"

	"lagoon/internal/act"
)

// Plan is how the store answers a question: what finds the rows of its words by an index, and the question itself.
func Plan(ctx context.Context, a *act.App, actor act.Actor, l *List, asked Asked) (finds, reads []string, err error) {
	_, err = within(ctx, a, actor, l, asked, func(ctx context.Context, r act.Reading, q question) (none struct{}, err error) {
		steps := func(text string) (all []string, err error) {
			err = r.EachRow(ctx, "EXPLAIN QUERY PLAN "+text, q.values, 4, func(cells []string) (bool, error) {
				all = append(all, cells[3])
				return true, nil
			})
			return all, err
		}
		for _, f := range q.indexed {
			for _, of := range f.of {
				if finds, err = steps(of); err != nil {
					return none, err
				}
			}
		}
		reads, err = steps(q.asks(q.columns, q.ordered(), 0, AtOnce+1))
		return none, err
	})
	return finds, reads, err
}

// SetFew sets from how many rows on a word is not read by its index, until what it gives is called.
func SetFew(n int) (back func()) {
	was := few
	few = n
	return func() { few = was }
}
