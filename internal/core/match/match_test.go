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

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func rule(kind limit.Kind, side limit.Side, percent string, absolute int64) limit.Rule {
	r := limit.Rule{Level: limit.Company, Kind: kind, Side: side}
	if percent != "" {
		p := dec(percent)
		r.Percent = &p
	}
	if absolute != 0 {
		r.Absolute = &absolute
	}
	return r
}

// facts: one line of an order at 12.00, received in parts, and an invoice for it.
func facts(ordered, invoiced string, received ...string) Facts {
	line := &trade.OrderLine{
		ID:          1,
		No:          1,
		Description: "Krill",
		Quantity:    dec(ordered),
		Unit:        "C62",
		Price:       dec("12"),
		Base:        money.Int(1),
		Level:       trade.ThreeWay,
		TaxCategory: "S",
		TaxRate:     dec("23"),
	}
	for i, r := range received {
		line.Received += dec(r)
		line.Receipts = append(line.Receipts, &trade.Receipt{ID: int64(i + 1), Quantity: dec(r)})
	}
	line.Net, _ = money.Net(line.Quantity, line.Price, line.Base, 0, 0, "EUR")
	inv := trade.Invoice{ID: 9, Kind: trade.PlainInvoice, Currency: "EUR", Rate: money.Int(1), SupplierID: 1, OrderID: 1, Lines: []trade.InvoiceLine{
		{
			No:          1,
			OrderID:     1,
			OrderLineID: 1,
			Description: "Krill",
			Quantity:    dec(invoiced),
			Unit:        "C62",
			Price:       dec("12"),
			Base:        money.Int(1),
			TaxCategory: "S",
			TaxRate:     dec("23"),
		}}}
	f := Facts{
		Invoice:  inv,
		Supplier: &trade.Supplier{ID: 1, Name: "Brackwater", IBAN: "X"},
		Policy:   trade.Policy{OverDelivery: true, UnderDelivery: true},
		Orders:   []*trade.Order{{ID: 1, Number: 4107, State: trade.Issued, Currency: "EUR", Lines: []*trade.OrderLine{line}}},
	}
	return state(f)
}

// state makes the stated total agree.
func state(f Facts) Facts {
	totals, _ := f.Invoice.Totals()
	f.Invoice.StatedTotal = totals.Total
	return f
}

func run(t *testing.T, f Facts) Result {
	t.Helper()
	r, err := Run(f)
	require.NoError(t, err)
	return r
}

func kinds(r Result) map[finding.Kind]finding.Verdict {
	found := map[finding.Kind]finding.Verdict{}
	for _, f := range r.Findings {
		found[f.Kind] = f.Verdict
	}
	return found
}

// Common practice: ordered 10, received 5 + 3. An invoice for 10 is 2 over and waits while the 2 are open, one for
// 8 verifies; the 2 arrive, a second invoice for 2 verifies.
func TestWorkedQuantities(t *testing.T) {
	r := run(t, facts("10", "10", "5", "3"))
	require.Equal(t, finding.Waiting, r.Verdict)
	require.Equal(t, dec("2"), r.Findings[0].Excess)
	require.Equal(t, money.Amount(2_400), r.Findings[0].Difference)

	r = run(t, facts("10", "8", "5", "3"))
	require.Equal(t, finding.Agrees, r.Verdict)
	require.Len(t, r.Allocations, 2)
	require.Equal(t, []money.Decimal{dec("5"), dec("3")}, []money.Decimal{r.Allocations[0].Quantity, r.Allocations[1].Quantity}, "oldest receipt first")

	second := facts("10", "2", "5", "3", "2")
	line := second.Orders[0].Lines[0]
	line.Billed = dec("8")
	line.Receipts[0].Billed, line.Receipts[1].Billed = dec("5"), dec("3")
	r = run(t, second)
	require.Equal(t, finding.Agrees, r.Verdict)
	require.Equal(t, int64(3), r.Allocations[0].Receipt.ID)
}

