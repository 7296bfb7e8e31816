package demo

import (
	"lagoon/internal/core/money"
	"lagoon/internal/jobs/books"
)

// monthEnd: the treasurer accrued on the last day of the month before what the divers did, once with a wrong sum, and
// handed the month to the general ledger, the first time with an account too few.
func (b *builder) monthEnd() {
	n := -b.today.Time().Day()
	month := b.today.Add(n).Month()
	accrue := func(amount money.Entered, note string) (int64, error) {
		made, err := books.Accrue(b.ctx, b.app, b.as("tomas"), books.AccrualEntry{Month: month, Added: []books.AddedLine{
			{Budget: "HOSP", Amount: amount, Text: "Dives at the otter pool, not invoiced yet"},
		}, Note: note})
		return made.Number, err
	}
	handOver := func() (int64, error) {
		made, err := books.ExportLedger(b.ctx, b.app, b.as("tomas"), month)
		return made.Number, err
	}
	b.on(n, 17, func() error {
		number, err := accrue("320", "")
		if err != nil {
			return err
		}
		_, err = books.UndoAccrual(b.ctx, b.app, b.as("tomas"), books.Undoing{Number: number, Reason: "The divers wrote again: it was two dives more."})
		return err
	})
	b.on(n, 18, func() error {
		if _, err := accrue("480", "Two dives more."); err != nil {
			return err
		}
		number, err := handOver()
		if err != nil {
			return err
		}
		_, err = books.UndoExport(b.ctx, b.app, b.as("tomas"), books.Undoing{Number: number, Reason: "The account of exchange differences had no number yet."})
		return err
	})
	b.on(n, 19, func() error {
		_, err := handOver()
		return err
	})
}
