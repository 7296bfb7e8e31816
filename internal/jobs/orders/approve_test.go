package orders_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/views"
)

// small is a buyer with an authority of 100.00.
func small(b *housetest.Bench) act.Command {
	actor := housetest.With(b.Actors["reader"], "buyer")
	actor.Authority = 10_000
	return act.Command{Actor: actor}
}

func krill(quantity string) orders.Entry {
	return orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{housetest.Krill(quantity, "12")}}
}

func seen(b *housetest.Bench, number int64, by string) views.OrderSheet {
	b.T.Helper()
	s, err := views.Order(b.Ctx, b.App, number, b.Actors[by])
	require.NoError(b.T, err)
	return s
}

// An order above its buyer's authority is not issued before somebody with the authority who did not enter it agrees; until
// then nothing can be received on it (rules §3).
func TestAnOrderAboveItsBuyersAuthorityWaits(t *testing.T) {
	b := housetest.SetUp(t)
	within, err := orders.Issue(b.Ctx, b.App, small(b), krill("8"))
	require.NoError(t, err)
	require.False(t, within.Waits, "96.00 of 100.00")
	plan, err := orders.Plan(b.Ctx, b.App, small(b).Actor, 0, krill("40"))
	require.NoError(t, err)
	require.True(t, plan.Asks)
	issued, err := orders.Issue(b.Ctx, b.App, small(b), krill("40"))
	require.NoError(t, err)
	require.True(t, issued.Waits, "480.00 of 100.00")
	s := seen(b, issued.Number, "approver")
	require.Equal(t, trade.Draft, s.Order.State)
	require.EqualValues(t, 48_000, s.Waits.Net)
	require.NoError(t, s.Waits.Hands)
	require.Error(t, seen(b, issued.Number, "clerk").Waits.Hands)
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(issued.Number, "DN 1", "40"))
	housetest.Refused(t, err, fault.Refused, "")

	decide := orders.Decision{Order: issued.Number, Version: s.Order.Version, Note: "once"}
	_, err = orders.Approve(b.Ctx, b.App, act.Command{Actor: housetest.With(b.Actors["reader"], "approver")}, decide)
	housetest.Refused(t, err, fault.Forbidden, "is your own")
	poor := b.Actors["approver"]
	poor.Authority = 47_999
	_, err = orders.Approve(b.Ctx, b.App, act.Command{Actor: poor}, decide)
	housetest.Refused(t, err, fault.Forbidden, "your authority is 479.99 EUR")
	old := decide
	old.Version++
	_, err = orders.Approve(b.Ctx, b.App, b.As("approver"), old)
	housetest.Refused(t, err, fault.Changed, "")
	b.Later(1)
	require.NoError(t, housetest.Drop(orders.Approve(b.Ctx, b.App, b.As("approver"), decide)))
	s = seen(b, issued.Number, "approver")
	require.Equal(t, trade.Issued, s.Order.State)
	require.Equal(t, b.Today(), s.Order.IssuedOn, "it is issued on the day it is approved")
	require.Nil(t, s.Waits)
	require.Equal(t, "approver", s.Decisions[0].ByName)
	var maker string
	require.NoError(t, b.ByHand().QueryRowContext(b.Ctx, `SELECT p.login FROM purchase_order o JOIN person p ON p.id = o.made_by WHERE o.number = ?`, issued.Number).Scan(&maker))
	require.Equal(t, "reader", maker, "it stays the order of who wrote it")
	decide.Version = 0
	_, err = orders.Approve(b.Ctx, b.App, b.As("approver"), decide)
	housetest.Refused(t, err, fault.Refused, "waits for no approval")
	came := housetest.Count(issued.Number, "DN 1", "40")
	came.Day = b.Today()
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), came)))
	b.Proved()
}

