package lists_test

import (
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/demo"
	"lagoon/internal/lists"
	"lagoon/internal/store"
)

// Whether a word's rows are read by its index or found among all of them, they are the same: every word that has one, on the
// books of the demo, with what shows many rows, few and none.
func TestIndexesFindTheSameRows(t *testing.T) {
	now := time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC)
	folder := t.TempDir()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, demo.Build(t.Context(), s, now, filepath.Join(folder, "post"), filepath.Join(folder, "bank")))
	app := act.New(s, act.Options{Now: func() time.Time { return now }})
	nora, err := app.ActorByLogin(t.Context(), "nora")
	require.NoError(t, err)
	today := day.Of(now, time.UTC)

	typed := map[lists.Takes][]string{
		lists.Nothing: {""}, "": {""}, lists.AnAmount: {"0", "99.99", "1000", "1000.005", "25000", "-5"}, lists.APerson: {"nora", "lewis", "ola"},
		lists.ADay: {string(today), string(today.Add(-9)), string(today.Add(-40)), string(today.Add(-200)), string(today.Add(400))}, lists.ADayOrNone: {string(today)},
	}
	// What documents have, and what none has: cells of the list itself.
	columns := map[string]string{
		"supplier": "supplier", "item": "item", "order": "order", "place": "place", "asked": "asked", "note": "note", "lot": "lots", "run": "run", "budget": "budget",
		"number": "number", "with": "with", "turn": "turn", "of": "detail", "code": "code", "invoice": "invoice", "suppliers": "suppliers", "items": "items", "group": "group",
	}
	compared, shown := 0, 0
	for _, part := range lists.All {
		for _, l := range part.Lists {
			for _, w := range l.Words {
				if w.Of == "" {
					continue
				}
				values := typed[w.Takes]
				if w.Takes == lists.AChoice {
					for _, c := range w.Choices {
						values = append(values, c.Value)
					}
				}
				if values == nil {
					values = cellsOf(t, app, nora, l, columns[w.Key])
				}
				for _, value := range values {
					asked := lists.Asked{Show: w.Key + ":" + value}
					read := func(few int) (lists.Page, lists.Totals) {
						defer lists.SetFew(few)()
						page, err := lists.Read(t.Context(), app, nora, l, asked, 0)
						require.NoError(t, err, "%s %v", l.Key, asked)
						totals, err := lists.Sums(t.Context(), app, nora, l, asked)
						require.NoError(t, err, "%s %v", l.Key, asked)
						return page, totals
					}
					found, foundTotals := read(1 << 30)
					looked, lookedTotals := read(-1)
					require.Equal(t, looked.Rows, found.Rows, "%s %v", l.Key, asked)
					require.Equal(t, lookedTotals.Count, foundTotals.Count, "%s %v", l.Key, asked)
					require.Equal(t, lookedTotals.Sums, foundTotals.Sums, "%s %v", l.Key, asked)
					if at := slices.IndexFunc(foundTotals.Sums, func(s lists.Sum) bool { return s.Currency == "EUR" }); at > 0 {
						require.Fail(t, "the company's currency comes first", "%s %v", l.Key, asked)
					}
					if found.Rows != nil {
						shown++
					}
					compared++
				}
			}
		}
	}
	require.Greater(t, compared, 200)
	require.Greater(t, shown, 150)
}

// cellsOf are some cells of a column of a list, as what follows a word: what they lead to, else what they say.
func cellsOf(t *testing.T, app *act.App, who act.Actor, l *lists.List, column string) []string {
	t.Helper()
	if column == "" {
		return []string{"4100"}
	}
	page, err := lists.Read(t.Context(), app, who, l, lists.Asked{Show: lists.NoWords, Columns: column}, 0)
	if err != nil {
		return nil
	}
	seen := map[string]bool{}
	var all []string
	for i := 0; i < len(page.Rows) && len(all) < 5; i += 1 + i/3 {
		c := page.Rows[i].Cells[0]
		value := c.Text
		if c.To != "" {
			value = c.To
		}
		if value != "" && !seen[value] {
			seen[value] = true
			all = append(all, value)
		}
	}
	return all
}
