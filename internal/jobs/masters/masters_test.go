package masters_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
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

// A supplier is made on the fly with the least, stays incomplete until finished, and says at each field what is missing.
func TestSuppliersAreMadeAndFinished(t *testing.T) {
	b := housetest.SetUp(t)
	least := masters.SupplierEntry{OnTheFly: true, Supplier: trade.Supplier{Name: "Fernhollow Print", Country: "ie", Currency: "EUR"}}
	made, err := masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), least)
	require.NoError(t, err)
	require.Equal(t, "FERNH", made.Code)
	made, err = masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), least)
	require.NoError(t, err)
	require.Equal(t, "FERNH2", made.Code)
	require.True(t, b.Supplier("FERNH").Incomplete)
	entry := masters.SupplierEntry{Supplier: b.Supplier("FERNH").Supplier}
	entry.IBAN, entry.BIC, entry.Budget, entry.PayToCode, entry.Terms.DiscountPercent = "GB82WEST12345698765433", "X", "NONE", "FERNH", housetest.Dec("100")
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), entry)
	var all fault.Faults
	require.ErrorAs(t, err, &all)
	require.ElementsMatch(t, []string{"iban", "bic", "accountReason", "discountPercent", "taxId", "addresses", "budget", "payTo"}, housetest.FieldsOf(all))
	entry = masters.SupplierEntry{
		Supplier: b.Supplier("FERNH").Supplier,
		Addresses: []store.Address{
			{Street: "Mill 1", City: "Fernhollow", Country: "IE"},
			{Street: "PO Box 2", City: "Fernhollow", Country: "IE", Purposes: []string{"payment"}},
		},
	}
	entry.Untaxed = true
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Changed, "changed meanwhile: supplier saved, by buyer")
	entry.Version++
	entry.Addresses = entry.Addresses[:1]
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), entry)))
	require.Len(t, b.Supplier("FERNH").Addresses, 1)
	require.False(t, b.Supplier("FERNH").Incomplete)
	entry.Version++
	entry.Currency = "USD"
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Invalid, "currency of a supplier stays")
	b.Proved()
}

// A changed bank account is not paid until another person confirms it (rules §10); a hold on a supplier says why, stands beside others and is
// felt by invoices at once.
func TestAccountsAndHolds(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	hold := func(hold trade.SupplierHold, lift bool, reason string) error {
		return housetest.Drop(masters.HoldSupplier(b.Ctx, b.App, b.As("treasurer"), masters.HoldEntry{Code: "BRACK", Hold: hold, Lift: lift, Reason: reason}))
	}
	housetest.Refused(t, hold(trade.InDispute, false, " "), fault.Invalid, "Say why")
	housetest.Refused(t, hold("late", false, "r"), fault.Invalid, "no hold on a supplier")
	housetest.Refused(t, hold(trade.InDispute, true, "r"), fault.Refused, "is not in dispute")
	require.NoError(t, hold(trade.NothingOrdered, false, "no more of theirs"))
	require.NoError(t, hold(trade.InDispute, false, "thawed goods"))
	require.NoError(t, hold(trade.PaymentHeld, false, "until it is settled"))
	housetest.Refused(t, hold(trade.InDispute, false, "r"), fault.Refused, "is in dispute already")
	require.Equal(t, trade.Holds{trade.PaymentHeld, trade.InDispute, trade.NothingOrdered}, b.Supplier("BRACK").Holds)
	answer, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Contains(t, answer.Left[0].Why, "is payment held and in dispute.")
	require.NoError(t, hold(trade.InDispute, true, "settled"))
	answer, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Contains(t, answer.Left[0].Why, "is payment held.")
	require.NoError(t, hold(trade.PaymentHeld, true, "settled"))
	_, err = payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(t, err)

	const other = "GB33BUKB20201555555555" // the example of a bank's own pages, from memory
	entry := masters.SupplierEntry{
		Supplier:      b.Supplier("BRACK").Supplier,
		AccountReason: "their letter, called back",
		Addresses:     []store.Address{{Street: "Quay", City: "Skerry", Country: "IE"}},
	}
	entry.IBAN, entry.Country = other, "IE"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("admin"), entry)))
	proposal, err := payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
	require.NoError(t, err)
	require.Empty(t, proposal.Payments)
	require.Equal(t, "new_account", string(proposal.LeftOut[0].Reason))
	_, err = payments.MakeRun(
		b.Ctx,
		b.App,
		b.As("clerk"),
		payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill.Number}}},
	)
	require.Error(t, err, "nor is it paid by choosing it")
	_, err = b.Confirm(b.As("admin"), "BRACK", other)
	housetest.Refused(t, err, fault.Forbidden, "somebody else confirms it")
	_, err = b.Confirm(b.As("treasurer"), "BRACK", housetest.TestIBAN)
	housetest.Refused(t, err, fault.Changed, "changed again meanwhile")
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", other)))
	proposal, err = payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
	require.NoError(t, err)
	require.Len(t, proposal.Payments, 1)
	require.Len(t, b.Supplier("BRACK").Decisions, 7)
	b.Proved()
}

