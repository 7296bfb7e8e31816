// Package book decides what a job does to orders and books: receipts, allocations, closings,
// the state of the order lines and the ledger entry, together. The store writes it as it is;
// nothing else moves a quantity (rules §4, §6, §11).
package book

import (
	"slices"

	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
)

// Booking is what one job does. The lines that it names say already what it comes to.
type Booking struct {
	Receipts    []Receipt
	Allocations []Allocation
	Closes      []Close
	Claims      []Claim
	Deferrals   []Deferral
	Ahead       []Ahead
	Lines       []*trade.OrderLine // that it touches, each once
	Entry       ledger.Entry
}

// Receipt is a new receipt line with what was counted; nothing but what was refused at the
// door where its quantity is zero.
type Receipt struct {
	receive.Receipt
	Booked *trade.Receipt
}

// Allocation is a new row of an order line.
type Allocation struct {
	Line *trade.OrderLine
	trade.Allocation
}

// Close closes an order line to goods or invoices (1), or opens it (−1).
type Close struct {
	Line            *trade.OrderLine
	Goods, Invoices int
}

// Ahead is a part of money ahead that is used, credited or put back. Payables is what it settles of its invoice in the
// company's currency; of a credit note nothing.
type Ahead struct {
	Of       *trade.Prepayment
	Use      int64 // row key; 0: a credit note takes it
	Payables money.Amount
	trade.AheadPart
}

// back is the same put back.
func (a Ahead) back() Ahead {
	a.Payables, a.AheadPart = -a.Payables, a.Negative()
	return a
}

// Claim is a change of a claim's line.
type Claim struct {
	Line *trade.ClaimLine
	trade.ClaimChange
}

// booker makes the booking of one job.
type booker struct {
	Booking
	company money.Currency
}

func begin(document, company money.Currency) *booker {
	return &booker{Booking{Entry: ledger.Entry{Currency: document}}, company}
}

func (b *booker) touch(line *trade.OrderLine) {
	if !slices.Contains(b.Lines, line) {
		b.Lines = append(b.Lines, line)
	}
}

// take counts an allocation and keeps its row.
func (b *booker) take(line *trade.OrderLine, a trade.Allocation) {
	line.Take(a)
	line.LevelFixed = true
	b.Allocations = append(b.Allocations, Allocation{line, a})
	b.touch(line)
}

// bill allocates a part of an invoice line, to a receipt or to none.
func (b *booker) bill(
	line *trade.OrderLine,
	kind trade.AllocationKind,
	receipt *trade.Receipt,
	of trade.Part,
	relief trade.Relief,
) {
	b.take(
		line,
		trade.Allocation{
			Kind:        kind,
			Receipt:     receipt,
			InvoiceLine: of.InvoiceLine,
			Invoice:     of.Invoice,
			Rate:        of.Rate,
			Relief:      relief,
		},
	)
}

// move takes a part of an invoice line from where it stands to elsewhere, at the same value.
func (b *booker) move(line *trade.OrderLine, part trade.Part, from, to trade.AllocationKind) {
	b.bill(line, from, nil, part, part.Negative())
	b.bill(line, to, nil, part, part.Relief)
}

// opened is how much of a receipt has become open: it came, or was put back.
type opened struct {
	receipt  *trade.Receipt
	quantity money.Decimal
}

// fill sets what is billed and not here yet against receipts that have just become open: goods
// that are to be replaced first, then what is billed beyond receipts, each oldest first
// (rules §4, §6). What was billed by receipt of a note that is not here yet waits for that.
func (b *booker) fill(order *trade.Order, line *trade.OrderLine, open []opened) error {
	if !line.Level.Receives() {
		return nil
	}
	waiting := func(kind trade.AllocationKind) trade.Parts {
		switch {
		case kind == trade.AllocatedAwaited:
			return slices.Clone(line.Awaited)
		case kind == trade.AllocatedBilled:
			return slices.Clone(line.Beyond)
		case line.ClosedGoods:
			return nil // nothing more is to come
		}
		return slices.Clone(line.Variance)
	}
	for _, o := range open {
		left := min(o.quantity, o.receipt.Open())
		for _, kind := range []trade.AllocationKind{trade.AllocatedAwaited, trade.AllocatedBilled, trade.AllocatedVariance} {
			for _, part := range waiting(kind) {
				quantity := min(left, part.Quantity)
				if quantity <= 0 {
					break
				}
				if kind != trade.AllocatedAwaited && !line.MayFill(o.receipt, part.InvoiceLine) {
					continue
				}
				from := kind
				if kind == trade.AllocatedVariance { // a claim that was given up: its goods came after all
					if err := b.restore(order, line, &part, quantity); err != nil {
						return err
					}
					from = trade.AllocatedBilled
				}
				if err := b.fillOne(order, line, o.receipt, from, part, quantity); err != nil {
					return err
				}
				left -= quantity
			}
		}
	}
	return nil
}

