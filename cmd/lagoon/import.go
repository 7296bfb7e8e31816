package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/jobs"
)

type importing struct {
	data, as, server string
	files            []string
}

// run takes e-invoices in: through a running server, or into the data itself. One
// bad file never stops the rest; the error at the end counts them.
func (i importing) run(ctx context.Context, out io.Writer) error {
	if len(i.files) == 0 {
		return errors.New("name the files to take in")
	}
	take, done, err := i.taker(ctx)
	if err != nil {
		return err
	}
	defer done()
	bad := 0
	for _, name := range i.files {
		content, err := os.ReadFile(name)
		outcome, sentence := "refused", ""
		if err != nil {
			sentence = err.Error()
		} else if outcome, sentence, err = take(jobs.File{Name: filepath.Base(name), Content: content}); err != nil {
			return err
		}
		if outcome == "refused" || outcome == "duplicate" {
			bad++
		}
		if _, err := fmt.Fprintf(out, "%-10s %s: %s\n", outcome, name, sentence); err != nil {
			return err
		}
	}
	if bad > 0 {
		return fmt.Errorf("%d of %d files were not taken in", bad, len(i.files))
	}
	return nil
}

type taker func(jobs.File) (outcome, sentence string, err error)

func (i importing) taker(ctx context.Context) (taker, func(), error) {
	if i.server != "" {
		take, err := i.remote(ctx)
		return take, func() {}, err
	}
	unlock, err := lock(i.data)
	if err != nil {
		return nil, nil, fmt.Errorf("%w; name it with -server", err)
	}
	data, err := open(ctx, i.data)
	if err != nil {
		unlock()
		return nil, nil, err
	}
	done := func() { _ = data.Close(); unlock() }
	app, actor := jobs.New(data, jobs.Options{}), jobs.Lagoon
	if i.as != "" {
		if actor, err = app.ActorByLogin(ctx, i.as); err != nil {
			done()
			return nil, nil, err
		}
	}
	return func(f jobs.File) (string, string, error) {
		captured, err := app.ImportInvoice(ctx, jobs.Command{Actor: actor, Cause: "command line"}, f)
		var no *fault.Fault
		if err != nil && !errors.As(err, &no) {
			return "", "", err
		}
		outcome, sentence := jobs.ImportOutcome(captured, err)
		return outcome, sentence, app.Drain(ctx)
	}, done, nil
}

// remote sends the files to a running server in the name of a person.
func (i importing) remote(ctx context.Context) (taker, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	client := &http.Client{Jar: jar}
	base := strings.TrimSuffix(i.server, "/")
	sign, err := json.Marshal(map[string]string{"login": i.as, "password": os.Getenv("LAGOON_PASSWORD")})
	if err != nil {
		return nil, err
	}
	if err := call(ctx, client, base+"/api/session/sign-in", "application/json", sign, nil); err != nil {
		return nil, err
	}
	return func(f jobs.File) (string, string, error) {
		var body bytes.Buffer
		form := multipart.NewWriter(&body)
		part, err := form.CreateFormFile("files", f.Name)
		if err != nil {
			return "", "", err
		}
		if _, err := part.Write(f.Content); err != nil {
			return "", "", err
		}
		if err := form.Close(); err != nil {
			return "", "", err
		}
		var results []struct{ Outcome, Sentence string }
		if err := call(ctx, client, base+"/api/invoices/import", form.FormDataContentType(), body.Bytes(), &results); err != nil {
			return "", "", err
		}
		return results[0].Outcome, results[0].Sentence, nil
	}, nil
}

func call(ctx context.Context, client *http.Client, url, mediaType string, body []byte, answer any) error {
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, url, bytes.NewReader(body))
	if err != nil {
		return err
	}
	request.Header.Set("Content-Type", mediaType)
	response, err := client.Do(request)
	if err != nil {
		return err
	}
	defer func() { _ = response.Body.Close() }()
	if response.StatusCode >= 300 {
		var problem struct{ Sentence string }
		if err := json.NewDecoder(response.Body).Decode(&problem); err != nil || problem.Sentence == "" {
			return fmt.Errorf("%s answered %s", url, response.Status)
		}
		return errors.New(problem.Sentence)
	}
	if answer == nil {
		return nil
	}
	return json.NewDecoder(response.Body).Decode(answer)
}
