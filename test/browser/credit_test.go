package browser

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// TestCreditNotes: a credit note that came as a file and is over more than went back waits and says so; refused, another
// is keyed from the return in three acts, stands beside invoice and return, and is made void.
func TestCreditNotes(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/invoices")
	d.see("Take in files")
	d.give("input[type=file]", "9-credit-note.xml")
	d.see("SP-C41")
	d.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "SP-C41").Number))
	d.seeIn(".headline", "Waits for a return")
	d.seeIn(".sheet", "3 − 2 = 1 box more than can be credited")
	d.seeIn(".side", "Credits our invoice SP-8236")
	d.letter("r")
	d.until("document.activeElement.id === 'refuse'", "the reason")
	d.keys("three are credited, two went back")
	d.main()
	d.seeIn(".notice", "is refused")

	returned := ask(t, h, func(tx *store.Tx) (int64, error) {
		bags, err := tx.OrderByNumber(orderOf(t, h, "7731"), store.AllReserved)
		if err != nil {
			return 0, err
		}
		documents, err := tx.Deliveries(bags.ID)
		return documents[len(documents)-1].Number, err
	})
	d.open(fmt.Sprintf("/receiving/deliveries/%d", returned))
	d.see("A credit note is expected.")
	before := d.acts
	d.letter("e")
	d.until("document.activeElement.id === 'invoice-number'", "the number")
	d.keys("SP-C42")
	d.seeIn(".sheet", "Everything agrees; the credit note verifies when it is captured.")
	d.main()
	d.seeIn(".notice", "agrees and is verified")
	acts := d.acts - before
	require.LessOrEqual(t, acts, 4)
	effort(t, "A credit note for goods that went back, from the return", acts)
	d.seeIn(".headline", "Credit note of Saltmarsh Packaging")
	d.seeIn(".sheet table", "at 22.50")
	d.seeIn(".facts", "55.35 EUR")
	d.open("/payments")
	d.seeIn(".sheet", "Credit to be taken off")
	d.seeIn(".sheet", "SP-C42")
	d.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "SP-C42").Number))
	d.see("Verified")
	d.letter("v")
	d.until("document.activeElement.id === 'void'", "the reason")
	d.keys("keyed for the wrong note")
	d.main()
	d.seeIn(".notice", "is void")

	// for a price, from the invoice: nothing more went back, so the price is asked
	d.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "BF-20344").Number))
	d.see("BF-C612")
	d.letter("e")
	d.until("document.activeElement.id === 'invoice-number'", "the number")
	d.keys("BF-C613")
	d.fill("#price-0", "1.46")
	d.fill("#invoice-total", "17.96")
	d.seeIn(".sheet", "comes back")
	d.main()
	d.seeIn(".notice", "agrees and is verified")

	// a debit note asks more for what was invoiced
	d.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "BF-20344").Number))
	d.see("BF-C613")
	d.letter("e")
	d.until("document.activeElement.id === 'invoice-number'", "the number")
	d.keys("BF-D1")
	d.eval("(e => { e.value = [...e.options].find(o => o.text.startsWith('debit')).value; e.dispatchEvent(new Event('change', { bubbles: true })) })(document.querySelector('#invoice-kind'))")
	d.fill("#price-0", "9")
	d.fill("#invoice-total", "110.70")
	d.seeIn(".sheet", "is allowed")
	d.main()
	d.seeIn(".headline", "Debit note of Brackwater Feeds")
	d.seeIn(".headline", "Held: 1 difference")
}
