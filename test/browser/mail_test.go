package browser

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
)

// TestMails: a mail that is no e-invoice is keyed from, with its file as the paper, or put away; one that was saved as a file is
// dropped like an invoice; an invoice says by which mail it came.
func TestMails(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("nora")
	d.open("/invoices")
	d.see("Not an invoice?")
	d.see("Quay Street Vets")
	mails := ask(t, h, func(tx *store.Tx) ([]store.Mail, error) { return tx.OpenMails() })
	require.Len(t, mails, 3)
	asked, vets := mails[0], mails[2]

	d.open(fmt.Sprintf("/invoices/mail/%d", vets.Number))
	d.seeIn(".sheet", "our invoice for the visit on Tuesday is attached")
	d.accessible()
	d.letter("k")
	d.seeIn(".side", "Its paper is QV-311.pdf")
	d.until("document.querySelector('.side canvas')?.width > 100", "the paper is drawn")
	d.fill(".side .paper-words", "180")
	d.keys(kb.Enter)
	d.seeIn(".side", "On page 1.")
	d.fill("#invoice-supplier", "Skerry Harbour")
	d.keys(kb.Enter)
	d.until("document.querySelector('#budget-0')?.value === 'TECH'", "what the last one was charged to")
	d.fill("#invoice-number", "QV-311")
	d.fill("#invoice-date", "20.11.2026")
	d.fill("#invoice-total", "180")
	d.main()
	d.seeIn(".notice", "Invoice")
	keyed := invoiceOf(t, h, "QV-311")
	require.Equal(t, trade.Held, keyed.State, "it is to be approved")
	d.seeIn(".facts", "Visit to the seals")
	d.seeIn(".facts", "which is no address of")
	d.click("Paper")
	d.until("document.querySelector('.side canvas')?.width > 100", "the paper stands beside the invoice")
	require.Equal(t, store.MailDone, ask(t, h, func(tx *store.Tx) (store.Mail, error) { return tx.MailByNumber(vets.Number) }).State)

	d.open(fmt.Sprintf("/invoices/mail/%d", asked.Number))
	d.seeIn("h1", "When will you pay 76-0192?")
	d.letter("p")
	d.until("document.activeElement.id === 'mail-order'", "the form")
	d.main()
	d.seeIn(".ask", "Say what it is")
	d.fill("#mail-note", "answered by telephone")
	d.main()
	d.seeIn(".notice", "is filed")
	d.seeIn(".headline", "filed")
	d.letter("o")
	d.seeIn(".headline", "not an invoice, or not only?")
	d.letter("a")
	d.until("document.activeElement.id === 'mail-answer'", "the answer")
	d.main()
	d.seeIn(".ask", "Write the answer.")
	d.keys("With the run of this week.")
	d.accessible()
	d.main()
	d.seeIn(".notice", "is answered and put away")
	d.seeIn(".sheet", "With the run of this week.")

	mail := filepath.Join(t.TempDir(), "forwarded.eml")
	require.NoError(t, os.WriteFile(mail, []byte("From: a@halden.example\r\nSubject: Price list\r\nMessage-Id: <p@halden.example>\r\n\r\nSalt stays at 112.00.\r\n"), 0o600))
	d.open("/invoices")
	d.see("Take in files")
	d.give("input[type=file]", mail)
	d.seeIn(".notice", "brings no e-invoice; it is to be looked at")
	d.see("Price list")
}

