package jobs

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/tabular"
	"lagoon/internal/store"
)

func (b *bench) supplier(code string) SupplierSheet {
	b.t.Helper()
	s, err := b.app.SupplierSheet(b.ctx, code)
	require.NoError(b.t, err)
	return s
}

// A supplier is made on the fly with the least, stays incomplete until finished, and says at each field what is missing.
func TestSuppliersAreMadeAndFinished(t *testing.T) {
	b := setUp(t)
	least := SupplierEntry{OnTheFly: true, Supplier: trade.Supplier{Name: "Fernhollow Print", Country: "ie", Currency: "EUR"}}
	made, err := b.app.SaveSupplier(b.ctx, b.as("clerk"), least)
	require.NoError(t, err)
	require.Equal(t, "FERNH", made.Code)
	made, err = b.app.SaveSupplier(b.ctx, b.as("clerk"), least)
	require.NoError(t, err)
	require.Equal(t, "FERNH2", made.Code)
	require.True(t, b.supplier("FERNH").Incomplete)
	entry := SupplierEntry{Supplier: b.supplier("FERNH").Supplier}
	entry.IBAN, entry.BIC, entry.Budget, entry.PayToCode, entry.Terms.DiscountPercent = "GB82WEST12345698765433", "X", "NONE", "FERNH", dec("100")
	_, err = b.app.SaveSupplier(b.ctx, b.as("buyer"), entry)
	var all fault.Faults
	require.ErrorAs(t, err, &all)
	require.ElementsMatch(t, []string{"iban", "bic", "accountReason", "discountPercent", "taxId", "addresses", "budget", "payTo"}, fieldsOf(all))
	entry = SupplierEntry{Supplier: b.supplier("FERNH").Supplier, Addresses: []store.Address{{Street: "Mill 1", City: "Fernhollow", Country: "IE"}, {Street: "PO Box 2", City: "Fernhollow", Country: "IE", Purposes: []string{"payment"}}}}
	entry.Untaxed = true
	_, err = b.app.SaveSupplier(b.ctx, b.as("buyer"), entry)
	require.NoError(t, err)
	_, err = b.app.SaveSupplier(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Changed, "changed meanwhile: supplier saved, by buyer")
	entry.Version++
	entry.Addresses = entry.Addresses[:1]
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), entry)))
	require.Len(t, b.supplier("FERNH").Addresses, 1)
	require.False(t, b.supplier("FERNH").Incomplete)
	entry.Version++
	entry.Currency = "USD"
	_, err = b.app.SaveSupplier(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Invalid, "currency of a supplier stays")
	b.proved()
}

// A changed bank account is not paid until another person confirms it (rules §10); a change of status says why and is
// felt by invoices at once.
func TestAccountsAndStatus(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
	_, err := b.app.ChangeStatus(b.ctx, b.as("treasurer"), "BRACK", trade.Disputed, " ")
	refused(t, err, fault.Invalid, "Say why")
	require.NoError(t, drop(b.app.ChangeStatus(b.ctx, b.as("treasurer"), "BRACK", trade.Disputed, "thawed goods")))
	answer, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
	require.NoError(t, err)
	require.Contains(t, answer.Left[0].Why, "is disputed")
	require.NoError(t, drop(b.app.ChangeStatus(b.ctx, b.as("treasurer"), "BRACK", trade.Open, "settled")))
	_, err = b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
	require.NoError(t, err)

	const other = "GB33BUKB20201555555555" // the example of a bank's own pages, from memory
	entry := SupplierEntry{Supplier: b.supplier("BRACK").Supplier, AccountReason: "their letter, called back", Addresses: []store.Address{{Street: "Quay", City: "Skerry", Country: "IE"}}}
	entry.IBAN, entry.Country = other, "IE"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("admin"), entry)))
	proposal, err := b.app.Propose(b.ctx, b.today().Add(60), b.today())
	require.NoError(t, err)
	require.Empty(t, proposal.Payments)
	require.Equal(t, "new_account", string(proposal.LeftOut[0].Reason))
	_, err = b.app.MakeRun(b.ctx, b.as("clerk"), RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: bill.Number}}})
	require.Error(t, err, "nor is it paid by choosing it")
	_, err = b.confirm(b.as("admin"), "BRACK", other)
	refused(t, err, fault.Forbidden, "somebody else confirms it")
	_, err = b.confirm(b.as("treasurer"), "BRACK", testIBAN)
	refused(t, err, fault.Changed, "changed again meanwhile")
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", other)))
	proposal, err = b.app.Propose(b.ctx, b.today().Add(60), b.today())
	require.NoError(t, err)
	require.Len(t, proposal.Payments, 1)
	require.Len(t, b.supplier("BRACK").Decisions, 4)
	b.proved()
}

