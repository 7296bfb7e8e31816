package invoices

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestCreditNotes: a credit note that came as a file and is over more than went back waits and says so; refused, another
// is keyed from the return in three acts, stands beside invoice and return, and is made void.
func TestCreditNotes(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/invoices")
	d.See("Take in files")
	d.Give("input[type=file]", "9-credit-note.xml")
	d.See("SP-C41")
	d.Open(fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "SP-C41").Number))
	d.SeeIn(".headline", "Waits for a return")
	d.SeeIn(".sheet", "3 − 2 = 1 box more than can be credited")
	d.SeeIn(".side", "Credits our invoice SP-8236")
	d.Letter("r")
	d.Until("document.activeElement.id === 'refuse'", "the reason")
	d.Keys("three are credited, two went back")
	d.Main()
	d.SeeIn(".notice", "is refused")

	returned := browser.Ask(t, h, func(tx *store.Tx) (int64, error) {
		bags, err := tx.OrderByNumber(browser.OrderOf(t, h, "7731"), store.AllReserved)
		if err != nil {
			return 0, err
		}
		documents, err := tx.Deliveries(bags.ID)
		return documents[len(documents)-1].Number, err
	})
	d.Open(fmt.Sprintf("/receiving/deliveries/%d", returned))
	d.See("A credit note is expected.")
	before := d.Acts
	d.Letter("e")
	d.Until("document.activeElement.id === 'invoice-number'", "the number")
	d.Keys("SP-C42")
	d.SeeIn(".sheet", "Everything agrees; the credit note verifies when it is captured.")
	d.Main()
	d.SeeIn(".notice", "agrees and is verified")
	acts := d.Acts - before
	require.LessOrEqual(t, acts, 4)
	browser.Effort(t, "A credit note for goods that went back, from the return", acts)
	d.SeeIn(".headline", "Credit note of Saltmarsh Packaging")
	d.SeeIn(".sheet table", "at 22.50")
	d.SeeIn(".facts", "55.35 EUR")
	d.Open("/payments")
	d.SeeIn(".sheet", "Credit to be taken off")
	d.SeeIn(".sheet", "SP-C42")
	d.Open(fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "SP-C42").Number))
	d.See("Verified")
	d.Letter("v")
	d.Until("document.activeElement.id === 'void'", "the reason")
	d.Keys("keyed for the wrong note")
	d.Main()
	d.SeeIn(".notice", "is void")

	// for a price, from the invoice: nothing more went back, so the price is asked
	d.Open(fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "BF-20344").Number))
	d.See("BF-C612")
	d.Letter("e")
	d.Until("document.activeElement.id === 'invoice-number'", "the number")
	d.Keys("BF-C613")
	d.Fill("#price-0", "1.46")
	d.Fill("#invoice-total", "17.96")
	d.SeeIn(".sheet", "comes back")
	d.Main()
	d.SeeIn(".notice", "agrees and is verified")

	// a debit note asks more for what was invoiced
	d.Open(fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "BF-20344").Number))
	d.See("BF-C613")
	d.Letter("e")
	d.Until("document.activeElement.id === 'invoice-number'", "the number")
	d.Keys("BF-D1")
	d.Eval("(e => { e.value = [...e.options].find(o => o.text.startsWith('debit')).value; e.dispatchEvent(new Event('change', { bubbles: true })) })(document.querySelector('#invoice-kind'))")
	d.Fill("#price-0", "9")
	d.Fill("#invoice-total", "110.70")
	d.SeeIn(".sheet", "is allowed")
	d.Main()
	d.SeeIn(".headline", "Debit note of Brackwater Feeds")
	d.SeeIn(".headline", "Held: 1 difference")
}
