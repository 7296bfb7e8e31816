package lists_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/lists"
	"lagoon/internal/store"
)

// Every column of every list can be read, sorted by and, where it says so, grouped by; every word narrows.
func TestEveryColumnAndWord(t *testing.T) {
	b := housetest.SetUp(t)
	b.Group("Feed", "BRACK", "Animal feed", "KRILL")
	who := b.Actors["clerk"]
	for _, part := range lists.All {
		for _, l := range part.Lists {
			t.Run(l.Key, func(t *testing.T) {
				read := func(a lists.Asked) lists.Page {
					p, err := lists.Read(b.Ctx, b.App, who, l, a, 0)
					require.NoError(t, err, "%+v", a)
					_, err = lists.Sums(b.Ctx, b.App, who, l, a)
					require.NoError(t, err, "%+v", a)
					return p
				}
				read(lists.Asked{})
				for _, c := range l.Columns {
					read(lists.Asked{Show: lists.NoWords, Sort: c.Key, Columns: c.Key})
					read(lists.Asked{Show: lists.NoWords, Sort: "-" + c.Key})
					if c.Groups {
						read(lists.Asked{Show: lists.NoWords, Group: c.Key})
					} else {
						_, err := lists.Read(b.Ctx, b.App, who, l, lists.Asked{Group: c.Key}, 0)
						require.ErrorContains(t, err, "not grouped")
					}
				}
				for _, w := range l.Words {
					value := valueOf(w)
					read(lists.Asked{Show: w.Key + value})
					read(lists.Asked{Show: w.Key + value + ";" + w.Key + value})
				}
				for _, form := range []string{lists.CSV, lists.XLSX, lists.PDF} {
					file, err := lists.Take(b.Ctx, b.App, act.Actor{}, l, lists.Asked{Show: lists.NoWords}, form)
					require.NoError(t, err)
					require.NotEmpty(t, file.Content)
				}
			})
		}
	}
}

// valueOf is something that may follow a word.
func valueOf(w lists.Word) string {
	if w.Takes == lists.AChoice {
		return ":" + w.Choices[0].Value
	}
	return map[lists.Takes]string{
		lists.ASupplier: ":BRACK", lists.AnItem: ":KRILL", lists.APerson: ":clerk", lists.AnAmount: ":1000.5", lists.ADay: ":2026-11-01",
		lists.ADayOrNone: ":2026-11-01", lists.SomeText: ":x", lists.AnOrder: ":4001", lists.ABudget: ":feed", lists.ASupplierGroup: ":feed", lists.AnItemGroup: ":Animal feed",
	}[w.Takes]
}

