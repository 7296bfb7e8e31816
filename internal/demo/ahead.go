package demo

import (
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/views"
)

// ahead is money that was paid before the goods: pumps from overseas, whose deposit waits to be used by the invoice that came
// today; panels made to order in three steps, of which the first is used in part; frozen feed for the winter; a pool whose workshop
// is paid ahead without an invoice; and a tank that was cancelled, whose deposit nobody has given back yet.
func (b *builder) ahead() {
	pumps := b.order(-52, -2, "TIDEW", "I. Sandell, Plant", "Plant room", part{"PUMP", "2"})
	b.paid(-46, b.billedAhead(-50, pumps, b.agree(-52, pumps, "goods at sea", "40%", "with the order", -46), "TP-D118"), "bank", "transfer abroad 118")
	b.deliver(-2, pumps, "TP 4471", counted{1: "2"})
	b.take(0, bill{seller: "TIDEW", number: "TW-11907", on: pumps, date: -1, lines: []trade.InvoiceLine{item(1, "PUMP", "2")}})

	panels := b.free(-30, 20, "MIRRE", "Acrylic panel 1600 × 900 × 50, otter pool", "C62", "3", "1180.00", "EXHIB")
	b.paid(-24, b.billedAhead(-27, panels, b.agree(-30, panels, "deposit", "30%", "with the order", -24), "MA-D31"), "bank", "statement 44")
	shipment := b.agree(-30, panels, "deposit", "1500", "on shipment", 4)
	b.on(-26, 9, func() error { // they want it as a share
		agreed, err := orders.Agree(b.ctx, b.app, b.as("ivo"), orders.AheadEntry{
			Order: *panels, Share: "40%", Event: "on shipment", ExpectedOn: b.today.Add(4), Note: "As they wrote.", Replaces: *shipment,
		})
		*shipment = agreed.Number
		return err
	})
	b.billedAhead(-1, panels, shipment, "MA-D38")
	b.deliver(-8, panels, "MA 0461", counted{1: "1"})
	first := b.take(-7, bill{
		seller: "MIRRE", number: "MA-910", on: panels, date: -8,
		lines: []trade.InvoiceLine{described(1, "Acrylic panel 1600 × 900 × 50", "C62", "1", "1180.00", 0)},
	})
	b.use(-7, first, "MA-D31", panels, "354.00")

	winter := b.order(-20, 10, "BRACK", "L. Marr, Feeding", "Cold store", part{"KRILL", "60"}, part{"PREMIX", "12"})
	deposit := b.billedAhead(-19, winter, b.agree(-20, winter, "deposit", "50%", "", -17), "BF-D071")
	b.paid(-18, deposit, "card", "card of the aquarium")
	b.on(-18, 14, func() error { // it was the bank after all
		sheet, err := views.Invoice(b.ctx, b.app, *deposit, b.actors["tomas"])
		if err != nil {
			return err
		}
		_, err = payments.TakeBackSettled(b.ctx, b.app, b.as("tomas"), payments.SettledEnd{
			Number: sheet.Settlements[0].Number, Reason: "The card was refused.",
		})
		return err
	})
	b.on(-18, 15, func() error { return b.settle(*deposit, -18, "bank", "statement 51") })
	b.deliver(-6, winter, "DN 5522", counted{1: "40"})
	part := b.take(-5, bill{seller: "BRACK", number: "BF-20931", on: winter, date: -5, lines: []trade.InvoiceLine{item(1, "KRILL", "40")}})
	b.use(-5, part, "BF-D071", winter, "")
	b.on(-5, 11, func() error {
		prepayment, err := b.aheadNumber(*winter, "BF-D071")
		if err != nil {
			return err
		}
		_, err = invoices.TakeBackAhead(b.ctx, b.app, b.as("nora"), invoices.AheadUseEnd{Invoice: *part, Prepayment: prepayment, Reason: "In proportion, as agreed."})
		return err
	})
	b.on(-5, 12, func() error { return b.used(*part, *winter, "BF-D071", "200.00") })

	dish := b.free(-13, 40, "OSTRE", "Touch pool, fibreglass, made to drawing", "C62", "1", "3200.00", "EXHIB")
	ahead := b.agree(-13, dish, "deposit", "20%", "with the order", -10) // the workshop writes no invoice for it
	b.on(-12, 11, func() error {
		_, err := invoices.RequestAhead(b.ctx, b.app, b.as("ivo"), invoices.RequestEntry{Order: *dish, Agreement: *ahead})
		return err
	})

	b.on(-11, 9, func() error { // it is paid when the pool stands
		_, err := invoices.SetOrderTerms(b.ctx, b.app, b.as("ivo"), invoices.TermsEntry{
			Number: *dish, Terms: &trade.Terms{NetDays: 14, FromReceipt: true}, Note: "Paid when it stands and holds water.",
		})
		return err
	})

	tank := b.free(-28, 30, "OSTRE", "Quarantine tank 2 m, welded", "C62", "1", "2400.00", "EXHIB")
	b.paid(-22, b.billedAhead(-25, tank, b.agree(-28, tank, "deposit", "25%", "with the order", -22), "OF-D9"), "bank", "statement 46")
	b.on(-4, 10, func() error {
		_, err := orders.Cancel(b.ctx, b.app, b.as("ivo"), *tank, 0, "The hospital is built without it.")
		return err
	})
}

