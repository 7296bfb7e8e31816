package browser

import (
	"fmt"
	"path/filepath"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// verified are invoices of the demo that can be released.
func verified(t *testing.T, h place) []store.InvoiceRow {
	t.Helper()
	var all []store.InvoiceRow
	own := ask(t, h, func(tx *store.Tx) ([]int64, error) {
		clerk, err := tx.PersonByLogin("nora")
		if err != nil {
			return nil, err
		}
		return tx.OwnEntries(trade.Verified, clerk.ID)
	})
	for _, r := range ask(t, h, func(tx *store.Tx) ([]store.InvoiceRow, error) { return tx.RecentInvoices(0, 200) }) {
		if r.State == trade.Verified && !r.Blocked && r.Kind == trade.PlainInvoice && !slices.Contains(own, r.Number) {
			all = append(all, r)
		}
	}
	require.NotEmpty(t, all)
	return all
}

// TestInvoicesEnd: one that cannot be settled is refused to its supplier, a verified one is made void and its entry taken
// back; each says why, and all that is open can be matched again.
func TestInvoicesEnd(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("nora")
	held := invoiceOf(t, h, "2026-118")
	require.Equal(t, trade.Held, held.State)
	d.open(fmt.Sprintf("/invoices/%d", held.Number))
	d.seeIn(".bar", "Refuse")
	d.click("Refuse")
	d.until("document.activeElement.matches('.ask input')", "the reason")
	d.keys(kb.Enter)
	d.until("document.querySelector('.ask .text-danger')?.innerText", "a reason is asked for")
	require.Equal(t, trade.Held, invoiceOf(t, h, "2026-118").State, "without a reason nothing happens")
	d.keys("nobody ordered leaflets", kb.Enter)
	d.seeIn(".notice", "is refused.")
	require.Equal(t, trade.Refused, invoiceOf(t, h, "2026-118").State)

	wrong := verified(t, h)[0]
	d.open(fmt.Sprintf("/invoices/%d", wrong.Number))
	d.seeIn(".bar", "Make void")
	d.letter("v")
	d.until("document.activeElement.matches('.ask input')", "the reason")
	d.keys("of another company", kb.Enter)
	d.seeIn(".notice", "is void; its entry was taken back")
	require.Equal(t, trade.Void, invoiceOf(t, h, wrong.SupplierNumber).State)
	d.open(fmt.Sprintf("/invoices/%d", wrong.Number))
	d.see("2 entries")

	d.letter("m")
	d.seeIn(".notice", "All open invoices were matched again.")
}

// propose proposes a run of all that is due by the end of January 2027, and returns its number.
func propose(t *testing.T, h place, clerk *desk) int64 {
	t.Helper()
	clerk.open("/payments")
	clerk.see("Payments")
	clerk.letter("n")
	clerk.see("Propose a payment run")
	clerk.fill("#due-by", "31.1.2027")
	clerk.seeIn(".sheet table", "Invoice")
	clerk.main()
	clerk.seeIn(".notice", "A second person approves it")
	return ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0].Number
}

// TestARunIsDiscardedAndAnAnswerGiven: a run that is not to be is discarded and its invoices are free for another; the
// bank's answer may come as a file.
func TestARunIsDiscardedAndAnAnswerGiven(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk, treasurer := sit(t, h), sit(t, h)
	clerk.signIn("nora")
	clerk.open("/payments")
	clerk.seeIn(".sheet tbody", "clean") // the list is there to be chosen from
	clerk.letter("a")
	clerk.main()
	clerk.seeIn(".notice", "released for payment")
	first := propose(t, h, clerk)
	clerk.open(fmt.Sprintf("/payments/runs/%d", first))
	clerk.ready("Discard")
	clerk.letter("x")
	clerk.seeIn(".notice", "is discarded; its invoices can be paid by another")
	second := propose(t, h, clerk)
	require.NotEqual(t, first, second)

	treasurer.signIn("tomas")
	treasurer.open(fmt.Sprintf("/payments/runs/%d", second))
	for _, says := range []struct{ button, done string }{{"Approve", "its invoices are in payment"}, {"Send to the bank", "is sent to the bank"}} {
		treasurer.ready(says.button)
		treasurer.main()
		treasurer.seeIn(".notice", says.done)
	}
	answers, err := filepath.Glob(filepath.Join(filepath.Dir(h.post), "bank", "*.pain.002.xml"))
	require.NoError(t, err)
	require.NotEmpty(t, answers)
	treasurer.seeIn(".bar", "Fetch the bank’s answer")
	treasurer.do(
		"give the answer",
		chromedp.SetUploadFiles(chromedp.CSS("input[aria-label='The bank’s answer']"), answers[len(answers)-1:], chromedp.NodeReady),
	)
	treasurer.seeIn(".notice", "The bank answered")
	treasurer.seeIn("table", "paid")
}

