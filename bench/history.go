package main

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

const (
	blockSize = 1000 // invoices of one block of history, made by Lagoon's own jobs
	blockDays = blockSize / suppliers
	openWork  = 150 // invoices in each open state, in every history
)

// history makes a file with n settled invoices and always the same open work. One
// block is made by Lagoon's own jobs; the others are copies of its rows under other
// keys, numbers and days, so the record's hashes do not fit and papers are empty.
func history(ctx context.Context, folder string, n int) error {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return err
	}
	w, err := found(ctx, folder, store.OpenUnsynced)
	if err != nil {
		return err
	}
	if err := w.settledBlock(ctx); err != nil {
		return errors.Join(err, w.store.Close())
	}
	if err := w.store.Close(); err != nil {
		return err
	}
	if err := multiply(ctx, folder, n/blockSize); err != nil {
		return err
	}
	if w, err = openWorld(ctx, folder, store.OpenUnsynced); err != nil {
		return err
	}
	return errors.Join(w.openWork(ctx, 7_777_000), w.store.Close()) // numbers unlike any of the block
}

// settledBlock orders, receives, takes in, releases and pays.
func (w *world) settledBlock(ctx context.Context) error {
	var numbers []int64
	for n := range blockSize {
		order, err := w.order(ctx, n)
		if err != nil {
			return err
		}
		captured, err := invoices.ImportOne(ctx, w.app, w.as("clerk"), invoice(order, n))
		if err != nil {
			return err
		}
		numbers = append(numbers, captured.Number)
	}
	if _, err := payments.ReleaseInvoices(ctx, w.app, w.as("approver"), numbers); err != nil {
		return err
	}
	for chunk := range slices.Chunk(numbers, 100) {
		if err := w.payRun(ctx, chunk, true); err != nil {
			return err
		}
	}
	return nil
}

func (w *world) payRun(ctx context.Context, invoices []int64, settle bool) error {
	entry := payments.RunEntry{DueBy: today.Add(60), PayOn: today.BankDay()}
	for _, n := range invoices {
		entry.Items = append(entry.Items, payments.RunItem{Invoice: n})
	}
	made, err := payments.MakeRun(ctx, w.app, w.as("clerk"), entry)
	if err != nil || !settle {
		return err
	}
	if _, err := payments.ApproveRun(ctx, w.app, w.as("treasurer"), made.Number, 0); err != nil {
		return err
	}
	sheet, err := views.Run(ctx, w.app, made.Number, act.Actor{})
	if err != nil {
		return err
	}
	answer, err := iso20022.WriteAnswer(
		iso20022.Answer{Message: "A-" + sheet.Message, Original: sheet.Message, Created: now, Group: iso20022.Settled},
	)
	if err != nil {
		return err
	}
	_, err = payments.TakeAnswer(ctx, w.app, w.as("treasurer"), act.File{Name: "a.xml", Content: answer})
	return err
}

// openWork leaves invoices in every open state, a hold and a proposed run.
func (w *world) openWork(ctx context.Context, from int) error {
	var released []int64
	for i := range 4 * openWork {
		n := from + i
		order, err := w.order(ctx, n)
		if err != nil {
			return err
		}
		file := invoice(order, n)
		text := string(file.Content)
		switch i % 4 {
		case 0: // more than came
			text = strings.ReplaceAll(text, `unitCode="KGM">10<`, `unitCode="KGM">10.5<`)
		case 1: // dearer
			text = strings.ReplaceAll(text, `>12.35<`, `>13.10<`)
		}
		file.Content = []byte(text)
		captured, err := invoices.ImportOne(ctx, w.app, w.as("clerk"), file)
		if err != nil {
			return err
		}
		switch {
		case i%4 == 2 && i < openWork:
			if _, err := holds.Hold(ctx, w.app, w.as("clerk"), holds.HoldEntry{Invoice: captured.Number, Reason: "goods", Note: "in question"}); err != nil {
				return err
			}
		case i%4 == 3:
			released = append(released, captured.Number)
		}
	}
	if _, err := payments.ReleaseInvoices(ctx, w.app, w.as("approver"), released); err != nil {
		return err
	}
	for i := range openWork { // orders that wait for goods, some of them invoiced
		entry := orders.Entry{Supplier: fmt.Sprintf("S%02d", i%suppliers), WantedOn: today.Add(i % 30)}
		entry.Lines = []orders.EntryLine{
			{
				Item:        "I0",
				Quantity:    money.Int(10),
				Price:       money.MustDecimal("12.35"),
				TaxCategory: "S",
				TaxRate:     money.Int(23),
				Budget:      "FEED",
			},
		}
		if _, err := orders.Issue(ctx, w.app, w.as("buyer"), entry); err != nil {
			return err
		}
	}
	return w.payRun(ctx, released[:20], false)
}

