package jobs

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

func krill(quantity, price string) OrderEntryLine {
	return OrderEntryLine{Item: "KRILL", Quantity: dec(quantity), Price: dec(price), TaxCategory: "S", TaxRate: dec("23"), Budget: "FEED"}
}

// An order's totals follow as it is typed: tax once per rate over its lines (rules §1).
func TestAnOrderIsPlannedWhileItIsTyped(t *testing.T) {
	b := setUp(t)
	free := OrderEntryLine{Description: "Freight", Unit: "C62", Quantity: dec("1"), Price: dec("10.005"), TaxCategory: "Z", Budget: "SHOP"}
	plan, err := b.app.PlanOrder(b.ctx, 0, OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{krill("3", "0.33"), krill("1.5", "12"), free}})
	require.NoError(t, err)
	require.Equal(t, []money.Amount{99, 1800, 1001}, []money.Amount{plan.Lines[0].Net, plan.Lines[1].Net, plan.Lines[2].Net})
	require.Equal(t, money.Amount(437), plan.Totals.Tax, "23 % of 18.99")
	require.Equal(t, money.Amount(3337), plan.Totals.Total)
	require.Equal(t, "Krill", plan.Lines[0].Description)
}

// Everything that stands against issuing is said at once, each at its field, and nothing is issued (rules §3).
func TestWhatStandsAgainstIssuing(t *testing.T) {
	b := setUp(t)
	require.NoError(t, b.app.Masters(b.ctx, b.as("admin"), "more", func(tx *store.Tx) error {
		for _, s := range []trade.Supplier{{Code: "HELD", Name: "Held", Currency: "EUR", Status: trade.OnHold}, {Code: "DISP", Name: "Disputed", Currency: "EUR", Status: trade.Disputed}, {Code: "YEN", Name: "Yen", Currency: "JPY", Status: trade.Open}} {
			if _, err := tx.PutSupplier(s); err != nil {
				return err
			}
		}
		box, err := tx.PutItem(store.Item{Code: "BOX", Name: "Box", Unit: "C62", Whole: true})
		if err != nil {
			return err
		}
		return tx.PutSelling(box, 1, store.Selling{Code: "SB-7"})
	}))
	good := OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{krill("1", "1")}}
	with := func(change func(*OrderEntry)) OrderEntry {
		e := good
		e.Lines = append([]OrderEntryLine{}, good.Lines...)
		change(&e)
		return e
	}
	for field, entry := range map[string]OrderEntry{
		"supplier":       with(func(e *OrderEntry) { e.Supplier = "NONE" }),
		"supplier ":      with(func(e *OrderEntry) { e.Supplier = "HELD" }),
		"supplier  ":     with(func(e *OrderEntry) { e.Supplier = "YEN" }),
		"wantedOn":       with(func(e *OrderEntry) { e.WantedOn = "" }),
		"wantedOn ":      with(func(e *OrderEntry) { e.WantedOn = "2026-11-22" }),
		"lines":          with(func(e *OrderEntry) { e.Lines = nil }),
		"lines[0].item":  with(func(e *OrderEntry) { e.Lines[0].Item = "NONE" }),
		"lines[0].item ": with(func(e *OrderEntry) { e.Lines[0].Item = "" }),
		"lines[0].unit": with(func(e *OrderEntry) {
			e.Lines[0] = OrderEntryLine{Description: "Work", Quantity: dec("1"), Budget: "FEED"}
		}),
		"lines[0].budget":     with(func(e *OrderEntry) { e.Lines[0].Budget = "" }),
		"lines[0].budget ":    with(func(e *OrderEntry) { e.Lines[0].Budget = "NONE" }),
		"lines[0].quantity":   with(func(e *OrderEntry) { e.Lines[0].Quantity = 0 }),
		"lines[0].quantity ":  with(func(e *OrderEntry) { e.Lines[0].Item, e.Lines[0].Quantity = "SB-7", dec("1.5") }),
		"lines[0].quantity  ": with(func(e *OrderEntry) { e.Lines[0].Quantity, e.Lines[0].Price = dec("9000000000"), dec("9000000000") }),
		"lines[0].price":      with(func(e *OrderEntry) { e.Lines[0].Price = dec("-1") }),
		"lines[0].discount":   with(func(e *OrderEntry) { e.Lines[0].Discount = -1 }),
		"lines[0].discount ":  with(func(e *OrderEntry) { e.Lines[0].Discount = 1_000_000 }),
		"lines[0].level":      with(func(e *OrderEntry) { e.Lines[0].Level = "four_way" }),
		"lines[0].limits[0]": with(func(e *OrderEntry) {
			e.Lines[0].Limits = limit.Book{{Kind: limit.Delivery, Side: limit.Over, Percent: new(dec("-1"))}}
		}),
	} {
		_, err := b.app.IssueOrder(b.ctx, b.as("buyer"), entry)
		var all fault.Faults
		require.True(t, errors.As(err, &all), "%s: %v", field, err)
		require.Equal(t, []string{trimmed(field)}, fieldsOf(all), "%v", err)
	}
	_, err := b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "HELD", Lines: []OrderEntryLine{{Quantity: dec("-1")}}})
	var all fault.Faults
	require.True(t, errors.As(err, &all))
	require.Equal(t, []string{"supplier", "wantedOn", "lines[0].item", "lines[0].budget", "lines[0].quantity"}, fieldsOf(all))
	plan, err := b.app.PlanOrder(b.ctx, 0, with(func(e *OrderEntry) { e.Supplier = "DISP" }))
	require.NoError(t, err)
	require.Len(t, plan.Advice, 1)
	require.Equal(t, int64(4001), b.order("BRACK", "1"), "none of these took a number")
}

func trimmed(field string) string {
	for field[len(field)-1] == ' ' {
		field = field[:len(field)-1]
	}
	return field
}

func fieldsOf(all fault.Faults) []string {
	var fields []string
	for _, f := range all {
		fields = append(fields, f.Field)
	}
	return fields
}

// What the system knows is proposed: what a supplier sells, with price, budget and tax as they were ordered last.
func TestChoicesKnowTheLastOrder(t *testing.T) {
	b := setUp(t)
	require.NoError(t, b.app.Masters(b.ctx, b.as("admin"), "code", func(tx *store.Tx) error { return tx.PutSelling(1, 1, store.Selling{Code: "BF-KR"}) }))
	items, err := b.app.OrderChoices(b.ctx, "BRACK")
	require.NoError(t, err)
	require.Equal(t, []store.ItemChoice{{Code: "KRILL", SupplierCode: "BF-KR", Name: "Krill", Unit: "KGM", Base: money.Int(1)}}, items.Items)
	for _, price := range []string{"12", "12.5"} {
		_, err := b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{{Item: "BF-KR", Quantity: dec("1"), Price: dec(price), TaxCategory: "S", TaxRate: dec("23"), Budget: "SHOP"}}})
		require.NoError(t, err)
	}
	items, err = b.app.OrderChoices(b.ctx, "BRACK")
	require.NoError(t, err)
	require.Equal(t, store.ItemChoice{Code: "KRILL", SupplierCode: "BF-KR", Name: "Krill", Unit: "KGM", Base: money.Int(1), Price: dec("12.5"), Budget: "SHOP", TaxCategory: "S", TaxRate: dec("23"), Ordered: true}, items.Items[0])
	none, err := b.app.OrderChoices(b.ctx, "TIDEW")
	require.NoError(t, err)
	require.Empty(t, none.Items)
	_, err = b.app.OrderChoices(b.ctx, "NONE")
	refused(t, err, fault.NotFound, "no supplier NONE")
}
