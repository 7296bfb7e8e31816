package demo

import (
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// groups are what the aquarium's suppliers are put together as, with what each proposes and who is in it.
var groups = []struct {
	store.SupplierGroup
	members []string
}{
	{store.SupplierGroup{Name: "Feed", Terms: &net30, Budget: "FEED"}, []string{"BRACK", "INSHO"}},
	{store.SupplierGroup{Name: "Water and plant", Budget: "WATER"}, []string{"HALDE", "OSTRE", "TIDEW", "MIRRE"}},
	{
		store.SupplierGroup{
			Name: "Services", Terms: &trade.Terms{NetDays: 14}, Level: trade.TwoWay, Payables: "2010", PayablesName: "Payables, services",
		},
		[]string{"CORRA", "HARBR", "PELLW"},
	},
}

// itemGroups are what items are put together as, by the budget that they are bought from.
var itemGroups = map[string]string{"FEED": "Animal feed", "WATER": "Water treatment", "TECH": "Pumps and lamps"}

// grouped puts suppliers and items into groups.
func grouped(tx *store.Tx, suppliers, items map[string]int64) error {
	for _, g := range groups {
		var err error
		if g.ID, err = tx.NextNumber(store.GroupSeries); err != nil {
			return err
		}
		if err := tx.PutSupplierGroup(g.SupplierGroup); err != nil {
			return err
		}
		for _, code := range g.members {
			if err := tx.PutMember(suppliers[code], g.ID); err != nil {
				return err
			}
			if g.Payables == "" {
				continue
			}
			owed := store.ChartAccount{Role: ledger.Payables, Detail: code, Number: g.Payables, Name: g.PayablesName}
			if err := tx.PutChartAccount(owed); err != nil {
				return err
			}
		}
	}
	for _, g := range goods {
		if name := itemGroups[g.budget]; name != "" {
			if err := tx.PutItemGroup(items[g.Code], name); err != nil {
				return err
			}
		}
	}
	return nil
}
