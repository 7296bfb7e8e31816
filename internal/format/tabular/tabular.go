// Package tabular reads and writes tables as CSV (RFC 4180) and XLSX (ISO/IEC 29500):
// one row of column names, then one row for each thing.
package tabular

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"math/big"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/bounded"
)

// The media types of what is written.
const (
	CSV  = "text/csv; charset=utf-8"
	XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
)

// Table is a table in memory. Every row has a cell for every column. Kinds say what a spreadsheet that is written keeps the
// cells of columns as; none: all of them are text.
type Table struct {
	Columns []string
	Rows    [][]string
	Kinds   []Kind
}

// MostRows is how many rows a table that is read may have.
const MostRows = 20_000

const (
	mostColumns = 100
	mostCell    = 4_000

	mostUnzipped = 64 << 20
	mostPart     = 4 << 20 // of a workbook that is held in memory: all but the sheets and their texts, which are read through a file
)

// Kind is what the cells of a column are, where they are not text.
type Kind int

// Kinds of columns. A spreadsheet keeps both as binary fractions, a day as one counted
// from 1900 or 1904; text that looks like one stays text in every other column.
const (
	Number Kind = iota + 1 // read as the decimal of at most 15 digits that the spreadsheet shows
	Day                    // read as YYYY-MM-DD
)

// Read reads a table by its name's ending. CSV may be parted by comma, semicolon or
// tab, and is in UTF-8. Column names are taken in lower case.
func Read(name string, content []byte, kinds map[string]Kind) (Table, error) {
	rows, err := readRows(name, content, kinds)
	if err != nil {
		return Table{}, err
	}
	return shape(rows)
}

// Rows reads the rows of a table as they are, whatever they hold: nobody says that the first of them names columns.
func Rows(name string, content []byte) ([][]string, error) {
	rows, err := readRows(name, content, nil)
	if len(rows) > MostRows {
		return nil, fault.New(fault.Invalid, "file", "The table is too large: at most %d rows are read at once.", MostRows)
	}
	return rows, err
}

func readRows(name string, content []byte, kinds map[string]Kind) (rows [][]string, err error) {
	switch strings.ToLower(filepath.Ext(name)) {
	case ".csv", ".txt", ".tsv":
		rows, err = readCSV(content, strings.EqualFold(filepath.Ext(name), ".tsv"))
	case ".xlsx":
		err = bounded.Alone(len(content)*16, func() (err error) { // it is packed
			rows, err = readXLSX(content, kinds)
			return err
		})
	default:
		return nil, fault.New(fault.Invalid, "file", "%s is neither CSV (.csv, .tsv, .txt) nor XLSX.", name)
	}
	return rows, err
}

