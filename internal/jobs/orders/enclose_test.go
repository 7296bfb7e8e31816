package orders_test

import (
	"bytes"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/receive"
	"lagoon/internal/format/eml"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/papers"
	"lagoon/internal/store"
)

func attached(b *housetest.Bench, kind, key, name string) int64 {
	kept, err := papers.Attach(b.Ctx, b.App, b.As("buyer"), papers.Entry{
		To: papers.Place{Kind: kind, Key: key}, File: act.File{Name: name, Content: []byte("%PDF-1.4\n%" + kind + key + name)},
	})
	require.NoError(b.T, err)
	return kept.Number
}

// proposed are the papers that a letter offers, those that are proposed with a star.
func proposed(t *testing.T, l orders.Letter, err error) (names []string) {
	t.Helper()
	require.NoError(t, err)
	for _, p := range l.Papers {
		if p.Goes {
			p.Name += "*"
		}
		names = append(names, p.Name)
	}
	return names
}

func carried(t *testing.T, mail []byte) (names []string) {
	t.Helper()
	in, err := eml.Read(mail)
	require.NoError(t, err)
	for _, f := range in.Files {
		names = append(names, f.Name)
	}
	return names
}

// Papers that are kept with an order, its items and its budgets may go along; what was chosen last is proposed for the next
// order there, and what was left out is not.
func TestPapersGoWithAnOrder(t *testing.T) {
	b := housetest.SetUp(t)
	b.SendsMail()
	drawing, data := attached(b, store.OnItem, "KRILL", "drawing.pdf"), attached(b, store.OnItem, "KRILL", "data.pdf")
	rules := attached(b, store.OnBudget, "FEED", "site-rules.pdf")
	order := b.Order("BRACK", "10")
	attached(b, store.OnOrder, fmt.Sprint(order), "offer.pdf")
	letter, err := orders.PlanLetter(b.Ctx, b.App, order, store.OrderSending, 0)
	require.Equal(t, []string{"offer.pdf", "drawing.pdf", "data.pdf", "site-rules.pdf"}, proposed(t, letter, err))
	mail := orders.SendEntry{
		Order: order, Version: letter.Order.Version, Kind: store.OrderSending, Way: store.ByMail, To: "desk@brackwater.example",
		Subject: "Order", Text: "as agreed", Prices: true, Papers: []int64{drawing, rules},
	}
	require.NoError(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), mail)))
	_, sent, err := orders.SentMail(b.Ctx, b.App, order, 1)
	require.NoError(t, err)
	require.Equal(t, []string{"order-4001.pdf", "order-4001.xml", "drawing.pdf", "site-rules.pdf"}, carried(t, sent))

	next := b.Order("BRACK", "5")
	letter, err = orders.PlanLetter(b.Ctx, b.App, next, store.OrderSending, 0)
	require.Equal(t, []string{"drawing.pdf*", "data.pdf", "site-rules.pdf*"}, proposed(t, letter, err))
	out, err := orders.PlanFirst(b.Ctx, b.App, orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{
		{Item: "KRILL", Quantity: housetest.Dec("1"), Price: housetest.Dec("12"), TaxCategory: "S", TaxRate: housetest.Dec("23"), Budget: "FEED"},
	}}, true)
	require.Equal(t, []string{"drawing.pdf*", "data.pdf", "site-rules.pdf*"}, proposed(t, out.Letter, err))
	letter, err = orders.PlanLetter(b.Ctx, b.App, order, store.ReminderSending, 0)
	require.Empty(t, proposed(t, letter, err), "papers go with an order or a return")

	mail.Order, mail.Version, mail.Papers = next, letter.Order.Version, []int64{data}
	require.NoError(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), mail)))
	letter, err = orders.PlanLetter(b.Ctx, b.App, next, store.OrderSending, 0)
	require.Equal(t, []string{"drawing.pdf", "data.pdf*", "site-rules.pdf"}, proposed(t, letter, err), "the last choice counts")

	require.NoError(t, housetest.Drop(papers.TakeAway(b.Ctx, b.App, b.As("buyer"), data)))
	housetest.Refused(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), mail)), fault.Changed, "not kept any more")
	mail.Papers = []int64{rules, 999}
	housetest.Refused(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), mail)), fault.Changed, "not kept any more")
	b.Proved()
}

