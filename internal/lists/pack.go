package lists

// This file takes the lists of a month along together, for the accountant.

import (
	"context"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/pdf"
	"lagoon/internal/format/tabular"
)

// packed are the lists of a month's pack, of its first and last day.
func packed(first, last day.Day) []struct {
	list  *List
	asked Asked
} {
	at, within := "at:"+string(last), fmt.Sprintf("since:%s;until:%s", first, last)
	return []struct {
		list  *List
		asked Asked
	}{
		{&accounts, Asked{Show: at}},
		{&grni, Asked{Show: at, Group: "supplier"}},
		{&owed, Asked{Show: at, Group: "supplier"}},
		{&tax, Asked{Show: within, Group: "code"}},
		{&invoices, Asked{Show: "unverified;until:" + string(last)}},
		{&payments, Asked{Show: within, Group: "run"}},
		{&journal, Asked{Show: within}},
	}
}

// Pack makes one file of the lists of a month: as PDF one after another, as XLSX a sheet each.
func Pack(ctx context.Context, a *act.App, actor act.Actor, month, form string) (Taken, error) {
	first, err := day.Parse(month + "-01")
	if err != nil {
		return Taken{}, fault.New(fault.Invalid, "month", "A period is a month, such as 2026-10.")
	}
	if form != PDF && form != XLSX {
		return Taken{}, fault.New(fault.Invalid, "as", "The pack is taken along as PDF or XLSX.")
	}
	file := Taken{Name: fmt.Sprintf("month-%s.%s", month, form), MediaType: pdf.MediaType}
	var pages []pdf.List
	var sheets []tabular.Sheet
	for _, p := range packed(first, first.EndOfMonth()) {
		_, err := within(ctx, a, actor, p.list, p.asked, func(ctx context.Context, r act.Reading, q question) (none struct{}, err error) {
			rows, err := q.rows(ctx, r, 0, MostTaken)
			if err != nil {
				return none, err
			}
			if form == XLSX {
				sheets = append(sheets, tabular.Sheet{Name: p.list.Title, Table: q.table(rows, r.Ours.Currency)})
				return none, nil
			}
			totals, err := q.sums(ctx, r)
			if err == nil {
				pages = append(pages, q.printed(r, actor, rows, totals))
			}
			return none, err
		})
		if err != nil {
			return file, err
		}
	}
	if form == XLSX {
		file.MediaType = tabular.XLSX
		file.Content, err = tabular.WriteSheets(sheets)
	} else {
		file.Content, err = pdf.WriteLists(fmt.Sprintf("Month %s", month), pages)
	}
	return file, err
}