// Where an order stands, worked by hand: 100 kg at 12.00 in two lines, a part here, a part invoiced and paid, a credit note of
// nothing; and what is narrowed, sorted, grouped and summed of it.
func TestWhereOrdersStand(t *testing.T) {
	b := housetest.SetUp(t)
	first := b.Order("BRACK", "60", "40")                   // 720.00 and 480.00
	b.Deliver(first, "DN 1", "45", "0")                     // 540.00
	second := b.Order("TIDEW", "10")                        // 120.00 USD
	bill := b.Key(b.Bill("BRACK", first, "A1", "30", "12")) // 360.00 net, verified
	waits := b.Key(b.Bill("BRACK", first, "A2", "20", "12"))
	require.Equal(t, "waiting", string(b.State(waits.Number).State))
	b.Settle(bill.Number)
	who := b.Actors["buyer"]
	cells := func(a lists.Asked, keys string) [][]string {
		a.Columns = keys
		p, err := lists.Read(b.Ctx, b.App, who, lists.Named("orders"), a, 0)
		require.NoError(t, err)
		var rows [][]string
		for _, r := range p.Rows {
			var row []string
			for i, c := range p.Columns {
				row = append(row, r.Cells[i].Written(c, r.Currency, p.Company))
			}
			rows = append(rows, append(row, string(r.Currency)))
		}
		return rows
	}
	figures := "ordered,received,invoiced,here,paid,come,uninvoiced"
	require.Equal(t, [][]string{{"120.00", "0.00", "0.00", "0.00", "0.00", "120.00", "0.00", "USD"},
		{"1200.00", "540.00", "360.00", "240.00", "360.00", "660.00", "180.00", "EUR"}}, cells(lists.Asked{}, figures))
	require.Equal(t, [][]string{{"1200.00", "EUR"}}, cells(lists.Asked{Show: "supplier:BRACK"}, "ordered"))
	require.Equal(t, [][]string{{"1200.00", "EUR"}}, cells(lists.Asked{Show: "over:1199.99"}, "ordered"))
	require.Empty(t, cells(lists.Asked{Show: "over:1200"}, "ordered"))
	require.Equal(t, [][]string{{"120.00", "USD"}, {"1200.00", "EUR"}}, cells(lists.Asked{Show: "supplier:BRACK;supplier:TIDEW"}, "ordered"), "either")
	require.Equal(t, [][]string{{"120.00", "USD"}, {"1200.00", "EUR"}}, cells(lists.Asked{Sort: "ordered"}, "ordered"), "by what is worked out")
	require.Equal(t, [][]string{{"1200.00", "EUR"}, {"120.00", "USD"}}, cells(lists.Asked{Sort: "-come"}, "ordered"))
	require.Equal(t, [][]string{{"1200.00", "EUR"}, {"120.00", "USD"}}, cells(lists.Asked{Sort: "supplier"}, "ordered"))
	require.Empty(t, cells(lists.Asked{Show: "late"}, "ordered"))
	b.Later(8)
	require.Len(t, cells(lists.Asked{Show: "late"}, "ordered"), 2)

	sums, err := lists.Sums(b.Ctx, b.App, who, lists.Named("orders"), lists.Asked{Group: "supplier"})
	require.NoError(t, err)
	require.Equal(t, int64(2), sums.Count)
	require.Equal(t, []string{"Brackwater Feeds", "Tidewell Pumps"}, []string{sums.Groups[0].Name, sums.Groups[1].Name})
	require.Equal(t, int64(120000), sums.Groups[0].Sums[0].Of["ordered"])
	require.Len(t, sums.Sums, 2, "no sum across currencies")

	for show, words := range map[string]string{
		"nonsense": "no word of this list", "supplier:NOBODY": "What follows “supplier” is a supplier", "over:much": "an amount", "since:yesterday": "a day",
		"open:x": "Nothing follows “open”", "buyer:nobody": "a person", "item:NOTHING": "an item", "budget:": "one of those that are offered", "suppliers:x": "one of those that are offered",
	} {
		_, err := lists.Read(b.Ctx, b.App, who, lists.Named("orders"), lists.Asked{Show: show}, 0)
		housetest.Refused(t, err, fault.Invalid, words)
	}
	for _, a := range []lists.Asked{{Sort: "x"}, {Group: "x"}, {Columns: "order,x"}} {
		_, err := lists.Read(b.Ctx, b.App, who, lists.Named("orders"), a, 0)
		housetest.Refused(t, err, fault.Invalid, "x")
	}
	require.NotZero(t, second)
}

