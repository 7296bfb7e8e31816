package web

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
	"lagoon/internal/store/byhand"
	"lagoon/internal/web/contract"
)

const password = "long enough for us"

// serve starts a server with one person for each role, whose sign-in name is the role.
func serve(t *testing.T) (*httptest.Server, *store.Store) {
	t.Helper()
	return serveWith(t, slog.New(slog.DiscardHandler))
}

func serveWith(t *testing.T, log *slog.Logger, change ...func(*Options)) (*httptest.Server, *store.Store) {
	t.Helper()
	folder := t.TempDir()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	app := act.New(s, act.Options{PublicPasswords: true}) // signing in costs nothing
	_, err = people.Found(
		t.Context(),
		app,
		people.Founding{
			Company: store.Company{Name: "Test House", Currency: "EUR", Zone: "UTC", Level: trade.ThreeWay},
			First:   people.Entry{Login: "administrator", Name: "A", Password: password},
		},
	)
	require.NoError(t, err)
	first, err := app.ActorByLogin(t.Context(), "administrator")
	require.NoError(t, err)
	hash, err := people.HashPassword(app, password)
	require.NoError(t, err)
	for _, role := range act.AllRoles {
		if role != "administrator" {
			require.NoError(t, masters.Masters(t.Context(), app, act.Command{Actor: first}, "person", func(tx *store.Tx) error {
				_, err := tx.PutPerson(store.Person{Login: role, Name: role, Password: hash, Roles: []string{role}, Active: true})
				return err
			}))
		}
	}
	return answering(t, folder, s, Options{App: app, Log: log, Heartbeat: 100 * time.Millisecond}, change...), s
}

// noWays brings nothing in.
type noWays struct{}

func (noWays) Kept(store.WayIn) bool                                      { return false }
func (noWays) Keep(store.WayIn, string) error                             { return nil }
func (noWays) State(string) WayState                                      { return WayState{} }
func (noWays) Inbox() string                                              { return "inbox" }
func (noWays) Changed()                                                   {}
func (noWays) Try(context.Context, store.WayIn, string) (int, int, error) { return 0, 0, nil }

// answering serves opened data until the test ends.
func answering(t *testing.T, folder string, s *store.Store, options Options, change ...func(*Options)) *httptest.Server {
	t.Helper()
	sessions, err := sql.Open("sqlite3", "file:"+filepath.Join(folder, "sessions.db"))
	require.NoError(t, err)
	options.Sessions, options.Ways = sessions, noWays{}
	options.Front, err = NewFront(fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}, "assets/a-1.js": {Data: bytes.Repeat([]byte("x"), 5000)}})
	require.NoError(t, err)
	for _, c := range change {
		c(&options)
	}
	handler, err := New(options)
	require.NoError(t, err)
	server := httptest.NewServer(handler)
	t.Cleanup(func() {
		server.Close()
		require.NoError(t, sessions.Close())
		require.NoError(t, s.Close())
	})
	return server
}

func client(t *testing.T) *http.Client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &http.Client{Jar: jar}
}

func send(t *testing.T, c *http.Client, method, url, mediaType, body string) (*http.Response, contract.Problem) {
	t.Helper()
	request, err := http.NewRequest(method, url, strings.NewReader(body))
	require.NoError(t, err)
	if mediaType != "" {
		request.Header.Set("Content-Type", mediaType)
	}
	response, err := c.Do(request)
	require.NoError(t, err)
	defer response.Body.Close()
	content, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	var problem contract.Problem
	if response.StatusCode >= 400 && strings.HasPrefix(response.Header.Get("Content-Type"), "application/problem+json") {
		require.NoError(t, json.Unmarshal(content, &problem), string(content))
		require.NotEmpty(t, problem.Sentence)
	}
	return response, problem
}

func signIn(t *testing.T, server *httptest.Server, login string) *http.Client {
	t.Helper()
	return signInWith(t, server, login, password)
}

func signInWith(t *testing.T, server *httptest.Server, login, password string) *http.Client {
	t.Helper()
	c := client(t)
	response, problem := send(t, c, "POST", server.URL+"/api/session/sign-in", "application/json", `{"login":"`+login+`","password":"`+password+`"}`)
	require.Equal(t, http.StatusOK, response.StatusCode, problem.Sentence)
	return c
}

