package invoices

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/test/browser"
)

// The order of an entry is no number that lines hang on: typed anew, each line is that of the same item there, or of none
// until somebody says which. A supplier's letters give its open orders; an order with nothing to propose still takes lines;
// what cannot be captured says why; what would be booked stands under the lines.
func TestLinesOfAnotherOrder(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	clerk := browser.Sit(t, h)
	clerk.SignIn("nora", "/invoices/key")
	clerk.SeeIn(".bar", "Nothing to capture yet: it has no line.")
	clerk.Fill("#invoice-supplier", "Brackw")
	clerk.Keys(kb.Enter)
	clerk.SeeIn(".body", "DN 5509")
	clerk.SeeIn(".body", "Squid rings, frozen")
	clerk.Accessible()
	squid, capelin := browser.OrderOf(t, h, "DN 5509"), browser.OrderOf(t, h, "DN 5507")
	clerk.Click(fmt.Sprintf("Take %d", squid))
	clerk.SeeIn(".body", "Squid rings, frozen")
	clerk.Until("document.querySelectorAll('.body select')[1]?.value === '2'", "squid is the second line of it")
	clerk.Fill("#quantity-1", "59")
	clerk.Fill("#invoice-order", fmt.Sprint(capelin))
	clerk.Keys(kb.Tab)
	clerk.SeeIn(".side", fmt.Sprintf("Thread of %d", capelin))
	clerk.Until("document.querySelectorAll('.body select')[0]?.value === '1'", "krill is krill there")
	clerk.Until("document.querySelectorAll('.body select')[1]?.value === '0'", "squid is not the capelin of the other")

	clerk.Open("/invoices/key")
	clerk.Eval("localStorage.clear()")
	done := browser.OrderOf(t, h, "DN 5438")
	clerk.Open(fmt.Sprintf("/invoices/key?order=%d", done))
	clerk.SeeIn(".body", fmt.Sprintf("Nothing of order %d is received and not yet invoiced.", done))
	clerk.Click("Add a line")
	clerk.Until("document.activeElement.matches('.body select')", "the focus is on the order line")
	clerk.Keys(kb.ArrowDown, kb.Enter)
	clerk.SeeIn(".body", "Krill, frozen, 12 kg")

	clerk.Open(fmt.Sprintf("/invoices/key?order=%d", browser.OrderOf(t, h, "DN 5509")))
	clerk.Fill("#invoice-number", "BF-20452")
	clerk.Fill("#invoice-date", "20.11.2026")
	clerk.Fill("#invoice-total", "1,917.00")
	clerk.SeeIn(".body", "What it books")
	clerk.SeeIn(".body", "Trade payables")
	clerk.Accessible()
}

// An invoice is keyed from whatever is in the hand: a delivery note, an item with its receipts to pick from, a share of an
// order; a net stands in place of a quantity; the last invoice says so.
func TestKeyingFromWhatIsInTheHand(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	clerk := browser.Sit(t, h)
	clerk.Refusing(404)
	clerk.Refusing(422)
	clerk.SignIn("nora", "/invoices")
	clerk.Fill("#key-order", "nothing of ours")
	clerk.Keys(kb.Enter)
	clerk.See("There is no order, delivery note, item or supplier")
	clerk.Fill("#key-order", "dn5509")
	clerk.Keys(kb.Enter)
	clerk.SeeIn(".body", "What came under delivery note DN 5509")
	clerk.Until("document.querySelector('#quantity-1')?.value === '60' && document.activeElement.id === 'invoice-number'", "the note's lines")
	clerk.Fill("#net-1", "127")
	clerk.Until("document.querySelector('#quantity-1').placeholder === '20' && document.querySelector('#quantity-1').value === ''", "127.00 at 6.35 is 20")
	clerk.Fill("#invoice-share", "x%")
	clerk.Keys(kb.Enter)
	clerk.See("is no share of an order")
	clerk.Fill("#invoice-share", "25%")
	clerk.Keys(kb.Enter)
	clerk.Until("document.querySelector('#quantity-0').value === '10' && document.querySelector('#quantity-1').value === '15'", "a quarter of 40 and of 60")
	clerk.Click("The rest of the order")
	clerk.Until("document.querySelector('#quantity-0').value === '40'", "all of it")
	clerk.Fill("#another-order", "DN 5507")
	clerk.Keys(kb.Enter)
	clerk.Until("document.querySelector('#quantity-2')?.value === '50'", "another note's first line")
	clerk.Click("Throw away")

	clerk.Open("/invoices/key")
	clerk.Until("document.activeElement.id === 'invoice-order'", "the field")
	clerk.Keys("SQUID", kb.Enter)
	clerk.SeeIn(".body", "DN 5509")
	clerk.SeeIn(".body", "381.00")
	clerk.Accessible()
	clerk.Click("Squid rings, frozen")
	clerk.SeeIn(".body", "381.00 EUR without tax")
	clerk.Click("Take what is marked")
	clerk.Until("document.activeElement.id === 'invoice-number' && document.querySelector('#quantity-0')?.value === '60'", "what was picked")
	clerk.Fill("#invoice-number", "BF-20460")
	clerk.Fill("#invoice-date", "20.11.2026")
	clerk.Fill("#invoice-total", "381.00")
	clerk.Fill("#tax-0", "23")
	clerk.SeeIn(".sum", "468.63")
	clerk.Click("Key the tax as the supplier states it")
	clerk.Until("document.activeElement.id === 'stated-tax-0' && document.activeElement.value === '87.63'", "what is computed, to be typed over")
	clerk.Keys("87.70")
	clerk.SeeIn(".sum", "468.70")
	clerk.Click("Compute it instead")
	clerk.SeeIn(".sum", "468.63")
	clerk.Fill("#tax-0", "0")
	clerk.SeeIn(".sum", "381.00")
	clerk.Click("Last invoice")
	clerk.Main()
	clerk.SeeIn(".notice", "agrees and is verified")
	clerk.See("last invoice of the order")
	clerk.Accessible()
}

