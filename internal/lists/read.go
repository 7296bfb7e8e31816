package lists

// This file reads the rows of a list, and what they come to.

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Cell is one of a row. N holds minor units of Money and Base, millionths of quantities, prices and percentages, and
// counts; Text is all else.
type Cell struct {
	Text string
	N    int64
	To   string // number or code of what it leads to
}

// Row is one of a list.
type Row struct {
	Currency money.Currency
	Group    string
	Cells    []Cell
}

// Written is a cell as it is sent: a decimal, a civil day, a word.
func (c Cell) Written(column *Column, currency, company money.Currency) string {
	switch column.Kind {
	case Money:
		return money.Amount(c.N).Text(currency)
	case Base, Running:
		return money.Amount(c.N).Text(company)
	case Quantity, Price, Percent:
		return money.Decimal(c.N).String()
	case Count, Days:
		return strconv.FormatInt(c.N, 10)
	}
	return c.Text
}

// Page is a part of a list.
type Page struct {
	List    *List
	Columns []*Column
	Tags    []Tag
	Rows    []Row
	More    bool
	At      day.Day
	Company money.Currency
	Group   *Column
	Show    string // the words, as they stand in an address
	// Offers are, of the words whose choices the company makes itself, what may follow them.
	Offers map[Takes][]Choice
}

// AtOnce is how many rows a page has; MostSorted how many are sorted by what is worked out, and MostTaken how many can be taken
// along.
const (
	AtOnce     = 200
	MostSorted = 20_000
	MostTaken  = 200_000
)

// How long a question may take, and a report: who asks for more narrows the list.
const (
	longest       = 5 * time.Second
	longestReport = time.Minute
)

func (l *List) longest() time.Duration {
	if l.Report {
		return longestReport
	}
	return longest
}

// Read reads a page of a list, from a row on.
func Read(ctx context.Context, a *act.App, actor act.Actor, l *List, asked Asked, from int) (Page, error) {
	return within(ctx, a, actor, l, asked, func(ctx context.Context, r act.Reading, q question) (Page, error) {
		p := Page{List: l, Columns: q.columns, Tags: q.tags, At: q.at, Company: r.Ours.Currency, Group: q.group, Show: q.show}
		var err error
		if p.Offers, err = l.offers(r); err != nil {
			return p, err
		}
		p.Rows, err = q.rows(ctx, r, from, AtOnce+1)
		if len(p.Rows) > AtOnce {
			p.Rows, p.More = p.Rows[:AtOnce], true
		}
		return p, err
	})
}

// within answers a question on one unchanging state of the data, as long as it may take.
func within[T any](
	ctx context.Context, a *act.App, actor act.Actor, l *List, asked Asked, do func(context.Context, act.Reading, question) (T, error),
) (T, error) {
	ends, stop := context.WithTimeout(ctx, l.longest())
	defer stop()
	answer, err := act.Read(ctx, a, func(r act.Reading) (none T, err error) {
		q, err := understand(r, actor, l, asked)
		if err == nil {
			err = q.narrow(ends, r)
		}
		if err != nil {
			return none, err
		}
		return do(ends, r, q)
	})
	if err != nil && errors.Is(ends.Err(), context.DeadlineExceeded) && ctx.Err() == nil {
		var none T
		return none, fault.New(fault.Refused, "show", "There is more to be looked through than in %d seconds. Narrow the list, by days or by a supplier.", int(l.longest().Seconds()))
	}
	return answer, err
}

// rows reads rows in the order that was asked for.
func (q *question) rows(ctx context.Context, r act.Reading, from, most int) ([]Row, error) {
	if q.sort == nil || q.sort.SQL != "" {
		return q.read(ctx, r, q.columns, q.ordered(), from, most)
	}
	columns := append(slices.Clone(q.columns), q.sort)
	all, err := q.read(ctx, r, columns, q.ordered(), 0, MostSorted+1)
	if err != nil {
		return nil, err
	}
	if len(all) > MostSorted {
		return nil, fault.New(fault.Refused, "sort", "More than %d rows are not sorted by %s. Narrow the list first.", MostSorted, q.sort.Title)
	}
	at := len(columns) - 1
	slices.SortStableFunc(all, func(a, b Row) int {
		if by := cmp.Compare(strings.ToLower(a.Group), strings.ToLower(b.Group)); by != 0 {
			return by
		}
		by := cmp.Compare(a.Cells[at].N, b.Cells[at].N)
		if q.down {
			by = -by
		}
		return by
	})
	all = all[min(from, len(all)):min(from+most, len(all))]
	for i := range all {
		all[i].Cells = all[i].Cells[:at]
	}
	return all, nil
}