// Several lines of an invoice about one order line take the oldest receipts one after the other, whatever is billed or gone
// of them already.
func TestLinesShareReceipts(t *testing.T) {
	f := facts("12", "3", "5", "2", "3", "4")
	line := f.Orders[0].Lines[0]
	line.Received, line.Billed, line.Returned = dec("12"), dec("3"), dec("2")
	line.Receipts[0].Billed = dec("1")
	line.Receipts[1].Returned, line.Receipts[1].Billed = dec("2"), dec("2") // billed, and gone since
	for i, quantity := range []string{"2", "5"} {
		l := f.Invoice.Lines[0]
		l.No, l.Quantity = i+2, dec(quantity)
		f.Invoice.Lines = append(f.Invoice.Lines, l)
	}
	type part struct {
		line    int
		receipt int64
		taken   string
	}
	var parts []part
	for _, a := range run(t, state(f)).Allocations {
		if a.Receipt != nil {
			parts = append(parts, part{a.Line, a.Receipt.ID, a.Quantity.String()})
		}
	}
	require.Equal(t, []part{{0, 1, "3"}, {1, 1, "1"}, {1, 3, "1"}, {2, 3, "2"}, {2, 4, "3"}}, parts)
}

func TestWhatCannotArriveIsOutside(t *testing.T) {
	closed := facts("10", "10", "8")
	closed.Orders[0].Lines[0].ClosedGoods = true
	require.Equal(t, finding.Outside, run(t, closed).Verdict)
	require.Equal(
		t,
		map[finding.Kind]finding.Verdict{finding.OverReceived: finding.Outside, finding.OverOrdered: finding.Outside},
		kinds(run(t, facts("10", "12", "8"))),
	)
}

// Earlier open invoices claim their part first; the need counts what they claim.
func TestReservedByEarlierInvoices(t *testing.T) {
	f := facts("10", "4", "8")
	f.Orders[0].Lines[0].Reserved = dec("6")
	r := run(t, f)
	require.Equal(t, finding.Waiting, r.Verdict)
	require.Equal(t, dec("2"), r.Findings[0].Available)
	f.Orders[0].Lines[0].Reserved = dec("7")
	require.Equal(t, finding.Outside, run(t, f).Verdict, "11 of 10 are claimed")
}

func TestTwoLinesOfOneInvoiceClaimInTurn(t *testing.T) {
	f := facts("10", "6", "10")
	again := f.Invoice.Lines[0]
	again.No, again.Quantity = 2, dec("5")
	f.Invoice.Lines = append(f.Invoice.Lines, again)
	r := run(t, state(f))
	require.Equal(t, finding.Outside, r.Verdict)
	require.Equal(t, 2, r.Findings[0].Line)
	require.Equal(t, dec("1"), r.Findings[0].Excess)
}

// A quantity limit is of the received quantity and used once per line, not once per invoice.
func TestQuantityLimitIsUsedOnce(t *testing.T) {
	f := facts("200", "104", "100")
	f.Orders[0].Lines[0].Limits = limit.Book{rule(limit.InvoicedQuantity, limit.Over, "5", 0)}
	r := run(t, f)
	require.Equal(t, finding.Within, r.Verdict)
	require.Nil(t, r.Allocations[1].Receipt, "the excess stands beyond receipts")
	require.Equal(t, dec("4"), r.Allocations[1].Quantity)
	f.Orders[0].Lines[0].Beyond = trade.Parts{{Relief: trade.Relief{Quantity: dec("2")}}}
	require.Equal(t, finding.Waiting, run(t, f).Verdict, "4 + 2 is past 5 % of 100")
}

func TestTwoWayCountsTheOrder(t *testing.T) {
	f := facts("10", "10")
	f.Orders[0].Lines[0].Level = trade.TwoWay
	r := run(t, f)
	require.Equal(t, finding.Agrees, r.Verdict, "no goods are needed")
	require.Nil(t, r.Allocations[0].Receipt)
	f.Orders[0].Lines[0].Billed = dec("1")
	require.Equal(t, map[finding.Kind]finding.Verdict{finding.OverOrdered: finding.Outside}, kinds(run(t, f)))
}

func price(f Facts, text string) Facts {
	f.Invoice.Lines[0].Price = dec(text)
	return state(f)
}

func TestUnitPrice(t *testing.T) {
	limits := limit.Book{rule(limit.UnitPrice, limit.Over, "2", 5_000)}
	for _, c := range []struct {
		price string
		sofar money.Amount
		want  finding.Verdict
	}{{"12.24", 0, finding.Within}, {"12.240001", 0, finding.Outside}, {"11", 0, finding.Within}, {"12.24", 4_900, finding.Outside}} {
		f := price(facts("10", "10", "10"), c.price)
		f.Orders[0].Lines[0].Limits, f.Orders[0].Lines[0].Dearer = limits, c.sofar
		require.Equal(t, c.want, kinds(run(t, f))[finding.UnitPrice], "%+v", c)
	}
	require.Equal(t, finding.Outside, run(t, price(facts("10", "10", "10"), "12.01")).Verdict, "no limit allows nothing")
	lower := price(facts("10", "10", "10"), "11")
	lower.Orders[0].Lines[0].Limits = limit.Book{rule(limit.UnitPrice, limit.Under, "5", 0)}
	require.Equal(t, finding.Outside, run(t, lower).Verdict, "a lower price passes unless a limit is set on that side")
}

