package receive

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Rules §4: what nobody invoiced goes back first, the oldest first; then what is invoiced.
func TestOutOfWhichDeliveries(t *testing.T) {
	receipt := func(delivery int64, quantity, billed int64) *trade.Receipt {
		return &trade.Receipt{Delivery: delivery, Quantity: money.Int(quantity), Billed: money.Int(billed)}
	}
	order := &trade.Order{Number: 4001, Lines: []*trade.OrderLine{
		{No: 1, Description: "Krill", Receipts: []*trade.Receipt{receipt(1, 10, 10), receipt(2, 6, 2), receipt(3, 4, 0)}},
		{No: 2, Description: "Panel", Whole: true, Receipts: []*trade.Receipt{receipt(3, 2, 0)}},
		{No: 3, Description: "Premix", Lots: true, Receipts: []*trade.Receipt{receipt(2, 2, 0), receipt(3, 2, 0)}},
	}}
	type is struct {
		delivery           int64
		no                 int
		quantity, invoiced money.Decimal
	}
	out := func(lines ...ReturnLine) (all []is) {
		outs, err := ProposeOut(order, lines)
		require.NoError(t, err)
		for _, o := range outs {
			all = append(all, is{o.Delivery, o.Line.No, o.Quantity, o.Invoiced})
		}
		return all
	}
	one := func(no int, quantity int64) ReturnLine { return ReturnLine{No: no, Quantity: money.Int(quantity)} }
	require.Equal(t, []is{{2, 1, money.Int(3), 0}}, out(one(1, 3)))
	require.Equal(t, []is{{2, 1, money.Int(4), 0}, {3, 1, money.Int(3), 0}}, out(one(1, 7)))
	require.Equal(t, []is{{1, 1, money.Int(1), money.Int(1)}, {2, 1, money.Int(4), 0}, {3, 1, money.Int(4), 0}}, out(one(1, 9)))
	require.Equal(t, []is{{1, 1, money.Int(10), money.Int(10)}, {2, 1, money.Int(6), money.Int(2)}, {3, 1, money.Int(4), 0}}, out(one(1, 20)))
	require.Equal(t, []is{{2, 3, money.Int(2), 0}, {3, 3, money.Int(2), 0}}, out(one(3, 4)), "all lots of it")
	require.Empty(t, out(one(1, 0)))

	for sentence, line := range map[string]ReturnLine{
		"20 of it is here": one(1, 21), "no line 9": one(9, 1), "below zero": one(1, -1), "came in lots": one(3, 1),
		"whole units": {No: 2, Quantity: money.Int(1) / 2},
	} {
		_, err := ProposeOut(order, []ReturnLine{line})
		require.ErrorContains(t, err, sentence)
	}
	_, err := ProposeOut(order, []ReturnLine{one(1, 1), one(1, 1)})
	require.ErrorContains(t, err, "stands twice")

	entry := ReturnEntry{Order: 4001, Reason: "r"}
	outs, err := ProposeOut(order, []ReturnLine{one(1, 7), one(2, 1)})
	require.NoError(t, err)
	require.Equal(t, []ReturnEntry{
		{Delivery: 2, Reason: "r", Lines: []ReturnLine{one(1, 4)}}, {Delivery: 3, Reason: "r", Lines: []ReturnLine{one(1, 3), one(2, 1)}},
	}, entry.ByDelivery(outs))
}

// Whatever came and was billed: just what is asked for goes back, no receipt gives more than it holds, and nothing invoiced
// goes back while anything uninvoiced stays.
func TestJustWhatIsAskedForGoesBack(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		line := &trade.OrderLine{No: 1}
		var open money.Decimal
		for i := range rapid.IntRange(1, 6).Draw(rt, "receipts") {
			r := &trade.Receipt{Delivery: int64(i), Quantity: money.Decimal(rapid.Int64Range(0, 9).Draw(rt, "quantity"))}
			r.Returned = money.Decimal(rapid.Int64Range(0, int64(r.Quantity)).Draw(rt, "returned"))
			r.Billed = money.Decimal(rapid.Int64Range(0, int64(r.Quantity)).Draw(rt, "billed"))
			line.Receipts = append(line.Receipts, r)
			open += min(r.Returnable(), max(0, r.Open()))
		}
		order := &trade.Order{Lines: []*trade.OrderLine{line}}
		want := money.Decimal(rapid.Int64Range(0, int64(line.GoBack())).Draw(rt, "goes back"))
		outs, err := ProposeOut(order, []ReturnLine{{No: 1, Quantity: want}})
		require.NoError(t, err)
		var sum, invoiced money.Decimal
		for _, o := range outs {
			require.Positive(t, o.Quantity)
			require.LessOrEqual(t, o.Quantity, line.Receipts[o.Delivery].Returnable())
			sum, invoiced = sum+o.Quantity, invoiced+o.Invoiced
		}
		require.Equal(t, want, sum)
		require.LessOrEqual(t, invoiced, max(0, want-open))
	})
}

// Of an item, over the orders of a supplier: what nobody invoiced first, the oldest first, then what is invoiced, the latest
// first.
func TestOutOfWhichOrders(t *testing.T) {
	receipt := func(id, quantity, billed int64) *trade.Receipt {
		return &trade.Receipt{ID: id, Delivery: id, Quantity: money.Int(quantity), Billed: money.Int(billed)}
	}
	krill := func(number int64, receipts ...*trade.Receipt) *trade.Order {
		return &trade.Order{Number: number, Lines: []*trade.OrderLine{
			{No: 1, ItemID: 8, Description: "Squid", Receipts: []*trade.Receipt{receipt(90, 50, 0)}},
			{No: 2, ItemID: 7, Description: "Krill", Receipts: receipts},
		}}
	}
	orders := []*trade.Order{krill(4003, receipt(3, 5, 5), receipt(6, 4, 0)), krill(4001, receipt(1, 10, 10), receipt(2, 6, 4))}
	out := func(quantity int64) (all []string) {
		outs, err := ProposeOutOfItem(orders, 7, money.Int(quantity))
		require.NoError(t, err)
		for _, o := range outs {
			all = append(all, fmt.Sprintf("%d/%d: %s", o.Order.Number, o.Delivery, o.Quantity))
		}
		return all
	}
	require.Empty(t, out(0))
	require.Equal(t, []string{"4001/2: 2", "4003/6: 3"}, out(5))
	require.Equal(t, []string{"4001/2: 2", "4003/3: 1", "4003/6: 4"}, out(7))
	require.Equal(t, []string{"4001/1: 3", "4001/2: 6", "4003/3: 5", "4003/6: 4"}, out(18))
	require.Equal(t, []string{"4001/1: 10", "4001/2: 6", "4003/3: 5", "4003/6: 4"}, out(25))
	_, err := ProposeOutOfItem(orders, 7, money.Int(26))
	require.ErrorContains(t, err, "25 of it is here")
	_, err = ProposeOutOfItem(orders, 7, -1)
	require.ErrorContains(t, err, "below zero")
	orders[0].Lines[1].Lots = true
	_, err = ProposeOutOfItem(orders, 7, money.Int(1))
	require.ErrorContains(t, err, "came in lots")
	orders[0].Lines[1].Lots, orders[0].Lines[1].Whole = false, true
	_, err = ProposeOutOfItem(orders, 7, money.Int(1)/2)
	require.ErrorContains(t, err, "whole units")
}
