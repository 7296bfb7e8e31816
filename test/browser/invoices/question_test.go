package invoices

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestQuestions: a clerk asks the receiver about goods that an invoice waits for, who answers; a note about an order is seen;
// what is asked is passed on, and taken back.
func TestQuestions(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	nora, lewis, maren := browser.Sit(t, h), browser.Sit(t, h), browser.Sit(t, h)
	for _, d := range []*browser.Desk{nora, lewis, maren} {
		d.Refusing(422)
	}
	invoice := browser.InvoiceOf(t, h, "OF-3415").Number
	nora.SignIn("nora", fmt.Sprintf("/invoices/%d", invoice))
	nora.See("Waits for goods")
	before := nora.Acts
	nora.Letter("q")
	nora.Until("document.activeElement.id === 'ask-text' && document.activeElement.value.includes('36 of 60 ordered')", "the figures")
	nora.Keys("When does the rest come?")
	nora.Accessible()
	nora.Main()
	nora.SeeIn(".notice", fmt.Sprintf("The question about invoice %d is put", invoice))
	browser.Effort(t, "A colleague asked about a difference, its figures included", nora.Acts-before)
	nora.SeeIn(".pile", "a receiver 1")
	require.Eventually(t, func() bool { return browser.InvoiceOf(t, h, "OF-3415").State == trade.Held }, 10*time.Second, 50*time.Millisecond, "it is held back")

	nora.Open(fmt.Sprintf("/invoices/%d", invoice))
	nora.See("Waits for an answer")
	nora.Until("[...document.querySelectorAll('.finding')].filter((f) => f.innerText.includes('more invoiced than received') && f.innerText.includes('Settle…')).length === 2", "both differences can be settled all the same")

	lewis.SignIn("lewis", "/invoices")
	lewis.SeeIn(".pile", "Asked of you")
	lewis.Open(fmt.Sprintf("/invoices/%d", invoice))
	lewis.Until("document.activeElement.id === 'question-text'", "the answer")
	before = lewis.Acts
	lewis.Main()
	lewis.See("Write the answer.")
	lewis.Keys("On the ferry of Tuesday.")
	lewis.Accessible()
	before++ // the empty one
	lewis.Main()
	lewis.SeeIn(".notice", "Nora Ferrow has your answer")
	browser.Effort(t, "A question of a colleague answered", lewis.Acts-before)
	require.Eventually(t, func() bool { return browser.InvoiceOf(t, h, "OF-3415").State == trade.Waiting }, 10*time.Second, 50*time.Millisecond, "it waits for goods again")

	nora.Open("/invoices")
	nora.SeeIn(".pile", "Answered to you")
	nora.Open(fmt.Sprintf("/invoices/%d", invoice))
	nora.See("On the ferry of Tuesday.")
	nora.Accessible()
	nora.Letter("q")
	nora.See("One earlier question or note")

	order := browser.OrderOf(t, h, "DN 5438")
	lewis.Open(fmt.Sprintf("/orders/%d", order))
	lewis.Letter("q")
	lewis.Until("document.activeElement.id === 'ask-text'", "the text")
	lewis.Eval(`{ const f = document.querySelector('#ask-to'); f.value = 'maren'; f.dispatchEvent(new Event('change')) }`)
	lewis.Keys("Do they still deliver on Mondays?")
	lewis.Main()
	lewis.SeeIn(".notice", fmt.Sprintf("The question about order %d is put", order))
	maren.SignIn("maren", "/orders")
	maren.SeeIn(".pile", "Asked of you")
	maren.Open(fmt.Sprintf("/orders/%d", order))
	maren.Until("document.activeElement.id === 'question-text'", "the answer")
	maren.Keys(kb.Escape)
	maren.Click("Pass on…")
	maren.Until("document.activeElement.id === 'question-to'", "to whom")
	maren.Eval(`{ const f = document.querySelector('#question-to'); f.value = 'nora'; f.dispatchEvent(new Event('change')) }`)
	maren.Fill("#question-text", "You spoke to them.")
	maren.Main()
	maren.SeeIn(".notice", "Passed on to Nora Ferrow")
	lewis.Open(fmt.Sprintf("/orders/%d", order))
	lewis.See("You spoke to them.")
	lewis.Click("Take back")
	lewis.SeeIn(".notice", "It is taken back")
	lewis.Letter("q")
	lewis.Until("document.activeElement.id === 'ask-text'", "the text")
	lewis.Eval(`{ const f = document.querySelector('#ask-kind'); f.value = 'note'; f.dispatchEvent(new Event('change')) }`)
	lewis.Eval(`{ const f = document.querySelector('#ask-to'); f.value = ''; f.dispatchEvent(new Event('change')) }`)
	lewis.Fill("#ask-text", "They ring before they come.")
	lewis.Main()
	lewis.SeeIn(".notice", "The note stands on order")
	maren.Open(fmt.Sprintf("/orders/%d", order))
	maren.See("They ring before they come.")
}

// TestAskAboutADelivery: a question is asked from a delivery, which it names; it stands on its order and on the delivery, and is
// somebody's turn.
func TestAskAboutADelivery(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("lewis", "/")
	noted := browser.Ask(t, h, func(tx *store.Tx) ([]store.Delivery, error) { return tx.DeliveriesNoted("DN 5438") })
	d.Open(fmt.Sprintf("/receiving/deliveries/%d", noted[0].Number))
	d.SeeIn("h1", "Delivery")
	d.Letter("q")
	d.Until("document.querySelector('#ask-text')?.value === 'Delivery DN 5438: '", "it names the delivery")
	d.Keys("two tubs are dented, do we keep them?")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", fmt.Sprintf("The question about order %d is put.", browser.OrderOf(t, h, "DN 5438")))
	d.SeeIn(".body", "Delivery DN 5438: two tubs are dented, do we keep them?")
	d.Open(fmt.Sprintf("/orders/%d", browser.OrderOf(t, h, "DN 5438")))
	d.SeeIn(".body", "Delivery DN 5438: two tubs are dented, do we keep them?")
}
