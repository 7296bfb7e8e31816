package invoices

// This file says what a batch came to: the verdict and what is to be done first, then document, lines, charges and totals.

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/pdf"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// RowOutcome is what a row of a batch came to, or would.
type RowOutcome struct {
	No       int
	Row      trade.BatchRow
	Invoice  int64 // Lagoon's number; 0: it is not captured, or was only tried
	Supplier string
	State    trade.InvoiceState
	Findings []finding.Finding
	Lines    []trade.InvoiceLine
	Charges  []trade.DocumentCharge
	Totals   trade.Totals
	Stated   money.Amount
	Currency money.Currency
	Said     string // why it is refused
}

// Verdict is that of a row; empty where it is neither captured nor refused.
func (o RowOutcome) Verdict() finding.Verdict {
	switch {
	case o.Said != "":
		return finding.Outside
	case o.State == "":
		return ""
	case o.State == trade.Held:
		return finding.Outside
	case o.State == trade.Waiting:
		return finding.Waiting
	}
	return finding.Overall(o.Findings)
}

// Became says in a line what became of a row.
func (o RowOutcome) Became() string {
	switch {
	case o.Said != "":
		return o.Said
	case o.State == "":
		return "Not captured yet."
	}
	return strings.TrimSuffix(fmt.Sprintf("%s: %s", say.State(string(o.State)), say.Summary(o.Findings)), ": ")
}

// ToDo is what stands against a row, and whose turn that is.
func (o RowOutcome) ToDo(p say.Printer) (sentences []string) {
	for _, f := range o.Findings {
		if f.Open() {
			sentences = append(sentences, fmt.Sprintf("%s %s’s turn.", p.Finding(f), cmp.Or(f.Turn(), "clerk")))
		}
	}
	return sentences
}

// BatchReport is what a batch comes to: its sums against its controls, and each of its rows.
type BatchReport struct {
	store.Batch
	Sums  trade.Sums
	Parts []trade.ControlParts
	Rows  []RowOutcome
	Tried bool // nothing of it stands
	Own   bool // the reader began it
}

// outcomeOf is what the captured invoice of a row says.
func outcomeOf(r act.Reading, o RowOutcome, number int64) (RowOutcome, error) {
	inv, s, err := r.InvoiceNumbered(number)
	if err != nil {
		return o, err
	}
	o.Invoice, o.State, o.Lines, o.Charges, o.Stated, o.Currency = number, s.State, inv.Lines, inv.Charges, inv.StatedTotal, inv.Currency
	if o.Findings, err = r.FindingsOf(s); err != nil {
		return o, err
	}
	supplier, err := r.Supplier(inv.SupplierID)
	if err != nil {
		return o, err
	}
	o.Supplier = supplier.Name
	o.Totals, err = inv.Totals()
	return o, err
}

// sellerOf is the name of an order's supplier; of an order that is not there, nothing.
func sellerOf(r act.Reading, order int64) (string, error) {
	code, err := r.SupplierOfOrder(order)
	if errors.Is(err, store.ErrNone) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	s, err := r.SupplierByCode(code)
	return s.Name, err
}

// reportOf begins a report.
func reportOf(r act.Reading, actor act.Actor, number int64) (report BatchReport, err error) {
	if report.Batch, err = r.BatchByNumber(number); err != nil {
		return report, act.Found(err, "There is no batch %d.", number)
	}
	report.Own = actor.Is(report.By)
	if report.Sums, err = sumsOf(r, report.Batch); err != nil {
		return report, err
	}
	report.Parts = report.Controls.Against(report.Sums)
	return report, nil
}

// ReadBatch is a batch with what came of its rows so far.
func ReadBatch(ctx context.Context, a *act.App, actor act.Actor, number int64) (BatchReport, error) {
	return act.Read(ctx, a, func(r act.Reading) (BatchReport, error) {
		report, err := reportOf(r, actor, number)
		if err != nil {
			return report, err
		}
		captured, err := r.BatchInvoices(number)
		if err != nil {
			return report, err
		}
		for i, row := range report.Batch.Rows {
			if row.Blank() {
				continue
			}
			o := RowOutcome{No: i + 1, Row: row, Said: row.Said}
			if captured[o.No] != 0 {
				o, err = outcomeOf(r, o, captured[o.No])
			} else if row.Order != 0 {
				o.Supplier, err = sellerOf(r, row.Order)
			}
			if err != nil {
				return report, err
			}
			report.Rows = append(report.Rows, o)
		}
		return report, nil
	})
}

