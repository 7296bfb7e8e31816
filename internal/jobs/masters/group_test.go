package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/lists"
	"lagoon/internal/store"
)

// A group proposes what a supplier is made with: the match level, which counts as changed by who made it, and the account of what
// it is owed. What the supplier has of its own stays; lists are narrowed and summed by group.
func TestAGroupProposes(t *testing.T) {
	b := housetest.SetUp(t)
	admin, clerk := b.As("admin"), b.As("clerk")
	services := store.SupplierGroup{Name: "Services", Level: trade.TwoWay, Payables: "2010", PayablesName: "Payables, services"}
	_, err := masters.SaveGroup(b.Ctx, b.App, clerk, services)
	housetest.Refused(t, err, fault.Forbidden, "takes the role administrator")
	require.NoError(t, housetest.Drop(masters.SaveGroup(b.Ctx, b.App, admin, services)))
	for words, g := range map[string]store.SupplierGroup{
		"already": {Name: "services"}, "Give the group a name": {}, "no budget": {Name: "B", Budget: "NONE"}, "no such group": {ID: 9, Name: "C"},
		"An account number": {Name: "D", Payables: "a b"}, "how invoices are matched": {Name: "E", Level: "x"},
		"days": {Name: "F", Terms: &trade.Terms{NetDays: -1}},
	} {
		_, err := masters.SaveGroup(b.Ctx, b.App, admin, g)
		require.ErrorContains(t, err, words)
	}
	group := "services"
	made := masters.SupplierEntry{
		OnTheFly: true, Supplier: trade.Supplier{Code: "VET", Name: "Vet", Country: "IE", Currency: "EUR"}, Group: &group,
	}
	none := "Nobody"
	wrong := made
	wrong.Group = &none
	_, err = masters.SaveSupplier(b.Ctx, b.App, clerk, wrong)
	housetest.Refused(t, err, fault.Invalid, "no group “Nobody”")
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, clerk, made)))
	sheet := b.Supplier("VET")
	require.Equal(t, []any{"Services", trade.TwoWay, 1}, []any{sheet.Group, sheet.Level, len(sheet.Owners)}, "until somebody else confirms it")
	owed := func(code string) (number string) {
		_, err := act.Read(b.Ctx, b.App, func(r act.Reading) (struct{}, error) {
			chart, err := masters.Chart(r)
			for _, a := range chart {
				if a.Role == ledger.Payables && a.Detail == code {
					number = a.Number
				}
			}
			return struct{}{}, err
		})
		require.NoError(t, err)
		return number
	}
	require.Equal(t, "2010", owed("VET"))

	plant := store.SupplierGroup{Name: "Plant", Payables: "2020"}
	require.NoError(t, housetest.Drop(masters.SaveGroup(b.Ctx, b.App, admin, plant)))
	move := func(to string) {
		of := b.Supplier("VET")
		entry := masters.SupplierEntry{OnTheFly: true, Supplier: of.Supplier, Addresses: of.Addresses, Group: &to}
		require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, clerk, entry)))
	}
	move("Plant")
	require.Equal(t, []any{"Plant", "2020"}, []any{b.Supplier("VET").Group, owed("VET")}, "the account of the group before was not its own")
	require.NoError(t, housetest.Drop(masters.SaveAccount(b.Ctx, b.App, admin,
		store.ChartAccount{Role: ledger.Payables, Detail: "VET", Number: "2099", Name: "Owed to the vet"})))
	move("Services")
	require.Equal(t, "2099", owed("VET"), "it is its own")
	move("")
	require.Empty(t, b.Supplier("VET").Group)

	b.Group("Feed", "BRACK", "Animal feed", "KRILL")
	b.Order("BRACK", "10")
	b.Order("TIDEW", "10")
	at := func(a lists.Asked) lists.Totals {
		sums, err := lists.Sums(b.Ctx, b.App, b.Actors["clerk"], lists.Named("orders"), a)
		require.NoError(t, err)
		return sums
	}
	require.Equal(t, int64(1), at(lists.Asked{Show: "suppliers:Feed"}).Count)
	require.Equal(t, int64(0), at(lists.Asked{Show: "suppliers:Plant"}).Count)
	require.Equal(t, int64(2), at(lists.Asked{Show: "items:Animal feed"}).Count)
	grouped := at(lists.Asked{Show: lists.NoWords, Group: "suppliers"})
	require.Len(t, grouped.Groups, 2)
	require.Equal(t, []any{"Feed", int64(1)}, []any{grouped.Groups[1].Name, grouped.Groups[1].Count})
	b.Proved()
}