// A supplier that is paid through another is paid to the other's account.
func TestPaidThroughAnother(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveSupplier(
				b.Ctx,
				b.App,
				b.As("buyer"),
				masters.SupplierEntry{
					OnTheFly:  true,
					PayToCode: "BRACK",
					Supplier:  trade.Supplier{Code: "SMALL", Name: "Small", Country: "IE", Currency: "EUR"},
				},
			),
		),
	)
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "SMALL", "")))
	order := b.Order("SMALL", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("SMALL", order, "A-1", "10", "12"))
	require.NoError(t, housetest.Drop(payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})))
	proposal, err := payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
	require.NoError(t, err)
	require.Equal(t, housetest.TestIBAN, proposal.Payments[0].Supplier.IBAN)
	b.Proved()
}

// Notes are shown where and while they are to be, urgent ones first; contacts serve several suppliers.
func TestNotesAndContacts(t *testing.T) {
	b := housetest.SetUp(t)
	for _, n := range []store.SupplierNote{{Kind: "general", Text: "plain", Stages: []string{"orders"}}, {Kind: "quality", Text: "urgent", Urgent: true, Stages: []string{"orders", "receiving"}},
		{Kind: "price", Text: "past", Until: "2026-11-22", Stages: []string{"orders"}}, {Kind: "price", Text: "later", From: "2026-11-24", Stages: []string{"orders"}}} {
		require.NoError(t, housetest.Drop(masters.SaveNote(b.Ctx, b.App, b.As("clerk"), "BRACK", n)))
	}
	notes, err := masters.NotesFor(b.Ctx, b.App, "BRACK", "orders")
	require.NoError(t, err)
	require.Equal(t, []string{"urgent", "plain"}, []string{notes[0].Text, notes[1].Text})
	require.Len(t, notes, 2)
	for _, bad := range []store.SupplierNote{{}, {Kind: "general", Text: "x", Stages: []string{"moon"}}, {Kind: "general", Text: "x", Stages: []string{"orders"}, From: "2026-02-02", Until: "2026-02-01"}, {No: 9, Kind: "general", Text: "x", Stages: []string{"orders"}}} {
		require.Error(t, housetest.Drop(masters.SaveNote(b.Ctx, b.App, b.As("clerk"), "BRACK", bad)))
	}
	saved, err := masters.SaveContact(b.Ctx, b.App, b.As("buyer"), "BRACK", store.Contact{Name: "Ines Quill", Phone: "1"})
	require.NoError(t, err)
	require.Equal(t, "1", saved.Code)
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveContact(b.Ctx, b.App, b.As("buyer"), "TIDEW", store.Contact{Number: 1, Name: "Ines Quill", Phone: "1", Purposes: []string{"ordering"}}),
		),
	)
	require.Equal(t, b.Supplier("BRACK").Contacts[0].Name, b.Supplier("TIDEW").Contacts[0].Name)
	_, err = masters.SaveContact(b.Ctx, b.App, b.As("buyer"), "BRACK", store.Contact{Name: "x", Mail: "y"})
	housetest.Refused(t, err, fault.Invalid, "no mail address")
	b.Proved()
}

// A limit that is changed wakes what it holds, and one that is taken out is not set any more.
func TestLimitsWake(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "10", "12.6")) // 5 % dearer
	require.Equal(t, trade.Held, bill.State)
	five := housetest.Dec("5")
	set := masters.LimitsEntry{Item: "KRILL", Limits: limit.Entries{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &five}}, Reason: "the catch is small"}
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("admin"), set)))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(bill.Number).State)
	set.Limits = nil
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("admin"), set)))
	sheet, err := masters.ReadItem(b.Ctx, b.App, "KRILL")
	require.NoError(t, err)
	require.Empty(t, sheet.Limits)
	_, err = masters.SaveItem(b.Ctx, b.App, b.As("buyer"), masters.ItemEntry{Item: store.Item{Code: "KRILL", Name: "Krill", Unit: "XCT", Version: 3}})
	housetest.Refused(t, err, fault.Invalid, "unit of an item stays")
	b.Proved()
}

