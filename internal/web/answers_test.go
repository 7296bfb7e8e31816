package web

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/reading"
	"lagoon/internal/demo"
	"lagoon/internal/outside/bank"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// The morning on which the aquarium is looked at.
var morning = time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC)

var aquarium struct {
	sync.Once
	folder string
	err    error
}

// serveAquarium starts a server on a copy of the demo's year, which is made once.
func serveAquarium(t *testing.T) *httptest.Server {
	t.Helper()
	server, _ := serveAquariumWith(t)
	return server
}

func serveAquariumWith(t *testing.T) (*httptest.Server, *act.App) {
	t.Helper()
	aquarium.Do(func() {
		if aquarium.folder, aquarium.err = os.MkdirTemp("", "lagoon-web"); aquarium.err != nil {
			return
		}
		s, err := store.OpenUnsynced(t.Context(), filepath.Join(aquarium.folder, "lagoon.db"))
		if err == nil {
			err = demo.Build(t.Context(), s, morning, filepath.Join(aquarium.folder, "post"), filepath.Join(aquarium.folder, "bank"))
		}
		if s != nil {
			if closing := s.Close(); err == nil {
				err = closing
			}
		}
		aquarium.err = err
	})
	require.NoError(t, aquarium.err)
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(folder, os.DirFS(aquarium.folder)))
	return serveFrom(t, folder)
}

// eyes see the same on every paper.
type eyes struct{}

func (eyes) Read(context.Context, []byte) (reading.Paper, error) {
	var words []reading.Word
	for i, text := range []string{"Brackwater", "Feeds", "Invoice", "BF-20499"} {
		words = append(words, reading.Word{Text: text, Box: reading.Box{Page: 1, Left: i * 100, Top: 10, Right: i*100 + 90, Bottom: 20}})
	}
	return reading.Paper{Words: words, Pages: 1, Read: 1}, nil
}

const foundingCode = "abcd-efgh"

// serveFrom serves the data of a folder on the demo's morning; in an empty folder, a Lagoon that nobody has set up.
func serveFrom(t *testing.T, folder string) (*httptest.Server, *act.App) {
	t.Helper()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	app := act.New(s, act.Options{Now: func() time.Time { return morning }})
	return answering(t, folder, s, Options{
		App: app, Log: slog.New(slog.DiscardHandler), FoundingCode: foundingCode, Papers: eyes{},
		StandIn: bank.OnScreen{Simulated: bank.Simulated{Folder: filepath.Join(folder, "bank"), Now: time.Now}},
	}), app
}

// signInAs signs one of the aquarium's people in.
func signInAs(t *testing.T, server *httptest.Server, login string) *http.Client {
	t.Helper()
	return signInWith(t, server, login, demo.Password)
}

// asking asks questions and holds every answer against the contract.
type asking struct {
	t      *testing.T
	client *http.Client
	base   string
	router routers.Router
	asked  map[string]int // answers that were good, by operation
}

func (a *asking) get(path string) int {
	a.t.Helper()
	request, err := http.NewRequestWithContext(a.t.Context(), http.MethodGet, a.base+path, nil)
	require.NoError(a.t, err)
	response, err := a.client.Do(request)
	require.NoError(a.t, err)
	defer response.Body.Close()
	content, err := io.ReadAll(response.Body)
	require.NoError(a.t, err)
	plain, err := http.NewRequest(http.MethodGet, path, nil)
	require.NoError(a.t, err)
	route, params, err := a.router.FindRoute(plain)
	require.NoError(a.t, err, path)
	err = openapi3filter.ValidateResponse(a.t.Context(), &openapi3filter.ResponseValidationInput{
		RequestValidationInput: &openapi3filter.RequestValidationInput{Request: plain, PathParams: params, Route: route},
		Status:                 response.StatusCode, Header: response.Header, Body: io.NopCloser(bytes.NewReader(content)),
		Options: &openapi3filter.Options{IncludeResponseStatus: true}})
	require.NoError(a.t, err, "%s answers %d: %.400s", path, response.StatusCode, content)
	if response.StatusCode == http.StatusOK {
		a.asked[route.Operation.OperationID]++
	}
	return response.StatusCode
}

