package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/lists"
	"lagoon/internal/views"
)

// What a budget has in a year is written by an administrator, changed only with a reason; what is taken of it is of the year of
// the order, also when the invoice comes in the next, and of the invoice's own where there is no order.
func TestBudgetsOfAYear(t *testing.T) {
	b := housetest.SetUp(t)
	plan := func(e masters.PlanEntry) error {
		return housetest.Drop(masters.PlanBudget(b.Ctx, b.App, b.As("admin"), e))
	}
	for _, wrong := range []struct {
		e     masters.PlanEntry
		words string
	}{
		{masters.PlanEntry{Budget: "NONE", Year: "2026", Amount: "1"}, "no budget NONE"}, {masters.PlanEntry{Budget: "FEED", Year: "26", Amount: "1"}, "four figures"},
		{masters.PlanEntry{Budget: "FEED", Year: "2026", Amount: "-1"}, "Enter an amount"}, {masters.PlanEntry{Budget: "FEED", Year: "2026", Amount: "x"}, "Enter an amount"},
	} {
		require.ErrorContains(t, plan(wrong.e), wrong.words)
	}
	require.NoError(t, plan(masters.PlanEntry{Budget: "FEED", Year: "2026", Amount: "1000", Group: "Animals"}))
	require.ErrorContains(t, plan(masters.PlanEntry{Budget: "FEED", Year: "2026", Amount: "900"}), "Say why")
	require.NoError(t, plan(masters.PlanEntry{Budget: "FEED", Year: "2026", Amount: "900", Group: "Animals", Reason: "fewer seals"}))

	order := b.Order("BRACK", "50") // 600.00
	b.Deliver(order, "DN 1", "30")
	b.Key(b.Bill("BRACK", order, "A1", "20", "12"))
	b.Now = b.Now.AddDate(0, 2, 0)
	late := b.Bill("BRACK", order, "A2", "10", "12")
	late.Date = b.Today()
	b.Key(late)
	year := func(y string) map[string]views.BudgetYear {
		all, err := views.Budgets(b.Ctx, b.App, y)
		require.NoError(t, err)
		by := map[string]views.BudgetYear{}
		for _, x := range all.Budgets {
			by[x.Code] = x
		}
		return by
	}
	feed := year("2026")["FEED"]
	require.Equal(t, "Animals", feed.Group)
	require.Equal(t, "fewer seals", feed.Plan.Reason)
	require.Equal(t, trade.BudgetSum{Ordered: 60000, Received: 36000, Invoiced: 36000, Taken: 60000}, feed.BudgetSum)
	require.Equal(t, money.Amount(30000), feed.Left(feed.Plan.Amount))
	page, err := lists.Read(b.Ctx, b.App, b.Actors["reader"], lists.Named("budgets"), lists.Asked{Show: "at:2026-12-31;budget:FEED", Columns: "planned,taken,left,how"}, 0)
	require.NoError(t, err)
	require.Equal(t, []int64{900_00, 600_00, 300_00, 0}, []int64{page.Rows[0].Cells[0].N, page.Rows[0].Cells[1].N, page.Rows[0].Cells[2].N, page.Rows[0].Cells[3].N}, "the list says the same")
	next := year("2027")["FEED"]
	require.Nil(t, next.Plan)
	require.Zero(t, next.Taken)
	_, err = views.Budgets(b.Ctx, b.App, "next")
	housetest.Refused(t, err, fault.Invalid, "four figures")
	b.Proved()
}

// planned gives a budget an amount in this year.
func planned(b *housetest.Bench, budget string, amount money.Entered) {
	b.T.Helper()
	require.NoError(b.T, housetest.Drop(masters.PlanBudget(b.Ctx, b.App, b.As("admin"), masters.PlanEntry{
		Budget: budget, Year: b.Today().Year(), Amount: amount, Reason: "r",
	})))
}

// over sets what is done where more is taken than a budget has.
func over(b *housetest.Bench, rule trade.OverRule) {
	b.T.Helper()
	require.NoError(b.T, housetest.Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
		OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, OverBudget: rule})))
}

// krill is an order of some kilos at 12.00.
func krill(quantity string) orders.Entry {
	return orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{housetest.Krill(quantity, "12")}}
}