// operations are the operations of the contract that a role is needed for.
type operation struct {
	path, job string
	roles     []string
	upload    bool
}

func operations(t *testing.T) []operation {
	spec, err := contract.GetSpec()
	require.NoError(t, err)
	var list []operation
	for path, item := range spec.Paths.Map() {
		if item.Post == nil || item.Post.Extensions["x-roles"] == nil { // what is read by right: TestWhatIsReadByRight
			continue
		}
		c := operation{
			path: strings.NewReplacer("{number}", "1", "{agreement}", "1", "{prepayment}", "1", "{index}", "1", "{line}", "1", "{code}", "X", "{kind}", "items", "{login}", "nobody-here").Replace(path),
			job:  strings.ToLower(item.Post.OperationID[:1]) + item.Post.OperationID[1:],
		}
		for _, r := range item.Post.Extensions["x-roles"].([]any) {
			c.roles = append(c.roles, r.(string))
		}
		if path == "/api/papers" {
			c.path += "?on=item&of=X"
		}
		c.upload = item.Post.RequestBody != nil && item.Post.RequestBody.Value.Content["multipart/form-data"] != nil
		list = append(list, c)
	}
	require.Greater(t, len(list), 18)
	return list
}

// The contract's roles are those that the jobs check.
func TestContractNamesTheRolesOfTheJobs(t *testing.T) {
	for _, c := range operations(t) {
		job := act.Job(c.job)
		if job == "fetchAnswers" {
			job = act.TakeAnswer
		}
		roles := act.Permissions[job]
		if roles == nil {
			roles = act.Rights[job]
		}
		require.ElementsMatch(t, roles, c.roles, c.job)
	}
}