// Every question of the contract is answered as the contract says, over all that a year leaves behind: every order, delivery,
// invoice, run and master in whatever state it is; and what is not there is said so in the same form.
func TestEveryAnswerIsAsTheContractSays(t *testing.T) {
	server := serveAquarium(t)
	spec, err := contract.GetSpec()
	require.NoError(t, err)
	spec.Servers = nil
	router, err := gorillamux.NewRouter(spec)
	require.NoError(t, err)
	openapi3filter.RegisterBodyDecoder("application/pdf", openapi3filter.FileBodyDecoder)
	for _, pictures := range []string{"image/jpeg", "image/png", "application/xml", "text/csv", "application/octet-stream", "message/rfc822"} {
		openapi3filter.RegisterBodyDecoder(pictures, openapi3filter.FileBodyDecoder)
	}
	a := &asking{t: t, client: signInAs(t, server, "ivo"), base: server.URL, router: router, asked: map[string]int{}}
	buyer, administrator, treasurer := a.client, signInAs(t, server, "rhea"), signInAs(t, server, "tomas")
	var billed int64
	for _, i := range fetch[[]contract.InvoiceSlip](t, a.client, server.URL+"/api/invoices") {
		if i.State == "verified" && i.Kind == "invoice" {
			billed = i.Number
		}
	}
	for path, item := range spec.Paths.Map() { // those that name nothing
		if a.client = buyer; strings.HasPrefix(path, "/api/record") || path == "/api/ways-in" {
			a.client = administrator
		} else if path == "/api/bank/stand-in" || path == "/api/proof" {
			a.client = treasurer
		}
		if item.Get != nil && !strings.Contains(path, "{") {
			query := map[string]string{"/api/orders/choices": "?supplier=BRACK", "/api/papers": "?on=item&of=PUMP", "/api/invoices/numbered": "?supplier=BRACK&number=BF-20344", "/api/find": "?q=brack", "/api/payments/proposed-run": "?dueBy=2027-01-31&payOn=2026-11-24", "/api/coding-proposal": "?supplier=CORRA", "/api/invoice-start": "?typed=BRACK", "/api/open-receipts": "?supplier=BRACK", "/api/credit-proposal": fmt.Sprintf("?invoice=%d", billed)}[path]
			require.Equal(t, http.StatusOK, a.get(path+query), path)
		}
	}
	a.client = buyer
	for _, s := range fetch[contract.SupplierNames](t, a.client, server.URL+"/api/suppliers").Rows {
		for _, what := range []string{"", "/notes?stage=orders", "/performance?from=2025-11-01&until=2026-11-30"} {
			require.Equal(t, http.StatusOK, a.get("/api/suppliers/"+s.Code+what))
		}
		require.Equal(t, http.StatusOK, a.get("/api/orders/choices?supplier="+s.Code))
	}
	for _, i := range fetch[contract.ItemNames](t, a.client, server.URL+"/api/items").Rows {
		require.Equal(t, http.StatusOK, a.get("/api/items/"+i.Code))
	}
	for _, kind := range []string{"suppliers", "items", "orders"} {
		for _, as := range []string{"csv", "xlsx"} {
			require.Equal(t, http.StatusOK, a.get("/api/tables/"+kind+"?as="+as))
		}
	}
	for _, part := range fetch[contract.Lists](t, a.client, server.URL+"/api/lists").Parts {
		for _, l := range part.Lists {
			for _, what := range []string{"", "/sums", "/file?as=csv", "/file?as=pdf"} {
				require.Equal(t, http.StatusOK, a.get("/api/lists/"+l.Key+what), l.Key+what)
			}
		}
	}
	require.Equal(t, http.StatusNotFound, a.get("/api/lists/nothing"))
	for _, as := range []string{"pdf", "xlsx"} {
		require.Equal(t, http.StatusOK, a.get("/api/month-end/2026-10/pack?as="+as))
	}
	for _, as := range []string{"csv", "xlsx"} {
		require.Equal(t, http.StatusOK, a.get("/api/ledger-exports/1/file?as="+as))
	}
	require.Equal(t, http.StatusNotFound, a.get("/api/ledger-exports/99/file"))
	require.Equal(t, http.StatusOK, a.get("/api/supplier-statements/1"))
	require.Equal(t, http.StatusNotFound, a.get("/api/supplier-statements/99"))
	require.Equal(t, http.StatusUnprocessableEntity, a.get("/api/supplier-ranking?from=x"))
	require.Equal(t, http.StatusOK, a.get("/api/month-end?month=2026-09"))
	require.Equal(t, http.StatusOK, a.get("/api/budget-years?year=2025"))
	require.Equal(t, http.StatusOK, a.get("/api/budget-years/FEED?year=2026"))
	require.Equal(t, http.StatusOK, a.get("/api/glance?on=2026-11-20"))
	require.Equal(t, http.StatusOK, a.get("/api/chase"))
	require.Equal(t, http.StatusOK, a.get("/api/chase?supplier=BRACK"))
	require.Equal(t, http.StatusNotFound, a.get("/api/chase?supplier=NONE"))
	require.Equal(t, http.StatusNotFound, a.get("/api/budget-years/NONE"))
	require.Equal(t, http.StatusOK, a.get(fmt.Sprintf("/api/invoices/%d/alike", billed)))
	require.Equal(t, http.StatusNotFound, a.get("/api/invoices/99999/alike"))
	for number := 1; number <= 3; number++ {
		for _, what := range []string{"arrivals", "notices", "drafts"} {
			a.get(fmt.Sprintf("/api/%s/%d", what, number))
		}
	}
	for _, o := range fetch[[]contract.OrderSlip](t, a.client, server.URL+"/api/orders") {
		for _, what := range []string{"", "/letter?kind=order", "/letter?kind=reminder", "/letter?kind=cancellation", "/invoice-proposal"} {
			require.Equal(t, http.StatusOK, a.get(fmt.Sprintf("/api/orders/%d%s", o.Number, what)))
		}
	}
	newest := fetch[[]contract.OrderSlip](t, a.client, server.URL+"/api/orders")[0].Number
	for number := newest - 8; number <= newest; number++ {
		for _, what := range []string{"/pdf", "/pdf?prices=false", "/xml", "/mails/1"} {
			a.get(fmt.Sprintf("/api/orders/%d%s", number, what))
		}
	}
	for number := 7001; a.get(fmt.Sprintf("/api/deliveries/%d", number)) == http.StatusOK; number++ {
		a.get(fmt.Sprintf("/api/deliveries/%d/photos/1", number))
		a.get(fmt.Sprintf("/api/returns/%d/note", number))
	}
	for _, i := range fetch[[]contract.InvoiceSlip](t, a.client, server.URL+"/api/invoices") {
		require.Equal(t, http.StatusOK, a.get(fmt.Sprintf("/api/invoices/%d", i.Number)))
		a.get(fmt.Sprintf("/api/invoices/%d/paper", i.Number))
		a.get(fmt.Sprintf("/api/invoices/%d/paper/reading", i.Number))
		a.get(fmt.Sprintf("/api/invoices/%d/paper/pages/1", i.Number))
		a.get(fmt.Sprintf("/api/invoices/%d/page", i.Number))
		require.Equal(t, http.StatusOK, a.get(fmt.Sprintf("/api/history/invoice/%d", i.Number)))
	}
	for number := 301; a.get(fmt.Sprintf("/api/runs/%d", number)) == http.StatusOK; number++ {
		a.get(fmt.Sprintf("/api/runs/%d/file", number))
		a.get(fmt.Sprintf("/api/runs/%d/advices/1", number))
	}
	require.Equal(t, http.StatusOK, a.get("/api/bank/statements/1"))
	for number := 1; a.get(fmt.Sprintf("/api/mails/%d", number)) == http.StatusOK; number++ {
		a.get(fmt.Sprintf("/api/mails/%d/files/0", number))
		a.get(fmt.Sprintf("/api/mails/%d/files/1", number))
		a.get(fmt.Sprintf("/api/mails/%d/files/1/reading", number))
		a.get(fmt.Sprintf("/api/mails/%d/files/1/pages/1", number))
		require.Equal(t, http.StatusOK, a.get(fmt.Sprintf("/api/history/mail/%d", number)))
	}
	for number := 1; a.get(fmt.Sprintf("/api/papers/%d", number)) == http.StatusOK; number++ {
		a.get(fmt.Sprintf("/api/papers/%d/pages/1", number))
	}
	require.Equal(t, http.StatusNotFound, a.get("/api/papers?on=item&of=NONE"))
	require.Equal(t, http.StatusUnprocessableEntity, a.get("/api/papers?on=nothing&of=1"))
	a.client = signInAs(t, server, "nora")
	for number := 1; a.get(fmt.Sprintf("/api/batches/%d", number)) == http.StatusOK; number++ {
		for _, what := range []string{"/trial", "/report"} {
			require.Equal(t, http.StatusOK, a.get(fmt.Sprintf("/api/batches/%d%s", number, what)))
		}
	}
	a.client = buyer
	a.get("/api/mails")
	a.get("/api/questions")
	a.get("/api/colleagues")
	require.Equal(t, http.StatusOK, a.get("/api/journal/1"))
	require.Equal(t, http.StatusOK, a.get("/api/periods/2026-11"))
	require.Equal(t, http.StatusNotFound, a.get("/api/orders/99999"))
	for path, item := range spec.Paths.Map() {
		if item.Get != nil {
			require.Positive(t, a.asked[item.Get.OperationID], "nothing answers %s", path)
		}
	}
	require.Greater(t, a.asked["GetDelivery"], 80)
	require.Greater(t, a.asked["GetInvoice"], 40)
}
