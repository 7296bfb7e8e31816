package store

// This file says which schema this Lagoon keeps its data in, and tells a file of another one
// and one whose schema was changed past the migrations.

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/binary"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"sync"
)

// ErrOtherSchema says that the data is of another version of Lagoon.
var ErrOtherSchema = errors.New("the data is of another version of Lagoon")

// schemaMarks are what files of the schemas so far carry in their user_version, the oldest first: hashes of the
// migrations up to each, above zero. A migration that was released is never changed; later ones are added.
var schemaMarks = sync.OnceValue(func() []int32 {
	names, err := fs.Glob(migrations, "migrations/*.sql")
	if err != nil {
		panic(err) // they are a part of the program
	}
	hash := sha256.New()
	var marks []int32
	for _, name := range names {
		content, err := fs.ReadFile(migrations, name)
		if err != nil {
			panic(err)
		}
		_, _ = hash.Write(content) // a hash takes everything
		marks = append(marks, int32(binary.BigEndian.Uint32(hash.Sum(nil))&0x7fffffff|1))
	}
	return marks
})

// schemaMark is that of this Lagoon.
func schemaMark() int32 { return schemaMarks()[len(schemaMarks())-1] }

// SchemaID names the schema that this Lagoon keeps its data in.
func SchemaID() string { return fmt.Sprintf("%08x", schemaMark()) }

// checkSchema refuses a file that a later or unknown version of Lagoon made, before anything of it is changed. A file
// of an earlier one is migrated where it may be written, and refused where it is only read.
func checkSchema(ctx context.Context, db *sql.DB, known []int32) error {
	var founded, mark int
	if err := db.QueryRowContext(ctx, `SELECT count(*) FROM sqlite_schema WHERE name = 'goose_db_version'`).Scan(&founded); err != nil ||
		founded == 0 {
		return err
	}
	if err := db.QueryRowContext(ctx, `PRAGMA user_version`).Scan(&mark); err != nil {
		return err
	}
	if !slices.Contains(known, int32(mark)) {
		return fmt.Errorf(
			"%w: its schema is %08x, this one's is %s. Start it with the Lagoon that made it, or restore a backup that this one made",
			ErrOtherSchema, mark, SchemaID(),
		)
	}
	return nil
}

// markSchema writes on a file which schema it has.
func markSchema(ctx context.Context, db *sql.DB) error {
	_, err := db.ExecContext(ctx, fmt.Sprintf(`PRAGMA user_version = %d`, schemaMark()))
	return err
}

// madeOf is what a file is made of: the statement of each table, index, view and trigger.
func madeOf(ctx context.Context, db *sql.DB) (map[string]string, error) {
	rows, err := db.QueryContext(
		ctx,
		`SELECT type || ' ' || name, coalesce(sql, '') FROM sqlite_schema
			WHERE name NOT LIKE 'sqlite_%' AND name NOT LIKE 'goose_%'`,
	)
	if err != nil {
		return nil, err
	}
	defer rows.Close() //nolint:errcheck // reported by rows.Err
	parts := map[string]string{}
	for rows.Next() {
		var name, text string
		if err := rows.Scan(&name, &text); err != nil {
			return nil, err
		}
		parts[name] = text
	}
	return parts, rows.Err()
}

// SchemaDifferences says what the file is made of otherwise than the migrations make it.
func (s *Store) SchemaDifferences(ctx context.Context) ([]string, error) {
	fresh, err := sql.Open("sqlite3", ":memory:")
	if err != nil {
		return nil, err
	}
	defer fresh.Close() //nolint:errcheck // in memory
	fresh.SetMaxOpenConns(1)
	if err := migrate(ctx, fresh); err != nil {
		return nil, err
	}
	want, err := madeOf(ctx, fresh)
	if err != nil {
		return nil, err
	}
	is, err := madeOf(ctx, s.reader)
	var said []string
	for name, text := range want {
		switch found, there := is[name]; {
		case !there:
			said = append(said, "the "+name+" is missing")
		case found != text:
			said = append(said, "the "+name+" is not as the migrations make it")
		}
	}
	for name := range is {
		if _, known := want[name]; !known {
			said = append(said, "the "+name+" was added")
		}
	}
	slices.Sort(said)
	return said, err
}

// Integrity is what SQLite's own check of the file finds, at most 100 things. It is asked of a file that was just
// opened: what a connection remembers of a search index that others have written is checked as well.
func (s *Store) Integrity(ctx context.Context) ([]string, error) {
	rows, err := s.reader.QueryContext(ctx, `PRAGMA integrity_check`)
	if err != nil {
		return nil, err
	}
	defer rows.Close() //nolint:errcheck // reported by rows.Err
	var said []string
	for rows.Next() {
		var text string
		if err := rows.Scan(&text); err != nil {
			return said, err
		}
		if text != "ok" {
			said = append(said, text)
		}
	}
	return said, rows.Err()
}
