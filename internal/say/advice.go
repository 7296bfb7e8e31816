package say

import (
	"fmt"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/format/pdf"
)

// This file tells suppliers what is paid to them.

// Advice is the remittance advice of one payment.
func (l Letters) Advice(a pay.Advice, to []string) pdf.Document {
	p := l.printer()
	d := l.sheet(fmt.Sprintf("%s %s", l.word("advice"), a.EndToEnd), to)
	d.Facts = l.facts(
		pdf.Fact{Label: l.word("paid on"), Value: string(a.PayOn)},
		pdf.Fact{Label: l.word("to account"), Value: IBAN(a.IBAN)},
		pdf.Fact{Label: l.word("our reference"), Value: a.EndToEnd},
	)
	d.Columns = []pdf.Column{
		{Title: l.word("your document"), Width: 60},
		{Title: l.word("date"), Width: 24},
		{Title: l.word("amount"), Width: 30, Right: true},
		{Title: l.word("deducted"), Width: 30, Right: true},
		{Title: l.word("paid"), Width: 30, Right: true},
	}
	for _, x := range a.Documents {
		d.Rows = append(d.Rows, pdf.Row{
			Cells: []string{
				x.Number, string(x.Date), p.Amount(x.Total, a.Currency), p.Amount(x.Total-x.Paid, a.Currency), p.Amount(x.Paid, a.Currency),
			},
			Below: l.deducted(x, a.Currency),
		})
	}
	d.Sums = []pdf.Fact{{Label: l.word("paid"), Value: p.Money(a.Amount, a.Currency)}}
	return d
}

// deducted says what is taken off an invoice, and why.
func (l Letters) deducted(x pay.AdvisedDocument, currency money.Currency) string {
	var parts []string
	for _, part := range []struct {
		word   string
		amount money.Amount
	}{
		{"discount taken", x.Discount}, {"kept for claims", x.Claimed}, {"used ahead", x.Ahead}, {"paid apart", x.Apart()},
	} {
		if part.amount != 0 {
			parts = append(parts, fmt.Sprintf(l.word(part.word), l.printer().Amount(part.amount, currency)))
		}
	}
	for _, c := range x.Credits {
		parts = append(parts, fmt.Sprintf(l.word("credit taken"), c.Number, l.printer().Amount(c.Amount, currency)))
	}
	return strings.Join(parts, " · ")
}

// AdviceMail is the subject and text that go with it.
func (l Letters) AdviceMail(a pay.Advice) (subject, text string) {
	p := l.printer()
	return fmt.Sprintf("%s %s, %s", l.word("advice"), a.EndToEnd, l.Company.Name),
		l.letter(fmt.Sprintf(l.word("paid text"), p.Money(a.Amount, a.Currency), day.Day(a.PayOn)))
}
