package house_test

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// Any history of orders, deliveries, returns, closings, changes, invoices, credit notes, debit notes, claims, decisions, corrections, holds, voids, reversals, releases, runs and answers, at
// changing prices, rates and accounts, with costs spread over months, posted and taken back, and tax under reverse charge, in any order, leaves books that agree with their documents: what stands in GRNI is replayed from quantities, prices and
// rates with other code than booked it. What is refused
// is refused in words and changes nothing.
func TestAnyHistoryProvesItself(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(rt *rapid.T) {
		b := housetest.SetUp(t)
		require.NoError(t, housetest.Drop(masters.SaveTaxCode(b.Ctx, b.App, b.As("admin"), trade.TaxCode{
			Code: "RC", Name: "rc", Category: "AE", Rates: []trade.TaxRate{{From: "2020-01-01", Rate: housetest.Dec("23")}},
		})))
		numbers := []int64{b.Order("BRACK", "10", "7.5"), b.Order("TIDEW", "3")}
		suppliers := map[int64]string{numbers[0]: "BRACK", numbers[1]: "TIDEW"}
		note := 0
		goods := func() int64 { return int64(rapid.IntRange(7001, 7008).Draw(rt, "document")) }
		for range rapid.IntRange(3, 18).Draw(rt, "steps") {
			order := rapid.SampledFrom(numbers).Draw(rt, "order")
			quantity := money.Decimal(rapid.Int64Range(1, 12_000_000).Draw(rt, "quantity")).String()
			number := int64(rapid.IntRange(1001, 1005).Draw(rt, "invoice"))
			note++
			var err error
			switch rapid.IntRange(0, 37).Draw(rt, "act") {
			case 0, 1, 2:
				e := housetest.Count(order, fmt.Sprintf("DN %d", note), quantity)
				e.Day, e.Lines[0].Close = b.Today(), rapid.Bool().Draw(rt, "close")
				_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
			case 3, 4, 5:
				price := rapid.SampledFrom([]string{"12", "12.1", "11.333333", "13"}).Draw(rt, "price")
				bill := b.Bill(suppliers[order], order, fmt.Sprintf("N%d", note*1117), quantity, price)
				bill.Date = b.Today()
				if b.Line(order).Account == trade.ExpenseAccount {
					bill.Lines[0].Defer = deferral.Draw(rt, "spread")
				}
				if rapid.IntRange(0, 2).Draw(rt, "takes back") == 0 {
					back := bill.Lines[0]
					back.Quantity = -rapid.SampledFrom([]money.Decimal{housetest.Dec("1"), b.Line(order).Creditable(), back.Quantity / 2}).Draw(rt, "back")
					back.Price = rapid.SampledFrom([]money.Decimal{back.Price, housetest.Dec("12"), housetest.Dec("0.1")}).Draw(rt, "at")
					bill.Lines = append(bill.Lines, back)
					bill.StatedTotal = b.Total(bill)
				}
				_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), bill)
			case 6:
				err = acceptAnything(b, number)
			case 26, 27, 28:
				line := b.Line(order)
				back := rapid.SampledFrom([]string{quantity, line.Creditable().String(), line.Billed.String(), line.Over().String()}).Draw(rt, "back")
				price := rapid.SampledFrom([]string{"12", "12.1", "11.333333", "0.1", "1"}).Draw(rt, "credited price")
				bill := b.Bill(suppliers[order], order, fmt.Sprintf("R%d", note*1117), back, price)
				bill.Date = b.Today()
				bill.Kind = rapid.SampledFrom([]trade.InvoiceKind{trade.CreditNote, trade.CreditNote, trade.Adjustment}).Draw(rt, "kind")
				bill.Lines[0].Credits = rapid.SampledFrom([]trade.CreditFor{"", trade.ForGoods, trade.ForPrice}).Draw(rt, "for")
				if named, e := views.Invoice(b.Ctx, b.App, number, b.Actors["clerk"]); e == nil && rapid.Bool().Draw(rt, "names one") {
					bill.Credited = named.Invoice.SupplierNumber
				}
				_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), bill)
			case 29, 30, 31, 32:
				err = claimAnything(b, rt, number)
			case 33, 34:
				bill := b.Bill("BRACK", 0, fmt.Sprintf("W%d", note*1117), quantity, "12.1")
				bill.Date, bill.Order, bill.Lines[0].OrderLine = b.Today(), 0, 0
				bill.Lines[0].Budget = rapid.SampledFrom([]string{"SHOP", "FEED 33.333333, SHOP", "SHOP 1, FEED 99"}).Draw(rt, "budget")
				if bill.Lines[0].Budget == "SHOP" {
					bill.Lines[0].Defer = deferral.Draw(rt, "spread")
				}
				if rapid.IntRange(0, 2).Draw(rt, "reverse charge") == 0 {
					bill.Lines[0].TaxCode, bill.StatedTotal = "RC", netOf(bill)
				}
				if bill.Kind = rapid.SampledFrom([]trade.InvoiceKind{trade.PlainInvoice, trade.PlainInvoice, trade.CreditNote}).Draw(rt, "kind"); bill.Kind == trade.CreditNote {
					bill.Lines[0].Defer = nil
					if named, e := views.Invoice(b.Ctx, b.App, number, b.Actors["clerk"]); e == nil {
						bill.Credited = named.Invoice.SupplierNumber
					}
				}
				_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), bill)
			case 35:
				_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), invoices.ApprovalEntry{Invoice: number})
			case 36:
				_, err = invoices.PostDeferrals(b.Ctx, b.App, b.As("treasurer"), b.Today())
			case 37:
				_, err = invoices.UndoDeferrals(b.Ctx, b.App, b.As("treasurer"), int64(rapid.IntRange(1, 4).Draw(rt, "run")))
			case 7:
				if rapid.Bool().Draw(rt, "void") {
					_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: number, Reason: "r"})
				} else {
					_, err = invoices.Refuse(b.Ctx, b.App, b.As("approver"), invoices.Refusal{Ending: act.Ending{Invoice: number, Reason: "r"}})
				}
			case 8:
				_, err = receiving.ReverseDelivery(
					b.Ctx,
					b.App,
					b.As("receiver"),
					receiving.ReversalEntry{Delivery: goods(), Reason: "r"},
				) // of a delivery or a return
			case 9:
				err = payAnything(b, rapid.SampledFrom([]string{"ACSC", "RJCT", "PDNG"}).Draw(rt, "answer"))
			case 10:
				numbers = append(numbers, b.Order("BRACK", quantity))
				suppliers[numbers[len(numbers)-1]] = "BRACK"
			case 11:
				_, err = holds.Hold(b.Ctx, b.App, b.As("treasurer"), holds.HoldEntry{Invoice: number, Reason: "goods"})
			case 12:
				_, err = holds.Lift(b.Ctx, b.App, b.As("treasurer"), holds.LiftEntry{Hold: int64(rapid.IntRange(1, 3).Draw(rt, "hold"))})
			case 13:
				_, err = receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), receiving.FreeEntry{Order: order, Line: 1, Note: "n"})
			case 22:
				_, err = receiving.UndoFree(b.Ctx, b.App, b.As("approver"), receiving.ReversalEntry{Delivery: goods(), Reason: "r"})
			case 23:
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
			case 24:
				err = b.ChargeTo(rapid.SampledFrom([]trade.Account{trade.StockAccount, trade.ExpenseAccount}).Draw(rt, "account"))
			case 25:
				b.Later(rapid.SampledFrom([]int{1, 1, 16, 40}).Draw(rt, "days"))
			case 14:
				entry := b.Bill(suppliers[order], order, fmt.Sprintf("C%d", note*1117), quantity, "12")
				entry.Reason = "r"
				_, err = invoices.Correct(b.Ctx, b.App, b.As("clerk"), number, entry)
			case 16, 17:
				_, err = receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), receive.ReturnEntry{Delivery: goods(), Day: b.Today(), Reason: "r",
					Outcome: rapid.SampledFrom([]receive.Outcome{receive.Replacement, receive.Credit}).
						Draw(rt, "outcome"),
					Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec(quantity)}}})
			case 18:
				_, err = orders.CloseLines(
					b.Ctx,
					b.App,
					b.As("buyer"),
					orders.ClosingEntry{
						Lines:    []orders.LineRef{{Order: order, Line: 1}},
						Goods:    rapid.Bool().Draw(rt, "goods"),
						Invoices: rapid.Bool().Draw(rt, "invoices"),
						Reason:   "r",
					},
				)
			case 19:
				_, err = orders.ReopenLines(
					b.Ctx,
					b.App,
					b.As("buyer"),
					orders.ClosingEntry{
						Lines:    []orders.LineRef{{Order: order, Line: 1}},
						Goods:    rapid.Bool().Draw(rt, "goods"),
						Invoices: rapid.Bool().Draw(rt, "invoices"),
						Reason:   "r",
					},
				)
			case 20:
				_, err = orders.Change(
					b.Ctx,
					b.App,
					b.As("buyer"),
					orders.ChangeEntry{Number: order, Reason: "r", Entry: orders.Entry{WantedOn: "2026-12-01", Lines: []orders.EntryLine{
						{
							No:       1,
							Item:     "KRILL",
							Quantity: housetest.Dec(quantity),
							Price: rapid.SampledFrom([]money.Decimal{housetest.Dec("12.4"), housetest.Dec("9.999999"), housetest.Dec("12")}).
								Draw(rt, "order price"),
							TaxCategory: "S",
							TaxRate:     housetest.Dec("23"),
							Budget:      "FEED",
						}}}},
				)
			case 21:
				_, err = orders.Cancel(b.Ctx, b.App, b.As("buyer"), order, 0, "r")
			case 15:
				err = payPartly(b, number, rapid.IntRange(0, 3).Draw(rt, "step"))
			}
			var no *fault.Fault
			if err != nil {
				require.True(t, errors.As(err, &no), "%v", err)
				require.NotEmpty(t, no.Sentence)
			}
			require.NoError(t, invoices.Drain(b.Ctx, b.App))
			b.Proved()
		}
	})
}

