package invoices

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/format/pdf"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestMails: a mail that is no e-invoice is keyed from, with its file as the paper, or put away; one that was saved as a file is
// dropped like an invoice; an invoice says by which mail it came.
func TestMails(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("nora", "/invoices")
	d.See("Not an invoice?")
	d.See("Quay Street Vets")
	mails := browser.Ask(t, h, func(tx *store.Tx) ([]store.Mail, error) { return tx.OpenMails() })
	require.Len(t, mails, 3)
	asked, vets := mails[0], mails[2]

	d.Open(fmt.Sprintf("/invoices/mail/%d", vets.Number))
	d.SeeIn(".sheet", "our invoice for the visit on Tuesday is attached")
	d.Accessible()
	d.Letter("k")
	d.SeeIn(".side", "Its paper is QV-311.pdf")
	d.Until("document.querySelector('.side canvas')?.width > 100", "the paper is drawn")
	d.Fill(".side .paper-words", "180")
	d.Keys(kb.Enter)
	d.SeeIn(".side", "On page 1.")
	d.Fill("#invoice-supplier", "Skerry Harbour")
	d.Keys(kb.Enter)
	d.Until("document.querySelector('#budget-0')?.value === 'TECH'", "what the last one was charged to")
	d.Fill("#invoice-number", "QV-311")
	d.Fill("#invoice-date", "20.11.2026")
	d.Fill("#invoice-total", "180")
	d.Main()
	d.SeeIn(".notice", "Invoice")
	keyed := browser.InvoiceOf(t, h, "QV-311")
	require.Equal(t, trade.Held, keyed.State, "it is to be approved")
	d.SeeIn(".facts", "Visit to the seals")
	d.SeeIn(".facts", "which is no address of")
	d.Click("Paper")
	d.Until("document.querySelector('.side canvas')?.width > 100", "the paper stands beside the invoice")
	require.Equal(t, store.MailDone, browser.Ask(t, h, func(tx *store.Tx) (store.Mail, error) { return tx.MailByNumber(vets.Number) }).State)

	d.Open(fmt.Sprintf("/invoices/mail/%d", asked.Number))
	d.SeeIn("h1", "When will you pay 76-0192?")
	d.Letter("p")
	d.Until("document.activeElement.id === 'mail-order'", "the form")
	d.Main()
	d.SeeIn(".ask", "Say what it is")
	d.Fill("#mail-note", "answered by telephone")
	d.Main()
	d.SeeIn(".notice", "is filed")
	d.SeeIn(".headline", "filed")
	d.Letter("o")
	d.SeeIn(".headline", "not an invoice, or not only?")
	d.Letter("a")
	d.Until("document.activeElement.id === 'mail-answer'", "the answer")
	d.Main()
	d.SeeIn(".ask", "Write the answer.")
	d.Keys("With the run of this week.")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "is answered and put away")
	d.SeeIn(".sheet", "With the run of this week.")

	mail := filepath.Join(t.TempDir(), "forwarded.eml")
	require.NoError(t, os.WriteFile(mail, []byte("From: a@halden.example\r\nSubject: Price list\r\nMessage-Id: <p@halden.example>\r\n\r\nSalt stays at 112.00.\r\n"), 0o600))
	d.Open("/invoices")
	d.See("Take in files")
	d.Give("input[type=file]", mail)
	d.SeeIn(".notice", "brings no e-invoice; it is to be looked at")
	d.See("Price list")
}

