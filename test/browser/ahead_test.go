package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// TestMoneyAhead: what was paid ahead is used in one act; it is agreed on an order, invoiced from there, paid otherwise, left,
// taken back; what a cancelled order leaves is credited and refunded, and the list agrees with the ledger throughout.
func TestMoneyAhead(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/payments/ahead")
	d.seeIn(".sheet", "the order has ended: credit and refund")
	d.seeIn(".sheet", "goods at sea")
	d.accessible()
	d.click("OF-D9")
	d.seeIn(".sheet", "it is to be credited and refunded")
	d.letter("e")
	d.seeIn(".bar", "600.00, as stated") // proposed with what is left
	pumps := fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "TW-11907").Number)
	d.open(pumps)
	d.seeIn(".sheet", "1,216.00 USD was paid ahead")
	before := d.acts
	d.letter("u")
	d.seeIn(".notice", "The money ahead is used for it.")
	acts := d.acts - before
	require.Equal(t, 1, acts)
	effort(t, "Use money that was paid ahead", acts)
	d.open(pumps)
	d.seeIn(".facts", "1,216.00 USD · to pay 1,824.00 USD")
	d.accessible()
	d.click("Take back…")
	d.fill("#ahead-note", "In proportion")
	d.main()
	d.seeIn(".notice", "The money ahead is open again.")
	d.click("Leave it…")
	d.fill("#ahead-note", "For the next two pumps")
	d.main()
	d.seeIn(".sheet", "left for another")

	// Agreed on an order as a share, and its invoice keyed from there.
	order := invoiceOf(t, h, "77-0192").Order
	d.signIn("ivo")
	d.open(fmt.Sprintf("/orders/%d", order))
	d.letter("m")
	d.fill("#ahead-share", "5%")
	d.main()
	d.seeIn(".notice", "The money ahead is agreed.")
	d.click("Remove…")
	d.fill("#ahead-why", "They want no deposit")
	d.main()
	d.seeIn(".notice", "It is not agreed any more.")
	before = d.acts
	d.letter("m")
	d.fill("#ahead-share", "10%")
	d.main()
	d.seeIn(".notice", "The money ahead is agreed.")
	effort(t, "Agree money ahead on an order", d.acts-before)
	d.seeIn(".sheet", "330.62")
	d.accessible()
	d.letter("m")
	d.fill("#ahead-share", "91%")
	d.refusing(422)
	d.main()
	d.seeIn(".ask", "at most 2,975.62 EUR more")
	d.keys(kb.Escape)
	d.signIn("nora")
	d.open(fmt.Sprintf("/orders/%d", order))
	d.click("Key its invoice")
	d.seeIn(".sheet", "Deposit on order")
	d.fill("#invoice-number", "77-D01")
	d.fill("#invoice-date", "today")
	d.fill("#invoice-total", "330.62")
	d.fill("#invoice-due", "31 Jan 2027")
	d.fill("#invoice-reference", "RF18 5390 0754 7034")
	d.seeIn(".sheet", "Deposits paid")
	d.main()
	d.seeIn(".notice", "agrees and is verified")
	d.seeIn(".sheet", "Money ahead, deposit.")
	d.seeIn(".facts", "the invoice says 31 Jan 2027")
	d.seeIn(".facts", "RF18 5390 0754 7034")
	d.click("take that…")
	d.fill("#due", "Agreed by telephone")
	d.main()
	d.seeIn(".facts", "Nora Ferrow: Agreed by telephone")
	asked := invoiceOf(t, h, "77-D01").Number

	// A released one is paid alone, due or not, in one act.
	payable := invoiceOf(t, h, "76-0192").Number
	d.open(fmt.Sprintf("/invoices/%d", payable))
	d.seeIn(".bar", "Make a run of it")
	before = d.acts
	d.letter("m")
	d.seeIn(".notice", "is made: 1 payment. A second person approves it.")
	effort(t, "Make a run of one released invoice", d.acts-before)
	d.open(fmt.Sprintf("/invoices/%d", payable))
	d.seeIn(".bar", "Take the release back")
	require.NotContains(t, d.text(".bar"), "Make a run of it", "a run holds it")

	// Paid by card, and taken back.
	d.signIn("tomas")
	d.open(fmt.Sprintf("/invoices/%d", asked))
	d.letter("o")
	d.fill("#settled-reference", "card 4471")
	d.main()
	d.seeIn(".notice", "The payment is recorded.")
	d.open(fmt.Sprintf("/invoices/%d", asked))
	d.seeIn(".sheet", "Paid by the bank: 330.62 EUR")
	d.accessible()
	d.click("Take back…")
	d.fill("#settled-back", "The card was refused")
	d.main()
	d.seeIn(".notice", "it is owed again")
}

