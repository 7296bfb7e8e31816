package demo

import (
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/filekind"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
)

// costs are what comes without an order: harbour dues every month, a hoist that is a fixed asset and was above Ada's
// authority, a German fitter's work under reverse charge, the courier's month that waits for her approval, and today's dues in the post, a little dearer.
func (b *builder) costs() {
	for i, n := range []int{-91, -61, -30} {
		dues := b.code(
			n,
			"HARBR",
			[]string{"HD-0907", "HD-1007", "HD-1107"}[i],
			"Berth and slipway dues",
			"180.00",
			"TECH",
		)
		b.approve(n, 12, "ada", dues, "")
	}
	hoist := b.code(-22, "MIRRE", "MA-880", "Hoist over the ray pool", "4800.00", "BUILD")
	b.on(-22, 14, func() error {
		_, err := invoices.PassApproval(b.ctx, b.app, b.as("ada"), invoices.ApprovalEntry{
			Invoice: *hoist, To: "ivo", Note: "Above what I may approve; you asked for it.",
		})
		return err
	})
	b.approve(-21, 9, "ivo", hoist, "As offered in spring.")
	fitter := b.code(-12, "OSTRE", "OF-S-61", "Ultraviolet plant set up on site", "460.00", "TECH", "RC23")
	b.approve(-11, 10, "ada", fitter, "")
	b.insurance()
	b.overhaul()
	b.letters()
	b.otherwise()
	b.faxed = b.receive(-1, 10, eml.Message{
		From: "Fax machine <fax@skerry-point.example>", Subject: "2 pages from Pellworm Couriers", Text: "2 pages.",
		Files: []eml.File{{Name: "fax-0417.tif", MediaType: filekind.TIFF, Content: faxedBill(b.today.Add(-1))}},
	})
	b.code(-1, "PELLW", "PC-1031", "Courier, November", "148.00", "HOSP 60, OFFICE 40")
	b.leave("12-to-somebody-else.xml", bill{
		seller: "HARBR",
		number: "HD-1208",
		to:     "Skerry Point Sailing Club",
		lines:  []trade.InvoiceLine{described(1, "Berth and slipway dues", "C62", "1", "96.00", 0)},
	})
	b.leave("11-harbour-dues.xml", bill{
		seller: "HARBR",
		number: "HD-1207",
		lines:  []trade.InvoiceLine{described(1, "Berth and slipway dues", "C62", "1", "192.00", 0)},
	})
}

// faxedBill is the courier's invoice with its list of journeys, as the fax machine took it.
func faxedBill(on day.Day) []byte {
	content, err := fax([]string{
		"Pellworm Couriers", "Quay 7, Pellworm", "", "Invoice", "", "Consignment PC-1031", "Invoice date " + on.Time().Format("2 January 2006"), "",
		"Courier, November, as listed\t148.00", "", "Total due EUR\t148.00",
	}, []string{
		"Pellworm Couriers", "Journeys of invoice PC-1031", "", "3 November, blood samples\t48.00", "11 November, papers\t50.00", "24 November, medicine\t50.00",
	})
	if err != nil {
		panic("demo: " + err.Error())
	}
	return content
}

// teaches is what papers that say it in words of their own taught when they were keyed.
var teaches = map[string][]reading.Rule{"PELLW": {{Field: reading.NumberField, Words: "Consignment"}}}

// code plans that the clerk keys an invoice of one line without an order.
func (b *builder) code(n int, seller, number, what, net, budget string, tax ...string) *int64 {
	keyed := new(int64)
	b.on(n, 11, func() error {
		point := day.Day("")
		if len(tax) > 0 {
			point = b.today.Add(n - 2) // when the work was done
		}
		entry := invoices.Entry{
			Supplier:    seller,
			Number:      number,
			Date:        b.today.Add(n),
			TaxPoint:    point,
			StatedTotal: money.Entered(net),
			Learned:     teaches[seller],
			Lines: []invoices.EntryLine{{
				Description: what,
				Unit:        "C62",
				Quantity:    money.Int(1),
				Price:       money.MustDecimal(net),
				TaxCategory: category(0),
				TaxCode:     strings.Join(tax, ""),
				Budget:      budget,
			}},
		}
		if number == "PC-1031" { // from the fax
			entry.Mail, entry.MailPart = *b.faxed, 1
		}
		captured, err := invoices.Key(b.ctx, b.app, b.as("nora"), entry)
		*keyed = captured.Number
		return err
	})
	return keyed
}

