package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"path/filepath"
	"slices"
	"sync"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/house"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/web"
)

const (
	clicking = 20 * time.Second
	clickers = 8
	imported = 800
)

// clickAround lets some click at random through a server on a history while invoices are
// imported, and reports what each call took.
func clickAround(ctx context.Context, folder string, last int64) error {
	started := time.Now()
	s, err := store.Open(ctx, filepath.Join(folder, "lagoon.db"))
	if err != nil {
		return err
	}
	if err := s.Prepare(ctx); err != nil {
		return err
	}
	lagoon, err := house.New(ctx, folder, s, house.Options{
		Jobs: act.Options{Now: func() time.Time { return now }},
		Web: web.Options{
			Log: slog.New(slog.DiscardHandler),
		},
	})
	if err != nil {
		return err
	}
	app := lagoon.App
	server := httptest.NewServer(lagoon.Handler)
	defer server.Close()
	if response, err := http.Get(server.URL + "/api/session"); err != nil {
		return err
	} else if err := response.Body.Close(); err != nil {
		return err
	}
	fmt.Printf("\nStart to first answer on %d invoices: %d ms.\n", last, time.Since(started).Milliseconds())

	w := &world{store: s, app: app, folder: folder, people: map[string]act.Actor{}}
	for _, login := range []string{"clerk", "receiver", "buyer"} {
		if w.people[login], err = app.ActorByLogin(ctx, login); err != nil {
			return err
		}
	}
	files := make([]act.File, imported)
	for i := range files {
		order, err := w.order(ctx, int(last)+5000+i)
		if err != nil {
			return err
		}
		files[i] = invoice(order, int(last)+5000+i)
	}
	working, stop := context.WithCancel(ctx)
	worker := house.StartWorker(working, app, house.UsualSweep)
	defer func() { stop(); <-worker }()

	paths := []string{
		"/api/course",
		"/api/orders",
		fmt.Sprintf("/api/orders?before=%d", 4001+last/2),
		"/api/receiving",
		"/api/orders/%d",
		"/api/invoices/pile",
		"/api/invoices",
		"/api/invoices/%d",
		"/api/holds",
		"/api/payments",
		"/api/journal",
		"/api/find?q=%d",
	}
	var lock sync.Mutex
	took := map[string][]time.Duration{}
	note := func(name string, d time.Duration) {
		lock.Lock()
		defer lock.Unlock()
		took[name] = append(took[name], d)
	}
	var all sync.WaitGroup
	failed := make(chan error, clickers+1)
	until := time.Now().Add(clicking)
	for range clickers {
		client, err := signedIn(server.URL, "clerk")
		if err != nil {
			return err
		}
		all.Go(func() {
			for time.Now().Before(until) {
				path := paths[rand.IntN(len(paths))]
				url := path
				switch path {
				case "/api/orders/%d", "/api/find?q=%d":
					url = fmt.Sprintf(path, 4001+rand.Int64N(last))
				case "/api/invoices/%d":
					url = fmt.Sprintf(path, 1001+rand.Int64N(last))
				}
				begun := time.Now()
				response, err := client.Get(server.URL + url)
				if err == nil {
					_, err = io.Copy(io.Discard, response.Body)
					_ = response.Body.Close() // read to its end
					if err == nil && response.StatusCode != http.StatusOK {
						err = fmt.Errorf("%s answered %s", url, response.Status)
					}
				}
				if err != nil {
					failed <- err
					return
				}
				note(path, time.Since(begun))
				time.Sleep(time.Duration(20+rand.IntN(60)) * time.Millisecond)
			}
		})
	}
	client, err := signedIn(server.URL, "clerk")
	if err != nil {
		return err
	}
	all.Go(func() {
		begun := time.Now()
		for batch := range slices.Chunk(files, invoices.ImportBatch) {
			if err := upload(client, server.URL, batch, note); err != nil {
				failed <- err
				return
			}
		}
		note("the whole import", time.Since(begun))
	})
	all.Wait()
	select {
	case err := <-failed:
		return err
	default:
	}
	fmt.Printf(
		"\n%d people clicking for %.0f s while %d invoices are imported, %d invoices of history:\n\n| call | times | p50 | p99 |\n|---|--:|--:|--:|\n",
		clickers,
		clicking.Seconds(),
		imported,
		last,
	)
	names := make([]string, 0, len(took))
	for name := range took {
		names = append(names, name)
	}
	slices.Sort(names)
	for _, name := range names {
		t := took[name]
		slices.Sort(t)
		fmt.Printf(
			"| %s | %d | %.1f ms | %.1f ms |\n",
			name,
			len(t),
			t[len(t)/2].Seconds()*1000,
			t[len(t)*99/100].Seconds()*1000,
		)
	}
	return lagoon.Close()
}

func signedIn(url, login string) (*http.Client, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	client := &http.Client{Jar: jar}
	body, err := json.Marshal(map[string]string{"login": login, "password": password})
	if err != nil {
		return nil, err
	}
	response, err := client.Post(url+"/api/session/sign-in", "application/json", bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	if response.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("sign-in answered %s", response.Status)
	}
	return client, response.Body.Close()
}

func upload(client *http.Client, url string, batch []act.File, note func(string, time.Duration)) error {
	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	for _, f := range batch {
		part, err := form.CreateFormFile("files", f.Name)
		if err != nil {
			return err
		}
		if _, err := part.Write(f.Content); err != nil {
			return err
		}
	}
	if err := form.Close(); err != nil {
		return err
	}
	begun := time.Now()
	response, err := client.Post(url+"/api/invoices/import", form.FormDataContentType(), &body)
	if err != nil {
		return err
	}
	var results []struct{ Outcome, Sentence string }
	if err := json.NewDecoder(response.Body).Decode(&results); err != nil {
		return err
	}
	for _, r := range results {
		if r.Outcome != "verified" {
			return fmt.Errorf("%s: %s", r.Outcome, r.Sentence)
		}
	}
	note("16 invoices imported", time.Since(begun))
	return response.Body.Close()
}
