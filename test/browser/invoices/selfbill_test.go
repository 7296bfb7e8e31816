package invoices

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/jobs/invoices"
	"lagoon/test/browser"
)

// TestSelectionsOfARunAreKept: what invoices we write of is kept under a name, chosen by it, and kept no longer.
func TestSelectionsOfARunAreKept(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/invoices/self-billing")
	d.Until("[...document.querySelectorAll('#self-kept option')].length === 2", "what is kept")
	d.Pick("#self-kept", "Cold store only")
	d.Until("document.querySelector('#self-place').value === 'Cold store'", "it fills the fields")
	d.Pick("#self-place", "Shop")
	d.Click("Keep this selection")
	d.Fill("#self-name", "For the shop")
	d.Accessible()
	d.Main()
	d.SeeIn(".notice", "kept as “For the shop”")
	d.Until("document.querySelector('#self-kept').value === 'For the shop'", "it is chosen")
	d.Click("Keep it no longer")
	d.SeeIn(".notice", "“For the shop” is kept no longer.")
}

// TestInvoicesThatWeWrite: a buyer agrees it with a supplier, its order lines are marked, and a clerk writes what came in one act.
func TestInvoicesThatWeWrite(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("ivo", "/setup/suppliers/HALDE")
	d.Click("We do…")
	d.Fill("#self-items", "NOSUCH")
	d.Refusing(422)
	d.Main()
	d.SeeIn(".ask", "There is no item")
	d.Fill("#self-statement", "Made out by the buyer")
	d.Fill("#self-items", "SALT")
	d.Main()
	d.SeeIn(".notice", "It is agreed, for what is ordered from now on.")
	d.SeeIn(".sheet", "numbered SB-HALDE-…, of SALT, written when a person says so.")
	d.Click("Change it")
	d.Eval(`{ const f = document.querySelector('#self-every'); f.value = 'week'; f.dispatchEvent(new Event('change', { bubbles: true })) }`)
	d.Main()
	d.SeeIn(".sheet", "written on Fridays, by themselves.")
	d.Accessible()
	d.SignIn("nora", "/invoices")
	d.Click("Invoices that we write")
	d.SeeIn(".sheet", "38.5 kg Sprats, landed fresh")
	d.Accessible()
	before := d.Acts
	d.Main()
	d.SeeIn(".notice", "1 document is written and verified, 109.73 EUR.")
	browser.Effort(t, "Invoices that we write ourselves written", d.Acts-before)
	d.SeeIn(".sheet", "SB-INSHO-0002")
	d.Accessible()
	again, err := invoices.TrialSelfBill(t.Context(), h.App, invoices.SelfBillEntry{})
	require.NoError(t, err)
	require.Empty(t, again.Made)
	d.Click("SB-INSHO-0002")
	d.SeeIn(".sheet", "SB-INSHO-0002")
	d.SeeIn(".sheet", "109.73")
}
