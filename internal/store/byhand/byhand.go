// Package byhand reads and changes a file of Lagoon's past its jobs, as an intruder, a careless person or a failing
// disk would. Tests of what notices it use it, and benchmarks that look at what was written.
package byhand

import (
	"database/sql"
	"net/url"
	"testing"

	_ "github.com/mattn/go-sqlite3" // the driver
	"github.com/stretchr/testify/require"
)

// File is a store that says where its file is.
type File interface{ Path() string }

// Open opens a file with one connection of its own, so that what is set on it stays. Nothing is guarded: no foreign
// keys, no waiting for the disk.
func Open(path string) (*sql.DB, error) {
	db, err := sql.Open("sqlite3", "file:"+(&url.URL{Path: path}).EscapedPath()+"?_busy_timeout=5000&_synchronous=OFF")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	return db, nil
}

// On opens the file of a test's store until the test ends.
func On(t testing.TB, file File) *sql.DB {
	t.Helper()
	db, err := Open(file.Path())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, db.Close()) })
	return db
}
