package orders

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/views"
	"lagoon/test/browser"
)

// waitingOrder is the order of the demo that waits for an approver this morning.
func waitingOrder(t *testing.T, h browser.Place) int64 {
	t.Helper()
	waiting, err := views.OrdersWaiting(t.Context(), h.App, act.Actor{})
	require.NoError(t, err)
	require.Len(t, waiting.Rows, 1)
	return waiting.Rows[0].Number
}

// TestAnOrderWaitsForItsApprover: an order above its buyer's authority stands with the approvers; who may not approve it
// passes it on; once it is approved it is issued, and what raises it later asks again.
func TestAnOrderWaitsForItsApprover(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	number := waitingOrder(t, h)
	sheet := "/orders/" + fmt.Sprint(number)
	maren, ada, ivo := browser.Sit(t, h), browser.Sit(t, h), browser.Sit(t, h)
	maren.SignIn("maren", "/orders")
	maren.SeeIn(".pile", "With the approvers")
	maren.Open(sheet)
	maren.See("1,460.00 EUR without tax is above the authority of Maren Tolk")
	maren.See("is your own; somebody else approves it. Ivo Sandell may approve it.")
	maren.Accessible()

	ada.SignIn("ada", sheet)
	ada.See("your authority is 500.00 EUR")
	ada.Letter("1")
	ada.Until("document.activeElement.id === 'order-note'", "the decision")
	ada.Keys("It is your project")
	ada.Main()
	ada.SeeIn(".notice", "Passed on.")
	ada.SeeIn(".sheet", "Passed on to Ivo Sandell by Ada Quayle: “It is your project”.")

	ivo.Refusing(422)
	ivo.SignIn("ivo", "/orders")
	ivo.SeeIn(".pile", "For you to approve")
	ivo.Open(sheet)
	ivo.See("Decide…")
	before := ivo.Acts
	ivo.Letter("1")
	ivo.Until("document.activeElement.id === 'order-note'", "the decision")
	ivo.Main()
	ivo.SeeIn(".notice", "Approved.")
	browser.Effort(t, "An order above its buyer’s authority approved", ivo.Acts-before)
	require.Equal(t, trade.Issued, orderSheetOf(t, h, number).Order.State)

	maren.Open(sheet + "/change")
	maren.Until("document.querySelector('#order-quantity-0')?.value === '1'", "the order as it stands")
	maren.Fill("#order-quantity-0", "2")
	maren.See("waits for an approver before the supplier is told")
	maren.Main()
	maren.Until("document.activeElement.id === 'change-reason'", "the reason")
	maren.Fill("#change-reason", "A second clutch came in")
	maren.Main()
	maren.SeeIn(".notice", "waits for an approver; nobody is told before")
	ivo.Open(sheet)
	ivo.See("A change waits for an approver.")
	ivo.Letter("1")
	ivo.Until("document.activeElement.id === 'order-note'", "the decision")
	ivo.Click("Refuse it.")
	ivo.Main()
	ivo.See("Say why it is not ordered.")
	ivo.Fill("#order-note", "One is enough")
	ivo.Main()
	ivo.SeeIn(".notice", "Refused.")
	s := orderSheetOf(t, h, number)
	require.Nil(t, s.Waits)
	require.Equal(t, "1", s.Order.Lines[0].Quantity.String())
}
