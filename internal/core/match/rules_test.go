package match

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// found is the finding of a kind on a line.
func found(t *testing.T, r Result, kind finding.Kind, line int) finding.Finding {
	t.Helper()
	for _, f := range r.Findings {
		if f.Kind == kind && f.Line == line {
			return f
		}
	}
	require.Fail(t, "not found", "%s on line %d of %v", kind, line, r.Findings)
	return finding.Finding{}
}

// further adds a line of the same goods to the invoice.
func further(f Facts, quantity string) Facts {
	line := f.Invoice.Lines[0]
	line.No, line.Quantity = len(f.Invoice.Lines)+1, dec(quantity)
	f.Invoice.Lines = append(f.Invoice.Lines, line)
	return state(f)
}

// Rules §6: a limit is used once per line, over all invoices and over the lines of one; the excess is the invoice's own part.
func TestALimitIsNotUsedAgain(t *testing.T) {
	five := limit.Book{rule(limit.InvoicedQuantity, limit.Over, "5", 0)}
	with := func(f Facts, change func(*trade.OrderLine)) Facts {
		f.Orders[0].Lines[0].Limits = five
		change(f.Orders[0].Lines[0])
		return f
	}
	twoWay := func(billed string) func(*trade.OrderLine) {
		return func(l *trade.OrderLine) { l.Level, l.Billed = trade.TwoWay, dec(billed) }
	}
	require.Equal(t, finding.Within, run(t, with(facts("100", "104"), twoWay("0"))).Verdict)
	again := run(t, with(facts("100", "5"), twoWay("104")))
	require.Equal(t, finding.Outside, again.Verdict)
	require.Equal(t, []money.Decimal{dec("5"), dec("9")}, []money.Decimal{again.Findings[0].Excess, again.Findings[0].Used})
	require.Equal(t, finding.Within, run(t, with(facts("100", "1"), twoWay("104"))).Verdict, "5 in all")

	f := with(facts("200", "104", "100"), func(*trade.OrderLine) {})
	for range 3 {
		f = further(f, "5")
	}
	require.Equal(t, finding.Within, found(t, run(t, f), finding.OverReceived, 1).Verdict)
	require.Equal(t, finding.Waiting, found(t, run(t, f), finding.OverReceived, 2).Verdict, "lines of one invoice")

	claimed := run(t, with(facts("200", "5", "100"), func(l *trade.OrderLine) { l.Reserved = dec("104") }))
	require.Equal(t, dec("9"), claimed.Findings[0].Used, "an earlier open invoice claims 104")
	require.Equal(t, finding.Waiting, claimed.Verdict)

	one := run(t, with(facts("100", "1", "100"), func(l *trade.OrderLine) { l.Reserved = dec("105") }))
	require.Equal(t, dec("1"), found(t, one, finding.OverOrdered, 1).Excess, "its own part, whatever others claim")
	require.Equal(t, money.Amount(1_200), found(t, one, finding.OverOrdered, 1).Difference)

	for name, change := range map[string]func(*trade.OrderLine){
		"taken to variance": func(l *trade.OrderLine) {
			l.Variance = trade.Parts{{Relief: trade.Relief{Quantity: dec("3")}}}
		},
		"to be replaced":   func(l *trade.OrderLine) { l.Awaited = trade.Parts{{Relief: trade.Relief{Quantity: dec("3")}}} },
		"billed past held": func(l *trade.OrderLine) { l.Receipts[0].Billed, l.Receipts[0].Returned = dec("30"), dec("13") },
	} {
		f := with(facts("200", "3", "20"), change)
		f.Orders[0].Lines[0].Receipts[0].Billed = max(f.Orders[0].Lines[0].Receipts[0].Billed, dec("20"))
		require.Equal(t, finding.Waiting, run(t, f).Verdict, name)
	}
}

// Rules §6: a two-way line that is closed to goods counts what came as ordered.
func TestAClosedTwoWayLineCountsWhatCame(t *testing.T) {
	f := facts("80", "77", "74")
	l := f.Orders[0].Lines[0]
	l.Level, l.ClosedGoods, l.Limits = trade.TwoWay, true, limit.Book{rule(limit.InvoicedQuantity, limit.Over, "5", 0)}
	require.Equal(t, finding.Within, run(t, f).Verdict, "3.7 of 74")
	f.Invoice.Lines[0].Quantity = dec("78")
	require.Equal(t, finding.Outside, run(t, state(f)).Verdict)
}

