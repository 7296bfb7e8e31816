// Package finding is what a check has to say: data with its operands, from which
// a sentence with its arithmetic is made elsewhere.
package finding

import (
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
)

// Verdict is one of four answers, used the same everywhere.
type Verdict string

// The verdicts.
const (
	Agrees  Verdict = "agrees"
	Within  Verdict = "within"
	Outside Verdict = "outside"
	Waiting Verdict = "waiting"
)

// Kind names what was found.
type Kind string

// Findings on a delivery (rules §4).
const (
	OverDelivery  Kind = "over_delivery"
	UnderDelivery Kind = "under_delivery"
	PartDelivery  Kind = "part_delivery"
	FullDelivery  Kind = "full_delivery"
)

// Findings on an invoice (rules §6).
const (
	OverReceived     Kind = "over_received"
	OverOrdered      Kind = "over_ordered"
	UnitPrice        Kind = "unit_price"
	UnitDiffers      Kind = "unit"
	CurrencyDiffers  Kind = "currency"
	TaxRateDiffers   Kind = "tax_rate"
	ChargeNotOrdered Kind = "charge"
	TaxAmount        Kind = "tax_amount"
	StatedTotal      Kind = "stated_total"
	PrepaidStated    Kind = "prepaid_stated"
	LikelyDuplicate  Kind = "likely_duplicate"
	OrderNotOpen     Kind = "order_not_open"
	LineClosed       Kind = "line_closed"
	SelfBilled       Kind = "self_billed" // we write the invoices of the line ourselves
	SupplierUnknown  Kind = "supplier_unknown"
	OrderUnknown     Kind = "order_unknown"
	LineUnknown      Kind = "line_unknown"
	QuantityMissing  Kind = "quantity_missing"
	CreditNote       Kind = "credit_note"
	BankAccount      Kind = "bank_account"
	SupplierBlocked  Kind = "supplier_blocked"
	MatchFailed      Kind = "match_failed"
	WholeUnits       Kind = "whole_units"       // a part of what is counted in whole units
	ChargeTaxRate    Kind = "charge_tax_rate"   // of a planned charge
	NoRate           Kind = "no_rate"           // no exchange rate of its currency is known on or before its date
	NotBooked        Kind = "kind_not_booked"   // a kind of document that is not booked as an invoice
	DateAhead        Kind = "date"              // dated after today
	Creditable       Kind = "creditable"        // a credit note is about more than can be credited
	CreditUnclear    Kind = "credit_unclear"    // a line of a credit note tells neither goods nor a price
	PriceCredited    Kind = "price_credited"    // a credit note gives back what was billed above or below the order's price
	InvoiceAwaited   Kind = "invoice_awaited"   // a credit note names an invoice that is not here, or not verified
	Addressee        Kind = "addressee"         // an invoice that is addressed to somebody else
	PageDiffers      Kind = "page_differs"      // the page that people read says otherwise than the file that machines read
	ApprovalMissing  Kind = "approval_missing"  // an invoice without an order that nobody has approved
	TaxCodeMissing   Kind = "tax_code_missing"  // under reverse charge nothing says at which rate we owe the tax
	Invoicer         Kind = "invoicer"          // invoiced by one who may not invoice for the order's supplier
	OnHold           Kind = "on_hold"           // a person's hold keeps it from being verified
	PrepaymentUnused Kind = "prepayment_unused" // money was paid ahead on its order, and nobody has said whether it is used
	RequestedAhead   Kind = "requested_ahead"   // our own request for the same money is not paid yet
	PrepaymentAbove  Kind = "prepayment_above"  // an invoice for money ahead asks more than is agreed
	OwnChange        Kind = "own_change"        // the match level is what it is because of who entered the invoice or the order
)

// Finding is one difference, or one thing said. Which operands are set depends
// on the kind; quantities are in Unit, amounts in Currency.
type Finding struct {
	Kind     Kind
	Verdict  Verdict
	Line     int    // line of the document that was checked; 0 is the whole document
	Name     string // what the line is for
	Unit     string
	Currency money.Currency

	Quantity money.Decimal // on this document
	// Counted is the same in the unit in which it was counted, where that is another;
	// Units of it make Makes of the order's.
	Counted      money.Decimal `json:",omitempty"`
	CountedUnit  string        `json:",omitempty"`
	Units, Makes money.Decimal `json:",omitempty"`
	Ordered      money.Decimal
	Received     money.Decimal
	Billed       money.Decimal // by verified invoices before
	Reserved     money.Decimal // by invoices captured earlier and not yet verified
	Available    money.Decimal
	Excess       money.Decimal // how much too much (or too little)
	// ClosedGoods: no more goods are to come on the line.
	ClosedGoods bool `json:",omitempty"`
	// Used is what a limit of invoiced quantity is asked of: the excess with what is invoiced
	// too much already (rules §6).
	Used      money.Decimal `json:",omitempty"`
	Nearest   money.Decimal // the nearest quantity that would pass
	Price     money.Decimal // of the document
	Reference money.Decimal // of the order
	Percent   money.Decimal // the difference in per cent, for display

	// Order is the number of the order that the finding is about, where it is about one, and
	// Charge the kind of charge.
	Order  int64  `json:",omitempty"`
	Charge string `json:",omitempty"`
	// Notes are, by receipt, the delivery notes that are invoiced.
	Notes []string `json:",omitempty"`

	Amount     money.Amount // what the document says
	Computed   money.Amount // what it should say
	Difference money.Amount // what is at stake, without sign

	// Place is the first figure that the document states otherwise than it computes.
	Place *Place `json:",omitempty"`

	Bound *limit.Bound // the limit that decided, if one did
	Asked *limit.Asked `json:",omitempty"` // what it was asked
	// OwnLimit: the difference is inside its bound, which who entered the invoice or the
	// order made what it is and nobody else has confirmed.
	OwnLimit bool `json:",omitempty"`

	Other string // number or name of the other document or thing
	Text  string // what was read, where it could not be resolved
	Note  string `json:",omitempty"` // of a hold

	Accepted *Acceptance // who took it, if somebody did
}

