package demo

import (
	"fmt"
	"strconv"

	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/outside/bank"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// history is about a year of ordinary weeks: feed every week, the rest now and then,
// nearly all delivered and invoiced as ordered, paid by Friday runs.
func (b *builder) history() {
	for week := 52; week >= 4; week-- {
		start := -7 * week
		b.week(start, week)
		if monday := b.today.Add(start).Time(); monday.Day() <= 7 {
			month := monday.AddDate(0, -2, 1-monday.Day()).Format("2006-01")
			b.on(start, 6, func() error { return masters.ClosePeriod(b.ctx, b.app, b.as("rhea"), month) })
		}
	}
	b.bills += 600 // numbers of their own
	before := b.bills
	for week := 52; week >= 6; week-- {
		b.topUp(-7*week+2, week)
	}
	b.bills -= 600 + (b.bills - before)
	b.friday(-24)
	b.friday(-17, bank.Debit, bank.Fee)
	b.friday(-10)
	b.on(-16, 9, b.telephone)
	b.on(-9, 8, b.ordered)
	b.askedAgain()
}

// askedAgain is a closed month that was asked for once, and stayed closed.
func (b *builder) askedAgain() {
	b.on(-15, 16, func() error {
		frame, err := masters.ReadFrame(b.ctx, b.app)
		if err != nil || len(frame.Closed) == 0 {
			return err
		}
		asked := masters.Opening{Month: frame.Closed[0], Reason: "The courier’s invoice of that month came late."}
		if err := masters.AskPeriod(b.ctx, b.app, b.as("tomas"), asked); err != nil {
			return err
		}
		asked.Reason = "It goes into this month; the return is filed."
		return masters.KeepPeriod(b.ctx, b.app, b.as("rhea"), asked)
	})
}

func (b *builder) week(start, week int) {
	krill, capelin := 80+b.random.IntN(5)*10, 200+b.random.IntN(6)*25
	b.round(
		start,
		"BRACK",
		part{"KRILL", strconv.Itoa(krill)},
		part{"CAPELIN", strconv.Itoa(capelin)},
		part{"PREMIX", "12"},
	)
	switch {
	case week%3 == 1:
		b.round(start+1, "HALDE", part{"SALT", "24"})
	case week%8 == 3:
		b.round(start+1, "OSTRE", part{"UVLAMP", "6"})
	case week%13 == 6:
		b.round(start+1, "TIDEW", part{"PUMP", "1"}, part{"SEALKIT", "4"})
	}
	switch {
	case week%4 == 2:
		b.round(start+2, "OSTRE", part{"SAND", "40"}, part{"CARBON", "120"})
	case week%5 == 0:
		b.round(start+2, "SALTM", part{"BOXES", "150"}, part{"BAGS", "10"})
	}
	b.friday(start + 4)
}

// topUp is what is ordered in the middle of the week: squid for the seals, and in most weeks packaging of the shop.
func (b *builder) topUp(start, week int) {
	b.round(start, "BRACK", part{"SQUID", strconv.Itoa(40 + week%3*10)})
	if week%3 != 0 {
		b.round(start+1, "SALTM", part{"BAGS", "4"})
	}
}

// The beginnings of each supplier's invoice numbers.
var prefixes = map[string]string{"BRACK": "BF-20", "HALDE": "76-0", "OSTRE": "OF-3", "SALTM": "SP-8", "TIDEW": "TW-11"}

// round plans an order with its delivery and its invoice, and gives the numbers of the order and the invoice.
func (b *builder) round(n int, seller string, parts ...part) (number, invoice *int64) {
	number = b.order(n, n+5, seller, "L. Marr, Feeding", "Cold store", parts...)
	lines, billed := counted{}, []trade.InvoiceLine{}
	for i, p := range parts {
		quantity := p.quantity
		lines[i+1] = quantity
		if p.item == "CAPELIN" { // weighed, so never quite as ordered
			quantity = short(p.quantity, 1+b.random.IntN(9))
			lines[i+1] = quantity + "!"
		}
		line := item(i+1, p.item, quantity)
		if p.item == "PREMIX" && b.random.IntN(6) == 0 {
			line = item(i+1, p.item, quantity, "61.90") // dearer, within Brackwater's limit
		}
		billed = append(billed, line)
	}
	b.bills++
	x := bill{
		seller: seller,
		number: fmt.Sprintf("%s%03d", prefixes[seller], b.bills+100),
		on:     number,
		date:   n + 6,
		lines:  billed,
	}
	if b.random.IntN(5) == 0 && seller == "BRACK" && len(parts) > 1 {
		x.freight = "45.00"
	}
	b.deliver(n+4+b.random.IntN(3), number, fmt.Sprintf("DN %d", 5200+b.bills), lines)
	if seller == "HALDE" && !b.batched { // the first of them
		b.batched = true
		return number, b.inABatch(n+7, x)
	}
	return number, b.take(n+7, x)
}

// short is a whole quantity less some, and a half.
func short(quantity string, less int) string {
	whole, err := strconv.Atoi(quantity)
	if err != nil {
		panic("demo: " + err.Error())
	}
	return strconv.Itoa(whole-less) + ".5"
}

// friday plans that what is verified is released and what is due is paid, by a bank that behaves in its own way.
func (b *builder) friday(n int, behave ...bank.Behaviour) {
	b.on(n, 11, func() error {
		view, err := views.Payments(b.ctx, b.app)
		if err != nil {
			return err
		}
		var numbers []int64
		for _, v := range view.Verified {
			numbers = append(numbers, v.Number)
		}
		if len(numbers) > 0 {
			if _, err := payments.ReleaseInvoices(b.ctx, b.app, b.as("ada"), numbers); err != nil {
				return err
			}
		}
		run, err := b.run(n, 9)
		if err != nil || run == 0 {
			return err
		}
		made, err := payments.ApproveRun(b.ctx, b.app, b.as("tomas"), run, 0)
		if made.State == store.RunProposed && err == nil { // it takes two
			_, err = payments.ApproveRun(b.ctx, b.app, b.as("ivo"), run, 0)
		}
		if err != nil {
			return err
		}
		its := b.bank
		its.Behave = behave
		b.app.Bank = its
		if _, err := payments.SendRun(b.ctx, b.app, b.as("tomas"), run, 0); err != nil {
			return err
		}
		if _, err := payments.FetchAnswers(b.ctx, b.app, b.as("tomas")); err != nil || n < -30 || n > -10 {
			return err
		}
		_, err = payments.AdviseRun(b.ctx, b.app, b.as("nora"), run)
		return err
	})
}

// run makes a run of what is due within some days; none is made of nothing.
func (b *builder) run(n, within int) (int64, error) {
	entry := payments.RunEntry{DueBy: b.today.Add(n + within), PayOn: b.today.Add(n).BankDay()}
	proposal, err := payments.Propose(b.ctx, b.app, entry.DueBy, entry.PayOn)
	if err != nil {
		return 0, err
	}
	for _, p := range proposal.Payments {
		for _, i := range p.Items {
			entry.Items = append(entry.Items, payments.RunItem{Invoice: i.Invoice})
		}
	}
	entry.Urgent = b.cautious
	if b.cautious && len(entry.Items) > 1 { // one after the other
		entry.Items = entry.Items[:1]
	}
	if len(entry.Items) == 0 {
		return 0, nil
	}
	made, err := payments.MakeRun(b.ctx, b.app, b.as("nora"), entry)
	return made.Number, err
}

// telephone is a debit that is none of Lagoon's: taken for a charge of the bank first.
func (b *builder) telephone() error {
	v, err := views.Bank(b.ctx, b.app)
	if err != nil || len(v.Lines) == 0 {
		return err
	}
	c, at := b.as("tomas"), v.Lines[0]
	line := payments.LineEntry{Statement: at.Number, Line: at.No, What: store.BankCharge}
	if _, err := payments.SetLine(b.ctx, b.app, c, line); err != nil {
		return err
	}
	if _, err := payments.FreeLine(b.ctx, b.app, c, payments.LineEnd{Statement: at.Number, Line: at.No, Reason: "It is the café’s telephone."}); err != nil {
		return err
	}
	line.What, line.Note = store.Aside, "The café’s telephone, which the café’s own books hold."
	_, err = payments.SetLine(b.ctx, b.app, c, line)
	return err
}

// ordered is that the bank's statement shows what was paid without a run and recorded before: each is found on it.
func (b *builder) ordered() error {
	v, err := views.Bank(b.ctx, b.app)
	if err != nil || len(v.Unseen) == 0 {
		return err
	}
	var lines []iso20022.StatementLine
	for _, u := range v.Unseen {
		lines = append(lines, iso20022.StatementLine{Day: b.today.Add(-10), Amount: u.Amount, Text: u.What, Code: "PMNT-ICDT-XBCT"})
	}
	c := b.as("tomas")
	if err := b.bank.Book(company.IBAN, lines...); err != nil {
		return err
	}
	if _, err := payments.FetchAnswers(b.ctx, b.app, c); err != nil {
		return err
	}
	if v, err = views.Bank(b.ctx, b.app); err != nil {
		return err
	}
	for _, l := range v.Lines {
		if len(l.Recorded) == 0 {
			continue
		}
		entry := payments.LineEntry{Statement: l.Number, Line: l.No, What: store.BySettlement, Settlement: l.Recorded[0].Number}
		if _, err := payments.SetLine(b.ctx, b.app, c, entry); err != nil {
			return err
		}
	}
	return nil
}
