package orders_test

import (
	"cmp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

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
	"lagoon/internal/views"
)

// An issued order is changed: earlier versions stay, nothing goes below what was received or invoiced, and waiting
// invoices are matched against what it says now.
func TestChangeAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10", "5")
	b.Deliver(order, "DN 1", "6")
	held := b.Key(b.Bill("BRACK", order, "A-1", "6", "14"))
	require.Equal(t, trade.Held, held.State)
	entry := orders.ChangeEntry{
		Number: order,
		Reason: "dearer",
		Entry: orders.Entry{
			WantedOn: "2026-12-02",
			Lines: []orders.EntryLine{
				{No: 1, Item: "KRILL", Quantity: housetest.Dec("5"), Price: housetest.Dec("14"), TaxRate: housetest.Dec("23"), Budget: "FEED"},
			},
		},
	}
	_, err := orders.Change(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Refused, "6 are received or invoiced already, so it cannot go down to 5")
	entry.Lines[0].Quantity, entry.Lines[0].Budget = housetest.Dec("8"), "SHOP"
	_, err = orders.Change(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Refused, "booked to FEED already")
	entry.Lines[0].Budget = "FEED"
	entry.Lines = append(entry.Lines, orders.EntryLine{Item: "KRILL", Quantity: housetest.Dec("1"), Price: housetest.Dec("1"), Budget: "SHOP"})
	entry.Version = 1
	_, err = orders.Change(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Changed, "changed meanwhile")
	entry.Version = 0
	_, err = orders.Change(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(held.Number).State, "the order says 14 now")
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, 2, sheet.Order.Revision)
	require.Len(t, sheet.Order.Lines, 3)
	require.Equal(t, housetest.Dec("5"), sheet.Order.Lines[1].Quantity, "what is not named stays")
	require.Equal(
		t,
		[]string{"wanted by 30 Nov 2026 → 2 Dec 2026", "Line 1: quantity 10 → 8", "Line 1: unit price 12 → 14", "Line 3: added Krill"},
		sheet.Versions[1].Changes,
	)
	b.Proved()
}

// Closing lets go what is expected, says so before, and is undone while its period is open; a line whose goods are not
// invoiced closes to goods only.
func TestCloseAndReopenLines(t *testing.T) {
	b := housetest.SetUp(t)
	first, second := b.Order("BRACK", "10", "5"), b.Order("TIDEW", "3")
	b.Deliver(first, "DN 1", "4")
	entry := orders.ClosingEntry{Lines: []orders.LineRef{{first, 1}, {first, 2}, {second, 1}}, Goods: true, Invoices: true, Reason: "season is over"}
	plan, err := orders.PlanClosing(b.Ctx, b.App, entry)
	housetest.Refused(t, err, fault.Refused, "4 are received and not invoiced")
	require.Equal(t, []money.Amount{7_200, 6_000, 3_600}, []money.Amount{plan.Releases[0].Value, plan.Releases[1].Value, plan.Releases[2].Value})
	entry.Lines = entry.Lines[1:]
	answer, err := orders.CloseLines(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	require.Equal(t, []int64{second}, answer.Orders, "all of its lines are closed both ways")
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(second, "DN 2", "1"))
	housetest.Refused(t, err, fault.Refused, "is closed, so nothing can be received")
	_, err = orders.CloseLines(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Refused, "closed")
	lines, err := orders.OpenLines(b.Ctx, b.App, store.LineFilter{Supplier: "BRACK", Budget: "FEED", Until: "2026-11-23"})
	require.NoError(t, err)
	require.Len(t, lines.Rows, 1)
	require.Equal(t, housetest.Dec("6"), lines.Rows[0].Rest)
	entry.Reason = "season goes on"
	answer, err = orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	require.Equal(t, []int64{second}, answer.Orders)
	b.Deliver(second, "DN 2", "1")
	entry.Lines = entry.Lines[:1]
	require.NoError(t, housetest.Drop(orders.CloseLines(b.Ctx, b.App, b.As("buyer"), entry)))
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-11"))
	_, err = orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Refused, "that period is closed")
	b.Proved()
}