// A limit runs over all lines of one invoice, as it runs over all invoices.
func TestPricesOfTwoLinesAddUp(t *testing.T) {
	f := price(facts("10", "5", "10"), "12.24")
	second := f.Invoice.Lines[0]
	second.No = 2
	f.Invoice.Lines = append(f.Invoice.Lines, second)
	for absolute, want := range map[int64]finding.Verdict{240: finding.Within, 239: finding.Outside} {
		f.Orders[0].Lines[0].Limits = limit.Book{rule(limit.UnitPrice, limit.Over, "2", absolute)}
		result := run(t, state(f))
		require.Equal(t, want, kinds(result)[finding.UnitPrice], "1.20 on each of two lines against %d", absolute)
	}
}

// Terms from receipt count from the last arrival that the invoice is set against: not from another invoice's goods, nor
// from what was reversed, nor from the invoice's own date.
func TestTheBaseDate(t *testing.T) {
	f := facts("10", "4", "3", "2", "5")
	for i, on := range []day.Day{"2026-11-02", "2026-11-05", "2026-11-09"} {
		f.Orders[0].Lines[0].Receipts[i].Day = on
	}
	terms := trade.Terms{FromReceipt: true}
	require.Equal(t, day.Day("2026-11-05"), run(t, f).BaseDate(terms, "2026-11-20"))
	require.Equal(t, day.Day("2026-11-20"), run(t, f).BaseDate(trade.Terms{}, "2026-11-20"))
	require.Equal(t, day.Day("2026-11-20"), run(t, facts("10", "4")).BaseDate(terms, "2026-11-20"), "nothing came yet")
	f.Orders[0].Lines[0].Receipts[1].Reversed = dec("2")
	f.Orders[0].Lines[0].Received -= dec("2")
	require.Equal(t, day.Day("2026-11-09"), run(t, f).BaseDate(terms, "2026-11-20"))
}

func TestCharges(t *testing.T) {
	for _, c := range []struct {
		charge, before money.Amount
		want           finding.Verdict
	}{{1_000, 0, finding.Within}, {1_201, 0, finding.Outside}, {1_000, 1_600, finding.Outside}} {
		f := facts("10", "10", "10")
		f.Limits = limit.Book{rule(limit.Charge, limit.Over, "10", 2_500)} // 10 % of 120.00
		f.Orders[0].ChargedSoFar = map[string]money.Amount{"freight": c.before}
		f.Invoice.Charges = []trade.DocumentCharge{{Kind: "freight", Reason: "Freight", Amount: c.charge, TaxCategory: "S", TaxRate: dec("23")}}
		require.Equal(t, c.want, kinds(run(t, state(f)))[finding.ChargeNotOrdered], "%+v", c)
	}
}

func TestStatedAmounts(t *testing.T) {
	limits := limit.Book{rule(limit.StatedTotal, limit.Over, "", 5), rule(limit.TaxRounding, limit.Under, "", 2)}
	for _, c := range []struct {
		off  money.Amount
		want finding.Verdict
	}{{5, finding.Within}, {6, finding.Outside}, {-1, finding.Outside}} {
		f := facts("10", "10", "10")
		f.Limits = limits
		f.Invoice.StatedTotal += c.off
		require.Equal(t, c.want, run(t, f).Verdict)
	}
	f := facts("10", "10", "10")
	f.Limits = limits
	f.Invoice.Taxes = []trade.StatedTax{{Category: "S", Rate: dec("23"), Amount: 2_758}} // computed 27.60
	require.Equal(t, finding.Within, run(t, state(f)).Verdict)
	f.Invoice.Taxes[0].Amount = 2_757
	r := run(t, state(f))
	require.Equal(t, map[finding.Kind]finding.Verdict{finding.TaxAmount: finding.Outside}, kinds(r))
	require.True(t, r.Findings[0].May(finding.Accept))
}

