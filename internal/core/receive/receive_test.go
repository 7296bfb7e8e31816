package receive

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func order(quantity, received, percent string, whole bool) *trade.Order {
	p := dec(percent)
	line := &trade.OrderLine{
		No:          1,
		Description: "Krill",
		Quantity:    dec(quantity),
		Received:    dec(received),
		Unit:        "KGM",
		Whole:       whole,
		Net:         100_000,
		Level:       trade.ThreeWay,
		Limits: limit.Book{
			{
				Level:   limit.Company,
				Kind:    limit.Delivery,
				Side:    limit.Over,
				Percent: &p,
			}, {Level: limit.Company, Kind: limit.Delivery, Side: limit.Under, Percent: &p}},
	}
	return &trade.Order{Number: 4107, State: trade.Issued, IssuedOn: "2026-11-02", Currency: "EUR", Lines: []*trade.OrderLine{line}}
}

func entry(quantity string, closes bool) Entry {
	return Entry{Note: "DN 5512", Day: "2026-11-23", Lines: []Line{{No: 1, Quantity: dec(quantity), Close: closes}}}
}

var context = Context{Policy: trade.Policy{OverDelivery: true, UnderDelivery: true}, Today: "2026-11-23", Rate: money.Int(1), Company: "EUR"}

// Common practice: the check values of rules §2 and §4.
func TestWorkedFigures(t *testing.T) {
	for _, c := range []struct {
		ordered, received, now, percent string
		closes                          bool
		want                            finding.Verdict
		nearest                         string
	}{
		{"1000", "0", "950", "10", true, finding.Within, "900"},
		{"1000", "0", "1018", "10", false, finding.Within, "1100"},
		{"20", "10", "5", "10", true, finding.Outside, "8"}, // 25 % short
		{"20", "10", "9", "10", true, finding.Within, "8"},
		{"20", "10", "5", "10", false, finding.Waiting, "0"}, // simply a partial delivery
		{"10", "0", "11", "10", false, finding.Within, "11"},
		{"10", "0", "11.000001", "10", false, finding.Outside, "11"},
		{"250", "0", "187.5", "10", true, finding.Outside, "225"},
		{"10", "4", "6", "0", false, finding.Agrees, "0"},
	} {
		plan, err := Make(order(c.ordered, c.received, c.percent, false), entry(c.now, c.closes), context)
		require.NoError(t, err)
		require.Len(t, plan.Findings, 1)
		f := plan.Findings[0]
		require.Equal(t, c.want, f.Verdict, "%+v", c)
		require.Equal(t, dec(c.nearest), f.Nearest, "%+v", c)
		require.Equal(t, c.want == finding.Outside, plan.Blocked())
		require.Equal(t, c.want != finding.Outside, len(plan.Receipts) == 1)
		require.Equal(t, c.closes && c.want != finding.Outside, len(plan.Closes) == 1)
	}
}

// 9 of 20 closed at 19 leaves nothing expected.
func TestClosingLeavesNothingExpected(t *testing.T) {
	o := order("20", "10", "10", false)
	_, err := Make(o, entry("9", true), context)
	require.NoError(t, err)
	o.Lines[0].Received, o.Lines[0].ClosedGoods = dec("19"), true
	require.Zero(t, o.Lines[0].Rest())
}

func TestRefusals(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*trade.Order, *Entry, *Context)
		field  string
		kind   fault.Kind
	}{
		"no note":          {func(_ *trade.Order, e *Entry, _ *Context) { e.Note = " - " }, "note", fault.Invalid},
		"same note":        {func(_ *trade.Order, _ *Entry, c *Context) { c.Earlier = 7001 }, "note", fault.Duplicate},
		"future":           {func(_ *trade.Order, e *Entry, _ *Context) { e.Day = "2026-11-24" }, "day", fault.Invalid},
		"before the order": {func(_ *trade.Order, e *Entry, _ *Context) { e.Day = "2026-11-01" }, "day", fault.Invalid},
		"no day":           {func(_ *trade.Order, e *Entry, _ *Context) { e.Day = day.Day("soon") }, "day", fault.Invalid},
		"negative":         {func(_ *trade.Order, e *Entry, _ *Context) { e.Lines[0].Quantity = -1 }, "lines[0].quantity", fault.Invalid},
		"negative refused": {func(_ *trade.Order, e *Entry, _ *Context) { e.Lines[0].Refused = -1 }, "lines[0].refused", fault.Invalid},
		"half a carton":    {func(o *trade.Order, e *Entry, _ *Context) { o.Lines[0].Whole = true; e.Lines[0].Quantity = dec("1.5") }, "lines[0].quantity", fault.Invalid},
		"closed line":      {func(o *trade.Order, _ *Entry, _ *Context) { o.Lines[0].ClosedGoods = true }, "lines[0].quantity", fault.Refused},
		"unknown line":     {func(_ *trade.Order, e *Entry, _ *Context) { e.Lines[0].No = 9 }, "lines[0].no", fault.Invalid},
		"cancelled":        {func(o *trade.Order, _ *Entry, _ *Context) { o.State = trade.Cancelled }, "order", fault.Refused},
		"draft":            {func(o *trade.Order, _ *Entry, _ *Context) { o.State = trade.Draft }, "order", fault.Refused},
		"nothing":          {func(_ *trade.Order, e *Entry, _ *Context) { e.Lines[0].Quantity = 0 }, "lines", fault.Invalid},
	} {
		t.Run(name, func(t *testing.T) {
			o, e, c2 := order("10", "0", "10", false), entry("5", false), context
			c.change(o, &e, &c2)
			_, err := Make(o, e, c2)
			var f *fault.Fault
			require.True(t, errors.As(err, &f))
			require.Equal(t, c.field, f.Field)
			require.Equal(t, c.kind, f.Kind)
			require.NotEmpty(t, f.Sentence)
		})
	}
}