// TestAPaperIsRead: an invoice that came as a PDF is keyed with what its paper says, marked as not checked until somebody looks;
// each figure shows where it stands.
func TestAPaperIsRead(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	mails := ask(t, h, func(tx *store.Tx) ([]store.Mail, error) { return tx.OpenMails() })
	at := slices.IndexFunc(mails, func(m store.Mail) bool { return m.Subject == "Invoice BF-20466" })
	d.open(fmt.Sprintf("/invoices/mail/%d", mails[at].Number))
	d.seeIn(".sheet", "our invoice is attached")
	before := d.acts
	d.letter("k")
	d.seeIn(".sheet", "Read, not checked: supplier, order, number, date, total, lines.")
	d.until("document.querySelector('#invoice-number').value === 'BF-20466' && document.querySelector('#invoice-total').value === '1,917.00'", "what was read")
	d.until("document.querySelector('#invoice-number').classList.contains('read')", "it is marked")
	d.see("Everything agrees; the invoice verifies when it is captured.")
	d.accessible()
	d.until("document.querySelector('.side .place')", "where the order stands on the paper")
	d.main()
	d.seeIn(".notice", "agrees and is verified")
	effort(t, "An invoice that came as a PDF and agrees with its order", d.acts-before)
	d.see("by mail")

	d.open(fmt.Sprintf("/invoices/mail/%d", mails[at].Number))
	d.seeIn(".sheet", "dealt with")

	d.open("/invoices")
	d.give("input[type=file]", "14-on-paper.pdf")
	d.seeIn(".pile", "Papers to key 1")
	d.seeIn(".sheet", "Read, not checked")
	d.until("document.querySelector('#invoice-number').value === 'BF-20468'", "what was read")
	// What stands on the paper is put into the field that has the focus, by a click or by keys.
	part := func(text string) {
		t.Helper()
		d.until(fmt.Sprintf(`(e => e && (e.dispatchEvent(new MouseEvent('mousedown', {bubbles: true, cancelable: true})), true))([...document.querySelectorAll('.side .part')].find(e => e.title.includes(%q)))`, text), text+" on the paper")
	}
	d.eval("document.activeElement.blur()")
	part("BF-20468")
	d.seeIn(".side", "Go into a field first")
	d.fill("#invoice-number", "BF-20469")
	d.seeIn(".sheet", "Read, not checked: supplier, order, date, total, lines.")
	d.focus("#invoice-total")
	part("BF-20468")
	d.seeIn(".side", "“BF-20468” is no number.")
	d.keys("x")
	d.altKey(kb.ArrowUp)
	d.altKey(kb.ArrowDown)
	d.altKey(kb.Enter)
	d.seeIn(".side", "“1,411.20” is in the field.")
	d.until("document.querySelector('#invoice-total').value === '1,411.20' && document.activeElement.id === 'invoice-total'", "the figure")
	d.focus("#invoice-number")
	part("BF-20468")
	d.until("document.querySelector('#invoice-number').value === 'BF-20468'", "the number")
	d.fill("#invoice-number", "BF-20469")
	d.focus("#invoice-date")
	part("2026")
	d.seeIn(".sheet", "Read, not checked: supplier, order, lines.")
	d.focus("#quantity-0")
	d.keys(kb.Enter)
	d.seeIn(".sheet", "Read, not checked: supplier, order.")
	d.main()
	d.seeIn(".notice", "Invoice")
	d.seeIn(".facts", "14-on-paper.pdf")
	d.open("/invoices")
	d.give("input[type=file]", "14-on-paper.pdf")
	d.seeIn(".sheet", "This paper is here already")

	// What the table on the paper bills is taken over, whatever is received on the order.
	billed, err := pdf.Write(pdf.Document{
		Title: "Invoice BF-20471", Sender: []string{"Brackwater Feeds", "Tax number IE9700011B"}, To: []string{"Skerry Point Aquarium"},
		Facts:   []pdf.Fact{{Label: "Invoice number", Value: "BF-20471"}, {Label: "Invoice date", Value: "20 November 2026"}, {Label: "Your order", Value: "4197"}},
		Columns: []pdf.Column{{Title: "Goods", Width: 90}, {Title: "Weight", Width: 30, Right: true}, {Title: "Price", Width: 24, Right: true}, {Title: "Net", Width: 30, Right: true}},
		Rows:    []pdf.Row{{Cells: []string{"Clam meat, frozen", "37.5 kg", "9.95", "373.13"}}},
		Sums:    []pdf.Fact{{Label: "Net", Value: "373.13"}, {Label: "Amount due, EUR", Value: "373.13"}}, PageWord: "Page", On: morning,
	})
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "BF-20471.pdf")
	require.NoError(t, os.WriteFile(name, billed, 0o600))
	d.open("/invoices")
	d.give("input[type=file]", name)
	d.seeIn(".sheet", "Read, not checked: supplier, order, number, date, total, lines.")
	d.until("document.querySelector('#quantity-0').value === '37.5' && document.querySelector('#price-0').value === '9.95'", "as it is billed")
	d.until("document.querySelector('#quantity-0').closest('.read')", "it is marked")
	d.focus("#price-0")
	d.until("document.querySelector('.side .place')", "where the row stands")

	// So is that of a paper which names no order: its lines are charged to a budget, taxed as this supplier's were.
	free, err := pdf.Write(pdf.Document{
		Title: "Invoice HW-0331", Sender: []string{"Skerry Harbour Trust", taxed(t, h, "HARBR")}, To: []string{"Skerry Point Aquarium"},
		Facts:   []pdf.Fact{{Label: "Invoice number", Value: "HW-0331"}, {Label: "Invoice date", Value: "20 November 2026"}},
		Columns: []pdf.Column{{Title: "Of", Width: 90}, {Title: "Hours", Width: 30, Right: true}, {Title: "Price", Width: 24, Right: true}, {Title: "Net", Width: 30, Right: true}},
		Rows:    []pdf.Row{{Cells: []string{"Crane with driver", "2.5", "96.00", "240.00"}}, {Cells: []string{"Slipway", "1", "35.00", "35.00"}}},
		Sums:    []pdf.Fact{{Label: "Net", Value: "275.00"}, {Label: "Amount due, EUR", Value: "275.00"}}, PageWord: "Page", On: morning,
	})
	require.NoError(t, err)
	name = filepath.Join(t.TempDir(), "HW-0331.pdf")
	require.NoError(t, os.WriteFile(name, free, 0o600))
	d.open("/invoices")
	d.give("input[type=file]", name)
	d.seeIn(".sheet", "Read, not checked: supplier, number, date, total, lines.")
	d.until("document.querySelector('#quantity-0').value === '2.5' && document.querySelector('#price-1').value === '35.00'", "as it is billed")
	d.until("(e => e && (e.click(), true))([...document.querySelectorAll('.sheet button')].find(b => b.innerText.includes('Without an order')))", "without an order")
	d.until("document.querySelector('#budget-0') && document.querySelector('#quantity-0').value === '2.5'", "charged to a budget")
	d.accessible()
}

