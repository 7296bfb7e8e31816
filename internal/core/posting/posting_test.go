package posting

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/ledger"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func setting(currency money.Currency, level trade.Level, quantity, price string) (*trade.Order, *trade.OrderLine) {
	line := &trade.OrderLine{
		ID:       1,
		No:       1,
		Quantity: dec(quantity),
		Price:    dec(price),
		Base:     money.Int(1),
		Budget:   "FEED",
		Account:  trade.StockAccount,
		Level:    level,
	}
	line.Net, _ = money.Net(line.Quantity, line.Price, line.Base, 0, 0, currency)
	return &trade.Order{Number: 4107, Currency: currency, Lines: []*trade.OrderLine{line}}, line
}

func billOf(currency money.Currency, quantity, price, rate string) (trade.Invoice, trade.Totals) {
	inv := trade.Invoice{
		Number:   1001,
		Currency: currency,
		Rate:     dec(rate),
		Lines:    []trade.InvoiceLine{{No: 1, OrderLineID: 1, Quantity: dec(quantity), Price: dec(price), Base: money.Int(1), TaxCategory: "Z"}},
	}
	totals, _ := inv.Totals()
	inv.StatedTotal = totals.Total
	return inv, totals
}

func post(t *testing.T, inv trade.Invoice, order *trade.Order, totals trade.Totals, allocated ...Allocated) ledger.Entry {
	t.Helper()
	for i := range allocated {
		allocated[i].Order, allocated[i].Kind = order, trade.AllocatedBilled
	}
	e, err := Invoice(Bill{Invoice: inv, Supplier: "BRACK", Totals: totals, Orders: []*trade.Order{order}, Allocated: allocated, Rate: inv.Rate}, "EUR")
	require.NoError(t, err)
	require.NoError(t, e.Check())
	return e
}

// takes is an allocation of a quantity that takes a value out of a receipt.
func takes(line *trade.OrderLine, quantity string, value, base money.Amount) Allocated {
	return Allocated{
		Allocation: match.Allocation{OrderLine: line, Quantity: dec(quantity)},
		Relief:     trade.Relief{Quantity: dec(quantity), Value: value, Base: base},
	}
}

// Rules §1, worked: receipt 100 at 0.90, invoice 110 at 0.92, paid at 0.95: GRNI 90.00, variance 9.20, exchange
// 2.00; then 3.30.
func TestWorkedForeignCurrency(t *testing.T) {
	order, line := setting("USD", trade.ThreeWay, "1", "100")
	inv, totals := billOf("USD", "1", "110", "0.92")
	e := post(t, inv, order, totals, takes(line, "1", 10_000, 9_000))
	require.Equal(t, money.Amount(9_000), e.Of(ledger.GRNI))
	require.Equal(t, money.Amount(920), e.Of(ledger.PriceVariance))
	require.Equal(t, money.Amount(200), e.Of(ledger.ExchangeDifference))
	require.Equal(t, money.Amount(-10_120), e.Of(ledger.Payables))

	sent, err := PaymentSent("TIDEW", "LGN-1", []PaidPart{{Amount: 11_000, Base: 10_120}}, "USD", dec("0.95"), "EUR")
	require.NoError(t, err)
	require.Equal(t, money.Amount(330), sent.Of(ledger.ExchangeDifference))
	require.Equal(t, money.Amount(-10_450), sent.Of(ledger.InTransit))
	confirmed := PaymentConfirmed(sent, "LGN-1")
	require.NoError(t, confirmed.Check())
	require.Equal(t, money.Amount(-10_450), confirmed.Of(ledger.Bank))
}

func TestDeliveryBooksAtReceiptValue(t *testing.T) {
	order, line := setting("EUR", trade.ThreeWay, "10", "4")
	e := ledger.Entry{Currency: "EUR"}
	Received(&e, order, line, trade.Relief{Quantity: dec("4"), Value: 1_600, Base: 1_600})
	require.NoError(t, e.Check())
	require.Equal(t, money.Amount(1_600), e.Of(ledger.Stock))
	require.Equal(t, money.Amount(-1_600), e.Of(ledger.GRNI))
	TakenBack(&e, order, line, trade.Relief{Quantity: dec("4"), Value: 1_600, Base: 1_600})
	require.True(t, e.Empty())
	_, twoWay := setting("EUR", trade.TwoWay, "10", "4")
	Received(&e, order, twoWay, trade.Relief{Value: 1_600, Base: 1_600})
	require.True(t, e.Empty(), "on two-way lines receipts book nothing")
}

func TestTwoWayDebitsTheBudget(t *testing.T) {
	order, line := setting("EUR", trade.TwoWay, "10", "4")
	line.Account = trade.ExpenseAccount
	inv, totals := billOf("EUR", "10", "4.10", "1")
	e := post(t, inv, order, totals, takes(line, "10", 0, 0))
	require.Equal(t, money.Amount(4_100), e.Of(ledger.Expense))
	require.Zero(t, e.Of(ledger.GRNI)+e.Of(ledger.PriceVariance))
}

