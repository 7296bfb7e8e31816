package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// TestAnUnknownOrderIsChosen: whose an e-invoice is that nobody knows is chosen among the suppliers; an e-invoice that names an order nobody knows is settled by choosing among its supplier's
// open orders, best first; what its supplier's codes stand for is shown and forgotten at the supplier.
func TestAnUnknownOrderIsChosen(t *testing.T) {
	t.Parallel()
	h := open(t)
	nora := sit(t, h)
	nora.signIn("nora")
	nora.open("/invoices")
	nora.give("input[type=file]", "4-unknown-order.xml")
	nora.see("4-unknown-order.xml")
	number := invoiceOf(t, h, "OF-3421").Number
	nora.open(fmt.Sprintf("/invoices/%d", number))
	nora.see("Held: 1 difference")
	nora.letter("1")
	nora.seeIn(".ask", "Say which order it is about.")
	nora.seeIn(".ask", "alike in words")
	nora.accessible()
	nora.main()
	nora.gone(".ask", "Say which order")
	nora.seeIn(".notice", fmt.Sprintf("Invoice %d is", number))
	nora.gone(".finding", "9999")
	require.NotZero(t, invoiceOf(t, h, "OF-3421").Order, "it is about the order that was chosen")

	nora.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "2026-118").Number))
	nora.see("Held: 2 differences")
	nora.letter("1")
	nora.seeIn(".ask", "Say whose it is.")
	nora.keys(kb.ArrowDown)
	nora.seeIn(".ask", "Fernhollow Nets")
	nora.accessible()
	nora.main()
	nora.gone(".ask", "Say whose")
	nora.gone(".finding", "No supplier is known")
	require.NotZero(t, invoiceOf(t, h, "2026-118").Supplier)

	nora.open("/setup/suppliers/OSTRE")
	nora.seeIn(".sheet", "Codes on its invoices")
	nora.click("Forget")
	nora.seeIn(".notice", "QS-25 stands for nothing any more")
	nora.gone(".sheet", "Codes on its invoices")
}
