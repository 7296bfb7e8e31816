// Package match compares an invoice with its orders and receipts (rules §6):
// facts in, findings, a verdict and the allocation to receipts out.
package match

import (
	"cmp"
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Facts are everything a verdict depends on. Every order line carries its
// receipts, what verified invoices billed, and what earlier open ones reserve.
type Facts struct {
	Invoice     trade.Invoice
	Supplier    *trade.Supplier // nil: not known
	Order       *trade.Order    // nil: not found
	Policy      trade.Policy
	Limits      limit.Book // supplier's and company's, for what is about no line
	Lookalikes  []Other    // invoices of the supplier that this one may repeat
	Acceptances []finding.Acceptance
	// Own are the people whose own this is: who keyed or corrected the invoice, and who
	// entered its order. A limit or match level of theirs that nobody else has confirmed
	// clears nothing here (rules §6).
	Own []int64
	// Today is the civil date of the match, and Company the currency of the books: limits
	// of items, suppliers and the company are in it.
	Today   day.Day
	Company money.Currency
}

// Other is an invoice that this one may be a second copy of.
type Other struct {
	Number         int64
	SupplierNumber string
}

// Result is the outcome of one match.
type Result struct {
	Verdict     finding.Verdict
	Findings    []finding.Finding
	Totals      trade.Totals
	Allocations []Allocation // complete only when the verdict is Agrees or Within
	// Lapsed are acceptances whose difference has grown: they answer nothing any more,
	// also when it shrinks again (rules §6).
	Lapsed []finding.Acceptance
}

// Allocation sets a quantity of an invoice line against a receipt line, or beyond
// receipts where Receipt is nil (always, on a two-way line).
type Allocation struct {
	Line      int // index into Invoice.Lines
	OrderLine *trade.OrderLine
	Receipt   *trade.Receipt
	Quantity  money.Decimal
}

// BaseDate is the day that the supplier's terms count from: the invoice's date or, by its
// terms, the last day of arrival of the receipts that the invoice is set against; the
// invoice's date until there are any (rules §10).
func (r Result) BaseDate(terms trade.Terms, invoiced day.Day) day.Day {
	var last day.Day
	for _, a := range r.Allocations {
		if terms.FromReceipt && a.Receipt != nil {
			last = max(last, a.Receipt.Day)
		}
	}
	return cmp.Or(last, invoiced)
}

// Verifies tells whether the invoice may be booked as it is.
func (r Result) Verifies() bool {
	return r.Verdict == finding.Agrees || r.Verdict == finding.Within
}

// Run matches the invoice. It changes nothing of the facts.
func Run(facts Facts) (Result, error) {
	m := matching{Facts: facts, claimed: map[int64]money.Decimal{}, priced: map[int64]money.Amount{}}
	totals, err := facts.Invoice.Totals()
	if err != nil {
		return Result{}, err
	}
	m.result.Totals = totals
	m.whole()
	m.kind()
	if facts.Order != nil {
		for i := range facts.Invoice.Lines {
			if err := m.line(i); err != nil {
				return Result{}, err
			}
		}
		m.charges()
	}
	m.taxes()
	m.total()
	m.accept()
	m.lapse()
	m.result.Verdict = verdict(m.result.Findings)
	return m.result, nil
}

type matching struct {
	Facts
	result  Result
	claimed map[int64]money.Decimal // by earlier lines of this invoice, per order line
	priced  map[int64]money.Amount  // price differences of earlier lines of this invoice
}

func (m *matching) say(f finding.Finding) {
	f.Currency = m.Invoice.Currency
	if f.Verdict == finding.Within && f.Bound != nil && f.Bound.OwnTo(m.Own) {
		f.Verdict, f.OwnLimit = finding.Outside, true
	}
	m.result.Findings = append(m.result.Findings, f)
}

// whole checks what is about the invoice as a whole.
func (m *matching) whole() {
	inv := m.Invoice
	if inv.Kind == trade.CreditNote {
		m.say(finding.Finding{Kind: finding.CreditNote, Verdict: finding.Outside, Difference: inv.StatedTotal.Abs()})
	}
	if m.Supplier == nil {
		m.say(finding.Finding{Kind: finding.SupplierUnknown, Verdict: finding.Outside, Text: inv.SupplierStated, Other: inv.TaxIDStated})
	} else {
		if m.Supplier.Status != trade.Open {
			m.say(finding.Finding{Kind: finding.SupplierBlocked, Verdict: finding.Outside, Blocks: finding.BlocksRelease,
				Name: m.Supplier.Name, Text: string(m.Supplier.Status)})
		}
		if inv.IBAN != "" && !m.Supplier.Knows(inv.IBAN) {
			m.say(finding.Finding{Kind: finding.BankAccount, Verdict: finding.Outside, Blocks: finding.BlocksRelease,
				Name: m.Supplier.Name, Text: inv.IBAN, Other: m.Supplier.IBAN, Difference: inv.StatedTotal.Abs()})
		}
	}
	for _, other := range m.Lookalikes {
		m.say(finding.Finding{Kind: finding.LikelyDuplicate, Verdict: finding.Outside, Other: other.SupplierNumber,
			Reference: money.Int(other.Number), Text: inv.SupplierNumber, Difference: inv.StatedTotal.Abs()})
	}
	if inv.Prepaid != 0 {
		m.say(finding.Finding{Kind: finding.PrepaidStated, Verdict: finding.Outside, Amount: inv.Prepaid, Difference: inv.Prepaid.Abs()})
	}
	switch {
	case m.Order == nil:
		m.say(finding.Finding{Kind: finding.OrderUnknown, Verdict: finding.Outside, Text: inv.OrderStated})
	case m.Order.State != trade.Issued:
		m.say(finding.Finding{Kind: finding.OrderNotOpen, Verdict: finding.Outside, Reference: money.Int(m.Order.Number), Text: string(m.Order.State)})
	}
	if m.Order != nil && m.Order.Currency != inv.Currency {
		m.say(finding.Finding{Kind: finding.CurrencyDiffers, Verdict: finding.Outside, Text: string(inv.Currency), Other: string(m.Order.Currency)})
	}
}

// Codes of UNCL 1001 that are booked as invoices or, for now, held as credit notes.
var booked = map[string]bool{"": true, "380": true, "326": true, "381": true, "396": true}

// kind checks what the document is, its date and its currency.
func (m *matching) kind() {
	inv := m.Invoice
	if !booked[inv.Code] {
		m.say(finding.Finding{Kind: finding.NotBooked, Verdict: finding.Outside, Text: inv.Code, Difference: inv.StatedTotal.Abs()})
	}
	if m.Today != "" && inv.Date > m.Today {
		m.say(finding.Finding{Kind: finding.DateAhead, Verdict: finding.Outside, Text: string(inv.Date), Other: string(m.Today), Difference: inv.StatedTotal.Abs()})
	}
	if inv.Rate == 0 {
		m.say(finding.Finding{Kind: finding.NoRate, Verdict: finding.Outside, Text: string(inv.Currency), Other: string(inv.Date)})
	}
}

// line checks one line of goods against its order line.
func (m *matching) line(index int) error {
	line := m.Invoice.Lines[index]
	if line.ChargeKind != "" {
		return nil
	}
	ordered := m.Order.LineByID(line.OrderLineID)
	about := finding.Finding{Line: line.No, Name: line.Description, Unit: line.Unit, Quantity: line.Quantity}
	switch {
	case ordered == nil:
		about.Kind, about.Verdict, about.Text = finding.LineUnknown, finding.Outside, line.OrderLineRef
		m.say(about)
		return nil
	case line.Quantity <= 0:
		about.Kind, about.Verdict = finding.QuantityMissing, finding.Outside
		m.say(about)
		return nil
	}
	about.Name, about.Ordered, about.Received, about.Billed = ordered.Description, ordered.Quantity, ordered.Received, ordered.Billed
	setters := limit.Bound{By: ordered.Limits.Setters(limit.MatchLevel, "", ordered.LevelFrom)}
	if ordered.Level != trade.ThreeWay && setters.OwnTo(m.Own) { // who took the receipts out of the match
		f := about
		f.Kind, f.Verdict, f.Difference = finding.OwnChange, finding.Outside, m.result.Totals.LineNets[index].Abs()
		m.say(f)
	}
	if ordered.ClosedInvoices {
		about.Kind, about.Verdict = finding.LineClosed, finding.Outside
		m.say(about)
	}
	if line.Unit != ordered.Unit {
		f := about
		f.Kind, f.Verdict, f.Text, f.Other = finding.UnitDiffers, finding.Outside, line.Unit, ordered.Unit
		m.say(f)
		return nil
	}
	if err := m.quantity(index, line, ordered, about); err != nil {
		return err
	}
	if err := m.price(line, ordered, about); err != nil {
		return err
	}
	if line.TaxRate != ordered.TaxRate || line.TaxCategory != ordered.TaxCategory {
		f := about
		f.Kind, f.Verdict, f.Text, f.Other = finding.TaxRateDiffers, finding.Outside, line.TaxCategory, ordered.TaxCategory
		f.Price, f.Reference = line.TaxRate, ordered.TaxRate
		net := m.result.Totals.LineNets[index]
		as, err1 := net.Percent(line.TaxRate)
		should, err2 := net.Percent(ordered.TaxRate)
		if err1 != nil || err2 != nil {
			return money.ErrTooLarge
		}
		f.Difference = (as - should).Abs()
		m.say(f)
	}
	return nil
}

// quantity checks the invoiced quantity and allocates it.
func (m *matching) quantity(index int, line trade.InvoiceLine, ordered *trade.OrderLine, about finding.Finding) error {
	claimed := ordered.Reserved + m.claimed[ordered.ID]
	m.claimed[ordered.ID] += line.Quantity
	about.Reserved = claimed
	price := ordered.UnitPrice(m.Order.Currency)

	available, base := ordered.Open()-claimed, ordered.Received
	if ordered.Level == trade.TwoWay {
		available, base = ordered.Quantity-ordered.Billed-claimed, ordered.Quantity
	}
	available = max(0, available)
	about.Available = available
	if line.Quantity > available {
		f := about
		f.Kind, f.Excess = finding.OverReceived, line.Quantity-available
		used := f.Excess // a limit is used once per line, not once per invoice
		if ordered.Level == trade.ThreeWay {
			used += ordered.Beyond
		} else {
			f.Kind = finding.OverOrdered
		}
		bound := ordered.Limit(limit.InvoicedQuantity, limit.Over, m.Policy)
		f.Bound, f.Percent = &bound, money.Ratio(int64(used), int64(base))
		switch {
		case bound.Allows(int64(used), int64(base), int64(used)):
			f.Verdict = finding.Within
		case ordered.Level == trade.ThreeWay && m.canArrive(ordered, claimed+line.Quantity):
			f.Verdict = finding.Waiting
		default:
			f.Verdict = finding.Outside
		}
		var err error
		if f.Difference, err = price.Times(f.Excess, m.Order.Currency); err != nil {
			return err
		}
		m.say(f)
	}
	if most := ordered.Most(m.Policy); ordered.Level == trade.ThreeWay && ordered.Billed+claimed+line.Quantity > most {
		f := about
		bound := ordered.Limit(limit.Delivery, limit.Over, m.Policy)
		f.Kind, f.Verdict, f.Bound, f.Nearest = finding.OverOrdered, finding.Outside, &bound, most
		f.Excess = ordered.Billed + claimed + line.Quantity - most
		var err error
		if f.Difference, err = price.Times(f.Excess, m.Order.Currency); err != nil {
			return err
		}
		m.say(f)
	}
	m.allocate(index, line.Quantity, available, ordered)
	return nil
}

// canArrive tells whether goods for the need can still come on the line.
func (m *matching) canArrive(ordered *trade.OrderLine, claimed money.Decimal) bool {
	return m.Order.State == trade.Issued && ordered.Rest() > 0 &&
		ordered.Billed+claimed <= ordered.Most(m.Policy)
}

// allocate sets the quantity against the open receipts, oldest first, and the rest
// beyond receipts.
func (m *matching) allocate(index int, quantity, available money.Decimal, ordered *trade.OrderLine) {
	left := quantity
	if ordered.Level == trade.ThreeWay {
		fromReceipts := min(quantity, available)
		for _, receipt := range ordered.Receipts {
			taken := min(fromReceipts, receipt.Open()-m.allocated(receipt))
			if taken <= 0 {
				continue
			}
			m.result.Allocations = append(m.result.Allocations, Allocation{index, ordered, receipt, taken})
			fromReceipts -= taken
			left -= taken
		}
	}
	if left > 0 {
		m.result.Allocations = append(m.result.Allocations, Allocation{index, ordered, nil, left})
	}
}

func (m *matching) allocated(receipt *trade.Receipt) money.Decimal {
	var sum money.Decimal
	for _, a := range m.result.Allocations {
		if a.Receipt == receipt {
			sum += a.Quantity
		}
	}
	return sum
}

// price compares unit prices after line discounts, before rounding.
func (m *matching) price(line trade.InvoiceLine, ordered *trade.OrderLine, about finding.Finding) error {
	if m.Order.Currency != m.Invoice.Currency {
		return nil // two currencies have no common price; that they differ is its own finding
	}
	asked, agreed := line.UnitPrice(m.Invoice.Currency), ordered.UnitPrice(m.Order.Currency)
	direction := asked.Compare(agreed)
	if direction == 0 {
		return nil
	}
	difference, err := asked.Difference(agreed, line.Quantity, m.Invoice.Currency)
	if err != nil {
		return err
	}
	if difference == 0 {
		return nil // a share of a line's discount, rounded to the cent, is no other price
	}
	worth := difference + ordered.PriceSoFar + m.priced[ordered.ID]
	m.priced[ordered.ID] += difference
	f := about
	f.Kind, f.Verdict = finding.UnitPrice, finding.Outside
	f.Price, f.Reference, f.Percent, f.Difference = asked.Decimal(), agreed.Decimal(), asked.Ratio(agreed), difference.Abs()
	bound := m.bound(ordered.Limit(limit.UnitPrice, limit.Over, m.Policy))
	if direction < 0 {
		bound = m.bound(ordered.Limit(limit.UnitPrice, limit.Under, m.Policy))
	}
	f.Bound = &bound
	if (direction < 0 && bound.Unset) || bound.AllowsPrice(asked, agreed, worth) {
		f.Verdict = finding.Within // a lower price passes unless a limit is set on that side
	}
	m.say(f)
	return nil
}

// PriceDifferences sums what the findings of an invoice say of prices by the order line
// that it belongs to, below zero where less was asked. An order line keeps the sum of its
// verified invoices, as a limit runs over all of them (rules §2). Findings that do not
// belong to the invoice are an error.
func PriceDifferences(inv trade.Invoice, findings []finding.Finding) (map[int64]money.Amount, error) {
	sums := map[int64]money.Amount{}
	for _, f := range findings {
		if f.Kind != finding.UnitPrice {
			continue
		}
		if f.Line < 1 || f.Line > len(inv.Lines) {
			return nil, fmt.Errorf("a price finding is about line %d of an invoice with %d lines", f.Line, len(inv.Lines))
		}
		sums[inv.Lines[f.Line-1].OrderLineID] += f.Signed()
	}
	return sums, nil
}

// charges checks what is charged beyond what the order plans against one limit.
func (m *matching) charges() {
	before := beyondPlan(m.Order.ChargesSoFar, m.Order.Planned())
	charged := beyondPlan(m.Order.ChargesSoFar+m.result.Totals.Charges, m.Order.Planned()) - before
	if charged == 0 {
		return
	}
	bound := m.bound(m.Limits.Find(limit.Charge, limit.Over))
	f := finding.Finding{Kind: finding.ChargeNotOrdered, Verdict: finding.Outside, Amount: charged, Bound: &bound,
		Computed: before, Difference: charged.Abs(), Percent: money.Ratio(int64(charged), int64(m.Order.Net())),
		Name: chargeName(m.Invoice)}
	if bound.Allows(int64(charged), int64(m.Order.Net()), int64(charged+before)) {
		f.Verdict = finding.Within
	}
	m.say(f)
}

// beyondPlan is what of the charges no planned amount covers; below zero nothing is.
func beyondPlan(charged, planned money.Amount) money.Amount {
	return charged - min(planned, max(0, charged))
}

func chargeName(inv trade.Invoice) string {
	for _, c := range inv.Charges {
		if !c.Allowance && c.Reason != "" {
			return c.Reason
		}
	}
	for _, l := range inv.Lines {
		if l.ChargeKind != "" && l.Description != "" {
			return l.Description
		}
	}
	return ""
}

// taxes compares the tax amounts that the supplier states with the computed ones.
func (m *matching) taxes() {
	for _, g := range m.result.Totals.Groups {
		if !g.Stated || g.Tax == g.Computed {
			continue
		}
		difference := (g.Tax - g.Computed).Abs()
		bound := m.bound(m.Limits.Find(limit.TaxRounding, side(g.Tax-g.Computed)))
		f := finding.Finding{Kind: finding.TaxAmount, Verdict: finding.Outside, Text: g.Category, Price: g.Rate,
			Amount: g.Tax, Computed: g.Computed, Difference: difference, Bound: &bound}
		if bound.Allows(int64(difference), int64(g.Computed), int64(difference)) {
			f.Verdict = finding.Within
		}
		m.say(f)
	}
}

// total compares the total that the supplier states with the computed one. Outside
// its limit it can only be corrected, never accepted (rules §5).
func (m *matching) total() {
	rest := m.Invoice.Unexplained(m.result.Totals)
	f := finding.Finding{Kind: finding.StatedTotal, Verdict: finding.Outside, Amount: m.Invoice.StatedTotal, Computed: m.result.Totals.Total + m.Invoice.Rounded}
	if parting := m.Invoice.Parts(m.result.Totals); parting != nil {
		f.Place = &finding.Place{Term: parting.Term, Line: parting.Line, Stated: parting.Amount, Computed: parting.Computed}
		if rest == 0 { // the total agrees, one of the figures that lead to it does not
			rest = parting.Amount - parting.Computed
			f.Amount, f.Computed = parting.Amount, parting.Computed
		}
	}
	if rest == 0 {
		return
	}
	bound := m.bound(m.Limits.Find(limit.StatedTotal, side(rest)))
	f.Difference, f.Bound = rest.Abs(), &bound
	if bound.Allows(int64(rest.Abs()), int64(f.Computed.Abs()), int64(rest.Abs())) {
		f.Verdict = finding.Within
	}
	m.say(f)
}

// bound gives a limit in the document's currency. An absolute amount of item, supplier or
// company is in the company's currency, and is converted at the document's rate (rules §2).
func (m *matching) bound(b limit.Bound) limit.Bound {
	if b.Absolute == nil || b.Kind.OfQuantity() || b.Level == limit.Line || m.Company == "" || m.Invoice.Currency == m.Company || m.Invoice.Rate == 0 {
		return b
	}
	converted, err := money.Amount(*b.Absolute).AtMost(m.Invoice.Rate, m.Company, m.Invoice.Currency)
	if err != nil {
		return b
	}
	b.Absolute = new(int64(converted))
	return b
}

func side(difference money.Amount) limit.Side {
	if difference < 0 {
		return limit.Under
	}
	return limit.Over
}

// accept marks the findings that a person has taken.
func (m *matching) accept() {
	for i := range m.result.Findings {
		f := &m.result.Findings[i]
		for _, a := range m.Acceptances {
			if f.Open() && f.May(finding.Accept) && a.Covers(*f) {
				f.Accepted = &a
			}
		}
	}
}

// lapse names the acceptances of a difference that has grown since.
func (m *matching) lapse() {
	for _, a := range m.Acceptances {
		for _, f := range m.result.Findings {
			if a.About(f) && !a.Covers(f) && (f.Verdict == finding.Outside || f.Verdict == finding.Waiting) {
				m.result.Lapsed = append(m.result.Lapsed, a)
				break
			}
		}
	}
}

// verdict: any outside holds the invoice, else any waiting makes it wait. What only
// stops the release does not count.
func verdict(findings []finding.Finding) finding.Verdict {
	result := finding.Agrees
	for _, f := range findings {
		switch {
		case f.Blocks == finding.BlocksRelease:
		case f.Accepted != nil || f.Verdict == finding.Within:
			if result == finding.Agrees {
				result = finding.Within
			}
		case f.Verdict == finding.Outside:
			return finding.Outside
		case f.Verdict == finding.Waiting:
			result = finding.Waiting
		}
	}
	return result
}

// Authority is what a person's acceptances on one invoice add up to: the sum of
// the differences, where two findings about one line's quantity count once.
func Authority(accepted []finding.Finding) money.Amount {
	quantity := map[int]money.Amount{}
	var sum money.Amount
	for _, f := range accepted {
		if f.Kind == finding.OverReceived || f.Kind == finding.OverOrdered {
			quantity[f.Line] = max(quantity[f.Line], f.Difference)
			continue
		}
		sum += f.Difference
	}
	for _, d := range quantity {
		sum += d
	}
	return sum
}
