package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
)

func fields(faults fault.Faults) []string {
	var names []string
	for _, f := range faults {
		names = append(names, f.Field)
	}
	return names
}

// Rules §3: what the supplier's rules say of an order before it is issued.
func TestCheckIssue(t *testing.T) {
	plain := Supplier{Name: "Gannet", Currency: "EUR"}
	for name, c := range map[string]struct {
		change  func(*Supplier)
		net     money.Amount
		wanted  day.Day
		advice  []AdviceKind
		refused []string
	}{
		"nothing to say":            {func(*Supplier) {}, 1, "2026-11-27", nil, nil},
		"on hold":                   {func(s *Supplier) { s.Holds = Holds{NothingOrdered} }, 1, "", nil, []string{"supplier"}},
		"payment hold does not ask": {func(s *Supplier) { s.Holds = Holds{PaymentHeld} }, 1, "", nil, nil},
		"disputed is told":          {func(s *Supplier) { s.Holds = Holds{InDispute} }, 1, "", []AdviceKind{SupplierDisputed}, nil},
		"not ordered from yet":      {func(s *Supplier) { s.NotYet = true }, 1, "", nil, []string{"supplier"}},
		"for this once":             {func(s *Supplier) { s.Once = true }, 1, "", nil, nil},
		"below the least order":     {func(s *Supplier) { s.LeastOrder = 100_00 }, 99_99, "", nil, []string{"lines"}},
		"at the least order":        {func(s *Supplier) { s.LeastOrder = 100_00 }, 100_00, "", nil, nil},
		"freight is charged":        {func(s *Supplier) { s.FreeFrom = 500_00 }, 499_99, "", []AdviceKind{FreightCharged}, nil},
		"free of freight":           {func(s *Supplier) { s.FreeFrom = 500_00 }, 500_00, "", nil, nil},
		"a Saturday":                {func(s *Supplier) { s.ClosedDays = "67" }, 1, "2026-11-28", []AdviceKind{NoDeliveryDay}, nil},
		"a Friday":                  {func(s *Supplier) { s.ClosedDays = "67" }, 1, "2026-11-27", nil, nil},
		"incomplete":                {func(s *Supplier) { s.Incomplete = true }, 1, "", []AdviceKind{SupplierUnready}, nil},
		"much at once": {func(s *Supplier) { s.Holds, s.LeastOrder, s.FreeFrom = Holds{InDispute}, 100, 200 }, 50, "",
			[]AdviceKind{SupplierDisputed, FreightCharged}, []string{"lines"}},
	} {
		t.Run(name, func(t *testing.T) {
			s := plain
			c.change(&s)
			advice, faults := CheckIssue(s, c.net, c.wanted)
			var kinds []AdviceKind
			for _, a := range advice {
				kinds = append(kinds, a.Kind)
				if a.Kind == FreightCharged {
					require.Equal(t, s.FreeFrom-c.net, a.Shortfall)
				}
			}
			require.Equal(t, c.advice, kinds)
			require.Equal(t, c.refused, fields(faults))
		})
	}
}

func TestCheckLine(t *testing.T) {
	for name, c := range map[string]struct {
		line OrderLine
		want []string
	}{
		"good":        {OrderLine{Budget: "FEED", Quantity: dec("1.5"), Price: dec("2")}, nil},
		"no budget":   {OrderLine{Quantity: dec("1")}, []string{"lines[3].budget"}},
		"nothing":     {OrderLine{Budget: "FEED"}, []string{"lines[3].quantity"}},
		"half a box":  {OrderLine{Budget: "FEED", Whole: true, Quantity: dec("1.5")}, []string{"lines[3].quantity"}},
		"below zero":  {OrderLine{Budget: "FEED", Quantity: dec("1"), Price: dec("-1")}, []string{"lines[3].price"}},
		"two of them": {OrderLine{Quantity: dec("-1")}, []string{"lines[3].budget", "lines[3].quantity"}},
		"free":        {OrderLine{Budget: "FEED", Quantity: dec("1")}, nil},
	} {
		require.Equal(t, c.want, fields(CheckLine(3, &c.line, "EUR")), name)
	}
}

