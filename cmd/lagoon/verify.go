package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/prove"
	"lagoon/internal/store"
)

// verify says in one line that all agrees, or names each difference and fails.
func verify(ctx context.Context, at place, against prove.Against, out io.Writer) error {
	path, err := dataIn(at.data)
	if err != nil {
		return err
	}
	verified, err := verified(ctx, path, at.sealKey, against)
	if err != nil {
		return err
	}
	for _, u := range verified.Unproven {
		if _, err := fmt.Fprintf(out, "Unproven: %s.\n", u); err != nil {
			return err
		}
	}
	for _, d := range verified.Differences {
		if _, err := fmt.Fprintf(out, "%s: %s\n", d.Document, d.Text); err != nil {
			return err
		}
	}
	if n := len(verified.Differences); n > 0 {
		return fmt.Errorf("%d differences", n)
	}
	_, err = fmt.Fprintf(
		out,
		"All agrees: %d entries balance, states and balances equal their documents, %d audit rows are whole (head %s), and every row they name says what was recorded. Not covered: %s.\n",
		verified.Entries,
		verified.AuditRows,
		verified.Head,
		strings.Join(store.NotCovered(), ", "),
	)
	return err
}

// dataIn is the file of the data in a folder, which must be there.
func dataIn(folder string) (string, error) {
	path := filepath.Join(folder, "lagoon.db")
	if _, err := os.Stat(path); err != nil {
		return "", fmt.Errorf("there is no data in %s", folder)
	}
	return path, nil
}

// verified verifies the data in a file, and changes nothing of it.
func verified(ctx context.Context, path, key string, against prove.Against) (prove.Proof, error) {
	sealed, err := sealKey(key)
	if err != nil {
		return prove.Proof{}, err
	}
	s, err := store.OpenToRead(ctx, path)
	if err != nil {
		return prove.Proof{}, err
	}
	defer func() { _ = s.Close() }() // only read
	s.SealWith(sealed)
	return prove.BooksAgainst(ctx, act.New(s, act.Options{}), against)
}