// What is asked of a list is kept under a name: one's own is nobody else's, what is for all is changed by who keeps it or an
// administrator.
func TestKeptLists(t *testing.T) {
	b := housetest.SetUp(t)
	entry := lists.Entry{Name: " Late ones ", List: "orders", Asked: lists.Asked{Show: "open;late", Group: "supplier"}}
	own, err := lists.Keep(b.Ctx, b.App, b.As("clerk"), entry)
	require.NoError(t, err)
	require.Equal(t, "Late ones", own.Name)
	kept := func(who string) []lists.Kept {
		all, err := lists.AllKept(b.Ctx, b.App, b.Actors[who])
		require.NoError(t, err)
		return all
	}
	require.Equal(t, entry.Asked, kept("clerk")[0].Asked)
	require.Empty(t, kept("buyer"))
	_, err = lists.EndKept(b.Ctx, b.App, b.As("buyer"), own.Number)
	housetest.Refused(t, err, fault.NotFound, "no kept list")

	_, err = lists.Keep(b.Ctx, b.App, b.As("clerk"), lists.Entry{Name: "late ONES", List: "orders"})
	housetest.Refused(t, err, fault.Refused, "is kept already, by clerk")
	for _, e := range []lists.Entry{{Name: "", List: "orders"}, {Name: "x", List: "nothing"}, {Name: "x", List: "orders", Asked: lists.Asked{Show: "nonsense"}}} {
		_, err := lists.Keep(b.Ctx, b.App, b.As("clerk"), e)
		require.Error(t, err)
	}

	entry.Number, entry.ForAll, entry.Asked.Show = own.Number, true, "late"
	_, err = lists.Keep(b.Ctx, b.App, b.As("clerk"), entry)
	require.NoError(t, err)
	require.Equal(t, "late", kept("buyer")[0].Asked.Show)
	require.False(t, kept("buyer")[0].Mine)
	_, err = lists.EndKept(b.Ctx, b.App, b.As("buyer"), own.Number)
	housetest.Refused(t, err, fault.Forbidden, "clerk keeps")
	require.True(t, kept("admin")[0].Mine)
	_, err = lists.EndKept(b.Ctx, b.App, b.As("admin"), own.Number)
	require.NoError(t, err)
	require.Empty(t, kept("clerk"))
	b.Proved()
}

// A list is mailed once, as it is now, with its file; or every Monday from six o'clock, once a week, also where Lagoon slept, and not
// by whom it was taken from or who has left.
func TestListsAreMailed(t *testing.T) {
	b := housetest.SetUp(t)
	waiting := func() (mails []store.Sending) {
		require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) (err error) {
			mails, err = tx.WaitingSendings()
			return err
		}))
		return mails
	}
	m := lists.Mailing{List: "suppliers", As: lists.PDF, To: "them@example.org"}
	_, err := lists.Mail(b.Ctx, b.App, b.As("clerk"), m)
	housetest.Refused(t, err, fault.Invalid, "no valid mail address to send from")
	b.SendsMail()
	_, err = lists.Mail(b.Ctx, b.App, b.As("clerk"), m)
	require.NoError(t, err)
	require.Len(t, waiting(), 1)
	require.Equal(t, "Suppliers, 23 Nov 2026", waiting()[0].Subject)
	for _, wrong := range []struct {
		change func(*lists.Mailing)
		words  string
	}{
		{func(m *lists.Mailing) { m.To = "nobody" }, "address"}, {func(m *lists.Mailing) { m.As = "csv" }, "PDF or XLSX"},
		{func(m *lists.Mailing) { m.List = "nothing" }, "no such list"}, {func(m *lists.Mailing) { m.Asked.Show = "nonsense" }, "no word"},
	} {
		bad := m
		wrong.change(&bad)
		_, err := lists.Mail(b.Ctx, b.App, b.As("clerk"), bad)
		require.ErrorContains(t, err, wrong.words)
	}
	_, err = lists.Mail(b.Ctx, b.App, b.As("reader"), m)
	housetest.Refused(t, err, fault.Forbidden, "")

	entry := lists.Entry{Name: "Mondays", List: "orders", WeeklyTo: "boss@example.org", WeeklyAs: lists.XLSX}
	_, err = lists.Keep(b.Ctx, b.App, b.As("reader"), entry)
	housetest.Refused(t, err, fault.Forbidden, "may not mail")
	bad := entry
	bad.WeeklyAs = "x"
	_, err = lists.Keep(b.Ctx, b.App, b.As("clerk"), bad)
	housetest.Refused(t, err, fault.Invalid, "PDF or XLSX")
	kept, err := lists.Keep(b.Ctx, b.App, b.As("clerk"), entry)
	require.NoError(t, err)
	require.Equal(t, "2026-11-30", string(kept.WeeklyFrom), "today is a Monday; the next one is the first")
	round := func(now string, mails int) {
		t.Helper()
		at, err := time.Parse(time.RFC3339, now)
		require.NoError(t, err)
		b.Now = at
		require.NoError(t, lists.MailKept(b.Ctx, b.App))
		require.Len(t, waiting(), mails, now)
	}
	round("2026-11-23T09:00:00Z", 1)
	round("2026-11-30T05:59:00Z", 1)
	round("2026-11-30T06:00:00Z", 2)
	round("2026-12-03T12:00:00Z", 2) // once a week
	round("2026-12-09T12:00:00Z", 3) // made up on a Wednesday
	b.Proved()
	_, err = b.ByHand().Exec(`UPDATE kept_list SET asked = '{"Show":"nonsense"}'`)
	require.NoError(t, err)
	round("2026-12-14T06:30:00Z", 4)
	require.Contains(t, waiting()[3].Text, "“Mondays” could not be made: “nonsense” is no word of this list")
	round("2026-12-14T06:31:00Z", 4) // and not tried again before the next Monday
	_, err = lists.EndKept(b.Ctx, b.App, b.As("clerk"), kept.Number)
	require.NoError(t, err)
	round("2026-12-21T07:00:00Z", 4)
}