// A supplier that is paid through another is paid to the other's account.
func TestPaidThroughAnother(t *testing.T) {
	b := setUp(t)
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), SupplierEntry{OnTheFly: true, PayToCode: "BRACK", Supplier: trade.Supplier{Code: "SMALL", Name: "Small", Country: "IE", Currency: "EUR"}})))
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "SMALL", "")))
	order := b.order("SMALL", "10")
	b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("SMALL", order, "A-1", "10", "12"))
	require.NoError(t, drop(b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})))
	proposal, err := b.app.Propose(b.ctx, b.today().Add(60), b.today())
	require.NoError(t, err)
	require.Equal(t, testIBAN, proposal.Payments[0].Supplier.IBAN)
	b.proved()
}

// Notes are shown where and while they are to be, urgent ones first; contacts serve several suppliers.
func TestNotesAndContacts(t *testing.T) {
	b := setUp(t)
	for _, n := range []store.SupplierNote{{Kind: "general", Text: "plain", Stages: []string{"orders"}}, {Kind: "quality", Text: "urgent", Urgent: true, Stages: []string{"orders", "receiving"}},
		{Kind: "price", Text: "past", Until: "2026-11-22", Stages: []string{"orders"}}, {Kind: "price", Text: "later", From: "2026-11-24", Stages: []string{"orders"}}} {
		require.NoError(t, drop(b.app.SaveNote(b.ctx, b.as("clerk"), "BRACK", n)))
	}
	notes, err := b.app.NotesFor(b.ctx, "BRACK", "orders")
	require.NoError(t, err)
	require.Equal(t, []string{"urgent", "plain"}, []string{notes[0].Text, notes[1].Text})
	require.Len(t, notes, 2)
	for _, bad := range []store.SupplierNote{{}, {Kind: "general", Text: "x", Stages: []string{"moon"}}, {Kind: "general", Text: "x", Stages: []string{"orders"}, From: "2026-02-02", Until: "2026-02-01"}, {No: 9, Kind: "general", Text: "x", Stages: []string{"orders"}}} {
		require.Error(t, drop(b.app.SaveNote(b.ctx, b.as("clerk"), "BRACK", bad)))
	}
	saved, err := b.app.SaveContact(b.ctx, b.as("buyer"), "BRACK", store.Contact{Name: "Ines Quill", Phone: "1"})
	require.NoError(t, err)
	require.Equal(t, "1", saved.Code)
	require.NoError(t, drop(b.app.SaveContact(b.ctx, b.as("buyer"), "TIDEW", store.Contact{Number: 1, Name: "Ines Quill", Phone: "1", Purposes: []string{"ordering"}})))
	require.Equal(t, b.supplier("BRACK").Contacts[0].Name, b.supplier("TIDEW").Contacts[0].Name)
	_, err = b.app.SaveContact(b.ctx, b.as("buyer"), "BRACK", store.Contact{Name: "x", Mail: "y"})
	refused(t, err, fault.Invalid, "no mail address")
	b.proved()
}

