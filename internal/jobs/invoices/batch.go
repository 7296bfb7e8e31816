package invoices

// This file is about invoices that are keyed many at once: they are kept as typed, tried without changing anything, and captured
// in one run that goes on by itself, can be stopped, and is gone on with where it stopped.

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

const (
	mostBatchRows = 200
	batchStep     = 8 // rows that one transaction captures, so that people's commands wait no longer than that
)

// BatchEntry is a batch as it is typed; Number 0 begins one.
type BatchEntry struct {
	Number, Version int64
	trade.Batch
}

// BatchKept answers the jobs on a batch.
type BatchKept struct{ Number, Version int64 }

// ownBatch reads a batch that the actor began, as they saw it.
func ownBatch(w *act.Work, number, version int64) (store.Batch, error) {
	b, err := w.BatchByNumber(number)
	switch {
	case err != nil:
		return b, act.Found(err, "There is no batch %d.", number)
	case !w.Actor.Is(b.By):
		return b, fault.New(fault.Forbidden, "", "Batch %d is %s’s; only who keys a batch goes on with it.", number, b.ByName)
	}
	return b, w.Changed("batch", number, version, b.Version)
}

// KeepBatch keeps a batch as it is typed, whatever is still wrong with it. What is captured stays as it is.
func KeepBatch(ctx context.Context, a *act.App, c act.Command, entry BatchEntry) (BatchKept, error) {
	return act.Perform(ctx, a, act.KeepBatch, c, func(w *act.Work) (BatchKept, error) {
		rows := slices.Clone(entry.Rows)
		for len(rows) > 0 && rows[len(rows)-1].Blank() {
			rows = rows[:len(rows)-1]
		}
		if len(rows) > mostBatchRows {
			return BatchKept{}, fault.New(fault.Invalid, "rows", "A batch has at most %d invoices. Begin another for the rest.", mostBatchRows)
		}
		b := store.Batch{State: store.BatchOpen, Since: w.Instant()}
		var err error
		if entry.Number == 0 {
			b.Number, err = w.AddBatch(w.Actor.ID, w.Instant())
		} else if b, err = ownBatch(w, entry.Number, entry.Version); err == nil && b.State != store.BatchOpen && b.State != store.BatchStopped {
			err = fault.New(fault.Refused, "", "Batch %d is %s.", b.Number, say.Batch(b.State))
		}
		if err != nil {
			return BatchKept{}, err
		}
		captured, err := w.BatchInvoices(b.Number)
		if err != nil {
			return BatchKept{}, err
		}
		for no := range captured {
			if no > len(rows) || rows[no-1] != b.Rows[no-1] {
				return BatchKept{}, fault.New(fault.Refused, fmt.Sprintf("rows[%d].number", no-1), "Row %d is captured as invoice %d; correct that.", no, captured[no])
			}
		}
		b.Rows, b.Controls = rows, entry.Controls
		return BatchKept{b.Number, b.Version + 1}, errors.Join(w.SaveBatch(b), w.Record("batch", b.Number, nil, b.Batch))
	})
}

// RunBatch begins capturing a batch, or goes on with it, once it comes to its controls. Captured it is beside everything else,
// by Lagoon, in the name of who began it.
func RunBatch(ctx context.Context, a *act.App, c act.Command, number, version int64) (BatchKept, error) {
	kept, err := act.Perform(ctx, a, act.RunBatch, c, func(w *act.Work) (BatchKept, error) {
		b, err := ownBatch(w, number, version)
		if err != nil {
			return BatchKept{}, err
		}
		if b.State != store.BatchOpen && b.State != store.BatchStopped {
			return BatchKept{}, fault.New(fault.Refused, "", "Batch %d is %s.", b.Number, say.Batch(b.State))
		}
		sums, err := sumsOf(w.Reading, b)
		switch {
		case err != nil:
			return BatchKept{}, err
		case sums.Count == 0:
			return BatchKept{}, fault.New(fault.Invalid, "rows", "Nothing is keyed yet.")
		case !b.Controls.Given():
			return BatchKept{}, fault.New(fault.Invalid, "controls", "Enter how many invoices there are, or what they come to together.")
		}
		var faults fault.Faults
		for _, part := range b.Controls.Against(sums) {
			faults = append(faults, fault.New(fault.Refused, part.Control, "%s", w.Actor.Printer.Control(part)))
		}
		if err := faults.OrNil(); err != nil {
			return BatchKept{}, err
		}
		for i := range b.Rows {
			b.Rows[i].Said = ""
		}
		b.State, b.Since, b.Trouble = store.BatchRunning, w.Instant(), ""
		return BatchKept{b.Number, b.Version + 1}, errors.Join(w.SaveBatch(b), w.Record("batch", b.Number, nil, b.Controls))
	})
	if err == nil {
		a.Woken.Ring()
	}
	return kept, err
}