// Rules §2: what was cheaper never pays for what is dearer, and does not hold what is cheaper still.
func TestDearerAndCheaperAreSummedApart(t *testing.T) {
	absolute := func(side limit.Side) limit.Book { return limit.Book{rule(limit.UnitPrice, side, "", 500)} }
	f := price(facts("100", "10", "10"), "12.062") // 0.62 dearer in all
	l := f.Orders[0].Lines[0]
	l.Limits, l.Cheaper = absolute(limit.Over), 50_000
	require.Equal(t, finding.Within, found(t, run(t, f), finding.UnitPrice, 1).Verdict)
	l.Dearer = 450
	require.Equal(t, finding.Outside, found(t, run(t, f), finding.UnitPrice, 1).Verdict, "4.50 + 0.62")
	l.Dearer, l.ReservedDearer = 0, 450
	require.Equal(t, finding.Outside, found(t, run(t, f), finding.UnitPrice, 1).Verdict, "an earlier open invoice asks 4.50 more")
	f = price(facts("100", "10", "10"), "11.9") // 1.00 cheaper
	l = f.Orders[0].Lines[0]
	l.Limits, l.Dearer = absolute(limit.Under), 60_000
	require.Equal(t, finding.Within, found(t, run(t, f), finding.UnitPrice, 1).Verdict)
	l.Cheaper = 450
	require.Equal(t, finding.Outside, found(t, run(t, f), finding.UnitPrice, 1).Verdict)
}

// The side of a difference is taken from exact prices, however alike they look when rounded.
func TestTheSideOfADifferenceIsExact(t *testing.T) {
	f := facts("3000000", "3000000", "3000000")
	l := f.Orders[0].Lines[0]
	l.Price, l.Base = dec("10"), dec("3")
	r := run(t, price(f, "3.333333"))
	said := found(t, r, finding.UnitPrice, 1)
	require.Equal(t, said.Price, said.Reference, "they are shown alike")
	require.Equal(t, []any{limit.Under, money.Amount(-100)}, []any{said.Side(), said.Signed()})
}

// Units are converted by the item's own conversions before anything is compared; a part of a whole unit is said.
func TestUnitsAreConverted(t *testing.T) {
	f := price(facts("24", "2", "24"), "144") // 2 cartons of 12 at 12.00
	f.Invoice.Lines[0].Unit = "XCT"
	f.Orders[0].Lines[0].Units = []trade.Conversion{{Unit: "XCT", Units: money.Int(1), Makes: money.Int(12)}}
	r := run(t, f)
	require.Equal(t, finding.Agrees, r.Verdict)
	require.Equal(t, dec("24"), r.Allocations[0].Quantity)
	f.Orders[0].Lines[0].Whole = true
	require.Equal(t, finding.Agrees, run(t, f).Verdict, "wholeness is asked after conversion")
	f.Invoice.Lines[0].Quantity = dec("0.125")
	require.Equal(t, finding.Outside, found(t, run(t, state(f)), finding.WholeUnits, 1).Verdict, "one and a half pieces")
	f.Invoice.Lines[0].Unit = "XBG"
	require.Equal(t, finding.Outside, found(t, run(t, f), finding.UnitDiffers, 1).Verdict)

	l := &trade.OrderLine{Unit: "KGM", Quantity: dec("10"), Price: dec("4"), Base: money.Int(1)}
	require.NoError(t, l.Claim(trade.InvoiceLine{Unit: "GRM", Quantity: dec("5000"), Price: dec("1"), Base: money.Int(1)}, "EUR"))
	require.Zero(t, l.Reserved, "without a conversion nothing is claimed")
	l.Units = []trade.Conversion{{Unit: "GRM", Units: money.Int(1000), Makes: money.Int(1)}}
	require.NoError(t, l.Claim(trade.InvoiceLine{Unit: "GRM", Quantity: dec("5000"), Price: dec("0.005"), Base: money.Int(1)}, "EUR"))
	require.Equal(t, []any{dec("5"), money.Amount(500)}, []any{l.Reserved, l.ReservedDearer})
}

func charge(kind string, amount money.Amount, rate string) trade.DocumentCharge {
	return trade.DocumentCharge{Kind: kind, Reason: kind, Amount: amount, TaxCategory: "S", TaxRate: dec(rate)}
}