// A limit that is changed wakes what it holds, and one that is taken out is not set any more.
func TestLimitsWake(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("BRACK", order, "A-1", "10", "12.6")) // 5 % dearer
	require.Equal(t, trade.Held, bill.State)
	five := dec("5")
	set := LimitsEntry{Item: "KRILL", Limits: limit.Book{{Kind: limit.UnitPrice, Side: limit.Over, Percent: &five}}, Reason: "the catch is small"}
	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("admin"), set)))
	require.NoError(t, b.app.Drain(b.ctx))
	require.Equal(t, trade.Verified, b.state(bill.Number).State)
	set.Limits = nil
	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("admin"), set)))
	sheet, err := b.app.ItemSheet(b.ctx, "KRILL")
	require.NoError(t, err)
	require.Empty(t, sheet.Limits)
	_, err = b.app.SaveItem(b.ctx, b.as("buyer"), ItemEntry{Item: store.Item{Code: "KRILL", Name: "Krill", Unit: "XCT", Version: 3}})
	refused(t, err, fault.Invalid, "unit of an item stays")
	b.proved()
}

// What differs for an item at one supplier is kept there, decides before the item's own, and ends with the seller.
func TestAnItemAtItsSuppliers(t *testing.T) {
	b := setUp(t)
	two, five := dec("2"), dec("5")
	entry := ItemEntry{Item: store.Item{Code: "KRILL", Name: "Krill", Unit: "KGM", Version: 1}, Sellers: []SellerEntry{{Selling: store.Selling{Supplier: "BRACK", Code: " BF-KR "}}, {Selling: store.Selling{Supplier: "NOBODY"}}}}
	_, err := b.app.SaveItem(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Invalid, "There is no supplier NOBODY.")
	entry.Sellers = entry.Sellers[:1]
	entry.Limits = limit.Book{{Kind: limit.Delivery, Side: limit.Over, Percent: &five}}
	_, err = b.app.SaveItem(b.ctx, b.as("buyer"), entry)
	refused(t, err, fault.Forbidden, "changed by themselves")
	entry.Limits = nil
	require.NoError(t, drop(b.app.SaveItem(b.ctx, b.as("buyer"), entry)))
	below := dec("-1")
	set := LimitsEntry{Supplier: "BRACK", Item: "KRILL", Limits: limit.Book{{Kind: limit.Delivery, Side: limit.Over, Percent: &below}}, Reason: "weighed twice"}
	_, err = b.app.SetLimits(b.ctx, b.as("buyer"), set)
	var f *fault.Fault
	require.ErrorAs(t, err, &f)
	require.Equal(t, "limits[0]", f.Field)
	set.Limits[0].Percent = &two
	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("buyer"), set)))
	require.NoError(t, drop(b.app.SetLimits(b.ctx, b.as("buyer"), LimitsEntry{Item: "KRILL", Limits: limit.Book{{Kind: limit.Delivery, Side: limit.Over, Percent: &five}}, Reason: "loose goods"})))
	sheet, err := b.app.ItemSheet(b.ctx, "KRILL")
	require.NoError(t, err)
	require.Equal(t, "BF-KR", sheet.Sellers[0].Code)
	found := func(words string) []store.Found {
		list, err := b.app.Find(b.ctx, words)
		require.NoError(t, err)
		return list
	}
	require.Equal(t, []store.Found{{Kind: "item", Number: "KRILL", Label: "Krill"}}, found("bf-kr"), "by the supplier's own code")
	require.Equal(t, dec("2"), *sheet.Sellers[0].Limits[0].Percent)
	require.Equal(t, dec("5"), *sheet.Limits[0].Percent)

	order := b.order("BRACK", "100")
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "103"))
	require.Error(t, err, "past the 2 % at this supplier, inside the 5 % of the item")
	b.deliver(order, "DN 1", "102")

	entry.Version, entry.Sellers, entry.Name = sheet.Version, []SellerEntry{}, "Antarctic krill"
	require.NoError(t, drop(b.app.SaveItem(b.ctx, b.as("buyer"), entry)))
	sheet, err = b.app.ItemSheet(b.ctx, "KRILL")
	require.NoError(t, err)
	require.Empty(t, sheet.Sellers)
	require.Empty(t, found("bf-kr"))
	require.Contains(t, found("antarctic"), store.Found{Kind: "item", Number: "KRILL", Label: "Antarctic krill"})
	other := b.order("BRACK", "100")
	b.deliver(other, "DN 2", "105")
	b.proved()
}

