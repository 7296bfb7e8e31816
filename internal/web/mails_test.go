package web

import (
	"bytes"
	"mime/multipart"
	"net/http"
	"testing"

	"encoding/json"

	"github.com/stretchr/testify/require"

	"lagoon/internal/format/pdf"
	"lagoon/internal/web/contract"
)

// What became of several files is told in their order, whichever of them are papers.
func TestWhatBecameOfFilesIsToldInTheirOrder(t *testing.T) {
	server, _ := serve(t)
	paper, err := pdf.Write(pdf.Document{Title: "Invoice 7"})
	require.NoError(t, err)
	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	for _, f := range []struct{ name, content string }{{"1.xml", "<a/>"}, {"2.pdf", string(paper)}, {"3.xml", "<b/>"}, {"4.pdf", string(paper)}, {"5.txt", "x"}} {
		part, err := form.CreateFormFile("files", f.name)
		require.NoError(t, err)
		_, err = part.Write([]byte(f.content))
		require.NoError(t, err)
	}
	require.NoError(t, form.Close())
	response, err := signIn(t, server, "clerk").Post(server.URL+"/api/invoices/import", form.FormDataContentType(), &body)
	require.NoError(t, err)
	defer response.Body.Close()
	require.Equal(t, http.StatusOK, response.StatusCode)
	var results []contract.ImportResult
	require.NoError(t, json.NewDecoder(response.Body).Decode(&results))
	var said []string
	for _, r := range results {
		said = append(said, r.File+" "+r.Outcome)
	}
	require.Equal(t, []string{"1.xml refused", "2.pdf paper", "3.xml refused", "4.pdf duplicate", "5.txt refused"}, said)
}
