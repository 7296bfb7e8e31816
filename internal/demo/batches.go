package demo

import (
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
)

// totalled keeps a batch of the clerk's with the totals that its orders come to, as a trial tells them.
func (b *builder) totalled(rows []trade.BatchRow, controls trade.Controls) (invoices.BatchKept, error) {
	entry := invoices.BatchEntry{Batch: trade.Batch{Rows: rows, Controls: controls}}
	for i := range rows {
		rows[i].Total = "0"
	}
	kept, err := invoices.KeepBatch(b.ctx, b.app, b.as("nora"), entry)
	if err != nil {
		return kept, err
	}
	tried, err := invoices.TryBatch(b.ctx, b.app, b.as("nora"), kept.Number)
	if err != nil {
		return kept, err
	}
	for i, o := range tried.Rows {
		rows[i].Total = money.Entered(o.Totals.Total.Text(o.Currency))
	}
	entry.Number, entry.Version = kept.Number, kept.Version
	return invoices.KeepBatch(b.ctx, b.app, b.as("nora"), entry)
}

// inABatch plans that the clerk keys an invoice in a batch; its number is known then.
func (b *builder) inABatch(n int, x bill) *int64 {
	number := new(int64)
	b.on(n, 9, func() error {
		kept, err := b.totalled([]trade.BatchRow{{Order: *x.on, Number: x.number, Date: b.today.Add(x.date)}}, trade.Controls{Count: "1"})
		if err != nil {
			return err
		}
		if _, err := invoices.RunBatch(b.ctx, b.app, b.as("nora"), kept.Number, kept.Version); err != nil {
			return err
		}
		if err := invoices.Batches(b.ctx, b.app); err != nil {
			return err
		}
		report, err := invoices.ReadBatch(b.ctx, b.app, b.actors["nora"], kept.Number)
		if err == nil {
			*number = report.Rows[0].Invoice
		}
		return err
	})
	return number
}

// begun plans that the clerk began a batch yesterday: one of its three invoices is still to be keyed.
func (b *builder) begun(first, second *int64) {
	b.on(-1, 16, func() error {
		_, err := b.totalled([]trade.BatchRow{
			{Order: *first, Number: "BF-20475", Date: b.today.Add(-2)}, {Order: *second, Number: "OF-3424", Date: b.today.Add(-2)},
		}, trade.Controls{Count: "3"})
		return err
	})
}
