package house

// This file runs what brings mails and files in by itself: the ways that are named when Lagoon starts, and those of Set up,
// which it begins, ends and begins anew as they are changed.

import (
	"context"
	"encoding/json"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/eml"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/outside/mailbox"
	"lagoon/internal/store"
	"lagoon/internal/web"
)

// Ways are what brings mails and files in by itself.
type Ways struct {
	app    *act.App
	folder string // of the data
	mails  Mails

	mu      sync.Mutex
	secret  sync.Mutex
	named   map[string]store.WayIn // when Lagoon was started: Set up does not change them
	running map[string]*runningWay
	changed chan struct{}
}

// runningWay is a way in that works, or tries to.
type runningWay struct {
	set   store.WayIn
	stop  context.CancelFunc // nil where it could not be begun
	ended chan struct{}

	mu      sync.Mutex
	looked  time.Time
	trouble string
}

// went keeps how it went just now.
func (r *runningWay) went(at time.Time, trouble string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.looked, r.trouble = at, trouble
}

func newWays(a *act.App, folder string) *Ways {
	return &Ways{
		app: a, folder: folder, mails: MailsOf(a),
		named: map[string]store.WayIn{}, running: map[string]*runningWay{}, changed: make(chan struct{}, 1),
	}
}

// usualLook is how often it is looked whether Set up says something else: what another process changed is seen as well.
const usualLook = 2 * time.Second

// Name starts a way in as the command line names it, until the context ends; the folder is its address, and the secret is the one
// given. What cannot be started is an error. Where it answers is given for mails that are received.
func (w *Ways) Name(ctx context.Context, set store.WayIn, secret string) (at string, err error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.named[set.Way] = set
	return w.begin(ctx, set, secret)
}