// Judged is what a bound makes of the difference that the finding was asked about: within, or outside, or waiting where goods
// can still come.
func (f Finding) Judged(b limit.Bound) Verdict {
	switch {
	case b.Passes(*f.Asked):
		return Within
	case f.Asked.Waits(b):
		return Waiting
	default:
		return Outside
	}
}

// Limited gives the finding with the bound that decides it, what it is asked, and its verdict.
func (f Finding) Limited(b limit.Bound, asked limit.Asked) Finding {
	f.Bound, f.Asked = &b, &asked
	f.Verdict = f.Judged(b)
	return f
}

// Overall is what findings come to: any that is outside holds the document, else any that waits makes it wait. What only stops
// the release does not count (rules §6).
func Overall(findings []Finding) Verdict {
	result := Agrees
	for _, f := range findings {
		switch {
		case f.Blocks() == BlocksRelease:
		case f.Accepted != nil || f.Verdict == Within:
			if result == Agrees {
				result = Within
			}
		case f.Verdict == Outside:
			return Outside
		case f.Verdict == Waiting:
			result = Waiting
		}
	}
	return result
}

// Place is a figure of a document by its business term (EN 16931): of a line, counted from
// 1, or of the whole (0).
type Place struct {
	Term             string
	Line             int
	Stated, Computed money.Amount
	// Alone: the total of the document agrees all the same.
	Alone bool `json:",omitempty"`
}

// Block is what a finding stops.
type Block string

// Findings stop an invoice from being verified unless they only stop its release.
const (
	BlocksVerifying Block = ""
	BlocksRelease   Block = "release"
)

// Acceptance is a person's decision that a finding may stand. It lapses when the
// difference grows; the store drops it when the entry changes.
type Acceptance struct {
	ID   int64 `json:"-"` // row key
	Kind Kind
	Line int
	Side limit.Side // of the difference; what was taken as cheaper does not take what is dearer
	About
	Difference money.Amount
	Excess     money.Decimal
	Note       string
	By         string
	On         string
}

// About is what tells findings of one kind, line and side apart.
type About struct {
	Other  int64  `json:",omitempty"` // number of the other invoice, of a likely second copy
	Order  int64  `json:",omitempty"` // number of the order, of a charge
	Charge string `json:",omitempty"` // kind of the charge
}

// Same tells whether two findings are about the same thing.
func (f Finding) Same(g Finding) bool {
	return f.Kind == g.Kind && f.Line == g.Line && f.Side() == g.Side() && f.About() == g.About()
}

// Of tells whether the acceptance is of this finding and its side, covering it or not.
func (a Acceptance) Of(f Finding) bool {
	return a.Kind == f.Kind && a.Line == f.Line && a.Side == f.Side() && a.About == f.About()
}

// Covers tells whether the acceptance still answers the finding.
func (a Acceptance) Covers(f Finding) bool {
	return a.Of(f) && f.Difference <= a.Difference && f.Excess <= a.Excess
}

// Side is the direction of the difference: under where less is asked than was computed or
// agreed.
func (f Finding) Side() limit.Side {
	under := f.Kind == UnitPrice && f.Price < f.Reference
	if f.Bound != nil && f.Bound.Side != "" && (f.Kind == UnitPrice || f.Kind == PriceCredited || f.Kind == TaxAmount) {
		under = f.Bound.Side == limit.Under
	}
	if f.Kind == TaxRateDiffers || f.Kind == ChargeTaxRate {
		under = f.Price < f.Reference
	}
	if under {
		return limit.Under
	}
	return limit.Over
}

// ByCredit tells whether a credit note moved the line's price: its difference is an amount that comes back, held against
// no limit, and not a unit price.
func (f Finding) ByCredit() bool {
	return (f.Kind == UnitPrice || f.Kind == PriceCredited) && f.Bound != nil && f.Bound.Kind == ""
}

// Accept is the decision that the finding may stand.
func (f Finding) Accept(note string) Acceptance {
	return Acceptance{
		Kind: f.Kind, Line: f.Line, Side: f.Side(), About: f.About(), Difference: f.Difference, Excess: f.Excess, Note: note,
	}
}

// Open tells whether the finding still stops something.
func (f Finding) Open() bool {
	return (f.Verdict == Outside || f.Verdict == Waiting) && f.Accepted == nil
}

// Way is a way to settle a finding.
type Way string

// The ways that this page of the rules meets (§6).
const (
	Accept  Way = "accept"
	Correct Way = "correct"
	Deliver Way = "deliver" // book the missing delivery
	Plan    Way = "plan"    // add the charge to the order
	Return  Way = "return"  // send goods back, or book that they went
	Tie     Way = "tie"     // say whose it is, or which order or line of one it is about
	Refuse  Way = "refuse"
	Approve Way = "approve"
	PassOn  Way = "pass"  // to another approver
	Use     Way = "use"   // money that was paid ahead
	Leave   Way = "leave" // the money where it is
)

// May tells whether the way is open for the finding.
func (f Finding) May(way Way) bool {
	for _, w := range f.Ways() {
		if w == way {
			return true
		}
	}
	return false
}

// Signed is the difference with its direction: below zero where the price is lower
// than the order's.
func (f Finding) Signed() money.Amount {
	if f.Side() == limit.Under {
		return -f.Difference
	}
	return f.Difference
}
