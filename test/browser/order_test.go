package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// TestEnterAnOrder: a five-line order from item codes in four acts a line, with what was agreed last proposed; what is
// missing is said at its field; the order stands in the pile and can be received.
func TestEnterAnOrder(t *testing.T) {
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("ivo")
	d.open("/orders")
	d.see("Brackwater Feeds")
	d.letter("n")
	d.focus("#order-supplier")
	d.keys("brac")
	d.seeIn("[role=listbox]", "Brackwater Feeds")
	d.keys(kb.Enter)
	d.until("document.activeElement.id === 'order-wanted'", "Enter goes on")
	d.keys("11302026", kb.Enter, "L. Marr, Feeding", kb.Enter, "Cold store", kb.Enter)
	d.until("document.activeElement.id === 'order-item-0'", "the first line")
	d.until("document.querySelector('#order-item-0')", "lines")
	for i, line := range []struct{ code, quantity string }{{"krill", "90"}, {"BF-CAP", "250"}, {"PREMIX", "12"}, {"SQUID", "60"}, {"KRILL", "10"}} {
		d.until(fmt.Sprintf("document.activeElement.id === 'order-item-%d'", i), "the next line")
		d.keys(line.code, kb.Enter) // two acts
		d.until(fmt.Sprintf("document.activeElement.id === 'order-quantity-%d' && document.querySelector('#order-price-%[1]d').value !== ''", i), "its quantity, with the price of the last order")
		d.keys(line.quantity, kb.Enter) // and two
	}
	d.until("document.activeElement.id === 'order-item-5'", "a line more is there")
	d.until("document.querySelector('.sum')?.innerText.includes('Net ') && document.querySelectorAll('.sheet tbody tr').length === 6", "the total")
	d.accessible()
	require.Equal(t, "FEED", d.value("#order-budget-1"))

	d.fill("#order-budget-2", kb.Backspace)
	d.focus("#order-item-5")
	d.keys("Courier to the quay", kb.Enter, "1", kb.Enter)
	d.main()
	d.see("Line 3 has no budget, so the order cannot be issued.")
	d.see("Line 6 needs a unit.")
	d.fill("#order-budget-2", "feed")
	d.keys(kb.Tab)
	require.Equal(t, "FEED", d.value("#order-budget-2"))
	d.reload()
	d.see("Your draft was kept.")
	require.Equal(t, "KRILL", d.value("#order-item-4"))
	require.Equal(t, "Courier to the quay", d.value("#order-item-5"))
	d.click("Leave out") // the first krill
	d.until("document.querySelector('#order-item-0').value !== 'KRILL'", "the first line is out")
	d.fill("#order-unit-4", "C62")
	d.fill("#order-price-4", "18.50")
	d.fill("#order-budget-4", "office")
	d.keys(kb.Enter)
	d.main()
	d.seeIn(".notice", "is issued to Brackwater Feeds")
	d.see("Courier to the quay")
	d.seeIn(".pile .slip.on, .pile [aria-current]", "Brackwater Feeds")
}
