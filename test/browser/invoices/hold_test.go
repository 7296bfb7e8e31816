package invoices

import (
	"fmt"
	"testing"

	"lagoon/internal/store"
	"lagoon/test/browser"

	"github.com/chromedp/chromedp/kb"
)

// TestHolds: a line of an order is put on hold and taken off by who may; an entry is captured with its payment hold, which
// stands in the pile; reasons are the company's own; differences of a kind, and holds, are settled with one note.
func TestHolds(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	rhea, lewis, nora, ada := browser.Sit(t, h), browser.Sit(t, h), browser.Sit(t, h), browser.Sit(t, h)
	for _, d := range []*browser.Desk{lewis, nora, ada} {
		d.Refusing(422)
		d.Refusing(403)
	}
	rhea.SignIn("rhea", "/setup/books")
	rhea.Click("Add a reason")
	rhea.Fill("#reason-name", "lab result awaited")
	rhea.Main()
	rhea.SeeIn(".notice", "“lab result awaited” is offered as a reason of holds")

	order := browser.OrderOf(t, h, "DN 5438")
	lewis.SignIn("lewis", fmt.Sprintf("/orders/%d", order))
	lewis.Letter("h")
	lewis.Until("document.activeElement.id === 'hold'", "the note")
	lewis.Until("[...document.querySelector('#hold-option').options].some(o => o.value === 'lab result awaited')", "the reasons of the company's own")
	lewis.Eval(`{ const f = document.querySelector('#hold-line'); f.value = [...f.options].at(-1).value; f.dispatchEvent(new Event('change')) }`)
	lewis.Eval(`{ const f = document.querySelector('#hold-option'); f.value = 'lab result awaited'; f.dispatchEvent(new Event('change')) }`)
	lewis.Fill("#hold", "The premix of this lot is being tested.")
	lewis.Accessible()
	lewis.Main()
	lewis.SeeIn(".notice", fmt.Sprintf("Order %d is on hold", order))
	lewis.SeeIn(".finding", "on hold: lab result awaited.")
	lewis.Accessible()
	lewis.Open(fmt.Sprintf("/receiving/%d", order))
	lewis.Until("document.querySelector('#now-3')", "the third line")
	lewis.Fill("#delivery-note", "DN 9301")
	lewis.Fill("#now-3", "1")
	lewis.Main()
	lewis.See("is on hold since")

	nora.SignIn("nora", fmt.Sprintf("/invoices/key?order=%d", browser.OrderOf(t, h, "DN 5509")))
	nora.Until("document.querySelector('#quantity-1')?.value === '60'", "the lines")
	nora.Fill("#invoice-number", "BF-20480")
	nora.Fill("#invoice-date", "20.11.2026")
	nora.Fill("#invoice-total", "1,917.00")
	nora.Eval(`{ const f = document.querySelector('#invoice-hold'); f.value = 'goods'; f.dispatchEvent(new Event('change')) }`)
	nora.Fill("#invoice-hold-note", "two cartons are soft")
	nora.Main()
	nora.SeeIn(".notice", "agrees and is verified")
	nora.SeeIn(".finding", "On hold: goods are in question.")

	// One is put on an invoice by itself, and taken off.
	free := browser.Verified(t, h)[0]
	nora.Open(fmt.Sprintf("/invoices/%d", free.Number))
	nora.SeeIn("h1", free.SupplierNumber)
	nora.Letter("h")
	nora.Focus("#hold")
	nora.Keys("the lamps are being tested", kb.Enter)
	nora.SeeIn(".finding", "On hold")
	nora.Open("/holds")
	nora.SeeIn("table", "the lamps are being tested")
	nora.Open(fmt.Sprintf("/holds/%d", free.Number))
	nora.SeeIn(".bar", "Take hold off")
	nora.Letter("h")
	nora.Focus("#lift")
	nora.Keys("they work", kb.Enter)
	nora.Gone(".finding", "On hold")

	ada.SignIn("ada", "/holds")
	ada.SeeIn(".pile", "what is lost first")
	ada.SeeIn(".sheet", "Several at once")
	ada.Accessible()
	ada.Letter("3")
	ada.Until("document.activeElement.id === 'settle-note'", "the note")
	ada.Main()
	ada.SeeIn(".ask", "Say in a note why the difference is accepted.")
	ada.Keys("agreed by telephone")
	ada.Main()
	ada.SeeIn(".notice", "The differences of 1 invoice are accepted, 30.00 EUR.")
	ada.Click("Take off")
	ada.Until("document.activeElement.id === 'settle-note'", "the note")
	ada.Eval("document.querySelectorAll('[aria-label^=\"Take hold\"]').forEach((b) => b.click())")
	ada.Fill("#settle-note", "looked at again")
	ada.Accessible()
	ada.Main()
	ada.SeeIn(".notice", "holds are taken off")
	left := browser.Ask(t, h, func(tx *store.Tx) ([]store.Hold, error) { return tx.OpenHolds() })
	for _, hold := range left {
		if hold.Clears == "" {
			t.Errorf("hold %d still stands", hold.Number)
		}
	}
}
