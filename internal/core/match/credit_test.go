package match

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// noted: an order line of which 10 came at 12.00, an invoice at a price verified for all of them, and some went back for
// credit; and a credit note over a quantity at a price.
func noted(billed, back, credited, price string) Facts {
	f := facts("10", credited, "10")
	line := f.Orders[0].Lines[0]
	line.Take(trade.Allocation{Kind: trade.AllocatedBilled, Receipt: line.Receipts[0], InvoiceLine: 5, Invoice: 3, Relief: trade.Relief{Quantity: dec("10")}})
	line.Take(trade.Allocation{Kind: trade.AllocatedCredited, Receipt: line.Receipts[0], Relief: trade.Relief{Quantity: dec(back)}})
	bill := f.Invoice.Lines[0]
	bill.Quantity, bill.Price = dec("10"), dec(billed)
	net, _ := bill.Net("EUR")
	worth, _ := line.PriceWorth(net, dec("10"), "EUR")
	line.Dearer, line.Cheaper = max(0, worth), max(0, -worth)
	f.Billed = []BilledLine{{InvoiceLine: bill, Invoice: 3, Rate: money.Int(1), Currency: "EUR"}}
	f.Credited = &Credited{Invoice: 3, Number: 1001, State: trade.Verified, Rate: money.Int(1)}
	f.Invoice.Kind, f.Invoice.Credited, f.Invoice.Lines[0].Price = trade.CreditNote, "A-1", dec(price)
	return state(f)
}

// What a credit note may take back, worked from rules §5: goods as far as they went back or were billed too much, a price
// as far as it was billed; more waits for the return, or is outside.
func TestWhatIsCreditable(t *testing.T) {
	for name, c := range map[string]struct {
		facts   Facts
		verdict finding.Verdict
		found   map[finding.Kind]finding.Verdict
		what    trade.CreditFor
		asked   Asked // what the line's price differences move by
	}{
		"as much as went back": {noted("12", "2", "2", "12"), finding.Agrees, nil, trade.ForGoods, Asked{}},
		"less":                 {noted("12", "2", "1.5", "12"), finding.Agrees, nil, trade.ForGoods, Asked{}},
		"more, which can still go back": {noted("12", "2", "3", "12"), finding.Waiting,
			map[finding.Kind]finding.Verdict{finding.Creditable: finding.Waiting}, trade.ForGoods, Asked{}},
		"more than came": {noted("12", "2", "13", "12"), finding.Outside,
			map[finding.Kind]finding.Verdict{finding.Creditable: finding.Outside}, trade.ForGoods, Asked{}},
		"goods that were billed dearer": {noted("12.50", "2", "2", "12.50"), finding.Within,
			map[finding.Kind]finding.Verdict{finding.PriceCredited: finding.Within}, trade.ForGoods, Asked{Dearer: -1_00}},
		"goods that were billed cheaper": {noted("11", "2", "2", "11"), finding.Within,
			map[finding.Kind]finding.Verdict{finding.PriceCredited: finding.Within}, trade.ForGoods, Asked{Cheaper: -2_00}},
		"all that was billed above the order's price": {noted("12.50", "0", "10", "0.50"), finding.Within,
			map[finding.Kind]finding.Verdict{finding.PriceCredited: finding.Within}, trade.ForPrice, Asked{Dearer: -5_00}},
		"neither the price billed nor within what was billed above the order's": {noted("12.50", "2", "2", "9"), finding.Outside,
			map[finding.Kind]finding.Verdict{finding.CreditUnclear: finding.Outside}, "", Asked{}},
	} {
		t.Run(name, func(t *testing.T) {
			r := run(t, c.facts)
			require.Equal(t, c.verdict, r.Verdict)
			found := map[finding.Kind]finding.Verdict{}
			for _, f := range r.Findings {
				found[f.Kind] = f.Verdict
			}
			if c.found == nil {
				c.found = map[finding.Kind]finding.Verdict{}
			}
			require.Equal(t, c.found, found)
			require.Len(t, r.Credits, 1)
			require.Equal(t, c.what, r.Credits[0].For)
			require.Empty(t, r.Allocations, "a credit note bills nothing")
			asked, err := PriceDifferences(c.facts.Invoice, r.Findings)
			require.NoError(t, err)
			require.Equal(t, c.asked, asked[1])
		})
	}
}

