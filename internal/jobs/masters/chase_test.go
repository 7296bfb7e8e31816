package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/lists"
	"lagoon/internal/views"
)

// chased sets after how many days what is awaited is chased.
func chased(b *housetest.Bench, who, supplier, word, goods, invoice string) error {
	return housetest.Drop(masters.SaveChase(b.Ctx, b.App, b.As(who), masters.ChaseEntry{Supplier: supplier, Days: map[trade.Awaited]string{
		trade.AwaitedWord: word, trade.AwaitedGoods: goods, trade.AwaitedInvoice: invoice,
	}}))
}

// After how many days suppliers are reminded is set for all by an administrator, and differently for one by a buyer; never is never.
func TestRemindersComeAfterTheDaysThatAreSet(t *testing.T) {
	b := housetest.SetUp(t)
	b.Order("BRACK", "10") // wanted in a week
	b.Order("TIDEW", "10")
	b.Later(1)
	reminded := func() (unanswered, late int) {
		m, err := orders.ToRemind(b.Ctx, b.App)
		require.NoError(t, err)
		return len(m.Unanswered), len(m.Late)
	}
	see := func(unanswered, late int, why string) {
		t.Helper()
		u, l := reminded()
		require.Equal(t, []int{unanswered, late}, []int{u, l}, why)
	}
	see(0, 0, "a day")
	require.NoError(t, chased(b, "buyer", "BRACK", "1", "", ""))
	see(1, 0, "one supplier has a day")
	require.NoError(t, chased(b, "admin", "", "0", "3", ""))
	see(2, 0, "all the others none")
	require.NoError(t, chased(b, "buyer", "TIDEW", "Never", "", ""))
	see(1, 0, "and one never")
	b.Later(8) // wanted on 30 November, it is the second of December
	see(1, 0, "goods are chased after three days")
	b.Later(1)
	see(0, 2, "late is told before not acknowledged")
	require.NoError(t, chased(b, "buyer", "BRACK", "", "never", ""))
	see(1, 1, "of one they never are")

	for _, wrong := range []string{"-1", "366", "soon", "1.5"} {
		require.ErrorContains(t, chased(b, "buyer", "BRACK", wrong, "", ""), "Enter 0 to 365 days")
	}
	housetest.Refused(t, chased(b, "buyer", "", "1", "", ""), fault.Forbidden, "by an administrator")
	housetest.Refused(t, chased(b, "clerk", "BRACK", "1", "", ""), fault.Forbidden, "")
	require.ErrorContains(t, chased(b, "buyer", "NONE", "1", "", ""), "NONE")
	own, company, err := masters.ReadChase(b.Ctx, b.App, "BRACK")
	require.NoError(t, err)
	require.Equal(t, trade.Chase{trade.AwaitedGoods: trade.NeverChased}, own)
	require.Equal(t, trade.Chase{trade.AwaitedWord: 0, trade.AwaitedGoods: 3}, company)
	b.Proved()
}

// An invoice that waits for goods is chased of who ordered them after the days that are set, line by line with what is missing and
// what that is worth, and no longer once the goods are booked.
func TestWhatInvoicesWaitForIsChased(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "4")
	b.Key(b.Bill("BRACK", order, "A1", "10", "12"))
	rows := func(show string) []lists.Row {
		t.Helper()
		page, err := lists.Read(b.Ctx, b.App, b.Actors["buyer"], lists.Named("waiting"), lists.Asked{Show: show, Columns: "order,line,missing,value,days,discount"}, 0)
		require.NoError(t, err)
		return page.Rows
	}
	course := func() int64 {
		c, err := views.CourseOf(b.Ctx, b.App, b.Actors["buyer"])
		require.NoError(t, err)
		return c.Orders
	}
	require.Empty(t, rows("chase"), "it waits since today")
	require.Len(t, rows(lists.NoWords), 1)
	require.Zero(t, course())
	b.Later(2)
	found := rows("chase;mine")
	require.Len(t, found, 1)
	require.Equal(t, []int64{6_000_000, 72_00, 2}, []int64{found[0].Cells[2].N, found[0].Cells[3].N, found[0].Cells[4].N})
	require.EqualValues(t, 1, course())
	other, err := lists.Read(b.Ctx, b.App, b.Actors["clerk"], lists.Named("waiting"), lists.Asked{Show: "mine"}, 0)
	require.NoError(t, err)
	require.Empty(t, other.Rows)
	require.NoError(t, chased(b, "buyer", "BRACK", "", "", "3"))
	require.Empty(t, rows("chase"))
	require.Zero(t, course())
	require.NoError(t, chased(b, "buyer", "BRACK", "", "", "never"))
	b.Later(30)
	require.Empty(t, rows("chase"))
	require.NoError(t, chased(b, "buyer", "BRACK", "", "", ""))
	require.Len(t, rows("chase"), 1)
	require.EqualValues(t, 1, course(), "the order is late, and counts once")
	b.Deliver(order, "DN 2", "6")
	require.Empty(t, rows(lists.NoWords))
	b.Proved()
}
