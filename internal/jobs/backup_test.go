package jobs

import (
	"fmt"
	"path/filepath"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// Backups taken while several people book are each a state between two commits that proves itself, and a restored one
// goes on from there; what was in its place is kept.
func TestBackupUnderLoad(t *testing.T) {
	folder := t.TempDir()
	b := setUpIn(t, folder)
	orders := []int64{b.order("BRACK", "1000"), b.order("BRACK", "1000"), b.order("BRACK", "1000")}
	stop := make(chan struct{})
	var people sync.WaitGroup
	for who, order := range orders {
		people.Go(func() {
			for n := 0; ; n++ {
				select {
				case <-stop:
					return
				default:
				}
				_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, fmt.Sprintf("DN %d-%d", who, n), "1"))
				require.NoError(t, err)
			}
		})
	}
	files := make([]string, 5)
	for i := range files {
		files[i] = filepath.Join(t.TempDir(), "backup.db")
		require.NoError(t, store.Backup(b.ctx, filepath.Join(folder, "lagoon.db"), files[i]))
	}
	close(stop)
	people.Wait()
	require.ErrorContains(t, store.Backup(b.ctx, filepath.Join(folder, "lagoon.db"), files[0]), "there already")
	b.proved()
	last := int64(0)
	for _, file := range files {
		to := t.TempDir()
		kept, err := store.Restore(file, filepath.Join(to, "lagoon.db"), "unused")
		require.NoError(t, err)
		require.Empty(t, kept)
		copied := openIn(t, to)
		v, err := copied.app.Verify(b.ctx)
		require.NoError(t, err)
		require.Empty(t, v.Differences)
		var head string
		require.NoError(t, b.store.QueryRow(b.ctx, `SELECT hash FROM audit WHERE seq = ?`, v.AuditRows).Scan(&head))
		require.Equal(t, head, v.Head, "a prefix of what was booked")
		require.GreaterOrEqual(t, v.AuditRows, last)
		last = v.AuditRows
		copied.know("receiver")
		copied.deliver(orders[0], "DN after", "1")
		require.NoError(t, copied.store.Close())
	}
	to := t.TempDir()
	other := setUpIn(t, to)
	other.order("TIDEW", "3")
	aside := filepath.Join(to, "aside.db")
	kept, err := store.Restore(files[0], filepath.Join(to, "lagoon.db"), aside)
	require.NoError(t, err)
	require.Equal(t, aside, kept)
	require.FileExists(t, aside)
}
