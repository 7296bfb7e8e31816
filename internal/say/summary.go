package say

import (
	"slices"
	"strings"

	"lagoon/internal/core/finding"
)

// Two words for a list about each kind of finding.
var short = map[finding.Kind]string{
	finding.OverReceived: "quantity", finding.OverOrdered: "quantity", finding.UnitPrice: "price", finding.UnitDiffers: "unit",
	finding.CurrencyDiffers: "currency", finding.TaxRateDiffers: "tax rate", finding.ChargeNotOrdered: "charge", finding.TaxAmount: "tax amount",
	finding.StatedTotal: "total", finding.PrepaidStated: "paid before", finding.LikelyDuplicate: "second copy?", finding.OrderNotOpen: "order not open",
	finding.LineClosed: "line closed", finding.SupplierUnknown: "supplier unknown", finding.OrderUnknown: "order unknown", finding.LineUnknown: "line unknown",
	finding.QuantityMissing: "no quantity", finding.CreditNote: "credit note", finding.BankAccount: "bank account", finding.OwnChange: "own change", finding.NoRate: "no exchange rate", finding.NotBooked: "kind of document", finding.DateAhead: "dated ahead", finding.SupplierBlocked: "supplier blocked",
	finding.MatchFailed: "matching failed", finding.WholeUnits: "whole units", finding.ChargeTaxRate: "tax of a charge",
}

// Summary says in a few words what stands open, for a list.
func Summary(findings []finding.Finding) string {
	var words []string
	waits := false
	for _, f := range findings {
		if !f.Open() {
			continue
		}
		waits = waits || f.Verdict == finding.Waiting
		if word := short[f.Kind]; f.Verdict != finding.Waiting && !slices.Contains(words, word) {
			words = append(words, word)
		}
	}
	if len(words) == 0 && waits {
		return "waits for goods"
	}
	return strings.Join(words, ", ")
}

// Turn names whose turn it is: the role that settles the first open finding.
func Turn(findings []finding.Finding) string {
	turn := ""
	for _, f := range findings {
		if !f.Open() {
			continue
		}
		if t := f.Turn(); turn == "" || (f.Verdict == finding.Outside && turn == "receiver") {
			turn = t
		} else if t == "clerk" && f.Blocks() == finding.BlocksVerifying && turn == "approver" {
			turn = t // what must be corrected first changes what is to be accepted
		}
	}
	return turn
}
