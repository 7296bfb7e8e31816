// Package tabular reads and writes tables as CSV (RFC 4180) and XLSX (ISO/IEC 29500):
// one row of column names, then one row for each thing.
package tabular

import (
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"path/filepath"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"lagoon/internal/core/fault"
)

// The media types of what is written.
const (
	CSV  = "text/csv; charset=utf-8"
	XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
)

// Table is a table in memory. Every row has a cell for every column.
type Table struct {
	Columns []string
	Rows    [][]string
}

// MostRows is how many rows a table that is read may have.
const MostRows = 20_000

const (
	mostColumns = 100
	mostCell    = 4_000
)

// Read reads a table by its name's ending. CSV may be parted by comma, semicolon or
// tab. Column names are taken in lower case.
func Read(name string, content []byte) (Table, error) {
	var rows [][]string
	var err error
	switch strings.ToLower(filepath.Ext(name)) {
	case ".csv", ".txt":
		rows, err = readCSV(content)
	case ".xlsx":
		rows, err = readXLSX(content)
	default:
		return Table{}, fault.New(fault.Invalid, "file", "%s is neither CSV nor XLSX.", name)
	}
	if err != nil {
		return Table{}, err
	}
	return shape(rows)
}

func shape(rows [][]string) (Table, error) {
	rows = slices.DeleteFunc(rows, func(r []string) bool { return strings.TrimSpace(strings.Join(r, "")) == "" })
	if len(rows) == 0 {
		return Table{}, fault.New(fault.Invalid, "file", "The table is empty: its first row holds the names of the columns.")
	}
	if len(rows)-1 > MostRows || len(rows[0]) > mostColumns {
		return Table{}, fault.New(fault.Invalid, "file", "The table is too large: at most %d rows and %d columns are read at once.", MostRows, mostColumns)
	}
	var t Table
	for _, c := range rows[0] {
		c = strings.ToLower(strings.TrimSpace(c))
		if c != "" && slices.Contains(t.Columns, c) {
			return t, fault.New(fault.Invalid, "file", "The column %s stands twice.", c)
		}
		t.Columns = append(t.Columns, c)
	}
	for n, r := range rows[1:] {
		row := make([]string, len(t.Columns))
		for i, cell := range r {
			switch {
			case len(cell) > mostCell || !utf8.ValidString(cell):
				return t, fault.New(fault.Invalid, "file", "Row %d: a cell is too long, or not text in UTF-8.", n+2)
			case i < len(row):
				row[i] = strings.TrimSpace(cell)
			case strings.TrimSpace(cell) != "":
				return t, fault.New(fault.Invalid, "file", "Row %d has more cells than there are columns.", n+2)
			}
		}
		t.Rows = append(t.Rows, row)
	}
	return t, nil
}

func readCSV(content []byte) ([][]string, error) {
	content = bytes.TrimPrefix(content, []byte("\uFEFF"))
	first, _, _ := bytes.Cut(content, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(content))
	r.FieldsPerRecord = -1
	for _, by := range ",;\t" {
		if bytes.Count(first, []byte(string(by))) > bytes.Count(first, []byte(string(r.Comma))) {
			r.Comma = by
		}
	}
	var rows [][]string
	for {
		row, err := r.Read()
		var wrong *csv.ParseError
		switch {
		case errors.Is(err, io.EOF):
			return rows, nil
		case errors.As(err, &wrong):
			return nil, fault.New(fault.Invalid, "file", "The file is not CSV: line %d, %v.", wrong.Line, wrong.Err)
		case err != nil:
			return nil, err
		}
		for i, cell := range row {
			if plain, quoted := strings.CutPrefix(cell, "'"); quoted && Harmless(plain) != plain {
				row[i] = plain // as Harmless wrote it
			}
		}
		if rows = append(rows, row); len(rows) > MostRows+1 {
			return rows, nil // told by whoever shapes it
		}
	}
}

func readXLSX(content []byte) ([][]string, error) {
	broken := fault.New(fault.Invalid, "file", "The file cannot be read as XLSX.")
	book, err := excelize.OpenReader(bytes.NewReader(content), excelize.Options{RawCellValue: true, UnzipSizeLimit: 64 << 20, UnzipXMLSizeLimit: 16 << 20})
	if err != nil {
		return nil, broken
	}
	defer func() { _ = book.Close() }() // it was only read
	sheets := book.GetSheetList()
	if len(sheets) == 0 {
		return nil, broken
	}
	lines, err := book.Rows(sheets[0])
	if err != nil {
		return nil, broken
	}
	var rows [][]string
	for lines.Next() {
		row, err := lines.Columns()
		if err != nil {
			return nil, broken
		}
		if rows = append(rows, row); len(rows) > MostRows+1 {
			break
		}
	}
	return rows, lines.Close()
}

// Write writes the table by the ending csv or xlsx, and gives its media type.
func Write(t Table, ending string) ([]byte, string, error) {
	if ending == "xlsx" {
		content, err := writeXLSX(t)
		return content, XLSX, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.UseCRLF = true
	rows := append([][]string{t.Columns}, t.Rows...)
	for i := range rows {
		rows[i] = slices.Clone(rows[i])
		for n, cell := range rows[i] {
			rows[i][n] = Harmless(cell)
		}
	}
	err := w.WriteAll(rows)
	return out.Bytes(), CSV, err
}

// Harmless keeps a spreadsheet from taking text for a formula.
func Harmless(cell string) string {
	bare := strings.TrimLeft(cell, "'") // so that it reads back as it was
	if bare == "" {
		return cell
	}
	// A minus leads a number as well; anything else behind it would be worked out.
	if strings.ContainsRune("=+@\t\r", rune(bare[0])) || (bare[0] == '-' && strings.Trim(bare[1:], "0123456789.") != "") {
		return "'" + cell
	}
	return cell
}

func writeXLSX(t Table) ([]byte, error) {
	book := excelize.NewFile()
	defer func() { _ = book.Close() }() // it is written below
	sheet := book.GetSheetName(0)
	w, err := book.NewStreamWriter(sheet)
	if err != nil {
		return nil, err
	}
	for i, row := range append([][]string{t.Columns}, t.Rows...) {
		at, err := excelize.CoordinatesToCellName(1, i+1)
		if err != nil {
			return nil, err
		}
		cells := make([]any, len(row))
		for n, cell := range row {
			cells[n] = cell
		}
		if err := w.SetRow(at, cells); err != nil {
			return nil, err
		}
	}
	if err := w.Flush(); err != nil {
		return nil, err
	}
	out, err := book.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
