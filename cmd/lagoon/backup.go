package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/prove"
	"lagoon/internal/store"
)

// backup copies the data into one file, also while Lagoon runs, and proves the copy. With a
// number to keep, to is a folder: the copy is named by the time, and the oldest beyond that
// number go, once the new one has proved itself.
func backup(ctx context.Context, at place, to string, keep int, out io.Writer) error {
	if to == "" {
		return errors.New("backup needs the name of the file to write")
	}
	from, err := dataIn(at.data)
	if err != nil {
		return err
	}
	folder := to
	if keep > 0 {
		if err := os.MkdirAll(folder, 0o700); err != nil {
			return err
		}
		to = filepath.Join(folder, backupName+time.Now().UTC().Format("20060102T150405.000")+".db")
	}
	var verified prove.Proof
	err = store.Backup(ctx, from, to, func(copied string) (err error) {
		verified, err = proved(ctx, copied, at.sealKey)
		return err
	})
	if err != nil {
		return err
	}
	if keep > 0 {
		if err := dropOldest(folder, keep); err != nil {
			return err
		}
	}
	if _, err := ask(ctx, at, []string{"note", string(act.BackedUp), filepath.Base(to)}); err != nil {
		return fmt.Errorf(
			"%s is whole (head %s), but that it was made could not be recorded: %w",
			to,
			verified.Head,
			err,
		)
	}
	_, err = fmt.Fprintf(
		out,
		"%s holds everything up to audit row %d and agrees with itself. Note its head elsewhere: %s\n",
		to,
		verified.AuditRows,
		verified.Head,
	)
	return err
}

// backupName begins the names of backups that are kept by number.
const backupName = "lagoon-"

// dropOldest keeps the newest backups of a folder. Only files that backup named itself go.
func dropOldest(folder string, keep int) error {
	names, err := filepath.Glob(filepath.Join(folder, backupName+"*T*.db"))
	slices.Sort(names) // by time
	for len(names) > keep && err == nil {
		err = os.Remove(names[0])
		names = names[1:]
	}
	return err
}

// restore puts a backup in the place of the data, once it has proved itself. What was
// there is kept beside it. Everybody signs in again.
func restore(ctx context.Context, at place, from string, out io.Writer) error {
	folder := at.data
	if from == "" {
		return errors.New("restore needs the name of the backup")
	}
	if _, err := os.Stat(from); err != nil {
		return fmt.Errorf("there is no file %s", from)
	}
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return err
	}
	unlock, err := lock(folder)
	if err != nil {
		return err
	}
	defer unlock() // nobody else has the data open
	verified, err := proved(ctx, from, at.sealKey)
	if err != nil {
		return err
	}
	to := filepath.Join(folder, "lagoon.db")
	kept, err := store.Restore(from, to, to+".before-"+time.Now().UTC().Format("20060102T150405"))
	if err != nil {
		return err
	}
	if err := remove(folder, sessionFiles...); err != nil {
		return err
	}
	data, err := open(ctx, at)
	if err != nil {
		return err
	}
	_, err = console{act.New(data, act.Options{})}.do(ctx, []string{"note", string(act.Restored), filepath.Base(from)})
	if err := errors.Join(err, data.Close()); err != nil {
		return err
	}
	if kept != "" {
		kept = " What was there is kept as " + kept + "."
	}
	_, err = fmt.Fprintf(
		out,
		"%s stands again as of audit row %d (head %s).%s\n",
		folder,
		verified.AuditRows,
		verified.Head,
		kept,
	)
	return err
}

// proved verifies the data in a file and fails on any difference.
func proved(ctx context.Context, path, key string) (prove.Proof, error) {
	verified, err := verified(ctx, path, key, prove.Against{File: true})
	if err != nil {
		return verified, fmt.Errorf("%s cannot be read: %w", path, err)
	}
	if n := len(verified.Differences); n > 0 {
		return verified, fmt.Errorf(
			"%s does not agree with itself: %d differences, the first: %s: %s",
			path,
			n,
			verified.Differences[0].Document,
			verified.Differences[0].Text,
		)
	}
	return verified, nil
}
