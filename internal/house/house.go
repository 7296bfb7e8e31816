// Package house puts a whole Lagoon together: data, jobs, sessions, server and the worker
// that moves what waits.
package house

import (
	"context"
	"database/sql"
	"errors"
	"net/http"
	"path/filepath"

	"lagoon/internal/act"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
	"lagoon/internal/web"
)

// Options are what a house is built with; App, Sessions and Ways of Web are made here.
type Options struct {
	Jobs act.Options
	Web  web.Options
}

// House is a Lagoon that answers.
type House struct {
	App     *act.App
	Ways    *Ways
	Handler http.Handler
	// FoundingCode is what whoever sets Lagoon up needs; empty where somebody has.
	FoundingCode string

	sessions *sql.DB
}

// New builds the house on opened data; the sessions stand in the folder, which no backup needs.
// Where nobody is known yet, it makes a founding code, unless one is given.
func New(ctx context.Context, folder string, data *store.Store, o Options) (*House, error) {
	h := &House{App: act.New(data, o.Jobs)}
	h.Ways = newWays(h.App, folder)
	founded, err := people.Founded(ctx, h.App)
	if err != nil {
		return nil, err
	}
	if !founded && o.Web.FoundingCode == "" {
		o.Web.FoundingCode = people.GivenPassword()
	}
	if !founded {
		h.FoundingCode = o.Web.FoundingCode
	}
	at := "file:" + filepath.Join(folder, "sessions.db") + "?_journal_mode=WAL&_busy_timeout=5000&_synchronous=NORMAL"
	if h.sessions, err = sql.Open("sqlite3", at); err != nil {
		return nil, err
	}
	o.Web.App, o.Web.Sessions, o.Web.Ways = h.App, h.sessions, h.Ways
	if h.Handler, err = web.New(o.Web); err != nil {
		return nil, errors.Join(err, h.Close())
	}
	return h, nil
}

// Close ends the sessions' file; the data are whose they were.
func (h *House) Close() error { return h.sessions.Close() }
