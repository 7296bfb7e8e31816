package browser

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestWithoutAnOrder: harbour dues that come every month are keyed in six acts; as a file they are charged by themselves and
// say what is different; the approver sees what it is charged to, and passes on what is above their authority.
func TestWithoutAnOrder(t *testing.T) {
	t.Parallel()
	h := open(t)
	nora := sit(t, h)
	nora.signIn("nora")
	nora.open("/invoices")
	nora.see("Take in files")
	before := nora.acts
	nora.letter("k")
	nora.until("document.activeElement.id === 'invoice-order'", "the form")
	nora.fill("#invoice-supplier", "Skerry Harbour")
	nora.keys("\r")
	nora.until("document.querySelector('#budget-0')?.value === 'TECH'", "what the last one was charged to")
	nora.fill("#invoice-number", "HD-1299")
	nora.fill("#invoice-total", "180.00")
	nora.seeIn(".sheet", "No order: 180.00 EUR are charged to budgets.")
	nora.main()
	nora.seeIn(".notice", "is held: to be approved")
	acts := nora.acts - before
	require.LessOrEqual(t, acts, 6)
	effort(t, "An invoice without an order, of a supplier that sends them", acts)
	nora.seeIn(".sheet", "Comes every month")
	nora.accessible()
	nora.open("/invoices")
	nora.give("input[type=file]", "11-harbour-dues.xml")
	nora.see("HD-1207")
	dues := fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "HD-1207").Number)
	nora.open(dues)
	nora.seeIn(".sheet", "This time 12.00 EUR more.")
	nora.seeIn(".sheet table", "TECH")

	ada := sit(t, h)
	ada.signIn("ada")
	ada.open("/invoices")
	ada.see("HD-1207")
	ada.open(dues)
	ada.see("To be approved")
	ada.letter("1")
	ada.seeIn(".ask", "Books 192.00 EUR to what its lines are charged to")
	ada.keys("the tariff rose")
	ada.main()
	ada.seeIn(".notice", "Approved.")
	ada.open(dues)
	ada.seeIn(".sheet", "Approved by Ada Quayle")

	visit := fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "CV 88").Number)
	nora.open(visit)
	nora.see("Held: 2 differences")
	nora.letter("c")
	nora.click("Without an order: charge it to a budget")
	nora.fill("#budget-0", "hosp 75, exhib 30")
	nora.see("The shares come to 105 %")
	nora.fill("#budget-0", "hosp 75, exhib")
	nora.fill("#correct-reason", "a visit, never ordered")
	nora.main()
	nora.seeIn(".notice", "to be approved")
	ada.open(visit)
	ada.letter("1")
	ada.seeIn(".ask", "your authority is 500.00 EUR")
	ada.seeIn(".ask", "To whom")
	ada.main()
	ada.seeIn(".notice", "Passed on to Ivo Sandell.")
	ivo := sit(t, h)
	ivo.signIn("ivo")
	ivo.open(visit)
	ivo.seeIn(".sheet", "Passed on to Ivo Sandell by Ada Quayle")
	ivo.letter("1")
	ivo.seeIn(".ask", "Approve it.")
	ivo.main()
	ivo.seeIn(".notice", "Approved.")
}
