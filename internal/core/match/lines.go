package match

import (
	"strconv"
	"strings"

	"lagoon/internal/core/trade"
)

// Codes are items by what a supplier's own codes stand for, where a person said so.
type Codes map[string]int64

func (c Codes) key(code string) string { return strings.ToUpper(strings.TrimSpace(code)) }

// Set says what a code stands for.
func (c Codes) Set(code string, item int64) { c[c.key(code)] = item }

// FindLines names the order line of every invoice line about an order that has none: by the
// reference on the invoice, then by the supplier's item code, as the order has it or as a person said before, then by
// the item, then by price and unit. A way counts only where it points to one line alone; what
// stays unfound is asked (rules §6).
func FindLines(lines []trade.InvoiceLine, order *trade.Order, codes Codes) {
	for i := range lines {
		line := &lines[i]
		if line.OrderID != order.ID || line.OrderLineID != 0 || line.ChargeKind != "" {
			continue
		}
		for _, same := range []func(*trade.OrderLine) bool{
			func(o *trade.OrderLine) bool {
				return line.OrderLineRef != "" && line.OrderLineRef == strconv.Itoa(o.No)
			},
			func(o *trade.OrderLine) bool { return alike(line.SupplierCode, o.SupplierCode) },
			func(o *trade.OrderLine) bool { return o.ItemID != 0 && codes[codes.key(line.SupplierCode)] == o.ItemID },
			func(o *trade.OrderLine) bool { return alike(line.ItemCode, o.ItemCode) },
			func(o *trade.OrderLine) bool {
				return line.OrderLineRef == "" && line.Unit == o.Unit &&
					line.UnitPrice(order.Currency).Compare(o.UnitPrice(order.Currency)) == 0
			},
		} {
			if only := single(order.Lines, same); only != nil {
				line.OrderLineID = only.ID
				break
			}
		}
	}
}

func single(lines []*trade.OrderLine, same func(*trade.OrderLine) bool) *trade.OrderLine {
	var found *trade.OrderLine
	for _, l := range lines {
		if same(l) {
			if found != nil {
				return nil
			}
			found = l
		}
	}
	return found
}

func alike(a, b string) bool {
	return a != "" && strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b))
}
