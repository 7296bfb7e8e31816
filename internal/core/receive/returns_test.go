package receive

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// came is an order of ten at 10.00 whose delivery 7001 brought all of it; so many are
// billed and so many were free.
func came(billed, free string) (*trade.Order, *trade.Receipt) {
	o := order("10", "10", "10", false)
	o.Lines[0].Net = 10_000
	r := &trade.Receipt{Delivery: 7001, Quantity: dec("10"), Value: 10_000, ValueBase: 10_000, Free: dec(free)}
	o.Lines[0].Receipts = []*trade.Receipt{r}
	if b := dec(billed); b > 0 {
		taken, _ := r.Next(b)
		o.Lines[0].Take(trade.Allocation{Kind: trade.AllocatedBilled, Receipt: r, InvoiceLine: 1, Relief: taken})
	}
	return o, r
}

func back(quantity string, outcome Outcome) ReturnEntry {
	return ReturnEntry{Delivery: 7001, Day: "2026-11-23", Outcome: outcome, Reason: "thawed", Lines: []ReturnLine{{No: 1, Quantity: dec(quantity)}}}
}

// Rules §4: a return takes the uninvoiced part first.
func TestTheUninvoicedPartGoesBackFirst(t *testing.T) {
	for name, c := range map[string]struct{ billed, back, invoiced string }{
		"before the invoice":  {"0", "4", "0"},
		"what is invoiced":    {"10", "4", "4"},
		"the uninvoiced part": {"7", "3", "0"},
		"a part of it":        {"7", "5", "2"},
	} {
		o, _ := came(c.billed, "0")
		pieces, err := MakeReturn(o, back(c.back, Credit), Returnable{Arrived: "2026-11-20"}, "2026-11-23")
		require.NoError(t, err, name)
		require.Equal(t, dec(c.invoiced), pieces[0].Invoiced(), name)
		require.Equal(t, dec(c.back), pieces[0].Quantity, name)
	}
}

func TestReturnsThatAreRefused(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*ReturnEntry)
		field  string
	}{
		"more than is held":      {func(e *ReturnEntry) { e.Lines[0].Quantity = dec("8.000001") }, "lines[0].quantity"}, // two were free
		"below zero":             {func(e *ReturnEntry) { e.Lines[0].Quantity = -1 }, "lines[0].quantity"},
		"another line":           {func(e *ReturnEntry) { e.Lines[0].No = 2 }, "lines[0].quantity"},
		"twice":                  {func(e *ReturnEntry) { e.Lines = append(e.Lines, e.Lines[0]) }, "lines[1].quantity"},
		"another delivery":       {func(e *ReturnEntry) { e.Delivery = 7002 }, "lines[0].quantity"},
		"nothing":                {func(e *ReturnEntry) { e.Lines[0].Quantity = 0 }, "lines"},
		"no reason":              {func(e *ReturnEntry) { e.Reason = " " }, "reason"},
		"no outcome":             {func(e *ReturnEntry) { e.Outcome = "scrap" }, "outcome"},
		"in the future":          {func(e *ReturnEntry) { e.Day = "2026-11-24" }, "day"},
		"before the goods":       {func(e *ReturnEntry) { e.Day = "2026-11-19" }, "day"},
		"no day":                 {func(e *ReturnEntry) { e.Day = "" }, "day"},
		"a part of a whole unit": {func(e *ReturnEntry) { e.Lines[0].Quantity = dec("1.5") }, "lines[0].quantity"},
	} {
		t.Run(name, func(t *testing.T) {
			o, r := came("0", "2")
			o.Lines[0].Whole = name == "a part of a whole unit"
			before := *r
			e := back("3", Credit)
			c.change(&e)
			_, err := MakeReturn(o, e, Returnable{Arrived: "2026-11-20"}, "2026-11-23")
			var f *fault.Fault
			require.True(t, errors.As(err, &f))
			require.Equal(t, c.field, f.Field)
			if strings.HasPrefix(c.field, "lines[0]") {
				require.Equal(t, before, *r, "nothing of the line is taken")
			}
		})
	}
}

