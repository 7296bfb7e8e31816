package main

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
)

// written is one statement of a transaction as it was executed.
type written struct {
	statement string
	args      []any
}

// posting compares invoices posted one by one, and in batches, with bare writing of
// what they write.
func (s settings) posting(ctx context.Context) error {
	base := filepath.Join(s.folder, "base")
	files, err := s.base(ctx, base)
	if err != nil {
		return err
	}
	fmt.Println("| posting | whole | bare | whole ÷ bare |")
	fmt.Println("|---|--:|--:|--:|")
	for _, m := range []struct {
		name, sync string
		files      []act.File
		size       int
	}{
		{"one by one, sync off", "OFF", files[:s.posts], 1},
		{"one by one, sync on", "FULL", files[:s.posts], 1},
		{"in batches of 16, sync off", "OFF", files[:s.bulk], s.bulk},
	} {
		var whole, bare []time.Duration
		var ratios []float64
		for round := range s.rounds {
			folder := filepath.Join(s.folder, fmt.Sprint("round", round))
			w, b, err := s.measure(ctx, base, folder, m.sync, m.files, m.size)
			if err != nil {
				return err
			}
			if err := os.RemoveAll(folder); err != nil {
				return err
			}
			whole, bare, ratios = append(whole, w), append(bare, b), append(ratios, float64(w)/float64(b))
		}
		slices.Sort(ratios)
		each := int64(len(m.files))
		fmt.Printf(
			"| %s, %d rounds of %d invoices | %d µs | %d µs | %.2f (%.2f to %.2f) |\n",
			m.name,
			s.rounds,
			each,
			median(whole).Microseconds()/each,
			median(bare).Microseconds()/each,
			ratios[len(ratios)/2],
			ratios[0],
			ratios[len(ratios)-1],
		)
	}
	return s.parts(ctx, base, files[:s.posts])
}

func median(all []time.Duration) time.Duration {
	slices.Sort(all)
	return all[len(all)/2]
}

// base makes the orders that the invoices are for.
func (s settings) base(ctx context.Context, folder string) ([]act.File, error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, err
	}
	w, err := found(ctx, folder, store.OpenUnsynced)
	if err != nil {
		return nil, err
	}
	var files []act.File
	for n := range max(s.posts, s.bulk) {
		order, err := w.order(ctx, n)
		if err != nil {
			return nil, err
		}
		files = append(files, invoice(order, n))
	}
	return files, w.store.Close()
}

// measure imports the files into a copy of the base, then writes the same rows bare
// into another copy.
func (s settings) measure(
	ctx context.Context,
	base, folder, sync string,
	files []act.File,
	size int,
) (whole, bare time.Duration, err error) {
	transactions, whole, err := s.whole(ctx, base, filepath.Join(folder, "whole"), sync, func(w *world) error { return w.takeIn(ctx, files, size) })
	if err != nil {
		return 0, 0, err
	}
	bare, err = s.bare(ctx, base, filepath.Join(folder, "bare"), sync, transactions)
	return whole, bare, err
}

// whole does something on a copy of the base, and learns what it writes.
func (s settings) whole(
	ctx context.Context,
	base, folder, sync string,
	do func(*world) error,
) ([][]written, time.Duration, error) {
	// Measured first without looking, then once more to learn what is written.
	var took time.Duration
	var transactions [][]written
	for _, look := range []bool{false, true} {
		part := fmt.Sprint(folder, look)
		if err := copyFolder(base, part); err != nil {
			return nil, 0, err
		}
		open := store.Open
		if sync == "OFF" {
			open = store.OpenUnsynced
		}
		w, err := openWorld(ctx, part, open)
		if err != nil {
			return nil, 0, err
		}
		if look {
			w.store.Watch(func(statement string, args []any) {
				if statement == store.Begin {
					transactions = append(transactions, nil)
					return
				}
				last := len(transactions) - 1
				transactions[last] = append(transactions[last], written{statement, slices.Clone(args)})
			})
		}
		started := time.Now()
		if err := do(w); err != nil {
			return nil, 0, err
		}
		if !look {
			took = time.Since(started)
		}
		if err := w.store.Close(); err != nil {
			return nil, 0, err
		}
	}
	return transactions, took, nil
}

// takeIn imports files one by one, or all at once in batches.
func (w *world) takeIn(ctx context.Context, files []act.File, size int) error {
	if size > 1 {
		return invoices.Import(
			ctx,
			w.app,
			w.as("clerk"),
			slices.Values(files),
			func(i invoices.Imported) error { return verified(i.Name, i.Captured, i.Err) },
		)
	}
	for _, f := range files {
		captured, err := invoices.ImportOne(ctx, w.app, w.as("clerk"), f)
		if err := verified(f.Name, captured, err); err != nil {
			return err
		}
	}
	return nil
}

func verified(name string, captured act.Captured, err error) error {
	if err != nil || captured.State != trade.Verified {
		return errors.Join(err, fmt.Errorf("%s: %s %s", name, captured.State, captured.Summary))
	}
	return nil
}

func (s settings) bare(
	ctx context.Context,
	base, folder, sync string,
	transactions [][]written,
) (time.Duration, error) {
	if err := copyFolder(base, folder); err != nil {
		return 0, err
	}
	db, err := sql.Open(
		"sqlite3",
		"file:"+filepath.Join(
			folder,
			"lagoon.db",
		)+"?_busy_timeout=5000&_foreign_keys=1&_cache_size=-65536&_mutex=no&_journal_mode=WAL&_txlock=immediate",
	)
	if err != nil {
		return 0, err
	}
	db.SetMaxOpenConns(1)
	if _, err := db.ExecContext(ctx, `PRAGMA synchronous = `+sync); err != nil {
		return 0, err
	}
	prepared := map[string]*sql.Stmt{}
	for _, t := range transactions {
		for _, x := range t {
			if prepared[x.statement] == nil {
				if prepared[x.statement], err = db.PrepareContext(ctx, x.statement); err != nil {
					return 0, err
				}
			}
		}
	}
	started := time.Now()
	for _, t := range transactions {
		tx, err := db.BeginTx(ctx, nil)
		if err != nil {
			return 0, err
		}
		bound := map[string]*sql.Stmt{}
		for _, x := range t {
			if bound[x.statement] == nil {
				bound[x.statement] = tx.StmtContext(ctx, prepared[x.statement])
			}
			if _, err := bound[x.statement].ExecContext(ctx, x.args...); err != nil {
				return 0, fmt.Errorf("%w in %s", err, x.statement)
			}
		}
		if err := tx.Commit(); err != nil {
			return 0, err
		}
	}
	return time.Since(started), db.Close()
}
