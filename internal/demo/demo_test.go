package demo

import (
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/trade"
	"lagoon/internal/prove"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// On whatever day it is started, month ends, 29 February and the days the clocks change included, the demo has a
// morning's work in every state, and its books agree with their documents.
// aMonday is the morning that testdata/verdicts.txt is about.
const aMonday = "2026-11-23T09:30:00Z"

func TestEveryMorning(t *testing.T) {
	for _, morning := range []string{aMonday, "2026-12-31T23:50:00Z", "2028-02-29T08:00:00Z", "2027-03-28T00:30:00Z", "2027-10-31T01:30:00Z"} {
		t.Run(morning, func(t *testing.T) {
			now, err := time.Parse(time.RFC3339, morning)
			require.NoError(t, err)
			folder := t.TempDir()
			s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
			require.NoError(t, err)
			t.Cleanup(func() { require.NoError(t, s.Close()) })
			require.NoError(t, Build(t.Context(), s, now, filepath.Join(folder, "post"), filepath.Join(folder, "bank")))
			app := act.New(s, act.Options{Now: func() time.Time { return now }})
			verified, err := prove.Books(t.Context(), app)
			require.NoError(t, err)
			require.Empty(t, verified.Differences)
			view, err := views.Payments(t.Context(), app)
			require.NoError(t, err)
			require.NotEmpty(t, view.Verified)
			require.NotEmpty(t, view.Released)
			require.Equal(t, store.RunProposed, view.Runs[0].State)
			ada, err := app.ActorByLogin(t.Context(), "ada")
			require.NoError(t, err)
			pile, err := views.Pile(t.Context(), app, ada)
			require.NoError(t, err)
			states := map[trade.InvoiceState]int{}
			for _, i := range slices.Concat(pile.Yours, pile.Others, pile.Moving) {
				states[i.State]++
			}
			require.Equal(t, []int{6, 3}, []int{states[trade.Held], states[trade.Waiting]})
			require.NotEmpty(t, pile.Yours, "an approver has something to decide")
			invoices, err := views.Invoices(t.Context(), app, 0)
			require.NoError(t, err)
			require.True(t, slices.ContainsFunc(invoices, func(i store.InvoiceRow) bool { return i.State == trade.Paid }))
			credited := slices.DeleteFunc(slices.Clone(invoices), func(i store.InvoiceRow) bool { return i.Kind != trade.CreditNote || i.State == trade.Paid })
			require.Len(t, credited, 2, "one for goods, one for a price; an earlier one was taken off a payment")
			for _, c := range credited {
				require.Equal(t, trade.Verified, c.State, c.SupplierNumber)
				require.Negative(t, c.Open)
			}
			if morning == aMonday {
				theYearsVerdicts(t, app)
				theListsAddUp(t, app, day.Of(now, time.UTC))
			}
			files, err := filepath.Glob(filepath.Join(folder, "post", "*.xml"))
			require.NoError(t, err)
			require.Len(t, files, 13)
		})
	}
}
