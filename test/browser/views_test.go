package browser

import (
	"fmt"
	"lagoon/internal/store"
	"slices"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// TestViews opens every main view on the demo data; with LAGOON_SHOTS it keeps a
// picture of each.
func TestViews(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk := sit(t, h)
	clerk.open("/")
	clerk.see("Who would you like to be?")
	clerk.shot("sign-in")
	clerk.throughTheDoor("nora")
	clerk.see("Your turn")
	clerk.shot("invoices")
	clerk.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "BF-20418").Number))
	clerk.see("Held: 2 differences")
	clerk.see("BRACKWATER FEEDS")
	clerk.shot("invoice-held")
	mails := ask(t, h, func(tx *store.Tx) ([]store.Mail, error) { return tx.OpenMails() })
	printed := slices.IndexFunc(mails, func(m store.Mail) bool { return m.Subject == "Invoice BF-20466" })
	clerk.open(fmt.Sprintf("/invoices/key?mail=%d&part=1", mails[printed].Number))
	clerk.seeIn(".sheet", "Read, not checked")
	clerk.see("Everything agrees; the invoice verifies when it is captured")
	clerk.until("document.querySelector('.side .place')", "where the order stands on its paper")
	clerk.shot("invoice-keyed")
	clerk.open(fmt.Sprintf("/orders/%d", orderOf(t, h, "DN 5438")))
	clerk.seeIn(".thread", "Goods expected")
	clerk.shot("order")
	clerk.open("/holds")
	clerk.seeIn(".sheet", "Several at once")
	clerk.shot("holds")
	clerk.open("/payments")
	clerk.see("Release invoices for payment")
	clerk.shot("payments-release")
	clerk.open("/payments/proposed-run")
	clerk.seeIn(".sheet", "Halden Salt Works")
	clerk.shot("proposed-run")
	clerk.click("Run 352")
	clerk.see("To be approved")
	clerk.shot("payment-run")
	clerk.open("/lookup/journal")
	clerk.see("MA-907")
	clerk.letter("\u0301")
	clerk.keys("\r")
	clerk.see("Trade payables")
	clerk.shot("journal")
	clerk.open("/lookup/invoices")
	clerk.seeIn("table", "supplier unknown, order unknown")
	for pages := 1; pages <= 3; pages++ {
		clerk.click("Older invoices")
		clerk.until(fmt.Sprintf("document.querySelectorAll('table.grid tbody tr').length > %d", 60*pages), "they are here")
	}
	clerk.seeIn("table", "1001")
	clerk.accessible()

	buyer := sit(t, h)
	buyer.signIn("ivo")
	buyer.open("/orders/new")
	buyer.fill("#order-supplier", "brac\r")
	buyer.see("Item, or a description")
	for i, line := range [][2]string{{"krill", "90"}, {"capelin", "250"}, {"premix", "12"}} {
		buyer.focus(fmt.Sprintf("#order-item-%d", i))
		buyer.keys(line[0], "\r")
		buyer.until(fmt.Sprintf("document.activeElement.id === 'order-quantity-%d'", i), "the quantity")
		buyer.keys(line[1], "\r")
		buyer.until(fmt.Sprintf("document.activeElement.id === 'order-item-%d'", i+1), "the next line")
	}
	buyer.seeIn(".sum", "Net 5,213.00")
	buyer.shot("order-entry")
	buyer.open("/orders/closing")
	buyer.seeIn("table", "Marine salt, bulk")
	buyer.open("/setup/suppliers/BRACK")
	buyer.see("How it delivers")
	buyer.seeIn("table", "On time")
	buyer.shot("supplier")
	buyer.open("/setup/tables")
	buyer.see("Save as XLSX")
	buyer.open("/orders/planned")
	buyer.seeIn("table", "Activated carbon")
	buyer.open("/orders/reminders")
	buyer.see("Not acknowledged")
	buyer.shot("reminders")
	buyer.open("/setup/items/CLAM/edit")
	buyer.seeIn(".sheet", "Sold by")
	buyer.until("document.querySelector('#seller-0')?.value === 'Brackwater Feeds'", "its seller")
	buyer.accessible()

	administrator := sit(t, h)
	administrator.signIn("rhea")
	administrator.open("/setup/company")
	administrator.until("document.querySelector('#company-place')?.value === 'Goods yard'", "the company")
	administrator.shot("company")
	administrator.open("/setup/people")
	administrator.seeIn("table", "Nora Ferrow")
	administrator.shot("people")
	administrator.open("/lookup/record")
	administrator.seeIn("table", "signed in")
	administrator.shot("record")

	receiver := sit(t, h)
	receiver.signIn("lewis")
	receiver.open(fmt.Sprintf("/receiving/%d", orderOf(t, h, "DN 5438")))
	receiver.fill("#delivery-note", "DN 5512")
	receiver.fill("#now-1", "44")
	receiver.fill("#now-2", "187.5")
	receiver.eval("document.querySelector('#close-2').click()")
	receiver.see("At least 225 kg must come now")
	receiver.shot("delivery")
	receiver.open(fmt.Sprintf("/receiving/deliveries/%d", deliveryOf(t, h, "DN 5498")))
	receiver.until("document.querySelector('.photos img')?.naturalWidth > 0", "the photograph")
	receiver.open("/receiving")
	receiver.seeIn(".pile", "At the door")
	receiver.keys(kb.F1)
	receiver.seeIn(".help", "A delivery arrives")
	receiver.accessible()

	treasurer := sit(t, h)
	treasurer.signIn("tomas")
	treasurer.open("/payments/bank")
	treasurer.seeIn(".sheet", "Sound Telephone")
	treasurer.shot("bank")
	treasurer.open("/payments/cash")
	treasurer.until(`document.querySelector('.sheet canvas')?.width > 300`, "the bars are drawn")
	treasurer.shot("cash")
}

// On paper stand the company, what it is, when it was printed and by whom, and nothing to click.
func TestAPrintedPageSaysWhoseItIs(t *testing.T) {
	t.Parallel()
	h := open(t)
	order := orderOf(t, h, "DN 5438")
	buyer := sit(t, h)
	buyer.signIn("ivo")
	buyer.open(fmt.Sprintf("/orders/%d", order))
	buyer.seeIn("h1", fmt.Sprint(order))
	buyer.eval("window.dispatchEvent(new Event('beforeprint'))")
	_, err := chromedp.Call(buyer.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: "print"})
	require.NoError(t, err)
	buyer.until("getComputedStyle(document.querySelector('.on-paper')).display === 'flex'", "the head of the page")
	buyer.seeIn(".on-paper", "Skerry Point Aquarium")
	buyer.seeIn(".on-paper", fmt.Sprintf("Brackwater Feeds %d", order))
	buyer.seeIn(".on-paper", "by Ivo Sandell")
	buyer.until(
		"['.pile', '.course', '.keys', '.side', '.bar .btn'].every(s => [...document.querySelectorAll(s)].every(e => getComputedStyle(e).display === 'none'))",
		"nothing to click",
	)
}
