package posting

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/ledger"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func setting(currency money.Currency, level trade.Level, quantity, price string) (*trade.Order, *trade.OrderLine) {
	line := &trade.OrderLine{ID: 1, No: 1, Quantity: dec(quantity), Price: dec(price), Base: money.Int(1), Budget: "FEED", Account: trade.StockAccount, Level: level}
	line.Net, _ = money.Net(line.Quantity, line.Price, line.Base, 0, 0, currency)
	return &trade.Order{Number: 4107, Currency: currency, Lines: []*trade.OrderLine{line}}, line
}

func billOf(currency money.Currency, quantity, price, rate string) (trade.Invoice, trade.Totals) {
	inv := trade.Invoice{Number: 1001, Currency: currency, Rate: dec(rate), Lines: []trade.InvoiceLine{{No: 1, OrderLineID: 1, Quantity: dec(quantity), Price: dec(price), Base: money.Int(1), TaxCategory: "Z"}}}
	totals, _ := inv.Totals()
	inv.StatedTotal = totals.Total
	return inv, totals
}

func post(t *testing.T, inv trade.Invoice, order *trade.Order, totals trade.Totals, allocations ...match.Allocation) ledger.Entry {
	t.Helper()
	allocated, err := Relieve(order, inv, allocations, "EUR")
	require.NoError(t, err)
	e, err := Invoice(inv, "BRACK", order, totals, allocated, "EUR")
	require.NoError(t, err)
	require.NoError(t, e.Check())
	return e
}

