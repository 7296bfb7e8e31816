package demo

import "lagoon/internal/lists"

// keptLists: what two people look up again and again.
func (b *builder) keptLists() {
	keep := func(who string, entry lists.Entry) {
		b.on(-20, 10, func() error {
			_, err := lists.Keep(b.ctx, b.app, b.as(who), entry)
			return err
		})
	}
	keep("ivo", lists.Entry{Name: "Open, by supplier", List: "orders", Asked: lists.Asked{Show: "open", Group: "supplier"}, ForAll: true})
	keep("nora", lists.Entry{Name: "Held, oldest first", List: "invoices", Asked: lists.Asked{Show: "held", Sort: "date"}})
}
