package store

// This file keeps lists as people want to see them again.

// KeptList is a list with what was asked of it, under a name.
type KeptList struct {
	Number     int64
	Name, List string
	Asked      string // what was asked, as JSON
	ForAll     bool
	By         int64
	ByName     string
	Ended      bool
}

const keptListColumns = `SELECT k.number, k.name, k.list, k.asked, k.for_all, k.by_person, p.name, k.ended
	FROM kept_list k JOIN person p ON p.id = k.by_person `

var (
	putKeptList = statement(
		`INSERT INTO kept_list (number, name, list, asked, for_all, by_person, ended) VALUES (?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (number) DO UPDATE SET name = excluded.name, list = excluded.list, asked = excluded.asked,
		for_all = excluded.for_all, by_person = excluded.by_person, ended = excluded.ended`,
	)
	keptList  = statement(keptListColumns + `WHERE k.number = ?`)
	keptLists = statement(keptListColumns + `WHERE k.ended = 0 AND (k.for_all = 1 OR k.by_person = ?) ORDER BY k.number`)
)

func scanKeptList(r row) (k KeptList, err error) {
	err = r.Scan(&k.Number, &k.Name, &k.List, &k.Asked, &k.ForAll, &k.By, &k.ByName, &k.Ended)
	return
}

// PutKeptList keeps a list; one of the same number is changed.
func (t *Tx) PutKeptList(k KeptList) error {
	return t.do(putKeptList, k.Number, k.Name, k.List, k.Asked, k.ForAll, k.By, k.Ended)
}

// KeptList reads one, or gives ErrNone.
func (t *Tx) KeptList(number int64) (KeptList, error) { return one(t, keptList, scanKeptList, number) }

// KeptLists are those of a person and those for all.
func (t *Tx) KeptLists(person int64) ([]KeptList, error) {
	return list(t, keptLists, scanKeptList, person)
}
