package demo

import (
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
)

// landings is what the boats bring: they write no invoices, the aquarium does. The landing of the evening is to be billed still.
func (b *builder) landings() {
	agree := func(every trade.BillingEvery) func() error {
		return func() error {
			_, err := masters.AgreeSelfBilling(b.ctx, b.app, b.as("ivo"), masters.SelfBillingEntry{
				Supplier: "INSHO", From: b.today.Add(-40), Prefix: "SB-INSHO-", Per: trade.PerReceipt, Every: every,
				Statement: "Self-billed invoice, made out by the buyer. The supplier accounts for the tax.",
			})
			return err
		}
	}
	b.on(-40, 8, agree(trade.EveryDay))
	b.on(-40, 20, func() error { return invoices.SelfBillPlanned(b.ctx, b.app) }) // nothing has come yet
	b.on(-39, 8, agree(""))                                                       // the boats want somebody to look first
	var order int64
	land := func(note, quantity string) func() error {
		return func() error {
			_, err := receiving.BookDelivery(b.ctx, b.app, b.as("lewis"), receiving.DeliveryEntry{
				Order: order,
				Entry: receive.Entry{
					Note: note, Day: b.today.Add(-1), Place: "Cold store", Lines: []receive.Line{{No: 1, Quantity: money.MustDecimal(quantity)}},
				},
			})
			return err
		}
	}
	b.on(-1, 18, func() error {
		g := goodOf("SPRATS")
		issued, err := orders.Issue(b.ctx, b.app, b.as("ivo"), orders.Entry{
			Supplier: "INSHO", WantedOn: b.today.Add(3), RequestedBy: "M. Tolk, Hospital", Place: "Cold store",
			Lines: []orders.EntryLine{{
				Item: "SPRATS", Quantity: money.Int(120), Price: money.MustDecimal(g.price), TaxCategory: category(g.rate), TaxRate: money.Int(g.rate), Budget: g.budget,
			}},
		})
		order = issued.Number
		return err
	})
	b.on(-1, 19, land("Landing 1", "45"))
	b.on(-1, 20, func() error {
		_, err := invoices.SelfBill(b.ctx, b.app, b.as("nora"), invoices.SelfBillEntry{Supplier: "INSHO"})
		return err
	})
	b.on(-1, 21, land("Landing 2", "38.5"))
}
