package jobs

import (
	"cmp"
	"context"
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// An issued order is changed: earlier versions stay, nothing goes below what was received or invoiced, and waiting
// invoices are matched against what it says now.
func TestChangeAnOrder(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10", "5")
	b.deliver(order, "DN 1", "6")
	held := b.key(b.bill("BRACK", order, "A-1", "6", "14"))
	require.Equal(t, trade.Held, held.State)
	entry := ChangeEntry{Number: order, Reason: "dearer", OrderEntry: OrderEntry{WantedOn: "2026-12-02", Lines: []OrderEntryLine{{No: 1, Item: "KRILL", Quantity: dec("5"), Price: dec("14"), TaxRate: dec("23"), Budget: "FEED"}}}}
	_, err := b.app.ChangeOrder(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Refused, "6 are received or invoiced already, so it cannot go down to 5")
	entry.Lines[0].Quantity, entry.Lines[0].Budget = dec("8"), "SHOP"
	_, err = b.app.ChangeOrder(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Refused, "booked to FEED already")
	entry.Lines[0].Budget = "FEED"
	entry.Lines = append(entry.Lines, OrderEntryLine{Item: "KRILL", Quantity: dec("1"), Price: dec("1"), Budget: "SHOP"})
	entry.Version = 1
	_, err = b.app.ChangeOrder(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Changed, "changed meanwhile")
	entry.Version = 0
	_, err = b.app.ChangeOrder(b.ctx, b.as("buyer"), entry)
	require.NoError(t, err)
	require.NoError(t, b.app.Drain(b.ctx))
	require.Equal(t, trade.Verified, b.state(held.Number).State, "the order says 14 now")
	sheet, err := b.app.OrderSheet(b.ctx, order, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, 2, sheet.Order.Revision)
	require.Len(t, sheet.Order.Lines, 3)
	require.Equal(t, dec("5"), sheet.Order.Lines[1].Quantity, "what is not named stays")
	require.Equal(t, []string{"wanted by 30 Nov 2026 → 2 Dec 2026", "Line 1: quantity 10 → 8", "Line 1: unit price 12 → 14", "Line 3: added Krill"}, sheet.Versions[1].Changes)
	b.proved()
}

// Closing lets go what is expected, says so before, and is undone while its period is open; a line whose goods are not
// invoiced closes to goods only.
func TestCloseAndReopenLines(t *testing.T) {
	b := setUp(t)
	first, second := b.order("BRACK", "10", "5"), b.order("TIDEW", "3")
	b.deliver(first, "DN 1", "4")
	entry := ClosingEntry{Lines: []LineRef{{first, 1}, {first, 2}, {second, 1}}, Goods: true, Invoices: true, Reason: "season is over"}
	plan, err := b.app.PlanClosing(b.ctx, entry)
	refused(t, err, fault.Refused, "4 are received and not invoiced")
	require.Equal(t, []money.Amount{7_200, 6_000, 3_600}, []money.Amount{plan.Releases[0].Value, plan.Releases[1].Value, plan.Releases[2].Value})
	entry.Lines = entry.Lines[1:]
	answer, err := b.app.CloseLines(b.ctx, b.as("buyer"), entry)
	require.NoError(t, err)
	require.Equal(t, []int64{second}, answer.Orders, "all of its lines are closed both ways")
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(second, "DN 2", "1"))
	refused(t, err, fault.Refused, "is closed, so nothing can be received")
	_, err = b.app.CloseLines(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Refused, "closed")
	lines, err := b.app.OpenLines(b.ctx, store.LineFilter{Supplier: "BRACK", Budget: "FEED", Until: "2026-11-23"})
	require.NoError(t, err)
	require.Len(t, lines.Rows, 1)
	require.Equal(t, dec("6"), lines.Rows[0].Rest)
	entry.Reason = "season goes on"
	answer, err = b.app.ReopenLines(b.ctx, b.as("buyer"), entry)
	require.NoError(t, err)
	require.Equal(t, []int64{second}, answer.Orders)
	b.deliver(second, "DN 2", "1")
	entry.Lines = entry.Lines[:1]
	require.NoError(t, drop(b.app.CloseLines(b.ctx, b.as("buyer"), entry)))
	require.NoError(t, b.app.ClosePeriod(b.ctx, b.as("admin"), "2026-11"))
	_, err = b.app.ReopenLines(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Refused, "that period is closed")
	b.proved()
}

