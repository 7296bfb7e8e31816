package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
)

// Origin says how data came to be.
type Origin int

// Where data comes from: nobody has founded anything in it, a person has, or the demo.
const (
	Unfounded Origin = iota
	Founded
	Demo
)

// OriginOf tells how the data in a file came to be, and changes nothing of it.
func OriginOf(ctx context.Context, path string) (Origin, error) {
	db, err := sql.Open("sqlite3", source(path)+"&_query_only=1")
	if err != nil {
		return Founded, err
	}
	defer db.Close() //nolint:errcheck // only read
	var tables, isDemo int
	if err := db.QueryRowContext(ctx, `SELECT count(*) FROM sqlite_schema WHERE name = 'company'`).Scan(&tables); err != nil {
		return Founded, err
	}
	if tables == 0 {
		var others int
		if err := db.QueryRowContext(ctx, `SELECT count(*) FROM sqlite_schema
			WHERE name NOT LIKE 'goose_%' AND name NOT LIKE 'sqlite_%'`).Scan(&others); err != nil ||
			others > 0 {
			return Founded, err
		}
		return Unfounded, nil
	}
	switch err := db.QueryRowContext(ctx, `SELECT demo FROM company`).Scan(&isDemo); {
	case errors.Is(err, sql.ErrNoRows):
		return Unfounded, nil
	case err != nil:
		return Founded, err
	case isDemo == 1:
		return Demo, nil
	default:
		return Founded, nil
	}
}

// Unproved ends the name of a copy that is no backup: it was not found whole.
const Unproved = ".unproved"

// Backup copies the data as it stands between two commits into a new file, while
// others read and write. It never writes over a file. The copy gets its name once it is proved: one that was not
// found whole is kept beside it as unproved, in the place of an earlier such, and of one that was stopped nothing is left.
func Backup(ctx context.Context, from, to string, prove func(path string) error) error {
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s is there already", to)
	}
	part := to + ".part"
	if err := os.Remove(part); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	db, err := sql.Open("sqlite3", source(from))
	if err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, `VACUUM INTO ?`, part)
	if err := errors.Join(err, db.Close()); err != nil {
		return errors.Join(fmt.Errorf("store: backup: %w", err), os.RemoveAll(part))
	}
	if err := prove(part); ctx.Err() != nil {
		return errors.Join(errors.New("the backup was stopped before it was proved; nothing of it is left"), os.Remove(part))
	} else if err != nil {
		return errors.Join(fmt.Errorf("%w; it is no backup, and kept as %s", err, to+Unproved), moveInto(part, to+Unproved))
	}
	return moveInto(part, to)
}

// moveInto gives a complete file its name, and has both on the disk before it returns.
func moveInto(part, to string) error {
	if err := onDisk(part); err != nil {
		return err
	}
	if err := os.Rename(part, to); err != nil {
		return err
	}
	return onDisk(filepath.Dir(to))
}

// onDisk waits until a file, or the names in a folder, are on the disk.
func onDisk(path string) error {
	file, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(file.Sync(), file.Close())
}

// Restore puts a copy of a backup in the place of the data; nobody may have the data
// open. What was there is kept under the name that it returns, empty where nothing was.
// A log that was left over goes with the data it belongs to: beside other data it would
// ruin it.
func Restore(backup, to, aside string) (kept string, err error) {
	content, err := os.Open(backup)
	if err != nil {
		return "", err
	}
	defer content.Close() //nolint:errcheck // only read
	part := to + ".part"
	file, err := os.OpenFile(part, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return "", err
	}
	_, err = file.ReadFrom(content)
	if err := errors.Join(err, file.Close()); err != nil {
		return "", errors.Join(err, os.Remove(part))
	}
	for n, wanted := 2, aside; ; n++ { // two within a second are kept, both
		if _, err := os.Lstat(aside); errors.Is(err, os.ErrNotExist) {
			break
		}
		aside = fmt.Sprintf("%s-%d", wanted, n)
	}
	for _, suffix := range []string{"-shm", "-wal", ""} {
		switch err := os.Rename(to+suffix, aside+suffix); {
		case err == nil:
			kept = aside
		case !errors.Is(err, os.ErrNotExist):
			return kept, err
		}
	}
	return kept, moveInto(part, to)
}
