package books

// This file hands what is posted to the general ledger: once each, in numbered batches with control totals.

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/format/tabular"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// lastExported is the number of the last entry of a month that was handed over.
func lastExported(r act.Reading, month string) (int64, error) {
	all, err := r.LedgerExports(month)
	last := int64(0)
	for _, x := range all {
		if x.Ended == "" {
			last = x.UpTo
		}
	}
	return last, err
}

// ExportLedger hands what of a month was not handed over yet to the general ledger, as one numbered batch.
func ExportLedger(ctx context.Context, a *act.App, c act.Command, month string) (store.LedgerExport, error) {
	return act.Perform(ctx, a, act.ExportLedger, c, func(w *act.Work) (store.LedgerExport, error) {
		if _, err := ofMonth(month); err != nil {
			return store.LedgerExport{}, err
		}
		above, err := lastExported(w.Reading, month)
		if err != nil {
			return store.LedgerExport{}, err
		}
		x, err := w.ToExport(month, above, 0)
		if err != nil {
			return x, err
		}
		if x.Entries == 0 {
			return x, fault.New(fault.Refused, "month", "Nothing is posted in %s that was not handed over already.", month)
		}
		if x.Number, err = w.NextNumber(store.ExportSeries); err != nil {
			return x, err
		}
		x.By, x.ByName, x.At = w.Actor.ID, w.Actor.Name, w.Instant()
		if err := w.AddLedgerExport(x); err != nil {
			return x, err
		}
		return x, w.Record("ledger export", x.Number, nil, x)
	})
}

// UndoExport takes the last batch of a month back, so that its entries are handed over anew.
func UndoExport(ctx context.Context, a *act.App, c act.Command, u Undoing) (store.LedgerExport, error) {
	return act.Perform(ctx, a, act.UndoExport, c, func(w *act.Work) (store.LedgerExport, error) {
		x, err := w.LedgerExportByNumber(u.Number)
		if err != nil {
			return x, act.Found(err, "There is no batch %d.", u.Number)
		}
		reason := strings.TrimSpace(u.Reason)
		last, err := lastExported(w.Reading, x.Month)
		if err != nil {
			return x, err
		}
		switch {
		case x.Ended != "":
			return x, fault.New(fault.Duplicate, "", "Batch %d is taken back already.", x.Number)
		case reason == "":
			return x, fault.New(fault.Invalid, "reason", "Say why it is taken back: it may be in the general ledger.")
		case x.UpTo != last:
			return x, fault.New(fault.Refused, "", "A later batch of %s stands. Take that one back first.", x.Month)
		}
		before := x
		x.Ended = reason
		if err := w.EndLedgerExport(x.ID, reason, w.Actor.ID, w.Instant()); err != nil {
			return x, err
		}
		return x, w.Record("ledger export", x.Number, before, x)
	})
}

// exportColumns are those of a batch, by the trade's words.
var exportColumns = []string{"batch", "entry", "posted_on", "document", "document_number", "order", "text", "account", "account_name", "role",
	"dimension", "tax_code", "debit", "credit", "currency", "foreign_amount"}

// LedgerFile is a batch as a table, csv or xlsx: a row for each line of an entry, with account numbers and names as the
// company calls them now. The same batch is the same rows whenever it is made.
func LedgerFile(ctx context.Context, a *act.App, number int64, form string) (name, mediaType string, content []byte, err error) {
	table := tabular.Table{Columns: exportColumns, Kinds: make([]tabular.Kind, len(exportColumns))}
	for _, c := range []string{"debit", "credit", "foreign_amount"} {
		table.Kinds[slices.Index(exportColumns, c)] = tabular.Number
	}
	table.Kinds[slices.Index(exportColumns, "posted_on")] = tabular.Day
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		x, err := r.LedgerExportByNumber(number)
		if err != nil {
			return none, act.Found(err, "There is no batch %d.", number)
		}
		name = fmt.Sprintf("ledger-%s-batch-%d.%s", x.Month, x.Number, form)
		entries, err := r.ExportedEntries(x)
		if err != nil {
			return none, err
		}
		chart, err := r.ChartAccounts()
		if err != nil {
			return none, err
		}
		for _, e := range entries {
			for _, l := range e.Lines {
				table.Rows = append(table.Rows, rowOf(x, e, l, chart, r.Ours.Currency))
			}
		}
		return none, nil
	})
	if err != nil {
		return "", "", nil, err
	}
	content, mediaType, err = tabular.Write(table, form)
	return name, mediaType, content, err
}

func rowOf(x store.LedgerExport, e store.Booked, l ledger.Line, chart []store.ChartAccount, company money.Currency) []string {
	account := store.ChartAccount{Name: say.Account(l.Role)}
	for _, detail := range []string{"", l.Detail} { // its own number before that of its role
		at := slices.IndexFunc(chart, func(c store.ChartAccount) bool { return c.Role == l.Role && c.Detail == detail && c.Number != "" })
		if at >= 0 {
			account = chart[at]
		}
	}
	tax, dimension, order, foreign := "", l.Detail, "", ""
	if l.Role == ledger.InputTax || l.Role == ledger.OutputTax {
		tax, dimension = l.Detail, ""
	}
	if e.Order != 0 {
		order = strconv.FormatInt(e.Order, 10)
	}
	if e.Currency != company {
		foreign = l.Amount.Text(e.Currency)
	}
	return []string{
		strconv.FormatInt(x.Number, 10), strconv.FormatInt(e.Number, 10), string(e.PostedOn), e.Document, strconv.FormatInt(e.DocumentNumber, 10), order, e.What,
		account.Number, account.Name, string(l.Role), dimension, tax, max(0, l.Base).Text(company), max(0, -l.Base).Text(company), string(e.Currency), foreign,
	}
}
