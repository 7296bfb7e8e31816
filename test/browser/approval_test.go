package browser

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/views"
)

// waitingOrder is the order of the demo that waits for an approver this morning.
func waitingOrder(t *testing.T, h place) int64 {
	t.Helper()
	waiting, err := views.OrdersWaiting(t.Context(), h.app, act.Actor{})
	require.NoError(t, err)
	require.Len(t, waiting.Rows, 1)
	return waiting.Rows[0].Number
}

// TestAnOrderWaitsForItsApprover: an order above its buyer's authority stands with the approvers; who may not approve it
// passes it on; once it is approved it is issued, and what raises it later asks again.
func TestAnOrderWaitsForItsApprover(t *testing.T) {
	t.Parallel()
	h := open(t)
	number := waitingOrder(t, h)
	sheet := "/orders/" + fmtOrder(number)
	maren, ada, ivo := sit(t, h), sit(t, h), sit(t, h)
	maren.signIn("maren")
	maren.open("/orders")
	maren.seeIn(".pile", "With the approvers")
	maren.open(sheet)
	maren.see("1,460.00 EUR without tax is above the authority of Maren Tolk")
	maren.see("is your own; somebody else approves it. Ivo Sandell may approve it.")
	maren.accessible()

	ada.signIn("ada")
	ada.open(sheet)
	ada.see("your authority is 500.00 EUR")
	ada.letter("1")
	ada.until("document.activeElement.id === 'order-note'", "the decision")
	ada.keys("It is your project")
	ada.main()
	ada.seeIn(".notice", "Passed on.")
	ada.seeIn(".sheet", "Passed on to Ivo Sandell by Ada Quayle: “It is your project”.")

	ivo.refusing(422)
	ivo.signIn("ivo")
	ivo.open("/orders")
	ivo.seeIn(".pile", "For you to approve")
	ivo.open(sheet)
	ivo.see("Decide…")
	before := ivo.acts
	ivo.letter("1")
	ivo.until("document.activeElement.id === 'order-note'", "the decision")
	ivo.main()
	ivo.seeIn(".notice", "Approved.")
	effort(t, "An order above its buyer’s authority approved", ivo.acts-before)
	require.Equal(t, trade.Issued, orderSheetOf(t, h, number).Order.State)

	maren.open(sheet + "/change")
	maren.until("document.querySelector('#order-quantity-0')?.value === '1'", "the order as it stands")
	maren.fill("#order-quantity-0", "2")
	maren.see("waits for an approver before the supplier is told")
	maren.main()
	maren.until("document.activeElement.id === 'change-reason'", "the reason")
	maren.fill("#change-reason", "A second clutch came in")
	maren.main()
	maren.seeIn(".notice", "waits for an approver; nobody is told before")
	ivo.open(sheet)
	ivo.see("A change waits for an approver.")
	ivo.letter("1")
	ivo.until("document.activeElement.id === 'order-note'", "the decision")
	ivo.click("Refuse it.")
	ivo.main()
	ivo.see("Say why it is not ordered.")
	ivo.fill("#order-note", "One is enough")
	ivo.main()
	ivo.seeIn(".notice", "Refused.")
	s := orderSheetOf(t, h, number)
	require.Nil(t, s.Waits)
	require.Equal(t, "1", s.Order.Lines[0].Quantity.String())
}
