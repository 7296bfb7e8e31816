package web

// This file translates how mails and files come in by themselves.

import (
	"context"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// Ways run what brings mails and files in by itself.
type Ways interface {
	masters.Secrets
	// State tells how a way in does just now.
	State(way string) WayState
	// Inbox is the folder that is watched where it is set.
	Inbox() string
	// Changed has what is set up looked at now.
	Changed()
	// Try goes into a mailbox, takes nothing and marks nothing.
	Try(ctx context.Context, set store.WayIn, secret string) (all, wanted int, err error)
}

// WayState is how a way in does just now.
type WayState struct {
	Named   bool        // when Lagoon was started, as Set says
	Set     store.WayIn // where it was named
	Works   bool
	Looked  time.Time
	Trouble string
}

// GetWaysIn says how mails and files come in.
func (h *handlers) GetWaysIn(ctx context.Context, _ contract.GetWaysInRequestObject) (contract.GetWaysInResponseObject, error) {
	all, err := masters.ReadWaysIn(ctx, h.app)
	answer := contract.GetWaysIn200JSONResponse{Inbox: h.ways.Inbox(), Ways: []contract.WayIn{}}
	for _, w := range all {
		s := h.ways.State(w.Way)
		if s.Named {
			w = s.Set
		}
		way := contract.WayIn{
			Way: w.Way, Live: w.Live, Address: some(w.Address), Login: some(w.Login), Security: some(w.Security), Box: some(w.Box),
			Since: some(string(w.Since)), Token: &w.Token, ReadOnly: &w.ReadOnly, Every: new(int(w.Every / time.Second)),
			SecretKept: new(!s.Named && h.ways.Kept(w)), Named: s.Named, Works: s.Works, Trouble: some(s.Trouble),
		}
		if !s.Looked.IsZero() {
			way.Looked = new(act.Stamp(s.Looked))
		}
		answer.Ways = append(answer.Ways, way)
	}
	return answer, err
}

func wayInEntry(e *contract.WayInEntry) masters.WayInEntry {
	return masters.WayInEntry{Secret: value(e.Secret), WayIn: store.WayIn{
		Way: e.Way, Live: e.Live, Address: value(e.Address), Login: value(e.Login), Security: value(e.Security), Box: value(e.Box),
		Since: day.Day(value(e.Since)), Token: value(e.Token), ReadOnly: value(e.ReadOnly), Every: time.Duration(value(e.Every)) * time.Second,
	}}
}

// SaveWayIn sets a way in up.
func (h *handlers) SaveWayIn(ctx context.Context, r contract.SaveWayInRequestObject) (contract.SaveWayInResponseObject, error) {
	entry := wayInEntry(r.Body)
	r.Body.Secret = nil // what a command was sent with is kept, and this is not
	saved, err := masters.SaveWayIn(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry, h.ways)
	h.ways.Changed()
	return contract.SaveWayIn200JSONResponse{Number: saved.Code}, err
}

// TryMailbox goes into a mailbox as it is typed.
func (h *handlers) TryMailbox(ctx context.Context, r contract.TryMailboxRequestObject) (contract.TryMailboxResponseObject, error) {
	entry := wayInEntry(r.Body)
	entry.Live, entry.Way = true, store.MailByIMAP
	set, err := masters.CheckWayIn(entry, h.ways)
	if err != nil {
		return nil, err
	}
	all, wanted, err := h.ways.Try(ctx, set, entry.Secret)
	return contract.TryMailbox200JSONResponse{All: all, Wanted: wanted}, err
}
