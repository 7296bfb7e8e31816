package say

import (
	"cmp"
	"fmt"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/pdf"
)

// Letters writes what a supplier is sent, in its language: English where there is no
// other.
type Letters struct {
	Language string
	Company  Sender
	To       string // the contact who is greeted by name, where one is known
	// CustomerNumber is ours at the supplier, and Standing what is written on its orders and return notes; empty: none.
	CustomerNumber, Standing string
}

// Sender is the company as its letterhead shows it.
type Sender struct{ Name, Address string }

func (l Letters) word(key string) string {
	words, ok := letterWords[l.Language]
	if !ok {
		words = letterWords["en"]
	}
	return words[key]
}

// unit is the word for a unit code in the language.
func (l Letters) unit(code string) string { return cmp.Or(unitWords[l.Language][code], Unit(code)) }

// printer writes numbers as the language does.
func (l Letters) printer() Printer {
	return Printer{Comma: l.Language == "de" || l.Language == "fr"}
}

func (l Letters) sheet(title string, to []string) pdf.Document {
	sender := append([]string{l.Company.Name}, split(l.Company.Address)...)
	return pdf.Document{Title: title, Sender: sender, To: to, PageWord: l.word("page")}
}

// facts are what stands at the head of a letter, with our customer number at last.
func (l Letters) facts(said ...pdf.Fact) []pdf.Fact {
	return append(said, pdf.Fact{Label: l.word("customer number"), Value: l.CustomerNumber})
}

// goodsColumns are those of goods with their prices.
func (l Letters) goodsColumns() []pdf.Column {
	return []pdf.Column{
		{Title: l.word("no"), Width: 10},
		{Title: l.word("goods"), Width: 74},
		{Title: l.word("quantity"), Width: 24, Right: true},
		{Title: l.word("unit"), Width: 18},
		{Title: l.word("price"), Width: 24, Right: true},
		{Title: l.word("net"), Width: 24, Right: true},
	}
}

func split(address string) []string {
	var lines []string
	for part := range strings.SplitSeq(address, ",") {
		if part = strings.TrimSpace(part); part != "" {
			lines = append(lines, part)
		}
	}
	return lines
}

// OrderTitle is what an order is called in its revision.
func (l Letters) OrderTitle(o *trade.Order) string {
	if o.Revision > 1 {
		return fmt.Sprintf("%s %d / %d", l.word("changed order"), o.Number, o.Revision)
	}
	return fmt.Sprintf("%s %d", l.word("order"), o.Number)
}

// ApprovedBy says who approved an order, and on which day.
func (l Letters) ApprovedBy(name string, on day.Day) pdf.Fact {
	return pdf.Fact{Label: l.word("approved by"), Value: fmt.Sprintf("%s, %s", name, on)}
}

// Ahead says what is agreed to be paid before the goods; nothing where nothing is.
func (l Letters) Ahead(agreed []trade.Agreement, total money.Amount, currency money.Currency) (string, error) {
	if len(agreed) == 0 {
		return "", nil
	}
	p := l.printer()
	lines := []string{l.word("paid ahead")}
	for _, a := range agreed {
		gross, err := a.Gross(total)
		if err != nil {
			return "", err
		}
		said := p.Money(gross, currency)
		if a.Percent != 0 {
			said = fmt.Sprintf("%s %%, %s", p.Quantity(a.Percent), said)
		}
		when := string(a.ExpectedOn)
		if a.Event != "" {
			when = a.Event
		}
		lines = append(lines, fmt.Sprintf("%s (%s)", said, when))
	}
	return strings.Join(lines, "\n"), nil
}

