package prove_test

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/housetest"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/prove"
	"lagoon/internal/store"
)

// Backups taken while several people book are each a state between two commits that proves itself, and a restored one
// goes on from there; what was in its place is kept.
func TestBackupUnderLoad(t *testing.T) {
	folder := t.TempDir()
	b := housetest.SetUpIn(t, folder)
	orders := []int64{b.Order("BRACK", "1000"), b.Order("BRACK", "1000"), b.Order("BRACK", "1000")}
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
				_, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, fmt.Sprintf("DN %d-%d", who, n), "1"))
				require.NoError(t, err)
			}
		})
	}
	files := make([]string, 5)
	for i := range files {
		files[i] = filepath.Join(t.TempDir(), "backup.db")
		require.NoError(t, store.Backup(b.Ctx, filepath.Join(folder, "lagoon.db"), files[i], whole))
	}
	close(stop)
	people.Wait()
	require.ErrorContains(t, store.Backup(b.Ctx, filepath.Join(folder, "lagoon.db"), files[0], whole), "there already")
	b.Proved()
	last := int64(0)
	for _, file := range files {
		to := t.TempDir()
		kept, err := store.Restore(file, filepath.Join(to, "lagoon.db"), "unused")
		require.NoError(t, err)
		require.Empty(t, kept)
		copied := housetest.OpenIn(t, to)
		v, err := prove.Books(b.Ctx, copied.App)
		require.NoError(t, err)
		require.Empty(t, v.Differences)
		var head string
		require.NoError(t, b.ByHand().QueryRowContext(b.Ctx, `SELECT hash FROM audit WHERE seq = ?`, v.AuditRows).Scan(&head))
		require.Equal(t, head, v.Head, "a prefix of what was booked")
		require.GreaterOrEqual(t, v.AuditRows, last)
		last = v.AuditRows
		copied.Know("receiver")
		copied.Deliver(orders[0], "DN after", "1")
		require.NoError(t, copied.Store.Close())
	}
	to := t.TempDir()
	other := housetest.SetUpIn(t, to)
	other.Order("TIDEW", "3")
	aside := filepath.Join(to, "aside.db")
	kept, err := store.Restore(files[0], filepath.Join(to, "lagoon.db"), aside)
	require.NoError(t, err)
	require.Equal(t, aside, kept)
	require.FileExists(t, aside)
}

func whole(string) error { return nil }

// A copy has the name of a backup once it is proved. One that is not whole is kept under another; of one that is stopped nothing is.
func TestACopyIsNoBackupBeforeItIsProved(t *testing.T) {
	folder := t.TempDir()
	b := housetest.SetUpIn(t, folder)
	from, to := filepath.Join(folder, "lagoon.db"), filepath.Join(t.TempDir(), "backup.db")
	err := store.Backup(b.Ctx, from, to, func(path string) error {
		require.FileExists(t, path)
		require.NoFileExists(t, to)
		return errors.New("it is not whole")
	})
	require.ErrorContains(t, err, "it is not whole; it is no backup, and kept as "+to+store.Unproved)
	require.NoFileExists(t, to)
	require.FileExists(t, to+store.Unproved)
	require.NoError(t, os.Remove(to+store.Unproved))
	stopped, stop := context.WithCancel(b.Ctx)
	err = store.Backup(stopped, from, to, func(string) error {
		stop()
		return stopped.Err()
	})
	require.ErrorContains(t, err, "stopped before it was proved")
	left, err := filepath.Glob(to + "*")
	require.NoError(t, err)
	require.Empty(t, left)
	require.NoError(t, store.Backup(b.Ctx, from, to, whole))
	require.FileExists(t, to)
}
