package demo

import (
	"os"
	"path/filepath"

	"lagoon/internal/act"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/outside/bank"
	"lagoon/internal/store"
)

// morning is the last weeks and today: work in every state, and the day's post.
func (b *builder) morning() {
	vitamins, fish, fishBill := b.settled()
	b.lapsed()
	premix := b.feed()
	salt := b.late()
	b.held()
	b.odd()
	bags := b.payable()
	b.arrivals()
	b.mail()
	b.credits(vitamins, premix, bags)
	b.claims(fish, fishBill)
	b.costs()
	b.approvals()
	b.tankers()
	b.questions(salt, premix)
	b.keptLists()
	b.plans()
	b.statements()
	b.monthEnd()
	b.ahead()
}

// tankers: two of them came this morning, and the invoice of the second, which names its delivery note and no order, lies
// in the post.
func (b *builder) tankers() {
	salt := b.order(0, 9, "HALDE", "N. Ferrow, Water", "Silo", part{"SALT", "40"})
	b.deliver(0, salt, "HS 881", counted{1: "20"})
	b.deliver(0, salt, "HS 882", counted{1: "16"})
	b.leave("13-by-delivery-note.xml", bill{
		seller: "HALDE",
		number: "77-0207",
		notes:  []string{"HS 882"},
		lines:  []trade.InvoiceLine{item(1, "SALT", "16")},
	})
	b.key("HALDE", "77-0206", salt, "SALT", "20", "HS 881", false)
	bags := b.order(0, 9, "SALTM", "Shop", "Shop", part{"BAGS", "20"})
	b.deliver(0, bags, "7751", counted{1: "18"})
	b.key("SALTM", "SP-8251", bags, "BAGS", "18", "", true)
}

// key plans that the clerk keys an invoice over the first line of an order this morning: of a delivery note, or the last one.
func (b *builder) key(seller, number string, on *int64, code, quantity, note string, last bool) {
	b.on(0, 9, func() error {
		g := goodOf(code)
		line := invoices.EntryLine{
			OrderLine: 1, Description: g.Name, Unit: g.Unit, Quantity: money.MustDecimal(quantity), Price: money.MustDecimal(g.price),
			TaxCategory: category(g.rate), TaxRate: money.Int(g.rate), Notes: note,
		}
		entry := invoices.Entry{Supplier: seller, Order: *on, Number: number, Date: b.today, Final: last, StatedTotal: "0",
			Lines: []invoices.EntryLine{line}}
		plan, err := invoices.Plan(b.ctx, b.app, b.as("nora").Actor, entry, 0)
		if err != nil {
			return err
		}
		entry.StatedTotal = plan.Totals.Total.Entered(plan.Invoice.Currency)
		_, err = invoices.Key(b.ctx, b.app, b.as("nora"), entry)
		return err
	})
}

// described is an invoice line that is no item.
func described(no int, text, unit, quantity, price string, rate int64) trade.InvoiceLine {
	l := item(no, "KRILL", quantity, price)
	l.SupplierCode, l.Description, l.Unit, l.TaxCategory, l.TaxRate = "", text, unit, category(rate), money.Int(rate)
	return l
}

// settled: ordinary orders, one with a price that was accepted, and a panel whose
// invoice was verified this morning. Fish is the last of the weekly rounds.
func (b *builder) settled() (vitamins, fish, fishBill *int64) {
	vitamins = b.order(-34, -27, "BRACK", "L. Marr, Feeding", "Cold store", part{"PREMIX", "10"})
	b.deliver(-28, vitamins, "DN 5401", counted{1: "10"})
	dearer := b.take(
		-27,
		bill{
			seller: "BRACK",
			number: "BF-20344",
			on:     vitamins,
			date:   -27,
			lines:  []trade.InvoiceLine{item(1, "PREMIX", "10", "63.90")},
		},
	)
	b.on(-26, 10, func() error {
		_, err := invoices.AcceptFinding(
			b.ctx,
			b.app,
			b.as("ada"),
			invoices.AcceptEntry{
				Invoice: *dearer,
				Kind:    finding.UnitPrice,
				Line:    1,
				Note:    "Agreed by telephone: their vitamin supplier changed.",
			},
		)
		return err
	})
	for n := -21; n <= -14; n += 7 {
		fish, fishBill = b.round(n, "BRACK", part{"KRILL", "90"}, part{"SQUID", "120"}, part{"PREMIX", "10"})
	}
	panel := b.free(-30, -2, "MIRRE", "Acrylic panel 1400 × 900 × 40, ray pool", "C62", "1", "1306.20", "EXHIB")
	b.deliver(-3, panel, "MA 0455", counted{1: "1"})
	b.take(
		0,
		bill{
			seller: "MIRRE",
			number: "MA-907",
			on:     panel,
			date:   -2,
			lines:  []trade.InvoiceLine{described(1, "Acrylic panel 1400 × 900 × 40", "C62", "1", "1306.20", 0)},
		},
	)
	return vitamins, fish, fishBill
}