// Rules §3: an issued line does not go below what was received or invoiced.
func TestCheckChange(t *testing.T) {
	before := OrderLine{
		No:         1,
		ItemCode:   "KRILL",
		Unit:       "XCT",
		Quantity:   dec("10"),
		Received:   dec("4"),
		Returned:   dec("1"),
		Billed:     dec("3"),
		Reserved:   dec("3"),
		Budget:     "FEED",
		LevelFixed: true,
	}
	for name, c := range map[string]struct {
		change func(*OrderLine)
		want   []string
	}{
		"up":              {func(l *OrderLine) { l.Quantity = dec("12") }, nil},
		"to what is used": {func(l *OrderLine) { l.Quantity = dec("6") }, nil},
		"below the bills": {func(l *OrderLine) { l.Quantity = dec("5.999999") }, []string{"lines[0].quantity"}},
		"another item":    {func(l *OrderLine) { l.ItemCode = "SQUID" }, []string{"lines[0].item"}},
		"another unit":    {func(l *OrderLine) { l.Unit = "KGM" }, []string{"lines[0].item"}},
		"another budget":  {func(l *OrderLine) { l.Budget = "HOSP" }, []string{"lines[0].budget"}},
	} {
		after := before
		c.change(&after)
		require.Equal(t, c.want, fields(CheckChange(0, &before, &after)), name)
	}
	over := before
	over.Received = dec("10.5")
	dearer := over
	dearer.Price = dec("9")
	require.Empty(t, CheckChange(0, &over, &dearer), "more came within its limit; the quantity may stay as it is")
	before.LevelFixed = false
	after := before
	after.Budget = "HOSP"
	require.Empty(t, CheckChange(0, &before, &after), "nothing is booked to the first one yet")
}

func TestChangesAreNamed(t *testing.T) {
	before := &Order{
		Currency: "EUR",
		WantedOn: "2026-11-27",
		Place:    "Yard",
		Lines:    []*OrderLine{{No: 1, Description: "Krill", Quantity: dec("10"), WantedOn: "2026-11-27"}},
	}
	same := *before
	require.Empty(t, Changes(before, &same))
	after := &Order{Currency: "EUR", WantedOn: "2026-11-30", Place: "Yard", Elsewhere: "Quay 2", Lines: []*OrderLine{
		{No: 1, Description: "Krill", Quantity: dec("8"), WantedOn: "2026-11-30", ClosedGoods: true}, {No: 2, Description: "Squid"}},
		Charges: []PlannedCharge{{Kind: "freight", Amount: 45_00}}}
	require.Equal(t, []Change{
		{0, "wanted by", "2026-11-27", "2026-11-30"},
		{0, "place of delivery", "Yard", "Quay 2"},
		{1, "quantity", "10", "8"},
		{1, "no more goods", "", ""},
		{2, "added", "", "Squid"},
		{0, "planned charges", "0.00", "45.00"},
	}, Changes(before, after))
}

// Rules §3 and §11: to invoices a line closes only once goods and invoices agree.
func TestCheckClose(t *testing.T) {
	for name, c := range map[string]struct {
		line            OrderLine
		goods, invoices bool
		good            bool
	}{
		"goods":                     {OrderLine{}, true, false, true},
		"both":                      {OrderLine{Level: ThreeWay}, true, true, true},
		"neither":                   {OrderLine{}, false, false, false},
		"closed already":            {OrderLine{ClosedGoods: true}, true, false, false},
		"the other side still":      {OrderLine{ClosedGoods: true}, true, true, true},
		"an invoice is on its way":  {OrderLine{Reserved: 1}, false, true, false},
		"received, not invoiced":    {OrderLine{Level: ThreeWay, Receipts: []*Receipt{{Quantity: 2, Billed: 1}}}, false, true, false},
		"two-way does not ask":      {OrderLine{Level: TwoWay, Receipts: []*Receipt{{Quantity: 2, Billed: 1}}}, false, true, true},
		"invoiced beyond receipts":  {OrderLine{Level: ThreeWay, Beyond: Parts{{Relief: Relief{Quantity: 1}}}}, false, true, false},
		"and closed to goods":       {OrderLine{Level: ThreeWay, Beyond: Parts{{Relief: Relief{Quantity: 1}}}}, true, true, true}, // goes to variance
		"to be replaced":            {OrderLine{Level: ThreeWay, Awaited: Parts{{Relief: Relief{Quantity: 1}}}}, true, true, false},
		"invoiced, then sent back":  {OrderLine{Level: ThreeWay, Receipts: []*Receipt{{Quantity: 2, Billed: 2, Returned: 1}}}, false, true, false},
		"all received and invoiced": {OrderLine{Level: ThreeWay, Receipts: []*Receipt{{Quantity: 2, Billed: 1, Free: 1}}}, true, true, true},
	} {
		require.Equal(t, c.good, CheckClose(&c.line, c.goods, c.invoices) == nil, name)
	}
}

