package invoices_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
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

// freight is an invoice over ten at 12.00 with so much freight that its order does not plan.
func freight(b *housetest.Bench, order int64, number, amount string) invoices.Entry {
	e := b.Bill("BRACK", order, number, "10", "12")
	e.Charges = []invoices.EntryCharge{{Kind: "freight", Reason: "Van", Amount: money.Entered(amount), TaxCategory: "S", TaxRate: housetest.Dec("23")}}
	e.StatedTotal = b.Total(e)
	return e
}

// The company's limit for a kind of charge comes before its limit for all of them, a supplier's before both; the sentence
// says whose it is, and who set it clears nothing of their own with it.
func TestAKindOfChargeHasLimitsOfItsOwn(t *testing.T) {
	b := housetest.SetUp(t)
	ten, four := money.Entered("10"), money.Entered("4")
	set := func(who string, e masters.LimitsEntry) error {
		e.Reason = "as agreed"
		_, err := masters.SetLimits(b.Ctx, b.App, b.As(who), e)
		return err
	}
	over := func(amount *money.Entered) limit.Entries {
		return limit.Entries{{Kind: limit.Charge, Side: limit.Over, Absolute: amount}}
	}
	ready := func() int64 {
		order := b.Order("BRACK", "10")
		b.Deliver(order, fmt.Sprint("DN ", order), "10")
		return order
	}
	require.NoError(t, set("admin", masters.LimitsEntry{Level: trade.ThreeWay, Limits: over(&four)}))
	held := b.Key(freight(b, ready(), "A-1", "8"))
	require.Equal(t, trade.Held, held.State)
	housetest.Refused(t, set("buyer", masters.LimitsEntry{Charge: "demurrage", Limits: over(&ten)}), fault.NotFound, "no kind of charge")
	housetest.Refused(t, set("buyer", masters.LimitsEntry{Charge: "freight",
		Limits: limit.Entries{{Kind: limit.StatedTotal, Side: limit.Over, Absolute: &ten}}}), fault.Invalid, "a limit of charges only")
	plan, err := masters.PlanLimits(b.Ctx, b.App, b.Actors["admin"], masters.LimitsEntry{Charge: "freight", Limits: over(&ten)})
	require.NoError(t, err)
	require.Len(t, plan.Passing, 1, "what it would let pass is said first")
	require.NoError(t, set("admin", masters.LimitsEntry{Charge: "freight", Limits: over(&ten)}))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.StateIf(held.Number))
	sheet, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Contains(t, b.Actors["clerk"].Printer.Finding(sheet.Findings[0]), "by the company for freight")
	handling := freight(b, ready(), "B-22", "8")
	handling.Charges[0].Kind = "handling"
	require.Equal(t, trade.Held, b.Key(handling).State, "of another kind")
	require.NoError(t, set("admin", masters.LimitsEntry{Supplier: "BRACK", Limits: over(&four)}))
	require.Equal(t, trade.Held, b.Key(freight(b, ready(), "C-333", "8")).State, "the supplier's own comes first")
	frame, err := masters.ReadFrame(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, frame.ChargeLimits["freight"], 1)
	require.Len(t, frame.ChargeOwners["freight"], 1)
	require.NoError(t, housetest.Drop(masters.ConfirmLimits(b.Ctx, b.App, b.As("buyer"), "", "", "freight")))
	b.Proved()
}

// A charge that is a part of what the goods cost is spread over them by their value, and comes back from them.
func TestFreightInTheGoods(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(t, housetest.Drop(masters.SaveChargeKind(b.Ctx, b.App, b.As("admin"), trade.ChargeKind{Name: "freight", Standard: "FC", InGoods: true})))
	lines := []orders.EntryLine{housetest.Krill("10", "12"), housetest.Krill("5", "12"), housetest.Krill("0.1", "12")}
	lines[1].Budget = "TECH"
	entry := orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: lines[:1],
		Charges: []orders.EntryCharge{{Kind: "freight", Amount: " 2.5 %", TaxCategory: "S", TaxRate: housetest.Dec("23")}}}
	plan, err := orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, entry)
	require.NoError(t, err)
	require.Equal(t, money.Amount(3_00), plan.Order.Charges[0].Amount, "2.5 % of 120.00")
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	b.Deliver(issued.Number, "DN 1", "10")
	require.Equal(t, money.Amount(120_00), b.Balance("stock"))
	bill := b.Key(freight(b, issued.Number, "A-1", "3"))
	require.Equal(t, trade.Verified, bill.State, bill.Summary)
	require.Equal(t, money.Amount(123_00), b.Balance("stock"))
	require.Zero(t, b.Balance("charges"))
	note := freight(b, issued.Number, "C-1", "3")
	note.Kind, note.Credited, note.Lines = trade.CreditNote, "A-1", nil
	note.Lines = []invoices.EntryLine{{Description: "Van", ChargeKind: "freight", Quantity: money.Int(1), Unit: "C62", Price: housetest.Dec("3"), TaxCategory: "S", TaxRate: housetest.Dec("23")}}
	note.Charges = nil
	note.StatedTotal = b.Total(note)
	require.Equal(t, trade.Verified, b.Key(note).State)
	require.Equal(t, money.Amount(120_00), b.Balance("stock"), "it comes back from where it went")
	b.Proved()
}

