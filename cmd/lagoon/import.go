package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"iter"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/unpack"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/outside/papertext"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

type importing struct {
	data, as, server, sealKey string
	json                      bool // a line of JSON for each file
	files                     []string
}

// run takes e-invoices in: through a running server, or into the data itself. One
// bad file never stops the rest; the error at the end counts them.
func (i importing) run(ctx context.Context, in io.Reader, out io.Writer) error {
	if len(i.files) == 0 {
		return misused{"name the files to take in: files, folders, or - for what is piped in"}
	}
	named, err := filesIn(i.files)
	if err != nil {
		return err
	}
	i.files = named
	take, done, err := i.taker(ctx)
	if err != nil {
		return err
	}
	defer done()
	var unread error
	bad, seen, lost := 0, 0, 0
	files := func(yield func(act.File) bool) {
		for _, name := range i.files {
			content, err := contentOf(name, in)
			if err != nil {
				unread = errors.Join(unread, err)
				lost++
			} else if !yield(act.File{Name: name, Content: content}) {
				return
			}
		}
	}
	err = take(files, func(name, outcome, sentence string) error {
		seen++
		if outcome == "refused" || outcome == "duplicate" {
			bad++
		}
		if i.json {
			return json.NewEncoder(out).Encode(struct {
				File     string `json:"file"`
				Outcome  string `json:"outcome"`
				Sentence string `json:"sentence"`
			}{name, outcome, sentence})
		}
		_, err := fmt.Fprintf(
			out,
			"%*d of %d  %-10s %s: %s\n",
			len(strconv.Itoa(len(i.files))),
			seen,
			max(seen, len(i.files)), // an archive turns out to hold more
			outcome,
			name,
			sentence,
		)
		return err
	})
	if err != nil {
		return errors.Join(err, unread)
	}
	if bad += lost; bad > 0 {
		return errors.Join(fmt.Errorf("%d of %d files were not taken in", bad, seen+lost), unread)
	}
	return nil
}

const piped = "-"

// contentOf reads a file, or what is piped in.
func contentOf(name string, in io.Reader) ([]byte, error) {
	if name == piped {
		return io.ReadAll(in)
	}
	return os.ReadFile(name)
}

// invoiceFiles are what invoices come in: alone, together in an archive or a mail, inside a PDF, or as a picture.
var invoiceFiles = []string{".xml", ".zip", ".pdf", ".eml", ".jpg", ".jpeg", ".png", ".tif", ".tiff"}

// filesIn names the files that are to be taken in: of a folder, all that may hold e-invoices, by name.
func filesIn(names []string) ([]string, error) {
	var files []string
	for _, name := range names {
		info, err := os.Stat(name)
		if name == piped || err != nil || !info.IsDir() {
			files = append(files, name) // one that is not there is told among the others
			continue
		}
		entries, err := os.ReadDir(name)
		if err != nil {
			return nil, err
		}
		for _, e := range entries {
			if !e.IsDir() && slices.Contains(invoiceFiles, strings.ToLower(filepath.Ext(e.Name()))) {
				files = append(files, filepath.Join(name, e.Name()))
			}
		}
	}
	if len(files) == 0 {
		return nil, fmt.Errorf("nothing that could hold an invoice is in %s", strings.Join(names, ", "))
	}
	return files, nil
}

// taker takes files in and tells what became of each.
type taker func(files iter.Seq[act.File], told func(name, outcome, sentence string) error) error

func (i importing) taker(ctx context.Context) (taker, func(), error) {
	if i.server != "" {
		take, err := i.remote(ctx)
		return take, func() {}, err
	}
	if _, err := dataIn(i.data); err != nil {
		return nil, nil, fmt.Errorf("%w: start one with “lagoon serve”, or name another with -data", err)
	}
	unlock, err := lock(i.data)
	if err != nil {
		return nil, nil, fmt.Errorf("%w; name it with -server", err)
	}
	data, err := open(ctx, place{i.data, i.sealKey})
	if err != nil {
		unlock()
		return nil, nil, err
	}
	done := func() { _ = data.Close(); unlock() }
	app, actor := act.New(data, act.Options{Words: papertext.New()}), act.Lagoon
	if i.as != "" {
		if actor, err = app.ActorByLogin(ctx, i.as); err != nil {
			done()
			return nil, nil, err
		}
	}
	command := act.Command{Actor: actor, Cause: commandLine, Address: commandLine}
	return func(files iter.Seq[act.File], told func(name, outcome, sentence string) error) error {
		imported := func(r invoices.Imported) error {
			outcome, sentence := invoices.ImportOutcome(say.Printer{}, r.Captured, r.Err)
			return told(r.Name, outcome, sentence)
		}
		refused := func(name string, no error) error { return imported(invoices.Imported{Name: name, Err: no}) }
		err := intake.Taking{
			Alone: func(f act.File) error {
				taken, err := intake.TakeAlone(ctx, app, command, store.MailDropped, f, invoices.Arrive)
				var no *fault.Fault
				switch {
				case errors.As(err, &no):
					return refused(f.Name, no)
				case err != nil:
					return err
				}
				outcome, sentence := intake.Outcome(taken)
				return told(f.Name, outcome, sentence)
			},
			Together: func(all []act.File) error { return invoices.Import(ctx, app, command, slices.Values(all), imported) },
			Refused:  refused,
			Most:     invoices.ImportBatch,
		}.InOrder(files)
		return errors.Join(err, invoices.Drain(ctx, app))
	}, done, nil
}