// What closed a line last is what stands: undoing a delivery opens the lines that it closed, but none that a person closed
// since; and an order is closed while all of its lines are, whoever closed the last (rules §3, §4).
func TestWhatClosedItLast(t *testing.T) {
	b := setUp(t)
	closing := func(order int64, note string) Booked {
		t.Helper()
		e := count(order, note, "10")
		e.Lines[0].Close = true
		booked, err := b.app.BookDelivery(b.ctx, b.as("receiver"), e)
		require.NoError(t, err)
		return booked
	}
	state := func(order int64) []any {
		sheet, err := b.app.OrderSheet(b.ctx, order, b.actors["reader"])
		require.NoError(t, err)
		line := sheet.Order.Lines[0]
		b.proved()
		return []any{string(sheet.Order.State), line.ClosedGoods, line.ClosedInvoices}
	}
	undo := func(delivery Booked) error {
		return drop(b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: delivery.Number, Reason: "wrong order"}))
	}
	line := func(order int64) ClosingEntry {
		return ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: true, Invoices: true, Reason: "r"}
	}

	order := b.order("BRACK", "10")
	delivery := closing(order, "DN 1")
	require.NoError(t, undo(delivery))
	require.Equal(t, []any{"issued", false, false}, state(order), "what it closed is open")

	order = b.order("BRACK", "10")
	delivery = closing(order, "DN 2")
	require.NoError(t, drop(b.app.ReopenLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: true, Reason: "more comes"})))
	require.NoError(t, drop(b.app.CloseLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Goods: true, Reason: "no, it does not"})))
	require.NoError(t, undo(delivery))
	require.Equal(t, []any{"issued", true, false}, state(order), "the buyer closed it since")
	require.NoError(t, drop(b.app.CloseLines(b.ctx, b.as("buyer"), line(order))))
	require.Equal(t, []any{"closed", true, true}, state(order))

	order = b.order("BRACK", "10")
	delivery = closing(order, "DN 3")
	require.NoError(t, drop(b.app.AcceptFree(b.ctx, b.as("approver"), FreeEntry{Order: order, Line: 1, Note: "a gift"})))
	require.Equal(t, []any{"closed", true, true}, state(order), "its only line is done")
	refused(t, undo(delivery), fault.Refused, "went back, was free of charge or is reversed already")
	require.Equal(t, []any{"closed", true, true}, state(order))
	require.NoError(t, drop(b.app.ReopenLines(b.ctx, b.as("buyer"), line(order))))
	require.Equal(t, []any{"issued", false, false}, state(order))

	order = b.order("BRACK", "10")
	require.NoError(t, drop(b.app.CloseLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Invoices: true, Reason: "a gift"})))
	delivery = closing(order, "DN 4")
	require.Equal(t, []any{"closed", true, true}, state(order), "the delivery closed the rest")
	require.NoError(t, undo(delivery))
	require.Equal(t, []any{"issued", false, true}, state(order))
}

func TestCancelAnOrder(t *testing.T) {
	b := setUp(t)
	untouched, received := b.order("BRACK", "10"), b.order("BRACK", "10")
	b.deliver(received, "DN 1", "1")
	_, err := b.app.CancelOrder(b.ctx, b.as("buyer"), received, 0, "r")
	refused(t, err, fault.Refused, "can only be closed")
	_, err = b.app.CancelOrder(b.ctx, b.as("buyer"), untouched, 0, " ")
	refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, drop(b.app.CancelOrder(b.ctx, b.as("buyer"), untouched, 0, "too late")))
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(untouched, "DN 2", "1"))
	refused(t, err, fault.Refused, "cancelled")
	_, err = b.app.CancelOrder(b.ctx, b.as("buyer"), untouched, 0, "r")
	refused(t, err, fault.Refused, "cancelled already")
	b.proved()
}

