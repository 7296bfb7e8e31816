package browser

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// TestWhoInvoicesInASuppliersPlace: one names it on the supplier's sheet, somebody else confirms it.
func TestWhoInvoicesInASuppliersPlace(t *testing.T) {
	t.Parallel()
	h := open(t)
	nora, rhea := sit(t, h), sit(t, h)
	nora.refusing(422)
	nora.signIn("nora")
	nora.open("/setup/suppliers/BRACK")
	nora.see("Nobody: another supplier’s invoice finds no order here.")
	nora.click("Name one")
	nora.main()
	nora.see("Choose the invoicer.")
	nora.fill("#invoicer", "tidew\r")
	nora.accessible()
	nora.main()
	nora.seeIn(".notice", "TIDEW is named; somebody else confirms it.")
	nora.seeIn(".sheet", "not confirmed yet")
	nora.gone("button", "Confirm")

	rhea.signIn("rhea")
	rhea.open("/setup/suppliers/BRACK")
	rhea.click("Confirm")
	rhea.seeIn(".notice", "TIDEW may invoice in the place of Brackwater Feeds")
	rhea.gone(".outside-text", "not confirmed yet")
	rhea.accessible()
	named := ask(t, h, func(tx *store.Tx) ([]store.Invoicer, error) {
		s, err := tx.SupplierByCode("BRACK")
		if err != nil {
			return nil, err
		}
		return tx.InvoicersOf(s.ID)
	})
	require.Len(t, named, 1)
	require.NotZero(t, named[0].Confirmed)
	nora.eval(`document.querySelector('[aria-label="End Tidewell Pumps"]').click()`)
	nora.seeIn(".notice", "TIDEW may invoice here no more.")
}
