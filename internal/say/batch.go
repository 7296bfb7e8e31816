package say

import (
	"fmt"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var batches = map[string]string{"open": "being keyed", "running": "being captured", "stopped": "stopped", "done": "captured", "dropped": "given up"}

// Batch is where a batch is, in words.
func Batch(state string) string { return batches[state] }

var controls = map[string]string{"count": "invoices", "quantity": "as the quantity of all lines", "total": "as the total"}

// Control says how a batch parts from what was added up beforehand.
func (p Printer) Control(c trade.ControlParts) string {
	if c.NoNumber {
		return fmt.Sprintf("“%s” is no number.", c.Wanted)
	}
	was := "was"
	if c.Control == "count" && c.Wanted != "1" {
		was = "were"
	}
	return fmt.Sprintf("It comes to %s %s, and %s %s added up. Look for what is missing, twice or mistyped.",
		p.Decimal(c.Got), controls[c.Control], p.Quantity(money.MustDecimal(c.Wanted)), was)
}

// Refused says how many rows of a batch were refused.
func (p Printer) Refused(rows int) string {
	if rows == 1 {
		return "1 invoice was refused; all others are captured."
	}
	return fmt.Sprintf("%d invoices were refused; all others are captured.", rows)
}
