// Package lists is what can be looked up: lists that are narrowed by words, sorted, grouped, summed and taken along. A
// list is one value of type List; what is done with it is the same for all. Sums are exact, each currency by itself.
package lists

import (
	"lagoon/internal/core/money"
)

// Kind is what the cells of a column are.
type Kind string

// Kinds of columns.
const (
	Text     Kind = "text"
	Number   Kind = "number" // of a document: letters and figures that must not be confused
	Day      Kind = "day"
	Money    Kind = "money"    // in the currency of its row
	Base     Kind = "base"     // in the company's currency
	Quantity Kind = "quantity" // of the row's unit; never summed
	Price    Kind = "price"    // of a unit of a currency; never summed
	Percent  Kind = "percent"
	Count    Kind = "count"
	Days     Kind = "days"    // how many; never summed
	Running  Kind = "running" // a sum so far, in the company's currency
	Flag     Kind = "flag"    // a word that stands out
)

// summed tells kinds whose rows add up; figures those that are numbers.
func (k Kind) summed() bool { return k == Money || k == Base || k == Count }

func (k Kind) figures() bool {
	return k.summed() || k == Quantity || k == Price || k == Percent || k == Days || k == Running
}

// Column is one of a list.
type Column struct {
	Key, Title string
	Kind       Kind
	// SQL gives its cell: text, a civil day, minor units of money, millionths of quantities, prices and percentages. Where
	// it is empty the list works the cell out of what Raw gives.
	SQL string
	// Link is what a cell leads to: order, invoice, alike (it beside those like it), delivery, supplier, item, entry, run, mail. By is the SQL of its number
	// or code where that is another than the cell.
	Link, By string
	// Aside columns stand in the list only where somebody chooses them.
	Aside bool
	// AtADay columns stand in the list by themselves only where it is of another day.
	AtADay bool
	// Groups tells that rows can be put together by it.
	Groups bool
	// Sums is what a running balance adds up.
	Sums string
	// Says is how a cell reads that is kept as another word.
	Says func(string) string
}

// Takes is what follows a word.
type Takes string

// What may follow a word.
const (
	Nothing        Takes = "nothing"
	ASupplier      Takes = "supplier"
	AnItem         Takes = "item"
	APerson        Takes = "person"
	AnAmount       Takes = "amount"
	ADay           Takes = "day"
	AChoice        Takes = "choice"
	SomeText       Takes = "text"
	AnOrder        Takes = "order"
	ABudget        Takes = "budget"
	ASupplierGroup Takes = "supplierGroup"
	AnItemGroup    Takes = "itemGroup"
	ADayOrNone     Takes = "asOf" // it is set by the word, and today without it
)

// Choice is one of those that may follow a word.
type Choice struct{ Value, Text string }

// Word narrows a list. SQL is its condition, with :v for what follows it; a word of the same key twice means either. A
// word that takes ADayOrNone narrows nothing: it is the day :at of the list.
type Word struct {
	Key, Text string
	Takes     Takes
	Choices   []Choice
	SQL       string
	// Of is a SELECT by which indexes find at least the rows that the word means: what their In holds. Where they are few the
	// list is read from them, else from its own first row on until a page is full.
	In, Of string
	// Scans tells a word that may look through all rows: with a million of documents it may take seconds.
	Scans bool
	// Begins tells a word that leaves out what is before: a running balance begins with what that comes to.
	Begins bool
}

// List is something that can be looked up.
type List struct {
	Key, Title string
	// Says is what its figures are, in a sentence.
	Says    string
	From    string // FROM, joins and what always holds, ending in a condition that AND can follow
	Order   string // its own order
	Columns []Column
	Words   []Word
	// Currency is the SQL of a row's currency; empty: the company's.
	Currency string
	// ID is the SQL of what tells its rows apart, where they are those of a table: a page is chosen by it first, so that what
	// is worked out of a row is so for those that are shown alone.
	ID string
	// Raw is SQL whose text Work makes cells of, by column.
	Raw  string
	Work func(raw string, currency money.Currency) (map[string]int64, error)
	// Report tells a list that is worked out of everything before its first row is known: it may take a minute.
	Report bool
	// First are the words that it is shown with where nobody says otherwise.
	First string
}

// All are the lists, in the order in which they are offered, by what they are about.
var All = []struct {
	Title string
	Lists []*List
}{
	{"Goods", []*List{&orders, &orderLines, &deliveries, &grni, &beyond, &waiting}},
	{"Money", []*List{&invoices, &owed, &payments, &prices, &sameNumbers}},
	{"Suppliers and limits", []*List{&suppliers, &limitsUsed}},
	{"Books", []*List{&accounts, &card, &journal, &tax, &budgets}},
}

// Named finds a list by its key, or gives nil.
func Named(key string) *List {
	for _, part := range All {
		for _, l := range part.Lists {
			if l.Key == key {
				return l
			}
		}
	}
	return nil
}

func (l *List) column(key string) *Column {
	for i := range l.Columns {
		if l.Columns[i].Key == key {
			return &l.Columns[i]
		}
	}
	return nil
}

func (l *List) word(key string) *Word {
	for i := range l.Words {
		if l.Words[i].Key == key {
			return &l.Words[i]
		}
	}
	return nil
}