// agree plans that money ahead is agreed on an order.
func (b *builder) agree(n int, order *int64, kind, share, event string, expected int) *int64 {
	number := new(int64)
	b.on(n, 9, func() error {
		agreed, err := orders.Agree(b.ctx, b.app, b.as("ivo"), orders.AheadEntry{
			Order: *order, Kind: kind, Share: share, Event: event, ExpectedOn: b.today.Add(expected),
		})
		*number = agreed.Number
		return err
	})
	return number
}

// billedAhead plans that the supplier's invoice for money ahead is keyed.
func (b *builder) billedAhead(n int, order, agreement *int64, number string) *int64 {
	keyed := new(int64)
	b.on(n, 10, func() error {
		of, inv, err := views.ProposedAhead(b.ctx, b.app, *order, *agreement)
		if err != nil {
			return err
		}
		inv.Date = b.today.Add(n)
		totals, err := inv.Totals()
		if err != nil {
			return err
		}
		supplier, err := views.Order(b.ctx, b.app, *order, b.actors["nora"])
		if err != nil {
			return err
		}
		entry := invoices.Entry{
			Kind: trade.PrepaymentInvoice, Supplier: supplier.Supplier.Code, Order: *order, Agreement: *agreement, Number: number, Date: inv.Date,
			Currency: of.Currency, StatedTotal: money.Entered(totals.Total.Text(of.Currency)),
		}
		for _, l := range inv.Lines {
			entry.Lines = append(entry.Lines, invoices.EntryLine{
				Description: l.Description, Unit: l.Unit, Quantity: l.Quantity, Price: l.Price, TaxCategory: l.TaxCategory, TaxRate: l.TaxRate,
			})
		}
		captured, err := invoices.Key(b.ctx, b.app, b.as("nora"), entry)
		*keyed = captured.Number
		return err
	})
	return keyed
}

// paid plans that an invoice is paid outside a run.
func (b *builder) paid(n int, invoice *int64, way, reference string) {
	b.on(n, 13, func() error { return b.settle(*invoice, n, way, reference) })
}

func (b *builder) settle(invoice int64, n int, way, reference string) error {
	_, err := payments.SettleOtherwise(b.ctx, b.app, b.as("tomas"), payments.OtherwiseEntry{
		Invoice: invoice, Way: way, Day: b.today.Add(n), Reference: reference,
	})
	return err
}

// use plans that an invoice uses money ahead: so much of it, or all that it can.
func (b *builder) use(n int, invoice *int64, prepayment string, order *int64, amount string) {
	b.on(n, 10, func() error { return b.used(*invoice, *order, prepayment, amount) })
}

func (b *builder) used(invoice, order int64, prepayment, amount string) error {
	number, err := b.aheadNumber(order, prepayment)
	if err != nil {
		return err
	}
	_, err = invoices.UseAhead(b.ctx, b.app, b.as("nora"), invoices.AheadUseEntry{Invoice: invoice, Prepayment: number, Amount: money.Entered(amount)})
	return err
}

// aheadNumber is Lagoon's number of an invoice for money ahead of an order.
func (b *builder) aheadNumber(order int64, supplierNumber string) (number int64, err error) {
	sheet, err := views.Order(b.ctx, b.app, order, b.actors["nora"])
	for _, m := range sheet.Ahead {
		for _, i := range m.Invoices {
			if i.SupplierNumber == supplierNumber {
				number = i.Number
			}
		}
	}
	return number, err
}