// A draft is kept whatever is missing, and ends when it is issued or discarded. Whoever has not seen it as it is now
// neither writes over it nor ends it.
func TestDrafts(t *testing.T) {
	b := setUp(t)
	keep := func(before DraftRef, entry string) (Drafted, error) {
		return b.app.KeepDraft(b.ctx, b.as("buyer"), before, "BRACK", []byte(entry))
	}
	kept, err := keep(DraftRef{}, `{"lines":[{"item":"KR"}]}`)
	require.NoError(t, err)
	first := DraftRef{kept.Number, 1}
	require.NoError(t, drop(keep(first, `{"lines":[]}`)))
	draft, err := b.app.Draft(b.ctx, kept.Number)
	require.NoError(t, err)
	require.JSONEq(t, `{"lines":[]}`, draft.Entry)
	seen := DraftRef{draft.Number, draft.Version}
	require.Equal(t, DraftRef{kept.Number, 2}, seen)

	order := OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Draft: first, Lines: []OrderEntryLine{krill("1", "1")}}
	for _, tried := range []error{
		drop(keep(first, `{}`)),
		drop(b.app.DiscardDraft(b.ctx, b.as("buyer"), first)),
		drop(b.app.IssueOrder(b.ctx, b.as("buyer"), order)),
		drop(keep(DraftRef{kept.Number, 3}, `{}`)),
	} {
		refused(t, tried, fault.Changed, "changed by buyer meanwhile")
	}
	order.Draft = seen
	require.NoError(t, drop(b.app.IssueOrder(b.ctx, b.as("buyer"), order)))
	refused(t, drop(keep(seen, `{}`)), fault.Changed, "issued as order 4001")
	refused(t, drop(keep(DraftRef{}, `{`)), fault.Invalid, "cannot be kept")
	refused(t, drop(keep(DraftRef{99, 1}, `{}`)), fault.NotFound, "no draft 99")
	all, err := b.app.Drafts(b.ctx)
	require.NoError(t, err)
	require.Empty(t, all.Rows)
	b.proved()
}

// The supplier's rules of issuing (rules §3): prospective and below the least value refused, the rest told; agreed
// prices with their breaks are taken, and a price that was typed over is seen.
func TestSupplierRulesAtIssue(t *testing.T) {
	b := setUp(t)
	s, err := b.app.SupplierSheet(b.ctx, "BRACK")
	require.NoError(t, err)
	entry := SupplierEntry{Supplier: s.Supplier, Addresses: []store.Address{{Street: "Quay 4", City: "Skerry", Country: "IE", Purposes: []string{"ordering"}}}}
	entry.Country, entry.LeastOrder, entry.FreeFrom, entry.ClosedDays = "IE", 5_000, 20_000, "67"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), entry)))
	order := OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-28", Lines: []OrderEntryLine{krill("4", "12")}} // a Saturday
	plan, err := b.app.PlanOrder(b.ctx, 0, order)
	refused(t, err, fault.Refused, "takes no order below 50.00 EUR: 2.00 EUR are missing")
	require.Equal(t, []trade.AdviceKind{trade.FreightCharged, trade.NoDeliveryDay}, []trade.AdviceKind{plan.Advice[0].Kind, plan.Advice[1].Kind})
	for _, p := range []trade.AgreedPrice{{From: "2026-01-01", Price: dec("12")}, {From: "2026-06-01", Least: dec("10"), Price: dec("110"), Base: dec("10")}, {From: "2026-01-01", Until: "2026-11-22", Least: dec("10"), Price: dec("1")}, {From: "2027-01-01", Price: dec("1")}} {
		require.NoError(t, drop(b.app.SavePrice(b.ctx, b.as("buyer"), PriceEntry{Supplier: "BRACK", Item: "KRILL", AgreedPrice: p})))
	}
	taken := func(quantity string) OrderEntryLine {
		return OrderEntryLine{Item: "KRILL", Quantity: dec(quantity), TakePrice: true, Budget: "FEED"}
	}
	order.Lines = []OrderEntryLine{taken("9"), taken("10"), krill("10", "11.5")}
	plan, err = b.app.PlanOrder(b.ctx, 0, order)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{10_800, 11_000, 11_500}, []money.Amount{plan.Lines[0].Net, plan.Lines[1].Net, plan.Lines[2].Net})
	require.Equal(t, dec("11"), *plan.Lines[2].Agreed, "for one, not ten")
	order.Lines = []OrderEntryLine{{Description: "Ice", Unit: "KGM", Quantity: dec("50"), TakePrice: true, Budget: "FEED"}}
	_, err = b.app.PlanOrder(b.ctx, 0, order)
	require.Contains(t, sentences(err), "takes no order below")
	require.Contains(t, sentences(err), "needs a price")
	entry.Version, entry.Untaxed, entry.Kind = 2, true, trade.Prospective
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), entry)))
	_, err = b.app.PlanOrder(b.ctx, 0, OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{krill("10", "12")}})
	require.Contains(t, sentences(err), "prospective")
	require.Contains(t, sentences(err), "not registered for tax")
	plan, _ = b.app.PlanOrder(b.ctx, 0, OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{taken("10")}})
	require.Equal(t, "O", plan.Lines[0].TaxCategory)
	b.proved()
}

