// Package web is Lagoon's door to the browser: sessions, roles, the contract's
// handlers, which translate and call jobs, and the front end's files.
package web

import (
	"cmp"
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"runtime/debug"
	"strings"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/reading"
	"lagoon/internal/prove"
	"lagoon/internal/say"
	"lagoon/internal/web/contract"
)

// Options are what a Server is wired with.
type Options struct {
	App      *act.App
	Sessions *sql.DB // a file of its own, never part of a backup
	Front    *Front  // what people see; where nil, only the interface answers
	Log      *slog.Logger
	Secure   bool // served over TLS
	Proxied  bool // behind a proxy that is trusted to say where requests come from
	// Idle is after how long without a request a session ends; zero is the usual.
	Idle time.Duration
	// FoundingCode lets whoever has it set an empty Lagoon up; without one nobody can.
	FoundingCode string
	// Closing, where set, ends the streams that would keep a server from shutting down,
	// and the cleaning of old sessions.
	Closing <-chan struct{}
	// Demo, where set, is shown on the sign-in page: the password of all demo people.
	Demo string
	// Answered, where set, is told of every answer.
	Answered func(method string, status int, took time.Duration)
	// About is told at /healthz.
	About About
	// Papers, where set, reads the words of PDFs and pictures.
	Papers PaperReader
	// StandIn, where set, is the simulated bank as it is set from the screen.
	StandIn StandIn
	// Ways run what brings mails and files in by itself.
	Ways Ways
	// Heartbeat is how often an open stream says that it is there; zero is the usual.
	Heartbeat time.Duration
}

// PaperReader reads the words of a PDF or a picture, and where they stand.
type PaperReader interface {
	Read(ctx context.Context, content []byte) (reading.Paper, error)
}

// About says which Lagoon answers.
type About struct {
	Version string `json:"version"`
	Schema  string `json:"schema"`
	Commit  string `json:"commit"`
}

const (
	sessionIdle = 8 * time.Hour
	sessionLife = 24 * time.Hour
)

// New makes the handler of everything that Lagoon serves.
func New(o Options) (http.Handler, error) {
	if _, err := o.Sessions.ExecContext(context.Background(), `CREATE TABLE IF NOT EXISTS sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL);
		CREATE INDEX IF NOT EXISTS sessions_expiry_idx ON sessions (expiry)`); err != nil {
		return nil, err
	}
	kept := sqlite3store.New(o.Sessions)
	if o.Closing != nil {
		go func() {
			<-o.Closing
			kept.StopCleanup()
		}()
	}
	sessions := scs.New()
	sessions.Store = newEndedSessions(kept)
	sessions.Lifetime, sessions.IdleTimeout = sessionLife, cmp.Or(o.Idle, sessionIdle)
	sessions.Cookie.Name, sessions.Cookie.HttpOnly, sessions.Cookie.SameSite, sessions.Cookie.Secure = "lagoon", true, http.SameSiteStrictMode, o.Secure
	sessions.Cookie.Persist = false // it goes with the browser
	if o.Secure {
		sessions.Cookie.Name = "__Host-lagoon" // set by no other host, and over TLS only
	}
	known, err := newBrowsers(o.Sessions, o.Secure)
	if err != nil {
		return nil, err
	}

	h := &handlers{
		app:       o.App,
		sessions:  sessions,
		demo:      o.Demo,
		standIn:   o.StandIn,
		log:       o.Log,
		door:      newDoor(),
		browsers:  known,
		proxied:   o.Proxied,
		closing:   o.Closing,
		prover:    prove.NewProver(o.App, o.Closing),
		heartbeat: cmp.Or(o.Heartbeat, heartbeat),
		papers:    o.Papers,
		ways:      o.Ways,
		present:   present{streams: map[int64]int{}, open: map[int64]onInvoice{}},

		foundingCode: o.FoundingCode,
	}
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.ContextWithFallback = true
	engine.HandleMethodNotAllowed = true
	engine.Use(h.recovered, leaving)
	engine.NoRoute(cmp.Or(o.Front, &Front{}).serve)
	engine.NoMethod(
		func(c *gin.Context) { h.fail(c, fault.New(fault.NotFound, "", "There is nothing to do this way.")) },
	)
	check, err := validator()
	if err != nil {
		return nil, err
	}
	strict := contract.NewStrictHandlerWithOptions(
		h,
		[]contract.StrictMiddlewareFunc{permitted},
		contract.StrictGinServerOptions{
			RequestErrorHandlerFunc:  func(c *gin.Context, err error) { h.fail(c, unreadable(err)) },
			HandlerErrorFunc:         h.fail,
			ResponseErrorHandlerFunc: h.fail,
		},
	)
	contract.RegisterHandlersWithOptions(engine, strict, contract.GinServerOptions{
		Middlewares:  []contract.MiddlewareFunc{contract.MiddlewareFunc(h.signedIn), contract.MiddlewareFunc(check)},
		ErrorHandler: func(c *gin.Context, err error, _ int) { h.fail(c, unreadable(err)) },
	})
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(
			w,
			say.Printer{},
			fault.New(fault.Forbidden, "", "This request came from another site and was refused."),
		)
	}))
	doors := http.NewServeMux()
	doors.HandleFunc("GET /api/live", h.live)
	watched(doors, o.App, o.About)
	doors.Handle("/", h.withSession(engine))
	return logged(o.Log, o.Answered, h.addressOf, headers(o.Secure, guard.Handler(doors))), nil
}