// StopBatch stops capturing a batch: what is captured stays, and it is gone on with by RunBatch.
func StopBatch(ctx context.Context, a *act.App, c act.Command, number int64) (BatchKept, error) {
	return act.Perform(ctx, a, act.StopBatch, c, func(w *act.Work) (BatchKept, error) {
		b, err := w.BatchByNumber(number)
		switch {
		case err != nil:
			return BatchKept{}, act.Found(err, "There is no batch %d.", number)
		case b.State != store.BatchRunning:
			return BatchKept{}, fault.New(fault.Refused, "", "Batch %d is %s.", number, say.Batch(b.State))
		}
		return BatchKept{number, b.Version + 1}, stop(w, b, c.Cause)
	})
}

func stop(w *act.Work, b store.Batch, trouble string) error {
	b.State, b.Since, b.Trouble = store.BatchStopped, w.Instant(), trouble
	return errors.Join(w.SaveBatch(b), w.Record("batch", b.Number, nil, struct{ Trouble string }{trouble}))
}

// DropBatch gives a batch up of which nothing is captured.
func DropBatch(ctx context.Context, a *act.App, c act.Command, number, version int64) (BatchKept, error) {
	return act.Perform(ctx, a, act.DropBatch, c, func(w *act.Work) (BatchKept, error) {
		b, err := ownBatch(w, number, version)
		if err != nil {
			return BatchKept{}, err
		}
		captured, err := w.BatchInvoices(number)
		switch {
		case err != nil:
			return BatchKept{}, err
		case len(captured) > 0:
			return BatchKept{}, fault.New(fault.Refused, "", "%d of its invoices are captured. Refuse or void those that are wrong.", len(captured))
		case b.State != store.BatchOpen && b.State != store.BatchStopped:
			return BatchKept{}, fault.New(fault.Refused, "", "Batch %d is %s.", b.Number, say.Batch(b.State))
		}
		b.State, b.Since = store.BatchDropped, w.Instant()
		return BatchKept{number, b.Version + 1}, errors.Join(w.SaveBatch(b), w.Record("batch", number, nil, nil))
	})
}

// batchRow makes an entry of a row, and tells the quantity that it bills.
func batchRow(r act.Reading, row trade.BatchRow) (Entry, money.Decimal, error) {
	refuse := func(field, sentence string, operands ...any) (Entry, money.Decimal, error) {
		return Entry{}, 0, fault.New(fault.Invalid, field, sentence, operands...)
	}
	if row.Order == 0 {
		return refuse("order", "Enter the order, or a delivery note of it.")
	}
	order, err := r.OrderByNumber(row.Order, store.AllReserved)
	if err != nil {
		return Entry{}, 0, act.FoundAt(err, "order", "There is no order %d.", row.Order)
	}
	if _, err := day.Parse(string(row.Date)); err != nil {
		return refuse("date", "Enter the invoice’s date.")
	}
	inv, err := r.ProposedOf(order, trade.Wanted{Note: row.Note})
	if err == nil && len(inv.Lines) == 0 && row.Note == "" { // it came before its goods
		inv, err = r.ProposedOf(order, trade.Wanted{Rest: true})
	}
	if err != nil {
		return Entry{}, 0, err
	}
	if len(inv.Lines) == 0 {
		return refuse("order", "Nothing of order %d is left to be invoiced. Key this one by itself.", order.Number)
	}
	if text := strings.TrimSpace(row.Quantity); text != "" {
		quantity, err := money.ParseDecimal(text)
		switch {
		case err != nil || quantity <= 0:
			return refuse("quantity", "“%s” is no quantity.", text)
		case len(inv.Lines) > 1:
			return refuse("quantity", "Order %d has %d lines to invoice. Key this one by itself, line by line.", order.Number, len(inv.Lines))
		}
		inv.Lines[0].Quantity, inv.Lines[0].Notes = quantity, nil
	}
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return Entry{}, 0, err
	}
	entry := Entry{Supplier: supplier.Code, Order: order.Number, Number: row.Number, Date: row.Date, StatedTotal: row.Total}
	sum := money.Decimal(0)
	text := func(a money.Amount) money.Entered { return money.Entered(a.Text(order.Currency)) }
	for _, l := range inv.Lines {
		sum += l.Quantity
		entry.Lines = append(entry.Lines, EntryLine{
			OrderLine: l.No, Description: l.Description, Unit: l.Unit, Quantity: l.Quantity, Price: l.Price, Base: l.Base, Discount: text(l.Discount),
			Charge: text(l.Charge), TaxCategory: l.TaxCategory, TaxRate: l.TaxRate, TaxCode: l.TaxCode, Notes: strings.Join(l.Notes, ", "),
		})
	}
	for _, c := range inv.Charges {
		entry.Charges = append(entry.Charges, EntryCharge{Kind: c.Kind, Reason: c.Reason, Amount: text(c.Amount), TaxCategory: c.TaxCategory, TaxRate: c.TaxRate})
	}
	return entry, sum, nil
}

