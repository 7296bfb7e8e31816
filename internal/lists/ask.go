package lists

// This file reads what somebody asks of a list, and makes the question of it that the store answers.

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/store"
)

// Asked is what somebody asks of a list. All of it stands in an address, so that it can be shared and kept.
type Asked struct {
	// Show are the words, apart by semicolons, each with what follows it behind a colon: open;supplier:brackwater.
	// A minus alone is no word, where a list would else be shown with its first ones.
	Show string
	// Sort is the key of a column, with a minus before it for the highest first; empty: the list's own order.
	Sort string
	// Group is the key of a column that rows are put together by.
	Group string
	// Columns are the keys of those that are shown, apart by commas; empty: those that the list shows by itself.
	Columns string
}

// Tag is a word of a question as it is read.
type Tag struct {
	Word, Value string
	Text        string // the whole of it
}

// question is what was asked, understood.
type question struct {
	list    *List
	show    string
	tags    []Tag
	where   []string
	indexed []indexed
	// narrowed tells that a word means few rows, which are read by its index.
	narrowed bool
	begins   string // of where, what leaves out what is before; empty: nothing
	values   []store.Value
	columns  []*Column // that are shown
	sort     *Column
	down     bool
	group    *Column
	at       day.Day
	asOf     bool // somebody said which day
}

// indexed is where indexes find the rows of a word, whatever follows it each time.
type indexed struct {
	in string
	of []string
}

// NoWords is what Show says where a list is to be shown without its first words.
const NoWords = "-"

// understand reads a question. What cannot be read is a fault of its field, with the word that it is about.
func understand(r act.Reading, actor act.Actor, l *List, a Asked) (question, error) {
	q := question{list: l, at: r.Today()}
	show := a.Show
	if show == "" {
		show = l.First
	}
	q.show = show
	q.values = append(q.values, store.Value{Name: "me", Is: actor.ID}, store.Value{Name: "today", Is: r.Today()})
	either, of := map[string][]string{}, map[string][]string{}
	var order []string
	for i, part := range strings.Split(show, ";") {
		key, value, _ := strings.Cut(part, ":")
		if key == "" || key == NoWords {
			continue
		}
		w := l.word(key)
		if w == nil {
			return q, fault.New(fault.Invalid, "show", "“%s” is no word of this list.", key)
		}
		value, err := url.PathUnescape(value)
		if err != nil {
			return q, fault.New(fault.Invalid, "show", "“%s” cannot be read.", part)
		}
		bound, text, err := w.read(r, value)
		if err != nil {
			return q, err
		}
		q.tags = append(q.tags, Tag{key, value, strings.TrimSpace(w.Text + " " + text)})
		if w.Takes == ADayOrNone {
			q.at, q.asOf = day.Day(value), true
			continue
		}
		name := fmt.Sprintf("w%d", i)
		if strings.Contains(w.SQL+w.Of, ":v") {
			q.values = append(q.values, store.Value{Name: name, Is: bound})
		}
		if either[key] == nil {
			order = append(order, key)
		}
		either[key] = append(either[key], strings.ReplaceAll(w.SQL, ":v", ":"+name))
		of[key] = append(of[key], strings.ReplaceAll(w.Of, ":v", ":"+name))
	}
	for _, key := range order {
		one := "((" + strings.Join(either[key], ") OR (") + "))"
		q.where = append(q.where, one)
		w := l.word(key)
		if w.Begins {
			q.begins = one
		}
		if w.Of != "" {
			q.indexed = append(q.indexed, indexed{w.In, of[key]})
		}
	}
	q.values = append(q.values, store.Value{Name: "at", Is: q.at}, store.Value{Name: "until", Is: act.Stamp(q.at.Add(1).Start(r.Zone))})
	return q, q.shape(a)
}

// few is from how many rows on a word is not read by its index: who shows many finds a page of them sooner among all.
var few = 5000

