package jobs

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Any history of orders, deliveries, returns, closings, changes, invoices, decisions, corrections, holds, voids, reversals, releases, runs and answers, at changing prices, rates and
// accounts, in any order, leaves books that agree with their documents: what stands in GRNI is replayed from quantities, prices and rates with other code than booked it. What is refused
// is refused in words and changes nothing.
func TestAnyHistoryProvesItself(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		b := setUp(t)
		numbers := []int64{b.order("BRACK", "10", "7.5"), b.order("TIDEW", "3")}
		suppliers := map[int64]string{numbers[0]: "BRACK", numbers[1]: "TIDEW"}
		note := 0
		goods := func() int64 { return int64(rapid.IntRange(7001, 7008).Draw(rt, "document")) }
		for range rapid.IntRange(3, 18).Draw(rt, "steps") {
			order := rapid.SampledFrom(numbers).Draw(rt, "order")
			quantity := money.Decimal(rapid.Int64Range(1, 12_000_000).Draw(rt, "quantity")).String()
			number := int64(rapid.IntRange(1001, 1005).Draw(rt, "invoice"))
			note++
			var err error
			switch rapid.IntRange(0, 25).Draw(rt, "act") {
			case 0, 1, 2:
				e := count(order, fmt.Sprintf("DN %d", note), quantity)
				e.Day, e.Lines[0].Close = b.today(), rapid.Bool().Draw(rt, "close")
				_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), e)
			case 3, 4, 5:
				price := rapid.SampledFrom([]string{"12", "12.1", "11.333333", "13"}).Draw(rt, "price")
				bill := b.bill(suppliers[order], order, fmt.Sprintf("N%d", note*1117), quantity, price)
				bill.Invoice.Date = b.today()
				_, err = b.app.KeyInvoice(b.ctx, b.as("clerk"), bill)
			case 6:
				err = b.acceptAnything(number)
			case 7:
				if rapid.Bool().Draw(rt, "void") {
					_, err = b.app.VoidInvoice(b.ctx, b.as("approver"), Ending{Invoice: number, Reason: "r"})
				} else {
					_, err = b.app.RefuseInvoice(b.ctx, b.as("approver"), Ending{Invoice: number, Reason: "r"})
				}
			case 8:
				_, err = b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: goods(), Reason: "r"}) // of a delivery or a return
			case 9:
				err = b.payAnything(rapid.SampledFrom([]string{"ACSC", "RJCT", "PDNG"}).Draw(rt, "answer"))
			case 10:
				numbers = append(numbers, b.order("BRACK", quantity))
				suppliers[numbers[len(numbers)-1]] = "BRACK"
			case 11:
				_, err = b.app.HoldInvoice(b.ctx, b.as("treasurer"), HoldEntry{Invoice: number, Reason: "goods"})
			case 12:
				_, err = b.app.LiftHold(b.ctx, b.as("treasurer"), LiftEntry{Hold: int64(rapid.IntRange(1, 3).Draw(rt, "hold"))})
			case 13:
				_, err = b.app.AcceptFree(b.ctx, b.as("approver"), FreeEntry{Order: order, Line: 1, Note: "n"})
			case 22:
				_, err = b.app.UndoFree(b.ctx, b.as("approver"), ReversalEntry{Delivery: goods(), Reason: "r"})
			case 23:
				b.later(1)
				_, err = b.app.SetRate(b.ctx, b.as("treasurer"), store.ExchangeRate{Currency: "USD", Day: b.today(), Rate: rapid.SampledFrom([]money.Decimal{dec("0.8"), dec("0.9137"), dec("1.111111")}).Draw(rt, "rate")})
			case 24:
				err = b.chargeTo(rapid.SampledFrom([]trade.Account{trade.StockAccount, trade.ExpenseAccount}).Draw(rt, "account"))
			case 25:
				b.later(1)
			case 14:
				entry := b.bill(suppliers[order], order, fmt.Sprintf("C%d", note*1117), quantity, "12")
				entry.Reason = "r"
				_, err = b.app.CorrectInvoice(b.ctx, b.as("clerk"), number, entry)
			case 16, 17:
				_, err = b.app.BookReturn(b.ctx, b.as("receiver"), receive.ReturnEntry{Delivery: goods(), Day: b.today(), Reason: "r",
					Outcome: rapid.SampledFrom([]receive.Outcome{receive.Replacement, receive.Credit}).Draw(rt, "outcome"), Lines: []receive.ReturnLine{{No: 1, Quantity: dec(quantity)}}})
			case 18:
				_, err = b.app.CloseLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: rapid.Bool().Draw(rt, "goods"), Invoices: rapid.Bool().Draw(rt, "invoices"), Reason: "r"})
			case 19:
				_, err = b.app.ReopenLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: rapid.Bool().Draw(rt, "goods"), Invoices: rapid.Bool().Draw(rt, "invoices"), Reason: "r"})
			case 20:
				_, err = b.app.ChangeOrder(b.ctx, b.as("buyer"), ChangeEntry{Number: order, Reason: "r", OrderEntry: OrderEntry{WantedOn: "2026-12-01", Lines: []OrderEntryLine{
					{No: 1, Item: "KRILL", Quantity: dec(quantity), Price: rapid.SampledFrom([]money.Decimal{dec("12.4"), dec("9.999999"), dec("12")}).Draw(rt, "order price"), TaxCategory: "S", TaxRate: dec("23"), Budget: "FEED"}}}})
			case 21:
				_, err = b.app.CancelOrder(b.ctx, b.as("buyer"), order, 0, "r")
			case 15:
				err = b.payPartly(number, rapid.IntRange(0, 3).Draw(rt, "step"))
			}
			var no *fault.Fault
			if err != nil {
				require.True(t, errors.As(err, &no), "%v", err)
				require.NotEmpty(t, no.Sentence)
			}
			require.NoError(t, b.app.Drain(b.ctx))
			b.proved()
		}
	})
}

