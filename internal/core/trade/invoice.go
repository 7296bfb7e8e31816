package trade

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// InvoiceKind says what sort of invoice it is.
type InvoiceKind string

// The kinds that are told apart here.
const (
	PlainInvoice InvoiceKind = "invoice"
	CreditNote   InvoiceKind = "credit_note"
	Adjustment   InvoiceKind = "adjustment" // a debit note, or a corrected invoice that states the difference: prices alone
	// PrepaymentInvoice asks for money ahead, of which later invoices are paid.
	PrepaymentInvoice InvoiceKind = "prepayment"
	// PaymentRequest is our own: money ahead is paid on it without an invoice of the supplier's, and the books know it by its
	// payment alone.
	PaymentRequest InvoiceKind = "request"
)

// InvoiceState is where an invoice is in its life (rules §5).
type InvoiceState string

// The states; the first three are matched again whenever something changes.
const (
	Captured  InvoiceState = "captured"
	Waiting   InvoiceState = "waiting"
	Held      InvoiceState = "held"
	Verified  InvoiceState = "verified"
	Released  InvoiceState = "released"
	InPayment InvoiceState = "in_payment"
	Paid      InvoiceState = "paid"
	Void      InvoiceState = "void"
	Refused   InvoiceState = "refused" // sent back to the supplier before it was verified
)

// The sets that rules speak of: still matched, in the books, of those not settled, come to an end without payment.
var (
	UnsettledStates = [...]InvoiceState{Captured, Waiting, Held}
	BookedStates    = [...]InvoiceState{Verified, Released, InPayment, Paid}
	OwedStates      = [...]InvoiceState{Verified, Released, InPayment}
	EndedStates     = [...]InvoiceState{Void, Refused}
)

// Unsettled tells whether the invoice is still matched.
func (s InvoiceState) Unsettled() bool { return slices.Contains(UnsettledStates[:], s) }

// Booked tells whether the invoice stands in the books.
func (s InvoiceState) Booked() bool { return slices.Contains(BookedStates[:], s) }

// Ended tells whether the invoice came to nothing: it was refused, or made void.
func (s InvoiceState) Ended() bool { return slices.Contains(EndedStates[:], s) }

// Where an invoice came from. What an e-invoice is written in, its file tells; the first of them was UBL.
const (
	FromEInvoice = "ubl"
	FromKeys     = "keyed"
)

// Invoice is an invoice as it was read or keyed. Amounts are in its currency.
type Invoice struct {
	ID             int64
	Number         int64 // Lagoon's
	Kind           InvoiceKind
	Code           string // of the document's kind as it says it (UNCL 1001); empty where keyed
	Source         string // FromEInvoice, FromKeys
	Revision       int
	SupplierID     int64  // 0: not known
	SupplierStated string // as the invoice names it
	TaxIDStated    string
	AddressedTo    string // to whom it is addressed (BT-44), and by which tax number (BT-48), as it says it
	AddresseeTaxID string
	SupplierNumber string // the supplier's number of the invoice
	Credited       string // of a credit note or an adjustment: the supplier's number of the invoice that it names (BT-25)
	Date           day.Day
	TaxPoint       day.Day // when the tax is due, where it says so (BT-7)
	CapturedOn     day.Day
	PostingDay     day.Day
	Currency       money.Currency
	Rate           money.Decimal // company currency for one unit, on the invoice's day
	OrderStated    string        // order reference as the invoice gives it
	OrderID        int64         // the document's own; its lines may be about others. 0: not found
	Lines          []InvoiceLine
	Charges        []DocumentCharge
	Taxes          []StatedTax
	StatedTotal    money.Amount   // with tax, rounding included
	Prepaid        money.Amount   // what the supplier says was paid already (BT-113)
	Rounded        money.Amount   // what the supplier says it rounded the total by (BT-114), part of StatedTotal
	Figures        []StatedFigure // further ones that the invoice states, in the order they are looked at
	IBAN           string         // account the invoice asks to be paid to
	DueStated      day.Day
	// PaymentReference is what the supplier wants to read in the payment (BT-83).
	PaymentReference string
	Note             string
	Final            bool   // the last one of its orders: what is left of them is closed when it is verified
	Ahead            *Ahead `json:",omitempty"` // of an invoice for money ahead
	// Page is what the page of its file, that people read, says otherwise than the file.
	Page  PageSays `json:",omitzero"`
	About string   // what it is about, in a line of at most LongestAbout characters
}

// PageSays is what a page says otherwise than its file: another number, total or account to be paid to. What is zero agrees, or
// does not plainly stand there.
type PageSays struct {
	Number string
	Total  money.Amount
	IBAN   string
}

