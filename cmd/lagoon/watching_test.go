package main

// This file tests what whoever runs Lagoon sees of it.

import (
	"bytes"
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"database/sql"
	"encoding/json"
	"encoding/pem"
	"errors"
	"fmt"
	"io"
	"math/big"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/store"
)

// serving starts a command that answers, and gives its address, what it logs and how to stop it.
func serving(t *testing.T, words ...string) (address string, log *bytes.Buffer, stop func()) {
	t.Helper()
	said, log, stop := starting(t, words...)
	return after(t, said, "Lagoon answers on "), log, stop
}

// after is the rest of the line that begins so.
func after(t *testing.T, said, beginning string) string {
	t.Helper()
	_, rest, found := strings.Cut(said, beginning)
	require.True(t, found, said)
	line, _, _ := strings.Cut(rest, "\n")
	return line
}

// starting runs Lagoon until it answers, and tells what it said until then.
func starting(t *testing.T, words ...string) (said string, log *bytes.Buffer, stop func()) {
	t.Helper()
	ctx, cancel := context.WithCancel(t.Context())
	out := lines{make(chan string, 20)}
	ended := make(chan error, 1)
	log = &bytes.Buffer{}
	go func() { ended <- run(ctx, append(words, "-listen", "localhost:0"), out, log) }()
	stop = func() {
		cancel()
		require.NoError(t, <-ended)
	}
	for {
		select {
		case text := <-out.ch:
			said += text
			if strings.Contains(text, "answers on ") {
				return said, log, stop
			}
		case err := <-ended:
			t.Fatal(err)
		case <-time.After(time.Minute):
			t.Fatal("it does not start")
		}
	}
}

var demoAt string // empty until a test needs it

var demoMade = sync.OnceValues(func() (string, error) {
	folder, err := os.MkdirTemp("", "lagoon-demo-data")
	if err != nil {
		return "", err
	}
	demoAt = folder
	return folder, renewDemo(context.Background(), settings{data: folder, demo: true}, filepath.Join(folder, "post"), filepath.Join(folder, "bank"), io.Discard)
})

// demoData is a copy of the demo's data, which is made once for all tests.
func demoData(t *testing.T) string {
	t.Helper()
	made, err := demoMade()
	require.NoError(t, err)
	data := t.TempDir()
	require.NoError(t, os.CopyFS(data, os.DirFS(made)))
	return data
}

func TestMain(m *testing.M) {
	code := m.Run()
	_ = os.RemoveAll(demoAt)
	os.Exit(code)
}

func get(t *testing.T, client *http.Client, url string) (int, string) {
	t.Helper()
	response, err := client.Get(url)
	require.NoError(t, err)
	content, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	return response.StatusCode, string(content)
}

// Whoever watches the process is told that it lives, which it is and whether it can work; it is counted on a port of its own,
// and logged in JSON with who asked and what they were answered.
func TestHealthMetricsAndLog(t *testing.T) {
	said, log, stop := starting(t, "serve", "-data", t.TempDir(), "-metrics", "localhost:0", "-log", "json", "-v")
	url := after(t, said, "Lagoon answers on ")
	status, says := get(t, http.DefaultClient, url+"/healthz")
	require.Equal(t, http.StatusOK, status)
	require.JSONEq(t, fmt.Sprintf(`{"version":%q,"schema":%q,"commit":%q}`, version, store.SchemaID(), release), says)
	status, says = get(t, http.DefaultClient, url+"/readyz")
	require.Equal(t, http.StatusOK, status, says)
	for _, nothing := range []string{"/healthz/more", "/readyz/more", "/metrics", "/metrics/more"} {
		status, _ = get(t, http.DefaultClient, url+nothing)
		require.Equal(t, http.StatusNotFound, status, nothing)
	}
	status, _ = get(t, http.DefaultClient, url+"/api/invoices/pile")
	require.Equal(t, http.StatusUnauthorized, status)
	status, says = get(t, http.DefaultClient, after(t, said, "What it does is counted on "))
	require.Equal(t, http.StatusOK, status)
	for _, series := range []string{`lagoon_requests_total{method="GET",status="401"} 1`, "lagoon_request_seconds_bucket", "lagoon_invoices_to_match 0", "lagoon_mails_waiting 0", "process_resident_memory_bytes", "lagoon_slow_statements_total"} {
		require.Contains(t, says, series)
	}
	stop()
	var refused map[string]any
	for line := range strings.Lines(log.String()) {
		var said map[string]any
		require.NoError(t, json.Unmarshal([]byte(line), &said), line)
		if said["path"] == "/api/invoices/pile" {
			refused = said
		}
	}
	require.Equal(t, []any{float64(401), ""}, []any{refused["status"], refused["person"]})
	require.Contains(t, refused["address"], "127.0.0.1")
	require.NotEmpty(t, refused["request"])
}