// deferral spreads a line over months, or not.
var deferral = rapid.Custom(func(t *rapid.T) *trade.Deferral {
	if rapid.Bool().Draw(t, "at once") {
		return nil
	}
	return &trade.Deferral{
		From:   rapid.SampledFrom([]string{"2026-09", "2026-11", "2026-12"}).Draw(t, "from"),
		Months: rapid.IntRange(1, 4).Draw(t, "months"),
	}
})

// netOf is what the first line of an invoice comes to without tax.
func netOf(e invoices.Entry) money.Entered {
	l := e.Lines[0]
	net, err := money.Net(l.Quantity, l.Price, money.Int(1), 0, 0, "EUR")
	if err != nil {
		panic(err)
	}
	return net.Entered("EUR")
}

// A long life of one order's goods, with the quantities that come up: what is here stays within its limits, what was billed
// or given away is not taken back, and whatever closed or opened a line last stands.
func TestAnyHistoryOfGoods(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(rt *rapid.T) {
		b := housetest.SetUp(t)
		order := b.Order("BRACK", "10")
		both := func(what string) orders.ClosingEntry {
			sides := rapid.SampledFrom([][2]bool{{true, false}, {false, true}, {true, true}}).Draw(rt, what)
			return orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 1}}, Goods: sides[0], Invoices: sides[1], Reason: "r"}
		}
		deliveries := []int64{7001}
		delivery := func() int64 { return rapid.SampledFrom(deliveries).Draw(rt, "delivery") }
		for note := range rapid.IntRange(5, 20).Draw(rt, "steps") {
			was := b.Line(order)
			quantity := rapid.SampledFrom([]string{"4", "9.1", "0.9", was.Rest().String(), was.Open().String()}).Draw(rt, "quantity")
			var err error
			switch what := rapid.SampledFrom(sensible(was)).Draw(rt, "act"); what {
			case "receive", "receive last":
				e := housetest.Count(order, fmt.Sprintf("DN %d", note), quantity)
				e.Lines[0].Close = what == "receive last"
				var booked receiving.Booked
				if booked, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e); err == nil {
					deliveries = append(deliveries, booked.Number)
				}
				if line := b.Line(order); err == nil && what == "receive last" {
					require.True(t, line.ClosedGoods && line.Came() >= housetest.Dec("9"), "at least 90 %% came: %s", line.Came())
				}
			case "return":
				back := receive.ReturnEntry{Day: b.Today(), Reason: "r", Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec(quantity)}}}
				back.Outcome = rapid.SampledFrom([]receive.Outcome{receive.Replacement, receive.Credit}).Draw(rt, "outcome")
				if rapid.Bool().Draw(rt, "by order") {
					back.Order = order
				} else {
					back.Delivery = delivery()
				}
				_, err = receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), back)
			case "reverse":
				_, err = receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: delivery(), Reason: "r"})
				require.Equal(t, was.Billed, b.Line(order).Billed, "what is billed stays")
			case "close":
				_, err = orders.CloseLines(b.Ctx, b.App, b.As("buyer"), both("close"))
			case "open":
				entry := both("open")
				if _, err = orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), entry); err == nil {
					line := b.Line(order)
					require.False(t, (entry.Goods && line.ClosedGoods) || (entry.Invoices && line.ClosedInvoices))
				}
			case "free":
				if _, err = receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), receiving.FreeEntry{Order: order, Line: 1, Note: "n"}); err == nil {
					line := b.Line(order)
					require.True(t, line.ClosedGoods && line.ClosedInvoices && line.Unclaimed() == 0)
				}
			case "bill":
				_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), b.Bill("BRACK", order, fmt.Sprintf("N%d", note*1117), quantity, "12"))
			case "claim", "give up", "withdraw":
				err = claimSome(b, rt, what, order)
			case "credit":
				back := rapid.SampledFrom([]string{quantity, was.Creditable().String()}).Draw(rt, "back")
				bill := b.Bill("BRACK", order, fmt.Sprintf("R%d", note*1117), back, "12")
				bill.Kind = trade.CreditNote
				claimed := claimedGoods(b)
				var keyed act.Captured
				if keyed, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), bill); err == nil && keyed.State == trade.Verified {
					credited := housetest.Dec(back) - (claimed - claimedGoods(b)) // of what is claimed nothing is billed
					// Earlier open credit notes may claim more than there is; what settles a claim credits nothing of it.
					require.LessOrEqual(t, credited, max(0, was.Creditable()), "no more than went back or was billed too much")
					require.Equal(t, was.Billed-credited, b.Line(order).Billed)
				}
			}
			var no *fault.Fault
			if err != nil {
				require.True(t, errors.As(err, &no), "%v", err)
			}
			require.NoError(t, invoices.Drain(b.Ctx, b.App))
			line := b.Line(order)
			require.LessOrEqual(t, line.Came(), housetest.Dec("11"), "10 %% over is allowed")
			require.GreaterOrEqual(t, line.Received, money.Decimal(0))
			b.Proved()
		}
	})
}