// What may never be accepted stays held whatever anybody accepts (rules §6).
func TestNeverAccepted(t *testing.T) {
	for kind, change := range map[finding.Kind]func(*Facts){
		finding.StatedTotal:     func(f *Facts) { f.Invoice.StatedTotal += 100 },
		finding.CurrencyDiffers: func(f *Facts) { f.Orders[0].Currency = "USD" },
		finding.UnitDiffers:     func(f *Facts) { f.Invoice.Lines[0].Unit = "KGM" },
		finding.OrderNotOpen:    func(f *Facts) { f.Orders[0].State = trade.Cancelled },
		finding.SelfBilled:      func(f *Facts) { f.Orders[0].Lines[0].SelfBilled = true },
		finding.LineClosed:      func(f *Facts) { f.Orders[0].Lines[0].ClosedInvoices = true },
		finding.OrderUnknown:    func(f *Facts) { f.Orders = nil },
		finding.SupplierUnknown: func(f *Facts) { f.Supplier = nil },
		finding.LineUnknown:     func(f *Facts) { f.Invoice.Lines[0].OrderLineID = 7 },
		finding.QuantityMissing: func(f *Facts) { f.Invoice.Lines[0].Quantity = 0 },
		finding.CreditUnclear:   func(f *Facts) { f.Invoice.Kind = trade.CreditNote },
		finding.Creditable: func(f *Facts) {
			f.Invoice.Kind, f.Invoice.Lines[0].Credits = trade.CreditNote, trade.ForPrice
		},
		finding.PrepaidStated: func(f *Facts) { f.Invoice.Prepaid = 100 },
	} {
		f := facts("10", "10", "10")
		change(&f)
		if kind != finding.StatedTotal {
			f = state(f)
		}
		f.Acceptances = []finding.Acceptance{{Kind: kind, Difference: 1_000_000}, {Kind: kind, Line: 1, Difference: 1_000_000, Excess: dec("1000")}}
		r := run(t, f)
		require.Equal(t, finding.Outside, kinds(r)[kind], kind)
		require.Equal(t, finding.Outside, r.Verdict, kind)
		require.False(t, r.Findings[0].May(finding.Accept), kind)
	}
}

// An acceptance answers its finding and lapses when the difference grows.
func TestAcceptanceLapses(t *testing.T) {
	f := price(facts("10", "10", "10"), "13")
	f.Acceptances = []finding.Acceptance{{ID: 7, Kind: finding.UnitPrice, Line: 1, Side: limit.Over, Difference: 1_000}}
	require.Equal(t, finding.Within, run(t, f).Verdict)
	require.Empty(t, run(t, f).Lapsed)
	grown := run(t, price(f, "13.01"))
	require.Equal(t, finding.Outside, grown.Verdict)
	require.Equal(t, int64(7), grown.Lapsed[0].ID, "for good")
	require.Empty(t, run(t, price(f, "11")).Lapsed, "what shrinks does not lapse")
}

// Each of several invoices that this one may repeat is a finding of its own, and is answered by itself.
func TestEachSecondCopyIsAnsweredByItself(t *testing.T) {
	f := facts("10", "10", "10")
	f.Lookalikes = []Other{{Number: 1001, SupplierNumber: "A-1"}, {Number: 1002, SupplierNumber: "A-2"}}
	f.Acceptances = []finding.Acceptance{{Kind: finding.LikelyDuplicate, Side: limit.Over, About: finding.About{Other: 1001}, Difference: 1_000_000}}
	r := run(t, f)
	require.Equal(t, finding.Outside, r.Verdict)
	f.Acceptances = append(
		f.Acceptances,
		finding.Acceptance{Kind: finding.LikelyDuplicate, Side: limit.Over, About: finding.About{Other: 1002}, Difference: 1_000_000},
	)
	require.Equal(t, finding.Within, run(t, f).Verdict)
}

// An absolute limit of the company is in its own currency, whatever the invoice is in; a limit of the order line is in the order's.
func TestAbsoluteLimitsInAnotherCurrency(t *testing.T) {
	for _, x := range []struct {
		level   limit.Level
		price   string
		verdict finding.Verdict
	}{
		{limit.Company, "11.11", finding.Within}, {limit.Company, "11.12", finding.Outside}, // 10 pieces; 11.10 USD are 9.99 EUR, 11.20 are 10.08
		{limit.Line, "11.00", finding.Within}, {limit.Line, "11.01", finding.Outside},
	} {
		f := price(facts("10", "10", "10"), x.price)
		f.Orders[0].Currency, f.Invoice.Currency, f.Company, f.Invoice.Rate = "USD", "USD", "EUR", dec("0.9")
		f.Orders[0].Lines[0].Price = dec("10")
		f.Orders[0].Lines[0].Limits = limit.Book{{Level: x.level, Kind: limit.UnitPrice, Side: limit.Over, Absolute: new(int64(1_000))}}
		require.Equal(t, x.verdict, kinds(run(t, f))[finding.UnitPrice], "%v %s", x.level, x.price)
	}
}

