package main

import (
	"context"
	"fmt"
	"slices"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// calls are what people ask for: every pile, list and sheet.
func (w *world) calls(last int64) map[string]func(context.Context) error {
	clerk := w.people["clerk"]
	return map[string]func(context.Context) error{
		"course":           func(ctx context.Context) error { return drop(views.CourseOf(ctx, w.app, w.people["clerk"])) },
		"orders, newest":   func(ctx context.Context) error { return drop(views.Orders(ctx, w.app, 0)) },
		"orders, older":    func(ctx context.Context) error { return drop(views.Orders(ctx, w.app, 4001+last/2)) },
		"expected goods":   func(ctx context.Context) error { return drop(views.Expected(ctx, w.app)) },
		"order sheet":      func(ctx context.Context) error { return drop(views.Order(ctx, w.app, 4001+last/2, clerk)) },
		"delivery sheet":   func(ctx context.Context) error { return drop(views.Delivery(ctx, w.app, 7001+last/2, clerk)) },
		"invoice pile":     func(ctx context.Context) error { return drop(views.Pile(ctx, w.app, w.people["clerk"])) },
		"invoices, newest": func(ctx context.Context) error { return drop(views.Invoices(ctx, w.app, 0)) },
		"invoices, older":  func(ctx context.Context) error { return drop(views.Invoices(ctx, w.app, 1001+last/2)) },
		"invoice sheet":    func(ctx context.Context) error { return drop(views.Invoice(ctx, w.app, 1001+last/2, clerk)) },
		"holds":            func(ctx context.Context) error { return drop(views.Holds(ctx, w.app, w.people["clerk"])) },
		"payments":         func(ctx context.Context) error { return drop(views.Payments(ctx, w.app)) },
		"payment proposal": func(ctx context.Context) error { return drop(payments.Propose(ctx, w.app, today.Add(60), today)) },
		"journal, newest":  func(ctx context.Context) error { return drop(views.Journal(ctx, w.app, 0)) },
		"journal, older":   func(ctx context.Context) error { return drop(views.Journal(ctx, w.app, last)) },
		"find by number": func(ctx context.Context) error {
			return drop(views.Find(ctx, w.app, act.Actor{}, fmt.Sprint(4001+last/2)))
		},
		"find by first part": func(ctx context.Context) error { return drop(views.Find(ctx, w.app, act.Actor{}, "supplier 07")) },
	}
}

// timedCalls compares the warm median of each call on two histories.
func timedCalls(ctx context.Context, smallFolder, largeFolder string, small, large int64) error {
	times := map[string][2]time.Duration{}
	for i, part := range []struct {
		folder string
		last   int64
	}{{smallFolder, small}, {largeFolder, large}} {
		w, err := openWorld(ctx, part.folder, store.Open)
		if err != nil {
			return err
		}
		for name, call := range w.calls(part.last) {
			var all []time.Duration
			for n := range 45 {
				started := time.Now()
				if err := call(ctx); err != nil {
					return fmt.Errorf("%s: %w", name, err)
				}
				if n >= 5 { // the first ones warm the cache
					all = append(all, time.Since(started))
				}
			}
			both := times[name]
			both[i] = median(all)
			times[name] = both
		}
		if err := w.store.Close(); err != nil {
			return err
		}
	}
	fmt.Printf("\n| call | %d invoices | %d invoices | ratio |\n|---|--:|--:|--:|\n", small, large)
	names := make([]string, 0, len(times))
	for name := range times {
		names = append(names, name)
	}
	slices.Sort(names)
	for _, name := range names {
		t := times[name]
		fmt.Printf(
			"| %s | %d µs | %d µs | %.2f |\n",
			name,
			t[0].Microseconds(),
			t[1].Microseconds(),
			float64(t[1])/float64(t[0]),
		)
	}
	return nil
}

func drop(_ any, err error) error { return err }
