package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/money"
)

// Rules §6: an invoice bills of a line by value what its own line nets, after its discounts, at a price of one.
func TestInvoicedByValue(t *testing.T) {
	line := OrderLine{No: 1, Unit: MonetaryValue, Quantity: dec("1000")}
	for name, c := range map[string]struct {
		bill InvoiceLine
		want string
	}{
		"hours":      {InvoiceLine{Quantity: dec("5"), Unit: "HUR", Price: dec("90"), Base: money.Int(1)}, "450"},
		"a discount": {InvoiceLine{Quantity: dec("5"), Unit: "HUR", Price: dec("90"), Base: money.Int(1), Discount: 5_050}, "399.5"},
		"rounded":    {InvoiceLine{Quantity: dec("3"), Unit: "DAY", Price: dec("33.335"), Base: money.Int(1)}, "100.01"},
		"an amount":  {InvoiceLine{Quantity: dec("250"), Unit: MonetaryValue, Price: dec("1"), Base: money.Int(1)}, "250"},
	} {
		quantity, price, ok := line.InUnit(c.bill, "EUR")
		require.True(t, ok, name)
		require.Equal(t, []money.Decimal{dec(c.want), dec("1")}, []money.Decimal{quantity, price.Decimal()}, name)
	}
}

// Whatever shares of a line are accepted, those that add up to a hundred per cent add up to the line, and a part of them to
// within half a minor unit each.
func TestSharesAddUp(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		cents := money.Amount(rapid.Int64Range(10_000, 9_999_999).Draw(rt, "line"))
		line := OrderLine{No: 1, Unit: MonetaryValue, Quantity: dec(cents.Text("EUR"))}
		left := int64(100_000) // thousandths of a per cent
		for left > 0 {
			share := rapid.Int64Range(1_000, 60_000).Draw(rt, "share")
			if left-share < 1_000 {
				share = left
			}
			left -= share
			value, err := line.Accepted(money.Decimal(share*1_000), PerCent, "EUR")
			require.NoError(rt, err)
			require.True(rt, line.Counts(value, "EUR"))
			line.Received += value
			line.Receipts = append(line.Receipts, &Receipt{Quantity: value})
			exact := int64(cents) * (100_000 - left) // of a cent, in hundred thousandths
			off := int64(line.Received)/10_000*100_000 - exact
			require.LessOrEqual(rt, max(off, -off), int64(len(line.Receipts))*50_000)
		}
		require.Equal(rt, line.Quantity, line.Received)
	})
}