// Charges, a discount on the whole, tax as stated and a rounding rest each have their account.
func TestEverythingElseOnAnInvoice(t *testing.T) {
	order, line := setting("EUR", trade.ThreeWay, "10", "4")
	inv, _ := billOf("EUR", "10", "4", "1")
	inv.Charges = []trade.DocumentCharge{{Kind: "freight", Amount: 500, TaxCategory: "Z"}, {Allowance: true, Kind: "discount", Amount: 100, TaxCategory: "Z"}}
	inv.Taxes = []trade.StatedTax{{Category: "Z", Amount: 7}}
	totals, err := inv.Totals()
	require.NoError(t, err)
	inv.StatedTotal = totals.Total + 3
	e := post(t, inv, order, totals, takes(line, "10", 4_000, 4_000))
	require.Equal(t, money.Amount(500), e.Of(ledger.Charges))
	require.Equal(t, money.Amount(-100), e.Of(ledger.PriceVariance))
	require.Equal(t, money.Amount(7), e.Of(ledger.InputTax))
	require.Equal(t, money.Amount(3), e.Of(ledger.RoundingDifference))
	require.Equal(t, -inv.StatedTotal, e.Of(ledger.Payables))
}

// Rules §1: goods that fill what was billed beyond receipts move it to their own rate. What comes
// of the rates is exchange difference, the rest price variance at the invoice's rate.
func TestFilled(t *testing.T) {
	order, line := setting("USD", trade.ThreeWay, "1", "120")
	for _, c := range []struct {
		taken              trade.Relief
		grni, variance, ex money.Amount
	}{
		{trade.Relief{Quantity: dec("1"), Value: 12_000, Base: 9_600}, -1_200, 0, 1_200}, // billed 120 at 0.90, goods at 0.80
		{trade.Relief{Quantity: dec("1"), Value: 11_000, Base: 8_800}, -2_000, 900, 1_100},
	} {
		e := ledger.Entry{Currency: "USD"}
		require.NoError(
			t,
			Filled(
				&e,
				order,
				line,
				trade.Part{Invoice: 7, Rate: dec("0.9"), Relief: trade.Relief{Quantity: dec("1"), Value: 12_000, Base: 10_800}},
				c.taken,
				"EUR",
			),
		)
		require.NoError(t, e.Check())
		require.Equal(
			t,
			[]money.Amount{c.grni, c.variance, c.ex},
			[]money.Amount{e.Of(ledger.GRNI), e.Of(ledger.PriceVariance), e.Of(ledger.ExchangeDifference)},
		)
		for _, l := range e.Lines {
			require.EqualValues(t, 7, l.Bill, "so that a void finds it")
		}
	}
}

// Discount kept: payables leave in full, less goes into transit.
func TestDiscount(t *testing.T) {
	e, err := PaymentSent("BRACK", "LGN-2", []PaidPart{{Amount: 9_800, Discount: 200, Base: 10_000}}, "EUR", money.Int(1), "EUR")
	require.NoError(t, err)
	require.Equal(t, money.Amount(10_000), e.Of(ledger.Payables))
	require.Equal(t, money.Amount(-9_800), e.Of(ledger.InTransit))
	require.Equal(t, money.Amount(-200), e.Of(ledger.DiscountReceived))
	require.Zero(t, e.Of(ledger.ExchangeDifference))
	turned := e.Reversed()
	for i, l := range e.Lines {
		require.Equal(t, l.Base, -turned.Lines[i].Base)
	}
}

// Whatever the amounts and rates, an invoice's entry balances in both currencies.
func TestEveryInvoiceBalances(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		order, line := setting("USD", trade.ThreeWay, "1000", "7.77")
		quantity := money.Decimal(rapid.Int64Range(1, int64(dec("1000"))).Draw(t, "quantity"))
		value := money.Amount(rapid.Int64Range(0, 1_000_000).Draw(t, "value"))
		base := money.Amount(rapid.Int64Range(0, 1_000_000).Draw(t, "base"))
		inv := trade.Invoice{Currency: "USD", Rate: money.Decimal(rapid.Int64Range(1, 3_000_000).Draw(t, "rate")), Lines: []trade.InvoiceLine{
			{
				No:          1,
				OrderLineID: 1,
				Quantity:    quantity,
				Price:       money.Decimal(rapid.Int64Range(0, 50_000_000).Draw(t, "price")),
				Base:        money.Int(1),
				TaxCategory: "S",
				TaxRate:     dec("23"),
			}}}
		totals, err := inv.Totals()
		require.NoError(t, err)
		inv.StatedTotal = totals.Total + money.Amount(rapid.Int64Range(-5, 5).Draw(t, "rounding"))
		one := takes(line, "1", value, base)
		one.Order, one.Kind, one.Relief.Quantity = order, trade.AllocatedBilled, quantity
		e, err := Invoice(Bill{Invoice: inv, Supplier: "TIDEW", Totals: totals, Orders: []*trade.Order{order}, Allocated: []Allocated{one}, Rate: inv.Rate}, "EUR")
		require.NoError(t, err)
		require.NoError(t, e.Check())
	})
}
