package web

// This file keeps who is signed in. A session is written by signing in and out, which
// fail where it cannot be; beside that only now and then, so that it does not run out
// while its person works. That writing never turns an answer: what was booked is booked.

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/say"
)

// What a session holds.
const (
	personKey  = "person"  // row key of who is signed in
	epochKey   = "epoch"   // of the person, when they signed in
	writtenKey = "written" // when the session was last written, as Unix seconds
)

// withSession reads the session of a request. One that is there but cannot be read is
// said to be so: nobody is taken for a stranger because of a disk.
func (h *handlers) withSession(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Add("Vary", "Cookie")
		token := ""
		if cookie, err := r.Cookie(h.sessions.Cookie.Name); err == nil {
			token = cookie.Value
		}
		ctx, err := h.sessions.Load(r.Context(), token)
		if err != nil {
			h.log.Error("session cannot be read", "request", idOf(r.Context()), "error", err)
			writeProblem(w, say.Printer{}, err)
			return
		}
		next.ServeHTTP(w, r.WithContext(ctx))
		h.keepGoing(ctx)
	})
}

// keepGoing writes a session again that was last written a while ago.
func (h *handlers) keepGoing(ctx context.Context) {
	written := h.sessions.GetInt64(ctx, writtenKey)
	if h.sessions.Status(ctx) == scs.Destroyed || h.sessions.GetInt64(ctx, personKey) == 0 ||
		time.Since(time.Unix(written, 0)) < h.sessions.IdleTimeout/10 {
		return
	}
	h.sessions.Put(ctx, writtenKey, time.Now().Unix())
	go func() { // the answer waits for nothing
		if _, _, err := h.sessions.Commit(context.WithoutCancel(ctx)); err != nil {
			h.log.Warn("session cannot be kept", "request", idOf(ctx), "error", err)
		}
	}()
}

// begin signs a person in under a new token, in place of what session there was.
func (h *handlers) begin(ctx context.Context, actor act.Actor) error {
	if err := h.sessions.RenewToken(ctx); err != nil {
		return err
	}
	h.sessions.Put(ctx, personKey, actor.ID)
	h.sessions.Put(ctx, epochKey, actor.Epoch)
	h.sessions.Put(ctx, writtenKey, time.Now().Unix())
	token, expiry, err := h.sessions.Commit(ctx)
	if err != nil {
		return err
	}
	if c, ok := ctx.(*gin.Context); ok {
		h.sessions.WriteSessionCookie(ctx, c.Writer, token, expiry)
	}
	return nil
}

// end signs a person out.
func (h *handlers) end(ctx context.Context) error {
	if c, ok := ctx.(*gin.Context); ok {
		h.sessions.WriteSessionCookie(ctx, c.Writer, "", time.Time{})
	}
	return h.sessions.Destroy(ctx)
}

// whose is the person of a session, as they are now; nobody where the session is over.
func (h *handlers) whose(ctx context.Context) (act.Actor, error) {
	id := h.sessions.GetInt64(ctx, personKey)
	if id == 0 {
		return act.Actor{}, nil
	}
	actor, err := h.app.ActorByID(ctx, id)
	if fault.Is(err, fault.SignIn) || (err == nil && actor.Epoch != h.sessions.GetInt64(ctx, epochKey)) {
		return act.Actor{}, nil
	}
	return actor, err
}

// addressOf is where a request comes from. Behind a proxy that is trusted it is what the
// proxy says: the last address that it added.
func (h *handlers) addressOf(r *http.Request) string {
	if h.proxied {
		if said := r.Header.Values("X-Forwarded-For"); len(said) > 0 {
			hops := strings.Split(said[len(said)-1], ",")
			if ip := net.ParseIP(strings.TrimSpace(hops[len(hops)-1])); ip != nil {
				return ip.String()
			}
		}
	}
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr
	}
	return host
}

// from is where the request that is being answered comes from.
func from(ctx context.Context) string {
	address, _ := ctx.Value(addressKey).(string) // empty outside a request
	return address
}

// browsers remembers in which browsers people have signed in, so that nobody who guesses
// elsewhere keeps them out.
type browsers struct {
	db     *sql.DB
	secure bool
}

const knownFor = 180 * 24 * time.Hour

func newBrowsers(db *sql.DB, secure bool) (*browsers, error) {
	_, err := db.ExecContext(
		context.Background(),
		`CREATE TABLE IF NOT EXISTS browser (token TEXT PRIMARY KEY, login TEXT NOT NULL, until INTEGER NOT NULL)`,
	)
	return &browsers{db, secure}, err
}

func (b *browsers) cookie() string {
	if b.secure {
		return "__Host-lagoon-browser"
	}
	return "lagoon-browser"
}

// known is what stands for the browser of a request, where a person of that sign-in name
// has signed in with it; empty where not.
func (b *browsers) known(r *http.Request, login string) string {
	cookie, err := r.Cookie(b.cookie())
	if err != nil || cookie.Value == "" {
		return ""
	}
	token, n := hashed(cookie.Value), 0
	err = b.db.QueryRowContext(r.Context(), `SELECT count(*) FROM browser WHERE token = ? AND login = ? AND until > ?`, token, login, time.Now().Unix()).
		Scan(&n)
	if err != nil || n == 0 { // what cannot be read is not known
		return ""
	}
	return token
}

// remember notes that a person has signed in with a browser.
func (b *browsers) remember(c *gin.Context, login string) error {
	now := time.Now()
	if b.known(c.Request, login) != "" {
		return nil
	}
	token := rand.Text() + rand.Text()
	_, err := b.db.ExecContext(c.Request.Context(), `DELETE FROM browser WHERE until < ?`, now.Unix())
	if err == nil {
		_, err = b.db.ExecContext(
			c.Request.Context(),
			`INSERT INTO browser (token, login, until) VALUES (?, ?, ?)`,
			hashed(token),
			login,
			now.Add(knownFor).Unix(),
		)
	}
	if err == nil {
		http.SetCookie(
			c.Writer,
			&http.Cookie{
				Name:     b.cookie(),
				Value:    token,
				Path:     "/",
				MaxAge:   int(knownFor / time.Second),
				HttpOnly: true,
				Secure:   b.secure,
				SameSite: http.SameSiteStrictMode,
			},
		)
	}
	return errors.Join(err)
}

func hashed(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}