// narrow reads the list from the rows of those words that mean few.
func (q *question) narrow(ctx context.Context, r act.Reading) error {
	for _, f := range q.indexed {
		rows, n := "SELECT * FROM ("+strings.Join(f.of, ") UNION ALL SELECT * FROM (")+")", 0
		err := r.EachRow(ctx, fmt.Sprintf("SELECT count(*) FROM (%s LIMIT %d)", rows, few+1), q.values, 1, func(cells []string) (_ bool, err error) {
			n, err = strconv.Atoi(cells[0])
			return false, err
		})
		if err != nil {
			return err
		}
		if n <= few {
			q.where, q.narrowed = append(q.where, f.in+" IN ("+rows+")"), true
		}
	}
	return nil
}

// shape reads which columns are shown, and how.
func (q *question) shape(a Asked) error {
	for key := range strings.SplitSeq(a.Columns, ",") {
		if key == "" {
			continue
		}
		c := q.list.column(key)
		if c == nil {
			return fault.New(fault.Invalid, "columns", "“%s” is no column of this list.", key)
		}
		q.columns = append(q.columns, c)
	}
	if key := strings.TrimPrefix(a.Sort, "-"); key != "" {
		if q.sort = q.list.column(key); q.sort == nil {
			return fault.New(fault.Invalid, "sort", "“%s” is no column of this list.", key)
		}
		q.down = strings.HasPrefix(a.Sort, "-")
	}
	if a.Group != "" {
		if q.group = q.list.column(a.Group); q.group == nil || !q.group.Groups {
			return fault.New(fault.Invalid, "group", "The list is not grouped by “%s”.", a.Group)
		}
	}
	if len(q.columns) == 0 {
		for i := range q.list.Columns {
			if c := &q.list.Columns[i]; !c.Aside && (!c.AtADay || q.asOf) && c != q.group {
				q.columns = append(q.columns, c)
			}
		}
	}
	return nil
}

// read understands what follows a word: what the question is asked with, and how it reads.
func (w *Word) read(r act.Reading, value string) (any, string, error) {
	wrong := func(what string) error {
		return fault.New(fault.Invalid, "show", "What follows “%s” is %s; “%s” is none.", w.Text, what, value)
	}
	switch w.Takes {
	case ASupplier:
		s, err := r.SupplierByCode(value)
		if errors.Is(err, store.ErrNone) {
			return nil, "", wrong("a supplier")
		}
		return s.ID, s.Name, err
	case AnItem:
		i, err := r.ItemByCode(value)
		if errors.Is(err, store.ErrNone) {
			return nil, "", wrong("an item")
		}
		return i.ID, i.Name, err
	case APerson:
		people, err := r.Tx.People()
		at := slices.IndexFunc(people, func(p store.Person) bool { return p.Login == value })
		if err == nil && at < 0 {
			err = wrong("a person")
		}
		if err != nil {
			return nil, "", err
		}
		return people[at].ID, people[at].Name, nil
	case AnAmount:
		n, err := money.ParseDecimal(value)
		if err != nil {
			return nil, "", wrong("an amount")
		}
		return int64(n), value, nil
	case ADay, ADayOrNone:
		d, err := day.Parse(value)
		if err != nil {
			return nil, "", wrong("a day")
		}
		return d, value, nil
	case AChoice:
		at := slices.IndexFunc(w.Choices, func(c Choice) bool { return c.Value == value })
		if at < 0 {
			return nil, "", wrong("one of those that are offered")
		}
		return value, w.Choices[at].Text, nil
	case ASupplierGroup, AnItemGroup, ABudget:
		offered, err := offers(r, w.Takes)
		at := slices.IndexFunc(offered, func(c Choice) bool { return strings.EqualFold(c.Value, value) })
		if err == nil && at < 0 {
			err = wrong("one of those that are offered")
		}
		if err != nil {
			return nil, "", err
		}
		return offered[at].Value, offered[at].Value, nil
	case AnOrder, SomeText:
		if strings.TrimSpace(value) == "" {
			return nil, "", wrong("a name or a number")
		}
		return value, value, nil
	case Nothing, "":
		if value != "" {
			return nil, "", fault.New(fault.Invalid, "show", "Nothing follows “%s”.", w.Text)
		}
	}
	return nil, "", nil
}