var bodies = map[string]string{
	"issueOrder":      `{"supplier":"X","wantedOn":"2099-01-01","requestedBy":"","place":"","note":"","lines":[]}`,
	"addPerson":       `{"login":"x","name":"X","password":"short","roles":[],"authority":"0","comma":false}`,
	"acceptFree":      `{"line":1,"note":"n","version":1}`,
	"undoFree":        `{"reason":"r"}`,
	"bookDelivery":    `{"order":1,"note":"n","day":"2026-01-01","place":"","condition":"","lines":[]}`,
	"keyInvoice":      `{"supplier":"X","number":"1","date":"2026-01-01","lines":[],"charges":[],"taxes":[],"statedTotal":"1"}`,
	"correctInvoice":  `{"supplier":"X","number":"1","date":"2026-01-01","lines":[],"charges":[],"taxes":[],"statedTotal":"1"}`,
	"releaseInvoices": `{"invoices":[1]}`,
	"acceptFinding":   `{"kind":"unit_price","line":1,"note":"n","version":1}`,
	"holdInvoice":     `{"reason":"goods","note":""}`,
	"liftHold":        `{"note":""}`,
	"liftHolds":       `{"holds":[],"note":""}`,
	"holdOrder":       `{"reason":"","note":""}`,
	"saveHoldReason":  `{"name":"","ended":false}`, "saveDebitAccount": `{"iban":"","bic":"","name":"","ended":false}`, "savePlace": `{"name":"","address":"","receivers":[],"ended":false}`,
	"keepSelfBilling": `{"name":"","supplier":"","place":"","ended":false}`, "savePersonMail": `{"mail":"x"}`,
	"accrue": `{"month":"x"}`, "undoAccrual": `{"reason":"r"}`, "exportLedger": `{"month":"x"}`, "undoLedgerExport": `{"reason":"r"}`,
	"mailList":      `{"list":"orders","asked":{"show":"","sort":"","group":"","columns":""},"as":"pdf","to":"x"}`,
	"keepTrial":     `{"trial":{"at":{"supplier":"","item":"","charge":""},"limit":{"kind":"unit_price","side":"over"},"also":[]},"was":{"kind":"unit_price","side":"over"},"reason":"r"}`,
	"adoptLimit":    `{"trial":{"at":{"supplier":"","item":"","charge":""},"limit":{"kind":"unit_price","side":"over"},"also":[]},"was":{"kind":"unit_price","side":"over"},"reason":"r"}`,
	"keepStatement": `{"supplier":"X","day":"2026-01-01","lines":[]}`, "askStatement": `{"to":"x@example.org","subject":"s","text":"t"}`,
	"saveWeights":   `{"on_time":1}`,
	"saveGroup":     `{"name":"","budget":"","level":"","payables":"","payablesName":"","ended":false}`,
	"planBudget":    `{"budget":"X","year":"2026","amount":"1","group":""}`,
	"saveChase":     `{"supplier":"X","days":{"acknowledgement":"","goods":"","invoice":"","notice":""}}`,
	"requireNotice": `{"days":"2"}`,
	"handInvoices":  `{"invoices":[1],"to":"x"}`, "takeInvoice": `{"from":""}`,
	"saveWayIn": `{"way":"folder","live":false}`, "tryMailbox": `{"way":"imap","live":true}`, "setStandIn": `{"behave":[]}`, "proveBooks": ``,
	"carryBudgets":    `{"year":"2026","budgets":["X"]}`,
	"keepList":        `{"name":"","list":"orders","asked":{"show":"","sort":"","group":"","columns":""},"forAll":false}`,
	"acceptFindings":  `{"kind":"x","invoices":[],"note":""}`,
	"makeRun":         `{"dueBy":"2099-01-01","payOn":"2099-01-01","items":[{"invoice":1}]}`,
	"reverseDelivery": `{"reason":"r"}`, "refuseInvoice": `{"reason":"r"}`, "voidInvoice": `{"reason":"r"}`,
	"saveAccount":        `{"role":"stock","detail":"","number":"1400","name":""}`,
	"takeBackAcceptance": `{"kind":"unit_price","line":1,"note":"n","version":1}`,
	"approveInvoice":     `{"version":1,"note":""}`, "passApproval": `{"version":1,"note":"","to":"x"}`,
	"postDeferrals": `{"until":"2026-11-01"}`, "askPeriod": `{"month":"2026-10"}`, "openPeriod": `{"month":"2026-10"}`, "keepPeriod": `{"month":"2026-10"}`, "approveOrder": `{"version":1}`, "refuseOrder": `{"version":1}`, "passOrder": `{"version":1,"to":"x"}`,
	"agreePrepayment": `{"share":"30%"}`, "removePrepayment": `{"reason":"r"}`, "requestPrepayment": `{}`, "setOrderTerms": `{"note":"n"}`, "setInvoiceTerms": `{"note":"n"}`, "setInvoicePayee": `{"payee":"X","note":"n"}`, "confirmInvoicePayee": `{"payee":"X","iban":"","checked":""}`, "usePrepayment": `{"prepayment":1}`, "takeBackPrepaymentUse": `{"reason":"r"}`,
	"takeStatedDue": `{"stated":true,"note":"n"}`, "settleOtherwise": `{"way":"cash","reference":"r"}`, "takeBackSettlement": `{"reason":"r"}`, "selfBill": `{"supplier":"X"}`, "agreeSelfBilling": `{"from":"2026-01-01","prefix":"X","per":"order","statement":"s"}`, "setBankLine": `{"what":"aside"}`, "freeBankLine": `{"reason":"r"}`,
	"claimInvoice": `{"version":1,"waiting":false,"note":""}`, "giveUpClaim": `{"version":1,"note":"n"}`, "withdrawClaim": `{"version":1,"note":""}`,
	"fileMail": `{"note":"n"}`, "openMail": `{}`, "answerMail": `{"text":"n"}`, "askQuestion": `{"kind":"note","order":4001,"text":"n"}`,
	"answerQuestion": `{"text":"n"}`, "passQuestion": `{"text":"","to":"nobody"}`, "takeBackQuestion": `{}`, "seeQuestion": `{}`,
	"acceptWork": `{"order":1,"note":"n","day":"2026-01-01","place":"","condition":"","lines":[]}`, "takeBackWork": `{"reason":"r"}`,
	"bookReturn": `{"delivery":1,"day":"2026-01-01","outcome":"credit","reason":"r","lines":[]}`, "countArrival": `{"order":1,"note":"n","day":"2026-01-01","place":"","condition":"","lines":[]}`,
	"discardDraft": `{"version":1}`, "discardArrival": `{"reason":"r"}`, "withdrawNotice": `{"reason":"r"}`, "cancelOrder": `{"reason":"r"}`,
	"enterNotice": `{"order":1,"reference":"r","expectedOn":"2099-01-01","carrier":"","lines":[]}`,
	"changeOrder": `{"version":1,"reason":"r","entry":{"supplier":"X","wantedOn":"2099-01-01","requestedBy":"","place":"","note":"","lines":[]}}`,
	"keepDraft":   `{"supplier":"","entry":{}}`, "closeLines": `{"lines":[{"order":1,"line":1}],"goods":true,"invoices":false,"reason":"r"}`, "reopenLines": `{"lines":[{"order":1,"line":1}],"goods":true,"invoices":false,"reason":"r"}`,
	"sendOrder": `{"version":1,"kind":"order","way":"otherwise","to":"x","subject":"","text":"","prices":true}`, "answerOrder": `{"version":1,"reference":"","promisedOn":"2099-01-01"}`,
	"saveSupplier": `{"code":"","version":0,"name":"","notYet":false,"once":false,"taxId":"","untaxed":false,"country":"","language":"","currency":"","iban":"","bic":"","payTo":"","level":"","fromReceipt":false,"netDays":0,"endOfMonth":false,
		"dayOfMonth":0,"discountPercent":"0","discountDays":0,"budget":"","leastOrder":"","freeFrom":"","closedDays":"","incomplete":false,"addresses":[],"limits":[]}`,
	"holdSupplier": `{"hold":"in_dispute","lift":false,"reason":"r"}`, "confirmAccount": `{"iban":"x","bic":"","payTo":"","checked":"called"}`, "setLimits": `{"supplier":"","item":"","level":"","limits":[],"reason":"r"}`, "confirmLimits": `{"supplier":"","item":""}`, "saveContact": `{"name":"","role":"","mail":"","phone":"","language":"","purposes":[]}`,
	"saveNote": `{"kind":"general","urgent":false,"text":"","from":"","until":"","stages":[]}`, "nameInvoicer": `{"invoicer":""}`, "forgetCode": `{"code":"X"}`, "forgetPaper": `{"field":"number"}`, "detachPaper": `{}`, "keepBatch": `{"rows":[],"controls":{"count":"","quantity":"","total":""}}`, "runBatch": `{"version":1}`, "stopBatch": `{}`, "dropBatch": `{"version":1}`, "saveKnown": `{"customerNumber":"","otherNames":[],"standingText":""}`, "tieInvoice": `{"order":9,"version":1}`, "confirmInvoicer": `{"invoicer":""}`, "saveStandingCharge": `{"kind":"freight","percent":"","amount":"x"}`, "savePrice": `{"item":"X","from":"2026-01-01","until":"","least":"","price":"1","base":""}`,
	"saveItem":    `{"code":"","version":0,"name":"","unit":"","whole":false,"level":"","base":"","lots":false,"account":"","budget":"","incomplete":false,"sellers":[],"units":[],"limits":[]}`,
	"saveCompany": `{"address":"","place":"","mail":"x","overDelivery":true,"underDelivery":true,"twoStep":false,"level":"three_way","limits":[]}`, "saveBudget": `{"code":"","name":"","account":"stock"}`, "saveChargeKind": `{"name":"","standard":"","ended":false}`, "saveTaxCode": `{"code":"","name":"","category":"S","rates":[],"ended":false}`,
	"takeBackRun": `{"version":1,"reason":"r"}`, "declareRunLost": `{"version":1,"reason":"r"}`, "takeBackRelease": `{"reason":"r"}`,
	"changePerson": `{"roles":[],"authority":"0","reason":"r"}`, "confirmPerson": `{"roles":[],"authority":"0","refuse":false}`, "resetPassword": `{"password":"x"}`, "endPerson": `{"reason":"r"}`,
	"changePassword": `{"old":"x","password":"y"}`, "nameSubstitute": `{"login":"","from":"","until":""}`, "endSubstitute": `{"no":1}`,
	"saveBudgetLine": `{"budget":"","supplier":"","item":"","description":"","unit":"","quantity":"1","price":"1","wantedOn":""}`, "setRate": `{"currency":"EUR","day":"2026-01-01","rate":"1"}`, "closePeriod": `{"month":"x"}`,
	"approveRun": `{"version":1}`, "discardRun": `{"version":1}`, "sendRun": `{"version":1}`,
}

