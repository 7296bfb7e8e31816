package browser

import (
	"fmt"
	"testing"

	"lagoon/internal/store"
)

// TestHolds: a line of an order is put on hold and taken off by who may; an entry is captured with its payment hold, which
// stands in the pile; reasons are the company's own; differences of a kind, and holds, are settled with one note.
func TestHolds(t *testing.T) {
	t.Parallel()
	h := open(t)
	rhea, lewis, nora, ada := sit(t, h), sit(t, h), sit(t, h), sit(t, h)
	for _, d := range []*desk{lewis, nora, ada} {
		d.refusing(422)
		d.refusing(403)
	}
	rhea.signIn("rhea")
	rhea.open("/setup/books")
	rhea.click("Add a reason")
	rhea.fill("#reason-name", "lab result awaited")
	rhea.main()
	rhea.seeIn(".notice", "“lab result awaited” is offered as a reason of holds")

	order := orderOf(t, h, "DN 5438")
	lewis.signIn("lewis")
	lewis.open(fmt.Sprintf("/orders/%d", order))
	lewis.letter("h")
	lewis.until("document.activeElement.id === 'hold'", "the note")
	lewis.until("[...document.querySelector('#hold-option').options].some(o => o.value === 'lab result awaited')", "the reasons of the company's own")
	lewis.eval(`{ const f = document.querySelector('#hold-line'); f.value = [...f.options].at(-1).value; f.dispatchEvent(new Event('change')) }`)
	lewis.eval(`{ const f = document.querySelector('#hold-option'); f.value = 'lab result awaited'; f.dispatchEvent(new Event('change')) }`)
	lewis.fill("#hold", "The premix of this lot is being tested.")
	lewis.accessible()
	lewis.main()
	lewis.seeIn(".notice", fmt.Sprintf("Order %d is on hold", order))
	lewis.seeIn(".finding", "on hold: lab result awaited.")
	lewis.accessible()
	lewis.open(fmt.Sprintf("/receiving/%d", order))
	lewis.until("document.querySelector('#now-3')", "the third line")
	lewis.fill("#delivery-note", "DN 9301")
	lewis.fill("#now-3", "1")
	lewis.main()
	lewis.see("is on hold since")

	nora.signIn("nora")
	nora.open(fmt.Sprintf("/invoices/key?order=%d", orderOf(t, h, "DN 5509")))
	nora.until("document.querySelector('#quantity-1')?.value === '60'", "the lines")
	nora.fill("#invoice-number", "BF-20480")
	nora.fill("#invoice-date", "20.11.2026")
	nora.fill("#invoice-total", "1,917.00")
	nora.eval(`{ const f = document.querySelector('#invoice-hold'); f.value = 'goods'; f.dispatchEvent(new Event('change')) }`)
	nora.fill("#invoice-hold-note", "two cartons are soft")
	nora.main()
	nora.seeIn(".notice", "agrees and is verified")
	nora.seeIn(".finding", "On hold: goods are in question.")

	ada.signIn("ada")
	ada.open("/holds")
	ada.seeIn(".pile", "what is lost first")
	ada.seeIn(".sheet", "Several at once")
	ada.accessible()
	ada.letter("3")
	ada.until("document.activeElement.id === 'settle-note'", "the note")
	ada.main()
	ada.seeIn(".ask", "Say in a note why the difference is accepted.")
	ada.keys("agreed by telephone")
	ada.main()
	ada.seeIn(".notice", "The differences of 1 invoice are accepted, 30.00 EUR.")
	ada.click("Take off")
	ada.until("document.activeElement.id === 'settle-note'", "the note")
	ada.eval("document.querySelectorAll('[aria-label^=\"Take hold\"]').forEach((b) => b.click())")
	ada.fill("#settle-note", "looked at again")
	ada.accessible()
	ada.main()
	ada.seeIn(".notice", "holds are taken off")
	left := ask(t, h, func(tx *store.Tx) ([]store.Hold, error) { return tx.OpenHolds() })
	for _, hold := range left {
		if hold.Clears == "" {
			t.Errorf("hold %d still stands", hold.Number)
		}
	}
}
