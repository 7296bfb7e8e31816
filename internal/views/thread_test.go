package views_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// thread is what an order's thread says, a line for each event; what is not there yet is in brackets.
func thread(b *housetest.Bench, order int64) []string {
	b.T.Helper()
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
	require.NoError(b.T, err)
	var said []string
	for _, e := range sheet.Thread {
		text := fmt.Sprintf("%s %s: %s", strings.TrimPrefix(string(e.Day), "2026-"), e.Title, e.Detail)
		if e.Entry != 0 {
			text += fmt.Sprintf(" #%d", e.Entry)
		}
		if e.Open {
			text = "(" + text + ")"
		}
		said = append(said, text)
	}
	return said
}

// Everything that happens to an order stands in its thread in the order of time, with its ledger entry, and what is expected
// stands there open.
func TestTheThreadOfAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	on := func(day, hour int) { b.Now = time.Date(2026, 11, day, hour, 0, 0, 0, time.UTC) }
	deliver := func(e receiving.DeliveryEntry) receiving.Booked {
		t.Helper()
		e.Day = b.Today()
		booked, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)
		require.NoError(t, err)
		return booked
	}
	order := b.Order("BRACK", "10", "5")
	require.Equal(
		t,
		[]string{"11-23 Ordered 180.00 EUR: wanted by 30 Nov 2026", "(11-30 Goods expected 30 Nov 2026: 10 kg Krill, 5 kg Krill)"},
		thread(b, order),
	)
	on(24, 9)
	require.NoError(
		t,
		housetest.Drop(
			orders.Send(b.Ctx, b.App, b.As("buyer"), orders.SendEntry{Order: order, Kind: store.OrderSending, Way: store.Otherwise, To: "by telephone"}),
		),
	)
	require.NoError(
		t,
		housetest.Drop(orders.Answer(b.Ctx, b.App, b.As("buyer"), orders.AnswerEntry{Order: order, Reference: "BW 1", PromisedOn: "2026-11-28"})),
	)
	require.NoError(
		t,
		housetest.Drop(
			receiving.EnterNotice(
				b.Ctx,
				b.App,
				b.As("buyer"),
				receiving.NoticeEntry{
					Order:      order,
					Reference:  "N 1",
					Carrier:    "Van",
					ExpectedOn: "2026-11-26",
					Lines:      []receiving.NoticeEntryLine{{No: 1, Quantity: housetest.Dec("6")}},
				},
			),
		),
	)
	on(25, 9)
	booked := deliver(housetest.Count(order, "DN 1", "6"))
	b.Key(b.Bill("BRACK", order, "A-1", "6", "12"))
	on(26, 9)
	require.NoError(
		t,
		housetest.Drop(
			receiving.BookReturn(
				b.Ctx,
				b.App,
				b.As("receiver"),
				receive.ReturnEntry{
					Delivery: booked.Number,
					Day:      "2026-11-26",
					Outcome:  receive.Credit,
					Reason:   "thawed",
					Lines:    []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("2")}},
				},
			),
		),
	)
	refusedAtTheDoor := housetest.Count(order, "DN 2")
	refusedAtTheDoor.Lines = []receive.Line{{No: 2, Refused: housetest.Dec("3"), Reason: receive.Damaged}}
	deliver(refusedAtTheDoor)
	second := deliver(housetest.Count(order, "DN 3", "0", "5"))
	require.NoError(t, housetest.Drop(receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: second.Number, Reason: "r"})))
	require.Equal(t, []string{
		"11-20 Invoice A-1: 88.56 EUR · verified #2", // by its own date
		"11-23 Ordered 180.00 EUR: wanted by 30 Nov 2026",
		"11-24 Order sent: by telephone",
		"11-24 Acknowledged BW 1: promised for 28 Nov 2026",
		"11-25 Delivery DN 1: 6 kg Krill #1",
		"11-26 Return of DN 1, credit expected: 2 kg Krill #3",
		"11-26 Delivery DN 2: 3 kg Krill refused at the door, damaged",
		"11-26 Delivery DN 3: 5 kg Krill #4",
		"11-26 Delivery DN 3 reversed: 5 kg Krill #5",
		"(11-26 Notice N 1: Van, open)",
		"(11-30 Goods expected 30 Nov 2026: 4 kg Krill, 5 kg Krill)", // what went back for credit is not
		"(12-20 A-1 to be paid by 20 Dec 2026: )",
	}, thread(b, order))
}

