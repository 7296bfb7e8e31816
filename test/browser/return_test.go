package browser

import (
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// deliveryOf is the number of the delivery with a note.
func deliveryOf(t testing.TB, h place, note string) int64 {
	t.Helper()
	order := orderOf(t, h, note)
	return ask(t, h, func(tx *store.Tx) (int64, error) {
		o, err := tx.OrderByNumber(order, store.AllReserved)
		if err != nil {
			return 0, err
		}
		all, err := tx.Deliveries(o.ID)
		at := slices.IndexFunc(all, func(d store.Delivery) bool { return d.Note == note })
		require.GreaterOrEqual(t, at, 0)
		return all[at].Number, err
	})
}

// sendingBack is a receiver who starts to send goods of a delivery back.
func sendingBack(t *testing.T, note string) *desk {
	t.Helper()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("lewis")
	d.open(fmt.Sprintf("/receiving/deliveries/%d", deliveryOf(t, h, note)))
	d.seeIn(".bar", "Return goods")
	d.letter("r")
	return d
}

// TestReturnGoods: goods of a booked delivery go back by keyboard; the sheet says before what that books, and what is
// too much is refused beside its field.
func TestReturnGoods(t *testing.T) {
	t.Parallel()
	d := sendingBack(t, "DN 5509")
	d.until("document.activeElement.id === 'back-1'", "the first quantity")
	d.keys("41")
	d.seeIn(".ask", "still holds 40, so 41 cannot go back")
	d.fill("#back-1", "4")
	d.seeIn(".ask", "Takes 153.60 EUR out of stock")
	d.fill("#return-reason", "two cartons were torn")
	d.reload()
	d.seeIn(".bar", "Return goods")
	d.letter("r")
	d.until(
		"document.querySelector('#back-1')?.value === '4' && document.querySelector('#return-reason').value === 'two cartons were torn'",
		"what was typed before",
	)
	d.main()
	d.seeIn(".notice", "is booked")
	d.seeIn("h1", "Return")
	d.seeIn(".sheet", "No credit note is expected any more: they were not invoiced, or are credited.")
	d.see("Return note (PDF)")
	d.accessible()
}

// TestLotsGoBack: of goods that came in lots the lots that go back are named; each is held to what is left of it.
func TestLotsGoBack(t *testing.T) {
	t.Parallel()
	d := sendingBack(t, "DN 5498") // 96 kg and 64 kg came, 16 kg of the second went back
	d.until("document.activeElement.id === 'back-1-0'", "the first lot")
	d.fill("#back-1-1", "49")
	d.seeIn(".ask", "Of lot CM-2214 are 48 here, so 49 cannot go back.")
	d.fill("#back-1-1", "8")
	d.seeIn(".ask", "Takes 78.40 EUR out of stock")
	d.fill("#return-reason", "one more carton had thawed")
	d.main()
	d.seeIn("h1", "Return")
	d.seeIn(".sheet", "lot CM-2214 8")
	require.NotContains(t, d.text(".sheet"), "CM-2211")
}

// TestSendAndClose: a buyer tells the supplier of a change, and closes what is not wanted any more after seeing what
// that lets go.
func TestSendAndClose(t *testing.T) {
	t.Parallel()
	h := open(t)
	number := ask(t, h, func(tx *store.Tx) (int64, error) {
		lines, err := tx.OpenLines(store.LineFilter{Supplier: "OSTRE", Item: "SAND"})
		return lines[0].Order, err
	})
	d := sit(t, h)
	d.signIn("ivo")
	d.open(fmt.Sprintf("/orders/%d", number))
	d.see("The supplier does not know yet")
	d.letter("s")
	d.until("document.querySelector('#send-to')?.value === 'thode@ostrea.example'", "the contact is known")
	d.main()
	d.seeIn(".notice", "is kept with the order")
	d.gone(".sheet", "The supplier does not know yet")
	d.open("/orders/closing?item=SAND&supplier=OSTRE")
	d.see("Filter sand")
	d.letter("a")
	d.main()
	d.seeIn(".ask", "Close these lines")
	d.focus("#closing")
	d.keys("the filter is not built", kb.Enter)
	d.seeIn(".notice", "closed")
	require.Empty(t, ask(t, h, func(tx *store.Tx) ([]store.OpenLine, error) {
		return tx.OpenLines(store.LineFilter{Supplier: "OSTRE", Item: "SAND", From: "2026-11-15"})
	}))
}
