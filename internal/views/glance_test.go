package views_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/lists"
	"lagoon/internal/views"
)

// What came in on a day is told by how it stands: in the books with no act of anybody's, after one, waiting, held, ended; each number
// is that of the list that it opens.
func TestADayAtAGlance(t *testing.T) {
	b := housetest.SetUp(t)
	first := b.Order("BRACK", "5")
	b.Deliver(first, "DN 900", "5")
	_, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), act.File{Name: "a.xml", Content: housetest.EInvoice(first, "E-1", 5)}) // nobody touched it
	require.NoError(t, err)
	order := b.Order("BRACK", "20")
	b.Deliver(order, "DN 901", "10")
	b.Key(b.Bill("BRACK", order, "K-1", "4", "12"))         // keyed
	b.Key(b.Bill("BRACK", order, "K-2", "11", "12"))        // waits
	held := b.Key(b.Bill("BRACK", order, "K-3", "1", "19")) // held
	b.Later(1)
	b.Key(b.Bill("BRACK", order, "K-5", "1", "25"))
	_, err = invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: held.Number, Reason: "not ours"}})
	require.NoError(t, err)
	glance, err := views.GlanceAt(b.Ctx, b.App, "")
	require.NoError(t, err)
	require.Len(t, glance.Days, views.DaysAtAGlance)
	yesterday, today := glance.Days[views.DaysAtAGlance-2], glance.Days[views.DaysAtAGlance-1]
	require.Equal(t, views.DayCame{On: b.Today().Add(-1), Alone: 1, Acted: 1, Waiting: 1, Ended: 1}, yesterday)
	require.Equal(t, 4, yesterday.Came())
	require.Equal(t, views.DayCame{On: b.Today(), Held: 1}, today)
	require.Equal(t, []int{1, 1}, []int{glance.Held.Count, glance.Waiting.Count})
	require.Len(t, glance.Loads, 2)
	for show, want := range map[string]int{
		"came:2026-11-23": 4, "came:2026-11-23;untouched": 1, "came:2026-11-23;booked;acted": 1, "came:2026-11-23;waiting": 1, "held": glance.Held.Count,
		"unverified;turn:" + glance.Loads[0].Turn: glance.Loads[0].Count, "stake": glance.StakeCount, "verified": glance.Release.Count,
	} {
		page, err := lists.Read(b.Ctx, b.App, b.Actors["clerk"], lists.Named("invoices"), lists.Asked{Show: show}, 0)
		require.NoError(t, err, show)
		require.Len(t, page.Rows, want, show)
	}
	require.Equal(t, money.Currency("EUR"), glance.Held.Worth[0].Currency)
	_, err = views.GlanceAt(b.Ctx, b.App, "soon")
	require.Error(t, err)
	b.Proved()
}
