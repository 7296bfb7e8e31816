package say

import (
	"cmp"
	"slices"
	"strings"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
)

var documents = map[trade.InvoiceKind]string{trade.PlainInvoice: "Invoice", trade.CreditNote: "Credit note", trade.Adjustment: "Debit note", trade.PrepaymentInvoice: "Prepayment invoice", trade.PaymentRequest: "Payment request"}

// Document is the name of an invoice's kind, as a sentence begins with it.
func Document(kind trade.InvoiceKind) string { return documents[kind] }

// Two words for a list about each kind of finding.
var short = map[finding.Kind]string{
	finding.PrepaymentUnused: "money ahead?", finding.PrepaymentAbove: "more than agreed ahead", finding.RequestedAhead: "requested already", finding.OverReceived: "quantity", finding.OverOrdered: "quantity", finding.UnitPrice: "price", finding.UnitDiffers: "unit",
	finding.CurrencyDiffers: "currency", finding.TaxRateDiffers: "tax rate", finding.ChargeNotOrdered: "charge", finding.TaxAmount: "tax amount", finding.TaxCodeMissing: "no tax code",
	finding.StatedTotal: "total", finding.PrepaidStated: "paid before", finding.LikelyDuplicate: "second copy?", finding.OrderNotOpen: "order not open",
	finding.LineClosed: "line closed", finding.SelfBilled: "billed by ourselves", finding.SupplierUnknown: "supplier unknown", finding.OrderUnknown: "order unknown", finding.LineUnknown: "line unknown",
	finding.QuantityMissing: "no quantity", finding.CreditNote: "credit note", finding.BankAccount: "bank account", finding.OwnChange: "own change", finding.OnHold: "on hold", finding.Invoicer: "who invoices", finding.NoRate: "no exchange rate", finding.NotBooked: "kind of document", finding.DateAhead: "dated ahead", finding.SupplierBlocked: "supplier blocked",
	finding.Creditable: "more than can be credited", finding.CreditUnclear: "goods or price?", finding.PriceCredited: "price", finding.InvoiceAwaited: "its invoice",
	finding.Addressee: "addressed to others", finding.PageDiffers: "page and file differ", finding.ApprovalMissing: "to be approved", finding.MatchFailed: "matching failed", finding.WholeUnits: "whole units", finding.ChargeTaxRate: "tax of a charge",
}

// FindingKind is what a kind of finding is about, in a word or two.
func FindingKind(kind finding.Kind) string { return short[kind] }

// What an invoice waits for, where that is not goods to come.
var awaits = map[finding.Kind]string{finding.Creditable: "waits for a return", finding.InvoiceAwaited: "waits for its invoice", finding.RequestedAhead: "waits for our payment"}

// NeverUsed says in a list that money was paid ahead and nothing can use it any more: it is credited and refunded.
const NeverUsed = "money ahead never used"

// Summary says in a few words what stands open, for a list.
func Summary(findings []finding.Finding) string {
	var words []string
	waits := ""
	for _, f := range findings {
		if !f.Open() {
			continue
		}
		if f.Verdict == finding.Waiting && waits == "" {
			waits = cmp.Or(awaits[f.Kind], "waits for goods")
		}
		word := short[f.Kind]
		if f.Asks() {
			word = "question asked"
		}
		if f.Verdict != finding.Waiting && !slices.Contains(words, word) {
			words = append(words, word)
		}
	}
	if len(words) == 0 {
		return waits
	}
	return strings.Join(words, ", ")
}

// Turn names whose turn it is: the role that settles the first open finding. What only stops the release comes after what
// stops the invoice from being verified.
func Turn(findings []finding.Finding) string {
	turn := ""
	for _, f := range findings {
		if f.Open() && f.Asks() {
			return f.Turn() // nobody else does anything about it till then
		}
		if !f.Open() || f.Blocks() != finding.BlocksVerifying {
			continue
		}
		if t := f.Turn(); turn == "" || (f.Verdict == finding.Outside && turn == "receiver") {
			turn = t
		} else if t == "clerk" && turn == "approver" {
			turn = t // what must be corrected first changes what is to be accepted
		}
	}
	if turn != "" {
		return turn
	}
	for _, f := range findings {
		if f.Open() {
			return f.Turn()
		}
	}
	return ""
}
