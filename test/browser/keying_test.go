package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// The order of an entry is no number that lines hang on: typed anew, each line is that of the same item there, or of none
// until somebody says which. A supplier's letters give its open orders; an order with nothing to propose still takes lines;
// what cannot be captured says why; what would be booked stands under the lines.
func TestLinesOfAnotherOrder(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk := sit(t, h)
	clerk.signIn("nora")
	clerk.open("/invoices/key")
	clerk.seeIn(".bar", "Nothing to capture yet: it has no line.")
	clerk.fill("#invoice-supplier", "Brackw")
	clerk.keys(kb.Enter)
	clerk.seeIn(".body", "40 cartons Krill, frozen, 12 kg, 60 kg Squid rings, frozen")
	clerk.accessible()
	clerk.click("Take order 4112")
	clerk.seeIn(".body", "Squid rings, frozen")
	clerk.until("document.querySelectorAll('.body select')[1]?.value === '2'", "squid is the second line of 4112")
	clerk.fill("#quantity-1", "59")
	clerk.fill("#invoice-order", "4111")
	clerk.keys(kb.Tab)
	clerk.seeIn(".side", "Thread of 4111")
	clerk.until("document.querySelectorAll('.body select')[0]?.value === '1'", "krill is krill there")
	clerk.until("document.querySelectorAll('.body select')[1]?.value === '0'", "squid is not the capelin of 4111")

	clerk.open("/invoices/key")
	clerk.eval("localStorage.clear()")
	clerk.open(fmt.Sprintf("/invoices/key?order=%d", 4100))
	clerk.seeIn(".body", "Nothing of order 4100 is received and not yet invoiced.")
	clerk.click("Add a line")
	clerk.until("document.activeElement.matches('.body select')", "the focus is on the order line")
	clerk.keys(kb.ArrowDown, kb.Enter)
	clerk.seeIn(".body", "Krill, frozen, 12 kg")

	clerk.open(fmt.Sprintf("/invoices/key?order=%d", orderOf(t, h, "DN 5509")))
	clerk.fill("#invoice-number", "BF-20452")
	clerk.fill("#invoice-date", "20.11.2026")
	clerk.fill("#invoice-total", "1,917.00")
	clerk.seeIn(".body", "What it books")
	clerk.seeIn(".body", "Trade payables")
	clerk.accessible()
}
