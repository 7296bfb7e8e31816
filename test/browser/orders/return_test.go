package orders

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// sendingBack is a receiver who starts to send goods of a delivery back.
func sendingBack(t *testing.T, note string) *browser.Desk {
	t.Helper()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("lewis", fmt.Sprintf("/receiving/deliveries/%d", browser.DeliveryOf(t, h, note)))
	d.SeeIn(".bar", "Return goods")
	d.Letter("r")
	return d
}

// TestReturnGoods: goods of a booked delivery go back by keyboard; the sheet says before what that books, and what is
// too much is refused beside its field.
func TestReturnGoods(t *testing.T) {
	t.Parallel()
	d := sendingBack(t, "DN 5509")
	d.Until("document.activeElement.id === 'back-1'", "the first quantity")
	d.Keys("41")
	d.SeeIn(".ask", "still holds 40, so 41 cannot go back")
	d.Fill("#back-1", "4")
	d.SeeIn(".ask", "Takes 153.60 EUR out of stock")
	d.Fill("#return-reason", "two cartons were torn")
	d.Reload()
	d.SeeIn(".bar", "Return goods")
	d.Letter("r")
	d.Until(
		"document.querySelector('#back-1')?.value === '4' && document.querySelector('#return-reason').value === 'two cartons were torn'",
		"what was typed before",
	)
	d.Main()
	d.SeeIn(".notice", "is booked")
	d.SeeIn("h1", "Return")
	d.SeeIn(".sheet", "No credit note is expected any more: they were not invoiced, or are credited.")
	d.See("Return note (PDF)")
	d.Accessible()
}

// TestLotsGoBack: of goods that came in lots the lots that go back are named; each is held to what is left of it.
func TestLotsGoBack(t *testing.T) {
	t.Parallel()
	d := sendingBack(t, "DN 5498") // 96 kg and 64 kg came, 16 kg of the second went back
	d.Until("document.activeElement.id === 'back-1-0'", "the first lot")
	d.Fill("#back-1-1", "49")
	d.SeeIn(".ask", "Of lot CM-2214 are 48 here, so 49 cannot go back.")
	d.Fill("#back-1-1", "8")
	d.SeeIn(".ask", "Takes 78.40 EUR out of stock")
	d.Fill("#return-reason", "one more carton had thawed")
	d.Main()
	d.SeeIn("h1", "Return")
	d.SeeIn(".sheet", "lot CM-2214 8")
	require.NotContains(t, d.Text(".sheet"), "CM-2211")
}

// TestSendAndClose: a buyer tells the supplier of a change, and closes what is not wanted any more after seeing what
// that lets go.
func TestSendAndClose(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	number := browser.Ask(t, h, func(tx *store.Tx) (int64, error) {
		lines, err := tx.OpenLines(store.LineFilter{Supplier: "OSTRE", Item: "SAND"})
		return lines[0].Order, err
	})
	d := browser.Sit(t, h)
	d.SignIn("ivo", fmt.Sprintf("/orders/%d", number))
	d.See("The supplier does not know yet")
	d.Letter("s")
	d.Until("document.querySelector('#send-to')?.value === 'thode@ostrea.example'", "the contact is known")
	d.Main()
	d.SeeIn(".notice", "is kept with the order")
	d.Gone(".sheet", "The supplier does not know yet")
	d.Open("/orders/closing?item=SAND&supplier=OSTRE")
	d.See("Filter sand")
	d.Letter("a")
	d.Main()
	d.SeeIn(".ask", "Close these lines")
	d.Focus("#closing")
	d.Keys("the filter is not built", kb.Enter)
	d.SeeIn(".notice", "closed")
	require.Empty(t, browser.Ask(t, h, func(tx *store.Tx) ([]store.OpenLine, error) {
		return tx.OpenLines(store.LineFilter{Supplier: "OSTRE", Item: "SAND", From: "2026-11-15"})
	}))
}

// TestAReturnByOrder: goods go back from the order, out of the deliveries that hold them; one act books a return of each.
func TestAReturnByOrder(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	lewis := browser.Sit(t, h)
	lewis.Refusing(422)
	order := browser.OrderOf(t, h, "HS 882")
	lewis.SignIn("lewis", fmt.Sprintf("/orders/%d", order))
	lewis.See("Send back…")
	lewis.Letter("b")
	lewis.Until("document.activeElement.id === 'back-1'", "how much goes back")
	lewis.Fill("#back-1", "900")
	lewis.SeeIn(".ask", "cannot go back")
	held := browser.Ask(t, h, func(tx *store.Tx) (*trade.OrderLine, error) {
		o, err := tx.OrderByNumber(order, store.AllReserved)
		if err != nil {
			return nil, err
		}
		return o.Lines[0], nil
	}).GoBack()
	lewis.Fill("#back-1", held.String())
	lewis.SeeIn(".ask", "HS 881")
	lewis.SeeIn(".ask", "HS 882")
	lewis.Main()
	lewis.SeeIn(".ask", "Say why the goods go back")
	lewis.Fill("#return-reason", "the salt is damp")
	lewis.Accessible()
	lewis.Main()
	lewis.SeeIn(".notice", "are booked, one of each delivery.")
	left := browser.Ask(t, h, func(tx *store.Tx) (*trade.Order, error) { return tx.OrderByNumber(order, store.AllReserved) })
	require.Zero(t, left.Lines[0].GoBack())
	require.Equal(t, held, left.Lines[0].Returned)
}
