package invoices

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/test/browser"
)

// TestBadFiles gives files that cannot be read, or not be matched.
func TestBadFiles(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	clerk := browser.Sit(t, h)
	clerk.Refusing(404)
	clerk.Refusing(422)
	clerk.SignIn("nora", "/")
	clerk.See("Your turn")
	clerk.Give("input[type=file]", "4-unknown-order.xml", "5-does-not-add-up.xml", "6-not-an-invoice.xml", "7-not-xml.xml", "1-agrees.xml")
	clerk.SeeIn("table", "it starts with “greeting”")
	clerk.SeeIn("table", "It is plain text and no e-invoice.")
	clerk.SeeIn("table", "agrees and is verified")
	require.Equal(t, trade.Held, browser.InvoiceOf(t, h, "OF-3421").State, "kept with what is missing")
	wrong := browser.InvoiceOf(t, h, "77-0201")
	require.Equal(t, trade.Held, wrong.State)
	clerk.Open(fmt.Sprintf("/invoices/%d", wrong.Number))
	clerk.SeeIn(".finding", "This can be corrected but not accepted")

	// What is missing is entered, and the invoice goes on.
	unknown := browser.InvoiceOf(t, h, "OF-3421")
	clerk.Open(fmt.Sprintf("/invoices/%d", unknown.Number))
	clerk.SeeIn(".finding", "The invoice names the order “9999”")
	clerk.Letter("c")
	clerk.Focus("#invoice-order")
	clerk.Fill("#invoice-order", fmt.Sprint(browser.OrderOf(t, h, "LS 88120")))
	clerk.Keys(kb.Enter)
	clerk.Until("document.querySelectorAll('td select')[0].options.length > 2", "the order's lines are offered")
	clerk.Eval("s = document.querySelector('td select'); s.value = '1'; s.selectedIndex = 1; s.dispatchEvent(new Event('change', {bubbles: true}))")
	clerk.Fill("#correct-reason", "they wrote a wrong order number")
	clerk.See("more invoiced than received")
	clerk.Main()
	clerk.SeeIn(".notice", "is held: quantity")
	clerk.SeeIn(".finding", "5 bags more invoiced than received")
}
