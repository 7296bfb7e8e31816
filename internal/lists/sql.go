package lists

// This file holds what the questions of several lists are made of.

import (
	"fmt"
	"strings"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var (
	isUnsettled = in(trade.UnsettledStates[:])
	isBooked    = in(trade.BookedStates[:])
	isOwed      = in(trade.OwedStates[:])
	isOpen      = in(append(trade.OwedStates[:], trade.UnsettledStates[:]...)) // in the books and not settled, or not verified
)

// in is a set of words as the right side of IN.
func in[S ~string](words []S) string {
	quoted := make([]string, len(words))
	for i, w := range words {
		quoted[i] = "'" + string(w) + "'"
	}
	return "(" + strings.Join(quoted, ", ") + ")"
}

// exact is an amount in minor units of a currency as millionths, so that it compares with what was typed.
func exact(amount, currency string) string {
	by := "CASE"
	for _, places := range []int{0, 3, 4} {
		by += fmt.Sprintf(" WHEN %s IN %s THEN %d", currency, in(money.WithPlaces(places)), millionths(places))
	}
	return fmt.Sprintf("(%s) * %s ELSE %d END", amount, by, millionths(2))
}

func millionths(places int) int64 {
	n := int64(1)
	for range 6 - places {
		n *= 10
	}
	return n
}

// Words that several lists have.
func supplierIs(column string) Word {
	return Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: column + " = :v"}
}

// Groups of suppliers and of items: how a list is narrowed by them, and summed.
func supplierGroupIs(supplier string) Word {
	return Word{Key: "suppliers", Text: "supplier group", Takes: ASupplierGroup, Scans: true, SQL: "+" + supplier +
		" IN (SELECT m.supplier FROM supplier_group sg JOIN supplier_member m ON m.supplier_group = sg.id WHERE sg.name = :v)"}
}

func supplierGroup(supplier string) Column {
	return Column{Key: "suppliers", Title: "Supplier group", Kind: Text, Aside: true, Groups: true,
		SQL: "coalesce((SELECT sg.name FROM supplier_member m JOIN supplier_group sg ON sg.id = m.supplier_group WHERE m.supplier = " + supplier + "), '')"}
}

func itemGroupIs(item string) Word {
	return Word{Key: "items", Text: "item group", Takes: AnItemGroup, Scans: true,
		SQL: "+" + item + " IN (SELECT im.item FROM item_member im WHERE im.name = :v)"}
}

func itemGroup(item string) Column {
	return Column{Key: "items", Title: "Item group", Kind: Text, Aside: true, Groups: true,
		SQL: "coalesce((SELECT im.name FROM item_member im WHERE im.item = " + item + "), '')"}
}

func orderIs(column string) Word {
	return Word{Key: "order", Text: "order", Takes: AnOrder, SQL: column + " = :v"}
}

func overAndUnder(amount, currency string) []Word {
	return []Word{
		{Key: "over", Text: "over", Takes: AnAmount, SQL: exact(amount, currency) + " > :v", Scans: true},
		{Key: "under", Text: "under", Takes: AnAmount, SQL: exact(amount, currency) + " < :v", Scans: true},
	}
}

func sinceAndUntil(column string) []Word {
	return []Word{
		{Key: "since", Text: "since", Takes: ADay, SQL: column + " >= :v", Scans: true},
		{Key: "until", Text: "until", Takes: ADay, SQL: column + " <= :v", Scans: true},
	}
}

func words(parts ...any) (all []Word) {
	for _, p := range parts {
		switch p := p.(type) {
		case Word:
			all = append(all, p)
		case []Word:
			all = append(all, p...)
		}
	}
	return all
}
