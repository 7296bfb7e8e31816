package prove

// This file proves goods received, not invoiced by replaying what the documents say: the
// quantities of every order line in the order in which they were booked, the order's price of
// that time and the rates, with arithmetic of its own. What was stored of values is not asked.

import (
	"encoding/json"
	"fmt"
	"math/big"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// worth is a value in the order's currency and the company's.
type worth struct{ value, base int64 }

func (w worth) less(v worth) worth { return worth{w.value - v.value, w.base - v.base} }

// stock is a quantity with what it is worth.
type stock struct {
	quantity int64
	worth
}

// take gives the worth of a part and leaves the rest.
func (s *stock) take(quantity int64) worth {
	if s.quantity == 0 {
		return worth{}
	}
	part := worth{rounded(s.value, quantity, s.quantity), rounded(s.base, quantity, s.quantity)}
	s.quantity, s.worth = s.quantity-quantity, s.less(part)
	return part
}

func (s *stock) put(quantity int64, w worth) {
	s.quantity, s.value, s.base = s.quantity+quantity, s.value+w.value, s.base+w.base
}

// rounded is a × b ÷ c, half away from zero.
func rounded(a, b, c int64) int64 { return half(new(big.Rat).SetFrac(product(a, b), big.NewInt(c))) }

func product(a, b int64) *big.Int { return new(big.Int).Mul(big.NewInt(a), big.NewInt(b)) }

func half(r *big.Rat) int64 {
	twice := new(big.Int).Mul(r.Num(), big.NewInt(2))
	twice.Add(twice, new(big.Int).Mul(r.Denom(), big.NewInt(int64(r.Sign()))))
	return twice.Quo(twice, new(big.Int).Mul(r.Denom(), big.NewInt(2))).Int64()
}

// held is a receipt line as it is replayed: what it came with, and what has left it.
type held struct {
	came  stock
	taken stock
}

// next is the worth of the next quantity that leaves: the share of all that has left, less
// what left before.
func (h *held) next(quantity int64) worth {
	sofar := h.taken.quantity + quantity
	w := worth{
		rounded(h.came.value, sofar, h.came.quantity),
		rounded(h.came.base, sofar, h.came.quantity),
	}.less(
		h.taken.worth,
	)
	h.taken.put(quantity, w)
	return w
}

func (h *held) back(quantity int64, w worth) { h.taken.put(-quantity, worth{-w.value, -w.base}) }

// at names a part of an invoice line: of a receipt, or of none by kind.
type at struct {
	kind                 trade.AllocationKind
	receipt, invoiceLine int64
}

// by names what a document did.
type by struct {
	document int64
	at
}

// replay is one order line.
type replay struct {
	line     store.ReplayLine
	versions map[int]*trade.OrderLine
	company  money.Currency
	against  map[int64]store.Against

	receipts map[int64]*held
	here     int64 // received, and gone back for credit
	parts    map[at]*stock
	did      map[by]*stock
	last     store.ReplayRow
	moved    worth
}

// grni replays every order line that is matched with its receipts and compares what stands in
// GRNI for it.
func (v *verification) grni() error {
	booked, err := v.BookedGRNI()
	if err != nil {
		return err
	}
	against, err := v.AgainstAll()
	if err != nil {
		return err
	}
	var computed []store.Sum
	for after := int64(0); ; {
		lines, err := v.ReplayLines(after)
		if err != nil || len(lines) == 0 {
			v.compare("GRNI", booked, computed)
			return err
		}
		for _, line := range lines {
			after = line.ID
			v.check("order line "+line.Name, func() error {
				stands, err := v.replayed(line, against)
				if line.Receives {
					computed = append(computed, store.Sum{Name: line.Name, Amount: money.Amount(stands)})
				}
				return err
			})
		}
	}
}

// replayed is what stands in GRNI for a line, debits above zero, in the company's currency.
func (v *verification) replayed(line store.ReplayLine, against map[int64]store.Against) (int64, error) {
	rows, err := v.ReplayRows(line.ID)
	if err != nil {
		return 0, err
	}
	r := replay{
		line:     line,
		versions: map[int]*trade.OrderLine{},
		company:  v.Ours.Currency,
		against:  against,
		receipts: map[int64]*held{},
		parts:    map[at]*stock{},
		did:      map[by]*stock{},
	}
	for _, row := range rows {
		if _, known := r.versions[row.Revision]; !known {
			version, err := v.OrderVersion(line.Order, row.Revision)
			if err != nil {
				return 0, fmt.Errorf("version %d of its order cannot be read: %w", row.Revision, err)
			}
			var order trade.Order
			if err := json.Unmarshal(version.Body, &order); err != nil {
				return 0, err
			}
			r.versions[row.Revision] = order.Line(line.No)
		}
		if r.versions[row.Revision] == nil {
			return 0, fmt.Errorf("version %d of its order does not have it", row.Revision)
		}
		if row.Kind != "" && row.Receipt != 0 && r.receipts[row.Receipt] == nil {
			return 0, fmt.Errorf(
				"the allocation %s of %s names receipt line %d, which had not come on it",
				row.Kind,
				v.against.Printer.Quantity(row.Quantity),
				row.Receipt,
			)
		}
		r.step(row)
		r.last = row
	}
	var stands int64
	for _, h := range r.receipts {
		stands -= h.came.base - h.taken.base
	}
	for where, part := range r.parts {
		if where.receipt == 0 && where.kind != trade.AllocatedVariance {
			stands += part.base
		}
	}
	return stands, nil
}

func (r *replay) part(kind trade.AllocationKind, receipt, invoiceLine int64) *stock {
	where := at{kind, receipt, invoiceLine}
	if r.parts[where] == nil {
		r.parts[where] = &stock{}
	}
	return r.parts[where]
}

// step replays one row: a receipt, or a quantity allocated of one or of none.
func (r *replay) step(row store.ReplayRow) {
	quantity := int64(row.Quantity)
	switch row.Kind {
	case "":
		r.arrive(row, quantity)
	case trade.AllocatedBilled, trade.AllocatedAwaited, trade.AllocatedVariance:
		r.bill(row, quantity)
	default:
		r.leave(row, quantity)
	}
}

// arrive values a receipt: its share of the line's net by what had come before, at its rate.
func (r *replay) arrive(row store.ReplayRow, quantity int64) {
	line := r.versions[row.Revision]
	value := rounded(
		int64(line.Net),
		r.here+quantity,
		int64(line.Quantity),
	) - rounded(
		int64(line.Net),
		r.here,
		int64(line.Quantity),
	)
	r.here += quantity
	r.receipts[row.Receipt] = &held{came: stock{quantity, worth{value, r.inCompany(value, row.Rate)}}}
}

func (r *replay) inCompany(value int64, rate money.Decimal) int64 {
	scale := func(c money.Currency) *big.Int {
		return new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(c.Places())), nil)
	}
	return half(
		new(
			big.Rat,
		).SetFrac(new(big.Int).Mul(product(value, int64(rate)), scale(r.company)), new(big.Int).Mul(big.NewInt(1_000_000), scale(r.line.Currency))),
	)
}

