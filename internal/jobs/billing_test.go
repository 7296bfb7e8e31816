package jobs

import (
	"errors"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// A long life of one order's bills and goods in another currency, at changing prices, rates and accounts: a limit lets
// invoices run ahead of the goods, so that much is billed beyond receipts, filled, made void, sent back and undone, taken to
// variance and back, in any order. After each step the books are proved by what is replayed of the documents; once every
// invoice is void and all goods are taken back, nothing is left on any account.
func TestAnyHistoryOfBilling(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		b := setUp(t)
		require.NoError(t, b.app.Masters(b.ctx, b.as("admin"), "limits", func(tx *store.Tx) error {
			return errors.Join(
				tx.PutLimit(store.LimitRule{Rule: limit.Rule{Kind: limit.InvoicedQuantity, Side: limit.Over, Absolute: new(int64(dec("6")))}}),
				tx.PutLimit(store.LimitRule{Rule: limit.Rule{Kind: limit.UnitPrice, Side: limit.Over, Percent: new(dec("100"))}}))
		}))
		order := b.order("TIDEW", "10")
		var bills, documents, free []int64
		pick := func(of []int64, name string) int64 {
			return rapid.SampledFrom(append(slices.Clone(of), 1)).Draw(rt, name)
		}
		for n := range rapid.IntRange(6, 22).Draw(rt, "steps") {
			was := b.line(order)
			quantity := rapid.SampledFrom([]string{"1.5", "4", "2.333333", was.Rest().String(), was.Open().String()}).Draw(rt, "quantity")
			var err error
			var booked Booked
			switch rapid.SampledFrom([]string{"receive", "receive", "receive last", "bill", "bill", "bill", "void", "void", "return", "return", "undo", "undo", "close", "open", "free", "undo free", "price", "rate", "account"}).Draw(rt, "act") {
			case "receive":
				e := count(order, fmt.Sprintf("DN %d", n), quantity)
				e.Day = b.today()
				booked, err = b.app.BookDelivery(b.ctx, b.as("receiver"), e)
			case "receive last":
				e := count(order, fmt.Sprintf("DN %d", n), quantity)
				e.Day, e.Lines[0].Close = b.today(), true
				booked, err = b.app.BookDelivery(b.ctx, b.as("receiver"), e)
			case "bill":
				bill := b.bill("TIDEW", order, fmt.Sprintf("N%d", n*1117), quantity, rapid.SampledFrom([]string{"12", "12.4", "9"}).Draw(rt, "asked"))
				bill.Invoice.Date = b.today()
				var captured Captured
				if captured, err = b.app.KeyInvoice(b.ctx, b.as("clerk"), bill); err == nil {
					bills = append(bills, captured.Number)
				}
			case "void":
				_, err = b.app.VoidInvoice(b.ctx, b.as("approver"), Ending{Invoice: pick(bills, "bill"), Reason: "r"})
			case "return":
				booked, err = b.app.BookReturn(b.ctx, b.as("receiver"), receive.ReturnEntry{Delivery: pick(documents, "delivery"), Day: b.today(), Reason: "r",
					Outcome: rapid.SampledFrom([]receive.Outcome{receive.Replacement, receive.Credit}).Draw(rt, "outcome"), Lines: []receive.ReturnLine{{No: 1, Quantity: dec(quantity)}}})
			case "undo":
				_, err = b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: pick(documents, "document"), Reason: "r"})
			case "close":
				_, err = b.app.CloseLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: true, Invoices: rapid.Bool().Draw(rt, "invoices"), Reason: "r"})
			case "open":
				_, err = b.app.ReopenLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: true, Invoices: rapid.Bool().Draw(rt, "invoices"), Reason: "r"})
			case "free":
				var accepted Accepted
				if accepted, err = b.app.AcceptFree(b.ctx, b.as("approver"), FreeEntry{Order: order, Line: 1, Note: "n"}); err == nil {
					free = append(free, accepted.Number)
				}
			case "undo free":
				_, err = b.app.UndoFree(b.ctx, b.as("approver"), ReversalEntry{Delivery: pick(free, "free"), Reason: "r"})
			case "price":
				_, err = b.app.ChangeOrder(b.ctx, b.as("buyer"), ChangeEntry{Number: order, Reason: "r", OrderEntry: OrderEntry{WantedOn: "2026-12-31", Lines: []OrderEntryLine{
					{No: 1, Item: "KRILL", Quantity: was.Quantity, Price: rapid.SampledFrom([]money.Decimal{dec("12"), dec("15"), dec("9.999999")}).Draw(rt, "price"), TaxCategory: "S", TaxRate: dec("23"), Budget: "FEED"}}}})
			case "rate":
				b.later(1)
				_, err = b.app.SetRate(b.ctx, b.as("treasurer"), store.ExchangeRate{Currency: "USD", Day: b.today(), Rate: rapid.SampledFrom([]money.Decimal{dec("0.8"), dec("0.9137"), dec("1.111111")}).Draw(rt, "rate")})
			case "account":
				err = b.chargeTo(rapid.SampledFrom([]trade.Account{trade.StockAccount, trade.ExpenseAccount}).Draw(rt, "account"))
			}
			if booked.Number != 0 {
				documents = append(documents, booked.Number)
			}
			var no *fault.Fault
			if err != nil {
				require.True(t, errors.As(err, &no), "%v", err)
			}
			require.NoError(t, b.app.Drain(b.ctx))
			b.proved()
		}
		b.takenBack(order, bills, documents, free)
	})
}

// takenBack undoes all that can be undone and holds that nothing is left: free goods, invoices, returns, deliveries.
func (b *bench) takenBack(order int64, bills, documents, free []int64) {
	b.t.Helper()
	settled := func(err error) {
		var no *fault.Fault
		require.True(b.t, err == nil || errors.As(err, &no), "%v", err)
		require.NoError(b.t, b.app.Drain(b.ctx))
	}
	for _, n := range free {
		settled(drop(b.app.UndoFree(b.ctx, b.as("approver"), ReversalEntry{Delivery: n, Reason: "r"})))
	}
	for _, n := range bills { // what is open is refused first, so that nothing moves by itself
		settled(drop(b.app.RefuseInvoice(b.ctx, b.as("approver"), Ending{Invoice: n, Reason: "r"})))
	}
	for _, n := range bills {
		settled(drop(b.app.VoidInvoice(b.ctx, b.as("approver"), Ending{Invoice: n, Reason: "r"})))
	}
	for _, n := range slices.Backward(documents) {
		settled(drop(b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: n, Reason: "r"})))
	}
	b.proved()
	line := b.line(order)
	require.Zero(b.t, line.Billed, "nothing is billed any more")
	require.Zero(b.t, line.Held(), "nothing is here any more")
	for _, role := range []string{"grni", "stock", "expense", "price_variance", "exchange_difference", "free_of_charge", "payables", "input_tax"} {
		require.Zero(b.t, b.balance(role), role)
	}
}
