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
	SupplierUnknown  Kind = "supplier_unknown"
	OrderUnknown     Kind = "order_unknown"
	LineUnknown      Kind = "line_unknown"
	QuantityMissing  Kind = "quantity_missing"
	CreditNote       Kind = "credit_note"
	BankAccount      Kind = "bank_account"
	SupplierBlocked  Kind = "supplier_blocked"
	MatchFailed      Kind = "match_failed"
	OwnChange        Kind = "own_change" // the match level is what it is because of who entered the invoice or the order
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
	Nearest      money.Decimal // the nearest quantity that would pass
	Price        money.Decimal // of the document
	Reference    money.Decimal // of the order
	Percent      money.Decimal // the difference in per cent, for display

	Amount     money.Amount // what the document says
	Computed   money.Amount // what it should say
	Difference money.Amount // what is at stake, without sign

	Bound *limit.Bound // the limit that decided, if one did
	// OwnLimit: the difference is inside its bound, which who entered the invoice or the
	// order made what it is and nobody else has confirmed.
	OwnLimit bool `json:",omitempty"`

	Other string // number or name of the other document or thing
	Text  string // what was read, where it could not be resolved
	// Releases: the invoice may be verified, but is not released while this stands.
	Blocks Block

	Accepted *Acceptance // who took it, if somebody did
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
	Kind       Kind
	Line       int
	Difference money.Amount
	Excess     money.Decimal
	Note       string
	By         string
	On         string
}

// Covers tells whether the acceptance still answers the finding.
func (a Acceptance) Covers(f Finding) bool {
	return a.Kind == f.Kind && a.Line == f.Line && f.Difference <= a.Difference && f.Excess <= a.Excess
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
	Refuse  Way = "refuse"
)

// Ways are the ways to settle the finding, the most usual first. Differences that
// may never be accepted can only be corrected or refused (rules §6).
func (f Finding) Ways() []Way {
	if !f.Open() {
		return nil
	}
	switch f.Kind {
	case OverReceived:
		if f.Verdict == Waiting {
			return []Way{Deliver, Accept, Correct, Refuse}
		}
		return []Way{Accept, Correct, Refuse}
	case OverOrdered, UnitPrice, TaxRateDiffers, ChargeNotOrdered, TaxAmount, OwnChange:
		return []Way{Accept, Correct, Refuse}
	case LikelyDuplicate:
		return []Way{Refuse, Accept, Correct}
	case BankAccount:
		return []Way{Accept}
	case SupplierBlocked, MatchFailed:
		return nil
	default:
		return []Way{Correct, Refuse}
	}
}

// May tells whether the way is open for the finding.
func (f Finding) May(way Way) bool {
	for _, w := range f.Ways() {
		if w == way {
			return true
		}
	}
	return false
}

// Turn names whose turn it is to settle the finding: a role of rules §12.
func (f Finding) Turn() string {
	switch {
	case f.Verdict == Waiting:
		return "receiver"
	case f.Kind == BankAccount, f.Kind == SupplierBlocked:
		return "treasurer"
	case f.May(Accept):
		return "approver"
	default:
		return "clerk"
	}
}

// Signed is the difference with its direction: below zero where the price is lower
// than the order's.
func (f Finding) Signed() money.Amount {
	if f.Kind == UnitPrice && f.Price < f.Reference {
		return -f.Difference
	}
	return f.Difference
}
