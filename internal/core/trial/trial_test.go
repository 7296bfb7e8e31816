package trial

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func ptr[T any](v T) *T { return &v }

// percent is a limit in a place by its percentage.
func percent(p Place, kind limit.Kind, of string) Limit {
	return Limit{p, limit.Rule{Level: levelOf(p), Kind: kind, Side: limit.Over, Percent: ptr(dec(of))}}
}

// dearer is an invoice for one price that is above the order's by so many per cent of 10.00, worth so much.
func dearer(number int64, supplier int64, by string, worth money.Amount) Case {
	above := dec(by)
	price := money.PriceOf(dec("10") + above/10)
	agreed := money.PriceOf(dec("10"))
	return Case{
		Invoice: number, Supplier: supplier, SupplierName: string(rune('A' + supplier)), Currency: "EUR", Rate: money.Int(1),
		Lines: map[int]Line{1: {OrderLine: 70, Item: 7}},
		Findings: []finding.Finding{{
			Kind: finding.UnitPrice, Line: 1, Verdict: finding.Outside, Difference: worth, Price: price.Decimal(), Reference: agreed.Decimal(),
			Bound: &limit.Bound{Kind: limit.UnitPrice, Side: limit.Over, Level: limit.Company},
			Asked: &limit.Asked{Price: &price, Agreed: &agreed, Worth: int64(worth)},
		}},
	}
}

// Who passes, what it costs, who gains and what people said then, of invoices that are 1 to 4 per cent dearer.
func TestAWiderLimit(t *testing.T) {
	said := func(c Case, what Decided) Case {
		c.Decisions = []Decision{{What: what, Line: 1, Kind: finding.UnitPrice, Side: limit.Over, By: "Nora"}}
		return c
	}
	also := dearer(5, 2, "2.5", 40_00)
	also.Findings = append(also.Findings, finding.Finding{Kind: finding.TaxRateDiffers, Verdict: finding.Outside}) // held for a second reason
	open := dearer(6, 2, "3", 7_00)
	open.Open = true
	cases := []Case{
		{Invoice: 1, Supplier: 1, Currency: "EUR", Rate: money.Int(1)},
		dearer(2, 1, "1", 10_00),
		said(dearer(3, 1, "2.5", 25_00), Accepted),
		said(dearer(4, 1, "3", 30_00), Claimed),
		also, open,
		dearer(7, 3, "4", 50_00),
		dearer(8, 4, "1.5", 3_00), // its supplier has one per cent of its own
	}
	own := percent(Place{Supplier: 4}, limit.UnitPrice, "1")
	limits := NewLimits([]Limit{percent(Place{}, limit.UnitPrice, "2"), own})
	q := Question{Limit: percent(Place{}, limit.UnitPrice, "3")}
	o, err := Try(cases, limits, q, "EUR")
	require.NoError(t, err)
	require.Equal(t, Figure{Verified: 2, Held: 6, Passed: 10_00}, o.Today)
	require.Equal(t, Figure{Verified: 5, Held: 3, Passed: 72_00}, o.Tried)
	require.Equal(t, dec("2"), *o.Now.Percent)
	require.Len(t, o.Gained, 3)
	require.Equal(t, []int64{4, 3, 6}, []int64{o.Gained[0].Invoice, o.Gained[1].Invoice, o.Gained[2].Invoice}, "what people said no to first")
	require.Equal(t, Claimed, o.Gained[0].Decision.What)
	require.Equal(t, 1, o.Open)
	require.Equal(t, []Gain{
		{Supplier: 1, Name: "B", HeldToday: 2, Passed: 55_00, Accepted: 1, AcceptedAmount: 25_00, SaidNo: 1, NoWorth: 30_00},
		{Supplier: 2, Name: "C", HeldToday: 2, HeldTried: 1, Passed: 7_00},
		{HeldToday: 2, HeldTried: 2},
	}, o.Suppliers)
	require.Equal(t, Figure{Verified: 6, Held: 2, Passed: 122_00}, o.Beyond.Figure, "at 4 %")
	at := map[money.Decimal]Figure{}
	for _, p := range o.Curve {
		at[*p.Percent] = p.Figure
	}
	require.Equal(t, []Figure{o.Today, o.Tried, o.Beyond.Figure}, []Figure{at[dec("2")], at[dec("3")], at[dec("4")]})
	require.Equal(t, Figure{Verified: 1, Held: 7}, at[0])

	require.Equal(t, []Limit{own}, limits.Nearer(q.Limit))
	q.Also = []Place{own.Place}
	o, err = Try(cases, limits, q, "EUR")
	require.NoError(t, err)
	require.Equal(t, Figure{Verified: 6, Held: 2, Passed: 75_00}, o.Tried, "with the supplier's own")

	narrower, err := Try(cases, limits, Question{Limit: percent(Place{}, limit.UnitPrice, "0.5")}, "EUR")
	require.NoError(t, err)
	require.Len(t, narrower.Lost, 1)
	require.Nil(t, narrower.Beyond)
	require.Equal(t, []Holding{{percent(Place{}, limit.UnitPrice, "2"), 5}, {own, 1}},
		Held(cases, []Limit{own, percent(Place{}, limit.UnitPrice, "2")}, "EUR"))
}

