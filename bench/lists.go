package main

import (
	"context"
	"fmt"
	"slices"
	"time"
)

// calls are what people ask for: every pile, list and sheet.
func (w *world) calls(last int64) map[string]func(context.Context) error {
	clerk := w.people["clerk"]
	drop := func(_ any, err error) error { return err }
	return map[string]func(context.Context) error{
		"course":             func(ctx context.Context) error { return drop(w.app.Course(ctx, w.people["clerk"])) },
		"orders, newest":     func(ctx context.Context) error { return drop(w.app.Orders(ctx, 0)) },
		"orders, older":      func(ctx context.Context) error { return drop(w.app.Orders(ctx, 4001+last/2)) },
		"expected goods":     func(ctx context.Context) error { return drop(w.app.Expected(ctx)) },
		"order sheet":        func(ctx context.Context) error { return drop(w.app.OrderSheet(ctx, 4001+last/2, clerk)) },
		"delivery sheet":     func(ctx context.Context) error { return drop(w.app.DeliverySheet(ctx, 7001+last/2, clerk)) },
		"invoice pile":       func(ctx context.Context) error { return drop(w.app.InvoicePile(ctx, w.people["clerk"])) },
		"invoices, newest":   func(ctx context.Context) error { return drop(w.app.Invoices(ctx, 0)) },
		"invoices, older":    func(ctx context.Context) error { return drop(w.app.Invoices(ctx, 1001+last/2)) },
		"invoice sheet":      func(ctx context.Context) error { return drop(w.app.InvoiceSheet(ctx, 1001+last/2, clerk)) },
		"holds":              func(ctx context.Context) error { return drop(w.app.HoldsView(ctx, w.people["clerk"])) },
		"payments":           func(ctx context.Context) error { return drop(w.app.PaymentsView(ctx)) },
		"payment proposal":   func(ctx context.Context) error { return drop(w.app.Propose(ctx, today.Add(60), today)) },
		"journal, newest":    func(ctx context.Context) error { return drop(w.app.Journal(ctx, 0)) },
		"journal, older":     func(ctx context.Context) error { return drop(w.app.Journal(ctx, last)) },
		"find by number":     func(ctx context.Context) error { return drop(w.app.Find(ctx, fmt.Sprint(4001+last/2))) },
		"find by first part": func(ctx context.Context) error { return drop(w.app.Find(ctx, "supplier 07")) },
	}
}

// lists compares the warm median of each call on two histories.
func lists(ctx context.Context, smallFolder, largeFolder string, small, large int64) error {
	times := map[string][2]time.Duration{}
	for i, part := range []struct {
		folder string
		last   int64
	}{{smallFolder, small}, {largeFolder, large}} {
		w, err := openWorld(ctx, part.folder)
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
		fmt.Printf("| %s | %d µs | %d µs | %.2f |\n", name, t[0].Microseconds(), t[1].Microseconds(), float64(t[1])/float64(t[0]))
	}
	return nil
}