// Run runs the ways of Set up until the context ends.
func (w *Ways) Run(ctx context.Context) {
	look := time.NewTicker(usualLook)
	defer look.Stop()
	for {
		if err := w.asSet(ctx); err != nil && ctx.Err() == nil {
			w.app.Log.Error("the ways in cannot be read", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-look.C:
		case <-w.changed:
		}
	}
}

// asSet ends what is set otherwise now, and begins what is to run and does not.
func (w *Ways) asSet(ctx context.Context) error {
	all, err := masters.ReadWaysIn(ctx, w.app)
	if err != nil {
		return err
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	for _, set := range all {
		if _, named := w.named[set.Way]; named {
			continue
		}
		now := w.running[set.Way]
		if now != nil && now.set == set && now.stop != nil {
			continue
		}
		if now != nil && now.stop != nil {
			now.stop()
			<-now.ended
		}
		if !set.Live {
			delete(w.running, set.Way)
			continue
		}
		if _, err := w.begin(ctx, set, w.secretFor(set)); err != nil {
			w.running[set.Way] = &runningWay{set: set, trouble: said(err), looked: w.app.Now()} // it is tried again
		}
	}
	return nil
}

// said is what went wrong as a sentence.
func said(err error) string {
	var no *fault.Fault
	if errors.As(err, &no) {
		return no.Sentence
	}
	return strings.TrimSuffix(err.Error(), ".") + "."
}

// begin starts a way in. The caller holds the lock.
func (w *Ways) begin(ctx context.Context, set store.WayIn, secret string) (at string, err error) {
	ctx, stop := context.WithCancel(ctx)
	r := &runningWay{set: set, stop: stop, ended: make(chan struct{})}
	told := func(err error) {
		if err != nil {
			r.went(w.app.Now(), said(err))
		} else {
			r.went(w.app.Now(), "")
		}
	}
	watched := func(watch func(context.Context)) {
		go func() {
			defer close(r.ended)
			watch(ctx)
		}()
	}
	switch set.Way {
	case store.MailByFolder:
		folder := set.Address
		if folder == "" {
			folder = w.Inbox()
			if err := os.MkdirAll(folder, 0o700); err != nil {
				stop()
				return "", err
			}
		}
		watched((&mailbox.Folder{Path: folder, Most: eml.MostBytes, Take: w.mails.TakeFile, Log: w.app.Log, Told: told}).Watch)
	case store.MailBySMTP:
		receiver := mailbox.Receiver{Address: set.Address, Mails: w.mails, Way: store.MailBySMTP, Log: w.app.Log}
		answers, err := receiver.Listen(ctx)
		if err != nil {
			stop()
			return "", err
		}
		at, r.looked = answers.String(), w.app.Now()
		watched(func(ctx context.Context) { <-ctx.Done() })
	case store.MailByIMAP:
		box, err := w.box(set, secret)
		if err != nil {
			stop()
			return "", err
		}
		box.Told = told
		watched(box.Watch)
	}
	w.running[set.Way] = r
	return at, nil
}

// box is the mailbox as it is set.
func (w *Ways) box(set store.WayIn, secret string) (*mailbox.IMAP, error) {
	box := &mailbox.IMAP{
		Address: set.Address, Security: set.Security, User: set.Login, Secret: secret, Token: set.Token,
		Box: set.Box, ReadOnly: set.ReadOnly, Every: set.Every, Mails: w.mails, Way: store.MailByIMAP, Log: w.app.Log,
	}
	if secret == "" {
		return nil, fault.New(fault.Refused, "secret", "No password of this mailbox is kept. Enter it.")
	}
	if set.Since != "" {
		since, err := time.Parse(time.DateOnly, string(set.Since))
		if err != nil {
			return nil, fault.New(fault.Invalid, "since", "%s is no day; it looks like 2026-11-01.", string(set.Since))
		}
		box.Since = since
	}
	return box, nil
}

// longestTry is how long trying a mailbox takes at most.
const longestTry = 30 * time.Second

// Try goes into a mailbox as it is set up, takes nothing and marks nothing: how many mails it holds, and how many would be read.
func (w *Ways) Try(ctx context.Context, set store.WayIn, secret string) (all, wanted int, err error) {
	if secret == "" {
		secret = w.secretFor(set)
	}
	box, err := w.box(set, secret)
	if err != nil {
		return 0, 0, err
	}
	ctx, stop := context.WithTimeout(ctx, longestTry)
	defer stop()
	return box.Look(ctx)
}

// Inbox is the folder of the data that is watched where Set up says so.
func (w *Ways) Inbox() string { return filepath.Join(w.folder, "inbox") }

// State tells how a way in does just now.
func (w *Ways) State(way string) web.WayState {
	w.mu.Lock()
	defer w.mu.Unlock()
	set, named := w.named[way]
	s := web.WayState{Named: named, Set: set}
	if r := w.running[way]; r != nil {
		r.mu.Lock()
		defer r.mu.Unlock()
		s.Works, s.Looked, s.Trouble = r.stop != nil, r.looked, r.trouble
	}
	return s
}

// Changed has what Set up says looked at now.
func (w *Ways) Changed() {
	select {
	case w.changed <- struct{}{}:
	default: // it is on its way
	}
}

// keptSecret is the secret of a mailbox as it is kept, with the mailbox that it was typed for: it goes to no other.
type keptSecret struct{ Address, Login, Secret string }

func (w *Ways) secretFile() string { return filepath.Join(w.folder, "mailbox.secret") }

func (w *Ways) secretFor(set store.WayIn) string {
	w.secret.Lock()
	defer w.secret.Unlock()
	content, err := os.ReadFile(w.secretFile())
	var kept keptSecret
	if err == nil {
		err = json.Unmarshal(content, &kept)
	}
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		w.app.Log.Error("the mailbox's password cannot be read", "error", err)
	}
	if err != nil || kept.Address != set.Address || kept.Login != set.Login {
		return ""
	}
	return kept.Secret
}

// Kept tells whether there is a secret that was typed for just this mailbox.
func (w *Ways) Kept(set store.WayIn) bool { return w.secretFor(set) != "" }

// Keep keeps a secret for this mailbox, in place of any other, and has the mailbox read with it.
func (w *Ways) Keep(set store.WayIn, secret string) error {
	content, err := json.Marshal(keptSecret{set.Address, set.Login, secret})
	if err != nil {
		return err
	}
	w.secret.Lock()
	making := w.secretFile() + ".making"
	if err = os.WriteFile(making, content, 0o600); err == nil {
		err = os.Rename(making, w.secretFile())
	}
	w.secret.Unlock()
	if err != nil {
		return err
	}
	w.mu.Lock()
	if r := w.running[set.Way]; r != nil && w.named[set.Way] == (store.WayIn{}) {
		r.set = store.WayIn{} // begun anew with it
	}
	w.mu.Unlock()
	return nil
}
