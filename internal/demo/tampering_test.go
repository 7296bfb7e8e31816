package demo

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/prove"
	"lagoon/internal/store"
	"lagoon/internal/store/byhand"
	"lagoon/internal/tables"
)

// damages are what a hand may put in the place of a value.
var damages = []string{
	`CASE typeof(%[1]s) WHEN 'integer' THEN %[1]s + 1000003 ELSE %[1]s || 'x' END`,
	`-%[1]s`, `1 - %[1]s`, `0`, `''`, `NULL`, `-9223372036854775807 - 1`, `9223372036854775807`, `x'00ff'`, `'{"'`,
}

// Whatever row of facts, states, masters or audit is changed, removed or added by hand,
// past the jobs: verify finds it, and comes to its end all the same. Of most rows that are sealed the seals alone are asked,
// but where it is tried for long.
func TestVerifyFindsEveryChangeByHand(t *testing.T) {
	now := time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC)
	folder := t.TempDir()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, Build(t.Context(), s, now, filepath.Join(folder, "post"), filepath.Join(folder, "bank")))
	app := act.New(s, act.Options{Now: func() time.Time { return now }})
	// A table of orders as well, which the demo has none of.
	table := act.File{
		Name:    "orders.csv",
		Content: []byte("order,supplier,wanted_on,item,quantity,price,tax_rate,budget\nT-1,BRACK,2026-12-01,CLAM,100,2,0,FEED\n"),
	}
	rhea, err := app.ActorByLogin(t.Context(), "rhea")
	require.NoError(t, err)
	_, err = tables.Import(t.Context(), app, act.Command{Actor: rhea}, tables.Orders, table, false)
	require.NoError(t, err)
	differences := func() []prove.Difference {
		t.Helper()
		v, err := prove.Books(t.Context(), app)
		require.NoError(t, err)
		return v.Differences
	}
	// broken is what the seals alone say: a third of the time that all of the proof takes.
	broken := func() (found []store.Broken) {
		t.Helper()
		require.NoError(t, s.Read(t.Context(), func(tx *store.Tx) error {
			seals := tx.CheckSeals()
			for last := int64(0); ; {
				rows, err := tx.AuditAfter(last)
				if err != nil {
					return err
				}
				if len(rows) == 0 {
					break
				}
				for _, row := range rows {
					if err := seals.Check(row); err != nil {
						return err
					}
					last = row.Seq
				}
			}
			err := seals.Finish()
			found = seals.Broken
			return err
		}))
		return found
	}
	require.Empty(t, differences())
	require.Empty(t, broken())
	hand := byhand.On(t, s)
	exec := func(text string) {
		t.Helper()
		_, err := hand.ExecContext(t.Context(), text)
		require.NoError(t, err, text)
	}
	exec(`PRAGMA foreign_keys = OFF`)
	exec(`PRAGMA ignore_check_constraints = ON`)
	tables, err := s.Tables(t.Context())
	require.NoError(t, err)
	for _, name := range tables.Triggers {
		exec(`DROP TRIGGER ` + name)
	}
	seed, all := uint64(7), os.Getenv("LAGOON_SLOW") != ""
	if all {
		seed = uint64(time.Now().UnixNano())
	}
	t.Log("seed", seed)
	random := rand.New(rand.NewPCG(seed, 0))
	covered, done := 0, 0
	for _, table := range slices.Sorted(maps.Keys(tables.Columns)) {
		why, unsealed := store.Unsealed[table]
		if unsealed && !strings.HasPrefix(why, store.Proved) {
			continue
		}
		covered++
		columns := slices.DeleteFunc(tables.Columns[table], func(c string) bool { return store.UnsealedColumns[table+"."+c] != "" })
		key := strings.Join(columns[:min(2, len(columns))], ", ")
		exec(`CREATE TEMP TABLE kept AS SELECT * FROM ` + table)
		rows := int64(0)
		require.NoError(t, hand.QueryRowContext(t.Context(), `SELECT count(*) FROM kept`).Scan(&rows))
		require.Positive(t, rows, "the demo shows %s", table)
		anyRow := func() string {
			return fmt.Sprintf(`(%[1]s) IS (SELECT %[1]s FROM kept LIMIT 1 OFFSET %[2]d)`, key, random.Int64N(rows))
		}
		changed := func(text string) {
			t.Helper()
			result, err := hand.ExecContext(t.Context(), text)
			if err != nil {
				return // the file's own form refuses it
			}
			if n, err := result.RowsAffected(); n == 0 || err != nil {
				return // it said so already
			}
			done++
			if all || unsealed || done%12 == 0 {
				found := differences()
				require.NotEmpty(t, found, text)
				for _, d := range found {
					require.NotContains(t, d.Text, "unexpected:", text)
				}
			} else {
				require.NotEmpty(t, broken(), text)
			}
			exec(`DELETE FROM ` + table)
			exec(fmt.Sprintf(`INSERT INTO %s SELECT * FROM kept`, table))
		}
		// One seal proves a row there and unchanged, so either is tried of it; what is proved otherwise is tried with both.
		gone := all || unsealed || random.IntN(2) == 0
		if gone {
			changed(fmt.Sprintf(`DELETE FROM %s WHERE %s`, table, anyRow()))
		}
		if all {
			changed(`DELETE FROM ` + table)
		}
		for tried, column := range shuffled(random, columns) {
			for again, damage := range shuffled(random, damages) {
				if !all && (tried+again > 0 || gone && !unsealed) {
					continue
				}
				value := damage
				if strings.Contains(damage, "%") {
					value = fmt.Sprintf(damage, column)
				}
				changed(fmt.Sprintf(`UPDATE %[1]s SET %[2]s = %[3]s WHERE %[4]s AND %[2]s IS NOT %[3]s`, table, column, value, anyRow()))
			}
		}
		exec(`DROP TABLE kept`)
	}
	require.Greater(t, covered, 38)
	require.Greater(t, done, covered*3/4, "most of what was tried changed something")
	exec(`INSERT INTO entry_line (entry, no, role, detail, amount, base) VALUES (1, 99, 'stock', '', 0, 0)`)
	require.NotEmpty(t, differences(), "a row that no command wrote")
	exec(`DELETE FROM entry_line WHERE entry = 1 AND no = 99`)
	require.Empty(t, differences(), "all of it was put back")
}

func shuffled(random *rand.Rand, of []string) []string {
	of = slices.Clone(of)
	random.Shuffle(len(of), func(i, j int) { of[i], of[j] = of[j], of[i] })
	return of
}
