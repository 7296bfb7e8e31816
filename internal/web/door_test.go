package web

import (
	"database/sql"
	"fmt"
	"log/slog"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

const wrongPair = `{"login":"clerk","password":"wrong wrong wrong"}`

// What was booked is answered as booked, and what is read is read, when no session can be
// written; only signing in says that it cannot be done.
func TestSessionsThatCannotBeWrittenTurnNoAnswer(t *testing.T) {
	var sessions *sql.DB
	server, s := serveWith(t, slog.New(slog.DiscardHandler), func(o *Options) { sessions = o.Sessions })
	c := signIn(t, server, "administrator")
	for _, event := range []string{"INSERT", "UPDATE", "DELETE"} {
		_, err := sessions.Exec(`CREATE TRIGGER full_` + event + ` BEFORE ` + event + ` ON sessions BEGIN SELECT RAISE(ABORT, 'disk full'); END`)
		require.NoError(t, err)
	}
	response, problem := send(t, c, "POST", server.URL+"/api/budgets", "application/json", `{"code":"FEED","name":"Feed","account":"stock"}`)
	require.Equal(t, http.StatusOK, response.StatusCode, problem.Sentence)
	require.NoError(t, s.Read(t.Context(), func(tx *store.Tx) error {
		known, err := tx.HasBudget("FEED")
		require.True(t, known)
		return err
	}))
	response, problem = send(t, c, "GET", server.URL+"/api/course", "", "")
	require.Equal(t, http.StatusOK, response.StatusCode, problem.Sentence)
	response, _ = send(t, client(t), "POST", server.URL+"/api/session/sign-in", "application/json", `{"login":"clerk","password":"`+password+`"}`)
	require.Equal(t, http.StatusInternalServerError, response.StatusCode, "a sign-in that is not kept would be none")
}

// A session is written when it begins and then only now and then.
func TestASessionIsWrittenNowAndThen(t *testing.T) {
	var sessions *sql.DB
	server, _ := serveWith(t, slog.New(slog.DiscardHandler), func(o *Options) { sessions, o.Idle = o.Sessions, time.Hour })
	c := signIn(t, server, "clerk")
	written := func() (expiry float64) {
		require.NoError(t, sessions.QueryRow(`SELECT expiry FROM sessions`).Scan(&expiry))
		return
	}
	before := written()
	for range 5 {
		response, _ := send(t, c, "GET", server.URL+"/api/course", "", "")
		require.Equal(t, http.StatusOK, response.StatusCode)
	}
	time.Sleep(20 * time.Millisecond) // whatever would be written would be by now
	require.InDelta(t, before, written(), 0)
}

// A known browser is let in while somebody elsewhere guesses its person's name.
func TestAKnownBrowserIsNotLockedOut(t *testing.T) {
	server, _ := serve(t)
	known := signIn(t, server, "clerk")
	stranger := client(t)
	var response *http.Response
	for range freeByName + 3 {
		response, _ = send(t, stranger, "POST", server.URL+"/api/session/sign-in", "application/json", wrongPair)
	}
	require.Equal(t, http.StatusTooManyRequests, response.StatusCode)
	right := `{"login":"clerk","password":"` + password + `"}`
	response, _ = send(t, client(t), "POST", server.URL+"/api/session/sign-in", "application/json", right)
	require.Equal(t, http.StatusTooManyRequests, response.StatusCode)
	response, problem := send(t, known, "POST", server.URL+"/api/session/sign-in", "application/json", right)
	require.Equal(t, http.StatusOK, response.StatusCode, problem.Sentence)
	response, _ = send(t, known, "POST", server.URL+"/api/session/sign-in", "application/json", `{"login":"buyer","password":"x"}`)
	require.Equal(t, http.StatusUnauthorized, response.StatusCode, "it is known for its own people only")
}

func TestTheDoorCountsNamesAndAddresses(t *testing.T) {
	now := time.Now()
	at := func(login, address string) try { return try{login: login, address: address} }
	d := newDoor()
	for range freeByName + 1 {
		require.Zero(t, d.begin(at("nora", "10.0.0.1"), now))
	}
	require.Positive(t, d.begin(at("nora", "10.0.0.2"), now), "another address, the same name")
	require.Zero(t, d.begin(at("ada", "10.0.0.1"), now), "another name")
	for range 40 { // whoever goes on waits longer, and never more than the longest
		now = now.Add(longest)
		require.Zero(t, d.begin(at("nora", "10.0.0.1"), now))
	}
	require.LessOrEqual(t, d.begin(at("nora", "10.0.0.9"), now), longest)

	d, now = newDoor(), time.Now()
	for i := range freeByAddress + 1 {
		require.Zero(t, d.begin(at(fmt.Sprint("x", i), "2001:db8::1"), now))
	}
	require.Positive(t, d.begin(at("y", "2001:db8::2"), now), "a whole net of IPv6 counts as one")
	require.Zero(t, d.begin(at("y", "2001:db8:0:1::2"), now))
	require.Zero(t, d.begin(try{login: "y", address: "2001:db8::1", browser: "b"}, now), "a known browser is counted by itself")
	for range freeByBrowser {
		require.Zero(t, d.begin(try{login: "y", browser: "b"}, now))
	}
	require.Positive(t, d.begin(try{login: "y", browser: "b"}, now))
	d.passed(try{login: "y", browser: "b"})
	require.Zero(t, d.begin(try{login: "y", browser: "b"}, now))
}

// A flood of names frees none that waits, and is remembered only so far.
func TestAFloodOfNamesFreesNobody(t *testing.T) {
	d, now := newDoor(), time.Now()
	for range freeByName + 1 {
		d.begin(try{login: "nora", address: "a"}, now)
		now = now.Add(time.Second)
	}
	for range 20 {
		now = now.Add(longest)
		d.begin(try{login: "nora", address: "a"}, now)
	}
	for i := range mostCounted + 100 {
		d.begin(try{login: fmt.Sprint("x", i), address: fmt.Sprint("10.1.", i/250, ".", i%250)}, now)
	}
	require.Positive(t, d.begin(try{login: "nora", address: "b"}, now))
	require.LessOrEqual(t, len(d.failed), mostCounted)
}

// The line at the door is short: who finds it full is told so at once, and strangers do
// not stand in the way of who comes with a known browser.
func TestTheLineAtTheDoorIsShort(t *testing.T) {
	d := newDoor()
	leave, err := d.enter(try{login: "a", address: "1"})
	require.NoError(t, err)
	waiting := make(chan struct{})
	for i := range line - 1 {
		go func() {
			if leave, err := d.enter(try{login: fmt.Sprint("w", i), address: fmt.Sprint("w", i)}); err == nil {
				leave()
			}
			waiting <- struct{}{}
		}()
	}
	require.Eventually(t, func() bool { return len(d.strange) == line }, 5*time.Second, time.Millisecond)
	_, err = d.enter(try{login: "b", address: "2"})
	require.ErrorContains(t, err, "Too many people")
	familiar, err := d.enter(try{login: "b", address: "2", browser: "known"})
	require.NoError(t, err)
	familiar()
	leave()
	for range line - 1 {
		<-waiting
	}
}

// Behind a proxy that is trusted the address is what the proxy added; else nobody is
// believed about where they are.
func TestWhereARequestComesFrom(t *testing.T) {
	request, err := http.NewRequest("GET", "/", nil)
	require.NoError(t, err)
	request.RemoteAddr = "192.0.2.7:4711"
	request.Header.Add("X-Forwarded-For", "203.0.113.5, 198.51.100.9")
	require.Equal(t, "192.0.2.7", (&handlers{}).addressOf(request))
	require.Equal(t, "198.51.100.9", (&handlers{proxied: true}).addressOf(request))
	request.Header.Set("X-Forwarded-For", "nonsense")
	require.Equal(t, "192.0.2.7", (&handlers{proxied: true}).addressOf(request))
}

// What kind of content an operation takes is the contract's to say: a command sent as
// something else is refused before any of it is read, signed in or not, and who has not
// signed in may say little.
func TestTheContractCannotBeSwitchedOff(t *testing.T) {
	server, _ := serve(t)
	c := signIn(t, server, "administrator")
	large := strings.Repeat("x", mostBefore+1)
	form := "--b\r\nContent-Disposition: form-data; name=\"login\"\r\n\r\nx\r\n--b--\r\n"
	for _, x := range []struct {
		who               *http.Client
		path, media, body string
		status            int
	}{
		{client(t), "/api/session/sign-in", "multipart/form-data; boundary=b", form, 415},
		{client(t), "/api/session/sign-in", "text/plain", `{"login":"clerk","password":"x"}`, 415},
		{client(t), "/api/session/sign-in", "application/json", `{"login":"` + large + `","password":"x"}`, 422},
		{client(t), "/api/session/first-administrator", "application/json", `{"company":"` + large + `"}`, 422},
		{c, "/api/budgets", "multipart/form-data; boundary=b", form, 415},
		{c, "/api/budgets", "", `{"code":"X","name":"X","account":"stock"}`, 415},
		{c, "/api/budgets", "application/json", `{"code":"` + strings.Repeat("x", 300) + `","name":"X","account":"stock"}`, 422},
		{signIn(t, server, "clerk"), "/api/invoices/import", "application/json", `{}`, 415},
	} {
		response, problem := send(t, x.who, "POST", server.URL+x.path, x.media, x.body)
		require.Equal(t, x.status, response.StatusCode, "%s %s: %s", x.path, x.media, problem.Sentence)
	}
}

// Everything that a person types has a length that it cannot go past.
func TestEverythingTypedIsBounded(t *testing.T) {
	spec, err := contract.GetSpec()
	require.NoError(t, err)
	seen, unbounded := map[*openapi3.Schema]bool{}, []string{}
	var walk func(where string, s *openapi3.Schema)
	walk = func(where string, s *openapi3.Schema) {
		if s == nil || seen[s] {
			return
		}
		seen[s] = true
		if s.Type.Is("string") && s.MaxLength == nil && s.Enum == nil && s.Format != "binary" {
			unbounded = append(unbounded, where)
		}
		for name, p := range s.Properties {
			walk(where+"."+name, p.Value)
		}
		if s.Items != nil {
			walk(where+"[]", s.Items.Value)
		}
	}
	for path, item := range spec.Paths.Map() {
		for _, operation := range item.Operations() {
			for _, p := range operation.Parameters {
				walk(path+"?"+p.Value.Name, p.Value.Schema.Value)
			}
			if operation.RequestBody != nil {
				for _, media := range operation.RequestBody.Value.Content {
					walk(path, media.Schema.Value)
				}
			}
		}
	}
	require.Empty(t, unbounded)
	require.Greater(t, len(seen), 100)
}

// Lines of the log are short, whatever was asked for.
func TestLinesOfTheLogAreCut(t *testing.T) {
	var log strings.Builder
	server, _ := serveWith(t, slog.New(slog.NewTextHandler(&log, &slog.HandlerOptions{Level: slog.LevelDebug})))
	_, _ = send(t, client(t), "GET", server.URL+"/api/"+strings.Repeat("long", 5000), "", "")
	_, _ = send(t, client(t), "POST", server.URL+"/api/session/sign-in", "application/json", `{"login":"`+strings.Repeat("n", 150)+`","password":"x"}`)
	server.Close()
	for text := range strings.Lines(log.String()) {
		require.Less(t, len(text), 600, text)
	}
	require.Contains(t, log.String(), "address=127.0.0.1")
}

// What is read by right is refused to everybody else.
func TestWhatIsReadByRight(t *testing.T) {
	server, _ := serve(t)
	spec, err := contract.GetSpec()
	require.NoError(t, err)
	found := 0
	type asked struct {
		*openapi3.Operation
		path, method, body string
	}
	named := func(o *openapi3.Operation) string { return strings.ToLower(o.OperationID[:1]) + o.OperationID[1:] }
	of := func(o *openapi3.Operation) []string { return act.Rights[act.Job(named(o))] }
	var all []asked
	for path, item := range spec.Paths.Map() {
		if item.Get != nil {
			all = append(all, asked{item.Get, path, "GET", ""})
		}
		if item.Post != nil && of(item.Post) != nil { // it changes nothing
			all = append(all, asked{item.Post, path, "POST", bodies[named(item.Post)]})
		}
	}
	for _, asked := range all {
		path, method, body := asked.path, asked.method, asked.body
		roles := of(asked.Operation)
		var roleNames []string
		if said, ok := asked.Extensions["x-roles"].([]any); ok {
			for _, r := range said {
				roleNames = append(roleNames, r.(string))
			}
		}
		require.ElementsMatch(t, roles, roleNames, path)
		if roles == nil {
			continue
		}
		found++
		at := server.URL + strings.NewReplacer("{number}", "1", "{index}", "1", "{kind}", "suppliers").Replace(path)
		for _, role := range act.AllRoles {
			response, problem := send(t, signIn(t, server, role), method, at, "application/json", body)
			if may := strings.Contains(" "+strings.Join(roles, " ")+" ", " "+role+" "); may {
				require.NotEqual(t, http.StatusForbidden, response.StatusCode, "%s by %s: %s", path, role, problem.Sentence)
			} else {
				require.Equal(t, http.StatusForbidden, response.StatusCode, "%s by %s: %s", path, role, problem.Sentence)
			}
		}
	}
	require.Equal(t, len(act.Rights), found)
}