// A line's own limits overrule the others', and planned charges are no finding up to their sum.
func TestLineLimitsAndPlannedCharges(t *testing.T) {
	b := setUp(t)
	fifty := dec("50")
	line := krill("10", "12")
	line.Limits = limit.Book{{Kind: limit.Delivery, Side: limit.Over, Percent: &fifty}}
	issued, err := b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{line}, Charges: []trade.PlannedCharge{{Kind: "freight", Amount: 1_000, TaxCategory: "S", TaxRate: dec("23")}}})
	require.NoError(t, err)
	b.deliver(issued.Number, "DN 1", "15")
	freight := func(number, quantity string, amount money.Amount) Captured {
		e := b.bill("BRACK", issued.Number, number, quantity, "12")
		e.Invoice.Charges = []trade.DocumentCharge{{Kind: "freight", Amount: amount, TaxCategory: "S", TaxRate: dec("23")}}
		totals, err := e.Invoice.Totals()
		require.NoError(t, err)
		e.Invoice.StatedTotal = totals.Total
		return b.key(e)
	}
	require.Equal(t, trade.Verified, freight("A-1", "5", 600).State)
	require.Equal(t, trade.Verified, freight("B-22", "4", 400).State, "up to the ten that are planned")
	require.Equal(t, trade.Held, freight("C-333", "3", 100).State)
	b.proved()
}

type post struct {
	mails [][]byte
	fail  bool
}

func (p *post) Send(_ context.Context, _, _, _ string, message []byte) error {
	if p.fail {
		return errors.New("the post office is closed")
	}
	p.mails = append(p.mails, message)
	return nil
}

