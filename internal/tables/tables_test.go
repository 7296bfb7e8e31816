package tables_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/tabular"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/tables"
	"lagoon/internal/views"
)

// An import says how far it is to whoever listens, trial and import each.
func TestAnImportSaysHowFarItIs(t *testing.T) {
	b := housetest.SetUp(t)
	listener := b.App.Listen()
	defer listener.Close()
	rows := "code,name,unit\n"
	for n := range 60 {
		rows += fmt.Sprintf("ITEM%d,Item %d,KGM\n", n, n)
	}
	for _, trial := range []bool{true, false} {
		answer, err := tables.Import(b.Ctx, b.App, b.As("admin"), tables.Items, act.File{Name: "items.csv", Content: []byte(rows)}, trial)
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
	b.Proved()
}

// A trial says row by row what would happen and changes nothing; an import does all of it or nothing.
func TestTables(t *testing.T) {
	b := housetest.SetUp(t)
	suppliers := "code;name;country;currency;tax_id;street;city;net_days\nBRACK;Brackwater Feeds;IE;EUR;IE1;Quay 4;Skerry;30\nNEWCO;New Co;IE;EUR;;;;14\n"
	bad := suppliers + "WRONG;;Ireland;XXX;;;;soon\n"
	answer, err := tables.Import(b.Ctx, b.App, b.As("admin"), tables.Suppliers, act.File{Name: "s.csv", Content: []byte(bad)}, true)
	require.NoError(t, err)
	require.Equal(t, []string{"changed", "new", "wrong"}, []string{answer.Rows[0].Outcome, answer.Rows[1].Outcome, answer.Rows[2].Outcome})
	require.Equal(t, 4, answer.Rows[2].Row)
	require.Contains(t, answer.Rows[2].Says, "“soon” cannot be read as net_days")
	require.Contains(t, answer.Rows[1].Says, "incomplete")
	_, err = tables.Import(b.Ctx, b.App, b.As("admin"), tables.Suppliers, act.File{Name: "s.csv", Content: []byte(bad)}, false)
	housetest.Refused(t, err, fault.Refused, "Nothing is imported: 1 of 3 rows")
	_, err = masters.ReadSupplier(b.Ctx, b.App, "NEWCO")
	housetest.Refused(t, err, fault.NotFound, "no supplier")
	_, err = tables.Import(b.Ctx, b.App, b.As("admin"), tables.Suppliers, act.File{Name: "s.csv", Content: []byte(suppliers)}, false)
	require.NoError(t, err)
	require.Equal(t, "Quay 4", b.Supplier("BRACK").Addresses[0].Street)
	require.Equal(t, housetest.TestIBAN, b.Supplier("BRACK").IBAN, "a column that is not there changes nothing")
	answer, err = tables.Import(b.Ctx, b.App, b.As("admin"), tables.Suppliers, act.File{Name: "s.csv", Content: []byte(suppliers)}, true)
	require.NoError(t, err)
	require.Equal(t, "same", answer.Rows[0].Outcome)
	_, err = tables.Import(b.Ctx, b.App, b.As("admin"), tables.Suppliers, act.File{Name: "s.csv", Content: []byte("code,colour\nx,y\n")}, true)
	housetest.Refused(t, err, fault.Invalid, "no column “colour”")

	items := "code,name,unit,whole,lots,supplier,supplier_code\nROE,Roe,KGM,no,yes,BRACK,BF-R\nROE,Roe,KGM,no,yes,TIDEW,T-R\n"
	require.NoError(t, housetest.Drop(tables.Import(b.Ctx, b.App, b.As("admin"), tables.Items, act.File{Name: "i.csv", Content: []byte(items)}, false)))
	sheet, err := masters.ReadItem(b.Ctx, b.App, "ROE")
	require.NoError(t, err)
	require.Len(t, sheet.Sellers, 2)
	require.True(t, sheet.Lots)

	orders := "order,supplier,wanted_on,item,quantity,price,price_base,discount,tax_rate,budget,contact\nA,BRACK,2026-11-30,ROE,5,12.5,,2.50,0,FEED,Ines\nA,BRACK,2026-12-02,BF-R,200,45,100,,23,FEED,\nB,BRACK,2026-11-30,KRILL,1,2,,,0,SHOP,\n"
	_, err = tables.Import(
		b.Ctx,
		b.App,
		b.As("admin"),
		tables.Orders,
		act.File{Name: "o.csv", Content: []byte(strings.Replace(orders, "SHOP", "NONE", 1))},
		false,
	)
	housetest.Refused(t, err, fault.Refused, "1 of 3 rows")
	answer, err = tables.Import(b.Ctx, b.App, b.As("admin"), tables.Orders, act.File{Name: "o.csv", Content: []byte(orders)}, false)
	require.NoError(t, err)
	require.Equal(t, []int64{4001, 4002}, answer.Orders, "the refused import took no number")
	first, err := views.Order(b.Ctx, b.App, 4001, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []money.Amount{6_000, 9_000}, []money.Amount{first.Order.Lines[0].Net, first.Order.Lines[1].Net}, "5 × 12.50 − 2.50; 200 × 45 ÷ 100")
	require.Equal(t, []any{"2026-12-02", "Ines"}, []any{string(first.Order.Lines[1].WantedOn), first.Order.Contact})
	saved, err := tables.Export(b.Ctx, b.App, tables.Orders)
	require.NoError(t, err)
	content, _, err := tabular.Write(saved, "csv")
	require.NoError(t, err)
	answer, err = tables.Import(b.Ctx, b.App, b.As("admin"), tables.Orders, act.File{Name: "again.csv", Content: content}, false)
	require.NoError(t, err)
	require.Empty(t, answer.Orders, "what is saved as a table names the orders that are here")
	elsewhere := strings.NewReplacer("4001,", "F-1,", "4002,", "F-2,").Replace(string(content))
	answer, err = tables.Import(b.Ctx, b.App, b.As("admin"), tables.Orders, act.File{Name: "again.csv", Content: []byte(elsewhere)}, false)
	require.NoError(t, err)
	require.Equal(t, ordered(b, 4001), ordered(b, answer.Orders[1]), "what is saved as a table, the newest first, is ordered the same from it")
	for kind, rows := range map[tables.Kind]int{tables.Suppliers: 3, tables.Items: 3, tables.Orders: 6} {
		table, err := tables.Export(b.Ctx, b.App, kind)
		require.NoError(t, err)
		require.Len(t, table.Rows, rows, kind)
		content, _, err := tabular.Write(table, "xlsx")
		require.NoError(t, err)
		answer, err := tables.Import(b.Ctx, b.App, b.As("admin"), kind, act.File{Name: "again.xlsx", Content: content}, true)
		require.NoError(t, err)
		require.Zero(t, answer.Wrong, "%s: %v", kind, answer.Rows)
	}
	b.Proved()
}

// A table that is taken out holds everything, however it is read.
func TestATableHoldsEverything(t *testing.T) {
	b := housetest.SetUp(t)
	for range 6 {
		b.Order("BRACK", "1")
	}
	whole := map[tables.Kind][][]string{}
	for _, kind := range []tables.Kind{tables.Suppliers, tables.Items, tables.Orders} {
		table, err := tables.Export(b.Ctx, b.App, kind)
		require.NoError(t, err)
		require.NotEmpty(t, table.Rows)
		whole[kind] = table.Rows
	}
	require.Len(t, whole[tables.Orders], 6)
	before := *tables.AtOnce
	t.Cleanup(func() { *tables.AtOnce = before })
	for _, *tables.AtOnce = range []int{1, 2, 3, 5} {
		for kind, rows := range whole {
			table, err := tables.Export(b.Ctx, b.App, kind)
			require.NoError(t, err)
			require.Equal(t, rows, table.Rows, "%s, %d at once", kind, *tables.AtOnce)
		}
	}
}

// The same orders make nothing twice, and what a table says of charges and tax comes back from it.
func TestOrdersOfATableAreMadeOnce(t *testing.T) {
	b := housetest.SetUp(t)
	bring := func(rows string, trial bool) (tables.Answer, error) {
		return tables.Import(b.Ctx, b.App, b.As("admin"), tables.Orders, act.File{Name: "o.csv", Content: []byte(rows)}, trial)
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
	recent, err := tables.Export(b.Ctx, b.App, tables.Orders)
	require.NoError(t, err)
	require.Len(t, recent.Rows, 3, "two orders, one with a charge")
	sheet, err := views.Order(b.Ctx, b.App, 4001, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, "E", sheet.Order.Lines[0].TaxCategory)
	require.Equal(
		t,
		[]trade.PlannedCharge{{No: 1, Kind: "freight", Description: "By reefer", Amount: 4_000, TaxCategory: "S", TaxRate: money.Int(23)}},
		sheet.Order.Charges,
	)

	content, _, err := tabular.Write(recent, "xlsx")
	require.NoError(t, err)
	answer, err := tables.Import(b.Ctx, b.App, b.As("admin"), tables.Orders, act.File{Name: "saved.xlsx", Content: content}, false)
	require.NoError(t, err)
	require.Empty(t, answer.Orders)
	require.Equal(t, "Order 4001", answer.Rows[len(answer.Rows)-1].Says)
	answer, err = bring(strings.Replace(rows, "12.5", "13", 1), true)
	require.NoError(t, err)
	require.Contains(t, answer.Rows[0].Says, "A is order 4001 already, and the rows say something else")
	_, err = bring(strings.Replace(rows, "A,TIDEW", ",TIDEW", 1), true)
	housetest.Refused(t, err, fault.Invalid, "Row 4: an order needs a name of its own")
	_, err = bring(rows+"A,BRACK,2026-11-30,KRILL,,5,12.5,E,0,FEED,,\n", true)
	housetest.Refused(t, err, fault.Invalid, "Row 5: the rows of A BRACK do not stand together")
	b.Proved()
}

// An import that meets a change half-way says how far it is, and the same table goes on from there.
func TestAnImportIsStoppedByAChangeMeanwhile(t *testing.T) {
	b := housetest.SetUp(t)
	rows := "order,supplier,wanted_on,item,quantity,price,tax_rate,budget\n"
	for n := range 120 {
		rows += fmt.Sprintf("A%d,BRACK,%s,KRILL,1,2,0,FEED\n", n, b.Today())
	}
	bring := func() (tables.Answer, error) {
		return tables.Import(b.Ctx, b.App, b.As("admin"), tables.Orders, act.File{Name: "o.csv", Content: []byte(rows)}, false)
	}
	clock, asked := b.App.Now, 0
	b.App.Now = func() time.Time {
		if asked++; asked > 4 { // three batches are tried, one is in: midnight
			return clock().AddDate(0, 0, 1)
		}
		return clock()
	}
	_, err := bring()
	housetest.Refused(t, err, fault.Refused, "50 of 120 rows are imported. Row 52 cannot be any more: ")
	b.App.Now = clock
	answer, err := bring()
	require.NoError(t, err)
	require.Equal(
		t,
		[]string{"same", "same", "new", "new"},
		[]string{answer.Rows[0].Outcome, answer.Rows[49].Outcome, answer.Rows[50].Outcome, answer.Rows[119].Outcome},
	)
	require.Len(t, answer.Orders, 70)
	b.Proved()
}

// ordered is what an order says, but for its number and rows' keys.
func ordered(b *housetest.Bench, number int64) []trade.OrderLine {
	b.T.Helper()
	sheet, err := views.Order(b.Ctx, b.App, number, b.Actors["reader"])
	require.NoError(b.T, err)
	var lines []trade.OrderLine
	for _, l := range sheet.Order.Lines {
		line := *l
		line.ID, line.Limits = 0, nil
		lines = append(lines, line)
	}
	return lines
}