// claimedGoods is the quantity that is claimed and still expected.
func claimedGoods(b *housetest.Bench) (left money.Decimal) {
	require.NoError(b.T, b.ByHand().QueryRowContext(b.Ctx,
		`SELECT coalesce(sum(CASE kind WHEN 'claimed' THEN quantity ELSE -quantity END), 0) FROM claim_change`).Scan(&left))
	return left
}

// claimSome claims what the first invoice has that anything can be claimed of, or ends a claim. What is claimed is not
// billed, and what was given up or has come is billed again.
func claimSome(b *housetest.Bench, rt *rapid.T, what string, order int64) error {
	was, wasOpen := b.Line(order), claimedGoods(b)
	if what == "claim" {
		var err error
		for number := int64(1001); number < 1012; number++ {
			var captured act.Captured
			state := b.StateIf(number)
			captured, err = invoices.ClaimInvoice(b.Ctx, b.App, b.As("approver"), invoices.ClaimEntry{Invoice: number, Waiting: rapid.Bool().Draw(rt, "waiting"), Note: "n"})
			if err == nil && state.Booked() {
				require.Equal(b.T, was.Billed-b.Line(order).Billed, claimedGoods(b)-wasOpen, "claimed of invoice %d, and not billed any more", captured.Number)
			}
			if err == nil {
				return nil
			}
		}
		return err
	}
	end := invoices.ClaimEnd{Claim: int64(rapid.IntRange(1, 4).Draw(rt, "claim")), Note: "n"}
	var err error
	if what == "give up" {
		_, err = invoices.GiveUpClaim(b.Ctx, b.App, b.As("approver"), end)
	} else {
		_, err = invoices.WithdrawClaim(b.Ctx, b.App, b.As("clerk"), end)
	}
	require.Equal(b.T, b.Line(order).Billed-was.Billed, wasOpen-claimedGoods(b), "billed, and not claimed any more")
	return err
}