// What an invoice states beside its total is compared, and the first place where it parts is named; a rounding that it
// states is no difference.
func TestWhereFiguresPart(t *testing.T) {
	f := facts("10", "10", "10")
	totals, err := f.Invoice.Totals()
	require.NoError(t, err)
	f.Invoice.Figures = []trade.StatedFigure{
		{Term: "BT-131", Line: 1, Amount: totals.LineNets[0] + 700},
		{Term: "BT-106", Amount: totals.Lines + 700},
		{Term: "BT-112", Amount: totals.Total},
	}
	r := run(t, f)
	require.Equal(t, finding.Outside, kinds(r)[finding.StatedTotal])
	require.Equal(
		t,
		finding.Place{Term: "BT-131", Line: 1, Stated: totals.LineNets[0] + 700, Computed: totals.LineNets[0], Alone: true},
		*r.Findings[len(r.Findings)-1].Place,
	)
	wrong := f
	wrong.Invoice.Figures = []trade.StatedFigure{{Term: "BT-112", Amount: totals.Total + 700}}
	wrong.Invoice.StatedTotal = totals.Total + 700
	r = run(t, wrong)
	require.Equal(t, finding.Place{Term: "BT-112", Stated: totals.Total + 700, Computed: totals.Total}, *r.Findings[len(r.Findings)-1].Place)
	f.Invoice.Figures = []trade.StatedFigure{
		{Term: "BT-131", Line: 1, Amount: totals.LineNets[0]},
		{Term: "BT-112", Amount: totals.Total},
		{Term: "BT-115", Amount: totals.Total + 40},
	}
	f.Invoice.Rounded, f.Invoice.StatedTotal = 40, totals.Total+40
	require.Equal(t, finding.Agrees, run(t, f).Verdict, "whole krone")
	f.Invoice.StatedTotal++
	require.NotEmpty(t, kinds(run(t, f))[finding.StatedTotal])
}

// What is no invoice, is dated ahead or has no rate is held, whatever else agrees.
func TestWhatIsNotBookedAsItIs(t *testing.T) {
	for _, code := range []string{"325", "383", "384", "386", "389", "999"} {
		f := facts("10", "10", "10")
		f.Invoice.Code = code
		require.Equal(t, finding.Outside, kinds(run(t, f))[finding.NotBooked], code)
	}
	f := facts("10", "10", "10")
	f.Invoice.Code, f.Invoice.Date, f.Today = "380", "2026-11-23", "2026-11-23"
	require.Equal(t, finding.Agrees, run(t, f).Verdict)
	f.Today = f.Invoice.Date.Add(-1)
	require.Equal(t, finding.Outside, kinds(run(t, f))[finding.DateAhead])
	f = facts("10", "10", "10")
	f.Invoice.Rate = 0
	require.Equal(t, finding.Outside, kinds(run(t, f))[finding.NoRate])
}

// These let the invoice verify and stop its release only.
func TestReleaseIsStopped(t *testing.T) {
	f := facts("10", "10", "10")
	f.Invoice.IBAN, f.Supplier.Holds = "Y", trade.Holds{trade.PaymentHeld}
	r := run(t, f)
	require.True(t, r.Verifies())
	require.Len(t, r.Findings, 2)
	for _, said := range r.Findings {
		require.Equal(t, finding.BlocksRelease, said.Blocks())
	}
}

func TestLikelyDuplicate(t *testing.T) {
	f := facts("10", "10", "10")
	f.Lookalikes = []Other{{1007, "PC-1007"}}
	r := run(t, f)
	require.Equal(t, map[finding.Kind]finding.Verdict{finding.LikelyDuplicate: finding.Outside}, kinds(r))
}

func TestAuthorityCountsALinesQuantityOnce(t *testing.T) {
	require.Equal(t, money.Amount(900), Authority([]finding.Finding{
		{
			Kind:       finding.OverReceived,
			Line:       1,
			Difference: 400,
		}, {Kind: finding.OverOrdered, Line: 1, Difference: 300}, {Kind: finding.UnitPrice, Line: 1, Difference: 500}}))
}

