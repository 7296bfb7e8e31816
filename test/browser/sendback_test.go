package browser

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TestAReturnByOrder: goods go back from the order, out of the deliveries that hold them; one act books a return of each.
func TestAReturnByOrder(t *testing.T) {
	t.Parallel()
	h := open(t)
	lewis := sit(t, h)
	lewis.refusing(422)
	order := orderOf(t, h, "HS 882")
	lewis.signIn("lewis")
	lewis.open(fmt.Sprintf("/orders/%d", order))
	lewis.see("Send back…")
	lewis.letter("b")
	lewis.until("document.activeElement.id === 'back-1'", "how much goes back")
	lewis.fill("#back-1", "900")
	lewis.seeIn(".ask", "cannot go back")
	held := ask(t, h, func(tx *store.Tx) (*trade.OrderLine, error) {
		o, err := tx.OrderByNumber(order, store.AllReserved)
		if err != nil {
			return nil, err
		}
		return o.Lines[0], nil
	}).GoBack()
	lewis.fill("#back-1", held.String())
	lewis.seeIn(".ask", "HS 881")
	lewis.seeIn(".ask", "HS 882")
	lewis.main()
	lewis.seeIn(".ask", "Say why the goods go back")
	lewis.fill("#return-reason", "the salt is damp")
	lewis.accessible()
	lewis.main()
	lewis.seeIn(".notice", "are booked, one of each delivery.")
	left := ask(t, h, func(tx *store.Tx) (*trade.Order, error) { return tx.OrderByNumber(order, store.AllReserved) })
	require.Zero(t, left.Lines[0].GoBack())
	require.Equal(t, held, left.Lines[0].Returned)
}
