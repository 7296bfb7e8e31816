package browser

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TestQuestions: a clerk asks the receiver about goods that an invoice waits for, who answers; a note about an order is seen;
// what is asked is passed on, and taken back.
func TestQuestions(t *testing.T) {
	t.Parallel()
	h := open(t)
	nora, lewis, maren := sit(t, h), sit(t, h), sit(t, h)
	for _, d := range []*desk{nora, lewis, maren} {
		d.refusing(422)
	}
	invoice := invoiceOf(t, h, "OF-3415").Number
	nora.signIn("nora")
	nora.open(fmt.Sprintf("/invoices/%d", invoice))
	nora.see("Waits for goods")
	before := nora.acts
	nora.letter("q")
	nora.until("document.activeElement.id === 'ask-text' && document.activeElement.value.includes('36 of 60 ordered')", "the figures")
	nora.keys("When does the rest come?")
	nora.accessible()
	nora.main()
	nora.seeIn(".notice", fmt.Sprintf("The question about invoice %d is put", invoice))
	effort(t, "A colleague asked about a difference, its figures included", nora.acts-before)
	nora.seeIn(".pile", "a receiver 1")
	require.Eventually(t, func() bool { return invoiceOf(t, h, "OF-3415").State == trade.Held }, 10*time.Second, 50*time.Millisecond, "it is held back")

	nora.open(fmt.Sprintf("/invoices/%d", invoice))
	nora.see("Waits for an answer")
	nora.until("[...document.querySelectorAll('.finding')].filter((f) => f.innerText.includes('more invoiced than received') && f.innerText.includes('Settle…')).length === 2", "both differences can be settled all the same")

	lewis.signIn("lewis")
	lewis.open("/invoices")
	lewis.seeIn(".pile", "Asked of you")
	lewis.open(fmt.Sprintf("/invoices/%d", invoice))
	lewis.until("document.activeElement.id === 'question-text'", "the answer")
	before = lewis.acts
	lewis.main()
	lewis.see("Write the answer.")
	lewis.keys("On the ferry of Tuesday.")
	lewis.accessible()
	before++ // the empty one
	lewis.main()
	lewis.seeIn(".notice", "Nora Ferrow has your answer")
	effort(t, "A question of a colleague answered", lewis.acts-before)
	require.Eventually(t, func() bool { return invoiceOf(t, h, "OF-3415").State == trade.Waiting }, 10*time.Second, 50*time.Millisecond, "it waits for goods again")

	nora.open("/invoices")
	nora.seeIn(".pile", "Answered to you")
	nora.open(fmt.Sprintf("/invoices/%d", invoice))
	nora.see("On the ferry of Tuesday.")
	nora.accessible()
	nora.letter("q")
	nora.see("One earlier question or note")

	order := orderOf(t, h, "DN 5438")
	lewis.open(fmt.Sprintf("/orders/%d", order))
	lewis.letter("q")
	lewis.until("document.activeElement.id === 'ask-text'", "the text")
	lewis.eval(`{ const f = document.querySelector('#ask-to'); f.value = 'maren'; f.dispatchEvent(new Event('change')) }`)
	lewis.keys("Do they still deliver on Mondays?")
	lewis.main()
	lewis.seeIn(".notice", fmt.Sprintf("The question about order %d is put", order))
	maren.signIn("maren")
	maren.open("/orders")
	maren.seeIn(".pile", "Asked of you")
	maren.open(fmt.Sprintf("/orders/%d", order))
	maren.until("document.activeElement.id === 'question-text'", "the answer")
	maren.keys(kb.Escape)
	maren.click("Pass on…")
	maren.until("document.activeElement.id === 'question-to'", "to whom")
	maren.eval(`{ const f = document.querySelector('#question-to'); f.value = 'nora'; f.dispatchEvent(new Event('change')) }`)
	maren.fill("#question-text", "You spoke to them.")
	maren.main()
	maren.seeIn(".notice", "Passed on to Nora Ferrow")
	lewis.open(fmt.Sprintf("/orders/%d", order))
	lewis.see("You spoke to them.")
	lewis.click("Take back")
	lewis.seeIn(".notice", "It is taken back")
	lewis.letter("q")
	lewis.until("document.activeElement.id === 'ask-text'", "the text")
	lewis.eval(`{ const f = document.querySelector('#ask-kind'); f.value = 'note'; f.dispatchEvent(new Event('change')) }`)
	lewis.eval(`{ const f = document.querySelector('#ask-to'); f.value = ''; f.dispatchEvent(new Event('change')) }`)
	lewis.fill("#ask-text", "They ring before they come.")
	lewis.main()
	lewis.seeIn(".notice", "The note stands on order")
	maren.open(fmt.Sprintf("/orders/%d", order))
	maren.see("They ring before they come.")
}

// TestAskAboutADelivery: a question is asked from a delivery, which it names; it stands on its order and on the delivery, and is
// somebody's turn.
func TestAskAboutADelivery(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("lewis")
	noted := ask(t, h, func(tx *store.Tx) ([]store.Delivery, error) { return tx.DeliveriesNoted("DN 5438") })
	d.open(fmt.Sprintf("/receiving/deliveries/%d", noted[0].Number))
	d.seeIn("h1", "Delivery")
	d.letter("q")
	d.until("document.querySelector('#ask-text')?.value === 'Delivery DN 5438: '", "it names the delivery")
	d.keys("two tubs are dented, do we keep them?")
	d.accessible()
	d.main()
	d.seeIn(".notice", fmt.Sprintf("The question about order %d is put.", orderOf(t, h, "DN 5438")))
	d.seeIn(".body", "Delivery DN 5438: two tubs are dented, do we keep them?")
	d.open(fmt.Sprintf("/orders/%d", orderOf(t, h, "DN 5438")))
	d.seeIn(".body", "Delivery DN 5438: two tubs are dented, do we keep them?")
}
