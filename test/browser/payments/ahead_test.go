package payments

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestMoneyAhead: what was paid ahead is used in one act; it is agreed on an order, invoiced from there, paid otherwise, left,
// taken back; what a cancelled order leaves is credited and refunded, and the list agrees with the ledger throughout.
func TestMoneyAhead(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/payments/ahead")
	d.SeeIn(".sheet", "the order has ended: credit and refund")
	d.SeeIn(".sheet", "goods at sea")
	d.Accessible()
	d.Click("OF-D9")
	d.SeeIn(".sheet", "it is to be credited and refunded")
	d.Letter("e")
	d.SeeIn(".bar", "600.00, as stated") // proposed with what is left
	pumps := fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "TW-11907").Number)
	d.Open(pumps)
	d.SeeIn(".sheet", "1,216.00 USD was paid ahead")
	before := d.Acts
	d.Letter("u")
	d.SeeIn(".notice", "The money ahead is used for it.")
	acts := d.Acts - before
	require.Equal(t, 1, acts)
	browser.Effort(t, "Use money that was paid ahead", acts)
	d.Open(pumps)
	d.SeeIn(".facts", "1,216.00 USD · to pay 1,824.00 USD")
	d.Accessible()
	d.Click("Take back…")
	d.Fill("#ahead-note", "In proportion")
	d.Main()
	d.SeeIn(".notice", "The money ahead is open again.")
	d.Click("Leave it…")
	d.Fill("#ahead-note", "For the next two pumps")
	d.Main()
	d.SeeIn(".sheet", "left for another")

	// Agreed on an order as a share, and its invoice keyed from there.
	order := browser.InvoiceOf(t, h, "77-0192").Order
	d.SignIn("ivo", fmt.Sprintf("/orders/%d", order))
	d.Letter("m")
	d.Fill("#ahead-share", "5%")
	d.Main()
	d.SeeIn(".notice", "The money ahead is agreed.")
	d.Click("Remove…")
	d.Fill("#ahead-why", "They want no deposit")
	d.Main()
	d.SeeIn(".notice", "It is not agreed any more.")
	before = d.Acts
	d.Letter("m")
	d.Fill("#ahead-share", "10%")
	d.Main()
	d.SeeIn(".notice", "The money ahead is agreed.")
	browser.Effort(t, "Agree money ahead on an order", d.Acts-before)
	d.SeeIn(".sheet", "330.62")
	d.Accessible()
	d.Letter("m")
	d.Fill("#ahead-share", "91%")
	d.Refusing(422)
	d.Main()
	d.SeeIn(".ask", "at most 2,975.62 EUR more")
	d.Keys(kb.Escape)
	d.SignIn("nora", fmt.Sprintf("/orders/%d", order))
	d.Click("Key its invoice")
	d.SeeIn(".sheet", "Deposit on order")
	d.Fill("#invoice-number", "77-D01")
	d.Fill("#invoice-date", "today")
	d.Fill("#invoice-total", "330.62")
	d.Fill("#invoice-due", "31 Jan 2027")
	d.Fill("#invoice-reference", "RF18 5390 0754 7034")
	d.SeeIn(".sheet", "Deposits paid")
	d.Main()
	d.SeeIn(".notice", "agrees and is verified")
	d.SeeIn(".sheet", "Money ahead, deposit.")
	d.SeeIn(".facts", "the invoice says 31 Jan 2027")
	d.SeeIn(".facts", "RF18 5390 0754 7034")
	asked := browser.InvoiceOf(t, h, "77-D01").Number

	// A released one is paid alone, due or not, in one act.
	payable := browser.InvoiceOf(t, h, "76-0192").Number
	d.Open(fmt.Sprintf("/invoices/%d", payable))
	d.SeeIn(".bar", "Make a run of it")
	before = d.Acts
	d.Letter("m")
	d.SeeIn(".notice", "is made: 1 payment. A second person approves it.")
	browser.Effort(t, "Make a run of one released invoice", d.Acts-before)
	d.Open(fmt.Sprintf("/invoices/%d", payable))
	d.SeeIn(".bar", "Take the release back")
	require.NotContains(t, d.Text(".bar"), "Make a run of it", "a run holds it")

	// Paid by card, and taken back.
	d.SignIn("tomas", fmt.Sprintf("/invoices/%d", asked))
	d.Letter("o")
	d.Fill("#settled-reference", "card 4471")
	d.Main()
	d.SeeIn(".notice", "The payment is recorded.")
	d.Open(fmt.Sprintf("/invoices/%d", asked))
	d.SeeIn(".sheet", "Paid by the bank: 330.62 EUR")
	d.Accessible()
	d.Click("Take back…")
	d.Fill("#settled-back", "The card was refused")
	d.Main()
	d.SeeIn(".notice", "it is owed again")
}