// permitted refuses a command before its entry is read, so that who may not give it
// learns nothing else. The job checks again.
func permitted(next contract.StrictHandlerFunc, operation string) contract.StrictHandlerFunc {
	job := act.Job(strings.ToLower(operation[:1]) + operation[1:])
	if operation == "FetchAnswers" {
		job = act.TakeAnswer
	}
	return func(c *gin.Context, request any) (any, error) {
		if _, command := act.Permissions[job]; command {
			if err := actorOf(c).Allowed(job); err != nil {
				return nil, err
			}
		}
		if err := actorOf(c).MaySee(job); err != nil {
			return nil, err
		}
		return next(c, request)
	}
}

// headers sets what every answer carries: nothing may be framed, guessed or loaded
// from elsewhere, no answer with data is kept by anybody, and who came over TLS once
// comes over TLS again.
func headers(secure bool, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		header := w.Header()
		header.Set(
			"Content-Security-Policy",
			"default-src 'self'; img-src 'self' data: blob:; frame-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
		)
		header.Set("X-Content-Type-Options", "nosniff")
		header.Set("Referrer-Policy", "same-origin")
		header.Set("Cross-Origin-Opener-Policy", "same-origin")
		header.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
		if secure {
			header.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(r.URL.Path, "/api/") {
			header.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

// statusWriter notes the status that was answered: the first that counts, as whoever asked
// sees it.
type statusWriter struct {
	http.ResponseWriter
	status int
	begun  bool
}

func (w *statusWriter) WriteHeader(status int) {
	if !w.begun && status >= http.StatusOK {
		w.status, w.begun = status, true
	}
	w.ResponseWriter.WriteHeader(status)
}

func (w *statusWriter) Write(content []byte) (int, error) {
	w.begun = true
	return w.ResponseWriter.Write(content)
}

// Unwrap lets http.ResponseController reach the connection.
func (w *statusWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }

type requestID struct{}

// request is what the log says of a request.
type request struct {
	id    string
	login string // of who is signed in; empty where nobody is
}

// logged gives each request an id, which its answer and every line of the log about it
// carry. What was sent, and who signs in with what, is never logged.
func logged(
	log *slog.Logger,
	answered func(method string, status int, took time.Duration),
	address func(*http.Request) string,
	next http.Handler,
) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := rand.Text()[:12]
		w.Header().Set("X-Request-Id", id)
		started, sw := time.Now(), &statusWriter{ResponseWriter: w, status: http.StatusOK}
		about := &request{id: id}
		next.ServeHTTP(sw, r.WithContext(context.WithValue(r.Context(), requestID{}, about)))
		took := time.Since(started)
		if answered != nil {
			answered(r.Method, sw.status, took)
		}
		level := slog.LevelDebug
		if r.Method != http.MethodGet || sw.status >= http.StatusInternalServerError {
			level = slog.LevelInfo
		}
		log.Log(
			r.Context(),
			level,
			"request",
			"request",
			id,
			"method",
			r.Method,
			"path",
			cut(r.URL.Path),
			"status",
			sw.status,
			"took",
			took,
			"address",
			address(r),
			"person",
			about.login,
		)
	})
}

