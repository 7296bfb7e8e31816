package browser

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/pay"
	"lagoon/internal/views"
)

// TestCashAhead: what leaves when is drawn and said in a table, each sum opens what is in it, per currency too.
func TestCashAhead(t *testing.T) {
	t.Parallel()
	h := open(t)
	cash, err := views.Cash(t.Context(), h.app)
	require.NoError(t, err)
	require.NotEmpty(t, cash.Offers)
	require.NotEmpty(t, cash.Late)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/payments/cash")
	d.seeIn(".sheet", "received, not invoiced")
	d.seeIn(".sheet", "Discounts on offer")
	require.NotContains(t, d.text(".sheet"), "at the bank", "who may not see the account does not see its balance")
	d.until(`document.querySelector('.sheet canvas').width > 300`, "the bars are drawn")
	d.accessible()
	d.eval(`document.querySelector('.sheet button.cell').click()`) // what is in a run
	at := slices.IndexFunc(cash.Expected, func(e pay.Expected) bool { return e.Certainty == pay.InRun })
	d.seeIn("[aria-label='What is in it']", cash.Expected[at].Supplier)
	d.accessible()
	d.eval(`[...document.querySelectorAll("[aria-label=Currency] button")].at(-1).click()`)
	d.until(`document.querySelector('.sheet thead th').textContent.includes('USD')`, "the table is in dollars")
	d.signIn("tomas")
	d.open("/payments/cash")
	d.seeIn(".bar", "at the bank")
	d.seeIn(".sheet", "At 10 % a year")
}
