package views

// This file shows a credit note beside what it credits, and proposes one of an invoice or for goods that went back.

import (
	"context"
	"errors"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// CreditLine is how far a line of a credit note can be credited.
type CreditLine struct {
	For        trade.CreditFor // as somebody said, or as its figures tell; empty where they do not
	Invoiced   money.Decimal   // on the invoice that it names, else on the first that billed the line; in the line's unit
	Price      money.Decimal   // at which it was invoiced
	Returned   money.Decimal   // gone back for credit
	Creditable money.Decimal   // of what is not credited yet; with this note once it is booked
	Claim      int64           // number of the claim that it gives back; zero where none
}

// credits reads what stands beside a credit note, or which credit notes name an invoice.
func (s *InvoiceSheet) credits(r act.Reading) (err error) {
	if !s.Invoice.Follows() {
		s.Credits, err = r.CreditsOf(s.Invoice)
		return err
	}
	facts := match.Facts{Invoice: s.Invoice}
	if err := r.CreditFacts(s.Invoice, &facts); err != nil {
		return err
	}
	if s.Credited = facts.Credited; s.Invoice.Kind == trade.Adjustment {
		return nil
	}
	s.Credit = map[int]CreditLine{}
	booked, err := r.AllocationsOfCredit(s.State.Revision, s.Orders...)
	if err != nil {
		return err
	}
	settled, err := settledBy(r, s.State.Revision)
	if err != nil {
		return err
	}
	for _, l := range s.Invoice.Lines {
		if c := settled[l.ID]; c != nil {
			s.Credit[l.No] = CreditLine{For: c.For, Claim: c.Claim}
		}
		_, ordered := trade.LineOf(s.Orders, l.OrderLineID)
		if ordered == nil || l.ChargeKind != "" {
			continue
		}
		line := CreditLine{For: l.Credits, Returned: ordered.Returned, Creditable: max(0, ordered.Creditable())}
		for _, a := range booked {
			if a.CreditLine == l.ID {
				line.Creditable -= a.Quantity
				line.For = trade.ForGoods
			}
		}
		for _, b := range facts.BilledOf(ordered) {
			if quantity, _, ok := ordered.InUnit(b.InvoiceLine, b.Currency); ok {
				line.Invoiced, line.Price = quantity, b.Price
				break
			}
		}
		if line.For == "" && s.State.State.Unsettled() {
			if _, price, ok := ordered.InUnit(l, s.Invoice.Currency); ok {
				line.For = ordered.CreditOf(l, price, s.Totals.LineNets[l.No-1], facts.BilledAt(ordered))
			}
		} else if line.For == "" {
			line.For = trade.ForPrice // it was booked, and took no goods back
		}
		if c := settled[l.ID]; c != nil {
			line.For, line.Claim = c.For, c.Claim
		}
		s.Credit[l.No] = line
	}
	return nil
}

// settledBy are the lines of claims that a credit note's revision gave something back of, by its own lines.
func settledBy(r act.Reading, revision int64) (map[int64]*trade.ClaimLine, error) {
	invoice, err := r.ClaimedBy(revision)
	if err != nil || invoice == 0 {
		return nil, err
	}
	claims, err := r.ClaimsOf(invoice)
	if err != nil {
		return nil, err
	}
	changes, err := r.CreditedClaims(revision, claims)
	lines := map[int64]*trade.ClaimLine{}
	for _, c := range changes {
		if c.Value > 0 {
			lines[c.CreditLine] = c.Line
		}
	}
	return lines, err
}

// ProposedCredit is what a credit note of a verified invoice would say: what went back or was billed too much of its
// lines and is not credited yet, at the price that was invoiced; where that is nothing, the whole of its lines for a
// price that is still to be typed.
func ProposedCredit(ctx context.Context, a *act.App, invoice int64) (*trade.Order, trade.Invoice, error) {
	var order *trade.Order
	note, err := act.Read(ctx, a, func(r act.Reading) (trade.Invoice, error) {
		inv, s, err := r.InvoiceNumbered(invoice)
		if err != nil {
			return inv, err
		}
		switch {
		case inv.Follows():
			return inv, fault.New(
				fault.Refused,
				"",
				"%d is a %s itself.",
				invoice,
				strings.ToLower(say.Document(inv.Kind)),
			)
		case !s.State.Booked():
			return inv, fault.New(fault.Refused, "",
				"Invoice %d is %s: correct or refuse it instead.", invoice, say.State(string(s.State)))
		case inv.OrderID == 0:
			return inv, fault.New(fault.Refused, "", "Invoice %d is about no order.", invoice)
		}
		orders, err := r.OrdersOf(inv, store.AllReserved)
		if err != nil {
			return inv, err
		}
		order = orders[0]
		if inv.Prepays() {
			return aheadCredit(r, inv)
		}
		claims, err := r.ClaimsOf(inv.ID)
		if err != nil {
			return inv, err
		}
		if note := claimedCredit(inv, orders, claims, r.Today()); len(note.Lines) > 0 {
			return note, nil
		}
		return creditOf(inv, orders, r.Today(), nil)
	})
	return order, note, err
}

// ProposedReturnCredit is what the credit note for a return would say: what was invoiced of the goods that went back
// and is not credited yet, of the invoice that billed them.
func ProposedReturnCredit(ctx context.Context, a *act.App, returned int64) (*trade.Order, trade.Invoice, error) {
	var order *trade.Order
	note, err := act.Read(ctx, a, func(r act.Reading) (inv trade.Invoice, err error) {
		d, err := r.DeliveryByNumber(returned)
		if err != nil {
			return inv, act.Found(err, "There is no return %d.", returned)
		}
		if order, err = r.Order(d.Order, store.AllReserved); err != nil {
			return inv, err
		}
		lines, err := r.DeliveryLines(d)
		if err != nil {
			return inv, err
		}
		back, bill := map[int64]money.Decimal{}, int64(0)
		for _, l := range lines {
			line := order.LineByID(l.OrderLine)
			if line == nil {
				continue
			}
			quantity := min(l.Quantity, max(0, line.Creditable()))
			for _, c := range line.Receipts {
				if quantity > 0 && bill == 0 && c.Open() < 0 && len(c.Bills) > 0 {
					bill = c.Bills[len(c.Bills)-1].Invoice
				}
			}
			back[line.ID] += quantity
		}
		if d.Kind != store.Returned || bill == 0 {
			return inv, fault.New(fault.Refused, "", "Nothing of return %d waits for a credit note.", returned)
		}
		s, err := r.InvoiceState(bill)
		if err != nil {
			return inv, err
		}
		if inv, err = r.Invoice(s.Revision); err != nil {
			return inv, err
		}
		return creditOf(inv, []*trade.Order{order}, r.Today(), back)
	})
	return order, note, err
}

// aheadCredit makes the credit note of what is left of money ahead: its lines, in proportion where something of it was used.
func aheadCredit(r act.Reading, inv trade.Invoice) (trade.Invoice, error) {
	note := noteOf(inv, r.Today())
	p, err := r.Prepayment(inv.ID, 0)
	if err != nil {
		return note, err
	}
	left := p.Left() - p.Reserved
	if left <= 0 {
		return note, fault.New(fault.Refused, "", "Nothing is left of the money ahead of %s: it is used, credited or asked for.", inv.SupplierNumber)
	}
	for _, l := range inv.Lines {
		if left < p.Booked.Value {
			net, err1 := l.Net(inv.Currency)
			net, err2 := net.Part(int64(left), int64(p.Booked.Value))
			if err := errors.Join(err1, err2); err != nil {
				return note, err
			}
			l.Quantity, l.Base, l.Discount, l.Charge = money.Int(1), money.Int(1), 0, 0
			l.Price = money.MustDecimal(net.Text(inv.Currency))
		}
		l.No = len(note.Lines) + 1
		note.Lines = append(note.Lines, l)
	}
	return note, nil
}

// claimedCredit makes the credit note that is expected for what is claimed of an invoice; without lines where nothing is.
func claimedCredit(inv trade.Invoice, orders []*trade.Order, claims []trade.Claim, today day.Day) trade.Invoice {
	note := noteOf(inv, today)
	for _, c := range claims {
		for _, l := range c.Lines {
			if l.Left.Value == 0 {
				continue
			}
			line := inv.Lines[l.InvoiceLineNo-1]
			_, ordered := trade.LineOf(orders, l.OrderLine)
			if ordered == nil {
				continue
			}
			if whole, price, known := ordered.InUnit(line, inv.Currency); known && whole > 0 &&
				l.For == trade.ForGoods &&
				l.Left.Quantity == l.Quantity {
				line.Quantity, line.Price, line.Credits = l.Left.Quantity, price.Decimal(), trade.ForGoods
			} else { // an amount
				line.Quantity, line.Credits = money.Int(1), trade.ForPrice
				line.Price = money.MustDecimal(l.Left.Value.Text(inv.Currency))
			}
			line.Unit, line.Base, line.Discount, line.Charge = ordered.Unit, money.Int(1), 0, 0
			line.No = len(note.Lines) + 1
			note.Lines = append(note.Lines, line)
		}
	}
	return note
}

// noteOf is a credit note of an invoice, dated today, without lines.
func noteOf(inv trade.Invoice, today day.Day) trade.Invoice {
	return trade.Invoice{
		Kind:           trade.CreditNote,
		Source:         trade.FromKeys,
		SupplierID:     inv.SupplierID,
		SupplierStated: inv.SupplierStated,
		Credited:       inv.SupplierNumber,
		Date:           today,
		PostingDay:     today,
		Currency:       inv.Currency,
		OrderID:        inv.OrderID,
	}
}

// creditOf makes the credit note of an invoice, dated today. Back limits it to what went back by order line; without
// it every line is looked at.
func creditOf(
	inv trade.Invoice,
	orders []*trade.Order,
	today day.Day,
	back map[int64]money.Decimal,
) (trade.Invoice, error) {
	note := noteOf(inv, today)
	for _, l := range inv.Lines {
		_, ordered := trade.LineOf(orders, l.OrderLineID)
		if ordered == nil || l.ChargeKind != "" {
			continue
		}
		left := max(0, ordered.Creditable())
		if back != nil {
			left = back[ordered.ID]
		}
		whole, price, known := ordered.InUnit(l, inv.Currency)
		if left = min(left, whole); left == 0 || !known {
			continue
		}
		if l.Unit != ordered.Unit && left != whole { // a part of it, in the unit in which it was ordered
			l.Quantity, l.Unit, l.Price, l.Base, l.Discount, l.Charge = left, ordered.Unit, price.Decimal(), money.Int(
				1,
			), 0, 0
		} else {
			discount, err1 := l.Discount.Part(int64(left), int64(whole))
			charge, err2 := l.Charge.Part(int64(left), int64(whole))
			if err := errors.Join(err1, err2); err != nil {
				return note, err
			}
			if l.Unit == ordered.Unit {
				l.Quantity = left
			}
			l.Discount, l.Charge = discount, charge
		}
		l.Credits = trade.ForGoods
		note.Lines = append(note.Lines, l)
	}
	if len(note.Lines) == 0 {
		for _, l := range inv.Lines {
			if _, ordered := trade.LineOf(orders, l.OrderLineID); ordered != nil && l.ChargeKind == "" {
				l.Price, l.Discount, l.Charge, l.Credits = 0, 0, 0, trade.ForPrice
				note.Lines = append(note.Lines, l)
			}
		}
	}
	for i := range note.Lines {
		note.Lines[i].No = i + 1
	}
	return note, nil
}

// OpenCredits lists the verified credit notes that nothing was taken off for yet.
func OpenCredits(ctx context.Context, a *act.App) ([]store.InvoiceRow, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.InvoiceRow, error) { return r.OpenCredits() })
}