// Otherwise is what the page still says otherwise than the entry.
func (p PageSays) Otherwise(inv Invoice) PageSays {
	if NormalNumber(p.Number) == NormalNumber(inv.SupplierNumber) {
		p.Number = ""
	}
	if p.Total.Abs() == inv.StatedTotal.Abs() {
		p.Total = 0
	}
	if p.IBAN == inv.IBAN {
		p.IBAN = ""
	}
	return p
}

// StatedFigure is a net or sum that an e-invoice states beside what it is made of, by its
// business term (BT-131 of a line, BT-106 to BT-115 of the whole). Line counts from 1; 0 is
// the whole invoice.
type StatedFigure struct {
	Term   string
	Line   int `json:",omitempty"`
	Amount money.Amount
}

// Parting is a figure that an invoice states otherwise than it computes.
type Parting struct {
	StatedFigure
	Computed money.Amount
}

// Parts gives the first figure that the invoice states otherwise than its totals have it,
// or nil where all agree (EN 16931 BR-CO-10 to BR-CO-16).
func (inv Invoice) Parts(t Totals) *Parting {
	var lines money.Amount
	for _, net := range t.LineNets {
		lines += net
	}
	var charges money.Amount
	for _, c := range inv.Charges {
		if !c.Allowance {
			charges += c.Amount
		}
	}
	computed := map[string]money.Amount{
		"BT-106": lines,
		"BT-107": t.Allowances,
		"BT-108": charges,
		"BT-109": t.Net(),
		"BT-110": t.Tax,
		"BT-112": t.Total,
		"BT-115": t.Total - inv.Prepaid + inv.Rounded,
	}
	for _, f := range inv.Figures {
		should, known := computed[f.Term]
		if f.Term == "BT-131" && f.Line >= 1 && f.Line <= len(t.LineNets) {
			should, known = t.LineNets[f.Line-1], true
		}
		if known && should != f.Amount {
			return &Parting{f, should}
		}
	}
	return nil
}

// InvoiceLine is one line of an invoice.
type InvoiceLine struct {
	ID           int64
	No           int
	OrderID      int64  // the order that the line is about; 0: not found
	OrderStated  string // the line's own order reference, where it gives one
	OrderLineID  int64  // 0: not found
	OrderLineRef string // as the invoice gives it
	SupplierCode string
	ItemCode     string // the buyer's code
	Description  string
	Quantity     money.Decimal
	Unit         string
	Price        money.Decimal
	Base         money.Decimal
	Discount     money.Amount
	Charge       money.Amount
	TaxCategory  string
	TaxRate      money.Decimal
	TaxCode      string         // the company's; empty: none known
	OwnRate      *money.Decimal // under reverse charge, at which we owe the tax; nil: not known
	ChargeKind   string         // freight, handling, …: a charge, not goods
	Credits      CreditFor      // of a credit note: what somebody said that it is for
	Coding       []Coding       // what it is charged to, where it is about no order
	Defer        *Deferral      // over which months its cost is spread; nil: it is a cost at once
	Notes        Notes          // the delivery notes that it names; none: it bills the oldest goods
}

// Net is the line's net amount (rules §1).
func (l InvoiceLine) Net(currency money.Currency) (money.Amount, error) {
	return money.Net(l.Quantity, l.Price, l.Base, l.Discount, l.Charge, currency)
}

// UnitPrice is the exact price of one unit after the line's discount and charge.
func (l InvoiceLine) UnitPrice(currency money.Currency) money.Price {
	return money.UnitPrice(l.Quantity, l.Price, l.Base, l.Discount, l.Charge, currency)
}

// DocumentCharge is a charge on, or an allowance from, the whole invoice. Amount
// is without sign.
type DocumentCharge struct {
	Allowance   bool
	Kind        string // one of the company's kinds of charge, or discount
	Code        string // UNCL 7161, as an e-invoice gives it
	Reason      string
	Amount      money.Amount
	TaxCategory string
	TaxRate     money.Decimal
}

// Charged tells whether it carries charges.
func (inv Invoice) Charged() bool {
	return len(inv.Charges) > 0 ||
		slices.ContainsFunc(inv.Lines, func(l InvoiceLine) bool { return l.ChargeKind != "" })
}

// StatedTax is the tax that the supplier states for one category and rate.
type StatedTax struct {
	Category string
	Rate     money.Decimal
	Amount   money.Amount
}

// TaxGroup is one category and rate of an invoice with its basis and tax.
type TaxGroup struct {
	Category string
	Code     string // of all its lines; empty: of several, or none known
	Rate     money.Decimal
	Basis    money.Amount
	Computed money.Amount
	Tax      money.Amount // as stated where the supplier stated it, else as computed
	Stated   bool
}