// TestRequestForMoneyAhead: money agreed ahead is paid without an invoice, from the order to a run of just that, which two
// persons approve where the company says so; money that nothing can use any more is the clerk's turn.
func TestRequestForMoneyAhead(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("rhea")
	d.open("/setup/company")
	d.fill("#company-two", "a few")
	d.refusing(422)
	d.main()
	d.seeIn(".sheet", "is no sum in EUR")
	d.fill("#company-two", "100")
	d.main()
	d.seeIn(".notice", "What the company decides is changed.")
	d.accessible()

	order := invoiceOf(t, h, "77-0192").Order
	d.signIn("ivo")
	d.open(fmt.Sprintf("/orders/%d", order))
	d.letter("m")
	d.fill("#ahead-share", "10%")
	d.main()
	d.seeIn(".notice", "The money ahead is agreed.")
	before := d.acts
	d.click("Pay 330.62 without an invoice")
	d.seeIn(".notice", "It is requested. Another person releases it.")
	effort(t, "Ask for money ahead to be paid without an invoice", d.acts-before)
	d.seeIn(".sheet", "330.62 verified")
	d.signIn("nora")
	d.open("/payments/ahead")
	d.seeIn(".sheet", "our request")
	d.accessible()
	before = d.acts
	d.focus(fmt.Sprintf("[aria-label^='Pay Order %d']", order))
	d.keys(" ")
	d.letter("m")
	d.seeIn(".notice", "is made: 1 payment. A second person approves it.")
	effort(t, "Release money ahead and make a run of it", d.acts-before)
	d.seeIn(".sheet", "330.62")
	run := fmt.Sprintf("/payments/runs/%d", ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0].Number)
	d.signIn("tomas")
	d.open(run)
	d.ready("Approve")
	d.main()
	d.seeIn(".notice", "A second person approves it as well.")
	d.seeIn(".facts", "by Tomas Breck; a second person approves it as well")
	d.accessible()
	require.NotContains(t, d.text(".bar"), "Approve")
	d.signIn("ivo")
	d.open(run)
	d.seeIn(".bar", "Approve")
	d.refusing(403)
	d.main()
	d.seeIn(".notice", "your own")
	d.signIn("ada")
	d.open(run)
	d.ready("Approve")
	d.main()
	d.seeIn(".notice", "its payment file is written")
	d.seeIn(".facts", "by Tomas Breck and Ada Quayle")
}

// TestMoneyAheadElsewhere: what the supplier was paid ahead on another order is used only where a person says so.
func TestMoneyAheadElsewhere(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "OF-3402").Number))
	d.click("Money paid ahead on another order…")
	d.seeIn(".ask", "OF-D9 on order")
	d.accessible()
	d.fill("#ahead-elsewhere-amount", "99999")
	d.refusing(422)
	d.main()
	d.seeIn(".ask", "at most")
	d.fill("#ahead-elsewhere-amount", "10")
	d.main()
	d.seeIn(".notice", "The money ahead is used for it.")
	d.seeIn(".sheet", "10.00 EUR used for this invoice")
	d.accessible()
}
