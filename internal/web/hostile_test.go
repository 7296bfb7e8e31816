package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store/byhand"
	"lagoon/internal/web/contract"
)

// post uploads one file of any content under any name.
func post(t *testing.T, c *http.Client, url, name string, content io.Reader) (*http.Response, []contract.ImportResult) {
	t.Helper()
	reader, writer := io.Pipe()
	form := multipart.NewWriter(writer)
	go func() {
		part, err := form.CreateFormFile("files", name)
		if err == nil {
			_, err = io.Copy(part, content)
		}
		if err == nil {
			err = form.Close()
		}
		writer.CloseWithError(err)
	}()
	request, err := http.NewRequest("POST", url, reader)
	require.NoError(t, err)
	request.Header.Set("Content-Type", form.FormDataContentType())
	response, err := c.Do(request)
	require.NoError(t, err)
	defer response.Body.Close()
	var results []contract.ImportResult
	if response.StatusCode == http.StatusOK {
		require.NoError(t, json.NewDecoder(response.Body).Decode(&results))
	}
	return response, results
}

// endless gives n bytes without holding them.
type endless struct{ left int64 }

func (e *endless) Read(p []byte) (int, error) {
	if e.left <= 0 {
		return 0, io.EOF
	}
	n := min(int64(len(p)), e.left)
	for i := range p[:n] {
		p[i] = 'x'
	}
	e.left -= n
	return int(n), nil
}

// Files that mean harm are refused in words, quickly and in bounded memory, and none is kept.
func TestHostileFiles(t *testing.T) {
	server, s := serve(t)
	c := signIn(t, server, "clerk")
	url := server.URL + "/api/invoices/import"
	entities := `<!DOCTYPE a [<!ENTITY b "bbbbbbbbbb">`
	for i := range 12 {
		entities += fmt.Sprintf(`<!ENTITY b%d "%s">`, i, strings.Repeat("&b;", 10))
	}
	entities += `]><Invoice>&b11;</Invoice>`
	for name, content := range map[string]string{
		"entities.xml":         entities,
		"outside.xml":          `<!DOCTYPE a [<!ENTITY b SYSTEM "file:///etc/passwd">]><Invoice>&b;</Invoice>`,
		"deep.xml":             strings.Repeat("<a>", 200_000),
		"deep-closed.xml":      strings.Repeat("<a>", 20_000) + strings.Repeat("</a>", 20_000),
		"names.xml":            "<" + strings.Repeat("a", 1<<20) + "/>",
		"attributes.xml":       "<a " + strings.Repeat(`b="c" `, 100_000) + "/>",
		"picture.png":          "\x89PNG\r\n\x1a\n" + strings.Repeat("\x00", 1000),
		"paper.pdf":            "%PDF-1.7\n",
		"packed.zip":           "PK\x03\x04" + strings.Repeat("\x00", 100),
		"wide.xml":             "\xff\xfe<\x00a\x00/\x00>\x00",
		"nothing.xml":          "",
		"page.html":            "<html><script>alert(1)</script></html>",
		"../../etc/passwd":     "root",
		`..\..\windows\system`: "root",
	} {
		started := time.Now()
		response, results := post(t, c, url, name, strings.NewReader(content))
		require.Equal(t, http.StatusOK, response.StatusCode, name)
		require.Len(t, results, 1, name)
		require.Equal(t, "refused", results[0].Outcome, name)
		require.NotContains(t, results[0].File, "/", name)
		require.NotEmpty(t, results[0].Sentence)
		require.Less(t, len(results[0].Sentence), 300, name)
		require.Less(t, time.Since(started), 10*time.Second, name)
	}

	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	gigabyte := &endless{left: 1 << 30}
	status, _ := postRefused(t, c, url, gigabyte)
	require.Contains(t, []int{0, http.StatusUnprocessableEntity}, status, "refused, or cut off")
	require.Greater(t, gigabyte.left, int64(700<<20), "refused long before its end")
	runtime.GC()
	runtime.ReadMemStats(&after)
	require.Less(t, int64(after.HeapAlloc)-int64(before.HeapAlloc), int64(64<<20), "nothing of it stays")
	require.Less(t, int64(after.Sys)-int64(before.Sys), int64(600<<20), "memory is bounded")
	var kept int
	require.NoError(t, byhand.On(t, s).QueryRowContext(t.Context(), `SELECT count(*) FROM paper`).Scan(&kept))
	require.Zero(t, kept)
}

func postRefused(t *testing.T, c *http.Client, url string, content io.Reader) (status int, err error) {
	t.Helper()
	boundary := "xxxxxxxxxxxxxxxx"
	head := "--" + boundary + "\r\nContent-Disposition: form-data; name=\"files\"; filename=\"big.xml\"\r\n\r\n"
	request, err := http.NewRequest("POST", url, io.MultiReader(strings.NewReader(head), content))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "multipart/form-data; boundary="+boundary)
	response, err := c.Do(request)
	if err != nil {
		return 0, err // the server closed the connection on a sender who goes on
	}
	require.NoError(t, response.Body.Close())
	return response.StatusCode, nil
}

// The log tells which request and how it ended, and no secret.
func TestTheLogKeepsNoSecrets(t *testing.T) {
	var log bytes.Buffer
	server, _ := serveWith(t, slog.New(slog.NewJSONHandler(&log, &slog.HandlerOptions{Level: slog.LevelDebug})))
	c := signIn(t, server, "clerk")
	response, _ := send(t, c, "POST", server.URL+"/api/session/sign-in", "application/json", `{"login":"clerk","password":"a wrong secret"}`)
	id := response.Header.Get("X-Request-Id")
	response, _ = send(t, c, "GET", server.URL+"/api/course", "", "")
	require.NotEqual(t, id, response.Header.Get("X-Request-Id"))
	server.Close()
	text := log.String()
	require.Contains(t, text, `"msg":"sign-in failed","request":"`+id+`","login":"clerk"`)
	require.Contains(t, text, `"request":"`+id+`","method":"POST","path":"/api/session/sign-in","status":401`)
	for _, secret := range []string{password, "a wrong secret", "argon2"} {
		require.NotContains(t, text, secret)
	}
	cookie := ""
	for _, k := range c.Jar.Cookies(response.Request.URL) {
		cookie = k.Value
	}
	require.NotEmpty(t, cookie)
	require.NotContains(t, text, cookie)
}