// What goes back of a line that came in lots goes back by lot: named, unless there is no choice.
func TestLotsGoBack(t *testing.T) {
	named := func(pairs ...string) (lots []LotBack) {
		for i := 0; i < len(pairs); i += 2 {
			lots = append(lots, LotBack{pairs[i], dec(pairs[i+1])})
		}
		return
	}
	here := func(pairs ...string) (lots []Lot) {
		for _, l := range named(pairs...) {
			lots = append(lots, Lot{Lot: l.Lot, Quantity: l.Quantity})
		}
		return
	}
	two := here("A", "6", "B", "4")
	for name, c := range map[string]struct {
		here     []Lot
		quantity string
		names    []LotBack
		back     []LotBack
		field    string
		says     string
	}{
		"no lots came":               {nil, "3", nil, nil, "", ""},
		"the one that is here":       {here("B", "4"), "3", nil, named("B", "3"), "", ""},
		"all of them":                {two, "10", nil, named("A", "6", "B", "4"), "", ""},
		"some, not said which":       {two, "3", nil, nil, "lines[0].quantity", "Say how much of each lot goes back; here are 6 of lot A, 4 of lot B."},
		"named":                      {two, "0", named("A", "1", "B", "2"), named("A", "1", "B", "2"), "", ""},
		"named, one at zero":         {two, "2", named("A", "0", "B", "2"), named("B", "2"), "", ""},
		"all of one":                 {two, "0", named("A", "6"), named("A", "6"), "", ""},
		"a little more than one has": {two, "0", named("A", "6.000001"), nil, "lines[0].lots[0]", "Of lot A are 6 here, so 6.000001 cannot go back."},
		"twice, together too much":   {two, "0", named("B", "3", "B", "2"), nil, "lines[0].lots[1]", "Of lot B are 1 here, so 2 cannot go back."},
		"a lot that did not come":    {two, "0", named("C", "1"), nil, "lines[0].lots[0]", "Of lot C are 0 here, so 1 cannot go back."},
		"below zero":                 {two, "0", named("A", "3", "B", "-1"), nil, "lines[0].lots[1]", "A quantity that goes back cannot be below zero."},
		"they do not add up":         {two, "4", named("A", "1", "B", "2"), nil, "lines[0].quantity", "The lots add up to 3, and 4 go back."},
		"a part of a whole unit":     {two, "0", named("A", "0.5", "B", "0.5"), nil, "lines[0].quantity", "Krill is counted in whole units."},
		"more than is here":          {two, "11", nil, nil, "lines[0].quantity", "Line 1: delivery 7001 still holds 10, so 11 cannot go back."},
	} {
		t.Run(name, func(t *testing.T) {
			o, r := came("0", "0")
			o.Lines[0].Whole = name == "a part of a whole unit"
			e := back(c.quantity, Credit)
			e.Lines[0].Lots = c.names
			returns, err := MakeReturn(o, e, Returnable{Arrived: "2026-11-20", Lots: map[int][]Lot{1: c.here}}, "2026-11-23")
			if c.says != "" {
				var f *fault.Fault
				require.True(t, errors.As(err, &f), "%v", err)
				require.Equal(t, []string{c.field, c.says}, []string{f.Field, f.Sentence})
				require.Zero(t, r.Returned)
				return
			}
			require.NoError(t, err)
			require.Equal(t, c.back, returns[0].Lots)
			if len(c.back) > 0 {
				var sum money.Decimal
				for _, l := range c.back {
					sum += l.Quantity
				}
				require.Equal(t, sum, returns[0].Quantity)
			}
		})
	}
}

