package browser

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TestManyAtOnce: a batch that was begun is tried, refused while it does not come to its controls, captured once it does, and its
// report is read; another is begun, kept and given up.
func TestManyAtOnce(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/invoices")
	d.seeIn(".pile", "Keyed many at once 1")
	d.click("Batch 2")
	d.seeIn(".sheet", "0 of 2 captured")
	d.until("document.querySelector('#of-1').value !== '' && document.querySelector('#of-2').value === ''", "two rows, and one to go on with")
	d.seeIn(".sheet table", "Ostrea Filtration")
	d.letter("t")
	d.seeIn(".sheet", "2 would be verified, 0 would wait, 0 would be held or refused. Nothing of this stands yet.")
	d.seeIn(".sheet", "80 kg Activated carbon at 3.85: 308.00")
	d.refusing(422)
	d.ready("Capture 2")
	d.main()
	d.seeIn(".sheet", "It comes to 2 invoices, and 3 were added up.")
	d.until("document.activeElement.id === 'control-count'", "the control that does not agree")
	batch := ask(t, h, func(tx *store.Tx) (store.Batch, error) { return tx.BatchByNumber(2) })
	require.Equal(t, store.BatchOpen, batch.State, "nothing is captured")
	d.fill("#control-count", "2")
	h.background.rest()
	d.ready("Capture 2")
	d.main()
	d.click("Stop")
	d.seeIn(".notice", "It is stopped.")
	d.seeIn(".headline", "stopped")
	d.ready("Go on capturing")
	h.background.work()
	d.main()
	d.seeIn(".notice", "2 invoices of batch 2 are captured.")
	d.seeIn(".sheet", "2 verified, 0 waiting, 0 held or refused.")
	d.seeIn(".headline", "captured")
	d.until("document.querySelector('#of-0').disabled", "what is captured stands")
	d.accessible()
	require.Equal(t, trade.Verified, invoiceOf(t, h, "BF-20475").State)

	d.open("/invoices")
	d.click("Key many at once")
	d.until("document.activeElement.id === 'of-0'", "the first row")
	d.refusing(404)
	d.keys("DN 0000", "\r")
	d.seeIn(".sheet", "There is no order, delivery note, item or supplier “DN 0000”.")
	d.fill("#of-0", "4182")
	d.keys("\r")
	d.seeIn(".sheet table", "Brackwater Feeds")
	d.fill("#number-0", "BF-20490")
	d.fill("#date-0", "20.11")
	d.fill("#total-0", "1,200.00")
	d.until("document.querySelector('#date-1').value === '20 Nov'", "the next row, dated as the one above")
	d.focus("#of-1")
	before := d.acts
	d.keys("4189", "\r")
	d.until("document.activeElement.id === 'number-1'", "the number")
	d.keys("SP-8290", "\r", "\r")
	d.until("document.activeElement.id === 'total-1'", "the total: it is dated as the one above")
	d.keys("650.00")
	effort(t, "A further invoice of a batch, dated as the one above", d.acts-before)
	d.fill("#control-total", "1850")
	d.click("Keep it for later")
	d.seeIn("h1", "Batch 3")
	d.seeIn(".sheet", "0 of 2 captured")
	d.click("Give it up")
	d.gone(".pile", "Batch 3")
}
