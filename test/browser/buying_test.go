package browser

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
	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func orderSheetOf(t *testing.T, h place, number int64) views.OrderSheet {
	t.Helper()
	s, err := views.Order(t.Context(), h.app, number, act.Actor{})
	require.NoError(t, err)
	return s
}

// TestAnOrderIsChanged: a changed order keeps its earlier version and says what its supplier does not know yet; it is
// acknowledged, its lines are closed and opened again, and at last it is cancelled.
func TestAnOrderIsChanged(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("ivo")
	number := openLine(t, h, "BRACK", "CAPELIN").Order
	d.open("/orders/" + fmtOrder(number))
	d.see("Capelin, loose")
	d.letter("e")
	d.until("document.querySelector('#order-quantity-1')?.value === '250'", "the order as it stands")
	d.fill("#order-quantity-1", "220")
	d.main()
	d.until("document.activeElement.id === 'change-reason'", "the reason")
	d.main()
	d.see("Say why the order is changed")
	d.fill("#change-reason", "Two seals are away")
	d.main()
	d.seeIn(".notice", "is changed. Send it, so that the supplier knows.")
	d.seeIn(".headline", "version 2")
	require.Equal(t, 2, orderSheetOf(t, h, number).Order.Revision)

	d.letter("g")
	d.until("document.querySelector('#answer-reference')", "the acknowledgement")
	d.fill("#answer-reference", "BF 55-102")
	d.keys(kb.Enter)
	d.seeIn(".notice", "The acknowledgement is noted")
	d.letter("c")
	d.see("2 of 2 chosen") // whoever comes from an order means all of it
	d.main()
	d.until("document.activeElement.id === 'closing'", "the reason")
	d.keys("the store is full", kb.Enter)
	d.seeIn(".notice", "2 lines are closed")
	d.open("/orders/" + fmtOrder(number))
	d.see("closed: no more goods")
	d.click("Open lines again")
	d.see("the store is full") // why each was closed
	d.see("2 of 2 chosen")
	d.main()
	d.until("document.activeElement.id === 'reopening'", "the reason")
	d.keys("there is room again", kb.Enter)
	d.seeIn(".notice", "2 lines are open again")
	d.see("No closed line fits")
	d.open("/orders/" + fmtOrder(number))
	d.see("Capelin, loose")
	d.letter("x")
	d.until("document.activeElement.id === 'cancel-order'", "the reason")
	d.keys("they are fed with squid", kb.Enter)
	d.seeIn(".notice", "is cancelled. Tell the supplier.")
	require.Equal(t, trade.Cancelled, orderSheetOf(t, h, number).Order.State)
}

// TestAPaperThatChangedMeanwhile: what is sent is what was looked at.
func TestAPaperThatChangedMeanwhile(t *testing.T) {
	t.Parallel()
	h := open(t)
	d, other := sit(t, h), sit(t, h)
	d.refusing(409)
	d.signIn("ivo")
	other.signIn("ivo")
	number := openLine(t, h, "BRACK", "CAPELIN").Order
	d.open("/orders/" + fmtOrder(number))
	d.see("Capelin, loose")
	d.letter("s")
	d.until("!!document.querySelector('#send-to')?.value && document.querySelector('iframe.paper')", "the paper")
	other.open("/orders/" + fmtOrder(number) + "/change")
	other.until("document.querySelector('#order-quantity-1')?.value === '250'", "the order as it stands")
	other.fill("#order-quantity-1", "230")
	other.main()
	other.until("document.activeElement.id === 'change-reason'", "the reason")
	other.keys("one seal is away")
	other.main()
	other.seeIn(".notice", "is changed")
	d.focus("#send-to")
	d.main()
	d.seeIn(".ask", "changed meanwhile: order changed, by Ivo Sandell")
	d.until("!document.querySelector('.ask .btn-primary').disabled", "it can be sent again")
	d.main()
	d.seeIn(".notice", "is kept with the order")
}