// What closed a line last is what stands: undoing a delivery opens the lines that it closed, but none that a person closed
// since; and an order is closed while all of its lines are, whoever closed the last (rules §3, §4).
func TestWhatClosedItLast(t *testing.T) {
	b := housetest.SetUp(t)
	closing := func(order int64, note string) receiving.Booked {
		t.Helper()
		e := housetest.Count(order, note, "10")
		e.Lines[0].Close = true
		booked, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
		require.NoError(t, err)
		return booked
	}
	state := func(order int64) []any {
		sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
		require.NoError(t, err)
		line := sheet.Order.Lines[0]
		b.Proved()
		return []any{string(sheet.Order.State), line.ClosedGoods, line.ClosedInvoices}
	}
	undo := func(delivery receiving.Booked) error {
		return housetest.Drop(
			receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: delivery.Number, Reason: "wrong order"}),
		)
	}
	line := func(order int64) orders.ClosingEntry {
		return orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 1}}, Goods: true, Invoices: true, Reason: "r"}
	}

	order := b.Order("BRACK", "10")
	delivery := closing(order, "DN 1")
	require.NoError(t, undo(delivery))
	require.Equal(t, []any{"issued", false, false}, state(order), "what it closed is open")

	order = b.Order("BRACK", "10")
	delivery = closing(order, "DN 2")
	require.NoError(
		t,
		housetest.Drop(
			orders.ReopenLines(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 1}}, Goods: true, Reason: "more comes"},
			),
		),
	)
	require.NoError(
		t,
		housetest.Drop(
			orders.CloseLines(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 1}}, Goods: true, Reason: "no, it does not"},
			),
		),
	)
	require.NoError(t, undo(delivery))
	require.Equal(t, []any{"issued", true, false}, state(order), "the buyer closed it since")
	require.NoError(t, housetest.Drop(orders.CloseLines(b.Ctx, b.App, b.As("buyer"), line(order))))
	require.Equal(t, []any{"closed", true, true}, state(order))

	order = b.Order("BRACK", "10")
	delivery = closing(order, "DN 3")
	require.NoError(t, housetest.Drop(receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), receiving.FreeEntry{Order: order, Line: 1, Note: "a gift"})))
	require.Equal(t, []any{"closed", true, true}, state(order), "its only line is done")
	housetest.Refused(t, undo(delivery), fault.Refused, "went back, was free of charge or is reversed already")
	require.Equal(t, []any{"closed", true, true}, state(order))
	require.NoError(t, housetest.Drop(orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), line(order))))
	require.Equal(t, []any{"issued", false, false}, state(order))

	order = b.Order("BRACK", "10")
	require.NoError(
		t,
		housetest.Drop(
			orders.CloseLines(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 1}}, Invoices: true, Reason: "a gift"},
			),
		),
	)
	delivery = closing(order, "DN 4")
	require.Equal(t, []any{"closed", true, true}, state(order), "the delivery closed the rest")
	require.NoError(t, undo(delivery))
	require.Equal(t, []any{"issued", false, true}, state(order))
}

func TestCancelAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	untouched, received := b.Order("BRACK", "10"), b.Order("BRACK", "10")
	b.Deliver(received, "DN 1", "1")
	_, err := orders.Cancel(b.Ctx, b.App, b.As("buyer"), received, 0, "r")
	housetest.Refused(t, err, fault.Refused, "can only be closed")
	_, err = orders.Cancel(b.Ctx, b.App, b.As("buyer"), untouched, 0, " ")
	housetest.Refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, housetest.Drop(orders.Cancel(b.Ctx, b.App, b.As("buyer"), untouched, 0, "too late")))
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(untouched, "DN 2", "1"))
	housetest.Refused(t, err, fault.Refused, "cancelled")
	_, err = orders.Cancel(b.Ctx, b.App, b.As("buyer"), untouched, 0, "r")
	housetest.Refused(t, err, fault.Refused, "cancelled already")
	b.Proved()
}