// What a supplier always charges is kept once for each kind, proposed with what is ordered from it, and ends.
func TestStandingCharges(t *testing.T) {
	b := housetest.SetUp(t)
	keep := func(who string, e masters.StandingEntry) error {
		e.Supplier = "BRACK"
		return housetest.Drop(masters.SaveStandingCharge(b.Ctx, b.App, b.As(who), e))
	}
	housetest.Refused(t, keep("clerk", masters.StandingEntry{Kind: "freight", Amount: "5"}), fault.Forbidden, "buyer or administrator")
	housetest.Refused(t, keep("buyer", masters.StandingEntry{Kind: "nothing", Amount: "5"}), fault.Invalid, "no kind of charge")
	housetest.Refused(t, keep("buyer", masters.StandingEntry{Kind: "freight", Amount: "5", Percent: 1}), fault.Invalid, "not both")
	housetest.Refused(t, keep("buyer", masters.StandingEntry{Kind: "freight", Amount: "-5"}), fault.Invalid, "below zero")
	require.NoError(t, keep("buyer", masters.StandingEntry{Kind: "freight", Amount: "5"}))
	require.NoError(t, keep("buyer", masters.StandingEntry{Kind: "freight", Percent: housetest.Dec("2.5")}))
	choices, err := orders.ChoicesFor(b.Ctx, b.App, b.Actors["buyer"], "BRACK")
	require.NoError(t, err)
	require.Equal(t, []trade.StandingCharge{{Kind: "freight", Percent: housetest.Dec("2.5")}}, choices.Standing)
	require.NoError(t, keep("buyer", masters.StandingEntry{Kind: "freight"}))
	choices, err = orders.ChoicesFor(b.Ctx, b.App, b.Actors["buyer"], "BRACK")
	require.NoError(t, err)
	require.Empty(t, choices.Standing)
	b.Proved()
}

// A rate that is typed without a category has the supplier's for it: the standard one, or that of a zero rate.
func TestATypedRateHasItsCategory(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	e := freight(b, order, "A-1", "2")
	e.Lines[0].TaxCategory, e.Charges[0].TaxCategory = "", ""
	plan, err := invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], e, 0)
	require.NoError(t, err)
	require.Equal(t, []string{"S", "S"}, []string{plan.Invoice.Lines[0].TaxCategory, plan.Invoice.Charges[0].TaxCategory})
	require.Len(t, plan.Totals.Groups, 1)
	e.Charges[0].TaxRate, e.StatedTotal = 0, "149.60"
	plan, err = invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], e, 0)
	require.NoError(t, err)
	require.Equal(t, "Z", plan.Invoice.Charges[0].TaxCategory)
}

// A charge that nobody planned is added to the order by who buys, and the invoice moves on by itself.
func TestAChargeIsAddedToTheOrder(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	held := b.Key(freight(b, order, "A-1", "8"))
	require.Equal(t, trade.Held, held.State)
	hands := func(who string) error {
		sheet, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors[who])
		require.NoError(t, err)
		require.Contains(t, sheet.Hands[0], finding.Plan)
		return sheet.Hands[0][finding.Plan]
	}
	require.NoError(t, hands("buyer"))
	housetest.Refused(t, hands("clerk"), fault.Forbidden, "buyer")
	line := housetest.Krill("10", "12")
	line.No = 1
	require.NoError(t, housetest.Drop(orders.Change(b.Ctx, b.App, b.As("buyer"), orders.ChangeEntry{Number: order, Reason: "the van", Entry: orders.Entry{
		WantedOn: "2026-11-30", Lines: []orders.EntryLine{line},
		Charges: []orders.EntryCharge{{Kind: "freight", Amount: "8", TaxCategory: "S", TaxRate: housetest.Dec("23")}}}})))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.StateIf(held.Number))
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
