package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// anOrder is one of three lines: two-way, three-way of which ten came under N1 and four under N2, and by receipt.
func anOrder() *Order {
	line := func(no int, level Level, quantity, price int64) *OrderLine {
		return &OrderLine{ID: int64(no), No: no, Level: level, Quantity: money.Int(quantity), Price: money.Int(price), Base: money.Int(1),
			Net: money.Amount(quantity * price * 100), Discount: 100}
	}
	o := &Order{ID: 1, Number: 4118, Currency: "EUR", Lines: []*OrderLine{line(1, TwoWay, 3, 10), line(2, ThreeWay, 20, 12), line(3, ByReceipt, 20, 5)}}
	for _, l := range o.Lines[1:] {
		for i, q := range []int64{10, 4} {
			l.Arrive(&Receipt{ID: int64(i + 1), Note: []string{"N1", "N2"}[i], Quantity: money.Int(q)})
		}
	}
	o.Lines[1].Reserved = money.Int(3)
	return o
}

func TestWhatAnInvoiceIsProposedToBill(t *testing.T) {
	type line struct {
		no       int
		quantity string
		notes    string
	}
	for name, x := range map[string]struct {
		wanted Wanted
		want   []line
	}{
		"what is here":          {Wanted{}, []line{{1, "3", ""}, {2, "11", ""}, {3, "14", "N1 N2"}}},
		"the rest of the order": {Wanted{Rest: true}, []line{{1, "3", ""}, {2, "17", ""}, {3, "20", ""}}},
		"one delivery note":     {Wanted{Note: "n2"}, []line{{2, "4", ""}, {3, "4", "N2"}}},
		"ten per cent":          {Wanted{Share: money.Int(10)}, []line{{1, "0.3", ""}, {2, "2", ""}, {3, "2", ""}}},
		"an amount":             {Wanted{Net: 37_00}, []line{{1, "0.3", ""}, {2, "2", ""}, {3, "2", ""}}},
	} {
		t.Run(name, func(t *testing.T) {
			lines, err := anOrder().Propose(x.wanted)
			require.NoError(t, err)
			var got []line
			for _, l := range lines {
				notes := ""
				for i, n := range l.Notes {
					notes += []string{"", " "}[min(i, 1)] + n
				}
				got = append(got, line{l.No, l.Quantity.String(), notes})
			}
			require.Equal(t, x.want, got)
		})
	}
	closed := anOrder()
	for _, l := range closed.Lines {
		l.ClosedInvoices = true
	}
	_, err := closed.Propose(Wanted{Net: 1})
	var no *fault.Fault
	require.ErrorAs(t, err, &no)
	require.Equal(t, "share", no.Field)
	lines, err := closed.Propose(Wanted{})
	require.NoError(t, err)
	require.Empty(t, lines)
}

func TestReceiptsThatWaitForAnInvoice(t *testing.T) {
	var got []string
	for _, r := range anOrder().OpenReceipts() {
		got = append(got, r.Receipt.Note+" "+r.Quantity.String())
	}
	require.Equal(t, []string{"N1 7", "N2 4", "N1 10", "N2 4"}, got, "an open invoice claims three of the oldest")
}

// A net that a quantity came to gives a quantity that comes to it again.
func TestTheQuantityOfANet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := InvoiceLine{
			Price:    money.Decimal(rapid.Int64Range(1, 5_000_000_000).Draw(t, "price")),
			Base:     money.Int(rapid.SampledFrom([]int64{1, 10, 100}).Draw(t, "base")),
			Discount: money.Amount(rapid.Int64Range(0, 500).Draw(t, "discount")),
		}
		l.Quantity = money.Decimal(rapid.Int64Range(1, 1_000_000_000).Draw(t, "quantity"))
		net, err := l.Net("EUR")
		require.NoError(t, err)
		if err := l.OfNet(net, "EUR"); err != nil {
			require.Greater(t, l.Price/l.Base, money.Decimal(0), "only where six places of a quantity are worth more than a cent")
		}
		again, err := l.Net("EUR")
		require.NoError(t, err)
		require.Less(t, (again - net).Abs(), money.Amount(2), "a cent at most, and that is refused")
	})
	var no *fault.Fault
	require.ErrorAs(t, (&InvoiceLine{Base: money.Int(1)}).OfNet(1, "EUR"), &no)
	exact := InvoiceLine{Price: money.MustDecimal("12.5"), Base: money.Int(1)}
	require.NoError(t, exact.OfNet(850_00, "EUR"))
	require.Equal(t, money.Int(68), exact.Quantity)
	dear := InvoiceLine{Price: money.Int(100_000), Base: money.Int(1)}
	require.ErrorAs(t, dear.OfNet(33_33, "EUR"), &no, "0.0003333 of it")
}

// A supplier that rounds otherwise: the quantity stays, and one cent is taken up.
func TestACentOfRounding(t *testing.T) {
	line := func() InvoiceLine {
		return InvoiceLine{Quantity: dec("12.5"), Price: dec("4.11"), Base: money.Int(1)} // 51.375
	}
	for net, want := range map[money.Amount][2]money.Amount{51_38: {0, 0}, 51_37: {0, 1}, 51_39: {1, 0}} {
		l := line()
		require.NoError(t, l.OfNet(net, "EUR"))
		require.Equal(t, dec("12.5"), l.Quantity)
		require.Equal(t, want, [2]money.Amount{l.Charge, l.Discount})
		now, err := l.Net("EUR")
		require.NoError(t, err)
		require.Equal(t, net, now)
	}
	l := line()
	require.NoError(t, l.OfNet(41_10, "EUR"))
	require.Equal(t, dec("10"), l.Quantity, "two cents and more are another quantity")
}