// Backups are kept by number: the oldest go, and nothing that another wrote.
func TestBackupsAreKeptByNumber(t *testing.T) {
	data, folder := demoData(t), filepath.Join(t.TempDir(), "backups")
	require.NoError(t, os.MkdirAll(folder, 0o700))
	mine := filepath.Join(folder, "lagoon-before-the-move.db")
	require.NoError(t, os.WriteFile(mine, []byte("x"), 0o600))
	for range 3 {
		require.NoError(t, run(t.Context(), []string{"backup", "-data", data, "-keep", "2", folder}, io.Discard, io.Discard))
		time.Sleep(2 * time.Millisecond) // named by the time
	}
	names, err := filepath.Glob(filepath.Join(folder, "*"))
	require.NoError(t, err)
	require.Len(t, names, 3)
	require.FileExists(t, mine)

	// A copy of books that do not agree with themselves counts for nothing, however often it is made.
	by := func(change string) {
		db, err := sql.Open("sqlite3", filepath.Join(data, "lagoon.db"))
		require.NoError(t, err)
		_, err = db.ExecContext(t.Context(), change)
		require.NoError(t, errors.Join(err, db.Close()))
	}
	by(`UPDATE invoice_state SET open = open + 1 WHERE state = 'verified'`)
	for range 3 {
		err := run(t.Context(), []string{"backup", "-data", data, "-keep", "2", folder}, io.Discard, io.Discard)
		require.ErrorContains(t, err, "it is no backup, and kept as")
		time.Sleep(2 * time.Millisecond)
	}
	by(`UPDATE invoice_state SET open = open - 1 WHERE state = 'verified'`)
	require.NoError(t, run(t.Context(), []string{"backup", "-data", data, "-keep", "2", folder}, io.Discard, io.Discard))
	proved, err := filepath.Glob(filepath.Join(folder, "lagoon-2*.db"))
	require.NoError(t, err)
	require.Len(t, proved, 2)
	require.Contains(t, names, proved[0], "one of those before")
	require.Equal(t, 2, status(run(t.Context(), []string{"backup", "-keep", "-1", folder}, io.Discard, io.Discard), io.Discard))
}