// TestAPaperIsRead: an invoice that came as a PDF is keyed with what its paper says, marked as not checked until somebody looks;
// each figure shows where it stands.
func TestAPaperIsRead(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/")
	mails := browser.Ask(t, h, func(tx *store.Tx) ([]store.Mail, error) { return tx.OpenMails() })
	at := slices.IndexFunc(mails, func(m store.Mail) bool { return m.Subject == "Invoice BF-20466" })
	d.Open(fmt.Sprintf("/invoices/mail/%d", mails[at].Number))
	d.SeeIn(".sheet", "our invoice is attached")
	before := d.Acts
	d.Letter("k")
	d.SeeIn(".sheet", "Read, not checked: supplier, order, number, date, total, lines.")
	d.Until("document.querySelector('#invoice-number').value === 'BF-20466' && document.querySelector('#invoice-total').value === '1,917.00'", "what was read")
	d.Until("document.querySelector('#invoice-number').classList.contains('read')", "it is marked")
	d.See("Everything agrees; the invoice verifies when it is captured.")
	d.Accessible()
	d.Until("document.querySelector('.side .place')", "where the order stands on the paper")
	d.Main()
	d.SeeIn(".notice", "agrees and is verified")
	browser.Effort(t, "An invoice that came as a PDF and agrees with its order", d.Acts-before)
	d.See("by mail")

	d.Open(fmt.Sprintf("/invoices/mail/%d", mails[at].Number))
	d.SeeIn(".sheet", "dealt with")

	d.Open("/invoices")
	d.Give("input[type=file]", "14-on-paper.pdf")
	d.SeeIn(".pile", "Papers to key 1")
	d.SeeIn(".sheet", "Read, not checked")
	d.Until("document.querySelector('#invoice-number').value === 'BF-20468'", "what was read")
	// What stands on the paper is put into the field that has the focus, by a click or by keys.
	part := func(text string) {
		t.Helper()
		d.Until(fmt.Sprintf(`(e => e && (e.dispatchEvent(new MouseEvent('mousedown', {bubbles: true, cancelable: true})), true))([...document.querySelectorAll('.side .part')].find(e => e.title.includes(%q)))`, text), text+" on the paper")
	}
	d.Eval("document.activeElement.blur()")
	part("BF-20468")
	d.SeeIn(".side", "Go into a field first")
	d.Fill("#invoice-number", "BF-20469")
	d.SeeIn(".sheet", "Read, not checked: supplier, order, date, total, lines.")
	d.Focus("#invoice-total")
	part("BF-20468")
	d.SeeIn(".side", "“BF-20468” is no number.")
	d.Keys("x")
	d.AltKey(kb.ArrowUp)
	d.AltKey(kb.ArrowDown)
	d.AltKey(kb.Enter)
	d.SeeIn(".side", "“1,411.20” is in the field.")
	d.Until("document.querySelector('#invoice-total').value === '1,411.20' && document.activeElement.id === 'invoice-total'", "the figure")
	d.Focus("#invoice-number")
	part("BF-20468")
	d.Until("document.querySelector('#invoice-number').value === 'BF-20468'", "the number")
	d.Fill("#invoice-number", "BF-20469")
	d.Focus("#invoice-date")
	part("2026")
	d.SeeIn(".sheet", "Read, not checked: supplier, order, lines.")
	d.Focus("#quantity-0")
	d.Keys(kb.Enter)
	d.SeeIn(".sheet", "Read, not checked: supplier, order.")
	d.Main()
	d.SeeIn(".notice", "Invoice")
	d.SeeIn(".facts", "14-on-paper.pdf")
	d.Open("/invoices")
	d.Give("input[type=file]", "14-on-paper.pdf")
	d.SeeIn(".sheet", "This paper is here already")

	// What the table on the paper bills is taken over, whatever is received on the order.
	billed, err := pdf.Write(pdf.Document{
		Title: "Invoice BF-20471", Sender: []string{"Brackwater Feeds", "Tax number IE9700011B"}, To: []string{"Skerry Point Aquarium"},
		Facts:   []pdf.Fact{{Label: "Invoice number", Value: "BF-20471"}, {Label: "Invoice date", Value: "20 November 2026"}, {Label: "Your order", Value: "4197"}},
		Columns: []pdf.Column{{Title: "Goods", Width: 90}, {Title: "Weight", Width: 30, Right: true}, {Title: "Price", Width: 24, Right: true}, {Title: "Net", Width: 30, Right: true}},
		Rows:    []pdf.Row{{Cells: []string{"Clam meat, frozen", "37.5 kg", "9.95", "373.13"}}},
		Sums:    []pdf.Fact{{Label: "Net", Value: "373.13"}, {Label: "Amount due, EUR", Value: "373.13"}}, PageWord: "Page", On: browser.Morning,
	})
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "BF-20471.pdf")
	require.NoError(t, os.WriteFile(name, billed, 0o600))
	d.Open("/invoices")
	d.Give("input[type=file]", name)
	d.SeeIn(".sheet", "Read, not checked: supplier, order, number, date, total, lines.")
	d.Until("document.querySelector('#quantity-0').value === '37.5' && document.querySelector('#price-0').value === '9.95'", "as it is billed")
	d.Until("document.querySelector('#quantity-0').closest('.read')", "it is marked")
	d.Focus("#price-0")
	d.Until("document.querySelector('.side .place')", "where the row stands")

	// So is that of a paper which names no order: its lines are charged to a budget, taxed as this supplier's were.
	free, err := pdf.Write(pdf.Document{
		Title: "Invoice HW-0331", Sender: []string{"Skerry Harbour Trust", taxed(t, h, "HARBR")}, To: []string{"Skerry Point Aquarium"},
		Facts:   []pdf.Fact{{Label: "Invoice number", Value: "HW-0331"}, {Label: "Invoice date", Value: "20 November 2026"}},
		Columns: []pdf.Column{{Title: "Of", Width: 90}, {Title: "Hours", Width: 30, Right: true}, {Title: "Price", Width: 24, Right: true}, {Title: "Net", Width: 30, Right: true}},
		Rows:    []pdf.Row{{Cells: []string{"Crane with driver", "2.5", "96.00", "240.00"}}, {Cells: []string{"Slipway", "1", "35.00", "35.00"}}},
		Sums:    []pdf.Fact{{Label: "Net", Value: "275.00"}, {Label: "Amount due, EUR", Value: "275.00"}}, PageWord: "Page", On: browser.Morning,
	})
	require.NoError(t, err)
	name = filepath.Join(t.TempDir(), "HW-0331.pdf")
	require.NoError(t, os.WriteFile(name, free, 0o600))
	d.Open("/invoices")
	d.Give("input[type=file]", name)
	d.SeeIn(".sheet", "Read, not checked: supplier, number, date, total, lines.")
	d.Until("document.querySelector('#quantity-0').value === '2.5' && document.querySelector('#price-1').value === '35.00'", "as it is billed")
	d.Until("(e => e && (e.click(), true))([...document.querySelectorAll('.sheet button')].find(b => b.innerText.includes('Without an order')))", "without an order")
	d.Until("document.querySelector('#budget-0') && document.querySelector('#quantity-0').value === '2.5'", "charged to a budget")
	d.Accessible()
}

// taxed is a supplier's tax number as its paper states it.
func taxed(t *testing.T, h browser.Place, code string) string {
	t.Helper()
	return "Tax number " + browser.Ask(t, h, func(tx *store.Tx) (string, error) {
		s, err := tx.SupplierByCode(code)
		return s.TaxID, err
	})
}
