package orders

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestWorkByValue: an order of work is entered by value; who asked for it accepts per cent of it, looks at what that books,
// and takes it back.
func TestWorkByValue(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("ivo", "/")
	waiting := browser.InvoiceOf(t, h, "MA-902")
	d.Open("/orders")
	d.See("For you to accept")
	order := browser.Ask(t, h, func(tx *store.Tx) (int64, error) {
		rows, err := tx.ExpectedOrders()
		for _, o := range rows {
			if o.Work > 0 {
				return o.Number, err
			}
		}
		return 0, err
	})
	d.Open(fmt.Sprintf("/orders/%d", order))
	d.See("Accept work…")
	before := d.Acts
	d.Letter("v")
	d.Until("document.activeElement.id === 'done-1'", "how much is done")
	d.Keys("30%")
	d.SeeIn(".ask", "Puts 1,080.00 EUR to cost")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "What is done is accepted")
	browser.Effort(t, "Work that was asked for accepted, per cent of it", d.Acts-before)
	require.Eventually(t, func() bool { return browser.InvoiceOf(t, h, "MA-902").State == trade.Verified }, browser.Patience, 10*time.Millisecond, "the invoice of that stage moves on")
	require.Equal(t, trade.Waiting, waiting.State)
	line := func() *trade.OrderLine {
		return browser.Ask(t, h, func(tx *store.Tx) (*trade.Order, error) { return tx.OrderByNumber(order, store.AllReserved) }).Lines[0]
	}
	require.Equal(t, housetest.Dec("2520"), line().Received)

	d.SeeIn(".sheet", "2,520") // the order as it is now
	d.Letter("v")
	d.Until("document.activeElement.id === 'done-1'", "how much is done")
	d.Keys("60%")
	d.SeeIn(".ask", "can be booked now")
	d.Fill("#done-1", "100")
	d.Fill("#work-note", "Report 3")
	d.Main()
	d.SeeIn(".notice", "What is done is accepted")
	d.Click("Work accepted, Report 3")
	d.SeeIn("h1", "Work accepted")
	d.Letter("u")
	d.Until("document.activeElement.id === 'reverse'", "why")
	d.Keys("it was not done", kb.Enter)
	d.SeeIn("h1", "Reversal")
	require.Equal(t, housetest.Dec("2520"), line().Received)

	d.Open("/orders/new")
	d.Until("document.activeElement.id === 'order-supplier'", "the supplier")
	d.Fill("#order-supplier", "MIRRE")
	d.Fill("#order-item-0", "Sealing of the ray pool")
	d.Fill("#order-unit-0", "in value")
	d.Fill("#order-quantity-0", "1,250.00")
	d.See("by value")
}

// TestAReturnOfAnItem: from the item, goods of several orders go back in one act.
func TestAReturnOfAnItem(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("lewis", "/setup/items/CAPELIN")
	d.See("Send back…")
	d.Letter("b")
	d.Until("document.activeElement.id === 'back-0'", "the form")
	d.Fill("#back-0", "1")
	d.SeeIn(".ask", "delivery")
	d.Fill("#return-reason", "thawed on the way")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "is booked")
}
