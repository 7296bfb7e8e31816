package act

// This file tells whoever listens what changed, after it is committed.

import (
	"sync"
)

// Change says what kind of thing changed and its number, nothing of it: whoever hears
// of it asks again. Nothing may depend on hearing of it.
type Change struct {
	What   string `json:"what"` // as in the audit record; empty is anything
	Number string `json:"number"`
}

// mostChanges is how many changes wait for a listener before they become "anything".
const mostChanges = 200

// Listener hears of changes after they are committed.
type Listener struct {
	app     *App
	mu      sync.Mutex
	changes []Change
	news    chan struct{}
}

// listeners are all who hear of changes.
type listeners struct {
	mu  sync.Mutex
	all map[*Listener]struct{}
}

// Listen begins to hear of changes; Close ends it.
func (a *App) Listen() *Listener {
	l := &Listener{app: a, news: make(chan struct{}, 1)}
	a.listeners.mu.Lock()
	defer a.listeners.mu.Unlock()
	if a.listeners.all == nil {
		a.listeners.all = map[*Listener]struct{}{}
	}
	a.listeners.all[l] = struct{}{}
	return l
}

// Close ends to hear of changes.
func (l *Listener) Close() {
	l.app.listeners.mu.Lock()
	defer l.app.listeners.mu.Unlock()
	delete(l.app.listeners.all, l)
}

// News has something in it when there are changes to take.
func (l *Listener) News() <-chan struct{} { return l.news }

// Take gives the changes since the last time.
func (l *Listener) Take() []Change {
	l.mu.Lock()
	defer l.mu.Unlock()
	changes := l.changes
	l.changes = nil
	return changes
}

// Publish tells everybody who listens; it never waits for one of them.
func (a *App) Publish(changes []Change) {
	if len(changes) == 0 {
		return
	}
	a.listeners.mu.Lock()
	defer a.listeners.mu.Unlock()
	for l := range a.listeners.all {
		l.mu.Lock()
		if l.changes = append(l.changes, changes...); len(l.changes) > mostChanges {
			l.changes = []Change{{}}
		}
		l.mu.Unlock()
		select {
		case l.news <- struct{}{}:
		default:
		}
	}
}
