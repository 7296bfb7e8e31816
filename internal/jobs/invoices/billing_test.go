package invoices_test

import (
	"errors"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
)

// A long life of one order's bills and goods in another currency, at changing prices, rates and accounts: a limit lets
// invoices run ahead of the goods, so that much is billed beyond receipts, filled, made void, sent back and undone, taken to
// variance and back, in any order. After each step the books are proved by what is replayed of the documents; once every
// invoice is void and all goods are taken back, nothing is left on any account.
func TestAnyHistoryOfBilling(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		b := housetest.SetUp(t)
		require.NoError(t, masters.Masters(b.Ctx, b.App, b.As("admin"), "limits", func(tx *store.Tx) error {
			return errors.Join(
				tx.PutLimit(store.LimitRule{Rule: limit.Rule{Kind: limit.InvoicedQuantity, Side: limit.Over, Absolute: new(int64(housetest.Dec("6")))}}),
				tx.PutLimit(store.LimitRule{Rule: limit.Rule{Kind: limit.UnitPrice, Side: limit.Over, Percent: new(housetest.Dec("100"))}}))
		}))
		line := housetest.Krill("10", "12")
		line.Level = rapid.SampledFrom([]trade.Level{trade.ThreeWay, trade.ByReceipt}).Draw(rt, "level")
		issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{Supplier: "TIDEW", WantedOn: "2026-11-30", Lines: []orders.EntryLine{line}})
		require.NoError(t, err)
		order := issued.Number
		var bills, documents, free []int64
		pick := func(of []int64, name string) int64 {
			return rapid.SampledFrom(append(slices.Clone(of), 1)).Draw(rt, name)
		}
		for n := range rapid.IntRange(6, 22).Draw(rt, "steps") {
			was := b.Line(order)
			quantity := rapid.SampledFrom([]string{"1.5", "4", "2.333333", was.Rest().String(), was.Open().String()}).Draw(rt, "quantity")
			var err error
			var booked receiving.Booked
			switch rapid.SampledFrom([]string{"receive", "receive", "receive last", "bill", "bill", "bill", "void", "void", "return", "return", "undo", "undo", "close", "open", "free", "undo free", "price", "rate", "account"}).Draw(rt, "act") {
			case "receive":
				e := housetest.Count(order, fmt.Sprintf("DN %d", n), quantity)
				e.Day = b.Today()
				booked, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
			case "receive last":
				e := housetest.Count(order, fmt.Sprintf("DN %d", n), quantity)
				e.Day, e.Lines[0].Close = b.Today(), true
				booked, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
			case "bill":
				bill := b.Bill("TIDEW", order, fmt.Sprintf("N%d", n*1117), quantity, rapid.SampledFrom([]string{"12", "12.4", "9"}).Draw(rt, "asked"))
				bill.Date = b.Today()
				bill.Final = rapid.IntRange(0, 5).Draw(rt, "final") == 0
				for range rapid.IntRange(0, 2).Draw(rt, "notes") { // some are here, some come later, some never
					bill.Lines[0].Notes += fmt.Sprintf("DN %d, ", rapid.IntRange(0, n+2).Draw(rt, "note"))
				}
				var captured act.Captured
				if captured, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), bill); err == nil {
					bills = append(bills, captured.Number)
				}
			case "void":
				_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: pick(bills, "bill"), Reason: "r"})
			case "return":
				booked, err = receiving.BookReturn(
					b.Ctx,
					b.App,
					b.As("receiver"),
					receive.ReturnEntry{Delivery: pick(documents, "delivery"), Day: b.Today(), Reason: "r",
						Outcome: rapid.SampledFrom([]receive.Outcome{receive.Replacement, receive.Credit}).
							Draw(rt, "outcome"),
						Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec(quantity)}}},
				)
			case "undo":
				_, err = receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: pick(documents, "document"), Reason: "r"})
			case "close":
				_, err = orders.CloseLines(
					b.Ctx,
					b.App,
					b.As("buyer"),
					orders.ClosingEntry{
						Lines:    []orders.LineRef{{Order: order, Line: 1}},
						Goods:    true,
						Invoices: rapid.Bool().Draw(rt, "invoices"),
						Reason:   "r",
					},
				)
			case "open":
				_, err = orders.ReopenLines(
					b.Ctx,
					b.App,
					b.As("buyer"),
					orders.ClosingEntry{
						Lines:    []orders.LineRef{{Order: order, Line: 1}},
						Goods:    true,
						Invoices: rapid.Bool().Draw(rt, "invoices"),
						Reason:   "r",
					},
				)
			case "free":
				var accepted receiving.Accepted
				if accepted, err = receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), receiving.FreeEntry{Order: order, Line: 1, Note: "n"}); err == nil {
					free = append(free, accepted.Number)
				}
			case "undo free":
				_, err = receiving.UndoFree(b.Ctx, b.App, b.As("approver"), receiving.ReversalEntry{Delivery: pick(free, "free"), Reason: "r"})
			case "price":
				_, err = orders.Change(
					b.Ctx,
					b.App,
					b.As("buyer"),
					orders.ChangeEntry{Number: order, Reason: "r", Entry: orders.Entry{WantedOn: "2026-12-31", Lines: []orders.EntryLine{
						{
							No:       1,
							Item:     "KRILL",
							Quantity: was.Quantity,
							Price: rapid.SampledFrom([]money.Decimal{housetest.Dec("12"), housetest.Dec("15"), housetest.Dec("9.999999")}).
								Draw(rt, "price"),
							TaxCategory: "S",
							TaxRate:     housetest.Dec("23"),
							Budget:      "FEED",
						}}}},
				)
			case "rate":
				b.Later(1)
				_, err = masters.SetRate(
					b.Ctx,
					b.App,
					b.As("treasurer"),
					store.ExchangeRate{
						Currency: "USD",
						Day:      b.Today(),
						Rate:     rapid.SampledFrom([]money.Decimal{housetest.Dec("0.8"), housetest.Dec("0.9137"), housetest.Dec("1.111111")}).Draw(rt, "rate"),
					},
				)
			case "account":
				err = b.ChargeTo(rapid.SampledFrom([]trade.Account{trade.StockAccount, trade.ExpenseAccount}).Draw(rt, "account"))
			}
			if booked.Number != 0 {
				documents = append(documents, booked.Number)
			}
			var no *fault.Fault
			if err != nil {
				require.True(t, errors.As(err, &no), "%v", err)
			}
			require.NoError(t, invoices.Drain(b.Ctx, b.App))
			b.Proved()
		}
		takenBack(b, order, bills, documents, free)
	})
}

