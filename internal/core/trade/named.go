package trade

// This file is about lines that are matched by receipt: which delivery notes an invoice line names, and what earlier open
// invoices leave of the receipts (rules §6).

import (
	"slices"
	"strings"

	"lagoon/internal/core/money"
)

// Notes are the supplier's numbers of delivery notes, as they were typed or read. They are compared by NormalNumber.
type Notes []string

// ParseNotes reads notes with commas or semicolons between them; each counts once.
func ParseNotes(typed string) Notes {
	var notes Notes
	for _, note := range strings.FieldsFunc(typed, func(c rune) bool { return c == ',' || c == ';' || c == '\n' }) {
		if note = strings.TrimSpace(note); NormalNumber(note) != "" && !notes.Names(note) {
			notes = append(notes, note)
		}
	}
	return notes
}

// Names tells whether a note is among them.
func (n Notes) Names(note string) bool {
	key := NormalNumber(note)
	return slices.ContainsFunc(n, func(one string) bool { return NormalNumber(one) == key })
}

// meets tells whether two lines bill the same goods as far as their notes tell: one note at least is in both, or neither
// names any.
func (n Notes) meets(other Notes) bool {
	return (len(n) == 0 && len(other) == 0) || slices.ContainsFunc(n, other.Names)
}

// takes tells whether a receipt is one that they name; without any, each is.
func (n Notes) takes(r *Receipt) bool { return len(n) == 0 || n.Names(r.Note) }

// Reservation is what a line of an earlier open invoice bills of an order line, in its unit.
type Reservation struct {
	Notes    Notes
	Quantity money.Decimal
}

// Left is what is left of the receipts of a line.
type Left struct {
	line  *OrderLine
	open  map[*Receipt]money.Decimal
	short []Reservation // what found no receipt
}

// Left gives what earlier open invoices leave of the receipts: by receipt of those that they name, else of the oldest.
func (l *OrderLine) Left() *Left {
	left := &Left{line: l, open: make(map[*Receipt]money.Decimal, len(l.Receipts))}
	for _, r := range l.Receipts {
		left.open[r] = max(0, r.Open())
	}
	if l.Level == ThreeWay {
		left.Take(nil, l.Reserved)
	}
	for _, one := range l.Reservations {
		left.Take(one.Notes, one.Quantity)
	}
	return left
}

// TakenOf is a quantity of a receipt.
type TakenOf struct {
	Receipt  *Receipt
	Quantity money.Decimal
}

// Take bills a quantity of the receipts that are named, the oldest first, or of the oldest that are left.
func (f *Left) Take(notes Notes, quantity money.Decimal) []TakenOf {
	var all []TakenOf
	for _, r := range f.line.Receipts {
		if part := min(quantity, f.open[r]); part > 0 && notes.takes(r) {
			f.open[r] -= part
			quantity -= part
			all = append(all, TakenOf{r, part})
		}
	}
	if quantity > 0 {
		f.short = append(f.short, Reservation{notes, quantity})
	}
	return all
}

// Room is what may still be invoiced of the notes; below zero where earlier invoices bill more of them than there is.
func (f *Left) Room(notes Notes) money.Decimal {
	var room money.Decimal
	for r, open := range f.open {
		if notes.takes(r) {
			room += open
		}
	}
	for _, s := range f.short {
		if s.Notes.meets(notes) {
			room -= s.Quantity
		}
	}
	return room
}

// Short is what all of them bill beyond what there is.
func (f *Left) Short() money.Decimal {
	var sum money.Decimal
	for _, s := range f.short {
		sum += s.Quantity
	}
	return sum
}

// HeldOf is what is here of the notes, and ExcessiveOf what is invoiced of them past that already. Where none is named
// both are the line's.
func (l *OrderLine) HeldOf(notes Notes) money.Decimal {
	var held money.Decimal
	for _, r := range l.Receipts {
		if notes.takes(r) {
			held += r.Held()
		}
	}
	return held
}

// ExcessiveOf is what of the notes is invoiced past what they hold.
func (l *OrderLine) ExcessiveOf(notes Notes) money.Decimal {
	if len(notes) == 0 {
		return l.Excessive()
	}
	var sum money.Decimal
	for _, parts := range []Parts{l.Awaited, l.Beyond, l.Variance} {
		for _, p := range parts {
			if l.Named[p.InvoiceLine].meets(notes) {
				sum += p.Quantity
			}
		}
	}
	for _, r := range l.Receipts {
		if notes.takes(r) {
			sum += max(0, -r.Open())
		}
	}
	return sum
}

// MayFill tells whether goods of a receipt may fill what a line of an invoice billed beyond receipts: where it names a
// note that is not here yet, only those of a note that it names.
func (l *OrderLine) MayFill(r *Receipt, invoiceLine int64) bool {
	named := l.Named[invoiceLine]
	return named.takes(r) || !slices.ContainsFunc(named, func(note string) bool { return !l.has(note) })
}

// has tells whether goods under a delivery note are here.
func (l *OrderLine) has(note string) bool {
	return slices.ContainsFunc(l.Receipts, func(r *Receipt) bool {
		return r.Quantity > r.Reversed && NormalNumber(r.Note) == NormalNumber(note)
	})
}