func shape(rows [][]string) (Table, error) {
	rows = slices.DeleteFunc(rows, func(r []string) bool { return strings.TrimSpace(strings.Join(r, "")) == "" })
	if len(rows) == 0 {
		return Table{}, fault.New(
			fault.Invalid,
			"file",
			"The table is empty: its first row holds the names of the columns.",
		)
	}
	if len(rows)-1 > MostRows || len(rows[0]) > mostColumns {
		return Table{}, fault.New(
			fault.Invalid,
			"file",
			"The table is too large: at most %d rows and %d columns are read at once.",
			MostRows,
			mostColumns,
		)
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
			case len(cell) > mostCell:
				return t, fault.New(fault.Invalid, "file", "Row %d: a cell is longer than %d bytes.", n+2, mostCell)
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

func readCSV(content []byte, tabs bool) ([][]string, error) {
	if err := encoded(content); err != nil {
		return nil, err
	}
	content = bytes.TrimPrefix(content, []byte("\uFEFF"))
	first, _, _ := bytes.Cut(content, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(content))
	r.FieldsPerRecord = -1
	for _, by := range ",;\t" {
		if bytes.Count(first, []byte(string(by))) > bytes.Count(first, []byte(string(r.Comma))) {
			r.Comma = by
		}
	}
	if tabs {
		r.Comma = '\t'
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

// encoded refuses text in another encoding. It is not guessed: a name that was read
// wrongly would be kept.
func encoded(content []byte) error {
	if bytes.HasPrefix(content, []byte("\xff\xfe")) || bytes.HasPrefix(content, []byte("\xfe\xff")) {
		return fault.New(fault.Invalid, "file", "The file is in UTF-16. Save it as CSV in UTF-8, or as XLSX.")
	}
	for n, line := range bytes.Split(content, []byte("\n")) {
		if !utf8.Valid(line) {
			return fault.New(
				fault.Invalid,
				"file",
				"The file is not in UTF-8, but perhaps in Latin-1 or Windows-1252: line %d is “%s”. Save it as CSV in UTF-8, or as XLSX.",
				n+1,
				strings.ToValidUTF8(string(line[:min(len(line), 60)]), "�"),
			)
		}
	}
	return nil
}

func readXLSX(content []byte, kinds map[string]Kind) ([][]string, error) {
	broken := fault.New(fault.Invalid, "file", "The file cannot be read as XLSX.")
	if err := plainParts(content); err != nil {
		return nil, err
	}
	book, err := excelize.OpenReader(
		bytes.NewReader(content),
		excelize.Options{RawCellValue: true, UnzipSizeLimit: mostUnzipped, UnzipXMLSizeLimit: mostPart},
	)
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
	since1904 := false
	if says, err := book.GetWorkbookProps(); err == nil && says.Date1904 != nil {
		since1904 = *says.Date1904
	}
	var rows [][]string
	var of []Kind // of the columns, by the first row
	for lines.Next() {
		row, err := lines.Columns()
		if err != nil {
			return nil, broken
		}
		// A cell far to the right makes the row as wide: the first such row ends it.
		if len(row) > mostColumns {
			return nil, fault.New(
				fault.Invalid,
				"file",
				"The table is too large: row %d has %d columns, and at most %d are read.",
				len(rows)+1,
				len(row),
				mostColumns,
			)
		}
		for i, cell := range row {
			switch {
			case len(rows) == 0:
				of = append(of, kinds[strings.ToLower(strings.TrimSpace(cell))])
			case i < len(of) && of[i] == Number:
				row[i] = shown(cell)
			case i < len(of) && of[i] == Day:
				row[i] = civil(cell, since1904)
			}
		}
		if rows = append(rows, row); len(rows) > MostRows+1 {
			break
		}
	}
	return rows, lines.Close()
}

// plainParts refuses a workbook whose parts beside its cells are larger than any that a
// spreadsheet saves.
func plainParts(content []byte) error {
	parts, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		return fault.New(fault.Invalid, "file", "The file cannot be read as XLSX.")
	}
	for _, part := range parts.File {
		cells := strings.HasPrefix(part.Name, "xl/worksheets/") || part.Name == "xl/sharedStrings.xml"
		if !cells && part.UncompressedSize64 > mostPart && strings.HasSuffix(strings.ToLower(part.Name), ".xml") {
			return fault.New(
				fault.Invalid,
				"file",
				"The file is too large: its part %s is %d MB.",
				filepath.Base(part.Name),
				part.UncompressedSize64>>20,
			)
		}
	}
	return nil
}

// shown is the number that a spreadsheet shows for the fraction it keeps: 15 digits, so
// that 0.30000000000000004 is 0.3 and 1E-2 is 0.01. What is no such number stays, and so
// does what is exact as it stands.
func shown(cell string) string {
	n, err := strconv.ParseFloat(cell, 64)
	_, fraction, _ := strings.Cut(cell, ".")
	if err != nil || (!strings.ContainsAny(cell, "eE") && len(fraction) <= 6) {
		return cell
	}
	exact, ok := new(big.Rat).SetString(strconv.FormatFloat(n, 'g', 15, 64))
	if !ok {
		return cell // not finite
	}
	places, finite := exact.FloatPrec()
	if !finite || places > 300 {
		return cell
	}
	return exact.FloatString(places)
}

// civil is the day that a spreadsheet keeps as a number. What is no number stays.
func civil(cell string, since1904 bool) string {
	n, err := strconv.ParseFloat(cell, 64)
	if err != nil || n < 1 || n > 200_000 {
		return cell
	}
	at, err := excelize.ExcelDateToTime(n, since1904)
	if err != nil {
		return cell
	}
	return at.Format("2006-01-02")
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
	if strings.ContainsRune("=+@\t\r", rune(bare[0])) ||
		(bare[0] == '-' && strings.Trim(bare[1:], "0123456789.") != "") {
		return "'" + cell
	}
	return cell
}

func writeXLSX(t Table) ([]byte, error) { return WriteSheets([]Sheet{{Table: t}}) }

// Sheet is a table of a workbook, with the name of its sheet.
type Sheet struct {
	Name string
	Table
}

// WriteSheets writes tables as one XLSX workbook, a sheet each.
func WriteSheets(sheets []Sheet) ([]byte, error) {
	book := excelize.NewFile()
	defer func() { _ = book.Close() }() // it is written below
	styles, err := kept(book)
	if err != nil {
		return nil, err
	}
	for i, s := range sheets {
		name := book.GetSheetName(0)
		if i > 0 {
			if _, err := book.NewSheet(sheetName(s.Name)); err != nil {
				return nil, err
			}
		} else if s.Name != "" {
			if err := book.SetSheetName(name, sheetName(s.Name)); err != nil {
				return nil, err
			}
		}
		if s.Name != "" {
			name = sheetName(s.Name)
		}
		if err := s.write(book, name, styles); err != nil {
			return nil, err
		}
	}
	out, err := book.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

// sheetName is a name as a workbook takes it: 31 characters at most, and none that mean something there.
func sheetName(name string) string {
	runes := []rune(strings.Map(func(c rune) rune {
		if strings.ContainsRune(`:\/?*[]`, c) {
			return ' '
		}
		return c
	}, name))
	return string(runes[:min(31, len(runes))])
}

func (t Table) write(book *excelize.File, sheet string, styles styles) error {
	w, err := book.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	for i, row := range append([][]string{t.Columns}, t.Rows...) {
		at, err := excelize.CoordinatesToCellName(1, i+1)
		if err != nil {
			return err
		}
		cells := make([]any, len(row))
		for n, cell := range row {
			cells[n] = cell
			if i > 0 && n < len(t.Kinds) {
				cells[n] = styles.as(t.Kinds[n], cell)
			}
		}
		if err := w.SetRow(at, cells); err != nil {
			return err
		}
	}
	return w.Flush()
}

// styles are how a spreadsheet shows what it keeps as numbers.
type styles struct {
	day    int
	number map[int]int // by decimal places
}

func kept(book *excelize.File) (styles, error) {
	s := styles{number: map[int]int{}}
	format := "yyyy-mm-dd"
	var err error
	if s.day, err = book.NewStyle(&excelize.Style{CustomNumFmt: &format}); err != nil {
		return s, err
	}
	for places := range 7 {
		format := strings.TrimSuffix("#,##0."+strings.Repeat("0", places), ".")
		if s.number[places], err = book.NewStyle(&excelize.Style{CustomNumFmt: &format}); err != nil {
			return s, err
		}
	}
	return s, nil
}

// as is a cell as a spreadsheet keeps it: a number or a day, and as text what is neither or has more figures than a spreadsheet
// keeps.
func (s styles) as(kind Kind, cell string) any {
	switch kind {
	case Number:
		if strings.Count(cell, "") > 16 { // more than 15 figures
			return cell
		}
		n, err := strconv.ParseFloat(cell, 64)
		if err != nil {
			return cell
		}
		_, fraction, _ := strings.Cut(cell, ".")
		return excelize.Cell{StyleID: s.number[min(6, len(fraction))], Value: n}
	case Day:
		at, err := time.Parse(time.DateOnly, cell)
		if err != nil {
			return cell
		}
		return excelize.Cell{StyleID: s.day, Value: at}
	}
	return cell
}
