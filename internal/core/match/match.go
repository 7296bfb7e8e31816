// Package match compares an invoice with its orders and receipts (rules §6):
// facts in, findings, a verdict and the allocation to receipts out.
package match

import (
	"cmp"

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
	Orders      []*trade.Order  // that the invoice is about, the document's own first
	Policy      trade.Policy
	Limits      limit.Book // supplier's and company's, for what is about no line
	Lookalikes  []Other    // invoices of the supplier that this one may repeat
	Acceptances []finding.Acceptance
	Approved    bool // without an order: somebody with the authority has approved this entry
	// Credited is, of a credit note, the invoice that it names; nil where it names none or it is not here. Billed are
	// the lines of verified invoices about its order lines, those of that invoice first.
	Credited *Credited
	Billed   []BilledLine
	// Deferred are, of a credit note, the months that still hold a cost of the invoices which billed its lines.
	Deferred []trade.DeferredPart
	// Claims are, of an invoice that is not in the books, what is claimed of it; of a credit note, what is still
	// expected of claims on the invoice that it credits.
	Claims []*trade.ClaimLine
	// Own are the people whose own this is: who keyed or corrected the invoice, and who
	// entered its order. A limit or match level of theirs that nobody else has confirmed
	// clears nothing here (rules §6).
	Own []int64
	// Today is the civil date of the match, and Company the currency of the books: limits
	// of items, suppliers and the company are in it.
	Today   day.Day
	Company money.Currency
	// Strangers are the orders that whoever invoices may not invoice.
	Strangers []Stranger
	// OnHold are the holds that keep it from being verified.
	OnHold []OnHold
	// Agreed is, of an invoice for money ahead, what is agreed for it; Ahead is the money paid ahead on the orders of
	// another, each with what the invoice does with it.
	Agreed Agreed
	Ahead  []trade.Prepayment
	// Charges are the company's kinds, where the invoice carries charges.
	Charges trade.ChargeKinds
	// Name and TaxID are the company's, to whom an invoice is to be addressed.
	Name, TaxID string
}

// Other is an invoice that this one may be a second copy of.
type Other struct {
	Number         int64
	SupplierNumber string
}

// Stranger is an order of another supplier than invoices it, in whose place nobody has confirmed that it may.
type Stranger struct {
	Order    int64 // number
	Supplier string
	NamedBy  string // who named it, where that only waits for somebody else; empty: nobody
}

// OnHold is a hold that keeps an invoice from being verified: on itself, on its order, or on the order line that one of its
// lines bills.
type OnHold struct {
	Order            int64 // number; 0: on the invoice
	Line             int   // of the invoice; 0: the whole
	Reason, Note, By string
	Clears           string // the role that may clear it
}

// Credited is the invoice that a credit note names.
type Credited struct {
	Invoice int64 // row key
	Number  int64 // Lagoon's
	State   trade.InvoiceState
	Rate    money.Decimal
	// Total is what it comes to and Base what it put into trade payables, in the company's currency; Settled is what
	// payments and claims' credit notes took off it so far.
	Total, Base, Settled money.Amount
	// Coded is the net that it charges without an order, less what credit notes captured earlier give back of it.
	Coded    money.Amount
	HasCoded bool
	Ahead    *trade.Prepayment // where it is an invoice for money ahead
}

// Agreed is what is agreed to be paid ahead, tax included, and what earlier invoices have asked of it.
type Agreed struct {
	Number          int64 // of the agreement; 0: none
	Gross, Invoiced money.Amount
}

// BilledLine is a line of a verified invoice.
type BilledLine struct {
	trade.InvoiceLine
	Invoice  int64 // row key
	Rate     money.Decimal
	Currency money.Currency
}

// Order gives one of the orders by its row key, or nil.
func (f Facts) Order(id int64) *trade.Order {
	for _, o := range f.Orders {
		if o.ID == id && id != 0 {
			return o
		}
	}
	return nil
}

// Result is the outcome of one match.
type Result struct {
	Verdict     finding.Verdict
	Findings    []finding.Finding
	Totals      trade.Totals
	Allocations []Allocation // complete only when the verdict is Agrees or Within
	Credits     []Credit     // of a credit note, in their place
	Settled     []Settled    // of a credit note, what it gives back of claims
	// Lapsed are acceptances whose difference has grown: they answer nothing any more,
	// also when it shrinks again (rules §6).
	Lapsed []finding.Acceptance
}

