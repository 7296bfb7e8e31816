package orders

import (
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
	"lagoon/test/browser"
)

// One line of one order is ended from the order itself: what that releases and the reason are asked in one panel.
func TestALineIsEndedFromItsOrder(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	buyer := browser.Sit(t, h)
	buyer.SignIn("ivo", "/")
	order := browser.Ask(t, h, func(tx *store.Tx) (int64, error) { // the last one that nothing came of yet
		rows, err := tx.RecentOrders(0, 20)
		at := slices.IndexFunc(rows, func(o store.OrderRow) bool { return o.Supplier == "Brackwater Feeds" && o.Received == 0 })
		return rows[at].Number, err
	})
	buyer.Open(fmt.Sprintf("/orders/%d", order))
	buyer.Click("End early…")
	buyer.SeeIn(".ask", "are not expected any more, worth")
	buyer.Until("document.activeElement.id === 'end-line'", "the focus is on the reason")
	buyer.Accessible()
	buyer.Keys("Season is over.")
	buyer.Main()
	buyer.SeeIn(".notice", fmt.Sprintf("Line 1 of order %d is ended", order))
	buyer.SeeIn("table", "closed: no more goods")
	lines := browser.Ask(t, h, func(tx *store.Tx) ([]store.OpenLine, error) {
		return tx.OpenLines(store.LineFilter{Order: order, Closed: true})
	})
	require.Equal(t, "Season is over.", lines[0].Reason)
}

// TestEnterAnOrder: a five-line order from item codes in four acts a line, with what was agreed last proposed; what is
// missing is said at its field; the order stands in the pile and can be received.
func TestEnterAnOrder(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("ivo", "/orders")
	d.See("Brackwater Feeds")
	d.Letter("n")
	d.Focus("#order-supplier")
	d.Keys("brac")
	d.SeeIn("[role=listbox]", "Brackwater Feeds")
	d.Keys(kb.Enter)
	d.Until("document.activeElement.id === 'order-wanted'", "Enter goes on")
	d.Keys("30.11.2026", kb.Enter, "L. Marr, Feeding", kb.Enter, "Cold store", kb.Enter)
	d.Until("document.activeElement.id === 'order-item-0'", "the first line")
	d.Until("document.querySelector('#order-item-0')", "lines")
	acts := d.Acts
	for i, line := range []struct{ code, quantity string }{{"krill", "90"}, {"BF-CAP", "250"}, {"PREMIX", "12"}, {"SQUID", "60"}, {"KRILL", "10"}} {
		d.Until(fmt.Sprintf("document.activeElement.id === 'order-item-%d'", i), "the next line")
		d.Keys(line.code, kb.Enter) // two acts
		d.Until(
			fmt.Sprintf(
				"document.activeElement.id === 'order-quantity-%d' && (document.querySelector('#order-price-%[1]d').value || document.querySelector('#order-price-%[1]d').placeholder) !== ''",
				i,
			),
			"its quantity, with the price that is agreed or was last",
		)
		d.Keys(line.quantity, kb.Enter) // and two
	}
	d.Until("document.activeElement.id === 'order-item-5'", "a line more is there")
	require.LessOrEqual(t, d.Acts-acts, 5*4)
	browser.Effort(t, "Five lines of an order from item codes", d.Acts-acts)
	d.Until("document.querySelector('.sum')?.innerText.includes('Net ') && document.querySelectorAll('.sheet tbody tr').length === 6", "the total")
	d.Accessible()
	require.Equal(t, "FEED", d.Value("#order-budget-1"))

	d.Fill("#order-budget-2", kb.Backspace)
	d.Focus("#order-item-5")
	d.Keys("Courier to the quay", kb.Enter, "1", kb.Enter)
	require.Equal(t, "OFFICE", d.Value("#order-budget-5"), "what this person ordered for last")
	d.Fill("#order-budget-5", kb.Backspace)
	d.Main()
	d.See("Line 1 has no budget, so the order cannot be issued.") // what is missing stands first
	d.See("Line 2 needs a price; zero is one.")
	d.Fill("#order-budget-0", "feed")
	d.Keys(kb.Tab)
	require.Equal(t, "FEED", d.Value("#order-budget-0"))
	d.Reload()
	d.See("Your draft was kept.")
	require.Equal(t, "KRILL", d.Value("#order-item-5"))
	require.Equal(t, "Courier to the quay", d.Value("#order-item-1"))
	d.Click("Leave out") // the premix
	d.Until("document.querySelector('#order-item-0').value !== 'PREMIX'", "the first line is out")
	require.Equal(t, "pieces", d.Placeholder("#order-unit-0"), "what is counted in where nothing is said")
	d.Fill("#order-unit-0", "HUR")
	d.Keys(kb.Tab)
	require.Equal(t, "hours", d.Value("#order-unit-0"), "a code becomes its word")
	d.Fill("#order-price-0", "18.50")
	d.Fill("#order-budget-0", "office")
	d.Keys(kb.Enter)
	acts = d.Acts
	d.Main()
	d.SeeIn(".ask", "is exactly what goes out") // it is looked at, and the same key issues and sends it
	d.Main()
	d.SeeIn(".notice", "is issued to Brackwater Feeds. The mail to")
	browser.Effort(t, "An order that is typed is looked at, issued and sent", d.Acts-acts)
	d.See("Courier to the quay")
	d.SeeIn(".sheet", "hours · OFFICE")
	d.SeeIn(".pile .slip.on, .pile [aria-current]", "Brackwater Feeds")
}

