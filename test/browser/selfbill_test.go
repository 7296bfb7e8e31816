package browser

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/jobs/invoices"
)

// TestInvoicesThatWeWrite: a buyer agrees it with a supplier, its order lines are marked, and a clerk writes what came in one act.
func TestInvoicesThatWeWrite(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("ivo")
	d.open("/setup/suppliers/HALDE")
	d.click("We do…")
	d.fill("#self-items", "NOSUCH")
	d.refusing(422)
	d.main()
	d.seeIn(".ask", "There is no item")
	d.fill("#self-statement", "Made out by the buyer")
	d.fill("#self-items", "SALT")
	d.main()
	d.seeIn(".notice", "It is agreed, for what is ordered from now on.")
	d.seeIn(".sheet", "numbered SB-HALDE-…, of SALT, written when a person says so.")
	d.click("Change it")
	d.eval(`{ const f = document.querySelector('#self-every'); f.value = 'week'; f.dispatchEvent(new Event('change', { bubbles: true })) }`)
	d.main()
	d.seeIn(".sheet", "written on Fridays, by themselves.")
	d.accessible()
	d.signIn("nora")
	d.open("/invoices")
	d.click("Invoices that we write")
	d.seeIn(".sheet", "38.5 kg Sprats, landed fresh")
	d.accessible()
	before := d.acts
	d.main()
	d.seeIn(".notice", "1 document is written and verified, 109.73 EUR.")
	effort(t, "Invoices that we write ourselves written", d.acts-before)
	d.seeIn(".sheet", "SB-INSHO-0002")
	d.accessible()
	again, err := invoices.TrialSelfBill(t.Context(), h.app, invoices.SelfBillEntry{})
	require.NoError(t, err)
	require.Empty(t, again.Made)
	d.click("SB-INSHO-0002")
	d.seeIn(".sheet", "SB-INSHO-0002")
	d.seeIn(".sheet", "109.73")
}
