package setup

import (
	"testing"

	"lagoon/test/browser"
)

// TestACostIsSpread: the cost of a line is spread over months, which are shown before and after it is booked; what is due is
// posted, and taken back.
func TestACostIsSpread(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	nora := browser.Sit(t, h)
	nora.Refusing(422)
	nora.SignIn("nora", "/invoices")
	nora.See("Take in files")
	nora.Letter("k")
	nora.Until("document.activeElement.id === 'invoice-order'", "the form")
	nora.Fill("#invoice-supplier", "Skerry Harbour")
	nora.Keys("\r")
	nora.Until("document.querySelector('#budget-0')", "the line")
	nora.Fill("#budget-0", "TECH")
	nora.Click("Spread…")
	nora.Fill("#defer-months-0", "0")
	nora.See("A cost is spread over 1 to 120 months.")
	nora.Fill("#defer-from-0", "2026-11")
	nora.Fill("#defer-months-0", "3")
	nora.Fill("#price-0", "200")
	nora.See("Nov 2026 66.67 · Dec 2026 66.67 · Jan 2027 66.66")
	nora.Fill("#invoice-number", "HD-1300")
	nora.Fill("#invoice-total", "200.00")
	nora.Main()
	nora.SeeIn(".notice", "is held: to be approved")
	nora.SeeIn(".sheet", "Would be spread over 3 months")
	nora.Accessible()

	tomas := browser.Sit(t, h)
	tomas.SignIn("tomas", "/setup/books")
	tomas.See("Costs spread over months")
	tomas.Click("Post what is due")
	tomas.SeeIn(".ask", "Debits the cost, credits deferred expense")
	tomas.Main()
	tomas.SeeIn(".notice", "1 part posted, 40.00 EUR")
	tomas.See("Nothing is due until")
	tomas.Click("Take it back")
	tomas.Main()
	tomas.SeeIn(".notice", "The posting is taken back")
	tomas.See("; taken back")
}