// Every command × every role: who may not is told so, who may gets another answer; nobody signed in gets none.
func TestEveryCommandByEveryRole(t *testing.T) {
	server, _ := serve(t)
	all := operations(t)
	nobody := client(t)
	for _, role := range act.AllRoles {
		c := signIn(t, server, role)
		for _, command := range all {
			if command.job == "signOutEverywhere" {
				continue // it would end the session that the next ones need: TestOwnAccount
			}
			mediaType, body := "application/json", bodies[command.job]
			if command.upload {
				var b bytes.Buffer
				form := multipart.NewWriter(&b)
				require.NoError(t, form.Close())
				mediaType, body = form.FormDataContentType(), b.String()
			}
			response, problem := send(t, c, "POST", server.URL+command.path, mediaType, body)
			if slices.Contains(command.roles, role) {
				require.NotEqual(t, http.StatusForbidden, response.StatusCode, "%s by %s: %s", command.job, role, problem.Sentence)
				require.Less(t, response.StatusCode, 500, "%s by %s", command.job, role)
			} else {
				require.Equal(t, http.StatusForbidden, response.StatusCode, "%s by %s: %s", command.job, role, problem.Sentence)
			}
			response, problem = send(t, nobody, "POST", server.URL+command.path, mediaType, body)
			require.Equal(t, http.StatusUnauthorized, response.StatusCode, command.job)
			require.Equal(t, contract.Kind("sign_in"), problem.Kind)
		}
	}
}

