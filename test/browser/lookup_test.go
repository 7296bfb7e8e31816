package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// TestLookUp: one line says what a list shows; it is typed with completion, sorted, grouped with sums, kept, and found again
// by its address; the story of a row stands beside it, and what is shown is taken along.
func TestLookUp(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/lookup/lists/orders")
	d.seeIn(".show", "open")
	d.seeIn("tfoot", "USD")
	rows := func() int { return d.number(`document.querySelectorAll('tr[data-row]').length`) }
	all := rows()
	require.Greater(t, all, 10)
	d.accessible()

	before := d.acts
	d.letter("s")
	d.until("document.activeElement.id === 'show-words'", "the line")
	d.keys("brack")
	d.seeIn("#show-offered", "supplier Brackwater Feeds")
	d.keys(kb.Enter)
	d.seeIn(".show", "supplier Brackwater Feeds")
	d.until(fmt.Sprintf("document.querySelectorAll('tr[data-row]').length < %d", all), "only its orders")
	effort(t, "Open orders of a supplier", d.acts-before)
	require.Contains(t, d.text("tfoot"), "All")

	d.keys("over 3,000")
	d.seeIn("#show-offered", "over 3,000")
	d.keys(kb.Enter)
	d.seeIn(".show", "over 3,000")
	d.keys("nonsense", kb.Enter)
	d.seeIn(".words", "“nonsense” is no word of this list")
	d.accessible()
	for range "nonsense" {
		d.keys(kb.Backspace)
	}
	d.keys(kb.Backspace, kb.Backspace) // the last word, and the one before it
	d.until(fmt.Sprintf("document.querySelectorAll('tr[data-row]').length === %d", all), "all that are open")

	d.keys(kb.Escape)
	d.letter("g")
	d.eval(`const g = document.getElementById('list-group'); g.value = 'supplier'; g.dispatchEvent(new Event('change', {bubbles: true}))`)
	d.seeIn("tr.group", "Brackwater Feeds")
	d.accessible()
	d.eval(`document.querySelector('tr.group button').click()`)
	d.seeIn("tr.group", "folded")
	d.eval(`document.querySelector('tr.group button').click()`)
	d.eval(`[...document.querySelectorAll('thead button')].find(b => b.innerText.startsWith('To come')).click()`)
	d.until("document.querySelector('th[aria-sort=ascending]').innerText.startsWith('To come')", "sorted")

	d.eval(`document.activeElement.blur()`)
	d.letter("p")
	d.seeIn(".side", "Go to a row")
	d.keys(kb.ArrowDown)
	d.seeIn(".side .thread", "Ordered")
	d.accessible()
	d.letter("d")
	d.seeIn("#list-columns", "Not invoiced")
	d.click("Place")
	d.seeIn("thead", "Place")
	d.keys(kb.Escape)

	d.letter("k")
	d.focus("#keep-name")
	d.keys("Mine, by supplier")
	d.main()
	d.seeIn(".notice", "is kept")
	d.seeIn(".rail", "Mine, by supplier")
	d.accessible()
	d.reload()
	d.seeIn("tr.group", "Brackwater Feeds")
	d.seeIn("thead", "Place")
	d.letter("k")
	d.eval(`[...document.querySelectorAll('.ask .linkish')].find(b => b.innerText.includes('Mine, by supplier')).click()`)
	d.seeIn(".notice", "kept no longer")

	d.letter("m")
	d.focus("#list-to")
	d.keys("nobody")
	d.refusing(422)
	d.main()
	d.seeIn(".ask .text-danger", "address")
	d.accessible()
	d.eval(`document.getElementById('list-to').select()`)
	d.keys("them@example.org")
	d.main()
	d.seeIn(".notice", "goes to them@example.org")

	for _, as := range []string{"csv", "xlsx", "pdf"} {
		require.Equal(t, 200, d.number(`(() => { const r = new XMLHttpRequest(); r.open('GET', [...document.querySelectorAll('.taken a')].find(a => a.href.endsWith('as=`+as+`')).href, false); r.send(); return r.status })()`))
	}

	d.open("/lookup/lists/grni")
	d.seeIn("tbody", "its invoice is held")
	d.letter("s")
	d.keys("at -60")
	d.seeIn("#show-offered", "at ")
	d.keys(kb.Enter)
	d.seeIn("header", "on ")
	d.accessible()
	d.open("/lookup/lists/owed?group=supplier")
	d.seeIn("tbody", "Halden Salt Works")
	d.accessible()
	d.refusing(422)
	d.open("/setup/suppliers/BRACK")
	d.seeIn(".sheet", "open orders")
	d.accessible()
	for key, words := range map[string]string{"l": "Orders, how they stand", "r": "Deliveries and lots", "i": "Invoices", "u": "Owed, by age"} {
		d.letter(key)
		d.seeIn("h1", words)
		d.seeIn(".show", "supplier Brackwater Feeds")
		d.eval("history.back()")
		d.seeIn("h1", "BRACK")
	}
	d.letter("k")
	d.seeIn("h1", "Key an invoice")
	d.open("/lookup/lists/orders?show=nonsense")
	d.seeIn(".sheet", "no word of this list")
	d.click("Show it as it was")
	d.seeIn(".show", "open")
}

