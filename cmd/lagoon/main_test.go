package main

import (
	"bytes"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// lines collects output that another goroutine writes.
type lines struct{ ch chan string }

func (l lines) Write(p []byte) (int, error) {
	l.ch <- string(p)
	return len(p), nil
}

// startDemo starts the demo on a free port and gives its address; it stops with the test.
func startDemo(t *testing.T, data string) (url string, stop func()) {
	t.Helper()
	url, _, stop = serving(t, "demo", "-data", data)
	return url, stop
}

// keepDemo is the same on data that is there already.
func keepDemo(t *testing.T, data string) (url string, stop func()) {
	t.Helper()
	url, _, stop = serving(t, "demo", "-keep", "-data", data)
	return url, stop
}

// The command line: demo, import through the running server and into the data itself, verify.
func TestCommandLine(t *testing.T) {
	data := filepath.Join(t.TempDir(), "demo")
	url, stop := startDemo(t, data)
	response, err := http.Get(url + "/api/session")
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	require.Equal(t, http.StatusOK, response.StatusCode)
	var out, errs bytes.Buffer
	call := func(args ...string) error {
		out.Reset()
		return run(t.Context(), args, &out, &errs)
	}
	post := func(name string) string { return filepath.Join(data, "post", name) }

	require.ErrorContains(t, call("import", "-data", data, post("1-agrees.xml")), "another Lagoon works on")
	t.Setenv("LAGOON_PASSWORD", "wrong")
	require.ErrorContains(t, call("import", "-server", url, "-as", "nora", post("1-agrees.xml")), "do not go together")
	t.Setenv("LAGOON_PASSWORD", "skerry-point-demo")
	require.NoError(t, call("import", "-server", url, "-as", "nora", post("1-agrees.xml")))
	require.Contains(t, out.String(), "agrees and is verified")
	stop()

	err = call("import", "-data", data, post("1-agrees.xml"), post("2-before-the-goods.xml"), post("7-not-xml.xml"), post("none.xml"))
	require.ErrorContains(t, err, "3 of 4 files were not taken in")
	require.Contains(t, out.String(), "is here already")
	require.Contains(t, out.String(), "waits for goods")
	require.Contains(t, out.String(), "no e-invoice")
	require.NoError(t, call("verify", "-data", data))
	require.Contains(t, out.String(), "All agrees")
	require.Error(t, call("verify", "-data", t.TempDir()))
}

// What makes no sense ends with 2 and says what would; what is asked for is given and ends with 0.
func TestTheCommandLineSaysWhatItTakes(t *testing.T) {
	for _, words := range [][]string{{}, {"dance"}, {"import"}, {"backup"}, {"restore", "a", "b"}, {"verify", "everything"}, {"demo", "now"}, {"serve", "-idle", "5m"}, {"serve", "-nonsense"}} {
		var out, errs bytes.Buffer
		err := run(t.Context(), words, &out, io.Discard)
		require.Equal(t, 2, status(err, &errs), "%q", words)
		require.NotEmpty(t, errs.String(), "%q", words)
		require.Empty(t, out.String(), "%q", words)
	}
	for says, words := range map[string][]string{"lagoon restore": {"help"}, "lagoon import": {"-h"}, "lagoon ": {"version"}} {
		var out bytes.Buffer
		require.Zero(t, status(run(t.Context(), words, &out, io.Discard), io.Discard))
		require.Contains(t, out.String(), says)
	}
	var errs bytes.Buffer
	require.Zero(t, status(run(t.Context(), []string{"serve", "-h"}, io.Discard, &errs), io.Discard))
	require.Contains(t, errs.String(), "-smtp-plain")
	require.Equal(
		t,
		1,
		status(run(t.Context(), []string{"verify", "-data", t.TempDir()}, io.Discard, io.Discard), io.Discard),
		"it was understood, and went wrong",
	)
}

// A backup of a running Lagoon, put in the place of other data; a damaged one is refused and changes nothing.
func TestBackupAndRestore(t *testing.T) {
	data, elsewhere := demoData(t), t.TempDir()
	_, stop := keepDemo(t, data)
	var out, errs bytes.Buffer
	call := func(args ...string) error {
		out.Reset()
		return run(t.Context(), args, &out, &errs)
	}
	file := filepath.Join(elsewhere, "monday.db")
	require.NoError(t, call("backup", "-data", data, file)) // through the running server it is noted
	require.Contains(t, out.String(), "agrees with itself")
	require.ErrorContains(t, call("backup", "-data", data, file), "there already")
	require.ErrorContains(t, call("restore", "-data", data, file), "another Lagoon works on")
	stop()
	require.NoError(t, call("restore", "-data", data, file))
	require.Contains(t, out.String(), "is kept as")
	require.NoError(t, call("verify", "-data", data))
	require.NoFileExists(t, filepath.Join(data, "sessions.db"))

	content, err := os.ReadFile(file)
	require.NoError(t, err)
	copy(content[len(content)/2:], bytes.Repeat([]byte("damaged "), 512))
	damaged := filepath.Join(elsewhere, "damaged.db")
	require.NoError(t, os.WriteFile(damaged, content, 0o600))
	require.Error(t, call("restore", "-data", data, damaged))
	require.NoError(t, call("verify", "-data", data))
	require.Error(t, call("restore", "-data", data, filepath.Join(elsewhere, "none.db")))
	require.Error(t, call("backup", "-data", elsewhere, filepath.Join(elsewhere, "x.db")))
	require.Error(t, call("backup", "-data", data))
	require.Error(t, call("restore", "-data", data))
}

// Who sends more slowly than the server waits is cut off, and what they sent so far is not acted on.
func TestASlowSenderIsCutOff(t *testing.T) {
	heard := make(chan error, 1)
	server := newServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		_, err := io.ReadAll(r.Body)
		heard <- err
	}))
	for _, limit := range []time.Duration{server.ReadTimeout, server.ReadHeaderTimeout, server.WriteTimeout, server.IdleTimeout} {
		require.Positive(t, limit)
		require.LessOrEqual(t, limit, 2*time.Minute)
	}
	server.ReadTimeout = 200 * time.Millisecond
	listener, err := net.Listen("tcp", "localhost:0")
	require.NoError(t, err)
	go func() { _ = server.Serve(listener) }() // ends with Close
	t.Cleanup(func() { require.NoError(t, server.Close()) })
	conn, err := net.Dial("tcp", listener.Addr().String())
	require.NoError(t, err)
	_, err = io.WriteString(conn, "POST /api/invoices/import HTTP/1.1\r\nHost: x\r\nContent-Length: 1000000\r\n\r\nand then slowly")
	require.NoError(t, err)
	require.ErrorIs(t, <-heard, os.ErrDeadlineExceeded)
	require.NoError(t, conn.Close())
}
