package demo

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/lists"
	"lagoon/internal/store"
)

// theListsAddUp: whatever a list is taken along with adds up, outside Lagoon, to what Lagoon says that it comes to; and what is
// owed, what is received and not invoiced, and the balances of the accounts are the ledger's, at days in the past as well.
func theListsAddUp(t *testing.T, app *act.App, today day.Day) {
	who := act.Actor{Name: "reader", Roles: []string{"reader"}}
	summed, rows := 0, 0
	for _, part := range lists.All {
		for _, l := range part.Lists {
			for _, asked := range []lists.Asked{{}, {Show: lists.NoWords, Columns: everyColumn(l)}} {
				totals, err := lists.Sums(t.Context(), app, who, l, asked)
				require.NoError(t, err, l.Key)
				file, err := lists.Take(t.Context(), app, who, l, asked, lists.CSV)
				require.NoError(t, err, l.Key)
				summed += addedUp(t, l, totals, file.Content)
				rows += int(totals.Count)
			}
			theSameInASpreadsheet(t, app, who, l)
		}
	}
	require.Greater(t, summed, 60, "sums that were compared")
	require.Greater(t, rows, 5_000)

	random := rand.New(rand.NewPCG(rand.Uint64(), 2))
	for _, at := range []day.Day{today, today.Add(-1), today.Add(-random.IntN(60)), today.Add(-random.IntN(330)), today.Add(-random.IntN(330)), today.Add(-400)} {
		theLedgerSays(t, app, who, at)
	}
}

func everyColumn(l *lists.List) string {
	keys := make([]string, len(l.Columns))
	for i, c := range l.Columns {
		keys[i] = c.Key
	}
	return strings.Join(keys, ",")
}

// addedUp sums the columns of a CSV with the shell of SQLite and compares them with the totals.
func addedUp(t *testing.T, l *lists.List, totals lists.Totals, csv []byte) (compared int) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "list.csv")
	require.NoError(t, os.WriteFile(file, csv, 0o600))
	ask := func(sql string) string {
		out, err := exec.Command("sqlite3", ":memory:", ".mode csv", ".import "+file+" t", ".mode list", sql).CombinedOutput()
		require.NoError(t, err, "%s: %s", l.Key, out)
		return strings.TrimSpace(string(out))
	}
	if totals.Count == 0 {
		return 0
	}
	require.Equal(t, fmt.Sprint(totals.Count), ask(`SELECT count(*) FROM t`), l.Key)
	for _, s := range totals.Sums {
		for _, c := range totals.Columns {
			n, ok := s.Of[c.Key]
			if !ok {
				continue
			}
			where, places := "1", totals.Company.Places()
			if c.Kind == lists.Money {
				where, places = fmt.Sprintf(`"Currency" = '%s'`, s.Currency), s.Currency.Places()
			}
			if c.Kind == lists.Count {
				places = 0
			}
			// in whole minor units, so that nothing is rounded
			got := ask(fmt.Sprintf(`SELECT coalesce(sum(CAST(replace("%s", '.', '') AS INTEGER)), 0) FROM t WHERE %s`, c.Title, where))
			require.Equal(t, fmt.Sprint(n), got, "%s, %s in %s to %d places", l.Key, c.Title, s.Currency, places)
			compared++
		}
	}
	return compared
}

