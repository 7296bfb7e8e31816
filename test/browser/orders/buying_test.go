package orders

import (
	"fmt"
	"slices"
	"strconv"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/test/browser"
)

func orderSheetOf(t *testing.T, h browser.Place, number int64) views.OrderSheet {
	t.Helper()
	s, err := views.Order(t.Context(), h.App, number, act.Actor{})
	require.NoError(t, err)
	return s
}

// TestAnOrderIsChanged: a changed order keeps its earlier version and says what its supplier does not know yet; it is
// acknowledged, its lines are closed and opened again, and at last it is cancelled.
func TestAnOrderIsChanged(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("ivo", "/")
	number := openLine(t, h, "BRACK", "CAPELIN").Order
	d.Open("/orders/" + fmt.Sprint(number))
	d.See("Capelin, loose")
	d.Letter("e")
	d.Until("document.querySelector('#order-quantity-1')?.value === '250'", "the order as it stands")
	d.Fill("#order-quantity-1", "220")
	d.Main()
	d.Until("document.activeElement.id === 'change-reason'", "the reason")
	d.Main()
	d.See("Say why the order is changed")
	d.Fill("#change-reason", "Two seals are away")
	d.Main()
	d.SeeIn(".notice", "is changed. Send it, so that the supplier knows.")
	d.SeeIn(".headline", "version 2")
	require.Equal(t, 2, orderSheetOf(t, h, number).Order.Revision)

	d.Letter("g")
	d.Until("document.querySelector('#answer-reference')", "the acknowledgement")
	d.Fill("#answer-reference", "BF 55-102")
	d.Keys(kb.Enter)
	d.SeeIn(".notice", "The acknowledgement is noted")
	d.Letter("c")
	d.See("2 of 2 chosen") // whoever comes from an order means all of it
	d.Main()
	d.Until("document.activeElement.id === 'closing'", "the reason")
	d.Keys("the store is full", kb.Enter)
	d.SeeIn(".notice", "2 lines are closed")
	d.Open("/orders/" + fmt.Sprint(number))
	d.See("closed: no more goods")
	d.Click("Open lines again")
	d.See("the store is full") // why each was closed
	d.See("2 of 2 chosen")
	d.Main()
	d.Until("document.activeElement.id === 'reopening'", "the reason")
	d.Keys("there is room again", kb.Enter)
	d.SeeIn(".notice", "2 lines are open again")
	d.See("No closed line fits")
	d.Open("/orders/" + fmt.Sprint(number))
	d.See("Capelin, loose")
	d.Letter("x")
	d.Until("document.activeElement.id === 'cancel-order'", "the reason")
	d.Keys("they are fed with squid", kb.Enter)
	d.SeeIn(".notice", "is cancelled. Tell the supplier.")
	require.Equal(t, trade.Cancelled, orderSheetOf(t, h, number).Order.State)
}

// TestAPaperThatChangedMeanwhile: what is sent is what was looked at.
func TestAPaperThatChangedMeanwhile(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d, other := browser.Sit(t, h), browser.Sit(t, h)
	d.Refusing(409)
	d.SignIn("ivo", "/")
	other.SignIn("ivo", "/")
	number := openLine(t, h, "BRACK", "CAPELIN").Order
	d.Open("/orders/" + fmt.Sprint(number))
	d.See("Capelin, loose")
	d.Letter("s")
	d.Until("!!document.querySelector('#send-to')?.value && document.querySelector('iframe.paper')", "the paper")
	other.Open("/orders/" + fmt.Sprint(number) + "/change")
	other.Until("document.querySelector('#order-quantity-1')?.value === '250'", "the order as it stands")
	other.Fill("#order-quantity-1", "230")
	other.Main()
	other.Until("document.activeElement.id === 'change-reason'", "the reason")
	other.Keys("one seal is away")
	other.Main()
	other.SeeIn(".notice", "is changed")
	d.Focus("#send-to")
	d.Main()
	d.SeeIn(".ask", "changed meanwhile: order changed, by Ivo Sandell")
	d.Until("!document.querySelector('.ask .btn-primary').disabled", "it can be sent again")
	d.Main()
	d.SeeIn(".notice", "is kept with the order")
}

