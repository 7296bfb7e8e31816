package say

import (
	"fmt"
	"strings"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/pdf"
)

// ClaimLine is a line of a claim as a supplier reads it. Price is what it billed, Agreed what was agreed.
type ClaimLine struct {
	Description, Unit string
	For               trade.CreditFor
	Quantity          money.Decimal
	Price, Agreed     money.Decimal
	Net               money.Amount
}

// Claim is what a supplier is asked to credit of its invoice.
type Claim struct {
	Number     int64
	Invoice    string // the supplier's number
	Date       string // of the invoice
	Currency   money.Currency
	Lines      []ClaimLine
	Net, Gross money.Amount
	Note       string
}

func (l Letters) claimReason(c ClaimLine, currency money.Currency) string {
	if c.For == trade.ForPrice {
		return fmt.Sprintf(l.word("price too high"), l.printer().Price(c.Agreed, currency))
	}
	return l.word("billed too much")
}

// ClaimMail is the subject and text of a claim.
func (l Letters) ClaimMail(c Claim) (subject, text string) {
	p := l.printer()
	body := []string{fmt.Sprintf(l.word("claim text"), c.Invoice, c.Date)}
	for _, line := range c.Lines {
		what := line.Description
		if line.For == trade.ForGoods {
			what = fmt.Sprintf("%s %s %s", p.Quantity(line.Quantity), l.unit(line.Unit), what)
		}
		body = append(
			body,
			fmt.Sprintf("  %s: %s, %s", what, l.claimReason(line, c.Currency), p.Money(line.Net, c.Currency)),
		)
	}
	gross := p.Money(c.Gross, c.Currency)
	body = append(body, "", fmt.Sprintf(l.word("claim asks"), p.Money(c.Net, c.Currency), gross, gross, c.Number))
	return fmt.Sprintf(
			l.word("claim mail"),
			c.Invoice,
			c.Date,
		) + ", " + l.Company.Name, l.letter(
			strings.Join(body, "\n"),
		)
}

// RefusalMail tells a supplier that its invoice is sent back, and why.
func (l Letters) RefusalMail(invoice, date, reason string) (subject, text string) {
	body := fmt.Sprintf(l.word("refusal text"), invoice, date, reason) + "\n\n" + l.word("refusal asks")
	return fmt.Sprintf(l.word("claim mail"), invoice, date) + ", " + l.Company.Name, l.letter(body)
}

// QuestionMail asks a supplier something about its invoice; the mark in its subject finds the question again.
func (l Letters) QuestionMail(invoice, date, text, mark string) (subject, body string) {
	return fmt.Sprintf(l.word("claim mail"), invoice, date) + ", " + l.Company.Name + " " + mark, l.letter(text + "\n\n" + l.word("question asks"))
}

// Claim is the claim as a paper.
func (l Letters) Claim(c Claim, to []string, on string) pdf.Document {
	p := l.printer()
	d := l.sheet(fmt.Sprintf("%s %d", l.word("claim"), c.Number), to)
	d.Facts = l.facts(
		pdf.Fact{Label: l.word("date"), Value: on},
		pdf.Fact{Label: l.word("your invoice"), Value: c.Invoice},
		pdf.Fact{Label: l.word("reason"), Value: c.Note},
	)
	d.Columns = l.goodsColumns()
	for i, line := range c.Lines {
		quantity, unit := p.Quantity(line.Quantity), l.unit(line.Unit)
		if line.For == trade.ForPrice {
			quantity, unit = "", ""
		}
		d.Rows = append(d.Rows, pdf.Row{
			Cells: []string{
				fmt.Sprint(i + 1),
				line.Description,
				quantity,
				unit,
				p.Price(line.Price, c.Currency),
				p.Amount(line.Net, c.Currency),
			},
			Below: l.claimReason(line, c.Currency),
		})
	}
	d.Sums = []pdf.Fact{{Label: l.word("net"), Value: p.Money(c.Net, c.Currency)}}
	if c.Gross != c.Net {
		d.Sums = append(d.Sums, pdf.Fact{Label: l.word("tax"), Value: p.Money(c.Gross-c.Net, c.Currency)})
	}
	d.Sums = append(d.Sums, pdf.Fact{Label: l.word("total"), Value: p.Money(c.Gross, c.Currency)})
	return d
}

// Told says who was told of something and where that stands.
func Told(way, to, state string) string {
	switch {
	case way != "mail":
		return "told: " + to
	case state == "sent":
		return "mailed to " + to
	case state == "kept":
		return "mail to " + to + " kept and not mailed: there is no mail server"
	case state == "failed":
		return "the mail to " + to + " could not be handed over"
	}
	return "mail to " + to + " to be handed over"
}
