package store

import (
	"fmt"
	"strings"
)

// This file holds lists that stop at some length, and count what they leave out.

// mostPiled is how many slips a pile shows of one kind.
const mostPiled = 200

// MostCounted is how far what a list leaves out is counted; there may be more.
const MostCounted = 10_000

// cutList is a statement that lists, and one that counts how many rows it would without an end.
type cutList struct {
	rows, count *query
	most        int
}

// cutAt stops a list after so many rows. What is counted is the same without its columns.
func cutAt(most int, text string) cutList {
	return cutList{
		statement(fmt.Sprintf("%s LIMIT %d", text, most)),
		statement(
			fmt.Sprintf("SELECT count(*) FROM (SELECT 1 %s LIMIT %d)", afterColumns(text), most+MostCounted),
		), most,
	}
}

// afterColumns is a query from its own FROM on, past those of its columns' subqueries.
func afterColumns(query string) string {
	depth := 0
	for at := range query {
		switch query[at] {
		case '(':
			depth++
		case ')':
			depth--
		}
		if depth == 0 && strings.HasPrefix(query[at:], "FROM ") {
			return query[at:]
		}
	}
	panic("store: a query without FROM: " + query) // told as the program starts
}

// listCut reads a list that stops, and notes how many rows it leaves out.
func listCut[T any](t *Tx, c cutList, scan func(row) (T, error), args ...any) ([]T, error) {
	rows, err := list(t, c.rows, scan, args...)
	if err != nil || len(rows) < c.most {
		return rows, err
	}
	all, err := t.number(c.count, args...)
	t.leftOut += all - int64(len(rows))
	return rows, err
}

// LeftOut is how many rows the lists that were read so far have beside those that were
// given: that many or more from MostCounted on.
func (t *Tx) LeftOut() int64 { return t.leftOut }
