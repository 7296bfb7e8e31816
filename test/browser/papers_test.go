package browser

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TestPapersAreKept: a paper is put to an order and looked at there, goes along with the order, is proposed the next time, and is
// taken away by who put it there.
func TestPapersAreKept(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("ivo")
	confirmation := ask(t, h, func(tx *store.Tx) (store.Attachment, error) { return tx.AttachmentByNumber(4) })
	d.open("/orders/" + confirmation.To.Key)
	d.seeIn(".kept-papers", "confirmation.tif")
	d.click("confirmation.tif")
	d.until("document.querySelector('.kept-papers img')?.naturalWidth > 1000", "the page of the fax is drawn")
	d.accessible()
	d.click("confirmation.tif")

	folder := t.TempDir()
	terms, program := filepath.Join(folder, "agreed.pdf"), filepath.Join(folder, "run.pdf")
	require.NoError(t, os.WriteFile(terms, []byte("%PDF-1.4\n% agreed on the telephone"), 0o600))
	require.NoError(t, os.WriteFile(program, []byte("MZ\x90\x00\x03"), 0o600))
	d.refusing(422)
	d.give(".kept-papers input[type=file]", program, terms)
	d.seeIn(".kept-papers", "run.pdf is ")
	d.seeIn(".kept-papers li:nth-of-type(2)", "agreed.pdf")
	d.seeIn(".notice", "The paper is kept with it")
	d.seeIn(".side", "Paper: agreed.pdf")

	d.letter("s")
	d.seeIn(".letter", "way-to-the-silo.pdf")
	d.until("document.querySelectorAll('.letter fieldset input:checked').length === 1", "what went the last time is proposed")
	d.until("document.querySelector('.letter').scrollHeight <= document.querySelector('.letter').clientHeight + 1", "the panel shows itself whole")
	d.eval("[...document.querySelectorAll('.letter fieldset label')].find(l => l.innerText.includes('agreed.pdf')).click()")
	d.accessible()
	d.main()
	d.seeIn(".notice", "is kept with the order")
	d.seeIn(".side", "with way-to-the-silo.pdf, with agreed.pdf")
	d.letter("s")
	d.until("document.querySelectorAll('.letter fieldset input:checked').length === 2", "both are proposed now")
	d.keys("\u001b")

	d.eval("document.querySelector('[aria-label=\"Take away agreed.pdf\"]').click()")
	d.seeIn(".notice", "agreed.pdf is taken away")
	d.gone(".kept-papers", "agreed.pdf")
	d.click("History")
	d.seeIn(".side", "paper taken away")
}

// TestAFaxIsRead: the pages of a TIFF that came by mail are shown, one by one, beside the invoice that was keyed from it.
func TestAFaxIsRead(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	faxed := invoiceOf(t, h, "PC-1031")
	require.Equal(t, trade.Held, faxed.State)
	d.open(fmt.Sprintf("/invoices/%d", faxed.Number))
	d.click("Paper")
	d.seeIn(".side", "page 1 of 2")
	d.until("document.querySelector('.side img')?.naturalWidth > 1000", "the page is drawn")
	first := d.text(".side")
	require.Contains(t, first, "Papers kept with it")
	d.click("Next")
	d.seeIn(".side", "page 2 of 2")
	d.accessible()
}

// TestHowASupplierKnowsUs: our number there, its other names and what is always written to it are kept on its page.
func TestHowASupplierKnowsUs(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("ivo")
	d.open("/setup/suppliers/OSTRE")
	d.seeIn(".body", "our customer number: none")
	d.eval("[...document.querySelectorAll('h2')].find(h => h.innerText.startsWith('How it knows us')).querySelector('button').click()")
	d.until("document.activeElement.id === 'known-customer'", "the form")
	d.keys("OF 88-12")
	d.fill("#known-names", "Ostrea; Ostrea Service")
	d.fill("#known-standing", "Ring at the plant room.")
	d.accessible()
	d.main()
	d.seeIn(".notice", "How it knows us is changed")
	d.seeIn(".body", "also called: Ostrea; Ostrea Service")
	d.seeIn(".body", "Ring at the plant room.")
	names := ask(t, h, func(tx *store.Tx) ([]string, error) {
		s, err := tx.SupplierByCode("OSTRE")
		if err != nil {
			return nil, err
		}
		return tx.OtherNames(s.ID)
	})
	require.Equal(t, []string{"Ostrea", "Ostrea Service"}, names)
}
