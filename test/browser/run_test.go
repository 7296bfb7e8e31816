package browser

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
	"lagoon/internal/views"

	"lagoon/internal/act"
)

// TestReleasedAndRun: what is clean is released and a run is made of just that in two acts, due or not.
func TestReleasedAndRun(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/payments/proposed-run")
	d.fill("#at-hand", "1")
	d.seeIn(".sheet", "What loses most a year is paid first")
	d.seeIn(".sheet", "what is at hand does not reach for it")
	d.accessible()
	d.open("/payments")
	d.seeIn(".sheet tbody", "clean")
	d.seeIn(".sheet", "MA-D38 · money ahead")
	before := d.acts
	d.letter("a")
	d.letter("m")
	d.seeIn(".notice", "A second person approves it.")
	effort(t, "All that is clean released, and a run made of it", d.acts-before)
	d.seeIn(".bar", "somebody else approves it")
	run := ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0]
	sheet, err := views.Run(t.Context(), h.app, run.Number, act.Actor{})
	require.NoError(t, err)
	paid := 0
	for _, p := range sheet.Payments {
		paid += len(p.Items)
	}
	require.Greater(t, paid, 4)
	require.NotContains(t, d.text(".sheet"), "What is left at the bank", "she may not see the bank")
	d.signIn("tomas")
	d.open(fmt.Sprintf("/payments/runs/%d", run.Number))
	d.seeIn(".sheet", "What is left at the bank")
	d.seeIn(".sheet", "this run")
	d.accessible()
}

// TestAProposalIsWorkedOutAnew: what is taken out or put in changes what credit notes are taken off, and the sum, at once.
func TestAProposalIsWorkedOutAnew(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("ada")
	d.open("/payments")
	d.seeIn(".sheet tbody", "clean")
	d.letter("a")
	d.main()
	d.seeIn(".notice", "released for payment")
	d.signIn("nora")
	d.open("/payments/proposed-run")
	d.fill("#due-by", "31.1.2027")
	d.seeIn(".sheet", "taken off BF-20194")
	d.focus("[aria-label='Pay BF-20194']")
	d.keys(" ")
	d.seeIn(".sheet", "taken off BF-20931") // they go to the next
	require.NotContains(t, d.text(".sheet"), "taken off BF-20194")
	d.letter("a")
	d.seeIn(".bar", "0 invoices chosen")
	d.focus("[aria-label='Pay BF-20194']")
	d.keys(" ")
	d.seeIn(".bar", "1 invoice chosen")
	d.seeIn(".sheet", "taken off BF-20194")
	d.accessible()
	d.click("Urgent: the bank carries it out at once")
	d.main()
	d.seeIn(".notice", "is made: 1 payment")
	d.seeIn(".facts", "urgent")
}

// TestTermsOfItsOwn: one order, or one invoice, has terms in the place of its supplier's, with a word why, until they are taken back.
func TestTermsOfItsOwn(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	bill := invoiceOf(t, h, "76-0195")
	d.signIn("ivo")
	d.open(fmt.Sprintf("/orders/%d", bill.Order))
	d.seeIn(".sheet", "Terms of the supplier: ")
	d.click("Other terms…")
	d.accessible()
	d.fill("#own-terms-net", "75")
	d.refusing(422)
	d.main()
	d.seeIn(".ask", "Say in a note why.")
	d.fill("#own-terms-note", "Agreed for the winter")
	d.main()
	d.seeIn(".notice", "The terms are set.")
	d.seeIn(".sheet", "Terms of its own: 75 days")
	d.signIn("nora")
	d.open(fmt.Sprintf("/invoices/%d", bill.Number))
	d.seeIn(".sheet", "Ivo Sandell: Agreed for the winter")
	d.click("Other terms…")
	d.fill("#own-terms-instalments", "50% 10, 50% 40")
	d.fill("#own-terms-note", "In two parts")
	d.main()
	d.seeIn(".facts", "Instalments")
	d.accessible()
	d.click("Other terms…")
	d.fill("#own-terms-note", "As for the order")
	d.click("Take the supplier’s again")
	d.seeIn(".sheet", "Ivo Sandell: Agreed for the winter")
}
