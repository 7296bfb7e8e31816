package invoices

// This file says what a batch came to: the verdict and what is to be done first, then document, lines, charges and totals.

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/pdf"
	"lagoon/internal/say"
)

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