func TestDoors(t *testing.T) {
	server, _ := serve(t)
	c := signIn(t, server, "clerk")
	for _, path := range []string{"/", "/invoices/5", "/api/session", "/assets/a-1.js"} {
		response, _ := send(t, c, "GET", server.URL+path, "", "")
		require.Equal(t, http.StatusOK, response.StatusCode, path)
		require.Contains(t, response.Header.Get("Content-Security-Policy"), "default-src 'self'")
		require.NotContains(t, response.Header.Get("Content-Security-Policy"), "unsafe")
		require.Equal(t, "nosniff", response.Header.Get("X-Content-Type-Options"))
	}
	request, err := http.NewRequest("POST", server.URL+"/api/match", nil)
	require.NoError(t, err)
	request.Header.Set("Sec-Fetch-Site", "cross-site")
	response, err := c.Do(request)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	require.Equal(t, http.StatusForbidden, response.StatusCode, "another site may not command")

	for _, x := range []struct {
		method, path, body string
		status             int
	}{
		{"GET", "/api/nothing", "", 404}, {"GET", "/assets/gone.js", "", 404}, {"DELETE", "/api/orders", "", 404}, {"GET", "/api/orders/77", "", 404}, {"GET", "/api/orders/x", "", 422},
		{"POST", "/api/deliveries", "{", 422}, {"POST", "/api/deliveries", `{"order":1}`, 422}, {"POST", "/api/deliveries", `{"order":1,"note":"","day":"","place":"","condition":"","lines":[],"more":1}`, 422},
		{"POST", "/api/invoices", strings.Repeat(" ", mostJSON+10), 422}, {"GET", "/api/find?q=" + strings.Repeat("x", 300), "", 422},
	} {
		response, problem := send(t, c, x.method, server.URL+x.path, "application/json", x.body)
		require.Equal(t, x.status, response.StatusCode, "%s %s: %s", x.method, x.path, problem.Sentence)
		require.NotContains(t, problem.Sentence, "goroutine")
	}
	response, _ = send(t, c, "POST", server.URL+"/api/session/sign-out", "", "")
	require.Equal(t, http.StatusNoContent, response.StatusCode)
	response, _ = send(t, c, "GET", server.URL+"/api/course", "", "")
	require.Equal(t, http.StatusUnauthorized, response.StatusCode, "a session ends with signing out")
}

func TestCookieIsHeldFast(t *testing.T) {
	server, _ := serve(t)
	response, err := http.Post(server.URL+"/api/session/sign-in", "application/json", strings.NewReader(`{"login":"clerk","password":"`+password+`"}`))
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	cookie := response.Header.Get("Set-Cookie")
	require.Contains(t, cookie, "HttpOnly")
	require.Contains(t, cookie, "SameSite=Strict")
	require.NotContains(t, cookie, "Secure", "without TLS it would never come back")
	require.Empty(t, response.Header.Get("Strict-Transport-Security"))

	server, _ = serveWith(t, slog.New(slog.DiscardHandler), func(o *Options) { o.Secure = true })
	response, err = http.Post(server.URL+"/api/session/sign-in", "application/json", strings.NewReader(`{"login":"clerk","password":"`+password+`"}`))
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	require.Contains(t, response.Header.Get("Set-Cookie"), "Secure")
	require.True(t, strings.HasPrefix(response.Header.Get("Set-Cookie"), "__Host-lagoon="))
	require.Contains(t, response.Header.Get("Set-Cookie"), "Path=/")
	require.NotContains(t, response.Header.Get("Set-Cookie"), "Max-Age", "a session goes with the browser")
	require.NotContains(t, response.Header.Get("Set-Cookie"), "Expires")
	require.Contains(t, response.Header.Get("Strict-Transport-Security"), "max-age=")
	require.Equal(t, "no-store", response.Header.Get("Cache-Control"))
}