// The price that holds is the one of the highest break reached, of those the latest.
func TestPriceFor(t *testing.T) {
	prices := []AgreedPrice{
		{From: "2026-01-01", Price: dec("10")},
		{From: "2026-01-01", Until: "2026-06-30", Least: dec("100"), Price: dec("9")},
		{From: "2026-07-01", Least: dec("100"), Price: dec("8.8")},
		{From: "2026-10-01", Price: dec("10.5")},
	}
	for _, c := range []struct {
		quantity string
		on       day.Day
		want     string
	}{
		{"1", "2025-12-31", ""}, {"1", "2026-01-01", "10"}, {"99.999999", "2026-03-01", "10"}, {"100", "2026-06-30", "9"}, {"100", "2026-07-01", "8.8"}, {"1", "2026-10-01", "10.5"}, {"500", "2026-12-01", "8.8"},
	} {
		p, some := PriceFor(prices, dec(c.quantity), c.on)
		require.Equal(t, c.want != "", some, "%+v", c)
		if some {
			require.Equal(t, dec(c.want), p.Price, "%+v", c)
		}
	}
}

// A conversion is exact or refused, and never rounds.
func TestConversionsAreExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := Conversion{
			"XCT",
			money.Decimal(rapid.Int64Range(1, 100_000_000).Draw(t, "units")),
			money.Decimal(rapid.Int64Range(1, 100_000_000).Draw(t, "makes")),
		}
		quantity := money.Decimal(rapid.Int64Range(0, 100_000_000).Draw(t, "quantity"))
		made, err := c.Of(quantity)
		if err != nil {
			product := int64(quantity) * int64(c.Makes)
			require.True(t, product%int64(c.Units) != 0 || product/int64(c.Units) > int64(money.Largest))
			return
		}
		whole, rest, err := made.Of(c.Units, c.Makes)
		require.NoError(t, err)
		require.True(t, rest)
		require.Equal(t, quantity, whole, "and back again")
	})
}

// What a supplier is judged by (rules §3): each line counts where it can.
func TestJudge(t *testing.T) {
	line := func(due day.Day, arrivals ...Arrival) Delivered {
		return Delivered{Ordered: dec("10"), Net: 100_00, Least: dec("9"), Most: dec("10.5"), Due: due, Arrivals: arrivals}
	}
	came := func(delivery int64, on day.Day, quantity string) Arrival { return Arrival{delivery, on, dec(quantity)} }
	returned, dear, taken := line("2026-10-05", came(3, "2026-10-05", "10")), line("2026-10-05", came(4, "2026-10-06", "11")), line("2026-10-05")
	returned.Returned, returned.Invoiced = dec("1"), true
	dear.Invoiced, dear.Outside, dear.Dearer = true, true, 500
	taken.Invoiced, taken.Dearer = true, 1 // within its limit
	performance := Judge([]Delivered{
		line("2026-10-05"), // nothing came
		line("2026-10-05", came(1, "2026-10-01", "6"), came(2, "2026-10-05", "3.5")), // in time, in two parts
		returned, dear, taken,
	})
	require.Equal(t, Performance{
		OnTime: {2, 5, 5}, InFull: {1, 5, 5}, Quantity: {2_850_000, 3_000_000, 3}, OrderPrice: {2, 3, 3}, Returned: {10_00, 305_00, 3},
	}, performance)
	require.Equal(t, []money.Decimal{dec("40"), dec("95"), dec("3.28")},
		[]money.Decimal{performance[OnTime].Percent(), performance[Quantity].Percent(), performance[Returned].Percent()})
	require.Zero(t, Share{}.Percent())

	score, known := performance.Score(Weights{OnTime: 2, Quantity: 1, Returned: 1})
	require.True(t, known)
	require.Equal(t, dec("67.93"), score, "(2 × 40 + 95 + 96.72) ÷ 4")
	_, known = performance.Score(Weights{})
	require.False(t, known)
	_, known = Judge(nil).Score(Weights{OnTime: 1})
	require.False(t, known)
}