// taxed is a supplier's tax number as its paper states it.
func taxed(t *testing.T, h place, code string) string {
	t.Helper()
	return "Tax number " + ask(t, h, func(tx *store.Tx) (string, error) {
		s, err := tx.SupplierByCode(code)
		return s.TaxID, err
	})
}

// A paper that calls things by words of its own is corrected once: the next of its supplier is read.
func TestAPaperTeaches(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	paper := func(number, total string) string {
		t.Helper()
		content, err := pdf.Write(pdf.Document{
			Title: "For what we sent", Sender: []string{"Brackwater Feeds", "Tax number IE9700011B"}, To: []string{"Skerry Point Aquarium"},
			Facts:   []pdf.Fact{{Label: "Consignment", Value: number}, {Label: "Invoice date", Value: "20 November 2026"}, {Label: "Your order", Value: "4197"}},
			Columns: []pdf.Column{{Title: "Goods", Width: 90}, {Title: "Weight", Width: 30, Right: true}},
			Rows:    []pdf.Row{{Cells: []string{"Clam meat, frozen", "144 kg"}}},
			Sums:    []pdf.Fact{{Label: "We debit you with", Value: total}}, PageWord: "Page", On: morning,
		})
		require.NoError(t, err)
		name := filepath.Join(t.TempDir(), number+".pdf")
		require.NoError(t, os.WriteFile(name, content, 0o600))
		return name
	}
	d.open("/invoices")
	d.give("input[type=file]", paper("BF-70001", "1,411.20"))
	d.seeIn(".sheet", "Read, not checked: supplier, order, date.")
	d.until("document.querySelector('#invoice-number').value === '' && document.querySelector('#invoice-total').value === ''", "it says neither in words that are known")
	d.fill("#invoice-number", "BF-70001")
	d.fill("#invoice-total", "1400")
	d.main()
	d.seeIn(".notice", "held")
	d.click("Correct the entry")
	d.focus("#invoice-total")
	d.until(`(e => e && (e.dispatchEvent(new MouseEvent('mousedown', {bubbles: true, cancelable: true})), true))([...document.querySelectorAll('.side .part')].find(e => e.title.includes('1,411.20')))`, "the total on the paper")
	d.until("document.querySelector('#invoice-total').value === '1,411.20'", "what was clicked")
	d.fill("#correct-reason", "mistyped")
	d.main()
	d.seeIn(".notice", "verified")
	d.open("/invoices")
	d.give("input[type=file]", paper("BF-70002", "99.00"))
	d.seeIn(".sheet", "Read, not checked: supplier, order, number, date, total.")
	d.until("document.querySelector('#invoice-number').value === 'BF-70002'", "what was learned")
	d.open("/setup/suppliers/BRACK")
	d.seeIn(".sheet", "The invoice number stands behind “Consignment”, as corrected on BF-70001")
	d.seeIn(".sheet", "The total stands behind “We debit you with”")
	d.until(`(e => e && (e.click(), true))(document.querySelector('[aria-label="Forget where the total stands"]'))`, "forget it")
	d.seeIn(".notice", "The total is looked for as on any paper again.")
	d.gone(".sheet", "We debit you with")
}