// lapsed: a difference was accepted and grew when goods went back, so that it stood open
// again; the supplier sent the invoice anew.
func (b *builder) lapsed() {
	boxes := b.order(-64, -57, "SALTM", "H. Reyes, Hospital", "Hospital", part{"BOXES", "100"})
	delivered := new(int64)
	b.on(-57, 8, func() error {
		booked, err := receiving.BookDelivery(
			b.ctx,
			b.app,
			b.as("lewis"),
			receiving.DeliveryEntry{
				Order: *boxes,
				Entry: receive.Entry{
					Note:  "7688",
					Day:   b.today.Add(-57),
					Place: "Hospital",
					Lines: []receive.Line{{No: 1, Quantity: money.Int(96), Close: true}},
				},
			},
		)
		*delivered = booked.Number
		return err
	})
	first := b.take(
		-56,
		bill{
			seller: "SALTM",
			number: "SP-8104",
			on:     boxes,
			date:   -57,
			wrong:  20_00,
			lines:  []trade.InvoiceLine{item(1, "BOXES", "100")},
		},
	)
	b.on(-55, 10, func() error {
		_, err := invoices.AcceptFinding(
			b.ctx,
			b.app,
			b.as("ada"),
			invoices.AcceptEntry{
				Invoice: *first,
				Kind:    finding.OverReceived,
				Line:    1,
				Note:    "Four follow with the next order.",
			},
		)
		return err
	})
	b.on(-54, 10, func() error {
		_, err := receiving.BookReturn(
			b.ctx,
			b.app,
			b.as("lewis"),
			receive.ReturnEntry{
				Delivery: *delivered,
				Day:      b.today.Add(-54),
				Outcome:  receive.Credit,
				Reason:   "Two lids do not close.",
				Lines:    []receive.ReturnLine{{No: 1, Quantity: money.Int(2)}},
			},
		)
		return err
	})
	b.on(-53, 10, func() error {
		_, err := invoices.Refuse(
			b.ctx,
			b.app,
			b.as("nora"),
			invoices.Refusal{Ending: act.Ending{Invoice: *first, Reason: "Wrong total and quantity; they send it anew."}},
		)
		return err
	})
	b.take(
		-50,
		bill{
			seller: "SALTM",
			number: "SP-8109",
			on:     boxes,
			date:   -51,
			lines:  []trade.InvoiceLine{item(1, "BOXES", "94")},
		},
	)
}

// feed is the order of the story: part received, part invoiced, the rest due today.
func (b *builder) feed() (order *int64) {
	order = b.order(
		-21,
		0,
		"BRACK",
		"L. Marr, Feeding",
		"Cold store",
		part{"KRILL", "100"},
		part{"CAPELIN", "250"},
		part{"PREMIX", "20"},
	)
	b.deliver(-14, order, "DN 5438", counted{1: "60", 3: "20"})
	b.take(
		-12,
		bill{
			seller: "BRACK",
			number: "BF-20377",
			on:     order,
			date:   -13,
			lines:  []trade.InvoiceLine{item(1, "KRILL", "60"), item(3, "PREMIX", "20")},
		},
	)
	b.leave(
		"2-before-the-goods.xml",
		bill{
			seller: "BRACK",
			number: "BF-20431",
			on:     order,
			date:   0,
			lines:  []trade.InvoiceLine{item(1, "KRILL", "44"), item(2, "CAPELIN", "237.5")},
		},
	)
	return order
}

