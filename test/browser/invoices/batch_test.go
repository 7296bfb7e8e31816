package invoices

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestManyAtOnce: a batch that was begun is tried, refused while it does not come to its controls, captured once it does, and its
// report is read; another is begun, kept and given up.
func TestManyAtOnce(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/invoices")
	d.SeeIn(".pile", "Keyed many at once 1")
	d.Click("Batch 2")
	d.SeeIn(".sheet", "0 of 2 captured")
	d.Until("document.querySelector('#of-1').value !== '' && document.querySelector('#of-2').value === ''", "two rows, and one to go on with")
	d.SeeIn(".sheet table", "Ostrea Filtration")
	d.Letter("t")
	d.SeeIn(".sheet", "2 would be verified, 0 would wait, 0 would be held or refused. Nothing of this stands yet.")
	d.SeeIn(".sheet", "80 kg Activated carbon at 3.85: 308.00")
	d.Refusing(422)
	d.Ready("Capture 2")
	d.Main()
	d.SeeIn(".sheet", "It comes to 2 invoices, and 3 were added up.")
	d.Until("document.activeElement.id === 'control-count'", "the control that does not agree")
	batch := browser.Ask(t, h, func(tx *store.Tx) (store.Batch, error) { return tx.BatchByNumber(2) })
	require.Equal(t, store.BatchOpen, batch.State, "nothing is captured")
	d.Fill("#control-count", "2")
	h.Background.Rest()
	d.Ready("Capture 2")
	d.Main()
	d.Click("Stop")
	d.SeeIn(".notice", "It is stopped.")
	d.SeeIn(".headline", "stopped")
	d.Ready("Go on capturing")
	h.Background.Work()
	d.Main()
	d.SeeIn(".notice", "2 invoices of batch 2 are captured.")
	d.SeeIn(".sheet", "2 verified, 0 waiting, 0 held or refused.")
	d.SeeIn(".headline", "captured")
	d.Until("document.querySelector('#of-0').disabled", "what is captured stands")
	d.Accessible()
	require.Equal(t, trade.Verified, browser.InvoiceOf(t, h, "BF-20475").State)

	d.Open("/invoices")
	d.Click("Key many at once")
	d.Until("document.activeElement.id === 'of-0'", "the first row")
	d.Refusing(404)
	d.Keys("DN 0000", "\r")
	d.SeeIn(".sheet", "There is no order, delivery note, item or supplier “DN 0000”.")
	d.Fill("#of-0", "4182")
	d.Keys("\r")
	d.SeeIn(".sheet table", "Brackwater Feeds")
	d.Fill("#number-0", "BF-20490")
	d.Fill("#date-0", "20.11")
	d.Fill("#total-0", "1,200.00")
	d.Until("document.querySelector('#date-1').value === '20 Nov'", "the next row, dated as the one above")
	d.Focus("#of-1")
	before := d.Acts
	d.Keys("4189", "\r")
	d.Until("document.activeElement.id === 'number-1'", "the number")
	d.Keys("SP-8290", "\r", "\r")
	d.Until("document.activeElement.id === 'total-1'", "the total: it is dated as the one above")
	d.Keys("650.00")
	browser.Effort(t, "A further invoice of a batch, dated as the one above", d.Acts-before)
	d.Fill("#control-total", "1850")
	d.Click("Keep it for later")
	d.SeeIn("h1", "Batch 3")
	d.SeeIn(".sheet", "0 of 2 captured")
	d.Click("Give it up")
	d.Gone(".pile", "Batch 3")
}
