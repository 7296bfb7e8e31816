package pdf

// This file prints lists: as many columns as a page lying on its side holds, groups with what they come to, and sums.

import (
	"bytes"
	"fmt"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// List is a list as it is printed. Every text is final.
type List struct {
	Title    string
	Says     []string // what it shows, below the title
	Columns  []Column // widths are worked out of what stands in them
	Rows     []ListRow
	PageWord string
	On       time.Time
}

// ListRow is a row; Strong ones are groups and sums.
type ListRow struct {
	Cells  []string
	Strong bool
}

const (
	lying      = 297 - 2*12.0
	listHeight = 4.6
)

// WriteLists prints lists one after another, each on a page of its own. The same lists always give the same bytes.
func WriteLists(title string, lists []List) ([]byte, error) {
	on, word := time.Time{}, ""
	if len(lists) > 0 {
		on, word = lists[0].On, lists[0].PageWord
	}
	p := begin("L", title, on)
	p.SetMargins(12, 12, 12)
	p.SetAutoPageBreak(false, 0)
	foot := ""
	p.SetFooterFunc(func() {
		p.SetY(-10)
		p.SetFont("go", "", 7.5)
		p.CellFormat(lying/2, 4, foot, "", 0, "L", false, 0, "")
		p.CellFormat(lying/2, 4, fmt.Sprintf("%s %d / {pages}", word, p.PageNo()), "", 0, "R", false, 0, "")
	})
	for _, l := range lists {
		p.AddPage() // whose foot ends the page before
		foot = l.Title
		l.print(p)
	}
	var out bytes.Buffer
	err := p.Output(&out)
	return out.Bytes(), err
}

func (l List) print(p *fpdf.Fpdf) {
	p.SetFont("go", "B", 13)
	p.CellFormat(lying, 7, l.Title, "", 1, "L", false, 0, "")
	p.SetFont("go", "", 8.5)
	for _, s := range l.Says {
		p.MultiCell(lying, 4.2, s, "", "L", false)
	}
	p.Ln(2)
	size := l.fit(p)
	l.head(p, size)
	for _, row := range l.Rows {
		if p.GetY() > 210-18 {
			p.AddPage()
			l.head(p, size)
		}
		style, border := "", ""
		if row.Strong {
			style, border = "B", "T"
		}
		p.SetFont("go", style, size)
		for i, c := range l.Columns {
			p.CellFormat(c.Width, listHeight, cut(p, row.Cells[i], c.Width-1), border, 0, align(c), false, 0, "")
		}
		p.Ln(listHeight)
	}
}

// fit gives each column the width of its widest text, and where they are wider than the page takes from the widest ones that
// are words; figures are never cut. It gives the size of type that they are set in.
func (l List) fit(p *fpdf.Fpdf) float64 {
	for _, size := range []float64{8, 7, 6} {
		p.SetFont("go", "B", size)
		var figures, texts float64
		for i := range l.Columns {
			c := &l.Columns[i]
			c.Width = p.GetStringWidth(c.Title) + 3
			for _, row := range l.Rows {
				c.Width = max(c.Width, p.GetStringWidth(row.Cells[i])+3)
			}
			if c.Right {
				figures += c.Width
			} else {
				texts += c.Width
			}
		}
		if spare := lying - figures; texts <= spare || size == 6 || texts*0.7 <= spare {
			if texts > spare {
				l.narrow(spare)
			}
			return size
		}
	}
	return 6
}

// narrow cuts the widest columns of words to one width, until all fit into what is spare.
func (l List) narrow(spare float64) {
	for most := 80.0; most > 8; most-- {
		var sum float64
		for _, c := range l.Columns {
			if !c.Right {
				sum += min(c.Width, most)
			}
		}
		if sum <= spare {
			for i := range l.Columns {
				if c := &l.Columns[i]; !c.Right {
					c.Width = min(c.Width, most)
				}
			}
			return
		}
	}
}

func (l List) head(p *fpdf.Fpdf, size float64) {
	p.SetFont("go", "B", size)
	for _, c := range l.Columns {
		p.CellFormat(c.Width, 5.2, cut(p, c.Title, c.Width-1), "B", 0, align(c), false, 0, "")
	}
	p.Ln(6)
}

// cut is a text as far as it fits, and says that it goes on.
func cut(p *fpdf.Fpdf, text string, width float64) string {
	if p.GetStringWidth(text) <= width {
		return text
	}
	runes := []rune(text)
	for len(runes) > 0 && p.GetStringWidth(string(runes)+"…") > width {
		runes = runes[:len(runes)-1]
	}
	return string(runes) + "…"
}