// A draft is kept whatever is missing, and ends when it is issued or discarded. Whoever has not seen it as it is now
// neither writes over it nor ends it.
func TestDrafts(t *testing.T) {
	b := housetest.SetUp(t)
	keep := func(before orders.DraftRef, entry string) (orders.Drafted, error) {
		return orders.KeepDraft(b.Ctx, b.App, b.As("buyer"), before, "BRACK", []byte(entry))
	}
	kept, err := keep(orders.DraftRef{}, `{"lines":[{"item":"KR"}]}`)
	require.NoError(t, err)
	first := orders.DraftRef{Number: kept.Number, Version: 1}
	require.NoError(t, housetest.Drop(keep(first, `{"lines":[]}`)))
	draft, err := orders.Draft(b.Ctx, b.App, kept.Number)
	require.NoError(t, err)
	require.JSONEq(t, `{"lines":[]}`, draft.Entry)
	seen := orders.DraftRef{Number: draft.Number, Version: draft.Version}
	require.Equal(t, orders.DraftRef{Number: kept.Number, Version: 2}, seen)

	order := orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Draft: first, Lines: []orders.EntryLine{housetest.Krill("1", "1")}}
	for _, tried := range []error{
		housetest.Drop(keep(first, `{}`)),
		housetest.Drop(orders.DiscardDraft(b.Ctx, b.App, b.As("buyer"), first)),
		housetest.Drop(orders.Issue(b.Ctx, b.App, b.As("buyer"), order)),
		housetest.Drop(keep(orders.DraftRef{Number: kept.Number, Version: 3}, `{}`)),
	} {
		housetest.Refused(t, tried, fault.Changed, "changed by buyer meanwhile")
	}
	order.Draft = seen
	require.NoError(t, housetest.Drop(orders.Issue(b.Ctx, b.App, b.As("buyer"), order)))
	housetest.Refused(t, housetest.Drop(keep(seen, `{}`)), fault.Changed, "issued as order 4001")
	housetest.Refused(t, housetest.Drop(keep(orders.DraftRef{}, `{`)), fault.Invalid, "cannot be kept")
	housetest.Refused(t, housetest.Drop(keep(orders.DraftRef{Number: 99, Version: 1}, `{}`)), fault.NotFound, "no draft 99")
	all, err := orders.Drafts(b.Ctx, b.App)
	require.NoError(t, err)
	require.Empty(t, all.Rows)
	b.Proved()
}

// The supplier's rules of issuing (rules §3): not ordered from yet and below the least value refused, the rest told; agreed
// prices with their breaks are taken, and a price that was typed over is seen.
func TestSupplierRulesAtIssue(t *testing.T) {
	b := housetest.SetUp(t)
	s, err := masters.ReadSupplier(b.Ctx, b.App, "BRACK")
	require.NoError(t, err)
	entry := masters.SupplierEntry{
		Supplier:  s.Supplier,
		Addresses: []store.Address{{Street: "Quay 4", City: "Skerry", Country: "IE", Purposes: []string{"ordering"}}},
	}
	entry.Country, entry.LeastOrder, entry.FreeFrom, entry.ClosedDays = "IE", 5_000, 20_000, "67"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), entry)))
	order := orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-28", Lines: []orders.EntryLine{housetest.Krill("4", "12")}} // a Saturday
	plan, err := orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, order)
	housetest.Refused(t, err, fault.Refused, "takes no order below 50.00 EUR: 2.00 EUR are missing")
	require.Equal(t, []trade.AdviceKind{trade.FreightCharged, trade.NoDeliveryDay}, []trade.AdviceKind{plan.Advice[0].Kind, plan.Advice[1].Kind})
	for _, p := range []trade.AgreedPrice{{From: "2026-01-01", Price: housetest.Dec("12")}, {From: "2026-06-01", Least: housetest.Dec("10"), Price: housetest.Dec("110"), Base: housetest.Dec("10")}, {From: "2026-01-01", Until: "2026-11-22", Least: housetest.Dec("10"), Price: housetest.Dec("1")}, {From: "2027-01-01", Price: housetest.Dec("1")}} {
		require.NoError(t, housetest.Drop(masters.SavePrice(b.Ctx, b.App, b.As("buyer"), masters.PriceEntry{Supplier: "BRACK", Item: "KRILL", AgreedPrice: p})))
	}
	taken := func(quantity string) orders.EntryLine {
		return orders.EntryLine{Item: "KRILL", Quantity: housetest.Dec(quantity), TakePrice: true, Budget: "FEED"}
	}
	order.Lines = []orders.EntryLine{taken("9"), taken("10"), housetest.Krill("10", "11.5")}
	plan, err = orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, order)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{10_800, 11_000, 11_500}, []money.Amount{plan.Lines[0].Net, plan.Lines[1].Net, plan.Lines[2].Net})
	require.Equal(t, housetest.Dec("11"), *plan.Lines[2].Agreed, "for one, not ten")
	order.Lines = []orders.EntryLine{{Description: "Ice", Unit: "KGM", Quantity: housetest.Dec("50"), TakePrice: true, Budget: "FEED"}}
	_, err = orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, order)
	require.Contains(t, fault.Sentences(err), "takes no order below")
	require.Contains(t, fault.Sentences(err), "needs a price")
	entry.Version, entry.Untaxed, entry.NotYet = 2, true, true
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), entry)))
	_, err = orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{housetest.Krill("10", "12")}})
	require.Contains(t, fault.Sentences(err), "not ordered from yet")
	require.Contains(t, fault.Sentences(err), "not registered for tax")
	plan, _ = orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{taken("10")}})
	require.Equal(t, "O", plan.Lines[0].TaxCategory)
	b.Proved()
}

