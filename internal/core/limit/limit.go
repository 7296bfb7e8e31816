// Package limit decides which limit applies to a difference and whether the
// difference is inside it (rules §2).
package limit

import (
	"slices"

	"lagoon/internal/core/money"
)

// Kind is what a limit limits.
type Kind string

// The kinds of limit. Absolute values are a quantity (millionths) for the first
// two and an amount (minor units, the order's currency) for the others.
const (
	Delivery         Kind = "delivery"          // percentage of the ordered quantity
	InvoicedQuantity Kind = "invoiced_quantity" // percentage of the received quantity; over only
	UnitPrice        Kind = "unit_price"        // percentage of the order's price; amount over the line
	Charge           Kind = "charge"            // percentage of the order's net; amount over the order
	TaxRounding      Kind = "tax_rounding"      // amount
	StatedTotal      Kind = "stated_total"      // amount
)

// Kinds are all there are.
var Kinds = []Kind{Delivery, InvoicedQuantity, UnitPrice, Charge, TaxRounding, StatedTotal}

// OfQuantity tells whether the absolute value of a limit of this kind is a quantity, not
// an amount.
func (k Kind) OfQuantity() bool { return k == Delivery || k == InvoicedQuantity }

// Side is the direction of a difference.
type Side string

// The two sides; each is looked up alone.
const (
	Over  Side = "over"
	Under Side = "under"
)

// Level is where a limit is set; the lower value is asked first.
type Level int

// The levels, nearest first.
const (
	Line Level = iota
	ItemAtSupplier
	Item
	Supplier
	Company
)

// Rule is one limit as it is set at one level. Either value may be missing;
// zero is a value, nil is not.
type Rule struct {
	Level    Level
	Kind     Kind
	Side     Side
	Percent  *money.Decimal
	Absolute *int64
	// Charge is the kind of charge that a limit of the company is for; empty: for all.
	Charge string `json:",omitempty"`
	// By is who set or took away what the level says of the kind and side, where nobody
	// else has confirmed it yet; zero else. A rule with neither value only says this.
	By int64
}

// Book is every rule that could apply to one order line, in any order.
type Book []Rule

// Same tells whether two books of one level set the same limits, in whatever order.
func (b Book) Same(other Book) bool {
	holds := func(all Book, r Rule) bool {
		return r.Percent == nil && r.Absolute == nil || slices.ContainsFunc(all, func(o Rule) bool {
			return o.Kind == r.Kind && o.Side == r.Side && equal(o.Percent, r.Percent) && equal(o.Absolute, r.Absolute)
		})
	}
	within := func(all, part Book) bool {
		return !slices.ContainsFunc(part, func(r Rule) bool { return !holds(all, r) })
	}
	return within(b, other) && within(other, b)
}

func equal[T comparable](a, b *T) bool {
	return (a == nil) == (b == nil) && (a == nil || *a == *b)
}

// Bound is the limit that applies to one side of one kind and where it came
// from. Unset means that no level sets anything, which allows nothing.
// SwitchedOff means that the company allows nothing whatever the levels say.
type Bound struct {
	Kind        Kind
	Side        Side
	Level       Level
	Percent     *money.Decimal
	Absolute    *int64
	Unset       bool
	SwitchedOff bool
	Charge      string `json:",omitempty"` // of the company's, the kind of charge that it is for
	// By are those who made the bound what it is, at its level or a nearer one, and whom
	// nobody else has confirmed: it clears nothing of their own (rules §6).
	By []int64 `json:",omitempty"`
}

// OwnTo tells whether the bound is what it is because of one of the people.
func (b Bound) OwnTo(people []int64) bool {
	return slices.ContainsFunc(b.By, func(id int64) bool { return slices.Contains(people, id) })
}

// Find gives the bound of the first level that sets anything for the kind and side.
func (b Book) Find(kind Kind, side Side) Bound { return b.FindFor("", kind, side) }

// FindFor is Find for a kind of charge: what the company sets for that kind comes before what it sets for all.
func (b Book) FindFor(charge string, kind Kind, side Side) Bound {
	b = b.of(charge)
	found := Bound{Kind: kind, Side: side, Level: Company, Unset: true}
	for _, r := range b {
		if r.Kind != kind || r.Side != side || (r.Percent == nil && r.Absolute == nil) {
			continue
		}
		if found.Unset || r.Level < found.Level || (r.Level == found.Level && r.Charge != "") {
			found = Bound{Kind: kind, Side: side, Level: r.Level, Percent: r.Percent, Absolute: r.Absolute, Charge: r.Charge}
		}
	}
	found.By = b.Setters(kind, side, found.Level)
	return found
}

// of are the rules without those for other kinds of charge.
func (b Book) of(charge string) Book {
	if !slices.ContainsFunc(b, func(r Rule) bool { return r.Charge != "" }) {
		return b
	}
	return slices.DeleteFunc(slices.Clone(b), func(r Rule) bool { return r.Charge != "" && r.Charge != charge })
}