// A count in another unit is judged in the order's own, by the item's conversions.
func TestAnotherUnit(t *testing.T) {
	carton := trade.Conversion{Unit: "XCT", Units: dec("1"), Makes: dec("12.5")}
	three := trade.Conversion{Unit: "XBX", Units: dec("3"), Makes: dec("10")}
	for name, c := range map[string]struct {
		line    Line
		want    string
		verdict finding.Verdict
		field   string
	}{
		"cartons":               {Line{No: 1, Quantity: dec("8"), Unit: "XCT"}, "100", finding.Agrees, ""},
		"one carton too few":    {Line{No: 1, Quantity: dec("7"), Unit: "XCT"}, "87.5", finding.Waiting, ""},
		"past the limit":        {Line{No: 1, Quantity: dec("9"), Unit: "XCT"}, "112.5", finding.Outside, ""},
		"boxes that come out":   {Line{No: 1, Quantity: dec("30"), Unit: "XBX"}, "100", finding.Agrees, ""},
		"a third of a kilogram": {Line{No: 1, Quantity: dec("1"), Unit: "XBX"}, "", "", "lines[0].quantity"},
		"an unknown unit":       {Line{No: 1, Quantity: dec("1"), Unit: "TNE"}, "", "", "lines[0].unit"},
		"the order's own":       {Line{No: 1, Quantity: dec("100"), Unit: "KGM"}, "100", finding.Agrees, ""},
	} {
		t.Run(name, func(t *testing.T) {
			o := order("100", "0", "10", false)
			o.Lines[0].Units = []trade.Conversion{carton, three}
			e := entry("0", false)
			e.Lines[0] = c.line
			plan, err := Make(o, e, context)
			if c.field != "" {
				var f *fault.Fault
				require.True(t, errors.As(err, &f))
				require.Equal(t, c.field, f.Field)
				return
			}
			require.NoError(t, err)
			require.Equal(t, c.verdict, plan.Findings[0].Verdict)
			require.Equal(t, dec(c.want), plan.Findings[0].Quantity)
			if c.verdict != finding.Outside {
				require.Equal(t, c.line.Quantity, plan.Receipts[0].Counted)
				require.Equal(t, dec(c.want), plan.Receipts[0].Quantity)
			}
		})
	}
}

// An item that is kept by lot names its lots, and they add up to what came.
func TestLots(t *testing.T) {
	for name, c := range map[string]struct {
		lots []Lot
		good bool
	}{
		"none":          {nil, false},
		"one":           {[]Lot{{"L-1", dec("5"), ""}}, true},
		"two":           {[]Lot{{"L-1", dec("2"), "2027-01-31"}, {"L-2", dec("3"), ""}}, true},
		"too few":       {[]Lot{{"L-1", dec("4"), ""}}, false},
		"too many":      {[]Lot{{"L-1", dec("5"), ""}, {"L-2", dec("1"), ""}}, false},
		"without name":  {[]Lot{{" ", dec("5"), ""}}, false},
		"nothing of it": {[]Lot{{"L-1", dec("5"), ""}, {"L-2", 0, ""}}, false},
		"half a piece":  {[]Lot{{"L-1", dec("2.5"), ""}, {"L-2", dec("2.5"), ""}}, false},
		"no such day":   {[]Lot{{"L-1", dec("5"), "2027-02-30"}}, false},
	} {
		t.Run(name, func(t *testing.T) {
			o, e := order("10", "0", "10", false), entry("5", false)
			o.Lines[0].Lots, o.Lines[0].Whole = true, name == "half a piece"
			e.Lines[0].Lots = c.lots
			plan, err := Make(o, e, context)
			require.Len(t, plan.Findings, 1, "the count is judged all the same")
			if c.good {
				require.NoError(t, err)
				require.Equal(t, c.lots, plan.Receipts[0].Lots)
				return
			}
			var f *fault.Fault
			require.True(t, errors.As(err, &f))
			require.Equal(t, "lines[0].lots", f.Field)
		})
	}
}

// Where deliveries are booked in two steps, who counted does not book.
func TestTwoSteps(t *testing.T) {
	c := context
	c.TwoStep, c.Booker = true, 7
	_, err := Make(order("10", "0", "10", false), entry("5", false), c)
	require.ErrorContains(t, err, "not counted at the door yet")
	c.Counter = 7
	_, err = Make(order("10", "0", "10", false), entry("5", false), c)
	require.ErrorContains(t, err, "somebody else books it")
	c.Counter = 8
	_, err = Make(order("10", "0", "10", false), entry("5", false), c)
	require.NoError(t, err)
}
