package trade

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Conversion says how many of an item's own unit some of another unit make: one carton
// makes twelve kilograms. It stays a fraction (rules §1).
type Conversion struct {
	Unit  string
	Units money.Decimal // so many of Unit
	Makes money.Decimal // make so many of the item's own
}

// Of is a quantity of the conversion's unit in the item's own. It is refused where six
// decimal places cannot hold it exactly.
func (c Conversion) Of(quantity money.Decimal) (money.Decimal, error) {
	made, exact, err := quantity.Of(c.Makes, c.Units)
	if err == nil && !exact {
		err = fault.New(
			fault.Invalid,
			"quantity",
			"%s × %s ÷ %s has more than six decimal places. Count in the unit of the order.",
			quantity,
			c.Makes,
			c.Units,
		)
	}
	return made, err
}

// Conversion finds how a unit is turned into the line's.
func (l *OrderLine) Conversion(unit string) (Conversion, bool) {
	for _, c := range l.Units {
		if c.Unit == unit {
			return c, true
		}
	}
	return Conversion{}, false
}

// AgreedPrice is a price that was agreed with a supplier for an item, from a quantity
// on and for some time. No last day: until further notice.
type AgreedPrice struct {
	From, Until day.Day
	Least       money.Decimal
	Price, Base money.Decimal
}

// PriceFor is the agreed price of a quantity on a day: of those that hold then, the one
// with the highest quantity break that is reached, the latest first. None: false.
func PriceFor(prices []AgreedPrice, quantity money.Decimal, on day.Day) (AgreedPrice, bool) {
	var best AgreedPrice
	some := false
	for _, p := range prices {
		if p.From > on || (p.Until != "" && p.Until < on) || p.Least > quantity {
			continue
		}
		if !some || p.Least > best.Least || (p.Least == best.Least && p.From > best.From) {
			best, some = p, true
		}
	}
	return best, some
}
