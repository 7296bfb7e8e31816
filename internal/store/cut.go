package store

import "fmt"

// This file holds lists that stop at some length, and count what they leave out.

// mostPiled is how many slips a pile shows of one kind.
const mostPiled = 200

// MostCounted is how far what a list leaves out is counted.
const MostCounted = 10_000

// cutList is a statement that lists, and one that counts how many rows it would without an end.
type cutList struct {
	rows, count *query
	most        int
}

// cutAt stops a list after so many rows.
func cutAt(most int, text string) cutList {
	return cutList{statement(fmt.Sprintf("%s LIMIT %d", text, most)), statement(fmt.Sprintf("SELECT count(*) FROM (%s LIMIT %d)", text, MostCounted)), most}
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
// given, each counted as far as MostCounted.
func (t *Tx) LeftOut() int64 { return t.leftOut }