// A supplier is told what is so: no reminder of an order that ended, no cancellation of one that goes on, no return of
// another order's goods.
func TestWhatASupplierIsTold(t *testing.T) {
	b := setUp(t)
	issued, cancelled, other := b.order("BRACK", "10"), b.order("BRACK", "10"), b.order("TIDEW", "10")
	require.NoError(t, drop(b.app.CancelOrder(b.ctx, b.as("buyer"), cancelled, 0, "too late")))
	back := b.returned(back(b.deliver(issued, "DN 1", "10").Number, receive.Credit, "1")).Number
	for _, x := range []struct {
		entry SendEntry
		says  string
	}{
		{SendEntry{Order: issued, Kind: store.OrderSending}, ""},
		{SendEntry{Order: issued, Kind: store.ReminderSending}, ""},
		{SendEntry{Order: issued, Kind: store.ReturnSending, Return: back}, ""},
		{SendEntry{Order: cancelled, Kind: store.CancellationSending}, ""},
		{SendEntry{Order: cancelled, Kind: store.OrderSending}, "is cancelled, so it is not sent"},
		{SendEntry{Order: cancelled, Kind: store.ReminderSending}, "is cancelled, so it is not sent"},
		{SendEntry{Order: issued, Kind: store.CancellationSending}, "is not cancelled"},
		{SendEntry{Order: other, Kind: store.ReturnSending, Return: back}, "is no return of goods of order"},
		{SendEntry{Order: issued, Kind: store.ReturnSending, Return: 7}, "There is no return 7"},
		{SendEntry{Order: issued, Kind: "praise"}, "Say what the supplier is told"},
		{SendEntry{Order: issued, Kind: store.OrderSending, Way: "pigeon"}, "by mail or otherwise"},
	} {
		x.entry.To, x.entry.Way = "by telephone", cmp.Or(x.entry.Way, store.Otherwise)
		_, err := b.app.SendOrder(b.ctx, b.as("buyer"), x.entry)
		if x.says == "" {
			require.NoError(t, err, "%+v", x.entry)
		} else {
			require.ErrorContains(t, err, x.says)
		}
	}
	b.proved()
}

// An order is mailed with its attachments, the sending is kept, and what changed since is said; a mail that cannot be
// handed over fails in sight and is handed over again.
func TestSendAnOrder(t *testing.T) {
	b := setUp(t)
	office := &post{}
	b.app.outbox = office
	order := b.order("BRACK", "10")
	mail := SendEntry{Order: order, Kind: store.OrderSending, Way: store.ByMail, To: "desk@brackwater.example", Subject: "Order", Text: "Hello", Prices: true}
	_, err := b.app.SendOrder(b.ctx, b.as("buyer"), mail)
	refused(t, err, fault.Invalid, "no valid mail address to send from")
	require.NoError(t, drop(b.app.SaveCompany(b.ctx, b.as("admin"), CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "orders@test.example", Address: "Pier 1, Skerry"})))
	require.NoError(t, drop(b.app.SaveContact(b.ctx, b.as("buyer"), "BRACK", store.Contact{Name: "Desk", Mail: "desk@brackwater.example", Purposes: []string{"ordering"}})))
	letter, err := b.app.PlanLetter(b.ctx, order, store.OrderSending, 0)
	require.NoError(t, err)
	require.Equal(t, "desk@brackwater.example", letter.To)
	require.Contains(t, letter.Subject, "Order 4001")
	mail.To = "nobody"
	_, err = b.app.SendOrder(b.ctx, b.as("buyer"), mail)
	refused(t, err, fault.Invalid, "no mail address")
	mail.To = letter.To
	require.NoError(t, drop(b.app.SendOrder(b.ctx, b.as("buyer"), mail)))
	require.NoError(t, b.app.HandOverMail(b.ctx))
	require.NoError(t, b.app.HandOverMail(b.ctx))
	require.Len(t, office.mails, 1, "once")
	for _, part := range []string{"order-4001.pdf", "order-4001.xml", "To: <desk@brackwater.example>"} {
		require.Contains(t, string(office.mails[0]), part)
	}
	require.NoError(t, drop(b.app.ChangeOrder(b.ctx, b.as("buyer"), ChangeEntry{Number: order, Reason: "more", OrderEntry: OrderEntry{WantedOn: "2026-11-30", Lines: []OrderEntryLine{{No: 1, Item: "KRILL", Quantity: dec("12"), Price: dec("12"), TaxRate: dec("23"), Budget: "FEED"}}}})))
	letter, err = b.app.PlanLetter(b.ctx, order, store.OrderSending, 0)
	require.NoError(t, err)
	require.Equal(t, []string{"Line 1: quantity 10 → 12"}, letter.Changes)
	mail.Version = letter.Order.Version - 1
	_, err = b.app.SendOrder(b.ctx, b.as("buyer"), mail)
	refused(t, err, fault.Changed, "changed meanwhile: order changed, by buyer")
	mail.Version = letter.Order.Version
	office.fail = true
	require.NoError(t, drop(b.app.SendOrder(b.ctx, b.as("buyer"), mail)))
	for range mailTries {
		require.NoError(t, b.app.HandOverMail(b.ctx))
	}
	sheet, err := b.app.OrderSheet(b.ctx, order, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []string{store.SendingSent, store.SendingFailed}, []string{sheet.Sendings[0].State, sheet.Sendings[1].State})
	require.Contains(t, sheet.Sendings[1].Trouble, "closed")
	office.fail = false
	require.NoError(t, drop(b.app.RetryMail(b.ctx, b.as("buyer"), order, 2)))
	require.NoError(t, b.app.HandOverMail(b.ctx))
	require.Len(t, office.mails, 2)
	_, kept, err := b.app.SentMail(b.ctx, order, 2)
	require.NoError(t, err)
	require.Equal(t, office.mails[1], kept)
	content, err := b.app.OrderXML(b.ctx, order)
	require.NoError(t, err)
	require.Contains(t, string(content), `<cbc:Quantity unitCode="KGM">12</cbc:Quantity>`)
	b.proved()
}