// What is tried comes out as the match itself does under that limit: of prices, quantities, charges, stated tax and totals, in
// a foreign currency too, whichever level sets the limit.
func TestATrialIsTheMatch(t *testing.T) {
	changed := 0
	rapid.Check(t, func(t *rapid.T) {
		for range 8 {
			if changes(t) {
				changed++
			}
		}
	})
	require.Positive(t, changed)
}

// changes tries a limit on an invoice, and tells whether it stands otherwise then.
func changes(t *rapid.T) bool {
	rules := func(name string) (all []Limit) {
		for _, kind := range []limit.Kind{limit.UnitPrice, limit.InvoicedQuantity, limit.Charge, limit.TaxRounding, limit.StatedTotal} {
			for _, place := range []Place{{}, {Supplier: 1}, {Item: 7}, {Item: 7, Supplier: 1}, {OrderLine: 70}} {
				if kind != limit.UnitPrice && kind != limit.InvoicedQuantity && (place.Item != 0 || place.OrderLine != 0) {
					continue
				}
				for _, side := range []limit.Side{limit.Over, limit.Under} {
					if !rapid.Bool().Draw(t, name) {
						continue
					}
					r := limit.Rule{Level: levelOf(place), Kind: kind, Side: side}
					if rapid.Bool().Draw(t, "by percentage") {
						r.Percent = ptr(rapid.SampledFrom([]money.Decimal{0, dec("1"), dec("2"), dec("3.333333"), dec("10")}).Draw(t, "percentage"))
					}
					if r.Percent == nil || rapid.Bool().Draw(t, "and at most") {
						r.Absolute = ptr(rapid.SampledFrom([]int64{0, 1, 2, 500, 2_000_000}).Draw(t, "absolute"))
					}
					all = append(all, Limit{place, r})
				}
			}
		}
		return all
	}
	set := rules("set")
	facts := drawn(t)
	before, err := match.Run(under(facts, set))
	require.NoError(t, err)
	c := Case{Invoice: 1, Supplier: 1, Currency: facts.Invoice.Currency, Rate: facts.Invoice.Rate, Lines: map[int]Line{1: {70, 7}}}
	kept, err := json.Marshal(before.Findings)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(kept, &c.Findings), "as it is kept")

	tried := percent(Place{}, limit.UnitPrice, "2.5")
	if others := rules("tried"); len(others) > 0 {
		tried = rapid.SampledFrom(others).Draw(t, "limit")
	}
	if tried.OrderLine != 0 {
		tried.OrderLine, tried.Level = 0, limit.Company
	}
	var with []Limit
	for _, l := range set {
		if !l.Same(tried) {
			with = append(with, l)
		}
	}
	after, err := match.Run(under(facts, append(with, tried)))
	require.NoError(t, err)
	o, err := Try([]Case{c}, NewLimits(set), Question{Limit: tried}, "EUR")
	require.NoError(t, err)
	require.Equal(t, before.Verifies(), o.Today.Verified == 1, "as limits stand: %+v", before.Findings)
	require.Equal(t, after.Verifies(), o.Tried.Verified == 1, "under %+v: %+v, now %+v", tried, before.Findings, after.Findings)
	return before.Verifies() != after.Verifies()
}

// under gives facts the limits.
func under(f match.Facts, all []Limit) match.Facts {
	line := *f.Orders[0].Lines[0]
	line.Limits, f.Limits = nil, nil
	for _, l := range all {
		line.Limits = append(line.Limits, l.Rule)
		if l.OrderLine == 0 && l.Item == 0 {
			f.Limits = append(f.Limits, l.Rule)
		}
	}
	order := *f.Orders[0]
	order.Lines, f.Orders = []*trade.OrderLine{&line}, []*trade.Order{&order}
	return f
}

