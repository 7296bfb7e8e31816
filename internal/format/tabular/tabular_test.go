package tabular

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/fault"
)

// What is written is read back, in either form, whatever is in the cells.
func TestTablesReadBack(t *testing.T) {
	cell := rapid.StringMatching(`[A-Za-zäø0-9 ,;"'.\-=+@]{0,12}`).Filter(func(s string) bool { return strings.TrimSpace(s) == s })
	rapid.Check(t, func(t *rapid.T) {
		table := Table{Columns: []string{"code", "name", "note"}}
		for range rapid.IntRange(1, 6).Draw(t, "rows") {
			table.Rows = append(table.Rows, []string{"K" + cell.Draw(t, "code"), cell.Draw(t, "name"), cell.Draw(t, "note")})
		}
		for _, ending := range []string{"csv", "xlsx"} {
			content, _, err := Write(table, ending)
			require.NoError(t, err)
			read, err := Read("t."+ending, content)
			require.NoError(t, err)
			require.Equal(t, table, read)
		}
	})
}

func TestTablesAsPeopleMakeThem(t *testing.T) {
	for _, text := range []string{"\uFEFFCode;Name\r\nKRILL; Krill, frozen\r\n;\r\n", "code\tNAME\nKRILL\tKrill, frozen\n", "code,name,\nKRILL,\"Krill, frozen\",\n"} {
		table, err := Read("x.CSV", []byte(text))
		require.NoError(t, err)
		require.Equal(t, []string{"KRILL", "Krill, frozen"}, table.Rows[0][:2])
		require.Equal(t, []string{"code", "name"}, table.Columns[:2])
		require.Len(t, table.Rows, 1)
	}
	content, _, err := Write(Table{Columns: []string{"a"}, Rows: [][]string{{"=1+1"}}}, "csv")
	require.NoError(t, err)
	require.Equal(t, "a\r\n'=1+1\r\n", string(content))
}

func TestBrokenTables(t *testing.T) {
	for name, content := range map[string]string{"a.csv": "", "b.csv": "a,a\n1,2", "c.csv": "a\n1,2", "d.csv": "a\n\"x", "e.csv": "a\n\xff", "f.xlsx": "no zip", "g.pdf": "a", "h.csv": "a\n" + strings.Repeat("x", 5000), "i.csv": "a\n" + strings.Repeat("x\n", MostRows+1)} {
		_, err := Read(name, []byte(content))
		require.True(t, fault.Is(err, fault.Invalid), "%s: %v", name, err)
	}
}
