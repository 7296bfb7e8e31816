package match

// This file tells whether an invoice is one that is here already.

import (
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// SameInvoice tells whether an invoice is the one that its supplier sent before under the
// same normal number (rules §5). Where date and total both differ, a number that is the same
// only after normalising, or the same in another calendar year, is not refused: it is likely,
// and held.
func SameInvoice(inv trade.Invoice, number string, date day.Day, total money.Amount) bool {
	if date == inv.Date || total == inv.StatedTotal {
		return true
	}
	spelled := strings.EqualFold(strings.TrimSpace(number), strings.TrimSpace(inv.SupplierNumber))
	return spelled && len(date) >= 4 && len(inv.Date) >= 4 && date[:4] == inv.Date[:4]
}