// read reads rows with some columns.
func (q *question) read(ctx context.Context, r act.Reading, columns []*Column, order string, from, most int) ([]Row, error) {
	var rows []Row
	err := q.each(ctx, r, columns, order, from, most, func(row Row) error {
		row.Cells = slices.Clone(row.Cells)
		rows = append(rows, row)
		return nil
	})
	return rows, err
}

// each tells rows one after another; the cells of one are gone with the next.
func (q *question) each(ctx context.Context, r act.Reading, columns []*Column, order string, from, most int, tell func(Row) error) error {
	read := columns
	if q.group != nil {
		read = append(slices.Clone(columns), q.group)
	}
	row := Row{Cells: make([]Cell, len(read))}
	return r.EachRow(ctx, q.asks(read, order, from, most), q.values, 2+2*len(read), func(cells []string) (bool, error) {
		row.Currency = money.Currency(cells[0])
		if row.Currency == "" {
			row.Currency = r.Ours.Currency
		}
		var worked map[string]int64
		if q.list.Work != nil {
			var err error
			if worked, err = q.list.Work(cells[1], row.Currency); err != nil {
				return false, err
			}
		}
		for i, c := range read {
			text, to := cells[2+2*i], cells[3+2*i]
			cell := Cell{Text: text, To: to}
			switch {
			case c.SQL == "":
				cell = Cell{N: worked[c.Key]}
			case c.Kind.figures():
				n, err := strconv.ParseInt(cmp.Or(text, "0"), 10, 64)
				if err != nil {
					return false, err
				}
				cell = Cell{N: n}
			case c.Says != nil:
				cell.Text = c.Says(text)
			}
			if c.Link != "" && c.By == "" {
				cell.To = text
			}
			row.Cells[i] = cell
		}
		told := row
		if q.group != nil {
			told.Group = row.Cells[len(read)-1].Text
			told.Cells = row.Cells[:len(read)-1]
		}
		return true, tell(told)
	})
}

// Sum is what rows come to in one currency, by column. Columns in the company's currency stand under that.
type Sum struct {
	Currency money.Currency
	Of       map[string]int64
}

// Group is a group of rows.
type Group struct {
	Name  string
	Count int64
	Sums  []Sum
}

// Totals are what all rows of a list come to.
type Totals struct {
	Count   int64
	Sums    []Sum
	Groups  []Group
	Company money.Currency
	Columns []*Column
}

// Sums counts and sums all rows of a list, and those of each group.
func Sums(ctx context.Context, a *act.App, actor act.Actor, l *List, asked Asked) (Totals, error) {
	return within(ctx, a, actor, l, asked, func(ctx context.Context, r act.Reading, q question) (Totals, error) {
		return q.sums(ctx, r)
	})
}

func (q *question) sums(ctx context.Context, r act.Reading) (Totals, error) {
	t := Totals{Company: r.Ours.Currency, Columns: q.columns}
	var summed []*Column
	for _, c := range q.columns {
		if c.Kind.summed() {
			summed = append(summed, c)
		}
	}
	groups := map[string]int{}
	err := q.each(ctx, r, summed, "", 0, 0, func(row Row) error {
		t.Count++
		t.Sums = addTo(t.Sums, row, summed, t.Company)
		if q.group == nil {
			return nil
		}
		at, ok := groups[row.Group]
		if !ok {
			at = len(t.Groups)
			groups[row.Group], t.Groups = at, append(t.Groups, Group{Name: row.Group})
		}
		t.Groups[at].Count++
		t.Groups[at].Sums = addTo(t.Groups[at].Sums, row, summed, t.Company)
		return nil
	})
	inOrder(t.Sums, t.Company)
	for _, g := range t.Groups {
		inOrder(g.Sums, t.Company)
	}
	slices.SortFunc(t.Groups, func(a, b Group) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
	return t, err
}

// inOrder puts sums into one order: the company's currency first, the others by their codes.
func inOrder(sums []Sum, company money.Currency) {
	slices.SortFunc(sums, func(a, b Sum) int {
		switch company {
		case a.Currency:
			return -1
		case b.Currency:
			return 1
		}
		return cmp.Compare(a.Currency, b.Currency)
	})
}

// addTo adds a row to sums, each currency by itself.
func addTo(sums []Sum, row Row, columns []*Column, company money.Currency) []Sum {
	for i, c := range columns {
		currency := row.Currency
		if c.Kind != Money {
			currency = company
		}
		at := slices.IndexFunc(sums, func(s Sum) bool { return s.Currency == currency })
		if at < 0 {
			at = len(sums)
			sums = append(sums, Sum{currency, map[string]int64{}})
		}
		sums[at].Of[c.Key] += row.Cells[i].N
	}
	return sums
}