// mostSent is how many bytes of files one upload takes at most, well below what a server
// accepts.
const mostSent = 32 << 20

// remote sends the files to a running server in the name of a person.
func (i importing) remote(ctx context.Context) (taker, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	client := &http.Client{Jar: jar}
	base := strings.TrimSuffix(i.server, "/")
	if at, err := url.Parse(base); err != nil || at.Host == "" || (at.Scheme != "http" && at.Scheme != "https") {
		return nil, misused{fmt.Sprintf("-server %s is no address; it looks like https://lagoon.example", i.server)}
	}
	switch {
	case i.as == "":
		return nil, misused{"say with -as who takes the files in"}
	case os.Getenv("LAGOON_PASSWORD") == "":
		return nil, errors.New(
			"put the password of " + i.as + " into LAGOON_PASSWORD; it is not given on the command line, where others see it",
		)
	}
	sign, err := json.Marshal(map[string]string{"login": i.as, "password": os.Getenv("LAGOON_PASSWORD")})
	if err != nil {
		return nil, err
	}
	if err := call(ctx, client, base+"/api/session/sign-in", "application/json", sign, nil); err != nil {
		return nil, err
	}
	send := func(batch []act.File, told func(name, outcome, sentence string) error) error {
		var body bytes.Buffer
		form := multipart.NewWriter(&body)
		for _, f := range batch {
			part, err := form.CreateFormFile("files", filepath.Base(f.Name))
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
		var results []struct{ Outcome, Sentence string }
		if err := call(ctx, client, base+"/api/invoices/import", form.FormDataContentType(), body.Bytes(), &results); err != nil {
			return err
		}
		if len(results) != len(batch) {
			return fmt.Errorf("%s answered for %d files of %d", base, len(results), len(batch))
		}
		for i, r := range results {
			if err := told(batch[i].Name, r.Outcome, r.Sentence); err != nil {
				return err
			}
		}
		return nil
	}
	return func(files iter.Seq[act.File], told func(name, outcome, sentence string) error) error {
		var batch []act.File
		size := 0
		for archive := range files {
			for f, refused := range unpack.Each(unpack.File(archive)) { // each is told by itself
				if refused != nil {
					if err := told(f.Name, "refused", refused.Error()); err != nil {
						return err
					}
					continue
				}
				if len(batch) == invoices.ImportBatch || (len(batch) > 0 && size+len(f.Content) > mostSent) {
					if err := send(batch, told); err != nil {
						return err
					}
					batch, size = nil, 0
				}
				batch, size = append(batch, act.File(f)), size+len(f.Content)
			}
		}
		if len(batch) == 0 {
			return nil
		}
		return send(batch, told)
	}, nil
}

func call(ctx context.Context, client *http.Client, address, mediaType string, body []byte, answer any) error {
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, address, bytes.NewReader(body))
	if err != nil {
		return err
	}
	request.Header.Set("Content-Type", mediaType)
	response, err := client.Do(request)
	if err != nil {
		return fmt.Errorf("nothing answers at %s: %w", request.URL.Host, err)
	}
	defer func() { _ = response.Body.Close() }()
	if response.StatusCode >= 300 {
		var problem struct{ Sentence string }
		if err := json.NewDecoder(response.Body).Decode(&problem); err != nil || problem.Sentence == "" {
			return fmt.Errorf("%s answered %s", address, response.Status)
		}
		return errors.New(problem.Sentence)
	}
	if answer == nil {
		return nil
	}
	return json.NewDecoder(response.Body).Decode(answer)
}