// TestKeyedInvoice keys an invoice against an order by keyboard.
func TestKeyedInvoice(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	clerk := browser.Sit(t, h)
	clerk.Refusing(404)
	clerk.SignIn("nora", "/")
	clerk.See("Your turn")
	clerk.Letter("k")
	clerk.Focus("#invoice-order")
	clerk.Keys("x", kb.Enter)
	clerk.See("There is no order, delivery note, item or supplier “x”")
	clerk.Fill("#invoice-order", fmt.Sprint(browser.OrderOf(t, h, "DN 5509")))
	clerk.Keys(kb.Enter)
	clerk.SeeIn("table", "Squid rings")
	clerk.Fill("#invoice-number", "bf 20377")
	clerk.SeeIn(".finding", "An invoice of this number is here already")
	clerk.Fill("#invoice-number", "BF-20452")
	clerk.Gone(".finding", "is here already")
	clerk.Fill("#invoice-date", "20.11.2026")
	clerk.Fill("#invoice-total", "1900")
	clerk.SeeIn(".finding", "The invoice states a total of 1,900.00 EUR; its lines, charges and tax add up to 1,917.00.")
	clerk.Reload()
	clerk.See("and not booked: BF-20452, order")
	require.Equal(t, "BF-20452", clerk.Value("#invoice-number"))
	clerk.Click("Begin anew")
	clerk.Until("document.querySelector('#invoice-number')?.value === '' && document.activeElement.id === 'invoice-order'", "nothing of what was typed")
	clerk.Keys(fmt.Sprint(browser.OrderOf(t, h, "DN 5509")), kb.Enter)
	clerk.SeeIn("table", "Squid rings")
	clerk.Fill("#invoice-number", "BF-20452")
	clerk.Fill("#invoice-date", "20.11.2026")
	clerk.Fill("#invoice-total", "40*38.4+60*6.35")
	clerk.See("= 1,917")
	clerk.Fill("#invoice-due", "31 Jan 2027")
	clerk.See("Everything agrees")
	clerk.Main()
	clerk.SeeIn(".notice", "agrees and is verified")
	row := browser.InvoiceOf(t, h, "BF-20452")
	require.Equal(t, trade.Verified, row.State)
	clerk.SeeIn(".facts", "the invoice says 31 Jan 2027")
	clerk.Click("take that…")
	clerk.Fill("#due", "Agreed by telephone")
	clerk.Main()
	clerk.SeeIn(".facts", "Nora Ferrow: Agreed by telephone")

	// Nobody releases their own entry.
	clerk.Open("/payments")
	clerk.See("BF-20452")
	clerk.Eval("document.querySelector('[aria-label=\"Release BF-20452 of Brackwater Feeds\"]').click()")
	clerk.Main()
	clerk.See("The entry of invoice")
	require.Equal(t, trade.Verified, browser.InvoiceOf(t, h, "BF-20452").State)
}

// TestEffortOfSettling counts what it takes to key a further invoice of an order, to settle its price, and to say what an
// e-invoice is about.
func TestEffortOfSettling(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	nora, ada := browser.Sit(t, h), browser.Sit(t, h)
	order := browser.OrderOf(t, h, "HS 882") // one tanker is invoiced, the other is here
	nora.SignIn("nora", fmt.Sprintf("/invoices/key?order=%d", order))
	nora.Until("document.querySelector('#quantity-0')?.value", "what is here and not invoiced")
	before := nora.Acts
	nora.Fill("#invoice-number", "77-0300")
	nora.Fill("#invoice-date", "23.11.2026")
	nora.Fill("#invoice-total", "2,204.16")
	nora.Main()
	nora.SeeIn(".notice", "agrees and is verified")
	browser.Effort(t, "A further invoice of an order that is here", nora.Acts-before)

	nora.Open("/invoices")
	nora.Give("input[type=file]", "4-unknown-order.xml")
	nora.See("4-unknown-order.xml")
	nora.Open(fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "OF-3421").Number))
	nora.See("Held: 1 difference")
	before = nora.Acts
	nora.Letter("1")
	nora.SeeIn(".ask", "same item code")
	nora.Main()
	nora.SeeIn(".notice", "Invoice")
	browser.Effort(t, "The order of an e-invoice that names none we know, chosen", nora.Acts-before)

	held := browser.InvoiceOf(t, h, "BF-20418").Number
	ada.SignIn("ada", fmt.Sprintf("/invoices/%d", held))
	ada.See("Held: 2 differences")
	before = ada.Acts
	ada.Letter("2")
	ada.Until("document.activeElement.matches('.ask input[type=text]')", "the note")
	ada.Keys("price of the new catch")
	ada.Main()
	ada.SeeIn(".notice", "The difference is accepted")
	browser.Effort(t, "A price difference accepted", ada.Acts-before)
}
