package invoices

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// What is settled stays open where nothing else is one's own turn, and an unrelated invoice is not released by the next
// press; where something is, it opens, and its main action is deaf for a moment. What was told goes when one goes on.
func TestWhatOpensAfterASettlement(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	held := browser.InvoiceOf(t, h, "BF-20418")
	approver := browser.Sit(t, h)
	approver.SignIn("ada", "/")
	approver.Until("location.pathname === '/invoices'", "the first stage where it is one's own turn")
	approver.SeeIn(".pile", "Your turn 2")
	approver.SeeIn(".pile", "clerk 3, since")
	approver.Click("Brackwater Feeds")
	for n := range 2 {
		approver.Letter("1")
		approver.Until("document.activeElement.id.endsWith('-note')", "the focus stands in the note")
		approver.Keys("Agreed.", kb.Enter)
		require.Equal(t, trade.Held, browser.InvoiceOf(t, h, "BF-20418").State, "Enter does not book")
		approver.Main()
		if n == 0 { // after the second the next of one's own turn opens
			approver.SeeIn(".findings, .body", "Accepted by Ada Quayle")
			approver.Until("document.querySelectorAll('.finding.accepted').length === 1", "one is accepted")
			approver.Click("Take back")
			approver.Keys("Too soon.")
			approver.Main()
			approver.Until("document.querySelectorAll('.finding.accepted').length === 0", "it is open again")
			approver.Letter("1")
			approver.Until("document.activeElement.id.endsWith('-note')", "the focus stands in the note")
			require.Empty(t, approver.Value("[id$='-note']"), "what was said of the acceptance that ended is gone")
			approver.Keys("Agreed after all.")
			approver.Main()
			approver.Until("document.querySelectorAll('.finding.accepted').length === 1", "one is accepted")
			approver.Until("!document.querySelector('.finding.accepted .ask')", "nobody is asked to take it back again")
		}
	}
	approver.SeeIn(".notice", fmt.Sprintf("Invoice %d is verified", held.Number))
	approver.SeeIn("h1", "PC-1031")
	approver.SeeIn(".pile", "Your turn 1")
	approver.Click("Orders")
	approver.Until("!document.querySelector('.notice')", "the notice went with its page")

	clerk := browser.Sit(t, h)
	clerk.SignIn("nora", "/invoices")
	clerk.Click("Fernhollow Print")
	clerk.Letter("r")
	clerk.Keys("Not ours.")
	clerk.Main()
	clerk.SeeIn("h1", "CV 88")
	clerk.SeeIn(".notice", "is refused")
}

// TestWhoIsOnWhat: who has an invoice open is seen by others at once; one key takes it over, it is handed on with a word, and what is
// somebody's turn is handed over in bulk.
func TestWhoIsOnWhat(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	clerk, lead := browser.Sit(t, h), browser.Sit(t, h)
	bill := browser.InvoiceOf(t, h, "SP-8230")
	clerk.SignIn("nora", "/invoices/"+fmt.Sprint(bill.Number))
	clerk.SeeIn(".sheet", "With you")
	lead.SignIn("ada", "/invoices/"+fmt.Sprint(bill.Number))
	lead.SeeIn(".sheet", "With Nora Ferrow")
	lead.SeeIn(".sheet", "Nora Ferrow has it open")
	clerk.SeeIn(".sheet", "Ada Quayle has it open")
	clerk.SeeIn(".pile", "Ada Quayle is on it")
	clerk.Accessible()
	clerk.Click("Tidewell Pumps")
	clerk.SeeIn("h1", "TW-11907")
	lead.Gone(".sheet", "Nora Ferrow has it open")
	lead.SeeIn(".pile", "Nora Ferrow is on it")

	lead.Letter("d")
	lead.Until("document.activeElement.id === 'hand-to'", "whom it is handed to")
	lead.Fill("#hand-note", "anybody may do this one")
	lead.Main()
	lead.SeeIn(".notice", "is the turn of everybody with the role again.")
	lead.SeeIn(".sheet", "The turn of every clerk")
	lead.Accessible()
	clerk.Open("/invoices/" + fmt.Sprint(bill.Number))
	clerk.SeeIn(".sheet", "The turn of every clerk")
	clerk.Letter("w")
	clerk.SeeIn(".notice", "is with you.")
	clerk.SeeIn(".sheet", "With you · taken over")

	lead.Open("/lookup/alike/" + fmt.Sprint(bill.Number))
	lead.SeeIn("h1", "Side by side: SP-8230")
	lead.SeeIn(".sheet", "This one")
	lead.Until("document.querySelector('.beside .page') !== null", "its paper")
	lead.Accessible()
	lead.Open("/lookup/day")
	lead.SeeIn(".sheet", "clerk · Nora Ferrow")
	lead.Open("/lookup/turns")
	lead.SeeIn(".sheet", "clerk · Nora Ferrow")
	lead.Accessible()
	lead.Until("(e => e && (e.click(), true))(document.querySelector('section[aria-label=\"clerk · Nora Ferrow\"] input'))", "all of hers")
	lead.SeeIn(".bar", "1 chosen")
	lead.Until("document.querySelector('#hand-to')?.selectedOptions[0]?.text === 'Nora Ferrow'", "those who are clerks")
	lead.Eval("(e => { e.value = ''; e.dispatchEvent(new Event('change', { bubbles: true })) })(document.querySelector('#hand-to'))")
	lead.Focus("#hand-note")
	lead.Keys("back to the pile")
	lead.Main()
	lead.SeeIn(".notice", "is the turn of everybody with the role again.")
	require.Empty(t, browser.Ask(t, h, func(tx *store.Tx) (store.Keeper, error) {
		id, err := tx.InvoiceID(bill.Number)
		if err != nil {
			return store.Keeper{}, err
		}
		return tx.Keeper(id)
	}).Name)
}