// Rules §2, §3: charges are asked kind by kind and order by order; a planned one has the tax that it was planned with.
func TestChargesByKind(t *testing.T) {
	f := facts("10", "10", "10")
	f.Orders[0].Charges = []trade.PlannedCharge{{No: 1, Kind: "freight", Amount: 5_000, TaxCategory: "S", TaxRate: dec("23")}}
	f.Invoice.Charges = []trade.DocumentCharge{charge("freight", 5_000, "23")}
	require.Equal(t, finding.Agrees, run(t, state(f)).Verdict)
	f.Invoice.Charges = []trade.DocumentCharge{charge("small order", 1_000, "23")}
	said := found(t, run(t, state(f)), finding.ChargeNotOrdered, 0)
	require.Equal(t, []any{"small order", int64(4107), money.Amount(1_000)}, []any{said.Charge, said.Order, said.Amount}, "planned freight covers no fee")
	f.Invoice.Charges = []trade.DocumentCharge{charge("freight", 5_000, "9")}
	said = found(t, run(t, state(f)), finding.ChargeTaxRate, 0)
	require.Equal(t, money.Amount(700), said.Difference, "11.50 less 4.50")
	require.True(t, said.May(finding.Accept))

	f = facts("10", "10", "10")
	f.Invoice.Charges = []trade.DocumentCharge{charge("freight", 700, "23"), charge("handling", 700, "23")}
	f.Acceptances = []finding.Acceptance{
		{Kind: finding.ChargeNotOrdered, Side: limit.Over, About: finding.About{Order: 4107, Charge: "freight"}, Difference: 700},
	}
	require.Equal(t, finding.Outside, run(t, state(f)).Verdict, "each kind is accepted by itself")
	f.Limits = limit.Book{rule(limit.Charge, limit.Over, "6", 0)} // 7.20 of 120.00
	require.True(t, run(t, state(f)).Verifies())
	f.Orders[0].ChargedSoFar = map[string]money.Amount{"handling": 30}
	require.Equal(t, finding.Outside, run(t, state(f)).Verdict, "a percentage runs over all invoices of the order")
}

// Rules §5: one invoice may be about several orders; each line is its own order's, and charges of the whole are split by net.
func TestSeveralOrders(t *testing.T) {
	f := facts("30", "30", "30")
	other := facts("10", "10", "10")
	second := other.Orders[0]
	second.ID, second.Number, second.Lines[0].ID = 2, 4108, 2
	line := other.Invoice.Lines[0]
	line.No, line.OrderID, line.OrderLineID = 2, 2, 2
	f.Invoice.Lines, f.Orders = append(f.Invoice.Lines, line), append(f.Orders, second)
	r := run(t, state(f))
	require.Equal(t, finding.Agrees, r.Verdict)
	require.Equal(t, []int64{4107, 4108}, []int64{r.Allocations[0].Order.Number, r.Allocations[1].Order.Number})
	f.Invoice.Charges = []trade.DocumentCharge{charge("freight", 1_001, "23")}
	r = run(t, state(f))
	require.Equal(t, []money.Amount{751, 250}, []money.Amount{r.Findings[0].Amount, r.Findings[1].Amount})
	f.Invoice.Lines[1].OrderID, f.Invoice.Lines[1].OrderStated = 0, "4999"
	require.Equal(t, "4999", found(t, run(t, f), finding.OrderUnknown, 2).Text)
	second.State = trade.Closed
	f.Invoice.Lines[1].OrderID = 2
	require.Equal(t, finding.Outside, found(t, run(t, f), finding.OrderNotOpen, 0).Verdict)
}

// Rules §5: an invoice is never posted before the posting day of a receipt that it is set against.
func TestNotPostedBeforeItsGoods(t *testing.T) {
	f := facts("10", "6", "4", "6")
	for i, on := range []day.Day{"2026-11-02", "2026-12-01"} {
		f.Orders[0].Lines[0].Receipts[i].PostedOn = on
	}
	require.Equal(t, day.Day("2026-12-01"), run(t, f).PostingDay("2026-11-20"))
	f.Invoice.Lines[0].Quantity = dec("4")
	require.Equal(t, day.Day("2026-11-20"), run(t, state(f)).PostingDay("2026-11-20"))
}