// Setters are those whom nobody has confirmed who set or took away what a level or a
// nearer one says of a kind and side.
func (b Book) Setters(kind Kind, side Side, upTo Level) []int64 {
	var by []int64
	for _, r := range b {
		if r.By != 0 && r.Kind == kind && r.Side == side && r.Level <= upTo && !slices.Contains(by, r.By) {
			by = append(by, r.By)
		}
	}
	return by
}

// MatchLevel stands in a book for who set the match level, as if that were a limit.
const MatchLevel Kind = "match_level"

// Off is the bound of a company that has switched a side of delivery off.
func Off(kind Kind, side Side) Bound {
	return Bound{Kind: kind, Side: side, Level: Company, SwitchedOff: true}
}

// Allows tells whether a difference (zero or more) of whole is inside every
// limit that is set. Difference and whole count the same unit; worth is what the
// absolute value counts: the quantity itself, or the amount the difference makes.
func (b Bound) Allows(difference, whole, worth int64) bool {
	if difference == 0 {
		return true
	}
	return b.open() && (b.Percent == nil || money.WithinPercent(difference, whole, *b.Percent)) &&
		(b.Absolute == nil || worth <= *b.Absolute)
}

// AllowsPrice tells whether price is inside the bound seen from reference, where
// worth is what the difference makes over the line and all its invoices.
func (b Bound) AllowsPrice(price, reference money.Price, worth money.Amount) bool {
	return b.open() && (b.Percent == nil || price.WithinPercent(reference, *b.Percent)) &&
		(b.Absolute == nil || int64(worth.Abs()) <= *b.Absolute)
}

// Asked is what a limit is asked of one difference, kept with what was found of it, so that another limit can be asked the
// same.
type Asked struct {
	// Difference and Whole count the same: what a percentage is asked of. Of a unit price they are Price and Agreed.
	Difference, Whole int64        `json:",omitempty"`
	Price, Agreed     *money.Price `json:",omitempty"`
	Worth             int64        // what an absolute value is asked of
	Ceiling           *Ceiling     `json:",omitempty"` // of an invoiced quantity that is matched with receipts
}

// Ceiling is what can be invoiced of a line at most, whatever else a limit of invoiced quantity lets pass: up to that, what is not
// here can still come (rules §6).
type Ceiling struct {
	Total         money.Decimal // that is invoiced of the line with this document
	Most, Ordered money.Decimal // by delivery or receipts; and what the limit adds to
	Whole         bool          `json:",omitempty"` // whole units only
	Coming        bool          `json:",omitempty"` // goods can still come
}

// Passed tells whether more is invoiced than can come under a limit of invoiced quantity.
func (c *Ceiling) Passed(b Bound) bool {
	return c != nil && c.Total > max(c.Most, b.Most(c.Ordered, c.Whole))
}

// Waits tells whether what is past the bound can still come.
func (a Asked) Waits(b Bound) bool {
	return a.Ceiling != nil && a.Ceiling.Coming && !a.Ceiling.Passed(b)
}

// Passes tells whether what is asked is inside the bound. A lower price passes unless a limit is set on that side.
func (b Bound) Passes(a Asked) bool {
	if a.Price == nil {
		return b.Allows(a.Difference, a.Whole, a.Worth)
	}
	return (b.Side == Under && b.Unset) || b.AllowsPrice(*a.Price, *a.Agreed, money.Amount(a.Worth))
}

// In gives the bound for a document of another currency than the company's. An absolute amount of item, supplier or company is
// in the company's currency, and is converted at the document's rate (rules §2); without a rate it stays.
func (b Bound) In(currency, company money.Currency, rate money.Decimal) Bound {
	if b.Absolute == nil || b.Kind.OfQuantity() || b.Level == Line || company == "" || currency == company || rate == 0 {
		return b
	}
	converted, err := money.Amount(*b.Absolute).AtMost(rate, company, currency)
	if err != nil {
		return b
	}
	b.Absolute = new(int64(converted))
	return b
}

func (b Bound) open() bool { return !b.Unset && !b.SwitchedOff }

// Most is the largest quantity that passes against ordered on the over side;
// whole-unit items round it down.
func (b Bound) Most(ordered money.Decimal, wholeUnits bool) money.Decimal {
	most := ordered + b.room(ordered)
	if wholeUnits {
		most = most.Floor()
	}
	return max(most, ordered)
}

// Least is the smallest quantity that passes against ordered on the under side;
// whole-unit items round it up.
func (b Bound) Least(ordered money.Decimal, wholeUnits bool) money.Decimal {
	least := ordered - b.room(ordered)
	if wholeUnits {
		least = least.Ceil()
	}
	return min(max(least, 0), ordered)
}

// room is how far a quantity may go from ordered, rounded towards zero.
func (b Bound) room(ordered money.Decimal) money.Decimal {
	if !b.open() {
		return 0
	}
	room := int64(money.Largest)
	if b.Percent != nil {
		if share, _, err := money.PercentOf(int64(ordered), *b.Percent); err == nil {
			room = share
		}
	}
	if b.Absolute != nil {
		room = min(room, *b.Absolute)
	}
	return money.Decimal(room)
}