// The thread of a long order names the first of what is expected and how many more there are.
func TestALongThreadIsShort(t *testing.T) {
	b := housetest.SetUp(t)
	quantities := make([]string, 40)
	for i := range quantities {
		quantities[i] = fmt.Sprint(i + 1)
	}
	order := b.Order("BRACK", quantities...)
	require.Equal(
		t,
		"(11-30 Goods expected 30 Nov 2026: 1 kg Krill, 2 kg Krill, 3 kg Krill, 4 kg Krill, 5 kg Krill, 6 kg Krill and 34 more)",
		thread(b, order)[1],
	)
	require.Equal(t, "a, b, c, d, e, f, g", views.Few([]string{"a", "b", "c", "d", "e", "f", "g"}), "one more is no shorter said")
}

// What goes back before it was invoiced awaits no credit note, and an invoice that lies there is not expected on its own
// sheet.
func TestWhatIsExpectedAndWhatIsNot(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	booked := b.Deliver(order, "DN 1", "10")
	returned, err := receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), housetest.Back(booked.Number, receive.Credit, "2"))
	require.NoError(t, err)
	require.Contains(t, strings.Join(thread(b, order), "\n"), "Return of DN 1 for credit")
	sheet, err := views.Delivery(b.Ctx, b.App, returned.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.False(t, sheet.CreditDue)
	require.Contains(t, strings.Join(thread(b, order), "\n"), "Invoice expected")

	bill := b.Key(b.Bill("BRACK", order, "A-1", "8", "13"))
	require.Equal(t, trade.Held, bill.State)
	lying, err := views.Invoice(b.Ctx, b.App, bill.Number, b.Actors["clerk"])
	require.NoError(t, err)
	for _, e := range lying.Thread {
		require.NotContains(t, e.Title, "Invoice expected")
	}
}

// Where nobody carries a mail it is kept, is not said to be mailed, and can be handed over once somebody does.
func TestAMailThatNobodyCarries(t *testing.T) {
	b := housetest.SetUp(t)
	p := &housetest.Post{}
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveCompany(
				b.Ctx,
				b.App,
				b.As("admin"),
				masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "orders@test.example"},
			),
		),
	)
	b.App = act.New(b.Store, act.Options{Now: func() time.Time { return b.Now }, Outbox: p, Kept: true})
	order := b.Order("BRACK", "10")
	require.NoError(
		t,
		housetest.Drop(
			orders.Send(
				b.Ctx,
				b.App,
				b.As("buyer"),
				orders.SendEntry{Order: order, Kind: store.OrderSending, Way: store.ByMail, To: "orders@brackwater.example", Subject: "s", Text: "t"},
			),
		),
	)
	require.NoError(t, orders.HandOverMail(b.Ctx, b.App))
	require.Contains(t, strings.Join(thread(b, order), "\n"), "Order sent, kept and not mailed")
	b.App = act.New(b.Store, act.Options{Now: func() time.Time { return b.Now }, Outbox: p})
	require.NoError(t, housetest.Drop(orders.RetryMail(b.Ctx, b.App, b.As("buyer"), order, 1)))
	require.NoError(t, orders.HandOverMail(b.Ctx, b.App))
	require.NotContains(t, strings.Join(thread(b, order), "\n"), "kept")
	require.Len(t, p.Mails, 2)
	b.Proved()
}