// TestRequestForMoneyAhead: money agreed ahead is paid without an invoice, from the order to a run of just that, which two
// persons approve where the company says so; money that nothing can use any more is the clerk's turn.
func TestRequestForMoneyAhead(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("rhea", "/setup/company")
	d.Fill("#company-two", "a few")
	d.Refusing(422)
	d.Main()
	d.SeeIn(".sheet", "is no sum in EUR")
	d.Fill("#company-two", "100")
	d.Main()
	d.SeeIn(".notice", "What the company decides is changed.")
	d.Accessible()

	order := browser.InvoiceOf(t, h, "77-0192").Order
	d.SignIn("ivo", fmt.Sprintf("/orders/%d", order))
	d.Letter("m")
	d.Fill("#ahead-share", "10%")
	d.Main()
	d.SeeIn(".notice", "The money ahead is agreed.")
	before := d.Acts
	d.Click("Pay 330.62 without an invoice")
	d.SeeIn(".notice", "It is requested. Another person releases it.")
	browser.Effort(t, "Ask for money ahead to be paid without an invoice", d.Acts-before)
	d.SeeIn(".sheet", "330.62 verified")
	d.SignIn("nora", "/payments/ahead")
	d.SeeIn(".sheet", "our request")
	d.Accessible()
	before = d.Acts
	d.Focus(fmt.Sprintf("[aria-label^='Pay Order %d']", order))
	d.Keys(" ")
	d.Letter("m")
	d.SeeIn(".notice", "is made: 1 payment. A second person approves it.")
	browser.Effort(t, "Release money ahead and make a run of it", d.Acts-before)
	d.SeeIn(".sheet", "330.62")
	run := fmt.Sprintf("/payments/runs/%d", browser.Ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0].Number)
	d.SignIn("tomas", run)
	d.Ready("Approve")
	d.Main()
	d.SeeIn(".notice", "A second person approves it as well.")
	d.SeeIn(".facts", "by Tomas Breck; a second person approves it as well")
	d.Accessible()
	require.NotContains(t, d.Text(".bar"), "Approve")
	d.SignIn("ivo", run)
	d.SeeIn(".bar", "Approve")
	d.Refusing(403)
	d.Main()
	d.SeeIn(".notice", "your own")
	d.SignIn("ada", run)
	d.Ready("Approve")
	d.Main()
	d.SeeIn(".notice", "its payment file is written")
	d.SeeIn(".facts", "by Tomas Breck and Ada Quayle")
}

// TestMoneyAheadElsewhere: what the supplier was paid ahead on another order is used only where a person says so.
func TestMoneyAheadElsewhere(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "OF-3402").Number))
	d.Click("Money paid ahead on another order…")
	d.SeeIn(".ask", "OF-D9 on order")
	d.Accessible()
	d.Fill("#ahead-elsewhere-amount", "99999")
	d.Refusing(422)
	d.Main()
	d.SeeIn(".ask", "at most")
	d.Fill("#ahead-elsewhere-amount", "10")
	d.Main()
	d.SeeIn(".notice", "The money ahead is used for it.")
	d.SeeIn(".sheet", "10.00 EUR used for this invoice")
	d.Accessible()
}
