package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"time"

	"lagoon/internal/core/fault"
	"lagoon/internal/say"
)

// heartbeat is how often an open stream says that it is there, and looks whether its
// session still is.
const heartbeat = 15 * time.Second

// live streams changes to a browser as server-sent events: what kind of thing changed
// and its number. It stands outside the session's renewal, so that an open page does not
// keep a person signed in, and ends with the session and with the server.
func (h *handlers) live(w http.ResponseWriter, r *http.Request) {
	if !h.listening(r) {
		writeProblem(w, say.Printer{}, fault.New(fault.SignIn, "", "Sign in to go on."))
		return
	}
	stream := http.NewResponseController(w)
	if err := stream.SetWriteDeadline(time.Time{}); err != nil {
		h.log.Error("live changes cannot be sent", "request", idOf(r.Context()), "error", err)
		return
	}
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	listener := h.app.Listen()
	defer listener.Close()
	beat := time.NewTicker(h.heartbeat)
	defer beat.Stop()
	send := func(event string, data any) bool {
		content, err := json.Marshal(data)
		if err == nil {
			_, err = fmt.Fprintf(w, "event: %s\ndata: %s\n\n", event, content)
		}
		return err == nil && stream.Flush() == nil
	}
	for going := send("here", struct{}{}); going; {
		select {
		case <-r.Context().Done():
			return
		case <-h.closing:
			return
		case <-listener.News():
			if changes := listener.Take(); len(changes) > 0 {
				going = send("change", changes)
			}
		case <-beat.C:
			if !h.listening(r) {
				send("ended", struct{}{})
				return
			}
			going = send("here", struct{}{})
		}
	}
}

// listening tells whether the request's session is somebody's, without renewing it.
func (h *handlers) listening(r *http.Request) bool {
	cookie, err := r.Cookie(h.sessions.Cookie.Name)
	if err != nil {
		return false
	}
	ctx, err := h.sessions.Load(r.Context(), cookie.Value)
	if err != nil {
		return false
	}
	actor, err := h.whose(ctx)
	return err == nil && actor.ID != 0 && !actor.OneTime
}
