package match

// This file is about money ahead: what an invoice for it may ask, and what later invoices are asked about it (rules §8).

import (
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// isAhead tells whether the document is about money ahead and bills nothing: an invoice for it, or the credit note of one.
func (m *matching) isAhead() bool {
	return m.Invoice.Prepays() || (m.Credited != nil && m.Credited.Ahead != nil)
}

// ahead asks about money that was paid ahead on the invoice's orders, and compares what is used of it with what the invoice
// says was paid (BT-113).
func (m *matching) ahead() {
	inv := m.Invoice
	used := trade.AheadUsed(m.Ahead)
	if inv.Prepaid != 0 && inv.Prepaid != used {
		m.say(finding.Finding{Kind: finding.PrepaidStated, Verdict: finding.Outside, Amount: inv.Prepaid, Computed: used,
			Difference: (inv.Prepaid - used).Abs()})
	}
	owes := inv.StatedTotal
	for _, c := range m.Claims {
		owes -= c.Net + c.Tax
	}
	ask := func(p trade.Prepayment, could money.Amount) { // about one after the other
		m.say(finding.Finding{Kind: finding.PrepaymentUnused, Verdict: finding.Outside, Reference: money.Int(p.Number),
			Text: p.SupplierNumber, Name: p.Kind, Amount: max(0, p.Usable()), Computed: max(0, could), Difference: max(0, could)})
	}
	for _, p := range m.Ahead { // what somebody said stands, unless the money went elsewhere since
		if p.Use == nil {
			continue
		}
		if could := min(p.Usable(), owes); p.Use.Amount > max(0, could) {
			ask(p, could)
			return
		}
		owes -= p.Use.Amount
	}
	for _, p := range m.Ahead {
		if could := min(p.Usable(), owes); p.Use == nil && p.Currency == inv.Currency && could > 0 {
			ask(p, could)
			return
		}
	}
}

// prepays checks an invoice for money ahead against what is agreed, and the credit note of one against what is left of it.
func (m *matching) prepays() error {
	inv := m.Invoice
	if inv.Prepays() {
		for _, p := range m.Ahead { // our own requests for the same money
			if p.Settled < p.Booked.Value {
				m.say(finding.Finding{Kind: finding.RequestedAhead, Verdict: finding.Waiting, Reference: money.Int(p.Number),
					Amount: p.Booked.Value, Name: p.Kind})
			}
		}
		if over := m.Agreed.Invoiced + inv.StatedTotal - m.Agreed.Gross; over > 0 {
			m.say(finding.Finding{Kind: finding.PrepaymentAbove, Verdict: finding.Outside, Reference: money.Int(m.Agreed.Number),
				Name: inv.Ahead.Kind, Amount: inv.StatedTotal, Computed: m.Agreed.Gross - m.Agreed.Invoiced, Difference: min(over, inv.StatedTotal)})
		}
		return nil
	}
	if m.awaits {
		return nil
	}
	p := *m.Credited.Ahead
	if left := p.Left() - p.Reserved; inv.StatedTotal > left {
		m.say(finding.Finding{Kind: finding.Creditable, Verdict: finding.Outside, Name: p.Kind, Text: p.SupplierNumber,
			Amount: inv.StatedTotal, Computed: max(0, left), Difference: inv.StatedTotal - left})
		return nil
	}
	part, err := p.Next(inv.StatedTotal)
	if err != nil {
		return err
	}
	net, _ := part.Net()
	if tax := inv.StatedTotal - net; (tax - m.result.Totals.Tax).Abs() > money.Amount(len(part.Taxes)) {
		m.say(finding.Finding{Kind: finding.TaxAmount, Verdict: finding.Outside, Amount: m.result.Totals.Tax, Computed: tax,
			Difference: (tax - m.result.Totals.Tax).Abs()})
	}
	return nil
}
