package match

// This file checks what is charged without an order (rules §5): quantity and price are compared with nothing, but
// somebody with the authority approves it.

import (
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
)

// free tells whether a document that gives back names no invoice without an order that it would give back of.
func (m *matching) free() bool { return m.Credited == nil || !m.Credited.HasCoded }

// coded checks a line without an order. A credit note gives back at most what its invoice charged without one.
func (m *matching) coded(index int) {
	if m.Invoice.Kind != trade.CreditNote || m.awaits || m.free() {
		return
	}
	line, net := m.Invoice.Lines[index], m.result.Totals.LineNets[index]
	left := max(0, m.Credited.Coded-m.backCoded)
	m.backCoded += net
	if net > left {
		m.say(finding.Finding{Kind: finding.Creditable, Verdict: finding.Outside, Line: line.No, Name: line.Description,
			Amount: net, Computed: left, Difference: net - left})
	}
}

// approval asks for the approval of what is charged without an order; a credit note of an invoice needs none.
func (m *matching) approval() {
	net := m.Invoice.CodedNet(m.result.Totals)
	if !m.Invoice.HasCoded() || m.Approved || m.awaits || (m.Invoice.Kind == trade.CreditNote && !m.free()) {
		return
	}
	m.say(finding.Finding{Kind: finding.ApprovalMissing, Verdict: finding.Outside, Amount: net, Difference: net.Abs()})
}