// Tables of a block, and what of them is no key: a number, a text that must differ, a
// day that goes back.
var blockTables = []string{
	"purchase_order",
	"order_line",
	"order_state",
	"order_line_state",
	"delivery",
	"receipt_line",
	"paper",
	"paper_part",
	"invoice",
	"invoice_revision",
	"invoice_line",
	"invoice_order",
	"invoice_tax",
	"match_run",
	"invoice_state",
	"invoice_decision",
	"allocation",
	"entry",
	"entry_line",
	"payment_run",
	"payment",
	"payment_item",
	"run_state",
	"payment_state",
	"bank_answer",
	"audit",
}

// rowless are the tables that have no rowid, with the column and table that they belong to.
var rowless = map[string]string{"invoice_tax": "invoice_revision", "invoice_order": "invoice", "entry_line": "entry"}

var changedColumns = map[string]string{
	"purchase_order.number": "number + %[1]d * %[3]d",
	"delivery.number":       "number + %[1]d * %[3]d", "invoice.number": "number + %[1]d * %[3]d",
	"entry.number": "number + %[1]d * %[2]d", "payment_run.number": "number + %[1]d * %[2]d",
	"entry.document_number": "document_number + %[1]d * CASE document WHEN 'payment' THEN 10 ELSE %[3]d END", "entry.purchase_order": "purchase_order + %[1]d * %[3]d",
	"entry_line.detail": `CASE WHEN role = 'grni' THEN CAST(substr(detail, 1, instr(detail, '/') - 1) + %[1]d * %[3]d AS TEXT) || substr(detail, instr(detail, '/'))
		WHEN role IN ('in_transit', 'bank') AND detail <> '' THEN detail || '-%[1]d' ELSE detail END`,
	"payment_run.pay_on": "date(pay_on, '-%[4]d days')", "payment_run.due_by": "date(due_by, '-%[4]d days')",
	"payment.end_to_end": "end_to_end || '-%[1]d'", "bank_answer.message": "message || '-%[1]d'", "run_state.message": "message || '-%[1]d'", "paper.sha256": "sha256 || '-%[1]d'", "paper_part.bytes": "x''",
	"invoice_revision.supplier_number": "supplier_number || '-C%[1]d'", "invoice_state.number_key": "number_key || 'C%[1]d'",
	"invoice_revision.invoice_date": "date(invoice_date, '-%[4]d days')", "invoice_state.invoice_date": "date(invoice_date, '-%[4]d days')", "invoice_state.due_on": "date(due_on, '-%[4]d days')",
	"invoice_state.since":      "date(substr(since, 1, 10), '-%[4]d days') || substr(since, 11)",
	"purchase_order.issued_on": "date(issued_on, '-%[4]d days')", "purchase_order.wanted_on": "date(wanted_on, '-%[4]d days')", "order_state.wanted_on": "date(wanted_on, '-%[4]d days')",
	"delivery.arrived_on": "date(arrived_on, '-%[4]d days')", "entry.posted_on": "date(posted_on, '-%[4]d days')",
	"audit.seq": "seq + %[1]d * %[2]d", "audit.number": "CAST(number + %[1]d * CASE subject WHEN 'run' THEN 10 ELSE %[3]d END AS TEXT)",
}

