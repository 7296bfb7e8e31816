package browser

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/demo"
	"lagoon/internal/house"
	"lagoon/internal/outside/bank"
	"lagoon/internal/outside/papertext"
	"lagoon/internal/store"
	"lagoon/internal/web"
	"lagoon/ui"
)

// Morning is the moment at which every story plays.
var Morning = time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC)

// Place is a Lagoon of its own for one test, on the demo data.
type Place struct {
	App        *act.App
	Post       string // the folder of files that a person can give
	Wire       *Wire
	Mail       *Carrier
	Background *Background

	at    *address
	store *store.Store
}

// Background is what Lagoon does by itself; it may rest, so that what it is about to do can be seen and stopped.
type Background struct {
	app   *act.App
	ways  *house.Ways
	stop  context.CancelFunc
	ended <-chan struct{}
}

// Work begins it.
func (b *Background) Work() {
	working, stop := context.WithCancel(context.Background())
	b.stop, b.ended = stop, house.StartWorker(working, b.app, house.UsualSweep)
	go b.ways.Run(working)
}

// Rest ends it; what is under way is done first.
func (b *Background) Rest() {
	b.stop()
	<-b.ended
}

// Carrier takes mails and keeps none of them; it may be out of order.
type Carrier struct {
	Broken       atomic.Bool
	Asked, Taken atomic.Int64 // so many mails
}

// Send takes a mail.
func (c *Carrier) Send(context.Context, string, string, string, []byte) error {
	c.Asked.Add(1)
	if c.Broken.Load() {
		return errors.New("the mail server is closed")
	}
	c.Taken.Add(1)
	return nil
}

// Wire is what lies between the browser and the server, and may fail.
type Wire struct {
	Delay atomic.Int64 // how long every answer takes, in nanoseconds
	Loses atomic.Int64 // so many commands are done and their answers lost

	down   atomic.Bool // nothing comes through
	server *httptest.Server
}

// Cut ends every connection and lets none through until mended.
func (w *Wire) Cut() {
	w.down.Store(true)
	w.server.CloseClientConnections()
}

// Mend lets everything through again.
func (w *Wire) Mend() { w.down.Store(false) }

func (w *Wire) through(next http.Handler) http.Handler {
	return http.HandlerFunc(func(to http.ResponseWriter, r *http.Request) {
		if !strings.HasPrefix(r.URL.Path, "/api/") {
			next.ServeHTTP(to, r)
			return
		}
		if w.down.Load() {
			panic(http.ErrAbortHandler)
		}
		time.Sleep(time.Duration(w.Delay.Load()))
		if r.Method == http.MethodPost && w.Loses.Load() > 0 {
			w.Loses.Add(-1)
			next.ServeHTTP(httptest.NewRecorder(), r)
			panic(http.ErrAbortHandler)
		}
		next.ServeHTTP(to, r)
	})
}

var template struct {
	sync.Once
	folder  string
	cookies map[string][]*http.Cookie // of the sessions that everybody has there
	err     error
}

// Open starts a Lagoon on a fresh copy of the demo data, which is built once.
func Open(t testing.TB) Place {
	t.Helper()
	ctx := t.Context()
	template.Do(func() {
		template.folder, template.err = os.MkdirTemp("", "lagoon-demo")
		if template.err != nil {
			return
		}
		var s *store.Store
		if s, template.err = store.OpenUnsynced(ctx, filepath.Join(template.folder, "lagoon.db")); template.err != nil {
			return
		}
		template.err = demo.Build(ctx, s, Morning, filepath.Join(template.folder, "post"), filepath.Join(template.folder, "bank"))
		if template.err == nil {
			template.cookies, template.err = everybodyIn(ctx, template.folder, s)
		}
		template.err = errors.Join(template.err, s.Close())
	})
	require.NoError(t, template.err)
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(folder, os.DirFS(template.folder)))
	return Serve(t, folder, demo.Password)
}

var front = sync.OnceValues(func() (*web.Front, error) {
	files, err := ui.Files()
	if err != nil {
		return nil, err
	}
	return web.NewFront(files)
})

// everybodyIn signs all of the demo's people in: each takes a moment, since a password is made to be slow to try.
func everybodyIn(ctx context.Context, folder string, s *store.Store) (map[string][]*http.Cookie, error) {
	lagoon, err := house.New(ctx, folder, s, house.Options{Jobs: act.Options{Now: func() time.Time { return Morning }}, Web: web.Options{Log: slog.New(slog.DiscardHandler)}})
	if err != nil {
		return nil, err
	}
	server := httptest.NewServer(lagoon.Handler)
	defer server.Close()
	cookies := map[string][]*http.Cookie{}
	for _, login := range demoPeople {
		if cookies[login], err = knock(server.URL, login); err != nil {
			return nil, err
		}
	}
	return cookies, lagoon.Close()
}

// knock signs a demo person in, without a browser.
func knock(url, login string) ([]*http.Cookie, error) {
	body, err := json.Marshal(map[string]string{"login": login, "password": demo.Password})
	if err != nil {
		return nil, err
	}
	response, err := http.Post(url+"/api/session/sign-in", "application/json", bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	if response.StatusCode != http.StatusOK {
		err = errors.New(login + ": " + response.Status)
	}
	return response.Cookies(), errors.Join(err, response.Body.Close())
}

var demoPeople = []string{"nora", "ivo", "ada", "tomas", "lewis", "rhea"}

// Serve starts a Lagoon on a folder of data.
func Serve(t testing.TB, folder, password string) Place {
	t.Helper()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	clock := func() time.Time { return Morning }
	mail := &Carrier{}
	page, err := front()
	require.NoError(t, err)
	closing, close := context.WithCancel(context.Background())
	simulated := demo.Bank(filepath.Join(folder, "bank"), clock)
	lagoon, err := house.New(t.Context(), folder, s, house.Options{
		Jobs: act.Options{Now: clock, Outbox: mail, Bank: simulated, PublicPasswords: true},
		Web: web.Options{
			Front: page, Log: slog.New(slog.DiscardHandler), Demo: password, FoundingCode: FoundingCode, Closing: closing.Done(), Papers: papertext.New(),
			StandIn: bank.OnScreen{Simulated: simulated},
		},
	})
	require.NoError(t, err)
	background := &Background{app: lagoon.App, ways: lagoon.Ways}
	background.Work()
	between := &Wire{}
	at := settle(between.through(noting(lagoon.Handler)))
	between.server = at.server
	t.Cleanup(func() {
		close() // open streams would keep it
		at.leave()
		background.Rest()
		require.NoError(t, lagoon.Close())
		require.NoError(t, s.Close())
	})
	return Place{App: lagoon.App, Post: filepath.Join(folder, "post"), Wire: between, Mail: mail, Background: background, at: at, store: s}
}

// FoundingCode lets the first administrator of an empty Lagoon in.
const FoundingCode = "abcd-efgh"