// sensible are acts on a line that may come to something, and once each the others.
func sensible(line *trade.OrderLine) []string {
	acts := []string{"receive", "receive last", "return", "reverse", "close", "open", "free", "bill", "credit", "claim", "claim", "give up", "withdraw"}
	if line.Creditable() > 0 {
		acts = append(acts, "credit", "credit")
	}
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
	t.Parallel()
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
		b := housetest.SetUp(t)
		end := func(order int64, goodsNext []bool) string {
			g, i := 0, 0
			for _, next := range append(goodsNext, true, true, true, true, false, false, false, false) {
				switch {
				case next && g < len(goods):
					quantity := money.Decimal(goods[g]).String()
					g++
					_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, fmt.Sprintf("DN %d-%d", order, g), quantity))
					require.True(t, err == nil || fault.Is(err, fault.Refused), "%v", err) // past the limit, each time alike
				case !next && i < len(bills):
					quantity := money.Decimal(bills[i]).String()
					i++
					b.Key(b.Bill("BRACK", order, fmt.Sprint(order*order*7919+int64(i)*15485863), quantity, "12"))
				}
				require.NoError(t, invoices.Drain(b.Ctx, b.App))
			}
			sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["clerk"])
			require.NoError(t, err)
			line := sheet.Order.Lines[0]
			var grni, payables int64
			require.NoError(
				t,
				b.ByHand().QueryRowContext(b.Ctx, `SELECT coalesce(sum(base) FILTER (WHERE role = 'grni'), 0), coalesce(sum(base) FILTER (WHERE role = 'payables'), 0)
				FROM entry_line JOIN entry ON entry.id = entry WHERE purchase_order = ?`, order).Scan(&grni, &payables),
			)
			return fmt.Sprint(line.Received, line.Billed, line.Beyond, line.Open(), line.Rest(), grni, payables)
		}
		ends := []string{end(b.Order("BRACK", "10"), goodsFirst), end(b.Order("BRACK", "10"), invoicesFirst), end(b.Order("BRACK", "10"), mixed)}
		require.Equal(t, ends[0], ends[1], "goods first, invoices first")
		require.Equal(t, ends[0], ends[2], "goods first, mixed")
		b.Proved()
	})
}