func TestSecondPartIsTaken(t *testing.T) {
	c, e := context, entry("5", false)
	c.Earlier, e.SecondPart = 7001, true
	_, err := Make(order("10", "0", "10", false), e, c)
	require.NoError(t, err)
}

// The company's switch allows nothing whatever the levels say.
func TestSwitchedOff(t *testing.T) {
	c := context
	c.Policy.OverDelivery = false
	plan, err := Make(order("10", "0", "10", false), entry("11", false), c)
	require.NoError(t, err)
	require.True(t, plan.Blocked())
	require.True(t, plan.Findings[0].Bound.SwitchedOff)
}

// Surplus refused at the door is recorded and books nothing.
func TestRefusedAtTheDoor(t *testing.T) {
	e := entry("11", false)
	e.Lines[0].Refused = dec("2")
	plan, err := Make(order("10", "0", "10", false), e, context)
	require.NoError(t, err)
	require.Equal(t, dec("2"), plan.Receipts[0].Refused)
	require.Equal(t, money.Amount(110_000), plan.Value)
}

// Goods are refused for a reason, inside the limit as well; past it, or on a closed line, it goes without saying.
func TestGoodsAreRefusedForAReason(t *testing.T) {
	refused := func(quantity, refused string, reason Reason, closed bool) (Plan, error) {
		o := order("100", "0", "10", false)
		o.Lines[0].ClosedGoods = closed
		e := entry(quantity, false)
		e.Lines[0].Refused, e.Lines[0].Reason, e.Lines[0].Remark = dec(refused), reason, " two cartons wet "
		return Make(o, e, context)
	}
	for reason, want := range map[Reason]Reason{Damaged: Damaged, TooWarm: TooWarm, Another: Another} {
		plan, err := refused("90", "10", reason, false)
		require.NoError(t, err)
		require.Equal(t, want, plan.Receipts[0].Reason)
		require.Equal(t, "two cartons wet", plan.Receipts[0].Remark)
		require.Equal(t, dec("90"), plan.Receipts[0].Quantity, "what is refused is no receipt")
	}
	for _, c := range []struct {
		quantity, refused string
		reason            Reason
		closed            bool
		want              Reason
	}{{"110", "5", "", false, Surplus}, {"0", "5", "", true, Surplus}, {"110", "5", Damaged, false, Damaged}} {
		plan, err := refused(c.quantity, c.refused, c.reason, c.closed)
		require.NoError(t, err)
		require.Equal(t, c.want, plan.Receipts[0].Reason, "%+v", c)
	}
	for _, reason := range []Reason{"", "too dear"} {
		_, err := refused("90", "10", reason, false)
		require.True(t, fault.Is(err, fault.Invalid), "%q", reason)
	}
	plan, err := refused("90", "0", Damaged, false)
	require.NoError(t, err)
	require.Empty(t, plan.Receipts[0].Reason, "nothing is refused")
}

// A note's own count is a control: the lines add up to it, refused goods among them, or somebody says why not.
func TestTheNotesOwnCount(t *testing.T) {
	for _, c := range []struct {
		stated, why string
		ok          bool
	}{{"100", "", true}, {"101", "", false}, {"101", "one fell off the lorry", true}, {"99.999999", "", false}, {"90", " ", false}} {
		e := entry("90", false)
		e.Lines[0].Refused, e.Lines[0].Reason = dec("10"), Damaged
		e.Stated, e.Why = new(dec(c.stated)), c.why
		_, err := Make(order("100", "0", "10", false), e, context)
		require.Equal(t, c.ok, err == nil, "%+v: %v", c, err)
		if err != nil {
			require.ErrorContains(t, err, "100 are counted")
		}
	}
}

// Goods without a note need none; as much on the same order and day asks whether they are others.
func TestGoodsWithoutANote(t *testing.T) {
	e := entry("10", false)
	e.Note, e.NoNote = "", true
	_, err := Make(order("100", "0", "10", false), e, context)
	require.NoError(t, err)
	again := context
	again.Earlier = 7009
	_, err = Make(order("100", "0", "10", false), e, again)
	require.True(t, fault.Is(err, fault.Duplicate), "%v", err)
	require.ErrorContains(t, err, "delivery 7009")
	e.SecondPart = true
	_, err = Make(order("100", "0", "10", false), e, again)
	require.NoError(t, err)
	e.Note = "DN 1"
	_, err = Make(order("100", "0", "10", false), e, context)
	require.True(t, fault.Is(err, fault.Invalid), "it has a note")
}
