package browser

import (
	"fmt"
	"os"
	"regexp"
	"strconv"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// effort holds a number of acts against what docs/effort.md says of the work.
func effort(t *testing.T, work string, acts int) {
	t.Helper()
	text, err := os.ReadFile("../../docs/effort.md")
	require.NoError(t, err)
	row := regexp.MustCompile(`(?m)^\| ` + regexp.QuoteMeta(work) + ` \|.*\| (\d+) \|$`).FindSubmatch(text)
	require.NotNil(t, row, "docs/effort.md says nothing of %q, which took %d acts", work, acts)
	said, err := strconv.Atoi(string(row[1]))
	require.NoError(t, err)
	require.Equal(t, said, acts, "docs/effort.md, %s", work)
}

// TestEffort counts what the hands do for the work that comes most often.
func TestEffort(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("lewis")
	atTheField := func() {
		d.open("/receiving")
		d.until("document.activeElement.id === 'receive-order' && document.querySelector('.pile .slip')", "the field")
	}

	atTheField()
	order := orderOf(t, h, "DN 5438")
	before := d.acts
	d.keys(fmt.Sprintf("%d DN 9001", order), kb.Enter)
	d.seeIn(".bar", "Book all as ordered")
	d.seeIn(".bar .sum", "Books ")
	d.main()
	d.seeIn(".notice", "is booked")
	complete := d.acts - before
	require.LessOrEqual(t, complete, 3)
	effort(t, "A complete delivery on a known order", complete)

	atTheField()
	feed := ask(t, h, func(tx *store.Tx) (int64, error) {
		lines, err := tx.OpenLines(store.LineFilter{Supplier: "BRACK", Item: "CAPELIN"})
		return lines[0].Order, err
	})
	before = d.acts
	d.keys(fmt.Sprintf("%d DN 9002", feed), kb.Enter)
	d.seeIn(".bar", "Book all as ordered")
	d.until("document.activeElement.id === 'now-1'", "the first quantity")
	d.alt("a")
	d.until("document.querySelector('#now-2').value !== ''", "all as ordered")
	d.keys(kb.Enter)
	d.until("document.activeElement.id === 'now-2'", "the second quantity")
	d.keys("100")
	d.seeIn(".sheet", "rest stays open")
	d.main()
	d.seeIn(".notice", "is booked")
	partial := d.acts - before
	require.LessOrEqual(t, partial, complete+6)
	effort(t, "A delivery of which one line came in part", partial)
}

// TestEffortOfSettling counts what it takes to key a further invoice of an order, to settle its price, and to say what an
// e-invoice is about.
func TestEffortOfSettling(t *testing.T) {
	t.Parallel()
	h := open(t)
	nora, ada := sit(t, h), sit(t, h)
	order := orderOf(t, h, "HS 882") // one tanker is invoiced, the other is here
	nora.signIn("nora")
	nora.open(fmt.Sprintf("/invoices/key?order=%d", order))
	nora.until("document.querySelector('#quantity-0')?.value", "what is here and not invoiced")
	before := nora.acts
	nora.fill("#invoice-number", "77-0300")
	nora.fill("#invoice-date", "23.11.2026")
	nora.fill("#invoice-total", "2,204.16")
	nora.main()
	nora.seeIn(".notice", "agrees and is verified")
	effort(t, "A further invoice of an order that is here", nora.acts-before)

	nora.open("/invoices")
	nora.give("input[type=file]", "4-unknown-order.xml")
	nora.see("4-unknown-order.xml")
	nora.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "OF-3421").Number))
	nora.see("Held: 1 difference")
	before = nora.acts
	nora.letter("1")
	nora.seeIn(".ask", "same item code")
	nora.main()
	nora.seeIn(".notice", "Invoice")
	effort(t, "The order of an e-invoice that names none we know, chosen", nora.acts-before)

	held := invoiceOf(t, h, "BF-20418").Number
	ada.signIn("ada")
	ada.open(fmt.Sprintf("/invoices/%d", held))
	ada.see("Held: 2 differences")
	before = ada.acts
	ada.letter("2")
	ada.until("document.activeElement.matches('.ask input[type=text]')", "the note")
	ada.keys("price of the new catch")
	ada.main()
	ada.seeIn(".notice", "The difference is accepted")
	effort(t, "A price difference accepted", ada.acts-before)
}
