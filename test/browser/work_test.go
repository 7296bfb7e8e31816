package browser

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/store"
)

// TestWorkByValue: an order of work is entered by value; who asked for it accepts per cent of it, looks at what that books,
// and takes it back.
func TestWorkByValue(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("ivo")
	waiting := invoiceOf(t, h, "MA-902")
	d.open("/orders")
	d.see("For you to accept")
	order := ask(t, h, func(tx *store.Tx) (int64, error) {
		rows, err := tx.ExpectedOrders()
		for _, o := range rows {
			if o.Work > 0 {
				return o.Number, err
			}
		}
		return 0, err
	})
	d.open(fmt.Sprintf("/orders/%d", order))
	d.see("Accept work…")
	before := d.acts
	d.letter("v")
	d.until("document.activeElement.id === 'done-1'", "how much is done")
	d.keys("30%")
	d.seeIn(".ask", "Puts 1,080.00 EUR to cost")
	d.accessible()
	d.main()
	d.seeIn(".notice", "What is done is accepted")
	effort(t, "Work that was asked for accepted, per cent of it", d.acts-before)
	require.Eventually(t, func() bool { return invoiceOf(t, h, "MA-902").State == trade.Verified }, patience, 10*time.Millisecond, "the invoice of that stage moves on")
	require.Equal(t, trade.Waiting, waiting.State)
	line := func() *trade.OrderLine {
		return ask(t, h, func(tx *store.Tx) (*trade.Order, error) { return tx.OrderByNumber(order, store.AllReserved) }).Lines[0]
	}
	require.Equal(t, housetest.Dec("2520"), line().Received)

	d.seeIn(".sheet", "2,520") // the order as it is now
	d.letter("v")
	d.until("document.activeElement.id === 'done-1'", "how much is done")
	d.keys("60%")
	d.seeIn(".ask", "can be booked now")
	d.fill("#done-1", "100")
	d.fill("#work-note", "Report 3")
	d.main()
	d.seeIn(".notice", "What is done is accepted")
	d.click("Work accepted, Report 3")
	d.seeIn("h1", "Work accepted")
	d.letter("u")
	d.until("document.activeElement.id === 'reverse'", "why")
	d.keys("it was not done", kb.Enter)
	d.seeIn("h1", "Reversal")
	require.Equal(t, housetest.Dec("2520"), line().Received)

	d.open("/orders/new")
	d.until("document.activeElement.id === 'order-supplier'", "the supplier")
	d.fill("#order-supplier", "MIRRE")
	d.fill("#order-item-0", "Sealing of the ray pool")
	d.fill("#order-unit-0", "in value")
	d.fill("#order-quantity-0", "1,250.00")
	d.see("by value")
}

// TestAReturnOfAnItem: from the item, goods of several orders go back in one act.
func TestAReturnOfAnItem(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("lewis")
	d.open("/setup/items/CAPELIN")
	d.see("Send back…")
	d.letter("b")
	d.until("document.activeElement.id === 'back-0'", "the form")
	d.fill("#back-0", "1")
	d.seeIn(".ask", "delivery")
	d.fill("#return-reason", "thawed on the way")
	d.accessible()
	d.main()
	d.seeIn(".notice", "is booked")
}
