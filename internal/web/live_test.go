package web

import (
	"bufio"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// A signed-in browser hears of what others change, and that its session has ended; nobody else hears anything.
func TestLiveChanges(t *testing.T) {
	server, _ := serve(t)
	response, _ := send(t, client(t), "GET", server.URL+"/api/live", "", "")
	require.Equal(t, http.StatusUnauthorized, response.StatusCode)

	listening := signIn(t, server, "reader")
	stream, err := listening.Get(server.URL + "/api/live")
	require.NoError(t, err)
	defer stream.Body.Close()
	require.Equal(t, "text/event-stream", stream.Header.Get("Content-Type"))
	require.Empty(t, stream.Header.Values("Set-Cookie"), "listening renews nothing")
	lines := bufio.NewScanner(stream.Body)
	hear := func(event, data string) {
		t.Helper()
		for lines.Scan() {
			if lines.Text() == "event: "+event {
				require.True(t, lines.Scan())
				require.Equal(t, "data: "+data, lines.Text())
				return
			}
		}
		t.Fatalf("the stream ended before %s", event)
	}
	hear("here", "{}")
	admin := signIn(t, server, "administrator")
	added, problem := send(
		t,
		admin,
		"POST",
		server.URL+"/api/people",
		"application/json",
		`{"login":"kit","name":"Kit","password":"another long one","roles":["reader"],"authority":"0","comma":false}`,
	)
	require.Equal(t, http.StatusOK, added.StatusCode, problem.Sentence)
	hear("change", `[{"what":"person","number":"kit"}]`)
	_, _ = send(t, listening, "POST", server.URL+"/api/session/sign-out", "", "")
	hear("ended", "{}")
	for lines.Scan() {
		require.Empty(t, lines.Text(), "and no more")
	}
}
