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
	t.Parallel()
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
	d.keys("30.11.2026", kb.Enter, "L. Marr, Feeding", kb.Enter, "Cold store", kb.Enter)
	d.until("document.activeElement.id === 'order-item-0'", "the first line")
	d.until("document.querySelector('#order-item-0')", "lines")
	acts := d.acts
	for i, line := range []struct{ code, quantity string }{{"krill", "90"}, {"BF-CAP", "250"}, {"PREMIX", "12"}, {"SQUID", "60"}, {"KRILL", "10"}} {
		d.until(fmt.Sprintf("document.activeElement.id === 'order-item-%d'", i), "the next line")
		d.keys(line.code, kb.Enter) // two acts
		d.until(
			fmt.Sprintf(
				"document.activeElement.id === 'order-quantity-%d' && (document.querySelector('#order-price-%[1]d').value || document.querySelector('#order-price-%[1]d').placeholder) !== ''",
				i,
			),
			"its quantity, with the price that is agreed or was last",
		)
		d.keys(line.quantity, kb.Enter) // and two
	}
	d.until("document.activeElement.id === 'order-item-5'", "a line more is there")
	require.LessOrEqual(t, d.acts-acts, 5*4)
	effort(t, "Five lines of an order from item codes", d.acts-acts)
	d.until("document.querySelector('.sum')?.innerText.includes('Net ') && document.querySelectorAll('.sheet tbody tr').length === 6", "the total")
	d.accessible()
	require.Equal(t, "FEED", d.value("#order-budget-1"))

	d.fill("#order-budget-2", kb.Backspace)
	d.focus("#order-item-5")
	d.keys("Courier to the quay", kb.Enter, "1", kb.Enter)
	require.Equal(t, "OFFICE", d.value("#order-budget-5"), "what this person ordered for last")
	d.fill("#order-budget-5", kb.Backspace)
	d.main()
	d.see("Line 1 has no budget, so the order cannot be issued.") // what is missing stands first
	d.see("Line 2 needs a price; zero is one.")
	d.fill("#order-budget-0", "feed")
	d.keys(kb.Tab)
	require.Equal(t, "FEED", d.value("#order-budget-0"))
	d.reload()
	d.see("Your draft was kept.")
	require.Equal(t, "KRILL", d.value("#order-item-5"))
	require.Equal(t, "Courier to the quay", d.value("#order-item-1"))
	d.click("Leave out") // the premix
	d.until("document.querySelector('#order-item-0').value !== 'PREMIX'", "the first line is out")
	require.Equal(t, "pieces", d.placeholder("#order-unit-0"), "what is counted in where nothing is said")
	d.fill("#order-unit-0", "HUR")
	d.keys(kb.Tab)
	require.Equal(t, "hours", d.value("#order-unit-0"), "a code becomes its word")
	d.fill("#order-price-0", "18.50")
	d.fill("#order-budget-0", "office")
	d.keys(kb.Enter)
	acts = d.acts
	d.main()
	d.seeIn(".ask", "is exactly what goes out") // it is looked at, and the same key issues and sends it
	d.main()
	d.seeIn(".notice", "is issued to Brackwater Feeds. The mail to")
	effort(t, "An order that is typed is looked at, issued and sent", d.acts-acts)
	d.see("Courier to the quay")
	d.seeIn(".sheet", "hours · OFFICE")
	d.seeIn(".pile .slip.on, .pile [aria-current]", "Brackwater Feeds")
}

// TestALineOfItsOwn: a line says for itself what it is let off, how it is matched and which differences pass; what applies
// otherwise, and where that comes from, stands beside it, also on the order and when it is changed.
func TestALineOfItsOwn(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("ivo")
	d.open("/orders/new")
	d.focus("#order-supplier")
	d.keys("halden", kb.Enter)
	d.until("document.querySelector('#order-item-0')", "lines")
	d.fill("#order-wanted", "30.11.2026")
	d.focus("#order-item-0")
	d.keys("SALT", kb.Enter, "24", kb.Enter)
	d.click("More")
	d.see("over: 5 % is allowed by the company")
	d.see("by the delivery notes that are invoiced, as set for this supplier")
	d.fill("#order-limit-0-delivery-over-percent", "12.5")
	d.see("over: 12.5 % is allowed on this order line")
	d.fill("#order-limit-0-unit_price-over-absolute", "-1")
	d.fill("#order-discount-0", "9000")
	d.main()
	d.see("A limit cannot be below zero.")
	d.see("Line 1: the discount is more than the goods cost.")
	d.fill("#order-limit-0-unit_price-over-absolute", "40")
	d.fill("#order-discount-0", "88")
	d.eval("document.querySelector('#order-level-0').value = 'two_way'; document.querySelector('#order-level-0').dispatchEvent(new Event('change'))")
	d.see("with the order, set on this order line")
	d.seeIn(".sum", "Net 2,600.00") // 24 × 112.00 − 88.00
	d.main()
	d.seeIn(".ask", "is exactly what goes out")
	d.fill("#send-subject", "Salt for the silo")
	d.keys(kb.Escape)
	d.gone(".ask", "is exactly what goes out")
	d.main()
	d.seeIn(".ask", "What you had typed stands here again.")
	require.Equal(t, "Salt for the silo", d.value("#send-subject"))
	d.click("Issue it without sending")
	d.seeIn(".notice", "is issued to Halden Salt Works. Nobody was told of it yet.")
	d.see("− 88.00 discount")
	d.letter("w")
	d.see("Over: 12.5 % is allowed on this order line. Under: 5 % is allowed by the company. Matched with the order, set on this order line.")

	d.letter("e")
	d.until("document.querySelector('#order-quantity-0')?.value === '24'", "the order as it stands")
	d.click("More")
	require.Equal(
		t,
		[]string{"12.5", "40.00", "88.00", "two_way"},
		[]string{
			d.value("#order-limit-0-delivery-over-percent"),
			d.value("#order-limit-0-unit_price-over-absolute"),
			d.value("#order-discount-0"),
			d.value("#order-level-0"),
		},
	)
	d.fill("#order-limit-0-delivery-over-percent", kb.Backspace)
	d.see("over: 5 % is allowed by the company")
	d.main()
	d.until("document.activeElement.id === 'change-reason'", "the reason")
	d.keys("the silo is small", kb.Enter)
	d.seeIn(".notice", "is changed")
	d.until("document.activeElement.closest('.ask')", "the letter to the supplier opens with the focus in it")
	d.letter("w")
	d.see("Over: 5 % is allowed by the company.")
}
