package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"lagoon/internal/prove"
	"lagoon/internal/store"
)

// proving measures how long verify takes on books that jobs made, whose record is whole, of a tenth as many invoices and of so
// many, and how long a backup takes beside a bare copy of the file. Invoices are of three lines, ordered and received.
func (s settings) proving(ctx context.Context) error {
	fmt.Println("| invoices | file | verify | an invoice | backup, proved | of it written | bare copy |\n|--:|--:|--:|--:|--:|--:|--:|")
	for _, n := range []int{s.prove / 10, s.prove} {
		folder := filepath.Join(s.folder, fmt.Sprint("proved", n))
		books := s
		books.posts, books.bulk = n, n
		files, err := books.base(ctx, folder)
		if err != nil {
			return err
		}
		w, err := openWorld(ctx, folder, store.OpenUnsynced)
		if err != nil {
			return err
		}
		if err := w.takeIn(ctx, files, n); err != nil {
			return err
		}
		started := time.Now()
		if err := clean(ctx, w.store); err != nil {
			return err
		}
		verify := time.Since(started)
		from := filepath.Join(folder, "lagoon.db")
		started = time.Now()
		var writing time.Duration
		err = store.Backup(ctx, from, filepath.Join(s.folder, "backup.db"), func(path string) error {
			writing = time.Since(started)
			copied, err := store.OpenUnsynced(ctx, path)
			if err != nil {
				return err
			}
			defer copied.Close() //nolint:errcheck // it was only read
			return clean(ctx, copied)
		})
		if err != nil {
			return err
		}
		backup := time.Since(started)
		started = time.Now()
		if err := copyFolder(folder, folder+"-copy"); err != nil {
			return err
		}
		bare := time.Since(started)
		size, err := os.Stat(from)
		if err != nil {
			return err
		}
		fmt.Printf("| %d | %d MB | %d ms | %d µs | %d ms | %d ms | %d ms |\n", n, size.Size()/1_000_000, verify.Milliseconds(),
			verify.Microseconds()/int64(n), backup.Milliseconds(), writing.Milliseconds(), bare.Milliseconds())
		for _, gone := range []string{folder, folder + "-copy", filepath.Join(s.folder, "backup.db")} {
			if err := os.RemoveAll(gone); err != nil {
				return err
			}
		}
		if err := w.store.Close(); err != nil {
			return err
		}
	}
	return nil
}

// clean proves books and says what differs.
func clean(ctx context.Context, s *store.Store) error {
	proof, err := prove.Books(ctx, appOn(s))
	if err == nil && len(proof.Differences) > 0 {
		err = fmt.Errorf("the books differ: %v", proof.Differences[0])
	}
	return err
}