var errTried = errors.New("only tried")

// TryBatch is what would come of a batch if it were captured now, row by row, each after the ones before: just that is done, and
// then undone, so that nothing is changed.
func TryBatch(ctx context.Context, a *act.App, c act.Command, number int64) (BatchReport, error) {
	var report BatchReport
	_, err := act.Perform(ctx, a, act.RunBatch, c, func(w *act.Work) (none struct{}, err error) {
		if report, err = reportOf(w.Reading, c.Actor, number); err != nil {
			return none, err
		}
		report.Tried = true
		captured, err := w.BatchInvoices(number)
		if err != nil {
			return none, err
		}
		for i, row := range report.Batch.Rows {
			if row.Blank() {
				continue
			}
			o := RowOutcome{No: i + 1, Row: row}
			made := captured[o.No]
			said, err := w.Part(func() error {
				if made != 0 {
					return nil
				}
				one, err := captureRow(w, report.Batch, o.No)
				made = one.Number
				return err
			})
			switch {
			case err != nil:
				return none, err
			case said != nil && !fault.Refuses(said):
				return none, said
			case said != nil:
				o.Said = said.Error()
			default:
				if o, err = outcomeOf(w.Reading, o, made); err != nil {
					return none, err
				}
				o.Invoice = captured[o.No]
			}
			report.Rows = append(report.Rows, o)
		}
		return none, errTried
	})
	if errors.Is(err, errTried) {
		return report, nil
	}
	return report, err
}

// BatchPaper prints the report of a batch as it stands.
func BatchPaper(ctx context.Context, a *act.App, actor act.Actor, number int64) (name string, content []byte, err error) {
	report, err := ReadBatch(ctx, a, actor, number)
	if err != nil {
		return "", nil, err
	}
	p := actor.Printer
	var verified, rest int
	for _, o := range report.Rows {
		if v := o.Verdict(); v == finding.Agrees || v == finding.Within {
			verified++
		} else {
			rest++
		}
	}
	verdict := fmt.Sprintf("%d verified, %d to be looked at or waiting", verified, rest)
	begun, err := act.ParseStamp(report.At)
	if err != nil {
		return "", nil, err
	}
	doc := pdf.Document{
		Title: fmt.Sprintf("Batch %d: %s", report.Number, say.Batch(report.State)), PageWord: "Page", On: begun,
		Facts: []pdf.Fact{
			{Label: "Verdict", Value: verdict}, {Label: "To be done", Value: report.Trouble}, {Label: "Keyed by", Value: report.ByName},
			{Label: "Day", Value: p.Day(day.Of(begun, begun.Location()))},
		},
		Columns: []pdf.Column{
			{Title: "Row", Width: 12}, {Title: "Invoice", Width: 66}, {Title: "Net", Width: 32, Right: true}, {Title: "Tax", Width: 28, Right: true}, {Title: "Stated total", Width: 36, Right: true},
		},
		Sums: []pdf.Fact{{Label: "Invoices", Value: fmt.Sprint(report.Sums.Count)}, {Label: "Quantity of all lines", Value: p.Quantity(report.Sums.Quantity)}, {Label: "Total", Value: p.Decimal(report.Sums.Total.String())}},
	}
	for _, part := range report.Parts {
		doc.Notes = append(doc.Notes, p.Control(part))
	}
	for _, o := range report.Rows {
		below := append([]string{o.Became()}, o.ToDo(p)...)
		cells := []string{fmt.Sprint(o.No), o.Row.Number, "", "", string(o.Row.Total)}
		if o.State != "" {
			cells = []string{
				fmt.Sprint(o.No), o.Row.Number + " · " + o.Supplier, p.Amount(o.Totals.Net(), o.Currency), p.Amount(o.Totals.Tax, o.Currency), p.Money(o.Stated, o.Currency),
			}
			for i, l := range o.Lines {
				below = append(below, fmt.Sprintf("%s × %s at %s: %s", p.Measure(l.Quantity, l.Unit), l.Description, p.Price(l.Price, o.Currency), p.Amount(o.Totals.LineNets[i], o.Currency)))
			}
			for _, c := range o.Charges {
				below = append(below, fmt.Sprintf("%s: %s", c.Reason, p.Amount(c.Amount, o.Currency)))
			}
		}
		doc.Rows = append(doc.Rows, pdf.Row{Cells: cells, Below: strings.Join(below, "\n")})
	}
	content, err = pdf.Write(doc)
	return fmt.Sprintf("batch-%d.pdf", number), content, err
}