// late: goods that should be here, one of them invoiced already; goods at sea.
func (b *builder) late() (invoice *int64) {
	salt := b.order(-16, -3, "HALDE", "N. Ferrow, Water", "Silo", part{"SALT", "24"})
	invoice = b.take(
		-4,
		bill{seller: "HALDE", number: "77-0192", on: salt, date: -5, lines: []trade.InvoiceLine{item(1, "SALT", "24")}},
	)
	filters := b.order(-12, 1, "OSTRE", "N. Ferrow, Water", "Plant room", part{"SAND", "60"}, part{"CARBON", "150"})
	b.deliver(-5, filters, "LS 88120", counted{1: "36"})
	b.take(
		-1,
		bill{
			seller: "OSTRE",
			number: "OF-3415",
			on:     filters,
			date:   -2,
			lines:  []trade.InvoiceLine{item(1, "SAND", "60"), item(2, "CARBON", "150")},
		},
	)
	pumps := b.order(-40, 11, "TIDEW", "I. Sandell, Plant", "Plant room", part{"PUMP", "2"}, part{"SEALKIT", "6"})
	b.on(-20, 11, func() error {
		_, err := holds.SaveReason(b.ctx, b.app, b.as("rhea"), store.OwnReason{Name: "certificate awaited"})
		if err != nil {
			return err
		}
		_, err = holds.HoldOrder(b.ctx, b.app, b.as("ivo"), holds.HoldEntry{
			Order: *pumps, Line: 1, Reason: "certificate awaited", Note: "The pressure test of both pumps is still to come.",
			Blocks: trade.Blocks{trade.BlocksReleasing, trade.BlocksPaying}, Clears: "buyer",
			Ends: trade.HoldEnds{Until: trade.UntilDay, Day: b.today.Add(25)},
		})
		return err
	})
	return invoice
}

// held: a price past its limit and more invoiced than received.
func (b *builder) held() {
	order := b.order(
		-20,
		-8,
		"BRACK",
		"L. Marr, Feeding",
		"Cold store",
		part{"KRILL", "100"},
		part{"CAPELIN", "250"},
		part{"PREMIX", "20"},
	)
	b.deliver(-9, order, "DN 5490", counted{1: "104", 2: "237.5!", 3: "20"})
	b.take(-1, bill{seller: "BRACK", number: "BF-20418", on: order, date: -7, freight: "85.00",
		lines: []trade.InvoiceLine{
			item(1, "KRILL", "104"),
			item(2, "CAPELIN", "250"),
			item(3, "PREMIX", "20", "62.50"),
		}})
}

// odd: invoices with something missing or wrong.
func (b *builder) odd() {
	boxes := b.order(-13, -6, "SALTM", "H. Reyes, Hospital", "Hospital", part{"BOXES", "200"})
	b.deliver(-6, boxes, "7719", counted{1: "200"})
	misadded := b.take(
		-2,
		bill{
			seller: "SALTM",
			number: "SP-8230",
			on:     boxes,
			date:   -3,
			wrong:  12_00,
			lines:  []trade.InvoiceLine{item(1, "BOXES", "200")},
		},
	)
	b.on(-12, 9, func() error {
		_, err := orders.RequireNotice(b.ctx, b.app, b.as("ivo"), orders.NoticeEntry{Order: *boxes, Days: "1"})
		return err
	})
	b.on(-1, 9, func() error {
		_, err := invoices.TakeInvoice(b.ctx, b.app, b.as("nora"), *misadded, "")
		return err
	})
	b.on(-1, 10, func() error { // their own supplier is paid for this one
		_, err := invoices.SetPayee(b.ctx, b.app, b.as("nora"), invoices.PayeeEntry{
			Invoice: *misadded, Payee: "OSTRE", Note: "Assigned to Ostrea: their letter of last week.",
		})
		return err
	})
	b.on(-1, 15, func() error {
		_, err := invoices.ConfirmPayee(b.ctx, b.app, b.as("tomas"), invoices.PayeeSeen{
			Invoice: *misadded, Payee: "OSTRE", IBAN: sellerOf("OSTRE").IBAN, Checked: "Called both by the numbers on our order.",
		})
		return err
	})
	b.take(
		-1,
		bill{
			seller: "CORRA",
			number: "CV 88",
			date:   -3,
			lines:  []trade.InvoiceLine{described(1, "Visit: harbour seal, wound care", "HUR", "4", "160.00", 0)},
		},
	)
	b.take(
		-1,
		bill{
			name:   "Fernhollow Print",
			number: "2026-118",
			order:  "none",
			date:   -4,
			lines:  []trade.InvoiceLine{described(1, "Visitor leaflets, 5,000", "C62", "1", "412.00", 23)},
		},
	)
}