// sumsOf is what a batch comes to: of what is captured as it was captured, of the rest as it would be.
func sumsOf(r act.Reading, b store.Batch) (s trade.Sums, err error) {
	captured, err := r.BatchInvoices(b.Number)
	if err != nil {
		return s, err
	}
	for i, row := range b.Rows {
		if row.Blank() {
			continue
		}
		s.Count++
		if total, no := money.ParseDecimal(string(row.Total)); no == nil {
			s.Total += total
		}
		quantity := money.Decimal(0)
		if number := captured[i+1]; number != 0 {
			inv, _, err := r.InvoiceNumbered(number)
			if err != nil {
				return s, err
			}
			for _, l := range inv.Lines {
				quantity += l.Quantity
			}
		} else if _, quantity, err = batchRow(r, row); err != nil && !fault.Refuses(err) {
			return s, err
		}
		s.Quantity += quantity
	}
	return s, nil
}

// captureRow captures a row of a batch.
func captureRow(w *act.Work, b store.Batch, no int) (act.Captured, error) {
	entry, _, err := batchRow(w.Reading, b.Rows[no-1])
	if err != nil {
		return act.Captured{}, err
	}
	inv, err := entered(w.Reading, entry)
	if err != nil {
		return act.Captured{}, err
	}
	inv.Source = trade.FromKeys
	captured, err := capture(w, inv, 0, fmt.Sprintf("invoice keyed in batch %d", b.Number), nil)
	if err != nil {
		return captured, err
	}
	id, err := w.InvoiceID(captured.Number)
	return captured, errors.Join(err, w.AddToBatch(b.Number, no, id))
}

// Batches captures what is to be captured of batches that run, some rows at a time, until nothing is left or the context ends.
func Batches(ctx context.Context, a *act.App) error {
	for ctx.Err() == nil {
		b, err := act.Read(ctx, a, func(r act.Reading) (b store.Batch, err error) {
			number, err := r.RunningBatch()
			if err != nil {
				return b, err
			}
			return r.BatchByNumber(number)
		})
		if errors.Is(err, store.ErrNone) {
			return nil
		}
		if err != nil {
			return err
		}
		err = advance(ctx, a, b)
		if err != nil && ctx.Err() == nil { // who began it may key no more, say
			cause := "It could not go on. Try again; the record says more."
			if fault.Refuses(err) {
				cause = err.Error()
			}
			a.Log.Error("batch stopped", "batch", b.Number, "error", err)
			if _, err := StopBatch(ctx, a, act.Command{Actor: act.Lagoon, Cause: cause}, b.Number); err != nil {
				return err
			}
		}
	}
	return ctx.Err()
}

// advance captures the next rows of a batch in the name of who began it.
func advance(ctx context.Context, a *act.App, b store.Batch) error {
	keyer, err := a.ActorByID(ctx, b.By)
	if err != nil {
		return err
	}
	c := act.Command{Actor: keyer, Cause: fmt.Sprintf("batch %d", b.Number)}
	_, err = act.Perform(ctx, a, act.KeyInvoice, c, func(w *act.Work) (struct{}, error) { return struct{}{}, step(w, b.Number) })
	return err
}

// step captures the next rows, while the batch runs still.
func step(w *act.Work, number int64) error {
	b, err := w.BatchByNumber(number)
	if err != nil || b.State != store.BatchRunning {
		return err
	}
	captured, err := w.BatchInvoices(number)
	if err != nil {
		return err
	}
	done, refused := 0, 0
	for i, row := range b.Rows {
		no := i + 1
		switch {
		case row.Blank() || captured[no] != 0:
			continue
		case row.Said != "":
			refused++
			continue
		case done == batchStep:
			return errors.Join(w.SaveBatch(b), w.Record("batch", number, nil, struct{ Captured int }{len(captured) + done}))
		}
		said, err := w.Part(func() error {
			_, err := captureRow(w, b, no)
			return err
		})
		if err != nil {
			return err
		}
		done++
		if said != nil {
			if !fault.Refuses(said) {
				return said
			}
			b.Rows[i].Said = said.Error()
			refused++
		}
	}
	b.State, b.Since = store.BatchDone, w.Instant()
	if refused > 0 {
		return stop(w, b, w.Actor.Printer.Refused(refused))
	}
	return errors.Join(w.SaveBatch(b), w.Record("batch", number, nil, struct{ Captured int }{len(captured) + done}))
}

// OpenBatches are those that are not all captured.
func OpenBatches(ctx context.Context, a *act.App) ([]store.Batch, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.Batch, error) { return r.Tx.OpenBatches() })
}
