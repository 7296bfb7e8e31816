package match

import (
	"slices"
	"strings"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Billed is a row of the table on an invoice's paper: the words that it is named by, and its unit price.
type Billed struct {
	Words []string
	Price money.Decimal
}

// TieRows names the order line, by its number, of each row of a paper's table: by a code of the item that stands in it, by its
// words and exact price, by its words, then by its price. A way counts only where it points to one line alone. Where a row stays
// unfound, or two are of one line, none is named: the table is not the order's.
func TieRows(rows []Billed, order *trade.Order) []int {
	numbers := make([]int, 0, len(rows))
	for _, row := range rows {
		coded := func(o *trade.OrderLine) bool {
			return slices.ContainsFunc(row.Words, func(w string) bool { return alike(w, o.SupplierCode) || alike(w, o.ItemCode) })
		}
		worded := func(o *trade.OrderLine) bool { return shared(strings.Join(row.Words, " "), o.Description) }
		priced := func(o *trade.OrderLine) bool {
			return money.UnitPrice(0, row.Price, money.Int(1), 0, 0, order.Currency).Compare(o.UnitPrice(order.Currency)) == 0
		}
		both := func(o *trade.OrderLine) bool { return worded(o) && priced(o) }
		var found *trade.OrderLine
		for _, same := range []func(*trade.OrderLine) bool{coded, both, worded, priced} {
			if found = single(order.Lines, same); found != nil {
				break
			}
		}
		if found == nil || slices.Contains(numbers, found.No) {
			return nil
		}
		numbers = append(numbers, found.No)
	}
	return numbers
}