func acceptAnything(b *housetest.Bench, number int64) error {
	sheet, err := views.Invoice(b.Ctx, b.App, number, b.Actors["approver"])
	if err != nil {
		return err
	}
	for _, f := range sheet.Findings {
		if f.May(finding.Accept) {
			_, err := invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{Invoice: number, Kind: f.Kind, Line: f.Line, Note: "n"})
			return err
		}
	}
	return nil
}

// claimAnything claims what an invoice has, or ends what is left of its claims.
func claimAnything(b *housetest.Bench, rt *rapid.T, number int64) error {
	end := invoices.ClaimEnd{Claim: int64(rapid.IntRange(1, 4).Draw(rt, "claim")), Note: "n"}
	var err error
	switch rapid.IntRange(0, 4).Draw(rt, "of claims") {
	case 0:
		_, err = invoices.GiveUpClaim(b.Ctx, b.App, b.As("approver"), end)
	case 1:
		_, err = invoices.WithdrawClaim(b.Ctx, b.App, b.As("clerk"), end)
	default:
		e := invoices.ClaimEntry{Invoice: number, Waiting: rapid.Bool().Draw(rt, "waiting"), Note: "n"}
		plan, trouble := invoices.PlanClaim(b.Ctx, b.App, e)
		if trouble != nil {
			return trouble
		}
		if rapid.Bool().Draw(rt, "lowered") {
			for _, l := range plan.Lines {
				e.Lines = append(e.Lines, invoices.ClaimEntryLine{
					Line: l.InvoiceLineNo, For: l.For, Quantity: l.MostQuantity / 2, Net: (l.MostNet / 2).Entered(plan.Invoice.Currency),
				})
			}
		}
		_, err = invoices.ClaimInvoice(b.Ctx, b.App, b.As("approver"), e)
	}
	return err
}

// payPartly does one step of the way to payment, on its own and whether or not its time has come.
func payPartly(b *housetest.Bench, number int64, step int) error {
	const run = 301
	var err error
	switch step {
	case 0:
		_, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{number})
	case 1:
		_, err = payments.MakeRun(
			b.Ctx,
			b.App,
			b.As("clerk"),
			payments.RunEntry{DueBy: b.Today(), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: number}}},
		)
	case 2:
		_, err = payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	case 3:
		_, err = payments.DiscardRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	}
	return err
}

func payAnything(b *housetest.Bench, status string) error {
	view, err := views.Payments(b.Ctx, b.App)
	if err != nil || len(view.Verified) == 0 {
		return err
	}
	var numbers []int64
	for _, v := range view.Verified {
		numbers = append(numbers, v.Number)
	}
	if _, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), numbers); err != nil {
		return err
	}
	proposal, err := payments.Propose(b.Ctx, b.App, b.Today().Add(90), b.Today())
	if err != nil {
		return err
	}
	entry := payments.RunEntry{DueBy: b.Today(), PayOn: b.Today()}
	for _, p := range proposal.Payments {
		for _, i := range p.Items {
			entry.Items = append(entry.Items, payments.RunItem{Invoice: i.Invoice})
		}
	}
	made, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), entry)
	if err != nil {
		return err
	}
	if _, err := payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), made.Number, 0); err != nil {
		return err
	}
	sheet, err := views.Run(b.Ctx, b.App, made.Number, b.Actors["reader"])
	if err != nil {
		return err
	}
	_, err = payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(store.Run{Message: sheet.Message}, status))
	return err
}