// A line's own limits overrule the others', and planned charges are no finding up to their sum.
func TestLineLimitsAndPlannedCharges(t *testing.T) {
	b := housetest.SetUp(t)
	fifty := housetest.Dec("50")
	line := housetest.Krill("10", "12")
	line.Limits = limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: &fifty}}
	issued, err := orders.Issue(
		b.Ctx,
		b.App,
		b.As("buyer"),
		orders.Entry{
			Supplier: "BRACK",
			WantedOn: "2026-11-30",
			Lines:    []orders.EntryLine{line},
			Charges:  []orders.EntryCharge{{Kind: "freight", Amount: "10", TaxCategory: "S", TaxRate: housetest.Dec("23")}},
		},
	)
	require.NoError(t, err)
	b.Deliver(issued.Number, "DN 1", "15")
	freight := func(number, quantity string, amount money.Entered) act.Captured {
		e := b.Bill("BRACK", issued.Number, number, quantity, "12")
		e.Charges = []invoices.EntryCharge{{Kind: "freight", Amount: amount, TaxCategory: "S", TaxRate: housetest.Dec("23")}}
		e.StatedTotal = b.Total(e)
		return b.Key(e)
	}
	require.Equal(t, trade.Verified, freight("A-1", "5", "6").State)
	require.Equal(t, trade.Verified, freight("B-22", "4", "4").State, "up to the ten that are planned")
	require.Equal(t, trade.Held, freight("C-333", "3", "1").State)
	b.Proved()
}

// A supplier is told what is so: no reminder of an order that ended, no cancellation of one that goes on, no return of
// another order's goods.
func TestWhatASupplierIsTold(t *testing.T) {
	b := housetest.SetUp(t)
	issued, cancelled, other := b.Order("BRACK", "10"), b.Order("BRACK", "10"), b.Order("TIDEW", "10")
	require.NoError(t, housetest.Drop(orders.Cancel(b.Ctx, b.App, b.As("buyer"), cancelled, 0, "too late")))
	back := b.Returned(housetest.Back(b.Deliver(issued, "DN 1", "10").Number, receive.Credit, "1")).Number
	for _, x := range []struct {
		Entry orders.SendEntry
		Says  string
	}{
		{orders.SendEntry{Order: issued, Kind: store.OrderSending}, ""},
		{orders.SendEntry{Order: issued, Kind: store.ReminderSending}, ""},
		{orders.SendEntry{Order: issued, Kind: store.ReturnSending, Return: back}, ""},
		{orders.SendEntry{Order: cancelled, Kind: store.CancellationSending}, ""},
		{orders.SendEntry{Order: cancelled, Kind: store.OrderSending}, "is cancelled, so it is not sent"},
		{orders.SendEntry{Order: cancelled, Kind: store.ReminderSending}, "is cancelled, so it is not sent"},
		{orders.SendEntry{Order: issued, Kind: store.CancellationSending}, "is not cancelled"},
		{orders.SendEntry{Order: other, Kind: store.ReturnSending, Return: back}, "is no return of goods of order"},
		{orders.SendEntry{Order: issued, Kind: store.ReturnSending, Return: 7}, "There is no return 7"},
		{orders.SendEntry{Order: issued, Kind: "praise"}, "Say what the supplier is told"},
		{orders.SendEntry{Order: issued, Kind: store.OrderSending, Way: "pigeon"}, "by mail or otherwise"},
	} {
		x.Entry.To, x.Entry.Way = "by telephone", cmp.Or(x.Entry.Way, store.Otherwise)
		_, err := orders.Send(b.Ctx, b.App, b.As("buyer"), x.Entry)
		if x.Says == "" {
			require.NoError(t, err, "%+v", x.Entry)
		} else {
			require.ErrorContains(t, err, x.Says)
		}
	}
	b.Proved()
}