// drawn are facts of an invoice about one line, with a difference here and there.
func drawn(t *rapid.T) match.Facts {
	pick := func(name string, of ...string) money.Decimal { return dec(rapid.SampledFrom(of).Draw(t, name)) }
	line := &trade.OrderLine{
		ID: 70, No: 1, Description: "Krill", Quantity: dec("100"), Unit: "C62", Price: dec("12"), Base: pick("base", "1", "7"),
		Level: rapid.SampledFrom([]trade.Level{trade.ThreeWay, trade.TwoWay}).Draw(t, "level"), TaxCategory: "S", TaxRate: dec("23"),
		Dearer: money.Amount(rapid.SampledFrom([]int64{0, 100, 480}).Draw(t, "dearer before")), Billed: pick("billed", "0", "0", "0", "3"),
	}
	line.Received = pick("received", "100", "100", "97", "0")
	if line.Received > 0 {
		line.Receipts = []*trade.Receipt{{ID: 1, Quantity: line.Received, Billed: line.Billed}}
	}
	line.Net, _ = money.Net(line.Quantity, line.Price, line.Base, 0, 0, "EUR")
	currency, rate := money.Currency("EUR"), money.Int(1)
	if rapid.Bool().Draw(t, "foreign") {
		currency, rate = "GBP", dec("1.17")
	}
	inv := trade.Invoice{ID: 9, Kind: trade.PlainInvoice, Currency: currency, Rate: rate, SupplierID: 1, OrderID: 1, Lines: []trade.InvoiceLine{{
		No: 1, OrderID: 1, OrderLineID: 70, Description: "Krill", Quantity: pick("invoiced", "97", "97", "97", "98", "101", "110"), Unit: "C62",
		Price: pick("price", "12", "12", "12", "12.12", "12.24", "12.4", "11.9"), Base: line.Base, TaxCategory: "S", TaxRate: dec("23"),
	}}}
	if freight := rapid.SampledFrom([]money.Amount{0, 0, 0, 500, 2_000}).Draw(t, "freight"); freight > 0 {
		inv.Charges = []trade.DocumentCharge{{Kind: "freight", Amount: freight, TaxCategory: "S", TaxRate: dec("23"), Reason: "freight"}}
	}
	totals, err := inv.Totals()
	require.NoError(t, err)
	off := rapid.SampledFrom([]money.Amount{0, 0, 0, 0, 1, -2, 3}).Draw(t, "off")
	inv.StatedTotal = totals.Total + off
	return match.Facts{
		Invoice: inv, Supplier: &trade.Supplier{ID: 1, Name: "Brackwater"}, Company: "EUR", Policy: trade.Policy{OverDelivery: true, UnderDelivery: true},
		Orders: []*trade.Order{{ID: 1, Number: 4107, State: trade.Issued, Currency: currency, Lines: []*trade.OrderLine{line}}},
	}
}

// What can be invoiced at most of a line moves with the limit of invoiced quantity: it lifts what was past it, and past it nothing
// passes although the excess alone would (rules §6).
func TestTheCeilingMovesWithTheLimit(t *testing.T) {
	for _, c := range []struct {
		received, invoiced string
		passes             bool
	}{{"100", "101", true}, {"102", "103", false}} { // 1 of 100 and of 102; 100 are ordered
		line := &trade.OrderLine{
			ID: 70, No: 1, Description: "Krill", Quantity: dec("100"), Unit: "C62", Price: dec("12"), Base: money.Int(1), Level: trade.ThreeWay,
			TaxCategory: "S", TaxRate: dec("23"), Received: dec(c.received), Receipts: []*trade.Receipt{{ID: 1, Quantity: dec(c.received)}}, Net: 1200_00,
		}
		inv := trade.Invoice{ID: 9, Kind: trade.PlainInvoice, Currency: "EUR", Rate: money.Int(1), SupplierID: 1, OrderID: 1, Lines: []trade.InvoiceLine{{
			No: 1, OrderID: 1, OrderLineID: 70, Description: "Krill", Quantity: dec(c.invoiced), Unit: "C62", Price: dec("12"), Base: money.Int(1),
			TaxCategory: "S", TaxRate: dec("23"),
		}}}
		totals, err := inv.Totals()
		require.NoError(t, err)
		inv.StatedTotal = totals.Total
		facts := match.Facts{
			Invoice: inv, Supplier: &trade.Supplier{ID: 1, Name: "Brackwater"}, Company: "EUR",
			Orders: []*trade.Order{{ID: 1, Number: 4107, State: trade.Issued, Currency: "EUR", Lines: []*trade.OrderLine{line}}},
		}
		before, err := match.Run(under(facts, nil))
		require.NoError(t, err)
		require.Len(t, before.Findings, 2, "past what is received, and past all that can come")
		tried := percent(Place{}, limit.InvoicedQuantity, "1")
		after, err := match.Run(under(facts, []Limit{tried}))
		require.NoError(t, err)
		kept := Case{Invoice: 1, Supplier: 1, Currency: "EUR", Rate: money.Int(1), Findings: before.Findings}
		o, err := Try([]Case{kept}, NewLimits(nil), Question{Limit: tried}, "EUR")
		require.NoError(t, err)
		require.Equal(t, []bool{c.passes, c.passes}, []bool{after.Verifies(), o.Tried.Verified == 1}, "%+v", c)
	}
}
