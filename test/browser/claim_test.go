package browser

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
)

// TestClaims: what agrees of an invoice is paid and the rest claimed in two acts, letter included; what comes after all is
// withdrawn, another person gives the rest up, and the credit note for a claim that comes as a file settles it.
func TestClaims(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	held := fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "BF-20418").Number)
	d.open(held)
	d.seeIn(".headline", "Held: 2 differences")
	before := d.acts
	d.letter("a")
	d.seeIn(".ask", "To pay 6,572.50 EUR")
	d.seeIn(".ask", "Claims on suppliers")
	d.seeIn(".ask .letter-text", "billed above the agreed price of 61.00")
	d.main()
	d.seeIn(".notice", "The claim is made.")
	acts := d.acts - before
	require.LessOrEqual(t, acts, 3)
	effort(t, "Pay what agrees, claim the rest, letter included", acts)
	d.open(held)
	d.seeIn(".headline", "Verified")
	d.seeIn(".facts", "88.15 · to pay 6,572.50 EUR")
	d.seeIn(".sheet", "Claim 2: 88.15 EUR kept back.")
	d.seeIn(".sheet", "It takes the role approver")
	d.accessible()
	d.letter("y")
	d.seeIn(".side", "claimed")
	d.open("/payments")
	d.seeIn(".sheet", "Kept back till a credit note comes")

	// The goods come after all: what was claimed of them is withdrawn, the price stays claimed.
	order := invoiceOf(t, h, "BF-20418").Order
	_, err := orders.ReopenLines(t.Context(), h.app, colleague(t, h, "ivo"), orders.ClosingEntry{
		Lines: []orders.LineRef{{Order: order, Line: 2}}, Goods: true, Reason: "they found the rest",
	})
	require.NoError(t, err)
	_, err = receiving.BookDelivery(t.Context(), h.app, colleague(t, h, "lewis"), receiving.DeliveryEntry{
		Order: order, Entry: receive.Entry{Note: "BF-DN-REST", Day: day.Of(morning, time.UTC), Place: "Cold store",
			Lines: []receive.Line{{No: 2, Quantity: money.MustDecimal("12.5")}}},
		Before: map[int]money.Decimal{2: money.MustDecimal("237.5")},
	})
	require.NoError(t, err)
	d.open(held)
	d.seeIn(".sheet", "12.5 kg Capelin, loose have come: withdraw, or go on claiming.")
	d.click("Withdraw")
	d.seeIn(".ask", "What came is billed at its claimed price and is to be paid")
	d.main()
	d.seeIn(".notice", "Claim 2 is withdrawn: its goods came.")
	d.seeIn(".sheet", "Claim 2: 36.90 EUR kept back.")

	ada := sit(t, h)
	ada.signIn("ada")
	ada.open(held)
	ada.click("Give up")
	ada.seeIn(".ask", "36.90 EUR is to be paid after all")
	ada.seeIn(".ask", "Price variance")
	ada.refusing(422)
	ada.main()
	ada.seeIn(".ask", "Say in a note why it is given up.")
	ada.keys("they will not hear of it")
	ada.main()
	ada.seeIn(".notice", "Claim 2 is given up.")
	ada.seeIn(".sheet", "Claim 2: settled.")

	claimed := invoiceOf(t, h, "BF-20194").Number
	d.open(fmt.Sprintf("/invoices/%d", claimed))
	d.seeIn(".sheet", "Claim 1: 76.80 EUR kept back.")
	d.open("/invoices")
	d.see("Take in files")
	d.give("input[type=file]", "10-claim-credited.xml")
	d.see("BF-C615")
	d.open(fmt.Sprintf("/invoices/%d", claimed))
	d.seeIn(".sheet", "Claim 1: settled, 76.80 credited.")
}