// A list that goes out daily does so from the day after it is kept, from six o'clock on working days, once a day, and only where there
// is something on it.
func TestListsAreMailedDaily(t *testing.T) {
	b := housetest.SetUp(t)
	b.SendsMail()
	entry := lists.Entry{Name: "To chase", List: "waiting", Asked: lists.Asked{Show: "chase;mine"}, WeeklyTo: "buyer@example.org", WeeklyAs: lists.PDF, Daily: true}
	kept, err := lists.Keep(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	require.Equal(t, "2026-11-24", string(kept.WeeklyFrom))
	mails := func() (all []store.Sending) {
		require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) (err error) {
			all, err = tx.WaitingSendings()
			return err
		}))
		return all
	}
	round := func(now string, sent int) {
		t.Helper()
		at, err := time.Parse(time.RFC3339, now)
		require.NoError(t, err)
		b.Now = at
		require.NoError(t, lists.MailKept(b.Ctx, b.App))
		require.Len(t, mails(), sent, now)
	}
	order := b.Order("BRACK", "10")
	round("2026-11-24T06:30:00Z", 0) // nothing is on it
	b.Key(b.Bill("BRACK", order, "A1", "10", "12"))
	round("2026-11-24T15:00:00Z", 0) // nor is it looked at twice a day
	round("2026-11-25T07:00:00Z", 0) // it waits for a day
	round("2026-11-26T05:30:00Z", 0)
	round("2026-11-26T06:00:00Z", 1)
	round("2026-11-26T18:00:00Z", 1)
	require.Contains(t, mails()[0].Subject, "Invoices that wait for goods")
	round("2026-11-27T08:00:00Z", 2)
	round("2026-11-28T08:00:00Z", 2) // a Saturday
	round("2026-11-29T08:00:00Z", 2)
	round("2026-11-30T08:00:00Z", 3)
	b.Deliver(order, "DN 1", "10")
	round("2026-12-01T08:00:00Z", 3) // it is here
	entry.Number, entry.Daily = kept.Number, false
	again, err := lists.Keep(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	require.Equal(t, "2026-12-07", string(again.WeeklyFrom))
	b.Proved()
}

