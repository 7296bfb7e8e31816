package house_test

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/demo"
	"lagoon/internal/house"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/web"
	"lagoon/ui"
)

// wired is a house on the bench's books, whose ways in run.
func wired(t *testing.T, b *housetest.Bench) (*house.Ways, string) {
	t.Helper()
	folder := t.TempDir()
	files, err := ui.Files()
	require.NoError(t, err)
	front, err := web.NewFront(files)
	require.NoError(t, err)
	h, err := house.New(b.Ctx, folder, b.Store, house.Options{
		Jobs: act.Options{Log: slog.New(slog.DiscardHandler)}, Web: web.Options{Front: front, Log: slog.New(slog.DiscardHandler), FoundingCode: "code"},
	})
	require.NoError(t, err)
	ctx, stop := context.WithCancel(b.Ctx)
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		h.Ways.Run(ctx)
	}()
	t.Cleanup(func() {
		stop()
		<-ended
		require.NoError(t, h.Close())
	})
	return h.Ways, folder
}

func (w waysBench) save(e masters.WayInEntry) {
	w.b.T.Helper()
	require.NoError(w.b.T, housetest.Drop(masters.SaveWayIn(w.b.Ctx, w.b.App, w.b.As("admin"), e, w.ways)))
	w.ways.Changed()
}

type waysBench struct {
	b    *housetest.Bench
	ways *house.Ways
}

func (w waysBench) until(what string, is func() bool) {
	w.b.T.Helper()
	require.Eventually(w.b.T, is, 20*time.Second, 20*time.Millisecond, what)
}

// taken are the mails that are here.
func (w waysBench) taken() int {
	n := 0
	require.NoError(w.b.T, w.b.ByHand().QueryRowContext(w.b.Ctx, `SELECT count(*) FROM mail`).Scan(&n))
	return n
}

func letter(id string) []byte {
	return fmt.Appendf(nil, "From: a@brack.example\r\nTo: us@test.example\r\nSubject: %s\r\nMessage-Id: <%s@brack.example>\r\nDate: Mon, 23 Nov 2026 08:00:00 +0000\r\n\r\nGood morning.\r\n", id, id)
}

// What Set up says is begun, begun anew when it is changed, and ended, without a new start of Lagoon.
func TestWaysInAreBegunAndEndedAsTheyAreSet(t *testing.T) {
	b := housetest.SetUp(t)
	ways, folder := wired(t, b)
	w := waysBench{b, ways}
	state := func(way string) web.WayState { return ways.State(way) }
	require.Equal(t, web.WayState{}, state(store.MailByFolder), "all are off at first")

	w.save(masters.WayInEntry{WayIn: store.WayIn{Way: store.MailByFolder, Live: true}})
	w.until("the folder is looked into", func() bool { return !state(store.MailByFolder).Looked.IsZero() })
	require.NoError(t, os.WriteFile(filepath.Join(ways.Inbox(), "one.eml"), letter("one"), 0o600))
	w.until("a mail in it is taken", func() bool { return w.taken() == 1 })
	w.save(masters.WayInEntry{WayIn: store.WayIn{Way: store.MailByFolder}})
	w.until("it is off", func() bool { return !state(store.MailByFolder).Works })

	held, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	w.save(masters.WayInEntry{WayIn: store.WayIn{Way: store.MailBySMTP, Live: true, Address: held.Addr().String()}})
	w.until("the port is taken", func() bool { return state(store.MailBySMTP).Trouble != "" })
	require.False(t, state(store.MailBySMTP).Works)
	require.NoError(t, held.Close())
	w.until("it is begun once the port is free", func() bool { return state(store.MailBySMTP).Works })
	require.Empty(t, state(store.MailBySMTP).Trouble)

	box := filepath.Join(t.TempDir(), "box")
	require.NoError(t, os.MkdirAll(box, 0o700))
	for _, id := range []string{"two", "three"} {
		require.NoError(t, os.WriteFile(filepath.Join(box, id+".eml"), letter(id), 0o600))
	}
	at, err := demo.Mailbox(t.Context(), box)
	require.NoError(t, err)
	entry := masters.WayInEntry{Secret: "wrong", WayIn: store.WayIn{Way: store.MailByIMAP, Live: true, Address: at, Login: demo.MailboxUser, Security: "none"}}
	w.save(entry)
	w.until("the password is wrong", func() bool { return state(store.MailByIMAP).Trouble != "" })
	require.Contains(t, state(store.MailByIMAP).Trouble, "does not take this user and password")
	set, err := masters.CheckWayIn(entry, ways)
	require.NoError(t, err)
	all, wanted, err := ways.Try(t.Context(), set, demo.MailboxSecret)
	require.NoError(t, err)
	require.Equal(t, []int{2, 2}, []int{all, wanted})
	require.Equal(t, 1, w.taken(), "trying takes nothing in")
	_, _, err = ways.Try(t.Context(), set, "")
	require.ErrorContains(t, err, "does not take this user and password", "the one that is kept")

	entry.Secret = demo.MailboxSecret // nothing but the password is another one
	w.save(entry)
	w.until("both mails are taken", func() bool { return w.taken() == 3 })
	w.until("and nothing is wrong", func() bool { return state(store.MailByIMAP).Trouble == "" })
	info, err := os.Stat(filepath.Join(folder, "mailbox.secret"))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	entry.Secret, entry.Address = "", "localhost"+at[len("127.0.0.1"):]
	require.False(t, ways.Kept(entry.WayIn), "the secret goes to no other server, however it is called")
	b.Proved()
}

// What was named when Lagoon was started is not changed by Set up.
func TestWhatWasNamedAtTheStartStays(t *testing.T) {
	b := housetest.SetUp(t)
	ways, _ := wired(t, b)
	w, inbox := waysBench{b, ways}, t.TempDir()
	_, err := ways.Name(b.Ctx, store.WayIn{Way: store.MailByFolder, Live: true, Address: inbox}, "")
	require.NoError(t, err)
	w.save(masters.WayInEntry{WayIn: store.WayIn{Way: store.MailByFolder}})
	require.NoError(t, os.WriteFile(filepath.Join(inbox, "one.eml"), letter("one"), 0o600))
	w.until("it is taken", func() bool { return w.taken() == 1 })
	s := ways.State(store.MailByFolder)
	require.True(t, s.Named && s.Works)
	require.Equal(t, inbox, s.Set.Address)
	_, err = ways.Name(b.Ctx, store.WayIn{Way: store.MailByIMAP, Live: true, Address: "mail.example:993"}, "")
	require.ErrorContains(t, err, "Enter it", "without a secret nothing is begun")
}
