package reading

// This file reads the table of goods of an invoice's paper. No head of a column is asked for: what a row says is known by its
// own arithmetic, and what the table says by its sum.

import (
	"strconv"
	"strings"

	"lagoon/internal/core/money"
)

// Row is a row of the table of goods: so much of something, at so much, comes to so much. Quantity times Price is Net, to the
// cent.
type Row struct {
	Words                []string // that stand before the figures: what it is for, and codes of it
	Quantity, Price, Net money.Decimal
	At                   Box
}

// Description is what a row says that it is for, without the number that it has among the rows, from 1 on.
func (r Row) Description(no int) string {
	words := r.Words
	if len(words) > 1 && strings.TrimLeft(words[0], "0") == strconv.Itoa(no) {
		words = words[1:]
	}
	return strings.Join(words, " ")
}

// The bounds of a table: its rows, and the figures of a row that are looked at, the last.
const (
	mostRows    = 500
	mostFigures = 12
)

// rows reads the table of goods: none where the nets of its rows do not come to a net that the paper states, or to its total
// where it states no net. A part of a table would say something else than the whole.
func (r *reader) rows(total money.Decimal) []Row {
	var all []Row
	sum := money.Decimal(0)
	for _, l := range r.lines {
		text := l.text()
		if grossWords.MatchString(text) || netWords.MatchString(text) || totalWords.MatchString(text) || taxWords.MatchString(text) {
			continue
		}
		if row, ok := rowOf(l); ok && len(all) < mostRows {
			all, sum = append(all, row), sum+row.Net
		}
	}
	for _, net := range r.nets {
		if net == sum {
			return all
		}
	}
	if len(r.nets) == 0 && sum == total {
		return all
	}
	return nil
}

// rowOf reads a line as a row of goods: two figures that come to the last amount on it. Of several such pairs the one that
// stands next to the amount counts, as a number of the row may stand before.
func rowOf(l line) (Row, bool) {
	type at struct {
		place int
		value money.Decimal
		cents bool
	}
	var figures []at
	for i, w := range l {
		word := strings.Trim(w.Text, ",;:()×x*")
		if value, ok := figure(word); ok {
			_, cents := amount(word)
			figures = append(figures, at{i, value, cents})
		}
	}
	if len(figures) < 3 || !figures[len(figures)-1].cents {
		return Row{}, false
	}
	figures = figures[max(0, len(figures)-mostFigures):]
	net := figures[len(figures)-1]
	for second := len(figures) - 2; second > 0; second-- {
		for first := second - 1; first >= 0; first-- {
			quantity, price := figures[first], figures[second]
			if quantity.value <= 0 || price.value <= 0 || net.value <= 0 || !comesTo(quantity.value, price.value, net.value) {
				continue
			}
			if quantity.cents && !price.cents { // the price stands first
				quantity, price = price, quantity
			}
			row := Row{Quantity: quantity.value, Price: price.value, Net: net.value, At: l.box()}
			for _, w := range l[:figures[first].place] {
				if word := bare(w.Text); word != "" {
					row.Words = append(row.Words, word)
				}
			}
			return row, true
		}
	}
	return Row{}, false
}

// comesTo tells whether a quantity at a price comes to a net, to the cent.
func comesTo(quantity, price, net money.Decimal) bool {
	product, err := money.UnitPrice(0, price, money.Int(1), 0, 0, cents).Times(quantity, cents)
	return err == nil && product.Text(cents) == string(twoPlaces(net))
}

// cents is a currency whose amounts have two places, as those of papers do that are read.
const cents = money.Currency("EUR")