// Order is the order as the supplier sees it, with or without prices.
func (l Letters) Order(
	o *trade.Order,
	totals trade.Totals,
	changes []trade.Change,
	to []string,
	prices bool,
) pdf.Document {
	p := l.printer()
	d := l.sheet(l.OrderTitle(o), to)
	d.Facts = l.facts(
		pdf.Fact{Label: l.word("about"), Value: o.SaidAbout()},
		pdf.Fact{Label: l.word("date"), Value: string(o.IssuedOn)},
		pdf.Fact{Label: l.word("wanted"), Value: string(o.WantedOn)},
		pdf.Fact{Label: l.word("deliver to"), Value: o.DeliverTo()},
		pdf.Fact{Label: l.word("your reference"), Value: o.TheirReference},
		pdf.Fact{Label: l.word("contact"), Value: o.Contact},
		pdf.Fact{Label: l.word("asked for by"), Value: o.RequestedBy},
		pdf.Fact{Label: l.word("instructions"), Value: o.Instructions},
	)
	d.Columns = l.goodsColumns()
	if !prices {
		d.Columns = d.Columns[:4]
		d.Columns[1].Width += 48
	}
	for _, line := range o.Lines {
		if line.ClosedGoods {
			continue
		}
		row := pdf.Row{
			Cells: []string{fmt.Sprint(line.No), line.Description, p.Quantity(line.Quantity), l.unit(line.Unit)},
			Below: l.below(line, o, prices),
		}
		if prices {
			price := p.Price(line.Price, o.Currency)
			if line.Base != money.Int(1) {
				price += fmt.Sprintf(" %s %s", l.word("per"), p.Quantity(line.Base))
			}
			row.Cells = append(row.Cells, price, p.Amount(line.Net, o.Currency))
		}
		d.Rows = append(d.Rows, row)
	}
	if prices {
		d.Sums = l.sums(totals, o.Currency)
	}
	d.Notes = append(d.Notes, o.Note, l.Standing)
	if len(changes) > 0 {
		d.Notes = append(d.Notes, l.word("changes")+"\n"+strings.Join(l.Changes(changes), "\n"))
	}
	return d
}

func (l Letters) below(line *trade.OrderLine, o *trade.Order, prices bool) string {
	var parts []string
	if line.SupplierCode != "" {
		parts = append(parts, l.word("your item")+" "+line.SupplierCode)
	}
	if line.ItemCode != "" {
		parts = append(parts, l.word("our item")+" "+line.ItemCode)
	}
	if line.WantedOn != o.WantedOn {
		parts = append(parts, l.word("wanted")+" "+string(line.WantedOn))
	}
	for _, x := range []struct {
		word   string
		amount money.Amount
	}{{"discount", line.Discount}, {"surcharge", line.Charge}} {
		if prices && x.amount != 0 {
			parts = append(parts, l.word(x.word)+" "+l.printer().Money(x.amount, o.Currency))
		}
	}
	if line.Note != "" {
		parts = append(parts, line.Note)
	}
	return strings.Join(parts, " · ")
}

func (l Letters) sums(totals trade.Totals, currency money.Currency) []pdf.Fact {
	p := l.printer()
	sums := []pdf.Fact{{Label: l.word("net"), Value: p.Money(totals.Lines, currency)}}
	if totals.Charges != 0 {
		sums = append(sums, pdf.Fact{Label: l.word("charges"), Value: p.Money(totals.Charges, currency)})
	}
	for _, g := range totals.Groups {
		if g.Tax != 0 {
			sums = append(
				sums,
				pdf.Fact{
					Label: fmt.Sprintf("%s %s %%", l.word("tax"), p.Quantity(g.Rate)),
					Value: p.Money(g.Tax, currency),
				},
			)
		}
	}
	return append(sums, pdf.Fact{Label: l.word("total"), Value: p.Money(totals.Total, currency)})
}

// Changes says to the supplier in lines what changed between two versions of an order.
func (l Letters) Changes(changes []trade.Change) []string {
	words := changeWords[l.Language]
	return changeLines(
		changes,
		func(text string) string { return cmp.Or(words[text], text) },
		func(value string) string { return value },
	)
}

// Changes says to the people of the company in lines what changed between two versions
// of an order.
func Changes(changes []trade.Change) []string {
	return changeLines(changes, func(text string) string { return text }, func(value string) string {
		if on, err := day.Parse(value); err == nil {
			return Printer{}.Day(on)
		}
		return value
	})
}

func changeLines(changes []trade.Change, word, value func(string) string) []string {
	var lines []string
	for _, c := range changes {
		text := word(c.What)
		if c.Line > 0 {
			text = fmt.Sprintf("%s %d: %s", word("Line"), c.Line, text)
		}
		switch {
		case c.Was != "" && c.Now != "":
			text += fmt.Sprintf(" %s → %s", value(c.Was), value(c.Now))
		case c.Now != "":
			text += " " + value(c.Now)
		case c.Was != "":
			text += " " + value(c.Was) + " → " + word("none")
		}
		lines = append(lines, text)
	}
	return lines
}

// OrderMail is the subject and text that go with an order.
func (l Letters) OrderMail(o *trade.Order) (subject, text string) {
	key := "order text"
	if o.Revision > 1 {
		key = "change text"
	}
	return l.OrderTitle(o) + ", " + l.Company.Name, l.letter(fmt.Sprintf(l.word(key), o.Number))
}

