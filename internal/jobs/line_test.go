package jobs

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// What an order line sets for itself, its discount among it, stays through a change that names it again, ends with one
// that leaves it out, and is not touched by one that does not speak of it.
func TestWhatALineSetsForItself(t *testing.T) {
	b := setUp(t)
	over, absolute := dec("7"), int64(2_000_000)
	line := OrderEntryLine{Item: "KRILL", Quantity: dec("100"), Price: dec("12"), TaxRate: dec("23"), Budget: "FEED", Discount: 20_000, Charge: 500, Level: trade.TwoWay,
		Limits: limit.Book{{Kind: limit.Delivery, Side: limit.Over, Percent: &over}, {Kind: limit.UnitPrice, Side: limit.Over, Absolute: &absolute}}}
	issued, err := b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "BRACK", WantedOn: "2026-12-01", Lines: []OrderEntryLine{line}})
	require.NoError(t, err)
	read := func() *trade.OrderLine {
		t.Helper()
		sheet, err := b.app.OrderSheet(b.ctx, issued.Number, b.actors["reader"])
		require.NoError(t, err)
		return sheet.Order.Lines[0]
	}
	change := func(l OrderEntryLine) error {
		l.No = 1
		return drop(b.app.ChangeOrder(b.ctx, b.as("buyer"), ChangeEntry{Number: issued.Number, Reason: "r", OrderEntry: OrderEntry{WantedOn: "2026-12-01", Lines: []OrderEntryLine{l}}}))
	}
	l := read()
	require.EqualValues(t, 100_500, l.Net, "100 × 12.00 − 200.00 + 5.00")
	require.Equal(t, []any{trade.TwoWay, limit.Line, trade.TwoWay}, []any{l.Level, l.LevelFrom, l.OwnLevel})
	require.Equal(t, limit.Line, l.Limits.Find(limit.Delivery, limit.Over).Level)

	line.Limits, line.Discount = nil, 10_000
	require.NoError(t, change(line))
	l = read()
	require.EqualValues(t, 110_500, l.Net)
	require.Equal(t, &over, l.Limits.Find(limit.Delivery, limit.Over).Percent, "nothing was said of limits")
	require.Equal(t, &absolute, l.Limits.Find(limit.UnitPrice, limit.Over).Absolute)

	line.Limits, line.Level = limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Absolute: &absolute}}, ""
	require.NoError(t, change(line))
	l = read()
	require.NotEqual(t, limit.Line, l.Limits.Find(limit.Delivery, limit.Over).Level, "it was left out")
	require.Equal(t, limit.Line, l.Limits.Find(limit.UnitPrice, limit.Over).Level)
	require.Equal(t, []any{trade.ThreeWay, limit.Company, trade.Level("")}, []any{l.Level, l.LevelFrom, l.OwnLevel})

	b.deliver(issued.Number, "DN 1", "1")
	line.Level = trade.TwoWay
	refused(t, change(line), fault.Refused, "stays matched as it is")
	b.proved()
}

// Only the closing that stands counts when a line is to be opened again: that an earlier one lies in a closed month does
// not matter, and each side is opened by itself.
func TestReopeningCountsTheClosingThatStands(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	entry := ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: true, Reason: "r"}
	require.NoError(t, drop(b.app.CloseLines(b.ctx, b.as("buyer"), entry)))
	require.NoError(t, drop(b.app.ReopenLines(b.ctx, b.as("buyer"), entry)))
	b.now = time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)
	entry.Invoices, entry.Reason = true, "nobody wants it any more"
	require.NoError(t, drop(b.app.CloseLines(b.ctx, b.as("buyer"), entry)))
	require.NoError(t, b.app.ClosePeriod(b.ctx, b.as("admin"), "2026-11"))
	closed, err := b.app.OpenLines(b.ctx, store.LineFilter{Order: order, Closed: true})
	require.NoError(t, err)
	require.Len(t, closed.Rows, 1)
	require.Equal(t, "nobody wants it any more", closed.Rows[0].Reason)

	entry.Goods = false
	require.NoError(t, drop(b.app.ReopenLines(b.ctx, b.as("buyer"), entry)))
	sheet, err := b.app.OrderSheet(b.ctx, order, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []bool{true, false}, []bool{sheet.Order.Lines[0].ClosedGoods, sheet.Order.Lines[0].ClosedInvoices})
	require.Equal(t, trade.Issued, sheet.Order.State)
	_, err = b.app.ReopenLines(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Refused, "is not closed that way")
	entry.Goods = true
	require.NoError(t, b.app.ClosePeriod(b.ctx, b.as("admin"), "2026-12"))
	_, err = b.app.ReopenLines(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Refused, "was closed in 2026-12, and that period is closed")
	open, err := b.app.OpenLines(b.ctx, store.LineFilter{Order: order})
	require.NoError(t, err)
	require.Empty(t, open.Rows)
	b.proved()
}

// How invoices are matched is one of the levels there are, wherever it is set; nothing else reaches the books.
func TestOnlyMatchLevelsThereAre(t *testing.T) {
	b := setUp(t)
	item := ItemEntry{Item: store.Item{Code: "ROE", Name: "Roe", Unit: "KGM", Base: money.Int(1), Level: "four_way"}, Sellers: []SellerEntry{{Selling: store.Selling{Supplier: "BRACK", Level: "none at all"}}}}
	_, err := b.app.SaveItem(b.ctx, b.as("buyer"), item)
	var all fault.Faults
	require.ErrorAs(t, err, &all)
	require.Equal(t, []string{"level", "sellers[0].level"}, fieldsOf(all))
	item.Level, item.Sellers[0].Level = "", ""
	require.NoError(t, drop(b.app.SaveItem(b.ctx, b.as("buyer"), item)))
	_, err = b.app.SetLimits(b.ctx, b.as("buyer"), LimitsEntry{Item: "ROE", Level: "four_way", Reason: "r"})
	refused(t, err, fault.Invalid, "Choose how invoices are matched")
	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("buyer"), LimitsEntry{Item: "ROE", Level: trade.TwoWay, Reason: "r"})))
	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("buyer"), LimitsEntry{Item: "ROE", Supplier: "BRACK", Level: trade.ThreeWay, Reason: "r"})))
	order, err := b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "BRACK", WantedOn: "2026-12-01", Lines: []OrderEntryLine{{Item: "ROE", Quantity: dec("1"), Price: dec("2"), Budget: "FEED"}}})
	require.NoError(t, err)
	sheet, err := b.app.OrderSheet(b.ctx, order.Number, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []any{trade.ThreeWay, limit.ItemAtSupplier}, []any{sheet.Order.Lines[0].Level, sheet.Order.Lines[0].LevelFrom})
	_, err = b.app.SaveCompany(b.ctx, b.as("admin"), CompanyEntry{Level: ""})
	require.Error(t, err)
}
