package jobs

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// proposed keys what Lagoon proposes for an order, as it stands.
func (b *bench) keyProposed(order int64, number string) (Captured, trade.Invoice) {
	_, inv, err := b.app.Proposed(b.ctx, order)
	require.NoError(b.t, err)
	entry := InvoiceEntry{Supplier: "BRACK", Order: order, Invoice: inv}
	for _, l := range inv.Lines {
		entry.OrderLines = append(entry.OrderLines, l.No)
	}
	entry.Invoice.SupplierNumber, entry.Invoice.Date = number, b.today()
	totals, err := inv.Totals()
	require.NoError(b.t, err)
	entry.Invoice.StatedTotal = totals.Total
	return b.key(entry), inv
}

// What is keyed as it is proposed agrees: with its share of line discounts and charges, and each planned charge once.
func TestWhatIsKeyedAsProposedAgrees(t *testing.T) {
	b := setUp(t)
	line := krill("3", "12")
	line.Discount, line.Charge = 10_00, 1
	issued, err := b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{line}, Charges: []trade.PlannedCharge{
		{Kind: "freight", Description: "Van", Amount: 10_00, TaxCategory: "S", TaxRate: dec("23")}, {Kind: "small order", Amount: 5_00, TaxCategory: "S", TaxRate: dec("23")}, {Kind: "insurance", Amount: 2_50, TaxCategory: "S", TaxRate: dec("23")}}})
	require.NoError(t, err)
	for i, quantity := range []string{"1", "1", "1"} {
		b.deliver(issued.Number, fmt.Sprint("DN ", i), quantity)
		answer, inv := b.keyProposed(issued.Number, []string{"AA-1", "BB-22", "CC-333"}[i])
		require.Equal(t, trade.Verified, answer.State, answer.Summary)
		require.Equal(t, money.Amount(3_33), inv.Lines[0].Discount)
		if i > 0 {
			require.Empty(t, inv.Charges, "what was charged is not proposed again")
			continue
		}
		require.Len(t, inv.Charges, 3)
		require.Equal(t, trade.DocumentCharge{Kind: "freight", Reason: "Van", Amount: 10_00, TaxCategory: "S", TaxRate: dec("23")}, inv.Charges[0])
		require.Equal(t, "small order", inv.Charges[1].Reason)
	}
	b.proved()
}

// One list of kinds stands behind what is planned, keyed and read: what is not on it is refused, what is ended stays on
// the orders that carry it.
func TestKindsOfChargeAreTheCompanys(t *testing.T) {
	b := setUp(t)
	admin := b.as("admin")
	for sentence, bad := range map[string]trade.ChargeKind{
		"Enter what the charge is for": {Name: " "}, "is no charge": {Name: "Discount"}, "so that stays": {Name: "other", Ended: true},
		"one to three letters": {Name: "fuel", Standard: "FUEL"}, "FC stands for freight": {Name: "fuel", Standard: "fc"},
	} {
		_, err := b.app.SaveChargeKind(b.ctx, admin, bad)
		refused(t, err, fault.Invalid, sentence)
	}
	saved, err := b.app.SaveChargeKind(b.ctx, admin, trade.ChargeKind{Name: " Fuel ", Standard: "abq"})
	require.NoError(t, err)
	require.Equal(t, "fuel", saved.Code)

	plan := func(kind string) OrderEntry {
		return OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{krill("10", "12")}, Charges: []trade.PlannedCharge{{Kind: kind, Amount: 1_000, TaxCategory: "S", TaxRate: dec("23")}}}
	}
	_, err = b.app.IssueOrder(b.ctx, b.as("buyer"), plan("demurrage"))
	refused(t, err, fault.Invalid, "no kind of charge")
	issued, err := b.app.IssueOrder(b.ctx, b.as("buyer"), plan("fuel"))
	require.NoError(t, err)
	require.NoError(t, drop(b.app.SaveChargeKind(b.ctx, admin, trade.ChargeKind{Name: "fuel", Standard: "ABQ", Ended: true})))
	_, err = b.app.IssueOrder(b.ctx, b.as("buyer"), plan("fuel"))
	refused(t, err, fault.Invalid, "no kind of charge")
	kept, err := b.app.PlanOrder(b.ctx, issued.Number, plan("fuel"))
	require.NoError(t, err)
	require.Equal(t, "fuel", kept.Order.Charges[0].Kind)

	b.deliver(issued.Number, "DN 1", "10")
	entry := b.bill("BRACK", issued.Number, "A-1", "10", "12")
	entry.Invoice.Charges = []trade.DocumentCharge{{Kind: "demurrage", Amount: 100, TaxCategory: "S", TaxRate: dec("23")}}
	_, err = b.app.KeyInvoice(b.ctx, b.as("clerk"), entry)
	refused(t, err, fault.Invalid, "no kind of charge")
	b.proved()
}

// A number that is there already is said of the supplier and, apart, of others.
func TestANumberThatIsThere(t *testing.T) {
	b := setUp(t)
	bill := b.key(b.bill("BRACK", b.order("BRACK", "10"), "INV-0012", "10", "12"))
	its, others, err := b.app.NumberGiven(b.ctx, "BRACK", "inv 12", 0)
	require.NoError(t, err)
	require.Empty(t, others)
	require.Len(t, its, 1)
	require.Equal(t, bill.Number, its[0].Number)
	its, _, err = b.app.NumberGiven(b.ctx, "BRACK", "INV-0012", bill.Number)
	require.NoError(t, err)
	require.Empty(t, its, "the one that is corrected is not its own copy")
	its, others, err = b.app.NumberGiven(b.ctx, "TIDEW", "INV-0012", 0)
	require.NoError(t, err)
	require.Empty(t, its)
	require.Equal(t, "Brackwater Feeds", others[0].SupplierName)
	its, others, err = b.app.NumberGiven(b.ctx, "BRACK", " ", 0)
	require.NoError(t, err)
	require.Empty(t, append(its, others...))
	_, _, err = b.app.NumberGiven(b.ctx, "NOBODY", "INV-0012", 0)
	refused(t, err, fault.NotFound, "no supplier")
}