// leave replays what is reversed, goes back or is free, and the undoing of each.
func (r *replay) leave(row store.ReplayRow, quantity int64) {
	receipt, where := r.receipts[row.Receipt], at{row.Kind, row.Receipt, 0}
	if row.Kind == trade.AllocatedReversed || row.Kind == trade.AllocatedReturned {
		r.here -= quantity
	}
	if quantity < 0 {
		if done := r.did[by{r.against[row.Document].Against, where}]; done != nil {
			receipt.back(done.quantity, done.worth)
		}
		return
	}
	r.did[by{row.Document, where}] = &stock{quantity, receipt.next(quantity)}
}

// bill replays what is billed of a receipt or of none, and what moves between them: a part that
// moves keeps what it is worth; one that fills a receipt is worth what leaves that.
func (r *replay) bill(row store.ReplayRow, quantity int64) {
	part := r.part(row.Kind, row.Receipt, row.InvoiceLine)
	switch {
	case row.CreditLine != 0, row.Claim && quantity < 0:
		r.credit(row, quantity, part)
		return
	case row.Claim && r.line.Receives: // given up: it stands at what was claimed
		part.put(quantity, worth{int64(row.ClaimNet), int64(row.ClaimBase)})
		return
	}
	if quantity < 0 {
		r.moved = part.take(-quantity)
		if row.Receipt != 0 {
			r.receipts[row.Receipt].back(-quantity, r.moved)
			r.did[by{row.Document, at{row.Kind, row.Receipt, row.InvoiceLine}}] = &stock{-quantity, r.moved}
		}
		return
	}
	moves := r.last.InvoiceLine == row.InvoiceLine && r.last.Quantity == -row.Quantity && r.last.InvoiceLine != 0
	if row.Receipt == 0 {
		if !moves {
			r.moved = r.atOrderPrice(row, quantity)
		}
		part.put(quantity, r.moved)
		return
	}
	undone := r.against[row.Document]
	if back := r.did[by{undone.Against, at{row.Kind, row.Receipt, row.InvoiceLine}}]; undone.OfReturn && back != nil &&
		moves &&
		back.quantity >= quantity {
		w := back.take(quantity)
		r.receipts[row.Receipt].taken.put(quantity, w)
		part.put(quantity, w)
		return
	}
	part.put(quantity, r.receipts[row.Receipt].next(quantity))
}

// credit replays what a credit note, or a claim, takes back: of a receipt by its running sum, else its share of what stands there.
// Where the note is made void, just that is put back.
func (r *replay) credit(row store.ReplayRow, quantity int64, part *stock) {
	taken := by{-row.CreditLine, at{row.Kind, row.Receipt, row.InvoiceLine}}
	if quantity > 0 {
		back := r.did[taken]
		if back == nil {
			return
		}
		part.put(back.quantity, back.worth)
		if row.Receipt != 0 {
			r.receipts[row.Receipt].taken.put(back.quantity, back.worth)
		}
		return
	}
	var w worth
	if row.Receipt != 0 {
		w = worth{}.less(r.receipts[row.Receipt].next(quantity))
		part.put(quantity, worth{}.less(w))
	} else {
		w = part.take(-quantity)
	}
	r.did[taken] = &stock{-quantity, w}
}

// atOrderPrice is what a quantity is worth beyond receipts: at the order's price of that time,
// at the invoice's rate; nothing on a line that is matched with the order alone.
func (r *replay) atOrderPrice(row store.ReplayRow, quantity int64) worth {
	if !r.line.Receives {
		return worth{}
	}
	line := r.versions[row.Revision]
	places := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(r.line.Currency.Places())), nil)
	price := new(big.Rat).SetFrac(product(int64(line.Quantity), int64(line.Price)), big.NewInt(int64(line.Base)))
	price.Mul(price, new(big.Rat).SetFrac(places, big.NewInt(1_000_000)))
	price.Add(price, new(big.Rat).SetInt64(int64(line.Charge-line.Discount)))
	price.Mul(price, big.NewRat(quantity, int64(line.Quantity)))
	value := half(price)
	return worth{value, r.inCompany(value, row.Rate)}
}
