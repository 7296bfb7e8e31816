package invoices

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/test/browser"
)

// TestClaims: what agrees of an invoice is paid and the rest claimed in two acts, letter included; what comes after all is
// withdrawn, another person gives the rest up, and the credit note for a claim that comes as a file settles it.
func TestClaims(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/")
	held := fmt.Sprintf("/invoices/%d", browser.InvoiceOf(t, h, "BF-20418").Number)
	d.Open(held)
	d.SeeIn(".headline", "Held: 2 differences")
	before := d.Acts
	d.Letter("a")
	d.SeeIn(".ask", "To pay 6,572.50 EUR")
	d.SeeIn(".ask", "Claims on suppliers")
	d.SeeIn(".ask .letter-text", "billed above the agreed price of 61.00")
	d.Main()
	d.SeeIn(".notice", "The claim is made.")
	acts := d.Acts - before
	require.LessOrEqual(t, acts, 3)
	browser.Effort(t, "Pay what agrees, claim the rest, letter included", acts)
	d.Open(held)
	d.SeeIn(".headline", "Verified")
	d.SeeIn(".facts", "88.15 · to pay 6,572.50 EUR")
	d.SeeIn(".sheet", "Claim 2: 88.15 EUR kept back.")
	d.SeeIn(".sheet", "It takes the role approver")
	d.Accessible()
	d.Letter("y")
	d.SeeIn(".side", "claimed")
	d.Open("/payments")
	d.SeeIn(".sheet", "Kept back till a credit note comes")

	// The goods come after all: what was claimed of them is withdrawn, the price stays claimed.
	order := browser.InvoiceOf(t, h, "BF-20418").Order
	_, err := orders.ReopenLines(t.Context(), h.App, browser.Colleague(t, h, "ivo"), orders.ClosingEntry{
		Lines: []orders.LineRef{{Order: order, Line: 2}}, Goods: true, Reason: "they found the rest",
	})
	require.NoError(t, err)
	_, err = receiving.BookDelivery(t.Context(), h.App, browser.Colleague(t, h, "lewis"), receiving.DeliveryEntry{
		Order: order, Entry: receive.Entry{Note: "BF-DN-REST", Day: day.Of(browser.Morning, time.UTC), Place: "Cold store",
			Lines: []receive.Line{{No: 2, Quantity: money.MustDecimal("12.5")}}},
		Before: map[int]money.Decimal{2: money.MustDecimal("237.5")},
	})
	require.NoError(t, err)
	d.Open(held)
	d.SeeIn(".sheet", "12.5 kg Capelin, loose have come: withdraw, or go on claiming.")
	d.Click("Withdraw")
	d.SeeIn(".ask", "What came is billed at its claimed price and is to be paid")
	d.Main()
	d.SeeIn(".notice", "Claim 2 is withdrawn: its goods came.")
	d.SeeIn(".sheet", "Claim 2: 36.90 EUR kept back.")

	ada := browser.Sit(t, h)
	ada.SignIn("ada", held)
	ada.Click("Give up")
	ada.SeeIn(".ask", "36.90 EUR is to be paid after all")
	ada.SeeIn(".ask", "Price variance")
	ada.Refusing(422)
	ada.Main()
	ada.SeeIn(".ask", "Say in a note why it is given up.")
	ada.Keys("they will not hear of it")
	ada.Main()
	ada.SeeIn(".notice", "Claim 2 is given up.")
	ada.SeeIn(".sheet", "Claim 2: settled.")

	claimed := browser.InvoiceOf(t, h, "BF-20194").Number
	d.Open(fmt.Sprintf("/invoices/%d", claimed))
	d.SeeIn(".sheet", "Claim 1: 76.80 EUR kept back.")
	d.Open("/invoices")
	d.See("Take in files")
	d.Give("input[type=file]", "10-claim-credited.xml")
	d.See("BF-C615")
	d.Open(fmt.Sprintf("/invoices/%d", claimed))
	d.SeeIn(".sheet", "Claim 1: settled, 76.80 credited.")
}
