package tabular

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
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
			read, err := Read("t."+ending, content, nil)
			require.NoError(t, err)
			require.Equal(t, table, read)
		}
	})
}

func TestTablesAsPeopleMakeThem(t *testing.T) {
	for _, text := range []string{"\uFEFFCode;Name\r\nKRILL; Krill, frozen\r\n;\r\n", "code\tNAME\nKRILL\tKrill, frozen\n", "code,name,\nKRILL,\"Krill, frozen\",\n"} {
		table, err := Read("x.CSV", []byte(text), nil)
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
		_, err := Read(name, []byte(content), nil)
		require.True(t, fault.Is(err, fault.Invalid), "%s: %v", name, err)
	}
}

// A sheet that a spreadsheet saved keeps days as numbers and decimals as binary fractions; text stays as it is.
func TestWhatASpreadsheetKeeps(t *testing.T) {
	for _, since1904 := range []bool{false, true} {
		book := excelize.NewFile()
		require.NoError(t, book.SetWorkbookProps(&excelize.WorkbookPropsOptions{Date1904: &since1904}))
		require.NoError(t, book.SetSheetRow("Sheet1", "A1", &[]any{"code", "Wanted_on", "price", "quantity", "note"}))
		require.NoError(
			t,
			book.SetSheetRow(
				"Sheet1",
				"A2",
				&[]any{"1E-2", time.Date(2026, 12, 2, 0, 0, 0, 0, time.UTC), 0.1 + 0.2000000000000001, 0.01, "0.30000000000000004"},
			),
		)
		require.NoError(t, book.SetSheetRow("Sheet1", "A3", &[]any{"K", "2026-12-03", "123456789012.123456", 1e-6, "46000"}))
		var out bytes.Buffer
		require.NoError(t, book.Write(&out))
		table, err := Read("x.xlsx", out.Bytes(), map[string]Kind{"wanted_on": Day, "price": Number, "quantity": Number})
		require.NoError(t, err)
		require.Equal(t, [][]string{
			{"1E-2", "2026-12-02", "0.3", "0.01", "0.30000000000000004"}, {"K", "2026-12-03", "123456789012.123456", "0.000001", "46000"},
		}, table.Rows)
	}
	for cell, want := range map[string]string{"1E-2": "0.01", "0.30000000000000004": "0.3", "1.2E3": "1200", "-4.4999999999999998E-2": "-0.045", "12": "12", "x": "x", "": "", "NaN": "NaN", "1E400": "1E400", "-1E-3": "-0.001"} {
		require.Equal(t, want, shown(cell), cell)
	}
}

// What stands against a file names it: another encoding, a row as wide as a sheet goes.
func TestWhyATableIsRefused(t *testing.T) {
	table, err := Read("x.tsv", []byte("code\tname, long\nA;B\tC\n"), nil)
	require.NoError(t, err)
	require.Equal(t, []string{"A;B", "C"}, table.Rows[0], "only tabs part a .tsv")
	_, err = Read("x.csv", []byte("code,name\nA,B\nM,M\xfcller\n"), nil)
	require.ErrorContains(t, err, "line 3 is “M,M�ller”. Save it as CSV in UTF-8")
	_, err = Read("x.csv", []byte("\xff\xfec\x00"), nil)
	require.ErrorContains(t, err, "UTF-16")
	_, err = Read("x.ods", nil, nil)
	require.ErrorContains(t, err, "neither CSV")
	book := excelize.NewFile()
	w, err := book.NewStreamWriter("Sheet1")
	require.NoError(t, err)
	for row := range 500 {
		require.NoError(t, w.SetRow(fmt.Sprintf("A%d", row+1), append(make([]any, 16_383), "x")))
	}
	require.NoError(t, w.Flush())
	var out bytes.Buffer
	require.NoError(t, book.Write(&out))
	_, err = Read("x.xlsx", out.Bytes(), nil)
	require.ErrorContains(t, err, "row 1 has 16384 columns")
}

// A part that no spreadsheet saves so large is not unpacked.
func TestAWorkbookMadeToBeLarge(t *testing.T) {
	var out bytes.Buffer
	packed := zip.NewWriter(&out)
	part, err := packed.Create("xl/workbook.xml")
	require.NoError(t, err)
	for range 6 {
		_, err = part.Write(bytes.Repeat([]byte("<definedName/>"), 1<<16))
		require.NoError(t, err)
	}
	require.NoError(t, packed.Close())
	_, err = Read("x.xlsx", out.Bytes(), nil)
	require.ErrorContains(t, err, "its part workbook.xml is 5 MB")
}