// multiply copies the block under other keys until there are blocks of it.
func multiply(ctx context.Context, folder string, blocks int) error {
	db, err := sql.Open(
		"sqlite3",
		"file:"+filepath.Join(folder, "lagoon.db")+"?_foreign_keys=0&_cache_size=-500000&_synchronous=OFF",
	)
	if err != nil {
		return err
	}
	defer db.Close() //nolint:errcheck // reported by the statements
	db.SetMaxOpenConns(1)
	strides, copies := map[string]int64{}, map[string][]string{}
	for _, table := range blockTables {
		key := "rowid"
		if table == "audit" {
			key = "seq"
		}
		if rowless[table] == "" {
			var most int64
			if err := db.QueryRowContext(ctx, fmt.Sprintf(`SELECT max(%s) FROM %s`, key, table)).Scan(&most); err != nil {
				return fmt.Errorf("%w of %s", err, table)
			}
			strides[table] = most
		}
	}
	for _, table := range blockTables {
		if copies[table], err = columnsOf(ctx, db, table, strides); err != nil {
			return err
		}
	}
	started := time.Now()
	for block := 1; block < blocks; block++ {
		tx, err := db.BeginTx(ctx, nil)
		if err != nil {
			return err
		}
		for _, table := range blockTables {
			columns := copies[table]
			values := make([]string, len(columns)/2)
			for i := range values {
				values[i] = sprint(columns[2*i+1], block, strides[table], blockSize, block*blockDays)
			}
			var names []string
			for i := 0; i < len(columns); i += 2 {
				names = append(names, columns[i])
			}
			where := fmt.Sprintf("rowid <= %d", strides[table])
			if of := rowless[table]; of != "" {
				where = fmt.Sprintf("%s <= %d", of, strides[of])
			}
			if table == "audit" {
				where += " AND subject IN ('order', 'delivery', 'invoice', 'run')"
			}
			if _, err := tx.ExecContext(ctx, fmt.Sprintf(`INSERT INTO %s (%s) SELECT %s FROM %s WHERE %s`, table, strings.Join(names, ", "), strings.Join(values, ", "), table, where)); err != nil {
				return errors.Join(fmt.Errorf("%w in block %d of %s", err, block, table), tx.Rollback())
			}
		}
		if _, err := tx.ExecContext(ctx, sprint(`INSERT INTO finder (text, kind, number, label)
		SELECT CAST(number + %[1]d * CASE kind WHEN 'run' THEN 10 ELSE %[2]d END AS TEXT) || ' ' || substr(text,
		instr(text, ' ') + 1), kind,
			CAST(number + %[1]d * CASE kind WHEN 'run' THEN 10 ELSE %[2]d END AS TEXT), label FROM finder
			WHERE rowid <= %[3]d`, block, blockSize, 3*blockSize+10)); err != nil {
			return errors.Join(err, tx.Rollback())
		}
		if err := tx.Commit(); err != nil {
			return err
		}
		if block%50 == 0 {
			fmt.Fprintf(os.Stderr, "history: %d of %d blocks in %.0f s\n", block, blocks, time.Since(started).Seconds())
		}
	}
	for _, series := range []struct{ kind, table string }{{"order", "purchase_order"}, {"delivery", "delivery"}, {"invoice", "invoice"}, {"entry", "entry"}, {"run", "payment_run"}} {
		if _, err := db.ExecContext(ctx, fmt.Sprintf(`UPDATE series SET next = (SELECT max(number) + 1 FROM %s)
			WHERE kind = '%s'`, series.table, series.kind)); err != nil {
			return err
		}
	}
	if _, err := db.ExecContext(ctx, `UPDATE series SET next = 1 + (SELECT count(*) FROM payment) WHERE kind = 'payment'`); err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, `DELETE FROM kept_sum`) // they are counted when it is opened
	return err
}

// columnsOf gives each column of a table with the expression that copies it.
func columnsOf(ctx context.Context, db *sql.DB, table string, strides map[string]int64) ([]string, error) {
	keys := map[string]string{}
	rows, err := db.QueryContext(ctx, `SELECT "from", "table" FROM pragma_foreign_key_list(?)`, table)
	if err != nil {
		return nil, err
	}
	for rows.Next() {
		var column, to string
		if err := rows.Scan(&column, &to); err != nil {
			return nil, err
		}
		keys[column] = to
	}
	if rows, err = db.QueryContext(ctx, `SELECT name FROM pragma_table_info(?)`, table); err != nil {
		return nil, err
	}
	var columns []string
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, err
		}
		value := name
		switch stride, moves := strides[keys[name]]; {
		case changedColumns[table+"."+name] != "":
			value = changedColumns[table+"."+name]
		case name == "id":
			value = fmt.Sprintf("id + %%[1]d * %d", strides[table])
		case moves:
			value = fmt.Sprintf("%s + %%[1]d * %d", name, stride)
		}
		columns = append(columns, name, value)
	}
	return columns, rows.Err()
}

// sprint formats with numbered operands of which not all need be used.
func sprint(format string, operands ...any) string {
	for i, o := range operands {
		format = strings.ReplaceAll(format, fmt.Sprintf("%%[%d]d", i+1), fmt.Sprint(o))
	}
	return format
}
