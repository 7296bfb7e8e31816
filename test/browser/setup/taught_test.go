package setup

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/format/pdf"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// A paper that calls things by words of its own is corrected once: the next of its supplier is read.
func TestAPaperTeaches(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/")
	paper := func(number, total string) string {
		t.Helper()
		content, err := pdf.Write(pdf.Document{
			Title: "For what we sent", Sender: []string{"Brackwater Feeds", "Tax number IE9700011B"}, To: []string{"Skerry Point Aquarium"},
			Facts:   []pdf.Fact{{Label: "Consignment", Value: number}, {Label: "Invoice date", Value: "20 November 2026"}, {Label: "Your order", Value: "4197"}},
			Columns: []pdf.Column{{Title: "Goods", Width: 90}, {Title: "Weight", Width: 30, Right: true}},
			Rows:    []pdf.Row{{Cells: []string{"Clam meat, frozen", "144 kg"}}},
			Sums:    []pdf.Fact{{Label: "We debit you with", Value: total}}, PageWord: "Page", On: browser.Morning,
		})
		require.NoError(t, err)
		name := filepath.Join(t.TempDir(), number+".pdf")
		require.NoError(t, os.WriteFile(name, content, 0o600))
		return name
	}
	d.Open("/invoices")
	d.Give("input[type=file]", paper("BF-70001", "1,411.20"))
	d.SeeIn(".sheet", "Read, not checked: supplier, order, date.")
	d.Until("document.querySelector('#invoice-number').value === '' && document.querySelector('#invoice-total').value === ''", "it says neither in words that are known")
	d.Fill("#invoice-number", "BF-70001")
	d.Fill("#invoice-total", "1400")
	d.Main()
	d.SeeIn(".notice", "held")
	d.Click("Correct the entry")
	d.Focus("#invoice-total")
	d.Until(`(e => e && (e.dispatchEvent(new MouseEvent('mousedown', {bubbles: true, cancelable: true})), true))([...document.querySelectorAll('.side .part')].find(e => e.title.includes('1,411.20')))`, "the total on the paper")
	d.Until("document.querySelector('#invoice-total').value === '1,411.20'", "what was clicked")
	d.Fill("#correct-reason", "mistyped")
	d.Main()
	d.SeeIn(".notice", "verified")
	d.Open("/invoices")
	d.Give("input[type=file]", paper("BF-70002", "99.00"))
	d.SeeIn(".sheet", "Read, not checked: supplier, order, number, date, total.")
	d.Until("document.querySelector('#invoice-number').value === 'BF-70002'", "what was learned")
	d.Open("/setup/suppliers/BRACK")
	d.SeeIn(".sheet", "The invoice number stands behind “Consignment”, as corrected on BF-70001")
	d.SeeIn(".sheet", "The total stands behind “We debit you with”")
	d.Until(`(e => e && (e.click(), true))(document.querySelector('[aria-label="Forget where the total stands"]'))`, "forget it")
	d.SeeIn(".notice", "The total is looked for as on any paper again.")
	d.Gone(".sheet", "We debit you with")
}

// TestHowASupplierKnowsUs: our number there, its other names and what is always written to it are kept on its page.
func TestHowASupplierKnowsUs(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("ivo", "/setup/suppliers/OSTRE")
	d.SeeIn(".body", "our customer number: none")
	d.Eval("[...document.querySelectorAll('h2')].find(h => h.innerText.startsWith('How it knows us')).querySelector('button').click()")
	d.Until("document.activeElement.id === 'known-customer'", "the form")
	d.Keys("OF 88-12")
	d.Fill("#known-names", "Ostrea; Ostrea Service")
	d.Fill("#known-standing", "Ring at the plant room.")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "How it knows us is changed")
	d.SeeIn(".body", "also called: Ostrea; Ostrea Service")
	d.SeeIn(".body", "Ring at the plant room.")
	names := browser.Ask(t, h, func(tx *store.Tx) ([]string, error) {
		s, err := tx.SupplierByCode("OSTRE")
		if err != nil {
			return nil, err
		}
		return tx.OtherNames(s.ID)
	})
	require.Equal(t, []string{"Ostrea", "Ostrea Service"}, names)
}

// TestAnUnknownOrderIsChosen: whose an e-invoice is that nobody knows is chosen among the suppliers; an e-invoice that names an order nobody knows is settled by choosing among its supplier's
// open orders, best first; what its supplier's codes stand for is shown and forgotten at the supplier.
func TestAnUnknownOrderIsChosen(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	nora := browser.Sit(t, h)
	nora.SignIn("nora", "/invoices")
	nora.Give("input[type=file]", "4-unknown-order.xml")
	nora.See("4-unknown-order.xml")
	number := browser.InvoiceOf(t, h, "OF-3421").Number
	nora.Open(fmt.Sprintf("/invoices/%d", number))
	nora.See("Held: 1 difference")
	nora.Letter("1")
	nora.SeeIn(".ask", "Say which order it is about.")
	nora.SeeIn(".ask", "alike in words")
	nora.Accessible()
	nora.Main()
	nora.Gone(".ask", "Say which order")
	nora.SeeIn(".notice", fmt.Sprintf("Invoice %d is", number))
	nora.Gone(".finding", "9999")
	require.NotZero(t, browser.InvoiceOf(t, h, "OF-3421").Order, "it is about the order that was chosen")

	nora.Open(fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "2026-118").Number))
	nora.See("Held: 2 differences")
	nora.Letter("1")
	nora.SeeIn(".ask", "Say whose it is.")
	nora.Keys(kb.ArrowDown)
	nora.SeeIn(".ask", "Fernhollow Nets")
	nora.Accessible()
	nora.Main()
	nora.Gone(".ask", "Say whose")
	nora.Gone(".finding", "No supplier is known")
	require.NotZero(t, browser.InvoiceOf(t, h, "2026-118").Supplier)

	nora.Open("/setup/suppliers/OSTRE")
	nora.SeeIn(".sheet", "Codes on its invoices")
	nora.Click("Forget")
	nora.SeeIn(".notice", "QS-25 stands for nothing any more")
	nora.Gone(".sheet", "Codes on its invoices")
}