// TestDraftsAndPlans: an order is kept for another day and gone on with at another desk; planned purchases become an
// order; a supplier is made while ordering.
func TestDraftsAndPlans(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("ivo", "/orders/new")
	d.Fill("#order-supplier", "saltm\r")
	d.Until("document.querySelector('#order-item-0')", "the lines")
	d.Fill("#order-item-0", "bags\r")
	d.Fill("#order-quantity-0", "12")
	d.Alt("s")
	d.SeeIn(".notice", "The draft is kept as number")
	other := browser.Sit(t, h)
	other.Refusing(409)
	other.SignIn("ivo", "/orders/new")
	other.Fill("#order-supplier", "ostr\r") // an order of their own, which the draft must not overwrite
	other.Until("document.querySelector('#order-item-0')", "the lines")
	openDraft := func(d *browser.Desk, quantity string) {
		d.Open("/orders")
		d.SeeIn(".pile", "Drafts")
		d.Click("draft 2")
		d.Until("document.querySelector('#order-quantity-0')?.value === '"+quantity+"'", "the draft")
	}
	openDraft(other, "12")
	openDraft(d, "12")
	d.Fill("#order-quantity-0", "13")
	d.Alt("s")
	d.SeeIn(".notice", "The draft is kept as number 2")
	d.Click("draft 2")
	d.Until("document.querySelector('#order-quantity-0')?.value === '13'", "the draft as it was kept last, not as it was opened first")
	other.Fill("#order-quantity-0", "14")
	other.Alt("s")
	other.SeeIn(".notice", "Draft 2 was changed by Ivo Sandell meanwhile.")
	other.Until("document.querySelector('#order-quantity-0').value === '14'", "what was typed")
	other.Alt("s")
	other.SeeIn(".notice", "The draft is kept as number 2")
	openDraft(d, "14")
	openDraft(other, "14")
	d.Fill("#order-quantity-0", "15")
	d.Alt("s")
	d.SeeIn(".notice", "The draft is kept as number 2")
	other.Click("Throw away")
	other.SeeIn(".sheet header", "Ivo Sandell kept this draft differently.")
	other.Click("Take that instead")
	other.Until("document.querySelector('#order-quantity-0').value === '15'", "theirs")
	other.Click("Throw away")
	other.Until("location.pathname === '/orders'", "the orders")
	other.Open("/orders/new")
	other.Until("document.querySelector('#order-supplier')?.value === 'Ostrea Filtration'", "the order that was begun")

	d.Open("/orders/planned")
	d.Until("document.querySelector('#plan-item')", "the form")
	d.Until("!document.querySelector('.plan .is-invalid')", "nothing is wrong before anything is typed")
	d.Click("Plan it")
	d.Until("document.activeElement.id === 'plan-supplier'", "the first of what is missing")
	d.SeeIn(".plan", "Enter a quantity above zero.")
	d.SeeIn(".plan", "Enter the price that is expected.")
	d.Fill("#plan-supplier", "brack\r")
	d.Until("document.activeElement.id === 'plan-item'", "the next field")
	d.Fill("#plan-item", "krill\r")
	d.Until("document.querySelector('#plan-budget').value === 'FEED' && document.querySelector('#plan-price').value > ''", "what is known of the item")
	d.Fill("#plan-quantity", "80")
	d.Fill("#plan-price", "38")
	d.Fill("#plan-wanted", "18.12.2026")
	d.Keys(kb.Tab)
	d.Main()
	d.SeeIn(".notice", "Krill, frozen, 12 kg is planned in FEED.")
	d.SeeIn("table", "Filter sand")
	d.Eval("document.querySelectorAll('tbody input[type=checkbox]').forEach(e => e.click())")
	d.SeeIn(".sum", "5 chosen, of more than one supplier")
	d.Eval("[...document.querySelectorAll('tbody tr')].find(r => r.innerText.includes('Squid')).querySelector('input').click()")
	d.Eval("[...document.querySelectorAll('tbody tr')].find(r => r.innerText.includes('Krill')).querySelector('input').click()")
	d.SeeIn(".sum", "3 chosen")
	d.Eval(`localStorage.setItem('lagoon.draft.order', '{"at":"2026-11-23T09:00:00Z","what":{"supplier":"BRACK","lines":[]}}')`) // an order that was begun
	d.Main()
	d.SeeIn(".notice", "What you had begun to order is kept as draft 3.")
	d.Until("document.querySelector('#order-quantity-0')?.value > ''", "the order")
	d.Until("document.querySelector('#order-supplier').value === 'Ostrea Filtration'", "its supplier")
	d.SeeIn(".sum", "Net ")
	d.Main()
	d.SeeIn(".ask", "is exactly what goes out")
	d.Main()
	d.SeeIn(".notice", "is issued to Ostrea Filtration")

	d.Open("/orders/new")
	d.Fill("#order-supplier", "Kelp & Sons")
	d.Keys(kb.Tab)
	d.See("Nobody is called “Kelp & Sons” yet.")
	d.Fill("#order-country", "IE")
	d.Click("Make this supplier now")
	d.SeeIn(".notice", "Kelp & Sons is made as KELPS and marked as incomplete.")
	made, err := masters.ReadSupplier(t.Context(), h.App, "KELPS")
	require.NoError(t, err)
	require.True(t, made.Incomplete)
}