// offers are what may follow a word whose choices the company makes itself; of other words none.
func offers(r act.Reading, takes Takes) (all []Choice, err error) {
	switch takes {
	case ASupplierGroup:
		groups, err := r.SupplierGroups()
		for _, g := range groups {
			all = append(all, Choice{g.Name, g.Name})
		}
		return all, err
	case AnItemGroup:
		names, err := r.ItemGroups()
		for _, name := range names {
			all = append(all, Choice{name, name})
		}
		return all, err
	case ABudget:
		budgets, err := r.Budgets()
		for _, b := range budgets {
			all = append(all, Choice{b.Code, b.Code + " " + b.Name})
		}
		return all, err
	}
	return nil, nil
}

// offers are what may follow the words of a list whose choices the company makes itself.
func (l *List) offers(r act.Reading) (map[Takes][]Choice, error) {
	all := map[Takes][]Choice{}
	for _, w := range l.Words {
		offered, err := offers(r, w.Takes)
		if err != nil {
			return nil, err
		}
		if offered != nil {
			all[w.Takes] = offered
		}
	}
	return all, nil
}

// cellsOf are the SQL of some columns, of the currency, of what a cell leads to, and of what else is read with a row.
func (q *question) cellsOf(columns []*Column) (cells []string) {
	cells = append(cells, orEmpty(q.list.Currency), orEmpty(q.list.Raw))
	for _, c := range columns {
		sql := c.SQL
		if c.Sums != "" && q.begins != "" {
			sql = q.before(c.Sums) + " + " + sql
		}
		cells = append(cells, orEmpty(sql), orEmpty(c.By))
	}
	return cells
}

// before is what a running balance begins with: what is like the rows that are shown, and before them.
func (q *question) before(sums string) string {
	rows := q.list.From + " AND NOT " + q.begins
	for _, w := range q.where {
		if w != q.begins {
			rows += " AND " + w
		}
	}
	return "(SELECT coalesce(sum(" + sums + "), 0) " + rows + ")"
}

func orEmpty(sql string) string {
	if sql == "" {
		return "''"
	}
	return sql
}

// asks is the question for some columns, sorted, from a row on, so many at most; zero: all.
func (q *question) asks(columns []*Column, order string, from, most int) string {
	where := ""
	for _, w := range q.where {
		where += " AND " + w
	}
	if order != "" {
		order = " ORDER BY " + order
	}
	page := ""
	if most > 0 {
		page = fmt.Sprintf(" LIMIT %d OFFSET %d", most, from)
	}
	if most > 0 && q.list.ID != "" {
		chosen := q.list.From
		if !q.narrowed && !q.list.Report { // its first table is walked in its own order
			chosen = strings.Replace(chosen, " JOIN ", " CROSS JOIN ", 1)
		}
		where = fmt.Sprintf(" AND %s IN (SELECT %s %s%s%s%s)", q.list.ID, q.list.ID, chosen, where, order, page)
		page = ""
	}
	return "SELECT " + strings.Join(q.cellsOf(columns), ", ") + " " + q.list.From + where + order + page
}

// ordered is how the rows are sorted, where the store can do that.
func (q *question) ordered() string {
	var by []string
	if q.group != nil {
		by = append(by, q.group.SQL+" COLLATE NOCASE")
	}
	if q.sort != nil && q.sort.SQL != "" {
		way := ""
		if q.down {
			way = " DESC"
		}
		collate := ""
		if !q.sort.Kind.figures() {
			collate = " COLLATE NOCASE"
		}
		by = append(by, q.sort.SQL+collate+way)
	}
	return strings.Join(append(by, q.list.Order), ", ")
}
