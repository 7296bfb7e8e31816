package orders_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// What an order line sets for itself, its discount among it, stays through a change that names it again, ends with one
// that leaves it out, and is not touched by one that does not speak of it.
func TestWhatALineSetsForItself(t *testing.T) {
	b := housetest.SetUp(t)
	over, absolute := housetest.Dec("7"), money.Entered("20000")
	line := orders.EntryLine{
		Item:     "KRILL",
		Quantity: housetest.Dec("100"),
		Price:    housetest.Dec("12"),
		TaxRate:  housetest.Dec("23"),
		Budget:   "FEED",
		Discount: "200",
		Charge:   "5",
		Level:    trade.TwoWay,
		Limits:   limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: &over}, {Kind: limit.UnitPrice, Side: limit.Over, Absolute: &absolute}},
	}
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{Supplier: "BRACK", WantedOn: "2026-12-01", Lines: []orders.EntryLine{line}})
	require.NoError(t, err)
	read := func() *trade.OrderLine {
		t.Helper()
		sheet, err := views.Order(b.Ctx, b.App, issued.Number, b.Actors["reader"])
		require.NoError(t, err)
		return sheet.Order.Lines[0]
	}
	change := func(l orders.EntryLine) error {
		l.No = 1
		return housetest.Drop(
			orders.Change(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.ChangeEntry{Number: issued.Number, Reason: "r", Entry: orders.Entry{WantedOn: "2026-12-01", Lines: []orders.EntryLine{l}}},
			),
		)
	}
	l := read()
	require.EqualValues(t, 100_500, l.Net, "100 × 12.00 − 200.00 + 5.00")
	require.Equal(t, []any{trade.TwoWay, limit.Line, trade.TwoWay}, []any{l.Level, l.LevelFrom, l.OwnLevel})
	require.Equal(t, limit.Line, l.Limits.Find(limit.Delivery, limit.Over).Level)

	line.Limits, line.Discount = nil, "100"
	require.NoError(t, change(line))
	l = read()
	require.EqualValues(t, 110_500, l.Net)
	require.Equal(t, &over, l.Limits.Find(limit.Delivery, limit.Over).Percent, "nothing was said of limits")
	require.Equal(t, new(int64(2_000_000)), l.Limits.Find(limit.UnitPrice, limit.Over).Absolute)

	line.Limits, line.Level = limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Absolute: &absolute}}, ""
	require.NoError(t, change(line))
	l = read()
	require.NotEqual(t, limit.Line, l.Limits.Find(limit.Delivery, limit.Over).Level, "it was left out")
	require.Equal(t, limit.Line, l.Limits.Find(limit.UnitPrice, limit.Over).Level)
	require.Equal(t, []any{trade.ThreeWay, limit.Company, trade.Level("")}, []any{l.Level, l.LevelFrom, l.OwnLevel})

	b.Deliver(issued.Number, "DN 1", "1")
	line.Level = trade.TwoWay
	housetest.Refused(t, change(line), fault.Refused, "stays matched as it is")
	b.Proved()
}

// Only the closing that stands counts when a line is to be opened again: that an earlier one lies in a closed month does
// not matter, and each side is opened by itself.
func TestReopeningCountsTheClosingThatStands(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	entry := orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 1}}, Goods: true, Reason: "r"}
	require.NoError(t, housetest.Drop(orders.CloseLines(b.Ctx, b.App, b.As("buyer"), entry)))
	require.NoError(t, housetest.Drop(orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), entry)))
	b.Now = time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)
	entry.Invoices, entry.Reason = true, "nobody wants it any more"
	require.NoError(t, housetest.Drop(orders.CloseLines(b.Ctx, b.App, b.As("buyer"), entry)))
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-11"))
	closed, err := orders.OpenLines(b.Ctx, b.App, store.LineFilter{Order: order, Closed: true})
	require.NoError(t, err)
	require.Len(t, closed.Rows, 1)
	require.Equal(t, "nobody wants it any more", closed.Rows[0].Reason)

	entry.Goods = false
	require.NoError(t, housetest.Drop(orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), entry)))
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []bool{true, false}, []bool{sheet.Order.Lines[0].ClosedGoods, sheet.Order.Lines[0].ClosedInvoices})
	require.Equal(t, trade.Issued, sheet.Order.State)
	_, err = orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Refused, "is not closed that way")
	entry.Goods = true
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-12"))
	_, err = orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Refused, "was closed in 2026-12, and that period is closed")
	open, err := orders.OpenLines(b.Ctx, b.App, store.LineFilter{Order: order})
	require.NoError(t, err)
	require.Empty(t, open.Rows)
	b.Proved()
}

// How invoices are matched is one of the levels there are, wherever it is set; nothing else reaches the books.
func TestOnlyMatchLevelsThereAre(t *testing.T) {
	b := housetest.SetUp(t)
	item := masters.ItemEntry{
		Item:    store.Item{Code: "ROE", Name: "Roe", Unit: "KGM", Base: money.Int(1), Level: "four_way"},
		Sellers: []masters.SellerEntry{{Selling: store.Selling{Supplier: "BRACK", Level: "none at all"}}},
	}
	_, err := masters.SaveItem(b.Ctx, b.App, b.As("buyer"), item)
	var all fault.Faults
	require.ErrorAs(t, err, &all)
	require.Equal(t, []string{"level", "sellers[0].level"}, housetest.FieldsOf(all))
	item.Level, item.Sellers[0].Level = "", ""
	require.NoError(t, housetest.Drop(masters.SaveItem(b.Ctx, b.App, b.As("buyer"), item)))
	_, err = masters.SetLimits(b.Ctx, b.App, b.As("buyer"), masters.LimitsEntry{Item: "ROE", Level: "four_way", Reason: "r"})
	housetest.Refused(t, err, fault.Invalid, "Choose how invoices are matched")
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("buyer"), masters.LimitsEntry{Item: "ROE", Level: trade.TwoWay, Reason: "r"})))
	require.NoError(
		t,
		housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("buyer"), masters.LimitsEntry{Item: "ROE", Supplier: "BRACK", Level: trade.ThreeWay, Reason: "r"})),
	)
	order, err := orders.Issue(
		b.Ctx,
		b.App,
		b.As("buyer"),
		orders.Entry{
			Supplier: "BRACK",
			WantedOn: "2026-12-01",
			Lines:    []orders.EntryLine{{Item: "ROE", Quantity: housetest.Dec("1"), Price: housetest.Dec("2"), Budget: "FEED"}},
		},
	)
	require.NoError(t, err)
	sheet, err := views.Order(b.Ctx, b.App, order.Number, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []any{trade.ThreeWay, limit.ItemAtSupplier}, []any{sheet.Order.Lines[0].Level, sheet.Order.Lines[0].LevelFrom})
	_, err = masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{Level: ""})
	require.Error(t, err)
}
