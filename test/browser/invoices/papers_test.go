package invoices

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestPapersAreKept: a paper is put to an order and looked at there, goes along with the order, is proposed the next time, and is
// taken away by who put it there.
func TestPapersAreKept(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("ivo", "/")
	confirmation := browser.Ask(t, h, func(tx *store.Tx) (store.Attachment, error) { return tx.AttachmentByNumber(4) })
	d.Open("/orders/" + confirmation.To.Key)
	d.SeeIn(".kept-papers", "confirmation.tif")
	d.Click("confirmation.tif")
	d.Until("document.querySelector('.kept-papers img')?.naturalWidth > 1000", "the page of the fax is drawn")
	d.Accessible()
	d.Click("confirmation.tif")

	folder := t.TempDir()
	terms, program := filepath.Join(folder, "agreed.pdf"), filepath.Join(folder, "run.pdf")
	require.NoError(t, os.WriteFile(terms, []byte("%PDF-1.4\n% agreed on the telephone"), 0o600))
	require.NoError(t, os.WriteFile(program, []byte("MZ\x90\x00\x03"), 0o600))
	d.Refusing(422)
	d.Give(".kept-papers input[type=file]", program, terms)
	d.SeeIn(".kept-papers", "run.pdf is ")
	d.SeeIn(".kept-papers li:nth-of-type(2)", "agreed.pdf")
	d.SeeIn(".notice", "The paper is kept with it")
	d.SeeIn(".side", "Paper: agreed.pdf")

	d.Letter("s")
	d.SeeIn(".letter", "way-to-the-silo.pdf")
	d.Until("document.querySelectorAll('.letter fieldset input:checked').length === 1", "what went the last time is proposed")
	d.Until("document.querySelector('.letter').scrollHeight <= document.querySelector('.letter').clientHeight + 1", "the panel shows itself whole")
	d.Eval("[...document.querySelectorAll('.letter fieldset label')].find(l => l.innerText.includes('agreed.pdf')).click()")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "is kept with the order")
	d.SeeIn(".side", "with way-to-the-silo.pdf, with agreed.pdf")
	d.Letter("s")
	d.Until("document.querySelectorAll('.letter fieldset input:checked').length === 2", "both are proposed now")
	d.Keys("\u001b")

	d.Eval("document.querySelector('[aria-label=\"Take away agreed.pdf\"]').click()")
	d.SeeIn(".notice", "agreed.pdf is taken away")
	d.Gone(".kept-papers", "agreed.pdf")
	d.Click("History")
	d.SeeIn(".side", "paper taken away")
}

// TestAFaxIsRead: the pages of a TIFF that came by mail are shown, one by one, beside the invoice that was keyed from it.
func TestAFaxIsRead(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/")
	faxed := browser.InvoiceOf(t, h, "PC-1031")
	require.Equal(t, trade.Held, faxed.State)
	d.Open(fmt.Sprintf("/invoices/%d", faxed.Number))
	d.Click("Paper")
	d.SeeIn(".side", "page 1 of 2")
	d.Until("document.querySelector('.side img')?.naturalWidth > 1000", "the page is drawn")
	first := d.Text(".side")
	require.Contains(t, first, "Papers kept with it")
	d.Click("Next")
	d.SeeIn(".side", "page 2 of 2")
	d.Accessible()
}