// Refused, it ends with the reason; passed on, it is somebody else's turn; cancelled by its buyer, nobody need look at it.
func TestWhatBecomesOfAnOrderThatWaits(t *testing.T) {
	b := housetest.SetUp(t)
	order := func() int64 {
		t.Helper()
		issued, err := orders.Issue(b.Ctx, b.App, small(b), krill("20"))
		require.NoError(t, err)
		return issued.Number
	}
	yours := func(who string) (numbers []int64) {
		pile, err := views.OrdersWaiting(b.Ctx, b.App, b.Actors[who])
		require.NoError(t, err)
		for _, o := range pile.Rows {
			if o.Yours {
				numbers = append(numbers, o.Number)
			}
		}
		return
	}
	first, second, third := order(), order(), order()
	require.Equal(t, []int64{first, second, third}, yours("approver"))
	require.Empty(t, yours("clerk"))
	_, err := orders.Refuse(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: first})
	housetest.Refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, housetest.Drop(orders.Refuse(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: first, Note: "we have enough"})))
	require.Equal(t, trade.Cancelled, seen(b, first, "approver").Order.State)

	for to, says := range map[string]string{"nobody": "There is nobody", "clerk": "cannot approve it", "approver": "somebody else"} {
		_, err = orders.Pass(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: second, To: to})
		housetest.Refused(t, err, fault.Invalid, says)
	}
	require.NoError(t, housetest.Drop(orders.Pass(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: second, To: "approver too", Note: "yours"})))
	require.Equal(t, []int64{third}, yours("approver"))
	require.Contains(t, yours("approver too"), second)
	require.Equal(t, "approver too", seen(b, second, "approver").Waits.Passed.ToName)

	require.NoError(t, housetest.Drop(orders.Cancel(b.Ctx, b.App, b.As("buyer"), third, 0, "bought elsewhere")))
	require.Empty(t, yours("approver"))
	_, err = orders.Approve(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: third})
	housetest.Refused(t, err, fault.Refused, "waits for no approval")
	b.Proved()
}

// A change that raises an order above what was approved asks again, and the order stays as it is until somebody agrees;
// one that does not, or is within the buyer's authority, is made at once.
func TestAChangeThatRaisesAnOrderAsksAgain(t *testing.T) {
	b := housetest.SetUp(t)
	issued, err := orders.Issue(b.Ctx, b.App, small(b), krill("20"))
	require.NoError(t, err)
	number := issued.Number
	change := func(quantity string) orders.Issued {
		t.Helper()
		entry := krill(quantity)
		entry.Lines[0].No = 1
		changed, err := orders.Change(b.Ctx, b.App, small(b), orders.ChangeEntry{
			Number: number, Version: seen(b, number, "approver").Order.Version, Reason: "r", Entry: entry,
		})
		require.NoError(t, err)
		return changed
	}
	ordered := func() string { return seen(b, number, "approver").Order.Lines[0].Quantity.String() }
	require.True(t, change("10").Waits, "still above")
	require.EqualValues(t, 12_000, seen(b, number, "approver").Waits.Net)
	require.NoError(t, housetest.Drop(orders.Approve(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: number})))

	require.False(t, change("9").Waits)
	require.False(t, change("10").Waits, "as much was approved")
	require.True(t, change("11").Waits)
	require.Equal(t, "10", ordered(), "it stays until somebody agrees")
	s := seen(b, number, "approver")
	require.Equal(t, trade.Issued, s.Order.State)
	require.NotEmpty(t, s.Waits.Says)
	b.Deliver(number, "DN 1", "4")
	require.True(t, change("12").Waits, "another takes its place")
	require.NoError(t, housetest.Drop(orders.Approve(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: number})))
	require.Equal(t, "12", ordered())
	require.False(t, change("8").Waits)
	require.True(t, change("13").Waits)
	require.NoError(t, housetest.Drop(orders.Refuse(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: number, Note: "enough"})))
	require.Equal(t, "8", ordered())
	require.Equal(t, trade.Issued, seen(b, number, "approver").Order.State)

	second, err := orders.Issue(b.Ctx, b.App, small(b), krill("20"))
	require.NoError(t, err)
	number = second.Number
	require.False(t, change("5").Waits, "within the authority now")
	require.Equal(t, trade.Issued, seen(b, number, "approver").Order.State)
	require.Nil(t, seen(b, number, "approver").Waits)
	b.Proved()
}
