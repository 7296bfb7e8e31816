package store

// This file runs the questions of lists that people put together themselves (package lists): they cannot be prepared, and
// they end with whoever asked.

import (
	"context"
	"database/sql"
	"fmt"
)

// Value is a value of a question that is put together, by its name.
type Value struct {
	Name string
	Is   any
}

// EachRow reads the rows of a question one after another, as text, until each says that it has enough. It ends with ctx.
func (t *Tx) EachRow(ctx context.Context, text string, values []Value, columns int, each func(cells []string) (bool, error)) error {
	args := make([]any, len(values))
	for i, v := range values {
		args[i] = sql.Named(v.Name, v.Is)
	}
	rows, err := t.tx.QueryContext(ctx, text, args...)
	if err != nil {
		return fmt.Errorf("store: %w in %s", err, text)
	}
	defer rows.Close() //nolint:errcheck // reported by rows.Err
	cells, at := make([]string, columns), make([]any, columns)
	raw := make([]sql.NullString, columns)
	for i := range raw {
		at[i] = &raw[i]
	}
	for rows.Next() {
		if err := rows.Scan(at...); err != nil {
			return fmt.Errorf("store: %w in %s", err, text)
		}
		for i := range raw {
			cells[i] = raw[i].String // what is not there is empty
		}
		if more, err := each(cells); err != nil || !more {
			return err
		}
	}
	return rows.Err()
}