// Guessing is slowed down, and the waiting is said.
func TestSignInIsSlowedDown(t *testing.T) {
	server, _ := serve(t)
	c := client(t)
	var problem contract.Problem
	for n := 0; n < freeByName+12 && !strings.Contains(problem.Sentence, "Too many attempts"); n++ { // the waits grow past what a try takes
		_, problem = send(t, c, "POST", server.URL+"/api/session/sign-in", "application/json", `{"login":"clerk","password":"wrong wrong wrong"}`)
	}
	require.Contains(t, problem.Sentence, "Too many attempts")
	response, problem := send(t, c, "POST", server.URL+"/api/session/sign-in", "application/json", `{"login":"clerk","password":"`+password+`"}`)
	require.Equal(t, http.StatusTooManyRequests, response.StatusCode, problem.Sentence)
	require.NotEmpty(t, response.Header.Get("Retry-After"))
	require.NotEqual(t, "0", response.Header.Get("Retry-After"))
}

func TestFilesArePackedAndKept(t *testing.T) {
	server, _ := serve(t)
	request, err := http.NewRequest("GET", server.URL+"/assets/a-1.js", nil)
	require.NoError(t, err)
	request.Header.Set("Accept-Encoding", "gzip")
	response, err := http.DefaultTransport.RoundTrip(request)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	require.Equal(t, "gzip", response.Header.Get("Content-Encoding"))
	require.Contains(t, response.Header.Get("Cache-Control"), "immutable")
	require.Less(t, response.ContentLength, int64(200))
}

// The same key for another document is refused, and nothing is done.
func TestAKeyNamesItsDocument(t *testing.T) {
	server, s := serve(t)
	c := signIn(t, server, "administrator")
	body := `{"login":"kit","name":"Kit","password":"another long one","roles":["reader"],"authority":"0","comma":false}`
	give := func(key, body string) (*http.Response, contract.Problem) {
		request, err := http.NewRequest("POST", server.URL+"/api/people", strings.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/json")
		request.Header.Set("Idempotency-Key", key)
		response, err := c.Do(request)
		require.NoError(t, err)
		defer response.Body.Close()
		var problem contract.Problem
		if response.StatusCode >= 400 {
			require.NoError(t, json.NewDecoder(response.Body).Decode(&problem))
		}
		return response, problem
	}
	for range 2 {
		response, problem := give("k", body)
		require.Equal(t, http.StatusOK, response.StatusCode, problem.Sentence)
	}
	response, problem := give("k", strings.Replace(body, "kit", "tik", 1))
	require.Equal(t, http.StatusUnprocessableEntity, response.StatusCode)
	require.Contains(t, problem.Sentence, "used for something else")
	require.NoError(t, s.Read(t.Context(), func(tx *store.Tx) error {
		people, err := tx.People()
		require.Len(t, people, len(act.AllRoles)+1)
		return err
	}))
}

// A refusal inside Lagoon is one sentence, never what went wrong.
func TestTroubleIsNotShown(t *testing.T) {
	server, s := serve(t)
	c := signIn(t, server, "clerk")
	_, err := byhand.On(t, s).ExecContext(t.Context(), `ALTER TABLE supplier RENAME TO gone`)
	require.NoError(t, err)
	response, problem := send(t, c, "GET", server.URL+"/api/suppliers", "", "")
	require.Equal(t, http.StatusInternalServerError, response.StatusCode)
	id := response.Header.Get("X-Request-Id")
	require.Len(t, id, 12)
	require.Equal(
		t,
		"Something went wrong inside Lagoon. Nothing was booked; try again. If it stays so, tell your administrator the number "+id+".",
		problem.Sentence,
	)
}