// A list for each goes out to every colleague of whom something stands on it, with theirs, once a day; it is for all, says whose its
// rows are, and is set by somebody who leads, for as long as they do.
func TestListsAreMailedToEach(t *testing.T) {
	b := housetest.SetUp(t)
	b.SendsMail()
	entry := lists.Entry{
		Name: "To chase", List: "waiting", Asked: lists.Asked{Show: "chase;mine"}, ForAll: true, WeeklyTo: lists.Each, WeeklyAs: lists.PDF, Daily: true,
	}
	_, err := lists.Keep(b.Ctx, b.App, b.As("buyer"), entry)
	require.True(t, fault.Is(err, fault.Forbidden), "%v", err)
	for _, wrong := range []lists.Entry{
		{Name: "a", List: "waiting", Asked: lists.Asked{Show: "chase;mine"}, WeeklyTo: lists.Each, WeeklyAs: lists.PDF},
		{Name: "a", List: "waiting", Asked: lists.Asked{Show: "chase"}, ForAll: true, WeeklyTo: lists.Each, WeeklyAs: lists.PDF},
	} {
		_, err = lists.Keep(b.Ctx, b.App, b.As("approver"), wrong)
		require.True(t, fault.Is(err, fault.Refused), "%v", err)
	}
	kept, err := lists.Keep(b.Ctx, b.App, b.As("approver"), entry)
	require.NoError(t, err)
	mails := func() (all []store.Sending) {
		require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) (err error) {
			all, err = tx.WaitingSendings()
			return err
		}))
		return all
	}
	round := func(now string, sent int) {
		t.Helper()
		at, err := time.Parse(time.RFC3339, now)
		require.NoError(t, err)
		b.Now = at
		require.NoError(t, lists.MailKept(b.Ctx, b.App))
		require.Len(t, mails(), sent, now)
	}
	b.Key(b.Bill("BRACK", b.Order("BRACK", "10"), "A1", "10", "12"))
	round("2026-11-26T06:30:00Z", 0) // of the buyer no address is known
	for _, who := range []string{"buyer", "clerk", "approver"} {
		_, err = people.SaveMail(b.Ctx, b.App, b.As("admin"), who, " office@example.org ")
		require.NoError(t, err)
	}
	_, err = people.SaveMail(b.Ctx, b.App, b.As("admin"), "buyer", "nowhere")
	require.True(t, fault.Is(err, fault.Invalid), "%v", err)
	round("2026-11-27T08:00:00Z", 1)
	round("2026-11-27T18:00:00Z", 1)
	require.Equal(t, "office@example.org", mails()[0].Recipient)
	require.Contains(t, mails()[0].Subject, "Invoices that wait for goods of "+b.Actors["buyer"].Name)
	rights := people.RightsEntry{Login: "approver", Roles: []string{"buyer"}, Reason: "leads no more"}
	require.NoError(t, housetest.Drop(people.Change(b.Ctx, b.App, b.As("admin"), rights)))
	round("2026-11-30T08:00:00Z", 1)
	rights.Roles = []string{"approver"}
	require.NoError(t, housetest.Drop(people.Change(b.Ctx, b.App, b.As("admin"), rights)))
	round("2026-12-01T08:00:00Z", 2)
	_, err = lists.EndKept(b.Ctx, b.App, b.As("approver"), kept.Number)
	require.NoError(t, err)
	round("2026-12-02T08:00:00Z", 2)
	b.Proved()
}

// A card that begins on a day begins with what was before: its balance after the last line is the account's, whatever is left out.
func TestACardBeginsWithWhatWasBefore(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "30")
	deliver := func(note, quantity string) {
		e := housetest.Count(order, note, quantity)
		e.Day = b.Today()
		require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)))
	}
	deliver("DN 1", "10") // 120.00
	b.Later(3)
	deliver("DN 2", "5") // 60.00
	day := b.Today()
	b.Later(2)
	deliver("DN 3", "2") // 24.00
	balances := func(show string) (all []int64) {
		p, err := lists.Read(b.Ctx, b.App, b.Actors["reader"], lists.Named("card"), lists.Asked{Show: show, Columns: "balance"}, 0)
		require.NoError(t, err)
		for _, r := range p.Rows {
			all = append(all, r.Cells[0].N)
		}
		return all
	}
	require.Equal(t, []int64{-12_000, -18_000, -20_400}, balances("account:grni"))
	require.Equal(t, []int64{-18_000, -20_400}, balances("account:grni;since:"+string(day)))
	require.Equal(t, []int64{-18_000}, balances(fmt.Sprintf("account:grni;since:%s;until:%s", day, day)))
	require.Equal(t, []int64{-20_400}, balances(fmt.Sprintf("account:grni;of:%d/1;since:%s", order, b.Today())))
	require.Equal(t, money.Amount(-20_400), b.Balance("grni"))
}
