package say

import (
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/selfbill"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/pdf"
)

// This file is about invoices that we write ourselves.

// NotBilled says why something is left out of a run of them.
func NotBilled(why selfbill.Reason) string {
	return map[selfbill.Reason]string{
		selfbill.Theirs:       "an invoice or credit note of the supplier about it is open",
		selfbill.NotByReceipt: "the line is not matched with its receipts",
		selfbill.Later:        "it came after that day",
		selfbill.NotOurs:      "the supplier billed what went back, so its credit note is awaited",
	}[why]
}

func (l Letters) selfBilledTitle(inv trade.Invoice) string {
	key := "self-billed"
	if inv.Kind == trade.CreditNote {
		key = "self-billed credit"
	}
	return l.word(key) + " " + inv.SupplierNumber
}

// SelfBilled is an invoice or a credit note that we wrote, as a paper.
func (l Letters) SelfBilled(inv trade.Invoice, totals trade.Totals, orders []*trade.Order, to []string, statement string) pdf.Document {
	p := l.printer()
	d := l.sheet(l.selfBilledTitle(inv), to)
	numbers := make([]string, len(orders))
	for i, o := range orders {
		numbers[i] = fmt.Sprint(o.Number)
	}
	slices.Sort(numbers)
	d.Facts = l.facts(
		pdf.Fact{Label: l.word("date"), Value: string(inv.Date)},
		pdf.Fact{Label: l.word("order"), Value: strings.Join(numbers, ", ")},
		pdf.Fact{Label: l.word("your invoice"), Value: inv.Credited},
	)
	d.Columns = l.goodsColumns()
	for i, line := range inv.Lines {
		row := pdf.Row{Cells: []string{
			fmt.Sprint(line.No), line.Description, p.Quantity(line.Quantity), l.unit(line.Unit), p.Price(line.Price, inv.Currency),
			p.Amount(totals.LineNets[i], inv.Currency),
		}}
		if o, _ := trade.LineOf(orders, line.OrderLineID); o != nil {
			row.Below = fmt.Sprintf("%s %d", l.word("order"), o.Number)
		}
		d.Rows = append(d.Rows, row)
	}
	d.Sums = l.sums(totals, inv.Currency)
	d.Notes = []string{statement}
	return d
}

// SelfBilledMail is the subject and text that go with it.
func (l Letters) SelfBilledMail(inv trade.Invoice) (subject, text string) {
	return l.selfBilledTitle(inv) + ", " + l.Company.Name, l.letter(fmt.Sprintf(l.word("self-billed text"), inv.SupplierNumber))
}
