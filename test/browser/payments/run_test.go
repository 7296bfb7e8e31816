package payments

import (
	"fmt"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/test/browser"
)

// propose proposes a run of all that is due by the end of January 2027, and returns its number.
func propose(t *testing.T, h browser.Place, clerk *browser.Desk) int64 {
	t.Helper()
	clerk.Open("/payments")
	clerk.See("Payments")
	clerk.Letter("n")
	clerk.See("Propose a payment run")
	clerk.Fill("#due-by", "31.1.2027")
	clerk.SeeIn(".sheet table", "Invoice")
	clerk.Main()
	clerk.SeeIn(".notice", "A second person approves it")
	return browser.Ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0].Number
}

// TestARunIsDiscardedAndAnAnswerGiven: a run that is not to be is discarded and its invoices are free for another; the
// bank's answer may come as a file.
func TestARunIsDiscardedAndAnAnswerGiven(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	clerk, treasurer := browser.Sit(t, h), browser.Sit(t, h)
	clerk.SignIn("nora", "/payments")
	clerk.SeeIn(".sheet tbody", "clean") // the list is there to be chosen from
	clerk.Letter("a")
	clerk.Main()
	clerk.SeeIn(".notice", "released for payment")
	first := propose(t, h, clerk)
	clerk.Open(fmt.Sprintf("/payments/runs/%d", first))
	clerk.Ready("Discard")
	clerk.Letter("x")
	clerk.SeeIn(".notice", "is discarded; its invoices can be paid by another")
	second := propose(t, h, clerk)
	require.NotEqual(t, first, second)

	treasurer.SignIn("tomas", fmt.Sprintf("/payments/runs/%d", second))
	for _, says := range []struct{ button, done string }{{"Approve", "its invoices are in payment"}, {"Send to the bank", "is sent to the bank"}} {
		treasurer.Ready(says.button)
		treasurer.Main()
		treasurer.SeeIn(".notice", says.done)
	}
	answers, err := filepath.Glob(filepath.Join(filepath.Dir(h.Post), "bank", "*.pain.002.xml"))
	require.NoError(t, err)
	require.NotEmpty(t, answers)
	treasurer.SeeIn(".bar", "Fetch the bank’s answer")
	treasurer.Do(
		"give the answer",
		chromedp.SetUploadFiles(chromedp.CSS("input[aria-label='The bank’s answer']"), answers[len(answers)-1:], chromedp.NodeReady),
	)
	treasurer.SeeIn(".notice", "The bank answered")
	treasurer.SeeIn("table", "paid")
}

// TestWhatWasLetGoComesBack: a run is taken back before it is sent, a file that never reached the bank is declared lost by
// another than who made it, and a release is taken back.
func TestWhatWasLetGoComesBack(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	free := browser.Verified(t, h)
	clerk, treasurer, approver := browser.Sit(t, h), browser.Sit(t, h), browser.Sit(t, h)
	clerk.SignIn("nora", "/payments")
	clerk.SeeIn(".sheet tbody", "clean") // the list is there to be chosen from
	clerk.Letter("a")
	clerk.Main()
	clerk.SeeIn(".notice", "released for payment")

	treasurer.SignIn("tomas", "/")
	run := propose(t, h, clerk)
	treasurer.Open(fmt.Sprintf("/payments/runs/%d", run))
	treasurer.Ready("Approve")
	treasurer.Main()
	treasurer.SeeIn(".notice", "its invoices are in payment")
	approver.SignIn("ada", fmt.Sprintf("/payments/runs/%d", run))
	approver.Click("Take it back…")
	approver.Until("document.activeElement.matches('.ask input')", "the reason")
	approver.Keys("the rent is missing", kb.Enter)
	approver.SeeIn(".notice", "is taken back; its invoices are released again")
	require.Equal(t, store.RunTakenBack, browser.Ask(t, h, func(tx *store.Tx) (store.Run, error) { return tx.RunByNumber(run) }).State)

	run = propose(t, h, clerk)
	treasurer.Open(fmt.Sprintf("/payments/runs/%d", run))
	for _, says := range []struct{ button, done string }{{"Approve", "its invoices are in payment"}, {"Send to the bank", "is sent to the bank"}} {
		treasurer.Ready(says.button)
		treasurer.Main()
		treasurer.SeeIn(".notice", says.done)
	}
	approver.Open(fmt.Sprintf("/payments/runs/%d", run))
	approver.Click("It never reached the bank…")
	approver.Until("document.activeElement.matches('.ask input')", "the reason")
	approver.Keys("the bank has no such file", kb.Enter)
	approver.SeeIn(".notice", "is declared lost; its invoices are released again")

	clerk.Open(fmt.Sprintf("/invoices/%d", free[0].Number))
	clerk.Click("Take the release back")
	clerk.Until("document.activeElement.matches('.ask input')", "the reason")
	clerk.Keys("the supplier is to be asked first", kb.Enter)
	clerk.SeeIn(".notice", "is taken back; it is verified")
}

// TestReleasedAndRun: what is clean is released and a run is made of just that in two acts, due or not.
func TestReleasedAndRun(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/payments/proposed-run")
	d.Fill("#at-hand", "1")
	d.SeeIn(".sheet", "What loses most a year is paid first")
	d.SeeIn(".sheet", "what is at hand does not reach for it")
	d.Accessible()
	d.Open("/payments")
	d.SeeIn(".sheet tbody", "clean")
	d.SeeIn(".sheet", "MA-D38 · money ahead")
	before := d.Acts
	d.Letter("a")
	d.Letter("m")
	d.SeeIn(".notice", "A second person approves it.")
	browser.Effort(t, "All that is clean released, and a run made of it", d.Acts-before)
	d.SeeIn(".bar", "somebody else approves it")
	run := browser.Ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0]
	sheet, err := views.Run(t.Context(), h.App, run.Number, act.Actor{})
	require.NoError(t, err)
	paid := 0
	for _, p := range sheet.Payments {
		paid += len(p.Items)
	}
	require.Greater(t, paid, 4)
	require.NotContains(t, d.Text(".sheet"), "What is left at the bank", "she may not see the bank")
	d.SignIn("tomas", fmt.Sprintf("/payments/runs/%d", run.Number))
	d.SeeIn(".sheet", "What is left at the bank")
	d.SeeIn(".sheet", "this run")
	d.Accessible()
}

// TestAProposalIsWorkedOutAnew: what is taken out or put in changes what credit notes are taken off, and the sum, at once.
func TestAProposalIsWorkedOutAnew(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("ada", "/payments")
	d.SeeIn(".sheet tbody", "clean")
	d.Letter("a")
	d.Main()
	d.SeeIn(".notice", "released for payment")
	d.SignIn("nora", "/payments/proposed-run")
	d.Fill("#due-by", "31.1.2027")
	d.SeeIn(".sheet", "taken off BF-20194")
	d.Focus("[aria-label='Pay BF-20194']")
	d.Keys(" ")
	d.SeeIn(".sheet", "taken off BF-20931") // they go to the next
	require.NotContains(t, d.Text(".sheet"), "taken off BF-20194")
	d.Letter("a")
	d.SeeIn(".bar", "0 invoices chosen")
	d.Focus("[aria-label='Pay BF-20194']")
	d.Keys(" ")
	d.SeeIn(".bar", "1 invoice chosen")
	d.SeeIn(".sheet", "taken off BF-20194")
	d.Accessible()
	d.Click("Urgent: the bank carries it out at once")
	d.Main()
	d.SeeIn(".notice", "is made: 1 payment")
	d.SeeIn(".facts", "urgent")
}
