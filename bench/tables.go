package main

// This file measures tables of masters that are taken in: how long a row takes once there are
// many, and how long somebody else who writes meanwhile waits.

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/format/tabular"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/tables"
)

const mostMasters = 50_000

// tablesTaken takes in items until there are many, and reports the last table.
func tablesTaken(ctx context.Context, folder string) error {
	w, err := found(ctx, folder, store.Open) // it waits for the disk, as Lagoon does
	if err != nil {
		return err
	}
	fmt.Printf(
		"\nA table of items taken in, with another person's bookings meanwhile:\n\n| items before | rows | a row | another's wait, median | most |\n|--:|--:|--:|--:|--:|\n",
	)
	for from := 0; from < mostMasters+tabular.MostRows/2; from += tabular.MostRows / 2 {
		if err := w.takeTable(ctx, from, tabular.MostRows/2); err != nil {
			return err
		}
	}
	return w.store.Close()
}

func (w *world) takeTable(ctx context.Context, from, rows int) error {
	var table strings.Builder
	table.WriteString("code,name,unit\n")
	for i := range rows {
		fmt.Fprintf(&table, "T%06d,Item %d of a table,KGM\n", from+i, from+i)
	}
	var waits []time.Duration
	var all sync.WaitGroup
	done := make(chan struct{})
	var failed error
	all.Go(func() {
		for {
			select {
			case <-done:
				return
			case <-time.After(20 * time.Millisecond):
			}
			begun := time.Now()
			if _, failed = masters.SaveBudget(ctx, w.app, w.as("admin"), store.Budget{Code: "FEED", Name: "Feed", Account: "stock"}); failed != nil {
				return
			}
			waits = append(waits, time.Since(begun))
		}
	})
	begun := time.Now()
	answer, err := tables.Import(
		ctx,
		w.app,
		w.as("admin"),
		tables.Items,
		act.File{Name: "items.csv", Content: []byte(table.String())},
		false,
	)
	took := time.Since(begun)
	close(done)
	all.Wait()
	if err != nil || failed != nil || answer.Wrong > 0 {
		return fmt.Errorf("%w, %w, %d rows are wrong", err, failed, answer.Wrong)
	}
	slices.Sort(waits)
	fmt.Printf(
		"| %d | %d | %.2f ms | %.0f ms | %.0f ms |\n",
		from,
		rows,
		took.Seconds()*1000/float64(rows),
		waits[len(waits)/2].Seconds()*1000,
		waits[len(waits)-1].Seconds()*1000,
	)
	return nil
}
