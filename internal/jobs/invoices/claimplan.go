package invoices

// This file works out what can be claimed of an invoice and what claiming would book and write.

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// ClaimPlan is what claiming would do.
type ClaimPlan struct {
	Invoice  trade.Invoice
	Version  int64
	Lines    []ClaimLine
	Net, Tax money.Amount
	Owed     money.Amount      // what is then to be paid, once the invoice stands in the books
	Accepted []finding.Finding // what is not claimed and would be accepted
	Against  []finding.Finding // what still stands against the invoice
	Waits    bool              // it waits for goods all the same
	Books    *store.Booked     // nil where nothing is booked yet
	Company  money.Currency
	To       string
	Contact  string
	Subject  string
	Text     string
	claim    trade.Claim
	facts    match.Facts
	supplier trade.Supplier
}

// ClaimLine is a line of it, with the most that can be claimed.
type ClaimLine struct {
	*trade.ClaimLine
	Description, Unit string
	Price, Agreed     money.Decimal
	MostQuantity      money.Decimal
	MostNet           money.Amount
}

// PlanClaim tells what claiming would book and write, without doing it.
func PlanClaim(ctx context.Context, a *act.App, entry ClaimEntry) (ClaimPlan, error) {
	return act.Read(ctx, a, func(r act.Reading) (ClaimPlan, error) {
		inv, s, err := r.InvoiceNumbered(entry.Invoice)
		if err != nil {
			return ClaimPlan{}, err
		}
		plan, err := planClaim(r, inv, s, entry)
		if err != nil {
			return plan, err
		}
		if err := plan.write(r, s); err != nil {
			return plan, err
		}
		return plan, nil
	})
}

// planClaim works out what is claimed of an invoice.
func planClaim(r act.Reading, inv trade.Invoice, s store.InvoiceState, entry ClaimEntry) (ClaimPlan, error) {
	plan := ClaimPlan{Invoice: inv, Version: s.Version, Company: r.Ours.Currency}
	if inv.Follows() || !act.InvoiceSteps.Allow(s.State, act.ClaimInvoice) {
		return plan, fault.New(fault.Refused, "", "Nothing can be claimed of %s %d: it is %s.",
			strings.ToLower(say.Document(inv.Kind)), inv.Number, say.State(string(s.State)))
	}
	var err error
	if plan.facts, err = r.FactsOf(inv, s.Revision, nil); err != nil {
		return plan, err
	}
	if plan.facts.Supplier == nil || len(plan.facts.Orders) == 0 {
		return plan, fault.New(fault.Refused, "", "A claim is about an order of a supplier, which are not known yet.")
	}
	plan.supplier = *plan.facts.Supplier
	totals, err := inv.Totals()
	if err != nil {
		return plan, err
	}
	if s.State.Unsettled() {
		err = plan.outside(entry, totals)
	} else {
		err = plan.billed(entry, totals)
	}
	if err != nil {
		return plan, err
	}
	plan.claim = trade.Claim{Invoice: inv.ID, Revision: s.Revision}
	for _, l := range plan.Lines {
		if l.Net > 0 {
			plan.claim.Lines = append(plan.claim.Lines, l.ClaimLine)
		}
	}
	earlier, err := r.ClaimsOf(inv.ID)
	if err != nil {
		return plan, err
	}
	var before []*trade.ClaimLine
	for _, c := range earlier {
		before = append(before, c.Lines...)
	}
	if err := trade.TaxClaims(totals, before, plan.claim.Lines); err != nil {
		return plan, err
	}
	for _, l := range plan.claim.Lines {
		plan.Net, plan.Tax = plan.Net+l.Net, plan.Tax+l.Tax
	}
	if s.State.Unsettled() {
		return plan, plan.match(r)
	}
	plan.Owed = s.Open - plan.Net - plan.Tax
	return plan, nil
}

