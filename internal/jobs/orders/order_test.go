package orders_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
)

// An order's totals follow as it is typed: tax once per rate over its lines (rules §1).
func TestAnOrderIsPlannedWhileItIsTyped(t *testing.T) {
	b := housetest.SetUp(t)
	free := orders.EntryLine{
		Description: "Freight",
		Unit:        "C62",
		Quantity:    housetest.Dec("1"),
		Price:       housetest.Dec("10.005"),
		TaxCategory: "Z",
		Budget:      "SHOP",
	}
	plan, err := orders.Plan(
		b.Ctx,
		b.App,
		b.Actors["buyer"],
		0,
		orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{housetest.Krill("3", "0.33"), housetest.Krill("1.5", "12"), free}},
	)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{99, 1800, 1001}, []money.Amount{plan.Lines[0].Net, plan.Lines[1].Net, plan.Lines[2].Net})
	require.Equal(t, money.Amount(437), plan.Totals.Tax, "23 % of 18.99")
	require.Equal(t, money.Amount(3337), plan.Totals.Total)
	require.Equal(t, "Krill", plan.Lines[0].Description)
}

// Everything that stands against issuing is said at once, each at its field, and nothing is issued (rules §3).
func TestWhatStandsAgainstIssuing(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(t, masters.Masters(b.Ctx, b.App, b.As("admin"), "more", func(tx *store.Tx) error {
		for _, s := range []trade.Supplier{{Code: "HELD", Name: "Held", Currency: "EUR", Holds: trade.Holds{trade.NothingOrdered}}, {Code: "DISP", Name: "Disputed", Currency: "EUR", Holds: trade.Holds{trade.InDispute}}, {Code: "YEN", Name: "Yen", Currency: "JPY"}} {
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
	good := orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []orders.EntryLine{housetest.Krill("1", "1")}}
	with := func(change func(*orders.Entry)) orders.Entry {
		e := good
		e.Lines = append([]orders.EntryLine{}, good.Lines...)
		change(&e)
		return e
	}
	for field, entry := range map[string]orders.Entry{
		"supplier":       with(func(e *orders.Entry) { e.Supplier = "NONE" }),
		"supplier ":      with(func(e *orders.Entry) { e.Supplier = "HELD" }),
		"supplier  ":     with(func(e *orders.Entry) { e.Supplier = "YEN" }),
		"wantedOn":       with(func(e *orders.Entry) { e.WantedOn = "" }),
		"wantedOn ":      with(func(e *orders.Entry) { e.WantedOn = "2026-11-22" }),
		"lines":          with(func(e *orders.Entry) { e.Lines = nil }),
		"lines[0].item":  with(func(e *orders.Entry) { e.Lines[0].Item = "NONE" }),
		"lines[0].item ": with(func(e *orders.Entry) { e.Lines[0].Item = "" }),
		"lines[0].unit": with(func(e *orders.Entry) {
			e.Lines[0] = orders.EntryLine{Description: "Work", Quantity: housetest.Dec("1"), Budget: "FEED"}
		}),
		"lines[0].budget":    with(func(e *orders.Entry) { e.Lines[0].Budget = "" }),
		"lines[0].budget ":   with(func(e *orders.Entry) { e.Lines[0].Budget = "NONE" }),
		"lines[0].quantity":  with(func(e *orders.Entry) { e.Lines[0].Quantity = 0 }),
		"lines[0].quantity ": with(func(e *orders.Entry) { e.Lines[0].Item, e.Lines[0].Quantity = "SB-7", housetest.Dec("1.5") }),
		"lines[0].quantity  ": with(func(e *orders.Entry) {
			e.Lines[0].Quantity, e.Lines[0].Price = housetest.Dec("9000000000"), housetest.Dec("9000000000")
		}),
		"lines[0].price":     with(func(e *orders.Entry) { e.Lines[0].Price = housetest.Dec("-1") }),
		"lines[0].discount":  with(func(e *orders.Entry) { e.Lines[0].Discount = "-0.01" }),
		"lines[0].discount ": with(func(e *orders.Entry) { e.Lines[0].Discount = "10000" }),
		"lines[0].level":     with(func(e *orders.Entry) { e.Lines[0].Level = "four_way" }),
		"lines[0].limits[0]": with(func(e *orders.Entry) {
			e.Lines[0].Limits = limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: new(housetest.Dec("-1"))}}
		}),
	} {
		_, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), entry)
		var all fault.Faults
		require.True(t, errors.As(err, &all), "%s: %v", field, err)
		require.Equal(t, []string{trimmed(field)}, housetest.FieldsOf(all), "%v", err)
	}
	_, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{Supplier: "HELD", Lines: []orders.EntryLine{{Quantity: housetest.Dec("-1")}}})
	var all fault.Faults
	require.True(t, errors.As(err, &all))
	require.Equal(t, []string{"supplier", "wantedOn", "lines[0].item", "lines[0].budget", "lines[0].quantity"}, housetest.FieldsOf(all))
	plan, err := orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, with(func(e *orders.Entry) { e.Supplier = "DISP" }))
	require.NoError(t, err)
	require.Len(t, plan.Advice, 1)
	require.Equal(t, int64(4001), b.Order("BRACK", "1"), "none of these took a number")
}