// TestWhatWasLetGoComesBack: a run is taken back before it is sent, a file that never reached the bank is declared lost by
// another than who made it, and a release is taken back.
func TestWhatWasLetGoComesBack(t *testing.T) {
	t.Parallel()
	h := open(t)
	free := verified(t, h)
	clerk, treasurer, approver := sit(t, h), sit(t, h), sit(t, h)
	clerk.signIn("nora")
	clerk.open("/payments")
	clerk.seeIn(".sheet tbody", "clean") // the list is there to be chosen from
	clerk.letter("a")
	clerk.main()
	clerk.seeIn(".notice", "released for payment")

	treasurer.signIn("tomas")
	run := propose(t, h, clerk)
	treasurer.open(fmt.Sprintf("/payments/runs/%d", run))
	treasurer.ready("Approve")
	treasurer.main()
	treasurer.seeIn(".notice", "its invoices are in payment")
	approver.signIn("ada")
	approver.open(fmt.Sprintf("/payments/runs/%d", run))
	approver.click("Take it back…")
	approver.until("document.activeElement.matches('.ask input')", "the reason")
	approver.keys("the rent is missing", kb.Enter)
	approver.seeIn(".notice", "is taken back; its invoices are released again")
	require.Equal(t, store.RunTakenBack, ask(t, h, func(tx *store.Tx) (store.Run, error) { return tx.RunByNumber(run) }).State)

	run = propose(t, h, clerk)
	treasurer.open(fmt.Sprintf("/payments/runs/%d", run))
	for _, says := range []struct{ button, done string }{{"Approve", "its invoices are in payment"}, {"Send to the bank", "is sent to the bank"}} {
		treasurer.ready(says.button)
		treasurer.main()
		treasurer.seeIn(".notice", says.done)
	}
	approver.open(fmt.Sprintf("/payments/runs/%d", run))
	approver.click("It never reached the bank…")
	approver.until("document.activeElement.matches('.ask input')", "the reason")
	approver.keys("the bank has no such file", kb.Enter)
	approver.seeIn(".notice", "is declared lost; its invoices are released again")

	clerk.open(fmt.Sprintf("/invoices/%d", free[0].Number))
	clerk.click("Take the release back")
	clerk.until("document.activeElement.matches('.ask input')", "the reason")
	clerk.keys("the supplier is to be asked first", kb.Enter)
	clerk.seeIn(".notice", "is taken back; it is verified")
}

// One line of one order is ended from the order itself: what that releases and the reason are asked in one panel.
func TestALineIsEndedFromItsOrder(t *testing.T) {
	t.Parallel()
	h := open(t)
	buyer := sit(t, h)
	buyer.signIn("ivo")
	order := ask(t, h, func(tx *store.Tx) (int64, error) { // the last one that nothing came of yet
		rows, err := tx.RecentOrders(0, 20)
		at := slices.IndexFunc(rows, func(o store.OrderRow) bool { return o.Supplier == "Brackwater Feeds" && o.Received == 0 })
		return rows[at].Number, err
	})
	buyer.open(fmt.Sprintf("/orders/%d", order))
	buyer.click("End early…")
	buyer.seeIn(".ask", "are not expected any more, worth")
	buyer.until("document.activeElement.id === 'end-line'", "the focus is on the reason")
	buyer.accessible()
	buyer.keys("Season is over.")
	buyer.main()
	buyer.seeIn(".notice", fmt.Sprintf("Line 1 of order %d is ended", order))
	buyer.seeIn("table", "closed: no more goods")
	lines := ask(t, h, func(tx *store.Tx) ([]store.OpenLine, error) {
		return tx.OpenLines(store.LineFilter{Order: order, Closed: true})
	})
	require.Equal(t, "Season is over.", lines[0].Reason)
}