// A supplier that is not registered for tax gets none (rules §3).
func TestTaxCategory(t *testing.T) {
	require.Equal(t, "S", Supplier{}.TaxCategory(dec("23")))
	require.Equal(t, "Z", Supplier{}.TaxCategory(0))
	require.Equal(t, "O", Supplier{Untaxed: true}.TaxCategory(dec("23")))
}

// A match level is found like a limit: the first that is set, nearest first (rules §2, §6).
func TestTheMatchLevelAndWhereItComesFrom(t *testing.T) {
	set := Levels{Line: TwoWay, ItemAtSupplier: ThreeWay, Item: TwoWay, Supplier: ThreeWay, Company: TwoWay}
	for _, want := range []struct {
		drop func(*Levels)
		from limit.Level
	}{
		{func(*Levels) {}, limit.Line},
		{func(s *Levels) { s.Line = "" }, limit.ItemAtSupplier},
		{func(s *Levels) { s.ItemAtSupplier = "" }, limit.Item},
		{func(s *Levels) { s.Item = "" }, limit.Supplier},
		{func(s *Levels) { s.Supplier = "" }, limit.Company},
	} {
		want.drop(&set)
		level, from := set.Find()
		require.Equal(t, want.from, from)
		require.Equal(t, []Level{TwoWay, ThreeWay, TwoWay, ThreeWay, TwoWay}[from], level)
	}
}

// How far an order has come is computed from its lines (rules §3).
func TestHowFarAnOrderHasCome(t *testing.T) {
	line := func(received, billed string, change ...func(*OrderLine)) *OrderLine {
		l := &OrderLine{Quantity: dec("10"), Received: dec(received), Billed: dec(billed)}
		for _, c := range change {
			c(l)
		}
		return l
	}
	noMoreGoods := func(l *OrderLine) { l.ClosedGoods = true }
	noMoreBills := func(l *OrderLine) { l.ClosedInvoices = true }
	credited := func(l *OrderLine) { l.Returned = dec("4") }
	for _, x := range []struct {
		goods, invoices Reach
		lines           []*OrderLine
	}{
		{ReachNone, ReachNone, []*OrderLine{line("0", "0"), line("0", "0")}},
		{ReachSome, ReachNone, []*OrderLine{line("4", "0"), line("0", "0")}},
		{ReachSome, ReachNone, []*OrderLine{line("10", "0"), line("0", "0")}},
		{ReachAll, ReachNone, []*OrderLine{line("10", "0"), line("11", "0")}},
		{ReachClosed, ReachNone, []*OrderLine{line("6", "0", noMoreGoods)}},
		{ReachClosed, ReachNone, []*OrderLine{line("0", "0", noMoreGoods)}},
		{ReachAll, ReachNone, []*OrderLine{line("6", "0", credited)}},
		{ReachSome, ReachSome, []*OrderLine{line("4", "4")}},
		{ReachAll, ReachSome, []*OrderLine{line("10", "10"), line("10", "0")}},
		{ReachAll, ReachSome, []*OrderLine{line("10", "9")}},
		{ReachClosed, ReachAll, []*OrderLine{line("10", "10"), line("6", "6", noMoreGoods)}},
		{ReachClosed, ReachClosed, []*OrderLine{line("10", "10"), line("6", "0", noMoreGoods, noMoreBills)}},
		{ReachNone, ReachNone, nil},
	} {
		o := Order{State: Issued, Lines: x.lines}
		require.Equal(t, []Reach{x.goods, x.invoices}, []Reach{o.Goods(), o.Invoices()}, "%+v", x.lines)
	}
}

// What is expected of a line, and between which quantities a delivery passes (rules §2, §4).
func TestWhatALineExpects(t *testing.T) {
	ten, both := dec("10"), Policy{OverDelivery: true, UnderDelivery: true}
	l := OrderLine{
		Quantity: dec("20"),
		Whole:    true,
		Received: dec("8"),
		Returned: dec("3"),
		Limits: limit.Book{
			{Level: limit.Company, Kind: limit.Delivery, Side: limit.Over, Percent: &ten},
			{Level: limit.Item, Kind: limit.Delivery, Side: limit.Under, Percent: &ten},
		},
	}
	require.Equal(t, []string{"11", "9"}, []string{l.Came().String(), l.Rest().String()}, "what went back for credit is not expected again")
	require.Equal(t, []string{"22", "18"}, []string{l.Most(both).String(), l.Least(both).String()})
	require.Equal(t, []string{"20", "20"}, []string{l.Most(Policy{}).String(), l.Least(Policy{}).String()}, "switched off")
	require.True(t, l.Limit(limit.Delivery, limit.Over, Policy{UnderDelivery: true}).SwitchedOff)
	require.Equal(t, limit.Item, l.Limit(limit.Delivery, limit.Under, both).Level)
	l.ClosedGoods = true
	require.Zero(t, l.Rest())
	l.ClosedGoods, l.Received = false, dec("30")
	require.Zero(t, l.Rest())
}