func trimmed(field string) string {
	for field[len(field)-1] == ' ' {
		field = field[:len(field)-1]
	}
	return field
}

// What the system knows is proposed: what a supplier sells, with price, budget and tax as they were ordered last.
func TestChoicesKnowTheLastOrder(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(
		t,
		masters.Masters(b.Ctx, b.App, b.As("admin"), "code", func(tx *store.Tx) error { return tx.PutSelling(1, 1, store.Selling{Code: "BF-KR"}) }),
	)
	items, err := orders.ChoicesFor(b.Ctx, b.App, b.Actors["buyer"], "BRACK")
	require.NoError(t, err)
	require.Equal(t, []store.ItemChoice{{Code: "KRILL", SupplierCode: "BF-KR", Name: "Krill", Unit: "KGM", Base: money.Int(1)}}, items.Items)
	for _, price := range []string{"12", "12.5"} {
		_, err := orders.Issue(
			b.Ctx,
			b.App,
			b.As("buyer"),
			orders.Entry{
				Supplier: "BRACK",
				WantedOn: "2026-11-30",
				Lines: []orders.EntryLine{
					{Item: "BF-KR", Quantity: housetest.Dec("1"), Price: housetest.Dec(price), TaxCategory: "S", TaxRate: housetest.Dec("23"), Budget: "SHOP"},
				},
			},
		)
		require.NoError(t, err)
	}
	items, err = orders.ChoicesFor(b.Ctx, b.App, b.Actors["buyer"], "BRACK")
	require.NoError(t, err)
	require.Equal(
		t,
		store.ItemChoice{
			Code:         "KRILL",
			SupplierCode: "BF-KR",
			Name:         "Krill",
			Unit:         "KGM",
			Base:         money.Int(1),
			Price:        housetest.Dec("12.5"),
			Budget:       "SHOP",
			TaxCategory:  "S",
			TaxRate:      housetest.Dec("23"),
			Ordered:      true,
		},
		items.Items[0],
	)
	none, err := orders.ChoicesFor(b.Ctx, b.App, b.Actors["buyer"], "TIDEW")
	require.NoError(t, err)
	require.Empty(t, none.Items)
	require.Equal(t, "SHOP", none.Budget, "what the person ordered for last, of whomever")
	nobodys, err := orders.ChoicesFor(b.Ctx, b.App, b.Actors["reader"], "TIDEW")
	require.NoError(t, err)
	require.Empty(t, nobodys.Budget)
	_, err = orders.ChoicesFor(b.Ctx, b.App, b.Actors["buyer"], "NONE")
	housetest.Refused(t, err, fault.NotFound, "no supplier NONE")
}