// chosen is what an entry claims of a line, at most what can be; all of it where the entry names no lines.
func (e ClaimEntry) chosen(l ClaimLine, currency money.Currency, proposed trade.Relief) (trade.Relief, error) {
	if e.Lines == nil {
		return proposed, nil
	}
	at := slices.IndexFunc(e.Lines, func(x ClaimEntryLine) bool { return x.Line == l.InvoiceLineNo && x.For == l.For })
	if at < 0 {
		return trade.Relief{}, nil
	}
	x, field := e.Lines[at], fmt.Sprintf("lines[%d].", at)
	if l.For == trade.ForGoods {
		if x.Quantity < 0 || x.Quantity > l.MostQuantity {
			return trade.Relief{}, fault.New(
				fault.Invalid,
				field+"quantity",
				"At most %s %s can be claimed.",
				l.MostQuantity,
				say.Unit(l.Unit),
			)
		}
		if x.Quantity == l.MostQuantity {
			return trade.Relief{Quantity: l.MostQuantity, Value: l.MostNet}, nil
		}
		net, err := l.MostNet.Part(int64(x.Quantity), int64(l.MostQuantity))
		return trade.Relief{Quantity: x.Quantity, Value: net}, err
	}
	amounts := act.Amounts{Currency: currency}
	net := amounts.Of(x.Net, field+"net", "The amount")
	if err := amounts.Faults.OrNil(); err != nil {
		return trade.Relief{}, err
	}
	if net < 0 || net > l.MostNet {
		return trade.Relief{}, fault.New(
			fault.Invalid,
			field+"net",
			"At most %s can be claimed.",
			money.Money{Amount: l.MostNet, Currency: currency},
		)
	}
	return trade.Relief{Value: net}, nil
}

// line is a line of a claim about an invoice line, with nothing claimed yet.
func (p *ClaimPlan) line(l trade.InvoiceLine, what trade.CreditFor) (ClaimLine, *trade.OrderLine, bool) {
	order, ordered := trade.LineOf(p.facts.Orders, l.OrderLineID)
	if ordered == nil || l.ChargeKind != "" {
		return ClaimLine{}, nil, false
	}
	_, price, known := ordered.InUnit(l, p.Invoice.Currency)
	return ClaimLine{
		ClaimLine: &trade.ClaimLine{
			InvoiceLine: l.ID, InvoiceLineNo: l.No, OrderLine: ordered.ID, For: what, TaxCategory: l.TaxCategory, TaxRate: l.TaxRate,
		},
		Description: ordered.Description, Unit: ordered.Unit,
		Price: price.Decimal(), Agreed: ordered.UnitPrice(order.Currency).Decimal(),
	}, ordered, known
}

// take keeps what is claimed of a line.
func (p *ClaimPlan) take(entry ClaimEntry, l ClaimLine, proposed trade.Relief) error {
	chosen, err := entry.chosen(l, p.Invoice.Currency, proposed)
	l.ClaimLine.Quantity, l.Net = chosen.Quantity, chosen.Value
	p.Lines = append(p.Lines, l)
	return err
}

// outside claims what is outside of an invoice that is not in the books: first the goods that are too many, then what the
// rest is dearer.
func (p *ClaimPlan) outside(entry ClaimEntry, totals trade.Totals) error {
	facts := p.facts
	for _, what := range []trade.CreditFor{trade.ForGoods, trade.ForPrice} {
		result, err := match.Run(facts)
		if err != nil {
			return err
		}
		for i, l := range p.Invoice.Lines {
			line, ordered, ok := p.line(l, what)
			quantity, dearer := result.Excess(l.No, entry.Waiting)
			switch {
			case !ok:
				continue
			case what == trade.ForGoods:
				whole, price, _ := ordered.InUnit(l, p.Invoice.Currency)
				line.MostQuantity, line.MostNet = quantity, totals.LineNets[i]
				if quantity != whole {
					if line.MostNet, err = price.Times(quantity, p.Invoice.Currency); err != nil {
						return err
					}
				}
			default:
				line.MostNet = dearer
			}
			if line.MostNet <= 0 {
				continue
			}
			if err := p.take(entry, line, trade.Relief{Quantity: line.MostQuantity, Value: line.MostNet}); err != nil {
				return err
			}
		}
		facts.Claims = slices.Clone(p.facts.Claims)
		for _, l := range p.Lines {
			if l.Net > 0 {
				facts.Claims = append(facts.Claims, l.ClaimLine)
			}
		}
	}
	return nil
}

