package main

import (
	"fmt"
	"slices"
	"time"

	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// matching tells how the time of a match grows with the invoice's lines, over 20 orders, and with the receipts of an order
// line. Each is matched in turn with the others; the median counts.
func matching(rounds int) error {
	cases := []struct {
		name            string
		lines, receipts int
		facts           match.Facts
		took            []time.Duration
	}{
		{name: "an invoice of 1,000 lines over 20 orders", lines: 1_000, receipts: 1},
		{name: "an invoice of 10,000 lines over 20 orders", lines: 10_000, receipts: 1},
		{name: "one line with 1,000 receipts", lines: 1, receipts: 1_000},
		{name: "one line with 10,000 receipts", lines: 1, receipts: 10_000},
	}
	for i, c := range cases {
		cases[i].facts = agreeing(c.lines, c.receipts)
	}
	for range rounds {
		for i := range cases {
			c := &cases[i]
			again := 20_000 / max(c.lines, c.receipts)
			started := time.Now()
			for range again {
				result, err := match.Run(c.facts)
				if err != nil {
					return err
				}
				if !result.Verifies() || len(result.Allocations) != c.lines*c.receipts {
					return fmt.Errorf("%s is %s with %d allocations", c.name, result.Verdict, len(result.Allocations))
				}
			}
			c.took = append(c.took, time.Since(started)/time.Duration(again))
		}
	}
	fmt.Printf("\n| matching | time | ÷ a tenth as many, goal 12 for lines |\n|---|--:|--:|\n")
	for i, c := range cases {
		slices.Sort(c.took)
		ratio := ""
		if i%2 == 1 {
			ratio = fmt.Sprintf("**%.1f**", float64(c.took[rounds/2])/float64(cases[i-1].took[rounds/2]))
		}
		fmt.Printf("| %s | %d µs | %s |\n", c.name, c.took[rounds/2].Microseconds(), ratio)
	}
	return nil
}

// agreeing is an invoice that agrees: each line is about a line of its own of one of 20 orders, received in so many
// parts of one piece.
func agreeing(lines, receipts int) match.Facts {
	const orders = 20
	one, price := money.Int(1), money.MustDecimal("12.50")
	f := match.Facts{
		Invoice: trade.Invoice{ID: 1, Kind: trade.PlainInvoice, SupplierID: 1, OrderID: 1, SupplierNumber: "L-1",
			Date: "2026-11-20", CapturedOn: "2026-11-20", PostingDay: "2026-11-20", Currency: "EUR", Rate: one},
		Today: "2026-11-20", Company: "EUR",
		Supplier: &trade.Supplier{ID: 1, Name: "Brackwater", IBAN: "X"},
	}
	for n := range orders {
		f.Orders = append(f.Orders, &trade.Order{ID: int64(n + 1), Number: int64(n + 1), SupplierID: 1, Currency: "EUR", State: trade.Issued})
	}
	for n := range lines {
		order := f.Orders[n%orders]
		line := &trade.OrderLine{ID: int64(n + 1), No: len(order.Lines) + 1, Description: "Krill", Unit: "C62", Base: one, Price: price,
			Quantity: money.Int(int64(receipts)), Received: money.Int(int64(receipts)), Net: money.Amount(12_50 * receipts),
			Level: trade.ThreeWay, TaxCategory: "Z"}
		for r := range receipts {
			line.Receipts = append(line.Receipts, &trade.Receipt{ID: int64(n*receipts + r + 1), Quantity: one, Day: "2026-11-19", PostedOn: "2026-11-19"})
		}
		order.Lines = append(order.Lines, line)
		f.Invoice.Lines = append(f.Invoice.Lines, trade.InvoiceLine{No: n + 1, OrderID: order.ID, OrderLineID: line.ID, Description: "Krill",
			Quantity: line.Quantity, Unit: "C62", Price: price, Base: one, TaxCategory: "Z"})
		f.Invoice.StatedTotal += line.Net
	}
	return f
}
