//go:build reference

package reference

// This file opens what Lagoon writes for others in an office suite, and compares the figures.

import (
	"bytes"
	"encoding/csv"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/demo"
	"lagoon/internal/format/tabular"
	"lagoon/internal/lists"
	"lagoon/internal/store"
)

// inOffice opens files in the office suite and gives what each cell of their first sheets holds, not how it is shown.
func inOffice(t *testing.T, files map[string][]byte) map[string][][]string {
	t.Helper()
	folder := t.TempDir()
	given := []string{"-env:UserInstallation=file://" + filepath.Join(folder, "user"), "--headless",
		"--convert-to", "csv:Text - txt - csv (StarCalc):44,34,76,1,,1033,false,false,false", "--outdir", folder}
	for name, content := range files {
		path := filepath.Join(folder, name+".xlsx")
		require.NoError(t, os.WriteFile(path, content, 0o600))
		given = append(given, path)
	}
	said, err := exec.Command("soffice", given...).CombinedOutput()
	require.NoError(t, err, string(said))
	all := map[string][][]string{}
	for name := range files {
		read, err := os.ReadFile(filepath.Join(folder, name+".csv"))
		require.NoError(t, err, string(said))
		all[name], err = csv.NewReader(bytes.NewReader(read)).ReadAll()
		require.NoError(t, err)
	}
	return all
}

// same tells whether two cells hold the same: a number, a day, or a text.
func same(ours, theirs string) bool {
	if ours == theirs {
		return true
	}
	a, err1 := money.ParseDecimal(ours)
	b, err2 := money.ParseDecimal(theirs)
	if err1 == nil && err2 == nil {
		return a == b
	}
	day, err := time.Parse("1/2/2006", theirs)
	return err == nil && day.Format(time.DateOnly) == ours
}

// Lists that are taken along as XLSX open in another program with the same figures, numbers as numbers and days as days, as in the CSV.
func TestListsOpenInAnOfficeSuite(t *testing.T) {
	now := time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC)
	folder := t.TempDir()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, demo.Build(t.Context(), s, now, filepath.Join(folder, "post"), filepath.Join(folder, "bank")))
	app := act.New(s, act.Options{Now: func() time.Time { return now }})
	tomas, err := app.ActorByLogin(t.Context(), "tomas")
	require.NoError(t, err)
	sheets, want := map[string][]byte{}, map[string][][]string{}
	rows := 0
	for _, part := range lists.All {
		for _, l := range part.Lists {
			asked := lists.Asked{Show: lists.NoWords}
			plain, err := lists.Take(t.Context(), app, tomas, l, asked, lists.CSV)
			require.NoError(t, err)
			want[l.Key], err = csv.NewReader(bytes.NewReader(bytes.TrimPrefix(plain.Content, []byte("\ufeff")))).ReadAll()
			require.NoError(t, err)
			sheet, err := lists.Take(t.Context(), app, tomas, l, asked, lists.XLSX)
			require.NoError(t, err)
			sheets[l.Key] = sheet.Content
			rows += len(want[l.Key]) - 1
		}
	}
	require.Greater(t, rows, 2_000, "the demo shows them")
	for key, got := range inOffice(t, sheets) {
		require.Len(t, got, len(want[key]), key)
		for i := range want[key] {
			require.Len(t, got[i], len(want[key][i]), "%s, row %d", key, i)
			for j, cell := range want[key][i] {
				require.True(t, same(cell, got[i][j]), "%s, row %d, %s: %q is read as %q", key, i, want[key][0][j], cell, got[i][j])
			}
		}
	}
}

// What looks like a formula is text to others.
func TestNoFormulaGoesOut(t *testing.T) {
	smuggled := []string{"=1+1", "+1+1", "-1+1", "@SUM(1)", "=HYPERLINK(\"http://x\",\"y\")", "\t=1+1"}
	table := tabular.Table{Columns: []string{"What"}, Kinds: []tabular.Kind{0}}
	for _, text := range smuggled {
		table.Rows = append(table.Rows, []string{text})
	}
	content, _, err := tabular.Write(table, "xlsx")
	require.NoError(t, err)
	rows := inOffice(t, map[string][]byte{"a": content})["a"]
	require.Len(t, rows, len(smuggled)+1)
	for i, text := range smuggled {
		require.Equal(t, strings.TrimSpace(text), strings.TrimSpace(strings.TrimPrefix(rows[i+1][0], "'")))
	}
}
