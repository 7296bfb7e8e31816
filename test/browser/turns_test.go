package browser

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// TestWhoIsOnWhat: who has an invoice open is seen by others at once; one key takes it over, it is handed on with a word, and what is
// somebody's turn is handed over in bulk.
func TestWhoIsOnWhat(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk, lead := sit(t, h), sit(t, h)
	bill := invoiceOf(t, h, "SP-8230")
	clerk.signIn("nora")
	clerk.open("/invoices/" + fmtOrder(bill.Number))
	clerk.seeIn(".sheet", "With you")
	lead.signIn("ada")
	lead.open("/invoices/" + fmtOrder(bill.Number))
	lead.seeIn(".sheet", "With Nora Ferrow")
	lead.seeIn(".sheet", "Nora Ferrow has it open")
	clerk.seeIn(".sheet", "Ada Quayle has it open")
	clerk.seeIn(".pile", "Ada Quayle is on it")
	clerk.accessible()
	clerk.click("Tidewell Pumps")
	clerk.seeIn("h1", "TW-11907")
	lead.gone(".sheet", "Nora Ferrow has it open")
	lead.seeIn(".pile", "Nora Ferrow is on it")

	lead.letter("d")
	lead.until("document.activeElement.id === 'hand-to'", "whom it is handed to")
	lead.fill("#hand-note", "anybody may do this one")
	lead.main()
	lead.seeIn(".notice", "is the turn of everybody with the role again.")
	lead.seeIn(".sheet", "The turn of every clerk")
	lead.accessible()
	clerk.open("/invoices/" + fmtOrder(bill.Number))
	clerk.seeIn(".sheet", "The turn of every clerk")
	clerk.letter("w")
	clerk.seeIn(".notice", "is with you.")
	clerk.seeIn(".sheet", "With you · taken over")

	lead.open("/lookup/alike/" + fmtOrder(bill.Number))
	lead.seeIn("h1", "Side by side: SP-8230")
	lead.seeIn(".sheet", "This one")
	lead.until("document.querySelector('.beside .page') !== null", "its paper")
	lead.accessible()
	lead.open("/lookup/day")
	lead.seeIn(".sheet", "clerk · Nora Ferrow")
	lead.open("/lookup/turns")
	lead.seeIn(".sheet", "clerk · Nora Ferrow")
	lead.accessible()
	lead.until("(e => e && (e.click(), true))(document.querySelector('section[aria-label=\"clerk · Nora Ferrow\"] input'))", "all of hers")
	lead.seeIn(".bar", "1 chosen")
	lead.until("document.querySelector('#hand-to')?.selectedOptions[0]?.text === 'Nora Ferrow'", "those who are clerks")
	lead.eval("(e => { e.value = ''; e.dispatchEvent(new Event('change', { bubbles: true })) })(document.querySelector('#hand-to'))")
	lead.focus("#hand-note")
	lead.keys("back to the pile")
	lead.main()
	lead.seeIn(".notice", "is the turn of everybody with the role again.")
	require.Empty(t, ask(t, h, func(tx *store.Tx) (store.Keeper, error) {
		id, err := tx.InvoiceID(bill.Number)
		if err != nil {
			return store.Keeper{}, err
		}
		return tx.Keeper(id)
	}).Name)
}
