package lists

// This file holds what the questions of several lists are made of.

import (
	"slices"
	"strings"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

var (
	isUnsettled = in(trade.UnsettledStates[:])
	isBooked    = in(trade.BookedStates[:])
	isOwed      = in(trade.OwedStates[:])
	isAny       = in(slices.Concat(trade.UnsettledStates[:], trade.BookedStates[:], trade.EndedStates[:]))
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

// by is how an index finds rows: what In, a column of the list, holds is ID in From, where Column is what is compared.
type by struct{ In, ID, From, Column string }

// of finds the rows of which the column compares so with what was typed.
func (b by) of(compared string) string {
	return "SELECT " + b.ID + " FROM " + b.From + " WHERE " + b.Column + " " + compared
}

// found is the word with the rows that an index finds for it.
func (w Word) found(in, of string) Word {
	w.In, w.Of = in, of
	return w
}

// called is the word by another name.
func (w Word) called(key, text string) Word {
	w.Key, w.Text = key, text
	return w
}

// Words that several lists have.
func supplierIs(column string) Word {
	return Word{Key: "supplier", Text: "supplier", Takes: ASupplier, SQL: column + " = :v"}
}

// Groups of suppliers and of items: how a list is narrowed by them, and summed.
func supplierGroupIs(supplier string) Word {
	return Word{Key: "suppliers", Text: "supplier group", Takes: ASupplierGroup, SQL: "+" + supplier +
		" IN (SELECT m.supplier FROM supplier_group sg JOIN supplier_member m ON m.supplier_group = sg.id WHERE sg.name = :v)"}
}

// ofGroup finds rows of the suppliers m of a group.
func ofGroup(id, from string) string {
	return "SELECT " + id + " FROM supplier_group sg CROSS JOIN supplier_member m ON m.supplier_group = sg.id CROSS JOIN " + from + " WHERE sg.name = :v"
}

func supplierGroup(supplier string) Column {
	return Column{Key: "suppliers", Title: "Supplier group", Kind: Text, Aside: true, Groups: true,
		SQL: "coalesce((SELECT sg.name FROM supplier_member m JOIN supplier_group sg ON sg.id = m.supplier_group WHERE m.supplier = " + supplier + "), '')"}
}

func itemGroupIs(item string) Word {
	return Word{Key: "items", Text: "item group", Takes: AnItemGroup, SQL: "+" + item + " IN (SELECT im.item FROM item_member im WHERE im.name = :v)"}
}

// ofItems finds rows of the items im of a group.
func ofItems(id, from string) string {
	return "SELECT " + id + " FROM item_member im CROSS JOIN " + from + " WHERE im.name = :v"
}

func itemGroup(item string) Column {
	return Column{Key: "items", Title: "Item group", Kind: Text, Aside: true, Groups: true,
		SQL: "coalesce((SELECT im.name FROM item_member im WHERE im.item = " + item + "), '')"}
}

func orderIs(column string) Word {
	return Word{Key: "order", Text: "order", Takes: AnOrder, SQL: column + " = :v"}
}

func over(amount, currency string) Word {
	return Word{Key: "over", Text: "over", Takes: AnAmount, SQL: store.Exact(amount, currency) + " > :v"}
}

func under(amount, currency string) Word {
	return Word{Key: "under", Text: "under", Takes: AnAmount, SQL: store.Exact(amount, currency) + " < :v"}
}

func since(column string, b by) Word {
	return Word{Key: "since", Text: "since", Takes: ADay, SQL: column + " >= :v", In: b.In, Of: b.of(">= :v")}
}

// until is a word of a list whose own order is that of what it is found by, the newest first: it begins with the last one of
// those days, and looks through none that came later.
func until(column string, b by) Word {
	last := "(SELECT max(" + b.ID + ") FROM " + b.From + " WHERE " + b.Column + " <= :v)"
	return Word{Key: "until", Text: "until", Takes: ADay, SQL: column + " <= :v AND " + b.In + " <= " + last, In: b.In, Of: b.of("<= :v")}
}

func sinceAndUntil(column string, b by) []Word { return []Word{since(column, b), until(column, b)} }

// overAndUnder are words of a list of which amounts in minor units are found by, whatever they count in: of all currencies that do
// not count in hundredths there may be more, and those are odd.
func overAndUnder(amount, currency string, b by, odd string) []Word {
	return []Word{
		over(amount, currency).found(b.In, b.of(">= :v / 10000")+" UNION ALL "+odd),
		under(amount, currency).found(b.In, b.of("<= :v / 10000")+" UNION ALL "+odd),
	}
}

// oddCurrencies are those that do not count in hundredths.
var oddCurrencies = in(slices.Concat(money.WithPlaces(0), money.WithPlaces(3), money.WithPlaces(4)))

// scanned are words of a list that is worked out whole, or is short.
func scanned(words ...Word) []Word {
	for i := range words {
		words[i].Scans = true
	}
	return words
}

func days(column string) []Word {
	return scanned(
		Word{Key: "since", Text: "since", Takes: ADay, SQL: column + " >= :v"}, Word{Key: "until", Text: "until", Takes: ADay, SQL: column + " <= :v"},
	)
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