// takenBack undoes all that can be undone and holds that nothing is left: free goods, invoices, returns, deliveries.
func takenBack(b *housetest.Bench, order int64, bills, documents, free []int64) {
	b.T.Helper()
	settled := func(err error) {
		var no *fault.Fault
		require.True(b.T, err == nil || errors.As(err, &no), "%v", err)
		require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	}
	for _, n := range free {
		settled(housetest.Drop(receiving.UndoFree(b.Ctx, b.App, b.As("approver"), receiving.ReversalEntry{Delivery: n, Reason: "r"})))
	}
	for _, n := range bills { // what is open is refused first, so that nothing moves by itself
		settled(housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("approver"), invoices.Refusal{Ending: act.Ending{Invoice: n, Reason: "r"}})))
	}
	for _, n := range bills {
		settled(housetest.Drop(invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: n, Reason: "r"})))
	}
	for _, n := range slices.Backward(documents) {
		settled(housetest.Drop(receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: n, Reason: "r"})))
	}
	b.Proved()
	line := b.Line(order)
	require.Zero(b.T, line.Billed, "nothing is billed any more")
	require.Zero(b.T, line.Held(), "nothing is here any more")
	for _, role := range []string{"grni", "stock", "expense", "price_variance", "exchange_difference", "free_of_charge", "payables", "input_tax"} {
		require.Zero(b.T, b.Balance(role), role)
	}
}
