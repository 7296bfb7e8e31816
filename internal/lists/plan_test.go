package lists_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lagoon/internal/housetest"
	"lagoon/internal/lists"
)

// Words that may look through all rows: what they mean is what most rows are, or stands in no column.
var scans = map[string]bool{
	"deliveries uninvoiced": true, "invoices untouched": true, "invoices number": true, "payments settled": true, "tax earlier": true,
}

// No list sorts all of its rows for its own order, and every word but a few finds its rows by an index where they are few.
func TestWordsAreFoundByIndexes(t *testing.T) {
	b := housetest.SetUp(t)
	b.Group("Feed", "BRACK", "Animal feed", "KRILL")
	seen := 0
	for _, part := range lists.All {
		for _, l := range part.Lists {
			if l.Report || l == lists.Named("waiting") { // worked out whole, or of what waits alone
				continue
			}
			_, own, err := lists.Plan(b.Ctx, b.App, b.Actors["clerk"], l, lists.Asked{Show: lists.NoWords})
			require.NoError(t, err)
			sorts := 0
			if l.ID != "" { // a page that is chosen is put in order
				sorts = 1
			}
			require.LessOrEqual(t, strings.Count(strings.Join(own, "\n"), "TEMP B-TREE FOR"), sorts, l.Key)
			for _, w := range l.Words {
				assert.Equal(t, scans[l.Key+" "+w.Key], w.Scans, "%s %s", l.Key, w.Key)
				if w.Scans {
					continue
				}
				seen++
				finds, reads, err := lists.Plan(b.Ctx, b.App, b.Actors["clerk"], l, lists.Asked{Show: w.Key + valueOf(w)})
				require.NoError(t, err)
				for _, step := range append(finds, reads...) {
					if step, scans := strings.CutPrefix(step, "SCAN "); scans {
						short := slices.Contains([]string{"used", "sg", "c", "company", "x", "CONSTANT ROW", "2-ITEM CONSTANT ROW"}, step) || partial(step) ||
							l.Key+w.Key == "invoicesacted" && step == "q" // each row that is read is one that was touched
						assert.True(t, short, "%s %s: %s\n%s\n\n%s", l.Key, w.Key, step, strings.Join(finds, "\n"), strings.Join(reads, "\n"))
					}
				}
			}
		}
	}
	require.Greater(t, seen, 80)
}

// partial tells a walk along an index that holds few of all rows.
func partial(step string) bool {
	for _, index := range []string{
		"invoice_revision_credit", "invoice_revision_later", "invoice_keyed", "order_state_closed", "order_line_uninvoiced", "order_expected", "allocation_back",
		"payment_item_discounted", "receipt_line_refused", "order_line_work", "payment_in_transit", "order_line_beyond", "invoice_prepayment_invoice", "invoice_approval_revision", "claim_invoice", "invoice_state_order", "payment_rejected",
	} {
		if strings.HasSuffix(step, "INDEX "+index) {
			return true
		}
	}
	return false
}
