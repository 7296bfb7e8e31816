package store

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// A list that stops says how many rows it leaves out, up to a bound; one that is whole leaves out none.
func TestACutListCountsWhatItLeavesOut(t *testing.T) {
	s := fresh(t)
	const most, beyond = 200, 7
	rates := func() (shown []ExchangeRate, left int64) {
		require.NoError(t, s.Read(t.Context(), func(tx *Tx) (err error) {
			shown, err = tx.Rates()
			left = tx.LeftOut()
			return err
		}))
		return shown, left
	}
	for n := range most + beyond {
		if n == most {
			shown, left := rates()
			require.Len(t, shown, most)
			require.Zero(t, left)
		}
		_, err := s.writer.ExecContext(t.Context(), `INSERT INTO exchange_rate (currency, day, rate) VALUES ('USD', ?, 1)`, day.Day("2026-01-01").Add(n))
		require.NoError(t, err)
	}
	shown, left := rates()
	require.Len(t, shown, most)
	require.Equal(t, int64(beyond), left)
	require.Equal(t, day.Day("2026-01-01").Add(most+beyond-1), shown[0].Day, "the newest stand first")

	_, err := s.writer.ExecContext(
		t.Context(),
		`WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n
			WHERE i < ?) INSERT INTO exchange_rate (currency, day, rate) SELECT 'NOK', 'day ' || i, 1 FROM n`,
		MostCounted,
	)
	require.NoError(t, err)
	_, left = rates()
	require.Equal(t, int64(MostCounted), left, "counted no further")
}

// What follows in a budget is numbered after all of its lines, however many a list shows.
func TestLinesOfABudgetAreNumberedOn(t *testing.T) {
	s := fresh(t)
	_, err := s.writer.ExecContext(t.Context(), `PRAGMA foreign_keys = OFF`)
	require.NoError(t, err)
	_, err = s.writer.ExecContext(t.Context(), `WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1500)
		INSERT INTO budget_line (budget, no, supplier, description, unit, quantity, price, wanted_on, ended)
		SELECT 'FEED', i, 1, '', 'C62', ?, 0, '', 0 FROM n`, money.Int(1))
	require.NoError(t, err)
	require.NoError(t, s.Read(t.Context(), func(tx *Tx) error {
		last, err := tx.LastBudgetLine("FEED")
		require.Equal(t, 1500, last)
		return err
	}))
}