// What a line waits for, and what of it is nobody's (rules §3, §6).
func TestWhatALineAwaits(t *testing.T) {
	here := func(quantity, billed string) []*Receipt {
		return []*Receipt{{Quantity: dec(quantity), Billed: dec(billed)}}
	}
	for _, x := range []struct {
		line            OrderLine
		goods, invoices bool
		unclaimed       string
	}{
		{OrderLine{Level: ThreeWay}, true, false, "0"},
		{OrderLine{Level: ThreeWay, Received: dec("4"), Receipts: here("4", "0")}, true, true, "4"},
		{OrderLine{Level: ThreeWay, Received: dec("10"), Billed: dec("8"), Receipts: here("10", "8")}, false, true, "2"},
		{OrderLine{Level: ThreeWay, Received: dec("10"), Billed: dec("8"), Reserved: dec("2"), Receipts: here("10", "8")}, false, true, "0"},
		{OrderLine{Level: ThreeWay, Received: dec("10"), Billed: dec("8"), Reserved: dec("3"), Receipts: here("10", "8")}, false, true, "0"},
		{OrderLine{Level: ThreeWay, Received: dec("10"), Billed: dec("10"), Receipts: here("10", "10")}, false, false, "0"},
		{OrderLine{Level: ThreeWay, Received: dec("4"), ClosedGoods: true, Receipts: here("4", "0")}, false, true, "4"},
		{OrderLine{Level: ThreeWay, ClosedInvoices: true}, true, false, "0"},
		{OrderLine{Level: TwoWay, Received: dec("10"), Receipts: here("10", "0")}, false, true, "0"}, // receipts book nothing there
	} {
		l := x.line
		l.Quantity = dec("10")
		goods, invoices := l.Awaits()
		require.Equal(t, []any{x.goods, x.invoices, x.unclaimed}, []any{goods, invoices, l.Unclaimed().String()}, "%+v", l)
	}
}

// An order can be cancelled until anything of it came, was invoiced or is claimed by an open
// invoice, net: what was reversed in full does not stand against it (rules §3).
func TestTouched(t *testing.T) {
	for name, l := range map[string]*OrderLine{
		"claimed": {No: 2, Reserved: dec("1")}, "received": {No: 2, Received: dec("1")}, "billed": {No: 2, Billed: dec("1")}, "free": {No: 2, Receipts: []*Receipt{{Quantity: 2, Free: 1, Returned: 1}}},
	} {
		require.Equal(t, 2, (&Order{Lines: []*OrderLine{{No: 1}, l}}).Touched().No, name)
	}
	require.Nil(t, (&Order{Lines: []*OrderLine{{No: 1}, {No: 2, LevelFixed: true, Receipts: []*Receipt{{Quantity: 2, Reversed: 2}}}}}).Touched())
}

// An order is closed while all of its lines are closed to goods and invoices; nothing else ends or begins by it.
func TestCloseOrOpen(t *testing.T) {
	line := func(goods, invoices bool) *OrderLine { return &OrderLine{ClosedGoods: goods, ClosedInvoices: invoices} }
	for _, x := range []struct {
		was     OrderState
		lines   []*OrderLine
		becomes OrderState
	}{
		{Issued, []*OrderLine{line(true, true), line(true, true)}, Closed},
		{Issued, []*OrderLine{line(true, true), line(true, false)}, Issued},
		{Issued, []*OrderLine{line(false, true)}, Issued},
		{Closed, []*OrderLine{line(true, true)}, Closed},
		{Closed, []*OrderLine{line(true, true), line(false, true)}, Issued},
		{Cancelled, []*OrderLine{line(true, true)}, Cancelled},
		{Cancelled, []*OrderLine{line(false, false)}, Cancelled},
	} {
		o := Order{State: x.was, Lines: x.lines}
		require.Equal(t, x.was != x.becomes, o.CloseOrOpen())
		require.Equal(t, x.becomes, o.State)
	}
}