// An import says how far it is to whoever listens, trial and import each.
func TestAnImportSaysHowFarItIs(t *testing.T) {
	b := setUp(t)
	listener := b.app.Listen()
	defer listener.Close()
	rows := "code,name,unit\n"
	for n := range 60 {
		rows += fmt.Sprintf("ITEM%d,Item %d,KGM\n", n, n)
	}
	for _, trial := range []bool{true, false} {
		answer, err := b.app.ImportTable(b.ctx, b.as("admin"), ItemTable, File{"items.csv", []byte(rows)}, trial)
		require.NoError(t, err)
		require.Len(t, answer.Rows, 60)
		var steps []string
		others := 0
		for _, change := range listener.Take() {
			if change.What == "import" {
				steps = append(steps, change.Number)
			} else {
				others++
			}
		}
		want := []string{"50 of 60", "60 of 60"}
		if !trial {
			want = append(want, want...)
		}
		require.Equal(t, want, steps)
		require.Equal(t, !trial, others > 0, "only what was imported is told as changed")
	}
	b.proved()
}

// How a supplier delivers is computed from what happened.
func TestPerformance(t *testing.T) {
	b := setUp(t)
	full, short, late, dear := b.order("BRACK", "10"), b.order("BRACK", "10"), b.order("BRACK", "10"), b.order("BRACK", "10")
	b.deliver(full, "DN 1", "10")
	b.deliver(short, "DN 2", "6")
	returned := b.deliver(dear, "DN 3", "9.5")
	b.returned(back(returned.Number, "credit", "1"))
	b.key(b.bill("BRACK", full, "A-1", "10", "12"))
	b.key(b.bill("BRACK", dear, "B-22", "8.5", "12.1"))
	b.later(8)
	e := count(late, "DN 4", "10")
	e.Day = b.today()
	require.NoError(t, drop(b.app.BookDelivery(b.ctx, b.as("receiver"), e)))
	p, err := b.app.Performance(b.ctx, "BRACK", "2026-11-01", "2026-12-31")
	require.NoError(t, err)
	require.Equal(t, trade.Performance{trade.OnTime: {Good: 2, Of: 4}, trade.InFull: {Good: 3, Of: 4}, trade.ExactQuantity: {Good: 2, Of: 4}, trade.OrderPrice: {Good: 1, Of: 2}, trade.Returned: {Good: 1, Of: 4}}, p.Performance)
	require.Equal(t, "50", p.Performance[trade.OnTime].Percent().String())
	require.Len(t, p.Lines, 4)
	for _, l := range p.Lines {
		require.Len(t, l.Deliveries, 1, "the delivery behind the figures")
	}
	p, err = b.app.Performance(b.ctx, "BRACK", "2026-01-01", "2026-02-01")
	require.NoError(t, err)
	require.Empty(t, p.Performance)
	b.proved()
}