// An order that is issued and sent in one act takes its papers along; one that waited for approval goes without those that
// were taken away meanwhile.
func TestPapersGoWithTheFirstSending(t *testing.T) {
	b := housetest.SetUp(t)
	b.SendsMail()
	drawing, data := attached(b, store.OnItem, "KRILL", "drawing.pdf"), attached(b, store.OnItem, "KRILL", "data.pdf")
	entry := orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{
		{Item: "KRILL", Quantity: housetest.Dec("10"), Price: housetest.Dec("12"), TaxCategory: "S", TaxRate: housetest.Dec("23"), Budget: "FEED"},
	}}
	out, err := orders.PlanFirst(b.Ctx, b.App, entry, true)
	require.NoError(t, err)
	entry.Send = &orders.FirstSending{
		Number: out.Order.Number, Way: store.ByMail, To: "desk@brackwater.example", Subject: "Order", Text: "t", Papers: []int64{drawing, data},
	}
	require.NoError(t, housetest.Drop(papers.TakeAway(b.Ctx, b.App, b.As("buyer"), data)))
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	_, sent, err := orders.SentMail(b.Ctx, b.App, issued.Number, 1)
	require.NoError(t, err)
	require.Equal(t, []string{fmt.Sprintf("order-%d.pdf", issued.Number), "drawing.pdf"}, carried(t, sent))
	b.Proved()
}

// What is too much for a mail is refused before it is made.
func TestEnclosedPapersAreBounded(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	var all []int64
	for i := range 2 {
		kept, err := papers.Attach(b.Ctx, b.App, b.As("buyer"), papers.Entry{
			To:   papers.Place{Kind: store.OnOrder, Key: fmt.Sprint(order)},
			File: act.File{Name: "large.pdf", Content: append([]byte(fmt.Sprintf("%%PDF-1.4\n%d", i)), bytes.Repeat([]byte{'x'}, 8<<20)...)},
		})
		require.NoError(t, err)
		all = append(all, kept.Number)
	}
	letter, err := orders.PlanLetter(b.Ctx, b.App, order, store.OrderSending, 0)
	require.NoError(t, err)
	housetest.Refused(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), orders.SendEntry{
		Order: order, Version: letter.Order.Version, Kind: store.OrderSending, Way: store.ByMail, To: "desk@brackwater.example", Subject: "s", Papers: all,
	})), fault.Invalid, "15 MB")
}

// Our customer number and the supplier's standing text are on what it is sent; a return takes papers along as well.
func TestHowASupplierKnowsUsIsPrinted(t *testing.T) {
	b := housetest.SetUp(t)
	b.SendsMail()
	require.NoError(t, housetest.Drop(masters.SaveKnown(b.Ctx, b.App, b.As("buyer"), "BRACK", masters.Known{
		CustomerNumber: " C-10023 ", StandingText: "Gate 3 only.", OtherNames: []string{"Brackwater  Group", "", "brackwater group", "Brackwater Feeds"},
	})))
	supplier := b.Supplier("BRACK")
	require.Equal(t, "C-10023", supplier.CustomerNumber)
	require.Equal(t, []string{"Brackwater Group"}, supplier.OtherNames, "each once, and not its own")
	order := b.Order("BRACK", "10")
	xml, err := orders.XML(b.Ctx, b.App, order)
	require.NoError(t, err)
	require.Contains(t, string(xml), "<cbc:SupplierAssignedAccountID>C-10023</cbc:SupplierAssignedAccountID>")
	delivery := b.Deliver(order, "DN 1", "10")
	back := b.Returned(receive.ReturnEntry{Delivery: delivery.Number, Day: "2026-11-23", Reason: "warm", Outcome: receive.Credit, Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("2")}}})
	photo := attached(b, store.OnOrder, fmt.Sprint(order), "temperature.pdf")
	letter, err := orders.PlanLetter(b.Ctx, b.App, order, store.ReturnSending, back.Number)
	require.NoError(t, err)
	require.NoError(t, housetest.Drop(orders.Send(b.Ctx, b.App, b.As("buyer"), orders.SendEntry{
		Order: order, Version: letter.Order.Version, Kind: store.ReturnSending, Way: store.ByMail, To: "desk@brackwater.example",
		Subject: "s", Return: back.Number, Papers: []int64{photo},
	})))
	_, sent, err := orders.SentMail(b.Ctx, b.App, order, 1)
	require.NoError(t, err)
	require.Equal(t, []string{fmt.Sprintf("return-%d.pdf", back.Number), "temperature.pdf"}, carried(t, sent))

	known := func(login string, k masters.Known) error {
		return housetest.Drop(masters.SaveKnown(b.Ctx, b.App, b.As(login), "BRACK", k))
	}
	housetest.Refused(t, known("receiver", masters.Known{}), fault.Forbidden, "may not")
	housetest.Refused(t, known("buyer", masters.Known{OtherNames: []string{"Brack\u202ewater"}}), fault.Invalid, "cannot be seen")
	require.NoError(t, known("buyer", masters.Known{OtherNames: []string{"BRACKWATER GROUP"}}))
	require.Equal(t, []string{"BRACKWATER GROUP"}, b.Supplier("BRACK").OtherNames)
	require.Empty(t, b.Supplier("BRACK").CustomerNumber)
	b.Proved()
}