// The head of the record goes out of the file; a record that does not contain it any more is told. A key outside the data
// makes what was recorded without it stand out, and a sealed record is not gone on with without one.
func TestTheRecordIsHeldAgainstWhatIsOutside(t *testing.T) {
	data, outside := demoData(t), t.TempDir()
	heads, key, other := filepath.Join(outside, "heads"), filepath.Join(outside, "key"), filepath.Join(outside, "other")
	require.NoError(t, os.WriteFile(key, []byte(strings.Repeat("k", 40)), 0o600))
	require.NoError(t, os.WriteFile(other, []byte(strings.Repeat("o", 40)), 0o600))
	_, _, stop := serving(t, "serve", "-data", data, "-head-file", heads, "-seal-key", key)
	stop()
	var out bytes.Buffer
	call := func(words ...string) error {
		out.Reset()
		return run(t.Context(), words, &out, io.Discard)
	}
	require.NoError(t, call("verify", "-data", data, "-head-file", heads, "-seal-key", key))
	require.Contains(t, out.String(), "recorded before there was a key")
	require.NoError(t, call("verify", "-data", data))
	require.Contains(t, out.String(), "which was not given")
	require.Error(t, call("verify", "-data", data, "-head", strings.Repeat("0", 64)))
	require.Contains(t, out.String(), "does not contain the head")

	require.ErrorContains(t, call("person", "-data", data, "password", "nora"), "name its file with -seal-key")
	require.NoError(t, call("person", "-data", data, "-seal-key", other, "password", "nora"))
	require.NoError(t, call("verify", "-data", data, "-seal-key", other))
	require.Contains(t, out.String(), "sealed with the key")

	db, err := sql.Open("sqlite3", filepath.Join(data, "lagoon.db"))
	require.NoError(t, err)
	_, err = db.Exec(`DROP TRIGGER audit_kept; UPDATE audit SET mac = lower(hex(randomblob(32))) WHERE seq = (SELECT max(seq) FROM audit)`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.Error(t, call("verify", "-data", data, "-seal-key", other))
	require.Contains(t, out.String(), "written by somebody who has the file alone")
	require.Contains(t, out.String(), "the trigger audit_kept is missing")
	require.ErrorContains(t, call("verify", "-data", data, "-seal-key", heads+"none"), "cannot be read")
}

// What the file is made of, its indexes and its pages are checked, and the rest goes on past what is damaged.
func TestTheFileItselfIsVerified(t *testing.T) {
	data := demoData(t)
	path := filepath.Join(data, "lagoon.db")
	whole, err := os.ReadFile(path)
	require.NoError(t, err)
	verified := func() string {
		var out bytes.Buffer
		err := run(t.Context(), []string{"verify", "-data", data}, &out, io.Discard)
		require.ErrorContains(t, err, "differences")
		return out.String()
	}
	for damage, says := range map[string]string{
		`DROP INDEX invoice_state_since`:                                        "the index invoice_state_since is missing",
		`CREATE TRIGGER mine AFTER INSERT ON entry BEGIN DELETE FROM wake; END`: "the trigger mine was added",
		`DROP TRIGGER audit_kept; UPDATE audit SET mac = 'x' WHERE seq = 2`:     "carries a seal that no key has made",
		`DROP TRIGGER entry_kept`:                                               "the trigger entry_kept is missing",
	} {
		require.NoError(t, os.WriteFile(path, whole, 0o600))
		db, err := sql.Open("sqlite3", path)
		require.NoError(t, err)
		_, err = db.Exec(damage)
		require.NoError(t, err)
		require.NoError(t, db.Close())
		require.Contains(t, verified(), says)
	}
	torn := bytes.Clone(whole)
	for at := len(torn) / 3 / 4096 * 4096; at < len(torn)/3+200*4096; at += 4096 {
		copy(torn[at:], bytes.Repeat([]byte{0xff}, 600))
	}
	require.NoError(t, os.WriteFile(path, torn, 0o600))
	said := verified()
	require.Contains(t, said, "file: ")
	require.Greater(t, strings.Count(said, "\n"), 2, "the other checks go on: %s", said)

	require.NoError(t, os.WriteFile(path, whole, 0o600))
	for _, beside := range []string{"-wal", "-shm"} {
		require.NoError(t, os.RemoveAll(path+beside))
	}
	require.NoError(t, os.Chmod(path, 0o400))
	require.NoError(t, os.Chmod(data, 0o500))
	t.Cleanup(func() { require.NoError(t, os.Chmod(data, 0o700)) })
	require.NoError(t, run(t.Context(), []string{"verify", "-data", data}, io.Discard, io.Discard), "a folder that may only be read")
}

// Data of another version of Lagoon is refused in a sentence that says what to do, and is not touched.
func TestAnotherSchemaIsRefused(t *testing.T) {
	data := t.TempDir()
	_, _, stop := serving(t, "serve", "-data", data)
	stop()
	path := filepath.Join(data, "lagoon.db")
	db, err := sql.Open("sqlite3", path)
	require.NoError(t, err)
	_, err = db.Exec(`PRAGMA user_version = 7`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	before, err := os.ReadFile(path)
	require.NoError(t, err)
	for _, words := range [][]string{{"serve", "-data", data, "-listen", "localhost:0"}, {"verify", "-data", data}} {
		err := run(t.Context(), words, io.Discard, io.Discard)
		require.ErrorIs(t, err, store.ErrOtherSchema)
		require.ErrorContains(t, err, "its schema is 00000007")
		require.ErrorContains(t, err, "Start it with the Lagoon that made it")
	}
	after, err := os.ReadFile(path)
	require.NoError(t, err)
	require.Equal(t, before, after)
}

// With a certificate of its own Lagoon answers over TLS, with cookies that go nowhere else.
func TestItsOwnCertificate(t *testing.T) {
	folder := t.TempDir()
	cert, key := filepath.Join(folder, "cert.pem"), filepath.Join(folder, "key.pem")
	secret, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	about := &x509.Certificate{
		SerialNumber:          big.NewInt(1),
		Subject:               pkix.Name{CommonName: "localhost"},
		DNSNames:              []string{"localhost"},
		IPAddresses:           []net.IP{net.IPv4(127, 0, 0, 1)},
		NotBefore:             time.Now().Add(-time.Hour),
		NotAfter:              time.Now().Add(time.Hour),
		IsCA:                  true,
		BasicConstraintsValid: true,
	}
	der, err := x509.CreateCertificate(rand.Reader, about, about, &secret.PublicKey, secret)
	require.NoError(t, err)
	private, err := x509.MarshalECPrivateKey(secret)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(cert, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600))
	require.NoError(t, os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: private}), 0o600))
	require.Equal(t, 2, status(run(t.Context(), []string{"serve", "-cert", cert}, io.Discard, io.Discard), io.Discard))
	url, _, stop := serving(t, "serve", "-data", t.TempDir(), "-cert", cert, "-key", key)
	require.True(t, strings.HasPrefix(url, "https://"))
	pool := x509.NewCertPool()
	pool.AppendCertsFromPEM(pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}))
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: pool, MinVersion: tls.VersionTLS12}, DisableKeepAlives: true}}
	response, err := client.Get(url + "/api/session")
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	require.NotEmpty(t, response.Header.Get("Strict-Transport-Security"))
	stop()
	require.Error(t, run(t.Context(), []string{"serve", "-data", t.TempDir(), "-listen", "localhost:0", "-cert", cert, "-key", cert}, io.Discard, io.Discard))
}

