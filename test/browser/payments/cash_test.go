package payments

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/pay"
	"lagoon/internal/views"
	"lagoon/test/browser"
)

// TestCashAhead: what leaves when is drawn and said in a table, each sum opens what is in it, per currency too.
func TestCashAhead(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	cash, err := views.Cash(t.Context(), h.App)
	require.NoError(t, err)
	require.NotEmpty(t, cash.Offers)
	require.NotEmpty(t, cash.Late)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/payments/cash")
	d.SeeIn(".sheet", "received, not invoiced")
	d.SeeIn(".sheet", "Discounts on offer")
	require.NotContains(t, d.Text(".sheet"), "at the bank", "who may not see the account does not see its balance")
	d.Until(`document.querySelector('.sheet canvas').width > 300`, "the bars are drawn")
	d.Accessible()
	d.Eval(`document.querySelector('.sheet button.cell').click()`) // what is in a run
	at := slices.IndexFunc(cash.Expected, func(e pay.Expected) bool { return e.Certainty == pay.InRun })
	d.SeeIn("[aria-label='What is in it']", cash.Expected[at].Supplier)
	d.Accessible()
	d.Eval(`[...document.querySelectorAll("[aria-label=Currency] button")].at(-1).click()`)
	d.Until(`document.querySelector('.sheet thead th').textContent.includes('USD')`, "the table is in dollars")
	d.SignIn("tomas", "/payments/cash")
	d.SeeIn(".bar", "at the bank")
	d.SeeIn(".sheet", "At 10 % a year")
}