// An order is mailed with its attachments, the sending is kept, and what changed since is said; a mail that cannot be
// handed over fails in sight and is handed over again.
func TestSendAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	office := &housetest.Post{}
	b.App.Outbox = office
	order := b.Order("BRACK", "10")
	mail := orders.SendEntry{
		Order:   order,
		Kind:    store.OrderSending,
		Way:     store.ByMail,
		To:      "desk@brackwater.example",
		Subject: "Order",
		Text:    "Hello",
		Prices:  true,
	}
	_, err := orders.Send(b.Ctx, b.App, b.As("buyer"), mail)
	housetest.Refused(t, err, fault.Invalid, "no valid mail address to send from")
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveCompany(
				b.Ctx,
				b.App,
				b.As("admin"),
				masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "orders@test.example", Address: "Pier 1, Skerry"},
			),
		),
	)
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveContact(
				b.Ctx,
				b.App,
				b.As("buyer"),
				"BRACK",
				store.Contact{Name: "Desk", Mail: "desk@brackwater.example", Purposes: []string{"ordering"}},
			),
		),
	)
	letter, err := orders.PlanLetter(b.Ctx, b.App, order, store.OrderSending, 0)
	require.NoError(t, err)
	require.Equal(t, "desk@brackwater.example", letter.To)
	require.Contains(t, letter.Subject, "Order 4001")
	mail.To = "nobody"
	_, err = orders.Send(b.Ctx, b.App, b.As("buyer"), mail)
	housetest.Refused(t, err, fault.Invalid, "no mail address")
	mail.To = letter.To
	require.NoError(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), mail)))
	require.NoError(t, orders.HandOverMail(b.Ctx, b.App))
	require.NoError(t, orders.HandOverMail(b.Ctx, b.App))
	require.Len(t, office.Mails, 1, "once")
	for _, part := range []string{"order-4001.pdf", "order-4001.xml", "To: <desk@brackwater.example>"} {
		require.Contains(t, string(office.Mails[0]), part)
	}
	require.NoError(
		t,
		housetest.Drop(
			orders.Change(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.ChangeEntry{
					Number: order,
					Reason: "more",
					Entry: orders.Entry{
						WantedOn: "2026-11-30",
						Lines: []orders.EntryLine{
							{No: 1, Item: "KRILL", Quantity: housetest.Dec("12"), Price: housetest.Dec("12"), TaxRate: housetest.Dec("23"), Budget: "FEED"},
						},
					},
				},
			),
		),
	)
	letter, err = orders.PlanLetter(b.Ctx, b.App, order, store.OrderSending, 0)
	require.NoError(t, err)
	require.Equal(t, []string{"Line 1: quantity 10 → 12"}, letter.Changes)
	mail.Version = letter.Order.Version - 1
	_, err = orders.Send(b.Ctx, b.App, b.As("buyer"), mail)
	housetest.Refused(t, err, fault.Changed, "changed meanwhile: order changed, by buyer")
	mail.Version = letter.Order.Version
	office.Fail = true
	require.NoError(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), mail)))
	for range orders.MailTries {
		require.NoError(t, orders.HandOverMail(b.Ctx, b.App))
	}
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []string{store.SendingSent, store.SendingFailed}, []string{sheet.Sendings[0].State, sheet.Sendings[1].State})
	require.Contains(t, sheet.Sendings[1].Trouble, "closed")
	office.Fail = false
	require.NoError(t, housetest.Drop(orders.RetryMail(b.Ctx, b.App, b.As("buyer"), order, 2)))
	require.NoError(t, orders.HandOverMail(b.Ctx, b.App))
	require.Len(t, office.Mails, 2)
	_, kept, err := orders.SentMail(b.Ctx, b.App, order, 2)
	require.NoError(t, err)
	require.Equal(t, office.Mails[1], kept)
	content, err := orders.XML(b.Ctx, b.App, order)
	require.NoError(t, err)
	require.Contains(t, string(content), `<cbc:Quantity unitCode="KGM">12</cbc:Quantity>`)
	b.Proved()
}