// A folder of a thousand e-invoices is taken in with progress; one that is no invoice stops nothing, and taking the folder in
// again changes nothing.
func TestAFolderOfAThousandInvoices(t *testing.T) {
	const all = 1000
	data, folder := demoData(t), t.TempDir()
	one, err := os.ReadFile(filepath.Join(data, "post", "11-harbour-dues.xml"))
	require.NoError(t, err)
	for i := range all {
		text := strings.NewReplacer("HD-1207", fmt.Sprintf("T-%04d/9", i), "192.00", fmt.Sprintf("%d.00", 200+i)).Replace(string(one))
		if i == all/2 {
			text = text[:len(text)/2]
		}
		require.NoError(t, os.WriteFile(filepath.Join(folder, fmt.Sprintf("%04d.xml", i)), []byte(text), 0o600))
	}
	captured := func() (n int64) {
		s, err := store.Open(t.Context(), filepath.Join(data, "lagoon.db"))
		require.NoError(t, err)
		defer s.Close()
		require.NoError(t, s.Read(t.Context(), func(tx *store.Tx) (err error) {
			rows, err := tx.RecentInvoices(0, 1)
			n = rows[0].Number
			return err
		}))
		return n
	}
	before := captured()
	var out strings.Builder
	require.ErrorContains(t, importing{data: data, files: []string{folder}}.run(t.Context(), nil, &out), "1 of 1000 files were not taken in")
	require.Contains(t, out.String(), "   1 of 1000  held")
	require.Contains(t, out.String(), "1000 of 1000  held")
	require.Contains(t, out.String(), "0500.xml: ")
	require.EqualValues(t, before+all-1, captured())
	out.Reset()
	require.ErrorContains(t, importing{data: data, files: []string{folder}}.run(t.Context(), nil, &out), "1000 of 1000 files were not taken in")
	require.Equal(t, all-1, strings.Count(out.String(), " duplicate "))
	require.EqualValues(t, before+all-1, captured(), "a second time changes nothing")
}