// billed claims of a verified invoice what it billed and is not here, and what it asks above the order's price where
// somebody says so.
func (p *ClaimPlan) billed(entry ClaimEntry, totals trade.Totals) error {
	for i, l := range p.Invoice.Lines {
		line, ordered, ok := p.line(l, trade.ForGoods)
		if !ok {
			continue
		}
		whole, price, _ := ordered.InUnit(l, p.Invoice.Currency)
		if line.MostQuantity = ordered.ClaimableOf(l.ID, whole); line.MostQuantity > 0 {
			var err error
			if line.MostNet, err = price.Times(line.MostQuantity, p.Invoice.Currency); err != nil {
				return err
			}
			proposed := trade.Relief{Quantity: line.MostQuantity, Value: min(line.MostNet, totals.LineNets[i])}
			if ordered.Level == trade.TwoWay { // nothing tells that the goods are not here
				proposed = trade.Relief{}
			}
			line.MostNet = min(line.MostNet, totals.LineNets[i])
			if err := p.take(entry, line, proposed); err != nil {
				return err
			}
		}
		line, _, _ = p.line(l, trade.ForPrice)
		if line.MostNet = min(totals.LineNets[i], max(0, ordered.Dearer-ordered.CreditedPrice)); line.MostNet > 0 {
			if err := p.take(entry, line, trade.Relief{}); err != nil {
				return err
			}
		}
	}
	return nil
}

// match tells what comes of an invoice with the claim: what is accepted with it, and what still stands against it.
func (p *ClaimPlan) match(r act.Reading) error {
	claimed := map[int]bool{}
	for _, l := range p.Lines {
		claimed[l.InvoiceLineNo] = true
	}
	p.facts.Claims = append(slices.Clone(p.facts.Claims), p.claim.Lines...)
	result, err := match.Run(p.facts)
	if err != nil {
		return err
	}
	for _, f := range result.Findings {
		quantity := f.Kind == finding.OverReceived || f.Kind == finding.OverOrdered
		switch {
		case !f.Open() || f.Blocks() == finding.BlocksRelease || f.Verdict != finding.Outside:
		case claimed[f.Line] && (quantity || (f.Kind == finding.UnitPrice && f.Signed() > 0)):
			p.Accepted = append(p.Accepted, f)
			p.facts.Acceptances = append(p.facts.Acceptances, f.Accept(""))
		default:
			p.Against = append(p.Against, f)
		}
	}
	if result, err = match.Run(p.facts); err != nil {
		return err
	}
	p.Owed = p.Invoice.StatedTotal - claimedOf(p.facts)
	p.Waits = result.Verdict == finding.Waiting
	if !result.Verifies() {
		return nil
	}
	b, err := book.Invoice(copied(p.facts), result)
	if err != nil {
		return err
	}
	p.Books = &store.Booked{Entry: b.Entry}
	p.Books.PostedOn, err = r.FirstOpenDay(result.PostingDay(p.Invoice.PostingDay))
	return err
}

// copied are facts whose claims can be booked without that anything comes of it.
func copied(f match.Facts) match.Facts {
	f.Claims = trade.CopiedClaims(f.Claims)
	return f
}

// write makes the letter of a plan, and the entry of a claim on a verified invoice.
func (p *ClaimPlan) write(r act.Reading, s store.InvoiceState) error {
	contact, err := r.Recipient(p.supplier.ID, "invoicing")
	if err != nil {
		return err
	}
	if p.claim.Number, err = r.FreeNumber(store.ClaimSeries); err != nil {
		return err
	}
	p.To, p.Contact = contact.Mail, contact.Name
	words := r.LettersTo(p.supplier)
	words.To = contact.Name
	p.Subject, p.Text = words.ClaimMail(p.said())
	if s.State.Unsettled() || len(p.claim.Lines) == 0 {
		return nil
	}
	b, err := book.ClaimOf(
		book.Billed{Invoice: p.Invoice, Supplier: p.supplier.Code, Orders: p.facts.Orders},
		p.claim.Lines,
		r.Ours.Currency,
	)
	if err != nil {
		return err
	}
	p.Books = &store.Booked{Entry: b.Entry}
	p.Books.PostedOn, err = r.FirstOpenDay(max(r.Today(), p.Invoice.PostingDay))
	return err
}

// said is the claim as its supplier reads it.
func (p *ClaimPlan) said() say.Claim {
	c := say.Claim{
		Number: p.claim.Number, Invoice: p.Invoice.SupplierNumber, Date: string(p.Invoice.Date), Currency: p.Invoice.Currency,
		Net: p.Net, Gross: p.Net + p.Tax, Note: p.claim.Note,
	}
	for _, l := range p.Lines {
		if l.Net > 0 {
			c.Lines = append(c.Lines, say.ClaimLine{
				Description: l.Description, Unit: l.Unit, For: l.For, Quantity: l.ClaimLine.Quantity, Price: l.Price, Agreed: l.Agreed, Net: l.Net,
			})
		}
	}
	return c
}
