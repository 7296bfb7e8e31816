package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"time"

	"lagoon/internal/act"
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
	person := h.listening(r)
	if person == 0 {
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
	h.present.listens(person, 1)
	defer func() {
		if h.present.listens(person, -1) {
			h.app.Publish([]act.Change{{What: presence}})
		}
	}()
	beat := time.NewTicker(h.heartbeat)
	defer beat.Stop()
	send := func(event string, data any) bool {
		content, err := json.Marshal(data)
		if err == nil {
			_, err = fmt.Fprintf(w, "event: %s\ndata: %s\n\n", event, content)
		}
		return err == nil && stream.Flush() == nil
	}
	tell := func() bool { return send(presence, h.present.but(person, h.app.Now())) }
	for going := send("here", struct{}{}) && tell(); going; {
		select {
		case <-r.Context().Done():
			return
		case <-h.closing:
			return
		case <-listener.News():
			changes := listener.Take()
			others := slices.DeleteFunc(slices.Clone(changes), func(c act.Change) bool { return c.What == presence })
			if len(others) > 0 {
				going = send("change", others)
			}
			if going && (len(others) < len(changes) || slices.Contains(others, act.Change{})) {
				going = tell()
			}
		case <-beat.C:
			if h.listening(r) != person {
				send("ended", struct{}{})
				return
			}
			going = send("here", struct{}{})
		}
	}
}

// listening is whose session the request's is, without renewing it; 0: nobody's.
func (h *handlers) listening(r *http.Request) int64 {
	cookie, err := r.Cookie(h.sessions.Cookie.Name)
	if err != nil {
		return 0
	}
	ctx, err := h.sessions.Load(r.Context(), cookie.Value)
	if err != nil {
		return 0
	}
	actor, err := h.whose(ctx)
	if err != nil || actor.OneTime {
		return 0
	}
	return actor.ID
}