// Folders and what is piped in are taken in, told in JSON where that is wanted.
func TestImportOfFoldersAndPipes(t *testing.T) {
	data := demoData(t)
	post := filepath.Join(data, "post")
	one, err := os.ReadFile(filepath.Join(post, "1-agrees.xml"))
	require.NoError(t, err)
	var out bytes.Buffer
	require.NoError(t, importing{data: data, files: []string{piped}, json: true}.run(t.Context(), bytes.NewReader(one), &out))
	var said map[string]string
	require.NoError(t, json.Unmarshal(out.Bytes(), &said))
	require.Equal(t, []string{"-", "verified"}, []string{said["file"], said["outcome"]})
	err = importing{data: data, files: []string{post}}.run(t.Context(), nil, &out)
	require.ErrorContains(t, err, "were not taken in", "the first again, and one that is no XML")
	require.Contains(t, out.String(), "3-price-and-quantity.xml")
	require.Regexp(t, `paper +\S*14-on-paper.pdf: It is kept as number \d+`, out.String())
	require.ErrorContains(t, importing{data: data, files: []string{t.TempDir()}}.run(t.Context(), nil, &out), "nothing that could hold an invoice is in")

	for words, says := range map[string]string{"http://localhost:1 -as nora": "nothing answers at localhost:1", "lagoon -as nora": "is no address", "http://localhost:1": "say with -as"} {
		t.Setenv("LAGOON_PASSWORD", "x")
		require.ErrorContains(t, run(t.Context(), append([]string{"import", "-server"}, append(strings.Fields(words), post)...), io.Discard, io.Discard), says)
	}
	t.Setenv("LAGOON_PASSWORD", "")
	require.ErrorContains(
		t,
		run(t.Context(), []string{"import", "-server", "http://localhost:1", "-as", "nora", post}, io.Discard, io.Discard),
		"LAGOON_PASSWORD",
	)
}

// Whoever is still sending when Lagoon is stopped is cut off, and it ends as it should.
func TestStoppedBesideASlowUpload(t *testing.T) {
	s, err := open(t.Context(), place{data: t.TempDir()})
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	listener, err := net.Listen("tcp", "localhost:0")
	require.NoError(t, err)
	heard := make(chan struct{})
	slow := http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		close(heard)
		_, _ = io.ReadAll(r.Body) // until it is cut off
	})
	ctx, cancel := context.WithCancel(t.Context())
	ended := make(chan error, 1)
	go func() {
		ended <- settings{patience: 50 * time.Millisecond}.answer(ctx, listener, slow, act.New(s, act.Options{}), io.Discard)
	}()
	conn, err := net.Dial("tcp", listener.Addr().String())
	require.NoError(t, err)
	_, err = io.WriteString(conn, "POST /api/invoices/import HTTP/1.1\r\nHost: x\r\nContent-Length: 1000000\r\n\r\nand then slowly")
	require.NoError(t, err)
	<-heard
	cancel()
	require.NoError(t, <-ended)
	require.NoError(t, conn.Close())
}