// A trial says row by row what would happen and changes nothing; an import does all of it or nothing.
func TestTables(t *testing.T) {
	b := setUp(t)
	suppliers := "code;name;country;currency;tax_id;street;city;net_days\nBRACK;Brackwater Feeds;IE;EUR;IE1;Quay 4;Skerry;30\nNEWCO;New Co;IE;EUR;;;;14\n"
	bad := suppliers + "WRONG;;Ireland;XXX;;;;soon\n"
	answer, err := b.app.ImportTable(b.ctx, b.as("admin"), SupplierTable, File{"s.csv", []byte(bad)}, true)
	require.NoError(t, err)
	require.Equal(t, []string{"changed", "new", "wrong"}, []string{answer.Rows[0].Outcome, answer.Rows[1].Outcome, answer.Rows[2].Outcome})
	require.Equal(t, 4, answer.Rows[2].Row)
	require.Contains(t, answer.Rows[2].Says, "“soon” cannot be read as net_days")
	require.Contains(t, answer.Rows[1].Says, "incomplete")
	_, err = b.app.ImportTable(b.ctx, b.as("admin"), SupplierTable, File{"s.csv", []byte(bad)}, false)
	refused(t, err, fault.Refused, "Nothing is imported: 1 of 3 rows")
	_, err = b.app.SupplierSheet(b.ctx, "NEWCO")
	refused(t, err, fault.NotFound, "no supplier")
	_, err = b.app.ImportTable(b.ctx, b.as("admin"), SupplierTable, File{"s.csv", []byte(suppliers)}, false)
	require.NoError(t, err)
	require.Equal(t, "Quay 4", b.supplier("BRACK").Addresses[0].Street)
	require.Equal(t, testIBAN, b.supplier("BRACK").IBAN, "a column that is not there changes nothing")
	answer, err = b.app.ImportTable(b.ctx, b.as("admin"), SupplierTable, File{"s.csv", []byte(suppliers)}, true)
	require.NoError(t, err)
	require.Equal(t, "same", answer.Rows[0].Outcome)
	_, err = b.app.ImportTable(b.ctx, b.as("admin"), SupplierTable, File{"s.csv", []byte("code,colour\nx,y\n")}, true)
	refused(t, err, fault.Invalid, "no column “colour”")

	items := "code,name,unit,whole,lots,supplier,supplier_code\nROE,Roe,KGM,no,yes,BRACK,BF-R\nROE,Roe,KGM,no,yes,TIDEW,T-R\n"
	require.NoError(t, drop(b.app.ImportTable(b.ctx, b.as("admin"), ItemTable, File{"i.csv", []byte(items)}, false)))
	sheet, err := b.app.ItemSheet(b.ctx, "ROE")
	require.NoError(t, err)
	require.Len(t, sheet.Sellers, 2)
	require.True(t, sheet.Lots)

	orders := "order,supplier,wanted_on,item,quantity,price,price_base,discount,tax_rate,budget,contact\nA,BRACK,2026-11-30,ROE,5,12.5,,2.50,0,FEED,Ines\nA,BRACK,2026-12-02,BF-R,200,45,100,,23,FEED,\nB,BRACK,2026-11-30,KRILL,1,2,,,0,SHOP,\n"
	_, err = b.app.ImportTable(b.ctx, b.as("admin"), OrderTable, File{"o.csv", []byte(strings.Replace(orders, "SHOP", "NONE", 1))}, false)
	refused(t, err, fault.Refused, "1 of 3 rows")
	answer, err = b.app.ImportTable(b.ctx, b.as("admin"), OrderTable, File{"o.csv", []byte(orders)}, false)
	require.NoError(t, err)
	require.Equal(t, []int64{4001, 4002}, answer.Orders, "the refused import took no number")
	first, err := b.app.OrderSheet(b.ctx, 4001, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []money.Amount{6_000, 9_000}, []money.Amount{first.Order.Lines[0].Net, first.Order.Lines[1].Net}, "5 × 12.50 − 2.50; 200 × 45 ÷ 100")
	require.Equal(t, []any{"2026-12-02", "Ines"}, []any{string(first.Order.Lines[1].WantedOn), first.Order.Contact})
	saved, err := b.app.ExportTable(b.ctx, OrderTable)
	require.NoError(t, err)
	content, _, err := tabular.Write(saved, "csv")
	require.NoError(t, err)
	answer, err = b.app.ImportTable(b.ctx, b.as("admin"), OrderTable, File{"again.csv", content}, false)
	require.NoError(t, err)
	require.Empty(t, answer.Orders, "what is saved as a table names the orders that are here")
	elsewhere := strings.NewReplacer("4001,", "F-1,", "4002,", "F-2,").Replace(string(content))
	answer, err = b.app.ImportTable(b.ctx, b.as("admin"), OrderTable, File{"again.csv", []byte(elsewhere)}, false)
	require.NoError(t, err)
	require.Equal(t, b.ordered(4001), b.ordered(answer.Orders[1]), "what is saved as a table, the newest first, is ordered the same from it")
	for kind, rows := range map[TableKind]int{SupplierTable: 3, ItemTable: 3, OrderTable: 6} {
		table, err := b.app.ExportTable(b.ctx, kind)
		require.NoError(t, err)
		require.Len(t, table.Rows, rows, kind)
		content, _, err := tabular.Write(table, "xlsx")
		require.NoError(t, err)
		answer, err := b.app.ImportTable(b.ctx, b.as("admin"), kind, File{"again.xlsx", content}, true)
		require.NoError(t, err)
		require.Zero(t, answer.Wrong, "%s: %v", kind, answer.Rows)
	}
	b.proved()
}