// Rules §1, worked: receipt 100 at 0.90, invoice 110 at 0.92, paid at 0.95: GRNI 90.00, variance 9.20, exchange
// 2.00; then 3.30.
func TestWorkedForeignCurrency(t *testing.T) {
	order, line := setting("USD", trade.ThreeWay, "1", "100")
	receipt := &trade.Receipt{ID: 1, Quantity: dec("1"), Value: 10_000, ValueBase: 9_000}
	inv, totals := billOf("USD", "1", "110", "0.92")
	e := post(t, inv, order, totals, match.Allocation{OrderLine: line, Receipt: receipt, Quantity: dec("1")})
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

// Common practice: ordered 100 at 12.00, 130 received under a 100 % over-limit, 100 invoiced: 30 stay uninvoiced, and
// 360.00 leaves GRNI once they are accepted as free of charge.
func TestWorkedFreeOfCharge(t *testing.T) {
	order, line := setting("EUR", trade.ThreeWay, "100", "12")
	value, err := line.ShareOfNet(0, dec("130"))
	require.NoError(t, err)
	receipt := &trade.Receipt{ID: 1, Quantity: dec("130"), Value: value, ValueBase: value}
	inv, totals := billOf("EUR", "100", "12", "1")
	e := post(t, inv, order, totals, match.Allocation{OrderLine: line, Receipt: receipt, Quantity: dec("100")})
	require.Equal(t, money.Amount(120_000), e.Of(ledger.GRNI))
	taken, err := receipt.Relieve(receipt.Open())
	require.NoError(t, err)
	free := FreeOfCharge(order, line, []trade.Relief{taken})
	require.Equal(t, money.Amount(36_000), free.Of(ledger.GRNI))
	require.Equal(t, money.Amount(-36_000), free.Of(ledger.FreeOfCharge))
}

func TestDeliveryBooksAtReceiptValue(t *testing.T) {
	order, line := setting("EUR", trade.ThreeWay, "10", "4")
	e := Delivery(order, []receive.Receipt{{Line: line, Quantity: dec("4"), Value: 1_600, ValueBase: 1_600}}, nil, nil)
	require.NoError(t, e.Check())
	require.Equal(t, money.Amount(1_600), e.Of(ledger.Stock))
	require.Equal(t, money.Amount(-1_600), e.Of(ledger.GRNI))
	_, twoWay := setting("EUR", trade.TwoWay, "10", "4")
	require.True(t, Delivery(order, []receive.Receipt{{Line: twoWay, Value: 1_600, ValueBase: 1_600}}, nil, nil).Empty(), "on two-way lines receipts book nothing")
}

func TestTwoWayDebitsTheBudget(t *testing.T) {
	order, line := setting("EUR", trade.TwoWay, "10", "4")
	line.Account = trade.ExpenseAccount
	inv, totals := billOf("EUR", "10", "4.10", "1")
	e := post(t, inv, order, totals, match.Allocation{OrderLine: line, Quantity: dec("10")})
	require.Equal(t, money.Amount(4_100), e.Of(ledger.Expense))
	require.Zero(t, e.Of(ledger.GRNI)+e.Of(ledger.PriceVariance))
}

// Charges, a discount on the whole, tax as stated and a rounding rest each have their account.
func TestEverythingElseOnAnInvoice(t *testing.T) {
	order, line := setting("EUR", trade.ThreeWay, "10", "4")
	receipt := &trade.Receipt{Quantity: dec("10"), Value: 4_000, ValueBase: 4_000}
	inv, _ := billOf("EUR", "10", "4", "1")
	inv.Charges = []trade.DocumentCharge{{Kind: "freight", Amount: 500, TaxCategory: "Z"}, {Allowance: true, Kind: "discount", Amount: 100, TaxCategory: "Z"}}
	inv.Taxes = []trade.StatedTax{{Category: "Z", Amount: 7}}
	totals, err := inv.Totals()
	require.NoError(t, err)
	inv.StatedTotal = totals.Total + 3
	e := post(t, inv, order, totals, match.Allocation{OrderLine: line, Receipt: receipt, Quantity: dec("10")})
	require.Equal(t, money.Amount(500), e.Of(ledger.Charges))
	require.Equal(t, money.Amount(-100), e.Of(ledger.PriceVariance))
	require.Equal(t, money.Amount(7), e.Of(ledger.InputTax))
	require.Equal(t, money.Amount(3), e.Of(ledger.RoundingDifference))
	require.Equal(t, -inv.StatedTotal, e.Of(ledger.Payables))
}

// Beyond receipts GRNI is debited at the order's price; when the goods come at another value the rest is variance.
func TestBeyondReceiptsAndTheirFill(t *testing.T) {
	order, line := setting("EUR", trade.ThreeWay, "3", "3.333333")
	inv, totals := billOf("EUR", "3", "3.333333", "1")
	e := post(t, inv, order, totals, match.Allocation{OrderLine: line, Quantity: dec("3")})
	require.Equal(t, money.Amount(1_000), e.Of(ledger.GRNI))
	line.Beyond, line.BeyondValue, line.BeyondBase = dec("3"), 1_000, 1_000
	receipt := &trade.Receipt{Quantity: dec("3"), Value: 998, ValueBase: 998}
	fill, err := receive.FillBeyond(line, receipt)
	require.NoError(t, err)
	d := Delivery(order, []receive.Receipt{{Line: line, Value: 998, ValueBase: 998}}, []receive.Fill{fill}, []*trade.OrderLine{line})
	require.NoError(t, d.Check())
	require.Zero(t, e.Of(ledger.GRNI)+d.Of(ledger.GRNI), "nothing stays open")
	require.Equal(t, money.Amount(2), d.Of(ledger.PriceVariance), "what they were billed above their value")
	require.Equal(t, money.Amount(998), d.Of(ledger.Stock))
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
		receipt := &trade.Receipt{Quantity: dec("1000"), Value: value, ValueBase: money.Amount(rapid.Int64Range(0, 1_000_000).Draw(t, "base"))}
		inv := trade.Invoice{Currency: "USD", Rate: money.Decimal(rapid.Int64Range(1, 3_000_000).Draw(t, "rate")), Lines: []trade.InvoiceLine{
			{No: 1, OrderLineID: 1, Quantity: quantity, Price: money.Decimal(rapid.Int64Range(0, 50_000_000).Draw(t, "price")), Base: money.Int(1), TaxCategory: "S", TaxRate: dec("23")}}}
		totals, err := inv.Totals()
		require.NoError(t, err)
		inv.StatedTotal = totals.Total + money.Amount(rapid.Int64Range(-5, 5).Draw(t, "rounding"))
		allocated, err := Relieve(order, inv, []match.Allocation{{OrderLine: line, Receipt: receipt, Quantity: quantity}}, "EUR")
		require.NoError(t, err)
		e, err := Invoice(inv, "TIDEW", order, totals, allocated, "EUR")
		require.NoError(t, err)
		require.NoError(t, e.Check())
	})
}
