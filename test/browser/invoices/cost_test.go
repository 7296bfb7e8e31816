package invoices

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/test/browser"
)

// TestWithoutAnOrder: harbour dues that come every month are keyed in six acts; as a file they are charged by themselves and
// say what is different; the approver sees what it is charged to, and passes on what is above their authority.
func TestWithoutAnOrder(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	nora := browser.Sit(t, h)
	nora.SignIn("nora", "/invoices")
	nora.See("Take in files")
	before := nora.Acts
	nora.Letter("k")
	nora.Until("document.activeElement.id === 'invoice-order'", "the form")
	nora.Fill("#invoice-supplier", "Skerry Harbour")
	nora.Keys("\r")
	nora.Until("document.querySelector('#budget-0')?.value === 'TECH'", "what the last one was charged to")
	nora.Fill("#invoice-number", "HD-1299")
	nora.Fill("#invoice-total", "180.00")
	nora.SeeIn(".sheet", "No order: 180.00 EUR are charged to budgets.")
	nora.Main()
	nora.SeeIn(".notice", "is held: to be approved")
	acts := nora.Acts - before
	require.LessOrEqual(t, acts, 6)
	browser.Effort(t, "An invoice without an order, of a supplier that sends them", acts)
	nora.SeeIn(".sheet", "Comes every month")
	nora.Accessible()
	nora.Open("/invoices")
	nora.Give("input[type=file]", "11-harbour-dues.xml")
	nora.See("HD-1207")
	dues := fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "HD-1207").Number)
	nora.Open(dues)
	nora.SeeIn(".sheet", "This time 12.00 EUR more.")
	nora.SeeIn(".sheet table", "TECH")

	ada := browser.Sit(t, h)
	ada.SignIn("ada", "/invoices")
	ada.See("HD-1207")
	ada.Open(dues)
	ada.See("To be approved")
	ada.Letter("1")
	ada.SeeIn(".ask", "Books 192.00 EUR to what its lines are charged to")
	ada.Keys("the tariff rose")
	ada.Main()
	ada.SeeIn(".notice", "Approved.")
	ada.Open(dues)
	ada.SeeIn(".sheet", "Approved by Ada Quayle")

	visit := fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "CV 88").Number)
	nora.Open(visit)
	nora.See("Held: 2 differences")
	nora.Letter("c")
	nora.Click("Without an order: charge it to a budget")
	nora.Fill("#budget-0", "hosp 75, exhib 30")
	nora.See("The shares come to 105 %")
	nora.Fill("#budget-0", "hosp 75, exhib")
	nora.Fill("#correct-reason", "a visit, never ordered")
	nora.Main()
	nora.SeeIn(".notice", "to be approved")
	ada.Open(visit)
	ada.Letter("1")
	ada.SeeIn(".ask", "your authority is 500.00 EUR")
	ada.SeeIn(".ask", "To whom")
	ada.Main()
	ada.SeeIn(".notice", "Passed on to Ivo Sandell.")
	ivo := browser.Sit(t, h)
	ivo.SignIn("ivo", visit)
	ivo.SeeIn(".sheet", "Passed on to Ivo Sandell by Ada Quayle")
	ivo.Letter("1")
	ivo.SeeIn(".ask", "Approve it.")
	ivo.Main()
	ivo.SeeIn(".notice", "Approved.")

	// What a fitter from abroad charges is under reverse charge, as last time: we owe the tax, and claim it.
	nora.Open("/invoices")
	nora.Letter("k")
	nora.Until("document.activeElement.id === 'invoice-order'", "the form")
	nora.Fill("#invoice-supplier", "Ostrea Filtration")
	nora.Keys("\r")
	nora.Click("Without an order: charge it to a budget")
	nora.Until("document.querySelector('#tax-0')?.value === 'RC23'", "the tax code of the last one")
	nora.Fill("#tax-0", "RC99")
	nora.See("There is no tax code “RC99”")
	nora.Fill("#tax-0", "rc23")
	nora.Fill("#invoice-number", "OF-S-77")
	nora.Fill("#invoice-total", "460")
	nora.SeeIn(".sheet", "Reverse charge RC23: 23 % of 460.00 is 105.80 EUR")
	nora.Main()
	nora.SeeIn(".notice", "is held: to be approved")
	nora.SeeIn(".sheet", "owed and claimed by us")
}
