package web

import (
	"encoding/json"
	"io"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// As the people of the demo: nobody changes an account and confirms it, frees their own invoice by a wider limit, or gets
// past the contract by calling what is sent something else. Each is told why in a sentence.
func TestNobodyGetsRoundTheSecondPerson(t *testing.T) {
	server := serveAquarium(t)
	rhea, nora, ivo := signInAs(t, server, "rhea"), signInAs(t, server, "nora"), signInAs(t, server, "ivo")
	supplier := func(change func(map[string]any)) string {
		t.Helper()
		response, err := rhea.Get(server.URL + "/api/suppliers/BRACK")
		require.NoError(t, err)
		defer response.Body.Close()
		content, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		var sheet map[string]any
		require.NoError(t, json.Unmarshal(content, &sheet))
		change(sheet)
		body, err := json.Marshal(sheet)
		require.NoError(t, err)
		return string(body)
	}
	refused := func(c *http.Client, path, body, says string) {
		t.Helper()
		response, problem := send(t, c, "POST", server.URL+path, "application/json", body)
		require.Equal(t, http.StatusForbidden, response.StatusCode, problem.Sentence)
		require.Contains(t, problem.Sentence, says)
	}

	const elsewhere = "GB33BUKB20201555555555"
	moved := supplier(func(s map[string]any) { s["iban"], s["bic"], s["accountReason"] = elsewhere, "", "their letter" })
	response, problem := send(t, rhea, "POST", server.URL+"/api/suppliers", "application/json", moved)
	require.Equal(t, http.StatusOK, response.StatusCode, problem.Sentence)
	refused(rhea, "/api/suppliers/BRACK/account", `{"iban":"`+elsewhere+`","bic":"","payTo":"","checked":"called"}`, "somebody else confirms it")

	wider := supplier(func(s map[string]any) { s["level"] = "two_way" })
	refused(ivo, "/api/suppliers", wider, "Limits and match level are changed by themselves")
	refused(nora, "/api/limits", `{"supplier":"BRACK","item":"","level":"two_way","limits":[],"reason":"it is mine"}`, "")

	for _, path := range []string{"/api/suppliers", "/api/limits", "/api/invoices"} {
		response, problem := send(t, rhea, "POST", server.URL+path, "text/plain", wider)
		require.Equal(t, http.StatusUnsupportedMediaType, response.StatusCode, path)
		require.Contains(t, problem.Sentence, "This takes application/json")
	}
}
