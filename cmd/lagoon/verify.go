package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"

	"lagoon/internal/jobs"
)

// verify says in one line that all agrees, or names each difference and fails.
func verify(ctx context.Context, folder string, out io.Writer) error {
	if _, err := os.Stat(filepath.Join(folder, "lagoon.db")); err != nil {
		return fmt.Errorf("there is no data in %s", folder)
	}
	data, err := open(ctx, folder)
	if err != nil {
		return err
	}
	defer func() { _ = data.Close() }() // only read
	verified, err := jobs.New(data, jobs.Options{}).Verify(ctx)
	if err != nil {
		return err
	}
	for _, d := range verified.Differences {
		if _, err := fmt.Fprintf(out, "%s: %s\n", d.Document, d.Text); err != nil {
			return err
		}
	}
	if n := len(verified.Differences); n > 0 {
		return fmt.Errorf("%d differences", n)
	}
	_, err = fmt.Fprintf(out, "All agrees: %d entries balance, goods received and payables equal their documents, %d audit rows are whole (head %.16s).\n", verified.Entries, verified.AuditRows, verified.Head)
	return err
}
