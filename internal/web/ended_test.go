package web

import (
	"database/sql"
	"io"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"testing"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	"github.com/stretchr/testify/require"
)

// A request that is under way while its person signs out does not bring the session back.
func TestASessionThatEndedStaysEnded(t *testing.T) {
	db, err := sql.Open("sqlite3", "file:"+filepath.Join(t.TempDir(), "sessions.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, db.Close()) })
	_, err = db.Exec(`CREATE TABLE sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL)`)
	require.NoError(t, err)
	sessions := scs.New()
	store := newEndedSessions(sqlite3store.NewWithCleanupInterval(db, 0))
	sessions.Store, sessions.IdleTimeout = store, time.Hour
	begun, goOn := make(chan struct{}), make(chan struct{})
	doors := http.NewServeMux()
	doors.HandleFunc("/in", func(_ http.ResponseWriter, r *http.Request) { sessions.Put(r.Context(), "person", 1) })
	doors.HandleFunc("/out", func(w http.ResponseWriter, r *http.Request) {
		if err := sessions.Destroy(r.Context()); err != nil {
			w.WriteHeader(http.StatusInternalServerError)
		}
	})
	doors.HandleFunc("/slow", func(http.ResponseWriter, *http.Request) {
		close(begun)
		<-goOn
	})
	doors.HandleFunc("/who", func(w http.ResponseWriter, r *http.Request) {
		if sessions.GetInt(r.Context(), "person") == 0 {
			w.WriteHeader(http.StatusUnauthorized)
		}
	})
	server := httptest.NewServer(sessions.LoadAndSave(doors))
	t.Cleanup(server.Close)
	get := func(path string, cookie *http.Cookie) (*http.Cookie, int) {
		request, err := http.NewRequest(http.MethodGet, server.URL+path, nil)
		require.NoError(t, err)
		if cookie != nil {
			request.AddCookie(cookie)
		}
		response, err := http.DefaultClient.Do(request)
		require.NoError(t, err)
		_, err = io.Copy(io.Discard, response.Body)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		if all := response.Cookies(); len(all) > 0 {
			cookie = all[0]
		}
		return cookie, response.StatusCode
	}
	cookie, _ := get("/in", nil)
	_, status := get("/who", cookie)
	require.Equal(t, http.StatusOK, status)
	slow := make(chan struct{})
	go func() {
		defer close(slow)
		request, err := http.NewRequest(http.MethodGet, server.URL+"/slow", nil)
		if err != nil {
			return
		}
		request.AddCookie(cookie)
		if response, err := http.DefaultClient.Do(request); err == nil {
			_ = response.Body.Close() // only that it came matters
		}
	}()
	<-begun
	_, status = get("/out", cookie)
	require.Equal(t, http.StatusOK, status)
	close(goOn)
	<-slow
	_, status = get("/who", cookie)
	require.Equal(t, http.StatusUnauthorized, status)
	other, _ := get("/in", nil)
	_, status = get("/who", other)
	require.Equal(t, http.StatusOK, status, "others are as they were")
}
