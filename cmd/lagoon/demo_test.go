package main

import (
	"bytes"
	"errors"
	"net"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
)

// found makes a Lagoon that a person founded, as serve does.
func found(t *testing.T, folder string) {
	t.Helper()
	require.NoError(t, os.MkdirAll(folder, 0o700))
	s, err := open(t.Context(), place{data: folder})
	require.NoError(t, err)
	_, err = people.Found(t.Context(), act.New(s, act.Options{}), people.Founding{
		Company: store.Company{Name: "Otter Creek Hatchery", Currency: "EUR", Zone: "Europe/Dublin", Country: "IE", Level: trade.ThreeWay},
		First:   people.Entry{Login: "jo", Name: "Jo Barrow", Password: "seven small otters"},
	})
	require.NoError(t, err)
	require.NoError(t, s.Close())
}

// The demo renews only what it made itself: a company that somebody founded, files that
// are not its own, data that cannot be read and data in use stay as they are.
func TestDemoRenewsOnlyItsOwn(t *testing.T) {
	var out, errs bytes.Buffer
	demo := func(folder string) error {
		return run(t.Context(), []string{"demo", "-data", folder, "-listen", "localhost:0"}, &out, &errs)
	}
	founded := filepath.Join(t.TempDir(), "own")
	found(t, founded)
	before, err := os.ReadFile(filepath.Join(founded, "lagoon.db"))
	require.NoError(t, err)
	require.ErrorContains(t, demo(founded), "did not make")
	after, err := os.ReadFile(filepath.Join(founded, "lagoon.db"))
	require.NoError(t, err)
	require.Equal(t, before, after)

	letters := t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(letters, "post"), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(letters, "post", "dear-aunt.txt"), []byte("kept"), 0o600))
	require.ErrorContains(t, demo(letters), "did not make")
	require.FileExists(t, filepath.Join(letters, "post", "dear-aunt.txt"))

	unreadable := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(unreadable, "lagoon.db"), bytes.Repeat([]byte("not a database "), 1000), 0o600))
	require.ErrorContains(t, demo(unreadable), "did not make")
	require.FileExists(t, filepath.Join(unreadable, "lagoon.db"))

	data := demoData(t)
	_, stop := keepDemo(t, data)
	running, err := os.Stat(filepath.Join(data, "lagoon.db"))
	require.NoError(t, err)
	require.ErrorContains(t, demo(data), "another Lagoon works on")
	still, err := os.Stat(filepath.Join(data, "lagoon.db"))
	require.NoError(t, err)
	require.True(t, os.SameFile(running, still))
	stop()
	require.Eventually(t, func() bool { // a reading that was called off may still let go of the file
		_, err := os.Stat(filepath.Join(data, "lagoon.db-wal"))
		return errors.Is(err, os.ErrNotExist)
	}, 10*time.Second, 10*time.Millisecond)
	require.NoError(t, os.Rename(filepath.Join(data, "lagoon.db"), filepath.Join(data, making))) // as if it had stopped half-way
	_, stop = startDemo(t, data)
	stop()
	require.NoFileExists(t, filepath.Join(data, making))
	require.NoError(t, run(t.Context(), []string{"verify", "-data", data}, &out, &errs))
}

// A busy address is said in words, before anything of the data is touched.
func TestABusyAddressIsSaid(t *testing.T) {
	busy, err := net.Listen("tcp", "localhost:0")
	require.NoError(t, err)
	defer busy.Close() //nolint:errcheck // of a test
	folder := filepath.Join(t.TempDir(), "new")
	var out, errs bytes.Buffer
	for _, command := range []string{"serve", "demo"} {
		err := run(t.Context(), []string{command, "-data", folder, "-listen", busy.Addr().String()}, &out, &errs)
		require.ErrorContains(t, err, "something answers on")
		require.NoDirExists(t, folder)
	}
}

// Importing into a folder without data makes none, and says how to begin.
func TestImportMakesNoData(t *testing.T) {
	folder := t.TempDir()
	var out, errs bytes.Buffer
	require.ErrorContains(t, run(t.Context(), []string{"import", "-data", folder, "x.xml"}, &out, &errs), "there is no data in")
	require.NoFileExists(t, filepath.Join(folder, "lagoon.db"))
}