// What differs for an item at one supplier is kept there, decides before the item's own, and ends with the seller.
func TestAnItemAtItsSuppliers(t *testing.T) {
	b := housetest.SetUp(t)
	two, five := housetest.Dec("2"), housetest.Dec("5")
	entry := masters.ItemEntry{
		Item:    store.Item{Code: "KRILL", Name: "Krill", Unit: "KGM", Version: 1},
		Sellers: []masters.SellerEntry{{Selling: store.Selling{Supplier: "BRACK", Code: " BF-KR "}}, {Selling: store.Selling{Supplier: "NOBODY"}}},
	}
	_, err := masters.SaveItem(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Invalid, "There is no supplier NOBODY.")
	entry.Sellers = entry.Sellers[:1]
	entry.Limits = limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: &five}}
	_, err = masters.SaveItem(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Forbidden, "changed by themselves")
	entry.Limits = nil
	require.NoError(t, housetest.Drop(masters.SaveItem(b.Ctx, b.App, b.As("buyer"), entry)))
	below := housetest.Dec("-1")
	set := masters.LimitsEntry{
		Supplier: "BRACK",
		Item:     "KRILL",
		Limits:   limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: &below}},
		Reason:   "weighed twice",
	}
	_, err = masters.SetLimits(b.Ctx, b.App, b.As("buyer"), set)
	var f *fault.Fault
	require.ErrorAs(t, err, &f)
	require.Equal(t, "limits[0]", f.Field)
	set.Limits[0].Percent = &two
	require.NoError(t, housetest.Drop(masters.SetLimits(b.Ctx, b.App, b.As("buyer"), set)))
	require.NoError(
		t,
		housetest.Drop(
			masters.SetLimits(
				b.Ctx,
				b.App,
				b.As("buyer"),
				masters.LimitsEntry{Item: "KRILL", Limits: limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: &five}}, Reason: "loose goods"},
			),
		),
	)
	sheet, err := masters.ReadItem(b.Ctx, b.App, "KRILL")
	require.NoError(t, err)
	require.Equal(t, "BF-KR", sheet.Sellers[0].Code)
	found := func(words string) []store.Found {
		list, err := views.Find(b.Ctx, b.App, b.Actors["clerk"], words)
		require.NoError(t, err)
		return list
	}
	require.Equal(t, []store.Found{{Kind: "item", Number: "KRILL", Label: "Krill"}}, found("bf-kr"), "by the supplier's own code")
	require.Equal(t, housetest.Dec("2"), *sheet.Sellers[0].Limits[0].Percent)
	require.Equal(t, housetest.Dec("5"), *sheet.Limits[0].Percent)

	order := b.Order("BRACK", "100")
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "103"))
	require.Error(t, err, "past the 2 % at this supplier, inside the 5 % of the item")
	b.Deliver(order, "DN 1", "102")

	entry.Version, entry.Sellers, entry.Name = sheet.Version, []masters.SellerEntry{}, "Antarctic krill"
	require.NoError(t, housetest.Drop(masters.SaveItem(b.Ctx, b.App, b.As("buyer"), entry)))
	sheet, err = masters.ReadItem(b.Ctx, b.App, "KRILL")
	require.NoError(t, err)
	require.Empty(t, sheet.Sellers)
	require.Empty(t, found("bf-kr"))
	require.Contains(t, found("antarctic"), store.Found{Kind: "item", Number: "KRILL", Label: "Antarctic krill"})
	other := b.Order("BRACK", "100")
	b.Deliver(other, "DN 2", "105")
	b.Proved()
}