// A long life of one order's goods, with the quantities that come up: what is here stays within its limits, what was billed
// or given away is not taken back, and whatever closed or opened a line last stands.
func TestAnyHistoryOfGoods(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		b := setUp(t)
		order := b.order("BRACK", "10")
		both := func(what string) ClosingEntry {
			sides := rapid.SampledFrom([][2]bool{{true, false}, {false, true}, {true, true}}).Draw(rt, what)
			return ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: sides[0], Invoices: sides[1], Reason: "r"}
		}
		deliveries := []int64{7001}
		delivery := func() int64 { return rapid.SampledFrom(deliveries).Draw(rt, "delivery") }
		for note := range rapid.IntRange(5, 20).Draw(rt, "steps") {
			was := b.line(order)
			quantity := rapid.SampledFrom([]string{"4", "9.1", "0.9", was.Rest().String(), was.Open().String()}).Draw(rt, "quantity")
			var err error
			switch act := rapid.SampledFrom(sensible(was)).Draw(rt, "act"); act {
			case "receive", "receive last":
				e := count(order, fmt.Sprintf("DN %d", note), quantity)
				e.Lines[0].Close = act == "receive last"
				var booked Booked
				if booked, err = b.app.BookDelivery(b.ctx, b.as("receiver"), e); err == nil {
					deliveries = append(deliveries, booked.Number)
				}
				if line := b.line(order); err == nil && act == "receive last" {
					require.True(t, line.ClosedGoods && line.Came() >= dec("9"), "at least 90 %% came: %s", line.Came())
				}
			case "return":
				_, err = b.app.BookReturn(b.ctx, b.as("receiver"), receive.ReturnEntry{Delivery: delivery(), Day: b.today(), Reason: "r",
					Outcome: rapid.SampledFrom([]receive.Outcome{receive.Replacement, receive.Credit}).Draw(rt, "outcome"), Lines: []receive.ReturnLine{{No: 1, Quantity: dec(quantity)}}})
			case "reverse":
				_, err = b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: delivery(), Reason: "r"})
				require.Equal(t, was.Billed, b.line(order).Billed, "what is billed stays")
			case "close":
				_, err = b.app.CloseLines(b.ctx, b.as("buyer"), both("close"))
			case "open":
				entry := both("open")
				if _, err = b.app.ReopenLines(b.ctx, b.as("buyer"), entry); err == nil {
					line := b.line(order)
					require.False(t, (entry.Goods && line.ClosedGoods) || (entry.Invoices && line.ClosedInvoices))
				}
			case "free":
				if _, err = b.app.AcceptFree(b.ctx, b.as("approver"), FreeEntry{Order: order, Line: 1, Note: "n"}); err == nil {
					line := b.line(order)
					require.True(t, line.ClosedGoods && line.ClosedInvoices && line.Unclaimed() == 0)
				}
			case "bill":
				_, err = b.app.KeyInvoice(b.ctx, b.as("clerk"), b.bill("BRACK", order, fmt.Sprintf("N%d", note*1117), quantity, "12"))
			}
			var no *fault.Fault
			if err != nil {
				require.True(t, errors.As(err, &no), "%v", err)
			}
			require.NoError(t, b.app.Drain(b.ctx))
			line := b.line(order)
			require.LessOrEqual(t, line.Came(), dec("11"), "10 %% over is allowed")
			require.GreaterOrEqual(t, line.Received, money.Decimal(0))
			b.proved()
		}
	})
}

// sensible are acts on a line that may come to something, and once each the others.
func sensible(line *trade.OrderLine) []string {
	acts := []string{"receive", "receive last", "return", "reverse", "close", "open", "free", "bill"}
	if line.Rest() > 0 {
		acts = append(acts, "receive", "receive", "receive last", "receive last")
	}
	if line.Open() > 0 {
		acts = append(acts, "return", "reverse", "reverse", "free", "bill")
	}
	if line.ClosedGoods || line.ClosedInvoices {
		acts = append(acts, "open", "open", "open")
	}
	return acts
}