func TestFindLines(t *testing.T) {
	order := &trade.Order{Currency: "EUR", Lines: []*trade.OrderLine{
		{ID: 11, No: 1, SupplierCode: "BF-1", ItemCode: "KRILL", Quantity: dec("1"), Unit: "KGM", Price: dec("4"), Base: dec("1")},
		{ID: 12, No: 2, SupplierCode: "BF-2", ItemCode: "SQUID", Quantity: dec("1"), Unit: "KGM", Price: dec("4"), Base: dec("1")},
		{ID: 13, No: 3, Quantity: dec("1"), Unit: "C62", Price: dec("9"), Base: dec("1")}}}
	lines := []trade.InvoiceLine{
		{OrderLineRef: "2", SupplierCode: "BF-1"},
		{SupplierCode: "bf-1"},
		{ItemCode: "squid"},
		{Unit: "C62", Price: dec("9"), Quantity: dec("5"), Base: dec("1")},
		{Unit: "KGM", Price: dec("4"), Quantity: dec("1"), Base: dec("1")},
		{OrderLineRef: "7"},
		{ChargeKind: "freight", OrderLineRef: "1"},
	}
	FindLines(lines, order, nil)
	var found []int64
	for _, l := range lines {
		found = append(found, l.OrderLineID)
	}
	require.Equal(t, []int64{12, 11, 12, 13, 0, 0, 0}, found, "two that fit are as good as none; a charge needs no line")
}

// A tax rate that differs from the order's is outside, with what it makes on the line's net; so is another category (rules
// §6). It may be accepted.
func TestTaxRateDiffers(t *testing.T) {
	f := facts("10", "10", "10") // 120.00 at 23 %
	f.Invoice.Lines[0].TaxRate = dec("9")
	r := run(t, state(f))
	require.Equal(t, map[finding.Kind]finding.Verdict{finding.TaxRateDiffers: finding.Outside}, kinds(r))
	require.Equal(t, money.Amount(1_680), r.Findings[0].Difference, "27.60 − 10.80")
	require.True(t, r.Findings[0].May(finding.Accept))
	f.Invoice.Lines[0].TaxRate, f.Invoice.Lines[0].TaxCategory, f.Invoice.Lines[0].OwnRate = dec("23"), "AE", new(dec("23"))
	r = run(t, state(f))
	require.Equal(t, map[finding.Kind]finding.Verdict{finding.TaxRateDiffers: finding.Outside}, kinds(r))
	require.Zero(t, r.Findings[0].Difference)
}

// An account that is not known stops the release; a further one that is known, or the one that is paid, says nothing.
func TestTheAccountOnAnInvoice(t *testing.T) {
	for iban, stops := range map[string]bool{"": false, "X": false, "Y": true, "Z": false, "NEW": true, "OLD": true} {
		f := facts("10", "10", "10")
		f.Invoice.IBAN = iban
		f.Supplier.Accounts = []trade.BankAccount{{IBAN: "Z"}, {IBAN: "NEW", By: 3}, {IBAN: "OLD", Ended: true}}
		_, said := kinds(run(t, f))[finding.BankAccount]
		require.Equal(t, stops, said, iban)
	}
}

func TestPriceDifferencesBelongToAnOrderLine(t *testing.T) {
	inv := trade.Invoice{Lines: []trade.InvoiceLine{{OrderLineID: 7}, {OrderLineID: 8}, {OrderLineID: 7}}}
	found := func(line int, price string, difference money.Amount) finding.Finding {
		return finding.Finding{Kind: finding.UnitPrice, Line: line, Price: dec(price), Reference: dec("12"), Difference: difference}
	}
	sums, err := PriceDifferences(
		inv,
		[]finding.Finding{found(1, "13", 400), found(2, "11", 50), found(3, "11.50", 150), {Kind: finding.ChargeNotOrdered, Difference: 999}},
	)
	require.NoError(t, err)
	require.Equal(t, map[int64]Asked{7: {Dearer: 400, Cheaper: 150}, 8: {Cheaper: 50}}, sums)
	for _, line := range []int{0, -1, 4} {
		_, err = PriceDifferences(inv, []finding.Finding{found(line, "13", 400)})
		require.ErrorContains(t, err, "of an invoice with 3 lines")
	}
}
