package setup

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"lagoon/test/browser"
)

// TestCharges: what a supplier always charges is proposed on its orders; a kind of charge has limits of its own; what nobody
// planned is added to its order from the invoice, which then moves on by itself.
func TestCharges(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	ivo, nora := browser.Sit(t, h), browser.Sit(t, h)
	ivo.SignIn("ivo", "/setup/suppliers/BRACK")
	ivo.Click("Add one")
	ivo.Focus("#standing-percent")
	ivo.Fill("#standing-percent", "2.5")
	ivo.Main()
	ivo.SeeIn(".notice", "freight is proposed on orders from now on")
	ivo.See("freight, 2.5 % of the goods")
	ivo.Accessible()
	ivo.Open("/orders/new")
	ivo.Focus("#order-supplier")
	ivo.Keys("brackw", kb.Enter)
	ivo.Until("document.querySelector('#charge-amount-0')?.value === '2.5%'", "the standing charge")
	ivo.Focus("#order-item-0")
	ivo.Keys("KRILL", kb.Enter, "10", kb.Enter)
	ivo.Until("document.querySelector('#charge-amount-0-said')?.innerText === '= 9.6'", "of 384.00")
	ivo.Until("document.querySelector('.sum')?.innerText.includes('393.60')", "the order with its charge")
	ivo.Click("Throw away")
	ivo.Until("location.pathname === '/orders'", "the form is left")

	ivo.Open("/setup/books")
	ivo.See("Kinds of charge")
	ivo.Eval(`document.querySelector("[aria-label='Limits of freight']").click()`)
	ivo.Click("Change the limits")
	ivo.Fill("#charge-limits-reason", "vans cost what they cost")
	ivo.Fill("#charge-limits-limit-charge-over-absolute", "5")
	ivo.Main()
	ivo.SeeIn(".notice", "The limits of freight are changed")
	ivo.See("Changed by Ivo Sandell")

	order := browser.OrderOf(t, h, "DN 5509")
	nora.SignIn("nora", fmt.Sprintf("/invoices/key?order=%d", order))
	nora.Until("document.querySelector('#quantity-1')?.value === '60'", "the lines")
	nora.Fill("#invoice-number", "BF-20470")
	nora.Fill("#invoice-date", "20.11.2026")
	nora.Keys(kb.Escape)
	nora.Letter("x")
	nora.Until("document.activeElement.id === 'charge-0'", "the charge")
	nora.Fill("#charge-0", "40")
	nora.Fill("#charge-tax-0", "23")
	nora.Fill("#invoice-total", "1966.20")
	nora.Main()
	nora.SeeIn(".notice", "is held")
	nora.See("5.00 EUR is allowed by the company for freight")
	number := browser.InvoiceOf(t, h, "BF-20470").Number
	ivo.Open(fmt.Sprintf("/invoices/%d", number))
	ivo.Letter("1")
	ivo.SeeIn(".ask", "Add it to the order.")
	ivo.SeeIn(".ask", fmt.Sprintf("Order %d plans 40.00 EUR more", order))
	ivo.Keys(kb.ArrowDown)
	ivo.Until("document.querySelector('.ask input[value=plan]').checked", "the way below")
	ivo.Main()
	ivo.Until("document.querySelector('#charge-amount-0')?.value === '40.00'", "the order with the charge to be planned")
	ivo.Main()
	ivo.Until("document.activeElement.matches('.ask input')", "the reason")
	ivo.Keys("the van came twice")
	ivo.Main()
	ivo.SeeIn(".notice", "is changed")
	nora.Open(fmt.Sprintf("/invoices/%d", number))
	nora.See("Everything agrees with the order and what was received.")
}