// Reminder asks for goods that are late, for an acknowledgement, or for the notice of goods that are due.
func (l Letters) Reminder(o *trade.Order, about trade.Awaited) (subject, text string) {
	key := map[trade.Awaited]string{trade.AwaitedGoods: "remind goods", trade.AwaitedWord: "remind answer", trade.AwaitedNotice: "remind notice"}[about]
	body := fmt.Sprintf(l.word(key), o.Number, o.WantedOn)
	p := l.printer()
	for _, line := range o.Lines {
		if rest := line.Rest(); rest > 0 {
			body += fmt.Sprintf("\n  %s %s %s", p.Quantity(rest), l.unit(line.Unit), line.Description)
		}
	}
	return fmt.Sprintf("%s %d, %s", l.word("reminder"), o.Number, l.Company.Name), l.letter(body)
}

// Cancellation tells that nothing is wanted any more.
func (l Letters) Cancellation(o *trade.Order) (subject, text string) {
	return fmt.Sprintf(
			"%s %d, %s",
			l.word("cancellation"),
			o.Number,
			l.Company.Name,
		), l.letter(
			fmt.Sprintf(l.word("cancel text"), o.Number),
		)
}

func (l Letters) letter(body string) string {
	greeting := l.word("greeting")
	if l.To != "" {
		greeting = fmt.Sprintf(l.word("greeting by name"), l.To)
	}
	return greeting + "\n\n" + body + "\n\n" + l.word("closing") + "\n" + l.Company.Name
}

// ReturnLine is a line of a return note.
type ReturnLine struct {
	No                              int
	Description, SupplierCode, Unit string
	Quantity                        money.Decimal
	Lots                            []receive.LotBack
}

// ReturnNote goes with goods that are sent back.
func (l Letters) ReturnNote(
	number, order int64,
	note, reason, on string,
	outcome receive.Outcome,
	lines []ReturnLine,
	to []string,
) pdf.Document {
	p := l.printer()
	d := l.sheet(fmt.Sprintf("%s %d", l.word("return note"), number), to)
	d.Facts = l.facts(
		pdf.Fact{Label: l.word("date"), Value: on},
		pdf.Fact{Label: l.word("order"), Value: fmt.Sprint(order)},
		pdf.Fact{Label: l.word("delivery note"), Value: note},
		pdf.Fact{Label: l.word("reason"), Value: reason},
		pdf.Fact{Label: l.word("asks"), Value: l.word(string(outcome))},
	)
	d.Columns = []pdf.Column{
		{Title: l.word("no"), Width: 12},
		{Title: l.word("goods"), Width: 102},
		{Title: l.word("quantity"), Width: 34, Right: true},
		{Title: l.word("unit"), Width: 26},
	}
	for _, line := range lines {
		row := pdf.Row{
			Cells: []string{fmt.Sprint(line.No), line.Description, p.Quantity(line.Quantity), l.unit(line.Unit)},
		}
		var below []string
		if line.SupplierCode != "" {
			below = append(below, l.word("your item")+" "+line.SupplierCode)
		}
		for _, lot := range line.Lots {
			below = append(below, fmt.Sprintf("%s %s: %s", l.word("lot"), lot.Lot, p.Quantity(lot.Quantity)))
		}
		row.Below = strings.Join(below, " · ")
		d.Rows = append(d.Rows, row)
	}
	d.Notes = append(d.Notes, l.Standing)
	return d
}

// ReturnMail is the subject and text that go with a return note.
func (l Letters) ReturnMail(number int64, note string) (subject, text string) {
	return fmt.Sprintf(
			"%s %d, %s",
			l.word("return note"),
			number,
			l.Company.Name,
		), l.letter(
			fmt.Sprintf(l.word("return text"), note),
		)
}

// OverBudget says that a document takes more than a budget has, in words.
func (p Printer) OverBudget(o trade.OverBudget, company money.Currency) string {
	in := func(a money.Amount) string { return p.Money(a, company) }
	return fmt.Sprintf("Budget %s has %s in %s and %s of it are taken: with %s of this it is exceeded by %s.",
		o.Budget, in(o.Planned), o.Year, in(o.Taken), in(o.More), in(o.By()))
}

// Advice is what the rules of issuing say about an order, in words.
func (p Printer) Advice(a trade.Advice, currency money.Currency) string {
	switch a.Kind {
	case trade.SupplierDisputed:
		return a.Name + " is in dispute. The order can be issued all the same."
	case trade.FreightCharged:
		return fmt.Sprintf(
			"Freight is charged below %s; %s more would make it free.",
			p.Money(a.Amount, currency),
			p.Money(a.Shortfall, currency),
		)
	case trade.NoDeliveryDay:
		return fmt.Sprintf("%s does not deliver on a %s.", a.Name, a.Day.Time().Weekday())
	default:
		return a.Name + " was made on the fly and is not finished yet."
	}
}