// Allocation sets a quantity of an invoice line against a receipt line, or beyond
// receipts where Receipt is nil (always, on a two-way line).
type Allocation struct {
	Line      int // index into Invoice.Lines
	Order     *trade.Order
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

// PostingDay is the day that the invoice is posted on: not before the posting day of a receipt
// that it is set against (rules §5).
func (r Result) PostingDay(proposed day.Day) day.Day {
	for _, a := range r.Allocations {
		if a.Receipt != nil {
			proposed = max(proposed, a.Receipt.PostedOn)
		}
	}
	return proposed
}

// Verifies tells whether the invoice may be booked as it is.
func (r Result) Verifies() bool {
	return r.Verdict == finding.Agrees || r.Verdict == finding.Within
}

// Run matches the invoice. It changes nothing of the facts.
func Run(facts Facts) (Result, error) {
	m := matching{
		Facts:   facts,
		claimed: map[int64]money.Decimal{},
		taken:   map[int64]money.Decimal{},
		dearer:  map[int64]money.Amount{},
		cheaper: map[int64]money.Amount{},
		back:    map[int64]money.Amount{},
		left:    map[*trade.ClaimLine]trade.Relief{},

		ordered:   map[place]*trade.OrderLine{},
		allocated: map[int64]money.Decimal{},
		leaves:    map[int64]*trade.Left{},
	}
	for _, o := range facts.Orders {
		for _, l := range o.Lines {
			m.ordered[place{o.ID, l.ID}] = l
		}
	}
	for _, c := range facts.Claims {
		m.left[c] = c.Left
	}
	totals, err := facts.Invoice.Totals()
	if err != nil {
		return Result{}, err
	}
	m.result.Totals = totals
	if m.lines, err = trade.Summed(facts.Invoice.Lines, facts.Invoice.Currency); err != nil {
		return Result{}, err
	}
	m.whole()
	m.kind()
	if m.isAhead() {
		err = m.prepays()
	} else {
		err = m.billing()
	}
	if err != nil {
		return Result{}, err
	}
	m.taxCodes()
	m.taxes()
	m.total()
	m.accept()
	m.lapse()
	m.result.Verdict = finding.Overall(m.result.Findings)
	return m.result, nil
}

// billing checks what the invoice bills: its lines, and its charges.
func (m *matching) billing() error {
	for i := range m.Invoice.Lines {
		if err := m.line(i); err != nil {
			return err
		}
	}
	m.approval()
	return m.charges()
}

// place is an order's line, by the row keys of both.
type place struct{ order, line int64 }

type matching struct {
	Facts
	ordered map[place]*trade.OrderLine
	result  Result
	lines   []trade.InvoiceLine // without what the document credits itself
	// Of earlier lines of this invoice, by order line: what they claim, and what they ask above
	// and below the order's price.
	claimed         map[int64]money.Decimal
	taken           map[int64]money.Decimal // what they take back of goods
	dearer, cheaper map[int64]money.Amount
	allocated       map[int64]money.Decimal // what they take of receipts, the oldest first
	leaves          map[int64]*trade.Left   // what they leave of receipts, of lines by receipt
	back            map[int64]money.Amount  // what they give back of a price, of a credit note
	awaits          bool                    // a credit note waits for the invoice that it names
	left            map[*trade.ClaimLine]trade.Relief
	backCoded       money.Amount // what they give back of what was charged without an order
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
	credit := inv.Kind == trade.CreditNote
	if inv.Follows() {
		m.named()
	}
	if m.Supplier == nil {
		m.say(
			finding.Finding{
				Kind:    finding.SupplierUnknown,
				Verdict: finding.Outside,
				Text:    inv.SupplierStated,
				Other:   inv.TaxIDStated,
			},
		)
	} else if !credit { // nobody is paid by a credit note
		if holds := m.Supplier.Holds.OfPayment(); len(holds) > 0 {
			m.say(finding.Finding{Kind: finding.SupplierBlocked, Verdict: finding.Outside,
				Name: m.Supplier.Name, Text: holds.String()})
		}
		if inv.IBAN != "" && !m.Supplier.Knows(inv.IBAN) {
			m.say(finding.Finding{Kind: finding.BankAccount, Verdict: finding.Outside,
				Name: m.Supplier.Name, Text: inv.IBAN, Other: m.Supplier.IBAN, Difference: inv.StatedTotal.Abs()})
		}
	}
	if !inv.IsTo(m.Name, m.TaxID) {
		m.say(finding.Finding{Kind: finding.Addressee, Verdict: finding.Outside, Text: inv.AddressedTo,
			Other: inv.AddresseeTaxID, Name: m.Name, Difference: inv.StatedTotal.Abs()})
	}
	if says := inv.Page.Otherwise(inv); says != (trade.PageSays{}) {
		m.say(finding.Finding{Kind: finding.PageDiffers, Verdict: finding.Outside, Text: says.Number, Other: says.IBAN, Name: inv.SupplierNumber,
			Note: inv.IBAN, Amount: inv.StatedTotal, Computed: says.Total, Difference: inv.StatedTotal.Abs()})
	}
	for _, other := range m.Lookalikes {
		if inv.SelfBilled() { // what came twice alike is billed twice alike
			break
		}
		m.say(finding.Finding{Kind: finding.LikelyDuplicate, Verdict: finding.Outside, Other: other.SupplierNumber,
			Reference: money.Int(other.Number), Text: inv.SupplierNumber, Difference: inv.StatedTotal.Abs()})
	}
	for _, s := range m.Strangers {
		m.say(finding.Finding{Kind: finding.Invoicer, Verdict: finding.Outside, Order: s.Order, Name: s.Supplier,
			Text: inv.SupplierStated, Other: s.NamedBy, Difference: inv.StatedTotal.Abs()})
	}
	for _, h := range m.OnHold {
		m.say(finding.Finding{Kind: finding.OnHold, Verdict: finding.Outside, Line: h.Line, Order: h.Order,
			Text: h.Reason, Note: h.Note, Name: h.By, Other: h.Clears})
	}
	if !inv.Prepays() {
		m.ahead()
	}
	if len(m.Orders) == 0 && len(m.Claims) == 0 && !inv.WithoutOrder() {
		m.say(finding.Finding{Kind: finding.OrderUnknown, Verdict: finding.Outside, Text: inv.OrderStated})
	}
	for _, order := range m.Orders {
		if order.State != trade.Issued && !inv.Follows() { // what is done can still be credited
			m.say(
				finding.Finding{
					Kind:      finding.OrderNotOpen,
					Verdict:   finding.Outside,
					Order:     order.Number,
					Reference: money.Int(order.Number),
					Text:      string(order.State),
				},
			)
		}
		if order.Currency != inv.Currency {
			m.say(
				finding.Finding{
					Kind:    finding.CurrencyDiffers,
					Verdict: finding.Outside,
					Order:   order.Number,
					Text:    string(inv.Currency),
					Other:   string(order.Currency),
				},
			)
		}
	}
}

// Codes of UNCL 1001 that are booked, as invoices or as credit notes.
var booked = map[string]bool{"": true, "380": true, "326": true, "381": true, "396": true}

// kind checks what the document is, its date and its currency.
func (m *matching) kind() {
	inv := m.Invoice
	if !booked[inv.Code] && !inv.SelfBilled() && inv.Kind != trade.Adjustment && !inv.Prepays() {
		m.say(
			finding.Finding{
				Kind:       finding.NotBooked,
				Verdict:    finding.Outside,
				Text:       inv.Code,
				Difference: inv.StatedTotal.Abs(),
			},
		)
	}
	if m.Today != "" && inv.Date > m.Today {
		m.say(
			finding.Finding{
				Kind:       finding.DateAhead,
				Verdict:    finding.Outside,
				Text:       string(inv.Date),
				Other:      string(m.Today),
				Difference: inv.StatedTotal.Abs(),
			},
		)
	}
	if inv.Rate == 0 {
		m.say(
			finding.Finding{
				Kind:    finding.NoRate,
				Verdict: finding.Outside,
				Text:    string(inv.Currency),
				Other:   string(inv.Date),
			},
		)
	}
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
			if a.Of(f) && !a.Covers(f) && (f.Verdict == finding.Outside || f.Verdict == finding.Waiting) {
				m.result.Lapsed = append(m.result.Lapsed, a)
				break
			}
		}
	}
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