// Who orders more than a budget has is told so, with the figures, and where the company refuses it nothing is ordered before the
// budget is changed; a change counts only what it takes more.
func TestMoreThanABudgetHasIsToldOrRefused(t *testing.T) {
	b := housetest.SetUp(t)
	planned(b, "FEED", "1000")
	b.Order("BRACK", "50") // 600.00
	plan := func(entry orders.Entry, number int64) (orders.Planned, error) {
		return orders.Plan(b.Ctx, b.App, b.Actors["buyer"], number, entry)
	}
	within, err := plan(krill("33"), 0)
	require.NoError(t, err)
	require.Empty(t, within.Over)
	beyond, err := plan(krill("34"), 0)
	require.NoError(t, err)
	require.Len(t, beyond.Over, 1)
	require.Equal(t, trade.OverBudget{Budget: "FEED", Year: "2026", Planned: 1000_00, Taken: 600_00, More: 408_00}, beyond.Over[0].OverBudget)
	second := b.Order("BRACK", "34") // told is not refused
	change := krill("34")
	change.Lines[0].No, change.Lines[0].Price = 1, housetest.Dec("11.99")
	same, err := plan(change, second)
	require.NoError(t, err)
	require.Empty(t, same.Over, "it takes less than before")
	change.Lines[0].Price = housetest.Dec("12.01")
	more, err := plan(change, second)
	require.NoError(t, err)
	require.Equal(t, money.Amount(34), more.Over[0].More)
	require.Equal(t, money.Amount(1008_00), more.Over[0].Taken)

	over(b, trade.OverRefused)
	_, err = orders.Issue(b.Ctx, b.App, b.As("buyer"), krill("1"))
	housetest.Refused(t, err, fault.Refused, "Budget FEED has 1000.00 EUR in 2026, 1008.00 EUR of it are taken, and this takes 12.00 EUR: 20.00 EUR too much")
	entry := orders.ChangeEntry{Number: second, Reason: "r", Entry: change}
	_, err = orders.Change(b.Ctx, b.App, b.As("buyer"), entry)
	housetest.Refused(t, err, fault.Refused, "this takes 0.34 EUR")
	entry.Lines[0].Price = housetest.Dec("11")
	require.NoError(t, housetest.Drop(orders.Change(b.Ctx, b.App, b.As("buyer"), entry)), "what takes less is never refused")
	planned(b, "FEED", "1100")
	require.NoError(t, housetest.Drop(orders.Issue(b.Ctx, b.App, b.As("buyer"), krill("1"))))
	other := krill("1000")
	other.Lines[0].Budget = "SHOP"
	require.NoError(t, housetest.Drop(orders.Issue(b.Ctx, b.App, b.As("buyer"), other)), "nobody planned it, so it cannot be exceeded")
	b.Proved()
}

// An order that waits for its approver counts once it is approved: what others ordered meanwhile is counted first.
func TestABudgetIsLookedAtAgainWhenAnOrderIsApproved(t *testing.T) {
	b := housetest.SetUp(t)
	planned(b, "FEED", "1000")
	over(b, trade.OverRefused)
	buyer := housetest.With(b.Actors["reader"], "buyer")
	buyer.Authority = 0
	waiting, err := orders.Issue(b.Ctx, b.App, act.Command{Actor: buyer}, krill("40"))
	require.NoError(t, err)
	require.True(t, waiting.Waits)
	require.Zero(t, taken(b, "FEED").Taken)
	b.Order("BRACK", "50")
	sheet, err := views.Order(b.Ctx, b.App, waiting.Number, b.Actors["approver"])
	require.NoError(t, err)
	require.Len(t, sheet.Waits.Over, 1)
	_, err = orders.Approve(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: waiting.Number})
	housetest.Refused(t, err, fault.Refused, "80.00 EUR too much")
	planned(b, "FEED", "1200")
	require.NoError(t, housetest.Drop(orders.Approve(b.Ctx, b.App, b.As("approver"), orders.Decision{Order: waiting.Number})))
	require.Equal(t, money.Amount(1080_00), taken(b, "FEED").Taken)
	b.Proved()
}

// taken is what is taken of a budget this year.
func taken(b *housetest.Bench, budget string) trade.BudgetSum {
	b.T.Helper()
	all, err := views.Budgets(b.Ctx, b.App, b.Today().Year())
	require.NoError(b.T, err)
	for _, x := range all.Budgets {
		if x.Code == budget {
			return x.BudgetSum
		}
	}
	return trade.BudgetSum{}
}

// What is charged without an order is captured whatever it takes, since the invoice is there; it is told, and where the company
// refuses more than a budget has it is not approved before the budget is changed.
func TestWhatIsCodedBeyondABudgetIsNotApproved(t *testing.T) {
	b := housetest.SetUp(t)
	planned(b, "SHOP", "60")
	over(b, trade.OverRefused)
	e := b.Bill("BRACK", 0, "W-1", "1", "100")
	e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget = 0, 0, "SHOP 61, FEED 39"
	plan, err := invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], e, 0)
	require.NoError(t, err)
	require.Len(t, plan.Over, 1)
	number := b.Key(e).Number
	sheet, err := views.Invoice(b.Ctx, b.App, number, b.Actors["approver"])
	require.NoError(t, err)
	require.Equal(t, money.Amount(1_00), sheet.Coded.Over[0].By())
	approve := invoices.ApprovalEntry{Invoice: number}
	_, err = invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), approve)
	housetest.Refused(t, err, fault.Refused, "1.00 EUR too much")
	over(b, trade.OverTold)
	require.NoError(t, housetest.Drop(invoices.ApproveInvoice(b.Ctx, b.App, b.As("approver"), approve)))
	require.Equal(t, trade.BudgetSum{Invoiced: 61_00, WithoutOrder: 61_00, Taken: 61_00}, taken(b, "SHOP"))
	b.Proved()
}