// Who has not answered, and who is late, is listed with what they were sent.
func TestReminders(t *testing.T) {
	b := setUp(t)
	first, second := b.order("BRACK", "10"), b.order("BRACK", "10")
	b.later(3)
	require.NoError(t, drop(b.app.AnswerOrder(b.ctx, b.as("buyer"), AnswerEntry{Order: second, Reference: "AB 7", PromisedOn: "2026-12-01"})))
	m, err := b.app.Reminders(b.ctx)
	require.NoError(t, err)
	require.Len(t, m.Unanswered, 1)
	require.Equal(t, first, m.Unanswered[0].Number)
	b.later(6)
	m, err = b.app.Reminders(b.ctx)
	require.NoError(t, err)
	require.Len(t, m.Late, 2)
	letter, err := b.app.PlanLetter(b.ctx, first, store.ReminderSending, 0)
	require.NoError(t, err)
	require.Contains(t, letter.Text, "10 kg Krill")
	require.NoError(t, drop(b.app.SendOrder(b.ctx, b.as("buyer"), SendEntry{Order: first, Kind: store.ReminderSending, Way: store.Otherwise, To: "by telephone, Ms Quill"})))
	m, err = b.app.Reminders(b.ctx)
	require.NoError(t, err)
	require.Equal(t, 1, m.Late[0].Reminded)
	_, err = b.app.AnswerOrder(b.ctx, b.as("buyer"), AnswerEntry{Order: first})
	refused(t, err, fault.Invalid, "promises")
	b.proved()
}

// The letters are in the supplier's language, and every language has all the words.
func TestLettersSpeakTheSuppliersLanguage(t *testing.T) {
	b := setUp(t)
	s, err := b.app.SupplierSheet(b.ctx, "TIDEW")
	require.NoError(t, err)
	s.Supplier.Language = "de"
	require.NoError(t, b.app.Masters(b.ctx, b.as("admin"), "language", func(tx *store.Tx) error { return drop(tx.PutSupplier(s.Supplier)) }))
	order := b.order("TIDEW", "3.5")
	letter, err := b.app.PlanLetter(b.ctx, order, store.ReminderSending, 0)
	require.NoError(t, err)
	require.Contains(t, letter.Text, "3,5 kg Krill")
	require.True(t, strings.HasPrefix(letter.Subject, "Erinnerung"))
	content, err := b.app.OrderPDF(b.ctx, order, true)
	require.NoError(t, err)
	again, err := b.app.OrderPDF(b.ctx, order, true)
	require.NoError(t, err)
	require.Equal(t, content, again, "the same order prints the same bytes")
}