// For one order, without decisions of a person and with goods within their limits, it makes no difference whether the
// goods or the invoices came first: the same quantities are open, and GRNI and payables are the same.
func TestGoodsOrInvoicesFirstComeToTheSame(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		goods := rapid.SliceOfN(rapid.Int64Range(1, 6_000_000), 1, 4).Draw(rt, "goods")
		bills := rapid.SliceOfN(rapid.Int64Range(1, 6_000_000), 1, 4).Draw(rt, "bills")
		mixed := rapid.SliceOfN(rapid.Bool(), 8, 8).Draw(rt, "goods next")
		goodsFirst, invoicesFirst := make([]bool, 8), make([]bool, 8)
		for i := range goods {
			goodsFirst[i] = true
		}
		for i := range goods {
			invoicesFirst[len(bills)+i] = true
		}
		b := setUp(t)
		end := func(order int64, goodsNext []bool) string {
			g, i := 0, 0
			for _, next := range append(goodsNext, true, true, true, true, false, false, false, false) {
				switch {
				case next && g < len(goods):
					quantity := money.Decimal(goods[g]).String()
					g++
					_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, fmt.Sprintf("DN %d-%d", order, g), quantity))
					require.True(t, err == nil || fault.Is(err, fault.Refused), "%v", err) // past the limit, each time alike
				case !next && i < len(bills):
					quantity := money.Decimal(bills[i]).String()
					i++
					b.key(b.bill("BRACK", order, fmt.Sprint(order*order*7919+int64(i)*15485863), quantity, "12"))
				}
				require.NoError(t, b.app.Drain(b.ctx))
			}
			sheet, err := b.app.OrderSheet(b.ctx, order, b.actors["clerk"])
			require.NoError(t, err)
			line := sheet.Order.Lines[0]
			var grni, payables int64
			require.NoError(t, b.store.QueryRow(b.ctx, `SELECT coalesce(sum(base) FILTER (WHERE role = 'grni'), 0), coalesce(sum(base) FILTER (WHERE role = 'payables'), 0)
				FROM entry_line JOIN entry ON entry.id = entry WHERE purchase_order = ?`, order).Scan(&grni, &payables))
			return fmt.Sprint(line.Received, line.Billed, line.Beyond, line.Open(), line.Rest(), grni, payables)
		}
		ends := []string{end(b.order("BRACK", "10"), goodsFirst), end(b.order("BRACK", "10"), invoicesFirst), end(b.order("BRACK", "10"), mixed)}
		require.Equal(t, ends[0], ends[1], "goods first, invoices first")
		require.Equal(t, ends[0], ends[2], "goods first, mixed")
		b.proved()
	})
}

// chargeTo changes what the item is charged to from now on.
func (b *bench) chargeTo(account trade.Account) error {
	sheet, err := b.app.ItemSheet(b.ctx, "KRILL")
	if err != nil {
		return err
	}
	item := sheet.Item
	item.Account = account
	_, err = b.app.SaveItem(b.ctx, b.as("admin"), ItemEntry{Item: item})
	return err
}

func (b *bench) acceptAnything(number int64) error {
	sheet, err := b.app.InvoiceSheet(b.ctx, number, b.actors["approver"])
	if err != nil {
		return err
	}
	for _, f := range sheet.Findings {
		if f.May(finding.Accept) {
			_, err := b.app.AcceptFinding(b.ctx, b.as("approver"), AcceptEntry{Invoice: number, Kind: f.Kind, Line: f.Line, Note: "n"})
			return err
		}
	}
	return nil
}

// payPartly does one step of the way to payment, on its own and whether or not its time has come.
func (b *bench) payPartly(number int64, step int) error {
	const run = 301
	var err error
	switch step {
	case 0:
		_, err = b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{number})
	case 1:
		_, err = b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today(), PayOn: b.today(), Items: []RunItem{{Invoice: number}}})
	case 2:
		_, err = b.app.ApproveRun(b.ctx, b.as("treasurer"), run, 0)
	case 3:
		_, err = b.app.DiscardRun(b.ctx, b.as("treasurer"), run, 0)
	}
	return err
}

func (b *bench) payAnything(status string) error {
	view, err := b.app.PaymentsView(b.ctx)
	if err != nil || len(view.Verified) == 0 {
		return err
	}
	var numbers []int64
	for _, v := range view.Verified {
		numbers = append(numbers, v.Number)
	}
	if _, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), numbers); err != nil {
		return err
	}
	proposal, err := b.app.Propose(b.ctx, b.today().Add(90), b.today())
	if err != nil {
		return err
	}
	entry := RunEntry{DueBy: b.today(), PayOn: b.today()}
	for _, p := range proposal.Payments {
		for _, i := range p.Items {
			entry.Items = append(entry.Items, RunItem{Invoice: i.Invoice})
		}
	}
	made, err := b.app.MakeRun(b.ctx, b.as("clerk"), entry)
	if err != nil {
		return err
	}
	if _, err := b.app.ApproveRun(b.ctx, b.as("treasurer"), made.Number, 0); err != nil {
		return err
	}
	sheet, err := b.app.RunSheet(b.ctx, made.Number)
	if err != nil {
		return err
	}
	_, err = b.app.TakeAnswer(b.ctx, b.as("treasurer"), answer(store.Run{Message: sheet.Message}, status))
	return err
}
