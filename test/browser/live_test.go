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

// colleague is a demo person who acts elsewhere.
func colleague(t *testing.T, h place, login string) act.Command {
	t.Helper()
	actor, err := h.app.ActorByLogin(context.Background(), login)
	require.NoError(t, err)
	return act.Command{Actor: actor}
}

// TestWhatOthersDoAppears: what a colleague does shows without reloading, and what one is typing stays.
func TestWhatOthersDoAppears(t *testing.T) {
	t.Parallel()
	h := open(t)
	held := invoiceOf(t, h, "BF-20418")
	clerk, typing := sit(t, h), sit(t, h)
	clerk.signIn("nora")
	clerk.open("/holds")
	clerk.seeIn(".sheet", "Several at once")
	typing.signIn("nora")
	typing.open(fmt.Sprintf("/invoices/key?order=%d", orderOf(t, h, "DN 5509")))
	typing.fill("#invoice-number", "BF-2045")
	_, err := holds.Hold(
		context.Background(),
		h.app,
		colleague(t, h, "tomas"),
		holds.HoldEntry{Invoice: held.Number, Reason: "paper", Note: "The courier's slip is missing."},
	)
	require.NoError(t, err)
	clerk.see("The courier's slip is missing.")
	_, err = invoices.Refuse(context.Background(), h.app, colleague(t, h, "ivo"), invoices.Refusal{Ending: act.Ending{Invoice: held.Number, Reason: "Never agreed."}})
	require.NoError(t, err)
	typing.until("!document.querySelector('.pile').innerText.includes('BF-20418')", "the refused invoice leaves the pile")
	require.Equal(t, "BF-2045", typing.value("#invoice-number"))
	typing.until("document.activeElement.id === 'invoice-number'", "the focus stays")
}

// TestALostConnection: it is shown, what is typed stays, and when Lagoon answers again the page shows what was missed.
func TestALostConnection(t *testing.T) {
	t.Parallel()
	h := open(t)
	held := invoiceOf(t, h, "BF-20418")
	clerk := sit(t, h)
	clerk.allowed = []string{"net::ERR_"}
	clerk.signIn("nora")
	clerk.open(fmt.Sprintf("/invoices/key?order=%d", orderOf(t, h, "DN 5509")))
	clerk.fill("#invoice-number", "BF-20452")
	clerk.see("Your turn")
	h.wire.cut()
	clerk.seeIn(".lost", "No connection to Lagoon since")
	clerk.fill("#invoice-date", "20.11.2026")
	clerk.fill("#invoice-total", "1,917.00")
	clerk.main()
	clerk.seeIn(".notice", "Lagoon does not answer. What you typed is kept; try again in a moment.")
	_, err := invoices.Refuse(context.Background(), h.app, colleague(t, h, "ivo"), invoices.Refusal{Ending: act.Ending{Invoice: held.Number, Reason: "Never agreed."}})
	require.NoError(t, err)
	require.Contains(t, clerk.text(".pile"), "approver 2, since")
	h.wire.mend()
	clerk.until("!document.querySelector('.lost')", "the connection is back")
	clerk.until("document.querySelector('.pile').innerText.includes('approver 1, since')", "what was missed shows")
	require.Equal(t, "BF-20452", clerk.value("#invoice-number"))
	require.Equal(t, "1,917.00", clerk.value("#invoice-total"))
	clerk.see("Everything agrees; the invoice verifies when it is captured")
	clerk.main()
	clerk.seeIn(".notice", "is verified")
}

// TestSlowAndLostAnswers: waiting shows after a moment and no sooner; a command whose answer is lost is sent again by
// itself and done once; a question that fails at first is asked again.
func TestSlowAndLostAnswers(t *testing.T) {
	t.Parallel()
	h := open(t)
	order := orderOf(t, h, "DN 5438")
	receiver := sit(t, h)
	receiver.allowed = []string{"net::ERR_"}
	receiver.signIn("lewis")
	receiver.open(fmt.Sprintf("/receiving/%d", order))
	receiver.fill("#delivery-note", "DN 5519")
	receiver.fill("#now-1", "20")
	receiver.until("!document.querySelector('.working')", "nothing to wait for")
	h.wire.delay.Store(int64(1500 * time.Millisecond))
	h.wire.loses.Store(1)
	receiver.main()
	receiver.until("document.querySelector('.working[role=progressbar]')", "progress shows")
	receiver.accessible()
	receiver.seeIn(".notice", "is booked")
	h.wire.delay.Store(0)
	receiver.until("!document.querySelector('.working')", "progress goes")
	sheet, err := views.Order(context.Background(), h.app, order, colleague(t, h, "lewis").Actor)
	require.NoError(t, err)
	require.Equal(t, "80", sheet.Order.Lines[0].Received.String(), "60 before and 20 once")
}

// TestWhoGoesOnIsNotLedBack: whoever opens something before it is known where it is one's own turn stays there.
func TestWhoGoesOnIsNotLedBack(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	h.wire.delay.Store(int64(700 * time.Millisecond))
	d.load("/")
	d.until("document.querySelector('main[aria-busy]')", "nothing is known yet")
	d.eval(`{
		const router = ` + router + `
		router.beforeResolve(() => new Promise(go => { window.go = go })) // its page is slow to come
		router.push('/holds')
	}`)
	d.until("/[1-9]/.test(document.querySelector('.course').innerText)", "whose turn it is where")
	h.wire.delay.Store(0)
	d.eval("window.go()")
	d.until("location.pathname === '/holds'", "what was opened")
}