// TestReminders: a supplier whose goods are late is reminded out of the list.
func TestReminders(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("ivo", "/orders")
	d.SeeIn(".pile", "Your turn 3")
	d.SeeIn(".pile", "For you to approve 1")
	d.Until("document.querySelector('.stages a').innerText.includes('4')", "as many as the course says")
	d.Until("document.querySelectorAll('.pile a.slip')[2].innerText.includes('50 days late')", "the most pressing first, after what is to be approved and accepted")
	slips := d.Text(".pile")
	older := browser.Ask(t, h, func(tx *store.Tx) (int64, error) {
		first, err := tx.RecentOrders(0, views.OrdersAtOnce)
		if err != nil {
			return 0, err
		}
		next, err := tx.RecentOrders(first[len(first)-1].Number, 20)
		at := slices.IndexFunc(next, func(o store.OrderRow) bool { return o.Closed == o.Lines }) // nothing is expected of it
		return next[at].Number, err
	})
	require.NotContains(t, slips, fmt.Sprintf(" %d ", older))
	d.Click("Show older orders")
	d.SeeIn(".pile", fmt.Sprint(older))
	d.Open("/orders/reminders")
	d.See("Goods are late")
	d.SeeIn("table", "Ines Quill · +353 99 010 2201")
	d.SeeIn("table", "no contact with a mail address is known")
	d.Click("Remind…")
	d.Until("document.querySelector('#send-text')?.value.length > 40", "the mail")
	d.Focus("#send-to")
	d.Fill("#send-to", "desk@ostrea.example")
	d.Main()
	d.SeeIn(".notice", "is kept with the order")
	d.SeeIn("table", "reminded 1 ×")
	number, err := strconv.ParseInt(d.Text("tbody .mono"), 10, 64)
	require.NoError(t, err)
	sent := orderSheetOf(t, h, number).Sendings
	require.Equal(t, "desk@ostrea.example", sent[len(sent)-1].Recipient)
}

// TestAMailThatFails: a mail that its carrier does not take stays in sight, says why, and is handed over again.
func TestAMailThatFails(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	h.Mail.Broken.Store(true)
	d := browser.Sit(t, h)
	d.SignIn("ivo", "/orders/"+fmt.Sprint(openLine(t, h, "BRACK", "CAPELIN").Order))
	d.See("Capelin, loose")
	d.Letter("s")
	d.Until("!!document.querySelector('#send-to')?.value", "the contact")
	d.Main()
	d.SeeIn(".notice", "is kept with the order")
	require.Eventually(t, func() bool { return h.Mail.Asked.Load() > 0 }, browser.Patience, 10*time.Millisecond, "it is handed over by itself")
	for range 8 { // it is tried some times before a person is asked
		require.NoError(t, orders.HandOverMail(t.Context(), h.App))
	}
	d.SeeIn(".sheet", "mail failed")
	d.SeeIn(".sheet", "the mail server is closed")
	h.Mail.Broken.Store(false)
	before := h.Mail.Taken.Load()
	d.Click("Try again")
	d.SeeIn(".sheet", "Order, version 1, mailed")
	require.Equal(t, before+1, h.Mail.Taken.Load())
}

// TestTheRestIsFree: what came and is not invoiced is accepted as free of charge, with a note and within one's authority; the
// line is closed, and opened again when that is undone.
func TestTheRestIsFree(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(403)
	d.SignIn("ada", "/")
	order := "/orders/" + fmt.Sprint(browser.OrderOf(t, h, "DN 5509"))
	d.Open(order)
	d.Click("Rest is free of charge")
	d.Until("document.activeElement.id === 'free'", "the note")
	d.Keys("samples for the new tank", kb.Enter)
	d.See("your authority is 500.00 EUR")

	d = browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("ivo", order)
	d.Click("Rest is free of charge")
	d.Until("document.activeElement.id === 'free'", "the note")
	d.Keys(kb.Enter)
	d.See("Say in a note why these goods are free of charge.")
	d.Keys(kb.Escape)
	before := d.Acts
	d.Letter("f")
	d.Until("document.activeElement.id === 'free'", "the note")
	d.Keys("samples for the new tank")
	d.Main()
	d.SeeIn(".notice", "is accepted as free of charge; the line is closed.")
	browser.Effort(t, "Over-received, billed less: the rest taken as free of charge", d.Acts-before)
	d.SeeIn(".sheet", "closed: no more goods or invoices")
	d.Click("Accepted as free of charge")
	d.SeeIn("h1", "Free of charge")
	d.SeeIn(".sheet", "samples for the new tank")
	d.Letter("u")
	d.Until("document.activeElement.id === 'reverse'", "the question")
	d.Keys("they want them paid after all", kb.Enter)
	d.SeeIn("h1", "Reversal")
	d.Open(order)
	d.See("Free of charge undone")
	d.Until("!document.querySelector('.sheet').textContent.includes('closed: no more goods')", "the line as it was")
}