// TestDraftsAndPlans: an order is kept for another day and gone on with at another desk; planned purchases become an
// order; a supplier is made while ordering.
func TestDraftsAndPlans(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("ivo")
	d.open("/orders/new")
	d.fill("#order-supplier", "saltm\r")
	d.until("document.querySelector('#order-item-0')", "the lines")
	d.fill("#order-item-0", "bags\r")
	d.fill("#order-quantity-0", "12")
	d.alt("s")
	d.seeIn(".notice", "The draft is kept as number")
	other := sit(t, h)
	other.refusing(409)
	other.signIn("ivo")
	other.open("/orders/new")
	other.fill("#order-supplier", "ostr\r") // an order of their own, which the draft must not overwrite
	other.until("document.querySelector('#order-item-0')", "the lines")
	openDraft := func(d *desk, quantity string) {
		d.open("/orders")
		d.seeIn(".pile", "Drafts")
		d.click("draft 2")
		d.until("document.querySelector('#order-quantity-0')?.value === '"+quantity+"'", "the draft")
	}
	openDraft(other, "12")
	openDraft(d, "12")
	d.fill("#order-quantity-0", "13")
	d.alt("s")
	d.seeIn(".notice", "The draft is kept as number 2")
	d.click("draft 2")
	d.until("document.querySelector('#order-quantity-0')?.value === '13'", "the draft as it was kept last, not as it was opened first")
	other.fill("#order-quantity-0", "14")
	other.alt("s")
	other.seeIn(".notice", "Draft 2 was changed by Ivo Sandell meanwhile.")
	other.until("document.querySelector('#order-quantity-0').value === '14'", "what was typed")
	other.alt("s")
	other.seeIn(".notice", "The draft is kept as number 2")
	openDraft(d, "14")
	openDraft(other, "14")
	d.fill("#order-quantity-0", "15")
	d.alt("s")
	d.seeIn(".notice", "The draft is kept as number 2")
	other.click("Throw away")
	other.seeIn(".sheet header", "Ivo Sandell kept this draft differently.")
	other.click("Take that instead")
	other.until("document.querySelector('#order-quantity-0').value === '15'", "theirs")
	other.click("Throw away")
	other.until("location.pathname === '/orders'", "the orders")
	other.open("/orders/new")
	other.until("document.querySelector('#order-supplier')?.value === 'Ostrea Filtration'", "the order that was begun")

	d.open("/orders/planned")
	d.until("document.querySelector('#plan-item')", "the form")
	d.until("!document.querySelector('.plan .is-invalid')", "nothing is wrong before anything is typed")
	d.click("Plan it")
	d.until("document.activeElement.id === 'plan-supplier'", "the first of what is missing")
	d.seeIn(".plan", "Enter a quantity above zero.")
	d.seeIn(".plan", "Enter the price that is expected.")
	d.fill("#plan-supplier", "brack\r")
	d.until("document.activeElement.id === 'plan-item'", "the next field")
	d.fill("#plan-item", "krill\r")
	d.until("document.querySelector('#plan-budget').value === 'FEED' && document.querySelector('#plan-price').value > ''", "what is known of the item")
	d.fill("#plan-quantity", "80")
	d.fill("#plan-price", "38")
	d.fill("#plan-wanted", "18.12.2026")
	d.keys(kb.Tab)
	d.main()
	d.seeIn(".notice", "Krill, frozen, 12 kg is planned in FEED.")
	d.seeIn("table", "Filter sand")
	d.eval("document.querySelectorAll('tbody input[type=checkbox]').forEach(e => e.click())")
	d.seeIn(".sum", "5 chosen, of more than one supplier")
	d.eval("[...document.querySelectorAll('tbody tr')].find(r => r.innerText.includes('Squid')).querySelector('input').click()")
	d.eval("[...document.querySelectorAll('tbody tr')].find(r => r.innerText.includes('Krill')).querySelector('input').click()")
	d.seeIn(".sum", "3 chosen")
	d.eval(`localStorage.setItem('lagoon.draft.order', '{"at":"2026-11-23T09:00:00Z","what":{"supplier":"BRACK","lines":[]}}')`) // an order that was begun
	d.main()
	d.seeIn(".notice", "What you had begun to order is kept as draft 3.")
	d.until("document.querySelector('#order-quantity-0')?.value > ''", "the order")
	d.until("document.querySelector('#order-supplier').value === 'Ostrea Filtration'", "its supplier")
	d.seeIn(".sum", "Net ")
	d.main()
	d.seeIn(".ask", "is exactly what goes out")
	d.main()
	d.seeIn(".notice", "is issued to Ostrea Filtration")

	d.open("/orders/new")
	d.fill("#order-supplier", "Kelp & Sons")
	d.keys(kb.Tab)
	d.see("Nobody is called “Kelp & Sons” yet.")
	d.fill("#order-country", "IE")
	d.click("Make this supplier now")
	d.seeIn(".notice", "Kelp & Sons is made as KELPS and marked as incomplete.")
	require.True(t, supplierOf(t, h, "KELPS").Incomplete)
}

