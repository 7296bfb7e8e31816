package demo

import (
	"lagoon/internal/core/money"
	"lagoon/internal/jobs/orders"
)

// approvals are orders above their buyer's authority: one that Ivo approved yesterday, and one that waits for him this
// morning.
func (b *builder) approvals() {
	pool := b.above(10, 14, "Quarantine pool, foldable", "880.00")
	b.on(-1, 15, func() error {
		_, err := orders.Approve(b.ctx, b.app, b.as("ivo"), orders.Decision{Order: *pool, Note: "For the two pups; before the weekend."})
		return err
	})
	b.above(16, 21, "Incubator for rescued turtles", "1460.00")
}

// above plans that Maren orders something for the hospital of which she may not decide alone.
func (b *builder) above(hour, wanted int, what, price string) *int64 {
	number := new(int64)
	b.on(-1, hour, func() error {
		issued, err := orders.Issue(b.ctx, b.app, b.as("maren"), orders.Entry{
			Supplier:    "MIRRE",
			WantedOn:    b.today.Add(wanted),
			RequestedBy: "Maren Tolk",
			Lines: []orders.EntryLine{{
				Description: what,
				Unit:        "C62",
				Quantity:    money.Int(1),
				Price:       money.MustDecimal(price),
				TaxRate:     money.Int(23),
				Budget:      "HOSP",
			}},
		})
		*number = issued.Number
		return err
	})
	return number
}
