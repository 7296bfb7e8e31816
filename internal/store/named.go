package store

// This file keeps the delivery notes that invoice lines name (rules §6, by receipt).

import (
	"errors"

	"lagoon/internal/core/trade"
)

var (
	addLineNote = statement(`INSERT INTO invoice_line_note (invoice_line, no, note) VALUES (?, ?, ?)`)
	lineNotes   = statement(
		`SELECT il.no, n.note FROM invoice_line il CROSS JOIN invoice_line_note n ON n.invoice_line = il.id
		WHERE il.invoice_revision = ? ORDER BY il.no, n.no`,
	)
	notesOfLine = statement(`SELECT note FROM invoice_line_note WHERE invoice_line = ? ORDER BY no`)
)

// addNotes writes the notes that the lines of a revision name; the lines have their row keys.
func (t *Tx) addNotes(lines []trade.InvoiceLine) error {
	for _, l := range lines {
		for i, note := range l.Notes {
			if err := t.do(addLineNote, l.ID, i+1, note); err != nil {
				return err
			}
		}
	}
	return nil
}

// notes reads them into the lines of a revision.
func (t *Tx) notes(revision int64, lines []trade.InvoiceLine) error {
	return t.intoLines(lineNotes, revision, lines, func(r row) (no int, put func(*trade.InvoiceLine), err error) {
		var note string
		err = r.Scan(&no, &note)
		return no, func(l *trade.InvoiceLine) { l.Notes = append(l.Notes, note) }, err
	})
}

// named reads what the lines of invoices that bill an order line by receipt name, as far as no receipt holds it.
func (t *Tx) named(line *trade.OrderLine) (err error) {
	if line.Level != trade.ByReceipt {
		return nil
	}
	line.Named = map[int64]trade.Notes{}
	for _, parts := range []trade.Parts{line.Awaited, line.Beyond, line.Variance} {
		for _, part := range parts {
			notes, e := list(t, notesOfLine, scanOne[string], part.InvoiceLine)
			line.Named[part.InvoiceLine], err = notes, errors.Join(err, e)
		}
	}
	return err
}