// What is left of a year is given to the next, once, and nothing of what was taken moves; both years have as much together as before.
func TestWhatIsLeftIsCarriedOver(t *testing.T) {
	b := housetest.SetUp(t)
	planned(b, "FEED", "1000")
	planned(b, "SHOP", "50")
	b.Order("BRACK", "50")
	carry := func(e masters.CarryEntry) error {
		return housetest.Drop(masters.CarryBudgets(b.Ctx, b.App, b.As("admin"), e))
	}
	for _, wrong := range []struct {
		e     masters.CarryEntry
		words string
	}{
		{masters.CarryEntry{Year: "26", Budgets: []string{"FEED"}}, "four figures"}, {masters.CarryEntry{Year: "2026"}, "Choose the budgets"},
		{masters.CarryEntry{Year: "2025", Budgets: []string{"FEED"}}, "Nobody planned budget FEED"},
	} {
		require.ErrorContains(t, carry(wrong.e), wrong.words)
	}
	require.NoError(t, carry(masters.CarryEntry{Year: "2026", Budgets: []string{"FEED"}}))
	require.ErrorContains(t, carry(masters.CarryEntry{Year: "2026", Budgets: []string{"SHOP", "FEED"}}), "Nothing of budget FEED is left")
	year := func(y, budget string) views.BudgetYear {
		all, err := views.Budgets(b.Ctx, b.App, y)
		require.NoError(t, err)
		for _, x := range all.Budgets {
			if x.Code == budget {
				return x
			}
		}
		return views.BudgetYear{}
	}
	now, next := year("2026", "FEED"), year("2027", "FEED")
	require.Equal(t, []money.Amount{600_00, 0, 400_00, 600_00}, []money.Amount{now.Plan.Amount, now.Left(now.Plan.Amount), now.Onto, now.Taken})
	require.Equal(t, []money.Amount{400_00, 400_00, 0}, []money.Amount{next.Plan.Amount, next.CarriedIn, next.Taken})
	require.Equal(t, "carried over from 2026 to 2027", next.Plan.Reason)
	require.Equal(t, money.Amount(50_00), year("2026", "SHOP").Plan.Amount, "all of them or none")
	history, _, err := views.History(b.Ctx, b.App, b.Actors["admin"], "budget", "FEED")
	require.NoError(t, err)
	require.NotEmpty(t, history)
	b.Proved()
}

// A year's amount is parted over its months; what they come to and the year's amount must agree.
func TestABudgetIsPartedOverMonths(t *testing.T) {
	b := housetest.SetUp(t)
	e := masters.PlanEntry{Budget: "FEED", Year: "2026", Months: make([]money.Entered, 12)}
	e.Months[0], e.Months[10] = "100", "250.50"
	plan := func() error { return housetest.Drop(masters.PlanBudget(b.Ctx, b.App, b.As("admin"), e)) }
	e.Amount = "350"
	require.ErrorContains(t, plan(), "The months come to 350.50 EUR")
	e.Amount, e.Months = "", e.Months[:11]
	require.ErrorContains(t, plan(), "twelve months")
	e.Months = append(e.Months, "x")
	require.ErrorContains(t, plan(), "Enter an amount")
	e.Months[11] = ""
	require.NoError(t, plan())
	b.Order("BRACK", "10")
	m, err := views.MonthsOfBudget(b.Ctx, b.App, "FEED", "")
	require.NoError(t, err)
	require.Equal(t, &[12]money.Amount{0: 100_00, 10: 250_50}, m.Planned)
	require.Equal(t, money.Amount(120_00), m.Taken[10].Ordered)
	require.Zero(t, m.Taken[9].Ordered)
	require.Equal(t, []money.Amount{100_00, 100_00, 230_50, 230_50}, []money.Amount{m.Left(0), m.Left(9), m.Left(10), m.Left(11)})
	e.Months, e.Amount, e.Reason = nil, "400", "one sum"
	require.NoError(t, plan())
	m, err = views.MonthsOfBudget(b.Ctx, b.App, "FEED", "2026")
	require.NoError(t, err)
	require.Nil(t, m.Planned)
	_, err = views.MonthsOfBudget(b.Ctx, b.App, "NONE", "2026")
	housetest.Refused(t, err, fault.NotFound, "no budget NONE")
	b.Proved()
}