// payable: invoices to release, one on hold, one that names another bank account, one
// whose payment the bank rejected, and a run that waits for its second person.
func (b *builder) payable() (bags *int64) {
	parcels := b.free(-18, -9, "PELLW", "Live transport boxes, return freight", "C62", "6", "48.00", "HOSP")
	b.deliver(-10, parcels, "PW 10071", counted{1: "6"})
	b.take(
		-9,
		bill{
			seller: "PELLW",
			number: "PC-1007",
			on:     parcels,
			date:   -9,
			lines:  []trade.InvoiceLine{described(1, "Return freight, transport boxes", "C62", "6", "48.00", 0)},
		},
	)
	b.friday(-8, bank.Debit, bank.Fee)
	lamps := b.order(-25, -6, "OSTRE", "N. Ferrow, Water", "Plant room", part{"UVLAMP", "8"})
	b.deliver(-6, lamps, "LS 88097", counted{1: "8"})
	changed := b.take(
		-3,
		bill{
			seller:  "OSTRE",
			number:  "OF-3402",
			on:      lamps,
			date:    -5,
			account: iban("DE", "990200330000999900"),
			lines:   []trade.InvoiceLine{item(1, "UVLAMP", "8")},
		},
	)
	b.on(-3, 16, func() error {
		held, err := holds.Hold(
			b.ctx,
			b.app,
			b.as("nora"),
			holds.HoldEntry{
				Invoice: *changed,
				Reason:  "goods",
				Note:    "One lamp did not light; the plant room tries it again.",
			},
		)
		if err != nil {
			return err
		}
		_, err = holds.Lift(
			b.ctx,
			b.app,
			b.as("nora"),
			holds.LiftEntry{Hold: held.Number, Note: "A loose plug. All eight work."},
		)
		return err
	})
	b.round(-10, "HALDE", part{"SALT", "12"})
	bags = b.order(-15, -5, "SALTM", "Shop", "Shop", part{"BAGS", "20"})
	b.deliver(-5, bags, "7731", counted{1: "20"})
	stained := b.take(
		-3,
		bill{seller: "SALTM", number: "SP-8236", on: bags, date: -4, lines: []trade.InvoiceLine{item(1, "BAGS", "20")}},
	)
	b.on(-2, 15, func() error {
		_, err := holds.Hold(
			b.ctx,
			b.app,
			b.as("nora"),
			holds.HoldEntry{
				Invoice: *stained,
				Reason:  "goods",
				Note:    "Two boxes look water-stained; the shop is checking.",
			},
		)
		return err
	})
	b.on(-1, 16, func() error {
		_, err := b.run(-1, 9)
		return err
	})
	return bags
}

// arrivals: received, and the invoice for it lies in the post or has not come.
func (b *builder) arrivals() {
	plant := b.order(-11, -2, "OSTRE", "N. Ferrow, Water", "Plant room", part{"CARBON", "80"}, part{"UVLAMP", "2"})
	b.deliver(-2, plant, "LS 88131", counted{1: "80", 2: "2"})
	b.leave(
		"1-agrees.xml",
		bill{
			seller: "OSTRE",
			number: "OF-3420",
			on:     plant,
			date:   -1,
			lines:  []trade.InvoiceLine{item(1, "CARBON", "80"), item(2, "UVLAMP", "2")},
		},
	)
	feed := b.order(
		-10,
		-2,
		"BRACK",
		"L. Marr, Feeding",
		"Cold store",
		part{"KRILL", "50"},
		part{"CAPELIN", "200"},
		part{"PREMIX", "10"},
	)
	b.deliver(-2, feed, "DN 5507", counted{1: "50", 2: "190!", 3: "10"})
	b.leave(
		"3-price-and-quantity.xml",
		bill{
			seller: "BRACK",
			number: "BF-20440",
			on:     feed,
			date:   -1,
			lines: []trade.InvoiceLine{
				item(1, "KRILL", "50"),
				item(2, "CAPELIN", "200"),
				item(3, "PREMIX", "10", "63.00"),
			},
		},
	)
	plain := b.order(-9, -1, "BRACK", "L. Marr, Feeding", "Cold store", part{"KRILL", "40"}, part{"SQUID", "60"})
	b.deliver(-1, plain, "DN 5509", counted{1: "40", 2: "60"})
	b.printed(plain)
	b.begun(feed, plant)
}

// mail: files that cannot be read, or not be matched.
func (b *builder) mail() {
	b.leave(
		"4-unknown-order.xml",
		bill{
			seller: "OSTRE",
			number: "OF-3421",
			order:  "9999",
			date:   -1,
			lines:  []trade.InvoiceLine{item(1, "SAND", "5")},
		},
	)
	b.leave(
		"5-does-not-add-up.xml",
		bill{
			seller: "HALDE",
			number: "77-0201",
			order:  "4003",
			date:   -1,
			wrong:  -7_50,
			lines:  []trade.InvoiceLine{item(1, "SALT", "1")},
		},
	)
	for name, text := range map[string]string{
		"6-not-an-invoice.xml": "<?xml version=\"1.0\"?>\n<greeting>The tide table for next week is attached.</greeting>\n",
		"7-not-xml.xml":        "Dear all, please find our invoice enclosed.\n",
	} {
		b.on(0, 9, func() error { return os.WriteFile(filepath.Join(b.post, name), []byte(text), 0o644) })
	}
}