// How a supplier delivers is computed from what happened.
func TestPerformance(t *testing.T) {
	b := housetest.SetUp(t)
	full, short, late, dear := b.Order("BRACK", "10"), b.Order("BRACK", "10"), b.Order("BRACK", "10"), b.Order("BRACK", "10")
	b.Deliver(full, "DN 1", "10")
	b.Deliver(short, "DN 2", "6")
	returned := b.Deliver(dear, "DN 3", "9.5")
	b.Returned(housetest.Back(returned.Number, "credit", "1"))
	b.Key(b.Bill("BRACK", full, "A-1", "10", "12"))
	b.Key(b.Bill("BRACK", dear, "B-22", "8.5", "12.1"))
	b.Later(8)
	e := housetest.Count(late, "DN 4", "10")
	e.Day = b.Today()
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), e)))
	p, err := masters.Performance(b.Ctx, b.App, "BRACK", "2026-11-01", "2026-12-31")
	require.NoError(t, err)
	require.Equal(
		t,
		trade.Performance{
			trade.OnTime:     {Good: 2, Of: 4, Lines: 4},
			trade.InFull:     {Good: 3, Of: 4, Lines: 4},
			trade.Quantity:   {Good: 3_550_000, Of: 4_000_000, Lines: 4}, // 10, 6, 9.5 and 10 of 10
			trade.OrderPrice: {Good: 2, Of: 2, Lines: 2},                 // what is dearer is within its limit
			trade.Returned:   {Good: 12_00, Of: 426_00, Lines: 4},
		},
		p.Performance,
	)
	require.Equal(t, "50", p.Performance[trade.OnTime].Percent().String())
	require.Len(t, p.Lines, 4)
	for _, l := range p.Lines {
		require.Len(t, l.Arrivals, 1, "the delivery behind the figures")
	}
	require.True(t, p.Known)
	require.Equal(t, "82.19", p.Score.String(), "(50 + 75 + 88.75 + 100 + 97.18) ÷ 5")
	k, err := masters.Rank(b.Ctx, b.App, "2026-11-01", "2026-12-31")
	require.NoError(t, err)
	require.Len(t, k.Suppliers, 1)
	require.Equal(t, []any{"BRACK", 4, p.Score, p.Performance}, []any{k.Suppliers[0].Code, k.Suppliers[0].Lines, k.Suppliers[0].Score, k.Suppliers[0].Performance})
	_, err = masters.SaveWeights(b.Ctx, b.App, b.As("buyer"), trade.Weights{trade.OnTime: 1})
	housetest.Refused(t, err, fault.Forbidden, "administrator")
	for _, wrong := range []trade.Weights{{}, {trade.OnTime: -1, trade.InFull: 2}, {trade.OnTime: 101}} {
		_, err = masters.SaveWeights(b.Ctx, b.App, b.As("admin"), wrong)
		require.Error(t, err)
	}
	require.NoError(t, housetest.Drop(masters.SaveWeights(b.Ctx, b.App, b.As("admin"), trade.Weights{trade.OnTime: 3, trade.InFull: 1})))
	k, err = masters.Rank(b.Ctx, b.App, "", "2026-12-31")
	require.NoError(t, err)
	require.Equal(t, "56.25", k.Suppliers[0].Score.String(), "(3 × 50 + 75) ÷ 4")
	_, err = masters.Rank(b.Ctx, b.App, "x", "")
	housetest.Refused(t, err, fault.Invalid, "is no day")
	p, err = masters.Performance(b.Ctx, b.App, "BRACK", "2026-01-01", "2026-02-01")
	require.NoError(t, err)
	require.Empty(t, p.Performance)
	b.Proved()
}

func TestTheFrameOfTheCompany(t *testing.T) {
	b := housetest.SetUp(t)
	for _, bad := range []store.Budget{{}, {Code: "FEED", Name: "Feed", Account: trade.ExpenseAccount}} {
		require.Error(t, housetest.Drop(masters.SaveBudget(b.Ctx, b.App, b.As("admin"), bad)))
	}
	for _, bad := range []store.ExchangeRate{{}, {Currency: "EUR", Day: "2026-01-01", Rate: housetest.Dec("1")}, {Currency: "USD", Day: "soon", Rate: housetest.Dec("1")}} {
		require.Error(t, housetest.Drop(masters.SetRate(b.Ctx, b.App, b.As("admin"), bad)))
	}
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveBudgetLine(
				b.Ctx,
				b.App,
				b.As("buyer"),
				store.BudgetLine{
					Budget:   "FEED",
					Supplier: "BRACK",
					Item:     "KRILL",
					Quantity: housetest.Dec("100"),
					Price:    housetest.Dec("12"),
					WantedOn: "2026-12-10",
				},
			),
		),
	)
	line := housetest.Krill("40", "12")
	line.BudgetLine = 1
	require.NoError(
		t,
		housetest.Drop(orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{line}})),
	)
	lines, err := masters.BudgetLines(b.Ctx, b.App)
	require.NoError(t, err)
	require.Equal(t, []money.Decimal{housetest.Dec("100"), housetest.Dec("40")}, []money.Decimal{lines.Rows[0].Quantity, lines.Rows[0].Ordered})
	require.Error(t, housetest.Drop(masters.SaveBudgetLine(b.Ctx, b.App, b.As("buyer"), store.BudgetLine{Budget: "NONE"})))
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-10"))
	frame, err := masters.ReadFrame(b.Ctx, b.App)
	require.NoError(t, err)
	require.Equal(t, "2026-11", frame.Open)
	require.Len(t, frame.Rates, 1)
	b.Proved()
}

