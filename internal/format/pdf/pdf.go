// Package pdf prints the documents that are sent: a letterhead, facts, a table and
// notes on A4 pages that are numbered and repeat the table's head.
package pdf

import (
	"bytes"
	"fmt"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// MediaType of what is made.
const MediaType = "application/pdf"

// Document is what is printed. Every text is final: nothing is computed here.
type Document struct {
	Title    string
	Sender   []string // the company and its address
	To       []string // the supplier and its address
	Facts    []Fact
	Columns  []Column
	Rows     []Row
	Sums     []Fact
	Notes    []string
	PageWord string // "Page"
	On       time.Time
}

// Fact is a label with its value; an empty value is left out.
type Fact struct{ Label, Value string }

// Column is a column of the table; its width is in millimetres.
type Column struct {
	Title string
	Width float64
	Right bool
}

// Row is a row of the table, with what stands below it in small print.
type Row struct {
	Cells []string
	Below string
}

const (
	margin = 18.0
	line   = 5.0
	width  = 210 - 2*margin
)

// Write prints the document. The same document always gives the same bytes.
func Write(d Document) ([]byte, error) {
	p := begin("P", d.Title, d.On)
	p.SetMargins(margin, margin, margin)
	p.SetAutoPageBreak(true, 20)
	p.SetFooterFunc(func() {
		p.SetY(-14)
		p.SetFont("go", "", 8)
		p.CellFormat(width/2, line, d.Title, "", 0, "L", false, 0, "")
		p.CellFormat(width/2, line, fmt.Sprintf("%s %d / {pages}", d.PageWord, p.PageNo()), "", 0, "R", false, 0, "")
	})
	p.AddPage()
	head(p, d)
	table(p, d)
	after(p, d)
	var out bytes.Buffer
	err := p.Output(&out)
	return out.Bytes(), err
}

// begin begins a paper of A4, upright (P) or lying (L), whose bytes tell nothing but what is printed and the time that it is of.
func begin(lies, title string, on time.Time) *fpdf.Fpdf {
	p := fpdf.New(lies, "mm", "A4", "")
	p.SetCreationDate(on)
	p.SetModificationDate(on)
	p.SetCatalogSort(true)
	p.AddUTF8FontFromBytes("go", "", goregular.TTF)
	p.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	p.SetTitle(title, true)
	p.AliasNbPages("{pages}")
	return p
}

func head(p *fpdf.Fpdf, d Document) {
	p.SetFont("go", "B", 10)
	for i, text := range d.Sender {
		if i == 1 {
			p.SetFont("go", "", 9)
		}
		p.CellFormat(width, 4.5, text, "", 1, "R", false, 0, "")
	}
	p.SetY(48)
	p.SetFont("go", "", 10)
	for _, text := range d.To {
		p.CellFormat(width, line, text, "", 1, "L", false, 0, "")
	}
	p.SetY(max(p.GetY(), 78) + 6)
	p.SetFont("go", "B", 16)
	p.MultiCell(width, 8, d.Title, "", "L", false)
	p.Ln(2)
	facts(p, d.Facts)
	p.Ln(4)
}

func facts(p *fpdf.Fpdf, list []Fact) {
	for _, f := range list {
		if f.Value == "" {
			continue
		}
		p.SetFont("go", "", 9)
		p.CellFormat(42, line, f.Label, "", 0, "L", false, 0, "")
		p.SetFont("go", "B", 9)
		p.MultiCell(width-42, line, f.Value, "", "L", false)
	}
}

func titles(p *fpdf.Fpdf, d Document) {
	p.SetFont("go", "B", 8.5)
	for _, c := range d.Columns {
		p.CellFormat(c.Width, 6, c.Title, "B", 0, align(c), false, 0, "")
	}
	p.Ln(7)
}

func align(c Column) string {
	if c.Right {
		return "R"
	}
	return "L"
}

func table(p *fpdf.Fpdf, d Document) {
	if len(d.Rows) == 0 {
		return
	}
	titles(p, d)
	for _, row := range d.Rows {
		p.SetFont("go", "", 9)
		height := line
		texts := make([][]string, len(row.Cells))
		for i, cell := range row.Cells {
			texts[i] = p.SplitText(cell, d.Columns[i].Width-2)
			height = max(height, float64(len(texts[i]))*line)
		}
		if row.Below != "" {
			height += line
		}
		if p.GetY()+height > 297-22 {
			p.AddPage()
			titles(p, d)
			p.SetFont("go", "", 9)
		}
		top, left := p.GetY(), margin
		for i, c := range d.Columns {
			for n, text := range texts[i] {
				p.SetXY(left, top+float64(n)*line)
				p.CellFormat(c.Width, line, text, "", 0, align(c), false, 0, "")
			}
			left += c.Width
		}
		p.SetXY(margin, top+height)
		if row.Below != "" {
			p.SetXY(margin+d.Columns[0].Width, top+height-line)
			p.SetFont("go", "", 8)
			p.CellFormat(width-d.Columns[0].Width, line, row.Below, "", 1, "L", false, 0, "")
		}
		p.Ln(1)
	}
	p.Line(margin, p.GetY(), margin+width, p.GetY())
	p.Ln(2)
}

func after(p *fpdf.Fpdf, d Document) {
	for i, f := range d.Sums {
		p.SetFont("go", "", 9)
		if i == len(d.Sums)-1 {
			p.SetFont("go", "B", 10)
		}
		p.CellFormat(width-40, line+0.5, f.Label, "", 0, "R", false, 0, "")
		p.CellFormat(40, line+0.5, f.Value, "", 1, "R", false, 0, "")
	}
	p.Ln(3)
	p.SetFont("go", "", 9)
	for _, note := range d.Notes {
		if note != "" {
			p.MultiCell(width, line, note, "", "L", false)
			p.Ln(1.5)
		}
	}
}
