package payments

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/test/browser"
)

// TestMonthEnd: one page says what a month leaves to be done; what came is accrued with a line taken out and one added, and
// taken back; the month is handed to the general ledger, and that is taken back; the pack is taken along.
func TestMonthEnd(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/lookup/month-end")
	d.SeeIn(".steps", "Handed to the general ledger")
	d.SeeIn(".sheet", "Dives at the otter pool")
	require.NotContains(t, d.Text(".sheet"), "Take it back", "who may not, is not offered it")
	d.Accessible()
	before := d.Acts
	require.Equal(t, 200, d.Number(`(() => { const r = new XMLHttpRequest(); r.open('GET', [...document.querySelectorAll('.bar a')].at(0).href, false); r.send(); return r.status })()`))
	require.Equal(t, 200, d.Number(`(() => { const r = new XMLHttpRequest(); r.open('GET', [...document.querySelectorAll('.bar a')].at(-1).href, false); r.send(); return r.status })()`))
	require.Zero(t, d.Acts-before, "the pack is one click on the page")

	d.SignIn("tomas", "/lookup/month-end")
	d.Click("Take it back…")
	d.SeeIn(".ask", "Both of its entries are undone")
	d.Fill("#month-undo", "They wrote once more")
	d.Main()
	d.SeeIn(".notice", "The accrual is taken back")
	d.Eval(`document.activeElement.blur()`)
	d.Letter("a")
	d.SeeIn(".ask", "without tax")
	d.Click("Add a cost that came without an order")
	d.Fill("#accrued-text-0", "Dives")
	d.Fill("#accrued-amount-0", "5x0")
	d.Refusing(422)
	d.Main()
	d.SeeIn(".ask", "is no budget")
	d.SeeIn(".ask", "Enter an amount of EUR above zero")
	d.Accessible()
	d.Eval(`const g = document.getElementById('accrued-budget-0'); g.value = 'HOSP'; g.dispatchEvent(new Event('change', {bubbles: true}))`)
	d.Eval(`document.getElementById('accrued-amount-0').select()`)
	d.Fill("#accrued-amount-0", "500")
	d.Main()
	d.SeeIn(".notice", "is posted, 500.00 EUR, and taken back on")
	d.Accessible()
	d.Eval(`document.activeElement.blur()`)
	d.Letter("e")
	d.SeeIn(".notice", "Batch ")
	d.Eval(`[...document.querySelectorAll('button')].filter(b => b.innerText.includes('take back…')).at(-1).click()`)
	d.Fill("#month-undo", "Wrong chart")
	d.Main()
	d.SeeIn(".notice", "is taken back")
	d.Accessible()
	d.Keys(kb.ArrowLeft)
	d.SeeIn("h1", "The end of")
	d.Accessible()
}

// TestStatements: what a supplier says that it is owed is keyed or read, held against what is here as it is typed, kept, and what is
// missing is asked for by one mail.
func TestStatements(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/lookup/statements")
	d.SeeIn(".trials", "Brackwater Feeds")
	d.Accessible()
	d.Eval(`document.querySelector('.trials a').click()`)
	d.SeeIn(".statement", "Missing here")
	d.SeeIn(".statement", "BF-19977")
	d.SeeIn(".sheet", "Asked for by Nora Ferrow")
	d.Accessible()
	d.Letter("a")
	d.Until(`document.getElementById('ask-subject')?.value.startsWith('Your statement of')`, "the letter")
	d.Eval(`const t = document.getElementById('ask-text'); t.value = ''; t.dispatchEvent(new Event('input'))`)
	d.Refusing(422)
	d.Main()
	d.SeeIn(".ask", "Write what is asked")
	d.Accessible()
	d.Fill("#ask-text", "Please send us a copy of BF-19977.")
	d.Main()
	d.SeeIn(".notice", "is asked for what is missing")
	d.Eval(`document.activeElement.blur()`)
	d.Keys(kb.Escape)
	d.SeeIn("h1", "Suppliers’ statements")

	d.Letter("n")
	d.SeeIn("h1", "A supplier’s statement")
	d.Fill("#statement-supplier", "tidew\r")
	d.Fill("#line-number-0", "TW-9")
	d.Fill("#line-amount-0", "120.5")
	d.SeeIn(".statement", "Missing here")
	d.SeeIn(".bar", "Tidewell Pumps says 120.50")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "The statement is kept")
	d.SeeIn("h1", "Statement of Tidewell Pumps")
	d.Open("/lookup/statements/new")
	d.Fill("#statement-supplier", "brack\r")
	table := filepath.Join(t.TempDir(), "statement.csv")
	require.NoError(t, os.WriteFile(table, []byte("Number;Date;Open amount\nBF-1;01.10.2026;1.204,50\nBF-2;14.10.2026;88\n;;Total 1.292,50\n"), 0o600))
	d.Give("input[type=file]", table)
	d.SeeIn(".statement", "BF-2")
	d.SeeIn(".statement", "1,204.50")
	d.SeeIn(".body", "statement.csv is kept with it")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "The statement is kept.")
	d.SeeIn(".kept-papers", "statement.csv")
}

// TestTheBooksAreProvedOnThePage: whoever closes a month has the books proved there, and sees what came of it and when.
func TestTheBooksAreProvedOnThePage(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("tomas", "/lookup/month-end")
	d.SeeIn(".steps", "not proved since Lagoon was started")
	d.Until("(e => e && (e.click(), true))([...document.querySelectorAll('.steps button')].find(b => b.innerText.trim() === 'prove'))", "prove")
	d.SeeIn(".steps", "the documents and the books said the same")
	d.Accessible()
	clerk := browser.Sit(t, h)
	clerk.SignIn("nora", "/lookup/month-end")
	clerk.SeeIn(".steps", "Bank reconciled")
	clerk.Gone(".steps", "The books prove themselves")
}
