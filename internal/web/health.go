package web

// This file answers whoever watches the process, without signing in: whether it lives and
// which Lagoon it is, and whether it can work.

import (
	"context"
	"encoding/json"
	"net/http"
	"time"

	"lagoon/internal/act"
)

// watched answers /healthz and /readyz; there is nothing under them.
func watched(doors *http.ServeMux, app *act.App, about About) {
	doors.HandleFunc("GET /healthz", func(w http.ResponseWriter, _ *http.Request) {
		answerPlain(w, http.StatusOK, about)
	})
	doors.HandleFunc("GET /readyz", func(w http.ResponseWriter, r *http.Request) {
		ctx, cancel := context.WithTimeout(r.Context(), time.Second)
		defer cancel()
		if err := app.Ready(ctx); err != nil {
			answerPlain(w, http.StatusServiceUnavailable, map[string]string{"ready": "no"})
			return
		}
		answerPlain(w, http.StatusOK, map[string]string{"ready": "yes"})
	})
	for _, under := range []string{"/healthz/", "/readyz/", "/metrics", "/metrics/"} {
		doors.HandleFunc(under, http.NotFound)
	}
}

func answerPlain(w http.ResponseWriter, status int, says any) {
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(says) // who asked is gone if this fails
}