// restore moves a quantity of a part from price variance to beyond receipts.
func (b *booker) restore(order *trade.Order, line *trade.OrderLine, part *trade.Part, quantity money.Decimal) error {
	share, err := part.Share(quantity)
	if err != nil {
		return err
	}
	part.Relief = share
	b.move(line, *part, trade.AllocatedVariance, trade.AllocatedBilled)
	back := *part
	back.Relief = share.Negative()
	posting.ToVariance(&b.Entry, order, line, back)
	return nil
}

func (b *booker) fillOne(
	order *trade.Order,
	line *trade.OrderLine,
	receipt *trade.Receipt,
	kind trade.AllocationKind,
	part trade.Part,
	quantity money.Decimal,
) error {
	share, err := part.Share(quantity)
	if err != nil {
		return err
	}
	taken, err := receipt.Next(quantity)
	if err != nil {
		return err
	}
	part.Relief = share
	b.bill(line, kind, nil, part, share.Negative())
	b.bill(line, trade.AllocatedBilled, receipt, part, taken)
	return posting.Filled(&b.Entry, order, line, part, taken, b.company)
}

// settle sees to it that a receipt of which nothing is open any more has left whole: what was put
// back exactly may leave a minor unit between what its parts took and what it came with. The
// goods are worth that much less or more (rules §11: the last part leaves exactly zero).
func (b *booker) settle(order *trade.Order, line *trade.OrderLine) error {
	for _, r := range line.Receipts {
		if r.Quantity == 0 || r.Open() != 0 {
			continue
		}
		rest, err := r.Next(0)
		if err != nil {
			return err
		}
		if rest != (trade.Relief{}) {
			b.take(line, trade.Allocation{Kind: trade.AllocatedReversed, Receipt: r, Relief: rest})
			posting.TakenBack(&b.Entry, order, line, rest)
		}
	}
	return nil
}

// close closes a line. What is billed beyond receipts when no more goods are to come is taken
// to price variance (rules §6).
func (b *booker) close(order *trade.Order, line *trade.OrderLine, goods, invoices bool) {
	row := Close{Line: line}
	if goods {
		row.Goods = 1
		for _, part := range slices.Clone(line.Beyond) {
			b.move(line, part, trade.AllocatedBilled, trade.AllocatedVariance)
			posting.ToVariance(&b.Entry, order, line, part)
		}
	}
	if invoices {
		row.Invoices = 1
	}
	line.ClosedGoods, line.ClosedInvoices = line.ClosedGoods || goods, line.ClosedInvoices || invoices
	b.Closes = append(b.Closes, row)
	b.touch(line)
}

// here is what has come of a line and is claimed by nobody.
func here(line *trade.OrderLine) []opened {
	room := max(0, line.Room())
	var all []opened
	for _, r := range line.Receipts {
		if quantity := min(room, r.Open()); quantity > 0 {
			all = append(all, opened{r, quantity})
			room -= quantity
		}
	}
	return all
}

// open undoes a closing. What was taken to variance stands beyond receipts again, and what is
// here and claimed by nobody fills it.
func (b *booker) open(order *trade.Order, line *trade.OrderLine, goods, invoices bool) error {
	row := Close{Line: line}
	if invoices {
		row.Invoices = -1
	}
	line.ClosedGoods, line.ClosedInvoices = line.ClosedGoods && !goods, line.ClosedInvoices && !invoices
	var err error
	if goods {
		row.Goods = -1
		for _, part := range slices.Clone(line.Variance) {
			b.move(line, part, trade.AllocatedVariance, trade.AllocatedBilled)
			part.Relief = part.Negative()
			posting.ToVariance(&b.Entry, order, line, part)
		}
		err = b.fill(order, line, here(line))
	}
	b.Closes = append(b.Closes, row)
	b.touch(line)
	return err
}