// Goods are to be announced where an order says so, or its supplier, or the company; what is not announced by then is reminded of, in
// words of its own, until a notice is here.
func TestMissingNoticesAreRemindedOf(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10") // wanted in a week
	require.NoError(t, housetest.Drop(orders.Answer(b.Ctx, b.App, b.As("buyer"), orders.AnswerEntry{Order: order, Reference: "A", PromisedOn: b.Today().Add(7)})))
	missing := func() int {
		m, err := orders.ToRemind(b.Ctx, b.App)
		require.NoError(t, err)
		return len(m.Unannounced)
	}
	require.Zero(t, missing(), "nobody requires one")
	announce := func(days string) error {
		return housetest.Drop(orders.RequireNotice(b.Ctx, b.App, b.As("buyer"), orders.NoticeEntry{Order: order, Days: days}))
	}
	chase := func(supplier, days string) {
		t.Helper()
		require.NoError(t, housetest.Drop(masters.SaveChase(b.Ctx, b.App, b.As("admin"), masters.ChaseEntry{Supplier: supplier, Days: map[trade.Awaited]string{
			trade.AwaitedWord: "never", trade.AwaitedNotice: days,
		}})))
	}
	chase("", "6")
	require.Zero(t, missing(), "it is to be here tomorrow")
	chase("BRACK", "7")
	require.Equal(t, 1, missing(), "this supplier sends it a day before")
	letter, err := orders.PlanLetter(b.Ctx, b.App, order, store.ReminderSending, 0)
	require.NoError(t, err)
	require.Contains(t, letter.Text, "we have no despatch notice of them")
	require.NoError(t, announce("never"))
	require.Zero(t, missing(), "this order needs none")
	require.ErrorContains(t, announce("soon"), "Enter 0 to 365 days")
	require.NoError(t, announce(""))
	require.Equal(t, 1, missing())

	noticed, err := receiving.EnterNotice(b.Ctx, b.App, b.As("buyer"), receiving.NoticeEntry{Order: order, Reference: "LS 7", ExpectedOn: b.Today().Add(7), Carrier: "boat",
		Lines: []receiving.NoticeEntryLine{{No: 1, Quantity: housetest.Dec("8"), Lot: "A"}}})
	require.NoError(t, err)
	require.Zero(t, missing())
	found, err := views.Find(b.Ctx, b.App, b.Actors["buyer"], "LS 7")
	require.NoError(t, err)
	require.Equal(t, "notice", found[0].Kind)
	entry := housetest.Count(order, "LS 7", "9")
	entry.Notice = noticed.Number
	arrived, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	require.NoError(t, err)
	sheet, err := views.Delivery(b.Ctx, b.App, arrived.Number, b.Actors["receiver"])
	require.NoError(t, err)
	require.Equal(t, "LS 7", sheet.Notice.Reference)
	require.Equal(t, housetest.Dec("8"), sheet.Announced[sheet.Order.Lines[0].ID])
	notice, err := receiving.Notice(b.Ctx, b.App, noticed.Number)
	require.NoError(t, err)
	require.Equal(t, arrived.Number, notice.Arrived.Number)
	require.Equal(t, housetest.Dec("9"), notice.Counted[sheet.Order.Lines[0].ID])
	b.Proved()
}

// Who has not answered, and who is late, is listed with what they were sent.
func TestReminders(t *testing.T) {
	b := housetest.SetUp(t)
	first, second := b.Order("BRACK", "10"), b.Order("BRACK", "10")
	b.Later(3)
	require.NoError(
		t,
		housetest.Drop(orders.Answer(b.Ctx, b.App, b.As("buyer"), orders.AnswerEntry{Order: second, Reference: "AB 7", PromisedOn: "2026-12-01"})),
	)
	m, err := orders.ToRemind(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, m.Unanswered, 1)
	require.Equal(t, first, m.Unanswered[0].Number)
	b.Later(6)
	m, err = orders.ToRemind(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, m.Late, 2)
	letter, err := orders.PlanLetter(b.Ctx, b.App, first, store.ReminderSending, 0)
	require.NoError(t, err)
	require.Contains(t, letter.Text, "10 kg Krill")
	require.NoError(
		t,
		housetest.Drop(
			orders.Send(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.SendEntry{Order: first, Kind: store.ReminderSending, Way: store.Otherwise, To: "by telephone, Ms Quill"},
			),
		),
	)
	m, err = orders.ToRemind(b.Ctx, b.App)
	require.NoError(t, err)
	require.Equal(t, 1, m.Late[0].Reminded)
	_, err = orders.Answer(b.Ctx, b.App, b.As("buyer"), orders.AnswerEntry{Order: first})
	housetest.Refused(t, err, fault.Invalid, "promises")
	b.Proved()
}

