package demo

import (
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/lists"
	"lagoon/internal/store"
)

// keptLists: what two people look up again and again, and what one of them mailed to the accountant.
func (b *builder) keptLists() {
	keep := func(who string, entry lists.Entry) {
		b.on(-20, 10, func() error {
			_, err := lists.Keep(b.ctx, b.app, b.as(who), entry)
			return err
		})
	}
	keep("ivo", lists.Entry{Name: "Open, by supplier", List: "orders", Asked: lists.Asked{Show: "open", Group: "supplier"}, ForAll: true})
	b.on(-19, 9, func() error {
		_, err := lists.Mail(b.ctx, b.app, b.as("nora"), lists.Mailing{
			List: "owed", Asked: lists.Asked{Group: "supplier"}, As: lists.PDF, To: "books@skerry.example", Text: "What we owe this morning, by supplier.",
		})
		return err
	})
	keep("ivo", lists.Entry{
		Name: "To chase", List: "waiting", Asked: lists.Asked{Show: "chase;mine"}, ForAll: true, WeeklyTo: lists.Each, WeeklyAs: lists.PDF, Daily: true,
	})
	b.on(-18, 11, func() error { // the feed is billed apart from what else we write ourselves
		_, err := invoices.KeepSelfBilling(b.ctx, b.app, b.as("nora"), store.SelfBillingKept{Name: "Cold store only", Place: "Cold store"})
		return err
	})
	b.on(-21, 10, func() error { // their boat comes when it comes
		_, err := masters.SaveChase(b.ctx, b.app, b.as("ivo"), masters.ChaseEntry{
			Supplier: "HALDE", Days: map[trade.Awaited]string{trade.AwaitedGoods: "5", trade.AwaitedInvoice: "4", trade.AwaitedNotice: "2"},
		})
		return err
	})
	b.on(-22, 8, func() error { // mails come by the mailbox; nobody drops files into a folder
		_, err := masters.SaveWayIn(b.ctx, b.app, b.as("rhea"), masters.WayInEntry{WayIn: store.WayIn{Way: store.MailByFolder}}, nil)
		return err
	})
	keep("nora", lists.Entry{Name: "Held, oldest first", List: "invoices", Asked: lists.Asked{Show: "held", Sort: "date"}})
}