// ordered is what an order says, but for its number and rows' keys.
func (b *bench) ordered(number int64) []trade.OrderLine {
	b.t.Helper()
	sheet, err := b.app.OrderSheet(b.ctx, number, b.actors["reader"])
	require.NoError(b.t, err)
	var lines []trade.OrderLine
	for _, l := range sheet.Order.Lines {
		line := *l
		line.ID, line.Limits = 0, nil
		lines = append(lines, line)
	}
	return lines
}

func TestTheFrameOfTheCompany(t *testing.T) {
	b := setUp(t)
	for _, bad := range []store.Budget{{}, {Code: "FEED", Name: "Feed", Account: trade.ExpenseAccount}} {
		require.Error(t, drop(b.app.SaveBudget(b.ctx, b.as("admin"), bad)))
	}
	for _, bad := range []store.ExchangeRate{{}, {Currency: "EUR", Day: "2026-01-01", Rate: dec("1")}, {Currency: "USD", Day: "soon", Rate: dec("1")}} {
		require.Error(t, drop(b.app.SetRate(b.ctx, b.as("admin"), bad)))
	}
	require.NoError(t, drop(b.app.SaveBudgetLine(b.ctx, b.as("buyer"), store.BudgetLine{Budget: "FEED", Supplier: "BRACK", Item: "KRILL", Quantity: dec("100"), Price: dec("12"), WantedOn: "2026-12-10"})))
	line := krill("40", "12")
	line.BudgetLine = 1
	require.NoError(t, drop(b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{line}})))
	lines, err := b.app.BudgetLines(b.ctx)
	require.NoError(t, err)
	require.Equal(t, []money.Decimal{dec("100"), dec("40")}, []money.Decimal{lines.Rows[0].Quantity, lines.Rows[0].Ordered})
	require.Error(t, drop(b.app.SaveBudgetLine(b.ctx, b.as("buyer"), store.BudgetLine{Budget: "NONE"})))
	require.NoError(t, b.app.ClosePeriod(b.ctx, b.as("admin"), "2026-10"))
	frame, err := b.app.Frame(b.ctx)
	require.NoError(t, err)
	require.Equal(t, "2026-11", frame.Open)
	require.Len(t, frame.Rates, 1)
	b.proved()
}

// A table that is taken out holds everything, however it is read.
func TestATableHoldsEverything(t *testing.T) {
	b := setUp(t)
	for range 6 {
		b.order("BRACK", "1")
	}
	whole := map[TableKind][][]string{}
	for _, kind := range []TableKind{SupplierTable, ItemTable, OrderTable} {
		table, err := b.app.ExportTable(b.ctx, kind)
		require.NoError(t, err)
		require.NotEmpty(t, table.Rows)
		whole[kind] = table.Rows
	}
	require.Len(t, whole[OrderTable], 6)
	before := atOnce
	t.Cleanup(func() { atOnce = before })
	for _, atOnce = range []int{1, 2, 3, 5} {
		for kind, rows := range whole {
			table, err := b.app.ExportTable(b.ctx, kind)
			require.NoError(t, err)
			require.Equal(t, rows, table.Rows, "%s, %d at once", kind, atOnce)
		}
	}
}