// Totals of an invoice (EN 16931 BR-CO-10 to BR-CO-17). Total = lines + charges −
// allowances + tax.
type Totals struct {
	LineNets   []money.Amount
	Lines      money.Amount
	Charges    money.Amount
	Allowances money.Amount
	Groups     []TaxGroup
	Tax        money.Amount
	Total      money.Amount
	Own        []OwnTax // under reverse charge, beside the total
	// Allowance shares of each line, by net and largest remainder.
	LineShares []money.Amount
}

// Net is the total without tax.
func (t Totals) Net() money.Amount { return t.Lines + t.Charges - t.Allowances }

// Totals computes the invoice's totals. Tax is computed once per category and
// rate; an amount that the supplier stated for it stands in its place.
func (inv Invoice) Totals() (Totals, error) {
	t := Totals{LineNets: make([]money.Amount, len(inv.Lines))}
	for i, l := range inv.Lines {
		net, err := l.Net(inv.Currency)
		if err != nil {
			return t, fault.New(fault.Invalid, "", "Line %d: quantity × price is more than can be booked.", l.No)
		}
		t.LineNets[i] = net
		if l.ChargeKind != "" {
			t.Charges += net
		} else {
			t.Lines += net
		}
		t.group(l.TaxCategory, l.TaxRate, net, l.TaxCode)
	}
	for _, c := range inv.Charges {
		if c.Allowance {
			t.Allowances += c.Amount
			t.group(c.TaxCategory, c.TaxRate, -c.Amount)
		} else {
			t.Charges += c.Amount
			t.group(c.TaxCategory, c.TaxRate, c.Amount)
		}
	}
	for _, s := range inv.Taxes { // a rate that only the supplier's statement names
		t.group(s.Category, s.Rate, 0)
	}
	for i := range t.Groups {
		g := &t.Groups[i]
		computed, err := g.Basis.Percent(g.Rate)
		if err != nil {
			return t, fault.New(fault.Invalid, "", "The tax is more than can be booked.")
		}
		g.Computed, g.Tax = computed, computed
		for _, s := range inv.Taxes {
			if s.Category == g.Category && s.Rate == g.Rate {
				g.Tax, g.Stated = s.Amount, true
			}
		}
		t.Tax += g.Tax
	}
	t.Total = t.Net() + t.Tax
	own, err := inv.ownTaxes(t.LineNets)
	if err != nil {
		return t, err
	}
	t.Own = own
	t.LineShares, err = inv.allowanceShares(t)
	return t, err
}

// group adds to the basis of a category and rate; of a line with the line's tax code.
func (t *Totals) group(category string, rate money.Decimal, basis money.Amount, code ...string) {
	for i := range t.Groups {
		if g := &t.Groups[i]; g.Category == category && g.Rate == rate {
			g.Basis += basis
			if len(code) > 0 && g.Code != code[0] {
				g.Code = ""
			}
			return
		}
	}
	t.Groups = append(t.Groups, TaxGroup{Category: category, Rate: rate, Basis: basis, Code: strings.Join(code, "")})
}

// Named says the group in a word or two: its tax code, else category and rate.
func (g TaxGroup) Named() string { return cmp.Or(g.Code, fmt.Sprintf("%s %s", g.Category, g.Rate)) }

// Named says the tax in a word or two: its tax code, else category and rate.
func (o OwnTax) Named() string { return cmp.Or(o.Code, fmt.Sprintf("%s %s", o.Category, o.Rate)) }

// allowanceShares splits the allowances over the lines of goods by net.
func (inv Invoice) allowanceShares(t Totals) ([]money.Amount, error) {
	weights := make([]money.Amount, len(inv.Lines))
	for i, l := range inv.Lines {
		if l.ChargeKind == "" {
			weights[i] = max(0, t.LineNets[i])
		}
	}
	if t.Allowances == 0 {
		return make([]money.Amount, len(inv.Lines)), nil
	}
	shares, err := money.Split(t.Allowances, weights)
	if err != nil {
		return make([]money.Amount, len(inv.Lines)), nil // nothing to split over: the match holds such an invoice
	}
	return shares, nil
}

// Rounding is what the supplier's stated total differs from the computed one; it is posted
// as rounding difference.
func (inv Invoice) Rounding(t Totals) money.Amount { return inv.StatedTotal - t.Total }

// Unexplained is what of it the supplier does not say it rounded by.
func (inv Invoice) Unexplained(t Totals) money.Amount { return inv.Rounding(t) - inv.Rounded }
