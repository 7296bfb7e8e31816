package invoices

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/test/browser"
)

// TestInvoicesEnd: one that cannot be settled is refused to its supplier, a verified one is made void and its entry taken
// back; each says why, and all that is open can be matched again.
func TestInvoicesEnd(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("nora", "/")
	held := browser.InvoiceOf(t, h, "2026-118")
	require.Equal(t, trade.Held, held.State)
	d.Open(fmt.Sprintf("/invoices/%d", held.Number))
	d.SeeIn(".bar", "Refuse")
	d.Click("Refuse")
	d.Until("document.activeElement.matches('.ask input')", "the reason")
	d.Keys(kb.Enter)
	d.Until("document.querySelector('.ask .text-danger')?.innerText", "a reason is asked for")
	require.Equal(t, trade.Held, browser.InvoiceOf(t, h, "2026-118").State, "without a reason nothing happens")
	d.Keys("nobody ordered leaflets", kb.Enter)
	d.SeeIn(".notice", "is refused.")
	require.Equal(t, trade.Refused, browser.InvoiceOf(t, h, "2026-118").State)

	wrong := browser.Verified(t, h)[0]
	d.Open(fmt.Sprintf("/invoices/%d", wrong.Number))
	d.SeeIn(".bar", "Make void")
	d.Letter("v")
	d.Until("document.activeElement.matches('.ask input')", "the reason")
	d.Keys("of another company", kb.Enter)
	d.SeeIn(".notice", "is void; its entry was taken back")
	require.Equal(t, trade.Void, browser.InvoiceOf(t, h, wrong.SupplierNumber).State)
	d.Open(fmt.Sprintf("/invoices/%d", wrong.Number))
	d.See("2 entries")

	d.Letter("m")
	d.SeeIn(".notice", "All open invoices were matched again.")
}