// cut keeps a line of the log short, whatever was sent.
func cut(text string) string {
	const most = 200
	if len(text) > most {
		return text[:most] + "…"
	}
	return text
}

// idOf is the id of the request that is being answered.
func idOf(ctx context.Context) string {
	if about, ok := ctx.Value(requestID{}).(*request); ok {
		return about.id
	}
	return "" // outside a request
}

// recovered turns a panic into one sentence for the person and a line in the log.
func (h *handlers) recovered(c *gin.Context) {
	defer func() {
		if trouble := recover(); trouble != nil {
			h.log.Error(
				"panic",
				"request",
				idOf(c),
				"path",
				c.Request.URL.Path,
				"trouble",
				cut(fmt.Sprint(trouble)),
				"stack",
				string(debug.Stack()),
			)
			h.fail(c, errors.New("panic"))
		}
	}()
	c.Next()
}

// handlers implements the contract.
type handlers struct {
	app      *act.App
	sessions *scs.SessionManager
	demo     string
	standIn  StandIn
	log      *slog.Logger
	door     *door
	browsers *browsers
	proxied  bool
	papers   PaperReader
	ways     Ways
	present  present
	read     papersRead

	closing      <-chan struct{}
	prover       *prove.Prover
	heartbeat    time.Duration
	foundingCode string
}

var _ contract.StrictServerInterface = (*handlers)(nil)

// Operations that need nobody signed in.
var public = map[string]bool{
	"/api/session":                     true,
	"/api/session/sign-in":             true,
	"/api/session/sign-out":            true,
	"/api/session/first-administrator": true,
}

// Operations that are open to who signed in with a password for once: to choose an own
// one, and nothing else.
var withOneTime = map[string]bool{
	"/api/session":          true,
	"/api/session/sign-in":  true,
	"/api/session/sign-out": true,
	"/api/account/password": true,
}

// What a request carries.
const (
	actorKey   = "actor"
	addressKey = "address"
)

// signedIn finds who acts and from where, or refuses.
func (h *handlers) signedIn(c *gin.Context) {
	c.Set(addressKey, h.addressOf(c.Request))
	actor, err := h.whose(c.Request.Context())
	switch {
	case err != nil:
		h.fail(c, err)
		return
	case actor.ID != 0 && actor.OneTime && !withOneTime[c.FullPath()]:
		h.fail(
			c,
			fault.New(fault.Forbidden, "", "The password that you were given is for once. Choose your own to go on."),
		)
		return
	case actor.ID != 0:
		c.Set(actorKey, actor)
		if about, ok := c.Request.Context().Value(requestID{}).(*request); ok {
			about.login = actor.Login
		}
	case !public[c.FullPath()]:
		h.fail(c, fault.New(fault.SignIn, "", "Sign in to go on."))
		return
	}
	c.Next()
}

// actorOf is who is signed in; the zero Actor where nobody is, who may do nothing.
func actorOf(ctx context.Context) act.Actor {
	if actor, ok := ctx.Value(actorKey).(act.Actor); ok {
		return actor
	}
	return act.Actor{ID: -1, Name: "Nobody"}
}
