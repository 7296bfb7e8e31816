package browser

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/views"
)

// TestWhatOthersDoAppears: what a colleague does shows without reloading, and what one is typing stays.
func TestWhatOthersDoAppears(t *testing.T) {
	t.Parallel()
	h := Open(t)
	held := InvoiceOf(t, h, "BF-20418")
	clerk, typing := Sit(t, h), Sit(t, h)
	clerk.SignIn("nora", "/holds")
	clerk.SeeIn(".sheet", "Several at once")
	typing.SignIn("nora", fmt.Sprintf("/invoices/key?order=%d", OrderOf(t, h, "DN 5509")))
	typing.Fill("#invoice-number", "BF-2045")
	_, err := holds.Hold(
		context.Background(),
		h.App,
		Colleague(t, h, "tomas"),
		holds.HoldEntry{Invoice: held.Number, Reason: "paper", Note: "The courier's slip is missing."},
	)
	require.NoError(t, err)
	clerk.See("The courier's slip is missing.")
	_, err = invoices.Refuse(context.Background(), h.App, Colleague(t, h, "ivo"), invoices.Refusal{Ending: act.Ending{Invoice: held.Number, Reason: "Never agreed."}})
	require.NoError(t, err)
	typing.Until("!document.querySelector('.pile').innerText.includes('BF-20418')", "the refused invoice leaves the pile")
	require.Equal(t, "BF-2045", typing.Value("#invoice-number"))
	typing.Until("document.activeElement.id === 'invoice-number'", "the focus stays")
}

// TestALostConnection: it is shown, what is typed stays, and when Lagoon answers again the page shows what was missed.
func TestALostConnection(t *testing.T) {
	t.Parallel()
	h := Open(t)
	held := InvoiceOf(t, h, "BF-20418")
	clerk := Sit(t, h)
	clerk.allowed = []string{"net::ERR_"}
	clerk.SignIn("nora", fmt.Sprintf("/invoices/key?order=%d", OrderOf(t, h, "DN 5509")))
	clerk.Fill("#invoice-number", "BF-20452")
	clerk.See("Your turn")
	h.Wire.Cut()
	clerk.SeeIn(".lost", "No connection to Lagoon since")
	clerk.Fill("#invoice-date", "20.11.2026")
	clerk.Fill("#invoice-total", "1,917.00")
	clerk.Main()
	clerk.SeeIn(".notice", "Lagoon does not answer. What you typed is kept; try again in a moment.")
	_, err := invoices.Refuse(context.Background(), h.App, Colleague(t, h, "ivo"), invoices.Refusal{Ending: act.Ending{Invoice: held.Number, Reason: "Never agreed."}})
	require.NoError(t, err)
	require.Contains(t, clerk.Text(".pile"), "approver 2, since")
	h.Wire.Mend()
	clerk.Until("!document.querySelector('.lost')", "the connection is back")
	clerk.Until("document.querySelector('.pile').innerText.includes('approver 1, since')", "what was missed shows")
	require.Equal(t, "BF-20452", clerk.Value("#invoice-number"))
	require.Equal(t, "1,917.00", clerk.Value("#invoice-total"))
	clerk.See("Everything agrees; the invoice verifies when it is captured")
	clerk.Main()
	clerk.SeeIn(".notice", "is verified")
}

// TestSlowAndLostAnswers: waiting shows after a moment and no sooner; a command whose answer is lost is sent again by
// itself and done once; a question that fails at first is asked again.
func TestSlowAndLostAnswers(t *testing.T) {
	t.Parallel()
	h := Open(t)
	order := OrderOf(t, h, "DN 5438")
	receiver := Sit(t, h)
	receiver.allowed = []string{"net::ERR_"}
	receiver.SignIn("lewis", fmt.Sprintf("/receiving/%d", order))
	receiver.Fill("#delivery-note", "DN 5519")
	receiver.Fill("#now-1", "20")
	receiver.Until("!document.querySelector('.working')", "nothing to wait for")
	h.Wire.Delay.Store(int64(1500 * time.Millisecond))
	h.Wire.Loses.Store(1)
	receiver.Main()
	receiver.Until("document.querySelector('.working[role=progressbar]')", "progress shows")
	receiver.Accessible()
	receiver.SeeIn(".notice", "is booked")
	h.Wire.Delay.Store(0)
	receiver.Until("!document.querySelector('.working')", "progress goes")
	sheet, err := views.Order(context.Background(), h.App, order, Colleague(t, h, "lewis").Actor)
	require.NoError(t, err)
	require.Equal(t, "80", sheet.Order.Lines[0].Received.String(), "60 before and 20 once")
}

// TestWhoGoesOnIsNotLedBack: whoever opens something before it is known where it is one's own turn stays there.
func TestWhoGoesOnIsNotLedBack(t *testing.T) {
	t.Parallel()
	h := Open(t)
	d := Sit(t, h)
	d.SignIn("nora", "/")
	h.Wire.Delay.Store(int64(700 * time.Millisecond))
	d.Load("/")
	d.Until("document.querySelector('main[aria-busy]')", "nothing is known yet")
	d.Eval(`{
		const router = ` + router + `
		router.beforeResolve(() => new Promise(go => { window.go = go })) // its page is slow to come
		router.push('/holds')
	}`)
	d.Until("/[1-9]/.test(document.querySelector('.course').innerText)", "whose turn it is where")
	h.Wire.Delay.Store(0)
	d.Eval("window.go()")
	d.Until("location.pathname === '/holds'", "what was opened")
}
