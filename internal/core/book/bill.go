package book

// This file books an invoice that may be booked as it is, and makes one void.

import (
	"fmt"
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
)

// Invoice books a matched invoice, or what follows one: what each line takes of receipts at their
// value, beyond them at the order's price or, where no more goods are to come, to price variance;
// what it asks above and below the order's prices; and its entry.
func Invoice(facts match.Facts, result match.Result) (Booking, error) {
	inv := facts.Invoice
	if inv.Follows() {
		return credit(facts, result)
	}
	b := begin(inv.Currency, facts.Company)
	if inv.Requested() { // nothing is owed for it; its payment is booked
		return b.Booking, nil
	}
	back := crediting{booker: b, facts: facts} // first, so that it takes nothing of what this invoice bills
	for _, one := range result.Credits {
		if err := back.take(one); err != nil {
			return b.Booking, err
		}
	}
	allocated := make([]posting.Allocated, len(result.Allocations))
	for i, a := range result.Allocations {
		one := posting.Allocated{Allocation: a, Kind: trade.AllocatedBilled, Relief: trade.Relief{Quantity: a.Quantity}}
		var err error
		switch {
		case a.Receipt != nil:
			one.Relief, err = a.Receipt.Next(a.Quantity)
		case a.OrderLine.Level.Receives():
			if a.OrderLine.ClosedGoods {
				one.Kind = trade.AllocatedVariance
			}
			if one.Value, err = a.OrderLine.UnitPrice(a.Order.Currency).Times(a.Quantity, a.Order.Currency); err == nil {
				one.Base, err = one.Value.Convert(inv.Rate, a.Order.Currency, facts.Company)
			}
		}
		if err != nil {
			return b.Booking, err
		}
		b.bill(
			a.OrderLine,
			one.Kind,
			a.Receipt,
			trade.Part{InvoiceLine: inv.Lines[a.Line].ID, Invoice: inv.ID, Rate: inv.Rate},
			one.Relief,
		)
		allocated[i] = one
	}
	if err := b.price(inv, facts.Orders, result.Findings, 1); err != nil {
		return b.Booking, err
	}
	claimed, err := b.claim(facts)
	if err != nil {
		return b.Booking, err
	}
	deferred, err := b.spread(facts, result, allocated, claimed)
	if err != nil {
		return b.Booking, err
	}
	payables, err := inv.Owed().Convert(inv.Rate, inv.Currency, facts.Company)
	if err != nil {
		return b.Booking, err
	}
	owes := Owes{Invoice: inv, Base: payables, Open: inv.Owed()}
	for _, c := range facts.Claims {
		owes.Open -= c.Net + c.Tax
	}
	used, err := b.use(&owes, slices.Clone(facts.Ahead))
	if err != nil {
		return b.Booking, err
	}
	b.Entry, err = posting.Invoice(posting.Bill{
		Used:      used,
		Deferred:  deferred,
		Invoice:   inv,
		Supplier:  facts.Supplier.Code,
		Totals:    result.Totals,
		Orders:    facts.Orders,
		Allocated: append(back.allocated, allocated...),
		Claimed:   claimed,
		Rate:      inv.Rate,
		Kinds:     facts.Charges,
	}, facts.Company)
	if inv.Final && err == nil {
		b.closeRest(facts.Orders)
	}
	return b.Booking, err
}

// closeRest closes what is left of orders of which nothing more is invoiced. What is received and not invoiced stays open
// to invoices until a person takes it as free of charge; a line of which more is invoiced than is here waits for its goods.
func (b *booker) closeRest(orders []*trade.Order) {
	for _, order := range orders {
		for _, line := range order.Lines {
			if line.Debit() || (line.ClosedGoods && line.ClosedInvoices) {
				continue
			}
			invoices := trade.CheckClose(line, true, true) == nil
			if goods := !line.ClosedGoods; goods || invoices {
				b.close(order, line, goods, invoices && !line.ClosedInvoices)
			}
		}
	}
}

// price moves what order lines keep of price differences by those of an invoice: sign 1 when
// it is booked, −1 when it is made void.
func (b *booker) price(inv trade.Invoice, orders []*trade.Order, findings []finding.Finding, sign money.Amount) error {
	asked, err := match.PriceDifferences(inv, findings)
	for id, sums := range asked {
		_, line := trade.LineOf(orders, id)
		if line == nil {
			return fmt.Errorf("invoice %d is priced against a line that its orders do not have", inv.Number)
		}
		line.Dearer += sign * sums.Dearer
		line.Cheaper += sign * sums.Cheaper
		b.touch(line)
	}
	return err
}

// Standing is everything that a verified invoice has done and that still stands: the sums of
// its allocations, and every line of the ledger that was booked of it.
type Standing struct {
	Invoice     trade.Invoice
	Orders      []*trade.Order
	Allocations []Allocation
	Booked      []ledger.Line
	Findings    []finding.Finding
	// Deferred is what months hold of the lines, or of a credit note what it took from them.
	Deferred []trade.DeferredPart
	// Closed are the lines that it closed as the last of its orders, where nothing closed or opened them since.
	Closed []Close
	// Claims are what the changes of claims come to that the invoice made, or of a credit note what it gave back.
	Claims []Claim
	// Ahead is what it used of money ahead, or of a credit note gave back of it.
	Ahead []Ahead
}

// Void undoes a verified invoice: the opposite of its entry and of every later one made of its
// lines, in both currencies; what it took is put back exactly, and the receipts that it frees
// first fill what others have billed beyond them (rules §5).
func Void(s Standing, company money.Currency) (Booking, error) {
	b := begin(s.Invoice.Currency, company)
	b.Entry = posting.Void(s.Booked, s.Invoice.Currency)
	freed := map[*trade.OrderLine][]opened{}
	for _, row := range s.Allocations {
		back := row.Allocation
		back.Relief = row.Negative()
		before := money.Decimal(0)
		if row.Receipt != nil {
			before = max(0, row.Receipt.Open())
		}
		b.take(row.Line, back)
		if row.Receipt != nil {
			freed[row.Line] = append(freed[row.Line], opened{row.Receipt, max(0, row.Receipt.Open()) - before})
		}
	}
	if err := b.price(s.Invoice, s.Orders, s.Findings, -1); err != nil {
		return b.Booking, err
	}
	for _, p := range s.Deferred {
		p.Amount, p.Base = -p.Amount, -p.Base
		b.Deferrals = append(b.Deferrals, Deferral{p, DeferralVoid})
	}
	for _, a := range s.Ahead {
		b.Ahead = append(b.Ahead, a.back())
	}
	for _, c := range s.Claims {
		b.change(s.Orders, c.Line, c.Negative())
	}
	for _, c := range s.Closed {
		order, _ := trade.LineOf(s.Orders, c.Line.ID)
		if err := b.open(order, c.Line, c.Goods > 0, c.Invoices > 0); err != nil {
			return b.Booking, err
		}
	}
	for _, line := range slices.Clone(b.Lines) {
		order, _ := trade.LineOf(s.Orders, line.ID)
		if s.Invoice.TakesBack() {
			if line.Overbilled() {
				return b.Booking, fault.New(fault.Refused, "",
					"What was credited of line %d of order %d has been invoiced again. Settle that invoice first.", line.No, order.Number)
			}
			freed[line] = here(line) // what is billed beyond receipts again takes what has come meanwhile
		}
		if err := b.fill(order, line, freed[line]); err != nil {
			return b.Booking, err
		}
		if err := b.settle(order, line); err != nil {
			return b.Booking, err
		}
	}
	return b.Booking, nil
}
