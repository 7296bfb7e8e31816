package demo

import (
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/jobs"
	"lagoon/internal/store"
)

// Whatever row of facts, states, masters or audit is changed, removed or added by hand, past the jobs: verify finds it.
func TestVerifyFindsEveryChangeByHand(t *testing.T) {
	now := time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC)
	folder := t.TempDir()
	path := filepath.Join(folder, "lagoon.db")
	s, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, s.Prepare(t.Context()))
	require.NoError(t, Build(t.Context(), s, now, filepath.Join(folder, "post"), filepath.Join(folder, "bank")))
	app := jobs.New(s, jobs.Options{Now: func() time.Time { return now }})
	found := func() bool {
		v, err := app.Verify(t.Context())
		return err != nil || len(v.Differences) > 0
	}
	require.False(t, found())
	exec := func(text string, args ...any) {
		t.Helper()
		_, err := s.Exec(t.Context(), text, args...)
		require.NoError(t, err, text)
	}
	exec(`PRAGMA foreign_keys = OFF`)
	exec(`PRAGMA ignore_check_constraints = ON`)
	tables, err := s.Tables(t.Context())
	require.NoError(t, err)
	for _, name := range tables.Triggers {
		exec(`DROP TRIGGER ` + name)
	}
	random := rand.New(rand.NewPCG(uint64(now.Unix()), 7))
	covered := 0
	for table, columns := range tables.Columns {
		if why, not := store.Unsealed[table]; not && !strings.HasPrefix(why, store.Proved) {
			continue
		}
		covered++
		rows := int64(0)
		require.NoError(t, s.QueryRow(t.Context(), `SELECT count(*) FROM `+table).Scan(&rows))
		require.Positive(t, rows, "the demo shows %s", table)
		columns = slices.DeleteFunc(columns, func(c string) bool { return store.UnsealedColumns[table+"."+c] != "" })
		exec(`CREATE TABLE kept AS SELECT * FROM ` + table)
		restore := func() {
			exec(`DELETE FROM ` + table)
			exec(fmt.Sprintf(`INSERT INTO %s SELECT * FROM kept`, table))
		}
		for range 2 {
			column := columns[random.IntN(len(columns))]
			where := fmt.Sprintf(`(%s) IS (SELECT %s FROM kept LIMIT 1 OFFSET %d)`, strings.Join(columns[:min(2, len(columns))], ", "), strings.Join(columns[:min(2, len(columns))], ", "), random.Int64N(rows))
			exec(fmt.Sprintf(`UPDATE %[1]s SET %[2]s = CASE typeof(%[2]s) WHEN 'integer' THEN %[2]s + 1000003 WHEN 'text' THEN %[2]s || 'x' WHEN 'blob' THEN CAST(%[2]s || 'x' AS BLOB)
				ELSE (SELECT CASE type WHEN 'INTEGER' THEN 1000003 ELSE 'x' END FROM pragma_table_info('%[1]s') WHERE name = '%[2]s') END WHERE %[3]s`, table, column, where))
			require.True(t, found(), "%s.%s where %s", table, column, where)
			restore()
		}
		exec(fmt.Sprintf(`DELETE FROM %[1]s WHERE (%[2]s) IS (SELECT %[2]s FROM kept LIMIT 1 OFFSET %[3]d)`, table, strings.Join(columns[:min(2, len(columns))], ", "), random.Int64N(rows)))
		require.True(t, found(), "a row of %s is gone", table)
		restore()
		exec(`DROP TABLE kept`)
	}
	require.Greater(t, covered, 38)
	exec(`INSERT INTO entry_line (entry, no, role, detail, amount, base) VALUES (1, 99, 'stock', '', 0, 0)`)
	require.True(t, found(), "a row that no command wrote")
	exec(`DELETE FROM entry_line WHERE entry = 1 AND no = 99`)
	require.False(t, found(), "all of it was put back")
}