// The letters are in the supplier's language, and every language has all the words.
func TestLettersSpeakTheSuppliersLanguage(t *testing.T) {
	b := housetest.SetUp(t)
	s, err := masters.ReadSupplier(b.Ctx, b.App, "TIDEW")
	require.NoError(t, err)
	s.Supplier.Language = "de"
	require.NoError(t, masters.Masters(b.Ctx, b.App, b.As("admin"), "language", func(tx *store.Tx) error { return housetest.Drop(tx.PutSupplier(s.Supplier)) }))
	order := b.Order("TIDEW", "3.5")
	letter, err := orders.PlanLetter(b.Ctx, b.App, order, store.ReminderSending, 0)
	require.NoError(t, err)
	require.Contains(t, letter.Text, "3,5 kg Krill")
	require.True(t, strings.HasPrefix(letter.Subject, "Erinnerung"))
	content, err := orders.PDF(b.Ctx, b.App, order, true)
	require.NoError(t, err)
	again, err := orders.PDF(b.Ctx, b.App, order, true)
	require.NoError(t, err)
	require.Equal(t, content, again, "the same order prints the same bytes")
}

// An order is issued and its supplier told in one act, or neither is done: the letter that was looked at bears the
// number that the order gets.
func TestIssueAndSendAreOneAct(t *testing.T) {
	b := housetest.SetUp(t)
	office := &housetest.Post{}
	b.App.Outbox = office
	require.NoError(t, housetest.Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"),
		masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "orders@test.example", Address: "Pier 1, Skerry"})))
	contact := store.Contact{Name: "Desk", Mail: "desk@brackwater.example", Purposes: []string{"ordering"}}
	require.NoError(t, housetest.Drop(masters.SaveContact(b.Ctx, b.App, b.As("buyer"), "BRACK", contact)))
	entry := orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{housetest.Krill("10", "12")}}
	out, err := orders.PlanFirst(b.Ctx, b.App, entry, true)
	require.NoError(t, err)
	require.Equal(t, []any{int64(4001), "desk@brackwater.example"}, []any{out.Order.Number, out.To})
	require.Contains(t, out.Subject, "4001")
	require.Contains(t, string(out.Paper[:5]), "%PDF")
	_, err = orders.PlanFirst(b.Ctx, b.App, orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30"}, true)
	housetest.Refused(t, err, fault.Invalid, "needs a line")

	entry.Send = &orders.FirstSending{Number: 4001, Way: store.ByMail, To: "nobody", Subject: out.Subject, Text: out.Text, Prices: true}
	_, err = orders.Issue(b.Ctx, b.App, b.As("buyer"), entry)
	require.Error(t, err)
	_, err = views.Order(b.Ctx, b.App, 4001, b.Actors["buyer"])
	housetest.Refused(t, err, fault.NotFound, "no order 4001")

	entry.Send.To = out.To
	require.Equal(t, int64(4001), b.Order("TIDEW", "1"), "somebody else is quicker")
	_, err = orders.Issue(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Changed, "Number 4001 was taken by another order meanwhile, so this one would be 4002")
	entry.Send.Number = 4002
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	require.Equal(t, int64(4002), issued.Number)
	require.NoError(t, orders.HandOverMail(b.Ctx, b.App))
	require.Len(t, office.Mails, 1)
	sheet, err := views.Order(b.Ctx, b.App, 4002, b.Actors["buyer"])
	require.NoError(t, err)
	require.Len(t, sheet.Sendings, 1)
	require.Equal(t, store.SendingSent, sheet.Sendings[0].State)
	b.Proved()
}
