package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"lagoon/internal/jobs"
	"lagoon/internal/store"
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
	_, err = fmt.Fprintf(out, "All agrees: %d entries balance, states and balances equal their documents, %d audit rows are whole (head %.16s), and every row they name says what was recorded. Not covered: %s.\n",
		verified.Entries, verified.AuditRows, verified.Head, strings.Join(store.NotCovered(), ", "))
	return err
}
