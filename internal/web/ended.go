package web

import (
	"maps"
	"sync"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
)

// endedSessions keeps sessions, and lets none that ended come back: every request writes
// its session again when it answers, also one that was under way while its person signed
// out.
type endedSessions struct {
	*sqlite3store.SQLite3Store
	mu    sync.Mutex
	ended map[string]time.Time // token: when
}

// underWay is longer than any request takes.
const underWay = 10 * time.Minute

func newEndedSessions(s *sqlite3store.SQLite3Store) *endedSessions {
	return &endedSessions{SQLite3Store: s, ended: map[string]time.Time{}}
}

// Delete ends a session.
func (s *endedSessions) Delete(token string) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	now := time.Now()
	maps.DeleteFunc(s.ended, func(_ string, at time.Time) bool { return now.Sub(at) > underWay })
	s.ended[token] = now
	return s.SQLite3Store.Delete(token)
}

// Find reads a session, unless it ended: also where its end could not be written.
func (s *endedSessions) Find(token string) ([]byte, bool, error) {
	s.mu.Lock()
	_, ended := s.ended[token]
	s.mu.Unlock()
	if ended {
		return nil, false, nil
	}
	return s.SQLite3Store.Find(token)
}

// Commit writes a session, unless it ended meanwhile.
func (s *endedSessions) Commit(token string, data []byte, expiry time.Time) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if _, ended := s.ended[token]; ended {
		return nil
	}
	return s.SQLite3Store.Commit(token, data, expiry)
}