// The thread tells what people decided, in the order in which it happened; the history of a document tells who did what,
// why, and which of it was done to another document.
func TestDecisionsStandInThreadAndHistory(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10", "5")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "13"))
	b.Now = b.Now.Add(time.Minute)
	require.NoError(
		t,
		housetest.Drop(
			invoices.AcceptFinding(
				b.Ctx,
				b.App,
				b.As("approver"),
				invoices.AcceptEntry{Invoice: bill.Number, Kind: finding.UnitPrice, Line: 1, Note: "the list is new"},
			),
		),
	)
	b.Now = b.Now.Add(time.Minute)
	require.NoError(t, housetest.Drop(payments.ReleaseInvoices(b.Ctx, b.App, b.As("treasurer"), []int64{bill.Number})))
	b.Now = b.Now.Add(time.Minute)
	require.NoError(t, housetest.Drop(payments.TakeBackRelease(b.Ctx, b.App, b.As("treasurer"), act.Ending{Invoice: bill.Number, Reason: "asked again"})))
	b.Now = b.Now.Add(time.Minute)
	ref := []orders.LineRef{{Order: order, Line: 2}}
	require.NoError(t, housetest.Drop(orders.CloseLines(b.Ctx, b.App, b.As("buyer"), orders.ClosingEntry{Lines: ref, Goods: true, Reason: "sold out"})))
	require.NoError(t, housetest.Drop(orders.ReopenLines(b.Ctx, b.App, b.As("buyer"), orders.ClosingEntry{Lines: ref, Goods: true, Reason: "a late find"})))
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
	require.NoError(t, err)
	var told []string
	for _, e := range sheet.Thread {
		if e.Kind == "decision" || e.Kind == "change" {
			told = append(told, e.Title+": "+e.Detail)
		}
	}
	require.Equal(t, []string{
		"A-1 difference accepted: the list is new (approver)", "A-1 released: treasurer", "A-1 release taken back: asked again (treasurer)",
		"Line 2 ended: Krill: sold out", "Line 2 open again: Krill: a late find",
	}, told)

	whole := b.Order("BRACK", "10")
	b.Deliver(whole, "DN 2", "10")
	b.Now = b.Now.Add(time.Minute)
	today := b.Bill("BRACK", whole, "A-2", "10", "12")
	today.Date = b.Today()
	paid := b.Key(today)
	b.Now = b.Now.Add(time.Minute)
	run := b.Pay(paid.Number)
	b.Now = b.Now.Add(time.Minute)
	b.Approve(run)
	made, err := views.Run(b.Ctx, b.App, run, b.Actors["reader"])
	require.NoError(t, err)
	require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(made.Run, "ACSC"))))
	sheet, err = views.Order(b.Ctx, b.App, whole, b.Actors["reader"])
	require.NoError(t, err)
	var course []string
	for _, e := range sheet.Thread {
		course = append(course, e.Title)
	}
	require.Equal(
		t,
		[]string{"Ordered 120.00 EUR", "Delivery DN 2", "Invoice A-2", "A-2 released", "A-2 paid"},
		course,
		"what happened on one day stands by the clock",
	)

	history, more, err := views.History(b.Ctx, b.App, b.Actors["reader"], "invoice", fmt.Sprint(bill.Number))
	require.NoError(t, err)
	require.False(t, more)
	var did []string
	for _, c := range slices.Backward(history) {
		did = append(did, c.What)
		require.False(t, c.Related, c.What)
	}
	require.Equal(t, []string{"invoice keyed", "invoice keyed", "difference accepted", "difference accepted", "released", "release taken back"}, did)
	require.Contains(t, history[2].Into+history[3].Into, "verified")
	at := slices.IndexFunc(history, func(c views.Change) bool { return strings.Contains(c.From, "above the order's price") })
	require.GreaterOrEqual(t, at, 0, "a difference in its sentence")
	require.NotContains(t, history[at].From, "verdict")
	require.Equal(t, "the list is new", history[at].Into)
	ofOrder, _, err := views.History(b.Ctx, b.App, b.Actors["reader"], "order", fmt.Sprint(order))
	require.NoError(t, err)
	require.True(t, slices.ContainsFunc(ofOrder, func(c views.Change) bool { return c.Related && c.What == "delivery booked" }))
	_, _, err = views.History(b.Ctx, b.App, b.Actors["reader"], "person", "clerk")
	housetest.Refused(t, err, fault.NotFound, "no such document")
}

// Money that is agreed ahead stands in the thread until it is asked for, and no more once nothing is to come.
func TestMoneyAheadThatNobodyAskedForIsExpected(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10") // 147.60 with tax
	_, err := orders.Agree(b.Ctx, b.App, b.As("buyer"), orders.AheadEntry{Order: order, Share: "50%", Kind: "goods at sea", Event: "on shipment", ExpectedOn: "2026-11-28"})
	require.NoError(t, err)
	expected := func() (said []string) {
		for _, s := range thread(b, order) {
			if strings.Contains(s, "Money ahead") {
				said = append(said, s)
			}
		}
		return said
	}
	require.Equal(t, []string{"(11-28 Money ahead to be asked for by 28 Nov 2026: goods at sea, 73.80 EUR, on shipment)"}, expected())
	e := b.Bill("BRACK", order, "D-1", "1", "60")
	e.Kind, e.Lines[0].OrderLine = trade.PrepaymentInvoice, 0
	require.Equal(t, trade.Verified, b.Key(e).State)
	require.Empty(t, expected())
}
