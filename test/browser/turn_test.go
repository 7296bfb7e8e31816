package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
)

// What is settled stays open where nothing else is one's own turn, and an unrelated invoice is not released by the next
// press; where something is, it opens, and its main action is deaf for a moment. What was told goes when one goes on.
func TestWhatOpensAfterASettlement(t *testing.T) {
	t.Parallel()
	h := open(t)
	held := invoiceOf(t, h, "BF-20418")
	approver := sit(t, h)
	approver.signIn("ada")
	approver.until("location.pathname === '/invoices'", "the first stage where it is one's own turn")
	approver.seeIn(".pile", "Your turn 2")
	approver.seeIn(".pile", "clerk 3, since")
	approver.click("Brackwater Feeds")
	for n := range 2 {
		approver.letter("1")
		approver.until("document.activeElement.id.endsWith('-note')", "the focus stands in the note")
		approver.keys("Agreed.", kb.Enter)
		require.Equal(t, trade.Held, invoiceOf(t, h, "BF-20418").State, "Enter does not book")
		approver.main()
		if n == 0 { // after the second the next of one's own turn opens
			approver.seeIn(".findings, .body", "Accepted by Ada Quayle")
			approver.until("document.querySelectorAll('.finding.accepted').length === 1", "one is accepted")
			approver.click("Take back")
			approver.keys("Too soon.")
			approver.main()
			approver.until("document.querySelectorAll('.finding.accepted').length === 0", "it is open again")
			approver.letter("1")
			approver.until("document.activeElement.id.endsWith('-note')", "the focus stands in the note")
			require.Empty(t, approver.value("[id$='-note']"), "what was said of the acceptance that ended is gone")
			approver.keys("Agreed after all.")
			approver.main()
			approver.until("document.querySelectorAll('.finding.accepted').length === 1", "one is accepted")
			approver.until("!document.querySelector('.finding.accepted .ask')", "nobody is asked to take it back again")
		}
	}
	approver.seeIn(".notice", fmt.Sprintf("Invoice %d is verified", held.Number))
	approver.seeIn("h1", "PC-1031")
	approver.seeIn(".pile", "Your turn 1")
	approver.click("Orders")
	approver.until("!document.querySelector('.notice')", "the notice went with its page")

	clerk := sit(t, h)
	clerk.signIn("nora")
	clerk.open("/invoices")
	clerk.click("Fernhollow Print")
	clerk.letter("r")
	clerk.keys("Not ours.")
	clerk.main()
	clerk.seeIn("h1", "CV 88")
	clerk.seeIn(".notice", "is refused")
}

// A delivery that was begun is no trap: another note asks which is meant, the begun one stands in the pile, and what is
// booked is what was typed.
func TestABegunDeliveryAsks(t *testing.T) {
	t.Parallel()
	h := open(t)
	order := orderOf(t, h, "DN 5438")
	receiver := sit(t, h)
	receiver.signIn("lewis")
	begin := func(note string) {
		receiver.open("/receiving")
		receiver.fill("#receive-order", fmt.Sprintf("%d %s", order, note))
		receiver.keys(kb.Enter)
	}
	begin("NOTE-A")
	receiver.until("document.activeElement.id.startsWith('now-')", "counting begins")
	receiver.keys("5", kb.Enter)
	receiver.until("Object.keys(localStorage).some(k => k.startsWith('lagoon.draft.delivery.'))", "it is kept")
	begin("NOTE-B")
	receiver.seeIn("h1", "Another delivery on this order was begun")
	receiver.see("note NOTE-A, 1 line counted")
	receiver.accessible()
	receiver.keys(kb.Enter)
	receiver.main()
	receiver.seeIn("h1", "Another delivery on this order was begun")
	receiver.click("Begin NOTE-B anew")
	receiver.until("document.activeElement.id.startsWith('now-')", "counting begins")
	require.Equal(t, "NOTE-B", receiver.value("#delivery-note"))
	require.Empty(t, receiver.value("input[id^=now-]"))
	receiver.keys("3", kb.Enter)
	receiver.until("Object.keys(localStorage).some(k => k.startsWith('lagoon.draft.delivery.') && localStorage[k].includes('NOTE-B'))", "it is kept")
	receiver.open("/receiving")
	receiver.seeIn(".pile", "note NOTE-B")
	begin("NOTE-B")
	receiver.see("Begun")
	receiver.until(
		"document.activeElement.id.startsWith('now-') && document.activeElement.selectionEnd === 1 && document.activeElement.selectionStart === 0",
		"the figure is chosen",
	)
	receiver.keys("4")
	require.Equal(t, "4", receiver.value("input[id^=now-]"))
}