// TestALineOfItsOwn: a line says for itself what it is let off, how it is matched and which differences pass; what applies
// otherwise, and where that comes from, stands beside it, also on the order and when it is changed.
func TestALineOfItsOwn(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("ivo", "/orders/new")
	d.Focus("#order-supplier")
	d.Keys("halden", kb.Enter)
	d.Until("document.querySelector('#order-item-0')", "lines")
	d.Fill("#order-wanted", "30.11.2026")
	d.Focus("#order-item-0")
	d.Keys("SALT", kb.Enter, "24", kb.Enter)
	d.Click("More")
	d.See("over: 5 % is allowed by the company")
	d.See("by the delivery notes that are invoiced, as set for this supplier")
	d.Fill("#order-limit-0-delivery-over-percent", "12.5")
	d.See("over: 12.5 % is allowed on this order line")
	d.Fill("#order-limit-0-unit_price-over-absolute", "-1")
	d.Fill("#order-discount-0", "9000")
	d.Main()
	d.See("A limit cannot be below zero.")
	d.See("Line 1: the discount is more than the goods cost.")
	d.Fill("#order-limit-0-unit_price-over-absolute", "40")
	d.Fill("#order-discount-0", "88")
	d.Eval("document.querySelector('#order-level-0').value = 'two_way'; document.querySelector('#order-level-0').dispatchEvent(new Event('change'))")
	d.See("with the order, set on this order line")
	d.SeeIn(".sum", "Net 2,600.00") // 24 × 112.00 − 88.00
	d.Main()
	d.SeeIn(".ask", "is exactly what goes out")
	d.Fill("#send-subject", "Salt for the silo")
	d.Keys(kb.Escape)
	d.Gone(".ask", "is exactly what goes out")
	d.Main()
	d.SeeIn(".ask", "What you had typed stands here again.")
	require.Equal(t, "Salt for the silo", d.Value("#send-subject"))
	d.Click("Issue it without sending")
	d.SeeIn(".notice", "is issued to Halden Salt Works. Nobody was told of it yet.")
	d.See("− 88.00 discount")
	d.Letter("w")
	d.See("Over: 12.5 % is allowed on this order line. Under: 5 % is allowed by the company. Matched with the order, set on this order line.")

	d.Letter("e")
	d.Until("document.querySelector('#order-quantity-0')?.value === '24'", "the order as it stands")
	d.Click("More")
	require.Equal(
		t,
		[]string{"12.5", "40.00", "88.00", "two_way"},
		[]string{
			d.Value("#order-limit-0-delivery-over-percent"),
			d.Value("#order-limit-0-unit_price-over-absolute"),
			d.Value("#order-discount-0"),
			d.Value("#order-level-0"),
		},
	)
	d.Fill("#order-limit-0-delivery-over-percent", kb.Backspace)
	d.See("over: 5 % is allowed by the company")
	d.Main()
	d.Until("document.activeElement.id === 'change-reason'", "the reason")
	d.Keys("the silo is small", kb.Enter)
	d.SeeIn(".notice", "is changed")
	d.Until("document.activeElement.closest('.ask')", "the letter to the supplier opens with the focus in it")
	d.Letter("w")
	d.See("Over: 5 % is allowed by the company.")
}
