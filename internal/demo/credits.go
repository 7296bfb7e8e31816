package demo

import (
	"fmt"

	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// credits are this morning's: tubs that went back and are credited already, a price that the supplier met half-way,
// and boxes that went back today, for which a credit note of one too many lies in the post.
func (b *builder) credits(vitamins, premix, bags *int64) {
	b.sendBack(0, premix, 3, 3, "Three tubs are past their date.")
	b.take(
		0,
		bill{
			seller:  "BRACK",
			number:  "BF-C611",
			credits: "BF-20377",
			on:      premix,
			date:    0,
			lines:   []trade.InvoiceLine{item(3, "PREMIX", "3")},
		},
	)
	b.priceBack(-20, vitamins, "BF-C598", "0.50", "6.15", "For the late pallet.") // taken off that week's payment
	b.priceBack(0, vitamins, "BF-C612", "1.45", "17.84", "They met us half-way.")
	b.sendBack(0, bags, 1, 2, "Two boxes are water-stained.")
	b.leave(
		"9-credit-note.xml",
		bill{
			seller:  "SALTM",
			number:  "SP-C41",
			credits: "SP-8236",
			on:      bags,
			date:    0,
			lines:   []trade.InvoiceLine{item(1, "BAGS", "3")},
		},
	)
}

// priceBack plans that a credit note over a part of the price of ten tubs is keyed.
func (b *builder) priceBack(n int, order *int64, number, price, total, note string) {
	b.on(n, 10, func() error {
		_, err := invoices.Key(b.ctx, b.app, b.as("nora"), invoices.Entry{
			Kind:        trade.CreditNote,
			Supplier:    "BRACK",
			Order:       *order,
			Number:      number,
			Credited:    "BF-20344",
			Date:        b.today.Add(n),
			StatedTotal: money.Entered(total),
			Note:        note,
			Lines: []invoices.EntryLine{{
				OrderLine:   1,
				Description: "Vitamin premix",
				Quantity:    money.Int(10),
				Unit:        "XTB",
				Price:       money.MustDecimal(price),
				TaxCategory: "S",
				TaxRate:     money.Int(23),
				Credits:     trade.ForPrice,
			}},
		})
		return err
	})
}

// claims: thawed krill went back, and a credit note for it is claimed; it lies in the post.
func (b *builder) claims(fish, invoice *int64) {
	b.sendBack(-2, fish, 1, 2, "Two cartons had thawed.")
	b.on(-2, 10, func() error {
		plan, err := invoices.PlanClaim(b.ctx, b.app, invoices.ClaimEntry{Invoice: *invoice})
		if err != nil {
			return err
		}
		_, err = invoices.ClaimInvoice(b.ctx, b.app, b.as("nora"), invoices.ClaimEntry{
			Invoice: *invoice,
			Note:    "Core at −9 °C when they came.",
			Letter:  &invoices.Letter{Way: store.ByMail, To: plan.To, Subject: plan.Subject, Text: plan.Text},
		})
		return err
	})
	b.on(0, 9, func() error {
		sheet, err := views.Invoice(b.ctx, b.app, *invoice, b.actors["nora"])
		if err != nil {
			return err
		}
		return b.lay("10-claim-credited.xml", bill{
			seller:  "BRACK",
			number:  "BF-C615",
			credits: sheet.Invoice.SupplierNumber,
			on:      fish,
			lines:   []trade.InvoiceLine{item(1, "KRILL", "2")},
		})
	})
}

// sendBack plans that goods of an order's first delivery go back on a day, for credit.
func (b *builder) sendBack(n int, order *int64, line int, quantity int64, reason string) {
	b.on(n, 9, func() error {
		sheet, err := views.Order(b.ctx, b.app, *order, b.actors["lewis"])
		if err != nil {
			return err
		}
		receipts := sheet.Order.Line(line).Receipts
		if len(receipts) == 0 {
			return fmt.Errorf("nothing of order %d has come", *order)
		}
		_, err = receiving.BookReturn(b.ctx, b.app, b.as("lewis"), receive.ReturnEntry{
			Delivery: receipts[0].Delivery,
			Day:      b.today.Add(n),
			Outcome:  receive.Credit,
			Reason:   reason,
			Lines:    []receive.ReturnLine{{No: line, Quantity: money.Int(quantity)}},
		})
		return err
	})
}