// The same orders make nothing twice, and what a table says of charges and tax comes back from it.
func TestOrdersOfATableAreMadeOnce(t *testing.T) {
	b := setUp(t)
	bring := func(rows string, trial bool) (TableAnswer, error) {
		return b.app.ImportTable(b.ctx, b.as("admin"), OrderTable, File{"o.csv", []byte(rows)}, trial)
	}
	head := "order,supplier,wanted_on,item,description,quantity,price,tax_category,tax_rate,budget,charge,charge_amount\n"
	rows := head + "A,BRACK,2026-11-30,KRILL,,5,12.5,E,0,FEED,,\nA,BRACK,2026-11-30,,By reefer,,,S,23,,freight,40\nA,TIDEW,2026-11-30,KRILL,,1,3,,0,FEED,,\n"
	for _, outcome := range []string{"new", "same"} {
		answer, err := bring(rows, false)
		require.NoError(t, err)
		for _, row := range answer.Rows {
			require.Equal(t, outcome, row.Outcome)
		}
	}
	recent, err := b.app.ExportTable(b.ctx, OrderTable)
	require.NoError(t, err)
	require.Len(t, recent.Rows, 3, "two orders, one with a charge")
	sheet, err := b.app.OrderSheet(b.ctx, 4001, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, "E", sheet.Order.Lines[0].TaxCategory)
	require.Equal(t, []trade.PlannedCharge{{No: 1, Kind: "freight", Description: "By reefer", Amount: 4_000, TaxCategory: "S", TaxRate: money.Int(23)}}, sheet.Order.Charges)

	content, _, err := tabular.Write(recent, "xlsx")
	require.NoError(t, err)
	answer, err := b.app.ImportTable(b.ctx, b.as("admin"), OrderTable, File{"saved.xlsx", content}, false)
	require.NoError(t, err)
	require.Empty(t, answer.Orders)
	require.Equal(t, "Order 4001", answer.Rows[len(answer.Rows)-1].Says)
	answer, err = bring(strings.Replace(rows, "12.5", "13", 1), true)
	require.NoError(t, err)
	require.Contains(t, answer.Rows[0].Says, "A is order 4001 already, and the rows say something else")
	_, err = bring(strings.Replace(rows, "A,TIDEW", ",TIDEW", 1), true)
	refused(t, err, fault.Invalid, "Row 4: an order needs a name of its own")
	_, err = bring(rows+"A,BRACK,2026-11-30,KRILL,,5,12.5,E,0,FEED,,\n", true)
	refused(t, err, fault.Invalid, "Row 5: the rows of A BRACK do not stand together")
	b.proved()
}

// An import that meets a change half-way says how far it is, and the same table goes on from there.
func TestAnImportIsStoppedByAChangeMeanwhile(t *testing.T) {
	b := setUp(t)
	rows := "order,supplier,wanted_on,item,quantity,price,tax_rate,budget\n"
	for n := range 120 {
		rows += fmt.Sprintf("A%d,BRACK,%s,KRILL,1,2,0,FEED\n", n, b.today())
	}
	bring := func() (TableAnswer, error) {
		return b.app.ImportTable(b.ctx, b.as("admin"), OrderTable, File{"o.csv", []byte(rows)}, false)
	}
	clock, asked := b.app.now, 0
	b.app.now = func() time.Time {
		if asked++; asked > 4 { // three batches are tried, one is in: midnight
			return clock().AddDate(0, 0, 1)
		}
		return clock()
	}
	_, err := bring()
	refused(t, err, fault.Refused, "50 of 120 rows are imported. Row 52 cannot be any more: ")
	b.app.now = clock
	answer, err := bring()
	require.NoError(t, err)
	require.Equal(t, []string{"same", "same", "new", "new"}, []string{answer.Rows[0].Outcome, answer.Rows[49].Outcome, answer.Rows[50].Outcome, answer.Rows[119].Outcome})
	require.Len(t, answer.Orders, 70)
	b.proved()
}