func (b *builder) approve(n, hour int, who string, invoice *int64, note string) {
	b.on(n, hour, func() error {
		_, err := invoices.ApproveInvoice(
			b.ctx,
			b.app,
			b.as(who),
			invoices.ApprovalEntry{Invoice: *invoice, Note: note},
		)
		return err
	})
}

// overhaul is work by value: Ivo, who asked for it, has accepted 40 per cent and it was invoiced; the fitters' invoice over
// the next stage waits until he says that it is done.
func (b *builder) overhaul() {
	stage := func(number, what, hours, price string, date int) bill {
		return bill{seller: "MIRRE", number: number, date: date,
			lines: []trade.InvoiceLine{described(1, what, "HUR", hours, price, 0)}}
	}
	order := b.issue(-24, orders.Entry{
		Supplier:    "MIRRE",
		WantedOn:    b.today.Add(6),
		About:       "Overhaul of the seal pool’s pumps",
		RequestedBy: "Ivo Sandell",
		Place:       "Pump house",
		Lines: []orders.EntryLine{{
			Description: "Overhaul of four pumps, as in their offer of 3 stages",
			Unit:        trade.MonetaryValue,
			Quantity:    money.Int(3600),
			Price:       money.Int(1),
			TaxCategory: category(0),
			Budget:      "TECH",
		}},
	})
	b.on(-10, 15, func() error {
		_, err := receiving.AcceptWork(b.ctx, b.app, b.as("ivo"), receiving.DeliveryEntry{
			Order: *order,
			Entry: receive.Entry{Note: "Report 1", Day: b.today.Add(-10), Lines: []receive.Line{
				{No: 1, Quantity: money.Int(40), Unit: trade.PerCent},
			}},
		})
		return err
	})
	first := stage("MA-891", "Fitters, stage 1", "32", "45.00", -8)
	first.on = order
	b.mailed(-7, first)
	second := stage("MA-902", "Fitters, stage 2", "24", "45.00", -2)
	second.on = order
	b.mailed(-1, second)
}

// insurance is a year's cost that is spread over its months; those that are over are posted.
func (b *builder) insurance() {
	month := b.today.Add(-100).Month()
	cover := new(int64)
	b.on(-98, 10, func() error {
		captured, err := invoices.Key(b.ctx, b.app, b.as("nora"), invoices.Entry{
			Supplier:    "HARBR",
			Number:      "HI-2201",
			Date:        b.today.Add(-99),
			Due:         b.today.Add(-75),
			StatedTotal: "480.00",
			Lines: []invoices.EntryLine{{
				Description: "Cover of the pier building, a year",
				Unit:        "C62",
				Quantity:    money.Int(1),
				Price:       money.Int(480),
				TaxCategory: category(0),
				Budget:      "OFFICE",
				Defer:       &trade.Deferral{From: month, Months: 12},
			}},
		})
		*cover = captured.Number
		return err
	})
	b.approve(-97, 12, "ada", cover, "")
	b.on(-97, 13, func() error {
		_, err := invoices.TakeDue(b.ctx, b.app, b.as("nora"), invoices.DueEntry{Invoice: *cover, Stated: true, Note: "The cover ends where it is paid late."})
		return err
	})
	b.on(-35, 17, func() error {
		_, err := invoices.PostDeferrals(b.ctx, b.app, b.as("tomas"), b.today.Add(-35))
		return err
	})
}