// What a person says of a line counts before its figures; a price is credited beyond what is above the order's, and the
// line is then cheaper, but never beyond what was billed.
func TestAPersonSaysWhatACreditIsFor(t *testing.T) {
	f := noted("12.50", "2", "10", "1")
	f.Invoice.Lines[0].Credits = trade.ForPrice
	r := run(t, state(f))
	require.Equal(t, finding.Within, r.Verdict)
	asked, err := PriceDifferences(f.Invoice, r.Findings)
	require.NoError(t, err)
	require.Equal(t, Asked{Dearer: -5_00, Cheaper: 5_00}, asked[1])
	f.Invoice.Lines[0].Price = dec("12.51")
	r = run(t, state(f))
	require.Equal(t, finding.Outside, r.Verdict)
	require.Equal(t, money.Amount(10), r.Findings[0].Difference, "125.10 of 125.00")
	goods := noted("12.50", "2", "2", "9")
	goods.Invoice.Lines[0].Credits = trade.ForGoods
	r = run(t, state(goods))
	require.Equal(t, finding.Within, r.Verdict)
	require.Equal(t, limit.Over, r.Findings[0].Side(), "what is given back below the order's price leaves the rest dearer")
}

// An open credit note that came earlier claims its part; one that names an invoice which is not here, or not verified,
// waits for it and says nothing of its lines.
func TestWhatACreditNoteWaitsFor(t *testing.T) {
	f := noted("12", "2", "2", "12")
	require.NoError(t, f.Orders[0].Lines[0].ClaimCredit(f.Invoice.Lines[0], "EUR"))
	r := run(t, f)
	require.Equal(t, finding.Waiting, r.Verdict)
	require.Equal(t, dec("2"), r.Findings[0].Excess)
	for _, named := range []*Credited{nil, {Number: 1001, State: trade.Held}} {
		f := noted("12", "2", "13", "9")
		f.Credited = named
		r := run(t, f)
		require.Equal(t, finding.Waiting, r.Verdict)
		require.Len(t, r.Findings, 1)
		require.Equal(t, finding.InvoiceAwaited, r.Findings[0].Kind)
	}
}

// A debit note asks more for what was billed already: the price that the line then comes to is held against the order's,
// after what was billed below it is made up for. The figures are those of rules §5 (10.25 of 10.00 is 2.5 %).
func TestADebitNoteRaisesThePrice(t *testing.T) {
	for name, c := range map[string]struct {
		billed, asked string
		verdict       finding.Verdict
		moves         Asked
	}{
		"within 3 %":                     {"12", "0.30", finding.Within, Asked{Dearer: 3_00}},
		"past 3 %":                       {"12", "0.40", finding.Outside, Asked{Dearer: 4_00}},
		"with what was asked before":     {"12.20", "0.20", finding.Outside, Asked{Dearer: 2_00}},
		"what was billed below comes up": {"11", "1", finding.Within, Asked{Cheaper: -10_00}},
		"and beyond it":                  {"11", "1.30", finding.Within, Asked{Cheaper: -10_00, Dearer: 3_00}},
	} {
		t.Run(name, func(t *testing.T) {
			f := noted(c.billed, "0", "10", c.asked)
			f.Invoice.Kind = trade.Adjustment
			f.Orders[0].Lines[0].Limits = limit.Book{rule(limit.UnitPrice, limit.Over, "3", 0)}
			r := run(t, state(f))
			require.Equal(t, c.verdict, r.Verdict)
			moves, err := PriceDifferences(f.Invoice, r.Findings)
			require.NoError(t, err)
			require.Equal(t, c.moves, moves[1])
			require.Empty(t, r.Allocations, "quantities stay as they are")
		})
	}
}
