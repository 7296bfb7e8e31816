package setup

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestWhoInvoicesInASuppliersPlace: one names it on the supplier's sheet, somebody else confirms it.
func TestWhoInvoicesInASuppliersPlace(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	nora, rhea := browser.Sit(t, h), browser.Sit(t, h)
	nora.Refusing(422)
	nora.SignIn("nora", "/setup/suppliers/BRACK")
	nora.See("Nobody: another supplier’s invoice finds no order here.")
	nora.Click("Name one")
	nora.Main()
	nora.See("Choose the invoicer.")
	nora.Fill("#invoicer", "tidew\r")
	nora.Accessible()
	nora.Main()
	nora.SeeIn(".notice", "TIDEW is named; somebody else confirms it.")
	nora.SeeIn(".sheet", "not confirmed yet")
	nora.Gone("button", "Confirm")

	rhea.SignIn("rhea", "/setup/suppliers/BRACK")
	rhea.Click("Confirm")
	rhea.SeeIn(".notice", "TIDEW may invoice in the place of Brackwater Feeds")
	rhea.Gone(".outside-text", "not confirmed yet")
	rhea.Accessible()
	named := browser.Ask(t, h, func(tx *store.Tx) ([]store.Invoicer, error) {
		s, err := tx.SupplierByCode("BRACK")
		if err != nil {
			return nil, err
		}
		return tx.InvoicersOf(s.ID)
	})
	require.Len(t, named, 1)
	require.NotZero(t, named[0].Confirmed)
	nora.Eval(`document.querySelector('[aria-label="End Tidewell Pumps"]').click()`)
	nora.SeeIn(".notice", "TIDEW may invoice here no more.")
}
