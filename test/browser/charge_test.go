package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// TestCharges: what a supplier always charges is proposed on its orders; a kind of charge has limits of its own; what nobody
// planned is added to its order from the invoice, which then moves on by itself.
func TestCharges(t *testing.T) {
	t.Parallel()
	h := open(t)
	ivo, nora := sit(t, h), sit(t, h)
	ivo.signIn("ivo")
	ivo.open("/setup/suppliers/BRACK")
	ivo.click("Add one")
	ivo.focus("#standing-percent")
	ivo.fill("#standing-percent", "2.5")
	ivo.main()
	ivo.seeIn(".notice", "freight is proposed on orders from now on")
	ivo.see("freight, 2.5 % of the goods")
	ivo.accessible()
	ivo.open("/orders/new")
	ivo.focus("#order-supplier")
	ivo.keys("brackw", kb.Enter)
	ivo.until("document.querySelector('#charge-amount-0')?.value === '2.5%'", "the standing charge")
	ivo.focus("#order-item-0")
	ivo.keys("KRILL", kb.Enter, "10", kb.Enter)
	ivo.until("document.querySelector('#charge-amount-0-said')?.innerText === '= 9.6'", "of 384.00")
	ivo.until("document.querySelector('.sum')?.innerText.includes('393.60')", "the order with its charge")
	ivo.click("Throw away")
	ivo.until("location.pathname === '/orders'", "the form is left")

	ivo.open("/setup/books")
	ivo.see("Kinds of charge")
	ivo.eval(`document.querySelector("[aria-label='Limits of freight']").click()`)
	ivo.click("Change the limits")
	ivo.fill("#charge-limits-reason", "vans cost what they cost")
	ivo.fill("#charge-limits-limit-charge-over-absolute", "5")
	ivo.main()
	ivo.seeIn(".notice", "The limits of freight are changed")
	ivo.see("Changed by Ivo Sandell")

	order := orderOf(t, h, "DN 5509")
	nora.signIn("nora")
	nora.open(fmt.Sprintf("/invoices/key?order=%d", order))
	nora.until("document.querySelector('#quantity-1')?.value === '60'", "the lines")
	nora.fill("#invoice-number", "BF-20470")
	nora.fill("#invoice-date", "20.11.2026")
	nora.keys(kb.Escape)
	nora.letter("x")
	nora.until("document.activeElement.id === 'charge-0'", "the charge")
	nora.fill("#charge-0", "40")
	nora.fill("#charge-tax-0", "23")
	nora.fill("#invoice-total", "1966.20")
	nora.main()
	nora.seeIn(".notice", "is held")
	nora.see("5.00 EUR is allowed by the company for freight")
	number := invoiceOf(t, h, "BF-20470").Number
	ivo.open(fmt.Sprintf("/invoices/%d", number))
	ivo.letter("1")
	ivo.seeIn(".ask", "Add it to the order.")
	ivo.seeIn(".ask", fmt.Sprintf("Order %d plans 40.00 EUR more", order))
	ivo.keys(kb.ArrowDown)
	ivo.until("document.querySelector('.ask input[value=plan]').checked", "the way below")
	ivo.main()
	ivo.until("document.querySelector('#charge-amount-0')?.value === '40.00'", "the order with the charge to be planned")
	ivo.main()
	ivo.until("document.activeElement.matches('.ask input')", "the reason")
	ivo.keys("the van came twice")
	ivo.main()
	ivo.seeIn(".notice", "is changed")
	nora.open(fmt.Sprintf("/invoices/%d", number))
	nora.see("Everything agrees with the order and what was received.")
}