// A closed month is opened again with a reason and by a second person, the last one first; what was booked meanwhile stays
// where it was posted, and the month is closed again.
func TestAClosedMonthIsOpenedBySomebodyElse(t *testing.T) {
	b := housetest.SetUp(t)
	for _, month := range []string{"2026-09", "2026-10"} {
		require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), month))
	}
	ask := func(who, month, reason string) error {
		return masters.AskPeriod(b.Ctx, b.App, b.As(who), masters.Opening{Month: month, Reason: reason})
	}
	open := func(who, month string) error {
		return masters.OpenPeriod(b.Ctx, b.App, b.As(who), masters.Opening{Month: month})
	}
	closed := func() []string {
		f, err := masters.ReadFrame(b.Ctx, b.App)
		require.NoError(t, err)
		return f.Closed
	}
	housetest.Refused(t, ask("clerk", "2026-10", "r"), fault.Forbidden, "")
	housetest.Refused(t, ask("admin", "2026-11", "r"), fault.Refused, "is not closed")
	housetest.Refused(t, ask("admin", "2026-09", "r"), fault.Refused, "2026-10 is closed after it")
	housetest.Refused(t, ask("admin", "2026-10", " "), fault.Invalid, "Say why")
	housetest.Refused(t, open("treasurer", "2026-10"), fault.Refused, "Nobody asks")
	require.NoError(t, ask("admin", "2026-10", "an invoice came late"))
	housetest.Refused(t, open("admin", "2026-10"), fault.Forbidden, "You asked for it")
	require.Equal(t, []string{"2026-10", "2026-09"}, closed(), "it stays closed meanwhile")
	require.NoError(t, open("treasurer", "2026-10"))
	require.Equal(t, []string{"2026-09"}, closed())
	housetest.Refused(t, open("treasurer", "2026-10"), fault.Refused, "Nobody asks")
	b.Proved()
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-10"))
	require.Equal(t, []string{"2026-10", "2026-09"}, closed())
	require.NoError(t, ask("treasurer", "2026-10", "once more"))
	require.NoError(t, masters.KeepPeriod(b.Ctx, b.App, b.As("admin"), masters.Opening{Month: "2026-10"}))
	housetest.Refused(t, open("admin", "2026-10"), fault.Refused, "Nobody asks")
	f, err := masters.ReadFrame(b.Ctx, b.App)
	require.NoError(t, err)
	require.Nil(t, f.Asked)
	require.Len(t, f.Changes, 5)
	b.Proved()
}

// What hangs in a month is told before it is closed: an invoice that is not verified, and what is here and not invoiced.
func TestWhatHangsInAMonth(t *testing.T) {
	b := housetest.SetUp(t)
	hanging := func() masters.Hanging {
		t.Helper()
		h, err := masters.ReadHanging(b.Ctx, b.App, b.Today().Month())
		require.NoError(t, err)
		return h
	}
	require.Empty(t, hanging().Invoices)
	require.Empty(t, hanging().Receipts)
	held := b.Held(b.As("clerk"), 1)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 77", "4")
	h := hanging()
	require.Len(t, h.Invoices, 1)
	require.Equal(t, held.Number, h.Invoices[0].Number)
	names := []string{}
	for _, r := range h.Receipts {
		names = append(names, r.Name)
	}
	require.Contains(t, names, fmt.Sprintf("%d/1", order))
	_, err := masters.ReadHanging(b.Ctx, b.App, "soon")
	housetest.Refused(t, err, fault.Invalid, "A period is a month")
}

// An order that still waits for its approver is nothing that its supplier could have delivered.
func TestWhatWaitsForAnApproverIsNotLate(t *testing.T) {
	b := housetest.SetUp(t)
	buyer := housetest.With(b.Actors["reader"], "buyer")
	buyer.Authority = 0
	issued, err := orders.Issue(b.Ctx, b.App, act.Command{Actor: buyer}, orders.Entry{
		Supplier: "BRACK", WantedOn: b.Today(), Lines: []orders.EntryLine{housetest.Krill("1", "5")},
	})
	require.NoError(t, err)
	require.True(t, issued.Waits)
	b.Later(3)
	p, err := masters.Performance(b.Ctx, b.App, "BRACK", "2026-11-01", "2026-12-31")
	require.NoError(t, err)
	require.Empty(t, p.Lines)
}
