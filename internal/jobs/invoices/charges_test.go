package invoices_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/views"
)

// proposed keys what Lagoon proposes for an order, as it stands.
func keyProposed(b *housetest.Bench, order int64, number string) (act.Captured, trade.Invoice) {
	_, inv, err := views.Proposed(b.Ctx, b.App, order, views.WantedOf{})
	require.NoError(b.T, err)
	entry := housetest.EntryOf("BRACK", order, inv)
	entry.Number, entry.Date = number, b.Today()
	entry.StatedTotal = b.Total(entry)
	return b.Key(entry), inv
}

// What is keyed as it is proposed agrees: with its share of line discounts and charges, and each planned charge once.
func TestWhatIsKeyedAsProposedAgrees(t *testing.T) {
	b := housetest.SetUp(t)
	line := housetest.Krill("3", "12")
	line.Discount, line.Charge = "10", "0.01"
	issued, err := orders.Issue(
		b.Ctx,
		b.App,
		b.As("buyer"),
		orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{line}, Charges: []orders.EntryCharge{
			{
				Kind:        "freight",
				Description: "Van",
				Amount:      "10",
				TaxCategory: "S",
				TaxRate:     housetest.Dec("23"),
			}, {Kind: "small order", Amount: "5", TaxCategory: "S", TaxRate: housetest.Dec("23")}, {Kind: "insurance", Amount: "2.50", TaxCategory: "S", TaxRate: housetest.Dec("23")}}},
	)
	require.NoError(t, err)
	for i, quantity := range []string{"1", "1", "1"} {
		b.Deliver(issued.Number, fmt.Sprint("DN ", i), quantity)
		answer, inv := keyProposed(b, issued.Number, []string{"AA-1", "BB-22", "CC-333"}[i])
		require.Equal(t, trade.Verified, answer.State, answer.Summary)
		require.Equal(t, money.Amount(3_33), inv.Lines[0].Discount)
		if i > 0 {
			require.Empty(t, inv.Charges, "what was charged is not proposed again")
			continue
		}
		require.Len(t, inv.Charges, 3)
		require.Equal(t, trade.DocumentCharge{Kind: "freight", Reason: "Van", Amount: 10_00, TaxCategory: "S", TaxRate: housetest.Dec("23")}, inv.Charges[0])
		require.Equal(t, "small order", inv.Charges[1].Reason)
	}
	b.Proved()
}

// One list of kinds stands behind what is planned, keyed and read: what is not on it is refused, what is ended stays on
// the orders that carry it.
func TestKindsOfChargeAreTheCompanys(t *testing.T) {
	b := housetest.SetUp(t)
	admin := b.As("admin")
	for sentence, bad := range map[string]trade.ChargeKind{
		"Enter what the charge is for": {Name: " "}, "is no charge": {Name: "Discount"}, "so that stays": {Name: "other", Ended: true},
		"one to three letters": {Name: "fuel", Standard: "FUEL"}, "FC stands for freight": {Name: "fuel", Standard: "fc"},
	} {
		_, err := masters.SaveChargeKind(b.Ctx, b.App, admin, bad)
		housetest.Refused(t, err, fault.Invalid, sentence)
	}
	saved, err := masters.SaveChargeKind(b.Ctx, b.App, admin, trade.ChargeKind{Name: " Fuel ", Standard: "abq"})
	require.NoError(t, err)
	require.Equal(t, "fuel", saved.Code)

	plan := func(kind string) orders.Entry {
		return orders.Entry{
			Supplier: "BRACK",
			WantedOn: "2026-11-30",
			Lines:    []orders.EntryLine{housetest.Krill("10", "12")},
			Charges:  []orders.EntryCharge{{Kind: kind, Amount: "10", TaxCategory: "S", TaxRate: housetest.Dec("23")}},
		}
	}
	_, err = orders.Issue(b.Ctx, b.App, b.As("buyer"), plan("demurrage"))
	housetest.Refused(t, err, fault.Invalid, "no kind of charge")
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), plan("fuel"))
	require.NoError(t, err)
	require.NoError(t, housetest.Drop(masters.SaveChargeKind(b.Ctx, b.App, admin, trade.ChargeKind{Name: "fuel", Standard: "ABQ", Ended: true})))
	_, err = orders.Issue(b.Ctx, b.App, b.As("buyer"), plan("fuel"))
	housetest.Refused(t, err, fault.Invalid, "no kind of charge")
	kept, err := orders.Plan(b.Ctx, b.App, b.Actors["buyer"], issued.Number, plan("fuel"))
	require.NoError(t, err)
	require.Equal(t, "fuel", kept.Order.Charges[0].Kind)

	b.Deliver(issued.Number, "DN 1", "10")
	entry := b.Bill("BRACK", issued.Number, "A-1", "10", "12")
	entry.Charges = []invoices.EntryCharge{{Kind: "demurrage", Amount: "1", TaxCategory: "S", TaxRate: housetest.Dec("23")}}
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Invalid, "no kind of charge")
	b.Proved()
}

// A number that is there already is said of the supplier and, apart, of others.
func TestANumberThatIsThere(t *testing.T) {
	b := housetest.SetUp(t)
	bill := b.Key(b.Bill("BRACK", b.Order("BRACK", "10"), "INV-0012", "10", "12"))
	its, others, err := invoices.NumberGiven(b.Ctx, b.App, "BRACK", "inv 12", 0)
	require.NoError(t, err)
	require.Empty(t, others)
	require.Len(t, its, 1)
	require.Equal(t, bill.Number, its[0].Number)
	its, _, err = invoices.NumberGiven(b.Ctx, b.App, "BRACK", "INV-0012", bill.Number)
	require.NoError(t, err)
	require.Empty(t, its, "the one that is corrected is not its own copy")
	its, others, err = invoices.NumberGiven(b.Ctx, b.App, "TIDEW", "INV-0012", 0)
	require.NoError(t, err)
	require.Empty(t, its)
	require.Equal(t, "Brackwater Feeds", others[0].SupplierName)
	its, others, err = invoices.NumberGiven(b.Ctx, b.App, "BRACK", " ", 0)
	require.NoError(t, err)
	require.Empty(t, append(its, others...))
	_, _, err = invoices.NumberGiven(b.Ctx, b.App, "NOBODY", "INV-0012", 0)
	housetest.Refused(t, err, fault.NotFound, "no supplier")
}