// theSameInASpreadsheet: numbers are numbers there, days are days, and no text is a formula.
func theSameInASpreadsheet(t *testing.T, app *act.App, who act.Actor, l *lists.List) {
	t.Helper()
	file, err := lists.Take(t.Context(), app, who, l, lists.Asked{}, lists.XLSX)
	require.NoError(t, err)
	book, err := excelize.OpenReader(bytes.NewReader(file.Content))
	require.NoError(t, err)
	page, err := lists.Read(t.Context(), app, who, l, lists.Asked{}, 0)
	require.NoError(t, err)
	sheet := book.GetSheetName(0)
	for i, row := range page.Rows[:min(20, len(page.Rows))] {
		for n, c := range page.Columns {
			at, err := excelize.CoordinatesToCellName(n+1, i+2)
			require.NoError(t, err)
			kind, err := book.GetCellType(sheet, at)
			require.NoError(t, err)
			value, err := book.GetCellValue(sheet, at, excelize.Options{RawCellValue: true})
			require.NoError(t, err)
			written := row.Cells[n].Written(c, row.Currency, page.Company)
			formula, err := book.GetCellFormula(sheet, at)
			require.NoError(t, err)
			require.Empty(t, formula)
			switch {
			case c.Kind == lists.Money || c.Kind == lists.Base:
				require.Contains(t, []excelize.CellType{excelize.CellTypeUnset, excelize.CellTypeNumber}, kind, "%s %s", l.Key, at)
				require.Equal(t, trimmed(written), trimmed(value), "%s %s", l.Key, at)
			case c.Kind == lists.Day && written != "":
				require.Contains(t, []excelize.CellType{excelize.CellTypeUnset, excelize.CellTypeNumber, excelize.CellTypeDate}, kind, "%s %s", l.Key, at)
			}
		}
	}
	require.NoError(t, book.Close())
}

// trimmed is a number without the zeros that say nothing.
func trimmed(number string) string {
	if strings.Contains(number, ".") {
		number = strings.TrimRight(strings.TrimRight(number, "0"), ".")
	}
	return number
}

// theLedgerSays: at a day, the lists come to what the journal's entries come to that were posted by then.
func theLedgerSays(t *testing.T, app *act.App, who act.Actor, at day.Day) {
	t.Helper()
	var entries []store.Booked
	_, err := act.Read(t.Context(), app, func(r act.Reading) (none struct{}, err error) {
		entries, err = r.Journal(0, 100_000)
		return none, err
	})
	require.NoError(t, err)
	grni, debits := money.Amount(0), money.Amount(0)
	payables, base := map[money.Currency]money.Amount{}, money.Amount(0)
	for _, e := range entries {
		if e.PostedOn > at {
			continue
		}
		for _, l := range e.Lines {
			debits += max(0, l.Base)
			switch l.Role {
			case "grni":
				grni -= l.Base
			case "payables":
				payables[e.Currency] -= l.Amount
				base -= l.Base
			}
		}
	}
	sums := func(key string) map[money.Currency]map[string]int64 {
		totals, err := lists.Sums(t.Context(), app, who, lists.Named(key), lists.Asked{Show: "at:" + string(at)})
		require.NoError(t, err)
		of := map[money.Currency]map[string]int64{}
		for _, s := range totals.Sums {
			of[s.Currency] = s.Of
		}
		return of
	}
	of := sums("grni")
	require.Equal(t, int64(grni), of["EUR"]["value"], "received, not invoiced at %s", at)
	of = sums("owed")
	for currency, amount := range payables {
		require.Equal(t, int64(amount), of[currency]["open"], "owed at %s in %s", at, currency)
		aged := int64(0)
		for _, column := range []string{"notdue", "to30", "to60", "to90", "older"} {
			aged += of[currency][column]
		}
		require.Equal(t, int64(amount), aged, "by age")
	}
	require.Equal(t, int64(base), of["EUR"]["base"], "owed at %s in the books", at)
	page, err := lists.Read(t.Context(), app, who, lists.Named("owed"), lists.Asked{Show: "at:" + string(at), Columns: "number"}, 0)
	require.NoError(t, err)
	require.False(t, slices.ContainsFunc(page.Rows, func(r lists.Row) bool { return r.Cells[0].Text == "rest" }), "everything is some document's")
	of = sums("accounts")
	require.Equal(t, []int64{int64(debits), int64(debits), 0}, []int64{of["EUR"]["debit"], of["EUR"]["credit"], of["EUR"]["balance"]})
}
