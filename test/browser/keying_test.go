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
	clerk.seeIn(".body", "DN 5509")
	clerk.seeIn(".body", "Squid rings, frozen")
	clerk.accessible()
	squid, capelin := orderOf(t, h, "DN 5509"), orderOf(t, h, "DN 5507")
	clerk.click(fmt.Sprintf("Take %d", squid))
	clerk.seeIn(".body", "Squid rings, frozen")
	clerk.until("document.querySelectorAll('.body select')[1]?.value === '2'", "squid is the second line of it")
	clerk.fill("#quantity-1", "59")
	clerk.fill("#invoice-order", fmt.Sprint(capelin))
	clerk.keys(kb.Tab)
	clerk.seeIn(".side", fmt.Sprintf("Thread of %d", capelin))
	clerk.until("document.querySelectorAll('.body select')[0]?.value === '1'", "krill is krill there")
	clerk.until("document.querySelectorAll('.body select')[1]?.value === '0'", "squid is not the capelin of the other")

	clerk.open("/invoices/key")
	clerk.eval("localStorage.clear()")
	done := orderOf(t, h, "DN 5438")
	clerk.open(fmt.Sprintf("/invoices/key?order=%d", done))
	clerk.seeIn(".body", fmt.Sprintf("Nothing of order %d is received and not yet invoiced.", done))
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

// An invoice is keyed from whatever is in the hand: a delivery note, an item with its receipts to pick from, a share of an
// order; a net stands in place of a quantity; the last invoice says so.
func TestKeyingFromWhatIsInTheHand(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk := sit(t, h)
	clerk.refusing(404)
	clerk.refusing(422)
	clerk.signIn("nora")
	clerk.open("/invoices")
	clerk.fill("#key-order", "nothing of ours")
	clerk.keys(kb.Enter)
	clerk.see("There is no order, delivery note, item or supplier")
	clerk.fill("#key-order", "dn5509")
	clerk.keys(kb.Enter)
	clerk.seeIn(".body", "What came under delivery note DN 5509")
	clerk.until("document.querySelector('#quantity-1')?.value === '60' && document.activeElement.id === 'invoice-number'", "the note's lines")
	clerk.fill("#net-1", "127")
	clerk.until("document.querySelector('#quantity-1').placeholder === '20' && document.querySelector('#quantity-1').value === ''", "127.00 at 6.35 is 20")
	clerk.fill("#invoice-share", "x%")
	clerk.keys(kb.Enter)
	clerk.see("is no share of an order")
	clerk.fill("#invoice-share", "25%")
	clerk.keys(kb.Enter)
	clerk.until("document.querySelector('#quantity-0').value === '10' && document.querySelector('#quantity-1').value === '15'", "a quarter of 40 and of 60")
	clerk.click("The rest of the order")
	clerk.until("document.querySelector('#quantity-0').value === '40'", "all of it")
	clerk.fill("#another-order", "DN 5507")
	clerk.keys(kb.Enter)
	clerk.until("document.querySelector('#quantity-2')?.value === '50'", "another note's first line")
	clerk.click("Throw away")

	clerk.open("/invoices/key")
	clerk.until("document.activeElement.id === 'invoice-order'", "the field")
	clerk.keys("SQUID", kb.Enter)
	clerk.seeIn(".body", "DN 5509")
	clerk.seeIn(".body", "381.00")
	clerk.accessible()
	clerk.click("Squid rings, frozen")
	clerk.seeIn(".body", "381.00 EUR without tax")
	clerk.click("Take what is marked")
	clerk.until("document.activeElement.id === 'invoice-number' && document.querySelector('#quantity-0')?.value === '60'", "what was picked")
	clerk.fill("#invoice-number", "BF-20460")
	clerk.fill("#invoice-date", "20.11.2026")
	clerk.fill("#invoice-total", "381.00")
	clerk.click("Last invoice")
	clerk.main()
	clerk.seeIn(".notice", "agrees and is verified")
	clerk.see("last invoice of the order")
	clerk.accessible()
}
