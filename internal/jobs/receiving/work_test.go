package receiving_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// service issues an order of a thousand by value that a clerk asked for.
func service(b *housetest.Bench, change func(*orders.EntryLine)) (int64, error) {
	line := orders.EntryLine{
		Description: "Service of the chillers", Unit: trade.MonetaryValue, Quantity: housetest.Dec("1000"), Price: housetest.Dec("1"),
		TaxCategory: "S", TaxRate: housetest.Dec("23"), Budget: "FEED",
	}
	change(&line)
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{
		Supplier: "BRACK", WantedOn: "2026-11-30", RequestedBy: b.Actors["clerk"].Name, Lines: []orders.EntryLine{line, housetest.Krill("10", "12")},
	})
	return issued.Number, err
}

func done(order int64, note, quantity, unit string) receiving.DeliveryEntry {
	e := housetest.Count(order, note, quantity)
	e.Lines[0].Unit = unit
	return e
}

// hours is an invoice over hours of work.
func hours(b *housetest.Bench, order int64, number, quantity, price string) invoices.Entry {
	e := b.Bill("BRACK", order, number, quantity, price)
	e.Lines[0].Description, e.Lines[0].Unit = "Hours", "HUR"
	return e
}

// Rules §6: a line by value is accepted in amount or per cent by who asked for it. An invoice bills of it what its line nets,
// in whatever quantity and price: as far as it is accepted it agrees, and waits for the rest.
func TestWorkByValue(t *testing.T) {
	b := housetest.SetUp(t)
	order, err := service(b, func(*orders.EntryLine) {})
	require.NoError(t, err)
	line := func() *trade.OrderLine {
		o, err := act.Read(b.Ctx, b.App, func(r act.Reading) (*trade.Order, error) { return r.OrderByNumber(order, store.AllReserved) })
		require.NoError(t, err)
		return o.Line(1)
	}
	accept := func(who, note, quantity, unit string) (receiving.Booked, error) {
		booked, err := receiving.AcceptWork(b.Ctx, b.App, b.As(who), done(order, note, quantity, unit))
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
		return booked, err
	}

	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "400"))
	housetest.Refused(t, err, fault.Refused, "Line 1 is by value: what is done of it is accepted on the order by "+b.Actors["clerk"].Name)
	_, err = accept("receiver", "T 1", "40", trade.PerCent)
	housetest.Refused(t, err, fault.Forbidden, "asked for order")
	_, err = accept("clerk", "T 1", "33.335", "")
	housetest.Refused(t, err, fault.Invalid, "enter an amount of EUR, or per cent")
	_, err = receiving.AcceptWork(b.Ctx, b.App, b.As("clerk"), housetest.Count(order, "T 1", "0", "5"))
	housetest.Refused(t, err, fault.Refused, "Line 2 is not by value")

	first, err := accept("clerk", "T 1", "40", trade.PerCent)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{40_000, -40_000}, []money.Amount{first.Value.Amount, b.Balance("grni")})
	bill := b.Key(hours(b, order, "S-1", "5", "90"))
	require.Equal(t, trade.Waiting, bill.State, "450 are billed of 400")
	second, err := accept("clerk", "T 2", "100", "")
	require.NoError(t, err)
	require.Contains(t, second.Moves, bill.Number)
	require.Equal(t, trade.Verified, b.State(bill.Number).State)
	require.Equal(t, []money.Decimal{housetest.Dec("450"), housetest.Dec("500")}, []money.Decimal{line().Billed, line().Received})
	require.Equal(t, money.Amount(-5_000), b.Balance("grni"))
	require.Zero(t, b.Balance("variance"), "hours at a price of their own are no price difference")

	held := b.Key(hours(b, order, "S-2", "1", "5000"))
	require.Equal(t, trade.Held, held.State, "more than is agreed")
	judged, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.True(t, slices.ContainsFunc(judged.Findings, func(f finding.Finding) bool { return f.Kind == finding.OverOrdered }))
	b.Proved()

	_, err = receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: second.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "who may accept it takes it back")
	_, err = receiving.TakeBackWork(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: second.Number, Reason: "r"})
	housetest.Refused(t, err, fault.Forbidden, "asked for order")
	sheet, err := views.Delivery(b.Ctx, b.App, second.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Contains(t, sheet.May, act.TakeBackWork)
	require.NotContains(t, sheet.May, act.ReverseDelivery)
	_, err = receiving.TakeBackWork(b.Ctx, b.App, b.As("clerk"), receiving.ReversalEntry{Delivery: second.Number, Reason: "not done"})
	require.NoError(t, err)
	require.Zero(t, b.Balance("grni"), "what is invoiced of it stays")
	require.Equal(t, housetest.Dec("450"), line().Received)
	b.Proved()
}

// Shares of a hundred per cent come to the whole, whatever each is rounded to.
func TestSharesOfWorkAreTheWhole(t *testing.T) {
	b := housetest.SetUp(t)
	order, err := service(b, func(l *orders.EntryLine) { l.Quantity = housetest.Dec("100.01") })
	require.NoError(t, err)
	for i, share := range []string{"33", "33", "34"} {
		e := done(order, "T "+share, share, trade.PerCent)
		e.SecondPart = i > 0
		_, err := receiving.AcceptWork(b.Ctx, b.App, b.As("clerk"), e)
		require.NoError(t, err)
	}
	require.Equal(t, money.Amount(-10_001), b.Balance("grni"))
	require.Equal(t, trade.DoneAll, b.Line(order).Goods())
	b.Proved()
}

// Where nobody who works here asked for it, a receiver or a buyer accepts.
func TestWorkThatNobodyHereAskedFor(t *testing.T) {
	b := housetest.SetUp(t)
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{
		Supplier: "BRACK", WantedOn: "2026-11-30", RequestedBy: "the harbour office",
		Lines: []orders.EntryLine{{
			Description: "Dredging", Unit: trade.MonetaryValue, Quantity: housetest.Dec("500"), Price: housetest.Dec("1"),
			TaxCategory: "S", TaxRate: housetest.Dec("23"), Budget: "FEED",
		}},
	})
	require.NoError(t, err)
	_, err = receiving.AcceptWork(b.Ctx, b.App, b.As("clerk"), done(issued.Number, "T 1", "100", ""))
	housetest.Refused(t, err, fault.Forbidden, "a receiver or a buyer accepts")
	_, err = receiving.AcceptWork(b.Ctx, b.App, b.As("receiver"), done(issued.Number, "T 1", "100", ""))
	require.NoError(t, err)
	_, err = receiving.AcceptWork(b.Ctx, b.App, b.As("buyer"), done(issued.Number, "T 2", "600", ""))
	housetest.Refused(t, err, fault.Refused, "")
	b.Proved()
}

// A line by value is an amount and nothing else.
func TestALineByValueIsAnAmount(t *testing.T) {
	b := housetest.SetUp(t)
	for name, change := range map[string]func(*orders.EntryLine){
		"lines[0].price":    func(l *orders.EntryLine) { l.Price = housetest.Dec("2") },
		"lines[0].quantity": func(l *orders.EntryLine) { l.Quantity = housetest.Dec("10.005") },
		"lines[0].discount": func(l *orders.EntryLine) { l.Discount = "5" },
	} {
		_, err := service(b, change)
		housetest.Refused(t, err, fault.Invalid, "is by value")
		require.ErrorContains(t, err, "Line 1", name)
	}
}