// TestReminders: a supplier whose goods are late is reminded out of the list.
func TestReminders(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("ivo")
	d.open("/orders")
	d.seeIn(".pile", "Your turn 3")
	d.seeIn(".pile", "For you to approve 1")
	d.until("document.querySelector('.stages a').innerText.includes('4')", "as many as the course says")
	d.until("document.querySelectorAll('.pile a.slip')[2].innerText.includes('50 days late')", "the most pressing first, after what is to be approved and accepted")
	slips := d.text(".pile")
	older := ask(t, h, func(tx *store.Tx) (int64, error) {
		first, err := tx.RecentOrders(0, views.OrdersAtOnce)
		if err != nil {
			return 0, err
		}
		next, err := tx.RecentOrders(first[len(first)-1].Number, 20)
		at := slices.IndexFunc(next, func(o store.OrderRow) bool { return o.Closed == o.Lines }) // nothing is expected of it
		return next[at].Number, err
	})
	require.NotContains(t, slips, fmt.Sprintf(" %d ", older))
	d.click("Show older orders")
	d.seeIn(".pile", fmt.Sprint(older))
	d.open("/orders/reminders")
	d.see("Goods are late")
	d.seeIn("table", "Ines Quill · +353 99 010 2201")
	d.seeIn("table", "no contact with a mail address is known")
	d.click("Remind…")
	d.until("document.querySelector('#send-text')?.value.length > 40", "the mail")
	d.focus("#send-to")
	d.fill("#send-to", "desk@ostrea.example")
	d.main()
	d.seeIn(".notice", "is kept with the order")
	d.seeIn("table", "reminded 1 ×")
	number, err := strconv.ParseInt(d.text("tbody .mono"), 10, 64)
	require.NoError(t, err)
	sent := orderSheetOf(t, h, number).Sendings
	require.Equal(t, "desk@ostrea.example", sent[len(sent)-1].Recipient)
}

// TestAMailThatFails: a mail that its carrier does not take stays in sight, says why, and is handed over again.
func TestAMailThatFails(t *testing.T) {
	t.Parallel()
	h := open(t)
	h.mail.broken.Store(true)
	d := sit(t, h)
	d.signIn("ivo")
	d.open("/orders/" + fmtOrder(openLine(t, h, "BRACK", "CAPELIN").Order))
	d.see("Capelin, loose")
	d.letter("s")
	d.until("!!document.querySelector('#send-to')?.value", "the contact")
	d.main()
	d.seeIn(".notice", "is kept with the order")
	require.Eventually(t, func() bool { return h.mail.asked.Load() > 0 }, patience, 10*time.Millisecond, "it is handed over by itself")
	for range 8 { // it is tried some times before a person is asked
		require.NoError(t, orders.HandOverMail(t.Context(), h.app))
	}
	d.seeIn(".sheet", "mail failed")
	d.seeIn(".sheet", "the mail server is closed")
	h.mail.broken.Store(false)
	before := h.mail.taken.Load()
	d.click("Try again")
	d.seeIn(".sheet", "Order, version 1, mailed")
	require.Equal(t, before+1, h.mail.taken.Load())
}

// TestTheRestIsFree: what came and is not invoiced is accepted as free of charge, with a note and within one's authority; the
// line is closed, and opened again when that is undone.
func TestTheRestIsFree(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(403)
	d.signIn("ada")
	order := "/orders/" + fmtOrder(orderOf(t, h, "DN 5509"))
	d.open(order)
	d.click("Rest is free of charge")
	d.until("document.activeElement.id === 'free'", "the note")
	d.keys("samples for the new tank", kb.Enter)
	d.see("your authority is 500.00 EUR")

	d = sit(t, h)
	d.refusing(422)
	d.signIn("ivo")
	d.open(order)
	d.click("Rest is free of charge")
	d.until("document.activeElement.id === 'free'", "the note")
	d.keys(kb.Enter)
	d.see("Say in a note why these goods are free of charge.")
	d.keys(kb.Escape)
	before := d.acts
	d.letter("f")
	d.until("document.activeElement.id === 'free'", "the note")
	d.keys("samples for the new tank")
	d.main()
	d.seeIn(".notice", "is accepted as free of charge; the line is closed.")
	effort(t, "Over-received, billed less: the rest taken as free of charge", d.acts-before)
	d.seeIn(".sheet", "closed: no more goods or invoices")
	d.click("Accepted as free of charge")
	d.seeIn("h1", "Free of charge")
	d.seeIn(".sheet", "samples for the new tank")
	d.letter("u")
	d.until("document.activeElement.id === 'reverse'", "the question")
	d.keys("they want them paid after all", kb.Enter)
	d.seeIn("h1", "Reversal")
	d.open(order)
	d.see("Free of charge undone")
	d.until("!document.querySelector('.sheet').textContent.includes('closed: no more goods')", "the line as it was")
}