// TestMonthEnd: one page says what a month leaves to be done; what came is accrued with a line taken out and one added, and
// taken back; the month is handed to the general ledger, and that is taken back; the pack is taken along.
func TestMonthEnd(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/lookup/month-end")
	d.seeIn(".steps", "Handed to the general ledger")
	d.seeIn(".sheet", "Dives at the otter pool")
	require.NotContains(t, d.text(".sheet"), "Take it back", "who may not, is not offered it")
	d.accessible()
	before := d.acts
	require.Equal(t, 200, d.number(`(() => { const r = new XMLHttpRequest(); r.open('GET', [...document.querySelectorAll('.bar a')].at(0).href, false); r.send(); return r.status })()`))
	require.Equal(t, 200, d.number(`(() => { const r = new XMLHttpRequest(); r.open('GET', [...document.querySelectorAll('.bar a')].at(-1).href, false); r.send(); return r.status })()`))
	require.Zero(t, d.acts-before, "the pack is one click on the page")

	d.signIn("tomas")
	d.open("/lookup/month-end")
	d.click("Take it back…")
	d.seeIn(".ask", "Both of its entries are undone")
	d.fill("#month-undo", "They wrote once more")
	d.main()
	d.seeIn(".notice", "The accrual is taken back")
	d.eval(`document.activeElement.blur()`)
	d.letter("a")
	d.seeIn(".ask", "without tax")
	d.click("Add a cost that came without an order")
	d.fill("#accrued-text-0", "Dives")
	d.fill("#accrued-amount-0", "5x0")
	d.refusing(422)
	d.main()
	d.seeIn(".ask", "is no budget")
	d.seeIn(".ask", "Enter an amount of EUR above zero")
	d.accessible()
	d.eval(`const g = document.getElementById('accrued-budget-0'); g.value = 'HOSP'; g.dispatchEvent(new Event('change', {bubbles: true}))`)
	d.eval(`document.getElementById('accrued-amount-0').select()`)
	d.fill("#accrued-amount-0", "500")
	d.main()
	d.seeIn(".notice", "is posted, 500.00 EUR, and taken back on")
	d.accessible()
	d.eval(`document.activeElement.blur()`)
	d.letter("e")
	d.seeIn(".notice", "Batch ")
	d.eval(`[...document.querySelectorAll('button')].filter(b => b.innerText.includes('take back…')).at(-1).click()`)
	d.fill("#month-undo", "Wrong chart")
	d.main()
	d.seeIn(".notice", "is taken back")
	d.accessible()
	d.keys(kb.ArrowLeft)
	d.seeIn("h1", "The end of")
	d.accessible()
}
