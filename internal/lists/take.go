package lists

// This file takes a list along: as CSV and XLSX row by row, as PDF with its groups and sums.

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/format/pdf"
	"lagoon/internal/format/tabular"
)

// Taken is a list as a file.
type Taken struct {
	Name, MediaType string
	Content         []byte
	Rows            int
}

// The forms in which a list is taken along.
const (
	CSV  = "csv"
	XLSX = "xlsx"
	PDF  = "pdf"
)

// Take makes a file of all rows of a list, with the columns, order and groups that were asked for.
func Take(ctx context.Context, a *act.App, actor act.Actor, l *List, asked Asked, form string) (Taken, error) {
	return within(ctx, a, actor, l, asked, func(ctx context.Context, r act.Reading, q question) (Taken, error) {
		rows, err := q.rows(ctx, r, 0, MostTaken+1)
		if err != nil {
			return Taken{}, err
		}
		if len(rows) > MostTaken {
			return Taken{}, fault.New(fault.Refused, "show", "The list has more than %d rows, too many for one file. Narrow it first.", MostTaken)
		}
		name := fmt.Sprintf("%s-%s.%s", l.Key, q.at, form)
		switch form {
		case CSV, XLSX:
			content, mediaType, err := tabular.Write(q.table(rows, r.Ours.Currency), form)
			return Taken{name, mediaType, content, len(rows)}, err
		case PDF:
			totals, err := q.sums(ctx, r)
			if err != nil {
				return Taken{}, err
			}
			content, err := pdf.WriteLists(l.Title, []pdf.List{q.printed(r, actor, rows, totals)})
			return Taken{name, pdf.MediaType, content, len(rows)}, err
		}
		return Taken{}, fault.New(fault.Invalid, "as", "A list is taken along as CSV, XLSX or PDF.")
	})
}

// table is the list as a table: its group first, and the currency of the amounts last where no column says it.
func (q *question) table(rows []Row, company money.Currency) tabular.Table {
	var t tabular.Table
	add := func(title string, kind Kind) {
		t.Columns = append(t.Columns, title)
		switch {
		case kind.figures():
			t.Kinds = append(t.Kinds, tabular.Number)
		case kind == Day:
			t.Kinds = append(t.Kinds, tabular.Day)
		default:
			t.Kinds = append(t.Kinds, 0)
		}
	}
	grouped := q.group != nil && !slices.Contains(q.columns, q.group)
	if grouped {
		add(q.group.Title, q.group.Kind)
	}
	said, amounts := false, false
	for _, c := range q.columns {
		add(c.Title, c.Kind)
		said, amounts = said || c.Key == "currency", amounts || c.Kind == Money
	}
	if amounts && !said {
		add("Currency", Text)
	}
	for _, row := range rows {
		var cells []string
		if grouped {
			cells = append(cells, row.Group)
		}
		for i, c := range q.columns {
			cells = append(cells, row.Cells[i].Written(c, row.Currency, company))
		}
		if amounts && !said {
			cells = append(cells, string(row.Currency))
		}
		t.Rows = append(t.Rows, cells)
	}
	return t
}

// printed is the list as it is printed for a person.
func (q *question) printed(r act.Reading, actor act.Actor, rows []Row, totals Totals) pdf.List {
	p := actor.Printer
	words := make([]string, len(q.tags))
	for i, t := range q.tags {
		words[i] = t.Text
	}
	l := pdf.List{
		Title: q.list.Title, PageWord: "Page", On: r.At,
		Says: []string{
			fmt.Sprintf("%s, %s: %s. %s", r.Ours.Name, p.Day(q.at), strings.Join(append([]string{"all"}, words...)[min(1, len(words)):], ", "), q.list.Says),
		},
	}
	for _, c := range q.columns {
		l.Columns = append(l.Columns, pdf.Column{Title: c.Title, Right: c.Kind.figures()})
	}
	strong := func(name string, count int64, sums []Sum) {
		if len(sums) == 0 {
			sums = []Sum{{Currency: totals.Company}}
		}
		for i, s := range sums {
			cells := make([]string, len(q.columns))
			for n, c := range q.columns {
				if v, ok := s.Of[c.Key]; ok && c.Kind.summed() {
					cells[n] = p.Decimal(Cell{N: v}.Written(c, s.Currency, totals.Company))
				}
			}
			cells[0] = fmt.Sprintf("%s %s", name, s.Currency)
			if i == 0 {
				cells[0] = fmt.Sprintf("%s (%d) %s", name, count, s.Currency)
			}
			l.Rows = append(l.Rows, pdf.ListRow{Cells: cells, Strong: true})
		}
	}
	group := -1
	for _, row := range rows {
		if q.group != nil && (group < 0 || totals.Groups[group].Name != row.Group) {
			group = slices.IndexFunc(totals.Groups, func(g Group) bool { return g.Name == row.Group })
			strong(row.Group, totals.Groups[group].Count, totals.Groups[group].Sums)
		}
		cells := make([]string, len(q.columns))
		for i, c := range q.columns {
			text := row.Cells[i].Written(c, row.Currency, totals.Company)
			switch {
			case c.Kind.figures():
				text = p.Decimal(text)
			case c.Kind == Day && text != "":
				text = p.Day(day.Day(text))
			}
			cells[i] = text
		}
		l.Rows = append(l.Rows, pdf.ListRow{Cells: cells})
	}
	strong("All", totals.Count, totals.Sums)
	return l
}
