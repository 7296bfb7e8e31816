package store

// This file keeps invoices that are keyed many at once: what was typed, how far it is captured, and which invoices came of it.

import (
	"encoding/json"

	"lagoon/internal/core/trade"
)

// Where a batch is: being keyed, being captured, stopped on the way, all captured, or given up.
const (
	BatchOpen    = "open"
	BatchRunning = "running"
	BatchStopped = "stopped"
	BatchDone    = "done"
	BatchDropped = "dropped"
)

// Batch is one with where it stands.
type Batch struct {
	Number     int64
	By         int64
	ByName, At string
	Version    int64
	State      string
	Since      string // it is there
	Trouble    string // why it was stopped, where nobody did that
	trade.Batch
}

const batchColumns = `SELECT b.number, b.by_person, p.name, b.at, s.version, s.state, s.since, s.trouble, s.content
	FROM batch b JOIN batch_state s ON s.batch = b.number JOIN person p ON p.id = b.by_person `

var (
	addBatch = statement(`INSERT INTO batch (number, by_person, at) VALUES (?, ?, ?)`)
	putBatch = statement(
		`INSERT INTO batch_state (batch, version, state, since, trouble, content) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (batch) DO UPDATE SET version = excluded.version, state = excluded.state, since = excluded.since,
		trouble = excluded.trouble, content = excluded.content`,
	)
	batchByNumber = statement(batchColumns + `WHERE b.number = ?`)
	openBatches   = statement(batchColumns + `WHERE s.state IN ('open', 'running', 'stopped') ORDER BY b.number DESC LIMIT 200`)
	runningBatch  = statement(`SELECT batch FROM batch_state WHERE state = 'running' ORDER BY batch LIMIT 1`)
	addToBatch    = statement(`INSERT INTO batch_invoice (batch, no, invoice) VALUES (?, ?, ?)`)
	batchInvoices = statement(
		`SELECT x.no, v.number FROM batch_invoice x JOIN invoice v ON v.id = x.invoice WHERE x.batch = ? ORDER BY x.no`,
	)
)

func scanBatch(r row) (b Batch, err error) {
	var content []byte
	if err = r.Scan(&b.Number, &b.By, &b.ByName, &b.At, &b.Version, &b.State, &b.Since, &b.Trouble, &content); err == nil {
		err = json.Unmarshal(content, &b.Batch)
	}
	return
}

// AddBatch begins a batch and gives its number.
func (t *Tx) AddBatch(by int64, at string) (int64, error) {
	number, err := t.NextNumber(BatchSeries)
	if err != nil {
		return 0, err
	}
	return number, t.do(addBatch, number, by, at)
}

// SaveBatch writes what is typed in a batch and where it stands, under its next version.
func (t *Tx) SaveBatch(b Batch) error {
	content, err := json.Marshal(b.Batch)
	if err != nil {
		return err
	}
	return t.do(putBatch, b.Number, b.Version+1, b.State, b.Since, b.Trouble, string(content))
}

// BatchByNumber finds a batch, or ErrNone.
func (t *Tx) BatchByNumber(number int64) (Batch, error) {
	return one(t, batchByNumber, scanBatch, number)
}

// OpenBatches are those that are not all captured, the newest first.
func (t *Tx) OpenBatches() ([]Batch, error) { return list(t, openBatches, scanBatch) }

// RunningBatch is the number of the first batch that is being captured, or ErrNone.
func (t *Tx) RunningBatch() (int64, error) { return one(t, runningBatch, scanOne[int64]) }

// AddToBatch ties an invoice to the row of a batch that it came of, counted from 1.
func (t *Tx) AddToBatch(batch int64, no int, invoice int64) error {
	return t.do(addToBatch, batch, no, invoice)
}

// BatchInvoices are the numbers of the invoices that came of a batch, by row.
func (t *Tx) BatchInvoices(batch int64) (map[int]int64, error) {
	type tied struct {
		no     int
		number int64
	}
	rows, err := list(t, batchInvoices, func(r row) (x tied, err error) {
		err = r.Scan(&x.no, &x.number)
		return
	}, batch)
	all := make(map[int]int64, len(rows))
	for _, x := range rows {
		all[x.no] = x.number
	}
	return all, err
}
